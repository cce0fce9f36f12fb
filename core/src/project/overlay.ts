/** Overlays: what a moment, a key of a track, an effect or a trace lays over an object, field by field. */
import type { Overlay, SceneObject } from './schema';

/** The fields an overlay has, but for states and shapes, which go by name. */
export const OVERLAY_FIELDS = [
	'position',
	'rotation',
	'scale',
	'active',
	'parent',
	'layer',
	'tags',
	'side',
	'priority',
	'prompt',
	'action',
] as const;
export type OverlayField = (typeof OVERLAY_FIELDS)[number];

/** What a field is where an object leaves it out; null where an overlay can take it away. */
export const UNSET: Readonly<Record<OverlayField, unknown>> = {
	position: [0, 0, 0],
	rotation: [0, 0, 0],
	scale: [1, 1, 1],
	active: true,
	parent: null,
	layer: undefined,
	tags: [],
	side: null,
	priority: 0,
	prompt: null,
	action: null,
};

/** Whether two values of a field say the same, their keys being in the same order. */
export const sameValue = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** @returns the entries of a list by their ids */
export const byId = <T extends { id: string }>(list: readonly T[]): Map<string, T> =>
	new Map(list.map((entry) => [entry.id, entry]));

/** @returns an object with overlays laid over it one after the other, or the very same where there are none; null takes a field away */
export function withOverlays(object: SceneObject, overlays: readonly (Overlay | undefined)[]): SceneObject {
	let out: Record<string, unknown> | null = null;
	for (const overlay of overlays) {
		if (!overlay) continue;
		out ??= { ...object };
		for (const [key, value] of Object.entries(overlay)) {
			if (value === undefined) continue;
			if (key === 'states') out.states = { ...(out.states as object | undefined), ...(value as object) };
			else if (key === 'shapes') {
				const by = value as Record<string, { enabled: boolean }>;
				out.shapes = ((out.shapes ?? []) as { id: string }[]).map((s) =>
					Object.hasOwn(by, s.id) ? { ...s, enabled: by[s.id]?.enabled } : s,
				);
			} else if (value === null) delete out[key];
			else out[key] = value;
		}
	}
	return (out ?? object) as unknown as SceneObject;
}

/** @returns a later overlay over an earlier one, states and shapes by name */
export function joinedOverlays<T extends Pick<Overlay, 'states' | 'shapes'>>(before: T | undefined, after: T): T {
	if (!before) return after;
	const next: T = { ...before, ...after };
	if (before.states && after.states) next.states = { ...before.states, ...after.states };
	if (before.shapes && after.shapes) next.shapes = { ...before.shapes, ...after.shapes };
	return next;
}

const MOVES = new Set(['position', 'rotation']);

/** Whether two definitions of an object differ in their place and turn alone: then it moves in the world there is. */
export function onlyMoved(a: SceneObject, b: SceneObject): boolean {
	const x = a as unknown as Record<string, unknown>;
	const y = b as unknown as Record<string, unknown>;
	for (const key of Object.keys(x)) if (!MOVES.has(key) && !alike(key, x[key], y[key])) return false;
	for (const key of Object.keys(y)) if (!MOVES.has(key) && x[key] === undefined && y[key] !== undefined) return false;
	return true;
}

/** Overlays make states and shapes anew, whether or not they change them. */
const alike = (key: string, a: unknown, b: unknown): boolean =>
	key === 'states' || key === 'shapes' ? sameValue(a, b) : a === b;
