/** Bundles of rays: which shapes reach into them, how near they can be, and which of them a single ray is handed. */
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../project/schema';
import { MATTERS } from '../space/leaf-walk';
import { type Dice, dice } from '../tests/random';
import { runs } from '../tests/runs';
import { ball, object, project } from '../tests/scene';
import { buildWorld, type World } from '../world/world';
import { Beam } from './beam';

type Ball = readonly [x: number, y: number, z: number, radius: number];

const worldOf = (balls: readonly Ball[]): World =>
	buildWorld(
		project(
			balls.map(([x, y, z, r], i) => object(`o${i}`, [x, y, z], [ball(r)])),
			[],
		),
	);
const beamIn = (world: World, skip: (shape: number) => boolean = () => false) => {
	const { order } = world.tree();
	return new Beam(
		world,
		Uint8Array.from(order, (shape) => (skip(shape) ? 0 : MATTERS)),
	);
};
const add = (a: Vec3, b: Vec3, by = 1): Vec3 => [a[0] + by * b[0], a[1] + by * b[1], a[2] + by * b[2]];
const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec3, b: Vec3): Vec3 => [
	a[1] * b[2] - a[2] * b[1],
	a[2] * b[0] - a[0] * b[2],
	a[0] * b[1] - a[1] * b[0],
];
const unit = (a: Vec3): Vec3 => add([0, 0, 0], a, 1 / Math.hypot(...a));

/** A bundle about a middle ray: half its width and height at the start where its rays are parallel, else a metre ahead. */
interface Bundle {
	from: Vec3;
	ahead: Vec3;
	right: Vec3;
	up: Vec3;
	wide: number;
	high: number;
	parallel: boolean;
}

const CORNERS = [
	[-1, -1],
	[1, -1],
	[1, 1],
	[-1, 1],
	[0, 0],
] as const;

function edgesOf({ from, ahead, right, up, wide, high, parallel }: Bundle): Float64Array {
	const edges = CORNERS.flatMap(([x, y]) => {
		const aside = add(add([0, 0, 0], right, x * wide), up, y * high);
		return parallel ? [...add(from, aside), ...ahead] : [...from, ...unit(add(ahead, aside))];
	});
	return Float64Array.from(edges);
}

/** How far a ball reaches into a bundle over each pair of its sides; below 0 where it stays outside. */
function reach({ from, ahead, right, up, wide, high, parallel }: Bundle, [x, y, z, r]: Ball): number {
	const to = add([x, y, z], from, -1);
	const side = (along: number, half: number) =>
		parallel ? half + r - Math.abs(along) : (half * dot(to, ahead) - Math.abs(along)) / Math.hypot(1, half) + r;
	return Math.min(side(dot(to, right), wide), side(dot(to, up), high));
}

function bundle(d: Dice): Bundle {
	const ahead = unit([d.between(-1, 1), d.between(-1, 1), d.between(0.1, 1)]);
	const right = unit(cross(ahead, [d.between(-1, 1), 1, d.between(-1, 1)]));
	return {
		from: [d.between(-6, 6), d.between(-6, 6), d.between(-6, 6)],
		ahead,
		right,
		up: cross(right, ahead),
		wide: d.between(0.05, 0.8),
		high: d.between(0.05, 0.8),
		parallel: d.chance(0.5),
	};
}

const balls = (d: Dice, n: number): Ball[] =>
	Array.from({ length: n }, () => [d.between(-8, 8), d.between(-8, 8), d.between(-8, 8) + 20, d.between(0.1, 1.2)]);

describe('a bundle of rays', () => {
	it('holds the shapes that reach into it, and no other; nearest first, as near as any of its rays can have them', () => {
		let some = 0;
		for (let seed = 1; seed <= runs(300); seed++) {
			const d = dice(seed);
			const list = balls(d, 40);
			const world = worldOf(list);
			const { order } = world.tree();
			const skipped = d.whole(0, 39);
			const beam = beamIn(world, (shape) => shape === skipped);
			const about = bundle(d);
			about.from = [about.from[0], about.from[1], about.from[2] + 20];
			expect(beam.gather(edgesOf(about))).toBe(true);
			const held = [...beam.leaves.subarray(0, beam.count)].map((leaf) => order[leaf]);
			list.forEach((one, i) => {
				const by = reach(about, one);
				if (Math.abs(by) > 1e-4) expect(held.includes(i), `${seed} ${i}`).toBe(by > 0 && i !== skipped);
			});
			const near = [...beam.near.subarray(0, beam.count)];
			expect([...near].sort((a, b) => a - b)).toEqual(near);
			const spread = about.parallel ? Math.hypot(about.wide, about.high) : 0;
			held.forEach((i, k) => {
				const [x, y, z, r] = list[i!]!;
				const middle = add([x, y, z], about.from, -1);
				expect(near[k]).toBeCloseTo(Math.hypot(...middle) - r - spread, 4);
			});
			some += held.length;
		}
		expect(some).toBeGreaterThan(runs(300));
	});

	it('hands a ray what it may meet, up to where it ends', () => {
		const list: Ball[] = [
			[0, 0, -3, 0.5],
			[0, 0.7, -5, 0.5],
			[0, 0, -7, 0.5],
			[0, 0, -9, 0.5],
		];
		const world = worldOf(list);
		const { order, origin } = world.tree();
		const beam = beamIn(world);
		const ahead: Vec3 = [0, 0, -1];
		const about = { from: [0, 0, 0] as Vec3, ahead, right: [1, 0, 0] as Vec3, up: [0, 1, 0] as Vec3 };
		expect(beam.gather(edgesOf({ ...about, wide: 0.2, high: 0.2, parallel: false }))).toBe(true);
		const handed = (length: number) => {
			beam.ready().set([0, 1, 2].map((k) => -origin[k]!));
			beam.ready().set([...ahead, length], 3);
			const out: number[] = [];
			for (let leaf = beam.first(); leaf >= 0; leaf = beam.next()) out.push(order[leaf]!);
			expect(beam.next()).toBe(-1);
			return out;
		};
		expect(handed(100)).toEqual([0, 2, 3]);
		expect(handed(beam.near[2]!)).toEqual([0, 2]);
		expect(handed(beam.near[2]! - 1e-3)).toEqual([0]);
		expect(handed(1)).toEqual([]);
		expect(handed(100)).toEqual([0, 2, 3]);
	});

	it('holds 48 shapes and not one more; in a world of none it holds none', () => {
		const about: Bundle = {
			from: [0, 0, 0],
			ahead: [0, 0, -1],
			right: [1, 0, 0],
			up: [0, 1, 0],
			wide: 0.1,
			high: 0.1,
			parallel: true,
		};
		const row = (n: number) => beamIn(worldOf(Array.from({ length: n }, (_, i): Ball => [0, 0, -2 - i, 0.2])));
		const full = row(48);
		expect([full.gather(edgesOf(about)), full.count]).toEqual([true, 48]);
		expect(row(49).gather(edgesOf(about))).toBe(false);
		const none = beamIn(worldOf([]));
		expect([none.gather(edgesOf(about)), none.count]).toEqual([true, 0]);
	});

	it('of no width lets everything through', () => {
		const beam = beamIn(worldOf(balls(dice(3), 20)));
		const line: Bundle = {
			from: [0, 0, 0],
			ahead: [0, 0, -1],
			right: [1, 0, 0],
			up: [0, 1, 0],
			wide: 0,
			high: 0,
			parallel: false,
		};
		expect(beam.gather(edgesOf(line))).toBe(true);
		expect(beam.count).toBe(20);
	});
});
