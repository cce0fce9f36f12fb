import { buildWorld, checkProject, type Project, SHAPE_KINDS, type ShapeKind } from '@frelk/core';
import { eulerOf, rotationOf } from '@frelk/core/geometry';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import {
	addObject,
	alignObjects,
	copyObjects,
	distributeObjects,
	duplicateObjects,
	extentOf,
	FLAT_SHAPES,
	freshId,
	groupObjects,
	hangUnder,
	isHidden,
	pasteObjects,
	readClip,
	SPACE_SHAPES,
	setFlag,
	snapStep,
} from './objects';

const valid = (p: Project) => {
	const checked = checkProject(p);
	expect(checked.ok ? [] : checked.problems).toEqual([]);
};
const near = (a: readonly number[], b: readonly number[]) => {
	for (const [i, v] of a.entries()) expect(v).toBeCloseTo(b[i], 5);
};

describe('objects by hand', () => {
	it('get free ids that can be read', () => {
		expect(freshId([], 'Crate 4')).toBe('crate-4');
		expect(freshId(['crate', 'crate-2'], 'crate')).toBe('crate-3');
		expect(freshId(['crate-4'], 'crate-4')).toBe('crate-2');
		expect(freshId([], '???')).toBe('item');
	});

	it('of every kind fill the size they were drawn at', () => {
		for (const [name, kinds] of [
			['harl-quay', SPACE_SHAPES],
			['pursers-desk', FLAT_SHAPES],
		] as const) {
			const p = example(name);
			const ids = kinds.map((kind: ShapeKind) => addObject(p, kind, [2, 0, 1], [0.8, 0.6, 0.4]));
			valid(p);
			const world = buildWorld(p);
			for (const id of ids) {
				const o = world.objectById.get(id);
				const [low, high] = o ? extentOf(world, o, 1) : [0, 0];
				expect(high - low).toBeGreaterThan(0.3);
				if (!world.flat && o?.def.shapes?.[0]?.kind === 'box') expect(low).toBeCloseTo(0, 5);
			}
		}
		expect(new Set([...SPACE_SHAPES, ...FLAT_SHAPES]).size).toBe(SHAPE_KINDS.length);
	});

	it('are copied with what hangs under them, and pasted into another project with what they name', () => {
		const p = example('harl-quay');
		const parent = p.scene.objects.find((o) => p.scene.objects.some((c) => c.parent === o.id));
		const before = p.scene.objects.length;
		const [copy] = duplicateObjects(p, [parent?.id ?? ''], [1, 0, 0]);
		valid(p);
		expect(p.scene.objects.length).toBeGreaterThan(before + 1);
		expect(p.scene.objects.some((o) => o.parent === copy)).toBe(true);

		const clip = readClip(JSON.stringify(copyObjects(p, ['crank'])));
		expect(clip).not.toBeNull();
		const other: Project = {
			format: 'frelk/1',
			id: 'o',
			name: 'Other',
			scene: { kind: 'space', layers: [], tags: [], objects: [], cameras: [] },
			queries: [],
		};
		if (clip) pasteObjects(other, clip, [0, 0, 0]);
		valid(other);
		expect(other.scene.objects.map((o) => o.id)).toContain('crank');
		expect(() => clip && pasteObjects(example('pursers-desk'), clip, [0, 0, 0])).toThrow('flat');
		expect(readClip('hello')).toBeNull();
		expect(readClip('{"a":1}')).toBeNull();
	});

	it('stay where they are when grouped and hung elsewhere', () => {
		const p = example('harl-quay');
		const world = buildWorld(p);
		const ids = world.objects
			.filter((o) => o.shapes.length > 0 && o.def.standsFor === undefined)
			.slice(2, 6)
			.map((o) => o.id);
		groupObjects(p, world, ids);
		valid(p);
		const after = buildWorld(p);
		for (const id of ids) near(after.objectById.get(id)?.position ?? [], world.objectById.get(id)?.position ?? []);

		const q = example('harl-quay');
		const [a, b] = [world.objects[3], world.objects[8]];
		const frame = q.scene.objects.find((o) => o.id === b?.id);
		if (frame) {
			frame.rotation = [35, 10, 0];
			frame.scale = [2, 2, 2];
		}
		const tilted = buildWorld(q);
		hangUnder(q, tilted, a?.id ?? '', b?.id ?? '');
		near(buildWorld(q).objectById.get(a?.id ?? '')?.position ?? [], tilted.objectById.get(a?.id ?? '')?.position ?? []);
		near(
			[...(buildWorld(q).objectById.get(a?.id ?? '')?.rotation ?? [])],
			[...(tilted.objectById.get(a?.id ?? '')?.rotation ?? [])],
		);
	});

	it('line up by an edge and spread evenly', () => {
		const p = example('harl-quay');
		const ids = [
			addObject(p, 'box', [0, 0, 0], [1, 1, 1]),
			addObject(p, 'box', [1, 0, 3], [2, 1, 1]),
			addObject(p, 'box', [9, 0, 1], [1, 1, 1]),
		];
		const world = buildWorld(p);
		alignObjects(p, world, ids, 0, 'low');
		const aligned = buildWorld(p);
		for (const id of ids) expect(extentOf(aligned, aligned.objectById.get(id) as never, 0)[0]).toBeCloseTo(8.5, 5);
		distributeObjects(p, aligned, ids, 2);
		const spread = buildWorld(p);
		expect(ids.map((id) => spread.objectById.get(id)?.position[2])).toEqual([0, 3, 1.5]);
	});

	it('are hidden without changing what queries see', () => {
		const p = example('harl-quay');
		setFlag(p, ['crank'], 'hidden', true);
		valid(p);
		expect(isHidden(p.scene.objects.find((o) => o.id === 'crank'))).toBe(true);
		setFlag(p, ['crank'], 'hidden', false);
		expect(p).toEqual(example('harl-quay'));
	});

	it('snap to faces before the grid', () => {
		expect(snapStep(0.98, 1.98, [1], 0.25, 0.05)).toBeCloseTo(0.02);
		expect(snapStep(1.02, 1.52, [1.5, 7], 0, 0.05)).toBeCloseTo(-0.02);
		expect(snapStep(1.1, 2, [5], 0.25, 0.05)).toBeCloseTo(-0.1);
		expect(snapStep(1.1, 2, [], 0, 0.05)).toBe(0);
	});
});

it('a rotation is read back from its matrix', () => {
	for (const r of [
		[30, 20, 10],
		[-120, -60, 170],
		[0, 0, 45],
		[50, 90, 0],
		[50, -90, 0],
	] as [number, number, number][])
		near(eulerOf(rotationOf(r)), r);
});
