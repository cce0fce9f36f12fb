/** Rays, sweeps and gaps against any body, convex or mesh, with the rule for starts on or in a shape. */
import { type Body, INSIDE, MESH } from '../geometry/body';
import { contactNearCentre } from '../geometry/contact';
import { gap } from '../geometry/gjk';
import { nearestPoint } from '../geometry/nearest-point';
import { castRay } from '../geometry/ray';
import { segmentGap } from '../geometry/segment-gap';
import { castSweep, contact } from '../geometry/sweep';
import { START_GAP } from '../geometry/tolerances';
import { lastTriangle, type Mesh, pointToMesh } from './mesh';
import { gapBetweenMeshes, gapToMesh, segmentGapToMesh } from './mesh-gap';
import { castSweepToMesh } from './mesh-sweep';

/** What the last cast found beside the distance; only valid until the next one. */
export const hit = {
	point: new Float64Array(3),
	normal: new Float64Array(3),
	/** Whether the start lay in or on the body (gap ≤ 1e-6). */
	startsInside: false,
};

const spot = new Float64Array(3);

function atStart(x: number, y: number, z: number, dx: number, dy: number, dz: number): number {
	hit.point[0] = x;
	hit.point[1] = y;
	hit.point[2] = z;
	hit.normal[0] = -dx;
	hit.normal[1] = -dy;
	hit.normal[2] = -dz;
	return 0;
}

/**
 * First hit of a ray on a body, with its start rule.
 * @param count whether a start inside counts as a touch at distance 0; otherwise it is skipped
 * @returns distance in metres ≤ `length`, or `Infinity`; `found` holds point, normal (facing the start) and `startsInside`
 */
export function rayOn(
	body: Body,
	x: number,
	y: number,
	z: number,
	dx: number,
	dy: number,
	dz: number,
	length: number,
	count: boolean,
): number {
	const { point, normal } = hit;
	let t: number;
	hit.startsInside = false;
	if (body.kind === MESH) {
		hit.startsInside = pointToMesh(x, y, z, body, START_GAP, spot) <= START_GAP;
		if (hit.startsInside && count) return atStart(x, y, z, dx, dy, dz);
		const m = body.m;
		const ox = x - body.x;
		const oy = y - body.y;
		const oz = z - body.z;
		const mesh = body.mesh as Mesh;
		t = mesh.castRay(
			m[0] * ox + m[3] * oy + m[6] * oz,
			m[1] * ox + m[4] * oy + m[7] * oz,
			m[2] * ox + m[5] * oy + m[8] * oz,
			m[0] * dx + m[3] * dy + m[6] * dz,
			m[1] * dx + m[4] * dy + m[7] * dz,
			m[2] * dx + m[5] * dy + m[8] * dz,
			START_GAP,
			length,
		);
		if (t === Infinity) return t;
		mesh.normal(lastTriangle, spot);
		normal[0] = m[0] * spot[0] + m[1] * spot[1] + m[2] * spot[2];
		normal[1] = m[3] * spot[0] + m[4] * spot[1] + m[5] * spot[2];
		normal[2] = m[6] * spot[0] + m[7] * spot[1] + m[8] * spot[2];
		if (normal[0] * dx + normal[1] * dy + normal[2] * dz > 0) {
			normal[0] = -normal[0];
			normal[1] = -normal[1];
			normal[2] = -normal[2];
		}
	} else {
		t = castRay(body, x, y, z, dx, dy, dz, normal);
		if (t === INSIDE) {
			hit.startsInside = true;
			return count ? atStart(x, y, z, dx, dy, dz) : Infinity;
		}
		if (t > length) return Infinity;
	}
	point[0] = x + t * dx;
	point[1] = y + t * dy;
	point[2] = z + t * dz;
	return t;
}

/**
 * First touch of a moving convex body on another body, with its start rule; otherwise as `rayOn`. `A` stands at its start,
 * without a sweep of its own.
 */
export function sweepOn(
	A: Body,
	dx: number,
	dy: number,
	dz: number,
	length: number,
	body: Body,
	count: boolean,
): number {
	const { point, normal } = hit;
	hit.startsInside = false;
	if (body.kind === MESH) {
		const met = castSweepToMesh(A, dx, dy, dz, length, body);
		hit.startsInside = met.startsInside;
		if (met.startsInside && count) {
			atStart(A.x, A.y, A.z, dx, dy, dz);
			point.set(met.startPoint);
			return 0;
		}
		point.set(met.point);
		normal.set(met.normal);
		return met.travel;
	}
	const t = castSweep(A, dx, dy, dz, length, body);
	if (t === INSIDE) {
		hit.startsInside = true;
		if (!count) return Infinity;
		atStart(A.x, A.y, A.z, dx, dy, dz);
		nearestPoint(body, A.x, A.y, A.z, point);
		return 0;
	}
	if (t === Infinity) return t;
	contactNearCentre(A, dx, dy, dz, t, body, point);
	normal[0] = contact.nx;
	normal[1] = contact.ny;
	normal[2] = contact.nz;
	return t;
}

/** Gap in metres between any two bodies, sweeps of convex ones included; `Infinity` beyond `limit` when meshes are concerned. */
export function gapBetween(A: Body, B: Body, limit = Infinity): number {
	if (A.kind === MESH) return B.kind === MESH ? gapBetweenMeshes(A, B, limit) : gapToMesh(B, A, limit);
	return B.kind === MESH ? gapToMesh(A, B, limit) : gap(A, B);
}

/** Gap in metres between a segment, given as a swept point, and any body. */
export function gapToSegment(segment: Body, B: Body): number {
	return B.kind === MESH ? segmentGapToMesh(segment, B) : segmentGap(segment, B);
}

/** Nearest point of any body to a point; @returns the distance (for a convex body 0 inside). */
export function nearestOn(body: Body, x: number, y: number, z: number, out: Float64Array): number {
	return body.kind === MESH ? pointToMesh(x, y, z, body, Infinity, out) : nearestPoint(body, x, y, z, out);
}
