/** The core of Frelk: projects, worlds, queries and answers. No interface, no files, no network. */

export { activeChecks, type CheckResult, failureOf, runChecks, wordsOfGot, wordsOfWanted } from './checks/check';
export { expectationOf, updatedExpectation } from './checks/expect';
export {
	type Firmness,
	type LeastChange,
	leastChanges,
	type Nudge,
	type Robustness,
	robustnessOf,
} from './checks/robustness';
export { answersAt, type Change, changesBetween, type QuickAnswer, quickAnswer } from './checks/survey';
export { type Finding, type FindingRule, FindingsMemory, type Level } from './findings/finding';
export { FINDING_RULES, findFindings } from './findings/rules';
export { type SarifInput, sarifOf } from './findings/sarif';
export { MapAsker } from './map/ask';
export { CELL, UNSETTLED } from './map/cell';
export { type CellSays, compareMaps, type Handed, type MapsCompared } from './map/compare';
export type { MapFigures, NeverFigures, ObjectFigures } from './map/figures';
export {
	askMap,
	askRows,
	joinedParts,
	judgeMap,
	type MapCheckResult,
	type MapPart,
	type MapResult,
	resultOf,
	wordsOfMapWanted,
} from './map/map';
export { checkMaps, MapMemory } from './map/memory';
export { hatchOfPlace, type Painting, paint, toneOfPlace } from './map/paint';
export { type Refining, refine, standsFor } from './map/refine';
export { MIN_TARGET, mapLegendSvg, mapSvg, namesOn, shownIn } from './map/svg';
export { MAP_HEAD, mapRows } from './map/table';
export { MAX_PROBLEMS, MAX_TEXT } from './project/bounds';
export { isOn, isStill, mapChecksIn, runChecksIn, stillChecks } from './project/check-kinds';
export type { Kind as ReferenceKind } from './project/collections';
export { lastStep, TIME_EPSILON, takeOf, watchId } from './project/defaults';
export { describe, oneLine } from './project/describe';
export { type MapGrid, mapGrid } from './project/map-grid';
export {
	applyChanges,
	type Change as ProjectChange,
	changesFrom,
	clashing,
	deepEqual,
	type Merged,
	mergeProjects,
	type Renaming,
	renamed,
	wordsOfChange,
} from './project/merge';
export { applyMoment, momentChain } from './project/moment';
export { onlyMoved } from './project/overlay';
export { didYouMean, editDistance, formatPath, formatProblem, type Problem, quoted } from './project/problems';
export { checkProject, decodeUtf8, type Reading, readBytes, readProject } from './project/read';
export { type Difference, differencesOf, projectAt, recordInto, removeDifference } from './project/record';
export { checkReferences, hitsNeeded, type Path as JsonPath } from './project/references';
export { type Repair, repairProject } from './project/repair';
export { rounded, roundedTriple } from './project/rounding';
export type {
	Anchor,
	AnyCheck,
	Camera,
	Check,
	Condition,
	Direction,
	Effect,
	Expect,
	HitboxQuery,
	LikeShape,
	MapCheck,
	MapExpect,
	Moment,
	OverlapQuery,
	Overlay,
	PickQuery,
	Project,
	Query,
	QueryKind,
	QueryMap,
	QueryOf,
	RayQuery,
	Rule,
	RuleName,
	Run,
	RunCheck,
	RunExpect,
	Scene,
	SceneObject,
	Shape,
	ShapeKind,
	Stance,
	StateValue,
	SweepQuery,
	Track,
	Vec2,
	Vec3,
	VolumeShape,
	WatchEntry,
} from './project/schema';
export { ANCHOR_KEYS, FORMAT, QUERY_KINDS, RULES, SHAPE_KINDS } from './project/schema';
export { ID_PATTERN } from './project/schema-parts';
export { escapeMarkup, slug } from './project/text';
export { replaceExpectations } from './project/text-edit';
export { removeReferences, replaceUses, usesOf, wordsOfUse } from './project/uses';
export { writeProject } from './project/write';
export { Answerer, equalsIn, explain } from './query/answer';
export { rulesOf, slackOf } from './query/choose';
export { type Crossing, crossingsOf, type Surface, surfaceUnder } from './query/crossings';
export { type ChoiceFigures, choiceFigures, wordsOfFigure } from './query/figures';
export { filtersOf, isBlocker, isEligible } from './query/filters';
export {
	cursorRay,
	isNote,
	type Path,
	type Placement,
	placementOf,
	project,
	type View,
	viewOf,
} from './query/placement';
export { NOTHING, OTHER, prepareRay, type RayWinner, TIED } from './query/ray-winner';
export type { Contender } from './query/touch';
export * from './query/types';
export { isOpenAt } from './query/windows';
export {
	anyTagsOf,
	degrees,
	metres,
	type Naming,
	STAGE_WORDS,
	wordsOfCondition,
	wordsOfLoss,
	wordsOfVerdict,
} from './query/words';
export { byCost, type Remedies, type Remedy, type RemedyOptions, remediesFor, type Wish } from './remedy/remedy';
export { isFormula } from './report/escaped';
export { csvReport, markdownReport } from './report/files';
export { junitXml, type SuiteResult } from './report/junit';
export { htmlReport } from './report/page';
export { type ReplaySummary, ReplayTally, replayJunit } from './report/replay';
export { RULE_WORDS } from './report/sentence';
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
	type Thing,
	thinned,
	withKeyAt,
	withKeys,
	withoutKey,
	withRecording,
} from './run/record';
export { type RunOptions, runThrough, type Standing } from './run/run';
export { runLog, whatHappened, wordsOfEvent } from './run/words';
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
export * from './world/world';
