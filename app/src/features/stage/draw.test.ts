import { Answerer, buildWorld, checkProject, type Project, QUERY_KINDS, type Query, type Vec3 } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { drawn, type Pending, sayTool, startTool } from './draw';

const pending = (
	a: Vec3 | null,
	b: Vec3 | null,
	underA: string | null = null,
	underB: string | null = null,
): Pending => ({
	from: { pixel: [0, 0], place: a, under: underA },
	now: { pixel: [100, 0], place: b, under: underB },
	clicks: 2,
	enough: false,
});

describe('drawing a shape', () => {
	it('gives its middle and size on the grid, and the usual size for one press', () => {
		expect(drawn(pending([0.02, 0, 1], [2.01, 0, 2.02]), false)).toEqual({
			at: [1.025, 0, 1.5],
			yaw: 0,
			size: [2, 0.8, 1],
		});
		expect(
			drawn({ ...pending([1, 0, 1], [1, 0, 1]), now: { pixel: [2, 0], place: [1, 0, 1], under: null } }, false).size,
		).toEqual([0.8, 0.8, 0.8]);
		expect(drawn(pending([0, 0, 0], [0.1, 0.05, 0]), true).size).toEqual([0.1, 0.05, 0]);
	});
});

describe('what is drawn on a wall', () => {
	const face = (hung: boolean) => ({ normal: [0, 0, 1] as Vec3, hung });
	const pressed = (hung: boolean): Pending => ({
		from: { pixel: [0, 0], place: [1, hung ? 1.5 : 0, -2], under: 'wall', face: face(hung) },
		now: { pixel: [0, 0], place: [1, hung ? 1.5 : 0, -2], under: null, face: face(hung) },
		clicks: 1,
		enough: true,
	});

	it('stands before it, no part of it behind what was pressed', () => {
		expect(drawn(pressed(false), false, [0.8, 0.8, 0.6])).toEqual({ at: [1, 0, -1.7], yaw: 0, size: [0.8, 0.8, 0.6] });
	});

	it('hangs on it with its back, its middle where it was pressed, facing away', () => {
		expect(drawn(pressed(true), false, [0.6, 0.6, 0.06])).toEqual({
			at: [1, 1.2, -1.97],
			yaw: 0,
			size: [0.6, 0.6, 0.06],
		});
		const side = pressed(true);
		side.from.face = { normal: [1, 0, 0], hung: true };
		expect(drawn(side, false, [0.6, 0.6, 0.06])).toMatchObject({ at: [1.03, 1.2, -2], yaw: 90 });
	});
});

describe('saying a query in two gestures', () => {
	const project = example('harl-quay');
	const world = buildWorld(project);
	const say = (kind: Query['kind'], p: Pending) => sayTool({ kind: 'query', query: kind }, p, world, project, null);

	it('makes a valid query of every kind', () => {
		for (const kind of QUERY_KINDS) {
			const said = say(kind, pending([0, 0, 3], [1, 0, 1], 'deckhand', 'crank'));
			if (typeof said === 'string') throw new Error(said);
			const next: Project = JSON.parse(JSON.stringify(project));
			said.edit(next);
			const checked = checkProject(next);
			expect(checked.ok ? [] : checked.problems).toEqual([]);
			expect(next.queries.at(-1)?.kind).toBe(kind);
			expect(new Answerer(buildWorld(next)).winner(next.queries.at(-1) as Query).status).not.toBe('waiting');
		}
	});

	it('aims at the object pressed second, or along the ground', () => {
		const at = say('ray', pending(null, null, 'deckhand', 'crank'));
		const next: Project = JSON.parse(JSON.stringify(project));
		if (typeof at !== 'string') at.edit(next);
		expect(next.queries.at(-1)).toMatchObject({
			from: { focus: 'deckhand' },
			aim: { toward: { focus: 'crank' } },
			asker: 'deckhand',
		});
		const along = say('ray', pending([0, 0, 0], [3, 0, 0]));
		if (typeof along !== 'string') along.edit(next);
		expect(next.queries.at(-1)).toMatchObject({ from: { point: [0, 0, 0] }, aim: { along: [1, 0, 0] }, length: 3 });
		expect(next.queries.at(-1)).not.toHaveProperty('asker');
	});

	it('says why where two presses say nothing', () => {
		expect(say('ray', pending([0, 0, 0], [0, 0, 0]))).toContain('two different places');
		expect(say('ray', pending(null, null))).toContain('no ground');
		expect(say('hitbox', pending([0, 0, 0], [1, 0, 0]))).toContain('swings');
	});

	it('counts clicks, and knows when one is enough', () => {
		const press = { pixel: [0, 0] as [number, number], place: null, under: null };
		const first = startTool({ kind: 'query', query: 'ray' }, null, press);
		expect(first).toMatchObject({ clicks: 1, enough: false });
		expect(startTool({ kind: 'query', query: 'ray' }, first, press).clicks).toBe(2);
		expect(startTool({ kind: 'query', query: 'pick' }, null, press).enough).toBe(true);
	});
});
