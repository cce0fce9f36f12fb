/** Every shape asked by every kind of query, with distances worked out by hand; and values at the ends of what is allowed. */
import { describe, expect, it } from 'vitest';
import type { Shape } from '../project/schema';
import { ahead, answerTo, ball, box, object, verdict } from '../tests/scene';

/** Each with its front half a metre before its middle, on the axis. */
const SPACE: Record<string, Shape> = {
	box: { id: 's', kind: 'box', size: [1, 1, 1] },
	sphere: { id: 's', kind: 'sphere', radius: 0.5 },
	capsule: { id: 's', kind: 'capsule', radius: 0.5, height: 2 },
	cylinder: { id: 's', kind: 'cylinder', radius: 0.5, height: 1 },
	hull: {
		id: 's',
		kind: 'hull',
		points: [
			[-1, -1, -0.5],
			[1, -1, -0.5],
			[0, 1, -0.5],
			[-1, -1, 0.5],
			[1, -1, 0.5],
			[0, 1, 0.5],
		],
	},
	mesh: { id: 's', kind: 'mesh', vertices: [-2, -2, 0.5, 2, -2, 0.5, 0, 3, 0.5], triangles: [0, 1, 2] },
};
const FLAT: Record<string, Shape> = {
	rect: { id: 's', kind: 'rect', size: [1, 1] },
	circle: { id: 's', kind: 'circle', radius: 0.5 },
	capsule: { id: 's', kind: 'capsule', radius: 0.5, height: 2 },
	polygon: {
		id: 's',
		kind: 'polygon',
		points: [
			[-0.5, -1],
			[-0.5, 1],
			[0.5, 0],
		],
	},
};

describe.each(Object.entries(SPACE))('%s in space', (_name, shape) => {
	const it3 = [object('it', [0, 0, -3], [shape])];

	it('is met by a ray, a pick and a sweep', () => {
		const ray = answerTo(ahead(), it3).selected[0];
		expect(ray?.distance).toBeCloseTo(2.5, 9);
		expect(ray?.point[2]).toBeCloseTo(-2.5, 9);
		expect(ray?.normal?.[2]).toBeCloseTo(1, 9);
		expect(
			answerTo({ id: 'q', kind: 'pick', camera: 'eye', viewport: [100, 100] }, it3).selected[0]?.distance,
		).toBeCloseTo(2.5, 9);
		for (const [moving, distance] of [
			[{ kind: 'sphere', radius: 0.25 }, 2.25],
			[{ kind: 'box', size: [0.2, 0.2, 0.6] }, 2.2],
			[{ kind: 'capsule', radius: 0.1, height: 0.6 }, 2.4],
		] as const) {
			const sweep = answerTo({ ...ahead(), kind: 'sweep', shape: moving }, it3).selected[0];
			expect(sweep?.distance, moving.kind).toBeCloseTo(distance, 7);
			expect(sweep?.point[2], moving.kind).toBeCloseTo(-2.5, 6);
			expect(sweep?.point[0], moving.kind).toBeCloseTo(0, 6);
		}
	});

	it('is met by volumes that reach it, and missed by the rest of the way', () => {
		const volume = (shape: object) => answerTo({ id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape }, it3);
		for (const [shape, reach] of [
			[{ kind: 'sphere', radius: 2.4 }, 2.4],
			[{ kind: 'box', size: [0.2, 0.2, 4] }, 2],
			[{ kind: 'capsule', radius: 2.3, height: 4.6 }, 2.3],
			[{ kind: 'cylinder', radius: 2.2, height: 0.1 }, 2.2],
			[
				{
					kind: 'hull',
					points: [
						[-0.1, 0, 0],
						[0.1, 0, 0],
						[0, 0.1, 0],
						[0, 0, -2],
					],
				},
				2,
			],
		] as const) {
			const missed = volume(shape);
			expect(missed.status, shape.kind).toBe('none');
			expect(verdict(missed, 'it').margin, shape.kind).toBeCloseTo(2.5 - reach, 6);
		}
		const met = volume({ kind: 'sphere', radius: 2.6 }).selected[0];
		expect(met?.distance).toBeCloseTo(2.5, 9);
		expect(met?.normal).toBeNull();
		const asker = object('me', [0, 0, 0], []);
		const swing = {
			id: 'q',
			kind: 'hitbox',
			asker: 'me',
			boxes: [{ shape: { kind: 'box', size: [1, 1, 1] }, at: [0, 0, -2.1] }],
		};
		expect(answerTo(swing, [asker, ...it3]).selected[0]).toMatchObject({ object: 'it', box: 0 });
	});

	it('stops a query, and is a model for a volume', () => {
		const behind = object('behind', [0, 0, -6], [box([1, 1, 1])], { layer: 'b' });
		const blocked = answerTo(ahead({ selects: { layers: ['b'] }, sight: { blockers: ['a'] } }), [...it3, behind]);
		expect(verdict(blocked, 'behind')).toMatchObject({ stage: 'sight', by: 'it' });
		expect(verdict(blocked, 'behind').margin).toBeCloseTo(3, 9);
		// A copy of it set down two metres before a ball: half a metre of it, half a metre of the ball between.
		const target = object('target', [0, 0, 2], [ball(0.5)], { layer: 'b' });
		const placed = answerTo(
			{ id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { like: 'it' }, selects: { layers: ['b'] } },
			[...it3, target],
		);
		expect(verdict(placed, 'target').margin).toBeCloseTo(1, 6);
		const grown = answerTo(
			{
				id: 'q',
				kind: 'overlap',
				at: { point: [0, 0, 0] },
				shape: { like: 'it', grow: 1.01 },
				selects: { layers: ['b'] },
			},
			[...it3, target],
		);
		expect(grown.selected[0]?.object).toBe('target');
	});
});

describe.each(Object.entries(FLAT))('%s in a flat scene', (_name, shape) => {
	const flat = { kind: 'flat' as const };
	const it2 = [object('it', [3, 0, 1], [shape])];
	const right = (more: object = {}) => ({
		id: 'q',
		kind: 'ray',
		from: { point: [0, 0, 0] },
		aim: { along: [1, 0, 0] },
		length: 20,
		...more,
	});

	it('is met by rays, sweeps, volumes and the cursor', () => {
		expect(answerTo(right(), it2, flat).selected[0]?.distance).toBeCloseTo(2.5, 9);
		for (const [moving, reach] of [
			[{ kind: 'circle', radius: 0.25 }, 0.25],
			[{ kind: 'rect', size: [0.6, 0.2] }, 0.3],
			[{ kind: 'capsule', radius: 0.1, height: 0.4 }, 0.1],
		] as const)
			expect(
				answerTo(right({ kind: 'sweep', shape: moving }), it2, flat).selected[0]?.distance,
				moving.kind,
			).toBeCloseTo(2.5 - reach, 7);
		const near = answerTo(
			{ id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'circle', radius: 2 } },
			it2,
			flat,
		);
		expect(verdict(near, 'it').margin).toBeCloseTo(0.5, 9);
		// The camera is ten metres up and shows ten metres: the figure's middle is at 80, 50 of 100 pixels.
		const pick = (cursor: [number, number]) =>
			answerTo({ id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100], cursor }, it2, flat);
		expect(pick([80, 50]).selected[0]?.distance).toBeCloseTo(9, 12);
		expect(verdict(pick([70, 50]), 'it').margin).toBeCloseTo(0.5, 9);
	});
});

describe('values at the ends', () => {
	const near = object('near', [0, 0, -3], [box([1, 1, 1])]);

	it('a range of nothing holds only what is at the start', () => {
		expect(verdict(answerTo(ahead({ range: { max: 0 } }), [near]), 'near').margin).toBe(2.5);
		const around = object('around', [0, 0, 0], [box([1, 1, 1])]);
		expect(answerTo(ahead({ range: { max: 0 }, startInside: 'count' }), [around]).selected[0]?.object).toBe('around');
		expect(answerTo(ahead({ length: 0 }), [near]).status).toBe('none');
	});

	it('a cursor outside the picture still aims', () => {
		// 100 px to the left of a picture 100 px wide at 90°: a slope of three.
		const left = object('left', [-9, 0, -3], [box([1, 1, 1])]);
		expect(
			answerTo({ id: 'q', kind: 'pick', camera: 'eye', viewport: [100, 100], cursor: [-100, 50] }, [left]).selected[0]
				?.object,
		).toBe('left');
	});

	it('an empty scene, and one of a hundred kilometres and a millimetre, answer', () => {
		expect(answerTo(ahead(), [])).toMatchObject({ status: 'none', selected: [], verdicts: [] });
		const huge = object('huge', [0, 0, -60_000], [box([10_000, 10_000, 10_000])]);
		const tiny = object('tiny', [0, 0, -54_999], [box([0.001, 0.001, 0.001])]);
		const answer = answerTo(ahead({ length: 1e6 }), [huge, tiny]);
		expect(answer.selected[0]?.object).toBe('tiny');
		expect(answer.selected[0]?.distance).toBeCloseTo(54_998.9995, 7);
		expect(verdict(answer, 'huge').margin).toBeCloseTo(1.0005, 7);
	});

	it('an eye inside an object looks out of it', () => {
		const shell = object('shell', [0, 0, 0], [ball(1)]);
		const answer = answerTo(
			{ id: 'q', kind: 'pick', camera: 'eye', viewport: [100, 100], sight: { blockers: 'all' } },
			[shell, near],
		);
		expect(answer.selected[0]?.object).toBe('near');
		expect(answer.notes).toEqual([{ code: 'starts-inside', object: 'shell' }]);
	});

	it('focus and apex in one place are straight ahead', () => {
		const here = object('here', [0, 0, 0], [ball(0.5)]);
		const seen = answerTo(
			{
				id: 'q',
				kind: 'overlap',
				at: { point: [0, 0, 0] },
				shape: { kind: 'sphere', radius: 1 },
				view: { within: 0, about: { along: [0, 0, -1] } },
			},
			[here],
		);
		expect(seen.selected[0]).toMatchObject({ object: 'here', distance: 0 });
		// Straight up has no heading once height is left out.
		const up = answerTo(ahead({ aim: { along: [0, 1, 0] }, view: { within: 10, flat: true } }), [here]);
		expect(up).toMatchObject({ status: 'waiting', notes: [{ code: 'zero-direction' }] });
	});
});
