/** The rungs: what stands where, and what is unfolded of it. */
import type { Verdict } from '@frelk/core';
import { expect, it } from 'vitest';
import { type RungKey, rungOf, runs, sorted, unfolding } from './rungs';

const v = (object: string, stage: string, more: object = {}): Verdict => ({ object, stage, ...more }) as Verdict;
const many = (n: number, stage: string, more: object = {}) =>
	Array.from({ length: n }, (_, i) => v(`${stage}-${i}`, stage, more));
const standing = (...verdicts: Verdict[]) => sorted(verdicts, new Map());

it('what a filter alone left out, and what a longer path would reach, have rungs of their own', () => {
	expect(
		[v('a', 'state'), v('a', 'state', { met: 2 }), v('a', 'touch'), v('a', 'touch', { beyond: 1 })].map(rungOf),
	).toEqual(['state', 'there', 'touch', 'short']);
	const rungs = runs(standing(v('a', 'layer', { met: 1 }), v('b', 'sight'), v('c', 'inactive')));
	expect(rungs[0]).toBe('there');
	expect(rungs.filter((r) => !Array.isArray(r))).toEqual(['there', 'sight', 'inactive']);
	// Where nobody stands the names are one line together.
	expect(rungs.filter(Array.isArray).map((r) => r.length)).toEqual([1, 11]);
});

it('a rung on which all is as before keeps its list', () => {
	const [a, b] = [v('a', 'sight'), v('b', 'range')];
	const before = standing(a, b);
	const after = sorted([a, v('b', 'range')], before);
	expect(after.get('sight')).toBe(before.get('sight'));
	expect(after.get('range')).not.toBe(before.get('range'));
});

it('as many rows are shown as there is room for, those nearest to being chosen first, and by hand all or none', () => {
	const none = new Map<RungKey, boolean>();
	const of = (there: number, height: number, hand = none) =>
		unfolding(
			standing(...many(5, 'state', { met: 1 }), ...many(30, 'choice'), ...many(70, 'touch')),
			hand,
			height,
			there,
		);
	// Of what is there but for a filter no more than are worth it.
	expect(of(3, 2000).get('there')).toBe(3);
	expect(of(0, 2000).get('there')).toBe(0);
	expect(of(9, 2000).get('there')).toBe(5);
	// More than a list of its own would take is not shown unasked, nor any of thousands that were missed.
	expect(of(3, 5000).get('choice')).toBe(24);
	expect(of(3, 5000).get('touch')).toBe(0);
	expect(of(3, 0).get('choice')).toBe(0);
	expect(of(0, 0, new Map([['there', true]])).get('there')).toBe(5);
	expect(of(3, 5000, new Map([['choice', false]])).get('choice')).toBe(0);
});
