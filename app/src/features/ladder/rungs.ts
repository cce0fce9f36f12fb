/** The rungs of the ladder: which verdict stands on which, in which order, and how many rows of each there is room for. */
import { STAGE_WORDS, STAGES, type Stage, type Verdict } from '@frelk/core';
import { isThere } from './there';

/** A rung is a stage; what a filter alone left out has one of its own, and so have those a longer path would reach. */
export type RungKey = Stage | 'short' | 'there';

/** Nearest to being chosen first. */
const DOWNWARD: RungKey[] = [
	'there',
	...STAGES.filter((stage) => stage !== 'selected' && stage !== 'tied')
		.reverse()
		.flatMap((stage): RungKey[] => (stage === 'touch' ? ['short', stage] : [stage])),
];
/** Of what is there but for a filter no more are shown beside what is selected, unless it is unfolded; of floors and walls none. */
export const FEW_THERE = 3;
/** More rows than these scroll in a list of their own. */
export const MOST = 24;
export const rungOf = (v: Verdict): RungKey =>
	isThere(v) ? 'there' : v.stage === 'touch' && v.beyond !== undefined ? 'short' : v.stage;

/** Verdicts by their stage; a stage on which all is as before keeps its list, so that it is not drawn again. */
export function sorted(verdicts: readonly Verdict[], before: ReadonlyMap<RungKey, Verdict[]>): Map<RungKey, Verdict[]> {
	const map = new Map<RungKey, Verdict[]>();
	for (let i = 0; i < verdicts.length; i++) {
		const v = verdicts[i] as Verdict;
		const rung = rungOf(v);
		const list = map.get(rung);
		if (list) list.push(v);
		else map.set(rung, [v]);
	}
	for (const [stage, list] of map) {
		const old = before.get(stage);
		if (old && old.length === list.length && old.every((v, i) => v === list[i])) map.set(stage, old);
	}
	return map;
}

/** What it means to have fallen at a rung, and where that is said. */
export const RUNG_MEANS: Record<RungKey, string> = {
	inactive: 'Not active, or on something that is not.',
	excluded: 'The asker itself, what hangs on it, or on the list of what is ignored.',
	layer: 'On no layer the query chooses from.',
	tags: 'Its tags are not those asked for.',
	side: 'Regarded otherwise than asked for, by the asker’s side.',
	state: 'Its states are not those asked for.',
	role: 'It has no shape of the role asked for: solid or sensor.',
	touch: 'The query does not touch any of its shapes.',
	short: 'The query would touch it, were it longer.',
	there: 'The query touches it all the same: only a filter leaves it out.',
	range: 'Touched, but nearer or farther than asked for.',
	view: 'Touched, but outside of the view cone.',
	approach: 'Touched, but from a side on which it does not let itself be used.',
	sight: 'Something that stops the query lies before it.',
	choice: 'It passed every test, and another was chosen by the rule and figure beside it.',
	tied: 'Nothing in the query tells it from another.',
	selected: 'It is what the query selects.',
};

export const titleOf = (rung: RungKey): string =>
	rung === 'short' ? 'Too short' : rung === 'there' ? 'There, but for a filter' : STAGE_WORDS[rung];

/** The rungs from the top down; those on which nobody stands are one line together. */
export function runs(byStage: ReadonlyMap<RungKey, Verdict[]>): (RungKey | RungKey[])[] {
	const list: (RungKey | RungKey[])[] = [];
	for (const rung of DOWNWARD) {
		const last = list.at(-1);
		if ((byStage.get(rung)?.length ?? 0) > 0) list.push(rung);
		else if (Array.isArray(last)) last.push(rung);
		else list.push([rung]);
	}
	return list;
}

/** Of more that were missed none are shown by themselves. */
const FEW = 60;
/** Pixels a row and a rung's own line take, about. */
const ROW = 41;
const LINE = 24;

/**
 * How many rows of each rung are shown: as many as the height has room for, those nearest to being chosen first. What was unfolded by
 * hand is shown whole.
 */
export function unfolding(
	byStage: ReadonlyMap<RungKey, Verdict[]>,
	byHand: ReadonlyMap<RungKey, boolean>,
	height: number,
	/** How many of what is there but for a filter are worth their rows. */
	there: number,
): Map<RungKey, number> {
	const shown = new Map<RungKey, number>();
	let room = Math.floor((height - runs(byStage).length * LINE - 16) / ROW);
	for (const rung of DOWNWARD) {
		const n = byStage.get(rung)?.length ?? 0;
		const hand = byHand.get(rung);
		// By how much a thing was missed is measured when it is read: of thousands that is not done with every move.
		const many = n > FEW && (rung === 'touch' || rung === 'short');
		const most = rung === 'there' ? Math.min(there, MOST) : MOST;
		const rows = hand === undefined ? (many ? 0 : Math.max(0, Math.min(n, room, most))) : hand ? n : 0;
		shown.set(rung, rows);
		room -= rows;
	}
	return shown;
}

/** Stages that tell no distance: on these the nearest to the query stand first all the same. */
export const UNMEASURED: ReadonlySet<RungKey> = new Set([
	'inactive',
	'excluded',
	'layer',
	'tags',
	'side',
	'state',
	'role',
]);
