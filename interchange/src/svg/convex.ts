/** A region of the plane in convex parts: cut into triangles by a library, and these joined again as far as they stay convex. */
import type { Vec2 } from '@frelk/core';
import earcut from 'earcut';

/** A ring and the holes in it; none crosses itself or another. */
export interface Region {
	outer: readonly Vec2[];
	holes: readonly (readonly Vec2[])[];
}

/** How far, as a sine, a corner may bend inward for rounding. */
const BENT = 1e-7;

/**
 * Joins triangles across their common sides, one side after the other, where the corners at its ends stay convex (Hertel and Mehlhorn,
 * 1983): at most four times as many parts as there could be.
 * @returns rings of corners, counter-clockwise where Y points up
 */
export function convexParts({ outer, holes }: Region): Vec2[][] {
	const points: Vec2[] = [...outer, ...holes.flat()];
	const starts: number[] = [];
	let at = outer.length;
	for (const hole of holes) {
		starts.push(at);
		at += hole.length;
	}
	const cut = earcut(points.flat(), starts);
	/** Sides of the triangles, each from a corner to that of the next one around. */
	const from: number[] = [];
	const next: number[] = [];
	const before: number[] = [];
	const cross = (a: number, b: number, c: number): number => {
		const [p, q, r] = [points[a], points[b], points[c]];
		return (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]);
	};
	for (let i = 0; i + 2 < cut.length; i += 3) {
		const [a, b, c] = [cut[i], cut[i + 1], cut[i + 2]];
		const area = cross(a, b, c);
		if (area === 0) continue;
		const first = from.length;
		from.push(...(area > 0 ? [a, b, c] : [a, c, b]));
		next.push(first + 1, first + 2, first);
		before.push(first + 2, first, first + 1);
	}
	const n = points.length;
	const bySide = new Map<number, number>();
	for (let side = 0; side < from.length; side++) bySide.set(from[side] * n + from[next[side]], side);
	/** Whether the corner between two sides turns left, or hardly at all. */
	const turns = (a: number, b: number, c: number): boolean => {
		const [p, q, r] = [points[a], points[b], points[c]];
		const size = Math.hypot(q[0] - p[0], q[1] - p[1]) * Math.hypot(r[0] - q[0], r[1] - q[1]);
		return cross(a, b, c) >= -BENT * size;
	};
	const gone = new Uint8Array(from.length);
	for (let side = 0; side < from.length; side++) {
		if (gone[side]) continue;
		const twin = bySide.get(from[next[side]] * n + from[side]);
		if (twin === undefined || gone[twin]) continue;
		const [p, q] = [before[side], next[twin]];
		const [r, s] = [before[twin], next[side]];
		// Two sides in a row of one part: joined they would be a ring in a ring.
		if (p === twin || s === twin) continue;
		if (!turns(from[p], from[side], from[next[q]]) || !turns(from[r], from[twin], from[next[s]])) continue;
		gone[side] = 1;
		gone[twin] = 1;
		next[p] = q;
		before[q] = p;
		next[r] = s;
		before[s] = r;
	}
	const parts: Vec2[][] = [];
	for (let side = 0; side < from.length; side++) {
		if (gone[side]) continue;
		const ring: Vec2[] = [];
		for (let one = side; !gone[one]; one = next[one]) {
			gone[one] = 1;
			ring.push(points[from[one]]);
		}
		parts.push(ring);
	}
	return parts;
}
