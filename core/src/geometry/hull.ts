/**
 * Convex hulls of points in space and in the plane.
 *
 * In space: incremental construction with outside sets (Barber, Dobkin, Huhdanpaa, "The Quickhull Algorithm", 1996), where "above
 * a face" is decided by exact arithmetic (Shewchuk's adaptive orientation test). A point is above only when strictly so, which
 * makes coplanar, collinear and repeated points ordinary: no tolerance has to be chosen and the result is a closed surface of
 * triangles that all have area. In the plane: Andrew's monotone chain (1979) with the exact test.
 */
import { orient2d, orient3d } from 'robust-predicates';

/** Thickness, as a part of the extent, under which points have no volume (or no area). */
const FLAT = 1e-10;
/** Faces slimmer than this (twice the area over the squared longest edge) have no usable plane; their neighbours bound the hull. */
const SLIVER = 1e-9;
/** Up to this many corners are scanned for the farthest one; above, the surface is walked. */
const SCAN = 32;

export class Hull {
	/** Corners, three numbers each, in the shape's axes. */
	readonly points: Float64Array;
	/** Corner indices of the triangles, counter-clockwise seen from outside; empty for a polygon. */
	readonly triangles: Uint32Array;
	/** Bounding planes: unit normal and offset, four numbers each; a point p is inside where n·p ≤ d for all. */
	readonly planes: Float64Array;
	readonly bounds: Float64Array;
	readonly boundingRadius: number;
	/** A polygon in the plane z = 0. */
	readonly polygon: boolean;
	/** One triangle anywhere in space, its corners moved from one to the next; it has no planes and no bounds of its own. */
	readonly movable: boolean;
	/** Neighbours of each corner, as a compressed list; built only for large hulls. */
	private readonly starts: Uint32Array | null = null;
	private readonly neighbours: Uint32Array | null = null;
	private last = 0;

	constructor(points: Float64Array, triangles: Uint32Array, flat: boolean, movable = false) {
		if (points.length % 3 !== 0) throw new RangeError(`${points.length} coordinates are not three a point`);
		for (let i = 0; i < points.length; i++)
			if (!Number.isFinite(points[i])) throw new RangeError(`coordinate ${i} is ${points[i]}`);
		this.points = points;
		this.triangles = triangles;
		this.polygon = flat;
		this.movable = movable;
		if (movable) this.planes = new Float64Array(0);
		else this.planes = flat ? edgePlanes(points) : facePlanes(points, triangles);
		const b = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
		let reach = 0;
		for (let i = 0; i < points.length; i += 3) {
			for (let k = 0; k < 3; k++) {
				b[k] = Math.min(b[k], points[i + k]);
				b[k + 3] = Math.max(b[k + 3], points[i + k]);
			}
			reach = Math.max(reach, Math.hypot(points[i], points[i + 1], points[i + 2]));
		}
		this.bounds = b;
		this.boundingRadius = reach;
		const corners = points.length / 3;
		if (!flat && corners > SCAN) {
			const starts = new Uint32Array(corners + 1);
			for (const t of triangles) starts[t + 1]++;
			for (let i = 0; i < corners; i++) starts[i + 1] += starts[i];
			const fill = starts.slice();
			const neighbours = new Uint32Array(triangles.length);
			// On a closed surface each edge is met once in each direction, so the next corner alone names every neighbour.
			for (let i = 0; i < triangles.length; i += 3)
				for (let k = 0; k < 3; k++) neighbours[fill[triangles[i + k]]++] = triangles[i + ((k + 1) % 3)];
			this.starts = starts;
			this.neighbours = neighbours;
		}
	}

	/** @returns the same hull with its axes scaled by factors > 0 (a hull of scaled points is the scaled hull). */
	scaled(sx: number, sy: number, sz: number): Hull {
		if (sx === 1 && sy === 1 && sz === 1) return this;
		const points = this.points.slice();
		for (let i = 0; i < points.length; i += 3) {
			points[i] *= sx;
			points[i + 1] *= sy;
			points[i + 2] *= sz;
		}
		return new Hull(points, this.triangles, this.polygon);
	}

	/** @returns the index of the corner farthest along a direction in the shape's axes. */
	farthest(dx: number, dy: number, dz: number): number {
		const p = this.points;
		if (this.starts === null || this.neighbours === null) {
			let best = 0;
			let value = p[0] * dx + p[1] * dy + p[2] * dz;
			for (let i = 3; i < p.length; i += 3) {
				const v = p[i] * dx + p[i + 1] * dy + p[i + 2] * dz;
				if (v > value) {
					value = v;
					best = i;
				}
			}
			return best / 3;
		}
		let at = this.last;
		let value = p[3 * at] * dx + p[3 * at + 1] * dy + p[3 * at + 2] * dz;
		for (let moved = true; moved; ) {
			moved = false;
			for (let e = this.starts[at], end = this.starts[at + 1]; e < end; e++) {
				const q = this.neighbours[e];
				const v = p[3 * q] * dx + p[3 * q + 1] * dy + p[3 * q + 2] * dz;
				if (v > value) {
					value = v;
					at = q;
					moved = true;
					break;
				}
			}
		}
		this.last = at;
		return at;
	}
}

function facePlanes(p: Float64Array, triangles: Uint32Array): Float64Array {
	const planes: number[] = [];
	const seen = new Map<string, number[]>();
	for (let f = 0; f < triangles.length; f += 3) {
		const i = 3 * triangles[f];
		const j = 3 * triangles[f + 1];
		const k = 3 * triangles[f + 2];
		const ux = p[j] - p[i];
		const uy = p[j + 1] - p[i + 1];
		const uz = p[j + 2] - p[i + 2];
		const wx = p[k] - p[i];
		const wy = p[k + 1] - p[i + 1];
		const wz = p[k + 2] - p[i + 2];
		const nx = uy * wz - uz * wy;
		const ny = uz * wx - ux * wz;
		const nz = ux * wy - uy * wx;
		const length = Math.hypot(nx, ny, nz);
		const longest = Math.max(
			ux * ux + uy * uy + uz * uz,
			wx * wx + wy * wy + wz * wz,
			(wx - ux) ** 2 + (wy - uy) ** 2 + (wz - uz) ** 2,
		);
		if (length <= SLIVER * longest) continue;
		const x = nx / length;
		const y = ny / length;
		const z = nz / length;
		const d = x * p[i] + y * p[i + 1] + z * p[i + 2];
		// Triangles of one face share their plane: keep it once.
		const key = `${Math.round(x * 1e4)},${Math.round(y * 1e4)},${Math.round(z * 1e4)}`;
		const list = seen.get(key) ?? [];
		if (list.length === 0) seen.set(key, list);
		let known = false;
		for (const q of list) {
			const turn = Math.abs(planes[q] - x) + Math.abs(planes[q + 1] - y) + Math.abs(planes[q + 2] - z);
			if (turn < 1e-13 && Math.abs(planes[q + 3] - d) <= 1e-14 * (1 + Math.abs(d))) known = true;
		}
		if (known) continue;
		list.push(planes.length);
		planes.push(x, y, z, d);
	}
	return new Float64Array(planes);
}

function edgePlanes(p: Float64Array): Float64Array {
	const n = p.length / 3;
	const planes = new Float64Array(4 * n);
	for (let i = 0; i < n; i++) {
		const a = 3 * i;
		const b = 3 * ((i + 1) % n);
		const dx = p[b] - p[a];
		const dy = p[b + 1] - p[a + 1];
		const length = Math.hypot(dx, dy);
		planes[4 * i] = dy / length;
		planes[4 * i + 1] = -dx / length;
		planes[4 * i + 3] = (dy * p[a] - dx * p[a + 1]) / length;
	}
	return planes;
}

interface Face {
	a: number;
	b: number;
	c: number;
	/** Neighbours across ab, bc, ca. */
	across: [Face | null, Face | null, Face | null];
	outside: number[];
	farthest: number;
	height: number;
	alive: boolean;
	visited: number;
}

/**
 * Whether points span a volume: what `buildHull` finds first, without the hull.
 * @param input points, three numbers each
 */
export const hasVolume = (input: ArrayLike<number>): boolean => {
	const p = Float64Array.from(input);
	return firstTetrahedron(p, p.length / 3) !== null;
};

/**
 * @param input points, three numbers each
 * @returns the hull, or null when the points have no volume
 */
export function buildHull(input: ArrayLike<number>): Hull | null {
	const p = distinct(input);
	const n = p.length / 3;
	const seed = firstTetrahedron(p, n);
	if (!seed) return null;
	const [i0, i1, i2, i3] = seed;
	const above = (f: Face, q: number) =>
		// Negative means that d is on the side from which a, b, c turn counter-clockwise.
		orient3d(
			p[3 * f.a],
			p[3 * f.a + 1],
			p[3 * f.a + 2],
			p[3 * f.b],
			p[3 * f.b + 1],
			p[3 * f.b + 2],
			p[3 * f.c],
			p[3 * f.c + 1],
			p[3 * f.c + 2],
			p[3 * q],
			p[3 * q + 1],
			p[3 * q + 2],
		) < 0;
	const height = (f: Face, q: number) => {
		const ux = p[3 * f.b] - p[3 * f.a];
		const uy = p[3 * f.b + 1] - p[3 * f.a + 1];
		const uz = p[3 * f.b + 2] - p[3 * f.a + 2];
		const wx = p[3 * f.c] - p[3 * f.a];
		const wy = p[3 * f.c + 1] - p[3 * f.a + 1];
		const wz = p[3 * f.c + 2] - p[3 * f.a + 2];
		const nx = uy * wz - uz * wy;
		const ny = uz * wx - ux * wz;
		const nz = ux * wy - uy * wx;
		const dot =
			nx * (p[3 * q] - p[3 * f.a]) + ny * (p[3 * q + 1] - p[3 * f.a + 1]) + nz * (p[3 * q + 2] - p[3 * f.a + 2]);
		return dot / (Math.hypot(nx, ny, nz) || 1);
	};
	const make = (a: number, b: number, c: number): Face => ({
		a,
		b,
		c,
		across: [null, null, null],
		outside: [],
		farthest: -1,
		height: -1,
		alive: true,
		visited: 0,
	});
	const assign = (faces: readonly Face[], q: number) => {
		for (const f of faces) {
			if (!above(f, q)) continue;
			f.outside.push(q);
			const h = height(f, q);
			if (h > f.height) {
				f.height = h;
				f.farthest = q;
			}
			return;
		}
	};

	const probe = make(i0, i1, i2);
	const [a, b, c] = above(probe, i3) ? [i0, i2, i1] : [i0, i1, i2];
	const first = [make(a, b, c), make(b, a, i3), make(c, b, i3), make(a, c, i3)];
	const all: Face[] = [...first];
	for (const f of first) {
		const ends: [number, number][] = [
			[f.a, f.b],
			[f.b, f.c],
			[f.c, f.a],
		];
		ends.forEach(([u, v], k) => {
			f.across[k] = first.find((g) => g !== f && [g.a, g.b, g.c].includes(u) && [g.a, g.b, g.c].includes(v)) ?? null;
		});
	}
	for (let q = 0; q < n; q++) if (q !== i0 && q !== i1 && q !== i2 && q !== i3) assign(first, q);

	const pending = first.filter((f) => f.outside.length > 0);
	let mark = 0;
	for (let face = pending.pop(); face; face = pending.pop()) {
		if (!face.alive || face.outside.length === 0) continue;
		const apex = face.farthest;
		mark++;
		// Everything the apex sees, and the edges at which seeing ends.
		const visible: Face[] = [face];
		face.visited = mark;
		const rim: { u: number; v: number; behind: Face }[] = [];
		for (let s = 0; s < visible.length; s++) {
			const f = visible[s];
			for (let k = 0; k < 3; k++) {
				const g = f.across[k];
				if (!g || g.visited === mark) continue;
				if (above(g, apex)) {
					g.visited = mark;
					visible.push(g);
				} else
					rim.push(
						k === 0
							? { u: f.a, v: f.b, behind: g }
							: k === 1
								? { u: f.b, v: f.c, behind: g }
								: { u: f.c, v: f.a, behind: g },
					);
			}
		}
		const fresh: Face[] = [];
		const startingAt = new Map<number, Face>();
		for (const { u, v, behind } of rim) {
			const f = make(u, v, apex);
			f.across[0] = behind;
			const k = behind.a === v && behind.b === u ? 0 : behind.b === v && behind.c === u ? 1 : 2;
			behind.across[k] = f;
			startingAt.set(u, f);
			fresh.push(f);
		}
		for (const f of fresh) {
			const next = startingAt.get(f.b) ?? null;
			f.across[1] = next;
			if (next) next.across[2] = f;
		}
		for (const f of visible) f.alive = false;
		for (const f of visible) for (const q of f.outside) if (q !== apex) assign(fresh, q);
		all.push(...fresh);
		for (const f of fresh) if (f.outside.length > 0) pending.push(f);
	}

	const used = new Map<number, number>();
	const corners: number[] = [];
	const triangles: number[] = [];
	for (const f of all) {
		if (!f.alive) continue;
		for (const q of [f.a, f.b, f.c]) {
			let to = used.get(q);
			if (to === undefined) {
				to = used.size;
				used.set(q, to);
				corners.push(p[3 * q], p[3 * q + 1], p[3 * q + 2]);
			}
			triangles.push(to);
		}
	}
	return new Hull(new Float64Array(corners), new Uint32Array(triangles), false);
}

function distinct(input: ArrayLike<number>): Float64Array {
	const seen = new Set<string>();
	const out: number[] = [];
	for (let i = 0; i + 2 < input.length; i += 3) {
		// As texts −0 and 0 are the same.
		const key = `${input[i]},${input[i + 1]},${input[i + 2]}`;
		if (seen.has(key)) continue;
		seen.add(key);
		out.push(input[i], input[i + 1], input[i + 2]);
	}
	return new Float64Array(out);
}

/** Middle of the points' extent along one axis. */
function middle(p: Float64Array, axis: number): number {
	let low = p[axis];
	let high = low;
	for (let i = axis; i < p.length; i += 3) {
		low = Math.min(low, p[i]);
		high = Math.max(high, p[i]);
	}
	return (low + high) / 2;
}

/** Four points that span a volume, chosen far apart, or null when the points are (nearly) in one plane. */
function firstTetrahedron(p: Float64Array, n: number): [number, number, number, number] | null {
	if (n < 4) return null;
	const best = (measure: (i: number) => number): [number, number] => {
		let at = 0;
		let most = -1;
		for (let i = 0; i < n; i++) {
			const value = measure(i);
			if (value > most) {
				most = value;
				at = i;
			}
		}
		return [at, most];
	};
	const centre = [0, 1, 2].map((k) => middle(p, k));
	const [i0] = best((i) => Math.hypot(p[3 * i] - centre[0], p[3 * i + 1] - centre[1], p[3 * i + 2] - centre[2]));
	const [i1, extent] = best((i) =>
		Math.hypot(p[3 * i] - p[3 * i0], p[3 * i + 1] - p[3 * i0 + 1], p[3 * i + 2] - p[3 * i0 + 2]),
	);
	if (!(extent > 0)) return null;
	const ux = (p[3 * i1] - p[3 * i0]) / extent;
	const uy = (p[3 * i1 + 1] - p[3 * i0 + 1]) / extent;
	const uz = (p[3 * i1 + 2] - p[3 * i0 + 2]) / extent;
	const [i2, width] = best((i) => {
		const x = p[3 * i] - p[3 * i0];
		const y = p[3 * i + 1] - p[3 * i0 + 1];
		const z = p[3 * i + 2] - p[3 * i0 + 2];
		return Math.hypot(uy * z - uz * y, uz * x - ux * z, ux * y - uy * x);
	});
	if (width <= FLAT * extent) return null;
	const wx = p[3 * i2] - p[3 * i0];
	const wy = p[3 * i2 + 1] - p[3 * i0 + 1];
	const wz = p[3 * i2 + 2] - p[3 * i0 + 2];
	let nx = uy * wz - uz * wy;
	let ny = uz * wx - ux * wz;
	let nz = ux * wy - uy * wx;
	const length = Math.hypot(nx, ny, nz);
	nx /= length;
	ny /= length;
	nz /= length;
	const [i3, thickness] = best((i) =>
		Math.abs(nx * (p[3 * i] - p[3 * i0]) + ny * (p[3 * i + 1] - p[3 * i0 + 1]) + nz * (p[3 * i + 2] - p[3 * i0 + 2])),
	);
	if (thickness <= FLAT * extent) return null;
	return [i0, i1, i2, i3];
}

/**
 * @param input points, two numbers each
 * @returns the polygon counter-clockwise as a flat hull (z = 0), or null when the points have no area
 */
export function buildPolygon(input: readonly (readonly [number, number])[]): Hull | null {
	const sorted = [...input].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
	const half = (list: readonly (readonly [number, number])[]) => {
		const chain: (readonly [number, number])[] = [];
		for (const q of list) {
			for (;;) {
				const b = chain.at(-1);
				const a = chain.at(-2);
				// orient2d is positive for a clockwise turn here (y grows upward in the file, downward in the predicate's convention).
				if (!a || !b || orient2d(a[0], a[1], b[0], b[1], q[0], q[1]) < 0) break;
				chain.pop();
			}
			chain.push(q);
		}
		chain.pop();
		return chain;
	};
	const ring = [...half(sorted), ...half([...sorted].reverse())];
	if (ring.length < 3) return null;
	let area = 0;
	let extent = 0;
	const [ox, oy] = ring[0];
	ring.forEach(([x, y], i) => {
		const [nx, ny] = ring[(i + 1) % ring.length];
		area += (x - ox) * (ny - oy) - (nx - ox) * (y - oy);
		extent = Math.max(extent, Math.hypot(x - ox, y - oy));
	});
	if (area <= FLAT * extent * extent) return null;
	return new Hull(new Float64Array(ring.flatMap(([x, y]) => [x, y, 0])), new Uint32Array(0), true);
}
