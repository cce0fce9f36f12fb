/**
 * Handles: the places on the stage where a value is held and pulled. Plain data, so that the same list is drawn, dragged, stepped
 * by the keyboard and tested. A line handle slides along a line, an angle handle round an axis, a point handle on a plane.
 */
import type { Frame, Project, Query, SceneObject, Shape, Vec3, View, World, WorldObject } from '@frelk/core';
import { type Matrix, multiply, rotationOf, turned, unturned } from '@frelk/core/geometry/matrix';
import { extentOf } from '../edit/objects';
import { onPlane, type P2, type P3, rayThrough } from './view';

interface Base {
	id: string;
	label: string;
	/** Where it is drawn. */
	at: P3;
	/** Kind of mark: what belongs to the object, and what to the query. */
	of: 'object' | 'query';
	/** One step of an arrow key. */
	step: number;
	/** Where a drag comes to rest, and 0 for nowhere. */
	grid: number;
}

export interface LineHandle extends Base {
	kind: 'line';
	/** The value is `origin` metres at 0 and grows along `dir` (unit), `per` of it a metre. */
	origin: P3;
	dir: P3;
	per: number;
	value: number;
	min: number;
	unit: 'm' | '°' | 'px';
	set: (draft: Project, value: number) => void;
}

export interface AngleHandle extends Base {
	kind: 'angle';
	centre: P3;
	/** Axis the turn goes round: Y in space, Z in flat scenes. */
	axis: 1 | 2;
	/** Degrees counter-clockwise seen from the axis' tip; in space 0 is −Z, in flat scenes +X. */
	value: number;
	/** The value that a turn in that sense stands for; the turn itself where left out. */
	measure?: (turn: number) => number;
	unit: '°';
	set: (draft: Project, value: number) => void;
}

export interface PointHandle extends Base {
	kind: 'point';
	axis: 1 | 2;
	set: (draft: Project, at: Vec3) => void;
}

export type Handle = LineHandle | AngleHandle | PointHandle;

const round = (v: number): number => Number(v.toFixed(4));
const round3 = (v: readonly number[]): Vec3 => [round(v[0] ?? 0), round(v[1] ?? 0), round(v[2] ?? 0)];
const plus = (a: P3, b: P3, t = 1): P3 => [a[0] + t * b[0], a[1] + t * b[1], a[2] + t * b[2]];

/** Where along a line the ray through a pixel passes nearest to it, metres; null where it runs along the line of sight. */
export function alongLine(view: View, pixel: P2, origin: P3, dir: P3): number | null {
	const { start, dir: u } = rayThrough(view, pixel);
	const w = [start[0] - origin[0], start[1] - origin[1], start[2] - origin[2]];
	const b = u[0] * dir[0] + u[1] * dir[1] + u[2] * dir[2];
	const d = u[0] * (w[0] as number) + u[1] * (w[1] as number) + u[2] * (w[2] as number);
	const e = dir[0] * (w[0] as number) + dir[1] * (w[1] as number) + dir[2] * (w[2] as number);
	const det = 1 - b * b;
	return det < 1e-4 ? null : (e - b * d) / det;
}

/** The turn of a place about a centre, in the sense of `AngleHandle.value`. */
export function turnOf(centre: P3, at: P3, axis: 1 | 2): number {
	const degrees = axis === 1 ? Math.atan2(-(at[0] - centre[0]), -(at[2] - centre[2])) : Math.atan2(at[1] - centre[1], at[0] - centre[0]);
	return (degrees * 180) / Math.PI;
}

const snapped = (value: number, grid: number, fine: boolean): number => (fine || grid === 0 ? value : Math.round(value / grid) * grid);

/** What a drag of a handle to a pixel makes of it, written into the draft; false where the pixel says nothing. */
export function dragHandle(handle: Handle, view: View, pixel: P2, fine: boolean): ((draft: Project) => void) | null {
	if (handle.kind === 'line') {
		const t = alongLine(view, pixel, handle.origin, handle.dir);
		if (t === null) return null;
		const value = Math.max(handle.min, round(snapped(t * handle.per, handle.grid, fine)));
		return (draft) => handle.set(draft, value);
	}
	const depth = handle.kind === 'angle' ? handle.centre[handle.axis] : handle.at[handle.axis];
	const place = onPlane(view, pixel, handle.axis, depth);
	if (!place) return null;
	if (handle.kind === 'angle') {
		const turn = turnOf(handle.centre, place, handle.axis);
		const value = round(snapped(handle.measure ? handle.measure(turn) : turn, handle.grid, fine));
		return (draft) => handle.set(draft, value);
	}
	const at = round3(place.map((v, k) => (k === handle.axis ? v : snapped(v, handle.grid, fine))));
	return (draft) => handle.set(draft, at);
}

/** What an arrow key makes of a handle. */
export function stepHandle(handle: Handle, key: string, factor: number): ((draft: Project) => void) | null {
	const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[key];
	if (up === undefined) return null;
	const size = handle.step * factor;
	if (handle.kind !== 'point') {
		const value = round(handle.kind === 'line' ? Math.max(handle.min, handle.value + up * size) : handle.value + up * size);
		return (draft) => handle.set(draft, value);
	}
	const at: [number, number, number] = [...handle.at];
	if (key === 'ArrowLeft' || key === 'ArrowRight') at[0] += up * size;
	else if (handle.axis === 1) at[2] -= up * size;
	else at[1] += up * size;
	return (draft) => handle.set(draft, round3(at));
}

export function valueWords(handle: Handle): string {
	if (handle.kind === 'point') return handle.at.map((v) => round(v)).join(', ');
	return `${round(handle.value)} ${handle.unit}`;
}

/** Faces of a shape as handles, given where its body lies; `set` gets the shape. */
function sizeHandles(
	of: Base['of'],
	id: string,
	shape: { kind: string; size?: readonly number[]; radius?: number; height?: number },
	centre: P3,
	m: Matrix,
	scale: readonly number[],
	flat: boolean,
	set: (draft: Project, recipe: (shape: Sized) => void) => void,
): Handle[] {
	const axis = (k: number): P3 => [m[k] as number, m[k + 3] as number, m[k + 6] as number];
	const grid = flat ? 0.01 : 0.05;
	const line = (name: string, k: number, half: number, per: number, value: number, put: (shape: Sized, v: number) => void): LineHandle => ({
		kind: 'line',
		id: `${id}-${name}`,
		label: `${name} of ${id}`,
		at: plus(centre, axis(k), half),
		of,
		step: grid,
		grid,
		origin: centre,
		dir: axis(k),
		per,
		value,
		min: grid,
		unit: 'm',
		set: (draft, v) => set(draft, (s) => put(s, v)),
	});
	const s = (k: number): number => scale[k] as number;
	if (shape.size) {
		const names = flat ? ['Width', 'Height'] : ['Width', 'Height', 'Depth'];
		return names.map((name, k) =>
			line(name, k, ((shape.size?.[k] as number) * s(k)) / 2, 2 / s(k), shape.size?.[k] as number, (x, v) => x.size && void (x.size[k] = v)),
		);
	}
	if (shape.radius === undefined) return [];
	const wide = shape.kind === 'sphere' ? Math.max(s(0), s(1), s(2)) : shape.kind === 'circle' ? Math.max(s(0), s(1)) : flat ? s(0) : Math.max(s(0), s(2));
	const list: Handle[] = [
		line('Radius', 0, shape.radius * wide, 1 / wide, shape.radius, (x, v) => {
			x.radius = v;
			// A capsule is never lower than it is wide.
			if (x.kind === 'capsule' && x.height !== undefined) x.height = Math.max(x.height, 2 * v);
		}),
	];
	if (shape.height !== undefined)
		list.push(
			line('Height', 1, (shape.height * s(1)) / 2, 2 / s(1), shape.height, (x, v) => {
				x.height = x.kind === 'capsule' && x.radius !== undefined ? Math.max(v, 2 * x.radius) : v;
			}),
		);
	return list;
}

interface Sized {
	kind: string;
	size?: number[];
	radius?: number;
	height?: number;
}

const objectIn = (draft: Project, id: string): SceneObject | undefined => draft.scene.objects.find((o) => o.id === id);

/** Height, turn, sizes, focus and approach of one object. */
export function objectHandles(world: World, object: WorldObject): Handle[] {
	const { flat } = world;
	const list: Handle[] = [];
	const { id, def } = object;
	const [, top] = extentOf(world, object, 1);
	const reach = Math.max(flat ? 0.05 : 0.5, ...object.shapes.map((s) => s.body.reach)) * 1.25;
	if (!flat) {
		const stalk = Math.max(top - object.position[1], 0.2) + 0.25;
		list.push({
			kind: 'line',
			id: 'height',
			label: 'Height above ground',
			at: plus(object.position, [0, stalk, 0]),
			of: 'object',
			step: 0.05,
			grid: 0.05,
			origin: [object.position[0], stalk, object.position[2]],
			dir: [0, 1, 0],
			per: 1,
			value: object.position[1],
			min: -1000,
			unit: 'm',
			set: (draft, y) => placeAt(draft, world, id, [object.position[0], y, object.position[2]]),
		});
	}
	const heading = flat
		? Math.atan2(object.rotation[3] as number, object.rotation[0] as number)
		: Math.atan2(object.rotation[2] as number, object.rotation[8] as number);
	const axis = flat ? 2 : 1;
	const knob: P3 = flat
		? [object.position[0] + reach * Math.cos(heading), object.position[1] + reach * Math.sin(heading), object.position[2]]
		: [object.position[0] - reach * Math.sin(heading), object.position[1], object.position[2] - reach * Math.cos(heading)];
	list.push({
		kind: 'angle',
		id: 'turn',
		label: flat ? 'Turn' : 'Heading',
		at: knob,
		of: 'object',
		step: 5,
		grid: 15,
		centre: object.position,
		axis,
		value: (heading * 180) / Math.PI,
		unit: '°',
		set: (draft, degrees) => {
			const o = objectIn(draft, id);
			if (!o) return;
			// The turn in the world less that of what it hangs on.
			const up = object.parent
				? flat
					? Math.atan2(object.parent.rotation[3] as number, object.parent.rotation[0] as number)
					: Math.atan2(object.parent.rotation[2] as number, object.parent.rotation[8] as number)
				: 0;
			const own = round(degrees - (up * 180) / Math.PI);
			const [yaw, pitch, roll] = o.rotation ?? [0, 0, 0];
			o.rotation = flat ? [0, 0, own] : [own, pitch, roll];
			if (flat && yaw === 0 && own === 0) delete o.rotation;
		},
	});
	for (const shape of object.shapes) {
		const { body } = shape;
		const depth = flat ? object.position[2] : body.z;
		list.push(
			...sizeHandles('object', shape.id, shape.def as Sized, [body.x, body.y, depth], body.m, object.scale, flat, (draft, recipe) => {
				const target = objectIn(draft, id)?.shapes?.find((s: Shape) => s.id === shape.id);
				if (target) recipe(target as Sized);
			}),
		);
	}
	if (def.focus)
		list.push({
			kind: 'point',
			id: 'focus',
			label: 'Focus',
			at: object.focus,
			of: 'object',
			step: flat ? 0.01 : 0.05,
			grid: flat ? 0.01 : 0.05,
			axis: flat ? 2 : 1,
			set: (draft, at) => {
				const o = objectIn(draft, id);
				const local = localOf(object, at);
				if (o) o.focus = flat ? [local[0], local[1], o.focus?.[2] ?? 0] : local;
			},
		});
	return list;
}

/** A world point in an object's own axes. */
function localOf(object: WorldObject, at: readonly number[]): Vec3 {
	const [x, y, z] = unturned(
		object.rotation,
		(at[0] as number) - object.position[0],
		(at[1] as number) - object.position[1],
		(at[2] as number) - object.position[2],
	);
	return round3([x / object.scale[0], y / object.scale[1], z / object.scale[2]]);
}

/** Writes a world position back as an object's own, under its parent. */
export function placeAt(draft: Project, world: World, id: string, to: readonly number[]): void {
	const object = world.objectById.get(id);
	const target = objectIn(draft, id);
	if (!object || !target) return;
	target.position = object.parent ? localOf(object.parent, to) : round3(to);
}

const queryIn = (draft: Project, id: string): Query | undefined => draft.queries.find((q) => q.id === id);

/** Origin, end, aim, length, volume faces, range, view and assist of the query in hand. */
export function queryHandles(world: World, query: Query, frame: Frame): Handle[] {
	const { flat } = world;
	const list: Handle[] = [];
	const axis = flat ? 2 : 1;
	const grid = flat ? 0.01 : 0.05;
	const edit = (recipe: (q: Query) => void) => (draft: Project) => {
		const q = queryIn(draft, query.id);
		if (q) recipe(q);
	};
	const anchorPoint = (id: string, label: string, at: P3, put: (q: Query, at: Vec3) => void) =>
		list.push({ kind: 'point', id, label, at, of: 'query', step: grid, grid, axis, set: (draft, p) => edit((q) => put(q, p))(draft) });

	const { path } = frame;
	if (path && (query.kind === 'ray' || query.kind === 'sweep')) {
		const moveAnchor = (anchor: 'from' | 'to', label: string, at: P3) => {
			const now = query[anchor];
			if (now?.point)
				anchorPoint(anchor, label, at, (q, p) => (q.kind === 'ray' || q.kind === 'sweep') && void (q[anchor] = { point: flat ? [p[0], p[1], 0] : p }));
			else if (now?.object !== undefined) {
				const object = world.objectById.get(now.object);
				if (object)
					anchorPoint(
						anchor,
						label,
						at,
						(q, p) =>
							(q.kind === 'ray' || q.kind === 'sweep') &&
							void (q[anchor] = { object: object.id, offset: localOf(object, flat ? [p[0], p[1], object.position[2]] : p) }),
					);
			}
		};
		moveAnchor('from', 'Start of the path', path.start);
		if (query.to) moveAnchor('to', 'End of the path', plus(path.start, path.dir, path.length));
		else {
			const of = query.aim?.of;
			const m = of === undefined ? null : (world.objectById.get(of)?.rotation ?? world.cameras.get(of)?.rotation ?? null);
			const knob = Math.min(path.length, flat ? 0.5 : 2.5) * 0.8;
			const level = flat || Math.abs(path.dir[1]) < 0.97;
			if (query.aim?.along && level) {
				const heading = flat ? Math.atan2(path.dir[1], path.dir[0]) : Math.atan2(-path.dir[0], -path.dir[2]);
				list.push({
					kind: 'angle',
					id: 'aim',
					label: 'Aim',
					at: plus(path.start, path.dir, knob),
					of: 'query',
					step: 1,
					grid: 0,
					centre: path.start,
					axis,
					value: (heading * 180) / Math.PI,
					unit: '°',
					set: (draft, degrees) =>
						edit((q) => {
							if ((q.kind !== 'ray' && q.kind !== 'sweep') || !q.aim?.along) return;
							const a = (degrees * Math.PI) / 180;
							const flatPart = Math.hypot(path.dir[0], path.dir[2]);
							const dir: P3 = flat ? [Math.cos(a), Math.sin(a), 0] : [-Math.sin(a) * flatPart, path.dir[1], -Math.cos(a) * flatPart];
							q.aim.along = round3(m ? unturned(m, ...(dir as Vec3)) : dir);
						})(draft),
				});
			}
			if (path.length <= 200)
				list.push({
					kind: 'line',
					id: 'length',
					label: 'Length',
					at: plus(path.start, path.dir, path.length),
					of: 'query',
					step: grid,
					grid,
					origin: path.start,
					dir: path.dir,
					per: 1,
					value: path.length,
					min: 0,
					unit: 'm',
					set: (draft, length) => edit((q) => (q.kind === 'ray' || q.kind === 'sweep') && void (q.length = length))(draft),
				});
		}
	}
	if (path && query.kind === 'sweep' && path.swept)
		list.push(
			...sizeHandles('query', 'swept shape', query.shape as Sized, path.start, path.swept.m, [1, 1, 1], flat, (draft, recipe) =>
				edit((q) => q.kind === 'sweep' && recipe(q.shape as Sized))(draft),
			),
		);
	if (query.kind === 'overlap') {
		const volume = frame.volumes[0];
		if (query.at.point)
			anchorPoint('at', 'Middle of the volume', frame.measuring, (q, p) => q.kind === 'overlap' && void (q.at = { point: flat ? [p[0], p[1], 0] : p }));
		else if (query.at.object !== undefined) {
			const object = world.objectById.get(query.at.object);
			if (object)
				anchorPoint(
					'at',
					'Middle of the volume',
					frame.measuring,
					(q, p) => q.kind === 'overlap' && void (q.at = { object: object.id, offset: localOf(object, flat ? [p[0], p[1], object.position[2]] : p) }),
				);
		}
		if ('like' in query.shape) {
			if (volume) list.push(grownBy(query, frame, axis, grid, edit));
		} else if (volume)
			list.push(
				...sizeHandles(
					'query',
					'volume',
					query.shape as Sized,
					[volume.body.x, volume.body.y, volume.body.z],
					volume.body.m,
					[1, 1, 1],
					flat,
					(draft, recipe) => edit((q) => q.kind === 'overlap' && !('like' in q.shape) && recipe(q.shape as Sized))(draft),
				),
			);
	}
	if (query.kind === 'hitbox') {
		const asker = world.objectById.get(query.asker);
		for (const volume of frame.volumes) {
			const box = query.boxes[volume.box];
			if (!box || !asker) continue;
			const name = query.boxes.length > 1 ? `box ${volume.box + 1}` : 'box';
			const centre: P3 = [volume.body.x, volume.body.y, volume.body.z];
			anchorPoint(`${name} place`, `Place of ${name}`, centre, (q, p) => {
				const target = q.kind === 'hitbox' ? q.boxes[volume.box] : undefined;
				const local = localOf(asker, flat ? [p[0], p[1], asker.position[2]] : p);
				if (target) target.at = flat ? [local[0], local[1], 0] : local;
			});
			list.push(
				...sizeHandles('query', name, box.shape as Sized, centre, volume.body.m, asker.scale, flat, (draft, recipe) =>
					edit((q) => {
						const target = q.kind === 'hitbox' ? q.boxes[volume.box] : undefined;
						if (target) recipe(target.shape as Sized);
					})(draft),
				),
			);
		}
	}
	if (query.range && !frame.flatPick) {
		const centre = frame.rangeFrom ?? frame.measuring;
		const ground: P3 = flat ? centre : [centre[0], 0.01, centre[2]];
		for (const end of ['max', 'min'] as const) {
			const value = query.range[end];
			if (value === undefined || value > 200) continue;
			// Both on one side would lie on each other where the ring is a line.
			const dir: P3 = end === 'max' ? [1, 0, 0] : [-1, 0, 0];
			list.push({
				kind: 'line',
				id: `range-${end}`,
				label: end === 'max' ? 'Farthest' : 'Nearest',
				at: plus(ground, dir, value),
				of: 'query',
				step: grid,
				grid,
				origin: ground,
				dir,
				per: 1,
				value,
				min: 0,
				unit: 'm',
				set: (draft, v) => edit((q) => q.range && void (q.range[end] = v))(draft),
			});
		}
	}
	if (query.view && frame.about && query.view.within < 180) {
		const heading = flat ? Math.atan2(frame.about[1], frame.about[0]) : Math.atan2(-frame.about[0], -frame.about[2]);
		const side = heading + (query.view.within * Math.PI) / 180;
		const reach = flat ? 0.5 : 2;
		const apex: P3 = flat ? frame.apex : [frame.apex[0], 0.01, frame.apex[2]];
		const at: P3 = flat ? plus(apex, [Math.cos(side), Math.sin(side), 0], reach) : plus(apex, [-Math.sin(side), 0, -Math.cos(side)], reach);
		const about = (heading * 180) / Math.PI;
		list.push({
			kind: 'angle',
			id: 'view',
			label: 'Half-angle of the view',
			at,
			of: 'query',
			step: 1,
			grid: 5,
			centre: apex,
			axis,
			value: query.view.within,
			unit: '°',
			// It is held where the fan ends; what counts is how far that is from its middle.
			measure: (turn) => Math.abs(((turn - about + 540) % 360) - 180),
			set: (draft, v) => edit((q) => q.view && void (q.view.within = Math.max(0, v)))(draft),
		});
	}
	if (path && (query.kind === 'ray' || query.kind === 'pick') && query.assist && query.assist.by !== 'pixels' && !frame.flatPick) {
		const { by, within } = query.assist;
		const d = Math.min(path.length, flat ? 0.5 : 3);
		const across: P3 = flat ? [-path.dir[1], path.dir[0], 0] : sideways(path.dir);
		const foot = plus(path.start, path.dir, d);
		const per = by === 'distance' ? 1 : 180 / Math.PI / Math.max(d, 1e-6);
		list.push({
			kind: 'line',
			id: 'assist',
			label: by === 'distance' ? 'Aim assist within' : 'Aim assist half-angle',
			at: plus(foot, across, by === 'distance' ? within : Math.tan((Math.min(within, 80) * Math.PI) / 180) * d),
			of: 'query',
			step: by === 'distance' ? grid : 0.5,
			grid: by === 'distance' ? grid : 0.5,
			origin: foot,
			dir: across,
			per,
			value: within,
			min: 0,
			unit: by === 'distance' ? 'm' : '°',
			set: (draft, v) => edit((q) => (q.kind === 'ray' || q.kind === 'pick') && q.assist && void (q.assist.within = v))(draft),
		});
	}
	return list;
}

function sideways(dir: P3): P3 {
	const length = Math.hypot(dir[0], dir[2]);
	return length < 1e-6 ? [1, 0, 0] : [-dir[2] / length, 0, dir[0] / length];
}

function grownBy(query: Query, frame: Frame, axis: 1 | 2, grid: number, edit: (recipe: (q: Query) => void) => (draft: Project) => void): LineHandle {
	const reach = Math.max(...frame.volumes.map((v) => v.body.reach));
	const dir: P3 = [1, 0, 0];
	const origin = plus(frame.measuring, dir, reach);
	return {
		kind: 'line',
		id: 'grow',
		label: 'Grown by',
		at: plus(origin, dir, frame.grow),
		of: 'query',
		step: axis === 2 ? 0.01 : grid,
		grid,
		origin,
		dir,
		per: 1,
		value: frame.grow,
		min: 0,
		unit: 'm',
		set: (draft, v) => edit((q) => q.id === query.id && q.kind === 'overlap' && 'like' in q.shape && void (q.shape.grow = v))(draft),
	};
}

/** Which way a first-person step goes: forward of an object on the ground, and to its right. */
export function stepOf(object: WorldObject, ahead: number, right: number, flat: boolean): Vec3 {
	if (flat) {
		const [fx, fy] = turned(object.rotation, 1, 0, 0);
		return [fx * ahead + fy * right, fy * ahead - fx * right, 0];
	}
	const yaw = Math.atan2(object.rotation[2] as number, object.rotation[8] as number);
	const m = multiply(rotationOf([(yaw * 180) / Math.PI, 0, 0]), rotationOf(undefined));
	return turned(m, right, 0, -ahead);
}
