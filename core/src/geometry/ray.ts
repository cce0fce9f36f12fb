/**
 * Where a ray first meets a convex body. One function per shape, all in the body's own axes; slabs after Kay and Kajiya (1986),
 * the sphere by the squared distance from the ray so that far, small spheres keep their digits.
 */
import { BOX, type Body, CAPSULE, CYLINDER, HULL, INSIDE, SPHERE } from './body';
import type { Hull } from './hull';
import { holdsStart } from './nearest-point';

const MISS = Number.POSITIVE_INFINITY;
/** Below this a direction component counts as zero in a division. */
const TINY = 1e-300;

/** Local normal of the last hit. */
const local = new Float64Array(3);

/**
 * @param x start of the ray, world metres; `d*` its unit direction
 * @param normal unit surface normal at the hit, facing the start; untouched on a miss or inside. May be null.
 * @returns distance to the first hit in metres, `Infinity` for none, or `INSIDE` when the start lies in the body (gap ≤ 1e-6).
 *   Not for meshes.
 */
export function castRay(body: Body, x: number, y: number, z: number, dx: number, dy: number, dz: number, normal: Float64Array | null): number {
	const ox = x - body.x;
	const oy = y - body.y;
	const oz = z - body.z;
	// Cheap refusal: the ray passes the bounding sphere.
	const along = ox * dx + oy * dy + oz * dz;
	const fx = ox - along * dx;
	const fy = oy - along * dy;
	const fz = oz - along * dz;
	const reach = body.reach + 2e-6;
	const off = fx * fx + fy * fy + fz * fz;
	if (off > reach * reach * (1 + 1e-12)) return MISS;
	const oo = ox * ox + oy * oy + oz * oz;
	if (along > 0 && oo > reach * reach) return MISS;
	if (oo <= reach * reach && holdsStart(body, x, y, z)) return INSIDE;
	const m = body.m;
	if (body.kind === SPHERE) {
		const t = sphereEntry(ox, oy, oz, dx, dy, dz, body.r);
		if (t === MISS || normal === null) return t;
		const s = 1 / body.r;
		normal[0] = (ox + t * dx) * s;
		normal[1] = (oy + t * dy) * s;
		normal[2] = (oz + t * dz) * s;
		return t;
	}
	const px = m[0] * ox + m[3] * oy + m[6] * oz;
	const py = m[1] * ox + m[4] * oy + m[7] * oz;
	const pz = m[2] * ox + m[5] * oy + m[8] * oz;
	const qx = m[0] * dx + m[3] * dy + m[6] * dz;
	const qy = m[1] * dx + m[4] * dy + m[7] * dz;
	const qz = m[2] * dx + m[5] * dy + m[8] * dz;
	let t = MISS;
	switch (body.kind) {
		case BOX:
			t = boxEntry(px, py, pz, qx, qy, qz, body.hx, body.hy, body.hz);
			break;
		case CAPSULE:
			t = capsuleEntry(px, py, pz, qx, qy, qz, body.r, body.hy);
			break;
		case CYLINDER:
			t = cylinderEntry(px, py, pz, qx, qy, qz, body.hx, body.hy);
			break;
		case HULL:
			t = hullEntry(px, py, pz, qx, qy, qz, body.hull as Hull);
			break;
	}
	if (t !== MISS && normal !== null) {
		normal[0] = m[0] * local[0] + m[1] * local[1] + m[2] * local[2];
		normal[1] = m[3] * local[0] + m[4] * local[1] + m[5] * local[2];
		normal[2] = m[6] * local[0] + m[7] * local[1] + m[8] * local[2];
	}
	return t;
}

function sphereEntry(ox: number, oy: number, oz: number, dx: number, dy: number, dz: number, r: number): number {
	const b = -(ox * dx + oy * dy + oz * dz);
	if (b < 0) return MISS;
	const fx = ox + b * dx;
	const fy = oy + b * dy;
	const fz = oz + b * dz;
	const disc = r * r - (fx * fx + fy * fy + fz * fz);
	if (disc < 0) return MISS;
	const c = ox * ox + oy * oy + oz * oz - r * r;
	// The smaller root as c / (b + √) when the start is near: no cancellation.
	const root = Math.sqrt(disc);
	return c < b * r ? Math.max(0, c / (b + root)) : b - root;
}

function boxEntry(px: number, py: number, pz: number, qx: number, qy: number, qz: number, hx: number, hy: number, hz: number): number {
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let axis = 0;
	if (Math.abs(qx) < TINY) {
		if (Math.abs(px) > hx) return MISS;
	} else {
		const s = qx > 0 ? hx : -hx;
		near = (-s - px) / qx;
		far = (s - px) / qx;
	}
	if (Math.abs(qy) < TINY) {
		if (Math.abs(py) > hy) return MISS;
	} else {
		const s = qy > 0 ? hy : -hy;
		const t = (-s - py) / qy;
		if (t > near) {
			near = t;
			axis = 1;
		}
		far = Math.min(far, (s - py) / qy);
	}
	if (Math.abs(qz) < TINY) {
		if (Math.abs(pz) > hz) return MISS;
	} else {
		const s = qz > 0 ? hz : -hz;
		const t = (-s - pz) / qz;
		if (t > near) {
			near = t;
			axis = 2;
		}
		far = Math.min(far, (s - pz) / qz);
	}
	if (near > far || near < 0) return MISS;
	local[0] = axis === 0 ? (qx > 0 ? -1 : 1) : 0;
	local[1] = axis === 1 ? (qy > 0 ? -1 : 1) : 0;
	local[2] = axis === 2 ? (qz > 0 ? -1 : 1) : 0;
	return near;
}

function capsuleEntry(px: number, py: number, pz: number, qx: number, qy: number, qz: number, r: number, hy: number): number {
	let best = MISS;
	let foot = 0;
	const a = qx * qx + qz * qz;
	if (a > TINY) {
		const t = circleEntry(px, pz, qx, qz, a, r);
		const y = py + t * qy;
		if (t >= 0 && t < best && Math.abs(y) <= hy) {
			best = t;
			foot = y;
		}
	}
	if (best === MISS) {
		const top = sphereEntry(px, py - hy, pz, qx, qy, qz, r);
		const bottom = sphereEntry(px, py + hy, pz, qx, qy, qz, r);
		best = Math.min(top, bottom);
		foot = top < bottom ? hy : -hy;
	}
	if (best === MISS) return MISS;
	local[0] = (px + best * qx) / r;
	local[1] = (py + best * qy - foot) / r;
	local[2] = (pz + best * qz) / r;
	return best;
}

/** Where a line enters a circle about the origin of the plane (x, z); negative or `MISS` when it does not. `a` is |q|² there. */
function circleEntry(px: number, pz: number, qx: number, qz: number, a: number, r: number): number {
	const b = -(px * qx + pz * qz) / a;
	const fx = px + b * qx;
	const fz = pz + b * qz;
	const disc = r * r - (fx * fx + fz * fz);
	if (disc < 0) return MISS;
	return b - Math.sqrt(disc / a);
}

function cylinderEntry(px: number, py: number, pz: number, qx: number, qy: number, qz: number, r: number, hy: number): number {
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let cap = false;
	const a = qx * qx + qz * qz;
	if (a > TINY) {
		const b = -(px * qx + pz * qz) / a;
		const fx = px + b * qx;
		const fz = pz + b * qz;
		const disc = r * r - (fx * fx + fz * fz);
		if (disc < 0) return MISS;
		const root = Math.sqrt(disc / a);
		near = b - root;
		far = b + root;
	} else if (px * px + pz * pz > r * r) return MISS;
	if (Math.abs(qy) < TINY) {
		if (Math.abs(py) > hy) return MISS;
	} else {
		const s = qy > 0 ? hy : -hy;
		const t = (-s - py) / qy;
		if (t > near) {
			near = t;
			cap = true;
		}
		far = Math.min(far, (s - py) / qy);
	}
	if (near > far || near < 0) return MISS;
	local[0] = cap ? 0 : (px + near * qx) / r;
	local[1] = cap ? (qy > 0 ? -1 : 1) : 0;
	local[2] = cap ? 0 : (pz + near * qz) / r;
	return near;
}

function hullEntry(px: number, py: number, pz: number, qx: number, qy: number, qz: number, hull: Hull): number {
	const planes = hull.planes;
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let at = -1;
	for (let i = 0; i < planes.length; i += 4) {
		const slope = planes[i] * qx + planes[i + 1] * qy + planes[i + 2] * qz;
		const height = planes[i + 3] - (planes[i] * px + planes[i + 1] * py + planes[i + 2] * pz);
		if (Math.abs(slope) < 1e-15) {
			if (height < -1e-12) return MISS;
			continue;
		}
		const t = height / slope;
		if (slope < 0) {
			if (t > near) {
				near = t;
				at = i;
			}
		} else if (t < far) far = t;
		if (near > far) return MISS;
	}
	if (near < 0 || at < 0) return MISS;
	local[0] = planes[at];
	local[1] = planes[at + 1];
	local[2] = planes[at + 2];
	return near;
}

/** How long the ray stays inside a convex body after entering it at `entry`: for drawings; found by the ray from the far side. */
export function exitDistance(body: Body, x: number, y: number, z: number, dx: number, dy: number, dz: number, entry: number): number {
	const start = Math.max(0, entry);
	const far = start + 2 * body.reach + Math.hypot(body.x - x, body.y - y, body.z - z) + 1;
	const back = castRay(body, x + dx * far, y + dy * far, z + dz * far, -dx, -dy, -dz, null);
	return back === MISS || back < 0 ? start : Math.max(start, far - back);
}
