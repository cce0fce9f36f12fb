/** Levels into projects: naming rules, and reading again. The formats are entries of their own. */

export { type Constants, constantsIn, constantsOf, ENDINGS, LANGUAGES, type Language } from './constants';
export { greatestGap } from './fit';
export { fallbackLayer, type ImportReport, isUnchanged, levelInto, levelsInto } from './into';
export { type Level, LevelError, type LevelNode, type LevelNote, type Progress, type Surface } from './level';
export {
	checkRules,
	type Made,
	madeBy,
	type NamingRule,
	type NamingRules,
	rulesIn,
	SHAPE_WAYS,
	type ShapeWay,
	withRules,
} from './rules';
export { boxOf, shapesOf } from './shape';
export { COLUMNS, csvTable, jsonTable, type Row, readTable, rowsOf, withTable } from './table';
