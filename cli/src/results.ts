/** Results of checks of queries, of runs and of maps, together. */
import type { CheckResult, SuiteResult } from '@frelk/core';
import type { MapCheckResult } from '@frelk/core/maps';
import type { RunCheckResult } from '@frelk/core/runs';

type AnyResult = CheckResult | RunCheckResult | MapCheckResult;

/** Results of all kinds as their checks stand in the file. */
export function inFileOrder(suite: SuiteResult): AnyResult[] {
	const place = new Map((suite.of?.checks ?? []).map((c, i) => [c.id, i]));
	return [...suite.checks, ...(suite.runs ?? []), ...(suite.maps ?? [])].sort(
		(a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0),
	);
}

/** What a check is of: a query, a run or a map. */
export const subjectOf = (result: AnyResult): string =>
	'run' in result ? result.run : 'map' in result ? result.map : result.query;

/** A result as it is printed. */
export function printedResult(result: AnyResult): object {
	if (!('run' in result)) return result;
	const { id, run, moment, pass, wanted, got, reason } = result;
	return { id, run, moment, pass, wanted, got, reason };
}
