/** Touch at its edges, and its first looks held against plain formulas. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Project, Query } from '../project/schema';
import { runs } from '../tests/runs';
import { ahead, answerTo, ask, ball, box, object, project, rect, verdict } from '../tests/scene';

const coordinate = fc.double({ min: -6, max: 6, noNaN: true });
const place = fc.tuple(coordinate, coordinate, coordinate);
const ids = (p: Project) => ask(p).selected.map((s) => s.object);

describe('a flat pick', () => {
	const at = (cursor: [number, number], more: object = {}) => ({
		id: 'q',
		kind: 'pick',
		camera: 'above',
		viewport: [100, 100],
		cursor,
		...more,
	});
	const flat = { kind: 'flat' as const };
	// The picture is 10 m high: a pixel is 0.1 m, and its middle is the origin.
	const card = (id: string, z: number, more: object = {}) => object(id, [0, 0, z], [rect([2, 2])], more);

	it('lies in a figure up to its very edge', () => {
		for (const [cursor, hit] of [
			[[60, 50], true],
			[[40, 50], true],
			[[50, 60], true],
			[[50, 40], true],
			[[60.01, 50], false],
			[[39.99, 50], false],
			[[50, 60.01], false],
			[[50, 39.99], false],
		] as const)
			expect([cursor, answerTo(at([...cursor]), [card('card', 1)], flat).status]).toEqual([
				cursor,
				hit ? 'selected' : 'none',
			]);
	});

	it('meets what lies between the camera and its length, ends included', () => {
		// The camera is at Z 10.
		for (const [z, length, hit] of [
			[4, 6, true],
			[4, 5.999, false],
			[9.9, 6, true],
			[10.001, 6, false],
		] as const)
			expect([z, answerTo(at([50, 50], { length }), [card('card', z)], flat).status]).toEqual([
				z,
				hit ? 'selected' : 'none',
			]);
		expect(verdict(answerTo(at([50, 50], { length: 5 }), [card('card', 4)], flat), 'card')).toMatchObject({
			stage: 'touch',
			margin: expect.closeTo(1, 9),
			beyond: expect.closeTo(1, 9),
		});
		expect(verdict(answerTo(at([50, 50]), [card('card', 10.5)], flat), 'card').margin).toBeCloseTo(0.5, 9);
		expect(verdict(answerTo(at([75, 50]), [card('card', 9)], flat), 'card').margin).toBeCloseTo(1.5, 9);
	});

	it('skips what lies at the camera itself, or counts it at no distance', () => {
		const skipped = answerTo(at([50, 50]), [card('card', 10), card('under', 3)], flat);
		expect(skipped.selected.map((s) => s.object)).toEqual(['under']);
		expect(skipped.notes).toEqual([{ code: 'starts-inside', object: 'card' }]);
		expect(verdict(skipped, 'card').margin).toBe(0);
		const counted = answerTo(at([50, 50], { startInside: 'count' }), [card('card', 10), card('under', 3)], flat);
		expect(counted.selected[0]).toMatchObject({ object: 'card', distance: 0, point: [0, 0, 10], normal: [0, 0, 1] });
		expect(counted.notes).toEqual([]);
		const beside = answerTo(at([60.1, 50]), [card('card', 10)], flat);
		expect(beside.notes).toEqual([]);
	});

	it('takes the first figure in the file of two of one object, both at its depth', () => {
		const two = object('two', [0, 0, 1], [rect([2, 2], { id: 'first' }), rect([1, 1], { id: 'second' })]);
		expect(answerTo(at([50, 50]), [two], flat).selected[0]?.shape).toBe('first');
	});
});

describe('the boxes of a hitbox', () => {
	const swing = (boxes: object[], more: object = {}) => ({ id: 'q', kind: 'hitbox', asker: 'me', boxes, ...more });
	const window = (from: number, until: number, x = 0): object => ({
		shape: { kind: 'box', size: [1, 1, 1] },
		at: [x, 0, -1],
		from,
		until,
	});
	const me = object('me', [0, 0, 0], [ball(0.1)]);
	const it1 = (boxes: object[], shapes = [ball(0.4)]) =>
		answerTo(swing(boxes), [me, object('it', [0, 0, -1], shapes)]).selected[0]?.box;

	it('name the one that opens first of those that touch, and of two that open at once the first in the file', () => {
		expect(it1([window(0.2, 0.3), window(0.1, 0.3)])).toBe(1);
		expect(it1([window(0.1, 0.3), window(0.2, 0.3)])).toBe(0);
		expect(it1([window(0.1, 0.3), window(0.1, 0.2)])).toBe(0);
		// The first to open touches nothing.
		expect(it1([window(0, 0.3, 5), window(0.2, 0.3), window(0.1, 0.3)])).toBe(2);
	});

	it('do so over all shapes of an object', () => {
		const left = ball(0.2, { id: 'left', at: [-3, 0, 0] });
		const right = ball(0.2, { id: 'right', at: [3, 0, 0] });
		const at = (x: number, from: number) => window(from, 1, x);
		expect(it1([at(-3, 0.2), at(3, 0.1)], [left, right])).toBe(1);
		expect(it1([at(-3, 0.1), at(3, 0.2)], [left, right])).toBe(0);
		expect(it1([at(3, 0.1), at(-3, 0.1)], [left, right])).toBe(0);
		// Of one shape a later box in the file opens first, together with one that another shape met.
		const wide = ball(3.2, { id: 'wide' });
		const low = ball(0.2, { id: 'low', at: [9, 0, 0] });
		expect(it1([at(-3, 0.2), at(3, 0.1), at(9, 0.1)], [low, wide])).toBe(1);
	});
});

describe('aim assist', () => {
	const near = (id: string, position: [number, number, number]) => object(id, position, [], { focus: [0, 0, 0] });

	it('reaches just the foci a plain formula says, by angle and by distance, for any ray', () => {
		fc.assert(
			fc.property(
				fc.array(place, { minLength: 1, maxLength: 24 }),
				place,
				place,
				fc.double({ min: 0.5, max: 9, noNaN: true }),
				fc.constantFrom('angle', 'distance'),
				fc.double({ min: 0.05, max: 1, noNaN: true }),
				(places, start, way, length, by, part) => {
					const norm = Math.hypot(...way);
					fc.pre(norm > 0.1);
					const dir = way.map((v) => v / norm);
					const within = by === 'angle' ? 100 * part : 4 * part;
					const objects = places.map((p, i) => near(`o${i}`, p));
					const query = ahead({
						from: { point: start },
						aim: { along: way },
						length,
						assist: { by, within },
						choose: { take: 'all' },
					});
					const wanted = places.flatMap((p, i) => {
						const r = p.map((v, k) => v - start[k]);
						const t = r.reduce((s, v, k) => s + v * dir[k], 0);
						const beside = Math.hypot(...r.map((v, k) => v - t * dir[k]));
						const off = by === 'distance' ? beside : (Math.atan2(beside, t) * 180) / Math.PI;
						// On the edge either is right.
						for (const [v, edge] of [
							[t, 0],
							[t, length],
							[off, within],
						] as const)
							fc.pre(Math.abs(v - edge) > 1e-5);
						return t > 0 && t < length && off < within ? [`o${i}`] : [];
					});
					expect(ids(project(objects, [query])).sort()).toEqual(wanted.sort());
				},
			),
			{ numRuns: runs(400) },
		);
	});

	it('reaches just the foci within so many pixels of the cursor', () => {
		fc.assert(
			fc.property(
				fc.array(place, { minLength: 1, maxLength: 24 }),
				fc.tuple(fc.double({ min: 0, max: 200, noNaN: true }), fc.double({ min: 0, max: 100, noNaN: true })),
				fc.double({ min: 1, max: 80, noNaN: true }),
				(places, cursor, within) => {
					const query = {
						id: 'q',
						kind: 'pick',
						camera: 'eye',
						viewport: [200, 100],
						cursor,
						length: 7,
						assist: { by: 'pixels', within },
						choose: { take: 'all' },
					} as unknown as Query;
					// An opening of 90°: half of the height, 50 px, is the tangent 1.
					const way = [(cursor[0] - 100) / 50, -(cursor[1] - 50) / 50, -1];
					const norm = Math.hypot(...way);
					const seen = places.map(([x, y, z]) => ({
						z,
						t: (x * way[0] + y * way[1] + z * way[2]) / norm,
						far: Math.hypot(100 + (50 * x) / -z - cursor[0], 50 - (50 * y) / -z - cursor[1]),
					}));
					// On an edge either is right.
					const sure = places.flatMap((p, i) => {
						const { z, t, far } = seen[i];
						return [t, t - 7, 100 * z, far - within].every((v) => Math.abs(v) > 1e-4) ? [{ p, i }] : [];
					});
					const wanted = sure.flatMap(({ i }) => {
						const { z, t, far } = seen[i];
						return z < 0 && t > 0 && t < 7 && far < within ? [`o${i}`] : [];
					});
					const objects = sure.map(({ p, i }) => near(`o${i}`, p));
					expect(ids(project(objects, [query])).sort()).toEqual(wanted.sort());
				},
			),
			{ numRuns: runs(400) },
		);
	});

	it('reaches a focus at the start and at the very end, and none past either', () => {
		const query = (more: object = {}) =>
			ahead({ length: 5, assist: { by: 'angle', within: 4 }, choose: { take: 'all' }, ...more });
		const hit = (z: number, q = query()) => answerTo(q, [near('it', [0, 0, z])]).status === 'selected';
		expect(hit(0)).toBe(true);
		expect(hit(0.001)).toBe(false);
		expect(hit(-5)).toBe(true);
		expect(hit(-5.001)).toBe(false);
		// A right angle has no tangent: whatever lies ahead is within it.
		expect(answerTo(query({ assist: { by: 'angle', within: 90 } }), [near('it', [4, 0, -0.1])]).status).toBe(
			'selected',
		);
		expect(answerTo(query({ assist: { by: 'angle', within: 88 } }), [near('it', [4, 0, -0.1])]).status).toBe('none');
	});

	it('in a flat scene sees foci at Z = 0, but for a pick at their depth', () => {
		const flat = { kind: 'flat' as const };
		const ray = { ...ahead({ aim: { along: [1, 0, 0] }, length: 5, assist: { by: 'distance', within: 0.5 } }) };
		const answer = answerTo(ray, [near('it', [2, 0.3, 7])], flat);
		expect(answer.selected[0]).toMatchObject({ object: 'it', point: [2, 0.3, 0], assisted: true });
		const pick = {
			id: 'q',
			kind: 'pick',
			camera: 'above',
			viewport: [100, 100],
			cursor: [50, 50],
			assist: { by: 'pixels', within: 5 },
		};
		const picked = answerTo(pick, [near('it', [0.3, 0, 7])], flat);
		expect(picked.selected[0]).toMatchObject({ object: 'it', point: [0.3, 0, 7], distance: 3, assisted: true });
	});
});

describe('how far past its end', () => {
	const body = fc.record({
		at: place,
		size: fc.tuple(
			...([0, 1, 2].map(() => fc.double({ min: 0.1, max: 2, noNaN: true })) as [
				fc.Arbitrary<number>,
				fc.Arbitrary<number>,
				fc.Arbitrary<number>,
			]),
		),
		round: fc.boolean(),
		turn: fc.tuple(coordinate, coordinate, coordinate),
	});

	it('a ray or a swept body would touch an object is what a longer one touches it at', () => {
		fc.assert(
			fc.property(
				fc.array(body, { minLength: 1, maxLength: 8 }),
				place,
				place,
				fc.double({ min: 0, max: 6, noNaN: true }),
				fc.boolean(),
				(bodies, start, way, length, sweeps) => {
					fc.pre(Math.hypot(...way) > 0.1);
					const objects = bodies.map(({ at, size, round, turn }, i) =>
						object(`o${i}`, at, [round ? ball(size[0]) : box(size)], { rotation: turn.map((v) => 30 * v) as never }),
					);
					const query = (long: number) =>
						ahead({
							from: { point: start },
							aim: { along: way },
							length: long,
							choose: { take: 'all' },
							...(sweeps ? { kind: 'sweep', shape: { kind: 'box', size: [0.4, 0.7, 0.3] } } : {}),
						});
					const short = ask(project(objects, [query(length)]));
					const long = ask(project(objects, [query(60)]));
					for (const v of short.verdicts) {
						if (v.stage !== 'touch') continue;
						const reached = long.selected.find((s) => s.object === v.object);
						if (reached) expect(v.beyond).toBeCloseTo(reached.distance - length, 6);
						else expect(v.beyond).toBeUndefined();
					}
				},
			),
			{ numRuns: runs(300) },
		);
	});
});

it('two shapes of an object touched at one distance: the first in the file is its contact', () => {
	const twin = object('twin', [0, 0, -4], [ball(1, { id: 'first' }), ball(1, { id: 'second' })]);
	expect(answerTo(ahead(), [twin]).selected[0]?.shape).toBe('first');
	const volume = { id: 'q', kind: 'overlap', shape: { kind: 'sphere', radius: 9 }, at: { point: [0, 0, 0] } };
	expect(answerTo(volume, [twin]).selected[0]?.shape).toBe('first');
});

it('a contact so far out that its normal has lost its digits has one of unit length all the same', () => {
	for (const far of [1e5, 3e6, 9e6]) {
		const answer = answerTo(ahead({ from: { point: [far, far, far] }, aim: { along: [0.3, -0.2, -1] }, length: 1e3 }), [
			object('it', [far + 3, far - 2, far - 10], [ball(0.7)]),
		]);
		expect(answer.status).toBe('selected');
		expect(Math.hypot(...(answer.selected[0]?.normal ?? [0]))).toBeCloseTo(1, 9);
	}
});
