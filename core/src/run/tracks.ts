/** What the tracks of a run give at a time, each field by itself (contract §12.1). */
import { TIME_EPSILON } from '../project/defaults';
import { OVERLAY_FIELDS } from '../project/overlay';
import type { Overlay, Track, Vec3 } from '../project/schema';

/** What a track gives of its thing at a time: fields no key has given yet are absent. */
export interface Given extends Overlay {
	cursor?: [number, number];
	enabled?: boolean;
}

type Key = Track['keys'][number];
type Field = keyof Given;

/** Half a turn is told from just over and under it by this, degrees. */
const HALF_TURN = 1e-9;

/** The way from one angle to another, the short way round; half a turn goes the positive way. Degrees in (−180, 180]. */
export function shortWay(from: number, to: number): number {
	let d = (to - from) % 360;
	if (d > 180) d -= 360;
	if (d <= -180) d += 360;
	return d + 180 < HALF_TURN ? d + 360 : d;
}

/** The keys of a track that give one field, or one part of it. */
interface Channel<T> {
	at: number[];
	values: T[];
	/** Whether the value holds until this key, rather than going towards it. */
	stepped: boolean[];
}

const BY_FIELD: readonly Field[] = [...OVERLAY_FIELDS, 'cursor', 'enabled'];

/** Index of the last key at or before a time, −1 before the first: to within what times are compared with. */
function lastAt(at: readonly number[], t: number): number {
	let low = 0;
	let high = at.length;
	while (low < high) {
		const mid = (low + high) >> 1;
		if (at[mid] <= t + TIME_EPSILON) low = mid + 1;
		else high = mid;
	}
	return low - 1;
}

/** A track made ready to be asked at any time. */
export class TrackChannels {
	private readonly fields = new Map<Field, Channel<unknown>>();
	private readonly states = new Map<string, Channel<boolean | number>>();
	private readonly shapes = new Map<string, Channel<{ enabled: boolean }>>();
	/** Whether it gives places and turns alone. */
	readonly posesOnly: boolean;
	private readonly end: number;
	/** Times at which the track hangs its object elsewhere, with the keys that do. */
	readonly reparents: readonly { t: number; parent: string | null; index: number }[];

	/** @param passed keys whose new parent, with the place under it, is passed over */
	constructor(
		readonly track: Track,
		passed: ReadonlySet<number> = new Set(),
	) {
		const add = <T>(map: Map<string, Channel<T>>, name: string, key: Key, value: T, stepped: boolean) => {
			let line = map.get(name);
			if (!line) {
				line = { at: [], values: [], stepped: [] };
				map.set(name, line);
			}
			line.at.push(key.t);
			line.values.push(value);
			line.stepped.push(stepped);
		};
		track.keys.forEach((key, i) => {
			const left = passed.has(i);
			for (const field of BY_FIELD) {
				const value = key[field as keyof Key];
				if (value === undefined || (left && (field === 'parent' || field === 'position' || field === 'rotation')))
					continue;
				add(this.fields as Map<string, Channel<unknown>>, field, key, value, key.parent !== undefined && !left);
			}
			for (const [state, value] of Object.entries(key.states ?? {})) add(this.states, state, key, value, true);
			for (const [shape, value] of Object.entries(key.shapes ?? {})) add(this.shapes, shape, key, value, true);
		});
		this.posesOnly =
			this.states.size === 0 &&
			this.shapes.size === 0 &&
			[...this.fields.keys()].every((field) => field === 'position' || field === 'rotation');
		this.end = track.keys.at(-1)?.t ?? 0;
		this.reparents = track.keys.flatMap((key, index) =>
			key.parent === undefined || passed.has(index) ? [] : [{ t: key.t, parent: key.parent, index }],
		);
	}

	/** Whether nothing of it changes any more. */
	isPast(t: number): boolean {
		return t >= this.end;
	}

	/** @returns what the track gives at a time, seconds */
	at(t: number): Given {
		const given: Record<string, unknown> = {};
		for (const [field, line] of this.fields) {
			const i = lastAt(line.at, t);
			if (i < 0) continue;
			given[field] =
				field === 'position' || field === 'cursor'
					? between(line as Channel<number[]>, i, t, straight)
					: field === 'rotation'
						? between(line as Channel<number[]>, i, t, turned)
						: line.values[i];
		}
		const states = held(this.states, t);
		if (states) given.states = states;
		const shapes = held(this.shapes, t);
		if (shapes) given.shapes = shapes;
		return given as Given;
	}
}

function held<T>(lines: ReadonlyMap<string, Channel<T>>, t: number): Record<string, T> | null {
	let found: Record<string, T> | null = null;
	for (const [name, line] of lines) {
		const i = lastAt(line.at, t);
		if (i < 0) continue;
		found ??= {};
		found[name] = line.values[i] as T;
	}
	return found;
}

const straight = (a: number, b: number, u: number): number => a + (b - a) * u;
const turned = (a: number, b: number, u: number): number => a + shortWay(a, b) * u;

function between(
	{ at, values, stepped }: Channel<number[]>,
	i: number,
	t: number,
	way: (a: number, b: number, u: number) => number,
): number[] {
	const a = values[i] as number[];
	const b = values[i + 1];
	if (!b || stepped[i + 1]) return a;
	const [from, to] = [at[i], at[i + 1]];
	const u = Math.max(0, (t - from) / (to - from));
	return u === 0 ? a : a.map((v, k) => way(v, b[k], u));
}

/** The same place, turn or state: what has not changed need not be moved. */
export const sameTriple = (a: Vec3 | undefined, b: Vec3 | undefined): boolean =>
	a === b || (a !== undefined && b !== undefined && a[0] === b[0] && a[1] === b[1] && a[2] === b[2]);
