/** Gap between a segment and a convex body: closed forms for the shapes a scene is mostly made of, `gap` for the rest. */
import { BOX, type Body, CAPSULE, CYLINDER, SPHERE } from './body';
import { gap } from './gjk';

/**
 * @param segment a point body swept from its centre (radius 0)
 * @returns the distance in metres, 0 when they touch
 */
export function segmentGap(segment: Body, B: Body): number {
	const px = segment.x - B.x;
	const py = segment.y - B.y;
	const pz = segment.z - B.z;
	const { sx, sy, sz } = segment;
	if (B.kind === SPHERE) {
		const dd = sx * sx + sy * sy + sz * sz;
		const t = dd === 0 ? 0 : Math.min(1, Math.max(0, -(px * sx + py * sy + pz * sz) / dd));
		const x = px + t * sx;
		const y = py + t * sy;
		const z = pz + t * sz;
		return Math.max(0, Math.sqrt(x * x + y * y + z * z) - B.r);
	}
	if (B.kind === CAPSULE) {
		const { m, hy } = B;
		return Math.max(0, segmentsDistance(px, py, pz, sx, sy, sz, m[1] * hy, m[4] * hy, m[7] * hy) - B.r);
	}
	if (B.kind === BOX || B.kind === CYLINDER) return alongSegment(segment, B);
	return gap(segment, B);
}

/**
 * Distance in metres between the segment p + s·d (0 ≤ s ≤ 1) and a triangle, both in the same axes; 0 where they cross. It is the
 * least of the distances to the three edges and of those of the ends over the triangle's face.
 * @param corners nine coordinates of the triangle from `at` on
 */
export function segmentTriangleGap(
	px: number,
	py: number,
	pz: number,
	dx: number,
	dy: number,
	dz: number,
	corners: Float64Array,
	at: number,
): number {
	// From the first corner, so that a small triangle of a large mesh keeps its digits.
	const ax = corners[at];
	const ay = corners[at + 1];
	const az = corners[at + 2];
	const ux = corners[at + 3] - ax;
	const uy = corners[at + 4] - ay;
	const uz = corners[at + 5] - az;
	const vx = corners[at + 6] - ax;
	const vy = corners[at + 7] - ay;
	const vz = corners[at + 8] - az;
	const x = px - ax;
	const y = py - ay;
	const z = pz - az;
	const nx = uy * vz - uz * vy;
	const ny = uz * vx - ux * vz;
	const nz = ux * vy - uy * vx;
	const nn = nx * nx + ny * ny + nz * nz;
	let best = Infinity;
	if (nn > 0) {
		const from = nx * x + ny * y + nz * z;
		const to = from + nx * dx + ny * dy + nz * dz;
		const over = (s: number) => {
			const wx = x + s * dx;
			const wy = y + s * dy;
			const wz = z + s * dz;
			const b = (wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz;
			const c = (uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz;
			return b >= 0 && c >= 0 && b + c <= nn;
		};
		if (from * to <= 0 && over(from === to ? 0 : from / (from - to))) return 0;
		const least = Math.min(Math.abs(from), Math.abs(to));
		if (over(Math.abs(from) <= Math.abs(to) ? 0 : 1)) best = least / Math.sqrt(nn);
	}
	const half = (ex: number, ey: number, ez: number, fx: number, fy: number, fz: number) =>
		segmentsDistance(
			x - (ex + fx) / 2,
			y - (ey + fy) / 2,
			z - (ez + fz) / 2,
			dx,
			dy,
			dz,
			(fx - ex) / 2,
			(fy - ey) / 2,
			(fz - ez) / 2,
		);
	return Math.min(best, half(0, 0, 0, ux, uy, uz), half(0, 0, 0, vx, vy, vz), half(ux, uy, uz, vx, vy, vz));
}

/** A place from `low` to 1. */
function clamp(low: number, value: number): number {
	return Math.min(1, Math.max(low, value));
}

/** Distance between p + s·d (0 ≤ s ≤ 1) and t·h (−1 ≤ t ≤ 1); Ericson 2005, §5.1.9. */
function segmentsDistance(
	px: number,
	py: number,
	pz: number,
	dx: number,
	dy: number,
	dz: number,
	hx: number,
	hy: number,
	hz: number,
): number {
	const a = dx * dx + dy * dy + dz * dz;
	const e = hx * hx + hy * hy + hz * hz;
	const b = dx * hx + dy * hy + dz * hz;
	const c = dx * px + dy * py + dz * pz;
	const f = hx * px + hy * py + hz * pz;
	let s = 0;
	const denominator = a * e - b * b;
	if (a > 0 && denominator > 1e-14 * a * e) s = clamp(0, (b * f - c * e) / denominator);
	let t = e > 0 ? clamp(-1, (b * s + f) / e) : 0;
	if (a > 0) s = clamp(0, (b * t - c) / a);
	if (e > 0) t = clamp(-1, (b * s + f) / e);
	if (a > 0) s = clamp(0, (b * t - c) / a);
	const x = px + s * dx - t * hx;
	const y = py + s * dy - t * hy;
	const z = pz + s * dz - t * hz;
	return Math.sqrt(x * x + y * y + z * z);
}

/** How closely the nearest place on the segment is found, as a part of its length: the distance then is good to its square. */
const PLACE = 1e-13;

/**
 * Distance between a segment and a box or cylinder. The squared distance of a point of the segment is a convex function of its
 * place; the root of its slope is bracketed and closed in on by the Illinois variant of false position (Dowell and Jarratt, 1971).
 */
function alongSegment(segment: Body, B: Body): number {
	const { m } = B;
	const ox = segment.x - B.x;
	const oy = segment.y - B.y;
	const oz = segment.z - B.z;
	const { sx, sy, sz } = segment;
	line[0] = m[0] * ox + m[3] * oy + m[6] * oz;
	line[1] = m[1] * ox + m[4] * oy + m[7] * oz;
	line[2] = m[2] * ox + m[5] * oy + m[8] * oz;
	line[3] = m[0] * sx + m[3] * sy + m[6] * sz;
	line[4] = m[1] * sx + m[4] * sy + m[7] * sz;
	line[5] = m[2] * sx + m[5] * sy + m[8] * sz;
	const round = B.kind === CYLINDER;
	const { data } = B;
	let a = 0;
	let b = 1;
	place[0] = 0;
	slopeAt(data, round);
	let fa = place[1];
	if (fa >= 0) return Math.sqrt(place[2]);
	place[0] = 1;
	slopeAt(data, round);
	let fb = place[1];
	if (fb <= 0) return Math.sqrt(place[2]);
	let side = 0;
	for (let step = 0; step < 100; step++) {
		const t = step % 4 === 3 ? (a + b) / 2 : (a * fb - b * fa) / (fb - fa);
		place[0] = t;
		slopeAt(data, round);
		const f = place[1];
		if (place[2] === 0 || f === 0) break;
		if (f > 0) {
			b = t;
			fb = f;
			if (side === 1) fa /= 2;
			side = 1;
		} else {
			a = t;
			fa = f;
			if (side === -1) fb /= 2;
			side = -1;
		}
		if (b - a <= PLACE) break;
		// By convexity the squared distance cannot fall by more than twice this.
		if (Math.abs(f) * (b - a) <= 1e-14 * place[2]) break;
	}
	return Math.sqrt(place[2]);
}

/** The segment in the body's axes: start and displacement. */
const line = new Float64Array(6);
/** A place on the segment (0…1), half the slope of the squared distance there, and the squared distance. */
const place = new Float64Array(3);

function slopeAt(data: Float64Array, round: boolean): void {
	const t = place[0];
	const x = line[0] + t * line[3];
	const y = line[1] + t * line[4];
	const z = line[2] + t * line[5];
	const hx = data[12];
	const hy = data[13];
	const ey = y > hy ? y - hy : y < -hy ? y + hy : 0;
	let ex: number;
	let ez: number;
	if (round) {
		const radial = Math.sqrt(x * x + z * z);
		const s = radial > hx ? 1 - hx / radial : 0;
		ex = x * s;
		ez = z * s;
	} else {
		const hz = data[14];
		ex = x > hx ? x - hx : x < -hx ? x + hx : 0;
		ez = z > hz ? z - hz : z < -hz ? z + hz : 0;
	}
	place[1] = ex * line[3] + ey * line[4] + ez * line[5];
	place[2] = ex * ex + ey * ey + ez * ez;
}
