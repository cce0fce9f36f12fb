/** What can be done to objects by hand: made, copied, grouped, lined up. Recipes on a draft of the project; no interface here. */

import type { Project, SceneObject, Shape, ShapeKind, Vec3, World, WorldObject } from '@frelk/core';
import { rounded, roundedTriple, slug, tripleOf } from '@frelk/core';
import { eulerOf, multiply, transposed, unturned } from '@frelk/core/geometry';

/** A free id of the form `crate`, `crate-2`, … */
export function freshId(taken: Iterable<string>, wish: string): string {
	const used = new Set(taken);
	const base = slug(wish) || 'item';
	if (!used.has(base)) return base;
	const stem = base.replace(/-\d+$/, '');
	for (let n = 2; ; n++) if (!used.has(`${stem}-${n}`)) return `${stem}-${n}`;
}

export const SPACE_SHAPES: readonly ShapeKind[] = ['box', 'sphere', 'capsule', 'cylinder', 'hull', 'mesh'];
export const FLAT_SHAPES: readonly ShapeKind[] = ['rect', 'circle', 'capsule', 'polygon'];

/**
 * A shape of a kind that fills a box.
 * @param w, h, d extents in metres along the shape's own axes (flat: d is left aside)
 */
export function shapeFilling(kind: ShapeKind, id: string, w: number, h: number, d: number, flat: boolean): Shape {
	const r = rounded(Math.max(0.005, Math.min(w, flat ? h : d) / 2));
	switch (kind) {
		case 'box':
			return { id, kind, size: roundedTriple([w, h, d]) };
		case 'sphere':
			return { id, kind, radius: rounded(Math.max(w, h, d) / 2) };
		case 'circle':
			return { id, kind, radius: rounded(Math.max(w, h) / 2) };
		case 'capsule':
			return { id, kind, radius: r, height: rounded(Math.max(h, 2 * r)) };
		case 'cylinder':
			return { id, kind, radius: rounded(Math.max(w, d) / 2), height: rounded(h) };
		case 'rect':
			return { id, kind, size: [rounded(w), rounded(h)] };
		case 'polygon': {
			const points = Array.from({ length: 6 }, (_, i): [number, number] => {
				const a = (Math.PI * i) / 3;
				return [rounded((w / 2) * Math.cos(a)), rounded((h / 2) * Math.sin(a))];
			});
			return { id, kind, points };
		}
		case 'hull': {
			// A wedge: what a box is not, and easily turned into what is wanted by its points.
			const [x, y, z] = [w / 2, h / 2, d / 2];
			const points: Vec3[] = [
				[-x, -y, -z],
				[x, -y, -z],
				[x, -y, z],
				[-x, -y, z],
				[-x, y, -z],
				[x, y, -z],
			];
			return { id, kind, points: points.map(roundedTriple) };
		}
		case 'mesh': {
			const [x, y, z] = [w / 2, h / 2, d / 2];
			return {
				id,
				kind,
				vertices: [-x, -y, z, x, -y, z, x, y, -z, -x, y, -z].map(rounded),
				triangles: [0, 1, 2, 0, 2, 3],
			};
		}
	}
}

interface Adding {
	/** Degrees about the vertical. */
	yaw?: number;
	name?: string;
	/** Made where there is none of this id. */
	layer?: { id: string; name: string };
}

/** The layer of something new: the one for things, or the first. Made where there is none at all. */
function layerFor({ layers }: Project['scene'], wish: Adding['layer']): string {
	const found = layers.find((l) => l.id === (wish?.id ?? 'things')) ?? (wish ? undefined : layers[0]);
	if (found) return found.id;
	const made = wish ?? { id: 'things', name: 'Things' };
	layers.push({ ...made });
	return made.id;
}

/** Adds an object. @param object without an id, which comes from its name @returns its id */
export function putObject(
	draft: Project,
	{ layer, ...object }: Omit<SceneObject, 'id' | 'layer'> & { name: string; layer?: Adding['layer'] },
): string {
	const { scene } = draft;
	const id = freshId(
		scene.objects.map((o) => o.id),
		object.name,
	);
	const n = id.match(/-(\d+)$/)?.[1];
	const name = n && !object.name.endsWith(` ${n}`) ? `${object.name} ${n}` : object.name;
	scene.objects.push({ ...object, id, name, layer: layerFor(scene, layer) });
	return id;
}

/** Adds an object with one shape. @returns its id */
export function addObject(
	draft: Project,
	kind: ShapeKind,
	at: Vec3,
	size: Vec3,
	{ yaw = 0, name, layer }: Adding = {},
): string {
	const flat = draft.scene.kind === 'flat';
	const shape = shapeFilling(kind, 'body', ...size, flat);
	// A thing in space stands on its origin, so that it is placed by where it stands.
	const middle: Vec3 = [0, rounded(size[1] / 2), 0];
	if (!flat) shape.at = [...middle];
	return putObject(draft, {
		name: name ?? `${kind[0]?.toUpperCase()}${kind.slice(1)}`,
		position: roundedTriple(at),
		...(yaw === 0 ? {} : { rotation: [yaw, 0, 0] as Vec3 }),
		...(layer ? { layer } : {}),
		...(flat ? {} : { focus: middle }),
		shapes: [shape],
	});
}

const under = (objects: readonly SceneObject[], roots: ReadonlySet<string>): SceneObject[] => {
	const inside = new Set(roots);
	for (let grew = true; grew; ) {
		grew = false;
		for (const o of objects)
			if (!inside.has(o.id) && o.parent !== undefined && inside.has(o.parent)) {
				inside.add(o.id);
				grew = true;
			}
	}
	return objects.filter((o) => inside.has(o.id));
};

/** Copies objects with all that hangs under them, beside the originals. @returns the ids of the copies of `ids` */
export function duplicateObjects(draft: Project, ids: readonly string[], by: Vec3): string[] {
	return insertObjects(draft, under(draft.scene.objects, new Set(ids)), ids, by);
}

function insertObjects(draft: Project, sources: readonly SceneObject[], roots: readonly string[], by: Vec3): string[] {
	const { scene } = draft;
	const taken = new Set(scene.objects.map((o) => o.id));
	const renamed = new Map<string, string>();
	for (const o of sources) {
		const id = freshId(taken, o.id);
		taken.add(id);
		renamed.set(o.id, id);
	}
	for (const o of sources) {
		const twin = JSON.parse(JSON.stringify(o)) as SceneObject;
		twin.id = renamed.get(o.id) as string;
		if (twin.id !== o.id)
			twin.name = `${(o.name ?? o.id).replace(/ \d+$/, '')} ${twin.id.match(/-(\d+)$/)?.[1] ?? ''}`.trim();
		if (o.parent !== undefined) {
			const parent = renamed.get(o.parent) ?? (scene.objects.some((p) => p.id === o.parent) ? o.parent : undefined);
			if (parent === undefined) delete twin.parent;
			else twin.parent = parent;
		}
		if (o.standsFor !== undefined) {
			const target =
				renamed.get(o.standsFor) ?? (scene.objects.some((p) => p.id === o.standsFor) ? o.standsFor : undefined);
			if (target === undefined) delete twin.standsFor;
			else twin.standsFor = target;
		}
		if (twin.parent === undefined || !renamed.has(o.parent ?? '')) {
			const [x, y, z] = o.position ?? [0, 0, 0];
			twin.position = roundedTriple([x + by[0], y + by[1], z + by[2]]);
		}
		scene.objects.push(twin);
	}
	return roots.map((id) => renamed.get(id)).filter((id) => id !== undefined);
}

/** Objects on the clipboard, with what they name, so that another project can take them. */
interface Clip {
	frelk: 'objects';
	kind: 'space' | 'flat';
	roots: string[];
	objects: SceneObject[];
	layers: Project['scene']['layers'];
	tags: Project['scene']['tags'];
	sides: NonNullable<Project['scene']['sides']>;
}

export function copyObjects(project: Project, ids: readonly string[]): Clip {
	const { scene } = project;
	const objects = under(scene.objects, new Set(ids));
	const layers = new Set(objects.flatMap((o) => [o.layer, ...(o.shapes ?? []).map((s) => s.layer)]));
	const tags = new Set(objects.flatMap((o) => o.tags ?? []));
	for (let size = -1; size !== tags.size; ) {
		size = tags.size;
		for (const tag of scene.tags) if (tags.has(tag.id) && tag.under !== undefined) tags.add(tag.under);
	}
	const sides = new Set(objects.map((o) => o.side));
	return {
		frelk: 'objects',
		kind: scene.kind,
		roots: [...ids],
		objects,
		layers: scene.layers.filter((l) => layers.has(l.id)),
		tags: scene.tags.filter((t) => tags.has(t.id)),
		sides: (scene.sides ?? []).filter((s) => sides.has(s.id)),
	};
}

/** @returns what is on the clipboard, or null where that is something else */
export function readClip(text: string): Clip | null {
	try {
		const value = JSON.parse(text) as Partial<Clip>;
		return value && value.frelk === 'objects' && Array.isArray(value.objects) && Array.isArray(value.roots)
			? (value as Clip)
			: null;
	} catch {
		return null;
	}
}

/** Pastes objects; layers, tags and sides the project does not have come with them. @returns the new ids */
export function pasteObjects(draft: Project, clip: Clip, by: Vec3): string[] {
	const { scene } = draft;
	if (clip.kind !== scene.kind)
		throw new RangeError(`these objects are from a ${clip.kind} scene; this one is ${scene.kind}`);
	const add = <T extends { id: string }>(list: T[], more: readonly T[]) => {
		for (const entry of more) if (!list.some((e) => e.id === entry.id)) list.push({ ...entry });
	};
	add(scene.layers, clip.layers);
	add(scene.tags, clip.tags);
	scene.sides ??= [];
	add(scene.sides, clip.sides);
	return insertObjects(draft, clip.objects, clip.roots, by);
}

/** Hangs an object under another (or under nothing), leaving it where it is in the world as far as turn and scale allow. */
export function hangUnder(draft: Project, world: World, id: string, parent: string | null): void {
	const object = draft.scene.objects.find((o) => o.id === id);
	const now = world.objectById.get(id);
	const above = parent === null ? null : world.objectById.get(parent);
	if (!object || !now) return;
	placeUnder(object, now, above ?? null);
	if (parent === null) delete object.parent;
	else object.parent = parent;
}

/** A scale as near to 1 as this is 1: files hold six digits. */
const ONE = 5e-6;

function placeUnder(object: SceneObject, now: WorldObject, above: WorldObject | null): void {
	if (!above) {
		object.position = roundedTriple(now.position);
		object.rotation = roundedTriple(eulerOf(now.rotation));
		object.scale = roundedTriple(now.scale);
	} else {
		const [x, y, z] = unturned(
			above.rotation,
			now.position[0] - above.position[0],
			now.position[1] - above.position[1],
			now.position[2] - above.position[2],
		);
		object.position = roundedTriple([x / above.scale[0], y / above.scale[1], z / above.scale[2]]);
		object.rotation = roundedTriple(eulerOf(multiply(transposed(above.rotation), now.rotation)));
		object.scale = roundedTriple([
			now.scale[0] / above.scale[0],
			now.scale[1] / above.scale[1],
			now.scale[2] / above.scale[2],
		]);
	}
	if (object.rotation.every((v) => v === 0)) delete object.rotation;
	// A third of three is one again, though the third was rounded.
	const { scale } = object;
	object.scale = tripleOf((k) => (Math.abs(scale[k] - 1) < ONE ? 1 : scale[k]));
	if (object.scale.every((v) => v === 1)) delete object.scale;
}

/** Puts objects under a new one in their middle. @returns its id */
export function groupObjects(draft: Project, world: World, ids: readonly string[]): string {
	const roots = topmost(world, ids);
	const middle = [0, 1, 2].map((k) => roots.reduce((sum, o) => sum + o.position[k], 0) / Math.max(1, roots.length));
	const { objects } = draft.scene;
	const id = freshId(
		objects.map((o) => o.id),
		'group',
	);
	const at = roundedTriple(
		world.flat ? middle : [middle[0] ?? 0, Math.min(...roots.map((o) => o.position[1])), middle[2] ?? 0],
	);
	const layer = roots[0]?.def.layer ?? draft.scene.layers[0]?.id ?? '';
	objects.push({ id, name: id.replace('group', 'Group').replace('-', ' '), position: at, layer });
	for (const now of roots) {
		const object = objects.find((o) => o.id === now.id);
		if (!object) continue;
		placeUnder(object, now, null);
		const [x, y, z] = object.position ?? [0, 0, 0];
		object.position = roundedTriple([x - at[0], y - at[1], z - at[2]]);
		object.parent = id;
	}
	return id;
}

/** Those of the objects that do not hang under another of them. */
export function topmost(world: World, ids: readonly string[]): WorldObject[] {
	const set = new Set(ids);
	return ids
		.map((id) => world.objectById.get(id))
		.filter((o): o is WorldObject => {
			for (let up = o?.parent; up; up = up.parent) if (set.has(up.id)) return false;
			return o !== undefined;
		});
}

/** Extents of an object's shapes in the world, or of its origin where it has none. */
export function extentOf(world: World, object: WorldObject, axis: 0 | 1 | 2): [number, number] {
	const b = world.bounds();
	let low = Infinity;
	let high = -Infinity;
	for (const shape of object.shapes) {
		low = Math.min(low, b[6 * shape.index + axis]);
		high = Math.max(high, b[6 * shape.index + 3 + axis]);
	}
	return object.shapes.length === 0 ? [object.position[axis], object.position[axis]] : [low, high];
}

/** Moves an object's definition so that it lies `by` farther in the world. */
export function shiftObject(draft: Project, world: World, id: string, by: Vec3): void {
	const object = draft.scene.objects.find((o) => o.id === id);
	const now = world.objectById.get(id);
	if (!object || !now) return;
	const { parent } = now;
	const [x, y, z] = parent ? unturned(parent.rotation, ...by) : by;
	const scale = parent ? parent.scale : [1, 1, 1];
	const [px, py, pz] = object.position ?? [0, 0, 0];
	object.position = roundedTriple([px + x / scale[0], py + y / scale[1], pz + z / scale[2]]);
}

type Edge = 'low' | 'middle' | 'high';

/** Lines objects up by an edge, or the middle, of their shapes; the last one stays where it is. */
export function alignObjects(draft: Project, world: World, ids: readonly string[], axis: 0 | 1 | 2, edge: Edge): void {
	const at = (o: WorldObject): number => {
		const [low, high] = extentOf(world, o, axis);
		return edge === 'low' ? low : edge === 'high' ? high : (low + high) / 2;
	};
	const list = topmost(world, ids);
	const to = list.at(-1);
	if (!to) return;
	for (const o of list) {
		const by = tripleOf((k) => (k === axis ? at(to) - at(o) : 0));
		if (Math.abs(by[axis]) > 1e-9) shiftObject(draft, world, o.id, by);
	}
}

/** Spaces the middles of objects evenly between the outermost two. */
export function distributeObjects(draft: Project, world: World, ids: readonly string[], axis: 0 | 1 | 2): void {
	const middle = (o: WorldObject): number => {
		const [low, high] = extentOf(world, o, axis);
		return (low + high) / 2;
	};
	const list = topmost(world, ids).sort((a, b) => middle(a) - middle(b));
	const [first, last] = [list[0], list.at(-1)];
	if (!first || !last || list.length < 3) return;
	const gap = (middle(last) - middle(first)) / (list.length - 1);
	list.forEach((o, i) => {
		const by = tripleOf((k) => (k === axis ? middle(first) + i * gap - middle(o) : 0));
		if (Math.abs(by[axis]) > 1e-9) shiftObject(draft, world, o.id, by);
	});
}

const flag = (object: SceneObject | undefined, key: 'hidden' | 'locked'): boolean =>
	(object?.extras as Record<string, unknown> | undefined)?.[key] === true;
/** Not drawn on the stage; queries see it all the same. */
export const isHidden = (object: SceneObject | undefined): boolean => flag(object, 'hidden');
/** Not moved or picked up on the stage by hand. */
export const isLocked = (object: SceneObject | undefined): boolean => flag(object, 'locked');

export function setFlag(draft: Project, ids: readonly string[], key: 'hidden' | 'locked', on: boolean): void {
	for (const object of draft.scene.objects) {
		if (!ids.includes(object.id)) continue;
		const extras = { ...(object.extras as Record<string, unknown> | undefined) };
		if (on) extras[key] = true;
		else delete extras[key];
		if (Object.keys(extras).length === 0) delete object.extras;
		else object.extras = extras;
	}
}

/**
 * The step to add to a moved extent so that it lies on another object's face, or on the grid.
 * @param low, high the moved extent along the axis, metres
 * @param faces other objects' extents along the axis
 * @param reach how near is near enough, metres
 */
export function snapStep(low: number, high: number, faces: readonly number[], grid: number, reach: number): number {
	let best = 0;
	let least = reach;
	for (const face of faces)
		for (const own of [low, high]) {
			const step = face - own;
			if (Math.abs(step) < least) {
				least = Math.abs(step);
				best = step;
			}
		}
	if (least < reach) return best;
	return grid > 0 ? Math.round(low / grid) * grid - low : 0;
}

/** A world point in an object's own axes. */
export function localOf(object: WorldObject, at: readonly number[]): Vec3 {
	const [x, y, z] = unturned(
		object.rotation,
		at[0] - object.position[0],
		at[1] - object.position[1],
		at[2] - object.position[2],
	);
	return roundedTriple([x / object.scale[0], y / object.scale[1], z / object.scale[2]], 4);
}
