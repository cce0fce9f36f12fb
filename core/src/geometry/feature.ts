/** Features of convex bodies: the face, edge or corner that lies farthest along a direction. */
import { BOX, type Body, CAPSULE, CYLINDER, HULL, SPHERE } from './body';
import type { Hull } from './hull';

/** A polygon (or segment, or point) in the world, and how many corners it has. */
export interface Feature {
	points: Float64Array;
	count: number;
	/** A cylinder's cap: centre in points[0…2], its axis and radius here. */
	radius: number;
}

export const emptyFeature = (): Feature => ({ points: new Float64Array(3 * 16), count: 0, radius: 0 });

/** All points of a body that lie farthest along a direction, within `level` metres, for the body centred at (cx, cy, cz). */
export function featureAlong(
	body: Body,
	dx: number,
	dy: number,
	dz: number,
	cx: number,
	cy: number,
	cz: number,
	level: number,
	out: Feature,
): void {
	const m = body.m;
	const qx = m[0] * dx + m[3] * dy + m[6] * dz;
	const qy = m[1] * dx + m[4] * dy + m[7] * dz;
	const qz = m[2] * dx + m[5] * dy + m[8] * dz;
	out.count = 0;
	out.radius = 0;
	const add = (lx: number, ly: number, lz: number) => {
		if (3 * out.count + 3 > out.points.length) {
			const wider = new Float64Array(2 * out.points.length);
			wider.set(out.points);
			out.points = wider;
		}
		const i = 3 * out.count++;
		out.points[i] = cx + m[0] * lx + m[1] * ly + m[2] * lz + body.r * dx;
		out.points[i + 1] = cy + m[3] * lx + m[4] * ly + m[5] * lz + body.r * dy;
		out.points[i + 2] = cz + m[6] * lx + m[7] * ly + m[8] * lz + body.r * dz;
	};
	const both = (q: number, h: number): number[] =>
		Math.abs(q) * 2 * h <= level ? (h > 0 ? [-h, h] : [0]) : [q > 0 ? h : -h];
	switch (body.kind) {
		case SPHERE:
			add(0, 0, 0);
			return;
		case CAPSULE:
			for (const y of both(qy, body.hy)) add(0, y, 0);
			return;
		case BOX:
			for (const x of both(qx, body.hx))
				for (const y of both(qy, body.hy)) for (const z of both(qz, body.hz)) add(x, y, z);
			return;
		case CYLINDER: {
			const radial = Math.sqrt(qx * qx + qz * qz);
			if (radial * 2 * body.hx <= level) {
				add(0, qy > 0 ? body.hy : -body.hy, 0);
				out.radius = body.hx;
				return;
			}
			for (const y of both(qy, body.hy)) add((body.hx * qx) / radial, y, (body.hx * qz) / radial);
			return;
		}
		case HULL: {
			const p = (body.hull as Hull).points;
			let most = Number.NEGATIVE_INFINITY;
			for (let i = 0; i < p.length; i += 3) most = Math.max(most, p[i] * qx + p[i + 1] * qy + p[i + 2] * qz);
			for (let i = 0; i < p.length; i += 3)
				if (p[i] * qx + p[i + 1] * qy + p[i + 2] * qz >= most - level) add(p[i], p[i + 1], p[i + 2]);
		}
	}
}
