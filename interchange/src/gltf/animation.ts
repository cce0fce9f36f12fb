/**
 * Animations of a level as tracks of run-throughs. Places that go straight come as they are; turns, curves and growth with as many keys as
 * keep a node within a tenth of a millimetre and a tenth of a degree of the file's own at every instant of a grid.
 */
import { oneLine, type Vec3 } from '@frelk/core';
import type { Accessor } from '@gltf-transform/core';
import * as z from 'zod';
import type { LevelAnimation, LevelKey, LevelNote } from '../level';
import { quaternionOf } from './transform';

/** Instants a second at which what comes is held against the file. */
const GRID = 240;
/** What it may be off there: metres, degrees. A little less than what is promised, for rounding. */
const NEAR = { metres: 0.9e-4, degrees: 0.09 };
/** A value that jumps holds until so much before, seconds. */
const JUMP = 1e-6;
/** Instants that are looked at in a file, all in all: a few numbers may stand for hours. */
const MOST_LOOKED_AT = 4_000_000;
/** Steps a run has at most, at sixty a second; seconds. */
const LONGEST = 100_000 / 60;

const index = z.int().min(0);
const animationSchema = z.looseObject({
	name: z.string().optional(),
	channels: z.array(
		z.looseObject({
			sampler: index,
			target: z.looseObject({ node: index.optional(), path: z.string() }),
		}),
	),
	samplers: z.array(
		z.looseObject({
			input: index,
			output: index,
			interpolation: z.enum(['LINEAR', 'STEP', 'CUBICSPLINE']).optional(),
		}),
	),
});

type Paths = 'translation' | 'rotation' | 'scale';
const WIDTH: Record<Paths, number> = { translation: 3, rotation: 4, scale: 3 };

/** A curve: values at times, and how one goes from one to the next. */
interface Curve {
	times: number[];
	/** With tangents: before, value, after. */
	values: number[][];
	how: 'LINEAR' | 'STEP' | 'CUBICSPLINE';
	isTurn: boolean;
}

/** What moves a node: its curves. */
export type Moves = Partial<Record<Paths, Curve>>;

/** An animation as its file has it. */
export interface Animation {
	name: string;
	duration: number;
	/** By the node's place in the file. */
	nodes: Map<number, Moves>;
}

/** @returns the animations of a file that move nodes; what of them is left out is told */
export function animationsOf(
	list: readonly unknown[],
	accessors: readonly Accessor[],
	notes: LevelNote[],
): Animation[] {
	const found: Animation[] = [];
	for (const [i, raw] of list.entries()) {
		const parsed = animationSchema.safeParse(raw);
		const name = oneLine((parsed.data?.name ?? '').trim(), 200) || `Animation ${i + 1}`;
		const tell = (message: string) => notes.push({ path: `animations: ${name}`, message });
		if (!parsed.success) {
			tell('is no animation: left out');
			continue;
		}
		const nodes = new Map<number, Moves>();
		let duration = 0;
		let others = 0;
		for (const { sampler, target } of parsed.data.channels) {
			if (target.node === undefined || !(target.path in WIDTH)) {
				others++;
				continue;
			}
			const path = target.path as Paths;
			const curve = curveOf(parsed.data.samplers[sampler], path, accessors);
			if (typeof curve === 'string') {
				tell(`${path} of node ${target.node}: ${curve}: left out`);
				continue;
			}
			const moves = nodes.get(target.node) ?? {};
			moves[path] = curve;
			nodes.set(target.node, moves);
			duration = Math.max(duration, curve.times.at(-1) ?? 0);
		}
		if (others > 0) tell(`${others} ${others === 1 ? 'channel' : 'channels'} of weights or other properties left out`);
		if (duration > LONGEST) {
			tell(`lasts ${Math.round(duration)} s, at most ${Math.round(LONGEST)} are read: left out`);
			continue;
		}
		if (nodes.size > 0) found.push({ name, duration, nodes });
		else tell('moves no node: left out');
	}
	return found;
}

function curveOf(
	sampler: { input: number; output: number; interpolation?: Curve['how'] | undefined } | undefined,
	path: Paths,
	accessors: readonly Accessor[],
): Curve | string {
	const [input, output] = [accessors[sampler?.input ?? -1], accessors[sampler?.output ?? -1]];
	if (!sampler || !input || !output) return 'its numbers are not there';
	const how = sampler.interpolation ?? 'LINEAR';
	const per = how === 'CUBICSPLINE' ? 3 : 1;
	const width = WIDTH[path];
	if (output.getElementSize() !== width || output.getCount() !== per * input.getCount() || input.getElementSize() !== 1)
		return 'has not a value for each time';
	const element: number[] = [];
	const times: number[] = [];
	const values: number[][] = [];
	for (let i = 0; i < input.getCount(); i++) {
		input.getElement(i, element);
		const t = element[0] as number;
		if (!(t >= 0) || (i > 0 && t <= (times.at(-1) as number))) return 'has times that do not rise';
		times.push(t);
		const all: number[] = [];
		for (let k = 0; k < per; k++) {
			output.getElement(per * i + k, element);
			all.push(...element.slice(0, width));
		}
		if (!all.every(Number.isFinite)) return 'has values that are no numbers';
		values.push(all);
	}
	return times.length === 0 ? 'has no times' : { times, values, how, isTurn: path === 'rotation' };
}

const unit = (q: number[]): number[] => {
	const length = Math.hypot(...q) || 1;
	return q.map((v) => v / length);
};

/** @returns the value of a curve at a time, seconds */
function valueAt({ times, values, how, isTurn }: Curve, t: number): number[] {
	const per = how === 'CUBICSPLINE' ? 3 : 1;
	const width = (values[0] as number[]).length / per;
	const own = (i: number, k = per === 3 ? 1 : 0) => (values[i] as number[]).slice(k * width, (k + 1) * width);
	const last = times.length - 1;
	if (t <= (times[0] as number)) return isTurn ? unit(own(0)) : own(0);
	if (t >= (times[last] as number)) return isTurn ? unit(own(last)) : own(last);
	let low = 0;
	let high = last;
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if ((times[middle] as number) <= t) low = middle;
		else high = middle;
	}
	const span = (times[high] as number) - (times[low] as number);
	const u = (t - (times[low] as number)) / span;
	const [a, b] = [own(low), own(high)];
	if (how === 'STEP') return isTurn ? unit(a) : a;
	if (how === 'CUBICSPLINE') {
		const [out, into] = [own(low, 2), own(high, 0)];
		const [u2, u3] = [u * u, u * u * u];
		const made = a.map(
			(v, k) =>
				(2 * u3 - 3 * u2 + 1) * v +
				span * (u3 - 2 * u2 + u) * (out[k] as number) +
				(-2 * u3 + 3 * u2) * (b[k] as number) +
				span * (u3 - u2) * (into[k] as number),
		);
		return isTurn ? unit(made) : made;
	}
	if (!isTurn) return a.map((v, k) => v + u * ((b[k] as number) - v));
	return slerp(unit(a), unit(b), u);
}

function slerp(a: number[], b: number[], u: number): number[] {
	let cos = a.reduce((sum, v, k) => sum + v * (b[k] as number), 0);
	const to = cos < 0 ? b.map((v) => -v) : b;
	cos = Math.min(1, Math.abs(cos));
	if (cos > 1 - 1e-12) return unit(a.map((v, k) => v + u * ((to[k] as number) - v)));
	const angle = Math.acos(cos);
	const [p, q] = [Math.sin((1 - u) * angle) / Math.sin(angle), Math.sin(u * angle) / Math.sin(angle)];
	return a.map((v, k) => p * v + q * (to[k] as number));
}

/** Place, turn and scale of a node at an instant, as a project has them; null where it cannot hold them. */
export type PoseAt = (trs: {
	translation?: number[] | undefined;
	rotation?: number[] | undefined;
	scale?: number[] | undefined;
}) => { position: Vec3; rotation: Vec3; scale: Vec3 } | null;

/** Counts what is looked at over a whole file. */
export class Budget {
	left = MOST_LOOKED_AT;
}

/**
 * @param poseAt how the node stands by what moves it
 * @param reach how far anything of it reaches, in its own axes, metres
 * @returns the keys of its track; why there are none
 */
export function keysOf(moves: Moves, poseAt: PoseAt, reach: number, budget: Budget): LevelKey[] | string {
	const at = (t: number) =>
		poseAt({
			translation: moves.translation && valueAt(moves.translation, t),
			rotation: moves.rotation && valueAt(moves.rotation, t),
			scale: moves.scale && valueAt(moves.scale, t),
		});
	const keys = new Map<number, LevelKey>();
	const put = (t: number, part: Omit<LevelKey, 't'>) => keys.set(t, { ...(keys.get(t) ?? { t }), ...part });
	const fields: [Paths, 'position' | 'rotation' | 'scale'][] = [
		['translation', 'position'],
		['rotation', 'rotation'],
		['scale', 'scale'],
	];
	for (const [path, field] of fields) {
		const curve = moves[path];
		if (!curve) continue;
		const pose = (t: number): Vec3 | null => at(t)?.[field] ?? null;
		const times = timesOf(curve, field, pose, reach, budget);
		if (typeof times === 'string') return times;
		for (const t of times) {
			const value = pose(t);
			if (!value) return 'is drawn together to nothing, or too large, while it moves';
			put(t, { [field]: value });
		}
	}
	return [...keys.values()].sort((a, b) => a.t - b.t);
}

/** The times at which a field needs a key. */
function timesOf(
	curve: Curve,
	field: 'position' | 'rotation' | 'scale',
	pose: (t: number) => Vec3 | null,
	reach: number,
	budget: Budget,
): number[] | string {
	const { times, how } = curve;
	const first = times[0] as number;
	const out: number[] = first > 0 ? [0, first] : [first];
	for (let i = 1; i < times.length; i++) {
		const [from, to] = [times[i - 1] as number, times[i] as number];
		if (how === 'STEP') {
			// A scale holds by itself.
			if (field !== 'scale' && to - JUMP > from) out.push(to - JUMP);
		} else if (!(how === 'LINEAR' && field === 'position')) {
			const more = field === 'scale' ? held(from, to, pose, reach, budget) : straight(from, to, field, pose, budget);
			if (typeof more === 'string') return more;
			out.push(...more);
		}
		out.push(to);
	}
	return out;
}

/** First and last instant of the grid between two times; a time that is one itself is not between, whatever the last digit says. */
const between = (a: number, b: number): [number, number] => [
	Math.floor(a * GRID + 1e-6) + 1,
	Math.ceil(b * GRID - 1e-6) - 1,
];

const TOO_LONG = 'is too long to be gone through';

/** Grid instants between two times at which a straight way between keys would be off. */
function straight(
	from: number,
	to: number,
	field: 'position' | 'rotation',
	pose: (t: number) => Vec3 | null,
	budget: Budget,
): number[] | string {
	const out: number[] = [];
	const open: [number, number][] = [[from, to]];
	for (let span = open.pop(); span; span = open.pop()) {
		const [a, b] = span;
		const [low, high] = between(a, b);
		if (high < low) continue;
		budget.left -= high - low + 1;
		if (budget.left < 0) return TOO_LONG;
		const [start, end] = [pose(a), pose(b)];
		if (!start || !end) continue;
		let isOff = false;
		for (let k = low; k <= high && !isOff; k++) {
			const t = k / GRID;
			const is = pose(t);
			const u = (t - a) / (b - a);
			isOff =
				is !== null &&
				(field === 'position'
					? Math.hypot(
							...is.map((v, i) => v - ((start[i] as number) + u * ((end[i] as number) - (start[i] as number)))),
						) > NEAR.metres
					: turnBetween(is, turnedPart(start, end, u)) > NEAR.degrees);
		}
		if (!isOff) continue;
		const middle = Math.round((low + high) / 2) / GRID;
		out.push(middle);
		open.push([middle, b], [a, middle]);
	}
	return out.sort((x, y) => x - y);
}

/** Grid instants at which a scale that holds would be off: by what moves at the farthest corner. */
function held(
	from: number,
	to: number,
	pose: (t: number) => Vec3 | null,
	reach: number,
	budget: Budget,
): number[] | string {
	const out: number[] = [];
	let holds = pose(from);
	const [low, high] = between(from, to);
	budget.left -= Math.max(0, high - low + 1);
	if (budget.left < 0) return TOO_LONG;
	for (let k = low; k <= high; k++) {
		const is = pose(k / GRID);
		if (!is || !holds) continue;
		const last = holds;
		if (Math.max(...is.map((v, i) => Math.abs(v - (last[i] as number)))) * Math.max(reach, 1e-3) <= NEAR.metres)
			continue;
		out.push(k / GRID);
		holds = is;
	}
	return out;
}

/** As a track goes from one turn to another: each angle the short way round. */
const turnedPart = (a: Vec3, b: Vec3, u: number): Vec3 => {
	const part = (k: 0 | 1 | 2): number => {
		let d = (b[k] - a[k]) % 360;
		if (d > 180) d -= 360;
		if (d <= -180) d += 360;
		return a[k] + u * d;
	};
	return [part(0), part(1), part(2)];
};

/** The angle between two turns given by yaw, pitch and roll, degrees. */
function turnBetween(a: Vec3, b: Vec3): number {
	const [p, q] = [quaternionOf(a), quaternionOf(b)];
	const cos = Math.min(1, Math.abs(p.reduce((sum, v, k) => sum + v * (q[k] as number), 0)));
	return (2 * Math.acos(cos) * 180) / Math.PI;
}

/** An animation as a level has it, of the tracks that came of it. */
export const animationWith = ({ name, duration }: Animation, tracks: LevelAnimation['tracks']): LevelAnimation => ({
	name,
	duration,
	tracks,
});
