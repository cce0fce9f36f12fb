/** For who changes projects: two edits brought together, every use of an id, values recorded at a moment, faults mended. */

export { COLLECTIONS, type EntryKind, entriesOf, type ReferenceKind } from './project/collections';
export {
	applyChanges,
	type Clash,
	changesFrom,
	clashing,
	deepEqual,
	type Merged,
	mergeProjects,
	type ProjectChange,
	type Renaming,
	renamed,
	wordsOfChange,
} from './project/merge';
export { onlyMoved } from './project/overlay';
export { stepsOf } from './project/problems';
export { type Difference, differencesOf, projectAt, recordInto, removeDifference } from './project/record';
export { checkReferences, hitsNeeded, type JsonPath } from './project/references';
export { type Repair, repairProject } from './project/repair';
export { replaceExpectations } from './project/text-edit';
export { textWith } from './project/text-with';
export { removeReferences, replaceUses, usesOf, wordsOfUse } from './project/uses';
