/** The compiled walk against the one in JavaScript, and against every leaf tried. */
import fc from 'fast-check';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { type Dice, dice } from '../../tests/random';
import { runs } from '../../tests/runs';
import { type LeafWalk, meetsBall, PlainWalk } from '../leaf-walk';
import { entry, inverse, Tree } from '../tree';
import { CompiledWalk } from './compiled-walk';
import { makeWalkMemory, type WalkMemory } from './module';
import { WideTree } from './wide';

const seeds = fc.integer({ min: 0, max: 2 ** 31 });
const memory = (most?: number) => makeWalkMemory(most) as WalkMemory;

afterEach(() => {
	vi.unstubAllGlobals();
});

interface Scene {
	bounds: Float64Array;
	tree: Tree;
	balls: Float32Array;
	flags: Uint8Array;
}

/** Balls within boxes: what a walk has to find is whose ball is met, and whose box. */
function scene(d: Dice, n = d.whole(1, 150), out = d.of([0, 0, 1e4, 1e6])): Scene {
	const bounds = new Float64Array(6 * n);
	for (let i = 0; i < n; i++) putBox(bounds, i, d, out);
	const tree = new Tree(bounds, d.of([1, 2, 8]), d.of([1, 4]));
	const balls = new Float32Array(4 * n);
	const flags = Uint8Array.from({ length: n }, () => d.of([0, 1, 2, 3, 4, 7]));
	const made = { bounds, tree, balls, flags };
	putBalls(made);
	return made;
}

function putBox(bounds: Float64Array, i: number, d: Dice, out: number): void {
	for (let k = 0; k < 3; k++) {
		bounds[6 * i + k] = out + d.between(-10, 10);
		bounds[6 * i + k + 3] = bounds[6 * i + k] + d.of([0, 0.01, d.between(0, 6)]);
	}
}

function putBalls({ bounds, tree, balls }: Scene): void {
	for (let at = 0; at < tree.order.length; at++) {
		const b = 6 * tree.order[at];
		let square = 0;
		for (let k = 0; k < 3; k++) {
			balls[4 * at + k] = (bounds[b + k] + bounds[b + k + 3]) / 2 - tree.origin[k];
			square += (bounds[b + k + 3] - bounds[b + k]) ** 2 / 4;
		}
		balls[4 * at + 3] = Math.sqrt(square) + 1e-5;
	}
}

/** Start relative to the origin, direction, length. Now and then along an axis, from the very middle or side of a box. */
function rayIn({ bounds, tree }: Scene, d: Dice): number[] {
	const from = 6 * d.whole(0, bounds.length / 6 - 1);
	const start = [0, 1, 2].map((k) =>
		d.chance(0.2)
			? bounds[from + k + d.of([0, 3])] - tree.origin[k]
			: (bounds[from + k] + bounds[from + k + 3]) / 2 - tree.origin[k] + d.between(-8, 8),
	);
	// At another one, or anywhere.
	const to = 6 * d.whole(0, bounds.length / 6 - 1);
	const there = start.map((v, k) => d.between(bounds[to + k], bounds[to + k + 3]) - tree.origin[k] - v);
	const length = Math.hypot(...there);
	const dir = length > 1e-9 && d.chance(0.7) ? there.map((v) => v / length) : d.direction();
	return [...start, ...dir.map((v) => (v === 0 && d.chance(0.5) ? -0 : v)), d.of([d.between(0.1, 30), 30])];
}

function found(walk: LeafWalk, ray: number[]): number[] {
	walk.ready().set(ray);
	const list: number[] = [];
	for (let i = walk.first(); i >= 0; i = walk.next()) list.push(i);
	return list.sort((a, b) => a - b);
}

const compiled = (of: Scene, where: WalkMemory, tree = new WideTree(where, of.tree, of.balls)) =>
	new CompiledWalk(where, tree, of.flags);

describe('a walk along a ray', () => {
	it('finds each leaf that matters whose box and ball are met, once, and none whose ball is not', () => {
		const where = memory();
		let met = 0;
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const of = scene(d);
				for (const walk of [compiled(of, where), new PlainWalk(of.tree, of.balls, of.flags)])
					for (let k = 0; k < 4; k++) {
						const ray = rayIn(of, d);
						const got = found(walk, ray);
						expect(new Set(got).size).toBe(got.length);
						const { bounds, tree, flags, balls } = of;
						const [x, y, z, dx, dy, dz, limit] = ray as [number, number, number, number, number, number, number];
						const isMet = (at: number) => (flags[at] & 3) !== 0 && meetsBall(balls, 4 * at, Float64Array.from(ray));
						const isEntered = (at: number) => {
							const item = bounds.subarray(6 * tree.order[at], 6 * tree.order[at] + 6);
							const own = item.map((v, c) => v - tree.origin[c % 3]) as unknown as Float32Array;
							return entry(own, 0, x, y, z, inverse(dx), inverse(dy), inverse(dz), limit, 0, 0, 0) < Infinity;
						};
						expect(got.filter((at) => !isMet(at))).toEqual([]);
						const wanted = [...flags.keys()].filter((at) => isMet(at) && isEntered(at));
						expect(wanted.filter((at) => !got.includes(at))).toEqual([]);
						met += wanted.length;
					}
			}),
			{ numRuns: runs(300) },
		);
		expect(met).toBeGreaterThan(runs(900));
	});

	it('finds nothing along a ray of no numbers', () => {
		const of = scene(dice(5), 150, 0);
		of.flags.fill(1);
		for (const walk of [compiled(of, memory()), new PlainWalk(of.tree, of.balls, of.flags)])
			for (let k = 0; k < 6; k++) {
				const ray = [0, 0, 0, 0, 0, 1, 30];
				ray[k] = Number.NaN;
				expect(found(walk, ray)).toEqual([]);
			}
	});

	it('finds nothing past a distance that was lowered on the way', () => {
		const where = memory();
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const of = scene(d, 150, 0);
				for (const walk of [compiled(of, where), new PlainWalk(of.tree, of.balls, of.flags)]) {
					const ray = walk.ready();
					ray.set(rayIn(of, d));
					ray[6] = 30;
					if (walk.first() < 0) continue;
					ray[6] = 2;
					for (let i = walk.next(); i >= 0; i = walk.next()) expect(meetsBall(of.balls, 4 * i, ray)).toBe(true);
				}
			}),
			{ numRuns: runs(100) },
		);
	});

	it('goes near first: of balls in a row all but the first are passed by when that one stops it', () => {
		const n = 64;
		const bounds = Float64Array.from({ length: 6 * n }, (_, i) =>
			i % 6 === 0 ? 10 * (i / 6) : i % 6 === 3 ? 10 * ((i - 3) / 6) + 1 : i % 6 < 3 ? 0 : 1,
		);
		const tree = new Tree(bounds, 1, 1);
		const of = { bounds, tree, balls: new Float32Array(4 * n), flags: new Uint8Array(n).fill(1) };
		putBalls(of);
		for (const walk of [compiled(of, memory()), new PlainWalk(tree, of.balls, of.flags)])
			for (const [start, dx, nearest] of [
				[-5, 1, 0],
				[1000, -1, n - 1],
			] as const) {
				const ray = walk.ready();
				ray.set([start - tree.origin[0], 0.5 - tree.origin[1], 0.5 - tree.origin[2], dx, 0, 0, 2000]);
				expect(tree.order[walk.first()]).toBe(nearest);
				ray[6] = Math.abs(start - 10 * nearest) + 2;
				expect(walk.next()).toBe(-1);
				expect(walk.next()).toBe(-1);
			}
	});
});

describe('rounding to single floats', () => {
	const FAR = 1e6; // Single floats are a sixteenth apart here.
	it.each([
		['leaves a box by its upper side, up', [FAR - 1, FAR], FAR - 0.02, 1e-9, 5],
		['leaves a box by its lower side, down', [FAR, FAR + 1], FAR + 0.02, -1e-9, 5],
		['enters a box late, up', [FAR + 0.0625, FAR + 1], FAR + 0.0125, 0.01, 5],
		['enters a box late, down', [-FAR - 1, -FAR - 0.0625], -FAR - 0.0125, -0.01, 5],
		['goes nearly along a side for long', [-1, 1], 0, 1e-5, 2000],
		['goes along a side', [-1, 1], 0.5, 0, 20],
		['goes along a side, down', [-1, 1], 0.5, -0, 20],
		['starts in a side it goes along', [-1, 1], 1, 0, 20],
	] as const)('takes no ray that %s for one that passes by', (_, [low, high], start, slope, away) => {
		for (let axis = 0; axis < 3; axis++) {
			const tree = new Tree(new Float64Array(6), 1, 1);
			const put = (along: number, across: number, third: number) => {
				const v = [across, across, across];
				v[axis] = along;
				v[(axis + 2) % 3] = third;
				return v;
			};
			// The box as it is, without the room a tree gives it.
			tree.boxes.set([...put(low, 0, 0), ...put(high, 1, 1)]);
			const walk = compiled(
				{ bounds: new Float64Array(6), tree, balls: new Float32Array([0, 0, 0, 1e9]), flags: new Uint8Array([1]) },
				memory(),
			);
			expect(found(walk, [...put(start, -away, 0.5), ...put(slope, 1, 0), 1e5])).toEqual([0]);
			// And past the box on the other side of it.
			expect(found(walk, [...put(start, 1 + away, 0.5), ...put(slope, 1, 0), 1e5])).toEqual([]);
		}
	});

	it('takes no box for one past the distance that begins at it', () => {
		const tree = new Tree(new Float64Array(6), 1, 1);
		tree.boxes.set([16777217, 0, 0, 16777218, 1, 1]);
		const of = {
			bounds: new Float64Array(6),
			tree,
			balls: new Float32Array([16777217, 0, 0, 9]),
			flags: new Uint8Array([1]),
		};
		const walk = compiled(of, memory());
		expect(found(walk, [0, 0.5, 0.5, 1, 0, 0, 16777216.5])).toEqual([0]);
		expect(found(walk, [0, 0.5, 0.5, 1, 0, 0, 16777000])).toEqual([]);
	});
});

describe('the memory of walks', () => {
	it('holds many trees, and lays them in anew when it was full or they have moved', () => {
		const d = dice(7);
		// Room for one or two of them at a time.
		const where = memory(30_000);
		const scenes = Array.from({ length: 12 }, () => scene(d, d.whole(20, 150), 0));
		const walks = scenes.map((of) => {
			const tree = new WideTree(where, of.tree, of.balls);
			return [compiled(of, where, tree), compiled(of, where, tree)] as const;
		});
		const { age } = where;
		let some = 0;
		for (let round = 0; round < 400; round++) {
			const at = d.whole(0, scenes.length - 1);
			const of = scenes[at] as Scene;
			if (d.chance(0.3)) {
				const moved = [d.whole(0, of.flags.length - 1)];
				for (const i of moved) putBox(of.bounds, i, d, 0);
				if (d.chance(0.5)) of.tree.update(of.bounds, moved);
				else of.tree.refit(of.bounds);
				putBalls(of);
			}
			const ray = rayIn(of, d);
			const alone = found(compiled(of, memory()), ray);
			expect(found((walks[at] as (typeof walks)[0])[d.whole(0, 1)] as LeafWalk, ray)).toEqual(alone);
			some += alone.length;
		}
		expect(where.age).toBeGreaterThan(age + 10);
		expect(some).toBeGreaterThan(100);
	});

	it('grows for a tree that is larger than it means to be, and keeps that one', () => {
		const d = dice(3);
		const where = memory(1000);
		const of = scene(d, 3000, 0);
		const walk = compiled(of, where);
		const ray = rayIn(of, d);
		expect(found(walk, ray)).toEqual(found(new PlainWalk(of.tree, of.balls, of.flags), ray));
		const { age } = where;
		for (let k = 0; k < 5; k++) found(walk, rayIn(of, d));
		expect(where.age).toBe(age);
	});

	it('gives room at multiples of 128 up to the last byte, and empties itself for one byte more', () => {
		const where = memory(0);
		const start = where.take(2048);
		expect([start % 128, where.age]).toEqual([0, 1]);
		// Twice the largest is kept: this ends where the room ends.
		expect([where.take(1), where.take(1919), where.age]).toEqual([start + 2048, start + 2176, 1]);
		where.giveBack(start + 2177);
		expect([where.take(1792), where.age]).toEqual([start + 2304, 1]);
		expect([where.take(1), where.age]).toEqual([start, 2]);
		// The first one has room whatever its size, and the memory grows by whole pages for it.
		const large = memory(0);
		const rest = large.buffer.byteLength - start;
		expect([large.take(rest), large.buffer.byteLength, large.age]).toEqual([start, start + rest, 1]);
		const page = 65_536;
		const larger = memory(0);
		expect([larger.take(rest + 1), larger.buffer.byteLength]).toEqual([start, start + rest + page]);
		expect(larger.ray.buffer).toBe(larger.buffer);
	});

	it('is not there where code cannot be compiled', () => {
		vi.stubGlobal('WebAssembly', undefined);
		expect(makeWalkMemory()).toBeNull();
		vi.stubGlobal('WebAssembly', {
			Module: class {
				constructor() {
					throw new Error('refused by the policy of the page');
				}
			},
		});
		expect(makeWalkMemory()).toBeNull();
	});
});
