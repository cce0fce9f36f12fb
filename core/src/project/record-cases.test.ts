/** What is recorded in a moment, field by field; what is put back leaves nothing behind, and what did not change stays the very same. */
import { describe, expect, it } from 'vitest';
import { ball, object, project as scene } from '../tests/scene';
import { OVERLAY_FIELDS } from './overlay';
import { checkProject } from './read';
import { type Difference, differencesOf, projectAt, recordInto, removeDifference } from './record';
import type { Project } from './schema';

const A = { rotation: [10, 0, 0], side: 'us', tags: ['hot'], prompt: 'Take it', states: { open: false } } as const;
const PICK = { id: 'pick', kind: 'pick', camera: 'eye', viewport: [100, 100] };
const first = (): Project => {
	const p = scene(
		[
			object('a', [1, 0, 0], [ball(1), ball(2, { id: 'off', enabled: false })], A as never),
			object('b', [0, 0, 0], [ball(1)]),
		],
		[
			{ ...PICK, cursor: [10, 10] },
			{ ...PICK, id: 'middle' },
			{ ...PICK, id: 'still', enabled: false },
		],
		{
			tags: [{ id: 'hot' }],
			sides: [{ id: 'us' }, { id: 'them' }],
			states: { night: false },
			cameras: [
				{ id: 'eye', position: [0, 0, 0], rotation: [5, 0, 0], projection: 'perspective', fov: 90 },
				{ id: 'plain', position: [0, 0, 0], projection: 'perspective', fov: 90 },
			],
			layers: [{ id: 'a' }, { id: 'b' }],
		},
	);
	p.moments = [{ id: 'one' }, { id: 'two', on: 'one' }];
	const checked = checkProject(p);
	if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
	return p;
};
const copy = (p: Project): Project => JSON.parse(JSON.stringify(p));
type Recipe = (p: Project) => void;
/** What an edit leaves as it was is the very same as before it. */
function shared<T>(now: T, before: T): T {
	if (JSON.stringify(now) === JSON.stringify(before)) return before;
	if (typeof now !== 'object' || typeof before !== 'object' || now === null || before === null) return now;
	const of = before as Record<string, unknown>;
	if (Array.isArray(now)) return now.map((entry, i) => shared(entry, of[i])) as T;
	return Object.fromEntries(Object.entries(now).map(([key, value]) => [key, shared(value, of[key])])) as T;
}
/** As the store does it: the edit made to both. */
function record(project: Project, moment: string, recipe: Recipe): Project {
	const edited = (before: Project): Project => {
		const draft = copy(before);
		recipe(draft);
		return shared(draft, before);
	};
	return recordInto(project, moment, edited(project), edited(projectAt(project, moment)));
}
const momentOf = (p: Project, id: string) => {
	const found = p.moments?.find((m) => m.id === id);
	if (!found) throw new Error(`no moment ${id}`);
	return found;
};
const find = <T extends { id: string }>(list: readonly T[], id: string): T => {
	const found = list.find((entry) => entry.id === id);
	if (!found) throw new Error(`no ${id}`);
	return found;
};
const onA =
	(change: object): Recipe =>
	(p) =>
		void Object.assign(find(p.scene.objects, 'a'), change);
const without =
	(field: string): Recipe =>
	(p) =>
		void delete (find(p.scene.objects, 'a') as unknown as Record<string, unknown>)[field];

/** Recorded, seen there as it was done, nothing else changed; taken out again, it is as before. */
function holds(recipe: Recipe, recorded: object, difference: Partial<Difference>): void {
	const project = first();
	const next = record(project, 'one', recipe);
	expect(momentOf(next, 'one')).toEqual({ id: 'one', ...recorded });
	expect(next.scene).toBe(project.scene);
	expect(next.queries).toBe(project.queries);
	expect(momentOf(next, 'two')).toEqual(momentOf(project, 'two'));
	expect(differencesOf(next, 'one')).toEqual([{ key: null, ...difference }]);
	removeDifference(next, 'one', differencesOf(next, 'one')[0] as Difference);
	expect(next).toEqual(project);
}

describe('of an object', () => {
	it('each field a moment can hold is recorded, with what it was', () => {
		const to: Record<(typeof OVERLAY_FIELDS)[number], [from: unknown, to: unknown]> = {
			position: [
				[1, 0, 0],
				[2, 3, 4],
			],
			rotation: [
				[10, 0, 0],
				[20, 0, 0],
			],
			scale: [
				[1, 1, 1],
				[2, 2, 2],
			],
			active: [true, false],
			parent: [null, 'b'],
			layer: ['a', 'b'],
			tags: [['hot'], []],
			side: ['us', 'them'],
			priority: [0, 2],
			prompt: ['Take it', 'Leave it'],
			action: [null, 'take'],
		};
		for (const field of OVERLAY_FIELDS) {
			const [from, value] = to[field];
			holds(
				onA({ [field]: value }),
				{ objects: { a: { [field]: value } } },
				{
					of: 'object',
					id: 'a',
					field,
					from,
					to: value,
				},
			);
		}
	});

	it('a field taken away is recorded as what it is without', () => {
		for (const [field, from, to] of [
			['rotation', [10, 0, 0], [0, 0, 0]],
			['side', 'us', null],
			['tags', ['hot'], []],
			['prompt', 'Take it', null],
		] as const)
			holds(without(field), { objects: { a: { [field]: to } } }, { of: 'object', id: 'a', field, from, to });
	});

	it('a field taken away and put back stands where it stood in the file', () => {
		const next = record(first(), 'one', (p) => {
			without('prompt')(p);
			onA({ name: 'Lamp' })(p);
		});
		expect(Object.keys(find(next.scene.objects, 'a'))).toEqual([
			...Object.keys(find(first().scene.objects, 'a')),
			'name',
		]);
	});

	it('what is put back to what the moment is on is no difference, whatever the scene says', () => {
		const one = record(first(), 'one', onA({ position: [5, 0, 0], prompt: 'Later' }));
		// Of the moment itself: the scene's.
		const back = record(one, 'one', onA({ position: [1, 0, 0] }));
		expect(momentOf(back, 'one')).toEqual({ id: 'one', objects: { a: { prompt: 'Later' } } });
		expect(record(back, 'one', onA({ prompt: 'Take it' }))).toEqual(first());
		// Of one on top of it: the other moment's; what the scene says differs from that.
		const two = record(one, 'two', onA({ position: [1, 0, 0] }));
		expect(momentOf(two, 'two').objects).toEqual({ a: { position: [1, 0, 0] } });
		expect(differencesOf(two, 'two')[0]).toMatchObject({ from: [5, 0, 0], to: [1, 0, 0] });
		expect(record(two, 'two', onA({ position: [5, 0, 0] }))).toEqual(one);
	});

	it('states are recorded by name; one the scene does not know stays there too', () => {
		const opened = { states: { open: true } };
		holds(
			onA(opened),
			{ objects: { a: opened } },
			{
				of: 'object',
				id: 'a',
				field: 'states',
				key: 'open',
				from: false,
				to: true,
			},
		);
		const project = first();
		const fresh = record(project, 'one', onA({ states: { open: false, broken: true } }));
		expect(momentOf(fresh, 'one').objects).toEqual({ a: { states: { broken: true } } });
		expect(find(projectAt(fresh, 'one').scene.objects, 'a').states).toEqual({ open: false, broken: true });
		const two = record(record(project, 'one', onA(opened)), 'two', onA({ states: { open: false } }));
		expect(momentOf(two, 'two').objects).toEqual({ a: { states: { open: false } } });
		expect(momentOf(record(two, 'two', onA({ states: { open: true } })), 'two')).toEqual({ id: 'two', on: 'one' });
		// One of two that is put back leaves the other.
		const both = record(fresh, 'one', onA({ states: { open: true, broken: true } }));
		const less = record(both, 'one', onA({ states: { open: false, broken: true } }));
		expect(momentOf(less, 'one').objects).toEqual({ a: { states: { broken: true } } });
		// An object without states has none in the scene for it.
		const bare = record(project, 'one', (p) => void (find(p.scene.objects, 'b').states = { lit: true }));
		expect(momentOf(bare, 'one').objects).toEqual({ b: { states: { lit: true } } });
	});

	it('shapes are switched on and off, as they are in the scene or not', () => {
		const turn =
			(id: string, enabled: boolean | undefined): Recipe =>
			(p) => {
				const shape = find(find(p.scene.objects, 'a').shapes ?? [], id);
				if (enabled === undefined) delete shape.enabled;
				else shape.enabled = enabled;
			};
		const shapes = (id: string, enabled: boolean) => ({ objects: { a: { shapes: { [id]: { enabled } } } } });
		const of = { of: 'object', id: 'a', field: 'shapes' } as const;
		holds(turn('ball', false), shapes('ball', false), { ...of, key: 'ball', from: true, to: false });
		holds(turn('off', true), shapes('off', true), { ...of, key: 'off', from: false, to: true });
		holds(turn('off', undefined), shapes('off', true), { ...of, key: 'off', from: false, to: true });
		const off = record(first(), 'one', turn('ball', false));
		expect(record(off, 'one', turn('ball', true))).toEqual(first());
		expect(momentOf(record(off, 'two', turn('ball', true)), 'two')).toMatchObject(shapes('ball', true));
	});

	it('what no moment can hold goes to the scene, beside what one can', () => {
		const project = first();
		const next = record(project, 'one', onA({ name: 'Lamp', position: [9, 0, 0], focus: [0, 1, 0] }));
		expect(find(next.scene.objects, 'a')).toEqual({
			...find(project.scene.objects, 'a'),
			name: 'Lamp',
			focus: [0, 1, 0],
		});
		expect(momentOf(next, 'one').objects).toEqual({ a: { position: [9, 0, 0] } });
		// The other one is the very same.
		expect(find(next.scene.objects, 'b')).toBe(find(project.scene.objects, 'b'));
		expect(next.scene.cameras).toBe(project.scene.cameras);
		expect(next.scene.states).toBe(project.scene.states);
		const more = record(project, 'one', (p) => void p.scene.objects.push(object('c', [0, 0, 0], [ball(1)])));
		expect(more.scene.objects.map((o) => o.id)).toEqual(['a', 'b', 'c']);
		const fewer = record(project, 'one', (p) => void p.scene.objects.pop());
		expect(fewer.scene.objects.map((o) => o.id)).toEqual(['a']);
		for (const p of [more, fewer]) expect(p.moments).toEqual(project.moments);
	});
});

describe('of cameras, queries and the scene', () => {
	const camera =
		(id: string, change: object): Recipe =>
		(p) =>
			void Object.assign(find(p.scene.cameras, id), change);
	const query =
		(id: string, change: object): Recipe =>
		(p) =>
			void Object.assign(find(p.queries, id), change);
	const night =
		(value: boolean | undefined, more: object = {}): Recipe =>
		(p) =>
			void (p.scene.states = { ...(value === undefined ? {} : { night: value }), ...more });

	it('a camera’s place and turn are recorded, and put back', () => {
		const cameras = (overlay: object, id = 'eye') => ({ cameras: { [id]: overlay } });
		const of = { of: 'camera', id: 'eye' } as const;
		const [to, from] = [
			[1, 2, 3],
			[0, 0, 0],
		];
		holds(camera('eye', { position: to }), cameras({ position: to }), { ...of, field: 'position', from, to });
		holds(camera('eye', { rotation: to }), cameras({ rotation: to }), {
			...of,
			field: 'rotation',
			from: [5, 0, 0],
			to,
		});
		const noTurn: Recipe = (p) => void delete (find(p.scene.cameras, 'eye') as { rotation?: unknown }).rotation;
		holds(noTurn, cameras({ rotation: from }), { ...of, field: 'rotation', from: [5, 0, 0], to: from });
		holds(camera('plain', { rotation: to }), cameras({ rotation: to }, 'plain'), {
			of: 'camera',
			id: 'plain',
			field: 'rotation',
			from,
			to,
		});
		const moved = record(first(), 'one', camera('eye', { position: to, rotation: to }));
		const less = record(moved, 'one', camera('eye', { position: from }));
		expect(momentOf(less, 'one')).toEqual({ id: 'one', ...cameras({ rotation: to }) });
		expect(record(less, 'one', camera('eye', { rotation: [5, 0, 0] }))).toEqual(first());
		const turned = record(first(), 'one', camera('plain', { rotation: to }));
		expect(record(turned, 'one', camera('plain', { rotation: from }))).toEqual(first());
		const two = record(moved, 'two', camera('eye', { position: from }));
		expect(momentOf(two, 'two')).toMatchObject(cameras({ position: from }));
		const named = record(first(), 'one', camera('eye', { fov: 70 }));
		expect(find(named.scene.cameras, 'eye')).toMatchObject({ fov: 70 });
		expect(named.moments).toEqual(first().moments);
	});

	it('a cursor, and whether a query is asked', () => {
		const queries = (overlay: object, id = 'pick') => ({ queries: { [id]: overlay } });
		const of = { of: 'query', id: 'pick' } as const;
		const cursor = [20, 20];
		holds(query('pick', { cursor }), queries({ cursor }), { ...of, field: 'cursor', from: [10, 10], to: cursor });
		holds(query('middle', { cursor }), queries({ cursor }, 'middle'), {
			of: 'query',
			id: 'middle',
			field: 'cursor',
			from: null,
			to: cursor,
		});
		holds(query('pick', { enabled: false }), queries({ enabled: false }), {
			...of,
			field: 'enabled',
			from: true,
			to: false,
		});
		holds(query('still', { enabled: true }), queries({ enabled: true }, 'still'), {
			of: 'query',
			id: 'still',
			field: 'enabled',
			from: false,
			to: true,
		});
		const both = record(first(), 'one', query('pick', { cursor, enabled: false }));
		const less = record(both, 'one', query('pick', { cursor: [10, 10] }));
		expect(momentOf(less, 'one')).toEqual({ id: 'one', ...queries({ enabled: false }) });
		expect(record(less, 'one', query('pick', { enabled: true }))).toEqual(first());
		const two = record(both, 'two', query('pick', { cursor: [10, 10], enabled: true }));
		expect(momentOf(two, 'two')).toMatchObject(queries({ cursor: [10, 10], enabled: true }));
		expect(record(two, 'two', query('pick', { cursor, enabled: false }))).toEqual(both);
		const far = record(first(), 'one', query('pick', { length: 7 }));
		expect([find(far.queries, 'pick'), far.moments]).toEqual([
			{ ...find(first().queries, 'pick'), length: 7 },
			first().moments,
		]);
	});

	it('states of the scene; one it does not know stays there too', () => {
		holds(
			night(true),
			{ states: { night: true } },
			{
				of: 'scene',
				id: '',
				field: 'states',
				key: 'night',
				from: false,
				to: true,
			},
		);
		const fresh = record(first(), 'one', night(false, { rain: 2 }));
		expect([momentOf(fresh, 'one').states, fresh.scene.states]).toEqual([{ rain: 2 }, { night: false, rain: 2 }]);
		const dark = record(first(), 'one', night(true));
		expect(record(dark, 'one', night(false))).toEqual(first());
		const two = record(dark, 'two', night(false));
		expect(momentOf(two, 'two').states).toEqual({ night: false });
		expect(record(two, 'two', night(true))).toEqual(dark);
	});

	it('where there is no such moment nothing is recorded, told or taken out', () => {
		const project = first();
		const plain = copy(project);
		expect(recordInto(project, 'never', plain, plain)).toBe(plain);
		expect(differencesOf(project, 'never')).toEqual([]);
		const one = record(project, 'one', onA({ active: false }));
		const [difference] = differencesOf(one, 'one') as [Difference];
		const kept = copy(one);
		removeDifference(one, 'never', difference);
		removeDifference(one, 'one', { ...difference, id: 'b' });
		removeDifference(one, 'one', { ...difference, of: 'camera' });
		removeDifference(one, 'one', { ...difference, of: 'scene', key: 'night' });
		expect(one).toEqual(kept);
	});

	it('what is emptied is left out, and the rest stays', () => {
		const both = record(first(), 'one', (p) => {
			for (const o of p.scene.objects) o.active = false;
		});
		const less = record(both, 'one', onA({ active: true }));
		expect(momentOf(less, 'one')).toEqual({ id: 'one', objects: { b: { active: false } } });
	});
});
