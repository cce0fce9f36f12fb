/** Texts with other values: what is not changed keeps its characters. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { runs } from '../tests/runs';
import { textWith } from './text-with';
import { writeProject } from './write';

/** Lines that are in one text alone. */
const changed = (a: string, b: string): string[] => {
	const [x, y] = [a.split('\n'), b.split('\n')];
	return [...x.filter((line) => !y.includes(line)), ...y.filter((line) => !x.includes(line))];
};

// biome-ignore lint/suspicious/noExplicitAny: a value of a made-up file
type Loose = any;

describe('a text with another value', () => {
	const text = '{\r\n\t"b" : 1.50,\r\n\t"list": [ {"id":"x","at":[1, 2,3]}, {"id": "y"} ],\r\n\t"a": {}\r\n}\r\n';
	const at = (recipe: (value: Loose) => unknown) => {
		const value = JSON.parse(text);
		recipe(value);
		return textWith(text, value);
	};

	it.each([
		['nothing', () => {}, text],
		['a number', (v) => (v.b = 2), text.replace('1.50', '2')],
		['a figure of a place in a list', (v) => (v.list[0].at[1] = 7), text.replace('[1, 2,3]', '[1, 7,3]')],
		['a key more', (v) => (v.c = true), text.replace('{}\r\n}', '{},\r\n\t"c": true\r\n}')],
		['the first key gone', (v) => delete v.b, text.replace('\r\n\t"b" : 1.50,', '')],
		['the last key gone', (v) => delete v.a, text.replace(',\r\n\t"a": {}', '')],
		['an entry gone', (v) => v.list.shift(), text.replace('{"id":"x","at":[1, 2,3]}, ', '')],
		['an entry more', (v) => v.list.push({ id: 'z' }), text.replace('{"id": "y"}', '{"id": "y"}, { "id": "z" }')],
		['entries in another order', (v) => v.list.reverse(), text.replace(/\[ (.*\}), (\{"id": "y"\}) \]/, '[ $2, $1 ]')],
		['what was empty', (v) => (v.a.k = 1), text.replace('{}', '{ "k": 1 }')],
		['another kind of value', (v) => (v.list = 3), text.replace(/\[ .* \]/, '3')],
	] satisfies [string, (v: Loose) => unknown, string][])('%s', (_name, recipe, wanted) => {
		expect(at(recipe)).toBe(wanted);
	});

	it('on one line stays there, a mark at its beginning stays, and of a key given twice the last counts', () => {
		expect(textWith('{"a":1,"b":[]}', { a: 1, b: [1, { c: 2 }], d: {} })).toBe('{"a":1,"b":[1,{"c":2}],"d":{}}');
		expect(textWith('\ufeff{"a":1}', { a: 2 })).toBe('\ufeff{"a":2}');
		expect(textWith('[1 ,2]', [3, 2])).toBe('[3 ,2]');
		expect(textWith('{"a":1,"a":2}', { a: 3 })).toBe('{"a":1,"a":3}');
		expect(textWith('{"a":1,"a":2,"b":0}', { b: 0 })).toBe('{"b":0}');
		expect(() => textWith('{', {})).toThrow(SyntaxError);
	});

	it('of an example in another writing changes the one line a field stands on', () => {
		const quay = example('harl-quay');
		for (const wide of ['\t', '  ', '    ']) {
			const file = `${JSON.stringify(quay, null, wide)}\n`;
			const next = structuredClone(quay);
			(next.queries[0] as { name?: string }).name = 'Otherwise';
			expect(changed(file, textWith(file, next))).toHaveLength(2);
		}
		const file = writeProject(quay);
		const next = structuredClone(quay);
		next.scene.objects.splice(3, 1);
		expect(textWith(file, next)).toBe(writeProject(next));
	});

	it('says what it should, from any project to any other', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), fc.constantFrom('', '\t', '  '), (seed, indent) => {
				const [a, b] = [randomProject(seed), randomProject(seed + 1)];
				const text = indent === '' ? writeProject(a) : JSON.stringify(a, null, indent);
				expect(JSON.parse(textWith(text, b))).toEqual(JSON.parse(JSON.stringify(b)));
			}),
			{ numRuns: runs(200) },
		);
	});
});
