/** What the home page does with the projects of this browser, asked by its forms. */
import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import Dexie from 'dexie';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { HomeResult } from '../features/home/result';

vi.mock('../features/home/home', () => ({ Home: () => null }));
vi.mock('../root', () => ({ HydrateFallback: () => null }));
vi.mock('../data/tabs', () => ({ TAB: 'here', announce: () => {}, onNews: () => () => {} }));

type Projects = typeof import('../data/projects');
type Route = typeof import('./home');
let projects: Projects;
let route: Route;

beforeEach(async () => {
	await Dexie.delete('frelk');
	vi.resetModules();
	projects = await import('../data/projects');
	route = await import('./home');
});

const project = (name: string): Project => ({
	...projects.blankProject('flat', name),
	id: 'p',
	scene: { ...projects.blankProject('flat', name).scene, objects: [{ id: 'o', layer: 'things' }] },
});

/** @returns what came of it, or the address one is sent to */
async function act(fields: Record<string, string | File | File[]>): Promise<HomeResult | string> {
	const form = new FormData();
	for (const [key, value] of Object.entries(fields))
		for (const one of Array.isArray(value) ? value : [value]) form.append(key, one);
	const request = new Request('http://127.0.0.1/', { method: 'post', body: form });
	const came = await route.clientAction({ request } as Parameters<Route['clientAction']>[0]);
	return came instanceof Response ? (came.headers.get('location') ?? '') : came;
}
const read = async (key: string): Promise<Project> => JSON.parse((await projects.getProject(key))?.text ?? 'null');
const keyIn = (address: HomeResult | string): string => String(address).replace('/p/', '');
const file = (name: string, text: string) => new File([text], name, { type: 'application/json' });

describe('the home page', () => {
	it('makes a project of the kind asked for, named or not', async () => {
		const named = await read(keyIn(await act({ do: 'create', kind: 'flat', name: '  Desk ' })));
		expect([named.name, named.scene.kind]).toEqual(['Desk', 'flat']);
		const unnamed = await read(keyIn(await act({ do: 'create', kind: 'flat', name: ' ' })));
		expect(unnamed.name).toBe('Flat project');
		const other = await read(keyIn(await act({ do: 'create' })));
		expect([other.name, other.scene.kind]).toEqual(['Project', 'space']);
	});

	it('opens an example, and nothing where there is none of that name', async () => {
		const example = projects.EXAMPLES[0] as (typeof projects.EXAMPLES)[number];
		const opened = await read(keyIn(await act({ do: 'example', id: example.id })));
		expect(opened.scene.objects.length).toBeGreaterThan(0);
		expect(await act({ do: 'example', id: 'nothing' })).toEqual({ did: 'nothing' });
	});

	it('takes files in: one good one is opened, of several each by itself', async () => {
		const good = JSON.stringify(project('Good'));
		expect((await read(keyIn(await act({ do: 'import', file: file('good.json', good) })))).name).toBe('Good');
		const both = await act({ do: 'import', file: [file('good.json', good), file('bad.json', '{')] });
		expect(both).toMatchObject({ did: 'import', keys: [expect.any(String)], failures: [{ file: 'bad.json' }] });
		// Two good ones: neither is opened in place of the other.
		const two = await act({ do: 'import', file: [file('a.json', good), file('b.json', good)] });
		expect(two).toMatchObject({ did: 'import', failures: [] });
		expect(typeof two === 'object' && two.did === 'import' && two.keys.length).toBe(2);
		// A form without a file has one without a name in it.
		expect(await act({ do: 'import', file: new File([], '') })).toMatchObject({
			did: 'import',
			keys: [],
			failures: [],
		});
	});

	it('opens what was repaired, and nothing that is still wrong', async () => {
		const text = JSON.stringify(project('Mended'));
		expect((await read(keyIn(await act({ do: 'repaired', project: text })))).name).toBe('Mended');
		expect(await act({ do: 'repaired', project: '{"format":"frelk/1"}' })).toEqual({ did: 'nothing' });
		expect(await act({ do: 'repaired' })).toEqual({ did: 'nothing' });
	});

	it('renames, but not to nothing, and doubles with a name that fits', async () => {
		const key = await projects.addProject(project('x'.repeat(200)));
		await act({ do: 'rename', key, name: '  ' });
		expect((await read(key)).name).toBe('x'.repeat(200));
		await act({ do: 'duplicate', key });
		expect((await projects.listProjects()).map((row) => row.name).sort()).toEqual([
			`${'x'.repeat(194)}, copy`,
			'x'.repeat(200),
		]);
		await act({ do: 'rename', key, name: ' Crane ' });
		expect((await read(key)).name).toBe('Crane');
		expect(await act({ do: 'duplicate', key: 'nobody' })).toEqual({ did: 'nothing' });
	});

	it('deletes and takes back', async () => {
		const key = await projects.addProject(project('Crane'));
		expect(await act({ do: 'delete', key })).toEqual({ did: 'delete', key, name: 'Crane', kept: true });
		expect(await projects.listProjects()).toEqual([]);
		expect(await act({ do: 'restore', key })).toEqual({ did: 'restore' });
		expect((await projects.listProjects()).map((row) => row.key)).toEqual([key]);
		expect(await act({ do: 'delete', key: 'nobody' })).toMatchObject({ did: 'delete', name: 'nobody', kept: false });
		expect(await act({ do: 'dance' })).toEqual({ did: 'nothing' });
	});

	it('says why, where the store refuses', async () => {
		const { db } = await import('../data/db');
		vi.spyOn(console, 'error').mockImplementation(() => {});
		vi.spyOn(db().projects, 'add').mockRejectedValue(new DOMException('no room', 'QuotaExceededError'));
		vi.spyOn(db().projects, 'put').mockRejectedValue(new DOMException('no room', 'QuotaExceededError'));
		expect(await act({ do: 'create' })).toMatchObject({ did: 'refused', why: expect.stringMatching(/room|full/i) });
		vi.restoreAllMocks();
	});
});
