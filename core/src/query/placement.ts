/**
 * Where a query stands in the world: its anchors and directions turned into points and unit vectors, or the note that says why
 * it has to wait.
 */
import { type Body, sphereBody } from '../geometry/body';
import { type Matrix, multiply, placed, rotationOf, sinCos, turned } from '../geometry/matrix';
import { NO_LENGTH } from '../geometry/tolerances';
import type { Anchor, Arc, Direction, Query, QueryOf } from '../project/schema';
import { bodyOf } from '../world/bodies';
import { forwardOf, hangsUnder, type World, type WorldCamera, type WorldObject } from '../world/world';
import { type ArcPath, arcPath, velocityTo } from './arc';
import type { Note, Selected } from './types';

export type Point = [number, number, number];

const UNIT: Point = [1, 1, 1];

/** The line a ray, pick or sweep goes along; metres. */
export interface QueryPath {
	start: Point;
	/** Unit vector. */
	dir: Point;
	length: number;
	/** A sweep's body, placed at the start. */
	swept: Body | null;
}

/** The view through a pick's camera. */
export interface View {
	camera: WorldCamera;
	width: number;
	height: number;
	cursor: [number, number];
	/** World units (orthographic) or tangents (perspective) from the middle of the picture to its upper edge. */
	half: number;
	perspective: boolean;
}

/** A volume of an overlap or a hitbox, placed in the world. */
export interface Volume {
	body: Body;
	/** Index of the hitbox's box; 0 for an overlap. */
	box: number;
	/** Opening time of the box, seconds. */
	from: number;
}

/** Where a query stands in the world; points and unit vectors in world axes, metres. */
export interface Placement {
	path: QueryPath | null;
	/** Where it goes in place of a straight path, if it is thrown. */
	arc: ArcPath | null;
	view: View | null;
	/** A flat pick looks along −Z at figures at their own depth. */
	flatPick: boolean;
	volumes: Volume[];
	grow: number;
	/** The path's start, the `at` point without offset, or the asker's position. */
	measuring: Point;
	apex: Point;
	/** Unit vector of the view cone and of the rule `aim`; null where neither is asked for. */
	viewAxis: Point | null;
	/** Where `range` and the rule `distance` measure from, when `range.from` is given. */
	rangeFrom: Point | null;
	/** Where sight lines of volumes start. */
	sightFrom: Point;
	/** Where approach is judged from. */
	approachFrom: Point;
}

interface PlacementInput {
	world: World;
	query: Query;
	asker: WorldObject | null;
	/** First selected object of another query at the same moment, or null when it selected nothing. */
	hitOf: (query: string) => Selected | null;
}

class Waiting extends Error {
	constructor(readonly note: Note) {
		super('waiting');
	}
}

/** @returns the placement, or the note of a query that has to wait */
export function placementOf(input: PlacementInput): Placement | Note {
	try {
		return resolve(input);
	} catch (error) {
		if (error instanceof Waiting) return error.note;
		throw error;
	}
}

/** Whether a query has to wait, and why, instead of having a placement. */
export const isNote = (value: Placement | Note): value is Note => 'code' in value;

function anchorPoint({ world, hitOf }: PlacementInput, anchor: Anchor): Point {
	const point = ((): Point => {
		if (anchor.point) return [...anchor.point];
		if (anchor.object !== undefined) {
			const o = known(world.objectById.get(anchor.object), anchor.object);
			return placed(o.position, o.rotation, o.scale, anchor.offset ?? [0, 0, 0]);
		}
		if (anchor.focus !== undefined) return [...known(world.objectById.get(anchor.focus), anchor.focus).focus];
		if (anchor.camera !== undefined) return [...known(world.cameras.get(anchor.camera), anchor.camera).position];
		const id = anchor.hitOf ?? '';
		const hit = hitOf(id);
		if (!hit) throw new Waiting({ code: 'waiting', on: id });
		const off = anchor.off ?? 0;
		const [x, y, z] = hit.point;
		return hit.normal ? [x + off * hit.normal[0], y + off * hit.normal[1], z + off * hit.normal[2]] : [x, y, z];
	})();
	if (world.flat) point[2] = 0;
	return point;
}

function known<T>(value: T | undefined, id: string): T {
	if (value === undefined) throw new RangeError(`"${id}" is not in the scene`);
	return value;
}

function direction(input: PlacementInput, value: Direction, from: Point): Point {
	const { world } = input;
	let v: Point;
	if (value.along) {
		const m: Matrix | undefined =
			value.of === undefined
				? undefined
				: (world.objectById.get(value.of)?.rotation ?? world.cameras.get(value.of)?.rotation);
		v = m ? turned(m, ...value.along) : [...value.along];
	} else {
		const to = anchorPoint(input, value.toward ?? {});
		v = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
	}
	if (world.flat) v[2] = 0;
	return normalised(v);
}

function normalised(v: Point): Point {
	const length = Math.hypot(v[0], v[1], v[2]);
	if (length <= NO_LENGTH) throw new Waiting({ code: 'zero-direction' });
	return [v[0] / length, v[1] / length, v[2] / length];
}

function resolve(input: PlacementInput): Placement {
	const { world, query, asker } = input;
	const placement: Placement = {
		path: null,
		arc: null,
		view: null,
		flatPick: query.kind === 'pick' && world.flat,
		volumes: [],
		grow: 0,
		measuring: [0, 0, 0],
		apex: [0, 0, 0],
		viewAxis: null,
		rangeFrom: null,
		sightFrom: [0, 0, 0],
		approachFrom: [0, 0, 0],
	};
	switch (query.kind) {
		case 'ray':
		case 'sweep':
			resolvePath(input, query, placement);
			break;
		case 'pick':
			resolvePick(world, query, placement);
			break;
		case 'overlap':
			resolveOverlap(input, query, placement);
			break;
		case 'hitbox':
			resolveHitbox(world, query, known(asker ?? undefined, query.asker), placement);
			break;
	}
	// Of several that wait the first of these is told.
	if (query.range?.from) placement.rangeFrom = anchorPoint(input, query.range.from);
	if (query.view || query.choose?.by?.some((r) => r.rule === 'aim')) {
		const given = query.view?.about;
		let about: Point;
		if (given) about = direction(input, given, placement.apex);
		else if (placement.path) about = [...placement.path.dir];
		else if (placement.arc) about = [...placement.arc.dir];
		else about = forwardOf(known(asker ?? undefined, 'asker'), world.flat);
		if (query.view?.flat) {
			about[1] = 0;
			about = normalised(about);
		}
		placement.viewAxis = about;
	}
	placement.sightFrom = query.sight?.from ? anchorPoint(input, query.sight.from) : placement.apex;
	placement.approachFrom = asker ? asker.position : placement.measuring;
	return placement;
}

function resolvePath(input: PlacementInput, query: QueryOf<'ray'> | QueryOf<'sweep'>, placement: Placement): void {
	const start = anchorPoint(input, query.from);
	if (query.arc) {
		resolveArc(input, query, query.arc, start, placement);
		return;
	}
	let dir: Point;
	let length: number;
	if (query.to) {
		const end = anchorPoint(input, query.to);
		const v: Point = [end[0] - start[0], end[1] - start[1], end[2] - start[2]];
		dir = normalised(v);
		length = Math.hypot(...v);
	} else {
		dir = direction(input, query.aim ?? {}, start);
		length = query.length ?? 1000;
	}
	placement.path = { start, dir, length, swept: sweptBody(input, query, start) };
	placement.measuring = start;
	placement.apex = start;
}

function sweptBody({ world }: PlacementInput, query: QueryOf<'ray'> | QueryOf<'sweep'>, start: Point): Body | null {
	return query.kind === 'sweep'
		? bodyOf(query.shape, UNIT, world.flat).place(...start, rotationOf(query.rotation))
		: null;
}

function resolveArc(
	input: PlacementInput,
	query: QueryOf<'ray'> | QueryOf<'sweep'>,
	arc: Arc,
	start: Point,
	placement: Placement,
): void {
	let velocity: Point;
	if (arc.at) {
		const found = velocityTo(arc, start, anchorPoint(input, arc.at));
		if ('not' in found)
			throw new Waiting(
				found.not === 'reach' ? { code: 'out-of-reach', on: 'arc', speed: found.speed } : { code: 'zero-direction' },
			);
		velocity = found;
	} else {
		const [x, y, z] = direction(input, query.aim ?? {}, start);
		velocity = [arc.speed * x, arc.speed * y, arc.speed * z];
	}
	throwAlong(placement, arc, start, velocity, sweptBody(input, query, start));
}

/** Throws from a start with a velocity, m/s. */
export function throwAlong(placement: Placement, arc: Arc, start: Point, velocity: Point, swept: Body | null): void {
	const path = arcPath(arc, start, velocity, swept);
	if (!path) throw new Waiting({ code: 'zero-direction' });
	placement.arc = path;
	placement.measuring = start;
	placement.apex = start;
}

function resolvePick(world: World, query: QueryOf<'pick'>, placement: Placement): void {
	const camera = known(world.cameras.get(query.camera), query.camera);
	const view = viewOf(camera, query.viewport, query.cursor);
	placement.view = view;
	const ray = cursorRay(view, world.flat);
	placement.path = { ...ray, length: query.length ?? camera.far, swept: null };
	placement.measuring = ray.start;
	placement.apex = ray.start;
}

/** @param cursor pixels from the top left; the middle when left out */
export function viewOf(
	camera: WorldCamera,
	viewport: readonly [number, number],
	cursor?: readonly [number, number],
): View {
	const [width, height] = viewport;
	const { def } = camera;
	const perspective = def.projection === 'perspective';
	let half: number;
	if (def.projection === 'perspective') {
		const [sin, cos] = sinCos(def.fov / 2);
		half = sin / cos;
	} else half = def.height / 2;
	return { camera, width, height, cursor: cursor ? [...cursor] : [width / 2, height / 2], half, perspective };
}

/** The ray through the cursor. In flat scenes it starts at the camera's depth, above the cursor's point, and looks along −Z. */
export function cursorRay(view: View, flat: boolean): { start: Point; dir: Point } {
	rayThrough(view, view.cursor[0], view.cursor[1], flat, throughCursor, 0);
	const [x, y, z, dx, dy, dz] = throughCursor;
	return { start: [x, y, z], dir: [dx, dy, dz] };
}

const throughCursor = new Float64Array(6);

/**
 * The ray through a place of the picture, as `cursorRay`; no memory is taken for it.
 * @param px pixels from the left, @param py from the top
 * @param out start (world metres) and unit direction are written to six numbers of it
 * @param at where they begin
 */
export function rayThrough(view: View, px: number, py: number, flat: boolean, out: Float64Array, at: number): void {
	const { width, height, half } = view;
	const { position, rotation: m } = view.camera;
	const x = ((2 * px) / width - 1) * half * (width / height);
	const y = (1 - (2 * py) / height) * half;
	let [sx, sy, sz] = position;
	let dx = -m[2];
	let dy = -m[5];
	let dz = -m[8];
	if (view.perspective) {
		const vx = m[0] * x + m[1] * y + dx;
		const vy = m[3] * x + m[4] * y + dy;
		const vz = m[6] * x + m[7] * y + dz;
		const length = Math.sqrt(vx * vx + vy * vy + vz * vz);
		dx = vx / length;
		dy = vy / length;
		dz = vz / length;
	} else {
		sx += m[0] * x + m[1] * y;
		sy += m[3] * x + m[4] * y;
		sz += m[6] * x + m[7] * y;
		if (flat) {
			dx = 0;
			dy = 0;
			dz = -1;
		}
	}
	out[at] = sx;
	out[at + 1] = sy;
	out[at + 2] = sz;
	out[at + 3] = dx;
	out[at + 4] = dy;
	out[at + 5] = dz;
}

/**
 * A world point in the picture: pixels from the top left, and its depth in front of the camera in metres (behind: negative).
 * Written to `out` as x, y, depth.
 */
export function projectPoint(view: View, point: readonly [number, number, number], out: Float64Array): void {
	const { camera, width, height, half } = view;
	const m = camera.rotation;
	const dx = point[0] - camera.position[0];
	const dy = point[1] - camera.position[1];
	const dz = point[2] - camera.position[2];
	const x = m[0] * dx + m[3] * dy + m[6] * dz;
	const y = m[1] * dx + m[4] * dy + m[7] * dz;
	const depth = -(m[2] * dx + m[5] * dy + m[8] * dz);
	const scale = height / (2 * half * (view.perspective ? depth : 1));
	out[0] = width / 2 + x * scale;
	out[1] = height / 2 - y * scale;
	out[2] = depth;
}

/** Distance in pixels of a point from the cursor; `Infinity` behind the camera. */
export function pixelsFromCursor(view: View, point: readonly [number, number, number]): number {
	projectPoint(view, point, projected);
	const behind = view.perspective ? projected[2] <= 0 : projected[2] < 0;
	return behind ? Infinity : Math.hypot(projected[0] - view.cursor[0], projected[1] - view.cursor[1]);
}

/**
 * A view as three planes of four numbers each (X, Y, Z, and a constant): how far a point lies to the right of the cursor and below it, in
 * pixels times the third, and the third, its depth in metres; without perspective 1.
 */
export function fromCursor({ camera, width, height, half, cursor, perspective }: View): Float64Array {
	const m = camera.rotation;
	const [px, py, pz] = camera.position;
	const scale = height / (2 * half);
	const plane = (x: number, y: number, z: number) => [x, y, z, -(x * px + y * py + z * pz)];
	const depth = perspective ? plane(-m[2], -m[5], -m[8]) : [0, 0, 0, 1];
	const right = plane(scale * m[0], scale * m[3], scale * m[6]).map((v, k) => v + (width / 2 - cursor[0]) * depth[k]);
	const down = plane(-scale * m[1], -scale * m[4], -scale * m[7]).map(
		(v, k) => v + (height / 2 - cursor[1]) * depth[k],
	);
	return Float64Array.of(...right, ...down, ...depth);
}

const projected = new Float64Array(3);

function resolveOverlap(input: PlacementInput, query: QueryOf<'overlap'>, placement: Placement): void {
	const { world, asker } = input;
	const at = anchorPoint(input, query.at);
	const base = turnOf(world, query);
	const centre = placed(at, base, UNIT, query.offset ?? [0, 0, 0]);
	if (world.flat) centre[2] = 0;
	const m = multiply(base, rotationOf(query.rotation));
	if ('like' in query.shape) {
		const model = known(world.objectById.get(query.shape.like), query.shape.like);
		placement.grow = query.shape.grow ?? 0;
		for (const shape of model.shapes) {
			const body = bodyOf(shape.def, model.scale, world.flat);
			const [x, y, z] = placed(centre, m, model.scale, shape.def.at ?? [0, 0, 0]);
			body.place(x, y, z, shape.def.rotation ? multiply(m, rotationOf(shape.def.rotation)) : m);
			placement.volumes.push({ body, box: 0, from: 0 });
		}
	} else placement.volumes.push({ body: bodyOf(query.shape, UNIT, world.flat).place(...centre, m), box: 0, from: 0 });
	placement.measuring = at;
	placement.apex = asker && isOn(world, query.at, asker) ? flattened(world, asker.focus) : at;
}

/** How an overlap is turned before its own rotation: with what it hangs on, if it turns with that. */
export function turnOf(world: World, { at, turns = true }: QueryOf<'overlap'>): Matrix {
	return (turns ? holderOf(world, at) : undefined) ?? rotationOf(undefined);
}

/** The rotation of what an anchor hangs on, where it turns. */
function holderOf(world: World, anchor: Anchor): Matrix | undefined {
	const object = anchor.object ?? anchor.focus;
	if (object !== undefined) return world.objectById.get(object)?.rotation;
	return anchor.camera === undefined ? undefined : world.cameras.get(anchor.camera)?.rotation;
}

/** Whether an anchor is on the asker, on something under it, or on a camera of either. */
function isOn(world: World, anchor: Anchor, asker: WorldObject): boolean {
	const id = anchor.object ?? anchor.focus;
	const object =
		id !== undefined
			? world.objectById.get(id)
			: anchor.camera === undefined
				? undefined
				: world.cameras.get(anchor.camera)?.object;
	return hangsUnder(object ?? null, asker);
}

function flattened(world: World, p: Point): Point {
	return world.flat ? [p[0], p[1], 0] : [...p];
}

function resolveHitbox(world: World, query: QueryOf<'hitbox'>, asker: WorldObject, placement: Placement): void {
	query.boxes.forEach((box, i) => {
		const [x, y, z] = placed(asker.position, asker.rotation, asker.scale, box.at ?? [0, 0, 0]);
		const m = box.rotation ? multiply(asker.rotation, rotationOf(box.rotation)) : asker.rotation;
		placement.volumes.push({
			body: bodyOf(box.shape, asker.scale, world.flat).place(x, y, world.flat ? 0 : z, m),
			box: i,
			from: box.from ?? 0,
		});
	});
	placement.measuring = flattened(world, asker.position);
	placement.apex = flattened(world, asker.focus);
}

/** A ray as a body: a point swept along it, for gaps. */
export function rayAsBody(path: QueryPath): Body {
	const body = path.swept ? path.swept.clone() : sphereBody(0);
	body.x = path.start[0];
	body.y = path.start[1];
	body.z = path.start[2];
	body.sx = path.dir[0] * path.length;
	body.sy = path.dir[1] * path.length;
	body.sz = path.dir[2] * path.length;
	return body;
}
