/** Trees that no list of boxes makes too deep to be walked, and what is refused where they are built. */
import { describe, expect, it } from 'vitest';
import { boxBody, capsuleBody, cylinderBody, sphereBody } from '../geometry/body';
import { Hull } from '../geometry/hull';
import { Mesh } from './mesh';
import { MAX_DEPTH, Tree } from './tree';

/** Boxes on a line, each a part nearer to one end than the one before: every cut takes off a few. */
function crowding(n: number, part: number): Float64Array {
	const bounds = new Float64Array(6 * n);
	for (let i = 0, at = 1e7; i < n; i++, at *= part) {
		const size = 1e-3 * at;
		bounds.set([at, -size, -size, at + size, size, size], 6 * i);
	}
	return bounds;
}

const all = new Float64Array([-1e9, -1e9, -1e9, 1e9, 1e9, 1e9]);

describe('a tree', () => {
	it.each([
		[500, 0.5],
		[2000, 0.9],
		[4000, 0.97],
	])('of %i boxes that crowd by %f is walked whole', (n, part) => {
		const tree = new Tree(crowding(n, part), 1, 1);
		expect(tree.depth).toBeLessThan(MAX_DEPTH);
		const seen = new Set<number>();
		tree.overlap(all, (i) => void seen.add(i));
		expect(seen.size).toBe(n);
		const met = new Set<number>();
		tree.walk(-1, 0, 0, 1, 0, 0, 1e8, 1, 1, 1, (i, limit) => {
			met.add(i);
			return limit;
		});
		expect(met.size).toBe(n);
	});

	it('is cut in half from where it is deep, and loses nothing by it', () => {
		for (const deep of [0, 1, 4]) {
			const n = 1000;
			const tree = new Tree(crowding(n, 0.97), 1, 1, deep);
			expect(tree.depth).toBeLessThanOrEqual(deep + 10);
			const seen = new Set<number>();
			tree.overlap(all, (i) => void seen.add(i));
			expect(seen.size).toBe(n);
			// What a box holds is found in it.
			const bounds = crowding(n, 0.97);
			for (let i = 0; i < n; i += 97) {
				const found = new Set<number>();
				tree.overlap(bounds.slice(6 * i, 6 * i + 6), (k) => void found.add(k));
				expect(found.has(i)).toBe(true);
			}
		}
		expect(new Tree(crowding(1000, 0.97), 1, 1).depth).toBeGreaterThan(14);
	});

	it('of many boxes in one place is as deep as halving makes it', () => {
		const n = 4096;
		const tree = new Tree(
			Float64Array.from({ length: 6 * n }, (_, k) => (k % 6 < 3 ? -1 : 1)),
			1,
			1,
		);
		expect(tree.depth).toBe(12);
	});

	it('takes nothing but boxes', () => {
		expect(() => new Tree(new Float64Array(7), 4, 1)).toThrow('bounds are six numbers an item, and 7 are not');
		for (const [at, value] of [
			[7, Number.NaN],
			[10, Number.NaN],
			[9, -1],
		] as const) {
			const bounds = new Float64Array(12);
			bounds[at] = value;
			expect(() => new Tree(bounds, 4, 1), `${at}`).toThrow('the bounds of item 1 are no box');
		}
		expect(new Tree(new Float64Array(0), 4, 1).depth).toBe(0);
		expect(new Tree(new Float64Array(6), 4, 1).order).toHaveLength(1);
	});
});

describe('bodies', () => {
	it('have sizes', () => {
		for (const make of [
			() => sphereBody(Number.NaN),
			() => sphereBody(-1),
			() => capsuleBody(1, Number.NaN),
			() => boxBody(1, -1e-9, 1),
			() => boxBody(1, 1, Number.NaN),
			() => cylinderBody(Number.NaN, 1),
			() => cylinderBody(1, -1),
		])
			expect(make).toThrow(RangeError);
		expect(sphereBody(0).r).toBe(0);
		expect(boxBody(1, 1, 0).hz).toBe(0);
	});

	it('have points, and triangles corners that are there', () => {
		expect(() => new Mesh([0, 0, 0, 1], [])).toThrow('4 coordinates are not three a corner');
		expect(() => new Mesh([0, 0, 0], [0, 0])).toThrow('2 corners are not three a triangle');
		expect(() => new Mesh([0, 0, Number.NaN], [])).toThrow('coordinate 2 is NaN');
		expect(() => new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 3])).toThrow('corner 3 of triangle 0 is not there');
		expect(() => new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, -1])).toThrow('corner -1 of triangle 0 is not there');
		expect(new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2]).corners).toHaveLength(9);
		expect(() => new Hull(new Float64Array(4), new Uint32Array(0), true)).toThrow(
			'4 coordinates are not three a point',
		);
		const bad = new Float64Array([0, 0, 0, 1, Infinity, 0]);
		expect(() => new Hull(bad, new Uint32Array(0), true)).toThrow('coordinate 4 is Infinity');
	});
});
