/** The checks, run anew in a worker shortly after each change: a drag is never held up by them. */
import { activeChecks, type CheckResult, type Project } from '@frelk/core';
import { useSyncExternalStore } from 'react';
import { checksIn } from '../../workers/client';
import { chainsOf } from './answers';
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

/**
 * The checks an edit can have turned: by what is no longer the very same part of the project. An edit of the scene can turn any; one
 * of a query those of it and of all that start at its hit; one of a moment those at it and at all that stand on it.
 */
export function affectedChecks(before: Project | null, after: Project): Set<string> {
	const checks = activeChecks(after);
	if (before === null || before.scene !== after.scene) return new Set(checks.map((c) => c.id));
	const was = new Map<string, unknown>([
		...before.queries.map((q) => [`q ${q.id}`, q] as const),
		...(before.moments ?? []).map((m) => [`m ${m.id}`, m] as const),
	]);
	const queries = new Map(after.queries.map((q) => [q.id, q]));
	const moments = new Map((after.moments ?? []).map((m) => [m.id, m]));
	// A query or moment that is gone takes its checks with it; a new one has none yet.
	const turnedQuery = (id: string, way: readonly string[] = []): boolean => {
		const query = queries.get(id);
		return !query || was.get(`q ${id}`) !== query || chainsOf(query).some((next) => !way.includes(next) && turnedQuery(next, [...way, id]));
	};
	const turnedMoment = (id: string | undefined, way: readonly string[] = []): boolean => {
		const moment = id === undefined ? undefined : moments.get(id);
		return (
			moment !== undefined &&
			(was.get(`m ${moment.id}`) !== moment || (moment.on !== undefined && !way.includes(moment.on) && turnedMoment(moment.on, [...way, moment.id])))
		);
	};
	const known = new Map((before.checks ?? []).map((c) => [c.id, c]));
	return new Set(checks.filter((c) => known.get(c.id) !== c || turnedQuery(c.query) || turnedMoment(c.moment)).map((c) => c.id));
}

/** Runs the checks after changes for as long as the bench is open. @returns a function that stops it */
export function keepChecked(store: BenchStore, done: (state: CheckState) => void): () => void {
	let timer: ReturnType<typeof setTimeout> | null = null;
	let cancel = () => {};
	const run = () => {
		timer = null;
		cancel();
		const { project } = store.getState();
		const active = activeChecks(project);
		if (active.length === 0) return tell(null);
		const affected = affectedChecks(state?.project ?? null, project);
		const kept = new Map(state?.results.map((r) => [r.id, r]));
		const ids = active.filter((c) => affected.has(c.id) || !kept.has(c.id)).map((c) => c.id);
		const job = checksIn(project, ids);
		cancel = job.cancel;
		job.done.then(
			(fresh) => {
				for (const r of fresh) kept.set(r.id, r);
				const next = summed(
					project,
					active.flatMap((c) => kept.get(c.id) ?? []),
				);
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
