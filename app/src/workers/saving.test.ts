import type { Project } from '@frelk/core';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Keeping, Writing, Written } from '../data/db';
import type { Change } from '../data/text';
import { Ended, Saving } from './saving';

const { hands, page, keeping } = vi.hoisted(() => ({
	hands: [] as {
		sent: { name: string; change: readonly Change[]; unsure?: boolean }[];
		answer: (() => Promise<Written>) | null;
	}[],
	page: [] as string[],
	keeping: { now: { kept: true } as Keeping },
}));

/** A worker that notes what it is sent; it answers as the test says, or never. */
class FakeWorker extends EventTarget {
	static broken = false;
	terminated = false;
	hand = {
		sent: [] as { name: string; change: readonly Change[]; unsure?: boolean }[],
		answer: null as (() => Promise<Written>) | null,
	};
	constructor() {
		super();
		if (FakeWorker.broken) throw new Error('no workers here');
		workers.push(this);
		hands.push(this.hand);
	}
	terminate() {
		this.terminated = true;
	}
}
const workers: FakeWorker[] = [];

vi.mock('comlink', () => ({
	wrap: (worker: FakeWorker) => ({
		save: ({ head }: Writing, change: readonly Change[], unsure: boolean) => {
			worker.hand.sent.push({ name: head.name, change, unsure });
			return worker.hand.answer?.() ?? new Promise<Written>(() => {});
		},
	}),
}));
vi.mock('../data/db', async (original) => ({
	...(await original<typeof import('../data/db')>()),
	keepingNow: () => keeping.now,
	writeText: async ({ head, seen }: Writing) => {
		page.push(head.name);
		return { done: 'written', version: (seen ?? 0) + 70 };
	},
}));

const objects = Array.from({ length: 30 }, (_, i) => ({ id: `crate-${i}`, layer: 'a' }));
const project = (name: string): Project => ({
	format: 'frelk/1',
	id: 'p',
	name,
	scene: { kind: 'space', layers: [{ id: 'a', name: 'A' }], tags: [], objects, cameras: [] },
	queries: [],
});

beforeEach(() => {
	workers.length = 0;
	hands.length = 0;
	page.length = 0;
	keeping.now = { kept: true };
	FakeWorker.broken = false;
	vi.stubGlobal('Worker', FakeWorker);
	vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(() => {
	vi.unstubAllGlobals();
	vi.restoreAllMocks();
});

it('sends all the first time, and of what stays only where it was', async () => {
	const saving = new Saving();
	saving.ready();
	(hands[0] as (typeof hands)[number]).answer = async () => ({ done: 'written', version: 5 });
	expect(await saving.save('p', project('One'), 7)).toEqual({ done: 'written', version: 5 });
	await saving.save('p', project('Two'), 7);
	expect(workers).toHaveLength(1);
	const [first, second] = hands[0]?.sent ?? [];
	expect(first?.change.join('')).toBe(JSON.stringify(project('One')));
	expect(second?.name).toBe('Two');
	expect(JSON.stringify(second?.change)).not.toContain('crate-1');
	expect(second?.change.some((piece) => typeof piece === 'number')).toBe(true);
});

it('is ended in the middle of a save, and a new worker is sent everything', async () => {
	const saving = new Saving();
	const ended = saving.save('p', project('One'), 7);
	saving.stop();
	await expect(ended).rejects.toBeInstanceOf(Ended);
	expect(workers[0]?.terminated).toBe(true);
	void saving.save('p', project('Two'), 7);
	expect(workers).toHaveLength(2);
	expect(hands[1]?.sent[0]?.change.join('')).toBe(JSON.stringify(project('Two')));
	expect(page).toEqual([]);
});

it('leaves it to the page where no worker can be had, then and later', async () => {
	FakeWorker.broken = true;
	const saving = new Saving();
	expect(await saving.save('p', project('One'), 7)).toEqual({ done: 'written', version: 77 });
	expect(await saving.save('p', project('Two'), 7)).toEqual({ done: 'written', version: 77 });
	expect(page).toEqual(['One', 'Two']);
});

it('leaves it to the page when the worker fails before the first save', async () => {
	const saving = new Saving();
	saving.ready();
	workers[0]?.dispatchEvent(new Event('error'));
	expect(await saving.save('p', project('One'), 7)).toEqual({ done: 'written', version: 77 });
	expect(workers).toHaveLength(1);
});

it('leaves it to the page when the worker fails in the middle of a save, or its store does', async () => {
	const saving = new Saving();
	const under = saving.save('p', project('One'), 7);
	workers[0]?.dispatchEvent(new Event('error'));
	expect(await under).toEqual({ done: 'written', version: 77 });
	const other = new Saving();
	other.ready();
	(hands[1] as (typeof hands)[number]).answer = () => Promise.reject(new Error('the disk is full'));
	expect(await other.save('p', project('Two'), 7)).toEqual({ done: 'written', version: 77 });
	expect(page).toEqual(['One', 'Two']);
	expect(console.error).toHaveBeenCalledTimes(2);
});

it('leaves it to the page when the worker never answers, and waits for no other', async () => {
	vi.useFakeTimers();
	const saving = new Saving();
	const saved = saving.save('p', project('one'), 3);
	await vi.advanceTimersByTimeAsync(19_000);
	expect([page, workers[0]?.terminated]).toEqual([[], false]);
	await vi.advanceTimersByTimeAsync(2000);
	expect(await saved).toEqual({ done: 'written', version: 73 });
	expect([page, workers[0]?.terminated]).toEqual([['one'], true]);
	await saving.save('p', project('two'), 73);
	expect([page, workers.length]).toEqual([['one', 'two'], 1]);
	// One that answers is not ended later.
	const other = new Saving();
	other.ready();
	(hands[1] as (typeof hands)[number]).answer = async () => ({ done: 'written', version: 9 });
	await other.save('p', project('three'), 8);
	await vi.advanceTimersByTimeAsync(60_000);
	expect(workers[1]?.terminated).toBe(false);
	vi.useRealTimers();
});

it('leaves it to the page where the browser keeps nothing: no worker sees what only the page remembers', async () => {
	keeping.now = { kept: false, why: 'a private window' };
	const saving = new Saving();
	expect(await saving.save('p', project('One'), 7)).toEqual({ done: 'written', version: 77 });
	expect(workers).toEqual([]);
	expect(page).toEqual(['One']);
});

it('says that there is no room, and stays with its worker for the next time', async () => {
	const saving = new Saving();
	saving.ready();
	const full = Object.assign(new Error('there is no room left'), { name: 'QuotaExceededError' });
	(hands[0] as (typeof hands)[number]).answer = () => Promise.reject(full);
	await expect(saving.save('p', project('One'), 7)).rejects.toBe(full);
	expect(page).toEqual([]);
	(hands[0] as (typeof hands)[number]).answer = async () => ({ done: 'written', version: 8 });
	expect(await saving.save('p', project('Two'), 7)).toEqual({ done: 'written', version: 8 });
	expect(workers).toHaveLength(1);
});

it('looks first, where it is to, whether a file may hold the project: in the worker, or here where there is none', async () => {
	const saving = new Saving();
	saving.ready();
	(hands[0] as (typeof hands)[number]).answer = async () => ({ done: 'unfit' });
	expect(await saving.save('p', project('One'), 7, true)).toEqual({ done: 'unfit' });
	expect(hands[0]?.sent[0]).toMatchObject({ name: 'One', unsure: true });
	FakeWorker.broken = true;
	const alone = new Saving();
	expect(await alone.save('p', project('x'.repeat(201)), 7, true)).toEqual({ done: 'unfit' });
	expect(await alone.save('p', project('x'.repeat(200)), 7, true)).toMatchObject({ done: 'written' });
	expect(await alone.save('p', project('x'.repeat(201)), 7)).toMatchObject({ done: 'written' });
});
