/** Projects in files, from the browser's side: what is opened, brought together and told when the file cannot be asked for. */
import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import Dexie from 'dexie';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

const { told } = vi.hoisted(() => ({ told: [] as unknown[] }));
vi.mock('./tabs', () => ({ TAB: 'here', announce: (news: unknown) => told.push(news), onNews: () => () => {} }));

const KEY = 'disk~p~0123456789ab';
const project = (name: string, more: Partial<Project> = {}): Project => ({
	format: 'frelk/1',
	id: 'p',
	name,
	scene: { kind: 'flat', layers: [{ id: 'a' }], tags: [], objects: [{ id: 'o', layer: 'a' }], cameras: [] },
	queries: [],
	...more,
});

/** The file as the server gives it out; null where it is gone. */
let file: { hash: string; text: string; broken: string[] | null } | null;
let reply: ((path: string, init?: RequestInit) => Response) | null;
const json = (body: unknown, status = 200) =>
	new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json; charset=utf-8' } });
/** A file that says this. @param text as it lies there, laid out by somebody */
const says = (hash: string, of: Project, text = JSON.stringify(of, null, 3)) => {
	file = { hash, text, broken: null };
};
const asked = () => file && { key: KEY, name: 'a/p.frelk.json', writable: true, ...file };

async function fresh() {
	await Dexie.delete('frelk');
	vi.resetModules();
	told.length = 0;
	return { ...(await import('./db')), ...(await import('./disk')), ...(await import('./projects')) };
}
let modules: Awaited<ReturnType<typeof fresh>>;
beforeEach(async () => {
	reply = null;
	says('one', project('One'));
	vi.stubGlobal('fetch', async (path: string, init?: RequestInit) => {
		if (reply) return reply(path, init);
		return json({ file: asked() });
	});
	modules = await fresh();
});
afterEach(() => vi.unstubAllGlobals());

const rowName = async () => JSON.parse((await modules.getProject(KEY))?.text ?? '{}').name;
/** An edit made here, as the bench saves it. */
const edited = async (of: Project) => {
	const { writeText, headOf, getProject } = modules;
	const seen = (await getProject(KEY))?.version ?? 0;
	await writeText({ key: KEY, head: headOf(of), text: JSON.stringify(of), seen, by: 'here' });
};
const unwritten = async () => {
	const disk = await modules.keptDisk(KEY);
	return disk !== null && (await modules.isUnwritten(disk));
};

describe('opening', () => {
	it('puts what the file says into the store, and again where it says something else', async () => {
		const { openFromDisk, keptDisk } = modules;
		expect(await openFromDisk(KEY)).toMatchObject({ key: KEY, name: 'One', version: 1 });
		expect(await keptDisk(KEY)).toMatchObject({ name: 'a/p.frelk.json', hash: 'one' });
		expect(await unwritten()).toBe(false);
		expect((await openFromDisk(KEY))?.version).toBe(1);
		says('two', project('Two'));
		expect(await openFromDisk(KEY)).toMatchObject({ name: 'Two', version: 2 });
		expect(told.at(-1)).toEqual({ key: KEY, version: 2, by: 'here disk' });
	});

	it('keeps edits that are not in the file, whatever it says now', async () => {
		const { openFromDisk, keptDisk } = modules;
		await openFromDisk(KEY);
		await edited(project('Mine'));
		expect(await unwritten()).toBe(true);
		says('two', project('Two'));
		expect(await openFromDisk(KEY)).toMatchObject({ name: 'Mine' });
		expect((await keptDisk(KEY))?.hash).toBe('one');
		// Where the file says the very same, as after a save whose answer never came, nothing is open.
		says('three', JSON.parse((await modules.getProject(KEY))?.text ?? ''));
		await openFromDisk(KEY);
		expect((await keptDisk(KEY))?.hash).toBe('three');
		expect(await unwritten()).toBe(false);
	});

	it('gives a broken file as it lies there, or the last good state where there is one', async () => {
		const { openFromDisk } = modules;
		file = { hash: 'x', text: '{ "format"', broken: ['line 1: …'] };
		expect(await openFromDisk(KEY)).toEqual({ key: KEY, name: 'a/p.frelk.json', version: 0, text: '{ "format"' });
		says('one', project('One'));
		await openFromDisk(KEY);
		file = { hash: 'x', text: '{ "format"', broken: ['line 1: …'] };
		expect(await openFromDisk(KEY)).toMatchObject({ name: 'One' });
		file = null;
		expect(await openFromDisk(KEY)).toMatchObject({ name: 'One' });
	});

	it('says why a file cannot be asked for, and opens what is kept of it all the same', async () => {
		const { openFromDisk, Away } = modules;
		const ways: [string, () => Response][] = [
			[
				'server',
				() => {
					throw new TypeError('failed');
				},
			],
			['key', () => json({ error: 'no' }, 401)],
			['folders', () => new Response(null, { status: 204 })],
			['folders', () => new Response('<html>', { status: 404, headers: { 'content-type': 'text/html' } })],
		];
		for (const [kind, way] of ways) {
			reply = way;
			await expect(openFromDisk(KEY)).rejects.toMatchObject({ kind });
			await expect(openFromDisk(KEY)).rejects.toBeInstanceOf(Away);
		}
		reply = null;
		await openFromDisk(KEY);
		for (const [, way] of ways) {
			reply = way;
			expect(await openFromDisk(KEY)).toMatchObject({ name: 'One' });
		}
		reply = () => json({ error: 'internal error' }, 500);
		await expect(openFromDisk(KEY)).rejects.toThrow('internal error');
	});

	it('is apart from the projects of the browser', async () => {
		const { openFromDisk, listProjects, addProject, isOnDisk } = modules;
		await openFromDisk(KEY);
		await addProject(project('Here'));
		expect((await listProjects()).map(({ key }) => key)).toEqual(['p']);
		expect([isOnDisk(KEY), isOnDisk('disk-p')]).toEqual([true, false]);
	});
});

describe('a file that someone else wrote', () => {
	const take = () => modules.takeFromDisk(asked() as Parameters<typeof modules.takeFromDisk>[0]);

	it('is brought together with what was done here, once, whoever hears of it', async () => {
		await modules.openFromDisk(KEY);
		await edited(project('Mine'));
		says('two', project('One', { notes: 'Theirs' }));
		const [first, second] = await Promise.all([take(), take()]);
		expect(first).toMatchObject({ took: 'edits', count: 1, merged: { both: [] } });
		expect(second).toEqual({ took: 'nothing' });
		const row = JSON.parse((await modules.getProject(KEY))?.text ?? '');
		expect([row.name, row.notes]).toEqual(['Mine', 'Theirs']);
		expect(told.at(-1)).toEqual({ key: KEY, version: 3, by: 'here disk' });
		// What was done here is still to be written, onto the file as it is now.
		expect(await modules.keptDisk(KEY)).toMatchObject({ hash: 'two' });
		expect(await unwritten()).toBe(true);
	});

	it('leaves what both changed as it is here, and tells what that was', async () => {
		await modules.openFromDisk(KEY);
		await edited(project('Mine'));
		says('two', project('Theirs'));
		const taken = await take();
		expect(taken).toMatchObject({ took: 'edits', count: 0, merged: { both: ['name'], theirs: { name: 'Theirs' } } });
		expect(await rowName()).toBe('Mine');
		expect(told).toHaveLength(2);
	});

	it('changes nothing where it is broken', async () => {
		await modules.openFromDisk(KEY);
		file = { hash: 'x', text: 'no', broken: ['line 1: no JSON'] };
		expect(await take()).toEqual({ took: 'broken', lines: ['line 1: no JSON'] });
		expect((await modules.keptDisk(KEY))?.hash).toBe('one');
		expect(await rowName()).toBe('One');
	});
});

describe('writing', () => {
	it('sends the whole project, with the file it was made from', async () => {
		const { saveToFile } = modules;
		const sent: [string, string | undefined, unknown][] = [];
		reply = (path, init) => {
			sent.push([path, init?.method, init?.body]);
			return json({ done: 'written', hash: 'two' });
		};
		expect(await saveToFile(KEY, 'one', '{}')).toEqual({ done: 'written', hash: 'two' });
		await saveToFile(KEY, null, '{}');
		expect(sent).toEqual([
			[`/api/disk/save?key=${encodeURIComponent(KEY)}&on=one`, 'POST', '{}'],
			[`/api/disk/save?key=${encodeURIComponent(KEY)}`, 'POST', '{}'],
		]);
	});

	it('renames a project in its file, and only where nobody wrote meanwhile', async () => {
		const { openFromDisk, renameOnDisk } = modules;
		await openFromDisk(KEY);
		const bodies: string[] = [];
		let done = 'written';
		reply = (path, init) => {
			if (!path.includes('/save')) return json({ file: asked() });
			bodies.push(JSON.parse(String(init?.body)).name);
			return json({ done, hash: 'two' });
		};
		expect(await renameOnDisk(KEY, 'Other')).toBe(true);
		expect([bodies, await rowName(), (await modules.keptDisk(KEY))?.hash]).toEqual([['Other'], 'Other', 'two']);
		done = 'overtaken';
		says('two', JSON.parse((await modules.getProject(KEY))?.text ?? ''));
		expect(await renameOnDisk(KEY, 'Third')).toBe(false);
		expect(await rowName()).toBe('Other');
	});
});
