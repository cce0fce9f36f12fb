import { describe, expect, it } from 'vitest';
import type { Query } from '../project/schema';
import { ball, object, project } from '../tests/scene';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { choiceFigures, wordsOfFigure } from './figures';
import { isNote, placementOf } from './placement';
import type { Contender } from './touch';

/** Near by its surface, far by its middle: a large ball before a small one. */
const large = { ...object('large', [0, 0, -5], [ball(2)]), priority: 3 };
const small = { ...object('small', [0, 0, -4], [ball(0.5)]), priority: 3 };
const high = { ...object('high', [0, 0, -4.5], [ball(0.5)]), priority: 5 };

function figures(objects: Parameters<typeof project>[0], query: Partial<Query>) {
	const asked = { id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 9 }, ...query };
	const world = buildWorld(project(objects, [asked as Query]));
	const answerer = new Answerer(world);
	const touched: Contender[] = [];
	const q = world.queries[0] as Query;
	const answer = answerer.explain(q, touched);
	const placement = placementOf({ world, query: q, asker: null, hitOf: answerer.hitOf });
	if (isNote(placement)) throw new Error('waits');
	return choiceFigures(world, q, placement, answer, touched);
}

describe('the figures of the rule that decided', () => {
	it('are those of the focus where the focus decides', () => {
		const found = figures([large, small], { choose: { take: 1, by: [{ rule: 'distance', to: 'focus' }] } });
		expect(found?.rule).toEqual({ rule: 'distance', to: 'focus' });
		expect([...(found?.of ?? [])]).toEqual([
			['large', 5],
			['small', 4],
		]);
	});

	it('are those of the surface by default', () => {
		expect([...(figures([large, small], {})?.of ?? [])]).toEqual([
			['large', 3],
			['small', 3.5],
		]);
	});

	it('are those of the last rule that told any from the one taken', () => {
		const by: Query['choose'] = { take: 1, by: [{ rule: 'priority' }, { rule: 'distance' }, { rule: 'listed' }] };
		expect(figures([large, high], { choose: by })?.rule.rule).toBe('priority');
		expect(figures([large, small], { choose: by })?.rule.rule).toBe('distance');
		expect(figures([large, small, high], { choose: by })?.of.get('high')).toBe(5);
	});

	it('are those of the first rule where none had to decide, and nothing where nobody contends', () => {
		const by: Query['choose'] = { take: 1, by: [{ rule: 'priority' }, { rule: 'distance' }] };
		expect(figures([small], { choose: by })).toEqual({ rule: { rule: 'priority' }, of: new Map([['small', 3]]) });
		expect(figures([small], { shape: { kind: 'sphere', radius: 1 } } as Partial<Query>)).toBeNull();
	});

	it('leave out what the query touched and its limits refused', () => {
		const found = figures([large, small], { range: { max: 3.2 } });
		expect([...(found?.of.keys() ?? [])]).toEqual(['large']);
	});

	it('are told with their unit', () => {
		expect(wordsOfFigure({ rule: 'distance' }, 1.634)).toBe('1.63 m');
		expect(wordsOfFigure({ rule: 'distance', to: 'focus' }, 1.634)).toBe('1.63 m to its focus');
		expect(wordsOfFigure({ rule: 'aim' }, 3.21)).toBe('3.2° off the aim');
		expect(wordsOfFigure({ rule: 'cursor' }, 14.04)).toBe('14 px from the cursor');
		expect(wordsOfFigure({ rule: 'priority' }, -2)).toBe('priority -2');
		expect(wordsOfFigure({ rule: 'direct' }, 0)).toBe('touched itself');
		expect(wordsOfFigure({ rule: 'direct' }, 1)).toBe('by assist');
		expect(wordsOfFigure({ rule: 'listed' }, 0)).toBe('entry 1 in the file');
	});
});
