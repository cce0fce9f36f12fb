/** Writes the project to the browser's store soon after each change, and at once when the page is left. */
import { getProject, saveProject } from '../../data/projects';
import type { BenchStore } from './store';

const DELAY = 250;
/** Even while a gesture goes on without pause, what has been done is written this often, milliseconds. */
const AT_MOST = 800;

/** @returns a function that stops it, writing what is still open */
export function keepSaved(store: BenchStore, version: number): () => void {
	let timer: ReturnType<typeof setTimeout> | null = null;
	let saved = store.getState().project;
	let known = version;
	let waitingSince = 0;
	let running: Promise<void> = Promise.resolve();

	const write = () => {
		if (timer !== null) clearTimeout(timer);
		timer = null;
		const { project, key } = store.getState();
		if (project === saved) return;
		saved = project;
		running = running.then(async () => {
			try {
				known = await saveProject(key, project);
				if (store.getState().project === project) store.getState().setSaving('saved');
			} catch (error) {
				console.error('saving failed', error);
				saved = null as unknown as typeof saved;
				store.getState().setSaving('failed');
			}
		});
	};

	const stop = store.subscribe((state, before) => {
		if (state.project === before.project || state.project === saved) return;
		if (state.saving !== 'waiting') store.getState().setSaving('waiting');
		const now = performance.now();
		if (timer === null) waitingSince = now;
		else clearTimeout(timer);
		timer = setTimeout(write, Math.max(0, Math.min(DELAY, waitingSince + AT_MOST - now)));
	});

	/** Coming back to this tab: another one may have written meanwhile. */
	const look = async () => {
		if (document.visibilityState !== 'visible') {
			write();
			return;
		}
		await running;
		const { key, project } = store.getState();
		const row = await getProject(key);
		if (!row || row.version <= known || project !== saved) return;
		known = row.version;
		saved = row.project;
		store.getState().replace(row.project);
	};
	document.addEventListener('visibilitychange', look);
	window.addEventListener('focus', look);
	window.addEventListener('pagehide', write);
	return () => {
		stop();
		write();
		document.removeEventListener('visibilitychange', look);
		window.removeEventListener('focus', look);
		window.removeEventListener('pagehide', write);
	};
}
