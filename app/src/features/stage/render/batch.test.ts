/** Shapes in buffers: what moves or looks different is written over in place, and who is away keeps its place. */
import { buildWorld, moveObjects, type Project, type WorldShape } from '@frelk/core';
import type * as THREE from 'three';
import { describe, expect, it } from 'vitest';
import { blankProject } from '../../../data/projects';
import { Batch, type Palette } from './batch';
import type { Emphasis } from './emphasis';

const palette: Palette = {
	ground: '#ffffff',
	ink: '#000000',
	line: '#888888',
	tones: { chosen: '#aa5500', tie: '#aa00aa', cut: '#aa0000', outranked: '#0000aa', short: '#00aa00' },
	dark: false,
};
const project: Project = blankProject('space', 'Batch');
project.scene.objects = ['a', 'b', 'c'].map((id, i) => ({
	id,
	position: [3 * i, 0, 0] as [number, number, number],
	layer: project.scene.layers[0]?.id ?? '',
	shapes: [{ id: 's', kind: 'box' as const, size: [1, 1, 1] as [number, number, number] }],
}));

function made() {
	const world = buildWorld(project);
	const batch = new Batch(new WeakMap());
	const [fill] = batch.group.children as [THREE.Mesh];
	const plain: Emphasis[] = world.objects.map(() => 'plain');
	const tints = world.objects.map(() => '#123456');
	const update = (away?: ReadonlySet<string>, emphases = plain) =>
		batch.update(world.shapes, false, palette, emphases, tints, (s: WorldShape) => s.body.z, false, away);
	/** The middle of the corners of each box, along X. */
	const middles = () => {
		const { array, count } = fill.geometry.getAttribute('position') as THREE.BufferAttribute;
		const each = count / 3;
		return [0, 1, 2].map((i) => {
			let sum = 0;
			for (let k = 0; k < each; k++) sum += array[3 * (i * each + k)] ?? Number.NaN;
			return sum / each;
		});
	};
	return { world, fill, update, middles };
}

describe('shapes in buffers', () => {
	it('stand where their objects stand, and go with them in place', () => {
		const { world, fill, update, middles } = made();
		expect(update()).toBe(true);
		expect(middles()).toEqual([0, 3, 6].map((x) => expect.closeTo(x, 5)));
		const { geometry } = fill;
		expect(update()).toBe(false);
		const b = world.objectById.get('b');
		if (!b) throw new Error('no b');
		moveObjects(world, new Map([['b', { ...b.def, position: [4, 0, 0] }]]));
		expect(update()).toBe(true);
		expect(middles()).toEqual([0, 4, 6].map((x) => expect.closeTo(x, 5)));
		expect(fill.geometry).toBe(geometry);
	});

	it('who is away is nowhere near, and is back where it was, in the same buffers', () => {
		const { fill, update, middles } = made();
		update();
		const { geometry } = fill;
		expect(update(new Set(['b']))).toBe(true);
		expect(middles()[1]).toBeGreaterThan(1e9);
		expect([middles()[0], middles()[2]]).toEqual([0, 6].map((x) => expect.closeTo(x, 5)));
		expect(update(new Set(['b']))).toBe(false);
		expect(update()).toBe(true);
		expect(middles()).toEqual([0, 3, 6].map((x) => expect.closeTo(x, 5)));
		expect(fill.geometry).toBe(geometry);
	});

	it('look as strongly as they are to look, and only who changes is written', () => {
		const { fill, update } = made();
		update();
		const colours = () => {
			const { array, count } = fill.geometry.getAttribute('color') as THREE.BufferAttribute;
			return [0, 1, 2].map((i) => [...array].slice(i * count, i * count + 3).join());
		};
		const [was] = colours();
		expect(colours()).toEqual([was, was, was]);
		expect(update(undefined, ['plain', 'chosen', 'plain'])).toBe(true);
		const [first, chosen, last] = colours();
		expect([first, last]).toEqual([was, was]);
		expect(chosen).not.toBe(was);
		expect(update(undefined, ['plain', 'chosen', 'plain'])).toBe(false);
		expect(update()).toBe(true);
		expect(colours()).toEqual([was, was, was]);
	});
});
