/** Convex polygons and segments in a plane, metres: what two of them share, and its point nearest to the origin. */

export type Point2 = [number, number];

/** The convex outline of a few points, counter-clockwise; a segment stays two points. */
export function outline(points: Point2[]): Point2[] {
	if (points.length < 3) return points;
	const sorted = [...points].sort((p, q) => p[0] - q[0] || p[1] - q[1]);
	const chain = (list: Point2[]) => {
		const out: Point2[] = [];
		for (const q of list) {
			while (out.length > 1 && cross(out[out.length - 2], out[out.length - 1], q) <= 1e-16) out.pop();
			out.push(q);
		}
		out.pop();
		return out;
	};
	const ring = [...chain(sorted), ...chain(sorted.reverse())];
	return ring.length >= 2 ? ring : [sorted[0], sorted[sorted.length - 1]];
}

const cross = (o: Point2, a: Point2, b: Point2): number =>
	(a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);

function nearestOnSegment(a: Point2, b: Point2, c: Point2 = [0, 0]): Point2 {
	const ex = b[0] - a[0];
	const ey = b[1] - a[1];
	const dd = ex * ex + ey * ey;
	const t = dd === 0 ? 0 : Math.min(1, Math.max(0, ((c[0] - a[0]) * ex + (c[1] - a[1]) * ey) / dd));
	return [a[0] + t * ex, a[1] + t * ey];
}

/** The point of a convex polygon (or segment, or point) nearest to c. */
function nearestInPolygon(polygon: Point2[], c: Point2 = [0, 0]): Point2 {
	if (polygon.length >= 3 && polygon.every((p, i) => cross(p, polygon[(i + 1) % polygon.length], c) >= 0)) return c;
	let best = polygon[0];
	let least = Number.POSITIVE_INFINITY;
	polygon.forEach((p, i) => {
		const q = nearestOnSegment(p, polygon[(i + 1) % polygon.length], c);
		const dd = (q[0] - c[0]) ** 2 + (q[1] - c[1]) ** 2;
		if (dd < least) {
			least = dd;
			best = q;
		}
	});
	return best;
}

/**
 * The point nearest to the origin of what two convex polygons share: one, or a segment, is clipped by the edges of the other, or by the
 * line and ends of a segment. What lies outside by no more than `level` still counts. @returns null where they share nothing
 */
export function nearestInBoth(A: Point2[], B: Point2[], level: number): Point2 | null {
	if (A.length < 3 && B.length >= 3) return nearestInBoth(B, A, level);
	if (A.length < 3) return segmentsMeet(A, B);
	let subject = B;
	for (let i = 0; i < A.length && subject.length > 0; i++) {
		const a = A[i];
		const b = A[(i + 1) % A.length];
		const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
		const side = (p: Point2) => cross(a, b, p) / length;
		const kept: Point2[] = [];
		subject.forEach((p, k) => {
			const q = subject[(k + 1) % subject.length];
			const sp = side(p);
			const sq = side(q);
			if (sp >= -level) kept.push(p);
			if (sp >= -level !== sq >= -level && subject.length > 1) {
				const t = sp / (sp - sq);
				if (t > 0 && t < 1) kept.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
			}
		});
		subject = kept;
	}
	return subject.length === 0 ? null : nearestInPolygon(outline(subject));
}

function segmentsMeet(A: Point2[], B: Point2[]): Point2 | null {
	const [a, b] = [A[0], A[A.length - 1]];
	const [c, d] = [B[0], B[B.length - 1]];
	const ex = b[0] - a[0];
	const ey = b[1] - a[1];
	const fx = d[0] - c[0];
	const fy = d[1] - c[1];
	const area = ex * fy - ey * fx;
	const lengthA = Math.hypot(ex, ey);
	const lengthB = Math.hypot(fx, fy);
	if (Math.abs(area) > 1e-7 * lengthA * lengthB) {
		const t = ((c[0] - a[0]) * fy - (c[1] - a[1]) * fx) / area;
		return [a[0] + t * ex, a[1] + t * ey];
	}
	if (lengthA === 0) return a;
	// Parallel: what they share of A's line.
	const along = (p: Point2) => ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / lengthA;
	const low = Math.max(0, Math.min(along(c), along(d)));
	const high = Math.min(lengthA, Math.max(along(c), along(d)));
	const want = Math.min(Math.max(along([0, 0]), low), Math.max(low, high));
	return [a[0] + (want * ex) / lengthA, a[1] + (want * ey) / lengthA];
}

/** Nearest to the origin within both a polygon (or segment) and a disc, as `nearestInBoth`. */
export function nearestInDisc(polygon: Point2[], centre: Point2, radius: number, level: number): Point2 | null {
	const inside = (p: Point2) => Math.hypot(p[0] - centre[0], p[1] - centre[1]) <= radius + level;
	const first = nearestInPolygon(polygon);
	if (inside(first)) return first;
	const candidates: Point2[] = [];
	const reach = Math.hypot(centre[0], centre[1]);
	const onDisc: Point2 =
		reach <= radius ? [0, 0] : [centre[0] - (centre[0] * radius) / reach, centre[1] - (centre[1] * radius) / reach];
	const back = nearestInPolygon(polygon, onDisc);
	if (Math.hypot(back[0] - onDisc[0], back[1] - onDisc[1]) <= level) candidates.push(onDisc);
	polygon.forEach((p, i) => {
		const q = polygon[(i + 1) % polygon.length];
		if (inside(p)) candidates.push(p);
		const ex = q[0] - p[0];
		const ey = q[1] - p[1];
		const a = ex * ex + ey * ey;
		if (a === 0) return;
		const b = ((p[0] - centre[0]) * ex + (p[1] - centre[1]) * ey) / a;
		const c = ((p[0] - centre[0]) ** 2 + (p[1] - centre[1]) ** 2 - radius * radius) / a;
		const disc = b * b - c;
		if (disc < 0) return;
		for (const t of [-b - Math.sqrt(disc), -b + Math.sqrt(disc)])
			if (t >= 0 && t <= 1) candidates.push([p[0] + t * ex, p[1] + t * ey]);
		const middle = nearestOnSegment(p, q);
		if (inside(middle)) candidates.push(middle);
	});
	let best: Point2 | null = null;
	for (const p of candidates) if (!best || Math.hypot(p[0], p[1]) < Math.hypot(best[0], best[1])) best = p;
	return best;
}
