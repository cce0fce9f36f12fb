/**
 * The state of one open bench: the project with its history, what is picked and what is pointed at. The project is the only
 * truth; world and answers are derived from it with every change, before anybody is told of it.
 */
import {
	applyChanges,
	checkProject,
	type Finding,
	type Firmness,
	formatProblem,
	type Merged,
	type Project,
	projectAt,
	type Query,
	type QueryKind,
	type ReferenceKind,
	type Renaming,
	recordInto,
	renamed,
	type Shape,
} from '@frelk/core';
import { create as produce } from 'mutative';
import { createStore, type StoreApi } from 'zustand';
import { readLocal, writeLocal } from '../data/local';
import type { CheckState } from './check-results';
import { createDeriver, type Derived } from './derived';

/** `gone`: the project was deleted elsewhere, and is not written any more. */
export type Saving = 'saved' | 'waiting' | 'failed' | 'gone';

export interface Step {
	label: string;
	project: Project;
	/** Another tab's changes have been laid over it since: it may not go together with them. */
	mixed?: boolean;
}

/** What the hand does on the stage; a thing is one of those ready to be placed, or `own:` and the id of one kept here. */
export type Tool =
	| { kind: 'shape'; shape: Shape['kind'] }
	| { kind: 'thing'; thing: string }
	| { kind: 'query'; query: QueryKind }
	| { kind: 'measure' };
export type Tint = 'layer' | 'tag' | 'side' | 'verdict';
export type Panel = 'commands' | 'keys' | { delete: { kind: ReferenceKind; ids: string[] } };

export type Dock = 'roster' | 'moments';

/** An object that is to be selected, or is not to be; or any change of the answer, the least first. */
export type Wanted = { object: string; wish: 'select' | 'leave' } | { wish: 'change' };

/** A project as it would be, and by what. */
export interface Preview {
	words: string;
	project: Project;
}

export interface BenchState {
	key: string;
	project: Project;
	past: Step[];
	future: Step[];
	/** The project before the gesture that is under way, or null. */
	gesture: { label: string; before: Project } | null;
	/** Whether it moves by itself, as a run that is played: what may follow a moment later does. */
	moving: boolean;
	query: string | null;
	/** Objects in hand; the last one picked is the one the card stands by. */
	selection: readonly string[];
	/** The last of the selection, or null. */
	picked: string | null;
	/** What the hand does next on the stage; null is to pick up and move. */
	tool: Tool | null;
	/** By what the stage tints objects. */
	tint: Tint;
	/** A window over the bench. */
	panel: Panel | null;
	/** Whether the first walk is taken: a card on the bench beside which all goes on. */
	walking: boolean;
	/** The panel that lies over the stage where there is no room beside it. */
	drawer: 'queries' | 'ladder' | null;
	/** What stands beside the view for as long as it is wanted. */
	dock: Dock | null;
	/** A camera in hand, where no object is. */
	camera: string | null;
	/** The camera the eye looks through, instead of the query's own; null is the query's. */
	through: string | null;
	/** Where the card lies: over the list of queries, or beside the ladder. */
	cardSide: 'queries' | 'ladder';
	/** Whether the card shows all of an object; its focus can then be pulled on the stage. */
	inDetail: boolean;
	/** How firmly a check of a query holds, drawn while that query is open. */
	firm: { query: string; firmness: readonly Firmness[] } | null;
	/** The part of the sentence that a new query most likely wants next. */
	nextPart: { part: string; open: boolean; nth: number } | null;
	/** Instant of the swing that is looked at, seconds; null for all of it. */
	swing: number | null;
	/** Another number each time a swing is let go. */
	swings: number;
	/** Object whose verdict stays at the head of the ladder, whatever query is open. */
	pinned: string | null;
	/** What is looked for remedies for: that an object is selected, or is not. */
	wanted: Wanted | null;
	/** A change that is looked at before it is taken: what is derived stands as it would be. Any edit ends it. */
	preview: Preview | null;
	/** Object pointed at in the ladder, the roster or on the stage. */
	pointed: string | null;
	moment: string | null;
	saving: Saving;
	/** Why it is not saved, in words. */
	unsavedFor: string | null;
	/** What both this tab and another changed. */
	clash: { what: string[]; undo: boolean; stands: 'mine' | 'theirs' } | null;
	/** World and answers of project, moment and query. */
	derived: Derived;
	/** The last run of the checks, or null before the first and where there are none. */
	checked: CheckState | null;
	/** What was last found to be wrong, or worth a look, and in which state of the project; null before. */
	found: { project: Project; list: readonly Finding[] } | null;
	/** What the last refused edit was refused for. */
	refusal: string | null;

	edit: (label: string, recipe: (draft: Project) => void) => void;
	/** Edits the project itself, whatever moment is looked at. */
	editPlain: (label: string, recipe: (draft: Project) => void) => void;
	/** Takes a whole new state of the project as one step of the history. @param renaming what has another id in it */
	put: (label: string, project: Project, renaming?: Renaming) => void;
	/** Shows another state of the project, without a step of the history: for a bench that follows something else. */
	stand: (project: Project) => void;
	move: (moving: boolean) => void;
	/** Opens a gesture: edits until `endGesture` become one step of the history. */
	beginGesture: (label: string) => void;
	endGesture: () => void;
	cancelGesture: () => void;
	undo: () => void;
	redo: () => void;
	/** Brings back a history that was kept. */
	restoreHistory: (past: Step[], future: Step[]) => void;
	/** Takes an object in hand instead of what was, or with it (`also`), or lets it go when it is there already. */
	pick: (object: string | null, also?: boolean) => void;
	pickAll: (objects: readonly string[]) => void;
	use: (tool: Tool | null) => void;
	/** @param open whether its editor opens, rather than only being marked */
	markPart: (part: string | null, open?: boolean) => void;
	tintBy: (tint: Tint) => void;
	show: (panel: Panel | null) => void;
	takeWalk: (walking: boolean) => void;
	/** Leaves the innermost of first walk, drawer, tool, hand, another eye and dock. @returns whether there was one */
	leave: () => boolean;
	drawOut: (drawer: BenchState['drawer']) => void;
	dockAt: (dock: Dock | null) => void;
	takeCamera: (camera: string | null) => void;
	lookThrough: (camera: string | null) => void;
	dockCard: (side: 'queries' | 'ladder') => void;
	detail: (inDetail: boolean) => void;
	pin: (object: string | null) => void;
	want: (wanted: Wanted | null) => void;
	tryOn: (preview: Preview | null) => void;
	swingAt: (swing: number | null) => void;
	letSwing: () => void;
	showFirmness: (firm: BenchState['firm']) => void;
	refuse: (why: string) => void;
	point: (object: string | null) => void;
	open: (query: string | null) => void;
	/** Looks at the scene at a moment; null is the scene as laid out. */
	lookAt: (moment: string | null) => void;
	setSaving: (saving: Saving, why?: string) => void;
	setChecked: (checked: CheckState | null) => void;
	setFound: (found: BenchState['found']) => void;
	/** Takes in what another tab has done, here and in all states of the history. */
	takeIn: (merged: Merged, stands?: 'mine' | 'theirs') => void;
	dismissClash: () => void;
	dismiss: () => void;
}

export type BenchStore = StoreApi<BenchState>;

const CARD = 'frelk-card';

/** Whether a state of the history may be gone back to. */
const stands = ({ mixed, project }: Step): boolean => !mixed || checkProject(project).ok;

/** @returns the rules a project breaks, in words; null where it breaks none */
function whyNot(project: Project): string | null {
	const checked = checkProject(project);
	return checked.ok ? null : checked.problems.map(formatProblem).join(' · ');
}

/** A project after an edit made while a moment is looked at: what a moment can hold goes into it. */
export function editedAt(before: Project, moment: string | null, recipe: (draft: Project) => void): Project {
	const next = produce(before, recipe);
	if (moment === null) return next;
	const seen = projectAt(before, moment);
	const after = produce(seen, recipe);
	return after === seen ? next : recordInto(before, moment, next, after);
}

export function createBench(key: string, project: Project): BenchStore {
	const derive = createDeriver();
	let marks = 0;
	return createStore<BenchState>((publish, get) => {
		const set = (change: Partial<BenchState>) => {
			const over = 'project' in change || 'moment' in change || 'query' in change ? { preview: null } : {};
			const { project, moment, query, preview } = { ...get(), ...over, ...change };
			publish({ ...over, ...change, derived: derive(preview?.project ?? project, moment, query) });
		};
		const keepSelection = (
			next: Project,
			held: Pick<BenchState, 'query' | 'selection' | 'moment' | 'camera' | 'through'> = get(),
		): Partial<BenchState> => {
			const cameraThere = (id: string | null) => (next.scene.cameras.some((c) => c.id === id) ? id : null);
			const { query, selection: before, moment } = held;
			const ids = new Set(next.scene.objects.map((o) => o.id));
			const selection = before.every((id) => ids.has(id)) ? before : before.filter((id) => ids.has(id));
			return {
				project: next,
				query: next.queries.some((q) => q.id === query) ? query : (next.queries[0]?.id ?? null),
				selection,
				picked: selection.at(-1) ?? null,
				camera: cameraThere(held.camera),
				through: cameraThere(held.through),
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
			moving: false,
			query: project.queries[0]?.id ?? null,
			selection: [],
			picked: null,
			tool: null,
			tint: 'layer',
			panel: null,
			walking: false,
			drawer: null,
			dock: null,
			camera: null,
			through: null,
			firm: null,
			nextPart: null,
			pinned: null,
			wanted: null,
			preview: null,
			swing: null,
			swings: 0,
			cardSide: readLocal(CARD) === 'queries' ? 'queries' : 'ladder',
			inDetail: false,
			pointed: null,
			moment: null,
			saving: 'saved',
			unsavedFor: null,
			clash: null,
			derived: derive(project, null, project.queries[0]?.id ?? null),
			checked: null,
			found: null,
			refusal: null,

			edit(label, recipe) {
				const { project: before, gesture, past, moment } = get();
				const next = editedAt(before, moment, recipe);
				if (next === before) return;
				if (gesture) {
					// Held against the rules once, when the gesture ends: while the hand moves there is no time for it.
					try {
						set({ project: next, saving: 'waiting' });
					} catch (error) {
						// What no rule has looked at may not even stand.
						set({ refusal: whyNot(next) ?? (error instanceof Error ? error.message : String(error)) });
					}
					return;
				}
				const refusal = whyNot(next);
				if (refusal !== null) return set({ refusal });
				set({ ...keepSelection(next), past: [...past, { label, project: before }], future: [] });
			},
			editPlain(label, recipe) {
				get().endGesture();
				get().put(label, produce(get().project, recipe));
			},
			put(label, next, renaming) {
				// Whatever a hand still holds is one step of its own.
				get().endGesture();
				const { project: before, past } = get();
				if (next === before) return;
				const refusal = whyNot(next);
				if (refusal !== null) return set({ refusal });
				const { selection, query, moment, pinned, camera, through } = get();
				const now = <T extends string | null>(kind: Renaming['kind'], id: T) =>
					(renaming?.kind === kind && renaming.from === id ? renaming.to : id) as T;
				set({
					moment: now('moment', moment),
					pinned: now('object', pinned),
					...keepSelection(next, {
						selection: selection.map((id) => now('object', id)),
						query: now('query', query),
						moment: now('moment', moment),
						camera: now('camera', camera),
						through: now('camera', through),
					}),
					past: [...past, { label, project: before }],
					future: [],
				});
			},
			stand: (project) => set(keepSelection(project)),
			move: (moving) => set({ moving }),
			beginGesture(label) {
				if (!get().gesture) set({ gesture: { label, before: get().project } });
			},
			endGesture() {
				const { gesture, project: now, past } = get();
				if (!gesture) return;
				if (gesture.before === now) return set({ gesture: null });
				const refusal = whyNot(now);
				if (refusal !== null) set({ gesture: null, ...keepSelection(gesture.before), refusal });
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
				if (!stands(last))
					return set({
						refusal: `“${last.label}” cannot be undone: it does not go together with what has been done since.`,
					});
				set({
					clash: null,
					...keepSelection(last.project),
					past: past.slice(0, -1),
					future: [...future, { label: last.label, project: now }],
				});
			},
			redo() {
				const { past, future, project: now, gesture } = get();
				const next = future.at(-1);
				if (!next || gesture) return;
				if (!stands(next))
					return set({
						refusal: `“${next.label}” cannot be redone: it does not go together with what has been done since.`,
					});
				set({
					...keepSelection(next.project),
					future: future.slice(0, -1),
					past: [...past, { label: next.label, project: now }],
				});
			},
			restoreHistory: (past, future) => set({ past, future }),
			pick: (object, also = false) => {
				const { selection } = get();
				const next = !also
					? [object]
					: selection.includes(object as string)
						? selection.filter((id) => id !== object)
						: [...selection, object];
				get().pickAll(next.filter((id) => id !== null));
			},
			pickAll: (selection) => set({ selection, picked: selection.at(-1) ?? null, camera: null }),
			use: (tool) => set({ tool }),
			markPart: (part, open = false) => set({ nextPart: part === null ? null : { part, open, nth: ++marks } }),
			tintBy: (tint) => set({ tint }),
			show: (panel) => set({ panel }),
			takeWalk: (walking) => set({ walking }),
			drawOut: (drawer) => set({ drawer }),
			leave: () => {
				const { walking, drawer, tool, selection, camera, through, dock } = get();
				if (walking) set({ walking: false });
				else if (drawer !== null) set({ drawer: null });
				else if (tool !== null) set({ tool: null });
				else if (selection.length > 0 || camera !== null) get().pick(null);
				else if (through !== null) set({ through: null });
				else if (dock !== null) set({ dock: null });
				else return false;
				return true;
			},
			dockAt: (dock) => set({ dock }),
			takeCamera: (camera) => set({ camera, selection: [], picked: null }),
			lookThrough: (through) => set({ through }),
			pin: (pinned) => set({ pinned }),
			want: (wanted) => set({ wanted, preview: null }),
			tryOn(preview) {
				// What a hand holds goes on moving what is there.
				if (get().preview !== preview && (preview === null || !get().gesture)) set({ preview });
			},
			swingAt: (swing) => {
				if (get().swing !== swing) set({ swing });
			},
			letSwing: () => set({ swings: get().swings + 1 }),
			showFirmness: (firm) => set({ firm }),
			dockCard: (cardSide) => {
				writeLocal(CARD, cardSide);
				set({ cardSide });
			},
			detail: (inDetail) => set({ inDetail }),
			refuse: (refusal) => set({ refusal }),
			point: (pointed) => {
				if (get().pointed !== pointed) set({ pointed });
			},
			open: (query) => set({ query, nextPart: null }),
			lookAt: (moment) => set({ moment }),
			setSaving: (saving, why) => {
				if (get().saving !== saving || get().unsavedFor !== (why ?? null)) set({ saving, unsavedFor: why ?? null });
			},
			takeIn: ({ project: next, taken, renamed: renamings, both, theirs }, stands = 'mine') => {
				const { past, future, gesture, project: before, selection, query } = get();
				if (next === before && both.length === 0) return;
				const rebased = (state: Project) => applyChanges(renamings.reduce(renamed, state), taken);
				const steps = (list: Step[]): Step[] =>
					list.map((step) => ({ ...step, project: rebased(step.project), mixed: true }));
				const named = (kind: Renaming['kind'], id: string) =>
					renamings.find((r) => r.kind === kind && r.from === id)?.to ?? id;
				const held = {
					selection: selection.map((id) => named('object', id)),
					query: query === null ? null : named('query', query),
					moment: get().moment,
					camera: get().camera,
					through: get().through,
				};
				const undo = theirs !== null;
				set({
					...keepSelection(next, held),
					refusal: get().refusal,
					past: undo
						? [
								...steps(past),
								{
									label: stands === 'mine' ? 'my side of what both changed' : 'the other side of what both changed',
									project: theirs,
									mixed: true,
								},
							]
						: steps(past),
					future: undo ? [] : steps(future),
					gesture: gesture && { ...gesture, before: rebased(gesture.before) },
					...(both.length > 0 ? { clash: { what: both, undo, stands } } : {}),
				});
			},
			setChecked: (checked) => set({ checked }),
			setFound: (found) => set({ found }),
			dismissClash: () => set({ clash: null }),
			dismiss: () => set({ refusal: null }),
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
