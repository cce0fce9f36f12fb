/** Hulls: their corners, planes and bounds, how thin points may lie, and the walk to the farthest corner. */
import { describe, expect, it } from 'vitest';
import { dice } from '../tests/random';
import { buildHull, buildPolygon, Hull, hasVolume } from './hull';

const CUBE = [0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].flatMap((z) => [2 * x - 1, 2 * y - 1, 2 * z - 1])));
const TETRAHEDRON = [0, 0, 0, 3, 0, 0, 0, 2, 0, 0, 0, 1];
/** Every order of three. */
const ORDERS = [
	[0, 1, 2],
	[0, 2, 1],
	[1, 0, 2],
	[1, 2, 0],
	[2, 0, 1],
	[2, 1, 0],
] as const;
/** Points with their coordinates in another order. */
const turnedBy = (points: readonly number[], axes: readonly number[]) =>
	points.map((_, i) => points[i - (i % 3) + axes[i % 3]!]!);
const planesOf = (hull: Hull) =>
	Array.from({ length: hull.planes.length / 4 }, (_, i) =>
		[...hull.planes.subarray(4 * i, 4 * i + 4)].map((v) => Number(v.toFixed(9)) + 0),
	).sort((a, b) => a.join().localeCompare(b.join()));
const cornersOf = (hull: Hull) =>
	Array.from({ length: hull.points.length / 3 }, (_, i) => [...hull.points.subarray(3 * i, 3 * i + 3)].join()).sort();
const made = (points: number[]) => {
	const hull = buildHull(points);
	if (!hull) throw new Error('no volume');
	return hull;
};
/** Six times the volume; above 0 where all triangles turn counter-clockwise seen from outside. */
const volume = ({ points: p, triangles: t }: Hull) => {
	let sum = 0;
	for (let f = 0; f < t.length; f += 3) {
		const [i, j, k] = [3 * t[f]!, 3 * t[f + 1]!, 3 * t[f + 2]!];
		sum +=
			p[i]! * (p[j + 1]! * p[k + 2]! - p[j + 2]! * p[k + 1]!) -
			p[i + 1]! * (p[j]! * p[k + 2]! - p[j + 2]! * p[k]!) +
			p[i + 2]! * (p[j]! * p[k + 1]! - p[j + 1]! * p[k]!);
	}
	return sum;
};

describe('a hull', () => {
	it('of a cube has eight corners, twelve triangles, six planes, whatever lies in it or on it', () => {
		const inside = [0, 0, 0, 0.5, 0.5, 0.5, 1, 0, 0, 1, 1, 0, -1, 0.2, 0.3, 0, 0, -1];
		for (const points of [CUBE, [...CUBE, ...inside], [...inside, ...CUBE], [...CUBE, ...CUBE, -1, -1, -1]]) {
			const hull = made(points);
			expect(cornersOf(hull)).toEqual(cornersOf(new Hull(new Float64Array(CUBE), hull.triangles, false)));
			expect(hull.triangles).toHaveLength(36);
			expect(planesOf(hull)).toEqual(
				[
					[1, 0, 0, 1],
					[-1, 0, 0, 1],
					[0, 1, 0, 1],
					[0, -1, 0, 1],
					[0, 0, 1, 1],
					[0, 0, -1, 1],
				].sort((a, b) => a.join().localeCompare(b.join())),
			);
			expect([...hull.bounds]).toEqual([-1, -1, -1, 1, 1, 1]);
			expect(hull.boundingRadius).toBeCloseTo(Math.sqrt(3), 12);
			expect(volume(hull)).toBeCloseTo(48, 9);
			expect([hull.polygon, hull.movable]).toEqual([false, false]);
		}
	});

	it('of four points has their four planes, in whatever order they come', () => {
		const corners = [0, 3, 6, 9].map((i) => TETRAHEDRON.slice(i, i + 3));
		for (const order of [
			[0, 1, 2, 3],
			[1, 0, 2, 3],
			[3, 2, 1, 0],
			[2, 3, 0, 1],
		]) {
			const hull = made(order.flatMap((i) => corners[i] as number[]));
			expect(volume(hull)).toBeCloseTo(6, 12);
			expect(planesOf(hull)).toHaveLength(4);
			const n = Math.hypot(2, 3, 6);
			const slanting = [2 / n, 3 / n, 6 / n, 6 / n].map((v) => Number(v.toFixed(9)));
			expect(planesOf(hull)).toContainEqual(slanting);
			expect(planesOf(hull)).toContainEqual([-1, 0, 0, 0]);
			expect(planesOf(hull)).toContainEqual([0, -1, 0, 0]);
			expect(planesOf(hull)).toContainEqual([0, 0, -1, 0]);
		}
		expect(made(TETRAHEDRON).boundingRadius).toBe(3);
		expect([...made(TETRAHEDRON).bounds]).toEqual([0, 0, 0, 3, 2, 1]);
	});

	it('keeps planes apart that nearly agree, as long as they differ', () => {
		// A roof so low that its two sides lie a thousandth of a degree apart.
		const roof = made([-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0, 0, -1, 1e-5, 0, 1, 1e-5]);
		expect(planesOf(roof).filter((p) => p[2] > 0.5)).toHaveLength(2);
		expect(roof.planes).toHaveLength(4 * 5);
	});

	it('needs points that are farther out of one plane than a ten thousand millionth of their extent', () => {
		const thin = (z: number) => [0, 0, 0, 1, 0, 0, 0, 1, 0, 0.3, 0.3, z];
		const line = (y: number) => [0, 0, 0, 1, 0, 0, 0.5, y, 0, 0.5, 0, y];
		for (const set of [thin, line])
			for (const axes of ORDERS)
				for (const [size, x, y, z] of [
					[1, 0, 0, 0],
					[1e-3, 0, 0, 0],
					[1e3, 0, 0, 0],
					[1, 4, -2, 8],
				] as const) {
					const put = (least: number) => turnedBy(set(least), axes).map((v, i) => size * v + [x, y, z][i % 3]!);
					expect(hasVolume(put(1.1e-10))).toBe(true);
					expect(hasVolume(put(0.9e-10))).toBe(false);
				}
		expect(buildHull(thin(1.1e-10))).not.toBeNull();
		expect(buildHull(thin(0.9e-10))).toBeNull();
		expect(hasVolume([1, 2, 3, 1, 2, 3, 1, 2, 3, 1, 2, 3])).toBe(false);
		expect(hasVolume([0, 0, 0, 1, 0, 0, 0, 1, 0])).toBe(false);
		expect(hasVolume(TETRAHEDRON)).toBe(true);
		expect(hasVolume(CUBE.map((v) => 1e6 + v))).toBe(true);
		// Repeated points are one, −0 and 0 the same.
		expect(buildHull([0, 0, 0, -0, 0, 0, 1, 0, 0, 0, 1, 0])).toBeNull();
		expect(made([...TETRAHEDRON, -0, -0, 0]).points).toHaveLength(12);
	});

	it('leaves out the planes of faces slimmer than a thousand millionth of their longest edge', () => {
		const sliver = (y: number) => [0, 0, 0, 1, 0, 0, 0.5, y, 0, 0.3, 0.4, 1];
		for (const axes of ORDERS)
			for (const [i, j, k] of ORDERS) {
				const put = (y: number) => {
					const p = turnedBy(sliver(y), axes);
					return [i, j, k, 3].flatMap((at) => p.slice(3 * at, 3 * at + 3));
				};
				expect(made(put(1.1e-9)).planes).toHaveLength(4 * 4);
				expect(made(put(0.9e-9)).planes).toHaveLength(4 * 3);
			}
	});

	it('is refused with coordinates that are not three a point, or no numbers', () => {
		expect(() => new Hull(new Float64Array(4), new Uint32Array(0), true)).toThrow(
			'4 coordinates are not three a point',
		);
		expect(() => new Hull(new Float64Array([0, 0, 0, 1, Infinity, 0]), new Uint32Array(0), true)).toThrow(
			'coordinate 4 is Infinity',
		);
	});

	it('scaled is the hull of the scaled points; by nothing, itself', () => {
		const hull = made(TETRAHEDRON);
		expect(hull.scaled(1, 1, 1)).toBe(hull);
		for (const [x, y, z] of [
			[2, 1, 1],
			[1, 3, 1],
			[1, 1, 4],
			[2, 3, 4],
		] as const) {
			const scaled = hull.scaled(x, y, z);
			expect(planesOf(scaled)).toEqual(planesOf(made(TETRAHEDRON.map((v, i) => v * [x, y, z][i % 3]))));
			expect([...scaled.bounds]).toEqual([0, 0, 0, 3 * x, 2 * y, z]);
		}
		expect([...hull.bounds]).toEqual([0, 0, 0, 3, 2, 1]);
		const flat = buildPolygon([
			[0, 0],
			[2, 0],
			[0, 2],
		]) as Hull;
		expect(flat.scaled(2, 1, 1).polygon).toBe(true);
	});

	it('one triangle that is moved has no planes of its own', () => {
		const triangle = new Hull(new Float64Array([0, 0, 0, 1, 0, 0, 0, 1, 0]), new Uint32Array(0), true, true);
		expect([triangle.movable, triangle.planes.length]).toEqual([true, 0]);
	});
});

describe('the farthest corner', () => {
	it('is found by looking at all of a few, and by walking over many, from wherever the last walk ended', () => {
		for (const n of [10, 32, 33, 200]) {
			const d = dice(n);
			// All of them on a ball, going round it from pole to pole: each is a corner.
			const onBall = Array.from({ length: n }, (_, i) => {
				const [y, turn] = [1 - (2 * i + 1) / n, 2.4 * i];
				const r = Math.sqrt(1 - y * y);
				return [r * Math.cos(turn), y, r * Math.sin(turn)];
			});
			const hull = made(onBall.flat());
			const corners = hull.points.length / 3;
			// A closed surface of triangles, and nothing within.
			expect([corners, hull.triangles.length / 3]).toEqual([n, 2 * n - 4]);
			for (let i = 0; i < 300; i++) {
				const u = d.direction();
				const along = (k: number) =>
					hull.points[3 * k]! * u[0] + hull.points[3 * k + 1]! * u[1] + hull.points[3 * k + 2]! * u[2];
				let most = -Infinity;
				for (let k = 0; k < corners; k++) most = Math.max(most, along(k));
				const at = hull.farthest(...u);
				expect(at).toBeLessThan(corners);
				expect(along(at)).toBe(most);
			}
		}
	});
});

describe('a polygon', () => {
	it('goes round counter-clockwise, each side with the plane that bounds it', () => {
		for (const ring of [
			[
				[0, 0],
				[4, 0],
				[4, 3],
				[0, 3],
			],
			[
				[4, 3],
				[0, 0],
				[0, 3],
				[2, 1],
				[4, 0],
				[2, 0],
				[4, 0],
			],
		] as [number, number][][]) {
			const hull = buildPolygon(ring) as Hull;
			expect([...hull.points]).toEqual([0, 0, 0, 4, 0, 0, 4, 3, 0, 0, 3, 0]);
			expect([...hull.planes].map((v) => v + 0)).toEqual([0, -1, 0, 0, 1, 0, 0, 4, 0, 1, 0, 3, -1, 0, 0, 0]);
			expect([hull.polygon, hull.triangles.length, hull.boundingRadius]).toEqual([true, 0, 5]);
		}
		// Those of one side are taken from below upward, whatever order they come in.
		const sides = buildPolygon([
			[0, 1],
			[0, -1],
			[2, 1],
			[2, -1],
		]) as Hull;
		expect([...sides.points]).toEqual([0, -1, 0, 2, -1, 0, 2, 1, 0, 0, 1, 0]);
		const slanted = buildPolygon([
			[1, 1],
			[4, 5],
			[0, 8],
		]) as Hull;
		expect([...slanted.planes.subarray(4, 8)].map((v) => Number(v.toFixed(9)) + 0)).toEqual([0.8, -0.6, 0, 0.2]);
	});

	it('needs an area above a ten thousand millionth of its extent squared', () => {
		const thin = (y: number): [number, number][] => [
			[0, 0],
			[2, 0],
			[1, y],
		];
		// Twice its area is 2y, its extent 2.
		expect(buildPolygon(thin(2.1e-10))).not.toBeNull();
		expect(buildPolygon(thin(1.9e-10))).toBeNull();
		// Measured from a corner, wherever it lies.
		const away = (y: number) => thin(y).map(([u, v]): [number, number] => [u + 4, v - 2]);
		expect(buildPolygon(away(2.1e-10))).not.toBeNull();
		expect(buildPolygon(away(1.9e-10))).toBeNull();
		expect(buildPolygon([])).toBeNull();
		expect(
			buildPolygon([
				[0, 0],
				[1, 0],
			]),
		).toBeNull();
		expect(
			buildPolygon([
				[0, 0],
				[1, 1],
				[2, 2],
				[5, 5],
			]),
		).toBeNull();
		// Far from the origin as near it.
		expect(buildPolygon(thin(1).map(([x, y]): [number, number] => [x + 1e6, y - 1e6]))).not.toBeNull();
	});

	it('of many sides is scanned for its farthest corner', () => {
		const hull = buildPolygon(
			Array.from({ length: 50 }, (_, i): [number, number] => [
				Math.cos((i * Math.PI) / 25),
				Math.sin((i * Math.PI) / 25),
			]),
		) as Hull;
		expect(hull.points.length).toBe(150);
		for (let i = 0; i < 50; i++) {
			const [x, y] = [Math.cos((i * Math.PI) / 25), Math.sin((i * Math.PI) / 25)];
			const at = 3 * hull.farthest(x, y, 0);
			expect([hull.points[at], hull.points[at + 1]]).toEqual([x, y]);
		}
	});
});
