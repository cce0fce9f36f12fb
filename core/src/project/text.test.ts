import { expect, it } from 'vitest';
import { rounded, roundedTriple } from './rounding';
import { escapeMarkup, slug } from './text';

it('makes ids of names', () => {
	expect(['Bow crank', '  Ünder & Über! ', 'a__b--c', '---', 'Crate 2'].map((name) => slug(name))).toEqual([
		'bow-crank',
		'nder-ber',
		'a-b-c',
		'',
		'crate-2',
	]);
	expect(slug('x'.repeat(57))).toHaveLength(56);
	// Cut between two words, it does not end in what joined them.
	expect(slug('ab cd', 3)).toBe('ab');
	expect(slug('ab cd', 4)).toBe('ab-c');
});

it('escapes markup', () => {
	expect(escapeMarkup(`<a b="c">&amp; 'd'`)).toBe(`&lt;a b=&quot;c&quot;&gt;&amp;amp; 'd'`);
});

it('rounds, and leaves no sign of nothing', () => {
	expect([rounded(1.2345678), rounded(1.2345678, 2), rounded(1e-7)]).toEqual([1.234568, 1.23, 0]);
	expect(Object.is(rounded(-1e-7), 0)).toBe(true);
	expect(roundedTriple([1.00004, -2.00006])).toEqual([1.00004, -2.00006, 0]);
	expect(roundedTriple([1.00004, -2.00006, 3], 4)).toEqual([1, -2.0001, 3]);
});
