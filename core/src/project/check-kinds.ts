/** Checks of a query at a moment, of a run and of a map: all stand in one list of the file. */
import type { AnyCheck, Check, MapCheck, Project, RunCheck } from './schema';

/** Whether a check is of a query at a moment. */
export const isStill = (check: AnyCheck): check is Check => !('run' in check) && !('map' in check);

/** The checks of queries at moments, in file order. */
export const stillChecks = (project: Project): Check[] => (project.checks ?? []).filter(isStill);

/** The checks of runs, in file order. */
export const runChecksIn = (project: Project): RunCheck[] =>
	(project.checks ?? []).filter((c): c is RunCheck => 'run' in c);

/** The checks of maps, in file order. */
export const mapChecksIn = (project: Project): MapCheck[] =>
	(project.checks ?? []).filter((c): c is MapCheck => 'map' in c);

/** Checks that are not switched off: `extras.off` keeps one in the file without running it. */
export const isOn = (check: AnyCheck): boolean => (check.extras as { off?: unknown } | undefined)?.off !== true;
