/** The checks, run anew in a worker shortly after each change: a drag is never held up by them. */
import { activeChecks, type CheckResult, type Project } from '@frelk/core';
import { useSyncExternalStore } from 'react';
import { checksIn } from '../../workers/client';
import type { BenchStore } from './store';

export { activeChecks };

export interface CheckState {
	project: Project;
	results: readonly CheckResult[];
	hold: number;
	fail: number;
	byQuery: ReadonlyMap<string, { hold: number; fail: number }>;
}

let state: CheckState | null = null;
const listeners = new Set<() => void>();

function tell(next: CheckState | null): void {
	state = next;
	for (const listener of listeners) listener();
}

function summed(project: Project, results: readonly CheckResult[]): CheckState {
	const byQuery = new Map<string, { hold: number; fail: number }>();
	let hold = 0;
	for (const r of results) {
		const entry = byQuery.get(r.query) ?? { hold: 0, fail: 0 };
		byQuery.set(r.query, entry);
		if (r.pass) {
			entry.hold++;
			hold++;
		} else entry.fail++;
	}
	return { project, results, hold, fail: results.length - hold, byQuery };
}

/** Runs the checks after changes for as long as the bench is open. @returns a function that stops it */
export function keepChecked(store: BenchStore, done: (state: CheckState) => void): () => void {
	let timer: ReturnType<typeof setTimeout> | null = null;
	let cancel = () => {};
	const run = () => {
		timer = null;
		cancel();
		const { project } = store.getState();
		const ids = activeChecks(project).map((c) => c.id);
		if (ids.length === 0) return tell(null);
		const job = checksIn(project, ids);
		cancel = job.cancel;
		job.done.then(
			(results) => {
				const next = summed(project, results);
				tell(next);
				done(next);
			},
			(error) => {
				if (!job.cancelled()) console.error('the checks could not be run', error);
			},
		);
	};
	run();
	const stop = store.subscribe((now, before) => {
		// While a gesture is under way the answers follow; the checks are run when it ends.
		if (now.gesture !== null || (now.project === before.project && before.gesture === null)) return;
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(run, 150);
	});
	return () => {
		stop();
		if (timer !== null) clearTimeout(timer);
		cancel();
		tell(null);
	};
}

export const useCheckResults = (): CheckState | null =>
	useSyncExternalStore(
		(listener) => {
			listeners.add(listener);
			return () => listeners.delete(listener);
		},
		() => state,
		() => null,
	);
