/** Bodies: sizes, corners, bounds, copies. */
import { describe, expect, it } from 'vitest';
import {
	BODY_SIZE,
	type Body,
	boundsOf,
	boxBody,
	capsuleBody,
	cylinderBody,
	hullBody,
	meshBody,
	sphereBody,
	support,
	sweptBoundsOf,
} from './body';
import { buildHull, type Hull } from './hull';
import { rotationOf, turned as turnedBy } from './matrix';

type V = readonly [number, number, number];
const out = new Float64Array(6);
const wedge = () => buildHull([0, 0, 0, 3, 0, 0, 0, 2, 0, 0, 0, 1] as never) as Hull;
const bounds = (body: Body, of = boundsOf) => {
	of(body, out);
	return [...out].map((v) => Number(v.toFixed(9)) + 0);
};
const farthest = (body: Body, d: V) => {
	const at = new Float64Array(5).fill(7);
	support(body, ...d, at, 1);
	expect([at[0], at[4]]).toEqual([7, 7]);
	return [...at.subarray(1, 4)].map((v) => Number(v.toFixed(9)) + 0);
};
const turned = (body: Body, x: number, y: number, z: number, turn: V = [0, 0, 0]) =>
	body.place(x, y, z, rotationOf(turn));

describe('sizes', () => {
	it('are halved where they are full ones, and make the ball around the body', () => {
		expect(sphereBody(2)).toMatchObject({ r: 2, boundingRadius: 2, hx: 0, hy: 0, hz: 0 });
		expect(boxBody(2, 4, 4)).toMatchObject({ r: 0, hx: 1, hy: 2, hz: 2, boundingRadius: 3 });
		expect(cylinderBody(3, 8)).toMatchObject({ r: 0, hx: 3, hy: 4, boundingRadius: 5 });
		expect(capsuleBody(1, 6)).toMatchObject({ r: 1, hy: 2, boundingRadius: 3 });
		expect(capsuleBody(1, 2)).toMatchObject({ r: 1, hy: 0, boundingRadius: 1 });
		// Never less than its diameter.
		expect(capsuleBody(1, 1)).toMatchObject({ r: 1, hy: 0, boundingRadius: 1 });
		expect(hullBody(wedge())).toMatchObject({ r: 0, boundingRadius: 3 });
	});

	it('are numbers from nothing on', () => {
		expect(() => sphereBody(0)).not.toThrow();
		for (const wrong of [-1e-9, Number.NaN]) {
			expect(() => sphereBody(wrong)).toThrow(`a size of ${wrong} m is none`);
			expect(() => capsuleBody(1, wrong)).toThrow(RangeError);
			expect(() => boxBody(1, 1, wrong)).toThrow(RangeError);
			expect(() => cylinderBody(wrong, 1)).toThrow(RangeError);
		}
	});
});

describe('the farthest corner', () => {
	it('is told from the centre, in world axes, without the rounding', () => {
		expect(farthest(turned(sphereBody(2), 5, 5, 5), [1, 0, 0])).toEqual([0, 0, 0]);
		expect(farthest(turned(capsuleBody(1, 6), 5, 5, 5), [1, 1, 0])).toEqual([0, 2, 0]);
		expect(farthest(capsuleBody(1, 6), [1, -1, 0])).toEqual([0, -2, 0]);
		expect(farthest(capsuleBody(1, 6), [1, 0, 0])).toEqual([0, 2, 0]);
		expect(farthest(boxBody(2, 4, 6), [1, 1, 1])).toEqual([1, 2, 3]);
		expect(farthest(boxBody(2, 4, 6), [-1, -1, -1])).toEqual([-1, -2, -3]);
		expect(farthest(boxBody(2, 4, 6), [0, 0, 0])).toEqual([1, 2, 3]);
		expect(farthest(cylinderBody(5, 4), [3, 1, -4])).toEqual([3, 2, -4]);
		expect(farthest(cylinderBody(5, 4), [0, -1, 0])).toEqual([0, -2, 0]);
		expect(farthest(hullBody(wedge()), [1, 1, 1])).toEqual([3, 0, 0]);
		expect(farthest(hullBody(wedge()), [0, 1, 0])).toEqual([0, 2, 0]);
		expect(farthest(hullBody(wedge()), [-1, -1, -1])).toEqual([0, 0, 0]);
	});

	it('turns with the body', () => {
		// A quarter turn about the vertical: what was ahead (−Z) is to the left (−X).
		expect(farthest(turned(boxBody(2, 4, 6), 0, 0, 0, [90, 0, 0]), [1, 1, 1])).toEqual([3, 2, 1]);
		expect(farthest(turned(hullBody(wedge()), 0, 0, 0, [90, 0, 0]), [0, 0, -1])).toEqual([0, 0, -3]);
		expect(farthest(turned(cylinderBody(1, 6), 0, 0, 0, [0, 0, 90]), [1, 0, 0])).toEqual([3, 0, 0]);
		expect(farthest(turned(capsuleBody(1, 6), 0, 0, 0, [0, 90, 0]), [0, 0, 1])).toEqual([0, 0, 2]);
	});

	it('is taken along by a sweep that goes that way', () => {
		const body = boxBody(2, 2, 2);
		[body.sx, body.sy, body.sz] = [10, 20, 30];
		expect(farthest(body, [1, 0, 0])).toEqual([11, 21, 31]);
		expect(farthest(body, [-1, 0, 0])).toEqual([-1, 1, 1]);
		// At right angles to it, where it stands.
		expect(farthest(body, [2, -1, 0])).toEqual([1, -1, 1]);
	});
});

describe('bounds', () => {
	it('hold each kind, turned and moved', () => {
		expect(bounds(turned(sphereBody(2), 1, 2, 3))).toEqual([-1, 0, 1, 3, 4, 5]);
		expect(bounds(turned(capsuleBody(1, 6), 1, 2, 3))).toEqual([0, -1, 2, 2, 5, 4]);
		expect(bounds(turned(capsuleBody(1, 6), 1, 2, 3, [0, 0, 90]))).toEqual([-2, 1, 2, 4, 3, 4]);
		expect(bounds(turned(capsuleBody(1, 6), 1, 2, 3, [0, 90, 0]))).toEqual([0, 1, 0, 2, 3, 6]);
		expect(bounds(turned(boxBody(2, 4, 6), 1, 2, 3))).toEqual([0, 0, 0, 2, 4, 6]);
		expect(bounds(turned(boxBody(2, 4, 6), 0, 0, 0, [90, 0, 0]))).toEqual([-3, -2, -1, 3, 2, 1]);
		expect(bounds(turned(cylinderBody(1, 6), 1, 2, 3))).toEqual([0, -1, 2, 2, 5, 4]);
		expect(bounds(turned(cylinderBody(1, 6), 0, 0, 0, [0, 0, 90]))).toEqual([-3, -1, -1, 3, 1, 1]);
		expect(bounds(turned(cylinderBody(1, 6), 0, 0, 0, [0, 90, 0]))).toEqual([-1, -1, -3, 1, 1, 3]);
		// Aslant the disc reaches its radius times the sine of its axis' angle.
		expect(bounds(turned(cylinderBody(5, 0), 0, 0, 0, [0, 0, 30]))[3]).toBeCloseTo(5 * Math.cos(Math.PI / 6), 8);
		expect(bounds(turned(hullBody(wedge()), 1, 2, 3))).toEqual([1, 2, 3, 4, 4, 4]);
		expect(bounds(turned(hullBody(wedge()), 0, 0, 0, [90, 0, 0]))).toEqual([0, 0, -3, 1, 2, 0]);
		const mesh = meshBody({ bounds: new Float64Array([0, 0, 0, 3, 2, 1]), boundingRadius: 3 });
		expect(bounds(turned(mesh, 1, 2, 3))).toEqual([1, 2, 3, 4, 4, 4]);
		expect(bounds(turned(mesh, 0, 0, 0, [0, 0, 90]))).toEqual([-2, 0, 0, 0, 3, 1]);
	});

	it('of a hull and a mesh that fill theirs are those of their corners, however they are turned', () => {
		const corners = [1, 3].flatMap((x) =>
			[-4, -2].flatMap((y) => [2, 7].map((z): [number, number, number] => [x, y, z])),
		);
		const hull = buildHull(corners.flat()) as Hull;
		for (const turn of [
			[30, -40, 75],
			[-110, 20, 5],
		] as const) {
			const m = rotationOf(turn);
			const there = corners.map((c) => turnedBy(m, ...c).map((v, k) => v + (k + 1)));
			const want = [Math.min, Math.max].flatMap((of) => [0, 1, 2].map((k) => of(...there.map((c) => c[k]))));
			for (const body of [hullBody(hull), meshBody({ bounds: hull.bounds, boundingRadius: hull.boundingRadius })]) {
				boundsOf(body.place(1, 2, 3, m), out);
				for (let k = 0; k < 6; k++) expect(out[k]).toBeCloseTo(want[k], 9);
			}
		}
	});

	it('of a sweep hold where it begins and where it ends', () => {
		const body = turned(sphereBody(1), 1, 1, 1);
		expect(bounds(body, sweptBoundsOf)).toEqual([0, 0, 0, 2, 2, 2]);
		[body.sx, body.sy, body.sz] = [5, -5, 0];
		expect(bounds(body, sweptBoundsOf)).toEqual([0, -5, 0, 7, 2, 2]);
		[body.sx, body.sy, body.sz] = [-5, 5, -5];
		expect(bounds(body, sweptBoundsOf)).toEqual([-5, 0, -5, 2, 7, 2]);
		expect(bounds(body)).toEqual([0, 0, 0, 2, 2, 2]);
		body.sz = 4;
		expect(bounds(body, sweptBoundsOf)[5]).toBe(6);
	});
});

describe('a body', () => {
	it('is copied whole, and then goes its own way', () => {
		const hull = turned(hullBody(wedge()), 1, 2, 3, [90, 0, 0]);
		[hull.sx, hull.sy, hull.sz] = [4, 5, 6];
		const copy = hull.clone();
		expect(copy.kind).toBe(hull.kind);
		expect(copy.hull).toBe(hull.hull);
		expect([...copy.data]).toEqual([...hull.data]);
		copy.place(9, 9, 9, rotationOf(undefined));
		expect([hull.x, hull.y, hull.z]).toEqual([1, 2, 3]);
		expect(hull.m[0]).toBe(0);
		const mesh = meshBody({ bounds: new Float64Array([0, 0, 0, 3, 2, 1]), boundingRadius: 3 });
		expect(mesh.clone().mesh).toBe(mesh.mesh);
	});

	it('lies in a list of many as its own number there, and is moved in it', () => {
		const all = new Float64Array(3 * BODY_SIZE);
		const body = turned(boxBody(2, 4, 6), 1, 2, 3, [90, 0, 0]);
		body.sz = 8;
		body.settle(all, 1);
		expect([...all.subarray(0, BODY_SIZE), ...all.subarray(2 * BODY_SIZE)].every((v) => v === 0)).toBe(true);
		expect([...all.subarray(BODY_SIZE, 2 * BODY_SIZE)]).toEqual([
			1,
			2,
			3,
			0,
			0,
			1,
			0,
			1,
			0,
			-1,
			0,
			0,
			1,
			2,
			3,
			0,
			body.boundingRadius,
			0,
			0,
			8,
		]);
		body.place(7, 8, 9, rotationOf(undefined));
		expect([...all.subarray(BODY_SIZE, BODY_SIZE + 6)]).toEqual([7, 8, 9, 1, 0, 0]);
		body.r = 0.5;
		expect(all[BODY_SIZE + 15]).toBe(0.5);
	});
});
