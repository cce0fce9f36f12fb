/** How deep bodies stick in each other: by hand, against every direction, and whichever way the pair is told and turned. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Body, support } from '../geometry/body';
import { depthBetween, wayOutOf } from '../geometry/depth';
import { gap } from '../geometry/gjk';
import { rotationOf } from '../geometry/matrix';
import type { Shape, VolumeShape } from '../project/schema';
import { runs } from '../tests/runs';
import { bodyOf } from '../world/bodies';

const body = (
	shape: VolumeShape,
	at: [number, number, number] = [0, 0, 0],
	rotation: [number, number, number] = [0, 0, 0],
	flat = false,
): Body => bodyOf(shape as Shape, [1, 1, 1], flat).place(...at, rotationOf(rotation));

const box = (x: number, y: number, z: number): VolumeShape => ({ kind: 'box', size: [x, y, z] });
const ball = (radius: number): VolumeShape => ({ kind: 'sphere', radius });

describe('by hand', () => {
	it.each<[string, Body, Body, number]>([
		['boxes, by the least of three ways', body(box(2, 2, 2)), body(box(2, 2, 2), [1.5, 0.4, 0.2]), 0.5],
		['a box within a box, out by the nearest side', body(box(1, 1, 1)), body(box(10, 10, 10), [3, 0, 0]), 2.5],
		['boxes that touch', body(box(2, 2, 2)), body(box(2, 2, 2), [2, 0, 0]), 0],
		['boxes apart', body(box(2, 2, 2)), body(box(2, 2, 2), [3, 0, 0]), 0],
		['balls', body(ball(1)), body(ball(0.5), [1.2, 0, 0]), 0.3],
		['balls about one middle', body(ball(1)), body(ball(0.5)), 1.5],
		['a ball with its middle outside of a box', body(ball(1)), body(box(2, 2, 2), [1.6, 0, 0]), 0.4],
		['a ball with its middle in a box', body(ball(0.25)), body(box(2, 2, 2), [0.7, 0, 0]), 0.55],
		['a ball on the line of a capsule', body(ball(0.5)), body({ kind: 'capsule', radius: 0.2, height: 3 }), 0.7],
		[
			'crossed capsules',
			body({ kind: 'capsule', radius: 0.2, height: 3 }),
			body({ kind: 'capsule', radius: 0.3, height: 3 }, [0, 0, 0], [0, 0, 90]),
			0.5,
		],
		[
			'cylinders side by side',
			body({ kind: 'cylinder', radius: 1, height: 4 }),
			body({ kind: 'cylinder', radius: 0.5, height: 4 }, [1.2, 0.3, 0]),
			0.3,
		],
		[
			'a cylinder on a box, out by the top',
			body({ kind: 'cylinder', radius: 1, height: 2 }, [0, 1.9, 0], [30, 0, 0]),
			body(box(6, 2, 6)),
			0.1,
		],
		['a box on its edge', body(box(1, 1, 1), [0, 0.6, 0], [0, 0, 45]), body(box(9, 1, 9)), Math.SQRT1_2 - 0.1],
		[
			'a tetrahedron with its corner in a box',
			body({
				kind: 'hull',
				points: [
					[0, 0, 0],
					[1, 1, 0],
					[-1, 1, 1],
					[-1, 1, -1],
				],
			}),
			body(box(8, 1, 8), [0, -0.25, 0]),
			0.25,
		],
	])('%s', (_, a, b, depth) => {
		expect(depthBetween(a, b)).toBeCloseTo(depth, 8);
		expect(depthBetween(b, a)).toBeCloseTo(depth, 8);
	});

	it('in a plane out of it is no way', () => {
		const rect = (w: number, h: number): VolumeShape => ({ kind: 'rect', size: [w, h] });
		const flat = (shape: VolumeShape, at: [number, number, number] = [0, 0, 0], turn = 0) =>
			body(shape, at, [0, 0, turn], true);
		expect(depthBetween(flat(rect(2, 2)), flat(rect(2, 2), [1.5, 0.2, 0]), true)).toBeCloseTo(0.5, 10);
		expect(depthBetween(flat(rect(4, 0.5)), flat(rect(4, 0.5), [0, 0, 0], 90), true)).toBeCloseTo(2.25, 10);
		const capsule: VolumeShape = { kind: 'capsule', radius: 0.1, height: 2.2 };
		expect(depthBetween(flat(capsule), flat(capsule, [0, 0, 0], 90), true)).toBeCloseTo(1.2, 10);
		expect(depthBetween(flat(capsule), flat(capsule), true)).toBeCloseTo(0.2, 10);
		expect(depthBetween(flat({ kind: 'circle', radius: 1 }), flat(rect(4, 1), [0.3, 0, 0]), true)).toBeCloseTo(1.5, 10);
	});
});

const coordinate = fc.double({ min: -1.2, max: 1.2, noNaN: true });
const size = fc.double({ min: 0.1, max: 1.5, noNaN: true });
const place = fc.tuple(coordinate, coordinate, coordinate);
const turn = fc.tuple(
	fc.double({ min: -180, max: 180, noNaN: true }),
	fc.double({ min: -90, max: 90, noNaN: true }),
	fc.double({ min: -180, max: 180, noNaN: true }),
);
const shape: fc.Arbitrary<VolumeShape> = fc.oneof(
	fc.tuple(size, size, size).map(([x, y, z]) => box(x, y, z)),
	size.map(ball),
	fc.tuple(size, size).map(([radius, more]): VolumeShape => ({ kind: 'capsule', radius, height: 2 * radius + more })),
	fc.tuple(size, size).map(([radius, height]): VolumeShape => ({ kind: 'cylinder', radius, height })),
	fc.tuple(size, size, size, size).map(
		([a, b, c, d]): VolumeShape => ({
			kind: 'hull',
			points: [
				[0, 0, 0],
				[a, 0.2, 0],
				[0, b, 0.1],
				[0.1, 0, c],
				[d, d, d],
			],
		}),
	),
);
const one = fc.tuple(shape, place, turn).map(([s, p, r]) => body(s, p, r));

const far = new Float64Array(3);
const reach = (b: Body, x: number, y: number, z: number): number => {
	support(b, x, y, z, far, 0);
	return b.x * x + b.y * y + b.z * z + far[0] * x + far[1] * y + far[2] * z + b.r;
};
/** How far A has to go along a direction to be past B. */
const outAlong = (a: Body, b: Body, x: number, y: number, z: number): number =>
	reach(b, x, y, z) + reach(a, -x, -y, -z);

describe('of any two', () => {
	const times = { numRuns: runs(200), seed: 7, endOnFailure: true };
	it('is the least over all directions', () => {
		fc.assert(
			fc.property(one, one, (a, b) => {
				const depth = depthBetween(a, b);
				let least = Infinity;
				const n = 4000;
				for (let i = 0; i < n; i++) {
					// Evenly over the ball.
					const y = 1 - (2 * i + 1) / n;
					const r = Math.sqrt(1 - y * y);
					const at = i * Math.PI * (3 - Math.sqrt(5));
					least = Math.min(least, outAlong(a, b, r * Math.cos(at), y, r * Math.sin(at)));
				}
				expect(depth).toBeLessThanOrEqual(Math.max(0, least) + 1e-9);
				expect(depth).toBeGreaterThan(Math.max(0, least) - 0.15);
				// And there is a direction in which it is enough: no nearer than touching once it is moved so.
				if (gap(a, b) > 0) expect(depth).toBe(0);
			}),
			times,
		);
	});

	it('is the same whichever of them is moved, and wherever and however both stand', () => {
		fc.assert(
			fc.property(shape, shape, place, turn, turn, turn, place, (s, u, p, r, q, whole, to) => {
				const depth = depthBetween(body(s, [0, 0, 0], r), body(u, p, q));
				expect(depthBetween(body(u, p, q), body(s, [0, 0, 0], r))).toBeCloseTo(depth, 8);
				const m = rotationOf(whole);
				const a = body(s, [0, 0, 0], r);
				const b = body(u, p, q);
				for (const one of [a, b]) {
					const [x, y, z] = [one.x, one.y, one.z];
					const own = Float64Array.from(one.m);
					const turned = new Float64Array(9);
					for (let i = 0; i < 3; i++)
						for (let j = 0; j < 3; j++)
							turned[3 * i + j] = [0, 1, 2].reduce((sum, k) => sum + m[3 * i + k] * own[3 * k + j], 0);
					one.place(
						m[0] * x + m[1] * y + m[2] * z + to[0],
						m[3] * x + m[4] * y + m[5] * z + to[1],
						m[6] * x + m[7] * y + m[8] * z + to[2],
						turned,
					);
				}
				expect(depthBetween(a, b)).toBeCloseTo(depth, 7);
			}),
			times,
		);
	});

	it('is as long as the move that parts them, and a shorter one the same way does not', () => {
		fc.assert(
			fc.property(one, one, (a, b) => {
				const { depth, way } = wayOutOf(a, b);
				const moved = (by: number) => a.clone().place(a.x + by * way[0], a.y + by * way[1], a.z + by * way[2], a.m);
				expect(Math.hypot(...way)).toBeCloseTo(1, 9);
				if (depth === 0) return;
				expect(outAlong(a, b, ...way)).toBeCloseTo(depth, 6);
				expect(gap(moved(depth + 1e-6), b)).toBeGreaterThan(0);
				expect(gap(moved(0.98 * depth), b)).toBe(0);
			}),
			times,
		);
	});
});
