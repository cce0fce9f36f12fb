/** Where two convex bodies touch: of all points in which they do, the one nearest to the moving body's centre. */
import { BOX, type Body, CYLINDER, SPHERE } from './body';
import { emptyFeature, type Feature, featureAlong } from './feature';
import { nearestPoint } from './nearest-point';
import { nearestInBoth, nearestInDisc, outline, type Point2 } from './planar';
import { ontoRim } from './rim';
import { contact, witness } from './sweep';

/** Corners whose height along the normal differs by less than this part of the bodies' size touch together. */
const LEVEL_PART = 1e-7;

const featureA = emptyFeature();
const featureB = emptyFeature();

/**
 * The touching point nearest to the moving body's centre, written to `out`: faces and edges that meet flat touch in more than
 * one point. Call right after `castSweep` returned `travel` for the same bodies.
 */
export function contactNearCentre(
	A: Body,
	dx: number,
	dy: number,
	dz: number,
	travel: number,
	B: Body,
	out: Float64Array,
): void {
	if (A.kind === SPHERE) {
		// One point touches, the nearest to the sphere's centre; the way there is the normal, to more digits than the gap's.
		const x = A.x + travel * dx;
		const y = A.y + travel * dy;
		const z = A.z + travel * dz;
		const far = nearestPoint(B, x, y, z, out);
		if (far > 0) {
			contact.nx = (x - out[0]) / far;
			contact.ny = (y - out[1]) / far;
			contact.nz = (z - out[2]) / far;
		}
		return;
	}
	contactByFeatures(A, dx, dy, dz, travel, B, out);
	// Faces and edges are told apart by the normal, which a cylinder's rim leaves uncertain: hold the point against both bodies.
	const off = residual(A, dx, dy, dz, travel, B, out);
	if (off > 1e-9 * (1 + A.boundingRadius + B.boundingRadius) && residual(A, dx, dy, dz, travel, B, witness) < off)
		out.set(witness);
	if (A.kind === BOX && B.kind === CYLINDER) {
		rim.set(out);
		// Closed form, where it is no worse.
		if (
			ontoRim(A, dx, dy, dz, travel, B, rim) &&
			residual(A, dx, dy, dz, travel, B, rim) <=
				residual(A, dx, dy, dz, travel, B, out) + 1e-9 * (A.boundingRadius + B.boundingRadius)
		)
			out.set(rim);
	}
}

const rim = new Float64Array(3);
const foot = new Float64Array(3);

/** How far a point is from either body at the touch. */
function residual(A: Body, dx: number, dy: number, dz: number, travel: number, B: Body, p: Float64Array): number {
	const fromA = nearestPoint(A, p[0] - travel * dx, p[1] - travel * dy, p[2] - travel * dz, foot);
	return Math.max(fromA, nearestPoint(B, p[0], p[1], p[2], foot));
}

function contactByFeatures(
	A: Body,
	dx: number,
	dy: number,
	dz: number,
	travel: number,
	B: Body,
	out: Float64Array,
): void {
	const { nx, ny, nz } = contact;
	const level = LEVEL_PART * Math.min(A.boundingRadius, B.boundingRadius);
	out[0] = contact.x;
	out[1] = contact.y;
	out[2] = contact.z;
	const cx = A.x + travel * dx;
	const cy = A.y + travel * dy;
	const cz = A.z + travel * dz;
	featureAlong(A, -nx, -ny, -nz, cx, cy, cz, level, featureA);
	featureAlong(B, nx, ny, nz, B.x, B.y, B.z, level, featureB);
	if (featureA.count === 1 || (featureB.count === 1 && featureB.radius === 0)) {
		// One point touches. It is on both bodies: take it from the one that gives it exactly.
		const placed = { x: A.x, y: A.y, z: A.z };
		if (featureA.count === 1 && A.r > 0) {
			const p = featureA.points;
			nearestPoint(B, p[0] + A.r * nx, p[1] + A.r * ny, p[2] + A.r * nz, out);
		} else if (featureB.count === 1 && B.r > 0) {
			const p = featureB.points;
			A.place(cx, cy, cz, A.m);
			nearestPoint(A, p[0] - B.r * nx, p[1] - B.r * ny, p[2] - B.r * nz, out);
			A.place(placed.x, placed.y, placed.z, A.m);
		} else copy(featureA.count === 1 ? featureA.points : featureB.points, 0, out);
		return;
	}
	// Two axes in the touching plane, with the moving centre as origin.
	const [ux, uy, uz] = across(nx, ny, nz);
	const vx = ny * uz - nz * uy;
	const vy = nz * ux - nx * uz;
	const vz = nx * uy - ny * ux;
	const inPlane = (f: Feature) =>
		Array.from({ length: f.count }, (_, i): Point2 => {
			const x = f.points[3 * i] - cx;
			const y = f.points[3 * i + 1] - cy;
			const z = f.points[3 * i + 2] - cz;
			return [x * ux + y * uy + z * uz, x * vx + y * vy + z * vz];
		});
	const polygonA = outline(inPlane(featureA));
	const polygonB = outline(inPlane(featureB));
	const best =
		featureB.radius > 0
			? nearestInDisc(polygonA, polygonB[0], featureB.radius, level)
			: nearestInBoth(polygonA, polygonB, level);
	if (!best) return;
	const height = (featureB.points[0] - cx) * nx + (featureB.points[1] - cy) * ny + (featureB.points[2] - cz) * nz;
	out[0] = cx + best[0] * ux + best[1] * vx + height * nx;
	out[1] = cy + best[0] * uy + best[1] * vy + height * ny;
	out[2] = cz + best[0] * uz + best[1] * vz + height * nz;
}

function copy(from: Float64Array, at: number, out: Float64Array): void {
	out[0] = from[at];
	out[1] = from[at + 1];
	out[2] = from[at + 2];
}

/** A unit vector at right angles to (nx, ny, nz). */
function across(nx: number, ny: number, nz: number): [number, number, number] {
	const [x, y, z] = Math.abs(nx) < 0.6 ? [0, nz, -ny] : [-nz, 0, nx];
	const length = Math.hypot(x, y, z);
	return [x / length, y / length, z / length];
}
