/** What lies along a path, for drawings, and what a pointer is on. */
import { describe, expect, it } from 'vitest';
import type { Query, SceneObject, Shape } from '../project/schema';
import { ahead, ball, box, disc, object, project, rect } from '../tests/scene';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { crossingsOf, surfaceUnder } from './crossings';
import { filtersOf } from './filters';
import { isNote, placementOf } from './placement';

/** Each crossing as its object, where it begins and ends, and what it is to the query. */
function crossings(objects: SceneObject[], query: object, more: object = {}) {
	const world = buildWorld(project(objects, [query], more));
	const q = world.queries[0] as Query;
	const asker = q.asker === undefined ? null : (world.objectById.get(q.asker) ?? null);
	const placement = placementOf({ world, query: q, asker, hitOf: new Answerer(world).hitOf });
	if (isNote(placement)) throw new Error('waiting');
	return crossingsOf(filtersOf(world, q), placement).map((c) => [
		`${c.shape.object.id}/${c.shape.id}`,
		Number(c.enter.toFixed(6)),
		Number(c.exit.toFixed(6)),
		`${c.eligible ? 'chooses ' : ''}${c.blocker ? 'blocks ' : ''}${c.startsInside ? 'inside' : ''}`.trim(),
	]);
}
const cube = (id: string, z: number, more: Partial<SceneObject> = {}, shape: object = {}) =>
	object(id, [0, 0, z], [box([1, 1, 1], shape)], more);
const sheet = { id: 'sheet', kind: 'mesh', vertices: [-1, -1, 0, 1, -1, 0, 0, 2, 0], triangles: [0, 1, 2] } as Shape;

describe('the crossings of a path', () => {
	it('are nearest first, each from where it is entered to where it is left, or the path ends', () => {
		expect(
			crossings([cube('far', -6), cube('near', -3), object('ball', [0, 0, -10], [ball(2)])], ahead({ length: 9 })),
		).toEqual([
			['near/box', 2.5, 3.5, 'chooses'],
			['far/box', 5.5, 6.5, 'chooses'],
			['ball/ball', 8, 9, 'chooses'],
		]);
		// Of two that begin together the first in the file.
		expect(crossings([cube('b', -3), cube('a', -3)], ahead()).map(([id]) => id)).toEqual(['b/box', 'a/box']);
		// A surface has no inside.
		expect(crossings([object('mesh', [0, 0, -3], [sheet])], ahead())).toEqual([['mesh/sheet', 3, 3, 'chooses']]);
		expect(crossings([cube('beside', -3, { position: [3, 0, -3] }), cube('past', -30)], ahead())).toEqual([]);
	});

	it('begin at 0 in what holds the start', () => {
		expect(crossings([cube('around', 0)], ahead())).toEqual([['around/box', 0, 0.5, 'chooses inside']]);
	});

	it('tell what can be chosen, what stops the query, and leave out what is neither', () => {
		const query = ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } });
		expect(
			crossings(
				[
					cube('thing', -2),
					cube('wall', -4, { layer: 'wall' }),
					cube('other', -6, { layer: 'b' }),
					cube('off', -8, { active: false }),
					cube('sensor', -10, {}, { role: 'sensor' }),
					cube('both', -12, {}, { layer: 'wall' }),
				],
				query,
			),
		).toEqual([
			['thing/box', 1.5, 2.5, 'chooses'],
			['wall/box', 3.5, 4.5, 'blocks'],
			['sensor/box', 9.5, 10.5, 'chooses'],
			['both/box', 11.5, 12.5, 'blocks'],
		]);
		const ignoring = ahead({
			ignore: ['thing'],
			selects: { layers: ['a', 'wall'] },
			sight: { blockers: ['wall', 'a'] },
		});
		expect(crossings([cube('thing', -2), cube('wall', -4, { layer: 'wall' })], ignoring).map(([id]) => id)).toEqual([
			'wall/box',
		]);
	});

	it('of a thing that is moved are where it touches, at whatever place beside the line', () => {
		const sweep = {
			id: 'q',
			kind: 'sweep',
			from: { point: [0, 0, 0] },
			aim: { along: [0, 0, -1] },
			length: 20,
			shape: { kind: 'sphere', radius: 1 },
		};
		expect(
			crossings(
				[
					cube('thing', -5),
					cube('beside', -8, { position: [1.4, 0, -8] }),
					cube('past', -9, { position: [1.6, 0, -9] }),
				],
				sweep,
			),
		).toEqual([
			['thing/box', 3.5, 3.5, 'chooses'],
			[
				'beside/box',
				Number((8 - 0.5 - Math.sqrt(1 - 0.81)).toFixed(6)),
				Number((8 - 0.5 - Math.sqrt(1 - 0.81)).toFixed(6)),
				'chooses',
			],
		]);
		const high = { ...sweep, shape: { kind: 'box', size: [0.2, 4, 0.2] } };
		expect(
			crossings([cube('above', -5, { position: [0, 2.4, -5] }), cube('wide', -5, { position: [1, 0, -5] })], high).map(
				([id]) => id,
			),
		).toEqual(['above/box']);
		const wide = { ...sweep, shape: { kind: 'box', size: [4, 0.2, 0.2] } };
		expect(
			crossings(
				[cube('above', -5, { position: [0, 2.4, -5] }), cube('wide', -5, { position: [2.4, 0, -5] })],
				wide,
			).map(([id]) => id),
		).toEqual(['wide/box']);
	});

	it('of a pick in a flat scene are what lies at the cursor, uppermost first', () => {
		const pick = { id: 'q', kind: 'pick', camera: 'above', cursor: [320, 180], viewport: [640, 360] };
		const things = [
			object('low', [0, 0, 1], [rect([2, 2])]),
			object('high', [0, 0, 3], [disc(1)]),
			object('beside', [3, 0, 2], [disc(1)]),
		];
		expect(crossings(things, pick, { kind: 'flat' }).map(([id]) => id)).toEqual(['high/disc', 'low/rect']);
		const [high] = crossings(things, pick, { kind: 'flat' });
		expect(high?.[1]).toBe(high?.[2]);
	});

	it('are found among many things, wherever the path begins', () => {
		// More than are looked through one by one, on all sides.
		const crowd = Array.from({ length: 60 }, (_, i) =>
			object(`aside-${i}`, [60 * Math.cos(i), 20 * Math.sin(3 * i), 60 * Math.sin(i)], [ball(0.5)]),
		);
		const sweep = (shape: object) => ({
			id: 'q',
			kind: 'sweep',
			from: { point: [7, -4, 9] },
			aim: { along: [0, 0, -1] },
			length: 20,
			shape,
		});
		const things = [
			object('above', [7, -1.6, 0], [box([1, 1, 1])]),
			object('wide', [9.4, -4, 0], [box([1, 1, 1])]),
			object('straight', [7, -4, -5], [box([1, 1, 1])]),
			...crowd,
		];
		expect(crossings(things, sweep({ kind: 'box', size: [0.2, 4, 0.2] })).map(([id]) => id)).toEqual([
			'above/box',
			'straight/box',
		]);
		expect(crossings(things, sweep({ kind: 'box', size: [4, 0.2, 0.2] })).map(([id]) => id)).toEqual([
			'wide/box',
			'straight/box',
		]);
		expect(crossings(things, sweep({ kind: 'sphere', radius: 0.1 })).map(([id]) => id)).toEqual(['straight/box']);
		// From within something long, deep behind where it begins.
		const long = { ...sweep({ kind: 'box', size: [0.2, 0.2, 8] }), length: 0.5 };
		expect(crossings([object('behind', [7, -4, 12.4], [box([1, 1, 1])]), ...crowd], long).map(([id]) => id)).toEqual([
			'behind/box',
		]);
		const figures = Array.from({ length: 60 }, (_, i) =>
			object(`f-${i}`, [3 * Math.cos(i), 3 * Math.sin(i), i], [disc(0.2)]),
		);
		const pick = { id: 'q', kind: 'pick', camera: 'above', cursor: [356, 108], viewport: [640, 360] };
		expect(
			crossings([object('there', [1, 2, 4], [disc(0.3)]), ...figures], pick, { kind: 'flat' }).map(([id]) => id),
		).toEqual(['there/disc']);
	});

	it('are none of a volume', () => {
		const overlap = { id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 9 } };
		expect(crossings([cube('thing', -3)], overlap)).toEqual([]);
	});
});

describe('what a pointer is on', () => {
	const none = () => false;

	it('is the nearest surface, past what holds the start and what is to be skipped', () => {
		const world = buildWorld(
			project(
				[cube('far', -9, { layer: 'b' }, { role: 'sensor' }), cube('near', -3, { active: false }), cube('around', 0)],
				[],
			),
		);
		const under = (skip = (_: string) => false) =>
			surfaceUnder(world, [0.1, 0.2, 0], [0, 0, -1], (s) => skip(s.object.id));
		expect(under()?.shape.object.id).toBe('near');
		expect(under()?.point.map((v) => Number(v.toFixed(9)))).toEqual([0.1, 0.2, -2.5]);
		expect(under()?.normal).toEqual([0, 0, 1]);
		expect(under((id) => id === 'near')?.shape.object.id).toBe('far');
		expect(under((id) => id !== 'around')).toBeNull();
		expect(surfaceUnder(world, [0, 0, 0], [0, 1, 0], none)).toBeNull();
		// Asked in whatever order they lie in the file.
		const turned = buildWorld(project([cube('near', -3), cube('far', -9)], []));
		expect(surfaceUnder(turned, [0, 0, 0], [0, 0, -1], none)?.shape.object.id).toBe('near');
		expect(surfaceUnder(turned, [0, 0, -20], [0, 0, 1], none)?.shape.object.id).toBe('far');
	});

	it('of a flat scene is the figure whose depth the ray meets first, wherever piles are shown', () => {
		const world = buildWorld(
			project([object('low', [0, 0, 1], [rect([2, 2])]), object('high', [0, 0, 3], [disc(1)])], [], { kind: 'flat' }),
		);
		const straight = surfaceUnder(world, [0.1, 0.2, 10], [0, 0, -1], none);
		expect(straight).toMatchObject({ point: [0.1, 0.2, 3], normal: [0, 0, 1] });
		expect(straight?.shape.object.id).toBe('high');
		expect(surfaceUnder(world, [0.1, 0.2, 10], [0, 0, -1], (s) => s.object.id === 'high')?.shape.object.id).toBe('low');
		// From below the lower is nearer; the other way nothing.
		expect(surfaceUnder(world, [0, 0, -5], [0, 0, 1], none)?.shape.object.id).toBe('low');
		expect(surfaceUnder(world, [0, 0, 10], [0, 0, 1], none)).toBeNull();
		expect(surfaceUnder(world, [0, 0, 10], [1, 0, 0], none)).toBeNull();
		// Slantwise it is met where it crosses its own depth: at x = 5 − 7 and at x = 5 − 9.
		const h = Math.SQRT1_2;
		expect(surfaceUnder(world, [7.5, 0, 10], [-h, 0, -h], none)?.shape.object.id).toBe('high');
		expect(surfaceUnder(world, [8.5, 0, 10], [-h, 0, -h], none)?.shape.object.id).toBe('low');
		expect(surfaceUnder(world, [11, 0, 10], [-h, 0, -h], none)).toBeNull();
		expect(surfaceUnder(world, [0, 7.5, 10], [0, -h, -h], none)?.shape.object.id).toBe('high');
		expect(surfaceUnder(world, [0, -8.5, 10], [0, h, -h], none)?.point.map((v) => Number(v.toFixed(9)))).toEqual([
			0, 0.5, 1,
		]);
		// Pulled apart to ten times their depth.
		expect(surfaceUnder(world, [0, 0, 40], [0, 0, -1], none, (z) => 10 * z)?.point).toEqual([0, 0, 3]);
		expect(surfaceUnder(world, [0, 0, 20], [0, 0, -1], none, (z) => 10 * z)?.shape.object.id).toBe('low');
		// In the figure's own plane it is on it.
		expect(surfaceUnder(world, [0, 0, 3], [0, 0, -1], none)?.shape.object.id).toBe('high');
	});
});
