/** Jobs in a worker: one is kept for the next, and what is cancelled ends with its worker. */
import { beforeEach, describe, expect, it, vi } from 'vitest';

const workers: FakeWorker[] = [];

class FakeWorker extends EventTarget {
	terminated = false;
	released = false;
	calls: { name: string; given: unknown[]; done: (value: unknown) => void; fail: (error: Error) => void }[] = [];
	constructor(
		readonly url: URL,
		readonly options: { type: string; name: string },
	) {
		super();
		workers.push(this);
	}
	terminate() {
		this.terminated = true;
	}
}
vi.stubGlobal('Worker', FakeWorker);
vi.mock('comlink', () => ({
	releaseProxy: Symbol('release'),
	proxy: (value: unknown) => value,
	wrap: (worker: FakeWorker) =>
		new Proxy(
			{},
			{
				get:
					(_, name: string | symbol) =>
					(...given: unknown[]) => {
						if (typeof name === 'symbol') worker.released = true;
						else return new Promise((done, fail) => worker.calls.push({ name, given, done, fail }));
					},
			},
		),
}));

const text = 'a project';
const project = { format: 'frelk/1', id: 'p', name: 'p', scene: {}, queries: [] } as never;
/** A query of a picture of more than a hundred thousand pixels, and the map of it. */
const picks = {
	...(project as object),
	scene: { cameras: [] },
	queries: [{ id: 'q', kind: 'pick', viewport: [400, 251] }],
} as never;
const map = { id: 'm', query: 'q', kind: 'cursor', cell: 1 } as never;
let client: typeof import('./client');
const last = (worker: FakeWorker | undefined) => worker?.calls.at(-1);

beforeEach(async () => {
	vi.resetModules();
	workers.length = 0;
	client = await import('./client');
});

describe('a job', () => {
	it('is done by the worker of the one before', async () => {
		const first = client.tryOutIn(text);
		expect(last(workers[0])).toMatchObject({ name: 'tryOut', given: [text] });
		last(workers[0])?.done(null);
		expect(await first.done).toBeNull();
		const second = client.answersIn(project);
		last(workers[0])?.done(['answers']);
		expect(await second.done).toEqual(['answers']);
		expect([workers.length, workers[0]?.terminated, second.cancelled()]).toEqual([1, false, false]);
	});

	it('finds a worker ready where one was asked for, and no second one is made', async () => {
		client.makeReady();
		client.makeReady();
		expect(workers.length).toBe(1);
		const job = client.tryOutIn(text);
		expect(workers.length).toBe(1);
		// While it works the next one is made ready.
		client.makeReady();
		expect(workers.length).toBe(2);
		last(workers[0])?.done(null);
		expect(await job.done).toBeNull();
		expect([workers[0]?.terminated, workers[1]?.terminated]).toEqual([true, false]);
	});

	it('has a worker of its own while another is at work, and one of them is kept', async () => {
		const one = client.checksIn(project, ['a'], () => {});
		const two = client.robustnessIn(project, ['a']);
		expect(workers.map((w) => last(w)?.name)).toEqual(['checks', 'robustness']);
		last(workers[0])?.done([]);
		last(workers[1])?.done([]);
		await Promise.all([one.done, two.done]);
		expect(workers.map((w) => [w.terminated, w.released])).toEqual([
			[false, false],
			[true, true],
		]);
	});

	it('that is cancelled says so and ends with its worker; the next begins anew', async () => {
		const job = client.pictureIn(text);
		job.cancel();
		job.cancel();
		await expect(job.done).rejects.toThrow('cancelled');
		expect([job.cancelled(), workers[0]?.terminated]).toEqual([true, true]);
		const next = client.pictureIn(text);
		last(workers[1])?.done('picture');
		expect(await next.done).toBe('picture');
	});

	it('that is a large map is shared out by rows, told row by row, and put together', async () => {
		vi.stubGlobal('navigator', { hardwareConcurrency: 2 });
		const steps: number[][] = [];
		const job = client.mapIn(picks, map, (done, of) => steps.push([done, of]));
		const parts = workers.map((w) => last(w));
		expect(parts.map((c) => [c?.name, c?.given[2], c?.given[3]])).toEqual([
			['mapPart', 0, 125],
			['mapPart', 125, 251],
		]);
		const tell = (part: number) => parts[part]?.given[4] as ((row: number) => void) | undefined;
		tell(1)?.(140);
		tell(0)?.(15);
		expect(steps).toEqual([
			[16, 251],
			[32, 251],
		]);
		parts[0]?.done('first');
		parts[1]?.done('second');
		const called = (name: string) => workers.flatMap((w) => w.calls).find((c) => c.name === name);
		await vi.waitFor(() => expect(called('mapJoined')).toBeDefined());
		const joined = called('mapJoined');
		expect(joined?.given[2]).toEqual(['first', 'second']);
		joined?.done('whole');
		expect([await job.done, job.cancelled()]).toEqual(['whole', false]);
		// Just under what is worth several.
		const small = client.mapIn(
			{ ...(picks as object), queries: [{ id: 'q', kind: 'pick', viewport: [400, 249] }] } as never,
			map,
		);
		expect([called('map')?.given[1], called('map')?.given.length]).toEqual([map, 3]);
		small.cancel();
		await expect(small.done).rejects.toThrow('cancelled');
	});

	it('that is cancelled in parts is not put together', async () => {
		vi.stubGlobal('navigator', { hardwareConcurrency: 2 });
		const job = client.mapIn(picks, map);
		for (const w of workers) last(w)?.done('part');
		job.cancel();
		await expect(job.done).rejects.toThrow('cancelled');
		expect(job.cancelled()).toBe(true);
		expect(workers.flatMap((w) => w.calls).some((c) => c.name === 'mapJoined')).toBe(false);
	});

	it('tells nothing any more once it is over or cancelled', async () => {
		const steps: number[] = [];
		const tell = () => last(workers[0])?.given[2] as (done: number) => void;
		const job = client.checksIn(project, ['a'], (done) => steps.push(done));
		tell()(1);
		last(workers[0])?.done([]);
		await job.done;
		tell()(2);
		expect(steps).toEqual([1]);
		const left = client.checksIn(project, ['a'], (done) => steps.push(done));
		left.cancel();
		tell()(3);
		await expect(left.done).rejects.toThrow('cancelled');
		expect(steps).toEqual([1]);
	});

	it('that looks for remedies tells each and then all in one order', () => {
		const told: unknown[] = [];
		client.remediesIn(
			project,
			{ query: 'q', object: 'o' },
			[],
			(one) => told.push(one),
			(all) => told.push(all),
		);
		const call = last(workers[0]);
		expect(call?.given).toHaveLength(4);
		const tell = call?.given[3] as (told: unknown) => void;
		tell({ found: 'one' });
		tell({ all: ['one', 'two'] });
		expect(told).toEqual(['one', ['one', 'two']]);
	});

	it('tells how far it is, and what went wrong', async () => {
		const steps: number[] = [];
		const job = client.checksIn(project, ['a', 'b'], (done) => steps.push(done));
		const call = last(workers[0]);
		expect(call?.given[1]).toEqual(['a', 'b']);
		(call?.given[2] as ((done: number) => void) | undefined)?.(1);
		expect(steps).toEqual([1]);
		call?.fail(new Error('no query "x"'));
		await expect(job.done).rejects.toThrow('no query "x"');
		expect(job.cancelled()).toBe(false);
		const broken = client.tryOutIn(text);
		workers[0]?.dispatchEvent(Object.assign(new Event('error'), { message: '' }));
		await expect(broken.done).rejects.toThrow('the worker could not be started');
	});
});
