/** Nearest point of a convex body to a point: closed forms for all but hulls in space, which are walked with `gap`. */
import { BOX, type Body, CAPSULE, CYLINDER, HULL, sphereBody } from './body';
import { gap, nearest } from './gjk';
import type { Hull } from './hull';
import { START_GAP } from './tolerances';

const probe = sphereBody(0);
const corner = new Float64Array(3);

/**
 * The point in hand, 0…2, and the distance found, 3. As with rays, what is handed over in an array takes no memory per call.
 */
export const spot = new Float64Array(4);

/**
 * @param out the nearest point of the body (the point itself when inside), world metres
 * @returns the distance in metres, 0 inside. Not for meshes; sweeps are ignored.
 */
export function nearestPoint(body: Body, x: number, y: number, z: number, out: Float64Array): number {
	spot[0] = x;
	spot[1] = y;
	spot[2] = z;
	nearestToSpot(body, out);
	return spot[3];
}

/** `nearestPoint` for the point in `spot`; the distance goes to `spot[3]`. */
function nearestToSpot(body: Body, out: Float64Array): void {
	const x = spot[0];
	const y = spot[1];
	const z = spot[2];
	const dx = x - body.x;
	const dy = y - body.y;
	const dz = z - body.z;
	const m = body.m;
	const px = m[0] * dx + m[3] * dy + m[6] * dz;
	const py = m[1] * dx + m[4] * dy + m[7] * dz;
	const pz = m[2] * dx + m[5] * dy + m[8] * dz;
	let qx = 0;
	let qy = 0;
	let qz = 0;
	switch (body.kind) {
		case CAPSULE:
			qy = py < -body.hy ? -body.hy : Math.min(py, body.hy);
			break;
		case BOX:
			qx = px < -body.hx ? -body.hx : Math.min(px, body.hx);
			qy = py < -body.hy ? -body.hy : Math.min(py, body.hy);
			qz = pz < -body.hz ? -body.hz : Math.min(pz, body.hz);
			break;
		case CYLINDER: {
			const radial = Math.sqrt(px * px + pz * pz);
			const s = radial > body.hx ? body.hx / radial : 1;
			qx = px * s;
			qz = pz * s;
			qy = py < -body.hy ? -body.hy : Math.min(py, body.hy);
			break;
		}
		case HULL: {
			const hull = body.hull as Hull;
			if (hull.movable) {
				nearestOnTriangle(hull.points, 0, px, py, pz, corner);
				qx = corner[0];
				qy = corner[1];
				qz = corner[2];
			} else if (depthInHull(hull, px, py, pz) <= 0 && (!hull.polygon || pz === 0)) {
				qx = px;
				qy = py;
				qz = pz;
			} else if (hull.polygon) {
				const ring = hull.points;
				let best = Number.POSITIVE_INFINITY;
				for (let i = 0; i < ring.length; i += 3) {
					const j = (i + 3) % ring.length;
					const ex = ring[j] - ring[i];
					const ey = ring[j + 1] - ring[i + 1];
					const t = Math.min(1, Math.max(0, ((px - ring[i]) * ex + (py - ring[i + 1]) * ey) / (ex * ex + ey * ey)));
					const x1 = ring[i] + t * ex;
					const y1 = ring[i + 1] + t * ey;
					const dd = (px - x1) * (px - x1) + (py - y1) * (py - y1);
					if (dd < best) {
						best = dd;
						qx = x1;
						qy = y1;
					}
				}
			} else {
				probe.x = x;
				probe.y = y;
				probe.z = z;
				const distance = gap(probe, body);
				out[0] = x + nearest.nx * distance;
				out[1] = y + nearest.ny * distance;
				out[2] = z + nearest.nz * distance;
				spot[3] = distance;
				return;
			}
			break;
		}
	}
	let ex = px - qx;
	let ey = py - qy;
	let ez = pz - qz;
	const core = Math.sqrt(ex * ex + ey * ey + ez * ez);
	if (core <= body.r) {
		out[0] = x;
		out[1] = y;
		out[2] = z;
		spot[3] = 0;
		return;
	}
	const distance = core - body.r;
	const s = distance / core;
	ex *= s;
	ey *= s;
	ez *= s;
	out[0] = x - (m[0] * ex + m[1] * ey + m[2] * ez);
	out[1] = y - (m[3] * ex + m[4] * ey + m[5] * ez);
	out[2] = z - (m[6] * ex + m[7] * ey + m[8] * ez);
	spot[3] = distance;
}

/** Largest signed distance of a local point from the bounding planes: ≤ 0 inside, and never more than the true gap outside. */
export function depthInHull(hull: Hull, x: number, y: number, z: number): number {
	const planes = hull.planes;
	let most = Number.NEGATIVE_INFINITY;
	for (let i = 0; i < planes.length; i += 4) {
		const d = planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3];
		if (d > most) most = d;
	}
	return most;
}

const scratch = new Float64Array(3);

/** Whether the point in `spot` lies in or within `START_GAP` of a convex body. */
export function holdsSpot(body: Body): boolean {
	const { data } = body;
	const dx = spot[0] - data[0];
	const dy = spot[1] - data[1];
	const dz = spot[2] - data[2];
	const reach = data[16] + 2 * START_GAP;
	if (dx * dx + dy * dy + dz * dz > reach * reach) return false;
	if (body.kind === HULL) {
		// The planes settle all but a point just outside, which may be off an edge or a corner.
		const planes = (body.hull as Hull).planes;
		const px = data[3] * dx + data[6] * dy + data[9] * dz;
		const py = data[4] * dx + data[7] * dy + data[10] * dz;
		const pz = data[5] * dx + data[8] * dy + data[11] * dz;
		let outside = false;
		for (let i = 0; i < planes.length; i += 4) {
			const d = planes[i] * px + planes[i + 1] * py + planes[i + 2] * pz - planes[i + 3];
			if (d > START_GAP) return false;
			if (d > 0) outside = true;
		}
		if (!outside) return true;
	}
	nearestToSpot(body, scratch);
	return spot[3] <= START_GAP;
}

/** Nearest point of a triangle (nine numbers at `q`) to a point; Ericson 2005, §5.1.5. @returns the distance */
export function nearestOnTriangle(
	p: Float64Array,
	q: number,
	x: number,
	y: number,
	z: number,
	out: Float64Array,
): number {
	const abx = p[q + 3] - p[q];
	const aby = p[q + 4] - p[q + 1];
	const abz = p[q + 5] - p[q + 2];
	const acx = p[q + 6] - p[q];
	const acy = p[q + 7] - p[q + 1];
	const acz = p[q + 8] - p[q + 2];
	const dot = (ax: number, ay: number, az: number, k: number) =>
		ax * (x - p[q + k]) + ay * (y - p[q + k + 1]) + az * (z - p[q + k + 2]);
	const d1 = dot(abx, aby, abz, 0);
	const d2 = dot(acx, acy, acz, 0);
	const d3 = dot(abx, aby, abz, 3);
	const d4 = dot(acx, acy, acz, 3);
	const d5 = dot(abx, aby, abz, 6);
	const d6 = dot(acx, acy, acz, 6);
	const vc = d1 * d4 - d3 * d2;
	const vb = d5 * d2 - d1 * d6;
	const va = d3 * d6 - d5 * d4;
	let v = 0;
	let w = 0;
	if (d1 <= 0 && d2 <= 0) v = w = 0;
	else if (d3 >= 0 && d4 <= d3) v = 1;
	else if (d6 >= 0 && d5 <= d6) w = 1;
	else if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3);
	else if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6);
	else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
		w = (d4 - d3) / (d4 - d3 + (d5 - d6));
		v = 1 - w;
	} else {
		const nx = aby * acz - abz * acy;
		const ny = abz * acx - abx * acz;
		const nz = abx * acy - aby * acx;
		const s = (nx * (x - p[q]) + ny * (y - p[q + 1]) + nz * (z - p[q + 2])) / (nx * nx + ny * ny + nz * nz);
		out[0] = x - s * nx;
		out[1] = y - s * ny;
		out[2] = z - s * nz;
		return Math.abs(s) * Math.hypot(nx, ny, nz);
	}
	out[0] = p[q] + v * abx + w * acx;
	out[1] = p[q + 1] + v * aby + w * acy;
	out[2] = p[q + 2] + v * abz + w * acz;
	return Math.hypot(x - out[0], y - out[1], z - out[2]);
}
