/** May it stand here: what is in the way and how deep, what bears it, and what checks make of that. */
import { describe, expect, it } from 'vitest';
import { readProject } from '../project/read';
import type { Check, OverlapQuery, Project, SceneObject } from '../project/schema';
import { Answerer } from '../query/answer';
import { isNote, placementOf } from '../query/placement';
import { spotOf } from '../query/room';
import { buildWorld } from '../world/world';
import { runChecks } from './check';
import { keptOf, updatedExpectation } from './expect';

const object = (id: string, layer: string, more: Partial<SceneObject> = {}): SceneObject => ({ id, layer, ...more });
const box = (x: number, y: number, z: number) => [{ id: 's', kind: 'box' as const, size: [x, y, z] as const }];

const scene = (objects: SceneObject[], query: Partial<OverlapQuery>, more: Partial<Project> = {}): Project => ({
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: {
		kind: 'space',
		layers: [{ id: 'floor' }, { id: 'things' }],
		tags: [],
		objects,
		cameras: [],
	},
	queries: [
		{
			id: 'q',
			kind: 'overlap',
			at: { point: [0, 0.5, 0] },
			shape: { kind: 'box', size: [1, 1, 1] },
			selects: { layers: ['things'] },
			choose: { take: 'all' },
			room: { on: { layers: ['floor'] } },
			...query,
		},
		{ id: 'none', kind: 'ray', from: { point: [0, 50, 0] }, aim: { along: [0, 1, 0] } },
	],
	...more,
});
const floor = object('floor', 'floor', { shapes: box(10, 1, 10), position: [0, -0.5, 0] });

function ask(project: Project) {
	const reading = readProject(JSON.stringify(project));
	if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
	const world = buildWorld(reading.project);
	return new Answerer(world).explain(world.queries[0] as OverlapQuery);
}

describe('what bears', () => {
	it('is met by the corners and the middle of the lower side', () => {
		expect(ask(scene([floor], {})).room).toEqual({ free: true, bears: 5, of: 5 });
		// As far above and below as is said.
		for (const [height, within, bears] of [
			[0.55, undefined, 5],
			[0.551, undefined, 0],
			[0.45, undefined, 5],
			[0.8, 0.3, 5],
			[0.6, 0, 0],
			[0.5, 0, 5],
		] as const)
			expect(
				ask(
					scene([floor], {
						at: { point: [0, height, 0] },
						room: { on: { layers: ['floor'], ...(within === undefined ? {} : { within }) } },
					}),
				).room?.bears,
			).toBe(bears);
		// Over the edge: the middle still is.
		expect(ask(scene([floor], { at: { point: [5, 0.5, 0] } })).room?.bears).toBe(3);
		expect(ask(scene([floor], { at: { point: [5.4, 0.5, 0] } })).room?.bears).toBe(2);
		expect(ask(scene([floor], { at: { point: [5.4, 0.5, 5.4] } })).room?.bears).toBe(1);
	});

	it('goes by the volume’s own axes, whatever it is made of', () => {
		// On its edge: the lower side stands aslant, and only what of it is near the floor is borne.
		const turned = ask(scene([floor], { at: { point: [0, Math.SQRT1_2, 0] }, rotation: [0, 0, 45] }));
		expect(turned.room?.bears).toBe(2);
		expect(
			ask(scene([floor], { shape: { kind: 'capsule', radius: 0.5, height: 2 }, at: { point: [0, 1, 0] } })).room?.bears,
		).toBe(5);
		const crate = object('crate', 'things', { shapes: box(1, 1, 1), position: [20, 0, 0], scale: [2, 1, 2] });
		const like = { shape: { like: 'crate' } };
		expect(ask(scene([floor, crate], { ...like, at: { point: [4.1, 0.5, 0] } })).room).toEqual({
			free: true,
			bears: 3,
			of: 5,
		});
		// Grown on every side.
		const high = { at: { point: [0, 0.75, 0] as const } };
		expect(ask(scene([floor, crate], { ...high, shape: { like: 'crate', grow: 0.2 } })).room?.bears).toBe(5);
		expect(ask(scene([floor, crate], { ...high, shape: { like: 'crate' } })).room?.bears).toBe(0);
		const empty = object('empty', 'things');
		expect(ask(scene([floor, empty], { shape: { like: 'empty' } })).room).toEqual({ free: true, bears: 0, of: 5 });
	});

	it('is solid, there, and not left out of the query', () => {
		const bears = (more: Partial<SceneObject>, query: Partial<OverlapQuery> = {}) =>
			ask(scene([{ ...floor, ...more }], query)).room?.bears;
		expect(bears({ shapes: [{ ...box(10, 1, 10)[0], role: 'sensor' } as never] })).toBe(0);
		expect(bears({ shapes: [{ ...box(10, 1, 10)[0], enabled: false } as never] })).toBe(0);
		expect(bears({ active: false })).toBe(0);
		expect(bears({ layer: 'things' }, { selects: { layers: ['floor'] } })).toBe(0);
		expect(bears({ layer: 'things' }, { selects: { layers: ['floor'] }, room: { on: { layers: 'all' } } })).toBe(5);
		expect(bears({}, { ignore: ['floor'] })).toBe(0);
	});

	it('is not asked for where nothing is said of it, and has three points in a plane', () => {
		expect(ask(scene([floor], { room: {} })).room).toEqual({ free: true });
		expect(ask(scene([floor], { enabled: false })).room).toBeUndefined();
		const { room: _, ...without } = scene([floor], {}).queries[0] as OverlapQuery;
		expect(ask({ ...scene([floor], {}), queries: [without as OverlapQuery] }).room).toBeUndefined();
		const flat = scene(
			[object('floor', 'floor', { shapes: [{ id: 's', kind: 'rect', size: [10, 1] }], position: [0, -0.5, 3] })],
			{
				shape: { kind: 'rect', size: [1, 1] },
				at: { point: [4.7, 0.5, 0] },
			},
		);
		flat.scene.kind = 'flat';
		expect(ask(flat).room).toEqual({ free: true, bears: 2, of: 3 });
	});
});

describe('what is in the way', () => {
	const crate = object('crate', 'things', { shapes: box(1, 1, 1), position: [0.7, 0.5, 0.1] });

	it('says how far the volume is to be moved to be rid of it', () => {
		const answer = ask(scene([floor, crate], {}));
		expect(answer.room).toEqual({ free: false, bears: 5, of: 5 });
		expect(answer.selected.map(({ object, depth }) => [object, depth?.toFixed(9)])).toEqual([['crate', '0.300000000']]);
		// Of several shapes the deepest; a mesh has no inside.
		const two = {
			...crate,
			shapes: [...box(1, 1, 1), { id: 't', kind: 'sphere' as const, radius: 0.75, at: [-0.1, 0, 0] as const }],
		};
		expect(ask(scene([two], {})).selected[0]?.depth).toBeCloseTo(0.65, 9);
		const mesh = {
			...crate,
			shapes: [{ id: 's', kind: 'mesh' as const, vertices: [-1, 0, 0, 1, 0, 0, 0, 1, 0], triangles: [0, 1, 2] }],
		};
		expect(ask(scene([mesh], {})).selected[0]?.depth).toBe(0);
		const touching = { ...crate, position: [1, 0.5, 0] as const };
		expect(ask(scene([touching], {})).selected[0]?.depth).toBe(0);
		const model = object('model', 'things', { shapes: box(1, 1, 1), position: [30, 0, 0] });
		expect(ask(scene([crate, model], { shape: { like: 'model', grow: 0.1 } })).selected[0]?.depth).toBeCloseTo(0.4, 9);
	});

	it('is asked for by checks', () => {
		const judged = (objects: SceneObject[], query: Partial<OverlapQuery>, room: boolean) => {
			const check: Check = { id: 'c', query: 'q', expect: { room } };
			return runChecks(scene(objects, query, { checks: [check] }))[0];
		};
		expect(judged([floor], {}, true)?.pass).toBe(true);
		expect(judged([floor], {}, false)).toMatchObject({
			pass: false,
			reason: 'wanted no room, got nothing in the way, borne at 5 of 5 points',
		});
		expect(judged([floor, crate], {}, true)).toMatchObject({
			pass: false,
			reason: 'wanted room, got in the way: crate 0.3 m deep; borne at 5 of 5 points',
		});
		expect(judged([], {}, false)?.pass).toBe(true);
		expect(judged([], { room: {} }, true)?.pass).toBe(true);
		for (const room of [true, false]) {
			expect(judged([floor], { enabled: false }, room)?.pass).toBe(false);
			expect(judged([floor], { at: { hitOf: 'none' } }, room)?.pass).toBe(false);
		}
	});

	it('is asked for of what asks for it alone', () => {
		const project = scene([floor], {}, { checks: [{ id: 'c', query: 'q', expect: { room: true } }] });
		delete (project.queries[0] as OverlapQuery).room;
		const reading = readProject(JSON.stringify(project));
		expect(reading.ok ? '' : reading.problems.map((p) => p.message)).toEqual(['"q" does not ask for room']);
	});
});

describe('where it stands, for who shows it', () => {
	const spot = (objects: SceneObject[], query: Partial<OverlapQuery> = {}) => {
		const world = buildWorld(scene(objects, query));
		const asked = world.queries[0] as OverlapQuery;
		const placement = placementOf({ world, query: asked, asker: null, hitOf: () => null });
		if (isNote(placement)) throw new Error(placement.code);
		return spotOf(world, asked, placement, new Answerer(world).explain(asked));
	};
	const crate = (x: number, size = 1) =>
		object(`crate ${x}`, 'things', { shapes: box(size, size, size), position: [x, 0.5, 0] });

	it('has the points, and says which are borne', () => {
		const half = object('half', 'floor', { shapes: box(10, 1, 10), position: [5.1, -0.5, 0] });
		expect(spot([half]).points).toEqual([
			{ at: [-0.5, 0, -0.5], borne: false },
			{ at: [0.5, 0, -0.5], borne: true },
			{ at: [0.5, 0, 0.5], borne: true },
			{ at: [-0.5, 0, 0.5], borne: false },
			{ at: [0, 0, 0], borne: false },
		]);
		expect(spot([half], { room: {} }).points).toEqual([]);
	});
	it('has no way out where nothing is in the way, and of one thing the least', () => {
		expect(spot([floor]).way).toBeNull();
		const way = spot([floor, crate(0.8)]).way as number[];
		expect(way[0]).toBeCloseTo(-0.2, 5);
		expect(Math.hypot(way[1] as number, way[2] as number)).toBeLessThan(1e-9);
	});
	it('leaves one after the other until it is free of all, and says nothing where it is held on both sides', () => {
		const wall = object('wall', 'things', { shapes: box(4, 4, 1), position: [0, 0.5, 0.9] });
		const [x, y, z] = spot([crate(0.8), wall]).way as [number, number, number];
		expect([x, y, z].map((v) => Number(v.toFixed(4)))).toEqual([-0.2, 0, -0.1]);
		const held = spot([crate(0.8), crate(-0.8)]).way;
		if (held)
			expect(spot([crate(0.8), crate(-0.8)], { at: { point: [held[0], 0.5 + held[1], held[2]] } }).way).toBeNull();
	});
	it('does not guess at what is made of triangles', () => {
		const sheet: SceneObject = object('sheet', 'things', {
			shapes: [{ id: 's', kind: 'mesh', vertices: [-1, 0, -1, 1, 0, -1, 0, 0, 1], triangles: [0, 1, 2] }],
			position: [0, 0.5, 0],
		});
		expect(spot([sheet])).toMatchObject({ way: null });
	});
	it('what is left out of the query is not left', () => {
		expect(spot([crate(0.8)], { asker: 'crate 0.8' }).way).toBeNull();
	});
});

describe('what is kept of it', () => {
	const crate = object('crate', 'things', { shapes: box(1, 1, 1), position: [0.8, 0.5, 0] });
	it('is whether there is room, and is brought up to date as that', () => {
		const [there, none] = [ask(scene([floor], {})), ask(scene([floor, crate], {}))];
		expect([keptOf(there), keptOf(none)]).toEqual([{ room: true }, { room: false }]);
		expect(keptOf(ask(scene([floor], { room: undefined })))).toEqual({ none: true });
		const check: Check = { id: 'c', query: 'q', expect: { room: true, not: ['crate'] } };
		expect(updatedExpectation(check, none)).toEqual({ room: false });
		expect(updatedExpectation({ ...check, expect: { none: true } }, none)).toEqual({ selects: ['crate'] });
	});
});
