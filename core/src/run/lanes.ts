/** The events of a run as lanes: for each watch entry and each object that ever mattered, when it was touched, contended, was chosen. */
import { TIME_EPSILON } from '../project/defaults';
import type { RunEvent, RunResult } from './events';

/** How an object stood with an entry over a stretch of time, seconds. */
export interface Stretch {
	how: 'touched' | 'contends' | 'chosen' | 'tied';
	from: number;
	to: number;
}

export interface Lane {
	object: string;
	stretches: Stretch[];
	/** Where it was touched between two steps only. */
	missed: number[];
}

/** What a watch entry had to do with each object that it ever touched. */
export interface EntryLanes {
	watch: string;
	lanes: Lane[];
}

const RANK = { touched: 0, contends: 1, tied: 2, chosen: 3 } as const;

/** @param end seconds, where the run ends: what stands then is drawn up to there */
export function lanesOf(result: RunResult, end: number): EntryLanes[] {
	return result.watch.map(({ id }) => {
		const lanes = new Map<string, Lane>();
		const open = new Map<string, number>();
		const lane = (object: string): Lane => {
			const known = lanes.get(object) ?? { object, stretches: [], missed: [] };
			lanes.set(object, known);
			return known;
		};
		const begin = (how: Stretch['how'], object: string, t: number) => {
			lane(object);
			open.set(`${how} ${object}`, t);
		};
		const finish = (how: Stretch['how'], object: string, t: number) => {
			const from = open.get(`${how} ${object}`);
			if (from === undefined) return;
			open.delete(`${how} ${object}`);
			lane(object).stretches.push({ how, from, to: t });
		};
		let chosen: string[] = [];
		let tied: string[] = [];
		for (const e of result.events) {
			if (!('watch' in e) || e.watch !== id) continue;
			if (e.kind === 'enter') begin('touched', e.object, e.t);
			else if (e.kind === 'leave') finish('touched', e.object, e.t);
			else if (e.kind === 'gain') begin('contends', e.object, e.t);
			else if (e.kind === 'lose') finish('contends', e.object, e.t);
			else if (e.kind === 'missed') lane(e.object).missed.push(e.t);
			else if (e.kind === 'choose') {
				for (const object of chosen) if (!e.selected.includes(object)) finish('chosen', object, e.t);
				for (const object of tied) if (!e.tied.includes(object)) finish('tied', object, e.t);
				for (const object of e.selected) if (!chosen.includes(object)) begin('chosen', object, e.t);
				for (const object of e.tied) if (!tied.includes(object)) begin('tied', object, e.t);
				chosen = e.selected;
				tied = e.tied;
			}
		}
		for (const key of [...open.keys()]) {
			const [how, object] = key.split(' ') as [Stretch['how'], string];
			finish(how, object, end);
		}
		for (const { stretches } of lanes.values()) stretches.sort((a, b) => RANK[a.how] - RANK[b.how] || a.from - b.from);
		return { watch: id, lanes: [...lanes.values()] };
	});
}

/** What an entry holds at a time: by the last choice at or before it. */
export function heldAt(events: readonly RunEvent[], watch: string, t: number): { selected: string[]; tied: string[] } {
	let held: { selected: string[]; tied: string[] } = { selected: [], tied: [] };
	for (const e of events) if (e.kind === 'choose' && e.watch === watch && e.t <= t + TIME_EPSILON) held = e;
	return held;
}
