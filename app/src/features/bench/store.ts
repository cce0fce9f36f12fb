/**
 * The state of one open bench: the project with its history, what is picked and what is pointed at. The project is the only
 * truth; worlds and answers are derived from it and remembered for as long as it stays the same.
 */
import { type Answer, Asking, buildWorld, type Contender, checkProject, formatProblem, type Project, type Query, type World } from '@frelk/core';
import { create as produce } from 'mutative';
import { createContext, useContext } from 'react';
import { createStore, type StoreApi, useStore } from 'zustand';

export type Saving = 'saved' | 'waiting' | 'failed';

export interface BenchState {
	key: string;
	project: Project;
	past: { label: string; project: Project }[];
	future: { label: string; project: Project }[];
	/** The project before the gesture that is under way, or null. */
	gesture: { label: string; before: Project } | null;
	query: string | null;
	picked: string | null;
	/** Object pointed at in the ladder, the roster or on the stage. */
	pointed: string | null;
	moment: string | null;
	saving: Saving;
	/** What the last refused edit was refused for. */
	refusal: string | null;

	edit: (label: string, recipe: (draft: Project) => void) => void;
	/** Opens a gesture: edits until `endGesture` become one step of the history. */
	beginGesture: (label: string) => void;
	endGesture: () => void;
	cancelGesture: () => void;
	undo: () => void;
	redo: () => void;
	pick: (object: string | null) => void;
	point: (object: string | null) => void;
	open: (query: string | null) => void;
	/** Looks at the scene at a moment; null is the scene as laid out. */
	lookAt: (moment: string | null) => void;
	setSaving: (saving: Saving) => void;
	/** Takes over a newer state of the project, from another tab. */
	replace: (project: Project) => void;
	dismiss: () => void;
}

export type BenchStore = StoreApi<BenchState>;

export function createBench(key: string, project: Project): BenchStore {
	return createStore<BenchState>((set, get) => {
		const keepSelection = (next: Project): Partial<BenchState> => {
			const { query, picked, moment } = get();
			return {
				project: next,
				query: next.queries.some((q) => q.id === query) ? query : (next.queries[0]?.id ?? null),
				picked: next.scene.objects.some((o) => o.id === picked) ? picked : null,
				moment: next.moments?.some((m) => m.id === moment) ? moment : null,
				refusal: null,
			};
		};
		return {
			key,
			project,
			past: [],
			future: [],
			gesture: null,
			query: project.queries[0]?.id ?? null,
			picked: null,
			pointed: null,
			moment: null,
			saving: 'saved',
			refusal: null,

			edit(label, recipe) {
				const { project: before, gesture, past } = get();
				const next = produce(before, recipe);
				if (next === before) return;
				if (gesture) {
					// A gesture only moves things; what it may not do is refused where the hand is.
					set({ project: next });
					return;
				}
				const checked = checkProject(next);
				if (!checked.ok) {
					set({ refusal: checked.problems.map(formatProblem).join(' · ') });
					return;
				}
				set({ ...keepSelection(next), past: [...past, { label, project: before }], future: [] });
			},
			beginGesture(label) {
				if (!get().gesture) set({ gesture: { label, before: get().project } });
			},
			endGesture() {
				const { gesture, project: now, past } = get();
				if (!gesture) return;
				if (gesture.before === now) set({ gesture: null });
				else set({ gesture: null, past: [...past, { label: gesture.label, project: gesture.before }], future: [] });
			},
			cancelGesture() {
				const { gesture } = get();
				if (gesture) set({ gesture: null, project: gesture.before });
			},
			undo() {
				const { past, future, project: now, gesture } = get();
				const last = past.at(-1);
				if (!last || gesture) return;
				set({ ...keepSelection(last.project), past: past.slice(0, -1), future: [...future, { label: last.label, project: now }] });
			},
			redo() {
				const { past, future, project: now, gesture } = get();
				const next = future.at(-1);
				if (!next || gesture) return;
				set({ ...keepSelection(next.project), future: future.slice(0, -1), past: [...past, { label: next.label, project: now }] });
			},
			pick: (picked) => set({ picked }),
			point: (pointed) => {
				if (get().pointed !== pointed) set({ pointed });
			},
			open: (query) => set({ query }),
			lookAt: (moment) => set({ moment }),
			setSaving: (saving) => set({ saving }),
			replace: (next) => set({ ...keepSelection(next), past: [...get().past, { label: 'change in another tab', project: get().project }], future: [] }),
			dismiss: () => set({ refusal: null }),
		};
	});
}

export const BenchContext = createContext<BenchStore | null>(null);

export function useBenchStore(): BenchStore {
	const store = useContext(BenchContext);
	if (!store) throw new Error('outside of a bench');
	return store;
}

export function useBench<T>(select: (state: BenchState) => T): T {
	return useStore(useBenchStore(), select);
}

/** Remembers the last result of a function of two arguments, by identity. */
function lastOf<A, B, R>(compute: (a: A, b: B) => R): (a: A, b: B) => R {
	let known: { a: A; b: B; r: R } | null = null;
	return (a, b) => {
		if (!known || known.a !== a || known.b !== b) known = { a, b, r: compute(a, b) };
		return known.r;
	};
}

const worldOf = lastOf((project: Project, moment: string | null): World => buildWorld(project, moment));

export interface Answers {
	world: World;
	/** Every query's answer; the one in hand with all its verdicts. */
	byQuery: Map<string, Answer>;
	current: Answer | null;
	/** Contacts of the query in hand: of every object it touched, chosen or not. */
	touched: Contender[];
}

const answersOf = lastOf((world: World, query: string | null): Answers => {
	const asking = new Asking(world);
	const byQuery = new Map<string, Answer>();
	const touched: Contender[] = [];
	for (const q of world.queries) byQuery.set(q.id, q.id === query ? asking.explain(q, touched) : asking.winner(q));
	return { world, byQuery, current: query === null ? null : (byQuery.get(query) ?? null), touched };
});

export const useWorld = (): World => useBench((s) => worldOf(s.project, s.moment));
export const useAnswers = (): Answers => useBench((s) => answersOf(worldOf(s.project, s.moment), s.query));

/** The query in hand, as the project has it. */
export const useQuery = (): Query | null => useBench((s) => s.project.queries.find((q) => q.id === s.query) ?? null);

/** The name of a thing, or its id where it has none. */
export function nameOf(project: Project, kind: 'object' | 'tag' | 'layer' | 'camera' | 'query', id: string): string {
	const { scene } = project;
	const list: { id: string; name?: string | undefined }[] =
		kind === 'object' ? scene.objects : kind === 'tag' ? scene.tags : kind === 'layer' ? scene.layers : kind === 'camera' ? scene.cameras : project.queries;
	return list.find((entry) => entry.id === id)?.name ?? id;
}

/** Edits the query in hand. */
export function editQuery(store: BenchStore, label: string, recipe: (query: Query) => void): void {
	const id = store.getState().query;
	store.getState().edit(label, (draft) => {
		const query = draft.queries.find((q) => q.id === id);
		if (query) recipe(query);
	});
}
