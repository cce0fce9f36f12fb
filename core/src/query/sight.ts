/** The stage `sight`: what stands between the query and a contender. */

import { boundsOf } from '../geometry/body';
import { distanceBetween, placed } from '../geometry/matrix';
import { NO_LENGTH } from '../geometry/tolerances';
import { hit, rayOn } from '../space/cast';
import type { WorldObject } from '../world/world';
import { type ArcPath, distanceOf, touchOnArc, wholeBox } from './arc';
import { contests, hides } from './decide';
import { isBlocker } from './filters';
import type { Placement, Point, QueryPath } from './placement';
import { alongPath, type Contender, focusOf, type Touching, throughFigure } from './touch';
import type { Verdict } from './types';

/** A blocking object and where it first cuts the line, metres from its start. */
interface Block {
	object: WorldObject;
	distance: number;
}

const box = new Float64Array(6);

/** Keeps the nearest cut per object. */
class Blocks {
	readonly list: Block[] = [];
	private readonly byObject = new Map<WorldObject, Block>();

	add(object: WorldObject, distance: number): void {
		const known = this.byObject.get(object);
		if (!known) {
			const block = { object, distance };
			this.byObject.set(object, block);
			this.list.push(block);
		} else if (distance < known.distance) known.distance = distance;
	}

	/** Nearest first; equal ones in file order. */
	sorted(): Block[] {
		return this.list.sort((a, b) => a.distance - b.distance || a.object.index - b.object.index);
	}
}

/** Everything that blocks the path itself, up to the slack past its end. */
export function blocksOnPath(t: Touching): Block[] {
	const { filters, placement } = t;
	const { world } = filters;
	const path = placement.path as QueryPath;
	const blocks = new Blocks();
	const length = path.length + world.tieSlack;
	const [x, y, z] = path.start;
	const consider = (index: number, limit: number) => {
		const shape = world.shapes[index];
		if (!isBlocker(filters, shape)) return limit;
		const distance = placement.flatPick
			? throughFigure(shape, x, y, z, length, t.count)
			: alongPath(path, shape, length, t.count);
		if (hit.startsInside && !t.count) t.startsInside.add(shape.object);
		if (distance !== Infinity) blocks.add(shape.object, distance);
		return limit;
	};
	if (placement.flatPick) {
		box.set([x, y, -1, x, y, 1]);
		world.tree().overlap(box, (i) => {
			consider(i, length);
		});
	} else if (path.swept) {
		boundsOf(path.swept, box);
		const cx = (box[0] + box[3]) / 2;
		const cy = (box[1] + box[4]) / 2;
		const cz = (box[2] + box[5]) / 2;
		world.tree().walk(cx, cy, cz, ...path.dir, length, box[3] - cx, box[4] - cy, box[5] - cz, consider);
	} else world.tree().walk(x, y, z, ...path.dir, length, 0, 0, 0, consider);
	return blocks.sorted();
}

/** Everything that blocks an arc, up to the slack past its end. */
export function blocksOnArc(t: Touching, arc: ArcPath): Block[] {
	const { filters } = t;
	const { world } = filters;
	const blocks = new Blocks();
	wholeBox(arc, box);
	for (let k = 0; k < 3; k++) {
		box[k] -= world.tieSlack;
		box[k + 3] += world.tieSlack;
	}
	world.tree().overlap(box, (index) => {
		const shape = world.shapes[index];
		if (!isBlocker(filters, shape)) return;
		const found = touchOnArc(arc, shape, world.tieSlack, t.count);
		if (found.startsInside && !t.count) t.startsInside.add(shape.object);
		if (found.piece >= 0) blocks.add(shape.object, distanceOf(arc, found));
	});
	return blocks.sorted();
}

/** The nearest thing that blocks a straight line for a contender, or null. */
function blockOnLine(t: Touching, from: Point, to: Point, length: number, c: Contender): Block | null {
	const { filters } = t;
	const { world } = filters;
	const blocks = new Blocks();
	const dx = (to[0] - from[0]) / length;
	const dy = (to[1] - from[1]) / length;
	const dz = (to[2] - from[2]) / length;
	world.tree().walk(from[0], from[1], from[2], dx, dy, dz, length, 0, 0, 0, (index, limit) => {
		const shape = world.shapes[index];
		if (!isBlocker(filters, shape) || shape.object.answersFor === c.object.answersFor) return limit;
		const distance = rayOn(shape.body, from[0], from[1], from[2], dx, dy, dz, length, t.count);
		if (hit.startsInside && !t.count) t.startsInside.add(shape.object);
		if (distance !== Infinity) blocks.add(shape.object, distance);
		return limit;
	});
	return blocks.sorted()[0] ?? null;
}

/** A flat pick's line to an assisted object runs straight down through its focus. */
function blockAbove(t: Touching, depth: number, length: number, c: Contender): Block | null {
	const { filters } = t;
	const { world } = filters;
	const [x, y] = c.object.focus;
	const blocks = new Blocks();
	box.set([x, y, -1, x, y, 1]);
	world.tree().overlap(box, (index) => {
		const shape = world.shapes[index];
		if (!isBlocker(filters, shape) || shape.object.answersFor === c.object.answersFor) return;
		const distance = throughFigure(shape, x, y, depth, length, t.count);
		if (hit.startsInside && !t.count) t.startsInside.add(shape.object);
		if (distance !== Infinity) blocks.add(shape.object, distance);
	});
	return blocks.sorted()[0] ?? null;
}

/**
 * Judges one contender. Direct contacts of a path are judged along the path, all others along a line of sight.
 * @param onPath the path's blocks, from `blocksOnPath`
 * @returns the verdict when something blocks it; else null, with `contestedBy` filled
 */
export function sightVerdict(t: Touching, onPath: Block[] | null, c: Contender): Verdict | null {
	const { filters, placement } = t;
	const { tieSlack } = filters.world;
	if (!placement.path && !placement.arc && filters.query.sight?.to === 'marks') return marksVerdict(t, c);
	if (filters.blockers === 0) return null;
	if (onPath && !c.assisted) {
		const others = onPath.filter((b) => b.object.answersFor !== c.object.answersFor);
		const nearest = others[0];
		if (!nearest) return null;
		if (hides(nearest.distance, c.distance, tieSlack))
			return { object: c.object.id, stage: 'sight', by: nearest.object.id, margin: c.distance - nearest.distance };
		c.contestedBy = others.filter((b) => contests(b.distance, c.distance, tieSlack)).map((b) => b.object);
		return null;
	}
	let block: Block | null;
	let length: number;
	if (placement.flatPick) {
		length = c.distance;
		if (length <= NO_LENGTH) return null;
		block = blockAbove(t, (placement.path as QueryPath).start[2], length, c);
	} else {
		const to =
			!placement.path && filters.query.sight?.to === 'contact'
				? c.point
				: focusOf(placement, filters.world.flat, c.object);
		const from = placement.path ? placement.path.start : placement.sightFrom;
		length = distanceBetween(from, to);
		if (length <= NO_LENGTH) return null;
		block = blockOnLine(t, from, to, length, c);
	}
	if (block && hides(block.distance, length, tieSlack))
		return { object: c.object.id, stage: 'sight', by: block.object.id, margin: length - block.distance };
	return null;
}

/** The points of an object that can be seen, with their ids: its marks, else its focus. */
function marksOf(placement: Placement, flat: boolean, object: WorldObject): { id: string | null; point: Point }[] {
	const { marks } = object.def;
	if (!marks) return [{ id: null, point: focusOf(placement, flat, object) }];
	return marks.map(({ id, at }) => {
		const [x, y, z] = placed(object.position, object.rotation, object.scale, at);
		return { id, point: [x, y, flat ? 0 : z] };
	});
}

/** Judges a contender by how many of its marks are seen, and notes that on it. */
function marksVerdict(t: Touching, c: Contender): Verdict | null {
	const { filters, placement } = t;
	const { world, query } = filters;
	const { tieSlack } = world;
	const from = placement.sightFrom;
	const blocked: (string | null)[] = [];
	let by: WorldObject | null = null;
	const marks = marksOf(placement, world.flat, c.object);
	for (const { id, point } of marks) {
		if (filters.blockers === 0) break;
		const length = distanceBetween(from, point);
		if (length <= NO_LENGTH) continue;
		const block = blockOnLine(t, from, point, length, c);
		if (!block || !hides(block.distance, length, tieSlack)) continue;
		by ??= block.object;
		blocked.push(id);
	}
	const of = marks.length;
	const seen = of - blocked.length;
	c.marks = { seen, of };
	const least = query.sight?.least ?? 1;
	const wanted = least === 'all' ? of : Math.min(of, least);
	if (by === null || seen >= wanted) return null;
	return { object: c.object.id, stage: 'sight', by: by.id, margin: wanted - seen, marks: blocked, seen, of };
}
