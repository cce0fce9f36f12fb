/** What is read aloud when an answer has become another: the object, the distance and the reason, and nothing else. */
import { type Answer, type Naming, STAGES, type Verdict, wordsOfVerdict } from '@frelk/core';
import { isThere } from './there';

/** As many are read out by name; who has more looks at the list. */
const FEW = 3;

/** By how much one failed, in the unit of its stage; of what is there but for a filter, how far it is. */
const byHowMuch = (v: Verdict): number => v.beyond ?? v.margin ?? v.met ?? Infinity;

/**
 * Those that failed by least first.
 * @param away how far one is, for those whose verdicts have no such figure
 */
export function nearest(verdicts: readonly Verdict[], away?: (v: Verdict) => number): Verdict[] {
	const figures = new Map(verdicts.map((v) => [v, away ? away(v) : byHowMuch(v)]));
	const of = (v: Verdict) => figures.get(v) as number;
	return [...verdicts].sort((a, b) => (of(a) === of(b) ? 0 : of(a) - of(b)));
}

/** The one that came farthest of those that were not taken: what is said of it is why the answer is this one. */
function farthest(verdicts: readonly Verdict[]): Verdict | null {
	let best: Verdict | null = null;
	for (const v of verdicts) {
		if (v.stage === 'selected' || v.stage === 'tied') continue;
		const by = best === null ? 1 : STAGES.indexOf(v.stage) - STAGES.indexOf(best.stage);
		if (by > 0 || (by === 0 && best !== null && byHowMuch(v) < byHowMuch(best))) best = v;
	}
	return best;
}

/**
 * @param figure an object's figure in words, by which it was chosen
 * @param any the tags of which the query wants one
 */
export function toldOf(
	answer: Answer,
	naming: Naming,
	figure: (object: string, distance: number) => string,
	any: readonly string[] = [],
): string {
	const name = (id: string) => naming('object', id);
	const loser = farthest(answer.verdicts);
	const why = loser === null ? '' : ` ${name(loser.object)}: ${wordsOfVerdict(loser, naming, any)}.`;
	switch (answer.status) {
		case 'selected': {
			const few = answer.selected
				.slice(0, FEW)
				.map((s) => `${name(s.object)}, ${figure(s.through ?? s.object, s.distance)}`);
			const more = answer.selected.length - few.length;
			// Why another was not taken is a reason only where it was a choice.
			return `${few.join('; ')}${more > 0 ? `; ${more} more` : ''}.${loser?.stage === 'choice' ? why : ''}`;
		}
		case 'tie':
			return `Tie: ${answer.tied.slice(0, FEW).map(name).join(', ')}${answer.tied.length > FEW ? ` and ${answer.tied.length - FEW} more` : ''}. Nothing tells them apart.`;
		case 'none': {
			const [there] = nearest(answer.verdicts.filter(isThere));
			return `Nothing is selected.${there ? ` ${name(there.object)}: ${wordsOfVerdict(there, naming, any)}.` : why}`;
		}
		case 'off':
			return 'The query is off.';
		case 'waiting':
			return 'The query is waiting.';
	}
}
