/** What makes a scene quick to build: standing, sizes from the base, ready things, likely askers, ids from names. */
import {
	Answerer,
	buildWorld,
	checkProject,
	type Project,
	type Query,
	type SceneObject,
	type Shape,
	tripleOf,
	type Vec3,
} from '@frelk/core';
import { ball, box, object, project as scene } from '@frelk/core/tests/scene';
import { describe, expect, it } from 'vitest';
import { blankProject } from '../../data/projects';
import { createBench } from '../../model/store';
import { answerWords, freshQuery, freshRoom, isFloor, likelyAsker } from './fresh-query';
import { changeId, nameCheck, nameThing } from './naming';
import { extentOf } from './objects';
import {
	beginScene,
	bringAlong,
	followersOf,
	keepReadyMade,
	ownReadyMades,
	placeOwn,
	READY_MADES,
} from './ready-mades';
import { resizeShape } from './sizes';
import { dropOfSpot, heightBelow, isStanding, standObjects } from './standing';
import { usualSize } from './usual-size';

const valid = (p: Project) => {
	const checked = checkProject(JSON.parse(JSON.stringify(p)));
	expect(checked.ok ? [] : checked.problems).toEqual([]);
};
const copy = (p: Project): Project => JSON.parse(JSON.stringify(p));
const find = (p: Project, id: string): SceneObject => {
	const found = p.scene.objects.find((o) => o.id === id);
	if (!found) throw new Error(`no object ${id}`);
	return found;
};

describe('standing', () => {
	const table = object('table', [0, 0, 0], [box([2, 1, 2], { at: [0, 0.5, 0] })]);
	const at = (y: number, x = 0) =>
		scene([table, object('cup', [x, y, 0], [box([0.2, 0.2, 0.2], { at: [0, 0.1, 0] })])], []);
	const stood = (p: Project) => {
		const next = copy(p);
		standObjects(next, buildWorld(p), ['cup']);
		return find(next, 'cup').position?.[1];
	};

	it('drops what floats and lifts out what has sunk by less than half', () => {
		expect(stood(at(1.7))).toBeCloseTo(1, 9);
		expect(stood(at(0.95))).toBeCloseTo(1, 9);
		expect(stood(at(3, 5))).toBeCloseTo(0, 9);
	});

	it('rests on an edge that only a corner of it reaches', () => {
		expect(stood(at(2, 1.08))).toBeCloseTo(1, 9);
		expect(stood(at(2, 1.12))).toBeCloseTo(0, 9);
	});

	it('is told from floating by three centimetres', () => {
		const stands = (y: number) => {
			const world = buildWorld(at(y));
			return isStanding(world, world.objectById.get('cup') as never);
		};
		expect([stands(1), stands(1.029), stands(1.031), stands(0.98)]).toEqual([true, true, false, true]);
	});

	it('does not look at sensors, or at what is skipped', () => {
		const p = scene([{ ...table, shapes: [box([2, 1, 2], { at: [0, 0.5, 0], role: 'sensor' })] }], []);
		expect(heightBelow(buildWorld(p), 0, 0, 5, () => false)).toBe(0);
		expect(heightBelow(buildWorld(at(9)), 0, 0, 5, () => false)).toBe(1);
		expect(heightBelow(buildWorld(at(9)), 0, 0, 5, (s) => s.object.id === 'table')).toBe(0);
	});
});

describe('sizes', () => {
	const made = (more: object = {}, focus?: [number, number, number]): SceneObject =>
		copy({
			o: object('o', [0, 0, 0], [box([1, 1, 1], { at: [0, 0.5, 0], ...more })], focus ? { focus } : {}),
		} as never)['o' as never];
	const sized = (o: SceneObject) => o.shapes?.[0] as { at?: Vec3; size: Vec3 };
	const sizing = (k: number, to: number) => (s: Shape) =>
		s.kind === 'box' && void (s.size = tripleOf((i) => (i === k ? to : s.size[i])));

	it('grow from the base, or from the face opposite the one pulled', () => {
		const o = made();
		resizeShape(o, 'box', sizing(1, 2), 'base');
		expect(sized(o)).toMatchObject({ size: [1, 2, 1], at: [0, 1, 0] });
		resizeShape(o, 'box', sizing(0, 3), 0);
		expect(sized(o).at).toEqual([1, 1, 0]);
		resizeShape(o, 'box', sizing(2, 3), 'middle');
		expect(sized(o).at).toEqual([1, 1, 0]);
	});

	it('of a shape that is tipped over grow about its middle when typed, and along its own axis when pulled', () => {
		const o = made({ rotation: [0, 90, 0] });
		resizeShape(o, 'box', sizing(1, 2), 'base');
		expect(sized(o).at).toEqual([0, 0.5, 0]);
		resizeShape(o, 'box', sizing(1, 4), 1);
		expect(sized(o).at?.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 0.5, 1]);
	});

	it('take the focus along while it is in the middle of the shape, and leave one that was set', () => {
		const grow = (o: SceneObject) => {
			resizeShape(o, 'box', sizing(1, 2), 'base');
			return o.focus;
		};
		expect(grow(made({}, [0, 0.5, 0]))).toEqual([0, 1, 0]);
		expect(grow(made({}, [0, 0.6, 0]))).toEqual([0, 0.6, 0]);
		expect(grow(made())).toBeUndefined();
	});
});

describe('ready things', () => {
	it('make valid projects, and nothing of them floats or sinks', () => {
		for (const thing of READY_MADES) {
			const p = blankProject('space', 'New');
			const at: [number, number, number] = [2, 0, 1];
			const ids = thing.make(p, { at, yaw: thing.id === 'floor' ? 0 : 30, size: thing.usual, from: at, to: at });
			valid(p);
			expect(ids.length).toBeGreaterThan(0);
			const world = buildWorld(p);
			for (const id of ids) {
				const low = extentOf(world, world.objectById.get(id) as never, 1)[0];
				expect(low, thing.id).toBeCloseTo(thing.id === 'floor' ? -0.2 : 0, 6);
			}
		}
	});

	it('are what they say: who stands behind, what hangs on what, what can be done with it', () => {
		const facing = { rotation: [90, 0, 0] };
		const take = { parent: 'shelf', prompt: 'Take it', action: 'take', focus: [0, 0.1, 0], layer: 'things' };
		const small = [{ id: 'body', kind: 'box', size: [0.2, 0.2, 0.2], at: [0, 0.1, 0] }];
		const crate = { ...facing, prompt: 'Lift the crate', action: 'lift', layer: 'things' };
		const capsule = [{ id: 'body', kind: 'capsule', radius: 0.3, height: 1.8, at: [0, 0.9, 0] }];
		const made: Record<string, object[]> = {
			floor: [{ id: 'floor', position: [1, -0.2, 2], layer: 'ground', shapes: [{ size: [12, 0.2, 12] }] }],
			wall: [{ id: 'wall', position: [1, 0, 2], layer: 'walls', shapes: [{ size: [2, 2.6, 0.2] }] }],
			person: [{ id: 'person', position: [1, 0, 2], ...facing, focus: [0, 1.6, 0], layer: 'people', shapes: capsule }],
			counter: [
				{ id: 'counter', position: [1, 0, 2], ...facing, standsFor: 'clerk', shapes: [{ size: [1.8, 1, 0.6] }] },
				{
					id: 'clerk',
					position: [0.1, 0, 2],
					rotation: [270, 0, 0],
					prompt: 'Talk to the clerk',
					action: 'talk',
					shapes: capsule,
				},
			],
			door: [
				{ id: 'door', ...facing, prompt: 'Open the door', action: 'open', states: { open: false }, layer: 'things' },
			],
			shelf: [
				{ id: 'shelf', position: [1, 0, 2], ...facing, layer: 'things', shapes: [{ size: [2, 0.9, 0.5] }] },
				...[-0.8, -0.4, 0, 0.4, 0.8].map((x, i) => ({
					id: `thing-${i + 1}`,
					name: `Thing ${i + 1}`,
					position: [x, 0.9, 0],
					...take,
					shapes: small,
				})),
			],
			ghost: [
				{
					id: 'ghost',
					position: [1, 0, 2],
					...facing,
					layer: 'ghosts',
					shapes: [{ kind: 'box', size: [1, 1, 1], at: [0, 0.5, 0], role: 'sensor' }],
				},
			],
			crates: [3.4, 2.7, 2, 1.3, 0.6].map((z) => ({ position: [1, 0, z], ...crate })),
			target: [
				{
					id: 'target',
					position: [1, 0, 2],
					...facing,
					focus: [0, 0.3, 0],
					shapes: [{ kind: 'cylinder', radius: 0.3, height: 0.06, at: [0, 0.3, 0], rotation: [0, 90, 0] }],
				},
			],
		};
		for (const thing of READY_MADES) {
			const p = blankProject('space', 'New');
			const ids = thing.make(p, { at: [1, 0, 2], yaw: 90, size: thing.usual, from: [0, 0, 2], to: [2, 0, 2] });
			expect(p.scene.objects, thing.id).toMatchObject(made[thing.id] as object[]);
			expect(ids).toHaveLength(thing.id === 'crates' ? 5 : 1);
			const eyes = p.scene.cameras.filter((c) => c.object !== undefined);
			expect(eyes).toEqual(
				thing.id !== 'person'
					? []
					: [
							{
								id: 'person-eye',
								name: 'Person’s eye',
								object: 'person',
								position: [0, 1.6, 0],
								projection: 'perspective',
								fov: 60,
							},
						],
			);
		}
		// A second one has names of its own; what is not turned says no turn.
		const p = blankProject('space', 'New');
		const target = READY_MADES.find((t) => t.id === 'target');
		const person = READY_MADES.find((t) => t.id === 'person');
		const place = { at: [0, 0, 0], yaw: 0, size: [0.4, 0.6, 0.06], from: [0, 0, 0], to: [0, 0, 0] } as const;
		const put = (thing: typeof target) => thing?.make(p, { ...place } as never);
		put(target);
		put(person);
		put(person);
		expect(find(p, 'target').rotation).toBeUndefined();
		expect(find(p, 'target').shapes?.[0]).toMatchObject({ radius: 0.2 });
		expect(p.scene.cameras.map((c) => [c.id, c.name, c.object])).toEqual([
			['person-eye', 'Person’s eye', 'person'],
			['person-2-eye', 'Person 2’s eye', 'person-2'],
		]);
	});

	it('draw a wall from end to end', () => {
		const p = blankProject('space', 'New');
		const wall = READY_MADES.find((t) => t.id === 'wall');
		const [id] = wall?.make(p, { at: [0, 0, 0], yaw: 0, size: [3, 1, 3], from: [0, 0, 0], to: [3, 0, -3] }) ?? [];
		const made = find(p, id as string);
		expect(made.rotation).toEqual([45, 0, 0]);
		expect(made.position).toEqual([1.5, 0, -1.5]);
		expect(made.shapes?.[0]).toMatchObject({ size: [4.25, 2.6, 0.2] });
	});

	it('begin a scene with a floor, a person with an eye and three layers', () => {
		const p = blankProject('space', 'New');
		beginScene(p);
		valid(p);
		expect(p.scene.layers.map((l) => l.id)).toEqual(['ground', 'things', 'people']);
		expect(p.scene.objects.map((o) => o.name)).toEqual(['Floor', 'Person']);
		expect(p.scene.cameras).toMatchObject([{ object: 'person', position: [0, 1.6, 0] }]);
	});

	it('of one’s own are placed again with what hangs on them, and follow what is changed of one', () => {
		const p = scene(
			[object('post', [1, 0, 0], [ball(0.2)]), object('lamp', [0, 1, 0], [ball(0.1)], { parent: 'post' })],
			[],
		);
		const thing = keepReadyMade(p, 'post') as string;
		expect(ownReadyMades(p).map((t) => [t.id, t.clip.objects.length])).toEqual([['post', 2]]);
		const [twin] = placeOwn(p, thing, { at: [5, 0, 5] });
		valid(p);
		expect(find(p, twin as string).position).toEqual([5, 0, 5]);
		expect(p.scene.objects).toHaveLength(4);
		expect(followersOf(p, 'post').map((o) => o.id)).toEqual([twin]);
		Object.assign(find(p, 'post'), { prompt: 'Lean on it', position: [9, 9, 9] });
		bringAlong(p, 'post');
		expect(find(p, twin as string)).toMatchObject({ prompt: 'Lean on it', position: [5, 0, 5] });
		find(p, twin as string).extras = { thing, apart: true };
		expect(followersOf(p, 'post')).toEqual([]);
		// What is placed from now on is as the thing is now.
		const [third] = placeOwn(p, thing, { at: [0, 0, 0] });
		expect(find(p, third as string).prompt).toBe('Lean on it');
	});
});

describe('who asks', () => {
	const floor = object('floor', [0, 0, 0], [box([8, 0.2, 8])]);
	const person = object('person', [0, 0, 0], [ball(0.3)]);
	const crate = object('crate', [0, 0, 0], [box([1, 1, 1])]);
	const eye = { id: 'eye', object: 'person', position: [0, 1.6, 0], projection: 'perspective', fov: 60 } as const;

	it('is whoever has the eye, or asked last, and never a floor', () => {
		const p = scene([floor, crate, person], [], { cameras: [eye as never] });
		expect(isFloor(find(p, 'floor'))).toBe(true);
		expect(isFloor(find(p, 'crate'))).toBe(false);
		expect(likelyAsker(p, null)).toBe('person');
		expect(likelyAsker(p, 'floor')).toBe('person');
		const bare = scene([floor, crate], []);
		expect(likelyAsker(bare, 'floor')).toBeUndefined();
		expect(likelyAsker(bare, 'crate')).toBe('crate');
		expect(freshQuery(bare, 'hitbox', 'floor')).toBeNull();
		const asked = {
			...p,
			queries: [
				{
					id: 'q',
					kind: 'overlap',
					at: { object: 'crate' },
					shape: { kind: 'sphere', radius: 1 },
					asker: 'crate',
				} as Query,
			],
		};
		expect(likelyAsker(asked, null)).toBe('crate');
		expect(likelyAsker(asked, 'person')).toBe('person');
	});

	it('asks through the eye it has', () => {
		const p = scene([floor, person], [], { cameras: [{ ...eye, id: 'other', object: undefined }, eye] as never });
		expect(freshQuery(p, 'ray', null)).toMatchObject({ from: { camera: 'eye' }, aim: { of: 'eye' }, asker: 'person' });
		expect(freshQuery(p, 'pick', null)).toMatchObject({ camera: 'eye', asker: 'person' });
	});
});

describe('a new query', () => {
	const person = object('person', [0, 0, 0], [ball(0.3)]);
	const eye = { id: 'eye', object: 'person', position: [0, 1.6, 0], projection: 'perspective', fov: 60 } as never;
	const flat = scene([object('person', [0, 0, 0], [{ id: 's', kind: 'circle', radius: 1 }])], [], { kind: 'flat' });
	const bare = scene([], []);
	const seeing = scene([person], [], { cameras: [eye] });

	it('of each kind asks from where somebody is, straight ahead', () => {
		const ahead = { along: [0, 0, -1] };
		const asks = { asker: 'person' };
		const made = (kind: Query['kind'], p = seeing, picked: string | null = null) => freshQuery(p, kind, picked);
		const ray = { id: 'ray-1', name: 'Ray 1', kind: 'ray', length: 5 };
		expect(made('ray')).toEqual({ ...ray, from: { camera: 'eye' }, aim: { ...ahead, of: 'eye' }, ...asks });
		expect(made('ray', scene([person], []), 'person')).toEqual({
			...ray,
			from: { focus: 'person' },
			aim: { ...ahead, of: 'person' },
			...asks,
		});
		expect(made('ray', bare)).toEqual({ ...ray, from: { point: [0, 0, 0] }, aim: ahead });
		expect(made('ray', flat, 'person')).toMatchObject({
			from: { focus: 'person' },
			aim: { along: [1, 0, 0], of: 'person' },
		});
		const sweep = { id: 'sweep-1', name: 'Sweep 1', kind: 'sweep', length: 5 };
		expect(made('sweep')).toMatchObject({ ...sweep, ...asks, shape: { kind: 'sphere', radius: 0.2 } });
		expect(made('sweep', flat, 'person')).toMatchObject({ ...sweep, shape: { kind: 'circle', radius: 0.2 } });
		const overlap = { id: 'overlap-1', kind: 'overlap' };
		expect(made('overlap')).toMatchObject({
			...overlap,
			at: { object: 'person' },
			shape: { kind: 'sphere', radius: 1.5 },
			...asks,
		});
		expect(made('overlap', bare)).toMatchObject({ ...overlap, at: { point: [0, 0, 0] } });
		expect(made('overlap', flat, 'person')).toMatchObject({ ...overlap, shape: { kind: 'circle', radius: 1 } });
		const open = { from: 0, until: 0.3 };
		expect(made('hitbox')).toMatchObject({
			kind: 'hitbox',
			...asks,
			boxes: [{ shape: { kind: 'box', size: [1, 1, 1] }, at: [0, 1, -0.8], ...open }],
		});
		expect(made('hitbox', flat, 'person')).toMatchObject({
			boxes: [{ shape: { kind: 'rect', size: [1, 1] }, at: [0.8, 0, 0], ...open }],
		});
		expect(made('hitbox', bare)).toBeNull();
		expect(made('pick')).toEqual({
			id: 'pick-1',
			name: 'Pick 1',
			kind: 'pick',
			camera: 'eye',
			viewport: [960, 540],
			...asks,
		});
		expect(made('pick', scene([person], [], { cameras: [] }))).toBeNull();
		for (const p of [seeing, flat])
			for (const kind of ['ray', 'pick', 'sweep', 'overlap', 'hitbox'] as const) {
				const next = copy(p);
				const query = made(kind, next, 'person');
				if (query) next.queries.push(query);
				expect(query !== null || kind === 'pick').toBe(true);
				valid(next);
			}
	});

	it('has the next id that is free', () => {
		const taken = { ...seeing, queries: [{ ...freshQuery(seeing, 'ray', null), id: 'ray-1' } as Query] };
		expect(freshQuery(taken, 'ray', null)).toMatchObject({ id: 'ray-2', name: 'Ray 2' });
		expect(freshQuery(taken, 'sweep', null)?.id).toBe('sweep-1');
	});

	it('is answered in a few words', () => {
		const p = scene([object('cup', [0, 0, 0], [ball(1)]), { ...person, name: 'Ana' } as SceneObject], []);
		const answer = (status: string, selected: string[] = [], tied: string[] = []) =>
			answerWords(p, { status, selected: selected.map((o) => ({ object: o })), tied } as never);
		expect(answer('selected', ['person'])).toBe('Ana');
		expect(answer('selected', ['cup', 'person'])).toBe('cup and 1 more');
		expect(answer('tie', [], ['person', 'cup'])).toBe('tie: Ana, cup');
		expect(['none', 'off', 'waiting'].map((status) => answer(status))).toEqual(['nothing', 'off', 'waiting']);
		expect(answerWords(p, undefined)).toBe('');
	});
});

describe('a floor', () => {
	it('is one box, up to half a metre high, six times as wide, three metres long', () => {
		const is = (...shapes: object[]) => isFloor(object('x', [0, 0, 0], shapes as never));
		expect(is(box([3, 0.5, 3]))).toBe(true);
		expect(is(box([3, 0.51, 30]))).toBe(false);
		expect(is(box([2.99, 0.5, 9]))).toBe(false);
		expect(is(box([2.99, 0.1, 2.99]))).toBe(false);
		expect(is(box([1.5, 0.25, 3]))).toBe(true);
		expect(is(box([3, 0.25, 1.49]))).toBe(false);
		expect(is(ball(9))).toBe(false);
		expect(is(box([3, 0.5, 3]), box([3, 0.5, 3], { id: 'b' }))).toBe(false);
		expect(is()).toBe(false);
		expect(isFloor(undefined)).toBe(false);
	});
});

it('what is drawn with one press has the size of a person, of a crate, of a card', () => {
	expect(usualSize('capsule', false)).toEqual([0.6, 1.8, 0.6]);
	expect(usualSize('box', false)).toEqual([0.8, 0.8, 0.8]);
	expect(usualSize('rect', true)).toEqual([0.12, 0.08, 0]);
});

describe('names and ids', () => {
	const open = (checks: unknown[] = []) => {
		const p = scene(
			[
				object('box', [0, 0, 0], [box([1, 1, 1])], { name: 'Box' }),
				object('cup', [0, 1, 0], [ball(0.1)], { parent: 'box' }),
			],
			[{ id: 'ray-1', name: 'Ray 1', kind: 'ray', from: { point: [0, 0, 5] }, aim: { along: [0, 0, -1] } }],
		);
		p.checks = checks as never;
		return createBench('p', p);
	};

	it('an id follows its name, with what names it and what is in hand', () => {
		const store = open();
		store.getState().pick('box');
		nameThing(store, 'object', 'box', 'Tool bench');
		const { project, selection, past } = store.getState();
		expect(project.scene.objects.map((o) => [o.id, o.name, o.parent])).toEqual([
			['tool-bench', 'Tool bench', undefined],
			['cup', undefined, 'tool-bench'],
		]);
		expect(selection).toEqual(['tool-bench']);
		expect(past).toHaveLength(1);
	});

	it('an id stays that a check holds on to, or that never said the name', () => {
		const store = open([{ id: 'c', query: 'ray-1', expect: { selects: ['box'] } }]);
		nameThing(store, 'object', 'box', 'Tool bench');
		nameThing(store, 'query', 'ray-1', 'Gaze');
		expect(store.getState().project.scene.objects[0]).toMatchObject({ id: 'box', name: 'Tool bench' });
		expect(store.getState().project.queries[0]).toMatchObject({ id: 'ray-1', name: 'Gaze' });
		const other = open();
		nameThing(other, 'query', 'ray-1', 'Gaze');
		expect(other.getState().query).toBe('gaze');
		other.getState().undo();
		expect(other.getState().project.queries[0]?.id).toBe('ray-1');
	});

	it('an id is given by hand, in every place, unless it is taken or none', () => {
		const store = open([{ id: 'c', query: 'ray-1', expect: { selects: ['box'] } }]);
		expect(changeId(store, 'object', 'box', 'cup')).toBe('cup is taken');
		expect(changeId(store, 'object', 'box', '???')).toMatch(/an id has letters/);
		expect(changeId(store, 'object', 'box', 'bench')).toBeNull();
		expect(store.getState().project.checks?.[0]).toMatchObject({ expect: { selects: ['bench'] } });
	});
});

describe('the id of a check', () => {
	const bench = (name?: string) => {
		const project = blankProject('space', 'p');
		project.queries.push({ id: 'gaze', kind: 'ray', from: { point: [0, 1, 0] }, aim: { along: [0, 0, -1] } });
		project.checks = [
			{ id: 'gaze', ...(name === undefined ? {} : { name }), query: 'gaze', expect: { none: true } },
			{ id: 'at-dusk', query: 'gaze', expect: { none: true } },
		];
		return createBench('p', project);
	};
	const first = (store: ReturnType<typeof bench>) => store.getState().project.checks?.[0];

	it('follows its name while it says it, made unique', () => {
		const store = bench();
		nameCheck(store, 'gaze', ' At dusk ');
		expect(first(store)).toMatchObject({ id: 'at-dusk-2', name: 'At dusk' });
		nameCheck(store, 'at-dusk-2', 'Nothing there');
		expect(first(store)).toMatchObject({ id: 'nothing-there', name: 'Nothing there' });
		nameCheck(store, 'nothing-there', '');
		expect(first(store)).not.toHaveProperty('name');
		expect(first(store)?.id).toBe('nothing-there');
	});

	it('stays where it says something else', () => {
		const store = bench('The crank is free');
		nameCheck(store, 'gaze', 'The crank');
		expect(first(store)).toMatchObject({ id: 'gaze', name: 'The crank' });
		const before = store.getState().past.length;
		nameCheck(store, 'gaze', 'The crank');
		expect(store.getState().past).toHaveLength(before);
	});
});

describe('a question of room', () => {
	const crate = object('crate', [3, 0, 0], [box([1, 1, 1], { at: [0, 0.5, 0] })]);
	const floor = object('floor', [0, -0.1, 0], [box([12, 0.2, 12])]);
	const asked = (p: Project, query: Query) => {
		const next = copy(p);
		next.queries.push(query);
		valid(next);
		return answerWords(next, new Answerer(buildWorld(next)).explain(query));
	};
	const p = scene([floor, crate], []);

	it('is whether what is in hand may stand where it stands, and else of a metre where there is room', () => {
		const own = freshRoom(p, 'crate', [0, 0, 0]);
		expect(own).toMatchObject({
			asker: 'crate',
			shape: { like: 'crate' },
			at: { object: 'crate' },
			name: 'Room for crate',
		});
		expect(asked(p, own)).toBe('there is room');
		for (const other of [null, 'floor', 'nobody'])
			expect(asked(p, freshRoom(p, other, [0, 0, 0])), `${other}`).toBe('there is room');
		expect(asked(p, freshRoom(p, null, [2.5, 0, 0]))).toBe('no room');
		expect(asked(p, freshRoom(p, null, [2, 2, 0]))).toBe('free, but not borne');
		expect(asked(p, freshRoom(p, null, [-6, 0, 0]))).toBe('free, but not borne');
		expect(freshRoom({ ...p, queries: [own] }, null, [0, 0, 0]).id).toBe('room-2');
	});

	it('of a ghost is the shapes of what is in hand, in nobody’s way', () => {
		const next = copy(p);
		const ghost = READY_MADES.find((t) => t.id === 'ghost');
		const [id] = (ghost?.make(
			next,
			{ at: [0, 0, 0], yaw: 0, size: [1, 1, 1], from: [0, 0, 0], to: [0, 0, 0] },
			'crate',
		) ?? []) as [string];
		valid(next);
		expect(find(next, id)).toMatchObject({ name: 'Ghost of crate', shapes: [{ kind: 'box', role: 'sensor' }] });
		expect(next.queries.at(-1)).toMatchObject({ asker: id, shape: { like: id } });
		expect(find(next, 'crate').shapes?.[0]?.role).toBeUndefined();
	});

	it('is set down by as much as keeps it above what bears it, whoever asks', () => {
		const world = buildWorld(p);
		const base = (y: number) => [{ at: [3, y, 0] }, { at: [5, y, 0] }];
		expect(dropOfSpot(world, base(2), undefined)).toBeCloseTo(-0.99, 9);
		expect(dropOfSpot(world, base(2), 'crate')).toBeCloseTo(-1.99, 9);
		expect(dropOfSpot(world, base(1.01), undefined)).toBeNull();
		expect(dropOfSpot(world, [], undefined)).toBeNull();
	});
});
