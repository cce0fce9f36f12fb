/** What a picture of the stage is to show: what the open query touches, and what came near to it. */
import type { Answer, Stage, Verdict, World } from '@frelk/core';
import { type Extent, extentOfShapes } from '../../drawing/view';
import type { QueryGeometry } from './overlay/geometry';

/** Stages of those that were touched at least. */
const REACHED: ReadonlySet<Stage> = new Set(['range', 'view', 'approach', 'sight', 'choice', 'tied', 'selected']);
/** So many of those that were missed by least are shown too, if it was by less than this, metres. */
const NEAREST = 4;
const NEAR = { space: 2.5, flat: 0.4 };
/** What is larger than this is a floor or a wall, and only seen as far as the rest takes one, metres. */
const LARGE = { space: 8, flat: 4 };
/** So much of a path without an end is shown, metres. */
const FAR = { space: 12, flat: 2 };

const missedBy = (v: Verdict): number => v.beyond ?? v.margin ?? Infinity;

/**
 * The extent of what a query touches, its losers, the asker and the way between.
 * @returns null where there is nothing to show of it
 */
export function extentOfQuery(world: World, geometry: QueryGeometry | null, answer: Answer | null): Extent | null {
	if (!geometry || !answer) return null;
	const { placement, query, stop } = geometry;
	const at = world.flat ? 'flat' : 'space';
	const wanted = new Set<string>();
	const missed: Verdict[] = [];
	for (let i = 0; i < answer.verdicts.length; i++) {
		const v = answer.verdicts[i] as Verdict;
		if (REACHED.has(v.stage)) wanted.add(v.object);
		else if (v.stage === 'touch' && world.objects.length <= 400 && missedBy(v) <= NEAR[at]) missed.push(v);
	}
	for (const v of missed.sort((a, b) => missedBy(a) - missedBy(b)).slice(0, NEAREST)) wanted.add(v.object);
	if (query.asker !== undefined) wanted.add(query.asker);
	const b = world.bounds();
	const sizeOf = (i: number) => Math.max(...[0, 1, 2].map((k) => b[6 * i + 3 + k] - b[6 * i + k]));
	const extent = extentOfShapes(world, (s) => wanted.has(s.object.id) && sizeOf(s.index) <= LARGE[at]);
	const points: (readonly number[])[] = answer.selected.map((s) => s.point);
	const { path } = placement;
	if (path && !placement.flatPick) {
		points.push(path.start);
		const end = Math.min(stop ?? path.length, FAR[at]);
		points.push(path.start.map((v, k) => v + end * path.dir[k]));
	}
	for (const { body } of placement.volumes) {
		const r = Math.min(body.boundingRadius, FAR[at]) * 0.7;
		points.push([body.x - r, body.y, body.z - r], [body.x + r, body.y, body.z + r]);
	}
	const all: Extent = extent ?? { low: [Infinity, Infinity, Infinity], high: [-Infinity, -Infinity, -Infinity] };
	for (const p of points)
		for (let k = 0; k < 3; k++) {
			all.low[k] = Math.min(all.low[k], p[k]);
			all.high[k] = Math.max(all.high[k], p[k]);
		}
	return all.low[0] === Infinity ? null : all;
}
