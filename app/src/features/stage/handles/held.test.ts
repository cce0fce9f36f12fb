/** Every handle stands where its value says, and what it sets is what it then holds: on scenes in which each kind occurs. */
import {
	Answerer,
	buildWorld,
	checkProject,
	isNote,
	type Project,
	placementOf,
	type Query,
	tripleOf,
	type Vec3,
} from '@frelk/core';
import { describe, expect, it } from 'vitest';
import { cameraHandles, lookedAt } from './camera-handles';
import type { Handle } from './handles';
import { objectHandles, placeAt, stepOf } from './object-handles';
import { queryHandles } from './query-handles';

const own = { id: 's', kind: 'box', size: [1, 2, 0.5] };
const SPACE = {
	format: 'frelk/1',
	id: 'space',
	name: 'Space',
	scene: {
		kind: 'space',
		layers: [{ id: 'a' }],
		tags: [],
		objects: [
			{
				id: 'base',
				layer: 'a',
				position: [1, 0.5, -2],
				rotation: [40, 0, 0],
				scale: [2, 1, 2],
				shapes: [own],
				focus: [0.2, 0.4, 0.1],
			},
			{
				id: 'many',
				layer: 'a',
				parent: 'base',
				position: [0.5, 0, 0.25],
				rotation: [25, 0, 0],
				shapes: [
					{ id: 'ball', kind: 'sphere', radius: 0.5, at: [0, 0.5, 0] },
					{ id: 'pill', kind: 'capsule', radius: 0.25, height: 1.5, at: [1, 0, 0] },
					{ id: 'drum', kind: 'cylinder', radius: 0.3, height: 0.8, at: [0, 0, 2], rotation: [0, 90, 0] },
				],
			},
			{ id: 'me', layer: 'a', position: [-1, 0, 3], rotation: [-30, 0, 0], shapes: [] },
		],
		cameras: [
			{ id: 'eye', object: 'me', position: [0, 1.6, 0], rotation: [10, -20, 0], projection: 'perspective', fov: 60 },
			{ id: 'free', name: 'Free', position: [0, 3, 9], rotation: [-15, -30, 0], projection: 'perspective', fov: 60 },
		],
	},
	queries: [
		{
			id: 'ray-point',
			kind: 'ray',
			from: { point: [0.5, 1, 3] },
			to: { point: [1, 0.5, -3] },
			range: { min: 1, max: 4 },
		},
		{
			id: 'ray-object',
			kind: 'ray',
			from: { object: 'me', offset: [0, 1.6, 0] },
			to: { object: 'base', offset: [0.1, 0.2, 0] },
		},
		{
			id: 'ray-aim',
			kind: 'ray',
			from: { object: 'me', offset: [0, 1, 0] },
			aim: { along: [0.6, 0, -0.8], of: 'me' },
			length: 6,
			assist: { by: 'distance', within: 0.4 },
		},
		{
			id: 'ray-world',
			kind: 'ray',
			from: { point: [0, 1, 3] },
			aim: { along: [0.48, 0.6, -0.64] },
			length: 5,
			assist: { by: 'angle', within: 8 },
			view: { within: 30 },
		},
		{ id: 'ray-eye', kind: 'ray', from: { point: [0, 1, 3] }, aim: { along: [0, 0, -1], of: 'eye' }, length: 300 },
		{
			id: 'sweep-box',
			kind: 'sweep',
			from: { point: [0, 1, 3] },
			aim: { along: [0, 0, -1] },
			length: 4,
			shape: { kind: 'box', size: [0.4, 0.6, 0.8] },
		},
		{
			id: 'sweep-pill',
			kind: 'sweep',
			from: { point: [0, 1, 3] },
			aim: { along: [0, 0, -1] },
			length: 4,
			shape: { kind: 'capsule', radius: 0.2, height: 1 },
		},
		{
			id: 'around',
			kind: 'overlap',
			at: { point: [0, 1, 0] },
			shape: { kind: 'sphere', radius: 1.5 },
			range: { max: 3 },
		},
		{
			id: 'before',
			kind: 'overlap',
			asker: 'me',
			at: { object: 'me', offset: [0, 1, -1] },
			shape: { kind: 'cylinder', radius: 0.5, height: 1 },
			view: { within: 60 },
		},
		{ id: 'like', kind: 'overlap', at: { object: 'base' }, shape: { like: 'base', grow: 0.2 } },
		{
			id: 'swing',
			kind: 'hitbox',
			asker: 'me',
			boxes: [
				{ at: [0, 1, -1], from: 0, until: 0.1, shape: { kind: 'box', size: [0.5, 0.6, 0.7] } },
				{ at: [0.5, 1, -1.5], from: 0.1, until: 0.2, shape: { kind: 'sphere', radius: 0.3 } },
			],
		},
	],
};
const FLAT = {
	format: 'frelk/1',
	id: 'flat',
	name: 'Flat',
	scene: {
		kind: 'flat',
		layers: [{ id: 'a' }],
		tags: [],
		objects: [
			{
				id: 'base',
				layer: 'a',
				position: [0.2, 0.1, 3],
				rotation: [0, 0, 40],
				scale: [2, 2, 1],
				shapes: [{ id: 'r', kind: 'rect', size: [0.4, 0.2] }],
				focus: [0.05, 0.02, 0],
			},
			{
				id: 'many',
				layer: 'a',
				parent: 'base',
				position: [0.1, 0, 0],
				rotation: [0, 0, 20],
				shapes: [
					{ id: 'c', kind: 'circle', radius: 0.1 },
					{ id: 'p', kind: 'capsule', radius: 0.05, height: 0.3, at: [0.3, 0, 0] },
				],
			},
			{ id: 'me', layer: 'a', position: [-0.4, 0.2, 1], shapes: [] },
		],
		cameras: [{ id: 'above', position: [0, 0, 10], projection: 'orthographic', height: 2 }],
	},
	queries: [
		{
			id: 'ray',
			kind: 'ray',
			from: { object: 'me', offset: [0.1, 0, 0] },
			aim: { along: [0.8, 0.6, 0] },
			length: 1,
			assist: { by: 'distance', within: 0.1 },
			range: { max: 0.8 },
			view: { within: 40 },
		},
		{
			id: 'sweep',
			kind: 'sweep',
			from: { point: [0, 0, 0] },
			to: { point: [0.5, 0.2, 0] },
			shape: { kind: 'circle', radius: 0.05 },
		},
		{
			id: 'around',
			kind: 'overlap',
			at: { object: 'me', offset: [0.1, 0.1, 0] },
			shape: { kind: 'rect', size: [0.3, 0.2] },
		},
		{
			id: 'swing',
			kind: 'hitbox',
			asker: 'me',
			boxes: [{ at: [0.2, 0, 0], from: 0, until: 1, shape: { kind: 'circle', radius: 0.1 } }],
		},
	],
};

/** What there is to hold, by what it belongs to. */
const IN_SPACE = {
	base: ['height', 'turn', 's-Width', 's-Height', 's-Depth', 'focus'],
	many: ['height', 'turn', 'ball-Radius', 'pill-Radius', 'pill-Height', 'drum-Radius', 'drum-Height'],
	me: ['height', 'turn'],
	eye: ['camera-place', 'camera-height', 'camera-aim', 'camera-aim-height'],
	free: ['camera-place', 'camera-height', 'camera-aim', 'camera-aim-height'],
	'ray-point': ['from', 'to', 'range-max', 'range-min'],
	'ray-object': ['from', 'to'],
	'ray-aim': ['from', 'aim', 'length', 'assist'],
	'ray-world': ['from', 'aim', 'length', 'view', 'assist'],
	'ray-eye': ['from', 'aim'],
	'sweep-box': ['from', 'aim', 'length', 'swept shape-Width', 'swept shape-Height', 'swept shape-Depth'],
	'sweep-pill': ['from', 'aim', 'length', 'swept shape-Radius', 'swept shape-Height'],
	around: ['at', 'volume-Radius', 'range-max'],
	before: ['at', 'volume-Radius', 'volume-Height', 'view'],
	like: ['at', 'grow'],
	swing: ['box 1 place', 'box 1-Width', 'box 1-Height', 'box 1-Depth', 'box 2 place', 'box 2-Radius'],
};
const IN_FLAT = {
	base: ['turn', 'r-Width', 'r-Height', 'focus'],
	many: ['turn', 'c-Radius', 'p-Radius', 'p-Height'],
	me: ['turn'],
	above: ['camera-place'],
	ray: ['from', 'aim', 'length', 'range-max', 'view', 'assist'],
	sweep: ['from', 'to', 'swept shape-Radius'],
	around: ['at', 'volume-Width', 'volume-Height'],
	swing: ['box place', 'box-Radius'],
};

function read(data: unknown): Project {
	const checked = checkProject(structuredClone(data));
	if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
	return checked.project;
}

/** All handles of a scene, by where they belong and their id. */
function handles(p: Project): Map<string, Handle> {
	const world = buildWorld(p);
	const list = new Map<string, Handle>();
	const keep = (of: string, more: Handle[]) => {
		for (const h of more) {
			expect(list.has(`${of}/${h.id}`)).toBe(false);
			list.set(`${of}/${h.id}`, h);
		}
	};
	for (const o of world.objects) keep(o.id, objectHandles(world, o));
	for (const c of world.cameras.values()) keep(c.id, cameraHandles(world, c));
	for (const query of world.queries) {
		const asker = query.asker === undefined ? null : (world.objectById.get(query.asker) ?? null);
		const placement = placementOf({ world, query, asker, hitOf: new Answerer(world).hitOf });
		if (!isNote(placement)) keep(query.id, queryHandles(world, query as Query, placement));
	}
	return list;
}

const turnAbout = (h: Handle & { kind: 'angle' }) =>
	((h.axis === 1
		? Math.atan2(-(h.at[0] - h.centre[0]), -(h.at[2] - h.centre[2]))
		: Math.atan2(h.at[1] - h.centre[1], h.at[0] - h.centre[0])) *
		180) /
	Math.PI;
const apart = (a: number, b: number) => Math.abs(((((a - b) % 360) + 540) % 360) - 180);

describe.each([
	['in space', SPACE, IN_SPACE],
	['in a flat scene', FLAT, IN_FLAT],
] as const)('handles %s', (_, data, wanted) => {
	it('are one for each thing there is to hold', () => {
		const found: Record<string, string[]> = {};
		for (const name of handles(read(data)).keys()) {
			const [of, id] = name.split('/') as [string, string];
			found[of] = [...(found[of] ?? []), id];
		}
		expect(found).toEqual(wanted);
	});

	it('stand where their value says', () => {
		for (const [name, h] of handles(read(data))) {
			if (h.kind === 'line') {
				// The half-angle of an assist is drawn by its tangent.
				if (name === 'ray-world/assist') continue;
				const along = h.at.reduce((sum, v, k) => sum + (v - h.origin[k]) * h.dir[k], 0);
				const grown = name.endsWith('/grow') ? h.value : along * h.per;
				expect(grown, name).toBeCloseTo(h.value, 6);
			} else if (h.kind === 'angle') {
				const turn = turnAbout(h);
				expect(apart(h.measure ? h.measure(turn) : turn, h.value), name).toBeLessThan(1e-6);
			}
		}
	});

	it('hold what they set, in a project that is valid, and no other size changes', () => {
		const before = handles(read(data));
		for (const [name, h] of before) {
			const p = read(data);
			// What is looked at lies on what is met there, or ahead: only its direction is kept.
			if (h.id === 'camera-aim' || h.id === 'camera-aim-height') continue;
			if (h.kind === 'point') {
				const across = h.axis === 1 ? 2 : 1;
				const to = tripleOf((k) => h.at[k] + (k === 0 ? 0.1 : k === across ? -0.05 : 0));
				h.set(p, to);
				const now = handles(read(p)).get(name);
				if (now?.kind !== 'point') throw new Error(`${name} is gone`);
				for (let k = 0; k < 3; k++) expect(now.at[k], name).toBeCloseTo(to[k], 3);
				continue;
			}
			const to = h.kind === 'angle' ? h.value + 7 : h.value + 4 * h.grid;
			h.set(p, to);
			const after = handles(read(p));
			const now = after.get(name);
			if (!now || now.kind === 'point') throw new Error(`${name} is gone`);
			if (h.kind === 'angle') expect(apart(now.value, to), name).toBeLessThan(0.01);
			else expect(now.value, name).toBeCloseTo(to, 4);
			for (const [other, { kind }] of before) {
				if (other === name || kind !== 'line' || !/-(Width|Height|Depth|Radius)$/.test(other)) continue;
				const [was, is] = [before.get(other), after.get(other)];
				if (was?.kind === 'line' && is?.kind === 'line')
					expect(is.value, `${other} after ${name}`).toBeCloseTo(was.value, 9);
			}
		}
	});
});

describe('a face that is pulled', () => {
	const pulled = (id: string, handle: string, by: number) => {
		const p = read(SPACE);
		const h = handles(p).get(`${id}/${handle}`);
		if (h?.kind !== 'line') throw new Error(`no ${handle}`);
		h.set(p, h.value + by);
		return { p, now: handles(read(p)).get(`${id}/${handle}`) as Handle & { kind: 'line' }, h };
	};

	it('of an object goes with the hand, while the one opposite stays', () => {
		for (const name of ['s-Width', 's-Height', 's-Depth']) {
			const { now, h } = pulled('base', name, 0.4);
			// The origin is the opposite face.
			for (let k = 0; k < 3; k++) expect(now.origin[k]).toBeCloseTo(h.origin[k], 5);
			const scale = name === 's-Height' ? 1 : 2;
			const moved = Math.hypot(...now.at.map((v, k) => v - h.at[k]));
			expect(moved).toBeCloseTo(0.4 * scale, 5);
		}
	});

	it('of a radius stands on its base, of a query grows about the middle', () => {
		const { now, h } = pulled('many', 'ball-Radius', 0.25);
		// Its middle is raised by as much as the radius grew; the scale is the largest of three.
		expect((now.middle?.[1] ?? 0) - (h.middle?.[1] ?? 0)).toBeCloseTo(0.25, 5);
		const query = pulled('sweep-box', 'swept shape-Width', 0.4);
		for (let k = 0; k < 3; k++) expect(query.now.middle?.[k]).toBeCloseTo(query.h.middle?.[k] as number, 9);
	});

	it('of a capsule keeps it no lower than it is wide', () => {
		const { p } = pulled('many', 'pill-Radius', 1);
		expect(p.scene.objects[1]?.shapes?.[1]).toMatchObject({ radius: 1.25, height: 2.5 });
		const q = read(SPACE);
		const h = handles(q).get('many/pill-Height');
		if (h?.kind !== 'line') throw new Error('no height');
		h.set(q, 0.1);
		expect(q.scene.objects[1]?.shapes?.[1]).toMatchObject({ radius: 0.25, height: 0.5 });
		const drum = handles(q).get('many/drum-Height');
		if (drum?.kind !== 'line') throw new Error('no height');
		drum.set(q, 0.1);
		expect(q.scene.objects[1]?.shapes?.[2]).toMatchObject({ radius: 0.3, height: 0.1 });
	});
});

describe('a camera in hand', () => {
	it('looks where it is told to, and at what lies there', () => {
		const p = read(SPACE);
		for (const id of ['eye', 'free']) {
			const aim = handles(p).get(`${id}/camera-aim`);
			if (aim?.kind !== 'point') throw new Error('no aim');
			const to: Vec3 = [2, 0.5, -1];
			aim.set(p, to);
			const world = buildWorld(read(p));
			const camera = world.cameras.get(id);
			if (!camera) throw new Error('no camera');
			const m = camera.rotation;
			const ahead = [-m[2], -m[5], -m[8]];
			const way = to.map((v, k) => v - camera.position[k]);
			const length = Math.hypot(...way);
			for (let k = 0; k < 3; k++) expect(ahead[k]).toBeCloseTo(way[k] / length, 3);
			const height = handles(p).get(`${id}/camera-aim-height`);
			if (height?.kind !== 'line') throw new Error('no height');
			height.set(p, height.value + 0.5);
			const now = handles(read(p)).get(`${id}/camera-aim-height`);
			expect(now?.kind === 'line' && now.at).not.toEqual(height.at);
			expect(lookedAt(world, camera).every(Number.isFinite)).toBe(true);
		}
	});
});

describe('places and steps', () => {
	it('are written in the axes of what a thing hangs on', () => {
		for (const data of [SPACE, FLAT]) {
			const p = read(data);
			const at: Vec3 = [0.7, 0.3, p.scene.kind === 'flat' ? 3 : -1];
			placeAt(p, buildWorld(p), 'many', at);
			const now = buildWorld(read(p)).objectById.get('many');
			for (let k = 0; k < (p.scene.kind === 'flat' ? 2 : 3); k++) expect(now?.position[k]).toBeCloseTo(at[k], 3);
			const before = structuredClone(p);
			placeAt(p, buildWorld(p), 'nobody', at);
			expect(p).toEqual(before);
		}
	});

	it('go ahead and to the right of where a thing faces', () => {
		const space = buildWorld(read(SPACE)).objectById.get('me') as never;
		const near = (a: readonly number[], b: readonly number[]) => {
			for (let k = 0; k < 3; k++) expect(a[k]).toBeCloseTo(b[k], 9);
		};
		const [s, c] = [Math.sin((30 * Math.PI) / 180), Math.cos((30 * Math.PI) / 180)];
		near(stepOf(space, 1, 0, false), [s, 0, -c]);
		near(stepOf(space, 0, 1, false), [c, 0, s]);
		const flat = buildWorld(read(FLAT)).objectById.get('base') as never;
		const [fs, fc] = [Math.sin((40 * Math.PI) / 180), Math.cos((40 * Math.PI) / 180)];
		near(stepOf(flat, 1, 0, true), [fc, fs, 0]);
		near(stepOf(flat, 0, 1, true), [fs, -fc, 0]);
	});
});
