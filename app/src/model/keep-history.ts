/** Undo that outlives a reload: the last steps are kept beside the project, each as what it changed. */
import type { Project } from '@frelk/core';
import { applyChanges, changesFrom } from '@frelk/core/editing';
import { db, type KeptHistory, type KeptStep } from '../data/db';
import { soundRow } from '../data/rows';
import type { BenchStore, Step } from './bench-state';

/** Steps kept a project. */
const MOST = 100;
/** Larger projects keep no history: to tell whether it is still theirs all of their text is read. */
const MAX_OBJECTS = 2000;
/** Milliseconds after the last edit. */
const PAUSE = 700;

const isTree = (value: unknown): value is Record<string, unknown> =>
	typeof value === 'object' && value !== null && !Array.isArray(value);

const inOrder = (tree: Record<string, unknown>): Record<string, unknown> =>
	Object.fromEntries(Object.entries(tree).sort(([a], [b]) => (a < b ? -1 : 1)));

/** A project in short: another one is, as good as always, another text. */
export function stampOf(project: Project): string {
	// Keys in one order: reading puts them into another than editing does.
	const text = JSON.stringify(project, (_key, value: unknown) => (isTree(value) ? inOrder(value) : value));
	let a = 0x811c9dc5;
	let b = 0x01000193;
	for (let i = 0; i < text.length; i++) {
		const c = text.charCodeAt(i);
		a = Math.imul(a ^ c, 0x01000193);
		b = Math.imul(b + c, 0x85ebca6b) ^ (b >>> 13);
	}
	return `${text.length}-${(a >>> 0).toString(36)}-${(b >>> 0).toString(36)}`;
}

/** Steps as changes, outward from the project as it stands: the nearest step last. */
export function packed(now: Project, steps: readonly Step[], before = new WeakMap<Step, KeptStep>()): KeptStep[] {
	let at = now;
	return steps
		.slice(-MOST)
		.reverse()
		.map((step) => {
			// A step's changes hang on the one after it, which stays the same for as long as the step does.
			const known = before.get(step) ?? { label: step.label, changes: changesFrom(at, step.project) };
			before.set(step, known);
			at = step.project;
			return known;
		})
		.reverse();
}

/** The steps that were kept, of the project they were kept with. */
export function unpacked(now: Project, kept: readonly KeptStep[]): Step[] {
	let at = now;
	return [...kept]
		.reverse()
		.map(({ label, changes }) => {
			at = applyChanges(at, changes);
			// What was kept elsewhere is held against the rules before one goes back to it.
			return { label, project: at, mixed: true };
		})
		.reverse();
}

async function restore(store: BenchStore): Promise<void> {
	const { key, project } = store.getState();
	const kept = soundRow('undo', key, await db().undo.get(key)) as KeptHistory | null;
	if (!kept || kept.stamp !== stampOf(project)) return;
	const { past, future, project: now, restoreHistory } = store.getState();
	// Whoever has edited already has a history of their own.
	if (now === project && past.length === 0 && future.length === 0)
		restoreHistory(unpacked(project, kept.past), unpacked(project, kept.future));
}

/** Keeps the history of an open bench, and brings back the one kept. @returns a function that stops it */
export function keepHistory(store: BenchStore): () => void {
	const known = new WeakMap<Step, KeptStep>();
	let timer: ReturnType<typeof setTimeout> | null = null;
	const note = (error: unknown) => console.error('the history could not be kept', error);
	const write = () => {
		timer = null;
		const { key, project, past, future, gesture } = store.getState();
		if (gesture || project.scene.objects.length > MAX_OBJECTS) return;
		const row: KeptHistory = {
			key,
			stamp: stampOf(project),
			past: packed(project, past, known),
			future: packed(project, future),
		};
		db().undo.put(row).catch(note);
	};
	restore(store).catch(note);
	const stop = store.subscribe((now, before) => {
		if (now.past === before.past && now.future === before.future) return;
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(write, PAUSE);
	});
	const flush = () => {
		if (timer === null) return;
		clearTimeout(timer);
		write();
	};
	// A tab that is closed or loaded anew: what is begun now is still written.
	addEventListener('pagehide', flush);
	return () => {
		stop();
		removeEventListener('pagehide', flush);
		flush();
	};
}
