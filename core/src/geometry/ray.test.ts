/** Rays on each kind of body, by hand: distances and normals, and each rule at its edge. In every case the whole scene is turned and moved too. */
import { describe, expect, it } from 'vitest';
import { FRAMES } from '../tests/frames';
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, INSIDE, sphereBody } from './body';
import { buildHull, type Hull } from './hull';
import { rotationOf, turned } from './matrix';
import { castLoaded, castRay, exitDistance, loadRay, planesOf, ray } from './ray';

type V = [number, number, number];
const MISS = Number.POSITIVE_INFINITY;

/** Distance and normal of a ray given in a body's own axes, the same in every frame; a normal of three NaN where none was written. */
function hit(make: () => Body, start: V, dir: V, frames = FRAMES): [number, V] {
	const length = Math.hypot(...dir);
	const told = frames.map(([at, turn]): [number, V] => {
		const m = rotationOf(turn);
		const body = make().place(...at, m);
		const s = turned(m, ...start).map((v, k) => v + at[k]) as V;
		const d = turned(m, ...(dir.map((v) => v / length) as V)) as V;
		const normal = new Float64Array(3).fill(Number.NaN);
		const t = castRay(body, ...s, ...d, normal);
		// Back into the body's axes.
		const n = [0, 1, 2].map((k) => m[k] * normal[0]! + m[k + 3] * normal[1]! + m[k + 6] * normal[2]!) as V;
		return [t, n];
	});
	const [[t, n]] = told as [[number, V]];
	for (const [other, normal] of told) {
		if (t === MISS || t === INSIDE) expect(other).toBe(t);
		else expect(other).toBeCloseTo(t, 9);
		normal.forEach((v, k) => {
			if (Number.isNaN(n[k])) expect(v).toBeNaN();
			else expect(v).toBeCloseTo(n[k], 7);
		});
	}
	return [t, n];
}

/** The same where only the plain frame is exact enough. */
const straight = (make: () => Body, start: V, dir: V) => hit(make, start, dir, FRAMES.slice(0, 1))[0];
const misses = (make: () => Body, start: V, dir: V) => {
	const [t, n] = hit(make, start, dir);
	expect(t).toBe(MISS);
	expect(n.every(Number.isNaN)).toBe(true);
};
function meets(make: () => Body, start: V, dir: V, t: number, normal: V): void {
	const [found, n] = hit(make, start, dir);
	expect(found).toBeCloseTo(t, 9);
	for (let k = 0; k < 3; k++) expect(n[k], `normal ${n}`).toBeCloseTo(normal[k], 7);
}

describe('every body', () => {
	const bodies: [string, () => Body][] = [
		['a sphere', () => sphereBody(1)],
		['a box', () => boxBody(2, 2, 2)],
		['a capsule', () => capsuleBody(1, 2)],
		['a cylinder', () => cylinderBody(1, 2)],
		[
			'a hull',
			() =>
				hullBody(
					buildHull([
						-1, -1, -1, 1, -1, -1, 1, 1, -1, -1, 1, -1, -1, -1, 1, 1, -1, 1, 1, 1, 1, -1, 1, 1,
					] as never) as Hull,
				),
		],
	];
	it.each(bodies)('%s is started in up to a micrometre from it, and hit from farther off', (_, make) => {
		for (const s of [-1, 1]) {
			expect(straight(make, [0, 0, s * (1 + 0.9e-6)], [0, 0, -s])).toBe(INSIDE);
			expect(straight(make, [0, 0, s * (1 + 0.9e-6)], [0, 0, s])).toBe(INSIDE);
			expect(straight(make, [0, 0, s * (1 + 1.1e-6)], [0, 0, -s])).toBeCloseTo(1.1e-6, 12);
			expect(straight(make, [0, 0, s * (1 + 1.1e-6)], [0, 0, s])).toBe(MISS);
			expect(straight(make, [0, 0, s * 0.999], [0, 0, s])).toBe(INSIDE);
		}
		expect(hit(make, [0.1, 0.2, -0.1], [0, 0, -1])[0]).toBe(INSIDE);
	});

	it.each(bodies)('%s is met from in front alone, on all six sides', (_, make) => {
		for (let k = 0; k < 3; k++)
			for (const s of [-1, 1]) {
				const at = (v: number): V => [0, 1, 2].map((i) => (i === k ? s * v : 0)) as V;
				meets(make, at(4), at(-1), 3, at(1));
				misses(make, at(4), at(1));
			}
	});

	it.each(bodies)('%s gives the distance alone where no normal is wanted, and the same to what walks', (_, make) => {
		const body = make();
		expect(castRay(body, 0.2, 0.3, 4, 0, 0, -1, null)).toBe(castRay(body, 0.2, 0.3, 4, 0, 0, -1, new Float64Array(3)));
		// Its numbers may lie anywhere in a list.
		const list = new Float64Array(5 + body.data.length);
		list.set(body.data, 5);
		loadRay(0.2, 0.3, 4, 0, 0, -1);
		castLoaded(body, body.kind, planesOf(body), list, 5);
		expect(ray[6]).toBe(castRay(body, 0.2, 0.3, 4, 0, 0, -1, null));
		loadRay(0.2, 9, 4, 0, 0, -1);
		castLoaded(body, body.kind, planesOf(body), list, 5);
		expect(ray[6]).toBe(MISS);
	});
});

describe('a sphere', () => {
	it('is met where a square root says', () => {
		meets(() => sphereBody(2), [1.2, 0, 9], [0, 0, -1], 9 - 1.6, [0.6, 0, 0.8]);
		meets(() => sphereBody(2), [0, 1.2, -9], [0, 0, 1], 9 - 1.6, [0, 0.6, -0.8]);
		meets(() => sphereBody(0.5), [3, 4, 0], [-3, -4, 0], 4.5, [0.6, 0.8, 0]);
	});

	it('is touched by a tangent, and not a hair farther off', () => {
		expect(straight(() => sphereBody(1), [1, 0, 3], [0, 0, -1])).toBe(3);
		expect(straight(() => sphereBody(1), [1 + 1e-12, 0, 3], [0, 0, -1])).toBe(MISS);
		expect(straight(() => sphereBody(1), [0, -1, 3], [0, 0, -1])).toBe(3);
		expect(straight(() => sphereBody(1), [0, -1 - 1e-12, 3], [0, 0, -1])).toBe(MISS);
	});

	it('keeps its digits when it is small and far, and when the start is near', () => {
		expect(straight(() => sphereBody(0.001), [0.0006, 0, 10_000], [0, 0, -1])).toBeCloseTo(10_000 - 0.0008, 11);
		expect(straight(() => sphereBody(1000), [0, 0, 1000.00001], [0, 0, -1])).toBeCloseTo(0.00001, 12);
		expect(straight(() => sphereBody(1000), [600, 0, 800.001], [0, 0, -1])).toBeCloseTo(0.001, 10);
		// Aslant, past the middle: away from it.
		expect(straight(() => sphereBody(1), [0, 0, 1.5], [1, 0, 0.001])).toBe(MISS);
	});
});

describe('a box', () => {
	const make = () => boxBody(2, 4, 6);

	it('is met on the side that is entered last', () => {
		meets(make, [3.5, 0, 9], [-1, 0, -2], 3 * Math.sqrt(5), [0, 0, 1]);
		meets(make, [4, 0, 5], [-1, 0, -1], 3 * Math.SQRT2, [1, 0, 0]);
		meets(make, [-4, 0, 5], [1, 0, -1], 3 * Math.SQRT2, [-1, 0, 0]);
		meets(make, [0, 5, 5], [0, -1, -1], 3 * Math.SQRT2, [0, 1, 0]);
		meets(make, [0, -5, -5], [0, 1, 1], 3 * Math.SQRT2, [0, -1, 0]);
		misses(make, [4, 0, 7.5], [-1, 0, -0.5]);
		misses(make, [4, 3, 0], [-1, 0, 0]);
		misses(make, [4, 0, 0], [-1, 2, 0]);
	});

	it('is touched along its sides, and passed beside them', () => {
		expect(straight(make, [1, 0, 9], [0, 0, -1])).toBe(6);
		expect(straight(make, [-1, 2, 9], [0, 0, -1])).toBe(6);
		for (const off of [1e-9, 0.1]) {
			expect(straight(make, [1 + off, 0, 9], [0, 0, -1])).toBe(MISS);
			expect(straight(make, [-1 - off, 0, 9], [0, 0, -1])).toBe(MISS);
			expect(straight(make, [0, 2 + off, 9], [0, 0, -1])).toBe(MISS);
			expect(straight(make, [9, 0, -3 - off], [-1, 0, 0])).toBe(MISS);
		}
	});

	it('is touched through a corner whatever the last digit, but not a picometre past it', () => {
		// Enters by z at 6, leaves by x at 6 + off.
		const past = (off: number) => straight(make, [1 - 6 * Math.SQRT1_2 + off, 0, 3 + 6 * Math.SQRT1_2], [1, 0, -1]);
		expect(past(0)).toBeCloseTo(6, 9);
		expect(past(-1e-9)).toBeCloseTo(6, 8);
		expect(past(1e-9)).toBe(MISS);
	});
});

describe('a capsule', () => {
	/** Radius 1, the middles of its ends at ±2 of the Y axis. */
	const make = () => capsuleBody(1, 6);

	it('is met on its side up to where the ends begin, and past that on the round ends', () => {
		meets(make, [5, 0.5, 0], [-1, 0, 0], 4, [1, 0, 0]);
		meets(make, [0.6, 1.9, -5], [0, 0, 1], 4.2, [0.6, 0, -0.8]);
		meets(make, [5, 2, 0], [-1, 0, 0], 4, [1, 0, 0]);
		meets(make, [5, 2.6, 0], [-1, 0, 0], 4.2, [0.8, 0.6, 0]);
		meets(make, [5, -2.6, 0], [-1, 0, 0], 4.2, [0.8, -0.6, 0]);
		misses(make, [5, 3.01, 0], [-1, 0, 0]);
		misses(make, [5, -3.01, 0], [-1, 0, 0]);
		misses(make, [5, 0, 1.01], [-1, 0, 0]);
		expect(straight(make, [5, 0, 1], [-1, 0, 0])).toBe(5);
	});

	it('is met along its axis, beside it, and aslant through an end', () => {
		meets(make, [0, 9, 0], [0, -1, 0], 6, [0, 1, 0]);
		meets(make, [0, -9, 0], [0, 1, 0], 6, [0, -1, 0]);
		meets(make, [0.6, 9, 0], [0, -1, 0], 7 - 0.8, [0.6, 0.8, 0]);
		meets(make, [0, -9, -0.6], [0, 1, 0], 7 - 0.8, [0, -0.8, -0.6]);
		misses(make, [1.01, 9, 0], [0, -1, 0]);
		// Into the top, though the line meets the endless side above it.
		meets(make, [3, 5, 0], [-1, -1, 0], 3 * Math.SQRT2 - 1, [Math.SQRT1_2, Math.SQRT1_2, 0]);
		meets(make, [-3, -5, 0], [1, 1, 0], 3 * Math.SQRT2 - 1, [-Math.SQRT1_2, -Math.SQRT1_2, 0]);
		// Within the endless side from the start: only an end is before it.
		meets(
			make,
			[0.6, 5, 0],
			[-0.001, -1, 0],
			hit(make, [0.6, 5, 0], [-0.001, -1, 0])[0],
			hit(make, [0.6, 5, 0], [-0.001, -1, 0])[1],
		);
		expect(hit(make, [0.6, 5, 0], [-1e-9, -1, 0])[0]).toBeCloseTo(2.2, 6);
		misses(make, [0.6, 5, 0], [0.001, 1, 0]);
		misses(make, [3, 9, 0], [-1, -1, 0]);
	});
});

describe('a cylinder', () => {
	/** Radius 1, its ends at ±2 of the Y axis. */
	const make = () => cylinderBody(1, 4);

	it('is met on its side, its ends and its rims', () => {
		meets(make, [5, 1.9, 0], [-1, 0, 0], 4, [1, 0, 0]);
		meets(make, [0.6, -1, -5], [0, 0, 1], 4.2, [0.6, 0, -0.8]);
		meets(make, [0.5, 9, 0.5], [0, -1, 0], 7, [0, 1, 0]);
		meets(make, [0.5, -9, -0.5], [0, 1, 0], 7, [0, -1, 0]);
		meets(make, [2, 4, 0], [-1, -1, 0], 2 * Math.SQRT2, [0, 1, 0]);
		meets(make, [2, -4, 0], [-1, 1, 0], 2 * Math.SQRT2, [0, -1, 0]);
		meets(make, [3, 2, 0], [-1, -0.5, 0], Math.hypot(2, 1), [1, 0, 0]);
		misses(make, [3, 4, 0], [-0.25, -1, 0]);
		misses(make, [3, 4.5, 0], [-1, -0.5, 0]);
		misses(make, [5, 0, 1.01], [-1, 0, 0]);
	});

	it('is touched along its side and its ends, and passed beside them', () => {
		expect(straight(make, [1, 9, 0], [0, -1, 0])).toBe(7);
		expect(straight(make, [1 + 1e-9, 9, 0], [0, -1, 0])).toBe(MISS);
		expect(straight(make, [0.8, 9, 0.8], [0, -1, 0])).toBe(MISS);
		expect(straight(make, [0.8, 9, 0.6], [0, -1, 0])).toBe(7);
		expect(straight(make, [5, 2, 0], [-1, 0, 0])).toBe(4);
		expect(straight(make, [5, -2, 0], [-1, 0, 0])).toBe(4);
		expect(straight(make, [5, 2 + 1e-9, 0], [-1, 0, 0])).toBe(MISS);
		expect(straight(make, [5, -2 - 1e-9, 0], [-1, 0, 0])).toBe(MISS);
		expect(straight(make, [5, 0, 1], [-1, 0, 0])).toBe(5);
		expect(straight(make, [5, 0, 1 + 1e-12], [-1, 0, 0])).toBe(MISS);
	});

	it('is touched through its rim, but not a hair past it', () => {
		const past = (off: number) => straight(make, [-5 + 1 + off, 7, 0], [1, -1, 0]);
		expect(past(0)).toBeCloseTo(5 * Math.SQRT2, 9);
		expect(past(1e-9)).toBe(MISS);
	});
});

describe('a hull', () => {
	const corner = buildHull([0, 0, 0, 2, 0, 0, 0, 2, 0, 0, 0, 2] as never) as Hull;
	const make = () => hullBody(corner);
	const SLANT = 1 / Math.sqrt(3);

	it('is met on each of its sides', () => {
		meets(make, [0.5, 0.5, -3], [0, 0, 1], 3, [0, 0, -1]);
		meets(make, [0.5, -3, 0.5], [0, 1, 0], 3, [0, -1, 0]);
		meets(make, [-3, 0.5, 0.5], [1, 0, 0], 3, [-1, 0, 0]);
		meets(make, [4, 0.5, 0.5], [-1, 0, 0], 3, [SLANT, SLANT, SLANT]);
		misses(make, [4, 1.01, 1], [-1, 0, 0]);
		misses(make, [4, 0.5, 0.5], [1, 0, 0]);
		misses(make, [-1, 0.5, 0.5], [-1, 0, 0]);
	});

	it('is touched along a side, and passed beside it', () => {
		expect(straight(make, [-3, 0.5, 0], [1, 0, 0])).toBeCloseTo(3, 9);
		expect(straight(make, [-3, 0.5, -1e-11], [1, 0, 0])).toBe(MISS);
		expect(straight(make, [-3, 2, 0], [1, 0, 0])).toBeCloseTo(3, 9);
		expect(straight(make, [-3, 2 + 1e-9, 0], [1, 0, 0])).toBe(MISS);
	});
});

describe('how long a ray stays in a body', () => {
	it('is to where it comes out, or nothing', () => {
		const sphere = sphereBody(1).place(3, 0, 0, rotationOf([0, 0, 0]));
		expect(exitDistance(sphere, 0, 0, 0, 1, 0, 0, 2)).toBeCloseTo(4, 9);
		expect(exitDistance(sphere, 0, 0.6, 0, 1, 0, 0, 2.2)).toBeCloseTo(3.8, 9);
		// From inside.
		expect(exitDistance(sphere, 3, 0, 0, 1, 0, 0, INSIDE)).toBeCloseTo(1, 9);
		expect(exitDistance(sphere, 2.5, 0, 0, -1, 0, 0, 0)).toBeCloseTo(0.5, 9);
		// Not met at all: no longer than where it would be entered.
		expect(exitDistance(sphere, 0, 5, 0, 1, 0, 0, 2)).toBe(2);
		expect(exitDistance(sphere, 9, 0, 0, 1, 0, 0, INSIDE)).toBe(0);
		// Wherever it is, and whichever way.
		for (const [at, turn] of FRAMES) {
			const cylinder = cylinderBody(1, 4).place(...at, rotationOf(turn));
			const start = turned(rotationOf(turn), 0.6, 9, 0).map((v, k) => v + at[k]) as V;
			expect(exitDistance(cylinder, ...start, ...turned(rotationOf(turn), 0, -1, 0), 7)).toBeCloseTo(11, 8);
			expect(exitDistance(cylinder, ...start, ...turned(rotationOf(turn), 1, 0, 0), 3)).toBe(3);
		}
		const box = boxBody(1, 1, 1).place(0, 0, -4, rotationOf([0, 0, 0]));
		expect(exitDistance(box, 0, 0, 0, 0, 0, -1, 3.5)).toBeCloseTo(4.5, 9);
	});
});
