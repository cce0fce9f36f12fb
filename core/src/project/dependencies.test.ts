/** What answers stand on: where nothing of it differs they are the same, and the least that differs is seen. */
import { expect, it } from 'vitest';
import { ahead, box, object, project } from '../tests/scene';
import { Dependencies } from './dependencies';
import type { Project } from './schema';

const made: Project = {
	...project([object('x', [0, 0, -5], [box([1, 1, 1])])], [ahead(), { ...ahead(), id: 'other' }]),
	moments: [{ id: 'under' }, { id: 'over', on: 'under' }, { id: 'beside' }],
};
/** Whether query q at a moment stands on the same after a change. */
const same = (change: Partial<Project>, moment: string | null = null, queries = ['q']): boolean =>
	new Dependencies({ ...made, ...change }).sameAs(new Dependencies(JSON.parse(JSON.stringify(made))), moment, queries);
const withMoment = (id: string): Partial<Project> => ({
	moments: made.moments?.map((m) => (m.id === id ? { ...m, states: { night: true } } : m)),
});

it('does not hear of names, checks, runs and maps, nor of queries and moments that are not asked', () => {
	expect(same({})).toBe(true);
	expect(same({ name: 'Another', extras: { a: 1 }, checks: [], runs: [], maps: [] })).toBe(true);
	expect(same({ queries: made.queries.map((q) => (q.id === 'other' ? { ...q, name: 'n' } : q)) })).toBe(true);
	expect(same({ queries: [...made.queries].reverse() })).toBe(true);
	expect(same(withMoment('beside'), 'over')).toBe(true);
	expect(same(withMoment('over'), 'under')).toBe(true);
	expect(same(withMoment('under'))).toBe(true);
});

it('hears of the scene, of what actions do, of the query, of its moment and of what that stands on', () => {
	expect(same({ scene: { ...made.scene, objects: [] } })).toBe(false);
	expect(same({ effects: [{ action: 'lift', do: [{ of: 'target', release: true }] }] })).toBe(false);
	expect(same({ queries: made.queries.map((q) => ({ ...q, name: 'n' })) })).toBe(false);
	expect(
		same({ queries: made.queries.map((q) => (q.id === 'other' ? { ...q, name: 'n' } : q)) }, null, ['q', 'other']),
	).toBe(false);
	expect(same(withMoment('over'), 'over')).toBe(false);
	expect(same(withMoment('under'), 'over')).toBe(false);
});

it('hears of the queries whose hits a query uses, however far down', () => {
	const [q] = made.queries;
	if (!q) throw new Error('no query');
	const chained: Project = {
		...made,
		queries: [
			q,
			{ ...ahead({ from: { hitOf: 'q' } }), id: 'second' },
			{ ...ahead({ aim: { toward: { hitOf: 'second' } } }), id: 'third' },
			{ ...ahead(), id: 'apart' },
		],
	};
	const edited = (id: string): Dependencies =>
		new Dependencies({ ...chained, queries: chained.queries.map((x) => (x.id === id ? { ...x, ignore: ['x'] } : x)) });
	const of = (id: string, asked: string) => edited(id).sameAs(new Dependencies(chained), null, [asked]);
	expect([of('q', 'second'), of('q', 'third'), of('second', 'third')]).toEqual([false, false, false]);
	expect([of('second', 'q'), of('third', 'second'), of('apart', 'third'), of('third', 'apart')]).toEqual([
		true,
		true,
		true,
		true,
	]);
});

it('is not the same where a query or a moment is not there', () => {
	expect(same({ queries: [] })).toBe(false);
	expect(same({}, null, ['none'])).toBe(false);
	expect(same({ moments: [] }, 'beside')).toBe(false);
	expect(same({}, 'none')).toBe(false);
	expect(new Dependencies({ ...made, moments: undefined }).sameAs(new Dependencies(made), 'under', ['q'])).toBe(false);
});
