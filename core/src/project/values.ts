/**
 * The values a project file is made of, each within what a game can mean: texts, numbers, short and long lists of them, states. What there
 * are hundreds of thousands of is looked over in a loop: a schema for each number would take seconds on a large file.
 */
import './no-eval';
import * as z from 'zod';
import {
	MAX_COORDINATE,
	MAX_DISTANCE,
	MAX_HULL_POINTS,
	MAX_NUMBER,
	MAX_PROBLEMS,
	MAX_SCALE,
	MAX_SIZE,
	MAX_TEXT,
	MIN_SCALE,
	MIN_SIZE,
} from './bounds';
import { describe } from './describe';

/** A text of at most so many characters (code points; looking at the length spares counting nearly always). */
export const textUpTo = (most: number) =>
	z
		.string()
		.check(({ value, issues }) => {
			if (value.length <= most) return;
			const length = value.length > 20 * most ? value.length : [...value].length;
			if (length > most)
				issues.push({ code: 'custom', input: value, message: `has ${length} characters; at most ${most} are allowed` });
		})
		.meta({ maxLength: most });
export const name = textUpTo(MAX_TEXT);

const words = (n: number): string => (n < 1e5 && n > 1e-4 ? String(n) : n.toExponential().replace('e+', 'e'));

/** What a number may be; `least` above 0 also asks for more than 0. */
interface Bound {
	least: number;
	most: number;
	unit: string;
}
const sized = (most: number, unit = ''): Bound => ({ least: -most, most, unit });
export const above0 = (least: number, most: number, unit = ''): Bound => ({ least, most, unit });
export const upTo = (most: number, unit = ''): Bound => ({ least: 0, most, unit });

/** @returns what a number is not, or null where it is within its bound */
function outside({ least, most, unit }: Bound, value: number): string | null {
	if (value >= least && value <= most) return null;
	if (least < 0) return `must be at most ${words(most)}${unit} in size`;
	if (value > most) return `must be at most ${words(most)}${unit}`;
	if (least === 0) return 'must be 0 or more';
	return value > 0 ? `must be at least ${words(least)}${unit}` : 'must be more than 0';
}

/** A bound as a JSON Schema has it; what a bound above 0 leaves out is told apart. */
const asSchema = ({ least, most }: Bound) => ({ minimum: least, maximum: most });

export const one = (bound: Bound) =>
	z
		.number()
		.check(({ value, issues }) => {
			const wrong = outside(bound, value);
			if (wrong) issues.push({ code: 'custom', input: value, message: `${wrong}, got ${value}` });
		})
		.meta(asSchema(bound));
/** A short list of numbers: looked over at once, for a file holds hundreds of thousands of them. */
const several = <T extends readonly number[]>(length: number, bound: Bound) =>
	z
		.custom<T>()
		.check(({ value, issues }) => {
			const say = (message: string, path: number[] = []) =>
				issues.push({ code: 'custom', input: value, path, message });
			if (!Array.isArray(value))
				say(
					value === undefined
						? `is missing; expected a list of ${length} numbers`
						: `expected a list of ${length} numbers, got ${describe(value)}`,
				);
			else if (value.length !== length) say(`expected ${length} entries, got ${value.length}`);
			else
				for (let i = 0; i < length; i++) {
					const v: unknown = value[i];
					const wrong = typeof v === 'number' && Number.isFinite(v) ? outside(bound, v) : 'expected a finite number';
					if (wrong) say(`${wrong}, got ${describe(v)}`, [i]);
				}
		})
		.meta({ type: 'array', minItems: length, maxItems: length, items: { type: 'number', ...asSchema(bound) } });
export const pair = (bound: Bound) => several<readonly [number, number]>(2, bound);
export const triple = (bound: Bound) => several<readonly [number, number, number]>(3, bound);

export const SIZE = above0(MIN_SIZE, MAX_SIZE, ' m');
export const num = one(sized(MAX_NUMBER));
export const size = one(SIZE);
export const distance = one(upTo(MAX_DISTANCE, ' m'));
export const notNegative = one(upTo(MAX_NUMBER));
export const vec2 = pair(sized(MAX_NUMBER));
/** A direction or angles. */
export const vec3 = triple(sized(MAX_NUMBER));
/** A place or a move, metres. */
export const place = triple(sized(MAX_COORDINATE, ' m'));
export const scale = triple(above0(MIN_SCALE, MAX_SCALE));
/** Long lists of numbers (meshes) are looped over directly: a schema per number would take seconds on a large file. */
export function numbers(multipleOf: number, whole: boolean, what: string) {
	return z
		.custom<number[]>()
		.superRefine((value, ctx) => {
			if (!Array.isArray(value)) {
				ctx.addIssue({ code: 'custom', message: `expected a list of numbers (${what})` });
				return;
			}
			for (let i = 0; i < value.length; i++) {
				const v: unknown = value[i];
				if (typeof v !== 'number' || !Number.isFinite(v) || (whole && (!Number.isInteger(v) || v < 0))) {
					ctx.addIssue({
						code: 'custom',
						path: [i],
						message: whole ? 'expected a whole number, 0 or more' : 'expected a finite number',
					});
					return;
				}
				if (!whole && Math.abs(v) > MAX_COORDINATE) {
					ctx.addIssue({
						code: 'custom',
						path: [i],
						message: `must be at most ${words(MAX_COORDINATE)} m in size, got ${v}`,
					});
					return;
				}
			}
			if (value.length === 0 || value.length % multipleOf !== 0)
				ctx.addIssue({
					code: 'custom',
					message: `has ${value.length} numbers; it needs a multiple of ${multipleOf}, and at least one (${what})`,
				});
		})
		.meta({
			type: 'array',
			minItems: multipleOf,
			description: what,
			items: whole ? { type: 'integer', minimum: 0 } : { type: 'number', ...asSchema(sized(MAX_COORDINATE)) },
		});
}

/** Lists of points, looped over for the same reason. */
export function points<T extends readonly number[]>(size: 2 | 3) {
	return z
		.custom<T[]>()
		.superRefine((value, ctx) => {
			if (!Array.isArray(value)) {
				ctx.addIssue({ code: 'custom', message: `expected a list of points of ${size} numbers` });
				return;
			}
			if (value.length > MAX_HULL_POINTS) {
				ctx.addIssue({
					code: 'custom',
					message: `has ${value.length} points; at most ${MAX_HULL_POINTS} are allowed`,
				});
				return;
			}
			for (let i = 0; i < value.length; i++) {
				const p: unknown = value[i];
				if (!Array.isArray(p) || p.length !== size || !p.every((v) => typeof v === 'number' && Number.isFinite(v))) {
					ctx.addIssue({ code: 'custom', path: [i], message: `expected a point of ${size} finite numbers` });
					return;
				}
				const far = p.findIndex((v: number) => Math.abs(v) > MAX_COORDINATE);
				if (far >= 0) {
					ctx.addIssue({
						code: 'custom',
						path: [i, far],
						message: `must be at most ${words(MAX_COORDINATE)} m in size, got ${p[far]}`,
					});
					return;
				}
			}
		})
		.meta({
			type: 'array',
			maxItems: MAX_HULL_POINTS,
			items: {
				type: 'array',
				minItems: size,
				maxItems: size,
				items: { type: 'number', ...asSchema(sized(MAX_COORDINATE)) },
			},
		});
}

export const stateValue = z.union([z.boolean(), num], {
	error: `a state is true, false or a number of at most ${words(MAX_NUMBER)} in size`,
});
const stateProblem = (key: string, value: unknown): string | null => {
	if (key.length > MAX_TEXT) {
		const length = key.length > 20 * MAX_TEXT ? key.length : [...key].length;
		if (length > MAX_TEXT) return `the name of a state has ${length} characters; at most ${MAX_TEXT} are allowed`;
	}
	if (typeof value === 'boolean' || (typeof value === 'number' && Math.abs(value) <= MAX_NUMBER)) return null;
	return `a state is true, false or a number of at most ${words(MAX_NUMBER)} in size, got ${describe(value)}`;
};
/** Looked over at once, as the short lists are: a scene may have as many states as it likes. */
export const states = z
	.custom<Record<string, boolean | number>>()
	.check(({ value, issues }) => {
		const say = (message: string, path: string[] = []) => issues.push({ code: 'custom', input: value, path, message });
		if (typeof value !== 'object' || value === null || Array.isArray(value)) {
			say(`expected an object of states, got ${describe(value)}`);
			return;
		}
		let wrong = 0;
		for (const key of Object.keys(value)) {
			const problem = stateProblem(key, value[key]);
			if (problem) say(problem, [key]);
			if (problem && ++wrong >= MAX_PROBLEMS) return;
		}
	})
	.meta({ type: 'object', additionalProperties: { type: ['boolean', 'number'] } });
/** A list of ids, looked over too. */
export const refs = z
	.custom<string[]>()
	.check(({ value, issues }) => {
		const say = (message: string, path: number[] = []) => issues.push({ code: 'custom', input: value, path, message });
		if (!Array.isArray(value)) {
			say(`expected a list of ids, got ${describe(value)}`);
			return;
		}
		const wrong = value.findIndex((v: unknown) => typeof v !== 'string');
		if (wrong >= 0) say(`expected text, an id, got ${describe(value[wrong])}`, [wrong]);
	})
	.meta({ type: 'array', items: { type: 'string' } });
/** A picture has at least a millionth of a pixel: below that a cursor's ray has no direction left. */
export const PIXELS = above0(1e-6, MAX_NUMBER, ' px');
