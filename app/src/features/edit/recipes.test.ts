/** What is done to objects by hand, each on a small scene with its figures worked out. */
import { buildWorld, checkProject, type Project, type SceneObject, type Shape, type Vec3 } from '@frelk/core';
import { describe, expect, it } from 'vitest';
import {
	addObject,
	alignObjects,
	copyObjects,
	distributeObjects,
	duplicateObjects,
	extentOf,
	freshId,
	groupObjects,
	hangUnder,
	isHidden,
	isLocked,
	localOf,
	pasteObjects,
	putObject,
	readClip,
	setFlag,
	shapeFilling,
	shiftObject,
	snapStep,
	topmost,
} from './objects';
import { heightBelow, isLevel, isStanding, isWithin, LEVEL, standObjects } from './standing';

const box = (size: Vec3, more: object = {}): Shape => ({ id: 's', kind: 'box', size, ...more }) as Shape;
const thing = (id: string, position: Vec3, more: Partial<SceneObject> = {}): SceneObject => ({
	id,
	layer: 'a',
	position,
	shapes: [box([1, 1, 1])],
	...more,
});
function scene(objects: SceneObject[], more: Partial<Project['scene']> = {}): Project {
	const made = {
		format: 'frelk/1',
		id: 'p',
		name: 'P',
		scene: { kind: 'space', layers: [{ id: 'a' }, { id: 'b' }], tags: [], objects, cameras: [], ...more },
		queries: [],
	};
	const checked = checkProject(JSON.parse(JSON.stringify(made)));
	if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
	return checked.project;
}
const of = (p: Project, id: string): SceneObject => {
	const found = p.scene.objects.find((o) => o.id === id);
	if (!found) throw new Error(`no ${id}`);
	return found;
};

describe('an id', () => {
	it('is the wish, or the next that is free', () => {
		expect(freshId(['crate'], 'crate')).toBe('crate-2');
		expect(freshId(['crate', 'crate-2', 'crate-3'], 'crate-2')).toBe('crate-4');
		expect(freshId(['crate-12'], 'crate-12')).toBe('crate-2');
		expect(freshId(['a'], 'b')).toBe('b');
	});
});

describe('a shape that fills a box', () => {
	const fill = (kind: Shape['kind'], flat = false) => {
		const { id: _, ...rest } = shapeFilling(kind, 's', 0.8, 0.6, 0.4, flat);
		return rest;
	};

	it('has its extents, each kind in its own words', () => {
		expect(fill('box')).toEqual({ kind: 'box', size: [0.8, 0.6, 0.4] });
		expect(fill('sphere')).toEqual({ kind: 'sphere', radius: 0.4 });
		expect(fill('circle')).toEqual({ kind: 'circle', radius: 0.4 });
		expect(fill('capsule')).toEqual({ kind: 'capsule', radius: 0.2, height: 0.6 });
		expect(fill('capsule', true)).toEqual({ kind: 'capsule', radius: 0.3, height: 0.6 });
		expect(shapeFilling('capsule', 's', 2, 1, 2, false)).toMatchObject({ radius: 1, height: 2 });
		expect(shapeFilling('capsule', 's', 0, 1, 0, false)).toMatchObject({ radius: 0.005 });
		expect(fill('cylinder')).toEqual({ kind: 'cylinder', radius: 0.4, height: 0.6 });
		expect(fill('rect')).toEqual({ kind: 'rect', size: [0.8, 0.6] });
		const polygon = fill('polygon') as { points: readonly (readonly number[])[] };
		expect(polygon.points).toHaveLength(6);
		expect(polygon.points[0]).toEqual([0.4, 0]);
		expect(polygon.points[1]?.[0]).toBeCloseTo(0.2, 6);
		expect(polygon.points[1]?.[1]).toBeCloseTo(0.3 * Math.sin(Math.PI / 3), 5);
		expect(polygon.points[3]?.[0]).toBeCloseTo(-0.4, 6);
		const ends = (points: readonly (readonly number[])[]) =>
			[0, 1, 2].map((k) => [Math.min(...points.map((q) => q[k])), Math.max(...points.map((q) => q[k]))]);
		expect(ends((fill('hull') as { points: readonly (readonly number[])[] }).points)).toEqual([
			[-0.4, 0.4],
			[-0.3, 0.3],
			[-0.2, 0.2],
		]);
		const mesh = fill('mesh') as { vertices: number[]; triangles: number[] };
		expect(ends([0, 3, 6, 9].map((i) => mesh.vertices.slice(i, i + 3)))).toEqual([
			[-0.4, 0.4],
			[-0.3, 0.3],
			[-0.2, 0.2],
		]);
		expect(mesh.triangles).toEqual([0, 1, 2, 0, 2, 3]);
	});
});

describe('a new object', () => {
	it('is named by its kind and number, stands on its origin, and lies on the first layer or the one for things', () => {
		const p = scene([]);
		expect(addObject(p, 'box', [1, 0, 2], [0.8, 0.6, 0.4])).toBe('box');
		expect(addObject(p, 'box', [1, 0, 2], [0.8, 0.6, 0.4], { yaw: 30 })).toBe('box-2');
		expect(of(p, 'box')).toEqual({
			id: 'box',
			name: 'Box',
			position: [1, 0, 2],
			focus: [0, 0.3, 0],
			layer: 'a',
			shapes: [{ id: 'body', kind: 'box', size: [0.8, 0.6, 0.4], at: [0, 0.3, 0] }],
		});
		expect(of(p, 'box-2')).toMatchObject({ name: 'Box 2', rotation: [30, 0, 0] });
		addObject(p, 'sphere', [0, 0, 0], [1, 1, 1], { name: 'Door', layer: { id: 'doors', name: 'Doors' } });
		addObject(p, 'sphere', [0, 0, 0], [1, 1, 1], { name: 'Door', layer: { id: 'doors', name: 'Doors' } });
		expect(p.scene.layers.filter((l) => l.id === 'doors')).toEqual([{ id: 'doors', name: 'Doors' }]);
		expect([of(p, 'door').layer, of(p, 'door-2').name]).toEqual(['doors', 'Door 2']);
		const things = scene([], { layers: [{ id: 'a' }, { id: 'things' }] });
		expect(of(things, addObject(things, 'box', [0, 0, 0], [1, 1, 1])).layer).toBe('things');
		const bare = scene([]);
		bare.scene.layers = [];
		expect(of(bare, addObject(bare, 'box', [0, 0, 0], [1, 1, 1])).layer).toBe('things');
		expect(bare.scene.layers).toEqual([{ id: 'things', name: 'Things' }]);
		// A name that has its number keeps it.
		putObject(bare, { name: 'Crate 4', shapes: [] });
		expect(of(bare, 'crate-4').name).toBe('Crate 4');
	});

	it('of a flat scene lies about its origin', () => {
		const p = scene([], { kind: 'flat' });
		const { focus, shapes } = of(p, addObject(p, 'rect', [1, 2, 3], [0.8, 0.6, 0]));
		expect([focus, shapes]).toEqual([undefined, [{ id: 'body', kind: 'rect', size: [0.8, 0.6] }]]);
	});
});

describe('copies', () => {
	it('lie beside their originals, hang on each other as they did, and stand for each other', () => {
		const p = scene([
			thing('crate', [1, 0, 0], { name: 'Crate' }),
			thing('lid', [0, 1, 0], { parent: 'crate' }),
			thing('plate', [3, 0, 0], { standsFor: 'crate' }),
			thing('alone', [9, 0, 0], { parent: 'lid', standsFor: 'crate' }),
		]);
		expect(duplicateObjects(p, ['crate', 'plate'], [0.5, 0, 0.25])).toEqual(['crate-2', 'plate-2']);
		expect(p.scene.objects.map((o) => o.id)).toEqual([
			'crate',
			'lid',
			'plate',
			'alone',
			'crate-2',
			'lid-2',
			'plate-2',
			'alone-2',
		]);
		expect(of(p, 'crate-2')).toMatchObject({ name: 'Crate 2', position: [1.5, 0, 0.25] });
		expect(of(p, 'lid-2')).toMatchObject({ name: 'lid 2', parent: 'crate-2', position: [0, 1, 0] });
		expect(of(p, 'plate-2')).toMatchObject({ standsFor: 'crate-2', position: [3.5, 0, 0.25] });
		expect(of(p, 'alone-2')).toMatchObject({ parent: 'lid-2', standsFor: 'crate-2' });
		// One that hangs on what is not copied goes on hanging there.
		duplicateObjects(p, ['lid'], [1, 0, 0]);
		expect(of(p, 'lid-3')).toMatchObject({ parent: 'crate', position: [1, 1, 0], name: 'lid 3' });
		expect(of(p, 'alone-3')).toMatchObject({ parent: 'lid-3', standsFor: 'crate' });
	});

	it('take layers, tags with all above them, and sides along, and leave behind what is not there', () => {
		const from = scene(
			[
				thing('crate', [1, 0, 0], {
					tags: ['gull'],
					side: 'us',
					parent: 'cart',
					standsFor: 'cart',
					shapes: [box([1, 1, 1], { layer: 'b' })],
				}),
				thing('cart', [0, 0, 0], { layer: 'c' }),
			],
			{
				layers: [{ id: 'a' }, { id: 'b', name: 'B' }, { id: 'c' }],
				tags: [{ id: 'bird' }, { id: 'gull', under: 'bird' }, { id: 'other' }],
				sides: [{ id: 'us' }, { id: 'them' }],
			},
		);
		const clip = copyObjects(from, ['crate']);
		expect(clip).toMatchObject({ frelk: 'objects', kind: 'space', roots: ['crate'] });
		expect([clip.layers.map((l) => l.id), clip.tags.map((t) => t.id), clip.sides.map((s) => s.id)]).toEqual([
			['a', 'b'],
			['bird', 'gull'],
			['us'],
		]);
		const to = scene([], { layers: [{ id: 'b', name: 'Mine' }], tags: [{ id: 'bird' }] });
		expect(pasteObjects(to, clip, [0, 0, 2])).toEqual(['crate']);
		expect(to.scene.layers).toEqual([{ id: 'b', name: 'Mine' }, { id: 'a' }]);
		expect(to.scene.tags.map((t) => t.id)).toEqual(['bird', 'gull']);
		expect(to.scene.sides).toEqual([{ id: 'us' }]);
		expect(of(to, 'crate')).toMatchObject({ position: [1, 0, 2] });
		expect([of(to, 'crate').parent, of(to, 'crate').standsFor]).toEqual([undefined, undefined]);
		expect(checkProject(to).ok).toBe(true);
		// Where they came from both are there.
		pasteObjects(from, clip, [0, 0, 2]);
		expect(of(from, 'crate-2')).toMatchObject({ parent: 'cart', standsFor: 'cart' });
		expect(readClip(JSON.stringify(clip))).toEqual(clip);
		for (const text of [
			'',
			'null',
			'7',
			'{"frelk":"objects"}',
			'{"frelk":"objects","objects":[]}',
			'{"frelk":"x","objects":[],"roots":[]}',
		])
			expect(readClip(text)).toBeNull();
		expect(() => pasteObjects(scene([], { kind: 'flat' }), clip, [0, 0, 0])).toThrow(
			'these objects are from a space scene; this one is flat',
		);
	});
});

describe('what hangs on what', () => {
	const tilted = () =>
		scene([
			thing('base', [10, 0, 0], { rotation: [90, 0, 0], scale: [2, 2, 2] }),
			thing('crate', [1, 2, 3], { rotation: [30, 0, 0] }),
			thing('lid', [1, 0, 0], { parent: 'base', rotation: [15, 0, 0] }),
		]);

	it('is hung and let go without moving in the world', () => {
		const p = tilted();
		hangUnder(p, buildWorld(p), 'crate', 'base');
		expect(of(p, 'crate').parent).toBe('base');
		expect(of(p, 'crate').scale).toEqual([0.5, 0.5, 0.5]);
		expect(of(p, 'crate').rotation).toEqual([-60, 0, 0]);
		const now = buildWorld(p).objectById.get('crate');
		for (let k = 0; k < 3; k++) expect(now?.position[k]).toBeCloseTo([1, 2, 3][k], 5);
		hangUnder(p, buildWorld(p), 'lid', null);
		expect(of(p, 'lid').parent).toBeUndefined();
		expect(of(p, 'lid')).toMatchObject({ position: [10, 0, -2], rotation: [105, 0, 0], scale: [2, 2, 2] });
		const q = scene([thing('a', [0, 0, 0]), thing('b', [1, 0, 0], { rotation: [10, 0, 0], scale: [3, 1, 1] })]);
		hangUnder(q, buildWorld(q), 'a', 'b');
		hangUnder(q, buildWorld(q), 'a', null);
		// Turned and sized as nothing is again nothing.
		expect([of(q, 'a').rotation, of(q, 'a').scale]).toEqual([undefined, undefined]);
		hangUnder(q, buildWorld(q), 'nobody', 'b');
	});

	it('is moved in the world however what it hangs on is turned and sized', () => {
		const p = tilted();
		const world = buildWorld(p);
		shiftObject(p, world, 'lid', [0, 1, -4]);
		shiftObject(p, world, 'crate', [0.5, 0, 0]);
		shiftObject(p, world, 'nobody', [1, 1, 1]);
		const after = buildWorld(p);
		for (let k = 0; k < 3; k++)
			expect(
				(after.objectById.get('lid')?.position[k] ?? 0) - (world.objectById.get('lid')?.position[k] ?? 0),
			).toBeCloseTo([0, 1, -4][k], 6);
		expect(of(p, 'crate').position).toEqual([1.5, 2, 3]);
		const object = after.objectById.get('base');
		if (!object) throw new Error('no base');
		// A quarter turn: what is ahead of it (−Z of its own) lies toward −X of the world.
		expect(localOf(object, [6, 2, 0]).map((v) => v + 0)).toEqual([0, 1, -2]);
	});

	it('is grouped in the middle, at the height of the lowest', () => {
		const p = scene([
			thing('a', [0, 1, 0], { layer: 'b' }),
			thing('b', [4, 3, 2]),
			thing('c', [0, 1, 0], { parent: 'b' }),
		]);
		const before = buildWorld(p);
		expect(groupObjects(p, before, ['a', 'b', 'c'])).toBe('group');
		expect(of(p, 'group')).toEqual({ id: 'group', name: 'Group', position: [2, 1, 1], layer: 'b' });
		expect(of(p, 'a')).toMatchObject({ parent: 'group', position: [-2, 0, -1] });
		expect(of(p, 'b')).toMatchObject({ parent: 'group', position: [2, 2, 1] });
		expect(of(p, 'c').parent).toBe('b');
		expect(groupObjects(p, buildWorld(p), ['c'])).toBe('group-2');
		expect(of(p, 'group-2').name).toBe('Group 2');
		const flat = scene([thing('a', [0, 0, 1], { shapes: [] }), thing('b', [4, 2, 3], { shapes: [] })], {
			kind: 'flat',
		});
		groupObjects(flat, buildWorld(flat), ['a', 'b']);
		expect(of(flat, 'group').position).toEqual([2, 1, 2]);
	});

	it('topmost are those that hang on none of the others', () => {
		const p = scene([
			thing('a', [0, 0, 0]),
			thing('b', [0, 0, 0], { parent: 'a' }),
			thing('c', [0, 0, 0], { parent: 'b' }),
		]);
		const world = buildWorld(p);
		const ids = (...list: string[]) => topmost(world, list).map((o) => o.id);
		expect(ids('a', 'c')).toEqual(['a']);
		expect(ids('b', 'c', 'nobody')).toEqual(['b']);
		expect(ids('c', 'b', 'a')).toEqual(['a']);
		const c = world.objectById.get('c');
		if (!c) throw new Error('no c');
		expect([isWithin(c, new Set(['a'])), isWithin(c, new Set(['c'])), isWithin(c, new Set(['x']))]).toEqual([
			true,
			true,
			false,
		]);
	});
});

describe('lining up', () => {
	const row = () =>
		scene([
			thing('a', [0, 0, 0], { shapes: [box([2, 1, 1])] }),
			thing('b', [5, 0, 0]),
			thing('c', [11, 0, 0], { shapes: [box([4, 1, 1])] }),
			thing('bare', [3, 7, 0], { shapes: [] }),
		]);
	const xs = (p: Project) => ['a', 'b', 'c'].map((id) => of(p, id).position?.[0]);

	it('is by the edge or middle of the last', () => {
		for (const [edge, want] of [
			['low', [10, 9.5, 11]],
			['high', [12, 12.5, 11]],
			['middle', [11, 11, 11]],
		] as const) {
			const p = row();
			alignObjects(p, buildWorld(p), ['a', 'b', 'c'], 0, edge);
			expect(xs(p)).toEqual(want);
		}
		const p = row();
		alignObjects(p, buildWorld(p), [], 0, 'low');
		expect(p).toEqual(row());
		alignObjects(p, buildWorld(p), ['a', 'bare'], 1, 'low');
		expect(of(p, 'a').position).toEqual([0, 7.5, 0]);
	});

	it('spreads the middles between the outermost two', () => {
		const p = row();
		distributeObjects(p, buildWorld(p), ['c', 'a', 'b'], 0);
		expect(xs(p)).toEqual([0, 5.5, 11]);
		const two = row();
		distributeObjects(two, buildWorld(two), ['a', 'c'], 0);
		expect(two).toEqual(row());
	});

	it('by hand snaps to the nearest face within reach, or to the grid', () => {
		expect(snapStep(1, 2, [2.04, 0.97], 0.25, 0.05)).toBeCloseTo(-0.03, 9);
		expect(snapStep(1, 2, [2.04], 0, 0.04)).toBe(0);
		expect(snapStep(1, 2, [2.04], 0, 0.041)).toBeCloseTo(0.04, 9);
		expect(snapStep(1.13, 2, [], 0.25, 0.05)).toBeCloseTo(0.12, 9);
		const p = row();
		const world = buildWorld(p);
		const object = (id: string) => world.objectById.get(id) as never;
		expect(extentOf(world, object('a'), 0)).toEqual([-1, 1]);
		expect(extentOf(world, object('bare'), 1)).toEqual([7, 7]);
	});
});

describe('flags', () => {
	it('are kept among the extras, and leave nothing behind', () => {
		const p = scene([thing('a', [0, 0, 0], { extras: { note: 1 } }), thing('b', [0, 0, 0])]);
		setFlag(p, ['a', 'b'], 'locked', true);
		setFlag(p, ['a'], 'hidden', true);
		expect([of(p, 'a').extras, of(p, 'b').extras]).toEqual([{ note: 1, locked: true, hidden: true }, { locked: true }]);
		expect([isHidden(of(p, 'a')), isHidden(of(p, 'b')), isLocked(of(p, 'b')), isLocked(undefined)]).toEqual([
			true,
			false,
			true,
			false,
		]);
		setFlag(p, ['a', 'b'], 'locked', false);
		expect([of(p, 'a').extras, 'extras' in of(p, 'b')]).toEqual([{ note: 1, hidden: true }, false]);
		expect(isLocked({ ...of(p, 'b'), extras: { locked: 1 } })).toBe(false);
	});
});

describe('standing', () => {
	const floor = (y = 0, more: Partial<SceneObject> = {}) =>
		thing('floor', [0, y, 0], { shapes: [box([20, 1, 20])], ...more });
	const drop = (objects: SceneObject[], id = 'crate') => {
		const p = scene(objects);
		standObjects(p, buildWorld(p), [id]);
		return of(p, id).position?.[1];
	};

	it('puts things on the highest surface below their footprint, or on the ground', () => {
		expect(drop([thing('crate', [0, 5, 0])])).toBe(0.5);
		expect(drop([thing('crate', [0, 5, 0]), floor(2)])).toBe(3);
		expect(drop([thing('crate', [0, 1.2, 0]), floor()])).toBe(1);
		// Sunk by less than half it is lifted out; by more it stands below.
		expect(drop([thing('crate', [0, 0.6, 0]), floor()])).toBe(1);
		expect(drop([thing('crate', [0, 2.4, 0]), floor(3)])).toBe(0.5);
		// On a corner of its footprint is on it.
		expect(drop([thing('crate', [0, 5, 0]), thing('post', [0.44, 1, 0.44], { shapes: [box([0.1, 2, 0.1])] })])).toBe(
			2.5,
		);
		expect(drop([thing('crate', [0, 5, 0]), thing('post', [0.7, 1, 0.7], { shapes: [box([0.1, 2, 0.1])] })])).toBe(0.5);
		// Not on what it carries, what is off, nor on sensors.
		expect(drop([thing('crate', [0, 5, 0]), thing('pad', [0, -2, 0], { parent: 'crate' })])).toBe(0.5);
		expect(drop([thing('crate', [0, 5, 0]), floor(2, { active: false })])).toBe(0.5);
		expect(drop([thing('crate', [0, 5, 0]), floor(2, { shapes: [box([20, 1, 20], { role: 'sensor' })] })])).toBe(0.5);
	});

	it('is told of what is within three centimetres of it', () => {
		const told = (y: number) => {
			const world = buildWorld(scene([thing('crate', [0, y, 0]), floor(-0.5)]));
			return isStanding(world, world.objectById.get('crate') as never);
		};
		expect([told(0.5), told(0.529), told(0.531), told(0.471), told(0.469)]).toEqual([true, true, false, true, false]);
		expect([isLevel([0, LEVEL + 1e-9, 0]), isLevel([0, LEVEL, 0])]).toEqual([true, false]);
	});

	it('looks down from a height, past what is to be skipped', () => {
		const world = buildWorld(scene([floor(2), thing('shelf', [0, 6, 0], { shapes: [box([4, 1, 4])] })]));
		expect(heightBelow(world, 0, 0, 9, () => false)).toBeCloseTo(6.5, 9);
		expect(heightBelow(world, 0, 0, 9, (s) => s.object.id === 'shelf')).toBeCloseTo(2.5, 9);
		expect(heightBelow(world, 0, 0, 5, () => false)).toBeCloseTo(2.5, 9);
		expect(heightBelow(world, 3, 0, 9, () => false)).toBeCloseTo(2.5, 9);
		expect(heightBelow(world, 50, 0, 9, () => false)).toBe(0);
		expect(heightBelow(world, 50, 0, -3, () => false)).toBe(-3);
	});
});
