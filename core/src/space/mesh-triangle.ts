/** Triangles of a mesh as convex bodies, and boxes in its axes. */
import { type Body, hullBody, sweptBoundsOf } from '../geometry/body';
import { Hull } from '../geometry/hull';
import type { Matrix } from '../geometry/matrix';
import type { Mesh } from './mesh';

/** One triangle as a convex body, moved from triangle to triangle. */
export class Triangle {
	readonly body = hullBody(new Hull(new Float64Array(9), new Uint32Array(0), false, true));

	/** Puts the body on a triangle of a mesh that lies at (x, y, z) with axes m. */
	set(mesh: Mesh, t: number, x: number, y: number, z: number, m: Matrix): Body {
		const points = (this.body.hull as Hull).points;
		const q = 9 * t;
		// About its own first corner, so that a small triangle of a large mesh keeps its digits.
		const p = mesh.corners;
		for (let k = 0; k < 9; k++) points[k] = p[q + k] - p[q + (k % 3)];
		this.body.boundingRadius = Math.sqrt(
			Math.max(
				points[3] * points[3] + points[4] * points[4] + points[5] * points[5],
				points[6] * points[6] + points[7] * points[7] + points[8] * points[8],
			),
		);
		return this.body.place(
			x + m[0] * p[q] + m[1] * p[q + 1] + m[2] * p[q + 2],
			y + m[3] * p[q] + m[4] * p[q + 1] + m[5] * p[q + 2],
			z + m[6] * p[q] + m[7] * p[q + 1] + m[8] * p[q + 2],
			m,
		);
	}
}

const worldBox = new Float64Array(6);

/** Bounds of a convex body, sweep included, in the axes of a mesh body. */
export function boundsInMesh(A: Body, M: Body, out: Float64Array): void {
	sweptBoundsOf(A, worldBox);
	toLocalBox(worldBox, M, out);
}

export function toLocalBox(box: Float64Array, M: Body, out: Float64Array): void {
	const m = M.m;
	const cx = (box[0] + box[3]) / 2 - M.x;
	const cy = (box[1] + box[4]) / 2 - M.y;
	const cz = (box[2] + box[5]) / 2 - M.z;
	const ex = (box[3] - box[0]) / 2;
	const ey = (box[4] - box[1]) / 2;
	const ez = (box[5] - box[2]) / 2;
	for (let k = 0; k < 3; k++) {
		const c = m[k] * cx + m[k + 3] * cy + m[k + 6] * cz;
		const e = Math.abs(m[k]) * ex + Math.abs(m[k + 3]) * ey + Math.abs(m[k + 6]) * ez;
		out[k] = c - e;
		out[k + 3] = c + e;
	}
}

/** World bounds of a triangle's three corners. */
export function cornerBounds(body: Body, out: Float64Array): void {
	const { m } = body;
	const p = (body.hull as Hull).points;
	const centre = [body.x, body.y, body.z];
	for (let k = 0; k < 3; k++) {
		out[k] = Infinity;
		out[k + 3] = -Infinity;
		for (let c = 0; c < 9; c += 3) {
			const value = centre[k] + m[3 * k] * p[c] + m[3 * k + 1] * p[c + 1] + m[3 * k + 2] * p[c + 2];
			out[k] = Math.min(out[k], value);
			out[k + 3] = Math.max(out[k + 3], value);
		}
	}
}
