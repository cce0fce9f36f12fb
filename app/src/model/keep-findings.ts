/** Findings, looked for anew in a worker some time after each change: what is at hand comes first. */
import { findingsIn } from '../workers/client';
import type { BenchStore } from './bench-state';

/** How long nothing must have changed, milliseconds. */
const REST = 4000;

/** Looks for findings after changes for as long as the bench is open, and leaves them in its store. @returns a function that stops it */
export function keepFindings(store: BenchStore): () => void {
	let timer: ReturnType<typeof setTimeout> | null = null;
	let cancel = () => {};
	const look = () => {
		timer = null;
		const { project, gesture } = store.getState();
		if (gesture !== null) return wait();
		const job = findingsIn(project);
		cancel = job.cancel;
		job.done.then(
			(list) => store.getState().setFound({ project, list }),
			(error: unknown) => {
				if (!job.cancelled()) console.error('findings could not be looked for', error);
			},
		);
	};
	const wait = () => {
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(look, REST);
	};
	wait();
	const stop = store.subscribe((now, before) => {
		if (now.project === before.project) return;
		cancel();
		wait();
	});
	return () => {
		stop();
		if (timer !== null) clearTimeout(timer);
		cancel();
	};
}
