/** The stage `touch`: which objects a query meets, and where. One contact per object. */
import { type Body, MESH, OVERLAP_GAP, START_GAP } from '../geometry/body';
import { angleBetween, distanceBetween } from '../geometry/matrix';
import { nearestPoint } from '../geometry/nearest-point';
import { castLoaded, planesOf, ray } from '../geometry/ray';
import type { Query } from '../project/schema';
import { found, gapBetween, gapToSegment, nearestOn, rayOn, sweepOn } from '../space/cast';
import type { WorldObject, WorldShape } from '../world/world';
import { type Filters, isEligible } from './filters';
import { type Frame, type Path, type Point, pixelsFromCursor, rayAsBody } from './frame';

/** An object that is still in the running, with its one contact. */
export interface Contender {
	object: WorldObject;
	shape: WorldShape | null;
	distance: number;
	point: Point;
	normal: Point | null;
	assisted: boolean;
	box: number | null;
	/** Blockers as near as the contact, to within the slack; filled at `sight`. */
	contestedBy: WorldObject[];
}

/** What the touch tests of one answer share. */
export interface Touching {
	filters: Filters;
	frame: Frame;
	count: boolean;
	/** Objects that had a shape skipped because the start lies in it. */
	startsInside: Set<WorldObject>;
	/** The path as a swept body, made when the first gap to it is asked for. */
	pathBody: Body | null;
}

/** A path that ends on a surface, or at a focus, reaches it whatever the last digit says; metres. */
export const PATH_END = 1e-9;
/** Nearer than this, in metres, two points are one. */
const NO_LENGTH = 1e-9;

const spot = new Float64Array(3);

const contender = (object: WorldObject, shape: WorldShape | null, distance: number, point: ArrayLike<number>, normal: ArrayLike<number> | null): Contender => ({
	object,
	shape,
	distance,
	// Adding 0 turns −0 into 0.
	point: [point[0] + 0, point[1] + 0, point[2] + 0],
	normal: normal ? [normal[0] + 0, normal[1] + 0, normal[2] + 0] : null,
	assisted: false,
	box: null,
	contestedBy: [],
});

/**
 * @param near whether a shape of the object may be touched at all; else only aim assist can reach it
 * @returns the object's contact, or null when nothing of it is touched
 */
export function touch(t: Touching, object: WorldObject, near: boolean): Contender | null {
	if (!near) return assisted(t, object);
	const direct = t.frame.flatPick ? touchFlat(t, object) : t.frame.path ? touchPath(t, t.frame.path, object) : touchVolume(t, object);
	return direct ?? assisted(t, object);
}

function touchPath(t: Touching, path: Path, object: WorldObject): Contender | null {
	let best: Contender | null = null;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape) || passesBy(path, shape)) continue;
		const distance = alongPath(path, shape, path.length + PATH_END, t.count);
		if (found.startsInside && !t.count) t.startsInside.add(object);
		if (distance === Infinity || (best && distance >= best.distance)) continue;
		best = contender(object, shape, distance, found.point, found.normal);
	}
	return best;
}

/** Whether a plain ray certainly misses a shape: most do, and are told from the rest without a detour. */
function passesBy(path: Path, shape: WorldShape): boolean {
	const { body } = shape;
	if (path.swept || body.kind === MESH) return false;
	const { start, dir } = path;
	ray[0] = start[0];
	ray[1] = start[1];
	ray[2] = start[2];
	ray[3] = dir[0];
	ray[4] = dir[1];
	ray[5] = dir[2];
	castLoaded(body, body.kind, planesOf(body), body.data, 0);
	return ray[6] === Infinity;
}

/** First touch of a shape along a path; see `rayOn`. */
export function alongPath(path: Path, shape: WorldShape, length: number, count: boolean): number {
	const [dx, dy, dz] = path.dir;
	if (path.swept) return sweepOn(path.swept, dx, dy, dz, length, shape.body, count);
	const [x, y, z] = path.start;
	return rayOn(shape.body, x, y, z, dx, dy, dz, length, count);
}

/** A flat pick meets a figure at its object's depth, where the cursor's point lies in it. @returns its distance, or `Infinity` */
export function throughFigure(shape: WorldShape, x: number, y: number, depth: number, length: number, count: boolean): number {
	found.startsInside = false;
	const distance = depth - shape.object.position[2];
	const inPlane = nearestPoint(shape.body, x, y, 0, spot);
	found.point[0] = x;
	found.point[1] = y;
	found.point[2] = shape.object.position[2];
	found.normal[0] = 0;
	found.normal[1] = 0;
	found.normal[2] = 1;
	if (inPlane <= START_GAP && Math.abs(distance) <= START_GAP) {
		found.startsInside = true;
		found.point[2] = depth;
		return count ? 0 : Infinity;
	}
	return inPlane <= OVERLAP_GAP && distance >= 0 && distance <= length ? distance : Infinity;
}

function touchFlat(t: Touching, object: WorldObject): Contender | null {
	const path = t.frame.path as Path;
	let best: Contender | null = null;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		const distance = throughFigure(shape, path.start[0], path.start[1], path.start[2], path.length + PATH_END, t.count);
		if (found.startsInside && !t.count) t.startsInside.add(object);
		if (distance === Infinity || (best && distance >= best.distance)) continue;
		best = contender(object, shape, distance, found.point, found.normal);
	}
	return best;
}

function touchVolume(t: Touching, object: WorldObject): Contender | null {
	const { volumes, grow, measuring } = t.frame;
	let best: Contender | null = null;
	let box: number | null = null;
	let opens = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		let touched = false;
		for (const volume of volumes) {
			if (touched && (volume.from > opens || (volume.from === opens && box !== null && volume.box >= box))) continue;
			if (gapBetween(volume.body, shape.body, grow + OVERLAP_GAP) - grow > OVERLAP_GAP) continue;
			touched = true;
			if (volume.from < opens || (volume.from === opens && (box === null || volume.box < box))) {
				opens = volume.from;
				box = volume.box;
			}
		}
		if (!touched) continue;
		const distance = nearestOn(shape.body, measuring[0], measuring[1], measuring[2], spot);
		if (!best || distance < best.distance) best = contender(object, shape, distance, spot, null);
	}
	if (best && t.filters.query.kind === 'hitbox') best.box = box;
	return best;
}

const assistOf = (query: Query) => (query.kind === 'ray' || query.kind === 'pick' ? query.assist : undefined);

/** An object not touched directly may count as touched at its focus. */
function assisted(t: Touching, object: WorldObject): Contender | null {
	const assist = assistOf(t.filters.query);
	const { path, flatPick, view } = t.frame;
	if (!assist || !path) return null;
	const focus = focusOf(t.frame, t.filters.world.flat, object);
	const rx = focus[0] - path.start[0];
	const ry = focus[1] - path.start[1];
	const rz = focus[2] - path.start[2];
	// A focus at the start is neither ahead nor behind, whatever rounding says.
	const atStart = Math.hypot(rx, ry, rz) <= NO_LENGTH;
	const along = atStart ? 0 : rx * path.dir[0] + ry * path.dir[1] + rz * path.dir[2];
	if (!(along >= -PATH_END && along <= path.length + PATH_END)) return null;
	let off: number;
	if (assist.by === 'angle') off = atStart ? 0 : angleBetween(rx, ry, rz, ...path.dir);
	else if (assist.by === 'pixels') off = view ? pixelsFromCursor(view, focus) : Infinity;
	else off = Math.hypot(rx - along * path.dir[0], ry - along * path.dir[1], rz - along * path.dir[2]);
	if (!(off <= assist.within)) return null;
	const result = contender(object, null, flatPick ? along : distanceBetween(focus, path.start), focus, null);
	result.assisted = true;
	return result;
}

/** The focus as the query sees it: in flat scenes at Z = 0, but for picks. */
export function focusOf(frame: Frame, flat: boolean, object: WorldObject): Point {
	const [x, y, z] = object.focus;
	return [x, y, flat && !frame.flatPick ? 0 : z];
}

/** By how much an untouched object was missed, metres; undefined where it has no shape to measure to or there is no volume. */
export function missMargin(t: Touching, object: WorldObject): number | undefined {
	if (t.startsInside.has(object)) return 0;
	const { frame } = t;
	const { path, volumes, grow } = frame;
	let best = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		if (frame.flatPick && path) {
			const distance = path.start[2] - shape.object.position[2];
			const depth = Math.max(0, -distance, distance - path.length);
			best = Math.min(best, Math.max(depth, nearestPoint(shape.body, path.start[0], path.start[1], 0, spot)));
		} else if (path) {
			t.pathBody ??= rayAsBody(path);
			const body = t.pathBody;
			best = Math.min(best, path.swept ? gapBetween(body, shape.body) : gapToSegment(body, shape.body));
		} else for (const volume of volumes) best = Math.min(best, Math.max(0, gapBetween(volume.body, shape.body) - grow));
	}
	return best === Infinity ? undefined : best;
}
