/**
 * How deep two convex bodies stick in each other: the length of the shortest move of one that ends it.
 *
 * It is the distance from the origin to the surface of the Minkowski difference of the two. Where their cores are apart, that is their
 * rounding less the gap of the cores. Where they are not, a polytope inside of the difference of the cores is grown at the face that is
 * nearest to the origin, until there is nothing more outside of it (the expanding polytope of van den Bergen, 2001; here the origin need
 * not lie in the first one: a face it lies outside of is grown first).
 */
import { BOX, type Body, CAPSULE, CYLINDER, SPHERE, support } from './body';
import { gap, nearest } from './gjk';
import { OVERLAP_GAP } from './tolerances';

type P3 = [number, number, number];

/** What is thinner than this has no inside, as a part of its size. */
const THIN = 1e-12;
/** How near lower and upper bound come, as a part of the size. */
const CLOSE = 1e-11;
/** Cores that are nearer to each other than this have no direction between them that rounding leaves, metres. */
const NEAR = 1e-9;
/** A curved side is approached by so many points at most; what is left is found from the best of their directions. */
const MAX_POINTS = 100;
/** It begins at so many directions at most, which are as far apart as a cosine of this. */
const MAX_STARTS = 8;
const APART = 0.995;
/** The first and the last turn of that search, radians. */
const TURN = { first: 0.1, last: 1e-9 };
/**
 * A turn has to gain this part of its square: along a level ridge, or by rounding alone, it would lead on and on. What was gained by one
 * way is tried again, by a larger turn.
 */
const GAIN = 1e-5;
const MAX_TURNS = 300;

const one = new Float64Array(3);
const two = new Float64Array(3);

/** Farthest point of A − B along a direction; rounding left out. */
function farthest(A: Body, B: Body, [x, y, z]: P3): P3 {
	support(A, x, y, z, one, 0);
	support(B, -x, -y, -z, two, 0);
	return [A.x - B.x + one[0] - two[0], A.y - B.y + one[1] - two[1], A.z - B.z + one[2] - two[2]];
}

const dot = (a: P3, b: P3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const minus = (a: P3, b: P3): P3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: P3, b: P3): P3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const scaled = (a: P3, by: number): P3 => [a[0] * by, a[1] * by, a[2] * by];

/** The shortest move of a body that ends its overlap with another. */
export interface WayOut {
	/** How long it is, metres; 0 where they only touch or are apart. */
	depth: number;
	/** Where to: a unit vector. */
	way: P3;
}

/**
 * @param A, B convex bodies that touch or overlap, metres; no meshes
 * @param flat whether they lie in one plane, and are moved in it
 * @returns the shortest move of A after which they no longer overlap
 */
export function wayOutOf(A: Body, B: Body, flat = false): WayOut {
	const rounding = A.r + B.r;
	gap(A, B);
	const { core } = nearest;
	const toward: P3 = [-nearest.nx, -nearest.ny, -nearest.nz];
	// Of cores that lie a hair apart the line between them says nothing.
	const cores: WayOut = core > NEAR ? { depth: -core, way: toward } : flat ? depthInPlane(A, B) : depthInSpace(A, B);
	if (core > 0) cores.depth = -core;
	const depth = rounding + cores.depth;
	// What only touches has no depth, whatever the last digit says.
	return { depth: depth > OVERLAP_GAP ? depth : 0, way: cores.way };
}

/** @returns the length of that move alone, metres */
export const depthBetween = (A: Body, B: Body, flat = false): number => wayOutOf(A, B, flat).depth;

/** Out along a side of the difference: A goes where the side came from. */
const outBy = (depth: number, [x, y, z]: P3): WayOut => ({ depth: Math.max(0, depth), way: [-x, -y, -z] });

/** A side of the polytope: a triangle, or in a plane an edge; `normal` outward, `away` how far from the origin its plane lies. */
interface Side {
	corners: P3[];
	normal: P3;
	away: number;
}

/** Of a point in a cylinder: out by the nearer end, or by the side. */
function outOfCylinder(point: Body, cylinder: Body): WayOut {
	const { m } = cylinder;
	const axis: P3 = [m[1] as number, m[4] as number, m[7] as number];
	const at: P3 = [point.x - cylinder.x, point.y - cylinder.y, point.z - cylinder.z];
	const along = dot(at, axis);
	const aside = minus(at, scaled(axis, along));
	const away = Math.sqrt(dot(aside, aside));
	const [byEnd, bySide] = [cylinder.hy - Math.abs(along), cylinder.hx - away];
	if (byEnd <= bySide) return { depth: Math.max(0, byEnd), way: scaled(axis, along < 0 ? -1 : 1) };
	return { depth: Math.max(0, bySide), way: away > 0 ? scaled(aside, 1 / away) : (acrossLine(axis)[0] as P3) };
}

function depthInSpace(A: Body, B: Body): WayOut {
	if (A.kind === SPHERE && B.kind === CYLINDER) return outOfCylinder(A, B);
	if (A.kind === CYLINDER && B.kind === SPHERE) {
		const { depth, way } = outOfCylinder(B, A);
		return { depth, way: scaled(way, -1) };
	}
	const first = tetrahedron(A, B);
	if ('out' in first) return { depth: 0, way: first.out };
	const { corners, size } = first;
	const middle = scaled(
		corners.reduce((sum, p): P3 => [sum[0] + p[0], sum[1] + p[1], sum[2] + p[2]], [0, 0, 0]),
		0.25,
	);
	const face = (a: P3, b: P3, c: P3): Side | null => {
		const n = cross(minus(b, a), minus(c, a));
		const length = Math.sqrt(dot(n, n));
		if (!(length > THIN * size * size)) return null;
		const outward = dot(n, minus(a, middle)) >= 0;
		const normal = scaled(n, (outward ? 1 : -1) / length);
		return { corners: outward ? [a, b, c] : [a, c, b], normal, away: dot(normal, a) };
	};
	const [a, b, c, d] = corners as [P3, P3, P3, P3];
	let sides = [face(a, b, c), face(a, b, d), face(a, c, d), face(b, c, d)].filter((side) => side !== null);
	let best = Infinity;
	let way: P3 = [0, 1, 0];
	const isCurved = A.kind === CYLINDER || B.kind === CYLINDER;
	for (let n = 0; sides.length > 0; n++) {
		const near = sides.reduce((x, y) => (y.away < x.away ? y : x));
		const point = farthest(A, B, near.normal);
		const reach = dot(point, near.normal);
		if (reach < best) [best, way] = [reach, near.normal];
		if (best - near.away <= CLOSE * size || reach - near.away <= CLOSE * size) return outBy(best, way);
		if (isCurved && n >= MAX_POINTS) break;
		// Every side that sees the point goes; what is left open is closed with it.
		const seen = sides.filter((side) => dot(side.normal, point) - side.away > THIN * size);
		const edges = new Map<string, [P3, P3]>();
		for (const { corners: three } of seen)
			for (let k = 0; k < 3; k++) {
				const [p, q] = [three[k] as P3, three[(k + 1) % 3] as P3];
				const back = `${q} ${p}`;
				if (edges.has(back)) edges.delete(back);
				else edges.set(`${p} ${q}`, [p, q]);
			}
		sides = sides.filter((side) => !seen.includes(side));
		for (const [p, q] of edges.values()) {
			const made = face(p, q, point);
			if (made) sides.push(made);
		}
	}
	if (!isCurved) return outBy(best, way);
	// There may be several valleys: what lies nearer than the best so far may still lead to a better one.
	const starts: P3[] = [way];
	for (const side of sides.sort((x, y) => x.away - y.away)) {
		if (starts.length >= MAX_STARTS || side.away >= best) break;
		if (starts.every((start) => dot(start, side.normal) < APART)) starts.push(side.normal);
	}
	let least = outBy(best, way);
	for (const start of starts) {
		const out = turnedTo(A, B, start);
		if (out.depth < least.depth) least = out;
	}
	return least;
}

/** Directions of the straight edges and sides of a body's core. */
function edgesOf({ kind, m }: Body): P3[] {
	const axis = (k: number): P3 => [m[k] as number, m[k + 3] as number, m[k + 6] as number];
	return kind === BOX ? [0, 1, 2].map(axis) : kind === CAPSULE || kind === CYLINDER ? [axis(1)] : [];
}

/** The least reach around a direction: by turning it a little every way, and less and less. */
function turnedTo(A: Body, B: Body, from: P3): WayOut {
	let way = from;
	let best = dot(farthest(A, B, from), from);
	const size = Math.abs(best);
	const edges = [...edgesOf(A), ...edgesOf(B)];
	let turn = TURN.first;
	for (let n = 0; turn > TURN.last && n < MAX_TURNS; n++) {
		const least = GAIN * turn * turn * size;
		const [u, v] = acrossLine(way) as [P3, P3];
		let found: P3 | null = null;
		const to = (x: number, y: number, z: number): void => {
			const unit = scaled([x, y, z], 1 / Math.sqrt(x * x + y * y + z * z));
			const own = dot(farthest(A, B, unit), unit);
			if (own < best - least) [best, found] = [own, unit];
		};
		for (let k = 0; k < 8; k++) {
			const [a, b] = [turn * Math.cos(n + (k * Math.PI) / 4), turn * Math.sin(n + (k * Math.PI) / 4)];
			to(way[0] + a * u[0] + b * v[0], way[1] + a * u[1] + b * v[1], way[2] + a * u[2] + b * v[2]);
		}
		// Where the farthest point leaps from one end of an edge to the other the least lies in a valley, square to the edge.
		for (const edge of edges) {
			const off = dot(way, edge);
			if (Math.abs(off) > 2 * turn) continue;
			const [x, y, z] = minus(way, scaled(edge, off));
			const along = cross([x, y, z], edge);
			to(x, y, z);
			for (const by of [turn, -turn]) to(x + by * along[0], y + by * along[1], z + by * along[2]);
		}
		if (found) [way, turn] = [found, Math.min(TURN.first, 2 * turn)];
		else turn /= 2;
	}
	return outBy(best, way);
}

const AXES: readonly P3[] = [
	[1, 0, 0],
	[0, 1, 0],
	[0, 0, 1],
];

/**
 * Four points of A − B that span a space, and how large that is; or the way out across it where it is flat: then the shortest move has no
 * length.
 */
function tetrahedron(A: Body, B: Body): { corners: P3[]; size: number } | { out: P3 } {
	const ends = AXES.flatMap((axis) => [farthest(A, B, axis), farthest(A, B, scaled(axis, -1))]);
	let [a, b]: [P3, P3] = [ends[0] as P3, ends[1] as P3];
	let span = -1;
	for (const p of ends)
		for (const q of ends) {
			const between = minus(p, q);
			const square = dot(between, between);
			if (square > span) [span, a, b] = [square, p, q];
		}
	const size = Math.sqrt(span);
	if (!(size > 0)) return { out: [0, 1, 0] };
	const along = scaled(minus(b, a), 1 / size);
	// Across the line, then across the plane; each way, since the points of one may lie in it.
	const third = outermost(A, B, acrossLine(along), (p) => {
		const off = minus(p, a);
		const aside = minus(off, scaled(along, dot(off, along)));
		return Math.sqrt(dot(aside, aside));
	});
	if (!third || third.off <= THIN * size) return { out: acrossLine(along)[0] as P3 };
	const normal = cross(along, minus(third.point, a));
	const length = Math.sqrt(dot(normal, normal));
	const up = scaled(normal, 1 / length);
	const fourth = outermost(A, B, [up, scaled(up, -1)], (p) => Math.abs(dot(minus(p, a), up)));
	if (!fourth || fourth.off <= THIN * size) return { out: up };
	return { corners: [a, b, third.point, fourth.point], size };
}

/** Directions all around a line. */
function acrossLine(along: P3): P3[] {
	const least = AXES.reduce((x, y) => (Math.abs(dot(y, along)) < Math.abs(dot(x, along)) ? y : x));
	const side = cross(along, least);
	const u = scaled(side, 1 / Math.sqrt(dot(side, side)));
	const v = cross(along, u);
	return [u, v, scaled(u, -1), scaled(v, -1)];
}

function outermost(
	A: Body,
	B: Body,
	directions: readonly P3[],
	offOf: (p: P3) => number,
): { point: P3; off: number } | null {
	let best: { point: P3; off: number } | null = null;
	for (const direction of directions) {
		const point = farthest(A, B, direction);
		const off = offOf(point);
		if (!best || off > best.off) best = { point, off };
	}
	return best;
}

function depthInPlane(A: Body, B: Body): WayOut {
	const ends = [0, 1, 2, 3].map((k): P3 => {
		const direction: P3 = k < 2 ? [k === 0 ? 1 : -1, 0, 0] : [0, k === 2 ? 1 : -1, 0];
		return farthest(A, B, direction);
	});
	const size = Math.max(...ends.flatMap((p) => ends.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1]))));
	if (!(size > 0)) return { depth: 0, way: [1, 0, 0] };
	let [a, b]: [P3, P3] = [ends[0] as P3, ends[1] as P3];
	for (const p of ends) for (const q of ends) if (Math.hypot(p[0] - q[0], p[1] - q[1]) === size) [a, b] = [p, q];
	const edge = (p: P3, q: P3): Side => {
		const length = Math.hypot(q[0] - p[0], q[1] - p[1]);
		const normal: P3 = [(q[1] - p[1]) / length, (p[0] - q[0]) / length, 0];
		return { corners: [p, q], normal, away: dot(normal, p) };
	};
	// Counter-clockwise: the normal of an edge is on its right. At first there are two, there and back.
	let sides = [edge(a, b), edge(b, a)];
	let best = Infinity;
	let way: P3 = [1, 0, 0];
	for (let n = 0; n < MAX_POINTS; n++) {
		const near = sides.reduce((x, y) => (y.away < x.away ? y : x));
		const point = farthest(A, B, near.normal);
		const reach = dot(point, near.normal);
		if (reach < best) [best, way] = [reach, near.normal];
		if (best - near.away <= CLOSE * size || reach - near.away <= CLOSE * size) break;
		const [p, q] = near.corners as [P3, P3];
		sides = [...sides.filter((side) => side !== near), edge(p, point), edge(point, q)];
	}
	return outBy(best, way);
}
