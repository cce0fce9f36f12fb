/** The stage `touch`: which objects a query meets, and where. One contact per object. */
import { type Body, HULL, MESH } from '../geometry/body';
import { angleBetween, distanceBetween } from '../geometry/matrix';
import { nearestPoint } from '../geometry/nearest-point';
import { castLoaded, planesOf, ray } from '../geometry/ray';
import { NO_LENGTH, OVERLAP_GAP, PATH_END, START_GAP } from '../geometry/tolerances';
import type { Query } from '../project/schema';
import { gapBetween, gapToSegment, hit, nearestOn, rayOn, sweepOn } from '../space/cast';
import type { WorldObject, WorldShape } from '../world/world';
import { type ArcPath, directionOf, distanceOf, gapToArc, timeOf, touchOnArc } from './arc';
import { type Filters, isEligible } from './filters';
import { fromCursor, type Placement, type Point, pixelsFromCursor, type QueryPath, rayAsBody } from './placement';

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
	/** How many of its marks are seen, of how many; null where sight does not go to marks. Filled at `sight`. */
	marks: { seen: number; of: number } | null;
	/** Of an arc: seconds of flight. */
	time?: number;
}

/** What the touch tests of one answer share. */
export interface Touching {
	filters: Filters;
	placement: Placement;
	count: boolean;
	/** Objects that have a shape, eligible or blocking, in which the start lies. */
	startsInside: Set<WorldObject>;
	/** Those that had an eligible shape skipped because of that. */
	skipped: Set<WorldObject>;
	/** The path as a swept body, made when the first gap to it is asked for. */
	pathBody: Body | null;
}

/** The aim assist of a ray or of a pick. */
type Assist = NonNullable<Extract<Query, { kind: 'ray' | 'pick' }>['assist']>;

/** Room for rounding in a first look, metres, and as a part of what is looked at. */
const ROOM = 1e-6;

const spot = new Float64Array(3);

const contender = (
	object: WorldObject,
	shape: WorldShape | null,
	distance: number,
	point: ArrayLike<number>,
	normal: ArrayLike<number> | null,
): Contender => ({
	object,
	shape,
	distance,
	// Adding 0 turns −0 into 0.
	point: [point[0] + 0, point[1] + 0, point[2] + 0],
	normal: normal ? [normal[0] + 0, normal[1] + 0, normal[2] + 0] : null,
	assisted: false,
	box: null,
	contestedBy: [],
	marks: null,
});

/**
 * @param near whether a shape of the object may be touched at all
 * @param helped whether aim assist reaches it, see `withinAssist`
 * @returns the object's contact, or null when nothing of it is touched
 */
export function touch(t: Touching, object: WorldObject, near: boolean, helped: boolean): Contender | null {
	let direct: Contender | null = null;
	if (near)
		direct = t.placement.flatPick
			? touchFlat(t, object)
			: t.placement.path
				? touchPath(t, t.placement.path, object)
				: t.placement.arc
					? touchArc(t, t.placement.arc, object)
					: touchVolume(t, object);
	return direct ?? (helped && t.placement.path ? atFocus(t, t.placement.path, object) : null);
}

function skip(t: Touching, object: WorldObject): void {
	t.skipped.add(object);
	t.startsInside.add(object);
}

function touchPath(t: Touching, path: QueryPath, object: WorldObject): Contender | null {
	let best: Contender | null = null;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape) || passesBy(path, shape)) continue;
		const distance = alongPath(path, shape, path.length + PATH_END, t.count);
		if (hit.startsInside && !t.count) skip(t, object);
		if (distance === Infinity || (best && distance >= best.distance)) continue;
		best = contender(object, shape, distance, hit.point, unit(hit.normal, path.dir));
	}
	return best;
}

function touchArc(t: Touching, arc: ArcPath, object: WorldObject): Contender | null {
	let best: Contender | null = null;
	let piece = Infinity;
	let along = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		const found = touchOnArc(arc, shape, 0, t.count);
		if (found.startsInside && !t.count) skip(t, object);
		if (found.piece < 0 || found.piece > piece || (found.piece === piece && found.distance >= along)) continue;
		({ piece, distance: along } = found);
		best = contender(object, shape, distanceOf(arc, found), hit.point, unit(hit.normal, directionOf(arc, found)));
		best.time = timeOf(arc, found);
	}
	return best;
}

/**
 * A normal as a unit vector: where coordinates are so large that a contact has lost its digits, so has the difference it is made of.
 * Against the path where nothing is left of it.
 */
function unit(normal: Float64Array, [dx, dy, dz]: Point): Float64Array {
	const square = normal[0] * normal[0] + normal[1] * normal[1] + normal[2] * normal[2];
	if (Math.abs(square - 1) <= 1e-9) return normal;
	const length = Math.sqrt(square);
	if (length > 0 && length < Infinity) for (let k = 0; k < 3; k++) normal[k] /= length;
	else normal.set([-dx, -dy, -dz]);
	return normal;
}

/** Whether a plain ray certainly misses a shape: most do, and are told from the rest without a detour. */
function passesBy(path: QueryPath, shape: WorldShape): boolean {
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
export function alongPath(path: QueryPath, shape: WorldShape, length: number, count: boolean): number {
	const [dx, dy, dz] = path.dir;
	if (path.swept) return sweepOn(path.swept, dx, dy, dz, length, shape.body, count);
	const [x, y, z] = path.start;
	return rayOn(shape.body, x, y, z, dx, dy, dz, length, count);
}

/** A flat pick meets a figure at its object's depth, where the cursor's point lies in it. @returns its distance, or `Infinity` */
export function throughFigure(
	shape: WorldShape,
	x: number,
	y: number,
	depth: number,
	length: number,
	count: boolean,
): number {
	hit.startsInside = false;
	const distance = depth - shape.object.position[2];
	const inPlane = nearestPoint(shape.body, x, y, 0, spot);
	hit.point[0] = x;
	hit.point[1] = y;
	hit.point[2] = shape.object.position[2];
	hit.normal[0] = 0;
	hit.normal[1] = 0;
	hit.normal[2] = 1;
	if (inPlane <= START_GAP && Math.abs(distance) <= START_GAP) {
		hit.startsInside = true;
		hit.point[2] = depth;
		return count ? 0 : Infinity;
	}
	return inPlane <= OVERLAP_GAP && distance >= 0 && distance <= length ? distance : Infinity;
}

function touchFlat(t: Touching, object: WorldObject): Contender | null {
	const path = t.placement.path as QueryPath;
	let best: Contender | null = null;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		const distance = throughFigure(shape, path.start[0], path.start[1], path.start[2], path.length + PATH_END, t.count);
		if (hit.startsInside && !t.count) skip(t, object);
		if (distance === Infinity || (best && distance >= best.distance)) continue;
		best = contender(object, shape, distance, hit.point, hit.normal);
	}
	return best;
}

/**
 * Whether two bodies come within `grow` of each other. Where the middle of the second lies tells it of most pairs at a tenth of what the
 * gap costs: it belongs to the second, and all of that lies within the ball around it.
 */
function overlaps(volume: Body, body: Body, grow: number): boolean {
	if (volume.kind !== HULL && volume.kind !== MESH) {
		const away = nearestPoint(volume, body.x, body.y, body.z, spot) - grow;
		if (away > body.boundingRadius * (1 + ROOM) + ROOM) return false;
		if (away <= 0 && body.kind !== HULL && body.kind !== MESH) return true;
	}
	return gapBetween(volume, body, grow + OVERLAP_GAP) - grow <= OVERLAP_GAP;
}

function touchVolume(t: Touching, object: WorldObject): Contender | null {
	const { volumes, grow, measuring } = t.placement;
	let best: Contender | null = null;
	let box: number | null = null;
	let opens = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		let touched = false;
		for (const volume of volumes) {
			if (touched && (volume.from > opens || (volume.from === opens && box !== null && volume.box >= box))) continue;
			if (!overlaps(volume.body, shape.body, grow)) continue;
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

const assistOf = (query: Query): Assist | undefined =>
	query.kind === 'ray' || query.kind === 'pick' ? query.assist : undefined;

/** How far along a path a point lies, metres. A point at the start is neither ahead nor behind, whatever rounding says. */
function along({ start, dir }: QueryPath, [x, y, z]: Point): number {
	const rx = x - start[0];
	const ry = y - start[1];
	const rz = z - start[2];
	return Math.hypot(rx, ry, rz) <= NO_LENGTH ? 0 : rx * dir[0] + ry * dir[1] + rz * dir[2];
}

/** How far a focus lies beside the path, in the unit of the aim assist; `Infinity` where it does not lie between the path's ends. */
function offsetFromPath({ view }: Placement, path: QueryPath, by: Assist['by'], focus: Point): number {
	const { start, dir } = path;
	const t = along(path, focus);
	if (!(t >= -PATH_END && t <= path.length + PATH_END)) return Infinity;
	if (by === 'pixels') return view ? pixelsFromCursor(view, focus) : Infinity;
	const rx = focus[0] - start[0];
	const ry = focus[1] - start[1];
	const rz = focus[2] - start[2];
	if (by === 'distance') return Math.hypot(rx - t * dir[0], ry - t * dir[1], rz - t * dir[2]);
	return Math.hypot(rx, ry, rz) <= NO_LENGTH ? 0 : angleBetween(rx, ry, rz, dir[0], dir[1], dir[2]);
}

/**
 * Marks, by their index, the objects that aim assist reaches if nothing of them is touched directly; null where there is none. It
 * reads the foci where they lie side by side, and looks first, in plain numbers, for those that certainly lie too far off: of
 * thousands of objects that is nearly all.
 */
export function withinAssist({ placement, filters: { query, world } }: Touching): Uint8Array | null {
	const assist = assistOf(query);
	const { path, view } = placement;
	if (!assist || !path) return null;
	const { foci } = world;
	const level = world.flat && !placement.flatPick;
	const [sx, sy, sz] = path.start;
	const [dx, dy, dz] = path.dir;
	const { by, within } = assist;
	const tangent = by !== 'angle' ? 0 : within < 89 ? Math.tan((within * Math.PI) / 180) : Infinity;
	const inPicture = by === 'pixels' && view ? fromCursor(view) : null;
	const pixels = within * (1 + ROOM) + ROOM;
	const helped = new Uint8Array(world.objects.length);
	const focus: Point = [0, 0, 0];
	for (let i = 0; i < helped.length; i++) {
		const x = foci[3 * i];
		const y = foci[3 * i + 1];
		const z = level ? 0 : foci[3 * i + 2];
		const rx = x - sx;
		const ry = y - sy;
		const rz = z - sz;
		const t = rx * dx + ry * dy + rz * dz;
		if (t < -ROOM || t > path.length + ROOM) continue;
		if (inPicture) {
			const depth = inPicture[8] * x + inPicture[9] * y + inPicture[10] * z + inPicture[11];
			if (depth < -ROOM) continue;
			const right = inPicture[0] * x + inPicture[1] * y + inPicture[2] * z + inPicture[3];
			const down = inPicture[4] * x + inPicture[5] * y + inPicture[6] * z + inPicture[7];
			const far = (pixels * depth + ROOM) * (1 + ROOM);
			if (right * right + down * down > far * far) continue;
		} else {
			const ex = rx - t * dx;
			const ey = ry - t * dy;
			const ez = rz - t * dz;
			const far = (by === 'angle' ? tangent * Math.max(0, t) : within) * (1 + ROOM) + ROOM;
			if (ex * ex + ey * ey + ez * ez > far * far) continue;
		}
		focus[0] = x;
		focus[1] = y;
		focus[2] = z;
		if (offsetFromPath(placement, path, by, focus) <= within) helped[i] = 1;
	}
	return helped;
}

/** An object not touched directly counts as touched at its focus, by aim assist. */
function atFocus({ placement, filters }: Touching, path: QueryPath, object: WorldObject): Contender {
	const focus = focusOf(placement, filters.world.flat, object);
	const result = contender(
		object,
		null,
		placement.flatPick ? along(path, focus) : distanceBetween(focus, path.start),
		focus,
		null,
	);
	result.assisted = true;
	return result;
}

/** The focus as the query sees it: in flat scenes at Z = 0, but for picks. */
export function focusOf(placement: Placement, flat: boolean, object: WorldObject): Point {
	const [x, y, z] = object.focus;
	return [x, y, flat && !placement.flatPick ? 0 : z];
}

/** By how much an untouched object was missed, metres; undefined where it has no shape to measure to or there is no volume. */
export function missMargin(t: Touching, object: WorldObject): number | undefined {
	if (t.skipped.has(object)) return 0;
	const { placement } = t;
	const { path, arc, volumes, grow } = placement;
	let best = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		if (placement.flatPick && path) {
			const distance = path.start[2] - shape.object.position[2];
			const depth = Math.max(0, -distance, distance - path.length);
			best = Math.min(best, Math.max(depth, nearestPoint(shape.body, path.start[0], path.start[1], 0, spot)));
		} else if (path) {
			t.pathBody ??= rayAsBody(path);
			const body = t.pathBody;
			if (path.swept) narrowTo(body, path, shape.body);
			best = Math.min(best, path.swept ? gapBetween(body, shape.body) : gapToSegment(body, shape.body));
		} else if (arc) best = Math.min(best, gapToArc(arc, shape.body));
		else for (const volume of volumes) best = Math.min(best, Math.max(0, gapBetween(volume.body, shape.body) - grow));
	}
	return best === Infinity ? undefined : best;
}

/** A line as thick as a query is: every gap to the query is at least the distance from the line less its thickness and the ball's radius. */
export interface Core {
	start: Point;
	/** Unit vector; zeros for a point. */
	dir: Point;
	length: number;
	thickness: number;
}

/** @returns null where no line says how near the query comes */
export function coreOf({ placement: { path, volumes, grow, flatPick } }: Touching): Core | null {
	if (path && !flatPick) return { ...path, thickness: path.swept?.boundingRadius ?? 0 };
	const [one, another] = volumes;
	if (!one || another || path) return null;
	const { x, y, z, boundingRadius } = one.body;
	return { start: [x, y, z], dir: [0, 0, 0], length: 0, thickness: boundingRadius + grow };
}

/**
 * How far past its end a path, were it endless, would first touch an object it does not reach, metres.
 * @returns undefined where it never would, and for volumes
 */
export function beyondEnd(t: Touching, object: WorldObject): number | undefined {
	const { path, flatPick } = t.placement;
	if (!path) return undefined;
	const { start, dir } = path;
	const own = path.swept === null ? 0 : path.swept.boundingRadius;
	let first = Infinity;
	for (const shape of object.shapes) {
		if (!isEligible(t.filters, shape)) continue;
		if (flatPick) {
			first = Math.min(first, throughFigure(shape, start[0], start[1], start[2], Infinity, t.count));
			continue;
		}
		const { body } = shape;
		const room = 1.000001 * (body.boundingRadius + own) + ROOM;
		const rx = body.x - start[0];
		const ry = body.y - start[1];
		const rz = body.z - start[2];
		const ahead = rx * dir[0] + ry * dir[1] + rz * dir[2];
		const square = rx * rx + ry * ry + rz * rz;
		// Behind, or beside by more than the balls around both: nearly all are.
		if (ahead < -room || square - ahead * ahead > room * room + ROOM * square || passesBy(path, shape)) continue;
		// No farther than to the other side of those.
		first = Math.min(first, alongPath(path, shape, Math.max(path.length, ahead + room), t.count));
	}
	return first === Infinity ? undefined : Math.max(0, first - path.length);
}

/**
 * Leaves of a swept path the part where it can come nearest to a body: gaps are good relative to the lengths that go into them, and a path
 * may be a thousand times as long as what moves along it. Farther along than the balls around both and their distance at the nearest point
 * of the centre's way, every gap is larger than there.
 * @param swept the path as a body, changed in place
 */
function narrowTo(swept: Body, { start, dir, length }: QueryPath, to: Body): void {
	const [rx, ry, rz] = [to.x - start[0], to.y - start[1], to.z - start[2]];
	const at = Math.max(0, Math.min(length, rx * dir[0] + ry * dir[1] + rz * dir[2]));
	const distance = Math.hypot(rx - at * dir[0], ry - at * dir[1], rz - at * dir[2]);
	const room = 1.001 * (distance + swept.boundingRadius + to.boundingRadius);
	const from = Math.max(0, at - room);
	const part = Math.min(length, at + room) - from;
	swept.x = start[0] + from * dir[0];
	swept.y = start[1] + from * dir[1];
	swept.z = start[2] + from * dir[2];
	swept.sx = part * dir[0];
	swept.sy = part * dir[1];
	swept.sz = part * dir[2];
}
