/**
 * A second geometry, for tests only: slow, short and unlike the product's.
 *
 * Every body is a convex set given by its support function, or a list of triangles. One routine, the point of least norm of
 * a difference of two sets, gives gaps and nearest points; as the gap of a moving convex set is a convex function of the way
 * it has gone, first touches follow by nested intervals.
 */

export type V = readonly [number, number, number];

export const add = (a: V, b: V, k = 1): V => [a[0] + k * b[0], a[1] + k * b[1], a[2] + k * b[2]];
export const sub = (a: V, b: V): V => add(a, b, -1);
export const dot = (a: V, b: V): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const norm = (a: V): number => Math.sqrt(dot(a, a));
export const times = (a: V, b: V): V => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];
export const cross = (a: V, b: V): V => [
	a[1] * b[2] - a[2] * b[1],
	a[2] * b[0] - a[0] * b[2],
	a[0] * b[1] - a[1] * b[0],
];
export const unit = (a: V): V => add([0, 0, 0], a, 1 / norm(a));

/** A rotation as the images of the three axes. */
export type Axes = [V, V, V];

export const turn = (m: Axes, v: V): V => add(add(add([0, 0, 0], m[0], v[0]), m[1], v[1]), m[2], v[2]);
export const compose = (a: Axes, b: Axes): Axes => [turn(a, b[0]), turn(a, b[1]), turn(a, b[2])];
export const back = (m: Axes, v: V): V => [dot(m[0], v), dot(m[1], v), dot(m[2], v)];

/** Yaw about Y, then pitch about X, then roll about Z, each written out as its own turn. */
export function axesOf([yaw, pitch, roll]: V): Axes {
	const about = (degrees: number): [number, number] => [
		Math.cos((degrees * Math.PI) / 180),
		Math.sin((degrees * Math.PI) / 180),
	];
	const [cy, sy] = about(yaw);
	const [cp, sp] = about(pitch);
	const [cr, sr] = about(roll);
	const y: Axes = [
		[cy, 0, -sy],
		[0, 1, 0],
		[sy, 0, cy],
	];
	const x: Axes = [
		[1, 0, 0],
		[0, cp, sp],
		[0, -sp, cp],
	];
	const z: Axes = [
		[cr, sr, 0],
		[-sr, cr, 0],
		[0, 0, 1],
	];
	return compose(compose(y, x), z);
}

export interface Convex {
	/** The farthest point of the core in a direction. */
	support: (d: V) => V;
	/** The set is the core and all within this of it. */
	radius: number;
}

export const pointSet = (points: V[], radius = 0): Convex => ({
	radius,
	support: (d) => {
		let best = points[0] as V;
		for (const p of points) if (dot(p, d) > dot(best, d)) best = p;
		return best;
	},
});

export const cylinderSet = (middle: V, axis: V, radius: number, height: number): Convex => ({
	radius: 0,
	support: (d) => {
		const along = dot(axis, d);
		const across = add(d, axis, -along);
		const size = norm(across);
		const end = add(middle, axis, along >= 0 ? height / 2 : -height / 2);
		// Along the axis what is left across is rounding, and may point anywhere.
		return size < 1e-9 * norm(d) ? end : add(end, across, radius / size);
	},
});

export const moved = (a: Convex, by: V): Convex => ({ radius: a.radius, support: (d) => add(a.support(d), by) });
export const grown = (a: Convex, by: number): Convex => ({ radius: a.radius + by, support: a.support });
/** The set drawn along a straight way. */
export const drawn = (a: Convex, way: V): Convex => ({
	radius: a.radius,
	support: (d) => (dot(d, way) > 0 ? add(a.support(d), way) : a.support(d)),
});

/** The weights of the point of least norm in the flat through some points, or null where they are dependent or one is negative. */
function leastNorm(points: V[]): number[] | null {
	if (points.length === 1) return [1];
	const first = points[0] as V;
	const edges = points.slice(1).map((p) => sub(p, first));
	const n = edges.length;
	const rows = edges.map((e) => [...edges.map((f) => dot(e, f)), -dot(e, first)]);
	const scale = Math.max(...edges.map((e) => dot(e, e)));
	for (let i = 0; i < n; i++) {
		let pivot = i;
		for (let r = i + 1; r < n; r++) if (Math.abs(rows[r]?.[i] ?? 0) > Math.abs(rows[pivot]?.[i] ?? 0)) pivot = r;
		const row = rows[pivot] as number[];
		if (Math.abs(row[i]) < 1e-14 * scale) return null;
		rows[pivot] = rows[i] as number[];
		rows[i] = row;
		for (let r = 0; r < n; r++) {
			if (r === i) continue;
			const other = rows[r] as number[];
			const f = other[i] / row[i];
			for (let c = i; c <= n; c++) other[c] = other[c] - f * row[c];
		}
	}
	const weights = rows.map((row, i) => row[n] / row[i]);
	const all = [1 - weights.reduce((s, w) => s + w, 0), ...weights];
	return all.every((w) => w >= -1e-12) ? all : null;
}

/** The vector from b's core to a's core of least length; zero where they overlap. */
function between(a: Convex, b: Convex): V {
	const support = (d: V): V => sub(a.support(d), b.support([-d[0], -d[1], -d[2]]));
	let kept: V[] = [support([1, 0.3, 0.2])];
	let v = kept[0] as V;
	for (let round = 0; round < 400; round++) {
		const size = norm(v);
		if (size < 1e-12) return [0, 0, 0];
		const w = support([-v[0], -v[1], -v[2]]);
		if (
			dot(v, v) - dot(v, w) <= 1e-13 * Math.max(dot(v, v), 1e-3 * dot(w, w)) ||
			kept.some((k) => norm(sub(k, w)) < 1e-15)
		)
			return v;
		const points = [...kept, w];
		let best: { v: V; points: V[] } | null = null;
		for (let mask = 1; mask < 1 << points.length; mask++) {
			const some = points.filter((_, i) => mask & (1 << i));
			const weights = leastNorm(some);
			if (!weights) continue;
			const at = some.reduce<V>((s, p, i) => add(s, p, weights[i]), [0, 0, 0]);
			if (!best || norm(at) < norm(best.v) - 1e-16) best = { v: at, points: some };
		}
		if (!best || norm(best.v) >= size) return v;
		v = best.v;
		kept = best.points;
		if (kept.length > 3) return [0, 0, 0];
	}
	return v;
}

/** Metres between two sets, 0 where they meet; and the unit direction from b to a. */
export function gapOf(a: Convex, b: Convex): { gap: number; from: V } {
	const v = between(a, b);
	const size = norm(v);
	return { gap: Math.max(0, size - a.radius - b.radius), from: size > 0 ? unit(v) : [0, 0, 0] };
}

export const gap = (a: Convex, b: Convex): number => gapOf(a, b).gap;

export function nearestTo(a: Convex, point: V): V {
	const v = between(a, pointSet([point]));
	const size = norm(v);
	return size <= a.radius ? point : add(point, v, 1 - a.radius / size);
}

/**
 * How far `mover` goes along the unit `way`, up to `length`, until it touches `still`, which it does not overlap at the start.
 * @returns null where it does not
 */
export function firstTouch(mover: Convex, way: V, length: number, still: Convex): number | null {
	const at = (t: number): number => gap(moved(mover, add([0, 0, 0], way, t)), still);
	const nothing = 1e-10;
	if (gap(drawn(mover, add([0, 0, 0], way, length)), still) > nothing * 10) return null;
	let low = 0;
	let high = length;
	for (let i = 0; i < 120 && high - low > 1e-13; i++) {
		const a = low + 0.382 * (high - low);
		const b = low + 0.618 * (high - low);
		const ga = at(a);
		if (ga <= nothing) {
			high = a;
			break;
		}
		if (ga <= at(b)) high = b;
		else low = a;
	}
	if (at(high) > nothing * 100) return null;
	low = 0;
	for (let i = 0; i < 60; i++) {
		const middle = (low + high) / 2;
		if (at(middle) <= nothing) high = middle;
		else low = middle;
	}
	return high;
}

/** The point of both sets nearest to a place, by projecting on each in turn and correcting (Dykstra); good to about 1e-5. */
export function nearestOfBoth(a: Convex, b: Convex, place: V): V {
	let x = place;
	let p: V = [0, 0, 0];
	let q: V = [0, 0, 0];
	for (let i = 0; i < 3000; i++) {
		const y = nearestTo(a, add(x, p));
		p = sub(add(x, p), y);
		const next = nearestTo(b, add(y, q));
		q = sub(add(y, q), next);
		if (norm(sub(next, x)) < 1e-10 && norm(sub(next, y)) < 1e-7) return next;
		x = next;
	}
	return x;
}
