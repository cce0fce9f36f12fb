/** What things stand on: the surface under a place, and things put down on it. In space only; a flat scene has no down. */
import {
	type Project,
	surfaceUnder,
	tripleOf,
	type Vec3,
	type World,
	type WorldObject,
	type WorldShape,
} from '@frelk/core';
import { extentOf, shiftObject, topmost } from './objects';

/** A surface one can stand something on leans by less than this, as the upward part of its normal. */
export const LEVEL = 0.7;
/** Gaps below this are none: what is as near as this stands, metres. */
const TOUCHING = 0.03;

export const isLevel = (normal: readonly number[]): boolean => normal[1] > LEVEL;

/** @returns whether an object is one of these, or hangs on one */
export function isWithin(object: WorldObject, ids: ReadonlySet<string>): boolean {
	for (let o: WorldObject | null = object; o; o = o.parent) if (ids.has(o.id)) return true;
	return false;
}

/**
 * The height of the highest level surface below a place; the ground, 0, where there is none.
 * @param from looked down from, metres
 * @param skip what is not stood on
 */
export function heightBelow(
	world: World,
	x: number,
	z: number,
	from: number,
	skip: (shape: WorldShape) => boolean,
): number {
	const under = surfaceUnder(world, [x, from, z], [0, -1, 0], (s) => s.sensor || !s.object.active || skip(s));
	return under ? under.point[1] : Math.min(0, from);
}

/** Extents of what is in hand, metres in the world. */
function extentsOf(world: World, object: WorldObject): { low: Vec3; high: Vec3 } {
	return { low: tripleOf((k) => extentOf(world, object, k)[0]), high: tripleOf((k) => extentOf(world, object, k)[1]) };
}

/** How far an object is to be raised (or lowered, below 0) to stand on what is below its footprint, metres. */
function dropOf(world: World, object: WorldObject): number {
	const { low, high } = extentsOf(world, object);
	const mine = new Set([object.id]);
	const skip = (s: WorldShape) => isWithin(s.object, mine);
	// From its own middle height: what has sunk by less than half is lifted out.
	const from = Math.max((low[1] + high[1]) / 2, low[1] + 0.01);
	let best = -Infinity;
	for (const u of [0.5, 0.05, 0.95])
		for (const v of [0.5, 0.05, 0.95]) {
			const x = low[0] + u * (high[0] - low[0]);
			const z = low[2] + v * (high[2] - low[2]);
			best = Math.max(best, heightBelow(world, x, z, from, skip));
		}
	return best - low[1];
}

/** Whether an object stands on something, rather than hanging in the air. */
export const isStanding = (world: World, object: WorldObject): boolean => Math.abs(dropOf(world, object)) <= TOUCHING;

/** Stands objects on what is below each of them. */
export function standObjects(draft: Project, world: World, ids: readonly string[]): void {
	for (const object of topmost(world, ids)) {
		const by = dropOf(world, object);
		if (Math.abs(by) > 1e-9) shiftObject(draft, world, object.id, [0, by, 0]);
	}
}

/** Least height that a volume keeps above what bears it, metres: it would touch it otherwise. */
const KEPT = 0.01;

/**
 * How far a volume is to be moved up or down so that what is under it bears it.
 * @param points its base in the world
 * @param asker who asks, whose own shapes do not bear it
 * @returns metres, below 0 down; null in a flat scene, or where that is nowhere
 */
export function dropOfSpot(
	world: World,
	points: readonly { at: readonly number[] }[],
	asker: string | undefined,
): number | null {
	if (world.flat || points.length === 0) return null;
	const mine = new Set(asker === undefined ? [] : [asker]);
	const skip = (s: WorldShape) => isWithin(s.object, mine);
	let best = -Infinity;
	for (const { at } of points) best = Math.max(best, heightBelow(world, at[0], at[2], at[1] + KEPT, skip) - at[1]);
	const by = best + KEPT;
	return Math.abs(by) < 1e-6 ? null : by;
}
