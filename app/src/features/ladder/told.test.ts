import type { Answer, Verdict } from '@frelk/core';
import { describe, expect, it } from 'vitest';
import { isWorthDrawing } from './there';
import { nearest, toldOf } from './told';

const naming = (_kind: string, id: string) => id.toUpperCase();
const figure = (id: string, distance: number) => `${distance} m of ${id}`;
const answer = (status: Answer['status'], more: Partial<Answer>): Answer =>
	({ query: 'q', status, selected: [], tied: [], verdicts: [], notes: [], ...more }) as Answer;
const one = (object: string, distance: number, through: string | null = null): Answer['selected'][number] =>
	({ object, distance, through, prompt: 'Pull', action: 'pull', assisted: false }) as Answer['selected'][number];
const said = (a: Answer) => toldOf(a, naming, figure);

describe('what is read aloud of an answer', () => {
	it('is object, distance and, where there was a choice, the reason', () => {
		const verdicts: Verdict[] = [
			{ object: 'a', stage: 'selected' },
			{ object: 'b', stage: 'choice', rule: 'distance', margin: 2, by: 'a' },
			{ object: 'c', stage: 'choice', rule: 'distance', margin: 1, by: 'a' },
			{ object: 'd', stage: 'sight', margin: 0.1, by: 'wall' },
		];
		expect(said(answer('selected', { selected: [one('a', 3)], verdicts }))).toBe('A, 3 m of a. C: 1 m farther than A.');
		// Prompt, action and buttons are not in it.
		expect(said(answer('selected', { selected: [one('a', 3)], verdicts: verdicts.slice(0, 1) }))).toBe('A, 3 m of a.');
		expect(said(answer('selected', { selected: [one('a', 3)], verdicts: [verdicts[3] as Verdict] }))).toBe(
			'A, 3 m of a.',
		);
	});

	it('names three of many, each by the figure of what it was reached through', () => {
		const selected = ['a', 'b', 'c', 'd', 'e'].map((id, i) => one(id, i, i === 1 ? 'counter' : null));
		expect(said(answer('selected', { selected }))).toBe('A, 0 m of a; B, 1 m of counter; C, 2 m of c; 2 more.');
	});

	it('says of nothing selected what came farthest, and by how little it failed', () => {
		const verdicts: Verdict[] = [
			{ object: 'far', stage: 'touch', margin: 0.1 },
			{ object: 'bell', stage: 'sight', margin: 3.61, by: 'sheet' },
			{ object: 'near', stage: 'sight', margin: 5, by: 'sheet' },
		];
		expect(said(answer('none', { verdicts }))).toBe('Nothing is selected. BELL: 3.61 m behind SHEET.');
		expect(said(answer('none', {}))).toBe('Nothing is selected.');
	});

	it('says a tie, and a query that is off or waits', () => {
		expect(said(answer('tie', { tied: ['a', 'b'] }))).toBe('Tie: A, B. Nothing tells them apart.');
		expect(said(answer('tie', { tied: ['a', 'b', 'c', 'd'] }))).toBe(
			'Tie: A, B, C and 1 more. Nothing tells them apart.',
		);
		expect(said(answer('off', {}))).toBe('The query is off.');
		expect(said(answer('waiting', {}))).toBe('The query is waiting.');
	});
});

it('of what is there but for a filter the nearest is said where nothing is selected, and walls are drawn only there', () => {
	const there = (object: string, stage: 'state' | 'layer', met: number): Verdict =>
		({ object, stage, met, ...(stage === 'layer' ? { layers: ['walls'] } : {}) }) as Verdict;
	const list = [
		there('far', 'layer', 57),
		there('near', 'layer', 2.1),
		{ object: 'miss', stage: 'touch', margin: 0.1 } as Verdict,
	];
	const none = { query: 'q', status: 'none', selected: [], tied: [], notes: [], verdicts: list } as Answer;
	expect(
		toldOf(
			none,
			(_, id) => id,
			() => '',
		),
	).toBe('Nothing is selected. near: there at 2.1 m, but on layer walls, not asked for.');
	expect(nearest(list).map((v) => v.object)).toEqual(['miss', 'near', 'far']);
	expect(nearest(list, (v) => ({ far: 3, near: 1, miss: 2 })[v.object] ?? 0).map((v) => v.object)).toEqual([
		'near',
		'miss',
		'far',
	]);
	// Those without any figure keep their order.
	const bare = ['a', 'b', 'c'].map((object) => ({ object, stage: 'excluded' }) as Verdict);
	expect(nearest(bare).map((v) => v.object)).toEqual(['a', 'b', 'c']);
	const drawn = (status: Answer['status']) =>
		[...list, there('sealed', 'state', 3)].filter((v) => isWorthDrawing({ status }, v)).map((v) => v.object);
	expect(drawn('none')).toEqual(['far', 'near', 'sealed']);
	expect(drawn('selected')).toEqual(['sealed']);
});
