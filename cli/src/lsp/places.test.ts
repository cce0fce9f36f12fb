/** Places found by walking a text are those of going through all of it, whatever the text and however it is laid out. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { editBetween, entriesOf, memberSpan, movedSpan, Places } from './places';

/** A JSON text of the same value, blanks and escapes put in where they may stand. */
const text = fc
	.record({ value: fc.dictionary(fc.string(), fc.jsonValue()), indent: fc.constantFrom(0, 1, '\t', '    ') })
	.map(({ value, indent }) => ({
		value,
		text: JSON.stringify(value, null, indent),
	}));

it('a member lies where the parser has it', () => {
	fc.assert(
		fc.property(text, ({ value, text }) => {
			const places = new Places(text);
			for (const key of Object.keys(value)) {
				expect(memberSpan(text, 0, key), text).toEqual(places.spanOf([key]));
				const inner = value[key];
				if (typeof inner !== 'object' || inner === null || Array.isArray(inner)) continue;
				const from = places.spanOf([key])[0];
				for (const own of Object.keys(inner))
					expect(memberSpan(text, from, own), text).toEqual(places.spanOf([key, own]));
			}
			expect(memberSpan(text, 0, 'no such key at all')).toBeNull();
		}),
	);
});

it('the last of several members counts, escapes are read, and of what is no JSON something is told', () => {
	const twice = '{"a": 1, "b": [1, "}"], "a": {"x": "\\\\\\"{"}}';
	expect(twice.slice(...(memberSpan(twice, 0, 'a') ?? [0, 0]))).toBe('{"x": "\\\\\\"{"}');
	expect(memberSpan('{"ch\\u0065cks": 7}', 0, 'checks')).toEqual([16, 17]);
	expect(memberSpan('\ufeff{"a": 7}', 0, 'a')).toEqual([7, 8]);
	const list = '{"checks":[{"id":"one","expect":{}},3,{"name":"no id"},{"id": "t\\u0077o"}]}';
	expect(entriesOf(list, 'checks').map((e) => e.id)).toEqual(['one', 'two']);
	expect(entriesOf(list, 'queries')).toEqual([]);
	for (let cut = 0; cut < list.length; cut++) entriesOf(list.slice(0, cut), 'checks');
	fc.assert(fc.property(fc.string(), (any) => void entriesOf(any, 'checks')));
	fc.assert(
		fc.property(
			fc.string({ unit: fc.constantFrom('{', '}', '[', ']', '"', '\\', ',', ':', ' ', '1', 'a') }),
			(any) => void memberSpan(any, 0, 'a'),
		),
	);
});

it('a place moves with the text before it, stays with the text behind it, and takes in what was put into it', () => {
	const moved = (before: string, after: string, of: string) => {
		const at = before.indexOf(of);
		return after.slice(...movedSpan([at, at + of.length], editBetween(before, after)));
	};
	expect(moved('one two three', 'one 2 three', 'three')).toBe('three');
	expect(moved('one two three', 'one 2 three', 'one')).toBe('one');
	expect(moved('one two three', 'one t-w-o three', 'two')).toBe('t-w-o');
	expect(moved('one two six', 'one six', 'two ')).toBe('');
	fc.assert(
		fc.property(fc.string(), fc.string(), fc.nat(), fc.nat(), (before, after, a, b) => {
			const [from, to] = [a, b].map((n) => n % (before.length + 1)).sort((x, y) => x - y) as [number, number];
			const [begin, end] = movedSpan([from, to], editBetween(before, after));
			expect(begin).toBeGreaterThanOrEqual(0);
			expect(end).toBeGreaterThanOrEqual(begin);
			expect(end).toBeLessThanOrEqual(after.length);
		}),
	);
});
