/** What a change does: two states of a project, what was edited between them, and what is answered otherwise. */

export {
	type AnswerDifference,
	answersDiffer,
	type CheckDifference,
	type DiffOptions,
	differenceOf,
	type MapDifference,
	type ProjectDifference,
	type RunDifference,
} from './diff/diff';
export { type Deed, type Edit, editsBetween, renamingsBetween } from './diff/edits';
export {
	type AnswerTold,
	type DifferenceTold,
	differenceInShort,
	differenceText,
	partsOf,
	toldDifference,
	wordsOfClash,
} from './diff/words';
export { htmlDifference, markdownDifference } from './report/difference';
