/**
 * Recording by doing: what is changed at an instant of a run becomes a key there, as far as keys can hold it; what was done while time ran
 * becomes few keys that say the same.
 */
import { TIME_EPSILON } from '../project/defaults';
import { byId, joinedOverlays, OVERLAY_FIELDS, sameValue, UNSET } from '../project/overlay';
import type { Project, Run, Track } from '../project/schema';
import { shortWay } from './tracks';

type Key = Track['keys'][number];
type Values = Omit<Key, 't'>;

/** What a track moves. */
export type TrackTarget = { object: string } | { camera: string } | { query: string } | { scene: true };

/** What one thing is given at an instant. */
export interface KeyChange {
	thing: TrackTarget;
	values: Values;
}

const isEmpty = (value: object): boolean => Object.keys(value).length === 0;

function changedStates(now: Record<string, boolean | number> | undefined, old: typeof now): Values['states'] {
	return Object.fromEntries(Object.entries(now ?? {}).filter(([state, value]) => !sameValue(value, old?.[state])));
}

/**
 * @param seen the project as it stood at the instant
 * @param next the same, edited there
 * @returns what keys can hold of the edit
 */
export function keyChanges(seen: Project, next: Project): KeyChange[] {
	const changes: KeyChange[] = [];
	const put = (thing: TrackTarget, values: Values) => {
		if (!isEmpty(values)) changes.push({ thing, values });
	};
	const objects = byId(seen.scene.objects);
	for (const now of next.scene.objects) {
		const old = objects.get(now.id);
		if (!old || old === now) continue;
		const values: Record<string, unknown> = {};
		for (const field of OVERLAY_FIELDS)
			if (!sameValue(now[field], old[field])) values[field] = now[field] ?? UNSET[field];
		// A new parent goes with a place and a turn on it: nothing is converted.
		if (values.parent !== undefined)
			for (const field of ['position', 'rotation'] as const) values[field] = now[field] ?? UNSET[field];
		const states = changedStates(now.states, old.states);
		if (!isEmpty(states ?? {})) values.states = states;
		const shapes = (now.shapes ?? []).flatMap((shape) => {
			const was = old.shapes?.find((s) => s.id === shape.id);
			const enabled = shape.enabled ?? true;
			return was && (was.enabled ?? true) !== enabled ? [[shape.id, { enabled }] as const] : [];
		});
		if (shapes.length > 0) values.shapes = Object.fromEntries(shapes);
		put({ object: now.id }, values as Values);
	}
	const cameras = byId(seen.scene.cameras);
	for (const now of next.scene.cameras) {
		const old = cameras.get(now.id);
		if (!old || old === now) continue;
		const values: Values = {};
		if (!sameValue(now.position, old.position)) values.position = now.position;
		if (!sameValue(now.rotation, old.rotation)) values.rotation = now.rotation ?? [0, 0, 0];
		put({ camera: now.id }, values);
	}
	const queries = byId(seen.queries);
	for (const now of next.queries) {
		const old = queries.get(now.id);
		if (!old || old === now) continue;
		const values: Values = {};
		if (now.kind === 'pick' && old.kind === 'pick' && now.cursor && !sameValue(now.cursor, old.cursor))
			values.cursor = now.cursor;
		if ((now.enabled ?? true) !== (old.enabled ?? true)) values.enabled = now.enabled ?? true;
		put({ query: now.id }, values);
	}
	const states = changedStates(next.scene.states, seen.scene.states);
	if (!isEmpty(states ?? {})) put({ scene: true }, { states });
	return changes;
}

/** Fields of a query and of a camera that a key gives: the others are the project's. */
const KEYED = { camera: ['position', 'rotation'], query: ['cursor', 'enabled'] } as const;

/** An entry of the project with what was edited of it at an instant, but for what a key holds. */
function merged<T extends { id: string }>(own: T, old: T, now: T, keyed: readonly string[]): T {
	let out: Record<string, unknown> | null = null;
	const [before, after] = [old as Record<string, unknown>, now as Record<string, unknown>];
	for (const field of new Set([...Object.keys(before), ...Object.keys(after)])) {
		if (keyed.includes(field) || sameValue(before[field], after[field])) continue;
		out ??= { ...own };
		if (after[field] === undefined) delete out[field];
		else out[field] = after[field];
	}
	return (out ?? own) as T;
}

/**
 * @param project as it is in the file
 * @returns it with what of an edit made at an instant no key can hold: shapes, names, new things, what a query says
 */
export function beyondKeys(project: Project, seen: Project, next: Project): Project {
	const list = <T extends { id: string }>(
		own: readonly T[],
		old: readonly T[],
		now: readonly T[],
		keyed: readonly string[],
	) => {
		const [mine, before] = [byId(own), byId(old)];
		const out = now.map((entry) => {
			const was = before.get(entry.id);
			const at = mine.get(entry.id);
			return was && at ? (was === entry ? at : merged(at, was, entry, keyed)) : (at ?? entry);
		});
		return out.length === own.length && out.every((e, i) => e === own[i]) ? (own as T[]) : out;
	};
	// States that nothing knows yet are declared by standing in the scene; the value a key gives is the key's.
	const objects = list(project.scene.objects, seen.scene.objects, next.scene.objects, [
		...OVERLAY_FIELDS,
		'states',
		'shapes',
	]).map((object) => {
		const [was, now] = [seen, next].map((p) => p.scene.objects.find((o) => o.id === object.id));
		if (!was || !now || sameValue(was.shapes, now.shapes)) return object;
		const own = new Map((object.shapes ?? []).map((s) => [s.id, s.enabled]));
		const shapes = (now.shapes ?? []).map((shape) => {
			if (!own.has(shape.id)) return shape;
			const { enabled: _, ...rest } = shape;
			const enabled = own.get(shape.id);
			return enabled === undefined ? rest : { ...rest, enabled };
		});
		return sameValue(shapes, object.shapes)
			? object
			: { ...object, shapes: shapes as NonNullable<typeof object.shapes> };
	});
	const scene = {
		...merged({ id: '', ...project.scene }, { id: '', ...seen.scene }, { id: '', ...next.scene }, [
			'objects',
			'cameras',
			'states',
		]),
		objects,
		cameras: list(project.scene.cameras, seen.scene.cameras, next.scene.cameras, KEYED.camera),
	} as Project['scene'] & { id?: string };
	delete scene.id;
	const rest = merged(project, seen, next, ['scene', 'queries']);
	const queries = list(project.queries, seen.queries, next.queries, KEYED.query);
	const out = { ...rest, scene, queries } as Project;
	return sameValue(out, project) ? project : out;
}

const trackOf = (run: Run, thing: TrackTarget): number => {
	const [kind, id] = Object.entries(thing)[0] as [string, unknown];
	return (run.tracks ?? []).findIndex((track) => (track as unknown as Record<string, unknown>)[kind] === id);
};

/** @returns the run with a thing's keys, in their order; without a track where there are none */
function withTrack(run: Run, thing: TrackTarget, keys: Key[]): Run {
	const at = trackOf(run, thing);
	const tracks = [...(run.tracks ?? [])];
	const track = { ...thing, keys: [...keys].sort((a, b) => a.t - b.t) } as Track;
	if (keys.length === 0) {
		if (at >= 0) tracks.splice(at, 1);
	} else if (at < 0) tracks.push(track);
	else tracks[at] = track;
	const { tracks: _, ...rest } = run;
	return tracks.length === 0 ? rest : { ...rest, tracks };
}

/** @returns the run with keys at a time that give what was changed there; what the keys there gave else stays */
export function withKeys(run: Run, t: number, changes: readonly KeyChange[]): Run {
	return changes.reduce((next, { thing, values }) => {
		const keys = [...(next.tracks?.[trackOf(next, thing)]?.keys ?? [])];
		const at = keys.findIndex((key) => Math.abs(key.t - t) <= 1e-6);
		if (at < 0) keys.push({ t, ...values });
		else keys[at] = joinedOverlays<Key>(keys[at] as Key, { ...values, t: keys[at].t } as Key);
		return withTrack(next, thing, keys);
	}, run);
}

/** Takes a key out of a track; the track goes with its last. */
export function withoutKey(run: Run, thing: TrackTarget, t: number): Run {
	const keys = run.tracks?.[trackOf(run, thing)]?.keys ?? [];
	return withTrack(
		run,
		thing,
		keys.filter((key) => Math.abs(key.t - t) > TIME_EPSILON),
	);
}

/** Moves a key in time; it takes the place of one that is there already. @param to seconds */
export function withKeyAt(run: Run, thing: TrackTarget, t: number, to: number): Run {
	const keys = run.tracks?.[trackOf(run, thing)]?.keys ?? [];
	const moved = keys.find((key) => Math.abs(key.t - t) <= TIME_EPSILON);
	if (!moved) return run;
	const rest = keys.filter((key) => key !== moved && Math.abs(key.t - to) > 1e-6);
	return withTrack(run, thing, [...rest, { ...moved, t: to }]);
}

/** What is recorded of a field: at so many seconds, these numbers. */
export interface Sample {
	t: number;
	value: readonly number[];
}

/** How far what is left may be from what was recorded: metres, degrees, pixels. */
const NEAR = { position: 0.005, rotation: 0.5, cursor: 1 } as const;
/** A field whose numbers are recorded while time runs. */
export type Recorded = keyof typeof NEAR;

/** What a line from one sample to another gives at a time. */
function lineAt(field: Recorded, a: Sample, b: Sample, t: number): number[] {
	const u = b.t === a.t ? 0 : (t - a.t) / (b.t - a.t);
	return a.value.map((v, i) => {
		const to = b.value[i];
		return v + u * (field === 'rotation' ? shortWay(v, to) : to - v);
	});
}

function off(field: Recorded, is: readonly number[], should: readonly number[]): number {
	if (field === 'rotation') return Math.max(...is.map((v, i) => Math.abs(shortWay(v, should[i]))));
	return Math.hypot(...is.map((v, i) => v - should[i]));
}

/**
 * The few samples that say the same: what goes straight between them is nowhere farther than 5 mm, 0.5° or 1 px from what was recorded.
 * @param samples in the order of their times
 * @returns some of the samples, the first and the last among them
 */
export function thinned(field: Recorded, samples: readonly Sample[]): Sample[] {
	if (samples.length < 3) return [...samples];
	const kept = new Set([0, samples.length - 1]);
	const parts: [number, number][] = [[0, samples.length - 1]];
	for (let part = parts.pop(); part; part = parts.pop()) {
		const [from, to] = part;
		let worst = NEAR[field] as number;
		let at = -1;
		for (let i = from + 1; i < to; i++) {
			const sample = samples[i] as Sample;
			const d = off(field, lineAt(field, samples[from] as Sample, samples[to] as Sample, sample.t), sample.value);
			if (d > worst) {
				worst = d;
				at = i;
			}
		}
		if (at < 0) continue;
		kept.add(at);
		parts.push([from, at], [at, to]);
	}
	return samples.filter((_, i) => kept.has(i));
}

/**
 * @param recorded what was recorded of things, by field
 * @returns the run with these in place of what its tracks gave of those fields in that time
 */
export function withRecording(
	run: Run,
	recorded: readonly { thing: TrackTarget; field: Recorded; samples: readonly Sample[] }[],
): Run {
	return recorded.reduce((next, { thing, field, samples }) => {
		const few = thinned(field, samples);
		const [from, to] = [few[0]?.t, few.at(-1)?.t];
		if (from === undefined || to === undefined) return next;
		const keys = (next.tracks?.[trackOf(next, thing)]?.keys ?? []).flatMap((key) => {
			if (key.t < from - 1e-6 || key.t > to + 1e-6 || key[field] === undefined || key.parent !== undefined)
				return [key];
			const { [field]: _, ...rest } = key;
			return Object.keys(rest).length > 1 ? [rest as Key] : [];
		});
		const cleared = withTrack(next, thing, keys);
		return few.reduce(
			(r, { t, value }) => withKeys(r, t, [{ thing, values: { [field]: [...value] } as Values }]),
			cleared,
		);
	}, run);
}
