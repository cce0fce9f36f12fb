/** Globs: by hand, against a matcher that goes back, and against names made to make one go back for ever. */
import fc from 'fast-check';
import picomatch from 'picomatch';
import { describe, expect, it } from 'vitest';
import { globMatcher } from './glob';

const hits = (pattern: string, path: boolean, ...texts: string[]) => texts.filter(globMatcher(pattern, path));

describe('globs', () => {
	it('of names take any sign for any, also a stroke', () => {
		expect(hits('*_trigger', false, 'door_trigger', '_trigger', 'door_trigger_2', 'a/b_trigger')).toEqual([
			'door_trigger',
			'_trigger',
			'a/b_trigger',
		]);
		expect(hits('Crate?', false, 'Crate1', 'Crate', 'crate1', 'Crate12', 'Crate🙂')).toEqual(['Crate1', 'Crate🙂']);
		expect(hits('{door,gate}*', false, 'door', 'gate_1', 'floor')).toEqual(['door', 'gate_1']);
		expect(hits('[a-c][!x]', false, 'ab', 'ax', 'db', 'c1')).toEqual(['ab', 'c1']);
		expect(hits('a\\*b', false, 'a*b', 'axb')).toEqual(['a*b']);
		expect(hits('', false, '', 'a')).toEqual(['']);
		// What does not close is a sign like others.
		expect(hits('a[b', false, 'a[b', 'ab')).toEqual(['a[b']);
		expect(hits('a{b,c', false, 'a{b,c', 'ab')).toEqual(['a{b,c']);
		expect(hits('{a}', false, '{a}', 'a')).toEqual(['{a}']);
		expect(hits('{a,b{1,2}}c', false, 'ac', 'b1c', 'b2c', 'bc')).toEqual(['ac', 'b1c', 'b2c']);
		expect(hits('[]a]', false, ']', 'a', 'b')).toEqual([']', 'a']);
	});

	it('of paths stay within a name, unless they go through', () => {
		const paths = ['Yard', 'Yard/Props', 'Yard/Props/Crate', 'Yard/Props/Crate/Lid', 'Shed/Crate', 'Yards'];
		expect(hits('Yard/*', true, ...paths)).toEqual(['Yard/Props']);
		expect(hits('Yard/**', true, ...paths)).toEqual(['Yard', 'Yard/Props', 'Yard/Props/Crate', 'Yard/Props/Crate/Lid']);
		expect(hits('**/Crate', true, ...paths, 'Crate')).toEqual(['Yard/Props/Crate', 'Shed/Crate', 'Crate']);
		expect(hits('Yard/**/Lid', true, ...paths, 'Yard/Lid')).toEqual(['Yard/Props/Crate/Lid', 'Yard/Lid']);
		expect(hits('Yard?Props', true, ...paths)).toEqual([]);
		expect(hits('**', true, ...paths)).toEqual(paths);
	});

	it('say what a matcher that goes back says', () => {
		const part = fc.constantFrom('a', 'b', '*', '?', '[ab]', 'ba', '{a,b}', '{ab,a}');
		const names = fc.array(
			fc.oneof(
				fc.constant('**'),
				fc.array(part, { minLength: 1, maxLength: 3 }).map((p) => p.join('')),
			),
			{
				minLength: 1,
				maxLength: 4,
			},
		);
		const name = fc.array(fc.constantFrom('a', 'b', 'c'), { minLength: 1, maxLength: 4 }).map((c) => c.join(''));
		const path = fc.array(name, { minLength: 1, maxLength: 4 }).map((list) => list.join('/'));
		const glob = names
			.map((list) => list.join('/'))
			// Stars in a row, names through which one goes twice, and what lies under a name with signs it reads in its own way.
			.filter((p) => !/\*\*\*|[^/]\*\*|\*\*[^/]|\*\*\/\*\*|[*?\]}]\/\*\*$/.test(p));
		fc.assert(
			fc.property(glob, path, (pattern, text) => {
				expect(globMatcher(pattern, true)(text)).toBe(picomatch(pattern, { dot: true, nonegate: true })(text));
			}),
			{ numRuns: 3000 },
		);
	});

	it('take the time of a name, whatever the pattern', () => {
		const matches = globMatcher(`${'*a'.repeat(100)}b`, false);
		expect(matches('a'.repeat(200))).toBe(false);
		expect(matches(`${'a'.repeat(199)}b`)).toBe(true);
		const nested = globMatcher('{a,{a,{a,{a,a}}}}'.repeat(20), false);
		expect(nested('a'.repeat(20))).toBe(true);
		expect(nested('a'.repeat(21))).toBe(false);
	});
});
