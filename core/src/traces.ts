/** What a running game has told: traces read, laid over a project and held against its answers. */

export { type ReplaySummary, ReplayTally, replayJunit } from './report/replay';
export { type CutLine, LineCutter } from './trace/lines';
export { projectAsTold, runOfTrace, traceOfRun, withTraceMoment } from './trace/make';
export { isTrace, readTraceHead, TraceError, TraceReader } from './trace/read';
export {
	type Agreement,
	type Compared,
	Replay,
	type ReplayedLine,
	reasonOfCompared,
	wordsOfCompared,
} from './trace/replay';
export { TraceScene } from './trace/scene';
export { type Asked, TRACE_FORMAT, type TraceHead, type TraceLine } from './trace/schema';
