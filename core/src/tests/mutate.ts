/** Files nobody meant: projects changed at random as trees and as text, and ordinary projects pulled to the ends of what is allowed. */
import type { Dice } from './random';

type Json = null | boolean | number | string | Json[] | { [key: string]: Json };
type Holder = Json[] | { [key: string]: Json };

const isHolder = (value: Json | undefined): value is Holder => typeof value === 'object' && value !== null;

/** Numbers at and past every bound, and those that arithmetic trips over. */
const NUMBERS = [
	0,
	-0,
	1,
	-1,
	0.5,
	1e-6,
	9.9e-7,
	-1e-6,
	1e-9,
	1e-300,
	5e-324,
	90,
	180,
	-180,
	360,
	1e6,
	1e7,
	-1e7,
	1.0000001e7,
	1e9,
	1e12,
	-1e12,
	1.1e12,
	1e15,
	1e154,
	1e308,
	-1e308,
	2 ** 31,
	2 ** 32,
	2 ** 53,
	3,
];
const TEXTS = [
	'',
	'a',
	'crank',
	'__proto__',
	'constructor',
	'toString',
	'\u001b[31mred\u001b[0m',
	'two\nlines',
	'\u202eright to left',
	'e\u0301\u0301',
	'\ud800',
	'x'.repeat(201),
	'x'.repeat(5000),
	'all',
];

/** Every list and object of a tree, with the top one first. */
function holders(top: Json): Holder[] {
	const found: Holder[] = [];
	const stack: Json[] = [top];
	for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
		if (!isHolder(at)) continue;
		found.push(at);
		stack.push(...(Array.isArray(at) ? at.slice(0, 400) : Object.values(at)));
	}
	return found;
}

const keysOf = (holder: Holder): (string | number)[] =>
	Array.isArray(holder) ? [...holder.keys()] : Object.keys(holder);
const get = (holder: Holder, key: string | number): Json => (holder as Record<string | number, Json>)[key] as Json;
const set = (holder: Holder, key: string | number, value: Json): void => {
	// As a file would have it: also a key named __proto__ is a key.
	Object.defineProperty(holder, key, { value, enumerable: true, configurable: true, writable: true });
};
const copy = <T extends Json>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

function deep(d: Dice): Json {
	let value: Json = d.chance(0.5) ? [] : 1;
	for (let i = d.of([3, 30, 63, 64, 65, 200]); i > 0; i--)
		value = d.chance(0.5) ? [value] : d.chance(0.3) ? [1, value] : { k: value };
	return value;
}

/** Another value in place of one. */
function other(d: Dice, value: Json, all: readonly Holder[]): Json {
	if (typeof value === 'number' && d.chance(0.7)) {
		switch (d.whole(0, 5)) {
			case 0:
				return -value;
			case 1:
				return value * 10 ** d.whole(-9, 9);
			case 2:
				return value + d.of([1e-9, -1e-9, 1e-6, -1e-6, 1, -1]);
			case 3:
				return Math.round(value);
			default:
				return d.of(NUMBERS);
		}
	}
	switch (d.whole(0, 9)) {
		case 0:
			return null;
		case 1:
			return d.chance(0.5);
		case 2:
		case 3:
			return d.of(NUMBERS);
		case 4:
			return d.of(TEXTS);
		case 5:
			return d.chance(0.5) ? [] : {};
		case 6:
			return deep(d);
		case 7:
			return typeof value === 'string' ? `${value}${d.of(['x', '-2', '', ' ', '\n'])}` : [copy(value)];
		default: {
			// Something of the same file, of the same kind if there is one.
			for (let tries = 0; tries < 12; tries++) {
				const from = d.of(all);
				const keys = keysOf(from);
				if (keys.length === 0) continue;
				const found = get(from, d.of(keys));
				if (typeof found === typeof value || tries > 8) return copy(found);
			}
			return null;
		}
	}
}

/** One change somewhere in a tree. */
function changeTree(d: Dice, top: Json): void {
	const all = holders(top);
	if (all.length === 0) return;
	const holder = d.of(all);
	const keys = keysOf(holder);
	if (keys.length === 0) {
		if (Array.isArray(holder)) holder.push(other(d, 0, all));
		else set(holder, d.of(TEXTS), other(d, 0, all));
		return;
	}
	const key = d.of(keys);
	const value = get(holder, key);
	switch (d.whole(0, 9)) {
		case 0:
			if (Array.isArray(holder)) holder.splice(key as number, 1);
			else delete holder[key as string];
			break;
		case 1:
			if (Array.isArray(holder)) holder.splice(d.whole(0, holder.length), 0, copy(value));
			else set(holder, d.of([...TEXTS, ...(keys as string[])]), copy(value));
			break;
		case 2:
			if (Array.isArray(holder)) holder.sort(() => d.next() - 0.5);
			else set(holder, `${key}${d.of(['s', 'x', ''])}`, copy(value));
			break;
		case 3: {
			const into = d.of(all);
			if (Array.isArray(into)) into.push(copy(value));
			else set(into, String(key), copy(value));
			break;
		}
		default:
			set(holder, key, other(d, value, all));
	}
}

/** @returns the tree with one to four changes, as text */
export function mutatedTree(d: Dice, tree: Json): string {
	const top = copy(tree);
	for (let i = d.of([1, 1, 1, 2, 2, 3, 4]); i > 0; i--) changeTree(d, top);
	return JSON.stringify(top) ?? 'null';
}

/** @returns the text with characters changed, left out, doubled, or cut off */
export function mutatedText(d: Dice, text: string): string {
	let out = text;
	for (let i = d.whole(1, 3); i > 0; i--) {
		const at = d.whole(0, out.length);
		const to = Math.min(out.length, at + d.of([1, 1, 2, 10, 200]));
		switch (d.whole(0, 4)) {
			case 0:
				out = out.slice(0, at) + out.slice(to);
				break;
			case 1:
				out = out.slice(0, to) + out.slice(at);
				break;
			case 2:
				out = out.slice(0, at);
				break;
			default:
				out =
					out.slice(0, at) +
					d.of(['[', ']', '{', '}', ',', ':', '"', '\\', '1e999', '-', '\u0000', '\ufeff', 'null', '9', '[[[[']) +
					out.slice(to);
		}
	}
	return out;
}

/** A number's size by what it is called in the file. */
const SMALLEST: Record<string, number> = { size: 1e-6, radius: 1e-6, height: 1e-6, scale: 1e-6 };
const LARGEST: Record<string, number> = {
	scale: 1e6,
	size: 1e7,
	radius: 1e7,
	height: 1e7,
	length: 1e9,
	min: 1e9,
	max: 1e9,
	far: 1e9,
	position: 1e7,
	at: 1e7,
	offset: 1e7,
	off: 1e7,
	grow: 1e7,
	focus: 1e7,
	point: 1e7,
};

const SIGNED_ANYHOW = ['wear', 'priority', 'rotation', 'along', 'above', 'below', 'level'];
/** Whole numbers, and those that go with another. */
const LEFT_ALONE = ['triangles', 'take', 'from', 'until', 'fov'];

/** Pulls some numbers of a valid project to the ends of what is allowed, keeping it valid as far as single numbers go. */
export function pulled(d: Dice, tree: Json): Json {
	const top = copy(tree);
	const share = d.of([0.02, 0.1, 0.4]);
	const end = d.of(['small', 'large', 'both']);
	const pull = (holder: Holder, name: string) => {
		for (const key of keysOf(holder)) {
			const inner = Array.isArray(holder) ? name : String(key);
			const value = get(holder, key);
			if (isHolder(value)) pull(value, inner);
			else if (typeof value === 'number' && value !== 0 && !LEFT_ALONE.includes(inner) && d.chance(share)) {
				const small = end === 'small' || (end === 'both' && d.chance(0.5));
				const size = small
					? (SMALLEST[inner] ?? (inner === 'viewport' ? 1e-6 : d.of([1e-300, 1e-12, 1e-9])))
					: (LARGEST[inner] ?? d.of([1e3, 1e9, 1e12]));
				if (small ? inner in SMALLEST || d.chance(0.5) : inner in LARGEST || SIGNED_ANYHOW.includes(inner))
					set(holder, key, Math.sign(value) * size);
			}
		}
		if (Array.isArray(holder) || holder.kind !== 'capsule') return;
		const { radius, height } = holder as { radius: number; height: number };
		if (height < 2 * radius) holder.radius = Math.max(height / 2, 1e-6);
		if (height < 2 * (holder.radius as number)) holder.height = 2 * (holder.radius as number);
	};
	if (isHolder(top)) pull(top, '');
	return top;
}

/**
 * The smallest tree, by leaving out and emptying what can be, of which the same still holds.
 * @param rounds bounds the time
 */
export function reduced(tree: Json, holds: (tree: Json) => boolean, rounds = 2000): Json {
	let best = copy(tree);
	let left = rounds;
	for (let again = true; again && left > 0; ) {
		again = false;
		const walk = (path: (string | number)[]): void => {
			const at = path.reduce<Json>((value, key) => get(value as Holder, key), best);
			if (!isHolder(at)) return;
			for (const key of keysOf(at).reverse()) {
				if (left-- <= 0) return;
				const next = copy(best);
				const holder = path.reduce<Json>((value, step) => get(value as Holder, step), next) as Holder;
				if (Array.isArray(holder)) holder.splice(key as number, 1);
				else delete holder[key as string];
				if (holds(next)) {
					best = next;
					again = true;
				} else walk([...path, key]);
			}
		};
		walk([]);
	}
	return best;
}

export type { Json };
