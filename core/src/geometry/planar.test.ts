/** What polygons, segments and discs of a plane share, and its point nearest to the origin. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { nearestInBoth, nearestInDisc, outline, type Point2 } from './planar';

const square = (x: number, y: number, half = 1): Point2[] => [
	[x - half, y - half],
	[x + half, y - half],
	[x + half, y + half],
	[x - half, y + half],
];
const LEVEL = 1e-9;
const at = (p: Point2 | null) => p?.map((v) => Number(v.toFixed(9)) + 0) ?? null;

describe('an outline', () => {
	it('goes round counter-clockwise, without what lies inside or on a side', () => {
		expect(
			outline([
				[0, 0],
				[2, 2],
				[2, 0],
				[1, 1],
				[0, 2],
				[1, 0],
				[2, 1],
			]),
		).toEqual([
			[0, 0],
			[2, 0],
			[2, 2],
			[0, 2],
		]);
		expect(
			outline([
				[2, 2],
				[0, 2],
				[0, 0],
				[2, 0],
				[2, 0],
			]),
		).toEqual([
			[0, 0],
			[2, 0],
			[2, 2],
			[0, 2],
		]);
	});

	it('of few points, or of points in a line, is those at the ends', () => {
		expect(outline([[1, 2]])).toEqual([[1, 2]]);
		expect(
			outline([
				[3, 2],
				[1, 2],
			]),
		).toEqual([
			[3, 2],
			[1, 2],
		]);
		expect(
			outline([
				[3, 0],
				[1, 0],
				[2, 0],
			]),
		).toEqual([
			[1, 0],
			[3, 0],
		]);
		expect(
			outline([
				[1, 1],
				[1, 1],
				[1, 1],
			]),
		).toEqual([
			[1, 1],
			[1, 1],
		]);
	});
});

describe('two polygons', () => {
	it('share what is nearest to the origin: inside, on a side, at a corner', () => {
		expect(at(nearestInBoth(square(0, 0), square(0.5, 0.5), LEVEL))).toEqual([0, 0]);
		expect(at(nearestInBoth(square(3, 0), square(4, 0.5), LEVEL))).toEqual([3, 0]);
		expect(at(nearestInBoth(square(3, 3), square(4, 4), LEVEL))).toEqual([3, 3]);
		expect(at(nearestInBoth(square(-3, 2), square(-4, 2.5), LEVEL))).toEqual([-3, 1.5]);
		expect(at(nearestInBoth(square(0, 0, 5), square(-3, 0), LEVEL))).toEqual([-2, 0]);
	});

	it('share what touches, and what is apart by no more than the level', () => {
		expect(at(nearestInBoth(square(0, 0), square(2, 0), LEVEL))).toEqual([1, 0]);
		expect(at(nearestInBoth(square(0, 0), square(2, 2), LEVEL))).toEqual([1, 1]);
		expect(nearestInBoth(square(0, 0), square(2.05, 0), 0.1)).not.toBeNull();
		expect(nearestInBoth(square(0, 0), square(2.05, 0), 0.04)).toBeNull();
		expect(nearestInBoth(square(0, 0), square(0, -2.05), 0.1)).not.toBeNull();
		expect(nearestInBoth(square(0, 0), square(0, -2.05), 0.04)).toBeNull();
		expect(nearestInBoth(square(0, 0), square(9, 0), LEVEL)).toBeNull();
	});

	it('share the same whichever is named first, and what a fine grid of points says', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 2 ** 31 }), (seed) => {
				const d = dice(seed);
				const polygon = (n: number) =>
					outline(Array.from({ length: n }, (): Point2 => [d.between(-2, 2), d.between(-2, 2)]));
				const shift = (list: Point2[], x: number, y: number) => list.map(([a, b]): Point2 => [a + x, b + y]);
				const [x, y] = [d.between(-2, 2), d.between(-2, 2)];
				const A = shift(polygon(d.of([3, 4, 6])), x, y);
				const B = shift(polygon(d.of([2, 3, 5])), x, y);
				const found = nearestInBoth(A, B, LEVEL);
				const other = nearestInBoth(B, A, LEVEL);
				expect(found === null).toBe(other === null);
				const holds = (list: Point2[], p: Point2, room: number) =>
					list.every(([ax, ay], i) => {
						const [bx, by] = list[(i + 1) % list.length] as Point2;
						return ((bx - ax) * (p[1] - ay) - (by - ay) * (p[0] - ax)) / Math.hypot(bx - ax, by - ay) >= -room;
					});
				if (found) {
					expect(Math.hypot(...found)).toBeCloseTo(Math.hypot(...(other as Point2)), 6);
					expect(holds(A, found, 1e-7)).toBe(true);
					if (B.length > 2) expect(holds(B, found, 1e-7)).toBe(true);
				}
				if (B.length < 3) return;
				for (let i = -20; i <= 20; i++)
					for (let j = -20; j <= 20; j++) {
						const p: Point2 = [i / 5, j / 5];
						if (holds(A, p, 0) && holds(B, p, 0))
							expect(Math.hypot(...(found as Point2))).toBeLessThanOrEqual(Math.hypot(...p) + 1e-7);
					}
			}),
			{ numRuns: runs(200) },
		);
	});
});

describe('segments and points', () => {
	it('are clipped by a polygon', () => {
		expect(
			at(
				nearestInBoth(
					square(0, 0),
					[
						[-3, 0.5],
						[3, 0.5],
					],
					LEVEL,
				),
			),
		).toEqual([0, 0.5]);
		expect(
			at(
				nearestInBoth(
					[
						[0.5, 0.25],
						[3, 0.25],
					],
					square(0, 0),
					LEVEL,
				),
			),
		).toEqual([0.5, 0.25]);
		expect(
			at(
				nearestInBoth(
					square(3, 0),
					[
						[0, 0.5],
						[9, 0.5],
					],
					LEVEL,
				),
			),
		).toEqual([2, 0.5]);
		expect(at(nearestInBoth(square(0, 0), [[0.5, 0.25]], LEVEL))).toEqual([0.5, 0.25]);
		expect(nearestInBoth(square(0, 0), [[1.5, 0.25]], LEVEL)).toBeNull();
		expect(
			nearestInBoth(
				square(0, 0),
				[
					[2, 0],
					[3, 1],
				],
				LEVEL,
			),
		).toBeNull();
	});

	it('that cross do so in one point', () => {
		expect(
			at(
				nearestInBoth(
					[
						[1, -1],
						[1, 3],
					],
					[
						[0, 2],
						[4, 2],
					],
					LEVEL,
				),
			),
		).toEqual([1, 2]);
		expect(
			at(
				nearestInBoth(
					[
						[0, 0],
						[4, 4],
					],
					[
						[4, 0],
						[0, 4],
					],
					LEVEL,
				),
			),
		).toEqual([2, 2]);
		expect(
			at(
				nearestInBoth(
					[
						[2, 0],
						[2, 4],
					],
					[
						[0, 1],
						[4, 3],
					],
					LEVEL,
				),
			),
		).toEqual([2, 2]);
	});

	it('that lie along each other share a stretch, and its point nearest to the origin', () => {
		const along = (a: number, b: number, c: number, e: number) =>
			at(
				nearestInBoth(
					[
						[a, 1],
						[b, 1],
					],
					[
						[c, 1],
						[e, 1],
					],
					LEVEL,
				),
			);
		expect(along(-3, 3, -1, 5)).toEqual([0, 1]);
		expect(along(1, 5, 2, 9)).toEqual([2, 1]);
		expect(along(1, 5, 9, 2)).toEqual([2, 1]);
		expect(along(5, 1, 2, 9)).toEqual([2, 1]);
		expect(along(-9, -1, -5, -2)).toEqual([-2, 1]);
		expect(along(-9, -3, -5, 4)).toEqual([-3, 1]);
		// Apart along their line: where the first ends toward the other.
		expect(along(1, 2, 4, 5)).toEqual([4, 1]);
		expect(
			at(
				nearestInBoth(
					[[2, 3]],
					[
						[0, 0],
						[4, 0],
					],
					LEVEL,
				),
			),
		).toEqual([2, 3]);
		expect(
			at(
				nearestInBoth(
					[
						[1, 0],
						[1, 4],
					],
					[
						[1, 2],
						[1, 6],
					],
					LEVEL,
				),
			),
		).toEqual([1, 2]);
	});
});

describe('a polygon and a disc', () => {
	const disc = (polygon: Point2[], centre: Point2, radius: number, level = LEVEL) =>
		at(nearestInDisc(polygon, centre, radius, level));

	it('share what is nearest to the origin: of the polygon, of the disc, or where their rims cross', () => {
		expect(disc(square(0, 0), [0.5, 0], 1)).toEqual([0, 0]);
		// The polygon's nearest point lies in the disc.
		expect(disc(square(3, 0), [2, 0], 1)).toEqual([2, 0]);
		// The disc's nearest point lies in the polygon.
		expect(disc(square(3, 0, 2), [3, 0], 1)).toEqual([2, 0]);
		expect(disc(square(0, 0, 9), [3, 4], 1)).toEqual([2.4, 3.2]);
		expect(disc(square(9, 0, 8), [3, 4], 1)).toEqual([2.4, 3.2]);
		// Neither: the rim crosses the side x = 2.
		expect(disc(square(3, 3), [2, 0], 2.5)).toEqual([2, 2]);
		expect(disc(square(3, 0), [3, 2], 2)).toEqual([2, 0.267949192]);
		expect(
			disc(
				[
					[2, -9],
					[2, 9],
				],
				[3, 4],
				Math.SQRT2,
			),
		).toEqual([2, 3]);
	});

	it('share a corner in the disc, a side through it, and nothing where they are apart', () => {
		expect(
			disc(
				[
					[1, 1],
					[5, 5],
				],
				[3, 3],
				1,
			),
		).toEqual([Number((3 - Math.SQRT1_2).toFixed(9)), Number((3 - Math.SQRT1_2).toFixed(9))]);
		expect(
			disc(
				[
					[3, 3.5],
					[5, 9],
				],
				[3, 3],
				1,
			),
		).toEqual([3, 3.5]);
		expect(disc(square(9, 9), [3, 3], 1)).toBeNull();
		expect(
			disc(
				[
					[3, 4.05],
					[3, 9],
				],
				[3, 3],
				1,
			),
		).toBeNull();
		expect(
			disc(
				[
					[3, 4.05],
					[3, 9],
				],
				[3, 3],
				1,
				0.1,
			),
		).toEqual([3, 4.05]);
		expect(disc([[3, 3]], [3, 3.5], 1)).toEqual([3, 3]);
	});
});
