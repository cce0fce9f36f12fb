/** Rows of the store that are not what they should be: whatever lies there, lists are lists, and what is derived is made anew. */
import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import Dexie from 'dexie';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';

vi.mock('./tabs', () => ({ TAB: 'here', announce: () => {}, onNews: () => () => {} }));

async function fresh() {
	await Dexie.delete('frelk');
	vi.resetModules();
	return {
		...(await import('./db')),
		...(await import('./projects')),
		...(await import('./history')),
		...(await import('./rows')),
	};
}
let store: Awaited<ReturnType<typeof fresh>>;
beforeEach(async () => {
	store = await fresh();
	vi.spyOn(console, 'warn').mockImplementation(() => {});
});
afterEach(() => vi.restoreAllMocks());

const project: Project = {
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: { kind: 'flat', layers: [{ id: 'a' }], tags: [], objects: [{ id: 'o', layer: 'a' }], cameras: [] },
	queries: [],
};
const picture = { key: 'p', version: 1, lines: [{ hue: 20, d: 'M0 0L1.5-2e-3z', fill: 'M0 0z' }] };
const run = { key: 'p', at: 5, hold: 1, failing: [{ check: 'c', reason: 'r' }], ran: ['c'], after: null };
const history = { key: 'p', stamp: 's', past: [{ label: 'l', changes: [{ path: ['name'], value: 'x' }] }], future: [] };

/** Some value in the place of one field of a row, at any depth. */
const spoiled = (row: object) => {
	const paths: string[][] = [];
	const walk = (value: unknown, path: string[]) => {
		paths.push(path);
		if (typeof value === 'object' && value !== null)
			for (const key of Object.keys(value)) walk((value as never)[key], [...path, key]);
	};
	walk(row, []);
	const other = fc.constantFrom<unknown>(
		null,
		5,
		-1,
		1e300,
		Number.NaN,
		'x',
		'<svg onload=alert(1)>',
		{},
		[],
		[null],
		true,
		{ toString: 1 },
	);
	return fc.tuple(fc.constantFrom(...paths.slice(1)), other, fc.boolean()).map(([path, value, drop]) => {
		const copy = structuredClone(row) as Record<string, unknown>;
		let at = copy;
		for (const key of path.slice(0, -1)) at = at[key] as Record<string, unknown>;
		if (drop && !Array.isArray(at)) delete at[path.at(-1) as string];
		else at[path.at(-1) as string] = value;
		return copy;
	});
};

describe('rows of what is derived', () => {
	it('are taken where they are whole', async () => {
		const { db, pictureOf, runsOf } = store;
		await db().pictures.put(picture);
		await db().runs.add({ ...run });
		expect(await pictureOf('p')).toEqual(picture);
		expect(await runsOf('p')).toEqual([{ ...run, id: 1 }]);
		const file = new File(['x'], 'a.jsonl');
		expect(store.soundRow('traces', 'p', { key: 'p', file })?.file).toBe(file);
		expect(store.soundRow('undo', 'p', history)).toBe(history);
	});

	it('are dropped where they are not, and the others stand', async () => {
		const { db, pictureOf, runsOf, noteRun } = store;
		await db().pictures.put({ ...picture, lines: [{ hue: 1, d: 'M0 0" onload="alert(1)' }] });
		expect(await pictureOf('p')).toBeUndefined();
		await vi.waitFor(async () => expect(await db().pictures.get('p')).toBeUndefined());
		await db().runs.bulkAdd([{ ...run, ran: 'c' } as never, { ...run }, { ...run, failing: null } as never]);
		expect((await runsOf('p')).map((r) => r.id)).toEqual([2]);
		await vi.waitFor(async () => expect(await db().runs.count()).toBe(1));
		// The last one is damaged: the next is noted all the same.
		await db().runs.add({ ...run, failing: 3 } as never);
		await noteRun('p', { results: [], hold: 0 }, null);
		expect((await runsOf('p')).map((r) => r.hold)).toEqual([0, 1]);
	});

	it('never pass for what they are not', () => {
		const { soundRow } = store;
		for (const [table, row] of [
			['pictures', picture],
			['undo', history],
			['runs', { id: 1, ...run }],
		] as const)
			fc.assert(
				fc.property(spoiled(row), (copy) => {
					const sound = soundRow(table, 'p', copy);
					if (sound === null) return;
					// What is taken can be drawn and gone through.
					if (table === 'pictures')
						for (const { hue, d } of (sound as typeof picture).lines)
							expect([typeof hue, /[<>"]/.test(d)]).toEqual(['number', false]);
					if (table === 'runs')
						expect((sound as typeof run).failing.every((f) => typeof f.reason === 'string')).toBe(true);
					if (table === 'undo')
						expect((sound as typeof history).past.every((s) => Array.isArray(s.changes))).toBe(true);
				}),
				{ numRuns: 300 },
			);
	});
});

describe('rows of work', () => {
	it('are listed whatever they are, with fields of their own kind alone', async () => {
		const { db, listProjects } = store;
		const entry = { key: 'p', name: 'P', changed: 1, version: 1, kind: 'flat', objects: 1, queries: 0, by: 't' };
		await fc.assert(
			fc.asyncProperty(spoiled(entry), async (copy) => {
				await db().projects.clear();
				await db().projects.put({ ...copy, key: 'p' } as never);
				const [listed] = await listProjects();
				if (!listed) return expect(typeof (copy as { deleted?: unknown }).deleted).toBe('number');
				expect([typeof listed.name, typeof listed.changed, typeof listed.version]).toEqual([
					'string',
					'number',
					'number',
				]);
				for (const key of ['objects', 'queries'] as const)
					expect(['number', 'undefined']).toContain(typeof listed[key]);
			}),
			{ numRuns: 100 },
		);
	});

	it('keep a version that is damaged, which says so when it is used', async () => {
		const { db, versionsOf, projectOf, keepVersion } = store;
		await keepVersion('p', 'Whole', project);
		await db().versions.add({ key: 'p', at: 9, name: { first: 'x' }, project: { scene: 1 } } as never);
		const versions = await versionsOf('p');
		expect(versions.map((v) => v.name).sort()).toEqual(['A damaged version', 'Whole']);
		expect(projectOf(versions.find((v) => v.name === 'Whole') as never)).toEqual(project);
		expect(() => projectOf(versions.find((v) => v.name !== 'Whole') as never)).toThrow('This version is damaged: ');
	});
});
