/** Handles of the query in hand: a builder for each kind of query, and for each limit. */
import type { Placement, Project, Query, QueryKind, QueryOf, Vec3, World, WorldObject } from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import type { P3 } from '../../../drawing/view';
import { localOf } from '../../edit/objects';
import { type AngleHandle, type Handle, type LineHandle, type PointHandle, plus, round3 } from './handles';
import { type Sized, sizeHandles } from './size-handles';

/** A path or a range farther out than this has no handle at its end, metres. */
const MAX_DRAWN = 200;
const DEGREE = Math.PI / 180;

type Edit = (draft: Project) => void;

/** What all builders stand on: the scene's axes and steps, and ways to make a handle of the query. */
class Maker<K extends QueryKind> {
	readonly flat: boolean;
	/** The axis that points at who looks: a flat scene is seen along Z, a floor along Y. */
	readonly axis: 1 | 2;
	readonly grid: number;

	constructor(
		readonly world: World,
		readonly query: QueryOf<K>,
		readonly placement: Placement,
	) {
		this.flat = world.flat;
		this.axis = world.flat ? 2 : 1;
		this.grid = world.flat ? 0.01 : 0.05;
	}

	/** A change of the query, while it is there and of this kind. */
	edit(recipe: (query: QueryOf<K>) => void): Edit {
		const { id, kind } = this.query;
		return (draft) => {
			const query = draft.queries.find((q) => q.id === id);
			if (query?.kind === kind) recipe(query as QueryOf<K>);
		};
	}

	point(id: string, label: string, at: P3, put: (query: QueryOf<K>, at: Vec3) => void): PointHandle {
		const { grid, axis } = this;
		const set = (draft: Project, p: Vec3) => this.edit((q) => put(q, p))(draft);
		return { kind: 'point', id, label, at, of: 'query', step: grid, grid, axis, set };
	}

	line(
		of: Pick<LineHandle, 'id' | 'label' | 'origin' | 'dir' | 'value'> & Partial<LineHandle>,
		put: (query: QueryOf<K>, value: number) => void,
	): LineHandle {
		const { grid } = this;
		return {
			kind: 'line',
			at: plus(of.origin, of.dir, of.value),
			of: 'query',
			step: grid,
			grid,
			per: 1,
			min: 0,
			unit: 'm',
			set: (draft, value) => this.edit((q) => put(q, value))(draft),
			...of,
		};
	}

	angle(
		of: Pick<AngleHandle, 'id' | 'label' | 'at' | 'centre' | 'value' | 'grid'> & Partial<AngleHandle>,
		put: (query: QueryOf<K>, value: number) => void,
	): AngleHandle {
		return {
			kind: 'angle',
			of: 'query',
			step: 1,
			axis: this.axis,
			unit: '°',
			set: (draft, value) => this.edit((q) => put(q, value))(draft),
			...of,
		};
	}

	sizes(
		name: string,
		shape: Sized,
		at: P3,
		m: Float64Array,
		scale: Vec3,
		of: (query: QueryOf<K>) => unknown,
	): Handle[] {
		return sizeHandles('query', name, shape, at, m, scale, this.flat, (draft, recipe) =>
			this.edit((q) => {
				const target = of(q);
				if (target) recipe(target as Sized);
			})(draft),
		);
	}

	/** A place in an object's own axes; in a flat scene at the object's own depth. */
	localOf(object: WorldObject, p: Vec3): Vec3 {
		return localOf(object, this.flat ? [p[0], p[1], object.position[2]] : p);
	}

	/** The handle of an anchor that says a point, or a place by an object; of any other there is none. */
	anchor<A extends 'from' | 'to' | 'at'>(key: A & keyof QueryOf<K>, label: string, at: P3): PointHandle[] {
		const now = this.query[key] as { point?: Vec3; object?: string } | undefined;
		const put = (anchor: (p: Vec3) => object) => [
			this.point(key, label, at, (q, p) => void Object.assign(q, { [key]: anchor(p) })),
		];
		if (now?.point) return put((p) => ({ point: this.flat ? [p[0], p[1], 0] : p }));
		const object = now?.object === undefined ? undefined : this.world.objectById.get(now.object);
		return object ? put((p) => ({ object: object.id, offset: this.localOf(object, p) })) : [];
	}
}

/** Heading of a direction, radians: to the left from −Z, in a flat scene from +X. */
const headingOf = (flat: boolean, [x, y, z]: P3): number => (flat ? Math.atan2(y, x) : Math.atan2(-x, -z));
/** A level direction of a heading. */
const towards = (flat: boolean, heading: number): P3 =>
	flat ? [Math.cos(heading), Math.sin(heading), 0] : [-Math.sin(heading), 0, -Math.cos(heading)];

/** Start, end, aim and length of a path that is said. */
function pathHandles(m: Maker<'ray' | 'sweep'>): Handle[] {
	const { query, placement, world, flat } = m;
	const { path } = placement;
	if (!path) return [];
	const { start, dir, length } = path;
	const list: Handle[] = m.anchor('from', 'Start of the path', start);
	if (query.to) return [...list, ...m.anchor('to', 'End of the path', plus(start, dir, length))];
	const of = query.aim?.of;
	const holder = of === undefined ? null : (world.objectById.get(of)?.rotation ?? world.cameras.get(of)?.rotation);
	const isLevel = flat || Math.abs(dir[1]) < 0.97;
	if (query.aim?.along && isLevel)
		list.push(
			m.angle(
				{
					id: 'aim',
					label: 'Aim',
					at: plus(start, dir, Math.min(length, flat ? 0.5 : 2.5) * 0.8),
					grid: 0,
					centre: start,
					value: headingOf(flat, dir) / DEGREE,
				},
				(q, degrees) => {
					if (!q.aim?.along) return;
					const [x, y, z] = towards(flat, degrees * DEGREE);
					// Its height is kept.
					const level = flat ? 1 : Math.hypot(dir[0], dir[2]);
					const to: Vec3 = [x * level, flat ? y : dir[1], z * level];
					q.aim.along = round3(holder ? unturned(holder, ...to) : to);
				},
			),
		);
	if (length <= MAX_DRAWN)
		list.push(
			m.line({ id: 'length', label: 'Length', origin: start, dir, value: length }, (q, v) => void (q.length = v)),
		);
	return list;
}

function sweepHandles(m: Maker<'sweep'>): Handle[] {
	const path = pathHandles(m as unknown as Maker<'ray' | 'sweep'>);
	const at = m.placement.path;
	if (!at?.swept) return path;
	return [...path, ...m.sizes('swept shape', m.query.shape as Sized, at.start, at.swept.m, [1, 1, 1], (q) => q.shape)];
}

/** Middle and faces of a volume; of one that is like an object, how far it is grown. */
function overlapHandles(m: Maker<'overlap'>): Handle[] {
	const { query, placement } = m;
	const list: Handle[] = m.anchor('at', 'Middle of the volume', placement.measuring);
	const [volume] = placement.volumes;
	if (!volume) return list;
	if ('like' in query.shape) {
		const dir: P3 = [1, 0, 0];
		const reach = Math.max(...placement.volumes.map((v) => v.body.boundingRadius));
		const origin = plus(placement.measuring, dir, reach);
		return [
			...list,
			m.line(
				{ id: 'grow', label: 'Grown by', origin, dir, value: placement.grow },
				(q, v) => 'like' in q.shape && void (q.shape.grow = v),
			),
		];
	}
	const { x, y, z, m: axes } = volume.body;
	const shapeOf = (q: QueryOf<'overlap'>) => ('like' in q.shape ? null : q.shape);
	return [...list, ...m.sizes('volume', query.shape as Sized, [x, y, z], axes, [1, 1, 1], shapeOf)];
}

/** Place and faces of each box. */
function hitboxHandles(m: Maker<'hitbox'>): Handle[] {
	const { query, placement, flat } = m;
	const asker = m.world.objectById.get(query.asker);
	if (!asker) return [];
	return placement.volumes.flatMap(({ box, body }): Handle[] => {
		const said = query.boxes[box];
		if (!said) return [];
		const name = query.boxes.length > 1 ? `box ${box + 1}` : 'box';
		const centre: P3 = [body.x, body.y, body.z];
		return [
			m.point(`${name} place`, `Place of ${name}`, centre, (q, p) => {
				const target = q.boxes[box];
				const [x, y, z] = m.localOf(asker, p);
				if (target) target.at = flat ? [x, y, 0] : [x, y, z];
			}),
			...m.sizes(name, said.shape as Sized, centre, body.m, asker.scale, (q) => q.boxes[box]?.shape),
		];
	});
}

function rangeHandles(m: Maker<QueryKind>): Handle[] {
	const { query, placement, flat } = m;
	if (!query.range || placement.flatPick) return [];
	const centre = placement.rangeFrom ?? placement.measuring;
	const origin: P3 = flat ? centre : [centre[0], 0.01, centre[2]];
	return (['max', 'min'] as const).flatMap((end) => {
		const value = query.range?.[end];
		if (value === undefined || value > MAX_DRAWN) return [];
		// Both on one side would lie on each other where the ring is a line.
		const dir: P3 = end === 'max' ? [1, 0, 0] : [-1, 0, 0];
		const label = end === 'max' ? 'Farthest' : 'Nearest';
		return [m.line({ id: `range-${end}`, label, origin, dir, value }, (q, v) => q.range && void (q.range[end] = v))];
	});
}

function viewHandles(m: Maker<QueryKind>): Handle[] {
	const { query, placement, flat } = m;
	if (!query.view || !placement.viewAxis || query.view.within >= 180) return [];
	const heading = headingOf(flat, placement.viewAxis);
	const apex: P3 = flat ? placement.apex : [placement.apex[0], 0.01, placement.apex[2]];
	const about = heading / DEGREE;
	return [
		m.angle(
			{
				id: 'view',
				label: 'Half-angle of the view',
				at: plus(apex, towards(flat, heading + query.view.within * DEGREE), flat ? 0.5 : 2),
				grid: 5,
				centre: apex,
				value: query.view.within,
				// It is held where the fan ends; what counts is how far that is from its middle.
				measure: (turn) => Math.abs(((turn - about + 540) % 360) - 180),
			},
			(q, v) => q.view && void (q.view.within = Math.max(0, v)),
		),
	];
}

function assistHandles(m: Maker<'ray' | 'pick'>): Handle[] {
	const { query, placement, flat, grid } = m;
	const { path } = placement;
	if (!path || !query.assist || query.assist.by === 'pixels' || placement.flatPick) return [];
	const { by, within } = query.assist;
	const d = Math.min(path.length, flat ? 0.5 : 3);
	const dir: P3 = flat ? [-path.dir[1], path.dir[0], 0] : sideways(path.dir);
	const origin = plus(path.start, path.dir, d);
	const isLength = by === 'distance';
	return [
		m.line(
			{
				id: 'assist',
				label: isLength ? 'Aim assist within' : 'Aim assist half-angle',
				at: plus(origin, dir, isLength ? within : Math.tan(Math.min(within, 80) * DEGREE) * d),
				step: isLength ? grid : 0.5,
				grid: isLength ? grid : 0.5,
				origin,
				dir,
				per: isLength ? 1 : 1 / DEGREE / Math.max(d, 1e-6),
				value: within,
				unit: isLength ? 'm' : '°',
			},
			(q, v) => q.assist && void (q.assist.within = v),
		),
	];
}

const BUILDERS: { [K in QueryKind]: (m: Maker<K>) => Handle[] } = {
	ray: (m) => pathHandles(m as unknown as Maker<'ray' | 'sweep'>),
	sweep: sweepHandles,
	pick: () => [],
	overlap: overlapHandles,
	hitbox: hitboxHandles,
};

/** Origin, end, aim, length, volume faces, range, view and assist of the query in hand. */
export function queryHandles(world: World, query: Query, placement: Placement): Handle[] {
	const m = new Maker(world, query, placement);
	const own = (BUILDERS[query.kind] as unknown as (m: Maker<QueryKind>) => Handle[])(m);
	const helped = query.kind === 'ray' || query.kind === 'pick';
	return [
		...own,
		...rangeHandles(m),
		...viewHandles(m),
		...(helped ? assistHandles(m as unknown as Maker<'ray' | 'pick'>) : []),
	];
}

function sideways(dir: P3): P3 {
	const length = Math.hypot(dir[0], dir[2]);
	return length < 1e-6 ? [1, 0, 0] : [-dir[2] / length, 0, dir[0] / length];
}
