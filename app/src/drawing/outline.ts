/** Bodies as lines: what is drawn of a query's volumes, and of shapes that have no edges of their own. */
import { tripleOf } from '@frelk/core';
import { BOX, type Body, CAPSULE, CYLINDER, HULL, SPHERE } from '@frelk/core/geometry';
import type { P3 } from './view';

const STEPS = 40;

/** Polylines in the body's own axes; of a figure in a flat scene only its outline. */
export function localLines(body: Body, flat = false): P3[][] {
	switch (body.kind) {
		case SPHERE:
			if (flat) return [ring(body.r, 0, 'z')];
			return [ring(body.r, 0, 'y'), ring(body.r, 0, 'x'), ring(body.r, 0, 'z')];
		case CAPSULE:
			if (flat) return [stadium(body.r, body.hy, (u, v) => [u, v, 0])];
			return [
				ring(body.r, body.hy, 'y'),
				ring(body.r, -body.hy, 'y'),
				stadium(body.r, body.hy, (u, v) => [u, v, 0]),
				stadium(body.r, body.hy, (u, v) => [0, v, u]),
			];
		case CYLINDER: {
			const r = body.hx;
			const sides: P3[][] = [0, 1, 2, 3].map((k) => {
				const a = (k * Math.PI) / 2 + Math.PI / 4;
				return [
					[r * Math.cos(a), -body.hy, r * Math.sin(a)],
					[r * Math.cos(a), body.hy, r * Math.sin(a)],
				];
			});
			return [ring(r, body.hy, 'y'), ring(r, -body.hy, 'y'), ...sides];
		}
		case BOX: {
			const { hx, hy, hz } = body;
			const at = (x: number, y: number, z: number): P3 => [x * hx, y * hy, z * hz];
			const face = (z: number): P3[] => [at(-1, -1, z), at(1, -1, z), at(1, 1, z), at(-1, 1, z), at(-1, -1, z)];
			if (hz === 0) return [face(0)];
			const posts: P3[][] = [
				[-1, -1],
				[1, -1],
				[1, 1],
				[-1, 1],
			].map(([x, y]) => [at(x, y, -1), at(x, y, 1)]);
			return [face(-1), face(1), ...posts];
		}
		case HULL: {
			const hull = body.hull;
			if (!hull) return [];
			const p = hull.points;
			const corner = (i: number): P3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
			if (hull.polygon) {
				const n = p.length / 3;
				return [Array.from({ length: n + 1 }, (_, i) => corner(i % n))];
			}
			const lines: P3[][] = [];
			for (const [a, b] of foldedEdges(hull.points, hull.triangles)) lines.push([corner(a), corner(b)]);
			return lines;
		}
		default:
			return [];
	}
}

function ring(r: number, at: number, axis: 'x' | 'y' | 'z'): P3[] {
	return Array.from({ length: STEPS + 1 }, (_, i) => {
		const a = (2 * Math.PI * i) / STEPS;
		const u = r * Math.cos(a);
		const v = r * Math.sin(a);
		return axis === 'y' ? [u, at, v] : axis === 'x' ? [at, u, v] : [u, v, at];
	});
}

function stadium(r: number, h: number, place: (u: number, v: number) => P3): P3[] {
	const points: P3[] = [];
	for (let i = 0; i <= STEPS / 2; i++) {
		const a = (2 * Math.PI * i) / STEPS;
		points.push(place(r * Math.cos(a), h + r * Math.sin(a)));
	}
	for (let i = STEPS / 2; i <= STEPS; i++) {
		const a = (2 * Math.PI * i) / STEPS;
		points.push(place(r * Math.cos(a), -h + r * Math.sin(a)));
	}
	points.push(place(r, h));
	return points;
}

/** Edges at which the surface folds: those between two triangles of one plane are left out. */
export function foldedEdges(points: ArrayLike<number>, triangles: ArrayLike<number>): [number, number][] {
	const normals = new Map<string, [number, number, number]>();
	const edges: [number, number][] = [];
	for (let t = 0; t < triangles.length; t += 3) {
		const [a, b, c] = [triangles[t], triangles[t + 1], triangles[t + 2]];
		const at = (i: number, k: number) => points[3 * i + k];
		const u = tripleOf((k) => at(b, k) - at(a, k));
		const v = tripleOf((k) => at(c, k) - at(a, k));
		const n: [number, number, number] = [
			u[1] * v[2] - u[2] * v[1],
			u[2] * v[0] - u[0] * v[2],
			u[0] * v[1] - u[1] * v[0],
		];
		const length = Math.hypot(...n) || 1;
		for (const [i, j] of [
			[a, b],
			[b, c],
			[c, a],
		] as const) {
			const other = normals.get(`${j},${i}`);
			if (other) {
				const dot = (n[0] * other[0] + n[1] * other[1] + n[2] * other[2]) / length;
				if (dot < 0.999) edges.push([i, j]);
				normals.delete(`${j},${i}`);
			} else normals.set(`${i},${j}`, [n[0] / length, n[1] / length, n[2] / length]);
		}
	}
	for (const key of normals.keys()) {
		const [i, j] = key.split(',').map(Number);
		edges.push([i, j]);
	}
	return edges;
}

/**
 * The body's lines in the world.
 * @param flat of a flat scene: outlines only, lifted to `depth`
 */
export function worldLines(body: Body, flat: boolean, depth = 0): P3[][] {
	const { m } = body;
	return localLines(body, flat).map((line) =>
		line.map(
			([x, y, z]): P3 => [
				body.x + m[0] * x + m[1] * y + m[2] * z,
				body.y + m[3] * x + m[4] * y + m[5] * z,
				body.z + depth + m[6] * x + m[7] * y + m[8] * z,
			],
		),
	);
}

/** A circle about a point, in the ground plane (space) or the picture's plane (flat). */
export function circleAround(centre: P3, radius: number, flat: boolean): P3[] {
	return Array.from({ length: 73 }, (_, i): P3 => {
		const a = (2 * Math.PI * i) / 72;
		const u = radius * Math.cos(a);
		const v = radius * Math.sin(a);
		return flat ? [centre[0] + u, centre[1] + v, centre[2]] : [centre[0] + u, centre[1], centre[2] + v];
	});
}
