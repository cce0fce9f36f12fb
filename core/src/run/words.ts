/** A run as a log one can read: a line an event, with why a choice changed. */

import type { Verdict } from '../query/types';
import { byId, type Naming, STAGE_WORDS, wordsOfVerdict } from '../query/words';
import type { Instead, RunEvent, RunResult } from './events';

const list = (ids: readonly string[], naming: Naming): string => ids.map((id) => naming('object', id)).join(', ');

/** Why what was chosen is not any more: `Rope: outranked, 0.04 m farther than Crank`. */
function insteadWords(instead: Instead, naming: Naming): string {
	const { object, through, stage, by, margin, rule } = instead;
	const verdict: Verdict = {
		object: through ?? object,
		stage,
		...(by === null ? {} : { by }),
		...(margin === null ? {} : { margin }),
		...(rule === undefined ? {} : { rule }),
	};
	const why = wordsOfVerdict(verdict, naming);
	if (stage === 'selected') return `${naming('object', object)} is still what the answer selects`;
	if (stage === 'tied') return `${naming('object', object)} is tied`;
	const place = through === null ? '' : ` through ${naming('object', through)}`;
	return `${naming('object', object)}${place} is ${stage === 'touch' ? '' : `${STAGE_WORDS[stage].toLowerCase()}, `}${why}`;
}

/** Who an event is of: a watch entry, a swing by its place, or what an action asked for and did not get. */
const whoseIs = (event: RunEvent): string =>
	event.kind === 'refused' ? 'refused' : 'watch' in event ? event.watch : `swing ${event.swing}`;

/**
 * An event without its time, as the log says it: `reach: Crank is touched`.
 * @param numbered whether steps go by their numbers; runs of other steps are held against each other without
 */
export const wordsOfEvent = (event: RunEvent, naming: Naming = byId, numbered = true): string =>
	`${whoseIs(event)}: ${whatHappened(event, naming, numbered)}`;

/** What happened, without when and to which entry: `Crank is touched`. */
export function whatHappened(event: RunEvent, naming: Naming = byId, numbered = true): string {
	const name = (id: string) => naming('object', id);
	switch (event.kind) {
		case 'enter':
			return `${name(event.object)} is touched`;
		case 'leave':
			return `${name(event.object)} is no longer touched`;
		case 'gain':
			return `${name(event.object)} contends`;
		case 'lose':
			return `${name(event.object)} contends no longer`;
		case 'choose': {
			const now =
				event.tied.length > 0
					? `tie of ${list(event.tied, naming)}`
					: event.selected.length > 0
						? list(event.selected, naming)
						: 'nothing';
			return `chosen ${now}${event.instead ? `; ${insteadWords(event.instead, naming)}` : ''}`;
		}
		case 'hit':
			return `box ${event.box} hits ${name(event.object)}${event.through === null ? '' : ` through ${name(event.through)}`}`;
		case 'undecided':
			return `undecided between ${list(event.tied, naming)}`;
		case 'press':
			return `pressed, ${event.objects.length === 0 ? 'with nothing chosen' : `on ${list(event.objects, naming)}`}`;
		case 'held':
			return `held long enough, on ${list(event.objects, naming)}`;
		case 'broken': {
			const what = event.objects.length === 0 ? '' : ` on ${list(event.objects, naming)}`;
			return `broken off after ${seconds(event.lasted)}${what}${event.instead ? `; ${insteadWords(event.instead, naming)}` : ''}`;
		}
		case 'lock': {
			const to = event.to === null ? 'nothing' : name(event.to);
			return `${event.do}: ${event.from === event.to ? `stays on ${to}` : `from ${event.from === null ? 'nothing' : name(event.from)} to ${to}`}`;
		}
		case 'refused': {
			if (!('action' in event)) return `${name(event.object)} would hang on itself`;
			const why = event.why === 'cycle' ? 'it would hang on itself' : 'there is no asker';
			return `${event.action}, line ${event.line}: ${why}`;
		}
		case 'missed': {
			const steps = numbered ? `steps ${event.after} and ${event.after + 1}` : 'two steps';
			return `${name(event.object)} ${'watch' in event ? 'is touched' : 'would be hit'} between ${steps} only`;
		}
	}
}

const seconds = (t: number): string => `${t.toFixed(3)} s`;

/** The whole log, a line an event, and the figures behind it. */
export function runLog(result: RunResult, naming: Naming = byId): string {
	const lines = result.events.map((e) => `${seconds(e.t).padStart(10)}  ${wordsOfEvent(e, naming)}`);
	for (const w of result.watch) {
		const told = [
			`${w.id}: ${w.changes} ${w.changes === 1 ? 'change' : 'changes'}`,
			`shortest hold ${w.shortest === null ? 'none ended' : seconds(w.shortest)}`,
			`tied for ${seconds(w.tied)}`,
			...(w.unlike === null ? [] : [`unlike the answer at ${w.unlike} steps`]),
			...(w.held === undefined ? [] : [`${w.held} held, ${w.broken} broken off, ${w.unfinished} unfinished`]),
		];
		lines.push(told.join(', '));
	}
	result.swings.forEach((s, i) => {
		lines.push(`swing ${i}: ${s.hits} ${s.hits === 1 ? 'hit' : 'hits'}, ${s.undecided} undecided, ${s.missed} missed`);
	});
	return `${lines.join('\n')}\n`;
}
