/** The results of the checks, and which of them an edit can have turned. */
import { activeChecks, type CheckResult, type Project } from '@frelk/core';
import type { MapCheckResult } from '@frelk/core/maps';
import type { RunCheckResult } from '@frelk/core/runs';
import { chainsOf } from './derived';

export interface CheckState {
	project: Project;
	results: readonly CheckResult[];
	/** Those of runs. */
	overTime: readonly (RunCheckResult | MapCheckResult)[];
	/** Of both kinds. */
	hold: number;
	fail: number;
	/** How many are still to be asked for the first time: until then nobody knows how all stand. */
	pending: number;
	byQuery: ReadonlyMap<string, { hold: number; fail: number }>;
}

export function summed(
	project: Project,
	results: readonly CheckResult[],
	overTime: readonly (RunCheckResult | MapCheckResult)[] = [],
	pending = 0,
): CheckState {
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
	hold += overTime.filter((r) => r.pass).length;
	return { project, results, overTime, hold, fail: results.length + overTime.length - hold, pending, byQuery };
}

/** How the checks stand, in the words of the bar and of the board: one number everywhere, and none before all are asked. */
export function standingWords({ hold, fail, pending }: Pick<CheckState, 'hold' | 'fail' | 'pending'>): string {
	const asked = hold + fail;
	if (pending > 0) return `checking, ${asked} of ${asked + pending}`;
	return `${hold} hold${fail > 0 ? `, ${fail} fail` : ''}`;
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
		return (
			!query ||
			was.get(`q ${id}`) !== query ||
			chainsOf(query).some((next) => !way.includes(next) && turnedQuery(next, [...way, id]))
		);
	};
	const turnedMoment = (id: string | undefined, way: readonly string[] = []): boolean => {
		const moment = id === undefined ? undefined : moments.get(id);
		return (
			moment !== undefined &&
			(was.get(`m ${moment.id}`) !== moment ||
				(moment.on !== undefined && !way.includes(moment.on) && turnedMoment(moment.on, [...way, moment.id])))
		);
	};
	const known = new Map((before.checks ?? []).map((c) => [c.id, c]));
	return new Set(
		checks.filter((c) => known.get(c.id) !== c || turnedQuery(c.query) || turnedMoment(c.moment)).map((c) => c.id),
	);
}
