/** The checks of one project, run in a worker. */
import { type Check, type MapCheck, type RunCheck, runChecks, type SuiteResult } from '@frelk/core';
import { checkMaps } from '@frelk/core/maps';
import { checkRuns } from '@frelk/core/runs';
import { unshared } from './shared';
import { stopwatch } from './stopwatch';

/** What a worker is asked for. */
interface CheckPart {
	/** The project's text, see `shared`. */
	text: SharedArrayBuffer;
	checks: readonly Check[];
	runs: readonly RunCheck[];
	maps: readonly MapCheck[];
	/** Whether answers may leave out what only a program reads. */
	brief: boolean;
}

export default function checkPart({
	text,
	checks,
	runs,
	maps,
	brief,
}: CheckPart): Required<Pick<SuiteResult, 'checks' | 'runs' | 'maps' | 'seconds'>> {
	const project = unshared(text);
	const { seconds, judged } = stopwatch();
	return {
		seconds,
		checks: runChecks(project, checks, () => {}, brief, judged),
		runs: checkRuns(project, runs, () => {}, judged),
		maps: checkMaps(project, maps, () => {}, undefined, judged),
	};
}
