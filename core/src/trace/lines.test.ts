/** Lines cut from bytes: the same however the bytes come, with what cannot be a line told by its number. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../tests/runs';
import { type CutLine, LineCutter } from './lines';
import { MAX_LINE } from './read';

const bytesOf = (text: string) => new TextEncoder().encode(text);

function cut(parts: readonly Uint8Array[]): CutLine[] {
	const cutter = new LineCutter();
	return [...parts.flatMap((part) => [...cutter.push(part)]), ...cutter.end()];
}
const textsOf = (lines: readonly CutLine[]) => lines.map((l) => ('text' in l ? l.text : l.message));

describe('lines of a trace', () => {
	it('are cut at LF and CR LF, the last one with or without a break', () => {
		expect(cut([bytesOf('a\nb\r\n\nc')])).toEqual([
			{ number: 1, text: 'a' },
			{ number: 2, text: 'b' },
			{ number: 3, text: '' },
			{ number: 4, text: 'c' },
		]);
		expect(textsOf(cut([bytesOf('a\n')]))).toEqual(['a']);
		expect(cut([])).toEqual([]);
		// A return by itself is no end of a line.
		expect(textsOf(cut([bytesOf('a\rb\n')]))).toEqual(['a\rb']);
	});

	it('come out the same in whatever pieces the bytes come', () => {
		fc.assert(
			fc.property(
				fc.array(fc.string({ unit: 'grapheme' }).map((s) => s.replace(/[\r\n\ufeff]/g, ''))),
				fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1 }),
				(lines, sizes) => {
					const bytes = bytesOf(lines.map((l) => `${l}\n`).join(''));
					const parts: Uint8Array[] = [];
					for (let at = 0, i = 0; at < bytes.length; i++) {
						const size = sizes[i % sizes.length] as number;
						parts.push(bytes.slice(at, at + size));
						at += size;
					}
					expect(textsOf(cut(parts))).toEqual(lines);
				},
			),
			{ numRuns: runs(200) },
		);
	});

	it('begin without a byte order mark, which is kept anywhere else', () => {
		expect(textsOf(cut([bytesOf('\ufeffa\n\ufeffb')]))).toEqual(['a', '\ufeffb']);
	});

	it('say where they are no UTF-8, and go on', () => {
		const broken = new Uint8Array([...bytesOf('one\n{"'), 0xff, ...bytesOf('"}\nthree')]);
		expect(cut([broken])).toEqual([
			{ number: 1, text: 'one' },
			{ number: 2, message: 'is not valid UTF-8: byte 0xff at offset 2' },
			{ number: 3, text: 'three' },
		]);
	});

	it('that are too long are told of, and nothing of them is held', () => {
		const piece = new Uint8Array(1 << 20).fill(97);
		const cutter = new LineCutter();
		for (let i = 0; i < 40; i++) expect([...cutter.push(piece)]).toEqual([]);
		expect((cutter as unknown as { parts: unknown[] }).parts).toEqual([]);
		const lines = [...cutter.push(bytesOf('\nshort\n'))];
		expect(lines).toEqual([
			{ number: 1, message: `is ${40 << 20} bytes long; at most ${MAX_LINE} characters are read` },
			{ number: 2, text: 'short' },
		]);
	});
});
