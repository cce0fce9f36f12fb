/** A scene over time: run-throughs, their events, lanes and checks, and what is recorded of them by hand. */

export {
	checkRuns,
	firstDifference,
	judgeRun,
	type RunCheckResult,
	updatedRunExpectation,
	wordsOfRunWanted,
} from './run/check';
export type { Instead, RunEvent, RunResult, SwingFigures, WatchFigures } from './run/events';
export { RunInstants } from './run/instants';
export { type EntryLanes, heldAt, lanesOf, type Stretch } from './run/lanes';
export {
	beyondKeys,
	type KeyChange,
	keyChanges,
	type Recorded,
	type Sample,
	type TrackTarget,
	thinned,
	withKeyAt,
	withKeys,
	withoutKey,
	withRecording,
} from './run/record';
export { type RunOptions, runThrough, type StateAtTime } from './run/run';
export { runLog, whatHappened, wordsOfEvent } from './run/words';
