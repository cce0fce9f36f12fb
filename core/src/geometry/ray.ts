/**
 * Where a ray first meets a convex body. One function per shape, all in the body's own axes; slabs after Kay and Kajiya (1986),
 * the sphere by the squared distance from the ray so that far, small spheres keep their digits.
 */
import { BOX, type Body, CAPSULE, CYLINDER, HULL, INSIDE, SPHERE } from './body';
import { holdsSpot, spot } from './nearest-point';

const MISS = Number.POSITIVE_INFINITY;
/** Below this a direction component counts as zero in a division. */
const TINY = 1e-300;
/** A ray through an edge or a corner enters and leaves at one distance, but for rounding: that is a touch. */
const EDGE = 1e-12;

/**
 * The ray in hand: start 0…2 and unit direction 3…5 in the world, and in 6 the distance `castLoaded` found. A call that is not inlined boxes every double it is given, so
 * the ray is loaded once and read from here by every shape it is tried on.
 */
export const ray = new Float64Array(7);
/** The ray in the axes of the shape it is tried on, and the local normal of the hit. */
const local = new Float64Array(6);
const face = new Float64Array(3);

const NO_PLANES = new Float64Array(0);

/** Bounding planes of a hull; none of another body. */
export const planesOf = (body: Body): Float64Array => body.hull?.planes ?? NO_PLANES;

export function loadRay(x: number, y: number, z: number, dx: number, dy: number, dz: number): void {
	ray[0] = x;
	ray[1] = y;
	ray[2] = z;
	ray[3] = dx;
	ray[4] = dy;
	ray[5] = dz;
}

/**
 * @param x start of the ray, world metres; `d*` its unit direction
 * @param normal unit surface normal at the hit, facing the start; untouched on a miss or inside. May be null.
 * @returns distance to the first hit in metres, `Infinity` for none, or `INSIDE` when the start lies in the body (gap ≤ 1e-6).
 *   Not for meshes.
 */
export function castRay(
	body: Body,
	x: number,
	y: number,
	z: number,
	dx: number,
	dy: number,
	dz: number,
	normal: Float64Array | null,
): number {
	loadRay(x, y, z, dx, dy, dz);
	castLoaded(body, body.kind, planesOf(body), body.data, 0);
	const t = ray[6];
	if (t !== MISS && t !== INSIDE && normal !== null) {
		const { m } = body;
		normal[0] = m[0] * face[0] + m[1] * face[1] + m[2] * face[2];
		normal[1] = m[3] * face[0] + m[4] * face[1] + m[5] * face[2];
		normal[2] = m[6] * face[0] + m[7] * face[1] + m[8] * face[2];
	}
	return t;
}

/**
 * `castRay` for the ray in `ray`, without the normal; the distance goes to `ray[6]`.
 * @param kind the body's, and `planesOf` it: handed over, so that a walk over many need not touch each body
 * @param b where the body's numbers begin in `data`
 */
export function castLoaded(body: Body, kind: number, planes: Float64Array, data: Float64Array, b: number): void {
	ray[6] = MISS;
	const ox = ray[0] - data[b];
	const oy = ray[1] - data[b + 1];
	const oz = ray[2] - data[b + 2];
	const dx = ray[3];
	const dy = ray[4];
	const dz = ray[5];
	// Cheap refusal: the ray passes the bounding sphere.
	const along = ox * dx + oy * dy + oz * dz;
	const fx = ox - along * dx;
	const fy = oy - along * dy;
	const fz = oz - along * dz;
	const reach = data[b + 16] + 2e-6;
	const off = fx * fx + fy * fy + fz * fz;
	if (off > reach * reach * (1 + 1e-12)) return;
	const oo = ox * ox + oy * oy + oz * oz;
	if (oo > reach * reach) {
		if (along > 0) return;
	} else {
		spot[0] = ray[0];
		spot[1] = ray[1];
		spot[2] = ray[2];
		if (holdsSpot(body)) {
			ray[6] = INSIDE;
			return;
		}
	}
	const qx = data[b + 3] * dx + data[b + 6] * dy + data[b + 9] * dz;
	const qy = data[b + 4] * dx + data[b + 7] * dy + data[b + 10] * dz;
	const qz = data[b + 5] * dx + data[b + 8] * dy + data[b + 11] * dz;
	const px = data[b + 3] * ox + data[b + 6] * oy + data[b + 9] * oz;
	const py = data[b + 4] * ox + data[b + 7] * oy + data[b + 10] * oz;
	const pz = data[b + 5] * ox + data[b + 8] * oy + data[b + 11] * oz;
	local[0] = px;
	local[1] = py;
	local[2] = pz;
	local[3] = qx;
	local[4] = qy;
	local[5] = qz;
	switch (kind) {
		case SPHERE: {
			const r = data[b + 15];
			sphereEntry(0, r);
			const t = ray[6];
			if (t !== MISS) {
				face[0] = (px + t * qx) / r;
				face[1] = (py + t * qy) / r;
				face[2] = (pz + t * qz) / r;
			}
			return;
		}
		case BOX:
			boxEntry(data, b);
			return;
		case CAPSULE:
			capsuleEntry(data, b);
			return;
		case CYLINDER:
			cylinderEntry(data, b);
			return;
		case HULL:
			hullEntry(planes);
			return;
	}
}

// Each of these leaves its distance in `ray[6]`, which holds `Infinity` before: a double that is returned takes memory.

/** A sphere of radius r on the local Y axis. */
function sphereEntry(y: number, r: number): void {
	const ox = local[0];
	const oy = local[1] - y;
	const oz = local[2];
	const dx = local[3];
	const dy = local[4];
	const dz = local[5];
	const b = -(ox * dx + oy * dy + oz * dz);
	if (b < 0) return;
	const fx = ox + b * dx;
	const fy = oy + b * dy;
	const fz = oz + b * dz;
	const disc = r * r - (fx * fx + fy * fy + fz * fz);
	if (disc < 0) return;
	const c = ox * ox + oy * oy + oz * oz - r * r;
	// The smaller root as c / (b + √) when the start is near: no cancellation.
	const root = Math.sqrt(disc);
	ray[6] = c < b * r ? Math.max(0, c / (b + root)) : b - root;
}

function boxEntry(data: Float64Array, b: number): void {
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let axis = 0;
	for (let k = 0; k < 3; k++) {
		const p = local[k];
		const q = local[k + 3];
		const h = data[b + 12 + k];
		if (Math.abs(q) < TINY) {
			if (Math.abs(p) > h) return;
			continue;
		}
		const s = q > 0 ? h : -h;
		const t0 = (-s - p) / q;
		const t1 = (s - p) / q;
		if (t0 > near) {
			near = t0;
			axis = k;
		}
		if (t1 < far) far = t1;
	}
	if (near > far + EDGE * (1 + near) || near < 0) return;
	face[0] = 0;
	face[1] = 0;
	face[2] = 0;
	face[axis] = local[axis + 3] > 0 ? -1 : 1;
	ray[6] = near;
}

function capsuleEntry(data: Float64Array, body: number): void {
	const hy = data[body + 13];
	const r = data[body + 15];
	const px = local[0];
	const pz = local[2];
	const qx = local[3];
	const qy = local[4];
	const qz = local[5];
	let best = MISS;
	let foot = 0;
	const a = qx * qx + qz * qz;
	if (a > TINY) {
		// Where the line enters the endless cylinder about the axis.
		const b = -(px * qx + pz * qz) / a;
		const fx = px + b * qx;
		const fz = pz + b * qz;
		const disc = r * r - (fx * fx + fz * fz);
		if (disc < 0) return;
		const t = b - Math.sqrt(disc / a);
		const y = local[1] + t * qy;
		if (t >= 0 && Math.abs(y) <= hy) {
			best = t;
			foot = y;
		}
	}
	if (best === MISS) {
		ray[6] = MISS;
		sphereEntry(hy, r);
		const top = ray[6];
		ray[6] = MISS;
		sphereEntry(-hy, r);
		best = Math.min(top, ray[6]);
		foot = top < ray[6] ? hy : -hy;
		if (best === MISS) return;
	}
	face[0] = (px + best * qx) / r;
	face[1] = (local[1] + best * qy - foot) / r;
	face[2] = (pz + best * qz) / r;
	ray[6] = best;
}

function cylinderEntry(data: Float64Array, body: number): void {
	const r = data[body + 12];
	const hy = data[body + 13];
	const px = local[0];
	const py = local[1];
	const pz = local[2];
	const qx = local[3];
	const qy = local[4];
	const qz = local[5];
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let cap = false;
	const a = qx * qx + qz * qz;
	if (a > TINY) {
		const b = -(px * qx + pz * qz) / a;
		const fx = px + b * qx;
		const fz = pz + b * qz;
		const disc = r * r - (fx * fx + fz * fz);
		if (disc < 0) return;
		const root = Math.sqrt(disc / a);
		near = b - root;
		far = b + root;
	} else if (px * px + pz * pz > r * r) return;
	if (Math.abs(qy) < TINY) {
		if (Math.abs(py) > hy) return;
	} else {
		const s = qy > 0 ? hy : -hy;
		const t0 = (-s - py) / qy;
		const t1 = (s - py) / qy;
		if (t0 > near) {
			near = t0;
			cap = true;
		}
		if (t1 < far) far = t1;
	}
	if (near > far + EDGE * (1 + near) || near < 0) return;
	face[0] = cap ? 0 : (px + near * qx) / r;
	face[1] = cap ? (qy > 0 ? -1 : 1) : 0;
	face[2] = cap ? 0 : (pz + near * qz) / r;
	ray[6] = near;
}

function hullEntry(planes: Float64Array): void {
	const px = local[0];
	const py = local[1];
	const pz = local[2];
	const qx = local[3];
	const qy = local[4];
	const qz = local[5];
	let near = Number.NEGATIVE_INFINITY;
	let far = MISS;
	let at = -1;
	for (let i = 0; i < planes.length; i += 4) {
		const slope = planes[i] * qx + planes[i + 1] * qy + planes[i + 2] * qz;
		const height = planes[i + 3] - (planes[i] * px + planes[i + 1] * py + planes[i + 2] * pz);
		if (Math.abs(slope) < 1e-15) {
			if (height < -1e-12) return;
			continue;
		}
		const t = height / slope;
		if (slope < 0) {
			if (t > near) {
				near = t;
				at = i;
			}
		} else if (t < far) far = t;
		if (near > far + EDGE * (1 + near)) return;
	}
	if (near < 0 || at < 0) return;
	face[0] = planes[at];
	face[1] = planes[at + 1];
	face[2] = planes[at + 2];
	ray[6] = near;
}

/** How long the ray stays inside a convex body after entering it at `entry`: for drawings; found by the ray from the far side. */
export function exitDistance(
	body: Body,
	x: number,
	y: number,
	z: number,
	dx: number,
	dy: number,
	dz: number,
	entry: number,
): number {
	const start = Math.max(0, entry);
	const far = start + 2 * body.boundingRadius + Math.hypot(body.x - x, body.y - y, body.z - z) + 1;
	const back = castRay(body, x + dx * far, y + dy * far, z + dz * far, -dx, -dy, -dz, null);
	return back === MISS || back < 0 ? start : Math.max(start, far - back);
}
