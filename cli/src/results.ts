/** Results of still checks and of checks of runs, together. */
import type { CheckResult, RunCheckResult, SuiteResult } from '@frelk/core';

/** Results of both kinds as their checks stand in the file. */
export function inFileOrder(suite: SuiteResult): (CheckResult | RunCheckResult)[] {
	const place = new Map((suite.of?.checks ?? []).map((c, i) => [c.id, i]));
	return [...suite.checks, ...(suite.runs ?? [])].sort((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0));
}

/** A result as it is printed. */
export const printedRun = ({ id, run, moment, pass, wanted, got, reason }: RunCheckResult) => ({
	id,
	run,
	moment,
	pass,
	wanted,
	got,
	reason,
});
