/** Geometry held against what it must satisfy whatever the method: certificates, stepping, sampling, symmetry. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { type Body, boundsOf, boxBody, capsuleBody, cylinderBody, hullBody, INSIDE, sphereBody, support } from './body';
import { contactNearCentre } from './contact';
import { gap, nearest } from './gjk';
import { buildHull, buildPolygon, Hull } from './hull';
import { multiply, rotationOf, turned } from './matrix';
import { depthInHull, nearestPoint } from './nearest-point';
import { castRay } from './ray';
import { segmentGap, segmentTriangleGap } from './segment-gap';
import { castSweep, contact } from './sweep';

type V = [number, number, number];
const seeds = fc.integer({ min: 0, max: 2 ** 31 });
const a = new Float64Array(3);
const b = new Float64Array(3);

/** Two bodies of like or very unlike size, apart or overlapping, sometimes a hundred kilometres out. */
function pair(seed: number): { A: Body; B: Body; size: number; out: number } {
	const d = dice(seed);
	const size = 10 ** d.between(-3, d.chance(0.2) ? 4 : 1);
	const A = d.body(size);
	const B = d.body(size * d.between(0.2, 3));
	const [x, y, z] = d.direction();
	const away = (A.boundingRadius + B.boundingRadius) * d.between(0, 1.5);
	const out = d.chance(0.2) ? 1e5 : 0;
	A.place(out, -out, out, A.m);
	B.place(out + x * away, -out + y * away, out + z * away, B.m);
	return { A, B, size: Math.max(A.boundingRadius, B.boundingRadius), out };
}

/** Distance between the two planes at right angles to n that hold the bodies apart. */
function separation(A: Body, B: Body, nx: number, ny: number, nz: number): number {
	support(A, nx, ny, nz, a, 0);
	support(B, -nx, -ny, -nz, b, 0);
	return (b[0] - a[0] + B.x - A.x) * nx + (b[1] - a[1] + B.y - A.y) * ny + (b[2] - a[2] + B.z - A.z) * nz - A.r - B.r;
}

describe('gap', () => {
	it('is bounded from above by two points of the bodies and from below by two planes', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const { A, B, size, out } = pair(seed);
				const g = gap(A, B);
				if (g === 0) return;
				const { nx, ny, nz } = nearest;
				const slack = 1e-7 * size + out * 1e-15;
				expect(separation(A, B, nx, ny, nz)).toBeGreaterThan(g - slack);
				const [x, y, z] = [A.x + nearest.ax, A.y + nearest.ay, A.z + nearest.az];
				expect(nearestPoint(A, x, y, z, a)).toBeLessThan(1e-6 * size + out * 1e-15);
				expect(nearestPoint(B, x + nx * g, y + ny * g, z + nz * g, a)).toBeLessThan(1e-6 * size + out * 1e-15);
			}),
			{ numRuns: runs(4000) },
		);
	});

	it('is 0 only where no direction separates the bodies', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const { A, B, size } = pair(seed);
				if (gap(A, B) > 0) return;
				const d = dice(seed + 1);
				let most = -Infinity;
				for (let i = 0; i < 200; i++) most = Math.max(most, separation(A, B, ...d.direction()));
				expect(most).toBeLessThan(1e-9 * size + 1e-9);
			}),
			{ numRuns: runs(600) },
		);
	});

	it('is symmetric', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const { A, B, size } = pair(seed);
				expect(Math.abs(gap(A, B) - gap(B, A))).toBeLessThan(1e-7 * size + 1e-10);
			}),
			{ numRuns: runs(1500) },
		);
	});

	it('gives known distances', () => {
		const at = (body: Body, x: number, y = 0, z = 0) => body.place(x, y, z, body.m);
		expect(gap(at(boxBody(1, 1, 1), 0), at(boxBody(1, 1, 1), 3))).toBeCloseTo(2, 12);
		expect(gap(at(boxBody(1, 1, 1), 0), at(boxBody(1, 1, 1), 3, 3, 3))).toBeCloseTo(2 * Math.sqrt(3), 12);
		expect(gap(at(sphereBody(0.5), 0), at(capsuleBody(0.5, 3), 2, 1))).toBeCloseTo(1, 12);
		expect(gap(at(cylinderBody(1, 2), 0), at(sphereBody(0.5), 3, 2))).toBeCloseTo(Math.hypot(2, 1) - 0.5, 9);
		expect(gap(at(boxBody(1, 1, 1), 0), at(boxBody(1, 1, 1), 1))).toBe(0);
		expect(gap(at(boxBody(1, 1, 1), 0), at(boxBody(1, 1, 1), 0.2))).toBe(0);
	});

	it('holds for a segment by closed forms as by the general method', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const { B, size } = pair(seed);
				const s = sphereBody(0).place(
					B.x + size * d.between(-3, 3),
					B.y + size * d.between(-3, 3),
					B.z + size * d.between(-3, 3),
					rotationOf(undefined),
				);
				const [x, y, z] = d.direction();
				const length = size * d.between(0.1, 8);
				s.sx = x * length;
				s.sy = y * length;
				s.sz = z * length;
				expect(Math.abs(segmentGap(s, B) - gap(s, B))).toBeLessThan(2e-6 * size);
			}),
			{ numRuns: runs(1500) },
		);
	});
});

describe('nearest point', () => {
	it('lies on the body and no sampled point of the body is nearer', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const B = d.body(2);
				const [x, y, z] = [d.between(-3, 3), d.between(-3, 3), d.between(-3, 3)];
				const distance = nearestPoint(B, x, y, z, a);
				expect(Math.hypot(x - a[0], y - a[1], z - a[2])).toBeCloseTo(distance, 9);
				expect(nearestPoint(B, a[0], a[1], a[2], b)).toBeLessThan(1e-9);
				// By the separating plane: nothing of the body lies nearer.
				if (distance > 1e-6) {
					const n = [(x - a[0]) / distance, (y - a[1]) / distance, (z - a[2]) / distance] as const;
					support(B, ...n, b, 0);
					const top = (b[0] + B.x) * n[0] + (b[1] + B.y) * n[1] + (b[2] + B.z) * n[2] + B.r;
					expect(top).toBeLessThan(a[0] * n[0] + a[1] * n[1] + a[2] * n[2] + 1e-8);
				}
			}),
			{ numRuns: runs(2000) },
		);
	});
});

describe('ray', () => {
	it('hits where an inside test along it first says so', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const size = 10 ** d.between(-3, 2);
				const B = d.body(size);
				const u = d.direction();
				const start = u.map((v) => -v * size * d.between(1, 6) + size * d.between(-0.6, 0.6)) as [
					number,
					number,
					number,
				];
				const normal = new Float64Array(3);
				const t = castRay(B, ...start, ...u, normal);
				const at = (s: number) => nearestPoint(B, start[0] + s * u[0], start[1] + s * u[1], start[2] + s * u[2], a);
				if (t === INSIDE) {
					expect(at(0)).toBeLessThanOrEqual(1.1e-6);
					return;
				}
				const step = size / 100;
				const limit = t === Infinity ? 14 * size : t;
				// Outside all the way up to the hit…
				let least = Infinity;
				for (let s = 0; s < limit - 1e-4 * size; s += step) least = Math.min(least, at(s));
				expect(least).toBeGreaterThan(0);
				if (t === Infinity) return;
				// …on the surface there, facing the start, and the normal's plane holds the body.
				expect(at(t)).toBeLessThan(1e-9 * size);
				expect(normal[0] * u[0] + normal[1] * u[1] + normal[2] * u[2]).toBeLessThanOrEqual(1e-9);
				expect(Math.hypot(...normal)).toBeCloseTo(1, 9);
				support(B, normal[0], normal[1], normal[2], b, 0);
				const top = b[0] * normal[0] + b[1] * normal[1] + b[2] * normal[2] + B.r;
				const here =
					(start[0] + t * u[0]) * normal[0] + (start[1] + t * u[1]) * normal[1] + (start[2] + t * u[2]) * normal[2];
				expect(Math.abs(top - here)).toBeLessThan(1e-7 * size);
			}),
			{ numRuns: runs(800) },
		);
	});

	it('gives known distances for every shape', () => {
		const hull = hullBody(buildHull([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]) as Hull);
		const along = (body: Body, x: number, y: number, z: number) => castRay(body, x, y, z, 0, 0, -1, a);
		expect(along(boxBody(2, 2, 2), 0, 0, 5)).toBe(4);
		expect([...a]).toEqual([0, 0, 1]);
		expect(along(boxBody(2, 2, 2), 1, 0, 5)).toBe(4);
		expect(along(boxBody(2, 2, 2), 1.0001, 0, 5)).toBe(Infinity);
		expect(along(sphereBody(1), 0.6, 0, 5)).toBeCloseTo(4.2, 12);
		expect(along(capsuleBody(0.5, 3), 0, 1.2, 5)).toBeCloseTo(5 - Math.sqrt(0.25 - 0.04), 12);
		expect(along(cylinderBody(0.5, 2), 0.3, 0.9, 5)).toBeCloseTo(4.6, 12);
		expect(castRay(cylinderBody(0.5, 2), 0, 5, 0, 0, -1, 0, a)).toBe(4);
		expect(along(hull, 0.25, 0.25, 5)).toBeCloseTo(4.5, 12);
		expect(along(boxBody(2, 2, 2), 0, 0, -5)).toBe(Infinity);
		expect(along(boxBody(2, 2, 2), 0, 0, 1 + 5e-7)).toBe(INSIDE);
		expect(along(boxBody(2, 2, 2), 0, 0, 1 + 1e-5)).toBeCloseTo(1e-5, 12);
	});
});

describe('sweep', () => {
	it('agrees with stepping: apart before the touch, touching at it, never through', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const size = 10 ** d.between(-3, 2);
				const B = d.body(size);
				const A = d.body(size * d.between(0.1, 2), ['box', 'sphere', 'capsule']);
				const u = d.direction();
				const away = (A.boundingRadius + B.boundingRadius) * d.between(1, 5);
				A.place(
					-u[0] * away + size * d.between(-0.7, 0.7),
					-u[1] * away + size * d.between(-0.7, 0.7),
					-u[2] * away + size * d.between(-0.7, 0.7),
					A.m,
				);
				const length = 3 * away;
				const t = castSweep(A, ...u, length, B);
				const normal = [contact.nx, contact.ny, contact.nz];
				const moved = (s: number) => gap(A.clone().place(A.x + s * u[0], A.y + s * u[1], A.z + s * u[2], A.m), B);
				if (t === INSIDE) {
					expect(moved(0)).toBeLessThanOrEqual(1.1e-6);
					return;
				}
				const step = length / 300;
				let least = Infinity;
				for (let s = 0; s < (t === Infinity ? length : t) - 1e-4 * size; s += step) least = Math.min(least, moved(s));
				expect(least).toBeGreaterThan(0);
				if (t === Infinity) return;
				expect(moved(t)).toBeLessThan(1e-7 * size);
				expect(normal[0] * u[0] + normal[1] * u[1] + normal[2] * u[2]).toBeLessThanOrEqual(1e-6);
				castSweep(A, ...u, length, B);
				contactNearCentre(A, ...u, t, B, a);
				const p = [a[0], a[1], a[2]] as const;
				expect(nearestPoint(B, ...p, b)).toBeLessThan(1e-5 * size);
				expect(nearestPoint(A, p[0] - t * u[0], p[1] - t * u[1], p[2] - t * u[2], b)).toBeLessThan(1e-5 * size);
			}),
			{ numRuns: runs(800) },
		);
	});

	it('of a box against a cylinder touches at a point that turns with the scene', () => {
		let rims = 0;
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const cylinder = () => cylinderBody(d.between(0.2, 1), d.between(0.3, 2));
				const B = cylinder();
				const A = boxBody(d.between(0.2, 1.5), d.between(0.2, 1.5), d.between(0.2, 1.5));
				const own = rotationOf([d.between(-180, 180), d.between(-90, 90), d.between(-180, 180)]);
				const u = d.direction();
				const from = [
					-4 * u[0] + d.between(-0.5, 0.5),
					-4 * u[1] + d.between(-0.5, 0.5),
					-4 * u[2] + d.between(-0.5, 0.5),
				] as const;
				A.place(...from, own);
				const t = castSweep(A, ...u, 9, B);
				if (t === Infinity) return;
				contactNearCentre(A, ...u, t, B, a);
				const at = [...a] as [number, number, number];
				if (Math.abs(Math.hypot(at[0], at[2]) - B.hx) < 1e-6 && Math.abs(Math.abs(at[1]) - B.hy) < 1e-6) rims++;
				const turn = rotationOf([d.between(-180, 180), d.between(-90, 90), d.between(-180, 180)]);
				const v = turned(turn, ...u);
				A.place(...turned(turn, ...from), multiply(turn, own));
				B.place(0, 0, 0, turn);
				const s = castSweep(A, ...v, 9, B);
				contactNearCentre(A, ...v, s, B, a);
				const want = turned(turn, ...at);
				for (let k = 0; k < 3; k++) expect(Math.abs(a[k] - want[k])).toBeLessThan(1e-7);
			}),
			{ numRuns: runs(600) },
		);
		expect(rims).toBeGreaterThan(runs(200));
	});

	it('touches faces at the point nearest to the moving centre', () => {
		const A = boxBody(1, 1, 1).place(0.3, 0.2, 5, rotationOf(undefined));
		const wall = boxBody(4, 4, 1);
		expect(castSweep(A, 0, 0, -1, 10, wall)).toBeCloseTo(4, 9);
		contactNearCentre(A, 0, 0, -1, 4, wall, a);
		expect([...a].map((v) => Number(v.toFixed(9)))).toEqual([0.3, 0.2, 0.5]);
		// A wall that reaches only to x = 0: the touched face ends there.
		const part = boxBody(2, 4, 1).place(-1, 0, 0, rotationOf(undefined));
		castSweep(A, 0, 0, -1, 10, part);
		contactNearCentre(A, 0, 0, -1, 4, part, a);
		expect([...a].map((v) => Number(v.toFixed(7)))).toEqual([0, 0.2, 0.5]);
	});
});

describe('hull', () => {
	it('holds all its points, and every corner is one of them', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const n = d.whole(4, 200);
				const grid = d.chance(0.5);
				const points = Array.from({ length: 3 * n }, () => (grid ? d.whole(-2, 2) : d.between(-1, 1)));
				const hull = buildHull(points);
				if (!hull) {
					expect(grid || n < 5).toBe(true);
					return;
				}
				for (let i = 0; i < points.length; i += 3)
					expect(depthInHull(hull, points[i], points[i + 1], points[i + 2])).toBeLessThan(1e-9);
				const given = new Set<string>();
				for (let i = 0; i < points.length; i += 3)
					given.add(
						points
							.slice(i, i + 3)
							.map((v) => v + 0)
							.join(),
					);
				for (let i = 0; i < hull.points.length; i += 3)
					expect(given.has([...hull.points.slice(i, i + 3)].map((v) => v + 0).join())).toBe(true);
				// Closed: every edge is met once in each direction.
				const edges = new Map<string, number>();
				for (let i = 0; i < hull.triangles.length; i += 3)
					for (let k = 0; k < 3; k++) {
						const [u, v] = [hull.triangles[i + k], hull.triangles[i + ((k + 1) % 3)]];
						edges.set(`${u}>${v}`, (edges.get(`${u}>${v}`) ?? 0) + 1);
					}
				for (const [edge, count] of edges) {
					expect(count).toBe(1);
					expect(edges.get(edge.split('>').reverse().join('>'))).toBe(1);
				}
			}),
			{ numRuns: runs(400) },
		);
	});

	it('is built from ten thousand points, walked to the farthest corner, and refused without volume', () => {
		const d = dice(5);
		const many = runs(10_000);
		const points = Array.from({ length: many }, () => d.direction()).flat();
		const hull = buildHull(points) as Hull;
		expect(hull.points.length / 3).toBeGreaterThan(0.75 * many);
		for (let i = 0; i < runs(200); i++) {
			const [x, y, z] = d.direction();
			const best = Math.max(
				...Array.from({ length: many }, (_, k) => points[3 * k] * x + points[3 * k + 1] * y + points[3 * k + 2] * z),
			);
			const at = 3 * hull.farthest(x, y, z);
			expect(hull.points[at] * x + hull.points[at + 1] * y + hull.points[at + 2] * z).toBeCloseTo(best, 12);
		}
		expect(buildHull(Array.from({ length: 300 }, (_, i) => (i % 3 === 2 ? 0 : d.between(-1, 1))))).toBeNull();
		expect(buildHull([0, 0, 0, 1, 1, 1, 2, 2, 2, 3, 3, 3])).toBeNull();
		expect(buildHull([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0])).toBeNull();
	});

	it('of points in the plane turns counter-clockwise and drops what is inside or on a side', () => {
		const hull = buildPolygon([
			[0, 0],
			[2, 0],
			[1, 0],
			[2, 2],
			[0, 2],
			[1, 1],
			[0, 0],
		]) as Hull;
		expect([...hull.points]).toEqual([0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0]);
		expect(
			buildPolygon([
				[0, 0],
				[1, 1],
				[2, 2],
			]),
		).toBeNull();
	});
});

describe('bounds', () => {
	it('hold the body and touch it on every side', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const B = dice(seed).body(2, ['box', 'sphere', 'capsule', 'cylinder']);
				const box = new Float64Array(6);
				boundsOf(B, box);
				for (let k = 0; k < 3; k++)
					for (const sign of [-1, 1]) {
						const n: [number, number, number] = [0, 0, 0];
						n[k as 0] = sign;
						support(B, ...n, a, 0);
						expect(a[k] * sign + B.r).toBeCloseTo(box[sign < 0 ? k : k + 3] * sign, 9);
					}
			}),
			{ numRuns: runs(300) },
		);
	});

	it('holds for a segment and a triangle by hand', () => {
		const corners = new Float64Array([9, 9, 9, 0, 0, 0, 4, 0, 0, 0, 0, 4]);
		const to = (start: V, way: V) => segmentTriangleGap(...start, ...way, corners, 3);
		// Through the face, along it, in its plane across an edge, and just outside each of the three edges.
		expect(to([1, 1, 1], [0, -2, 0])).toBe(0);
		expect(to([1, 0, 1], [1, 0, 0])).toBe(0);
		expect(to([-1, 0, 1], [5, 0, 0])).toBe(0);
		expect(to([-1, 2, 1], [0, -4, 0])).toBe(1);
		expect(to([1, 2, -1], [0, -4, 0])).toBe(1);
		expect(to([3, 2, 3], [0, -4, 0])).toBeCloseTo(Math.SQRT2, 12);
		// One end above the face, either one; the other beside it; a point; a segment beside a corner.
		expect(to([1, 2, 1], [0, 3, 0])).toBe(2);
		expect(to([1, 5, 1], [0, -3, 0])).toBe(2);
		expect(to([-3, 1, 1], [4, 0, 0])).toBe(1);
		expect(to([1, 3, 1], [0, 0, 0])).toBe(3);
		expect(to([-3, -4, -1], [0, 0, -2])).toBeCloseTo(Math.sqrt(26), 12);
	});

	it('holds for a segment and a triangle as by the general method', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const size = 10 ** d.between(-3, 4);
				const v = () => size * d.between(-1, 1);
				const corners = new Float64Array(Array.from({ length: 9 }, v));
				const triangle = hullBody(new Hull(corners, new Uint32Array(0), false, true));
				triangle.place(0, 0, 0, rotationOf(undefined));
				const s = sphereBody(0).place(2 * v(), 2 * v(), 2 * v(), rotationOf(undefined));
				const length = d.between(0, 3);
				[s.sx, s.sy, s.sz] = [length * v(), length * v(), length * v()];
				const found = segmentTriangleGap(s.x, s.y, s.z, s.sx, s.sy, s.sz, corners, 0);
				expect(Math.abs(found - gap(s, triangle))).toBeLessThan(2e-7 * size);
			}),
			{ numRuns: runs(1500) },
		);
	});
});
