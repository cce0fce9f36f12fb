/** A box on the rim of a cylinder: a place that is only nearly right is made exact, and left alone where it is no rim's. */
import { describe, expect, it } from 'vitest';
import { FRAMES } from '../tests/frames';
import { boxBody, cylinderBody } from './body';
import { multiply, rotationOf, turned } from './matrix';
import { ontoRim } from './rim';

type V = [number, number, number];

/** A box at `at`, turned by `own`, that has gone `travel` along `way` to a cylinder (radius 1, 4 high) about the origin. */
function held(size: V, at: V, own: V, way: V, travel: number, guess: V): V | null {
	const results = FRAMES.map(([shift, turn]) => {
		const m = rotationOf(turn);
		const world = (v: V) => turned(m, ...v).map((c, k) => c + shift[k]) as V;
		const A = boxBody(...size).place(...world(at), multiply(m, rotationOf(own)));
		const B = cylinderBody(1, 4).place(...shift, m);
		const out = Float64Array.from(world(guess));
		const done = ontoRim(A, ...(turned(m, ...way) as V), travel, B, out);
		if (!done) {
			expect([...out]).toEqual(world(guess));
			return null;
		}
		const d = [...out].map((v, k) => v - shift[k]) as V;
		return [0, 1, 2].map((k) => m[k]! * d[0] + m[k + 3]! * d[1] + m[k + 6]! * d[2]) as V;
	});
	const [first] = results as [V | null];
	for (const other of results) {
		if (first === null) expect(other).toBeNull();
		else for (let k = 0; k < 3; k++) expect(other?.[k]).toBeCloseTo(first[k], 9);
	}
	return first;
}
const exactly = (got: V | null, want: V) => {
	if (!got) throw new Error('no rim');
	for (let k = 0; k < 3; k++) expect(got[k], `${got}`).toBeCloseTo(want[k], 10);
};
/** Nearly a point of the rim: a little round it. */
const round = (x: number, y: number, z: number, by = 2e-4): V => {
	const a = Math.atan2(z, x) + by;
	return [Math.cos(a), y, Math.sin(a)];
};

describe('a tilted face', () => {
	const down: V = [0, -1, 0];
	/** Tilted by 45° to one side, its face on the rim's point of that side; it has come down 5 m. */
	const tilted = (own: V, point: V, by = 2e-4, size: V = [8, 2, 8]) =>
		held(size, [0, 2 + 1 + Math.SQRT2 + 5, 0], own, down, 5, round(point[0], point[1], point[2], by));

	it('meets the rim at its deepest point', () => {
		exactly(tilted([0, 0, -45], [1, 2, 0]), [1, 2, 0]);
		exactly(tilted([0, 0, 45], [-1, 2, 0]), [-1, 2, 0]);
		exactly(tilted([0, 45, 0], [0, 2, 1]), [0, 2, 1]);
		exactly(tilted([0, -45, 0], [0, 2, -1]), [0, 2, -1]);
		// Turned between the axes.
		const h = Math.SQRT1_2;
		exactly(tilted([-45, 0, -45], [h, 2, h]), [h, 2, h]);
	});

	it('of the lower rim as of the upper', () => {
		exactly(held([8, 2, 8], [0, -(2 + 1 + Math.SQRT2 + 5), 0], [0, 0, 45], [0, 1, 0], 5, round(1, -2, 0)), [1, -2, 0]);
	});

	it('is left alone where the place is too far round it to be the same', () => {
		// The bodies' sizes allow a thousandth of the smaller: 2.2 mm.
		expect(tilted([0, 0, -45], [1, 2, 0], 0.0021)).not.toBeNull();
		expect(tilted([0, 0, -45], [1, 2, 0], 0.0024)).toBeNull();
	});

	it('that lies level touches no one point of it', () => {
		expect(held([8, 2, 8], [0, 8, 0], [0, 0, 0], down, 5, [1, 2, 0])).toBeNull();
		expect(held([8, 2, 8], [0, 8, 0], [30, 0, 0], down, 5, [0.6, 2, 0.8])).toBeNull();
	});

	it('touches no rim away from it: on the cap, on the side', () => {
		const place = (p: V) => held([8, 2, 8], [0, 2 + 1 + Math.SQRT2 + 5, 0], [0, 0, -45], down, 5, p);
		expect(place([0.99, 2, 0])).toBeNull();
		expect(place([1, 1.99, 0])).toBeNull();
		expect(place([1.01, 2, 0])).toBeNull();
		expect(place([0.2, 0.1, 0])).toBeNull();
	});
});

describe('an edge', () => {
	/** An upright edge that comes from +X at a height where only the rim lies: it stands at (3 + travel, 1.5, z). */
	it('away from the rim is left alone', () => {
		// The box is turned by 45° about Z: its lowest edge runs along Z, at the height of the cap's rim.
		const size: V = [2, 2, 20];
		const edge = (z: number, guess: V, dy = 0) =>
			held(size, [9, 2 + Math.SQRT2 - 0.5 + dy, z], [0, 0, 45], [-1, 0, 0], 8 - Math.SQRT2, guess);
		// Its leftmost edge, level with y = 2.9: no rim there.
		expect(edge(0, [1, 2.9, 0])).toBeNull();
	});

	it('that stands aslant goes through the rim on the side it came to', () => {
		// An edge along (0, 1, 1) that moves along −X: the plane it sweeps is y − z = c.
		const h = Math.SQRT1_2;
		for (const side of [1, -1]) {
			// The box is turned by 45° about X and by 45° about its own long axis, so that one edge leads.
			const own: V = [0, 45, 0];
			const size: V = [2, 20, 2];
			// In its own axes the leading edge is at (−1, y, ±1).
			const corner = turned(rotationOf(own), -1, 0, side);
			// The rim's point at z = 0.6: x = 0.8, y = 2.
			const want: V = [0.8, 2, 0.6];
			// Along the edge its middle may lie anywhere: two metres down it.
			const back = turned(rotationOf(own), 0, 2, 0);
			const at = want.map((v, k) => v - corner[k]! - back[k]! + (k === 0 ? 5 : 0)) as V;
			expect(Math.abs(back[1] - 2 * h)).toBeLessThan(1e-12);
			exactly(held(size, at, own, [-1, 0, 0], 5, round(0.8, 2, 0.6)), want);
			exactly(held(size, at, own, [-1, 0, 0], 5, round(0.8, 2, 0.6, -2e-4)), want);
			expect(held(size, at, own, [-1, 0, 0], 5, round(0.8, 2, 0.6, 0.01))).toBeNull();
		}
	});

	it('and from the other side on the other half of it', () => {
		const own: V = [0, 45, 0];
		const corner = turned(rotationOf(own), 1, 0, 1);
		const want: V = [-0.8, 2, 0.6];
		const at = want.map((v, k) => v - corner[k]! - (k === 0 ? 5 : 0)) as V;
		exactly(held([2, 20, 2], at, own, [1, 0, 0], 5, round(-0.8, 2, 0.6)), want);
	});
});

describe('a corner', () => {
	it('is no rim’s', () => {
		const at: V = [1 + 1 + 5, 3, 1];
		expect(held([2, 2, 2], at, [0, 0, 0], [-1, 0, 0], 5, [1, 2, 0])).toBeNull();
	});
});
