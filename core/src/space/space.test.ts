/** Trees and meshes against trying everything. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boundsOf, hullBody, INSIDE, meshBody, sphereBody } from '../geometry/body';
import { gap } from '../geometry/gjk';
import { Hull } from '../geometry/hull';
import { rotationOf } from '../geometry/matrix';
import { castSweep } from '../geometry/sweep';
import { type Dice, dice } from '../tests/random';
import { runs } from '../tests/runs';
import { gapBetween, hit, rayOn, sweepOn } from './cast';
import { Mesh } from './mesh';
import { Tree } from './tree';

const seeds = fc.integer({ min: 0, max: 2 ** 31 });

function boxes(d: Dice, n: number, out: number): Float64Array {
	const list = new Float64Array(6 * n);
	for (let i = 0; i < 6 * n; i += 6)
		for (let k = 0; k < 3; k++) {
			list[i + k] = out + d.between(-10, 10);
			list[i + k + 3] = list[i + k] + d.between(0, 2);
		}
	return list;
}

describe('tree', () => {
	it('leaves out nothing that a box, a ray or a distance meets, also after moves', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const n = d.whole(1, 120);
				const out = d.chance(0.3) ? 1e5 : 0;
				const list = boxes(d, n, out);
				const tree = new Tree(list, d.of([1, 2, 4]), d.of([1.5, 2.5, 4]));
				for (let round = 0; round < 2; round++) {
					const box = boxes(d, 1, out);
					const seen = new Set<number>();
					tree.overlap(box, (i) => void seen.add(i));
					for (let i = 0; i < n; i++) {
						const meets = [0, 1, 2].every((k) => list[6 * i + k] <= box[k + 3] && list[6 * i + k + 3] >= box[k]);
						if (meets) expect(seen.has(i)).toBe(true);
					}
					const u = d.direction();
					const p = [0, 1, 2].map(() => out + d.between(-12, 12)) as [number, number, number];
					const hit = new Set<number>();
					tree.walk(...p, ...u, 30, 0, 0, 0, (i, limit) => {
						hit.add(i);
						return limit;
					});
					for (let i = 0; i < n; i++) {
						let near = 0;
						let far = 30;
						for (let k = 0; k < 3; k++) {
							const inv = 1 / (u[k] === 0 ? 1e-300 : u[k]);
							const t0 = (list[6 * i + k] - p[k]) * inv;
							const t1 = (list[6 * i + k + 3] - p[k]) * inv;
							near = Math.max(near, Math.min(t0, t1));
							far = Math.min(far, Math.max(t0, t1));
						}
						if (near <= far) expect(hit.has(i)).toBe(true);
					}
					let nearest = Infinity;
					const point = new Float64Array([...p, ...p]);
					const distance = (i: number) =>
						Math.hypot(...[0, 1, 2].map((k) => Math.max(0, list[6 * i + k] - p[k], p[k] - list[6 * i + k + 3])));
					tree.closest(point, Infinity, (i, most) => {
						nearest = Math.min(nearest, distance(i));
						return Math.min(most, distance(i));
					});
					expect(nearest).toBe(Math.min(...Array.from({ length: n }, (_, i) => distance(i))));
					// A few things move; the tree is told.
					const moved = Array.from({ length: Math.min(n, 3) }, () => d.whole(0, n - 1));
					for (const i of moved) list.set(boxes(d, 1, out), 6 * i);
					tree.update(list, moved);
				}
			}),
			{ numRuns: runs(200) },
		);
	});

	it('answers when it is empty', () => {
		const tree = new Tree(new Float64Array(0), 2, 2.5);
		tree.overlap(new Float64Array(6), () => expect.unreachable());
		tree.walk(0, 0, 0, 1, 0, 0, 10, 0, 0, 0, () => expect.unreachable());
	});
});

/** A bumpy sheet of triangles. */
function sheet(d: Dice, n: number): { vertices: number[]; triangles: number[] } {
	const vertices: number[] = [];
	for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) vertices.push(i - n / 2, d.between(-0.4, 0.4), j - n / 2);
	const triangles: number[] = [];
	for (let i = 0; i < n; i++)
		for (let j = 0; j < n; j++) {
			const q = i * (n + 1) + j;
			triangles.push(q, q + 1, q + n + 1, q + 1, q + n + 2, q + n + 1);
		}
	return { vertices, triangles };
}

describe('mesh', () => {
	it('is hit by a ray where trying every triangle says so', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const { vertices, triangles } = sheet(d, 6);
				const mesh = new Mesh(vertices, triangles);
				const p = [d.between(-3, 3), 3, d.between(-3, 3)] as const;
				const v = [d.between(-0.7, 0.7), -1, d.between(-0.7, 0.7)];
				const u = v.map((x) => x / Math.hypot(...v)) as [number, number, number];
				let best = Infinity;
				for (let t = 0; t < mesh.count; t++) {
					// Möller and Trumbore's test, as a second opinion.
					const c = mesh.corners.subarray(9 * t, 9 * t + 9);
					const e1 = [c[3] - c[0], c[4] - c[1], c[5] - c[2]] as const;
					const e2 = [c[6] - c[0], c[7] - c[1], c[8] - c[2]] as const;
					const h = [u[1] * e2[2] - u[2] * e2[1], u[2] * e2[0] - u[0] * e2[2], u[0] * e2[1] - u[1] * e2[0]] as const;
					const det = e1[0] * h[0] + e1[1] * h[1] + e1[2] * h[2];
					const s = [p[0] - c[0], p[1] - c[1], p[2] - c[2]] as const;
					const a = (s[0] * h[0] + s[1] * h[1] + s[2] * h[2]) / det;
					const q = [s[1] * e1[2] - s[2] * e1[1], s[2] * e1[0] - s[0] * e1[2], s[0] * e1[1] - s[1] * e1[0]] as const;
					const b = (u[0] * q[0] + u[1] * q[1] + u[2] * q[2]) / det;
					const along = (e2[0] * q[0] + e2[1] * q[1] + e2[2] * q[2]) / det;
					if (a >= 0 && b >= 0 && a + b <= 1 && along > 0) best = Math.min(best, along);
				}
				const found = mesh.castRay(...p, ...u, 0, 100);
				if (best === Infinity) expect(found).toBe(Infinity);
				else expect(found).toBeCloseTo(best, 9);
			}),
			{ numRuns: runs(500) },
		);
	});

	it('lets no ray through the edges its triangles share', () => {
		const flat = { vertices: [] as number[], triangles: [] as number[] };
		const { vertices, triangles } = sheet(dice(3), 8);
		flat.vertices = vertices.map((v, i) => (i % 3 === 1 ? 0 : v));
		flat.triangles = triangles;
		const mesh = new Mesh(flat.vertices, flat.triangles);
		for (let i = -7; i <= 7; i++)
			for (let j = -7; j <= 7; j++) expect(mesh.castRay(i / 2, 1, j / 2, 0, -1, 0, 0, 10)).toBe(1);
		// Along its plane a line misses it.
		expect(mesh.castRay(-9, 0, 0.3, 1, 0, 0, 0, 100)).toBe(Infinity);
	});

	it('is as far from a body, and touched by a moving one where, trying every triangle says so', () => {
		fc.assert(
			fc.property(seeds, (seed) => {
				const d = dice(seed);
				const { vertices, triangles } = sheet(d, 4);
				const m = rotationOf(d.rotation());
				const M = meshBody(new Mesh(vertices, triangles)).place(d.between(-1, 1), d.between(-1, 1), 0, m);
				const A = d.body(0.8, ['box', 'sphere', 'capsule']);
				const u = d.direction();
				A.place(
					M.x - u[0] * 4 + d.between(-1, 1),
					M.y - u[1] * 4 + d.between(-1, 1),
					M.z - u[2] * 4 + d.between(-1, 1),
					A.m,
				);
				const mesh = M.mesh as Mesh;
				let near = Infinity;
				let travel = Infinity;
				let inside = false;
				for (let t = 0; t < mesh.count; t++) {
					const corners = mesh.corners.slice(9 * t, 9 * t + 9);
					const T = hullBody(new Hull(corners, new Uint32Array(0), true)).place(M.x, M.y, M.z, m);
					near = Math.min(near, gap(A, T));
					const s = castSweep(A, ...u, 9, T);
					if (s === INSIDE) inside = true;
					else travel = Math.min(travel, s);
				}
				expect(gapBetween(A, M)).toBeCloseTo(near, 8);
				expect(gapBetween(M, A)).toBeCloseTo(near, 8);
				if (inside) return;
				const got = sweepOn(A, ...u, 9, M, false);
				if (travel === Infinity) expect(got).toBe(Infinity);
				else expect(got).toBeCloseTo(travel, 7);
			}),
			{ numRuns: runs(300) },
		);
	});

	it('within a hair of a start is skipped or counted, the rest of it stays', () => {
		const M = meshBody(new Mesh([-1, 0, -1, 1, 0, -1, 0, 0, 1, -1, -2, -1, 1, -2, -1, 0, -2, 1], [0, 1, 2, 3, 4, 5]));
		expect(rayOn(M, 0, 5e-7, 0, 0, -1, 0, 10, false)).toBeCloseTo(2.0000005, 9);
		expect(hit.startsInside).toBe(true);
		expect(rayOn(M, 0, 5e-7, 0, 0, -1, 0, 10, true)).toBe(0);
		expect(rayOn(M, 0, 1e-5, 0, 0, -1, 0, 10, false)).toBeCloseTo(1e-5, 9);
		expect(hit.startsInside).toBe(false);
		// A sweep that starts across the upper triangle skips it, and all that is level with it.
		const level = meshBody(
			new Mesh(
				[-1, 0, -1, 1, 0, -1, 0, 0, 1, 5, 0, -1, 7, 0, -1, 6, 0, 1, 5, -2, -1, 7, -2, -1, 6, -2, 1],
				[0, 1, 2, 3, 4, 5, 6, 7, 8],
			),
		);
		expect(sweepOn(sphereBody(0.5).place(0, 0.2, 0, rotationOf(undefined)), 1, 0, 0, 20, level, false)).toBe(Infinity);
		expect(hit.startsInside).toBe(true);
		const box = new Float64Array(6);
		boundsOf(level, box);
		expect([...box]).toEqual([-1, -2, -1, 7, 0, 1]);
	});
});
