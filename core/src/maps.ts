/** Maps of answers: one query asked over a grid of cursors, places or directions; their figures, pictures and tables. */

export { MapAsker } from './map/ask';
export { CELL, UNSETTLED } from './map/cell';
export { type CellSays, compareMaps, type Handed, type MapsCompared } from './map/compare';
export { type MapFigures, type NeverFigures, type ObjectFigures, wordsOfNever } from './map/figures';
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
export { type MapGrid, mapGrid } from './project/map-grid';
