/** Findings come when the hand rests, and never of a project that is another by then. */
import { example } from '@frelk/core/tests/examples';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';

const { jobs } = vi.hoisted(() => ({
	jobs: [] as {
		project: { name: string };
		done: (list: unknown[]) => void;
		fail: (error: Error) => void;
		cancelled: boolean;
	}[],
}));
vi.mock('../workers/client', () => ({
	findingsIn: (project: { name: string }) => {
		const job = { project, cancelled: false, done: (_: unknown[]) => {}, fail: (_: Error) => {} };
		const done = new Promise((resolve, reject) => {
			job.done = resolve;
			job.fail = reject;
		});
		jobs.push(job);
		return {
			done,
			cancel: () => {
				job.cancelled = true;
				job.fail(new Error('cancelled'));
			},
			cancelled: () => job.cancelled,
		};
	},
}));

import { keepFindings } from './keep-findings';
import { createBench } from './store';

beforeEach(() => {
	jobs.length = 0;
	vi.useFakeTimers();
});
afterEach(() => void vi.useRealTimers());

it('are looked for after a rest, and again after an edit', async () => {
	const store = createBench('quay', example('harl-quay'));
	const stop = keepFindings(store);
	await vi.advanceTimersByTimeAsync(3999);
	expect(jobs).toHaveLength(0);
	await vi.advanceTimersByTimeAsync(1);
	expect(jobs).toHaveLength(1);
	// Another edit while they are looked for: what was begun is left off.
	store.getState().edit('Rename', (p) => void (p.name = 'One'));
	expect(jobs[0]?.cancelled).toBe(true);
	await vi.advanceTimersByTimeAsync(4000);
	expect(jobs.map((j) => j.project.name)).toEqual(['Quay at Harl', 'One']);
	jobs[1]?.done(['one', 'two']);
	await vi.advanceTimersByTimeAsync(0);
	expect(store.getState().found?.list).toHaveLength(2);
	expect(store.getState().found?.project).toBe(store.getState().project);
	stop();
	store.getState().edit('Rename', (p) => void (p.name = 'Two'));
	await vi.advanceTimersByTimeAsync(10_000);
	expect(jobs).toHaveLength(2);
});

it('wait for the end of a gesture', async () => {
	const store = createBench('quay', example('harl-quay'));
	const stop = keepFindings(store);
	store.getState().beginGesture('Move');
	await vi.advanceTimersByTimeAsync(9000);
	expect(jobs).toHaveLength(0);
	store.getState().endGesture();
	await vi.advanceTimersByTimeAsync(4000);
	expect(jobs).toHaveLength(1);
	stop();
});
