/**
 * A convex body moved along a straight line until it first touches another.
 *
 * The gap between two convex bodies is a convex function of the distance travelled, so Newton's step from the near side never
 * passes the first touch: each step goes as far as the separating plane just found allows (conservative advancement). Nothing is
 * tunnelled through, whatever the speed.
 */
import { BOX, type Body, CAPSULE, CYLINDER, HULL, INSIDE, SPHERE, START_GAP } from './body';
import { gap, nearest } from './gjk';
import type { Hull } from './hull';
import { nearestPoint } from './nearest-point';

const MAX_STEPS = 100;
/** The gap at which bodies are taken to touch, as a part of their size; far below what a contact must be good to. */
const TOUCH_PART = 1e-11;
/** Corners whose height along the normal differs by less than this part of the bodies' size touch together. */
const LEVEL_PART = 1e-7;
let LEVEL = LEVEL_PART;

/** Where and how the last `castSweep` touched. */
export const touch = { nx: 0, ny: 0, nz: 0, x: 0, y: 0, z: 0 };

/** Nearest point of the moving body at the last step, by GJK alone. */
const witness = new Float64Array(3);

/**
 * @param A the moving body, placed at its start, with no sweep of its own
 * @param dx unit direction of travel
 * @param length greatest travel in metres
 * @returns travel until first touch in metres, `Infinity` for none, `INSIDE` when the bodies overlap at the start (gap ≤ 1e-6).
 *   After a touch, `touch` holds the unit normal from B toward A and GJK's point of contact; see `contactNearCentre`.
 */
export function castSweep(A: Body, dx: number, dy: number, dz: number, length: number, B: Body): number {
	const { x, y, z } = A;
	const close = TOUCH_PART * (1 + A.reach + B.reach);
	let t = 0;
	let result = Number.POSITIVE_INFINITY;
	for (let step = 0; step < MAX_STEPS; step++) {
		const g = gap(A, B);
		if (step === 0 && g <= START_GAP) {
			result = INSIDE;
			break;
		}
		witness[0] = A.x + nearest.ax;
		witness[1] = A.y + nearest.ay;
		witness[2] = A.z + nearest.az;
		const closing = nearest.nx * dx + nearest.ny * dy + nearest.nz * dz;
		// While separate, the plane just found is remembered: at the touch itself it can no longer be measured well, unless
		// round edges keep the cores apart.
		if (closing > 0 && (g > close || step === 0 || nearest.core > 1e-3 * (A.r + B.r))) {
			touch.nx = -nearest.nx;
			touch.ny = -nearest.ny;
			touch.nz = -nearest.nz;
			touch.x = A.x + nearest.ax;
			touch.y = A.y + nearest.ay;
			touch.z = A.z + nearest.az;
		}
		if (g <= close) {
			result = t;
			break;
		}
		if (closing <= 0) {
			// So near that the plane's direction is rounding: this is the touch, not a parting.
			if (step > 0 && g <= 1e3 * close) result = t;
			break;
		}
		if (step === MAX_STEPS - 1) {
			// Only a grazing touch takes this many steps, and then the rest is below a nanometre.
			result = t;
			break;
		}
		// The bound never exceeds the true gap, so the step stays on the near side even where GJK stopped early.
		const safe = Math.max(nearest.bound - A.r - B.r, 0);
		const advance = safe / closing;
		if (advance <= 1e-13 * Math.max(1, t)) {
			result = t;
			break;
		}
		t += advance;
		if (t > length + 1e-9) break;
		A.x = x + t * dx;
		A.y = y + t * dy;
		A.z = z + t * dz;
		touch.x += advance * dx;
		touch.y += advance * dy;
		touch.z += advance * dz;
	}
	A.x = x;
	A.y = y;
	A.z = z;
	if (result > length) return result <= length + 1e-9 ? length : Number.POSITIVE_INFINITY;
	return result;
}

/** A polygon (or segment, or point) in the world, and how many corners it has. */
interface Feature {
	points: Float64Array;
	count: number;
	/** A cylinder's cap: centre in points[0…2], its axis and radius here. */
	radius: number;
}

const featureA: Feature = { points: new Float64Array(3 * 16), count: 0, radius: 0 };
const featureB: Feature = { points: new Float64Array(3 * 16), count: 0, radius: 0 };

/**
 * The touching point nearest to the moving body's centre, written to `out`: faces and edges that meet flat touch in more than
 * one point. Call right after `castSweep` returned `travel` for the same bodies.
 */
export function contactNearCentre(A: Body, dx: number, dy: number, dz: number, travel: number, B: Body, out: Float64Array): void {
	if (A.kind === SPHERE) {
		// One point touches, the nearest to the sphere's centre; the way there is the normal, to more digits than the gap's.
		const x = A.x + travel * dx;
		const y = A.y + travel * dy;
		const z = A.z + travel * dz;
		const far = nearestPoint(B, x, y, z, out);
		if (far > 0) {
			touch.nx = (x - out[0]) / far;
			touch.ny = (y - out[1]) / far;
			touch.nz = (z - out[2]) / far;
		}
		return;
	}
	contactByFeatures(A, dx, dy, dz, travel, B, out);
	// Faces and edges are told apart by the normal, which a cylinder's rim leaves uncertain: hold the point against both bodies.
	const off = residual(A, dx, dy, dz, travel, B, out);
	if (off > 1e-9 * (1 + A.reach + B.reach) && residual(A, dx, dy, dz, travel, B, witness) < off) out.set(witness);
	if (A.kind === BOX && B.kind === CYLINDER) ontoRim(A, dx, dy, dz, travel, B, out);
}

const rim = new Float64Array(3);

/**
 * A box that touches a cylinder's rim: along the rim the gap changes so little that the place of contact, found by the gap, is
 * only good to the root of rounding. Face and edge give it in closed form: the rim's point deepest along the face's normal, or
 * where the rim goes through the plane that the moving edge sweeps.
 */
function ontoRim(A: Body, dx: number, dy: number, dz: number, travel: number, B: Body, out: Float64Array): void {
	const { m, hx: radius, hy } = B;
	const size = A.reach + B.reach;
	const near = 1e-3 * Math.min(A.reach, B.reach);
	const x = out[0] - B.x;
	const y = out[1] - B.y;
	const z = out[2] - B.z;
	const lx = m[0] * x + m[3] * y + m[6] * z;
	const ly = m[1] * x + m[4] * y + m[7] * z;
	const lz = m[2] * x + m[5] * y + m[8] * z;
	if (Math.abs(Math.hypot(lx, lz) - radius) > near || Math.abs(Math.abs(ly) - hy) > near) return;
	const height = ly < 0 ? -hy : hy;
	// The point in the box's axes tells which of its faces meet there.
	const a = A.m;
	const half = [A.hx, A.hy, A.hz];
	const sides: number[] = [];
	for (let k = 0; k < 3; k++) {
		const c = a[k] * (out[0] - A.x - travel * dx) + a[k + 3] * (out[1] - A.y - travel * dy) + a[k + 6] * (out[2] - A.z - travel * dz);
		if (Math.abs(Math.abs(c) - half[k]) < near) sides.push(c < 0 ? -1 : 1);
		else sides.push(0);
	}
	const touching = sides.filter((s) => s !== 0).length;
	const inB = (v: readonly [number, number, number]): [number, number, number] => [
		m[0] * v[0] + m[3] * v[1] + m[6] * v[2],
		m[1] * v[0] + m[4] * v[1] + m[7] * v[2],
		m[2] * v[0] + m[5] * v[1] + m[8] * v[2],
	];
	const axisOf = (k: number): [number, number, number] => [a[k], a[k + 3], a[k + 6]];
	let px: number;
	let pz: number;
	if (touching === 1) {
		const k = sides.findIndex((s) => s !== 0);
		const [nx, , nz] = inB(axisOf(k));
		const radial = Math.hypot(nx, nz);
		if (radial < 1e-6) return;
		px = (-sides[k] * nx * radius) / radial;
		pz = (-sides[k] * nz * radius) / radial;
	} else if (touching === 2) {
		const along = inB(axisOf(sides.indexOf(0)));
		const way = inB([dx, dy, dz]);
		const corner = [0, 1, 2].map((k) => sides[k] * half[k]);
		const at = inB([
			A.x + a[0] * corner[0] + a[1] * corner[1] + a[2] * corner[2] - B.x,
			A.y + a[3] * corner[0] + a[4] * corner[1] + a[5] * corner[2] - B.y,
			A.z + a[6] * corner[0] + a[7] * corner[1] + a[8] * corner[2] - B.z,
		]);
		// The plane through the edge and its way: n · p = c. In the rim's plane that is a line.
		const nx = along[1] * way[2] - along[2] * way[1];
		const ny = along[2] * way[0] - along[0] * way[2];
		const nz = along[0] * way[1] - along[1] * way[0];
		const radial = Math.hypot(nx, nz);
		if (radial < 1e-6) return;
		const c = (nx * at[0] + ny * (at[1] - height) + nz * at[2]) / radial;
		if (Math.abs(c) >= radius) return;
		const [ux, uz] = [nx / radial, nz / radial];
		const chord = Math.sqrt(radius * radius - c * c) * (lz * ux - lx * uz < 0 ? -1 : 1);
		px = c * ux - chord * uz;
		pz = c * uz + chord * ux;
	} else return;
	if (Math.hypot(px - lx, pz - lz) > near) return;
	rim[0] = B.x + m[0] * px + m[1] * height + m[2] * pz;
	rim[1] = B.y + m[3] * px + m[4] * height + m[5] * pz;
	rim[2] = B.z + m[6] * px + m[7] * height + m[8] * pz;
	if (residual(A, dx, dy, dz, travel, B, rim) <= residual(A, dx, dy, dz, travel, B, out) + 1e-9 * size) out.set(rim);
}

const foot = new Float64Array(3);

/** How far a point is from either body at the touch. */
function residual(A: Body, dx: number, dy: number, dz: number, travel: number, B: Body, p: Float64Array): number {
	const fromA = nearestPoint(A, p[0] - travel * dx, p[1] - travel * dy, p[2] - travel * dz, foot);
	return Math.max(fromA, nearestPoint(B, p[0], p[1], p[2], foot));
}

function contactByFeatures(A: Body, dx: number, dy: number, dz: number, travel: number, B: Body, out: Float64Array): void {
	const { nx, ny, nz } = touch;
	LEVEL = LEVEL_PART * Math.min(A.reach, B.reach);
	out[0] = touch.x;
	out[1] = touch.y;
	out[2] = touch.z;
	const cx = A.x + travel * dx;
	const cy = A.y + travel * dy;
	const cz = A.z + travel * dz;
	feature(A, -nx, -ny, -nz, cx, cy, cz, featureA);
	feature(B, nx, ny, nz, B.x, B.y, B.z, featureB);
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
	const flat = (f: Feature) =>
		Array.from({ length: f.count }, (_, i): [number, number] => {
			const x = f.points[3 * i] - cx;
			const y = f.points[3 * i + 1] - cy;
			const z = f.points[3 * i + 2] - cz;
			return [x * ux + y * uy + z * uz, x * vx + y * vy + z * vz];
		});
	const polygonA = ordered(flat(featureA));
	const polygonB = ordered(flat(featureB));
	const best = featureB.radius > 0 ? nearestInDisc(polygonA, polygonB[0], featureB.radius) : nearestInBoth(polygonA, polygonB);
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

/** All points of a body that lie farthest along a direction, within `LEVEL`, for the body centred at (cx, cy, cz). */
function feature(body: Body, dx: number, dy: number, dz: number, cx: number, cy: number, cz: number, out: Feature): void {
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
	const both = (q: number, h: number): number[] => (Math.abs(q) * 2 * h <= LEVEL ? (h > 0 ? [-h, h] : [0]) : [q > 0 ? h : -h]);
	switch (body.kind) {
		case SPHERE:
			add(0, 0, 0);
			return;
		case CAPSULE:
			for (const y of both(qy, body.hy)) add(0, y, 0);
			return;
		case BOX:
			for (const x of both(qx, body.hx)) for (const y of both(qy, body.hy)) for (const z of both(qz, body.hz)) add(x, y, z);
			return;
		case CYLINDER: {
			const radial = Math.sqrt(qx * qx + qz * qz);
			if (radial * 2 * body.hx <= LEVEL) {
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
			for (let i = 0; i < p.length; i += 3) if (p[i] * qx + p[i + 1] * qy + p[i + 2] * qz >= most - LEVEL) add(p[i], p[i + 1], p[i + 2]);
		}
	}
}

type Point = [number, number];

/** The convex outline of a few points, counter-clockwise; a segment stays two points. */
function ordered(points: Point[]): Point[] {
	if (points.length < 3) return points;
	const sorted = [...points].sort((p, q) => p[0] - q[0] || p[1] - q[1]);
	const chain = (list: Point[]) => {
		const out: Point[] = [];
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

const cross = (o: Point, a: Point, b: Point): number => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);

function nearestOnSegment(a: Point, b: Point, c: Point = [0, 0]): Point {
	const ex = b[0] - a[0];
	const ey = b[1] - a[1];
	const dd = ex * ex + ey * ey;
	const t = dd === 0 ? 0 : Math.min(1, Math.max(0, ((c[0] - a[0]) * ex + (c[1] - a[1]) * ey) / dd));
	return [a[0] + t * ex, a[1] + t * ey];
}

/** The point of a convex polygon (or segment, or point) nearest to c. */
function nearestInPolygon(polygon: Point[], c: Point = [0, 0]): Point {
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

/** Clip a convex polygon (or segment) by the edges of another (or by the line and ends of a segment); a little outside still counts. */
function nearestInBoth(A: Point[], B: Point[]): Point | null {
	if (A.length < 3 && B.length >= 3) return nearestInBoth(B, A);
	if (A.length < 3) return segmentsMeet(A, B);
	let subject = B;
	for (let i = 0; i < A.length && subject.length > 0; i++) {
		const a = A[i];
		const b = A[(i + 1) % A.length];
		const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
		const side = (p: Point) => cross(a, b, p) / length;
		const kept: Point[] = [];
		subject.forEach((p, k) => {
			const q = subject[(k + 1) % subject.length];
			const sp = side(p);
			const sq = side(q);
			if (sp >= -LEVEL) kept.push(p);
			if (sp >= -LEVEL !== sq >= -LEVEL && subject.length > 1) {
				const t = sp / (sp - sq);
				if (t > 0 && t < 1) kept.push([p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
			}
		});
		subject = kept;
	}
	return subject.length === 0 ? null : nearestInPolygon(ordered(subject));
}

function segmentsMeet(A: Point[], B: Point[]): Point | null {
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
	const along = (p: Point) => ((p[0] - a[0]) * ex + (p[1] - a[1]) * ey) / lengthA;
	const low = Math.max(0, Math.min(along(c), along(d)));
	const high = Math.min(lengthA, Math.max(along(c), along(d)));
	const want = Math.min(Math.max(along([0, 0]), low), Math.max(low, high));
	return [a[0] + (want * ex) / lengthA, a[1] + (want * ey) / lengthA];
}

/** Nearest to the origin within both a polygon (or segment) and a disc. */
function nearestInDisc(polygon: Point[], centre: Point, radius: number): Point | null {
	const inside = (p: Point) => Math.hypot(p[0] - centre[0], p[1] - centre[1]) <= radius + LEVEL;
	const first = nearestInPolygon(polygon);
	if (inside(first)) return first;
	const candidates: Point[] = [];
	const reach = Math.hypot(centre[0], centre[1]);
	const onDisc: Point = reach <= radius ? [0, 0] : [centre[0] - (centre[0] * radius) / reach, centre[1] - (centre[1] * radius) / reach];
	const back = nearestInPolygon(polygon, onDisc);
	if (Math.hypot(back[0] - onDisc[0], back[1] - onDisc[1]) <= LEVEL) candidates.push(onDisc);
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
		for (const t of [-b - Math.sqrt(disc), -b + Math.sqrt(disc)]) if (t >= 0 && t <= 1) candidates.push([p[0] + t * ex, p[1] + t * ey]);
		const middle = nearestOnSegment(p, q);
		if (inside(middle)) candidates.push(middle);
	});
	let best: Point | null = null;
	for (const p of candidates) if (!best || Math.hypot(p[0], p[1]) < Math.hypot(best[0], best[1])) best = p;
	return best;
}
