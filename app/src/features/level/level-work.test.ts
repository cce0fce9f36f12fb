/** The worker of a level: one laying at a time, the last one wanted, and a fresh worker where one takes too long. */
import type { NamingRules } from '@frelk/interchange';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { LevelMade, LevelShown } from '../../workers/level';
import { GivenUp, type LevelHands, LevelWork } from './level-work';

interface Hired extends LevelHands {
	asked: { rules: NamingRules; answer: (made: LevelMade) => void; fail: (error: Error) => void }[];
	ended: boolean;
}

const shown = { rows: [] } as unknown as LevelShown;
const made = (project: string) => ({ project }) as LevelMade;
const rule = (name: string): NamingRules => ({ rules: [{ when: { name } }] });

describe('the worker of a level', () => {
	let hired: Hired[] = [];
	const hire = () => {
		const one: Hired = {
			asked: [],
			ended: false,
			read: () => Promise.resolve(shown),
			lay: (_project, rules) =>
				new Promise((answer, fail) => {
					one.asked.push({ rules, answer, fail });
				}),
			compare: () => Promise.resolve({ gap: 1, edges: [], vertices: [] }),
			end: () => {
				one.ended = true;
			},
		};
		hired.push(one);
		return one;
	};
	const work = () => new LevelWork(hire, [], () => {});
	const turns = () => vi.advanceTimersByTimeAsync(0);
	/** How it ends, without a rejection that nobody hears of. */
	const outcome = (job: Promise<LevelMade>) =>
		job.then(
			(m) => m.project,
			(error: unknown) => (error instanceof GivenUp ? 'given up' : (error as Error).message),
		);
	beforeEach(() => {
		hired = [];
		vi.useFakeTimers();
	});
	afterEach(() => vi.useRealTimers());

	it('lays one after the other, and of those that wait the last alone', async () => {
		const one = work();
		const jobs = ['a', 'b', 'c'].map((name) => outcome(one.lay('{}', rule(name))));
		await turns();
		expect(hired[0]?.asked.map((a) => a.rules)).toEqual([rule('a')]);
		hired[0]?.asked[0]?.answer(made('A'));
		await turns();
		expect(hired[0]?.asked.map((a) => a.rules)).toEqual([rule('a'), rule('c')]);
		hired[0]?.asked[1]?.answer(made('C'));
		expect(await Promise.all(jobs)).toEqual(['A', 'given up', 'C']);
		expect(hired).toHaveLength(1);
	});

	it('takes a fresh worker for what is wanted next when a laying takes long, and hears of the old one no more', async () => {
		const one = work();
		const stuck = outcome(one.lay('{}', rule('slow')));
		await vi.advanceTimersByTimeAsync(60_000);
		// Nobody wants anything else: it is waited for.
		expect(hired).toHaveLength(1);
		const next = outcome(one.lay('{}', rule('mended')));
		await turns();
		expect(hired.map((h) => h.ended)).toEqual([true, false]);
		expect(hired[1]?.asked.map((a) => a.rules)).toEqual([rule('mended')]);
		hired[0]?.asked[0]?.answer(made('late'));
		hired[1]?.asked[0]?.answer(made('M'));
		expect([await stuck, await next]).toEqual(['given up', 'M']);
	});

	it('waits for one that has only begun before it lets go of it', async () => {
		const one = work();
		void outcome(one.lay('{}', rule('a')));
		await vi.advanceTimersByTimeAsync(1000);
		void outcome(one.lay('{}', rule('b')));
		await vi.advanceTimersByTimeAsync(499);
		expect(hired).toHaveLength(1);
		await vi.advanceTimersByTimeAsync(2);
		expect(hired).toHaveLength(2);
	});

	it('can be stopped, and goes on afterwards', async () => {
		const one = work();
		const [a, b] = [outcome(one.lay('{}', rule('a'))), outcome(one.lay('{}', rule('b')))];
		await turns();
		expect(await one.compare(0, {})).toBeNull();
		one.stop();
		expect([await a, await b]).toEqual(['given up', 'given up']);
		expect(await one.compare(0, {})).toMatchObject({ gap: 1 });
		const c = outcome(one.lay('{}', rule('c')));
		await turns();
		hired[1]?.asked[0]?.fail(new Error('no such rule'));
		expect(await c).toBe('no such rule');
		expect(hired[1]?.asked.map((x) => x.rules)).toEqual([rule('c')]);
	});

	it('ends with everything that was under way', async () => {
		const one = work();
		const [a, b] = [outcome(one.lay('{}', rule('a'))), outcome(one.lay('{}', rule('b')))];
		await turns();
		one.end();
		expect([await a, await b, hired[0]?.ended, hired.length]).toEqual(['given up', 'given up', true, 1]);
	});
});
