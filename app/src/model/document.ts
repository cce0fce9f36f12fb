/** The document of a bench: the project with its history, and all that changes it. What cannot stand is refused, with the reason. */
import { checkProject, formatProblem, type Project } from '@frelk/core';
import { applyChanges, projectAt, type Renaming, recordInto, renamed } from '@frelk/core/editing';
import { create as produce } from 'mutative';
import type { BenchState, DocumentState, Publish, Step } from './bench-state';

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

/** @returns the document's state as it begins, and what changes it */
export function documentOf(project: Project, set: Publish, get: () => BenchState): DocumentState {
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
		project,
		past: [],
		future: [],
		gesture: null,
		moment: null,
		saving: 'saved',
		unsavedFor: null,
		disk: null,
		clash: null,
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
		hold: (gesture) => set({ gesture }),
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
		setDisk: (disk) => set({ disk }),
		dismissClash: () => set({ clash: null }),
		refuse: (refusal) => set({ refusal }),
		dismiss: () => set({ refusal: null }),
	};
}
