/** What lies where it is asked for, but for a filter: the distance at which it is met all the same (contract §22). */
import { describe, expect, it } from 'vitest';
import type { Query, SceneObject } from '../project/schema';
import { ahead, ask, ball, box, disc, object, project, verdict } from '../tests/scene';

const crate = (id: string, z: number, more: Partial<SceneObject> = {}) => object(id, [0, 0, z], [box([1, 1, 1])], more);
const met = (query: Query, objects: SceneObject[], more: object = {}) => {
	const answer = ask(project(objects, [query], more));
	return Object.fromEntries(answer.verdicts.map((v) => [v.object, v.met]));
};

describe('met', () => {
	it('is there at each filter that an object fails by what it is, and nowhere else', () => {
		const me = object('me', [0, 0, 5], [], { side: 'us' });
		const filters: [string, object, Partial<SceneObject>][] = [
			['layer', { layers: ['a'] }, { layer: 'b' }],
			['tags', { tags: { any: ['bird'] } }, {}],
			['side', { stances: ['hostile'] }, { side: 'us' }],
			['state', { when: [{ of: 'target', state: 'sealed', is: false }] }, { states: { sealed: true } }],
			['role', { roles: ['sensor'] }, {}],
		];
		for (const [stage, selects, more] of filters) {
			const query = ahead({ selects, asker: 'me' });
			const scene = project(
				[me, crate('near', -2.6, more), crate('far', -57, more), crate('aside', -3, { ...more, position: [9, 0, -3] })],
				[{ ...query, length: 100 }],
			);
			const answer = ask(scene);
			expect(answer.verdicts.slice(1).map((v) => [v.object, v.stage, v.met])).toEqual([
				['near', stage, 2.1],
				['far', stage, 56.5],
				['aside', stage, undefined],
			]);
		}
		expect(met(ahead({ ignore: ['near'] }), [crate('near', -2), crate('off', -3, { active: false })])).toEqual({
			near: undefined,
			off: undefined,
		});
		// What passes has its contact, or its gap, and is not said to be met.
		expect(met(ahead(), [crate('near', -2), crate('aside', -3, { position: [9, 0, -3] })])).toEqual({});
	});

	it('takes all enabled shapes whatever their layer and role, the nearest contact of them', () => {
		const two = object(
			'x',
			[0, 0, -5],
			[
				box([1, 1, 1], { id: 'ghost', role: 'sensor', layer: 'b', at: [0, 0, 2] }),
				box([1, 1, 1], { id: 'off', enabled: false, at: [0, 0, 3] }),
				box([1, 1, 1], { id: 'wall', layer: 'wall' }),
			],
		);
		expect(met(ahead({ selects: { layers: ['a'] } }), [two])).toEqual({ x: 2.5 });
	});

	it('leaves aim assist aside, and what the path starts inside of', () => {
		const beside = object('beside', [0.6, 0, -3], [ball(0.5)], { layer: 'b' });
		const around = object('around', [0, 0, 0], [ball(0.5)], { layer: 'b' });
		const selects = { layers: ['a'] };
		const assist = { by: 'distance', within: 1 } as const;
		expect(met(ahead({ selects, assist }), [beside, around])).toEqual({ beside: undefined, around: undefined });
		expect(met(ahead({ selects, assist, startInside: 'count' }), [beside, around])).toEqual({
			beside: undefined,
			around: 0,
		});
		// A shape that was skipped for a filter's sake is no note.
		expect(ask(project([around], [ahead({ selects })])).notes).toEqual([]);
	});

	it('is the distance of the contact of a volume, a swing and a flat pick', () => {
		const volume = {
			id: 'q',
			kind: 'overlap',
			at: { point: [0, 0, 0] },
			shape: { kind: 'sphere', radius: 3 },
		} as Query;
		const other = { selects: { tags: { all: ['crank'] } } };
		expect(met({ ...volume, ...other }, [crate('x', -2), crate('y', -9)])).toEqual({ x: 1.5, y: undefined });
		const swing = {
			id: 'q',
			kind: 'hitbox',
			asker: 'me',
			boxes: [{ shape: { kind: 'box', size: [1, 1, 4] }, at: [0, 0, -2] }],
		} as unknown as Query;
		const swung = met({ ...swing, ...other }, [object('me', [0, 0, 0], []), crate('x', -2), crate('y', -9)]);
		expect(swung).toEqual({ x: 1.5, y: undefined });
		const pick = { id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100], ...other } as Query;
		expect(met(pick, [object('x', [0, 0, 2], [disc(1)])], { kind: 'flat' })).toEqual({ x: 8 });
	});

	it('does not change who is chosen, tied or blocked', () => {
		const answer = ask(
			project([crate('sealed', -2, { layer: 'b' }), crate('open', -4)], [ahead({ selects: { layers: ['a'] } })]),
		);
		expect(answer.selected.map((s) => s.object)).toEqual(['open']);
		expect(verdict(answer, 'sealed')).toMatchObject({ stage: 'layer', met: 1.5 });
	});
});
