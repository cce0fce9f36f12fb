/** A difference in words, by the names of the things. */
import type { QuickAnswer } from '../checks/survey';
import type { CellSays } from '../map/compare';
import { type EntryKind, entriesOf } from '../project/collections';
import { oneLine } from '../project/describe';
import { type Clash, wordsOfChange } from '../project/merge';
import type { Project, StateValue } from '../project/schema';
import type { Verdict } from '../query/types';
import { anyTagsOf, degrees, metres, type Naming, STAGE_WORDS, wordsOfValue, wordsOfVerdict } from '../query/words';
import { wordsOfEvent } from '../run/words';
import type { AnswerDifference, CheckDifference, MapDifference, ProjectDifference, RunDifference } from './diff';
import type { Deed, Edit } from './edits';

/** Names of either state: of the later one first. */
type NameOf = (kind: EntryKind, id: string) => string;

function namesOf(before: Project, after: Project): NameOf {
	const known = new Map<EntryKind, Map<string, string>>();
	return (kind, id) => {
		let names = known.get(kind);
		if (!names) {
			names = new Map();
			for (const project of [before, after])
				for (const entry of entriesOf(project, kind) ?? []) names.set(entry.id, oneLine(entry.name ?? entry.id));
			known.set(kind, names);
		}
		return names.get(id) ?? id;
	};
}

/** More than so many are counted and not named. */
const MAX_NAMED = 3;

const NOUNS: Partial<Record<EntryKind, string>> = { run: 'run-through', query: 'query' };
const nounOf = (kind: EntryKind, n: number): string => {
	const noun = NOUNS[kind] ?? kind;
	if (n === 1) return noun;
	return noun.endsWith('y') ? `${noun.slice(0, -1)}ies` : `${noun}s`;
};

/** Fields that are angles, pixels, seconds or factors; other figures under these names are lengths. */
const DEGREES = new Set(['rotation', 'fov', 'pitch', 'yaw']);
const LENGTHS = new Set([
	'position',
	'offset',
	'focus',
	'at',
	'size',
	'radius',
	'height',
	'length',
	'min',
	'max',
	'grow',
	'within',
	'tieSlack',
	'from',
]);
const PIXELS = new Set(['cursor', 'viewport', 'cell']);
const SECONDS = new Set(['duration', 'step', 't', 'forgets']);

function unitOf(field: readonly string[]): 'm' | '°' | 'px' | 's' | '' {
	const last = field.at(-1) ?? '';
	if (last === 'within' && (field.includes('view') || field.includes('approach'))) return '°';
	if (DEGREES.has(last)) return '°';
	if (PIXELS.has(last)) return 'px';
	if (SECONDS.has(last)) return 's';
	return LENGTHS.has(last) ? 'm' : '';
}

const MAX_JSON = 60;

function valueWords(value: unknown, field: readonly string[]): string {
	if (value === undefined) return 'not set';
	const unit = unitOf(field);
	if (typeof value === 'number') {
		if (unit === 'm') return metres(value);
		if (unit === '°') return degrees(value);
		return `${Number(value.toFixed(6))}${unit === '' ? '' : ` ${unit}`}`;
	}
	if (typeof value === 'boolean' || value === null) return value === null ? 'none' : wordsOfValue(value as StateValue);
	if (typeof value === 'string') return oneLine(value, MAX_JSON);
	if (Array.isArray(value) && value.length > 0 && value.length < 5 && value.every((v) => typeof v === 'number'))
		return `(${value.map((v) => Number(v.toFixed(4))).join(', ')})${unit === '' || unit === '°' ? unit : ` ${unit}`}`;
	const text = oneLine(JSON.stringify(value), 10_000);
	return text.length > MAX_JSON ? `${text.slice(0, MAX_JSON - 1)}…` : text;
}

const AXES = ['X', 'Y', 'Z'] as const;

/** A move: along one axis by its name, any other by its three figures. */
function moveWords(by: readonly number[]): string {
	const along = by.flatMap((v, k) => (v === 0 ? [] : [k]));
	const [only] = along;
	if (along.length === 1 && only !== undefined)
		return `${metres(Math.abs(by[only] as number))} ${(by[only] as number) > 0 ? '+' : '−'}${AXES[only]}`;
	return `by (${by.map((v) => Number(v.toFixed(3))).join(', ')}) m`;
}

/** Fields of which one entry is named as what it is. */
const ENTRY_NOUN: Record<string, EntryKind> = {
	tags: 'tag',
	layers: 'layer',
	any: 'tag',
	all: 'tag',
	none: 'tag',
	blockers: 'layer',
	exclude: 'object',
};

function deedWords(deed: Deed, what: string, name: NameOf): string {
	switch (deed.did) {
		case 'added':
			return `${what} added`;
		case 'removed':
			return `${what} removed`;
		case 'reordered':
			return `${what} put in another order`;
		case 'renamed':
			return `${what}: id ${deed.from} → ${deed.to}`;
		case 'moved':
			return deed.by.every((v) => v === 0)
				? `${what}: position written otherwise`
				: `${what} moved ${moveWords(deed.by)}`;
		case 'listed':
		case 'unlisted': {
			const field = deed.field.at(-1) ?? '';
			const kind = ENTRY_NOUN[field];
			const entries = deed.entries.map((id) => (kind ? name(kind, id) : id)).join(', ');
			const noun = kind ? nounOf(kind, deed.entries.length) : deed.field.join(' ');
			const where = field === 'tags' || !kind ? '' : ` (${deed.field.join(' ')})`;
			return deed.did === 'listed'
				? `${noun} ${entries} added to ${what}${where}`
				: `${noun} ${entries} taken from ${what}${where}`;
		}
		case 'set': {
			const field = deed.field.join(' ');
			const isPart = (value: unknown) =>
				typeof value === 'object' && value !== null && (!Array.isArray(value) || typeof value[0] === 'object');
			if (deed.from === undefined && isPart(deed.to)) return `${what}: ${field} added`;
			if (deed.to === undefined && isPart(deed.from)) return `${what}: ${field} removed`;
			return `${what}: ${field} ${valueWords(deed.from, deed.field)} → ${valueWords(deed.to, deed.field)}`;
		}
	}
}

/** Who an edit was made to: names of a few, a count of many. */
function whoWords({ kind, ids }: Edit, name: NameOf): string {
	if (kind === 'project') return 'project';
	if (ids.length === 0) return nounOf(kind, 2);
	if (ids.length > MAX_NAMED) return `${ids.length} ${nounOf(kind, ids.length)}`;
	const names = ids.map((id) => name(kind, id)).join(', ');
	return kind === 'object' || kind === 'query' || kind === 'camera' ? names : `${nounOf(kind, ids.length)} ${names}`;
}

/** @param other the answer it is held against: of long lists what is in one alone is named */
function quickWords(answer: QuickAnswer | null, other: QuickAnswer | null, name: NameOf): string {
	if (!answer) return '';
	const { objects, status } = answer;
	const names = (ids: readonly string[], joint: string) => ids.map((id) => name('object', id)).join(joint);
	const list = (joint: string) => {
		if (objects.length <= MAX_NAMED) return names(objects, joint);
		const own = objects.filter((id) => !other?.objects.includes(id));
		const few = own.length > 0 && own.length <= MAX_NAMED ? `, with ${names(own, ', ')}` : '';
		return `${objects.length} objects, first ${names(objects.slice(0, 1), '')}${few}`;
	};
	if (status === 'selected')
		return `${list(', then ')}${answer.action === null ? '' : ` (${oneLine(answer.action, MAX_JSON)})`}`;
	if (status === 'tie') return `a tie of ${list(' and ')}`;
	return status === 'none' ? 'nothing' : status;
}

/** Why what was selected is not any more. */
function lostWords(lost: Verdict | null, anyTags: readonly string[], naming: Naming): string {
	if (!lost || lost.stage === 'selected') return '';
	const stage = lost.stage === 'touch' ? '' : `${STAGE_WORDS[lost.stage].toLowerCase()}, `;
	return `${naming('object', lost.object)}: ${stage}${wordsOfVerdict(lost, naming, anyTags)}`;
}

/** Answers that change alike at several moments, as one. */
function toldAnswers(list: readonly AnswerDifference[], after: Project, name: NameOf): AnswerTold[] {
	const queries = new Map(after.queries.map((q) => [q.id, q]));
	const alike = new Map<string, { told: Omit<AnswerTold, 'moment'>; moments: string[] }>();
	for (const { query, moment, before: was, after: is, lost } of list) {
		const told = {
			at: { query, moment },
			query: name('query', query),
			before: quickWords(was, is, name),
			after: quickWords(is, was, name),
			why: lostWords(lost, anyTagsOf(queries.get(query)), name),
		};
		const key = JSON.stringify({ ...told, at: query });
		const known = alike.get(key) ?? { told, moments: [] };
		known.moments.push(moment === null ? 'as laid out' : name('moment', moment));
		alike.set(key, known);
	}
	return [...alike.values()].map(({ told, moments }) => {
		const named = moments.slice(0, MAX_NAMED).join(', ');
		return { ...told, moment: moments.length > MAX_NAMED ? `${named} and ${moments.length - MAX_NAMED} more` : named };
	});
}

const percent = (share: number): string => `${Number((100 * share).toFixed(2))} %`;

/** An answer that changed, as the columns of a table. */
export interface AnswerTold {
	/** Where to look at it: the query, and the first moment at which it changes so. */
	at: { query: string; moment: string | null };
	query: string;
	moment: string;
	before: string;
	after: string;
	/** Why what was selected is not any more; empty where nothing was, or it still is. */
	why: string;
}

/** A difference as people read it: a sentence an entry. */
export interface DifferenceTold {
	edits: string[];
	/** Those that change alike at several moments as one. */
	answers: AnswerTold[];
	/** How many answers change, each query at each moment by itself. */
	answersInAll: number;
	/** Checks that held and fail, that failed and hold, and those that came or went. */
	breaks: string[];
	fixes: string[];
	otherChecks: string[];
	runs: string[];
	maps: string[];
	came: string[];
	went: string[];
}

function runWords(d: RunDifference, name: NameOf, naming: Naming): string {
	const event = (e: RunDifference['before']) => (e ? wordsOfEvent(e, naming, false) : 'nothing more');
	const figures = d.figures.map((f) => `${f.of}: ${f.what} ${f.before} → ${f.after}`);
	const first = `from ${d.t.toFixed(3)} s on: ${event(d.before)} → ${event(d.after)}`;
	return [`${name('run', d.run)}, ${first}`, ...figures].join('; ');
}

function mapWords(d: MapDifference, name: NameOf): string {
	const cell = (says: CellSays) => (typeof says === 'string' ? says : name('object', says.object));
	const parts: string[] = [];
	if (d.differ === null) parts.push('on another grid');
	else parts.push(`${d.differ} of ${d.answers} answers differ`);
	for (const { from, to, answers } of d.handed.slice(0, MAX_NAMED))
		parts.push(`${cell(from)} → ${cell(to)} in ${answers}`);
	for (const { object, before, after } of d.figures.slice(0, MAX_NAMED)) {
		const shares = `${percent(before?.share ?? 0)} → ${percent(after?.share ?? 0)}`;
		const [was, is] = [before?.circle ?? null, after?.circle ?? null];
		const circle = was !== is ? `, circle ${was ?? 0} → ${is ?? 0} px` : '';
		parts.push(`${name('object', object)} ${shares}${circle}`);
	}
	const names = (ids: readonly string[]) => ids.map((id) => name('object', id)).join(', ');
	if (d.neverNow.length > 0) parts.push(`never selected now: ${names(d.neverNow)}`);
	if (d.neverBefore.length > 0) parts.push(`selected again, or out of reach: ${names(d.neverBefore)}`);
	return `${name('map', d.map)}: ${parts.join('; ')}`;
}

/** @returns the difference in words; names of the later state where both have one */
export function toldDifference(before: Project, after: Project, difference: ProjectDifference): DifferenceTold {
	const name = namesOf(before, after);
	const naming: Naming = (kind, id) => name(kind, id);
	const checkName = (d: CheckDifference) => name('check', d.check);
	const of = (was: CheckDifference['before'], is: CheckDifference['after']) =>
		difference.checks.filter((d) => d.before === was && d.after === is).map(checkName);
	/** Many that came or went alike are counted. */
	const counting = (names: readonly string[], one: string, many: string): string[] =>
		names.length > MAX_NAMED ? [`${names.length} ${many}`] : names.map((check) => `${check} ${one}`);
	const told: DifferenceTold = {
		edits: difference.edits.map((edit) => {
			const at = edit.moment === null ? '' : `at ${name('moment', edit.moment)}: `;
			return `${at}${deedWords(edit.deed, whoWords(edit, name), name)}`;
		}),
		answers: toldAnswers(difference.answers, after, name),
		answersInAll: difference.answers.length,
		breaks: of('holds', 'fails'),
		fixes: of('fails', 'holds'),
		otherChecks: [
			...of(null, 'fails').map((check) => `${check} is new, and fails`),
			...counting(of(null, 'holds'), 'is new, and holds', 'new checks hold'),
			...counting(of('holds', null), 'is gone; it held', 'checks that held are gone'),
			...counting(of('fails', null), 'is gone; it failed', 'checks that failed are gone'),
		],
		runs: difference.runs.map((d) => runWords(d, name, naming)),
		maps: difference.maps.map((d) => mapWords(d, name)),
		came: (difference.findings?.came ?? []).map((f) => `${f.level}: ${f.message}`),
		went: (difference.findings?.went ?? []).map((f) => `${f.level}: ${f.message}`),
	};
	return told;
}

const counted = (n: number, one: string, many: string): string => (n === 1 ? `1 ${one}` : `${n} ${many}`);

/** The whole in one line: `3 edits; 2 answers change; breaks 1 check`. */
export function differenceInShort(told: DifferenceTold): string {
	const { edits, answersInAll, breaks, fixes, runs, maps } = told;
	if (edits.length === 0) return 'nothing differs';
	return [
		counted(edits.length, 'edit', 'edits'),
		answersInAll === 0 ? 'no answer changes' : counted(answersInAll, 'answer changes', 'answers change'),
		...(breaks.length > 0 ? [`breaks ${counted(breaks.length, 'check', 'checks')}`] : []),
		...(fixes.length > 0 ? [`fixes ${counted(fixes.length, 'check', 'checks')}`] : []),
		...(runs.length > 0 ? [counted(runs.length, 'run goes otherwise', 'runs go otherwise')] : []),
		...(maps.length > 0 ? [counted(maps.length, 'map changes', 'maps change')] : []),
	].join('; ');
}

/** The parts below the edits and the answers, with their headings. */
export function partsOf(told: DifferenceTold): { heading: string; lines: readonly string[] }[] {
	return [
		{ heading: 'Breaks', lines: told.breaks },
		{ heading: 'Fixes', lines: told.fixes },
		{ heading: 'Checks that came or went', lines: told.otherChecks },
		{ heading: 'Over time', lines: told.runs },
		{ heading: 'Maps', lines: told.maps },
		{ heading: 'Findings that came', lines: told.came },
		{ heading: 'Findings that went', lines: told.went },
	].filter(({ lines }) => lines.length > 0);
}

/** As text, for a terminal and for `git diff`. */
export function differenceText(told: DifferenceTold): string {
	const out: string[] = [differenceInShort(told)];
	const part = (heading: string, lines: readonly string[]) => {
		if (lines.length > 0) out.push('', heading, ...lines.map((line) => `  ${line}`));
	};
	part('Edits', told.edits);
	part(
		'Answers',
		told.answers.map(
			({ query, moment, before, after, why }) =>
				`${query} (${moment}): ${before} → ${after}${why === '' ? '' : `\n    ${why}`}`,
		),
	);
	for (const { heading, lines } of partsOf(told)) part(heading, lines);
	return `${out.join('\n')}\n`;
}

/** A clash of two edits with both values: `Crank: position (1, 0, 0) m here, (2, 0, 0) m there`. */
export function wordsOfClash({ theirs, mine }: Clash, project: Project): string {
	const { path, value, order } = theirs;
	const words = (is: unknown) => (is === undefined ? 'removed' : valueWords(is, path));
	const where = wordsOfChange(theirs, project);
	return order ? `${where}: put in different orders` : `${where} ${words(mine)} here, ${words(value)} there`;
}
