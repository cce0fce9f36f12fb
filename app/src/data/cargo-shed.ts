/** The cargo shed: some thousand crates on racks, for scale. Made by rule, so that it needs no file. */
import type { Check, Project, Query, SceneObject } from '@frelk/core';

const KINDS = ['lemons', 'rope', 'lamp-oil', 'tea', 'tin-plate'] as const;

/** A generator of numbers in 0…1 that gives the same shed every time. */
function steady(seed: number): () => number {
	let a = seed >>> 0;
	return () => {
		a = (Math.imul(a, 1664525) + 1013904223) >>> 0;
		return a / 4294967296;
	};
}

/**
 * @param crates about how many; they fill racks of four shelves, twelve places each
 * @returns a valid project
 */
export function cargoShed(crates = 1200): Project {
	const next = steady(11);
	const perRack = 48;
	const racks = Math.max(1, Math.ceil(crates / perRack));
	const rows = Math.ceil(Math.sqrt(racks / 2));
	const objects: SceneObject[] = [];
	const wide = Math.ceil(racks / rows) * 9 + 6;
	const deep = rows * 4 + 10;
	objects.push({
		id: 'floor',
		name: 'Floor',
		position: [0, -0.1, 0],
		layer: 'ground',
		shapes: [{ id: 'slab', kind: 'box', size: [wide, 0.2, deep] }],
	});
	for (const [id, x, z, w, d] of [
		['wall-west', -wide / 2, 0, 0.3, deep],
		['wall-east', wide / 2, 0, 0.3, deep],
		['wall-north', 0, -deep / 2, wide, 0.3],
	] as const)
		objects.push({
			id,
			name: `Wall ${id.slice(5)}`,
			position: [x, 0, z],
			layer: 'walls',
			shapes: [{ id: 'wall', kind: 'box', size: [w, 5, d], at: [0, 2.5, 0] }],
		});
	objects.push({
		id: 'tallyman',
		name: 'Tallyman',
		position: [3, 0, deep / 2 - 2],
		layer: 'folk',
		tags: ['person'],
		focus: [0, 1.5, 0],
		states: { 'hands-full': false },
		shapes: [{ id: 'body', kind: 'capsule', radius: 0.3, height: 1.75, at: [0, 0.875, 0] }],
	});
	let count = 0;
	for (let r = 0; r < racks && count < crates; r++) {
		const x = ((r % Math.ceil(racks / rows)) - (Math.ceil(racks / rows) - 1) / 2) * 9;
		const z = (Math.floor(r / Math.ceil(racks / rows)) - (rows - 1) / 2) * 4 - 2;
		objects.push({
			id: `rack-${r + 1}`,
			name: `Rack ${r + 1}`,
			position: [x, 0, z],
			layer: 'racks',
			shapes: [0, 1, 2, 3].map((s) => ({
				id: `shelf-${s + 1}`,
				kind: 'box',
				size: [8, 0.06, 1],
				at: [0, 0.25 + 1.05 * s, 0],
			})),
		});
		for (let place = 0; place < perRack && count < crates; place++) {
			count++;
			const kind = KINDS[Math.floor(next() * KINDS.length)] as string;
			const size = 0.4 + 0.04 * Math.floor(next() * 4);
			objects.push({
				id: `crate-${count}`,
				name: `Crate ${count}`,
				parent: `rack-${r + 1}`,
				position: [
					Number((-3.65 + 0.66 * (place % 12)).toFixed(3)),
					Number((0.28 + 1.05 * Math.floor(place / 12)).toFixed(3)),
					Number((next() * 0.2 - 0.1).toFixed(3)),
				],
				rotation: [Math.floor(next() * 12) - 6, 0, 0],
				layer: 'cargo',
				tags: [kind],
				focus: [0, Number((size / 2).toFixed(3)), 0],
				states: { sealed: next() < 0.15 },
				prompt: 'Tally the crate',
				action: 'tally',
				shapes: [{ id: 'crate', kind: 'box', size: [size, size, size], at: [0, Number((size / 2).toFixed(3)), 0] }],
			});
		}
	}
	const base = (id: string, name: string) => ({ id, name, asker: 'tallyman' as const });
	const cargo = { layers: ['cargo'], when: [{ of: 'target' as const, state: 'sealed', is: false }] };
	const queries: Query[] = [
		{
			...base('gaze', 'Gaze'),
			kind: 'ray',
			from: { camera: 'eye' },
			aim: { along: [0, -0.05, -1], of: 'eye' },
			length: 30,
			selects: cargo,
			sight: { blockers: ['racks', 'walls', 'cargo'] },
		},
		{
			...base('shed-pick', 'Shed pick'),
			kind: 'pick',
			camera: 'rafters',
			viewport: [1280, 720],
			cursor: [742, 330],
			selects: cargo,
			sight: { blockers: ['racks', 'walls'] },
			assist: { by: 'pixels', within: 12 },
		},
		...KINDS.map(
			(tag): Query => ({
				...base(`find-${tag}`, `Find ${tag}`),
				kind: 'overlap',
				at: { object: 'tallyman' },
				shape: { kind: 'sphere', radius: 14 },
				selects: { ...cargo, tags: { any: [tag] } },
				choose: { take: 1, by: [{ rule: 'distance', to: 'focus' }, { rule: 'listed' }] },
			}),
		),
		{
			...base('push', 'Push a barrow'),
			kind: 'sweep',
			from: { object: 'tallyman', offset: [0, 0.6, -0.6] },
			aim: { along: [0, 0, -1], of: 'tallyman' },
			length: 20,
			shape: { kind: 'box', size: [0.7, 0.9, 1.1] },
			selects: { layers: ['cargo', 'racks', 'walls'] },
			choose: { by: [{ rule: 'distance' }, { rule: 'listed' }] },
		},
		{
			...base('reach', 'Reach'),
			kind: 'overlap',
			at: { object: 'tallyman' },
			offset: [0, 1, -0.8],
			shape: { kind: 'box', size: [1.6, 1.8, 1.6] },
			selects: cargo,
			view: { within: 70 },
		},
		{
			...base('lamp', 'Lamplight'),
			kind: 'overlap',
			at: { focus: 'tallyman' },
			shape: { kind: 'sphere', radius: 9 },
			selects: { layers: ['cargo'] },
			choose: { take: 'all' },
			sight: { blockers: ['racks', 'walls', 'cargo'] },
		},
		{
			...base('swing', 'Hook'),
			kind: 'hitbox',
			boxes: [{ shape: { kind: 'box', size: [1, 0.6, 1.4] }, at: [0, 1.2, -1], from: 0.1, until: 0.3 }],
			selects: { layers: ['cargo'] },
		},
	];
	const checks: Check[] = [{ id: 'nothing-in-reach', query: 'reach', expect: { none: true } }];
	return {
		format: 'frelk/1',
		id: 'cargo-shed',
		name: 'Cargo shed',
		notes: `${count} crates on ${racks} racks, for scale.`,
		scene: {
			kind: 'space',
			layers: [
				{ id: 'ground', name: 'Ground' },
				{ id: 'walls', name: 'Walls' },
				{ id: 'racks', name: 'Racks' },
				{ id: 'cargo', name: 'Cargo' },
				{ id: 'folk', name: 'Folk' },
			],
			tags: [{ id: 'load' }, ...KINDS.map((id) => ({ id, under: 'load' })), { id: 'person' }],
			objects,
			cameras: [
				{
					id: 'eye',
					name: 'Tallyman’s eye',
					object: 'tallyman',
					position: [0, 1.6, 0],
					projection: 'perspective',
					fov: 70,
				},
				{
					id: 'rafters',
					name: 'Rafters',
					position: [0, 9, deep / 2],
					rotation: [0, -28, 0],
					projection: 'perspective',
					fov: 60,
				},
			],
		},
		queries,
		moments: [],
		checks,
	};
}
