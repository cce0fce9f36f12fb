/** Meshes by hand: rays from every side, nearest points and gaps, what is level with a start; each scene turned and moved too. */
import { describe, expect, it } from 'vitest';
import { type Body, boxBody, capsuleBody, cylinderBody, meshBody, sphereBody } from '../geometry/body';
import { multiply, rotationOf, turned } from '../geometry/matrix';
import { FRAMES } from '../tests/frames';
import { gapBetween, gapToSegment, hit, nearestOn, rayOn, sweepOn } from './cast';
import { lastTriangle, Mesh, pointToMesh } from './mesh';
import { boundsInMesh, cornerBounds, Triangle, toLocalBox } from './mesh-triangle';

type V = [number, number, number];
/** In every frame: what puts bodies, points and directions given in the mesh's axes into it. */
const frames = (
	test: (to: { put: (body: Body, at?: V, turn?: V) => Body; point: (v: V) => V; way: (v: V) => V }) => void,
) => {
	for (const [at, turn] of FRAMES) {
		const m = rotationOf(turn);
		const point = (v: V) => turned(m, ...v).map((c, k) => c + at[k]) as V;
		test({
			point,
			way: (v) => turned(m, ...(v.map((c) => c / Math.hypot(...v)) as V)) as V,
			put: (body, p = [0, 0, 0], own = [0, 0, 0]) => body.place(...point(p), multiply(m, rotationOf(own))),
		});
	}
};
const near = (got: ArrayLike<number>, want: readonly number[], digits = 7) => {
	for (const [k, v] of want.entries()) expect(got[k], `${[...(got as number[])]} for ${want}`).toBeCloseTo(v, digits);
};

/** The sides of a cube of 2 m, two triangles each, turned outward. */
const CUBE_CORNERS = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].flatMap((z) => [x, y, z])));
const CUBE_SIDES = [
	0, 1, 3, 0, 3, 2, 4, 6, 7, 4, 7, 5, 0, 4, 5, 0, 5, 1, 2, 3, 7, 2, 7, 6, 0, 2, 6, 0, 6, 4, 1, 5, 7, 1, 7, 3,
];
const cube = () => new Mesh(CUBE_CORNERS, CUBE_SIDES);
const SHEET = [-4, 0, -4, 4, 0, -4, 4, 0, 4, -4, 0, 4];
const sheet = (y = 0) =>
	new Mesh(
		SHEET.map((v, i) => (i % 3 === 1 ? y : v)),
		[0, 1, 2, 0, 2, 3],
	);

describe('a mesh', () => {
	it('is refused with lists that are not of threes, no numbers and corners that are not there', () => {
		expect(() => new Mesh([0, 0], [])).toThrow('2 coordinates are not three a corner');
		expect(() => new Mesh([0, 0, 0], [0, 0])).toThrow('2 corners are not three a triangle');
		expect(() => new Mesh([0, 0, 0, 0, Number.NaN, 0], [])).toThrow('coordinate 4 is NaN');
		expect(() => new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2, 0, 1, 3])).toThrow(
			'corner 3 of triangle 1 is not there',
		);
		expect(() => new Mesh([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, -1])).toThrow('corner -1 of triangle 0');
	});

	it('leaves out triangles without area, and holds the rest', () => {
		const corners = [0, 0, 0, 1, 0, 0, 2, 0, 0, 0, 3, 4];
		expect(new Mesh(corners, [0, 1, 2, 0, 0, 1, 0, 1, 3]).count).toBe(1);
		expect(new Mesh([0, 0, 0, 1, 0, 0, 0.5, 2e-13, 0], [0, 1, 2]).count).toBe(1);
		expect(new Mesh([0, 0, 0, 1, 0, 0, 0.5, 0.9e-13, 0], [0, 1, 2]).count).toBe(0);
		const mesh = new Mesh(corners, [0, 1, 2, 0, 1, 3]);
		expect([...mesh.bounds]).toEqual([0, 0, 0, 1, 3, 4]);
		expect(mesh.boundingRadius).toBe(5);
		expect([...mesh.corners]).toEqual([0, 0, 0, 1, 0, 0, 0, 3, 4]);
		const none = new Mesh([], []);
		expect([none.count, none.boundingRadius, [...none.bounds]]).toEqual([0, 0, [0, 0, 0, 0, 0, 0]]);
		expect(none.castRay(0, 0, 0, 1, 0, 0, 0, 10)).toBe(Infinity);
		expect(none.nearestPoint(0, 0, 0, Infinity, new Float64Array(3))).toBe(Infinity);
		expect(cube().count).toBe(12);
		expect([...cube().bounds]).toEqual([-1, -1, -1, 1, 1, 1]);
	});

	it('is hit from every side, from within too, by the triangle that lies there', () => {
		const mesh = cube();
		for (let axis = 0; axis < 3; axis++)
			for (const s of [-1, 1]) {
				const at = (v: number, a = 0.3, b = -0.2): V => {
					const p: V = [a, a, a];
					p[axis] = s * v;
					p[(axis + 1) % 3] = b;
					return p;
				};
				const way = at(-1, 0, 0);
				expect(mesh.castRay(...at(5), ...way, 0, 100)).toBeCloseTo(4, 12);
				const normal = new Float64Array(3);
				mesh.normal(lastTriangle, normal);
				near(normal, at(1, 0, 0), 12);
				expect(mesh.castRay(...at(0.5), ...way, 0, 100)).toBeCloseTo(1.5, 12);
				mesh.normal(lastTriangle, normal);
				near(normal, at(-1, 0, 0), 12);
				expect(mesh.castRay(...at(-5), ...way, 0, 100)).toBe(Infinity);
				expect(lastTriangle).toBe(-1);
				expect(mesh.castRay(...at(5, 1.01), ...way, 0, 100)).toBe(Infinity);
				expect(mesh.castRay(...at(5, 0.3, -1.01), ...way, 0, 100)).toBe(Infinity);
				// Aslant, more along one axis than along the others.
				const slant = at(-1, -0.4, 0.3).map((v) => v / Math.hypot(1, 0.4, 0.3)) as V;
				const start = at(1, 0.3, -0.2).map((v, k) => v - 3 * slant[k]!) as V;
				expect(mesh.castRay(...start, ...slant, 0, 100)).toBeCloseTo(3, 12);
			}
	});

	it('counts hits after one distance and up to another, both ends told', () => {
		const mesh = cube();
		const cast = (after: number, length: number) => mesh.castRay(0.3, 0.2, 5, 0, 0, -1, after, length);
		expect(cast(0, 4)).toBe(4);
		expect(cast(0, 3.999999)).toBe(Infinity);
		expect(cast(3.999999, 10)).toBe(4);
		expect(cast(4, 10)).toBeCloseTo(6, 12);
		expect(cast(4, 5.9)).toBe(Infinity);
		expect(cast(6.000001, 10)).toBe(Infinity);
	});

	it('is missed along its plane, and hit however flat it is met', () => {
		const flat = sheet();
		expect(flat.castRay(-9, 0, 0.3, 1, 0, 0, 0, 100)).toBe(Infinity);
		const a = 1e-6;
		expect(flat.castRay(-9, 9e-6, 0.3, Math.cos(a), -Math.sin(a), 0, 0, 100)).toBeCloseTo(9, 5);
		const slope = new Mesh([-5, -5, -5, 5, -5, -5, 0, 5, 5], [0, 1, 2]);
		expect(slope.castRay(0, -1, -1, 0, Math.SQRT1_2, Math.SQRT1_2, 0, 100)).toBe(Infinity);
	});

	it('has its nearest point on a face, an edge or a corner, no farther than the limit', () => {
		const mesh = cube();
		const out = new Float64Array(3);
		for (const [p, q] of [
			[
				[0.3, 3, 0.2],
				[0.3, 1, 0.2],
			],
			[
				[3, 0.5, 3],
				[1, 0.5, 1],
			],
			[
				[-2, -3, -4],
				[-1, -1, -1],
			],
			[
				[0.9, 0, 0],
				[1, 0, 0],
			],
		] as [V, V][]) {
			const d = Math.hypot(...p.map((v, k) => v - q[k]!));
			expect(mesh.nearestPoint(...p, Infinity, out)).toBeCloseTo(d, 12);
			near(out, q, 12);
			expect(mesh.nearestPoint(...p, d + 1e-9, out)).toBeCloseTo(d, 12);
			out.fill(7);
			expect(mesh.nearestPoint(...p, d - 1e-3, out)).toBe(Infinity);
			expect([...out]).toEqual([7, 7, 7]);
			frames(({ put, point }) => {
				const body = put(meshBody(mesh));
				expect(pointToMesh(...point(p), body, Infinity, out)).toBeCloseTo(d, 9);
				near(out, point(q), 9);
				expect(nearestOn(body, ...point(p), out)).toBeCloseTo(d, 9);
				expect(pointToMesh(...point(p), body, d / 2, out)).toBe(Infinity);
			});
		}
		frames(({ put, point }) => {
			expect(nearestOn(put(boxBody(2, 2, 2)), ...point([3, 0, 0]), out)).toBeCloseTo(2, 9);
			near(out, point([1, 0, 0]));
		});
	});
});

describe('a ray on a mesh', () => {
	it('tells where, and the normal that faces its start, whichever side it comes from', () => {
		frames(({ put, point, way }) => {
			const body = put(meshBody(sheet()));
			for (const s of [-1, 1]) {
				expect(rayOn(body, ...point([1, 3 * s, 2]), ...way([0, -s, 0]), 10, true)).toBeCloseTo(3, 9);
				near(hit.point, point([1, 0, 2]));
				near(hit.normal, way([0, s, 0]));
				expect(hit.startsInside).toBe(false);
				expect(rayOn(body, ...point([1, 3 * s, 2]), ...way([0, -s, 0]), 2.9, true)).toBe(Infinity);
				expect(rayOn(body, ...point([1, 3 * s, 2]), ...way([0, s, 0]), 10, true)).toBe(Infinity);
				const slant = way([3, -4 * s, 0]);
				expect(rayOn(body, ...point([0, 4 * s, 0]), ...slant, 10, true)).toBeCloseTo(5, 9);
				near(hit.point, point([3, 0, 0]));
				near(hit.normal, way([0, s, 0]));
			}
		});
	});

	it('is told so on every side of a cube, and on a slope', () => {
		frames(({ put, point, way }) => {
			const body = put(meshBody(cube()));
			for (let axis = 0; axis < 3; axis++)
				for (const s of [-1, 1]) {
					const at = (v: number, a = 0.3, b = -0.2): V => {
						const p: V = [a, a, a];
						p[axis] = s * v;
						p[(axis + 1) % 3] = b;
						return p;
					};
					const slant = at(-1, -0.4, 0.3);
					const size = Math.hypot(...slant);
					const start = at(1).map((v, k) => v - (3 * slant[k]!) / size) as V;
					expect(rayOn(body, ...point(start), ...way(slant), 10, true)).toBeCloseTo(3, 9);
					near(hit.point, point(at(1)));
					near(hit.normal, way(at(1, 0, 0)));
				}
			const slope = put(meshBody(new Mesh([3, 0, 0, 0, 6, 0, 0, 0, 2], [0, 1, 2])));
			// 2x + y + 3z = 6.
			expect(rayOn(slope, ...point([1, 1, 9]), ...way([0, 0, -1]), 10, true)).toBeCloseTo(8, 9);
			near(hit.point, point([1, 1, 1]));
			near(hit.normal, way([2, 1, 3]));
			expect(rayOn(slope, ...point([1, -4, 1]), ...way([0, 1, 0]), 10, true)).toBeCloseTo(5, 9);
			near(hit.normal, way([-2, -1, -3]));
		});
	});

	it('that starts within a micrometre of it begins there, or passes it', () => {
		const two = new Mesh(
			[...SHEET, ...SHEET.map((v, i) => (i % 3 === 1 ? -2 : v))],
			[0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7],
		);
		const body = meshBody(two);
		for (const [y, inside] of [
			[0.9e-6, true],
			[1.1e-6, false],
		] as const) {
			expect(rayOn(body, 1, y, 2, 0, -1, 0, 10, true)).toBeCloseTo(inside ? 0 : y, 12);
			expect(hit.startsInside).toBe(inside);
			if (inside) {
				near(hit.point, [1, y, 2], 12);
				near(hit.normal, [0, 1, 0], 12);
			}
			expect(rayOn(body, 1, y, 2, 0, -1, 0, 10, false)).toBeCloseTo(inside ? 2 + y : y, 9);
			expect(hit.startsInside).toBe(inside);
		}
	});

	it('and on what is convex the same is told', () => {
		frames(({ put, point, way }) => {
			const body = put(boxBody(2, 2, 2));
			expect(rayOn(body, ...point([0.3, 0.2, 5]), ...way([0, 0, -1]), 10, true)).toBeCloseTo(4, 9);
			near(hit.point, point([0.3, 0.2, 1]));
			near(hit.normal, way([0, 0, 1]));
			expect(hit.startsInside).toBe(false);
			expect(rayOn(body, ...point([0, 0, 5]), ...way([0, 0, -1]), 3.999, true)).toBe(Infinity);
			expect(rayOn(body, ...point([0.5, 0, 0]), ...way([0, 0, -1]), 10, true)).toBe(0);
			expect(hit.startsInside).toBe(true);
			near(hit.point, point([0.5, 0, 0]));
			near(hit.normal, way([0, 0, 1]));
			expect(rayOn(body, ...point([0.5, 0, 0]), ...way([0, 0, -1]), 10, false)).toBe(Infinity);
			expect(hit.startsInside).toBe(true);
		});
		expect(rayOn(boxBody(2, 2, 2), 0, 0, 5, 0, 0, -1, 4, true)).toBe(4);
	});
});

describe('a body moved', () => {
	it('onto a convex one tells where, and begins within it or passes it', () => {
		frames(({ put, point, way }) => {
			const wall = put(boxBody(8, 8, 2));
			const ball = () => put(sphereBody(1), [0.5, 0.25, 5]);
			expect(sweepOn(ball(), ...way([0, 0, -1]), 10, wall, true)).toBeCloseTo(3, 9);
			near(hit.point, point([0.5, 0.25, 1]));
			near(hit.normal, way([0, 0, 1]));
			expect(hit.startsInside).toBe(false);
			expect(sweepOn(ball(), ...way([0, 0, 1]), 10, wall, true)).toBe(Infinity);
			const within = put(sphereBody(1), [0.5, 0.25, 1.5]);
			expect(sweepOn(within, ...way([0, 0, 1]), 10, wall, true)).toBe(0);
			expect(hit.startsInside).toBe(true);
			near(hit.point, point([0.5, 0.25, 1]));
			near(hit.normal, way([0, 0, -1]));
			expect(sweepOn(within, ...way([0, 0, 1]), 10, wall, false)).toBe(Infinity);
			expect(hit.startsInside).toBe(true);
		});
	});

	it('onto a mesh tells where, of all that touches together the nearest to its middle', () => {
		frames(({ put, point, way }) => {
			const floor = put(meshBody(sheet()));
			for (const make of [() => boxBody(2, 2, 2), () => cylinderBody(1, 2)]) {
				expect(sweepOn(put(make(), [1, 5, -2]), ...way([0, -1, 0]), 10, floor, true)).toBeCloseTo(4, 8);
				near(hit.point, point([1, 0, -2]), 5);
				near(hit.normal, way([0, 1, 0]), 6);
				expect(hit.startsInside).toBe(false);
			}
			// Lying on the edge that two triangles share: their common point nearest to the middle.
			expect(sweepOn(put(boxBody(2, 2, 2), [0, 5, 0]), ...way([0, -1, 0]), 10, floor, true)).toBeCloseTo(4, 8);
			near(hit.point, point([0, 0, 0]), 5);
			expect(sweepOn(put(sphereBody(1), [1, -5, 2]), ...way([0, 1, 0]), 10, floor, true)).toBeCloseTo(4, 9);
			near(hit.normal, way([0, -1, 0]));
			expect(sweepOn(put(sphereBody(1), [1, 5, 2]), ...way([0, -1, 0]), 3.99, floor, true)).toBe(Infinity);
			expect(sweepOn(put(sphereBody(1), [1, 5, 2]), ...way([0, 1, 0]), 10, floor, true)).toBe(Infinity);
			// Beyond its rim, by a hair less and a hair more than the radius.
			expect(sweepOn(put(sphereBody(1), [4.999, 5, 0]), ...way([0, -1, 0]), 10, floor, true)).toBeCloseTo(
				5 - Math.sqrt(1 - 0.999 ** 2),
				5,
			);
			expect(sweepOn(put(sphereBody(1), [5.001, 5, 0]), ...way([0, -1, 0]), 10, floor, true)).toBe(Infinity);
		});
	});

	it('off a mesh it begins in leaves out all that is level with what it touches, and meets the rest', () => {
		const steps = new Mesh(
			[...SHEET, ...SHEET.map((v, i) => (i % 3 === 1 ? -2 : v)), ...SHEET.map((v, i) => (i % 3 === 0 ? v + 20 : v))],
			[0, 1, 2, 0, 2, 3, 4, 5, 6, 4, 6, 7, 8, 9, 10, 8, 10, 11],
		);
		frames(({ put, point, way }) => {
			const body = put(meshBody(steps));
			const ball = put(sphereBody(0.5), [1, 0.3, 0.25]);
			expect(sweepOn(ball, ...way([0, -1, 0]), 20, body, false)).toBeCloseTo(1.8, 9);
			expect(hit.startsInside).toBe(true);
			near(hit.point, point([1, -2, 0.25]));
			expect(sweepOn(ball, ...way([1, 0, 0]), 40, body, false)).toBe(Infinity);
			expect(sweepOn(ball, ...way([0, -1, 0]), 20, body, true)).toBe(0);
			near(hit.point, point([1, 0, 0.25]));
			near(hit.normal, way([0, 1, 0]));
		});
	});
});

describe('many triangles at once', () => {
	/** A floor of 4 × 4 squares, cut in two each, from −4 to 4. */
	const tiles = () => {
		const vertices: number[] = [];
		const triangles: number[] = [];
		for (let i = 0; i <= 4; i++) for (let j = 0; j <= 4; j++) vertices.push(2 * i - 4, 0, 2 * j - 4);
		for (let i = 0; i < 4; i++)
			for (let j = 0; j < 4; j++) {
				const q = 5 * i + j;
				triangles.push(q, q + 1, q + 5, q + 1, q + 6, q + 5);
			}
		return new Mesh(vertices, triangles);
	};

	it('are touched at the point below the middle, over whichever of them that is', () => {
		frames(({ put, point, way }) => {
			const floor = put(meshBody(tiles()));
			for (const [x, z] of [
				[1, -2.5],
				[-1.3, 2.2],
				[2.6, 1.1],
				[-2.7, -0.4],
				[0.2, 0.3],
			] as const) {
				const fallen = sweepOn(put(boxBody(3, 2, 3), [x, 5, z]), ...way([0, -1, 0]), 10, floor, true);
				expect(fallen).toBeCloseTo(4, 8);
				near(hit.point, point([x, 0, z]), 5);
				// And slantwise.
				const slid = sweepOn(put(boxBody(3, 2, 3), [x - 3, 5, z]), ...way([3, -4, 0]), 10, floor, true);
				expect(slid).toBeCloseTo(5, 8);
				near(hit.point, point([x, 0, z]), 5);
			}
		});
	});

	it('hold a start together: the nearest of their points is told, and what is level with any of them is left out', () => {
		// A corner of floor and wall, more of both farther along, and a step across the way.
		const plane = (at: V[], more: number[]) => more.push(...at.flat());
		const vertices: number[] = [];
		plane(
			[
				[0, 0, -4],
				[4, 0, -4],
				[4, 0, 4],
				[0, 0, 4],
			],
			vertices,
		);
		plane(
			[
				[0, 0, -4],
				[0, 4, -4],
				[0, 4, 4],
				[0, 0, 4],
			],
			vertices,
		);
		plane(
			[
				[5, 0, -4],
				[9, 0, -4],
				[9, 0, 4],
				[5, 0, 4],
			],
			vertices,
		);
		plane(
			[
				[0, 5, -4],
				[0, 9, -4],
				[0, 9, 4],
				[0, 5, 4],
			],
			vertices,
		);
		plane(
			[
				[7, -1, -4],
				[7, 3, -4],
				[7, 3, 4],
				[7, -1, 4],
			],
			vertices,
		);
		const sides = [0, 4, 8, 12, 16].flatMap((q) => [q, q + 1, q + 2, q, q + 2, q + 3]);
		frames(({ put, point, way }) => {
			for (const [order, at] of [
				[sides, [0.3, 0.2, 0.25]],
				[[...sides].reverse(), [0.2, 0.3, 0.25]],
			] as [number[], V][]) {
				const body = put(meshBody(new Mesh(vertices, order)));
				const ball = put(sphereBody(0.5), at);
				const [x, y] = at;
				expect(sweepOn(ball, ...way([1, 0, 0]), 20, body, false)).toBeCloseTo(7 - 0.5 - x, 9);
				expect(hit.startsInside).toBe(true);
				near(hit.point, point([7, y, 0.25]));
				expect(sweepOn(ball, ...way([0, 1, 0]), 20, body, false)).toBe(Infinity);
				expect(sweepOn(ball, ...way([1, 1, 0]), 20, body, true)).toBe(0);
				near(hit.point, point(y < x ? [x, 0, 0.25] : [0, y, 0.25]));
			}
		});
	});
});

describe('the gap to a mesh', () => {
	it('is the least to any of its triangles, no farther than the limit', () => {
		frames(({ put, point }) => {
			const mesh = put(meshBody(cube()));
			const apart: [Body, number][] = [
				[put(sphereBody(0.5), [3, 0.2, 0.1]), 1.5],
				[put(boxBody(1, 1, 1), [0.2, 4, 0.1]), 2.5],
				[put(capsuleBody(0.5, 3), [0.3, 0.2, -5], [0, 90, 0]), 2.5],
				[put(sphereBody(0.5), [0, 0, 0]), 0.5],
				[put(sphereBody(0.5), [0.8, 0, 0]), 0],
			];
			for (const [body, want] of apart) {
				expect(gapBetween(body, mesh)).toBeCloseTo(want, 7);
				expect(gapBetween(mesh, body)).toBeCloseTo(want, 7);
				if (want === 0) continue;
				expect(gapBetween(body, mesh, want + 1e-6)).toBeCloseTo(want, 7);
				expect(gapBetween(body, mesh, want - 0.1)).toBe(Infinity);
			}
			const swept = put(sphereBody(0), [5, 9, 0]);
			const end = point([5, -9, 0]);
			[swept.sx, swept.sy, swept.sz] = [end[0] - swept.x, end[1] - swept.y, end[2] - swept.z];
			expect(gapToSegment(swept, mesh)).toBeCloseTo(4, 7);
			expect(gapToSegment(swept, put(sphereBody(1)))).toBeCloseTo(4, 9);
		});
	});

	it('between two of them is the least of any pair', () => {
		frames(({ put }) => {
			const a = put(meshBody(cube()));
			for (const [at, turn, want] of [
				[[5, 0.2, 0.1], [0, 0, 0], 3],
				[[0.2, -6, 0.1], [45, 0, 0], 4],
				[[6, 0, 0], [45, 0, 0], 5 - Math.SQRT2],
				[[1.5, 0, 0], [0, 0, 0], 0],
				[[0, 0, 0], [0, 0, 0], 0],
			] as [V, V, number][]) {
				const b = put(meshBody(cube()), at, turn);
				expect(gapBetween(a, b)).toBeCloseTo(want, 7);
				expect(gapBetween(b, a)).toBeCloseTo(want, 7);
				if (want > 0) expect(gapBetween(a, b, want - 0.1)).toBe(Infinity);
			}
		});
	});
});

describe('one triangle of a mesh', () => {
	const mesh = new Mesh([1, 2, 3, 5, 2, 3, 1, 2, 6], [0, 1, 2]);

	it('is put where it lies, about its own first corner', () => {
		frames(({ put, point }) => {
			const body = put(meshBody(mesh));
			const t = new Triangle();
			const placed = t.set(mesh, 0, body.x, body.y, body.z, body.m);
			near([placed.x, placed.y, placed.z], point([1, 2, 3]), 9);
			expect([...(placed.hull as { points: Float64Array }).points]).toEqual([0, 0, 0, 4, 0, 0, 0, 0, 3]);
			expect(placed.boundingRadius).toBe(4);
			const box = new Float64Array(6);
			cornerBounds(placed, box);
			const corners = [point([1, 2, 3]), point([5, 2, 3]), point([1, 2, 6])];
			near(
				box,
				[
					...[0, 1, 2].map((k) => Math.min(...corners.map((c) => c[k]!))),
					...[0, 1, 2].map((k) => Math.max(...corners.map((c) => c[k]!))),
				],
				9,
			);
		});
		const other = new Mesh([0, 0, 0, 3, 0, 0, 0, 4, 0], [0, 1, 2]);
		expect(new Triangle().set(other, 0, 0, 0, 0, rotationOf(undefined)).boundingRadius).toBe(4);
	});

	it('and boxes are seen from where it stands', () => {
		const out = new Float64Array(6);
		const M = meshBody(mesh).place(10, 20, 30, rotationOf([90, 0, 0]));
		toLocalBox(Float64Array.of(10, 21, 33, 12, 25, 39), M, out);
		// What was ahead of it (world −X) is its own −Z.
		near(out, [-9, 1, 0, -3, 5, 2], 9);
		const ball = sphereBody(1).place(10, 20, 30, rotationOf(undefined));
		ball.sx = 6;
		boundsInMesh(ball, M, out);
		near(out, [-1, -1, -1, 1, 1, 7], 9);
	});
});
