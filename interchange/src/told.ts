/** What a file said of a thing when it was last read: kept under its `extras.import`, so that it is told apart from what was said here. */
import type { SceneObject, Shape, Vec3 } from '@frelk/core';
import * as z from 'zod';

const vec3: z.ZodType<Vec3, Vec3> = z.tuple([z.number(), z.number(), z.number()]);
const ORIGIN: Vec3 = [0, 0, 0];
const ONE: Vec3 = [1, 1, 1];

/** Place, turn, scale and what they are in. */
const poseSchema = z.object({
	parent: z.string().nullable().default(null),
	position: vec3.default(ORIGIN),
	rotation: vec3.default(ORIGIN),
	scale: vec3.default(ONE),
});

/** Of a scene's object. What is not there is the usual: nothing, or the pose that moves nothing. */
const toldSchema = z.object({
	file: z.string(),
	node: z.string(),
	pose: poseSchema.default(poseSchema.parse({})),
	name: z.string(),
	layer: z.string(),
	tags: z.array(z.string()).default([]),
	prompt: z.string().nullable().default(null),
	action: z.string().nullable().default(null),
	role: z.enum(['solid', 'sensor']).nullable().default(null),
	/** Shapes by id, each as a figure of its form: long lists are not kept twice. */
	shapes: z.record(z.string(), z.string()).default({}),
	/** A figure of the node's own extras; null where it had none. */
	extras: z.string().nullable().default(null),
	/** Not shown by the file. */
	hidden: z.literal(true).optional(),
	/** Came once, and was not in the file the last time: kept, inactive, because something speaks of it. */
	gone: z.literal(true).optional(),
});

const cameraSchema = z.object({ file: z.string(), node: z.string(), figure: z.string().optional() });

export type Pose = z.output<typeof poseSchema>;
export type Told = z.output<typeof toldSchema>;

export const isRecord = (value: unknown): value is Record<string, unknown> =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

const underImport = ({ extras }: { extras?: unknown }): Record<string, unknown> | null =>
	isRecord(extras) && isRecord(extras.import) ? extras.import : null;

/** Asked for several times of each object. */
const read = new WeakMap<object, Told | null>();

/** @returns null for what came from no file, and where what is kept of it is not what this program writes */
export function toldOf(object: { extras?: unknown }): Told | null {
	const found = underImport(object);
	if (!found) return null;
	let told = read.get(found);
	if (told === undefined) {
		told = toldSchema.safeParse(found).data ?? null;
		read.set(found, told);
	}
	return told;
}

/** As `toldOf`, of a camera. */
export const toldOfCamera = (camera: { extras?: unknown }): z.output<typeof cameraSchema> | null =>
	cameraSchema.safeParse(underImport(camera)).data ?? null;

/** @returns what is kept under `extras.import`: what is the usual is left out, since a level may have a hundred thousand nodes */
export function written(told: Told): object {
	const { file, node, pose, name, layer, tags, prompt, action, role, shapes, extras, hidden, gone } = told;
	const out: Record<string, unknown> = { file, node };
	const at = poseWritten(pose);
	if (at) out.pose = at;
	out.name = name;
	out.layer = layer;
	if (tags.length > 0) out.tags = tags;
	if (prompt !== null) out.prompt = prompt;
	if (action !== null) out.action = action;
	if (role !== null) out.role = role;
	if (Object.keys(shapes).length > 0) out.shapes = shapes;
	if (extras !== null) out.extras = extras;
	if (hidden) out.hidden = hidden;
	if (gone) out.gone = gone;
	read.set(out, told);
	return out;
}

function poseWritten({ parent, position, rotation, scale }: Pose): object | null {
	const out: Record<string, unknown> = {};
	if (parent !== null) out.parent = parent;
	if (!isZero(position)) out.position = position;
	if (!isZero(rotation)) out.rotation = rotation;
	if (!isOne(scale)) out.scale = scale;
	return Object.keys(out).length > 0 ? out : null;
}

const isOne = (v: Vec3): boolean => v[0] === 1 && v[1] === 1 && v[2] === 1;
const isZero = (v: Vec3): boolean => v[0] === 0 && v[1] === 0 && v[2] === 0;

/** A form as a short figure (cyrb53): equal forms have equal figures, and unequal ones as good as never. */
export function figureOf(value: unknown): string {
	const text = JSON.stringify(value) ?? '';
	let a = 0xdeadbeef;
	let b = 0x41c6ce57;
	for (let i = 0; i < text.length; i++) {
		const c = text.charCodeAt(i);
		a = Math.imul(a ^ c, 2654435761);
		b = Math.imul(b ^ c, 1597334677);
	}
	a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
	b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
	return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}

/** The form of a shape: what a file tells, without what is said of it here. */
export const formOf = ({ id: _, name: _n, role: _r, layer: _l, enabled: _e, extras: _x, ...form }: Shape): object =>
	form;

/** Figures of forms whose numbers many objects share. */
const figures = new WeakMap<object, string>();

export function figureOfForm(shape: Shape): string {
	const form = formOf(shape) as { at?: Vec3; rotation?: Vec3; vertices?: object; points?: object };
	const shared = form.at || form.rotation ? undefined : (form.vertices ?? form.points);
	const known = shared && figures.get(shared);
	if (known !== undefined) return known;
	const figure = figureOf(form);
	if (shared) figures.set(shared, figure);
	return figure;
}

/** An object's fields of its pose, left out where they are the usual ones. */
export function posed(object: SceneObject, pose: Pose): SceneObject {
	const { parent: _, position: _p, rotation: _r, scale: _s, ...rest } = object;
	const out: Record<string, unknown> = {};
	for (const [key, value] of Object.entries(rest)) {
		out[key] = value;
		// In the order in which files have them.
		if (key !== (rest.name === undefined ? 'id' : 'name')) continue;
		if (pose.parent !== null) out.parent = pose.parent;
		out.position = pose.position;
		if (!isZero(pose.rotation)) out.rotation = pose.rotation;
		if (!isOne(pose.scale)) out.scale = pose.scale;
	}
	return out as unknown as SceneObject;
}

export const poseOf = (object: SceneObject): Pose => ({
	parent: object.parent ?? null,
	position: object.position ?? ORIGIN,
	rotation: object.rotation ?? ORIGIN,
	scale: object.scale ?? ONE,
});
