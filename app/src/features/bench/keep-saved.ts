/**
 * Writes the project to the browser's store soon after each change, and at once when the page is left. While one works, a worker
 * writes; when the page is left it may be ended with the page, so that the page then writes by itself.
 */
import type { Project } from '@frelk/core';
import { getProject, saveProject } from '../../data/projects';
import { Ended, Saving } from '../../workers/saving';
import type { BenchStore } from './store';

const DELAY = 250;
/** Even while a gesture goes on without pause, what has been done is written this often, milliseconds. */
const AT_MOST = 800;

/** @returns a function that stops it, writing what is still open */
export function keepSaved(store: BenchStore, version: number): () => void {
	const saving = new Saving();
	let timer: ReturnType<typeof setTimeout> | null = null;
	/** What was last given to be written, and what is known to have been. */
	let given: Project | null = store.getState().project;
	let written = given;
	let known = version;
	let waitingSince = 0;
	let running: Promise<void> = Promise.resolve();

	const keep = async (project: Project, save: (key: string, project: Project) => Promise<number>) => {
		try {
			known = await save(store.getState().key, project);
			written = project;
			if (store.getState().project === project) store.getState().setSaving('saved');
		} catch (error) {
			// The page has written instead.
			if (error instanceof Ended) return;
			console.error('saving failed', error);
			given = null;
			store.getState().setSaving('failed');
		}
	};
	const open = (): Project | null => {
		if (timer !== null) clearTimeout(timer);
		timer = null;
		const { project } = store.getState();
		return project === given ? null : project;
	};

	const write = () => {
		const project = open();
		if (!project) {
			// Taken back before it was written.
			if (given === written) store.getState().setSaving('saved');
			return;
		}
		given = project;
		running = running.then(() => keep(project, (key, project) => saving.save(key, project)));
	};

	/** Writes now and here; what the worker has in hand is given up, so that it cannot be written over what is newer. */
	const writeHere = () => {
		open();
		const { project } = store.getState();
		if (project === written) return;
		saving.stop();
		given = project;
		running = keep(project, saveProject);
	};

	const stop = store.subscribe((state, before) => {
		if (state.project === before.project || state.project === given) return;
		if (state.saving !== 'waiting') store.getState().setSaving('waiting');
		saving.ready();
		const now = performance.now();
		if (timer === null) waitingSince = now;
		else clearTimeout(timer);
		timer = setTimeout(write, Math.max(0, Math.min(DELAY, waitingSince + AT_MOST - now)));
	});

	/** Coming back to this tab: another one may have written meanwhile. */
	const look = async () => {
		if (document.visibilityState !== 'visible') {
			writeHere();
			return;
		}
		await running;
		const { key, project } = store.getState();
		const row = await getProject(key);
		if (!row || row.version <= known || project !== given) return;
		known = row.version;
		given = row.project;
		written = row.project;
		store.getState().replace(row.project);
	};
	document.addEventListener('visibilitychange', look);
	window.addEventListener('focus', look);
	window.addEventListener('pagehide', writeHere);
	return () => {
		stop();
		writeHere();
		saving.stop();
		document.removeEventListener('visibilitychange', look);
		window.removeEventListener('focus', look);
		window.removeEventListener('pagehide', writeHere);
	};
}
