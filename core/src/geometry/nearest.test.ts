/** Nearest points and gaps of segments, by hand, in every region a body has; each scene turned and moved too. */
import { describe, expect, it } from 'vitest';
import { FRAMES } from '../tests/frames';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, sphereBody } from './body';
import { gap } from './gjk';
import { buildHull, buildPolygon, Hull } from './hull';
import { rotationOf, turned } from './matrix';
import { depthInHull, holdsSpot, nearestOnTriangle, nearestPoint, spot } from './nearest-point';
import { segmentGap } from './segment-gap';

type V = [number, number, number];
/** Figures of flat scenes stay in their plane. */
const FLAT: [V, V][] = [
	[
		[0, 0, 0],
		[0, 0, 0],
	],
	[
		[3, -2, 0],
		[0, 0, 90],
	],
	[
		[-7, 1, 0],
		[0, 0, -37],
	],
];
const wedge = () => buildHull([0, 0, 0, 3, 0, 0, 0, 3, 0, 0, 0, 3] as never) as Hull;
const near = (got: ArrayLike<number>, want: ArrayLike<number>, digits: number, label = '') => {
	for (let k = 0; k < want.length; k++)
		expect(got[k], `${label} ${[...(got as number[])]}`).toBeCloseTo(want[k], digits);
};

/** Holds the nearest point of a body to `p`, in the body's own axes, against `want`. */
function nearest(make: () => Body, p: V, want: V, digits = 9, frames = FRAMES): void {
	for (const [at, turn] of frames) {
		const m = rotationOf(turn);
		const body = make().place(...at, m);
		const world = (v: V) => turned(m, ...v).map((c, k) => c + at[k]) as V;
		const out = new Float64Array(3);
		const distance = nearestPoint(body, ...world(p), out);
		expect(distance).toBeCloseTo(Math.hypot(p[0] - want[0], p[1] - want[1], p[2] - want[2]), digits);
		near(out, world(want), digits);
		// Held is what lies in it, or within a micrometre of it.
		spot.set(world(p));
		expect(holdsSpot(body)).toBe(distance <= 1e-6);
	}
}

describe('the nearest point', () => {
	it('of a sphere lies toward it, or is the point itself inside', () => {
		nearest(() => sphereBody(2), [3, 4, 0], [1.2, 1.6, 0]);
		nearest(() => sphereBody(2), [0, 0, -5], [0, 0, -2]);
		nearest(() => sphereBody(2), [0.5, 1, 0.5], [0.5, 1, 0.5]);
		nearest(() => sphereBody(2), [2, 0, 0], [2, 0, 0]);
	});

	it('of a box lies on a side, an edge or a corner', () => {
		const box = () => boxBody(2, 4, 6);
		for (const s of [-1, 1]) {
			nearest(box, [s * 3, 1, 2], [s, 1, 2]);
			nearest(box, [0.5, s * 3, 2], [0.5, s * 2, 2]);
			nearest(box, [0.5, 1, s * 5], [0.5, 1, s * 3]);
			nearest(box, [s * 3, s * 5, 1], [s, s * 2, 1]);
			nearest(box, [s * 3, -s * 5, s * 9], [s, -s * 2, s * 3]);
		}
		nearest(box, [0.9, -1.9, 2.9], [0.9, -1.9, 2.9]);
		nearest(box, [1, 2, 3], [1, 2, 3]);
	});

	it('of a capsule lies on its side or its round ends', () => {
		const capsule = () => capsuleBody(1, 6);
		for (const s of [-1, 1]) {
			nearest(capsule, [3, s * 1.9, 0], [1, s * 1.9, 0]);
			nearest(capsule, [0, s * 7, 0], [0, s * 3, 0]);
			nearest(capsule, [3, s * 6, 0], [0.6, s * 2.8, 0]);
			nearest(capsule, [0, s * 2.5, 0.5], [0, s * 2.5, 0.5]);
		}
	});

	it('of a cylinder lies on its side, its ends or its rims', () => {
		const cylinder = () => cylinderBody(1, 4);
		for (const s of [-1, 1]) {
			nearest(cylinder, [3, s, 4], [0.6, s, 0.8]);
			nearest(cylinder, [0.5, s * 5, 0.2], [0.5, s * 2, 0.2]);
			nearest(cylinder, [-3, s * 5, 4], [-0.6, s * 2, 0.8]);
			nearest(cylinder, [0.6, s * 1.9, 0.7], [0.6, s * 1.9, 0.7]);
			nearest(cylinder, [0, s * 5, 0], [0, s * 2, 0]);
		}
	});

	it('of a hull lies on a side, an edge or a corner', () => {
		const hull = () => hullBody(wedge());
		nearest(hull, [1, 1, -2], [1, 1, 0], 7);
		nearest(hull, [1, -2, 0.5], [1, 0, 0.5], 7);
		nearest(hull, [2, 2, 2], [1, 1, 1], 7);
		nearest(hull, [1, -2, -2], [1, 0, 0], 7);
		nearest(hull, [-1, -2, -2], [0, 0, 0], 7);
		nearest(hull, [9, -1, -1], [3, 0, 0], 7);
		nearest(hull, [3, 3, -1], [1.5, 1.5, 0], 7);
		nearest(hull, [0.5, 0.5, 0.5], [0.5, 0.5, 0.5]);
		// Just outside, off an edge: by the planes alone it would still be held.
		const body = hull();
		for (const [x, held] of [
			[0.6e-6, true],
			[0.8e-6, false],
		] as const) {
			spot.set([1, -x, -x]);
			expect(holdsSpot(body)).toBe(held);
		}
		spot.set([1, -1e-6, 1]);
		expect(holdsSpot(body)).toBe(true);
		spot.set([1, -1.01e-6, 1]);
		expect(holdsSpot(body)).toBe(false);
		spot.set([9, 0, 0]);
		expect(holdsSpot(body)).toBe(false);
	});

	it('of a polygon lies on it, a side or a corner, in its plane', () => {
		const polygon = () =>
			hullBody(
				buildPolygon([
					[0, 0],
					[4, 0],
					[4, 2],
					[0, 2],
				]) as Hull,
			);
		nearest(polygon, [1, 1, 0], [1, 1, 0], 9, FLAT);
		nearest(polygon, [1, -3, 0], [1, 0, 0], 9, FLAT);
		nearest(polygon, [9, 1, 0], [4, 1, 0], 9, FLAT);
		nearest(polygon, [-2, 5, 0], [0, 2, 0], 9, FLAT);
		nearest(polygon, [2, 9, 0], [2, 2, 0], 9, FLAT);
		nearest(polygon, [-2, 1, 0], [0, 1, 0], 9, FLAT);
		nearest(polygon, [9, 9, 0], [4, 2, 0], 9, FLAT);
	});

	it('says how deep in a hull, or how far outside of its planes', () => {
		const hull = wedge();
		expect(depthInHull(hull, 1, 1, 0.5)).toBeCloseTo(-0.5 / Math.sqrt(3), 9);
		expect(depthInHull(hull, 1, 1, -2)).toBeCloseTo(2, 12);
		expect(depthInHull(hull, 1, 0, 1)).toBeCloseTo(0, 12);
	});
});

describe('the nearest point of a triangle', () => {
	const triangle = new Float64Array([9, 9, 0, 0, 0, 4, 0, 0, 0, 3, 0, 7]);
	const to = (x: number, y: number, z: number) => {
		const out = new Float64Array(3);
		const distance = nearestOnTriangle(triangle, 2, x, y, z, out);
		expect(distance).toBeCloseTo(Math.hypot(x - out[0]!, y - out[1]!, z - out[2]!), 12);
		return [...out].map((v) => Number(v.toFixed(9)) + 0);
	};

	it('is of its face, one of its sides or one of its corners', () => {
		expect(to(1, 1, 5)).toEqual([1, 1, 0]);
		expect(to(1, 1, -5)).toEqual([1, 1, 0]);
		expect(to(1, -2, 1)).toEqual([1, 0, 0]);
		expect(to(-2, 1, 1)).toEqual([0, 1, 0]);
		// Past the slanting side: its foot there.
		expect(to(4, 3, 0)).toEqual([2.56, 1.08, 0]);
		expect(to(4, 3, 2)).toEqual([2.56, 1.08, 0]);
		expect(to(-1, -1, 2)).toEqual([0, 0, 0]);
		expect(to(6, -1, 2)).toEqual([4, 0, 0]);
		expect(to(7, 1, 0)).toEqual([4, 0, 0]);
		expect(to(-1, 6, 2)).toEqual([0, 3, 0]);
		expect(to(1, 7, 0)).toEqual([0, 3, 0]);
		expect(to(0, 0, 0)).toEqual([0, 0, 0]);
		expect(to(4, 0, 1)).toEqual([4, 0, 0]);
		expect(to(2, 1.5, 0)).toEqual([2, 1.5, 0]);
	});

	it('is straight below on its face, wherever that lies', () => {
		for (const t of [
			[1, 2, 3, 4, 2.5, 3.5, 2, 5, 7],
			[-3, 1, 8, -5, 4, 6, -4, -2, 9],
			[100, -50, 20, 103, -52, 26, 98, -47, 25],
		]) {
			const u = [0, 1, 2].map((k) => t[k + 3]! - t[k]!);
			const w = [0, 1, 2].map((k) => t[k + 6]! - t[k]!);
			const n = [u[1]! * w[2]! - u[2]! * w[1]!, u[2]! * w[0]! - u[0]! * w[2]!, u[0]! * w[1]! - u[1]! * w[0]!];
			const size = Math.hypot(...n);
			for (const [a, b] of [
				[0.2, 0.3],
				[0.1, 0.8],
				[0.7, 0.1],
			] as const)
				for (const high of [0.7, -2.5]) {
					const foot = [0, 1, 2].map((k) => t[k]! + a * u[k]! + b * w[k]!);
					const p = foot.map((v, k) => v + (high * n[k]!) / size) as V;
					const out = new Float64Array(3);
					expect(nearestOnTriangle(Float64Array.from(t), 0, ...p, out)).toBeCloseTo(Math.abs(high), 9);
					near(out, foot, 9);
					// As a body it is the same.
					const body = hullBody(new Hull(Float64Array.from(t), new Uint32Array(0), false, true));
					body.boundingRadius = 200;
					expect(nearestPoint(body, ...p, out)).toBeCloseTo(Math.abs(high), 9);
					near(out, foot, 9);
				}
		}
	});

	it('is the nearest of all that a fine grid of it has', () => {
		for (let seed = 1; seed <= runs(200); seed++) {
			const d = dice(seed);
			const t = Float64Array.from({ length: 9 }, () => d.between(-1, 1));
			const p: V = [d.between(-2, 2), d.between(-2, 2), d.between(-2, 2)];
			const out = new Float64Array(3);
			const distance = nearestOnTriangle(t, 0, ...p, out);
			let least = Infinity;
			for (let i = 0; i <= 30; i++)
				for (let j = 0; i + j <= 30; j++) {
					const at = [0, 1, 2].map((k) => t[k]! + (i / 30) * (t[k + 3]! - t[k]!) + (j / 30) * (t[k + 6]! - t[k]!));
					least = Math.min(least, Math.hypot(...at.map((v, k) => v - p[k]!)));
				}
			expect(distance).toBeLessThanOrEqual(least + 1e-12);
			expect(distance).toBeGreaterThan(least - 0.12);
		}
	});
});

describe('the gap of a segment', () => {
	function between(make: () => Body, from: V, to: V, want: number, digits = 9): void {
		for (const [at, turn] of FRAMES) {
			const m = rotationOf(turn);
			const body = make().place(...at, m);
			for (const [a, b] of [
				[from, to],
				[to, from],
			] as const) {
				const start = turned(m, ...a).map((c, k) => c + at[k]) as V;
				const way = turned(m, b[0] - a[0], b[1] - a[1], b[2] - a[2]);
				const segment = sphereBody(0).place(...start, rotationOf(undefined));
				[segment.sx, segment.sy, segment.sz] = way;
				expect(segmentGap(segment, body)).toBeCloseTo(want, digits);
			}
		}
	}

	it('to a sphere is from the nearest of its points', () => {
		between(() => sphereBody(1), [-5, 3, 0], [5, 3, 0], 2);
		between(() => sphereBody(1), [3, 4, 0], [9, 12, 0], 4);
		between(() => sphereBody(1), [-3, 0.5, 0], [3, 0.5, 0], 0);
		between(() => sphereBody(1), [0, 0, 4], [0, 0, 4], 3);
	});

	it('to a capsule: crossing, along it, past its ends, and of no length', () => {
		const capsule = () => capsuleBody(1, 6);
		between(capsule, [-5, 1, 3], [5, 1, 3], 2);
		between(capsule, [3, -1, 0], [3, 1, 0], 2);
		between(capsule, [3, -9, 0], [3, 9, 0], 2);
		between(capsule, [3, 6, 0], [3, 9, 0], 4);
		between(capsule, [3, -6, 0], [9, -6, 0], 4);
		between(capsule, [0, 5, -3], [0, 5, 3], 2);
		between(capsule, [3, 6, 0], [3, 6, 0], 4);
		between(capsule, [3, 0, 0], [3, 0, 0], 2);
		between(capsule, [-3, 0, 0], [3, 1, 0], 0);
		between(() => capsuleBody(1, 2), [-5, 3, 0], [5, 3, 0], 2);
		between(() => capsuleBody(1, 2), [0, 3, 0], [0, 3, 0], 2);
		between(capsule, [2, 2, 0], [6, 9, 0], 1);
		between(capsule, [9, -8, 0], [2, -2, 0], 1);
	});

	it('to a box and to a cylinder: from an end, from between, through them', () => {
		const box = () => boxBody(2, 4, 6);
		between(box, [3, 0, 0], [9, 5, 0], 2);
		between(box, [-9, 4, 0], [9, 4, 0], 2);
		between(box, [-5, 0, 0], [5, 0, 0], 0);
		between(box, [4, 5, 0], [4, 5, 0], Math.hypot(3, 3));
		between(box, [5, 2, 0], [1, 6, 0], Math.SQRT2 * 2);
		between(box, [1, 5, 9], [1, 5, -9], 3);
		between(box, [-4, 6, 7], [-4, 6, 9], Math.hypot(3, 4, 4));
		const cylinder = () => cylinderBody(1, 4);
		between(cylinder, [-9, 4, 0], [9, 4, 0], 2);
		between(cylinder, [3, -9, 4], [3, 9, 4], 4);
		between(cylinder, [-5, 1, 3], [5, 1, 3], 2);
		between(cylinder, [4, 6, 0], [4, 9, 0], 5);
		between(cylinder, [-5, 1, 0.5], [5, 1, 0.5], 0);
		between(cylinder, [4, -6, 0], [4, -6, 0], 5);
	});

	it('to anything is what the general method says, and that of no point of it is less', () => {
		for (let seed = 1; seed <= runs(300); seed++) {
			const d = dice(seed);
			const body = d.body(1);
			const segment = sphereBody(0).place(d.between(-3, 3), d.between(-3, 3), d.between(-3, 3), rotationOf(undefined));
			const [x, y, z] = d.direction();
			const length = d.of([0, d.between(0, 6)]);
			[segment.sx, segment.sy, segment.sz] = [x * length, y * length, z * length];
			const found = segmentGap(segment, body);
			expect(Math.abs(found - gap(segment, body))).toBeLessThan(1e-6);
			const out = new Float64Array(3);
			let least = Infinity;
			for (let i = 0; i <= 100; i++) {
				const t = i / 100;
				least = Math.min(
					least,
					nearestPoint(body, segment.x + t * segment.sx, segment.y + t * segment.sy, segment.z + t * segment.sz, out),
				);
			}
			expect(found).toBeLessThanOrEqual(least + 1e-7);
			expect(found).toBeGreaterThanOrEqual(least - 0.04);
		}
	});
});
