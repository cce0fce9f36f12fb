/**
 * The state of one open bench: its document and its view. The project is the only truth; world and answers are derived from it with every
 * change, before anybody is told of it.
 */
import type { Project, Query } from '@frelk/core';
import { createStore } from 'zustand';
import type { BenchState, BenchStore, Editing, ViewState } from './bench-state';
import { createDeriver } from './derived';
import { documentOf } from './document';
import { viewOf } from './view';

/** What a bench that follows another does in its own way. */
type Given = Partial<Editing & Pick<ViewState, 'cardSide' | 'show' | 'dockAt'>>;

/**
 * @param key under which the project is kept
 * @param given how it is edited, where that is not as a step of its own history: at an instant of a run, or where another bench is
 */
export function createBench(key: string, project: Project, given: Given = {}): BenchStore {
	const derive = createDeriver();
	return createStore<BenchState>((publish, get) => {
		const set = (change: Partial<BenchState>) => {
			const over = 'project' in change || 'moment' in change || 'query' in change ? { preview: null } : {};
			const { project, moment, query, preview } = { ...get(), ...over, ...change };
			publish({ ...over, ...change, derived: derive(preview?.project ?? project, moment, query) });
		};
		return {
			key,
			derived: derive(project, null, project.queries[0]?.id ?? null),
			checked: null,
			found: null,
			setChecked: (checked) => set({ checked }),
			setFound: (found) => set({ found }),
			...documentOf(project, set, get),
			...viewOf(project, set, get),
			...given,
		};
	});
}

/** Edits the query in hand. */
export function editQuery(store: BenchStore, label: string, recipe: (query: Query) => void): void {
	const id = store.getState().query;
	store.getState().edit(label, (draft) => {
		const query = draft.queries.find((q) => q.id === id);
		if (query) recipe(query);
	});
}
