/** The core of Frelk: projects, worlds, queries and answers. No interface, no files, no network. */

export {
	activeChecks,
	type CheckResult,
	FELT,
	failureOf,
	hasRoom,
	runChecks,
	wordsOfGot,
	wordsOfRoom,
	wordsOfWanted,
} from './checks/check';
export { expectationOf, keptOf, updatedExpectation } from './checks/expect';
export {
	type LeastChange,
	leastChanges,
	type Perturbation,
	type Robustness,
	type RobustnessMargin,
	robustnessOf,
} from './checks/robustness';
export { type AnswerChange, answersAt, changesBetween, type QuickAnswer, quickAnswer } from './checks/survey';
export { type Finding, type FindingRule, FindingsMemory, type Level } from './findings/finding';
export { FINDING_RULES, findFindings } from './findings/rules';
export { type SarifInput, sarifOf } from './findings/sarif';
export { MAX_PROBLEMS, MAX_TEXT } from './project/bounds';
export { isOn, isStill, mapChecksIn, runChecksIn, stillChecks } from './project/check-kinds';
export { ARC, BORNE_WITHIN, lastStep, TIME_EPSILON, takeOf, watchId } from './project/defaults';
export { describe, oneLine } from './project/describe';
export { applyMoment, momentChain } from './project/moment';
export { didYouMean, editDistance, formatPath, formatProblem, type Problem, quoted } from './project/problems';
export { checkProject, decodeUtf8, type Reading, readBytes, readProject } from './project/read';
export { rounded, roundedTriple, tripleOf } from './project/rounding';
export type {
	Anchor,
	AnyCheck,
	Arc,
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
	Outcome,
	OverlapQuery,
	Overlay,
	PickQuery,
	Press,
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
export { writeProject } from './project/write';
export { Answerer, equalsIn, explain } from './query/answer';
export type { ArcPath } from './query/arc';
export { rulesOf, slackOf } from './query/choose';
export { type Crossing, crossingsOf, type Surface, surfaceUnder } from './query/crossings';
export { type ChoiceFigures, choiceFigures, wordsOfFigure } from './query/figures';
export { filtersOf, isBlocker, isEligible } from './query/filters';
export {
	cursorRay,
	isNote,
	type Placement,
	placementOf,
	projectPoint,
	type QueryPath,
	type View,
	viewOf,
} from './query/placement';
export { NOTHING, OTHER, prepareRay, type RayWinner, TIED } from './query/ray-winner';
export { type Spot, spotOf } from './query/room';
export type { Contender } from './query/touch';
export * from './query/types';
export { isOpenAt } from './query/windows';
export {
	anyTagsOf,
	byId,
	byName,
	degrees,
	metres,
	type Naming,
	STAGE_WORDS,
	wordsOfCondition,
	wordsOfLoss,
	wordsOfValue,
	wordsOfVerdict,
} from './query/words';
export type { Earlier } from './remedy/put-back';
export {
	byCost,
	type Nearest,
	type Remedies,
	type Remedy,
	type RemedyOptions,
	remediesFor,
	type Wish,
} from './remedy/remedy';
export { isFormula } from './report/escaped';
export { csvReport, markdownLine, markdownReport } from './report/files';
export { junitXml, type SuiteResult } from './report/junit';
export { namedWithIds } from './report/named';
export { htmlReport } from './report/page';
export { RULE_WORDS, sentenceOf, wordsOfLeast } from './report/sentence';
export * from './world/world';
