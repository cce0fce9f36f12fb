/** Rotations: the order of their turns, their exact quarters, and there and back. */
import { describe, expect, it } from 'vitest';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import {
	angleBetween,
	distanceBetween,
	eulerOf,
	multiply,
	placed,
	rotationOf,
	sinCos,
	transposed,
	turned,
	unturned,
} from './matrix';

const near = (a: ArrayLike<number>, b: ArrayLike<number>, digits = 12) => {
	expect(a).toHaveLength(b.length);
	for (let i = 0; i < a.length; i++) expect(a[i]).toBeCloseTo(b[i], digits);
};

describe('sine and cosine', () => {
	it('are exact at quarter turns, whichever way round', () => {
		for (const [degrees, pair] of [
			[0, [0, 1]],
			[90, [1, 0]],
			[180, [0, -1]],
			[270, [-1, 0]],
			[-90, [-1, 0]],
			[-450, [-1, 0]],
			[720, [0, 1]],
		] as const)
			expect(sinCos(degrees).map((v) => v + 0)).toEqual([...pair]);
		near(sinCos(30), [0.5, Math.sqrt(3) / 2]);
		near(sinCos(-135), [-Math.SQRT1_2, -Math.SQRT1_2]);
	});
});

describe('a rotation', () => {
	it('turns by roll, then pitch, then yaw', () => {
		const { SQRT1_2: h } = Math;
		// Ahead is −Z: yaw turns it to the left, pitch up; roll leaves it.
		near(turned(rotationOf([90, 0, 0]), 0, 0, -1), [-1, 0, 0]);
		near(turned(rotationOf([0, 90, 0]), 0, 0, -1), [0, 1, 0]);
		near(turned(rotationOf([0, 0, 90]), 0, 0, -1), [0, 0, -1]);
		near(turned(rotationOf([0, 0, 90]), 1, 0, 0), [0, 1, 0]);
		near(turned(rotationOf([90, 45, 0]), 0, 0, -1), [-h, h, 0]);
		near(turned(rotationOf([0, 90, 90]), 1, 0, 0), [0, 0, 1]);
		near(turned(rotationOf([90, 90, 90]), 1, 0, 0), [1, 0, 0]);
		expect(rotationOf(undefined)).toBe(rotationOf(undefined));
		near(rotationOf([0, 0, 0]), [1, 0, 0, 0, 1, 0, 0, 0, 1]);
	});

	it('is its turns one after the other, in whatever mixture', () => {
		for (const [yaw, pitch, roll] of [
			[20, 0, 0],
			[20, 0, 35],
			[20, -50, 0],
			[20, -50, 35],
			[0, -50, 35],
			[-170, 80, 120],
		] as const)
			near(
				rotationOf([yaw, pitch, roll]),
				multiply(multiply(rotationOf([yaw, 0, 0]), rotationOf([0, pitch, 0])), rotationOf([0, 0, roll])),
			);
	});

	it('is told in degrees again; straight up and down all of it in the yaw', () => {
		for (let seed = 1; seed <= runs(100); seed++) {
			const d = dice(seed);
			const angles: [number, number, number] = [d.between(-180, 180), d.between(-89, 89), d.between(-180, 180)];
			near(eulerOf(rotationOf(angles)), angles, 9);
		}
		near(eulerOf(rotationOf([30, 90, 0])), [30, 90, 0], 6);
		near(eulerOf(rotationOf([30, -90, 0])), [30, -90, 0], 6);
		for (const pitch of [90, -90]) {
			const m = rotationOf([30, pitch, 25]);
			near(rotationOf(eulerOf(m)), m, 7);
			expect(eulerOf(m)[2]).toBe(0);
		}
		near(rotationOf(eulerOf(rotationOf([30, 89.99, 25]))), rotationOf([30, 89.99, 25]), 9);
	});

	it('is undone by its transpose', () => {
		const m = rotationOf([20, -50, 35]);
		near(multiply(m, transposed(m)), [1, 0, 0, 0, 1, 0, 0, 0, 1]);
		near(unturned(m, ...turned(m, 1, 2, 3)), [1, 2, 3]);
		expect([...transposed(new Float64Array([1, 2, 3, 4, 5, 6, 7, 8, 9]))]).toEqual([1, 4, 7, 2, 5, 8, 3, 6, 9]);
		expect(multiply(m, rotationOf(undefined))).toBe(m);
		near(multiply(rotationOf(undefined), m), m);
	});

	it('places what is scaled first, then turned, then moved', () => {
		near(placed([10, 20, 30], rotationOf([90, 0, 0]), [2, 3, 4], [5, 6, 7]), [38, 38, 20]);
	});
});

describe('angles and distances', () => {
	it('keep their digits when they are small, and are nothing where there is no direction', () => {
		expect(angleBetween(1, 0, 0, 0, 2, 0)).toBe(90);
		expect(angleBetween(1, 0, 0, -3, 0, 0)).toBe(180);
		expect(angleBetween(0, 2, 0, 0, 3, 0)).toBe(0);
		expect(angleBetween(1, 0, 0, 1, 1e-9, 0)).toBeCloseTo((1e-9 * 180) / Math.PI, 18);
		expect(angleBetween(0, 1, 2, 0, 1, 3)).toBeCloseTo(((Math.atan2(2, 1) - Math.atan2(3, 1)) * -180) / Math.PI, 10);
		expect(angleBetween(1, 2, 0, 1, 3, 0)).toBeCloseTo(((Math.atan2(3, 1) - Math.atan2(2, 1)) * 180) / Math.PI, 10);
		expect(angleBetween(1, 0, 2, 1, 0, 3)).toBeCloseTo(((Math.atan2(3, 1) - Math.atan2(2, 1)) * 180) / Math.PI, 10);
		expect(angleBetween(0, 0, 0, 1, 0, 0)).toBe(0);
		expect(angleBetween(-1, 0, 0, 0, 0, 0)).toBe(0);
		expect(distanceBetween([1, 2, 3], [3, 5, 9])).toBe(7);
	});
});
