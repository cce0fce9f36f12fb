import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import Dexie from 'dexie';
import { beforeEach, describe, expect, it, vi } from 'vitest';

const { told } = vi.hoisted(() => ({ told: [] as unknown[] }));
vi.mock('./tabs', () => ({ TAB: 'here', announce: (news: unknown) => told.push(news), onNews: () => () => {} }));

const project = (id: string, name = id): Project => ({
	format: 'frelk/1',
	id,
	name,
	scene: { kind: 'flat', layers: [{ id: 'a' }], tags: [], objects: [{ id: 'o', layer: 'a' }], cameras: [] },
	queries: [],
});

/** The modules anew, on an empty store. */
async function fresh() {
	await Dexie.delete('frelk');
	vi.resetModules();
	told.length = 0;
	const db = await import('./db');
	const projects = await import('./projects');
	const history = await import('./history');
	return { ...db, ...projects, ...history };
}
let modules: Awaited<ReturnType<typeof fresh>>;
beforeEach(async () => {
	modules = await fresh();
});

const writing = (name: string, seen: number | null, by = 'here') => ({
	key: 'p',
	head: { name },
	text: JSON.stringify(project('p', name)),
	seen,
	by,
});

describe('writing', () => {
	it('compares the version, and writes nothing over what it has not seen', async () => {
		const { addProject, writeText, getProject } = modules;
		await addProject(project('p'));
		expect(await writeText(writing('One', 1))).toEqual({ done: 'written', version: 2 });
		expect(told).toEqual([{ key: 'p', version: 2, by: 'here' }]);
		const theirs = await writeText(writing('Other', 1, 'there'));
		expect(theirs).toMatchObject({ done: 'overtaken', version: 2 });
		expect(theirs.done === 'overtaken' && JSON.parse(theirs.text).name).toBe('One');
		expect((await getProject('p'))?.name).toBe('One');
		expect(told).toHaveLength(1);
		expect(await writeText(writing('Other', 2, 'there'))).toEqual({ done: 'written', version: 3 });
	});

	it('knows its own last write, although the page was not told of it any more', async () => {
		const { addProject, writeText } = modules;
		await addProject(project('p'));
		await writeText(writing('One', 1));
		expect(await writeText(writing('Two', 1))).toEqual({ done: 'written', version: 3 });
		// Not one that lies further back.
		expect((await writeText(writing('Three', 1))).done).toBe('overtaken');
	});

	it('brings both together in the same step where it is told how', async () => {
		const { addProject, writeText, getProject } = modules;
		await addProject(project('p'));
		await writeText(writing('Theirs', 1, 'there'));
		const bring = (text: string) => ({
			head: { name: `${JSON.parse(text).name} and ours` },
			text: JSON.stringify(project('p', `${JSON.parse(text).name} and ours`)),
		});
		expect(await writeText(writing('Ours', 1), bring)).toMatchObject({
			done: 'written',
			version: 3,
			text: expect.stringContaining('Theirs and ours'),
		});
		expect((await getProject('p'))?.name).toBe('Theirs and ours');
		await writeText(writing('Theirs', 3, 'there'));
		expect((await writeText(writing('Ours', 1), () => null)).done).toBe('overtaken');
	});

	it('does not bring back what was deleted, unless it is asked to', async () => {
		const { addProject, writeText, deleteProject, getProject } = modules;
		await addProject(project('p'));
		expect(await deleteProject('p')).toBe(true);
		expect(told).toEqual([{ key: 'p', by: 'here', gone: true }]);
		expect(await writeText(writing('One', 2))).toEqual({ done: 'gone' });
		expect(await writeText(writing('One', 1))).toEqual({ done: 'gone' });
		expect(await getProject('p')).toBeUndefined();
		expect(await writeText(writing('One', null))).toEqual({ done: 'written', version: 3 });
		expect((await getProject('p'))?.name).toBe('One');
		expect(await writeText({ ...writing('New', 1), key: 'never' })).toEqual({ done: 'gone' });
	});
});

describe('the list', () => {
	it('tells what there is without opening it, the last changed first', async () => {
		const { addProject, listProjects, renameProject, getProject } = modules;
		vi.spyOn(Date, 'now').mockReturnValue(1000);
		await addProject(project('p'));
		vi.mocked(Date.now).mockReturnValue(2000);
		await addProject(project('p', 'Second'));
		vi.mocked(Date.now).mockReturnValue(3000);
		expect(
			(await listProjects()).map((row) => [row.key, row.name, row.kind, row.objects, row.queries, row.damaged]),
		).toEqual([
			['p-2', 'Second', 'flat', 1, 0, null],
			['p', 'p', 'flat', 1, 0, null],
		]);
		expect(await renameProject('p', 'Renamed')).toBe(true);
		expect((await listProjects()).map((row) => row.name)).toEqual(['Renamed', 'Second']);
		expect(JSON.parse((await getProject('p'))?.text ?? '').name).toBe('Renamed');
		vi.restoreAllMocks();
	});

	it('names every damaged row beside those that are whole, and each can be taken out and deleted', async () => {
		const { addProject, listProjects, getProject, deleteProject, db } = modules;
		await addProject(project('whole'));
		// biome-ignore lint/suspicious/noExplicitAny: what a damaged store may hold
		const put = (table: 'projects' | 'texts', row: any) => db()[table].put(row);
		await put('projects', { key: 'no-text', name: 'No text', changed: 5, version: 1 });
		await put('projects', { key: 'odd', name: 7, changed: 'yesterday', version: null });
		await put('texts', { key: 'odd', text: 'not json {' });
		await put('texts', { key: 'orphan', text: '{}' });
		await put('projects', { key: 'tree', name: 'Tree', changed: 1, version: 1 });
		await put('texts', { key: 'tree', text: { not: 'text' } });
		const list = Object.fromEntries((await listProjects()).map((row) => [row.key, row.damaged]));
		expect(list).toEqual({
			whole: null,
			tree: null,
			'no-text': 'its text is missing from the store',
			odd: 'its entry in the store is damaged',
			orphan: 'its entry in the store is missing',
		});
		expect((await getProject('odd'))?.text).toBe('not json {');
		expect((await getProject('tree'))?.text).toBe('{"not":"text"}');
		expect((await getProject('no-text'))?.text).toBe('');
		for (const key of ['odd', 'orphan', 'no-text']) expect(await deleteProject(key), key).toBe(false);
		expect((await listProjects()).map((row) => row.key)).toEqual(['whole', 'tree']);
	});

	it('forgets with a project its runs and versions, so that a new one under its address begins without them', async () => {
		const {
			addProject,
			deleteProject,
			restoreProject,
			sweepDeleted,
			noteRun,
			runsOf,
			keepVersion,
			versionsOf,
			db,
			keepPicture,
			pictureOf,
		} = modules;
		await addProject(project('p'));
		await addProject(project('q'));
		for (const key of ['p', 'q']) {
			await noteRun(key, { results: [], hold: 0 }, null);
			await keepVersion(key, 'First', project(key));
			await keepPicture({ key, version: 1, lines: [] });
		}
		await deleteProject('p');
		await sweepDeleted();
		expect(await runsOf('p')).toHaveLength(1);
		await restoreProject('p');
		await deleteProject('p');
		await db().projects.update('p', { deleted: Date.now() - 25 * 3600 * 1000 });
		await sweepDeleted();
		expect([await runsOf('p'), await versionsOf('p'), await pictureOf('p'), await db().texts.get('p')]).toEqual([
			[],
			[],
			undefined,
			undefined,
		]);
		expect([(await runsOf('q')).length, (await versionsOf('q')).length, (await pictureOf('q'))?.version]).toEqual([
			1, 1, 1,
		]);
		expect(await addProject(project('p'))).toBe('p');
	});
});

describe('the store', () => {
	it('takes over what an older version kept, also rows it cannot read', async () => {
		await Dexie.delete('frelk');
		const old = new Dexie('frelk');
		old
			.version(3)
			.stores({ projects: 'key, changed', settings: 'key', runs: '++id, [key+at]', versions: '++id, [key+at]' });
		await old.table('projects').bulkPut([
			{ key: 'p', name: 'P', changed: 9, version: 4, text: JSON.stringify(project('p', 'P')) },
			{ key: 'tree', name: 'Tree', changed: 8, version: 1, project: project('tree', 'Tree') },
			{ key: 'broken', name: 'Broken', changed: 7, version: 1, text: 'cut {' },
		]);
		old.close();
		vi.resetModules();
		const { openStore } = await import('./db');
		const { listProjects, getProject } = await import('./projects');
		expect(await openStore()).toEqual({ kept: true });
		expect((await listProjects()).map((row) => [row.key, row.version, row.damaged])).toEqual([
			['p', 4, null],
			['tree', 1, null],
			['broken', 1, null],
		]);
		expect(JSON.parse((await getProject('tree'))?.text ?? '')).toEqual(project('tree', 'Tree'));
		expect((await getProject('broken'))?.text).toBe('cut {');
	});

	it('says in words what keeps it from being written', () => {
		const { whyNot, isFull } = modules;
		const full = Object.assign(new Error('x'), { name: 'AbortError', inner: { name: 'QuotaExceededError' } });
		expect([isFull(full), whyNot(full)]).toEqual([true, 'there is no room left in this browser’s storage']);
		expect(whyNot(Object.assign(new Error('x'), { name: 'SecurityError' }))).toContain('allows no storage here');
		expect(whyNot(Object.assign(new Error('x'), { name: 'VersionError' }))).toContain('a newer version of Frelk');
		expect([isFull(new Error('odd')), whyNot(new Error('odd')), whyNot('plain')]).toEqual([false, 'odd', 'plain']);
	});
});
