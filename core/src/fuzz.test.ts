/** A thousand of the fuzzer's cases with every change, and every small file it has ever found. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { formatProblem } from './project/problems';
import { checkProject } from './project/read';
import { Answerer } from './query/answer';
import { caseOf } from './tests/fuzz-case';
import { judgeMap } from './tests/fuzz-map';
import { judge, unsound } from './tests/judge';
import { type Json, reduced } from './tests/mutate';
import { ahead, project } from './tests/scene';
import { buildWorld } from './world/world';

const CASES = 1000;
const examples = join(import.meta.dirname, '../../examples');
const texts = readdirSync(examples)
	.filter((name) => name.endsWith('.json'))
	.map((name) => readFileSync(join(examples, name), 'utf8'));

it('files nobody meant are refused in clean lines, or answered in sound numbers and written back', () => {
	for (let seed = 1; seed <= CASES; seed++)
		expect(judge(caseOf(seed, texts)), `npm run fuzz -- --one ${seed}`).toBeNull();
});

it('what was found once stays found', () => {
	const folder = join(import.meta.dirname, 'tests/found');
	for (const name of readdirSync(folder)) {
		const text = readFileSync(join(folder, name), 'utf8');
		expect(judge(text), name).toBeNull();
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
	for (const over of [
		{ distance: Number.NaN },
		{ distance: -1e-9 },
		{ point: [0, Infinity, 0] },
		{ normal: [0, 0, 1.00001] },
		{ normal: [Number.NaN, 0, 1] },
	])
		expect(with_(over)).not.toBeNull();
	expect(unsound({ ...answer, selected: [], verdicts: [{ object: 'o', stage: 'touch', margin: -1 }] })).toContain(
		'margin -1',
	);
	expect(judge('{"format":"frelk/1"}')).toBeNull();
});

it('what is found is made small', () => {
	const tree: Json = { keep: { deep: [1, 2, { bad: true }] }, other: [1, 2, 3], more: { a: 1 } };
	expect(reduced(tree, (t) => JSON.stringify(t).includes('bad'))).toEqual({ keep: { deep: [{ bad: true }] } });
});

it('a chain of scales is kept to what can be calculated with', () => {
	for (const scale of [1e6, 1e-6]) {
		const p = project([], [ahead()]);
		p.scene.objects = Array.from({ length: 40 }, (_, i) => ({
			id: `o${i}`,
			layer: 'a',
			scale: [scale, scale, scale] as [number, number, number],
			position: [1e7, 0, 0] as [number, number, number],
			shapes: [{ id: 's', kind: 'sphere' as const, radius: 1 }],
			...(i > 0 ? { parent: `o${i - 1}` } : {}),
		}));
		const reading = checkProject(p);
		if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join());
		const world = buildWorld(reading.project);
		const last = world.objects.at(-1);
		expect(last?.scale).toEqual(scale > 1 ? [1e12, 1e12, 1e12] : [1e-12, 1e-12, 1e-12]);
		expect(Math.abs(last?.position[0] ?? Number.NaN)).toBeLessThanOrEqual(1e15);
		for (const query of world.queries) expect(unsound(new Answerer(world).explain(query))).toBeNull();
	}
});

it('maps nobody meant are refused, or asked within what their answers may take', () => {
	for (let seed = 1; seed <= CASES; seed++)
		expect(judgeMap(seed), `npm run fuzz -- --cases 0 --maps 1 --seed ${seed}`).toBeNull();
}, 120_000);
