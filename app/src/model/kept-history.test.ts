/** The history that is kept in the store is held against the rules when one goes back to it. */
import 'fake-indexeddb/auto';
import type { Project } from '@frelk/core';
import { expect, it, vi } from 'vitest';
import { db } from '../data/db';
import { keepHistory } from './keep-history';
import { createBench } from './store';

vi.stubGlobal('addEventListener', () => {});
vi.stubGlobal('removeEventListener', () => {});

const project: Project = {
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: { kind: 'flat', layers: [{ id: 'a' }], tags: [], objects: [{ id: 'o', layer: 'a' }], cameras: [] },
	queries: [],
};

it('leads out of nothing a file may hold', async () => {
	const first = createBench('p', project);
	const stop = keepHistory(first);
	first.getState().edit('Rename', (draft) => void (draft.name = 'Q'));
	stop();
	await vi.waitFor(async () => expect(await db().undo.get('p')).toBeDefined());
	const kept = await db().undo.get('p');
	await db().undo.put({ ...kept, past: [{ label: 'Broken', changes: [{ path: ['queries'], value: 7 }] }] } as never);
	const second = createBench('p', first.getState().project);
	const end = keepHistory(second);
	await vi.waitFor(() => expect(second.getState().past).toHaveLength(1));
	second.getState().undo();
	expect(second.getState().project.queries).toEqual([]);
	expect(second.getState().refusal).toContain('cannot be undone');
	end();
});
