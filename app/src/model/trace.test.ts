import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import { beforeEach, expect, it, vi } from 'vitest';
import type { Pushed, Seen, Sent } from '../workers/trace';
import { traceOf } from './trace';

/** Parts of lines that are asked again, each answered when the test says so; parts that are pushed, where it holds them. */
const { asked, pushed, worker } = vi.hoisted(() => ({
	asked: [] as { lines: Sent[]; done: (pushed: unknown) => void; fail: (error: Error) => void }[],
	pushed: [] as { part: Sent[]; done: () => void }[],
	worker: { holds: false, opened: [] as string[] },
}));
beforeEach(() => {
	asked.length = 0;
	pushed.length = 0;
	worker.holds = false;
	worker.opened = [];
});
vi.stubGlobal(
	'Worker',
	class {
		terminate() {}
	},
);
vi.mock('comlink', () => ({
	wrap: () => ({
		open: async (text: string) => {
			worker.opened.push(JSON.parse(text).name);
		},
		head: async () => {},
		push: async (part: Sent[]): Promise<Pushed> => {
			const asOf = worker.opened.at(-1) as string;
			if (worker.holds) await new Promise<void>((done) => pushed.push({ part, done }));
			if (part.some((p) => p.text === 'fatal')) throw new Error('the worker is lost');
			return {
				seen: part.filter((p) => p.text !== 'bad').map(({ n }) => seenAt(n, [asOf])),
				troubles: part.filter((p) => p.text === 'bad').map(({ n }) => ({ n, message: 'is not JSON' })),
			};
		},
		again: (lines: Sent[]) => new Promise((done, fail) => asked.push({ lines, done, fail })),
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
const push = (i: number) => {
	const part = pushed[i];
	if (!part) throw new RangeError(`no part ${i} was pushed`);
	return part;
};
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

it('reads on where an edit comes while its file is still being read, and asks of the edited project what was under way', async () => {
	const trace = traceOf('read on');
	worker.holds = true;
	const text = ['head', ...Array.from({ length: 1200 }, (_, i) => (i === 700 ? 'bad' : 'line'))].join('\n');
	const reading = trace.openFile(new File([text], 'a.jsonl'), project);
	const now = () => trace.store.getState();
	await settled();
	push(0).done();
	await settled();
	expect([now().seen.length, push(1).part[0]?.n]).toEqual([500, 502]);

	// The second part is under way as the project changes: what it brings is of the project before.
	void trace.again({ ...project, name: 'Edited' });
	await settled();
	push(1).done();
	await settled();
	expect([now().seen.length, ask(0).lines.length, worker.opened]).toEqual([500, 500, ['P', 'Edited']]);
	ask(0).done({ seen: ask(0).lines.map(({ n }) => seenAt(n, ['again'])), troubles: [] });
	await settled();
	expect(push(2).part.map((p) => p.n)).toEqual(push(1).part.map((p) => p.n));
	push(2).done();
	await settled();
	// The file has ended with lines still under way, and another edit comes: it is not said to be read before all is there.
	void trace.again({ ...project, name: 'Edited again' });
	await settled();
	push(3).done();
	await settled();
	expect(now().waiting).toBeGreaterThan(0);
	for (const [i, length] of [500, 499].entries()) {
		expect(ask(1 + i).lines).toHaveLength(length);
		ask(1 + i).done({ seen: ask(1 + i).lines.map(({ n }) => seenAt(n, ['again'])), troubles: [] });
		await settled();
	}
	push(4).done();
	await reading;
	expect(now().seen.map((s) => s.n)).toEqual(Array.from({ length: 1200 }, (_, i) => i + 2).filter((n) => n !== 702));
	expect(now().seen.map((s) => s.unknown[0])).toEqual([
		...Array.from({ length: 999 }, () => 'again'),
		...Array.from({ length: 200 }, () => 'Edited again'),
	]);
	expect([now().waiting, now().failed, now().troubles]).toEqual([0, null, [{ n: 702, message: 'is not JSON' }]]);
});

it('says what stopped it, keeps the lines it has, and asks no more', async () => {
	const trace = traceOf('fails');
	const text = ['head', ...Array.from({ length: 600 }, (_, i) => (i === 550 ? 'fatal' : 'line'))].join('\n');
	await trace.openFile(new File([text], 'a.jsonl'), project);
	const now = () => trace.store.getState();
	expect([now().seen.length, now().failed, now().waiting]).toEqual([500, 'the worker is lost', 0]);
	await trace.again({ ...project, name: 'Edited' });
	expect([asked.length, worker.opened]).toEqual([0, ['P']]);
});

/** A file that comes as the test gives it. */
function slowFile() {
	const { readable, writable } = new TransformStream<string, string>(undefined, undefined, { highWaterMark: 9 });
	const writer = writable.getWriter();
	const file = new File(['x'], 'slow.jsonl');
	file.stream = () => readable.pipeThrough(new TextEncoderStream()) as ReturnType<File['stream']>;
	return { file, give: (text: string) => void writer.write(text), end: () => void writer.close() };
}
const lines = (count: number) => 'line\n'.repeat(count);

it('is not said to be read while lines are asked again, though its file has ended', async () => {
	const trace = traceOf('slow');
	const { file, give, end } = slowFile();
	const reading = trace.openFile(file, project);
	const now = () => trace.store.getState();
	give(`head\n${lines(500)}`);
	await settled();
	expect([now().seen.length, now().waiting]).toEqual([500, 0]);
	void trace.again({ ...project, name: 'Edited' });
	await settled();
	end();
	await settled();
	expect(now().waiting).toBe(500);
	ask(0).done({ seen: ask(0).lines.map(({ n }) => seenAt(n)), troubles: [] });
	await reading;
	expect([now().seen.length, now().waiting]).toEqual([500, 0]);
});

it('of a file that is left for another takes nothing more, be it read or asked', async () => {
	const trace = traceOf('left');
	const { file, give, end } = slowFile();
	worker.holds = true;
	void trace.openFile(file, project);
	give(`head\n${lines(500)}`);
	await settled();
	worker.holds = false;
	await trace.openFile(new File([`head\n${lines(2)}`], 'b.jsonl'), project);
	push(0).done();
	give(lines(700));
	end();
	await settled();
	void trace.again(project);
	await settled();
	ask(0).done({ seen: ask(0).lines.map(({ n }) => seenAt(n)), troubles: [] });
	await settled();
	const { name, seen, waiting } = trace.store.getState();
	expect([name, seen.map((s) => s.n), waiting]).toEqual(['b.jsonl', [2, 3], 0]);
});

it('asks no more where asking again fails', async () => {
	const trace = traceOf('fails again');
	const { file, give, end } = slowFile();
	void trace.openFile(file, project);
	give(`head\n${lines(500)}`);
	await settled();
	const again = trace.again({ ...project, name: 'Edited' });
	await settled();
	give(lines(20));
	worker.holds = true;
	await settled();
	ask(0).fail(new Error('the worker is lost'));
	await again;
	end();
	await settled();
	expect([trace.store.getState().failed, trace.store.getState().waiting]).toEqual(['the worker is lost', 0]);
	expect([trace.store.getState().seen.length, pushed.length]).toEqual([500, 0]);
});

it('of a running game takes what comes while lines are under way, an edit in between, and listens no more when it fails', async () => {
	vi.stubGlobal('fetch', async () => new Response(null, { status: 204 }));
	const servers: (EventTarget & { closed: boolean })[] = [];
	vi.stubGlobal(
		'EventSource',
		class extends EventTarget {
			constructor(readonly url: string) {
				super();
				servers.push(this);
			}
			closed = false;
			close() {
				this.closed = true;
			}
		},
	);
	const come = (...ns: number[]) =>
		servers[0]?.dispatchEvent(new MessageEvent('lines', { data: ns.map((n) => `${n} line`).join('\n') }));
	const trace = traceOf('live');
	const ns = () => trace.store.getState().seen.map((s) => s.n);
	worker.holds = true;
	trace.follow(project);
	await settled();
	servers[0]?.dispatchEvent(new MessageEvent('hello', { data: '{"lost":3}' }));
	come(4);
	come(5, 6);
	await settled();
	expect([push(0).part.map((p) => p.n), trace.store.getState().waiting]).toEqual([[4], 3]);
	push(0).done();
	await settled();
	expect([push(1).part.map((p) => p.n), ns()]).toEqual([[5, 6], [4]]);
	come(7);
	void trace.again({ ...project, name: 'Edited' });
	push(1).done();
	await settled();
	ask(0).done({ seen: [seenAt(4)], troubles: [] });
	await settled();
	expect(push(2).part.map((p) => p.n)).toEqual([5, 6, 7]);
	push(2).done();
	await settled();
	const { lost, heard, waiting } = trace.store.getState();
	expect([ns(), lost, heard, waiting]).toEqual([[4, 5, 6, 7], 3, true, 0]);

	servers[0]?.dispatchEvent(new MessageEvent('lines', { data: '8 fatal' }));
	come(9);
	await settled();
	expect(servers.map((s) => s.closed)).toEqual([false]);
	push(3).done();
	await settled();
	expect(servers.map((s) => s.closed)).toEqual([true]);
	expect([ns(), trace.store.getState().failed, trace.store.getState().waiting]).toEqual([
		[4, 5, 6, 7],
		'the worker is lost',
		0,
	]);
});
