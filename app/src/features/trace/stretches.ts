/** A trace as lanes: for each query what the game took and what Frelk selects, as stretches of the same. */
import type { Compared } from '@frelk/core/traces';
import type { Seen } from '../../workers/trace';

/** What was the same from one line to another. */
export interface Stretch {
	/** Places of its first and last line among those kept. */
	from: number;
	to: number;
	objects: readonly string[];
	/** What is told beside ids: a tie, off, waiting; else null. */
	status: string | null;
}

export interface TraceLane {
	query: string;
	game: Stretch[];
	frelk: Stretch[];
	/** Stretches in which the two differ. */
	differ: { from: number; to: number }[];
}

const goesOn = (a: Stretch, objects: readonly string[], status: string | null): boolean =>
	a.status === status && a.objects.length === objects.length && a.objects.every((o, i) => o === objects[i]);

function extend(list: Stretch[], at: number, objects: readonly string[], status: string | null): void {
	const last = list.at(-1);
	if (last && goesOn(last, objects, status)) last.to = at;
	else list.push({ from: at, to: at, objects, status });
}

/** @returns a lane for each query that was asked, in the order in which they were first asked */
export function traceLanes(seen: readonly Seen[]): TraceLane[] {
	const lanes = new Map<string, TraceLane>();
	seen.forEach(({ compared }, at) => {
		for (const c of compared) {
			let lane = lanes.get(c.query);
			if (!lane) {
				lane = { query: c.query, game: [], frelk: [], differ: [] };
				lanes.set(c.query, lane);
			}
			extend(lane.game, at, c.got, null);
			const plain = c.status === 'selected' || c.status === 'none';
			extend(lane.frelk, at, c.status === 'tie' ? c.tied : c.selected, plain ? null : (c.status ?? 'unknown'));
			if (c.result === 'same') continue;
			const last = lane.differ.at(-1);
			if (last && last.to >= at - 1) last.to = at;
			else lane.differ.push({ from: at, to: at });
		}
	});
	return [...lanes.values()];
}

/** One difference, with its line's place. */
export interface Difference {
	at: number;
	compared: Compared;
}

/** Lines that follow each other and differ alike are one entry of the list, which names the first of them. */
export function differencesOf(seen: readonly Seen[], most: number): { first: Difference; times: number }[] {
	const out: { first: Difference; times: number }[] = [];
	const open = new Map<string, { first: Difference; times: number; last: number }>();
	seen.forEach(({ compared }, at) => {
		for (const c of compared) {
			if (c.result === 'same') continue;
			const key = `${c.query}\n${c.place}`;
			const was = open.get(key);
			const alike =
				was &&
				was.last >= at - 1 &&
				was.first.compared.got.join() === c.got.join() &&
				was.first.compared.selected.join() === c.selected.join();
			if (was && alike) {
				was.times++;
				was.last = at;
			} else if (out.length < most) {
				const entry = { first: { at, compared: c }, times: 1, last: at };
				open.set(key, entry);
				out.push(entry);
			}
		}
	});
	return out;
}
