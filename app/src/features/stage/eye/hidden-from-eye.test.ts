import { buildWorld, type Project, type Query } from '@frelk/core';
import { expect, it } from 'vitest';
import { eyeHolderOf, hiddenFromEye } from './hidden-from-eye';

const project: Project = {
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: {
		kind: 'space',
		layers: [{ id: 'a' }],
		tags: [],
		objects: [
			{ id: 'player', layer: 'a' },
			{ id: 'head', layer: 'a', parent: 'player' },
			{ id: 'other', layer: 'a' },
		],
		cameras: ['player', 'head', 'other', undefined].map((object) => ({
			id: object ?? 'free',
			...(object ? { object } : {}),
			position: [0, 1, 0] as [number, number, number],
			projection: 'perspective' as const,
			fov: 60,
		})),
	},
	queries: [],
};
const world = buildWorld(project);
const pick = (camera: string, asker?: string): Query => ({
	id: 'q',
	kind: 'pick',
	camera,
	viewport: [100, 100],
	...(asker ? { asker } : {}),
});

it('hides the asker of a pick whose camera hangs on them, and nobody else', () => {
	expect(eyeHolderOf(world, pick('player', 'player'))).toBe('player');
	expect(eyeHolderOf(world, pick('head', 'player'))).toBe('player');
	for (const query of [pick('other', 'player'), pick('free', 'player'), pick('player'), pick('player', 'head')])
		expect(eyeHolderOf(world, query)).toBeUndefined();
	expect(
		eyeHolderOf(world, {
			id: 'q',
			kind: 'ray',
			from: { focus: 'player' },
			aim: { along: [0, 0, -1] },
			asker: 'player',
		}),
	).toBe('player');
});

it('takes along what hangs on who looks', () => {
	expect([...hiddenFromEye(world.objects, 'player')]).toEqual(['player', 'head']);
	expect(hiddenFromEye(world.objects, undefined).size).toBe(0);
});
