/** The scene as a moment leaves it, with everything placed in the world: the plain reading of the format, for tests only. */
import type {
	Anchor,
	Camera,
	Moment,
	Project,
	Query,
	SceneObject,
	Shape,
	StateValue,
	VolumeShape,
} from '../../project/schema';
import {
	type Axes,
	add,
	axesOf,
	type Convex,
	compose,
	cross,
	cylinderSet,
	norm,
	pointSet,
	sub,
	times,
	turn,
	type V,
} from './sets';

export interface Frame {
	position: V;
	axes: Axes;
	scale: V;
}

export interface Figure {
	id: string;
	layer: string;
	role: 'solid' | 'sensor';
	/** One convex set, or the triangles of a mesh. */
	parts: Convex[];
	/** Corners of the triangles, beside `parts`; empty for a convex shape. */
	triangles: V[][];
	/** Depth of a flat figure. */
	z: number;
}

export interface Thing {
	index: number;
	source: SceneObject;
	frame: Frame;
	active: boolean;
	focus: V;
	figures: Figure[];
	/** Itself and all it hangs under. */
	line: string[];
}

export interface Place {
	flat: boolean;
	project: Project;
	states: Record<string, StateValue>;
	things: Thing[];
	byId: Map<string, Thing>;
	cameras: Map<string, { source: Camera; frame: Frame }>;
	queries: Query[];
}

const ONE: Frame = {
	position: [0, 0, 0],
	axes: [
		[1, 0, 0],
		[0, 1, 0],
		[0, 0, 1],
	],
	scale: [1, 1, 1],
};

/** A child's frame under its parent's. */
const under = (p: Frame, position: V, rotation: V = [0, 0, 0], scale: V = [1, 1, 1]): Frame => ({
	position: add(p.position, turn(p.axes, times(p.scale, position))),
	axes: compose(p.axes, axesOf(rotation)),
	scale: times(p.scale, scale),
});

export const placedIn = (f: Frame, local: V): V => add(f.position, turn(f.axes, times(f.scale, local)));

function laidOver(
	project: Project,
	id: string | null,
): { objects: SceneObject[]; states: Record<string, StateValue>; cameras: Camera[]; queries: Query[] } {
	const chain: Moment[] = [];
	for (let m = project.moments?.find((x) => x.id === id); m; m = project.moments?.find((x) => x.id === m?.on))
		chain.unshift(m);
	const out = structuredClone({
		objects: project.scene.objects,
		states: project.scene.states ?? {},
		cameras: project.scene.cameras,
		queries: project.queries,
	});
	for (const moment of chain) {
		Object.assign(out.states, moment.states);
		for (const [key, over] of Object.entries(moment.objects ?? {})) {
			const o = out.objects.find((x) => x.id === key) as SceneObject & Record<string, unknown>;
			for (const [field, value] of Object.entries(over)) {
				if (field === 'states') o.states = { ...o.states, ...over.states };
				else if (field === 'shapes')
					for (const [shape, change] of Object.entries(over.shapes ?? {}))
						Object.assign(o.shapes?.find((s) => s.id === shape) as Shape, change);
				else if (value === null) delete o[field];
				else o[field] = value;
			}
		}
		for (const [key, over] of Object.entries(moment.cameras ?? {}))
			Object.assign(out.cameras.find((c) => c.id === key) as Camera, over);
		for (const [key, over] of Object.entries(moment.queries ?? {}))
			Object.assign(out.queries.find((q) => q.id === key) as Query, over);
	}
	return out;
}

/** The set of one shape under a frame; in flat scenes all lies at Z = 0, and `z` is kept beside it. */
export function figureOf(
	shape: Shape | VolumeShape,
	owner: Frame,
	flat: boolean,
	z: number,
	at: V = [0, 0, 0],
	rotation: V = [0, 0, 0],
): Figure {
	const frame = under(owner, at, rotation);
	const [sx, sy, sz] = owner.scale;
	const put = (local: V): V => {
		const p = add(frame.position, turn(frame.axes, times(owner.scale, local)));
		return flat ? [p[0], p[1], 0] : p;
	};
	const points = (list: V[], radius = 0) => [pointSet(list.map(put), radius)];
	const corners = (x: number, y: number, depth: number): V[] =>
		[-1, 1].flatMap((i) => [-1, 1].flatMap((j) => [-1, 1].map((k): V => [(i * x) / 2, (j * y) / 2, (k * depth) / 2])));
	/** The tips of a core along local Y, of a length measured in the world. */
	const tips = (length: number): V[] =>
		[-1, 1].map((k): V => {
			const p = add(frame.position, frame.axes[1], (k * length) / 2);
			return flat ? [p[0], p[1], 0] : p;
		});
	const made = (parts: Convex[], triangles: V[][] = []): Figure => ({
		id: 'id' in shape ? shape.id : '',
		layer: '',
		role: ('role' in shape && shape.role) || 'solid',
		parts,
		triangles,
		z,
	});
	switch (shape.kind) {
		case 'box':
			return made(points(corners(...shape.size)));
		case 'rect':
			return made(points(corners(shape.size[0], shape.size[1], 0)));
		case 'sphere':
			return made(points([[0, 0, 0]], shape.radius * Math.max(sx, sy, sz)));
		case 'circle':
			return made(points([[0, 0, 0]], shape.radius * Math.max(sx, sy)));
		case 'capsule': {
			const radius = shape.radius * (flat ? sx : Math.max(sx, sz));
			return made([pointSet(tips(Math.max(0, shape.height * sy - 2 * radius)), radius)]);
		}
		case 'cylinder':
			return made([cylinderSet(frame.position, frame.axes[1], shape.radius * Math.max(sx, sz), shape.height * sy)]);
		case 'hull':
			return made(points(shape.points));
		case 'polygon':
			return made(points(shape.points.map(([x, y]): V => [x, y, 0])));
		default: {
			const vertex = (i: number): V =>
				put([shape.vertices[3 * i], shape.vertices[3 * i + 1], shape.vertices[3 * i + 2]]);
			const triangles: V[][] = [];
			for (let k = 0; k < shape.triangles.length; k += 3) {
				const t = [0, 1, 2].map((c) => vertex(shape.triangles[k + c])) as [V, V, V];
				if (norm(cross(sub(t[1], t[0]), sub(t[2], t[0]))) > 1e-12) triangles.push(t);
			}
			return made(
				triangles.map((t) => pointSet(t)),
				triangles,
			);
		}
	}
}

export function placeOf(project: Project, moment: string | null): Place {
	const { objects, states, cameras, queries } = laidOver(project, moment);
	const flat = project.scene.kind === 'flat';
	const find = (id: string): SceneObject => objects.find((o) => o.id === id) as SceneObject;
	const frameOf = (o: SceneObject): Frame =>
		under(o.parent === undefined ? ONE : frameOf(find(o.parent)), o.position ?? [0, 0, 0], o.rotation, o.scale);
	const lineOf = (o: SceneObject): SceneObject[] => (o.parent === undefined ? [o] : [o, ...lineOf(find(o.parent))]);
	const things = objects.map((source, index): Thing => {
		const frame = frameOf(source);
		const line = lineOf(source);
		const figures = (source.shapes ?? [])
			.filter((s) => s.enabled !== false)
			.map((s) => ({
				...figureOf(s, frame, flat, frame.position[2], s.at, s.rotation),
				layer: s.layer ?? source.layer,
			}));
		return {
			index,
			source,
			frame,
			active: line.every((o) => o.active !== false),
			focus: placedIn(frame, source.focus ?? [0, 0, 0]),
			figures,
			line: line.map((o) => o.id),
		};
	});
	const byId = new Map(things.map((t) => [t.source.id, t]));
	return {
		flat,
		project,
		states,
		things,
		byId,
		queries,
		cameras: new Map(
			cameras.map((source) => [
				source.id,
				{
					source,
					frame: under(
						source.object === undefined ? ONE : (byId.get(source.object) as Thing).frame,
						source.position,
						source.rotation,
					),
				},
			]),
		),
	};
}

/** The frame an anchor turns with, where it has one. */
export function frameAt(place: Place, anchor: Anchor): Frame | null {
	const id = anchor.object ?? anchor.focus;
	if (id !== undefined) return (place.byId.get(id) as Thing).frame;
	return anchor.camera === undefined ? null : (place.cameras.get(anchor.camera)?.frame ?? null);
}

export const UNTURNED = ONE;
