/** Gap between a segment and a convex body: closed forms for the shapes a scene is mostly made of, `gap` for the rest. */
import { type Body, CAPSULE, SPHERE } from './body';
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
	return gap(segment, B);
}

/** Distance between p + s·d (0 ≤ s ≤ 1) and t·h (−1 ≤ t ≤ 1); Ericson 2005, §5.1.9. */
function segmentsDistance(px: number, py: number, pz: number, dx: number, dy: number, dz: number, hx: number, hy: number, hz: number): number {
	const a = dx * dx + dy * dy + dz * dz;
	const e = hx * hx + hy * hy + hz * hz;
	const b = dx * hx + dy * hy + dz * hz;
	const c = dx * px + dy * py + dz * pz;
	const f = hx * px + hy * py + hz * pz;
	const clampS = (s: number) => Math.min(1, Math.max(0, s));
	const clampT = (t: number) => Math.min(1, Math.max(-1, t));
	let s = 0;
	const denominator = a * e - b * b;
	if (a > 0 && denominator > 1e-14 * a * e) s = clampS((b * f - c * e) / denominator);
	let t = e > 0 ? clampT((b * s + f) / e) : 0;
	if (a > 0) s = clampS((b * t - c) / a);
	if (e > 0) t = clampT((b * s + f) / e);
	if (a > 0) s = clampS((b * t - c) / a);
	const x = px + s * dx - t * hx;
	const y = py + s * dy - t * hy;
	const z = pz + s * dz - t * hz;
	return Math.sqrt(x * x + y * y + z * z);
}
