/**
 * Gap and nearest points between two convex bodies.
 *
 * The method is Gilbert, Johnson and Keerthi's (1988) on the Minkowski difference of the two cores, with the point of the simplex
 * nearest to the origin found by Voronoi regions (Ericson, Real-Time Collision Detection, 2005, ch. 5). Points are kept relative
 * to the bodies' centres, so that two small bodies a hundred kilometres from the origin lose no digits. Triangles are projected
 * along their normal, which keeps the direction of a small gap exact where barycentric sums would cancel.
 */
import { type Body, support } from './body';

const MAX_STEPS = 160;
/** (1e-6 / 4e-16)²: see `nearestOnTriangle`. */
const SLIM = 6e18;

/** Simplex corners of (A − B), and the corner of A each came from; four corners, relative to the centres. */
const w = new Float64Array(12);
const a = new Float64Array(12);
const bary = new Float64Array(4);
const sa = new Float64Array(3);
const sb = new Float64Array(3);
let count = 0;
/** The point of the simplex nearest to the origin. */
let vx = 0;
let vy = 0;
let vz = 0;

/** What the last call of `gap` found beside the distance. Only valid until the next call. */
export const nearest = {
	/** Nearest point on A's core surface, rounding included, relative to A's centre. */
	ax: 0,
	ay: 0,
	az: 0,
	/** Unit vector from A toward B; zero when the cores overlap. */
	nx: 0,
	ny: 0,
	nz: 0,
	/** Distance between the cores, and a lower bound of it that holds whatever the rounding. */
	core: 0,
	bound: 0,
};

function keep(i: number, to: number): void {
	if (i === to) return;
	const p = 3 * i;
	const q = 3 * to;
	for (let k = 0; k < 3; k++) {
		w[q + k] = w[p + k];
		a[q + k] = a[p + k];
	}
}

function onPoint(): void {
	vx = w[0];
	vy = w[1];
	vz = w[2];
	bary[0] = 1;
}

function onSegment(): void {
	const ex = w[3] - w[0];
	const ey = w[4] - w[1];
	const ez = w[5] - w[2];
	const dd = ex * ex + ey * ey + ez * ez;
	const t = -(w[0] * ex + w[1] * ey + w[2] * ez);
	if (t <= 0 || dd === 0) {
		count = 1;
		onPoint();
	} else if (t >= dd) {
		keep(1, 0);
		count = 1;
		onPoint();
	} else {
		const s = t / dd;
		// Start from the nearer end: less cancellation.
		if (s <= 0.5) {
			vx = w[0] + s * ex;
			vy = w[1] + s * ey;
			vz = w[2] + s * ez;
		} else {
			vx = w[3] - (1 - s) * ex;
			vy = w[4] - (1 - s) * ey;
			vz = w[5] - (1 - s) * ez;
		}
		bary[0] = 1 - s;
		bary[1] = s;
	}
}

/** Result of a triangle's region test: squared distance, corners kept as a bit mask, weights of the three corners. */
const face = { dd: 0, mask: 0, u0: 0, u1: 0, u2: 0, x: 0, y: 0, z: 0 };

/** Nearest point of triangle (i, j, k) to the origin, into `face`. Offsets are into `w`. */
function nearestOnTriangle(i: number, j: number, k: number): void {
	const ax = w[i];
	const ay = w[i + 1];
	const az = w[i + 2];
	const abx = w[j] - ax;
	const aby = w[j + 1] - ay;
	const abz = w[j + 2] - az;
	const acx = w[k] - ax;
	const acy = w[k + 1] - ay;
	const acz = w[k + 2] - az;
	const d1 = -(abx * ax + aby * ay + abz * az);
	const d2 = -(acx * ax + acy * ay + acz * az);
	if (d1 <= 0 && d2 <= 0) return corner(i, 1);
	const d3 = -(abx * w[j] + aby * w[j + 1] + abz * w[j + 2]);
	const d4 = -(acx * w[j] + acy * w[j + 1] + acz * w[j + 2]);
	if (d3 >= 0 && d4 <= d3) return corner(j, 2);
	const d5 = -(abx * w[k] + aby * w[k + 1] + abz * w[k + 2]);
	const d6 = -(acx * w[k] + acy * w[k + 1] + acz * w[k + 2]);
	if (d6 >= 0 && d5 <= d6) return corner(k, 4);
	const nx = aby * acz - abz * acy;
	const ny = abz * acx - abx * acz;
	const nz = abx * acy - aby * acx;
	const nn = nx * nx + ny * ny + nz * nz;
	const bb = abx * abx + aby * aby + abz * abz;
	const cc = acx * acx + acy * acy + acz * acz;
	const aa = ax * ax + ay * ay + az * az;
	// How far rounding in the normal may carry the projection, against the triangle's height: a sliver far from the origin has no
	// normal to speak of, and the nearest of its edges stands for it.
	if (aa * bb * cc * Math.max(bb, cc) > SLIM * nn * nn) return nearestEdge(i, j, k);
	const s = (nx * ax + ny * ay + nz * az) / nn;
	const px = s * nx;
	const py = s * ny;
	const pz = s * nz;
	// Areas about the projection itself: seen from the origin their digits would be lost.
	const rax = ax - px;
	const ray = ay - py;
	const raz = az - pz;
	const rbx = rax + abx;
	const rby = ray + aby;
	const rbz = raz + abz;
	const rcx = rax + acx;
	const rcy = ray + acy;
	const rcz = raz + acz;
	const u0 = nx * (rby * rcz - rbz * rcy) + ny * (rbz * rcx - rbx * rcz) + nz * (rbx * rcy - rby * rcx);
	const u1 = nx * (rcy * raz - rcz * ray) + ny * (rcz * rax - rcx * raz) + nz * (rcx * ray - rcy * rax);
	const u2 = nx * (ray * rbz - raz * rby) + ny * (raz * rbx - rax * rbz) + nz * (rax * rby - ray * rbx);
	if (u0 < 0 || u1 < 0 || u2 < 0) return nearestEdge(i, j, k);
	const sum = u0 + u1 + u2;
	face.x = px;
	face.y = py;
	face.z = pz;
	face.dd = px * px + py * py + pz * pz;
	face.mask = 7;
	face.u0 = u0 / sum;
	face.u1 = u1 / sum;
	face.u2 = u2 / sum;
}

function edgeParameter(i: number, j: number): number {
	const ex = w[j] - w[i];
	const ey = w[j + 1] - w[i + 1];
	const ez = w[j + 2] - w[i + 2];
	const ee = ex * ex + ey * ey + ez * ez;
	return ee === 0 ? 0 : -(w[i] * ex + w[i + 1] * ey + w[i + 2] * ez) / ee;
}

function nearestEdge(i: number, j: number, k: number): void {
	const tij = edgeParameter(i, j);
	const tik = edgeParameter(i, k);
	const tjk = edgeParameter(j, k);
	edge(i, j, 1, 2, tij);
	const ij = face.dd;
	edge(i, k, 1, 4, tik);
	const ik = face.dd;
	edge(j, k, 2, 4, tjk);
	if (ij <= ik && ij <= face.dd) edge(i, j, 1, 2, tij);
	else if (ik <= face.dd) edge(i, k, 1, 4, tik);
}

function corner(i: number, mask: number): void {
	face.x = w[i];
	face.y = w[i + 1];
	face.z = w[i + 2];
	face.dd = face.x * face.x + face.y * face.y + face.z * face.z;
	face.mask = mask;
	face.u0 = mask === 1 ? 1 : 0;
	face.u1 = mask === 2 ? 1 : 0;
	face.u2 = mask === 4 ? 1 : 0;
}

function edge(i: number, j: number, maskI: number, maskJ: number, t: number): void {
	const s = Math.min(1, Math.max(0, t));
	face.x = w[i] + s * (w[j] - w[i]);
	face.y = w[i + 1] + s * (w[j + 1] - w[i + 1]);
	face.z = w[i + 2] + s * (w[j + 2] - w[i + 2]);
	face.dd = face.x * face.x + face.y * face.y + face.z * face.z;
	face.mask = maskI | maskJ;
	face.u0 = maskI === 1 ? 1 - s : 0;
	face.u1 = maskI === 2 ? 1 - s : maskJ === 2 ? s : 0;
	face.u2 = maskJ === 4 ? s : 0;
}

function takeFace(i: number, j: number, k: number): void {
	vx = face.x;
	vy = face.y;
	vz = face.z;
	const { mask, u0, u1, u2 } = face;
	let n = 0;
	if (mask & 1) {
		keep(i, n);
		bary[n++] = u0;
	}
	if (mask & 2) {
		keep(j, n);
		bary[n++] = u1;
	}
	if (mask & 4) {
		keep(k, n);
		bary[n++] = u2;
	}
	count = n;
}

const FACES = [0, 1, 2, 3, 0, 1, 3, 2, 0, 2, 3, 1, 1, 2, 3, 0];
const best = { face: -1, dd: 0, mask: 0, u0: 0, u1: 0, u2: 0, x: 0, y: 0, z: 0 };

/** @param far squared distance of the farthest corner seen; @returns true when the origin lies in the tetrahedron */
function onTetrahedron(far: number): boolean {
	best.face = -1;
	best.dd = Number.POSITIVE_INFINITY;
	for (let f = 0; f < 16; f += 4) {
		const i = 3 * FACES[f];
		const j = 3 * FACES[f + 1];
		const k = 3 * FACES[f + 2];
		const o = 3 * FACES[f + 3];
		const abx = w[j] - w[i];
		const aby = w[j + 1] - w[i + 1];
		const abz = w[j + 2] - w[i + 2];
		const acx = w[k] - w[i];
		const acy = w[k + 1] - w[i + 1];
		const acz = w[k + 2] - w[i + 2];
		const nx = aby * acz - abz * acy;
		const ny = abz * acx - abx * acz;
		const nz = abx * acy - aby * acx;
		const opposite = nx * (w[o] - w[i]) + ny * (w[o + 1] - w[i + 1]) + nz * (w[o + 2] - w[i + 2]);
		const origin = -(nx * w[i] + ny * w[i + 1] + nz * w[i + 2]);
		// Clearly on the same side as the fourth corner: this face does not separate the origin. Where rounding leaves the side
		// open the face is measured like any other, so that a sliver never passes for an overlap.
		const doubt =
			1e-15 * far * (Math.sqrt(abx * abx + aby * aby + abz * abz) + Math.sqrt(acx * acx + acy * acy + acz * acz));
		if (opposite > 0 ? origin >= doubt && opposite > doubt : origin <= -doubt && opposite < -doubt) continue;
		nearestOnTriangle(i, j, k);
		if (face.dd < best.dd) {
			best.dd = face.dd;
			best.face = f;
			best.mask = face.mask;
			best.u0 = face.u0;
			best.u1 = face.u1;
			best.u2 = face.u2;
			best.x = face.x;
			best.y = face.y;
			best.z = face.z;
		}
	}
	if (best.face < 0) return true;
	face.x = best.x;
	face.y = best.y;
	face.z = best.z;
	face.mask = best.mask;
	face.u0 = best.u0;
	face.u1 = best.u1;
	face.u2 = best.u2;
	takeFace(FACES[best.face], FACES[best.face + 1], FACES[best.face + 2]);
	return false;
}

/**
 * Distance in metres between two convex bodies, 0 when they touch or overlap; details in `nearest`.
 * Rounding radii and sweeps are included. Neither body may be a mesh.
 */
export function gap(A: Body, B: Body): number {
	const cx = A.x - B.x;
	const cy = A.y - B.y;
	const cz = A.z - B.z;
	// First guess: from centre to centre, sweeps taken by their middle.
	vx = cx + (A.sx - B.sx) / 2;
	vy = cy + (A.sy - B.sy) / 2;
	vz = cz + (A.sz - B.sz) / 2;
	if (vx === 0 && vy === 0 && vz === 0) vx = 1;
	count = 0;
	let vv = Number.POSITIVE_INFINITY;
	let far = 0;
	let bound = 0;
	let px = 0;
	let py = 0;
	let pz = 0;
	for (let step = 0; step < MAX_STEPS; step++) {
		support(A, -vx, -vy, -vz, sa, 0);
		support(B, vx, vy, vz, sb, 0);
		const x = sa[0] - sb[0] + cx;
		const y = sa[1] - sb[1] + cy;
		const z = sa[2] - sb[2] + cz;
		const ww = x * x + y * y + z * z;
		if (ww > far) far = ww;
		if (count > 0) {
			const vw = vx * x + vy * y + vz * z;
			if (vw > 0) bound = Math.max(bound, vw / Math.sqrt(vv));
			if (vv - vw <= 1e-15 * vv + 3e-16 * Math.sqrt(far * vv)) break;
			let seen = false;
			for (let i = 0; i < count; i++) if (w[3 * i] === x && w[3 * i + 1] === y && w[3 * i + 2] === z) seen = true;
			if (seen) break;
		}
		px = vx;
		py = vy;
		pz = vz;
		const q = 3 * count;
		w[q] = x;
		w[q + 1] = y;
		w[q + 2] = z;
		a[q] = sa[0];
		a[q + 1] = sa[1];
		a[q + 2] = sa[2];
		count++;
		let inside = false;
		const before = count;
		if (count > 1) snapshot();
		if (count === 1) onPoint();
		else if (count === 2) onSegment();
		else if (count === 3) {
			nearestOnTriangle(0, 3, 6);
			takeFace(0, 1, 2);
		} else inside = onTetrahedron(far);
		const now = vx * vx + vy * vy + vz * vz;
		// A plane that separates the bodies has been seen: whatever the simplex says, they do not overlap.
		const apart = bound > 1e-12 * Math.sqrt(far);
		if (!apart && (inside || now <= 1e-26 * far)) {
			nearest.nx = 0;
			nearest.ny = 0;
			nearest.nz = 0;
			nearest.core = 0;
			nearest.bound = 0;
			nearest.ax = a[0];
			nearest.ay = a[1];
			nearest.az = a[2];
			return 0;
		}
		if (inside || now >= vv) {
			// Rounding has eaten the progress: what was there before is as good as it gets.
			restore(before - 1);
			vx = px;
			vy = py;
			vz = pz;
			break;
		}
		vv = now;
	}
	const core = Math.sqrt(vx * vx + vy * vy + vz * vz);
	const nx = -vx / core;
	const ny = -vy / core;
	const nz = -vz / core;
	let x = 0;
	let y = 0;
	let z = 0;
	for (let i = 0; i < count; i++) {
		x += bary[i] * a[3 * i];
		y += bary[i] * a[3 * i + 1];
		z += bary[i] * a[3 * i + 2];
	}
	nearest.ax = x + nx * A.r;
	nearest.ay = y + ny * A.r;
	nearest.az = z + nz * A.r;
	nearest.nx = nx;
	nearest.ny = ny;
	nearest.nz = nz;
	nearest.core = core;
	nearest.bound = Math.min(core, bound);
	return Math.max(0, core - A.r - B.r);
}

const oldW = new Float64Array(12);
const oldA = new Float64Array(12);
const oldBary = new Float64Array(4);

// Written out: for a dozen numbers, copying one by one is several times faster than `TypedArray.set`.
function snapshot(): void {
	for (let i = 0; i < 12; i++) {
		oldW[i] = w[i];
		oldA[i] = a[i];
	}
	for (let i = 0; i < 4; i++) oldBary[i] = bary[i];
}

function restore(corners: number): void {
	for (let i = 0; i < 12; i++) {
		w[i] = oldW[i];
		a[i] = oldA[i];
	}
	for (let i = 0; i < 4; i++) bary[i] = oldBary[i];
	count = corners;
}
