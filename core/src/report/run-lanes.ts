/** A failing check of a run as a drawing on paper: when each object was touched, contended and was chosen, and where it first differs. */

import { runChecksIn } from '../project/check-kinds';
import { lastStep } from '../project/defaults';
import type { Project, Run } from '../project/schema';
import type { Naming } from '../query/words';
import { judgeRun, type RunCheckResult } from '../run/check';
import type { RunResult } from '../run/events';
import { heldAt, type Lane, lanesOf, type Stretch } from '../run/lanes';
import { runThrough } from '../run/run';
import { escaped } from './escaped';

/** Units of the drawing. */
const W = 720;
const LEFT = 170;
const RIGHT = 20;
const ROW = 18;
const HEAD = 20;
const TOP = 18;
/** More lanes than this would run over the page. */
const MAX_LANES = 40;
/** So many that more would lie over each other. */
const MAX_MARKS = 200;
/** What is shorter is drawn so long. */
const MIN_WIDTH = 4;
/** Letters of a name beside its lane: of a longer one its beginning, and its end, which tells alike ones apart. */
const NAME = { begin: 14, end: 9 };

/** Told apart by height and form, without colour. */
const FORMS: Record<Stretch['how'], { y: number; h: number; look: string }> = {
	touched: { y: 8, h: 2, look: 'fill="#51646c"' },
	contends: { y: 6, h: 6, look: 'fill="#fff" stroke="#14242b"' },
	tied: { y: 3, h: 12, look: 'fill="url(#tied)" stroke="#14242b"' },
	chosen: { y: 3, h: 12, look: 'fill="#14242b"' },
};
const TIED = [
	'<defs><pattern id="tied" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">',
	'<rect width="5" height="5" fill="#fff"/><path d="M0 0V5" stroke="#14242b" stroke-width="2.5"/></pattern></defs>',
].join('');

const n = (value: number): string => String(Number(value.toFixed(1)));
const seconds = (t: number): string => `${Number(t.toFixed(3))} s`;
const text = (x: number, y: number, words: string, more = ''): string =>
	`<text x="${n(x)}" y="${n(y)}" font-size="11.5" paint-order="stroke" stroke="#fff" stroke-width="3"${more}>${escaped(words)}</text>`;
const short = (name: string): string =>
	name.length > NAME.begin + 1 + NAME.end ? `${name.slice(0, NAME.begin)}…${name.slice(-NAME.end)}` : name;

/** Where it first differs, in words. */
function differs(check: RunCheckResult, result: RunResult, naming: Naming): string {
	if (check.from === null) return '';
	const when = `It first differs at ${seconds(check.from)}`;
	if (check.watch === null) return `${when}.`;
	const { selected, tied } = heldAt(result.events, check.watch, check.from);
	const names = (ids: readonly string[]) => ids.map((id) => naming('object', id)).join(' and ');
	if (selected.length > 0) return `${when}, where ${names(selected)} ${selected.length === 1 ? 'is' : 'are'} held.`;
	return `${when}, where ${tied.length > 0 ? `${names(tied)} are tied` : 'nothing is held'}.`;
}

/** What a swing hit, could not decide between and missed, as lanes. */
function swingLanes({ events }: RunResult, swing: number): { lanes: Lane[] } {
	const lanes = new Map<string, Lane>();
	const lane = (object: string): Lane => {
		const known = lanes.get(object) ?? { object, stretches: [], missed: [] };
		lanes.set(object, known);
		return known;
	};
	for (const e of events) {
		if (!('swing' in e) || e.swing !== swing) continue;
		if (e.kind === 'missed') lane(e.object).missed.push(e.t);
		else if (e.kind === 'hit') lane(e.object).stretches.push({ how: 'chosen', from: e.t, to: e.t });
		else for (const object of e.tied) lane(object).stretches.push({ how: 'tied', from: e.t, to: e.t });
	}
	return { lanes: [...lanes.values()] };
}

/** Stretches in units of the drawing: none under the least, and those that nearly touch are one, so that a long run is no long drawing. */
function asDrawn(stretches: readonly Stretch[], x: (t: number) => number): Stretch[] {
	const drawn: Stretch[] = [];
	for (const { how, ...at } of stretches) {
		const [from, to] = [x(at.from), Math.max(x(at.to), x(at.from) + MIN_WIDTH)];
		const before = drawn.at(-1);
		if (before?.how === how && from - before.to < 0.5) before.to = Math.max(before.to, to);
		else drawn.push({ how, from, to });
	}
	return drawn;
}

/** Lanes of what the check watches or of its swing, what was pressed, and where it first differs. */
function drawing(run: Run, check: RunCheckResult, result: RunResult, naming: Naming): string {
	const end = lastStep(run) * run.step;
	const x = (t: number) => LEFT + (end === 0 ? 0 : (t / end) * (W - LEFT - RIGHT));
	const { lanes } =
		check.swing === null
			? (lanesOf(result, end).find((e) => e.watch === check.watch) ?? { lanes: [] })
			: swingLanes(result, check.swing);
	const parts = [text(8, TOP + 13, check.watch ?? `swing ${(check.swing ?? 0) + 1}`, ' font-weight="650"')];
	let y = TOP + HEAD;
	for (const lane of lanes.slice(0, MAX_LANES)) {
		parts.push(text(16, y + 13, short(naming('object', lane.object))));
		parts.push(`<path d="M${n(x(0))} ${y + 9}H${n(x(end))}" stroke="#c9d3d6"/>`);
		for (const { how, from, to } of asDrawn(lane.stretches, x)) {
			const { y: top, h, look } = FORMS[how];
			parts.push(`<rect x="${n(from)}" y="${y + top}" width="${n(to - from)}" height="${h}" ${look}/>`);
		}
		for (const t of lane.missed.slice(0, MAX_MARKS))
			parts.push(`<path d="M${n(x(t) - 4)} ${y + 5}l8 8m0 -8l-8 8" stroke="#14242b" stroke-width="2"/>`);
		y += ROW;
	}
	const left = lanes.length - MAX_LANES;
	if (left > 0) parts.push(text(16, y + 13, `and ${left} more objects`));
	else if (lanes.length === 0) parts.push(text(LEFT, y + 13, 'nothing was ever touched'));
	if (left > 0 || lanes.length === 0) y += ROW;
	const marks = result.events.flatMap((e): { t: number; words: string }[] => {
		if (!('watch' in e) || e.watch !== check.watch) return [];
		if (e.kind === 'press' || e.kind === 'held' || e.kind === 'broken') return [{ t: e.t, words: e.kind }];
		return e.kind === 'lock' ? [{ t: e.t, words: e.do }] : [];
	});
	const foot = y + Math.min(marks.length, MAX_LANES) * 12 + 4;
	if (check.from !== null) {
		const at = x(check.from);
		const anchor = at > W / 2 ? ' text-anchor="end"' : '';
		parts.push(`<path d="M${n(at)} 4V${foot}" stroke="#14242b" stroke-width="2.4"/>`);
		parts.push(
			text(at + (anchor ? -5 : 5), 13, `first differs, ${seconds(check.from)}`, `${anchor} font-weight="650"`),
		);
	}
	marks.slice(0, MAX_LANES).forEach(({ t, words }, i) => {
		// One under the other, and none over the edge.
		parts.push(`<path d="M${n(x(t))} ${TOP}V${y + i * 12 + 4}" stroke="#51646c" stroke-dasharray="2 3"/>`);
		const over = x(t) > W - 150;
		parts.push(text(x(t) + (over ? -4 : 4), y + i * 12 + 12, words, over ? ' text-anchor="end"' : ''));
	});
	y = foot;
	parts.push(text(LEFT, y + 14, seconds(0)), text(W - RIGHT, y + 14, seconds(end), ' text-anchor="end"'));
	return `<svg viewBox="0 0 ${W} ${y + 20}" role="img" aria-label="Lanes of ${escaped(run.name ?? run.id)}">${TIED}${parts.join('')}</svg>`;
}

/**
 * @param results of runs that were gone through already, by id; what is not there is gone through and put there
 * @returns why it fails, by the names of things, and its lanes, as HTML; of a run the project no longer has the reason alone
 */
export function runCase(
	project: Project,
	check: RunCheckResult,
	results: Map<string, RunResult>,
	naming: Naming,
): string {
	const run = project.runs?.find((r) => r.id === check.run);
	const why = (reason: string) => `<p class="why">${escaped(reason)}</p>`;
	if (!run) return why(check.reason);
	const result = results.get(run.id) ?? runThrough(project, run);
	results.set(run.id, result);
	const own = runChecksIn(project).find((c) => c.id === check.id && c.run === run.id);
	return [
		why(own ? judgeRun(own, run, result, (id) => naming('object', id)).reason : check.reason),
		`<p>${escaped(differs(check, result, naming))}</p>`,
		`<figure>${drawing(run, check, result, naming)}`,
		'<figcaption>Thin: touched · outlined: contends · hatched: tied · full: chosen or hit · ×: between two steps only</figcaption></figure>',
	].join('');
}
