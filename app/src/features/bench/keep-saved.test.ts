import type { Project } from '@frelk/core';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { keepSaved } from './keep-saved';
import { createBench } from './store';

/** What was written, by whom; a write is done when its `done` is called. */
interface Write {
	by: 'worker' | 'page';
	name: string;
	done: (version: number) => void;
	fail: (error: Error) => void;
}
const { writes, stopped, stored } = vi.hoisted(() => ({ writes: [] as Write[], stopped: { times: 0 }, stored: { row: undefined as unknown } }));
const writing = (by: Write['by']) => (_key: string, project: Project) =>
	new Promise<number>((done, fail) => {
		writes.push({ by, name: project.name, done, fail });
	});
vi.mock('../../data/projects', () => ({ saveProject: (key: string, project: Project) => writing('page')(key, project), getProject: async () => stored.row }));
vi.mock('../../workers/saving', () => {
	class Ended extends Error {}
	class Saving {
		ready() {}
		save = (key: string, project: Project) => writing('worker')(key, project);
		stop() {
			stopped.times++;
			for (const write of writes) if (write.by === 'worker') write.fail(new Ended());
		}
	}
	return { Ended, Saving };
});

const blank: Project = {
	format: 'frelk/1',
	id: 'p',
	name: 'Laid',
	scene: { kind: 'space', layers: [{ id: 'a', name: 'A' }], tags: [], objects: [], cameras: [] },
	queries: [],
};

const page = Object.assign(new EventTarget(), { visibilityState: 'visible' });
const tab = new EventTarget();
let stop = () => {};

function opened() {
	const store = createBench('p', blank);
	stop = keepSaved(store, 1);
	const rename = (name: string) => store.getState().edit('Rename', (draft) => void (draft.name = name));
	return { store, rename };
}
/** Lets what is promised happen. */
const settle = async () => {
	for (let i = 0; i < 5; i++) await Promise.resolve();
};
const pass = async (ms: number) => {
	await vi.advanceTimersByTimeAsync(ms);
};

beforeEach(() => {
	vi.useFakeTimers();
	writes.length = 0;
	stopped.times = 0;
	stored.row = undefined;
	page.visibilityState = 'visible';
	vi.stubGlobal('document', page);
	vi.stubGlobal('window', tab);
});
afterEach(() => {
	stop();
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

it('writes by the worker a moment after a change, and says so', async () => {
	const { store, rename } = opened();
	rename('One');
	expect(store.getState().saving).toBe('waiting');
	await pass(200);
	expect(writes).toEqual([]);
	await pass(100);
	expect(writes.map((w) => [w.by, w.name])).toEqual([['worker', 'One']]);
	writes[0]?.done(2);
	await settle();
	expect(store.getState().saving).toBe('saved');
});

it('writes within a second even while a gesture goes on without pause', async () => {
	const { rename } = opened();
	for (let i = 0; i < 10; i++) {
		rename(`At ${i}`);
		await pass(100);
	}
	expect(writes.length).toBeGreaterThan(0);
	expect(writes[0]?.name).toBe('At 7');
});

it('is saved at once when a change is taken back before it was written', async () => {
	const { store, rename } = opened();
	rename('One');
	store.getState().undo();
	await pass(1000);
	expect(writes).toEqual([]);
	expect(store.getState().saving).toBe('saved');
});

it('does not call saved what has changed since', async () => {
	const { store, rename } = opened();
	rename('One');
	await pass(300);
	rename('Two');
	writes[0]?.done(2);
	await settle();
	expect(store.getState().saving).toBe('waiting');
	await pass(300);
	expect(writes.map((w) => w.name)).toEqual(['One', 'Two']);
});

it('writes on the page when it is left, and gives up what the worker has in hand', async () => {
	const { rename } = opened();
	rename('One');
	await pass(300);
	rename('Two');
	tab.dispatchEvent(new Event('pagehide'));
	expect(stopped.times).toBe(1);
	expect(writes.map((w) => [w.by, w.name])).toEqual([
		['worker', 'One'],
		['page', 'Two'],
	]);
	writes[1]?.done(2);
	await settle();
	// All is written: leaving again writes nothing.
	page.visibilityState = 'hidden';
	page.dispatchEvent(new Event('visibilitychange'));
	expect(writes).toHaveLength(2);
});

it('writes again on the page what the worker had not finished', async () => {
	const { store, rename } = opened();
	rename('One');
	await pass(300);
	tab.dispatchEvent(new Event('pagehide'));
	expect(writes.map((w) => [w.by, w.name])).toEqual([
		['worker', 'One'],
		['page', 'One'],
	]);
	writes[1]?.done(2);
	await settle();
	expect(store.getState().saving).toBe('saved');
});

it('says when it cannot save, and tries again with the next change', async () => {
	const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
	const { store, rename } = opened();
	rename('One');
	await pass(300);
	writes[0]?.fail(new Error('the disk is full'));
	await settle();
	expect(store.getState().saving).toBe('failed');
	expect(silent).toHaveBeenCalled();
	rename('Two');
	await pass(300);
	writes[1]?.done(2);
	await settle();
	expect(store.getState().saving).toBe('saved');
	silent.mockRestore();
});

it('takes over on return what another tab has written, unless there is something of its own', async () => {
	const { store, rename } = opened();
	const theirs = { ...blank, name: 'Theirs' };
	stored.row = { key: 'p', name: 'Theirs', changed: 0, version: 5, project: theirs };
	tab.dispatchEvent(new Event('focus'));
	await settle();
	expect(store.getState().project).toBe(theirs);
	expect(store.getState().past.at(-1)?.project).toBe(blank);
	rename('Ours');
	stored.row = { key: 'p', name: 'Later', changed: 0, version: 9, project: { ...blank, name: 'Later' } };
	page.dispatchEvent(new Event('visibilitychange'));
	await settle();
	expect(store.getState().project.name).toBe('Ours');
});
