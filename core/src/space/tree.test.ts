/** How a tree is built: what its nodes hold, where they are cut and where they are not; and what its walks pass by. */
import { describe, expect, it } from 'vitest';
import { type Dice, dice } from '../tests/random';
import { runs } from '../tests/runs';
import { inverse, Tree } from './tree';

interface Node {
	index: number;
	box: number[];
	/** Items below it, in their order. */
	items: number[];
	/** 0 for an inner node. */
	count: number;
	axis: number;
	left: Node | null;
	right: Node | null;
}

function nodeOf(tree: Tree, index: number): Node {
	const box = [...tree.boxes.subarray(8 * index, 8 * index + 6)];
	const [a, b] = [tree.links[8 * index + 6], tree.links[8 * index + 7]];
	const count = b & 255;
	if (count > 0)
		return {
			index,
			box,
			items: [...tree.order.subarray(~a, ~a + count)],
			count,
			axis: b >> 8,
			left: null,
			right: null,
		};
	const left = nodeOf(tree, index + 1);
	const right = nodeOf(tree, a);
	return { index, box, items: [...left.items, ...right.items], count, axis: b >> 8, left, right };
}
const all = (node: Node): Node[] => (node.left && node.right ? [node, ...all(node.left), ...all(node.right)] : [node]);

const area = (b: number[]) => {
	const [x, y, z] = [b[3]! - b[0]!, b[4]! - b[1]!, b[5]! - b[2]!];
	return x * y + y * z + z * x;
};
const union = (boxes: number[][]) =>
	[0, 1, 2, 3, 4, 5].map((k) => (k < 3 ? Math.min : Math.max)(...boxes.map((b) => b[k])));

/** Boxes of many kinds: spread, crowded, level, of no size, far out. */
function boxes(d: Dice, n: number): Float64Array {
	const out = d.of([0, 0, 1e5]);
	const level = d.of([-1, -1, 0, 1, 2]);
	const list = new Float64Array(6 * n);
	for (let i = 0; i < n; i++) {
		const near = d.chance(0.3) ? 0.3 : 1;
		for (let k = 0; k < 3; k++) {
			const at = out + (k === level ? 0 : near * d.between(-10, 10));
			list[6 * i + k] = at;
			list[6 * i + k + 3] = at + d.of([0, d.between(0, 0.5), d.between(0, 3)]);
		}
	}
	return list;
}

/** The box of an item as it is, relative to the tree's origin. */
function held(tree: Tree, bounds: Float64Array, item: number): number[] {
	return [0, 1, 2, 3, 4, 5].map((k) => bounds[6 * item + k] - tree.origin[k % 3]);
}

function holds(tree: Tree, bounds: Float64Array): Node[] {
	const nodes = all(nodeOf(tree, 0));
	expect(nodes.length).toBe(tree.size);
	expect([...nodes.map((n) => n.index)].sort((a, b) => a - b)).toEqual(nodes.map((_, i) => i));
	expect([...(nodes[0] as Node).items].sort((a, b) => a - b)).toEqual(
		Array.from(tree.order, (_, i) => i).sort((a, b) => a - b),
	);
	for (const node of nodes) {
		if (node.left && node.right) expect(node.box).toEqual(union([node.left.box, node.right.box]));
		const wanted = union(node.items.map((i) => held(tree, bounds, i)));
		// Outward, by the room for starts and for rounding, and by no more than that.
		const out = wanted.map((v, k) => (k < 3 ? v - node.box[k] : node.box[k] - v));
		expect(Math.min(...out)).toBeGreaterThan(3e-6);
		expect(out.every((v, k) => v < 5e-6 + 3e-7 * Math.abs(wanted[k]))).toBe(true);
	}
	return nodes;
}

describe('a tree', () => {
	it('holds each item once, in boxes that fit, with leaves no larger than asked for', () => {
		for (let seed = 1; seed <= runs(80); seed++) {
			const d = dice(seed);
			const n = d.whole(1, 90);
			const leaf = d.of([1, 2, 4, 8]);
			const bounds = boxes(d, n);
			const tree = new Tree(bounds, leaf, d.of([1, 2.5, 4]));
			for (const node of holds(tree, bounds)) expect(node.count).toBeLessThanOrEqual(leaf);
			for (let k = 0; k < 3; k++) {
				const low = Math.min(...Array.from({ length: n }, (_, i) => bounds[6 * i + k]));
				const high = Math.max(...Array.from({ length: n }, (_, i) => bounds[6 * i + k + 3]));
				expect(tree.origin[k]).toBe((low + high) / 2);
			}
		}
	});

	it('is cut along the longest extent of its centres, the lower ones left, where it costs least or nearly so', () => {
		let cuts = 0;
		let few = 0;
		for (let seed = 1; seed <= runs(60); seed++) {
			const d = dice(seed);
			const n = d.of([3, 7, 12, 13, 40, 90]);
			const bounds = boxes(d, n);
			const tree = new Tree(bounds, d.of([1, 2, 8]), 1);
			const size = (b: number[]) => area(b);
			for (const node of all(nodeOf(tree, 0))) {
				if (!node.left || !node.right) continue;
				const centre = (i: number, k: number) => bounds[6 * i + k] + bounds[6 * i + k + 3];
				const extents = [0, 1, 2].map((k) => {
					const c = node.items.map((i) => centre(i, k));
					return Math.max(...c) - Math.min(...c);
				});
				const widest = Math.max(...extents);
				if (widest < 1e-3) continue;
				// What is known of the centres of a part may be wider than they are, by one bin at each end.
				if (node.index === 0) expect(extents[node.axis]).toBeGreaterThan(widest - 1e-3 - 1e-6 * Math.abs(bounds[0]));
				const along = (i: number) => centre(i, node.axis);
				expect(Math.max(...node.left.items.map(along))).toBeLessThanOrEqual(
					Math.min(...node.right.items.map(along)) + 1e-4 + 1e-6 * Math.abs(bounds[0]),
				);
				const sorted = [...node.items].sort((a, b) => along(a) - along(b));
				let best = Infinity;
				for (let s = 1; s < sorted.length; s++) {
					const part = (list: number[]) => list.length * size(union(list.map((i) => held(tree, bounds, i))));
					best = Math.min(best, part(sorted.slice(0, s)) + part(sorted.slice(s)));
				}
				const cost = node.left.items.length * size(node.left.box) + node.right.items.length * size(node.right.box);
				const rounding = 1e-4 * size(node.box) + 1e-4;
				cuts++;
				if (node.items.length <= 12) {
					few++;
					expect(cost).toBeLessThanOrEqual(best * 1.001 + rounding * node.items.length);
				} else expect(cost).toBeLessThanOrEqual(best * 1.5 + rounding * node.items.length);
			}
		}
		expect(cuts).toBeGreaterThan(runs(500));
		expect(few).toBeGreaterThan(runs(250));
	});

	it('is cut no further where testing the items costs no more than visiting two nodes', () => {
		const VISIT = 3;
		let closed = 0;
		for (let seed = 1; seed <= runs(120); seed++) {
			const d = dice(seed);
			const bounds = boxes(d, d.whole(3, 60));
			const tree = new Tree(bounds, 8, VISIT);
			for (const node of all(nodeOf(tree, 0))) {
				const n = node.items.length;
				const whole = area(node.box);
				if (node.left && node.right) {
					if (n > 8) continue;
					expect(n).toBeGreaterThan(2);
					const cost = node.left.items.length * area(node.left.box) + node.right.items.length * area(node.right.box);
					expect(VISIT * whole + cost).toBeLessThan(n * whole * (1 + 1e-5));
				} else if (n > 2) {
					closed++;
					const centres = (k: number) => node.items.map((i) => bounds[6 * i + k] + bounds[6 * i + k + 3]);
					// Along the axis that was tried.
					const { axis } = node;
					const c = centres(axis);
					const sorted = node.items.map((item, at) => ({ item, c: c[at] })).sort((a, b) => a.c - b.c);
					for (let s = 1; s < n; s++) {
						const part = (list: { item: number }[]) =>
							list.length * area(union(list.map((x) => held(tree, bounds, x.item))));
						const cost = part(sorted.slice(0, s)) + part(sorted.slice(s));
						expect(VISIT * whole + cost).toBeGreaterThan(n * whole * (1 - 1e-4) - 1e-3);
					}
				}
			}
		}
		expect(closed).toBeGreaterThan(runs(100));
	});

	it('finds the leaf of each item that moves alone', () => {
		const bounds = boxes(dice(5), 300);
		const tree = new Tree(bounds, 4, 2.5);
		for (let i = 0; i < 300; i++) {
			for (const k of [1, 4]) bounds[6 * i + k]! += 40;
			tree.update(bounds, [i]);
			// What was not found stays wrong: looked at now and then, not each time.
			if (i % 25 === 24) holds(tree, bounds);
		}
	});

	it('keeps its boxes fitting when a few things move, when many do, and when they come back', () => {
		for (let seed = 1; seed <= runs(60); seed++) {
			const d = dice(seed);
			const n = d.whole(2, 90);
			const bounds = boxes(d, n);
			const tree = new Tree(bounds, d.of([1, 4]), 2.5);
			const before = [...tree.boxes];
			const kept = bounds.slice();
			let { revision } = tree;
			for (const many of [1, 2, n, 1]) {
				const moved = Array.from({ length: many }, () => d.whole(0, n - 1));
				for (const i of moved) for (let k = 0; k < 6; k++) bounds[6 * i + k]! += 3 * (k % 3) - 2;
				tree.update(bounds, moved);
				holds(tree, bounds);
				expect(tree.revision).toBeGreaterThan(revision);
				revision = tree.revision;
			}
			tree.refit(kept);
			expect(tree.revision).toBeGreaterThan(revision);
			expect([...tree.boxes].map((v, i) => (i % 8 < 6 ? v : 0))).toEqual(before.map((v, i) => (i % 8 < 6 ? v : 0)));
		}
	});
});

describe('a walk of a tree', () => {
	/** Unit cubes 10 m apart, at 0, 10, 20 … of an axis. */
	const row = (axis: number, n = 16) => {
		const bounds = new Float64Array(6 * n);
		for (let i = 0; i < n; i++)
			for (let k = 0; k < 3; k++) {
				bounds[6 * i + k] = k === axis ? 10 * i : 0;
				bounds[6 * i + k + 3] = (k === axis ? 10 * i : 0) + 1;
			}
		return new Tree(bounds, 1, 1);
	};
	const along = (axis: number, v: number, other = 0): [number, number, number] =>
		[0, 1, 2].map((k) => (k === axis ? v : other)) as [number, number, number];

	it('along a ray goes nearest first, up to its length, and to where what was found limits it', () => {
		for (const axis of [0, 1, 2])
			for (const way of [1, -1]) {
				const tree = row(axis);
				const met = (length: number, limits = (_: number, limit: number) => limit, grow = 0) => {
					const list: number[] = [];
					const start = along(axis, way > 0 ? -5 : 156, 0.5);
					tree.walk(...start, ...along(axis, way), length, grow, grow, grow, (i, limit) => {
						list.push(way > 0 ? i : 15 - i);
						return limits(i, limit);
					});
					return list;
				};
				expect(met(1e3)).toEqual(Array.from({ length: 16 }, (_, i) => i));
				expect(met(25.1)).toEqual([0, 1, 2]);
				expect(met(24.9)).toEqual([0, 1]);
				// A thing moved along it meets what it reaches.
				expect(met(24.9, undefined, 0.2)).toEqual([0, 1, 2]);
				expect(met(1e3, () => 12)).toEqual([0]);
				expect(met(1e3, (_, limit) => Math.min(limit, 15.5))).toEqual([0, 1]);
			}
	});

	it('passes by what is beside the ray, unless the thing that moves reaches it', () => {
		const tree = row(0);
		const met = (y: number, z: number, ex: number, ey: number, ez: number) => {
			let n = 0;
			tree.walk(-5, y, z, 1, 0, 0, 1e3, ex, ey, ez, (_, limit) => {
				n++;
				return limit;
			});
			return n;
		};
		expect(met(0.5, 0.5, 0, 0, 0)).toBe(16);
		expect(met(1, 1, 0, 0, 0)).toBe(16);
		expect(met(1.1, 0.5, 0, 0, 0)).toBe(0);
		expect(met(-0.1, 0.5, 0, 0, 0)).toBe(0);
		expect(met(0.5, 1.1, 0, 0, 0)).toBe(0);
		expect(met(0.5, -0.1, 0, 0, 0)).toBe(0);
		expect(met(1.1, 0.5, 0, 0.2, 0)).toBe(16);
		expect(met(1.1, 0.5, 1, 0.05, 1)).toBe(0);
		expect(met(0.5, -0.1, 0, 0, 0.2)).toBe(16);
		expect(met(0.5, -0.1, 1, 1, 0.05)).toBe(0);
	});

	it('over a box visits what it meets, edges too, and nothing else', () => {
		for (const axis of [0, 1, 2]) {
			const tree = row(axis);
			const met = (low: number, high: number, a = 0, b = 1) => {
				const list: number[] = [];
				const box = Float64Array.from([...along(axis, low, a), ...along(axis, high, b)]);
				tree.overlap(box, (i) => void list.push(i));
				return list.sort((x, y) => x - y);
			};
			expect(met(11, 20)).toEqual([1, 2]);
			expect(met(11.1, 19.9)).toEqual([]);
			expect(met(-50, 500)).toHaveLength(16);
			expect(met(0, 50, 1, 2)).toHaveLength(6);
			expect(met(0, 50, 1.1, 2)).toEqual([]);
			expect(met(0, 50, -2, 0)).toHaveLength(6);
			expect(met(0, 50, -2, -0.1)).toEqual([]);
		}
	});

	it('by distance goes nearest first and not past the limit', () => {
		for (const axis of [0, 1, 2]) {
			const tree = row(axis);
			const met = (at: number, limit: number, next = (_: number, most: number) => most, other = 0.5) => {
				const list: number[] = [];
				const p = along(axis, at, other);
				tree.closest(Float64Array.from([...p, ...p]), limit, (i, most) => {
					list.push(i);
					return next(i, most);
				});
				return list;
			};
			expect(met(-5, Infinity)).toEqual(Array.from({ length: 16 }, (_, i) => i));
			expect(met(170, Infinity)).toEqual(Array.from({ length: 16 }, (_, i) => 15 - i));
			expect(met(33, Infinity)[0]).toBe(3);
			expect(met(33, Infinity)).toHaveLength(16);
			expect(met(33, 7.1)).toEqual([3, 4]);
			expect(met(33, 6.9)).toEqual([3]);
			expect(met(33, Infinity, () => 2)).toEqual([3]);
			// Beside the row: 3 away both ways across, 4 along makes the root of 34.
			expect(met(25, 5.84, undefined, 4)).toEqual([2]);
			expect(met(25, 5.82, undefined, 4)).toEqual([]);
		}
	});
});

it('the inverse of a direction is a number, and keeps its sign, however small the direction', () => {
	expect([2, -4, 1e-299, -1e-299].map(inverse)).toEqual([0.5, -0.25, 1 / 1e-299, 1 / -1e-299]);
	expect([0, -0, 1e-310, -1e-310].map(inverse)).toEqual([1e300, 1e300, 1e300, -1e300]);
});
