/** Moved bodies: how far they go, along which normal they touch and where, by hand; each scene turned and moved too. */
import { describe, expect, it } from 'vitest';
import { FRAMES } from '../tests/frames';
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, INSIDE, sphereBody } from './body';
import { contactNearCentre } from './contact';
import { emptyFeature, featureAlong } from './feature';
import { buildHull, type Hull } from './hull';
import { multiply, rotationOf, turned } from './matrix';
import { castSweep, contact, witness } from './sweep';

type V = [number, number, number];
const MISS = Number.POSITIVE_INFINITY;
interface Placed {
	make: () => Body;
	at: V;
	turn?: V;
}
interface Touch {
	travel: number;
	normal?: V;
	point?: V;
}

/** Sweeps A along `dir` and holds what is told against `want`, in several frames. */
function sweep(A: Placed, dir: V, B: Placed, want: Touch, length = 20, digits = 10): void {
	const size = Math.hypot(...dir);
	for (const [at, turn] of FRAMES) {
		const m = rotationOf(turn);
		const world = (v: V) => turned(m, ...v).map((c, k) => c + at[k]) as V;
		const put = (p: Placed) => p.make().place(...world(p.at), multiply(m, rotationOf(p.turn)));
		const a = put(A);
		const b = put(B);
		const d = turned(m, ...(dir.map((v) => v / size) as V)) as V;
		const travel = castSweep(a, ...d, length, b);
		expect([a.x, a.y, a.z]).toEqual(world(A.at));
		if (want.travel === MISS || want.travel === INSIDE) {
			expect(travel).toBe(want.travel);
			continue;
		}
		expect(travel).toBeCloseTo(want.travel, 9);
		const point = new Float64Array(3);
		contactNearCentre(a, ...d, travel, b, point);
		if (want.normal) {
			const normal = turned(m, ...want.normal);
			[contact.nx, contact.ny, contact.nz].forEach((v, k) => {
				expect(v, 'normal').toBeCloseTo(normal[k], digits);
			});
		}
		if (want.point) {
			const p = world(want.point);
			for (let k = 0; k < 3; k++) expect(point[k], `point ${[...point]} for ${p}`).toBeCloseTo(p[k], digits);
		}
		expect([a.x, a.y, a.z]).toEqual(world(A.at));
	}
}
const box = (x: number, y: number, z: number) => () => boxBody(x, y, z);
const ball = (r: number) => () => sphereBody(r);
const wedge = () => hullBody(buildHull([0, 0, 0, 3, 0, 0, 0, 3, 0, 0, 0, 3] as never) as Hull);

describe('how far', () => {
	const wall: Placed = { make: box(8, 8, 2), at: [0, 0, 0] };

	it('is up to the first touch, no farther than the length, and nothing where they overlap', () => {
		const ballAt = (z: number): Placed => ({ make: ball(1), at: [0, 0, z] });
		sweep(ballAt(5), [0, 0, -1], wall, { travel: 3, normal: [0, 0, 1], point: [0, 0, 1] });
		sweep(ballAt(5), [0, 0, -1], wall, { travel: 3 }, 3);
		sweep(ballAt(5), [0, 0, -1], wall, { travel: MISS }, 2.999999);
		sweep(ballAt(5), [0, 0, 1], wall, { travel: MISS });
		sweep(ballAt(5), [1, 0, 0], wall, { travel: MISS });
		sweep(ballAt(1.5), [0, 0, 1], wall, { travel: INSIDE });
		sweep(ballAt(2 + 0.9e-6), [0, 0, -1], wall, { travel: INSIDE });
		sweep(ballAt(2 + 1.2e-6), [0, 0, -1], wall, { travel: 1.2e-6 });
	});

	it('is the length where the touch lies within rounding past it', () => {
		const a = sphereBody(1).place(0, 0, 5, rotationOf(undefined));
		const b = boxBody(8, 8, 2);
		expect(castSweep(a, 0, 0, -1, 3 - 0.5e-9, b)).toBe(3 - 0.5e-9);
		expect(castSweep(a, 0, 0, -1, 3 - 2e-9, b)).toBe(MISS);
	});

	it('is told of what passes close by too', () => {
		sweep({ make: ball(1), at: [9, 3, 0] }, [-1, 0, 0], { make: ball(1), at: [0, 0, 0] }, { travel: MISS });
		sweep({ make: ball(1), at: [9, 2.0001, 0] }, [-1, 0, 0], { make: ball(1), at: [0, 0, 0] }, { travel: MISS });
		sweep(
			{ make: ball(1), at: [9, 1.2, 0] },
			[-1, 0, 0],
			{ make: ball(1), at: [0, 0, 0] },
			{ travel: 9 - 1.6, normal: [0.8, 0.6, 0], point: [0.8, 0.6, 0] },
		);
	});
});

describe('where', () => {
	it('a sphere touches: its one point on each kind of body', () => {
		const at = (make: () => Body): Placed => ({ make, at: [0, 0, 0] });
		sweep({ make: ball(1), at: [9, 1, 0.5] }, [-1, 0, 0], at(box(2, 4, 6)), {
			travel: 7,
			normal: [1, 0, 0],
			point: [1, 1, 0.5],
		});
		sweep({ make: ball(1), at: [9, 2.6, 0] }, [-1, 0, 0], at(box(2, 4, 6)), {
			travel: 8 - 0.8,
			normal: [0.8, 0.6, 0],
			point: [1, 2, 0],
		});
		sweep(
			{ make: ball(1), at: [9, 1, 0] },
			[-1, 0, 0],
			at(() => capsuleBody(1, 6)),
			{ travel: 7, normal: [1, 0, 0], point: [1, 1, 0] },
		);
		sweep(
			{ make: ball(1), at: [0, 9, 0] },
			[0, -1, 0],
			at(() => cylinderBody(2, 4)),
			{ travel: 6, normal: [0, 1, 0], point: [0, 2, 0] },
		);
		sweep({ make: ball(1), at: [1, 1, -9] }, [0, 0, 1], at(wedge), { travel: 8, normal: [0, 0, -1], point: [1, 1, 0] });
	});

	it('two faces touch: nearest to the moving centre within what they share', () => {
		const wall: Placed = { make: box(4, 4, 2), at: [0, 0, 0] };
		const cube = (x: number, y: number): Placed => ({ make: box(2, 2, 2), at: [x, y, 9] });
		sweep(cube(0.3, 0.2), [0, 0, -1], wall, { travel: 7, normal: [0, 0, 1], point: [0.3, 0.2, 1] });
		sweep(cube(2.5, 0.2), [0, 0, -1], wall, { travel: 7, normal: [0, 0, 1], point: [2, 0.2, 1] });
		sweep(cube(-2.5, -2.7), [0, 0, -1], wall, { travel: 7, normal: [0, 0, 1], point: [-2, -2, 1] });
		sweep({ make: box(2, 2, 2), at: [9, 0.5, 0.25] }, [-1, 0, 0], wall, {
			travel: 6,
			normal: [1, 0, 0],
			point: [2, 0.5, 0.25],
		});
		sweep({ make: box(2, 2, 2), at: [0.5, -9, 0.25] }, [0, 1, 0], wall, {
			travel: 6,
			normal: [0, -1, 0],
			point: [0.5, -2, 0.25],
		});
		// A quarter of a turn does not matter, an eighth makes other corners.
		sweep({ make: box(2, 2, 2), at: [2.5, 0, 9], turn: [0, 0, 45] }, [0, 0, -1], wall, {
			travel: 7,
			normal: [0, 0, 1],
			point: [2, 0, 1],
		});
	});

	it('an edge and a corner touch, and are touched', () => {
		const wall: Placed = { make: box(4, 4, 2), at: [0, 0, 0] };
		const half = Math.SQRT2;
		// On its edge: along it, the middle.
		sweep({ make: box(2, 2, 2), at: [0.5, 0.25, 9], turn: [0, 45, 0] }, [0, 0, -1], wall, {
			travel: 8 - half,
			normal: [0, 0, 1],
			point: [0.5, 0.25, 1],
		});
		sweep({ make: box(2, 2, 2), at: [2.5, 0.25, 9], turn: [0, 45, 0] }, [0, 0, -1], wall, {
			travel: 8 - half,
			normal: [0, 0, 1],
			point: [2, 0.25, 1],
		});
		// Edge across edge: the one point.
		sweep(
			{ make: box(8, 2, 2), at: [0.5, 0.25, 9], turn: [0, 45, 0] },
			[0, 0, -1],
			{ make: box(2, 8, 2), at: [0, 0, 0], turn: [45, 0, 0] },
			{ travel: 9 - 2 * half, normal: [0, 0, 1], point: [0, 0.25, half] },
		);
		// A corner of what stands still: the one point it has.
		sweep(
			{ make: box(4, 4, 2), at: [1, 0, 9] },
			[0, 0, -1],
			{ make: wedge, at: [0, 0, 0] },
			{ travel: 5, normal: [0, 0, 1], point: [0, 0, 3] },
		);
		// A corner that moves.
		sweep(
			{ make: wedge, at: [0, 0, -9] },
			[0, 0, 1],
			{ make: box(4, 4, 2), at: [0, 0, 0] },
			{ travel: 5, normal: [0, 0, -1], point: [0, 0, -1] },
		);
	});

	it('capsules touch with an end, and lying down along a line', () => {
		const wall: Placed = { make: box(4, 4, 2), at: [0, 0, 0] };
		const capsule = () => capsuleBody(1, 6);
		sweep({ make: capsule, at: [0.5, 0.5, 9], turn: [0, 90, 0] }, [0, 0, -1], wall, {
			travel: 5,
			normal: [0, 0, 1],
			point: [0.5, 0.5, 1],
		});
		sweep({ make: capsule, at: [0.5, 0.5, 9] }, [0, 0, -1], wall, {
			travel: 7,
			normal: [0, 0, 1],
			point: [0.5, 0.5, 1],
		});
		// Half over the side: the shared stretch ends there.
		sweep({ make: capsule, at: [0.5, 3, 9] }, [0, 0, -1], wall, { travel: 7, normal: [0, 0, 1], point: [0.5, 2, 1] });
		// Crossed with another: one point. Beside it: along the stretch they share.
		sweep(
			{ make: capsule, at: [0, 1, 9], turn: [0, 0, 90] },
			[0, 0, -1],
			{ make: capsule, at: [0, 0, 0] },
			{ travel: 7, normal: [0, 0, 1], point: [0, 1, 1] },
		);
		sweep(
			{ make: capsule, at: [0, 3, 9] },
			[0, 0, -1],
			{ make: capsule, at: [0, 0, 0] },
			{ travel: 7, normal: [0, 0, 1], point: [0, 2, 1] },
		);
		// Against the end of a capsule that stands still.
		sweep(
			{ make: box(4, 4, 2), at: [1, 0, 9] },
			[0, 0, -1],
			{ make: capsule, at: [0, 0, 0], turn: [0, 90, 0] },
			{ travel: 5, normal: [0, 0, 1], point: [0, 0, 3] },
		);
	});

	it('cylinders touch with a cap, a side, and at a rim', () => {
		const upright: Placed = { make: () => cylinderBody(1, 4), at: [0, 0, 0] };
		// A face on the cap: within the disc.
		sweep({ make: box(4, 2, 4), at: [0.25, 9, 0.5] }, [0, -1, 0], upright, {
			travel: 6,
			normal: [0, 1, 0],
			point: [0.25, 2, 0.5],
		});
		sweep({ make: box(4, 2, 4), at: [1.8, 9, 0] }, [0, -1, 0], upright, {
			travel: 6,
			normal: [0, 1, 0],
			point: [1, 2, 0],
		});
		sweep({ make: box(4, 2, 4), at: [2.5, 9, 0] }, [0, -1, 0], upright, {
			travel: 6,
			normal: [0, 1, 0],
			point: [1, 2, 0],
		});
		sweep({ make: box(4, 2, 4), at: [0.25, -9, 0.5] }, [0, 1, 0], upright, {
			travel: 6,
			normal: [0, -1, 0],
			point: [0.25, -2, 0.5],
		});
		// A face on the side: along its line.
		sweep({ make: box(2, 2, 4), at: [9, 0.5, 0.5] }, [-1, 0, 0], upright, {
			travel: 7,
			normal: [1, 0, 0],
			point: [1, 0.5, 0],
		});
		sweep({ make: box(2, 2, 4), at: [9, 2.5, 0] }, [-1, 0, 0], upright, {
			travel: 7,
			normal: [1, 0, 0],
			point: [1, 2, 0],
		});
		// A tilted face meets the rim at its deepest point, on whichever side it is tilted to.
		const tilted = (turn: V, point: V) => {
			const h = Math.SQRT1_2;
			const n: V = [point[0] * h, h, point[2] * h];
			sweep({ make: box(20, 2, 20), at: [0, 9, 0], turn }, [0, -1, 0], upright, {
				travel: 9 - 3 - Math.SQRT2,
				normal: n,
				point,
			});
		};
		tilted([0, 0, -45], [1, 2, 0]);
		tilted([0, 0, 45], [-1, 2, 0]);
		tilted([0, 45, 0], [0, 2, 1]);
		tilted([0, -45, 0], [0, 2, -1]);
		// An edge that comes down on the cap from beside meets the rim twice: the nearer to the centre counts.
		sweep({ make: box(2, 2, 20), at: [9, 1.5, 0], turn: [0, 0, 45] }, [-1, 0, 0], upright, {
			travel: 8 - Math.SQRT2,
			point: [1, 1.5, 0],
		});
		// A cylinder that moves: its rim, its cap.
		sweep(
			{ make: () => cylinderBody(1, 4), at: [0.5, 9, 0.5] },
			[0, -1, 0],
			{ make: box(4, 2, 4), at: [0, 0, 0] },
			{ travel: 6, normal: [0, 1, 0], point: [0.5, 1, 0.5] },
		);
	});

	it('hulls touch with their faces', () => {
		sweep(
			{ make: wedge, at: [-1, -1, 9] },
			[0, 0, -1],
			{ make: box(8, 8, 2), at: [0, 0, 0] },
			{ travel: 8, normal: [0, 0, 1], point: [-1, -1, 1] },
		);
		sweep(
			{ make: box(2, 2, 2), at: [1, 1, -9] },
			[0, 0, 1],
			{ make: wedge, at: [0, 0, 0] },
			{ travel: 8, normal: [0, 0, -1], point: [1, 1, 0] },
		);
		const s = 1 / Math.sqrt(3);
		sweep(
			{ make: ball(1), at: [6, 6, 6] },
			[-1, -1, -1],
			{ make: wedge, at: [0, 0, 0] },
			{ travel: 5 * Math.sqrt(3) - 1, normal: [s, s, s], point: [1, 1, 1] },
		);
	});
});

describe('the feature that lies farthest', () => {
	const feature = (make: () => Body, d: V, level = 1e-9) => {
		const out = emptyFeature();
		featureAlong(make(), ...d, 10, 20, 30, level, out);
		const points = Array.from({ length: out.count }, (_, i) =>
			[...out.points.subarray(3 * i, 3 * i + 3)].map((v) => Number(v.toFixed(9)) + 0),
		);
		return { radius: out.radius, points };
	};

	it('is a corner, an edge or a face of a box, for a centre that is given', () => {
		const make = box(2, 4, 6);
		expect(feature(make, [0.6, 0.8, 0])).toEqual({
			radius: 0,
			points: [
				[11, 22, 27],
				[11, 22, 33],
			],
		});
		expect(feature(make, [-0.48, -0.64, 0.6]).points).toEqual([[9, 18, 33]]);
		expect(feature(make, [0, 0, -1]).points).toEqual([
			[9, 18, 27],
			[9, 22, 27],
			[11, 18, 27],
			[11, 22, 27],
		]);
		// What differs by no more than the level is as far.
		expect(feature(make, [0.01, 0, 1], 0.02).points).toHaveLength(4);
		expect(feature(make, [0.01, 0, 1], 0.0199).points).toHaveLength(2);
		// A rectangle has one corner where a box has two.
		expect(feature(box(2, 4, 0), [1, 0, 0]).points).toEqual([
			[11, 18, 30],
			[11, 22, 30],
		]);
	});

	it('is a point or a segment of what is round, out by its radius, and a cap with its radius', () => {
		expect(feature(ball(2), [0, 1, 0])).toEqual({ radius: 0, points: [[10, 22, 30]] });
		expect(feature(() => capsuleBody(1, 6), [1, 0, 0]).points).toEqual([
			[11, 18, 30],
			[11, 22, 30],
		]);
		expect(feature(() => capsuleBody(1, 6), [0, -1, 0]).points).toEqual([[10, 17, 30]]);
		expect(feature(() => cylinderBody(2, 6), [0, 1, 0])).toEqual({ radius: 2, points: [[10, 23, 30]] });
		expect(feature(() => cylinderBody(2, 6), [0, -1, 0])).toEqual({ radius: 2, points: [[10, 17, 30]] });
		expect(feature(() => cylinderBody(2, 6), [0.6, 0, -0.8])).toEqual({
			radius: 0,
			points: [
				[11.2, 17, 28.4],
				[11.2, 23, 28.4],
			],
		});
		expect(feature(() => cylinderBody(2, 6), [0.48, 0.6, -0.64])).toEqual({ radius: 0, points: [[11.2, 23, 28.4]] });
	});

	it('of a hull holds all corners that are level, however many', () => {
		expect(feature(wedge, [0, 0, 1]).points).toEqual([[10, 20, 33]]);
		expect(feature(wedge, [0, 0, -1]).points).toHaveLength(3);
		const round = Array.from({ length: 40 }, (_, i) => [
			Math.cos((i * Math.PI) / 20),
			Math.sin((i * Math.PI) / 20),
			0,
		]).flat();
		const cone = () => hullBody(buildHull([...round, 0, 0, 2] as never) as Hull);
		const level = feature(cone, [0, 0, -1]).points as V[];
		expect(level).toHaveLength(40);
		for (const [x, y, z] of level) {
			expect(Math.hypot(x - 10, y - 20)).toBeCloseTo(1, 8);
			expect(z).toBe(30);
		}
	});
});

describe('what is told beside the distance', () => {
	it('is the point by the gap alone, in the world, and that of the last step', () => {
		for (const [at, turn] of FRAMES) {
			const m = rotationOf(turn);
			const world = (v: V) => turned(m, ...v).map((c, k) => c + at[k]) as V;
			const ballThere = sphereBody(1).place(...world([9, 1.2, 0]), m);
			const other = sphereBody(1).place(...world([0, 0, 0]), m);
			expect(castSweep(ballThere, ...(turned(m, -1, 0, 0) as V), 20, other)).toBeCloseTo(9 - 1.6, 9);
			const point = world([0.8, 0.6, 0]);
			const told = [contact.x, contact.y, contact.z];
			for (let k = 0; k < 3; k++) {
				expect(told[k]).toBeCloseTo(point[k], 7);
				expect(witness[k]).toBeCloseTo(point[k], 7);
			}
			// Nearly past it: the slowest of touches.
			const grazing = sphereBody(1).place(...world([9, 1.9999999, 0]), m);
			const t = castSweep(grazing, ...(turned(m, -1, 0, 0) as V), 20, other);
			expect(t).toBeCloseTo(9 - Math.sqrt(4 - 1.9999999 ** 2), 5);
		}
	});
});
