import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import { expect, it, vi } from 'vitest';
import type { Pushed, Seen, Sent } from '../workers/trace';
import { traceOf } from './trace';

/** Parts of lines that are asked again, each answered when the test says so. */
const { asked } = vi.hoisted(() => ({ asked: [] as { lines: Sent[]; done: (pushed: unknown) => void }[] }));
vi.stubGlobal(
	'Worker',
	class {
		terminate() {}
	},
);
vi.mock('comlink', () => ({
	wrap: () => ({
		open: async () => {},
		head: async () => {},
		push: async (part: Sent[]): Promise<Pushed> => ({
			seen: part.filter((p) => p.text !== 'bad').map(({ n }) => seenAt(n)),
			troubles: part.filter((p) => p.text === 'bad').map(({ n }) => ({ n, message: 'is not JSON' })),
		}),
		again: (lines: Sent[]) => new Promise((done) => asked.push({ lines, done })),
	}),
}));
const seenAt = (n: number, unknown: string[] = []): Seen => ({ n, line: { t: n } as never, compared: [], unknown });
const project: Project = {
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: { kind: 'flat', layers: [], tags: [], objects: [], cameras: [] },
	queries: [],
};
/** Lets what is asked come to the worker. */
const settled = () => new Promise((done) => setTimeout(done, 20));
const ask = (i: number) => {
	const part = asked[i];
	if (!part) throw new RangeError(`no part ${i}`);
	return part;
};

it('keeps its lines while an edit has them asked again, whatever comes between', async () => {
	const trace = traceOf('p');
	// 501 lines after the head, so that they are asked in two parts, and one that is none.
	const text = ['head', ...Array.from({ length: 501 }, () => 'line'), 'bad'].join('\n');
	await trace.openFile(new File([text], 'a.jsonl'), project);
	const now = () => trace.store.getState();
	const line503 = [{ n: 503, message: 'is not JSON' }];
	expect([now().seen.length, now().troubles]).toEqual([501, line503]);

	void trace.again({ ...project, name: 'Once' });
	await settled();
	expect(ask(0).lines).toHaveLength(500);
	expect([now().seen.length, now().waiting, now().troubles]).toEqual([501, 501, line503]);
	ask(0).done({ seen: ask(0).lines.map(({ n }) => seenAt(n)), troubles: [] });
	await settled();
	expect(ask(1).lines.map((l) => l.n)).toEqual([502]);

	// Another edit before the first was done with: it asks all of them, and what the first still brings is not taken.
	void trace.again({ ...project, name: 'Twice' });
	await settled();
	expect([ask(2).lines.length, now().seen.length]).toEqual([500, 501]);
	ask(1).done({ seen: [seenAt(502, ['of the first'])], troubles: [] });
	ask(2).done({ seen: ask(2).lines.map(({ n }) => seenAt(n)), troubles: [] });
	await settled();
	ask(3).done({ seen: [seenAt(502, ['gone'])], troubles: [{ n: 502, message: 'cannot be asked' }] });
	await settled();
	expect(now().seen.map((s) => s.n)).toEqual(Array.from({ length: 501 }, (_, i) => i + 2));
	expect([[...now().strangers], now().waiting]).toEqual([['gone'], 0]);
	expect(now().troubles).toEqual([...line503, { n: 502, message: 'cannot be asked' }]);
});
