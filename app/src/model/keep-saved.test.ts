import type { Project } from '@frelk/core';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import type { Writing, Written } from '../data/db';
import type { News } from '../data/tabs';
import { keepSaved } from './keep-saved';
import { createBench } from './store';

/** What was written, by whom; a write is done when its `done` is called. */
interface Write {
	by: 'worker' | 'page';
	name: string;
	seen: number | null;
	/** Whether it is to be looked at first. */
	unsure: boolean;
	/** What the page makes of another tab's text that it finds there. */
	bring?: (text: string) => { head: { name: string }; text: string } | null;
	done: (written: Written | number) => void;
	fail: (error: Error) => void;
}
const { writes, stopped, stored, news } = vi.hoisted(() => ({
	writes: [] as Write[],
	stopped: { times: 0 },
	stored: { row: undefined as unknown },
	news: { tell: (_: News) => {} },
}));
const writing = (by: Write['by'], name: string, seen: number | null, unsure = false) =>
	new Promise<Written>((resolve, fail) => {
		const done = (written: Written | number) =>
			resolve(typeof written === 'number' ? { done: 'written', version: written } : written);
		writes.push({ by, name, seen, unsure, done, fail });
	});
vi.mock('../data/db', async (original) => ({
	...(await original<typeof import('../data/db')>()),
	writeText: ({ head, seen }: Writing, bring: Write['bring']) => {
		const promised = writing('page', head.name, seen);
		Object.assign(writes.at(-1) as Write, { bring });
		return promised;
	},
}));
vi.mock('../data/projects', async (original) => ({
	...(await original<typeof import('../data/projects')>()),
	getProject: async () => stored.row,
}));
vi.mock('../data/tabs', () => ({
	TAB: 'here',
	announce: () => {},
	onNews: (listener: (news: News) => void) => {
		news.tell = listener;
		return () => {};
	},
}));
vi.mock('../workers/saving', () => {
	class Ended extends Error {}
	class Saving {
		ready() {}
		save = (_key: string, project: Project, seen: number | null, unsure?: boolean) =>
			writing('worker', project.name, seen, unsure);
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
	const keeper = keepSaved(store, 1);
	stop = keeper.stop;
	const rename = (name: string) => store.getState().edit('Rename', (draft) => void (draft.name = name));
	return { store, rename, keeper };
}
/** Lets what is promised happen. */
const settle = async () => {
	for (let i = 0; i < 20; i++) await Promise.resolve();
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

it('says why it cannot save, and tries again by itself, ever later, until it is done', async () => {
	const silent = vi.spyOn(console, 'error').mockImplementation(() => {});
	const { store, rename, keeper } = opened();
	rename('One');
	await pass(300);
	writes[0]?.fail(Object.assign(new Error('full'), { name: 'QuotaExceededError' }));
	await settle();
	expect(store.getState()).toMatchObject({
		saving: 'failed',
		unsavedFor: expect.stringContaining('no room left in this browser’s storage: delete projects'),
	});
	await pass(900);
	expect(writes).toHaveLength(1);
	await pass(200);
	expect(writes).toHaveLength(2);
	writes[1]?.fail(new Error('the disk is gone'));
	await settle();
	expect(store.getState().unsavedFor).toBe('the disk is gone');
	await pass(1900);
	expect(writes).toHaveLength(2);
	await pass(200);
	expect(writes).toHaveLength(3);
	// Leaving is asked about.
	const leaving = new Event('beforeunload', { cancelable: true });
	tab.dispatchEvent(leaving);
	expect(leaving.defaultPrevented).toBe(true);
	writes[2]?.fail(new Error('the disk is gone'));
	await settle();
	keeper.retry();
	await settle();
	expect(writes).toHaveLength(4);
	writes[3]?.done(2);
	await settle();
	expect(store.getState()).toMatchObject({ saving: 'saved', unsavedFor: null });
	const later = new Event('beforeunload', { cancelable: true });
	tab.dispatchEvent(later);
	expect(later.defaultPrevented).toBe(false);
	silent.mockRestore();
});

const row = (version: number, project: Project) => ({
	key: 'p',
	name: project.name,
	version,
	text: JSON.stringify(project),
});
const layered: Project = {
	...blank,
	scene: { ...blank.scene, layers: [...blank.scene.layers, { id: 'b', name: 'Theirs' }] },
};

it('takes in at once what another tab has written, and writes nothing of it again', async () => {
	const { store, rename } = opened();
	stored.row = row(5, layered);
	news.tell({ key: 'other', by: 'there', version: 9 });
	await settle();
	expect(store.getState().project).toBe(blank);
	news.tell({ key: 'p', by: 'there', version: 5 });
	await settle();
	expect(store.getState().project).toEqual(layered);
	expect(store.getState()).toMatchObject({ saving: 'saved', past: [], clash: null });
	await pass(2000);
	expect(writes).toEqual([]);
	// What is done now is written over that version.
	rename('Ours');
	await pass(300);
	expect(writes.map((w) => [w.name, w.seen])).toEqual([['Ours', 5]]);
});

it('brings its own edits together with what another tab was first to write, and writes both', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	expect(writes[0]?.seen).toBe(1);
	writes[0]?.done({ done: 'overtaken', version: 5, text: JSON.stringify(layered) });
	await settle();
	expect(store.getState().project).toEqual({ ...layered, name: 'Ours' });
	expect(writes.map((w) => [w.name, w.seen])).toEqual([
		['Ours', 1],
		['Ours', 5],
	]);
	expect(store.getState().saving).toBe('waiting');
	writes[1]?.done(6);
	await settle();
	expect(store.getState()).toMatchObject({ saving: 'saved', clash: null });
	// Undo takes back what was done here, not what the other did.
	store.getState().undo();
	expect(store.getState().project).toEqual(layered);
});

it('lets its own stand where both changed the same, says so, and has the other one undo away', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	writes[0]?.done({ done: 'overtaken', version: 5, text: JSON.stringify({ ...layered, name: 'Theirs' }) });
	await settle();
	expect(store.getState().project).toEqual({ ...layered, name: 'Ours' });
	expect(store.getState().clash).toEqual({ what: ['name'], undo: true, stands: 'mine' });
	store.getState().undo();
	expect(store.getState().project).toEqual({ ...layered, name: 'Theirs' });
	expect(store.getState().clash).toBeNull();
	store.getState().redo();
	expect(store.getState().project.name).toBe('Ours');
});

it('goes back past what both changed, and forward to nothing that was undone before it', async () => {
	const { store, rename } = opened();
	for (const name of ['One', 'Ours', 'Taken back']) rename(name);
	store.getState().undo();
	await pass(300);
	writes[0]?.done({ done: 'overtaken', version: 5, text: JSON.stringify({ ...layered, name: 'Theirs' }) });
	await settle();
	store.getState().redo();
	expect(store.getState().project).toEqual({ ...layered, name: 'Ours' });
	store.getState().undo();
	expect(store.getState().project.name).toBe('Theirs');
	store.getState().undo();
	expect(store.getState().project).toEqual({ ...layered, name: 'One' });
});

it('says so also where the other tab did nothing else', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	writes[0]?.done({ done: 'overtaken', version: 5, text: JSON.stringify({ ...blank, name: 'Theirs' }) });
	await settle();
	expect(store.getState().clash).toEqual({ what: ['name'], undo: true, stands: 'mine' });
	store.getState().undo();
	expect(store.getState().project.name).toBe('Theirs');
});

it('does not bring back unasked what was deleted elsewhere', async () => {
	const { store, rename, keeper } = opened();
	news.tell({ key: 'p', by: 'there', gone: true });
	expect(store.getState().saving).toBe('gone');
	rename('Ours');
	await pass(3000);
	tab.dispatchEvent(new Event('pagehide'));
	expect(writes).toEqual([]);
	keeper.bringBack();
	await settle();
	expect(writes.map((w) => [w.name, w.seen])).toEqual([['Ours', null]]);
	writes[0]?.done(3);
	await settle();
	expect(store.getState().saving).toBe('saved');
});

it('finds out by itself that it was deleted, and goes on when that is taken back', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	writes[0]?.done({ done: 'gone' });
	await settle();
	expect(store.getState().saving).toBe('gone');
	stored.row = row(1, blank);
	news.tell({ key: 'p', by: 'there', back: true });
	await settle();
	expect(writes).toHaveLength(2);
	writes[1]?.done(2);
	await settle();
	expect(store.getState().saving).toBe('saved');
});

it('hears while it writes, and looks when it is done', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	stored.row = row(7, { ...layered, name: 'Ours' });
	news.tell({ key: 'p', by: 'there', version: 7 });
	writes[0]?.done(6);
	await pass(10);
	expect(store.getState().project).toEqual({ ...layered, name: 'Ours' });
	expect(store.getState().saving).toBe('saved');
});

it('writes nothing, while the hand moves, that no file may hold', async () => {
	const { store } = opened();
	store.getState().beginGesture('Pull');
	store.getState().edit('Pull', (draft) => void (draft.scene.layers = []));
	store.getState().edit('Pull', (draft) => void (draft.name = ''.padEnd(300, 'x')));
	await pass(300);
	// It is looked at where it holds up no hand, and again when the hand has moved on.
	expect(writes.map((w) => w.unsure)).toEqual([true]);
	writes[0]?.done({ done: 'unfit' });
	await pass(700);
	expect(writes).toHaveLength(1);
	expect(store.getState().saving).toBe('waiting');
	tab.dispatchEvent(new Event('pagehide'));
	expect(writes).toHaveLength(1);
	store.getState().edit('Pull', (draft) => void (draft.name = 'Short'));
	await pass(1000);
	expect(writes.map((w) => [w.name.slice(0, 5), w.unsure]).at(-1)).toEqual(['Short', true]);
	writes.at(-1)?.done(2);
	await settle();
	store.getState().endGesture();
	store.getState().edit('Rename', (draft) => void (draft.name = 'Done'));
	await pass(300);
	expect(writes.at(-1)).toMatchObject({ name: 'Done', unsure: false });
});

it('says so, too, where the other tab was the later one, with its own one undo away', async () => {
	const { store, rename } = opened();
	rename('Ours');
	await pass(300);
	writes[0]?.done(2);
	await settle();
	stored.row = row(3, { ...layered, name: 'Theirs' });
	await pass(1000);
	news.tell({ key: 'p', by: 'there', version: 3 });
	await settle();
	expect(store.getState().project).toEqual({ ...layered, name: 'Theirs' });
	expect(store.getState().clash).toEqual({ what: ['name'], undo: true, stands: 'theirs' });
	store.getState().undo();
	expect(store.getState().project).toEqual({ ...layered, name: 'Ours' });
	// Later than a moment it is only the next edit.
	await pass(300);
	writes[1]?.done(4);
	await settle();
	await pass(5000);
	stored.row = row(5, { ...layered, name: 'Later' });
	news.tell({ key: 'p', by: 'there', version: 5 });
	await settle();
	expect(store.getState()).toMatchObject({ clash: null, project: { name: 'Later' } });
});

it('takes another tab in only when the hand holds nothing that no file may hold', async () => {
	const { store } = opened();
	store.getState().beginGesture('Pull');
	store.getState().edit('Pull', (draft) => void (draft.name = ''.padEnd(300, 'x')));
	stored.row = row(5, layered);
	news.tell({ key: 'p', by: 'there', version: 5 });
	await settle();
	writes[0]?.done({ done: 'unfit' });
	await pass(100);
	expect(store.getState().project.scene).toBe(blank.scene);
	store.getState().edit('Pull', (draft) => void (draft.name = 'Short'));
	await pass(900);
	expect(store.getState().project).toEqual({ ...layered, name: 'Short' });
	expect(writes.at(-1)).toMatchObject({ name: 'Short', seen: 5 });
});

it('looks at the store when the page is seen again, and takes what is newer alone', async () => {
	const { store } = opened();
	const theirs = (name: string, version: number) => ({ version, text: JSON.stringify({ ...blank, name }) });
	const seen = async () => {
		page.dispatchEvent(new Event('visibilitychange'));
		await settle();
		return store.getState().project.name;
	};
	stored.row = theirs('The same version', 1);
	expect(await seen()).toBe('Laid');
	stored.row = theirs('Newer', 2);
	expect(await seen()).toBe('Newer');
	stored.row = theirs('Older', 1);
	expect(await seen()).toBe('Newer');
	stored.row = undefined;
	expect(await seen()).toBe('Newer');
	expect(store.getState().saving).toBe('saved');
	// News of what is known already are none.
	stored.row = theirs('Not to be read', 3);
	news.tell({ key: 'p', version: 2 } as News);
	await settle();
	expect(store.getState().project.name).toBe('Newer');
	news.tell({ key: 'other', version: 9 } as News);
	await settle();
	expect(store.getState().project.name).toBe('Newer');
	news.tell({ key: 'p', version: 3 } as News);
	await settle();
	expect(store.getState().project.name).toBe('Not to be read');
});

it('leaving brings together what it finds there, or leaves alone what cannot be read', async () => {
	const { rename } = opened();
	rename('Mine');
	page.visibilityState = 'hidden';
	page.dispatchEvent(new Event('visibilitychange'));
	const [write] = writes;
	expect([write?.by, write?.name, stopped.times]).toEqual(['page', 'Mine', 1]);
	const brought = write?.bring?.(
		JSON.stringify({ ...blank, scene: { ...blank.scene, layers: [...blank.scene.layers, { id: 'b' }] } }),
	);
	expect(brought?.head.name).toBe('Mine');
	const both = JSON.parse(brought?.text ?? '');
	expect([both.name, both.scene.layers.map((l: { id: string }) => l.id)]).toEqual(['Mine', ['a', 'b']]);
	expect(write?.bring?.('{ not a project')).toBeNull();
	// What was changed meanwhile is written a moment later.
	rename('More');
	write?.done(2);
	await settle();
	await pass(300);
	expect(writes.map((w) => [w.by, w.name, w.seen])).toEqual([
		['page', 'Mine', 1],
		['worker', 'More', 2],
	]);
});

it('keeps a page that is left while its project is not saved', () => {
	const { store } = opened();
	const leave = () => {
		const event = new Event('beforeunload', { cancelable: true });
		tab.dispatchEvent(event);
		return event.defaultPrevented;
	};
	expect(leave()).toBe(false);
	store.getState().setSaving('waiting');
	expect(leave()).toBe(false);
	store.getState().setSaving('failed', 'full');
	expect(leave()).toBe(true);
	store.getState().setSaving('gone');
	expect(leave()).toBe(true);
});
