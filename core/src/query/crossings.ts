/** What lies along a query's path, for the drawings: where each touched shape begins and ends, and whether it can stop the query. */
import { boundsOf, MESH } from '../geometry/body';
import { exitDistance } from '../geometry/ray';
import { hit } from '../space/cast';
import type { WorldShape } from '../world/world';
import { type Filters, isActive, isBlocker, isEligible } from './filters';
import type { Placement } from './placement';
import { alongPath, throughFigure } from './touch';

/** A stretch of a path that lies in a shape. */
export interface Crossing {
	shape: WorldShape;
	/** Metres from the path's start; `enter` is 0 for a shape that holds the start. */
	enter: number;
	exit: number;
	/** On a layer and of a role the query can choose from. */
	eligible: boolean;
	blocker: boolean;
	startsInside: boolean;
}

const box = new Float64Array(6);

/** @returns the crossings of a path query nearest first; empty for volumes. Excluded objects are left out. */
export function crossingsOf(filters: Filters, placement: Placement): Crossing[] {
	const { path } = placement;
	const { world } = filters;
	if (!path) return [];
	const list: Crossing[] = [];
	const [x, y, z] = path.start;
	const [dx, dy, dz] = path.dir;
	const consider = (index: number) => {
		const shape = world.shapes[index];
		const { object } = shape;
		const eligible = isEligible(filters, shape);
		const blocker = isBlocker(filters, shape);
		if ((!eligible && !blocker) || !isActive(object) || filters.excluded[object.index] === 1) return;
		const enter = placement.flatPick
			? throughFigure(shape, x, y, z, path.length, true)
			: alongPath(path, shape, path.length, true);
		if (enter === Infinity) return;
		const { startsInside } = hit;
		const thick = !path.swept && !placement.flatPick && shape.body.kind !== MESH;
		const exit = thick ? exitDistance(shape.body, x, y, z, dx, dy, dz, enter) : enter;
		list.push({ shape, enter, exit: Math.min(exit, path.length), eligible, blocker, startsInside });
	};
	if (placement.flatPick) {
		box.set([x, y, -1, x, y, 1]);
		world.tree().overlap(box, consider);
	} else {
		let [cx, cy, cz, ex, ey, ez] = [x, y, z, 0, 0, 0];
		if (path.swept) {
			boundsOf(path.swept, box);
			[cx, cy, cz] = [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2];
			[ex, ey, ez] = [box[3] - cx, box[4] - cy, box[5] - cz];
		}
		world.tree().walk(cx, cy, cz, dx, dy, dz, path.length, ex, ey, ez, (index, limit) => {
			consider(index);
			return limit;
		});
	}
	return list.sort((a, b) => a.enter - b.enter || a.shape.index - b.shape.index);
}

/** Where a ray first meets a shape: what the pointer is on. */
export interface Surface {
	shape: WorldShape;
	/** World metres. */
	point: [number, number, number];
	/** Unit, facing the start; in a flat scene towards the viewer. */
	normal: [number, number, number];
}

/**
 * The nearest surface along a ray, whatever its layer and role. Shapes that hold the start are passed over. Null when there is none.
 * @param start world metres
 * @param dir unit vector
 * @param depthOf where a flat scene's depths are shown; piles may be pulled apart
 */
export function surfaceUnder(
	world: Filters['world'],
	start: readonly number[],
	dir: readonly number[],
	skip: (shape: WorldShape) => boolean,
	depthOf: (z: number) => number = (z) => z,
): Surface | null {
	let best = Infinity;
	let under: Surface | null = null;
	if (world.flat) {
		for (const shape of world.shapes) {
			// Looked at slantwise a figure is met where the ray crosses its own depth.
			const own = shape.object.position[2];
			const z = depthOf(own);
			const t = dir[2] === 0 ? -1 : (z - start[2]) / dir[2];
			if (t < 0 || t >= best || skip(shape)) continue;
			const [x, y] = [start[0] + t * dir[0], start[1] + t * dir[1]];
			if (throughFigure(shape, x, y, own + 1, 2, true) === Infinity) continue;
			best = t;
			under = { shape, point: [x, y, own], normal: [0, 0, 1] };
		}
		return under;
	}
	const [x, y, z] = start as [number, number, number];
	const [dx, dy, dz] = dir as [number, number, number];
	const path = {
		start: [x, y, z] as [number, number, number],
		dir: [dx, dy, dz] as [number, number, number],
		length: Infinity,
		swept: null,
	};
	world.tree().walk(x, y, z, dx, dy, dz, 1e6, 0, 0, 0, (index, limit) => {
		const shape = world.shapes[index];
		if (skip(shape)) return limit;
		const t = alongPath(path, shape, limit, false);
		if (t >= best) return limit;
		best = t;
		under = {
			shape,
			point: [hit.point[0], hit.point[1], hit.point[2]],
			normal: [hit.normal[0], hit.normal[1], hit.normal[2]],
		};
		return t;
	});
	return under;
}
