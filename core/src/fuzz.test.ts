/** A thousand of the fuzzer's cases with every change, and every small file it has ever found. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { caseOf, isSlow } from './tests/fuzz-case';
import { judge, unsound } from './tests/judge';
import { type Json, reduced } from './tests/mutate';

const CASES = 1000;
const examples = join(import.meta.dirname, '../../examples');
const texts = readdirSync(examples)
	.filter((name) => name.endsWith('.json'))
	.map((name) => readFileSync(join(examples, name), 'utf8'));

it('files nobody meant are refused in clean lines, or answered in sound numbers and written back', () => {
	for (let seed = 1; seed <= CASES; seed++) expect(judge(caseOf(seed, texts)), `npm run fuzz -- --one ${seed}`).toBeNull();
});

it('what was found once stays found', () => {
	const folder = join(import.meta.dirname, 'tests/found');
	for (const name of readdirSync(folder)) {
		const text = readFileSync(join(folder, name), 'utf8');
		expect(judge(text), name).toBeNull();
		expect(isSlow(text), name).toBe(false);
	}
});

it('a seed gives the same case again, and another one another', () => {
	expect(caseOf(7, texts)).toBe(caseOf(7, texts));
	expect(new Set([1, 2, 3, 4, 5].map((seed) => caseOf(seed, texts))).size).toBe(5);
});

it('the judge sees what is unsound', () => {
	const answer = { query: 'q', status: 'selected' as const, tied: [], notes: [], verdicts: [] };
	const one = {
		object: 'o',
		through: null,
		shape: null,
		distance: 1,
		point: [0, 0, 0] as [number, number, number],
		assisted: false,
		action: null,
		prompt: null,
		box: null,
	};
	const with_ = (over: object) => unsound({ ...answer, selected: [{ ...one, normal: [0, 0, 1], ...over }] } as never);
	expect(with_({})).toBeNull();
	expect(with_({ normal: null })).toBeNull();
	for (const over of [{ distance: Number.NaN }, { distance: -1e-9 }, { point: [0, Infinity, 0] }, { normal: [0, 0, 1.00001] }, { normal: [Number.NaN, 0, 1] }])
		expect(with_(over)).not.toBeNull();
	expect(unsound({ ...answer, selected: [], verdicts: [{ object: 'o', stage: 'touch', margin: -1 }] })).toContain('margin -1');
	expect(judge('{"format":"frelk/1"}')).toBeNull();
});

it('what is found is made small', () => {
	const tree: Json = { keep: { deep: [1, 2, { bad: true }] }, other: [1, 2, 3], more: { a: 1 } };
	expect(reduced(tree, (t) => JSON.stringify(t).includes('bad'))).toEqual({ keep: { deep: [{ bad: true }] } });
});
