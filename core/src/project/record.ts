/**
 * Recording by doing: an edit made while a moment is looked at goes into the moment, as far as a moment can hold it; the rest (a
 * shape's size, a new object, a query's words) changes the scene itself.
 */
import { applyMoment } from './moment';
import { byId, OVERLAY_FIELDS, type OverlayField, sameValue, UNSET } from './overlay';
import type { Moment, Overlay, Project, SceneObject, Vec3 } from './schema';

/** The project as it stands at a moment, in the form of a project: what an edit made there sees. */
export function projectAt(project: Project, moment: string | null): Project {
	if (moment === null) return project;
	const { objects, cameras, queries, states } = applyMoment(project, moment);
	return { ...project, scene: { ...project.scene, objects, cameras, states }, queries };
}

/**
 * @param project before the edit
 * @param plain the edit made to the project itself
 * @param seen the edit made to `projectAt(project, moment)`
 * @returns the project with the edit recorded in the moment
 */
export function recordInto(project: Project, moment: string, plain: Project, seen: Project): Project {
	const place = plain.moments?.findIndex((m) => m.id === moment) ?? -1;
	const was = plain.moments?.[place];
	if (!was) return plain;
	// Copied only where something is written: what stays the same stays the very same object, and whatever was derived from it holds.
	const into: Moment = { ...was };
	const { scene } = plain;
	const next: Project = {
		...plain,
		scene: { ...scene, objects: [...scene.objects], cameras: [...scene.cameras] },
		queries: [...plain.queries],
		moments: (plain.moments ?? []).map((m, i) => (i === place ? into : m)),
	};
	const before = projectAt(project, moment);
	const under = projectAt(project, project.moments?.find((m) => m.id === moment)?.on ?? null);
	recordObjects(project, before, under, seen, next, into);
	recordCameras(project, before, under, seen, next, into);
	recordQueries(project, before, under, seen, next, into);
	recordStates(project, before, under, seen, next, into);
	tidy(into);
	keepSame(next.scene.objects, project.scene.objects);
	keepSame(next.scene.cameras, project.scene.cameras);
	keepSame(next.queries, project.queries);
	next.scene.objects = sameList(next.scene.objects, project.scene.objects);
	next.scene.cameras = sameList(next.scene.cameras, project.scene.cameras);
	if (sameValue(next.scene.states, project.scene.states) && project.scene.states)
		next.scene.states = project.scene.states;
	next.queries = sameList(next.queries, project.queries);
	const keys = Object.keys({ ...next.scene, ...project.scene }) as (keyof Project['scene'])[];
	if (keys.every((key) => next.scene[key] === project.scene[key])) next.scene = project.scene;
	return next;
}

/**
 * Entries that came out as they were before become the very ones they were. In the others a field that was taken away and put back
 * stands where it stood: a file tells of no change that is none.
 */
function keepSame<T extends { id: string }>(list: T[], before: readonly T[]): void {
	const known = byId(before);
	for (let i = 0; i < list.length; i++) {
		const old = known.get(list[i].id);
		if (!old || old === list[i]) continue;
		const now: Partial<T> = {};
		for (const key of Object.keys({ ...old, ...list[i] }) as (keyof T)[]) if (key in list[i]) now[key] = list[i][key];
		list[i] = sameValue(old, now) ? old : (now as T);
	}
}

const sameList = <T>(list: T[], before: T[]): T[] =>
	list.length === before.length && list.every((entry, i) => entry === before[i]) ? before : list;

/** A copy of an entry of a list, put in its place: to be written into. */
function copied<T extends { id: string }>(list: T[], id: string): T | undefined {
	const at = list.findIndex((entry) => entry.id === id);
	if (at < 0) return undefined;
	list[at] = { ...list[at] };
	return list[at];
}

function recordObjects(
	project: Project,
	before: Project,
	under: Project,
	seen: Project,
	next: Project,
	into: Moment,
): void {
	const was = byId(before.scene.objects);
	const own = byId(project.scene.objects);
	const below = byId(under.scene.objects);
	for (const now of seen.scene.objects) {
		const old = was.get(now.id);
		const mine = own.get(now.id);
		if (!old || !mine || now === old) continue;
		const to = copied(next.scene.objects, now.id);
		if (!to) continue;
		if (to.states) to.states = { ...to.states };
		if (to.shapes) to.shapes = to.shapes.map((shape) => ({ ...shape }));
		const known = into.objects?.[now.id];
		const overlay: Overlay = {
			...known,
			...(known?.states ? { states: { ...known.states } } : {}),
			...(known?.shapes ? { shapes: { ...known.shapes } } : {}),
		};
		for (const field of OVERLAY_FIELDS) {
			if (sameValue(now[field], old[field])) continue;
			restore(to, mine, field);
			const value = now[field] ?? UNSET[field];
			const base = below.get(now.id)?.[field] ?? UNSET[field];
			if (sameValue(value, base)) delete overlay[field];
			else (overlay as Record<string, unknown>)[field] = value;
		}
		for (const [state, value] of Object.entries(now.states ?? {})) {
			if (sameValue(value, old.states?.[state])) continue;
			// A state the scene does not know yet has to be set there as well, or only this moment would show it.
			if (mine.states && state in mine.states)
				to.states = { ...to.states, [state]: mine.states[state] as boolean | number };
			else if (to.states) delete to.states[state];
			overlay.states = overlay.states ?? {};
			if (sameValue(value, below.get(now.id)?.states?.[state])) delete overlay.states[state];
			else overlay.states[state] = value;
		}
		if (to.states && Object.keys(to.states).length === 0 && !mine.states) delete to.states;
		for (const shape of now.shapes ?? []) {
			const then = old.shapes?.find((s) => s.id === shape.id);
			const origin = mine.shapes?.find((s) => s.id === shape.id);
			const place = to.shapes?.find((s) => s.id === shape.id);
			if (!then || !origin || !place || (shape.enabled ?? true) === (then.enabled ?? true)) continue;
			if (origin.enabled === undefined) delete place.enabled;
			else place.enabled = origin.enabled;
			const base = below.get(now.id)?.shapes?.find((s) => s.id === shape.id)?.enabled ?? true;
			overlay.shapes = overlay.shapes ?? {};
			if ((shape.enabled ?? true) === base) delete overlay.shapes[shape.id];
			else overlay.shapes[shape.id] = { enabled: shape.enabled ?? true };
		}
		into.objects = { ...into.objects, [now.id]: overlay };
	}
}

function restore(to: SceneObject, from: SceneObject, field: OverlayField): void {
	const value = from[field];
	if (value === undefined) delete to[field];
	else (to as unknown as Record<string, unknown>)[field] = value;
}

function recordCameras(
	project: Project,
	before: Project,
	under: Project,
	seen: Project,
	next: Project,
	into: Moment,
): void {
	const was = byId(before.scene.cameras);
	const own = byId(project.scene.cameras);
	const below = byId(under.scene.cameras);
	for (const now of seen.scene.cameras) {
		const old = was.get(now.id);
		const mine = own.get(now.id);
		if (!old || !mine || now === old) continue;
		const to = copied(next.scene.cameras, now.id);
		if (!to) continue;
		const overlay: { position?: Vec3; rotation?: Vec3 } = { ...into.cameras?.[now.id] } as never;
		if (!sameValue(now.position, old.position)) {
			to.position = mine.position;
			if (sameValue(now.position, below.get(now.id)?.position)) delete overlay.position;
			else overlay.position = now.position;
		}
		if (!sameValue(now.rotation, old.rotation)) {
			if (mine.rotation) to.rotation = mine.rotation;
			else delete to.rotation;
			if (sameValue(now.rotation ?? [0, 0, 0], below.get(now.id)?.rotation ?? [0, 0, 0])) delete overlay.rotation;
			else overlay.rotation = now.rotation ?? [0, 0, 0];
		}
		into.cameras = { ...into.cameras, [now.id]: overlay };
	}
}

function recordQueries(
	project: Project,
	before: Project,
	under: Project,
	seen: Project,
	next: Project,
	into: Moment,
): void {
	const was = byId(before.queries);
	const own = byId(project.queries);
	const below = byId(under.queries);
	for (const now of seen.queries) {
		const old = was.get(now.id);
		const mine = own.get(now.id);
		const base = below.get(now.id);
		if (!old || !mine || now === old) continue;
		const to = copied(next.queries, now.id);
		if (!to) continue;
		const overlay = { ...into.queries?.[now.id] };
		if (
			now.kind === 'pick' &&
			old.kind === 'pick' &&
			mine.kind === 'pick' &&
			to.kind === 'pick' &&
			now.cursor &&
			!sameValue(now.cursor, old.cursor)
		) {
			if (mine.cursor) to.cursor = mine.cursor;
			else delete to.cursor;
			if (base?.kind === 'pick' && sameValue(now.cursor, base.cursor)) delete overlay.cursor;
			else overlay.cursor = now.cursor;
		}
		if ((now.enabled ?? true) !== (old.enabled ?? true)) {
			if (mine.enabled === undefined) delete to.enabled;
			else to.enabled = mine.enabled;
			if ((now.enabled ?? true) === (base?.enabled ?? true)) delete overlay.enabled;
			else overlay.enabled = now.enabled ?? true;
		}
		into.queries = { ...into.queries, [now.id]: overlay };
	}
}

function recordStates(
	project: Project,
	before: Project,
	under: Project,
	seen: Project,
	next: Project,
	into: Moment,
): void {
	for (const [state, value] of Object.entries(seen.scene.states ?? {})) {
		if (sameValue(value, before.scene.states?.[state])) continue;
		const mine = project.scene.states?.[state];
		// One the scene does not know yet stays there too: states are declared by being there.
		if (mine !== undefined) next.scene.states = { ...next.scene.states, [state]: mine };
		into.states = { ...into.states };
		if (sameValue(value, under.scene.states?.[state])) delete into.states[state];
		else into.states[state] = value;
	}
}

/** Leaves out what has become empty. */
function tidy(moment: Moment): void {
	for (const [id, overlay] of Object.entries(moment.objects ?? {}))
		for (const key of ['states', 'shapes'] as const) {
			if (!overlay[key] || Object.keys(overlay[key]).length > 0) continue;
			const { [key]: _, ...rest } = moment.objects?.[id] ?? {};
			moment.objects = { ...moment.objects, [id]: rest };
		}
	for (const key of ['objects', 'cameras', 'queries'] as const) {
		const record = moment[key] as Record<string, object> | undefined;
		if (!record) continue;
		const filled = Object.entries(record).filter(([, overlay]) => Object.keys(overlay).length > 0);
		if (filled.length === 0) delete moment[key];
		else if (filled.length < Object.keys(record).length)
			(moment as unknown as Record<string, unknown>)[key] = Object.fromEntries(filled);
	}
	if (moment.states && Object.keys(moment.states).length === 0) delete moment.states;
}

/** One thing a moment changes against what it is on. */
export interface Difference {
	of: 'object' | 'camera' | 'query' | 'scene';
	/** Of the object, camera or query; empty for the scene. */
	id: string;
	/** The field, or the state or shape in it. */
	field: string;
	key: string | null;
	from: unknown;
	to: unknown;
}

/** @returns what a moment changes, in file order */
export function differencesOf(project: Project, moment: string): Difference[] {
	const into = project.moments?.find((m) => m.id === moment);
	if (!into) return [];
	const under = projectAt(project, into.on ?? null);
	const list: Difference[] = [];
	for (const [id, overlay] of Object.entries(into.objects ?? {})) {
		const base = under.scene.objects.find((o) => o.id === id);
		for (const field of OVERLAY_FIELDS)
			if (overlay[field] !== undefined)
				list.push({ of: 'object', id, field, key: null, from: base?.[field] ?? UNSET[field], to: overlay[field] });
		for (const [key, to] of Object.entries(overlay.states ?? {}))
			list.push({ of: 'object', id, field: 'states', key, from: base?.states?.[key] ?? null, to });
		for (const [key, to] of Object.entries(overlay.shapes ?? {}))
			list.push({
				of: 'object',
				id,
				field: 'shapes',
				key,
				from: base?.shapes?.find((s) => s.id === key)?.enabled ?? true,
				to: to.enabled,
			});
	}
	for (const [key, to] of Object.entries(into.states ?? {}))
		list.push({ of: 'scene', id: '', field: 'states', key, from: under.scene.states?.[key] ?? null, to });
	for (const [id, overlay] of Object.entries(into.cameras ?? {})) {
		const base = under.scene.cameras.find((c) => c.id === id);
		for (const field of ['position', 'rotation'] as const)
			if (overlay[field])
				list.push({ of: 'camera', id, field, key: null, from: base?.[field] ?? [0, 0, 0], to: overlay[field] });
	}
	for (const [id, overlay] of Object.entries(into.queries ?? {})) {
		const base = under.queries.find((q) => q.id === id);
		if (overlay.cursor)
			list.push({
				of: 'query',
				id,
				field: 'cursor',
				key: null,
				from: base?.kind === 'pick' ? (base.cursor ?? null) : null,
				to: overlay.cursor,
			});
		if (overlay.enabled !== undefined)
			list.push({ of: 'query', id, field: 'enabled', key: null, from: base?.enabled ?? true, to: overlay.enabled });
	}
	return list;
}

/** Takes one difference out of a moment, in place. */
export function removeDifference(project: Project, moment: string, d: Difference): void {
	const into = project.moments?.find((m) => m.id === moment);
	if (!into) return;
	if (d.of === 'scene') delete into.states?.[d.key ?? ''];
	else {
		const record = (d.of === 'object' ? into.objects : d.of === 'camera' ? into.cameras : into.queries) as
			| Record<string, Record<string, unknown>>
			| undefined;
		const overlay = record?.[d.id];
		if (!overlay) return;
		if (d.key === null) delete overlay[d.field];
		else delete (overlay[d.field] as Record<string, unknown> | undefined)?.[d.key];
	}
	tidy(into);
}
