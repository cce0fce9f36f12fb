/** Verdicts in words: the reason an object was not chosen, as the ladder and the command line say it. */

import { oneLine } from '../project/describe';
import { rounded } from '../project/rounding';
import type { Condition, Project, Query, RuleName, StateValue } from '../project/schema';
import type { Stage, Verdict } from './types';

/** How an id is shown; the interface gives names, the command line ids. */
export type Naming = (kind: 'object' | 'tag' | 'layer', id: string) => string;

/** Everything by its id. */
export const byId: Naming = (_kind, id) => id;

/** Everything by the name it has in a project; by its id where it has none. */
export function byName({ scene }: Project): Naming {
	const of = (list: readonly { id: string; name?: string | undefined }[]) =>
		new Map(list.map((entry) => [entry.id, entry.name ?? entry.id]));
	const names = { object: of(scene.objects), tag: of(scene.tags), layer: of(scene.layers) };
	return (kind, id) => names[kind].get(id) ?? id;
}

/** A length with its unit and three significant places at most: `1.2 m`, `0.37 m`, `2 mm`. */
export function metres(value: number): string {
	if (value === 0) return '0 m';
	// What would be written 10 mm is 0.01 m.
	if (Math.abs(value) < 0.009995) {
		const mm = value * 1000;
		// What is left by rounding is no length that anybody could set.
		if (Math.abs(mm) < 0.001) return 'under 0.001 mm';
		return `${Math.abs(mm) < 0.01 ? mm.toPrecision(1) : trim(mm, 2)} mm`;
	}
	return `${trim(value, value < 10 ? 2 : value < 100 ? 1 : 0)} m`;
}

/** An angle in words, to a tenth of a degree where that says it. */
export const degrees = (value: number): string => `${trim(value, value < 1 ? 2 : 1)}°`;

const trim = (value: number, places: number): string => String(rounded(value, places));

const list = (ids: readonly string[], word: string, naming: Naming, kind: 'tag' | 'layer'): string =>
	`${word}${ids.length === 1 ? '' : 's'} ${ids.map((id) => naming(kind, id)).join(', ')}`;

/** A state's value: `yes`, `no`, a number, or `not set`. */
export const wordsOfValue = (v: StateValue | null | undefined): string =>
	v === null || v === undefined ? 'not set' : v === true ? 'yes' : v === false ? 'no' : String(v);

/** `jammed is no`, `wear above 0 and below 5`. */
export function wordsOfCondition(condition: Condition): string {
	const parts: string[] = [];
	if (condition.is !== undefined) parts.push(`is ${wordsOfValue(condition.is)}`);
	if (condition.above !== undefined) parts.push(`above ${condition.above}`);
	if (condition.below !== undefined) parts.push(`below ${condition.below}`);
	return `${oneLine(condition.state)} ${parts.join(' and ')}`;
}

/** How one that lost by a rule compares with what was taken: by so much more, or by what it is. */
const LOST_BY: Record<RuleName, { more?: (margin: number) => string; is?: (margin: number) => string }> = {
	distance: { more: (m) => `${metres(m)} farther` },
	aim: { more: (m) => `${degrees(m)} farther off the aim` },
	cursor: { more: (m) => `${trim(m, 1)} px farther from the cursor` },
	priority: { is: (m) => `priority lower by ${trim(m, 3)}` },
	direct: { is: () => 'touched by assist only' },
	listed: { is: () => 'later in the file' },
	seen: { is: (m) => `${Math.round(100 * m)} % less of it seen` },
};

/**
 * By how much a contender lost, without what it lost to: `0.04 m farther`, `later in the file`.
 * @param taken what was taken, where it is to be named: `0.04 m farther than Crank`, `later in the file; taken: Crank`
 */
export function wordsOfLoss({ rule = 'distance', margin }: Verdict, taken?: string): string {
	const { more, is } = rule === 'stands-for' ? {} : LOST_BY[rule];
	if (margin !== undefined && more) return `${more(margin)}${taken === undefined ? '' : ` than ${taken}`}`;
	const words = margin !== undefined && is ? is(margin) : `loses by ${rule}`;
	return taken === undefined ? words : `${words}; taken: ${taken}`;
}

/**
 * The reason for a verdict, without the object's own name.
 * @param any the tags of which the query wants one: that none of them is there is another thing than that each is missing
 */
export function wordsOfVerdict(v: Verdict, naming: Naming = byId, any: readonly string[] = []): string {
	const why = wordsOfReason(v, naming, any);
	return v.met === undefined ? why : `there at ${metres(v.met)}, but ${why}`;
}

function wordsOfReason(v: Verdict, naming: Naming, any: readonly string[]): string {
	const by = v.by === undefined ? '' : naming('object', v.by);
	const m = v.margin;
	switch (v.stage) {
		case 'inactive':
			return 'inactive, itself or above it';
		case 'excluded':
			return 'the asker, ignored, or under one of them';
		case 'layer':
			return `on ${list(v.layers ?? [], 'layer', naming, 'layer')}, not asked for`;
		case 'tags': {
			const parts: string[] = [];
			const none = any.length > 1 && any.every((tag) => v.missing?.includes(tag));
			const missing = (v.missing ?? []).filter((tag) => !none || !any.includes(tag));
			if (none) parts.push(`has none of ${any.map((tag) => naming('tag', tag)).join(', ')}`);
			if (missing.length > 0) parts.push(`${list(missing, 'tag', naming, 'tag')} missing`);
			if (v.forbidden?.length) parts.push(`has forbidden ${list(v.forbidden, 'tag', naming, 'tag')}`);
			return parts.join('; ');
		}
		case 'side':
			return `regarded as ${v.stance}`;
		case 'state':
			return v.condition ? `needs ${wordsOfCondition(v.condition)}; it is ${wordsOfValue(v.value)}` : '';
		case 'role':
			return `only ${v.role} shapes`;
		case 'touch':
			if (m === undefined) return 'no shape to touch';
			if (v.beyond !== undefined) return `${metres(v.beyond)} beyond its end`;
			return m === 0 ? 'the start lies in it' : `missed by ${metres(m)}`;
		case 'range':
			return `${metres(m ?? 0)} out of range`;
		case 'view':
			return `${degrees(m ?? 0)} outside the view`;
		case 'approach':
			return `${degrees(m ?? 0)} off the side it is approached from`;
		case 'sight':
			if (v.marks) return wordsOfMarks(v, by);
			return `${metres(m ?? 0)} behind ${by}`;
		case 'choice':
			if (v.rule === 'stands-for') return `${by} answers for the same`;
			return wordsOfLoss(v, by);
		case 'tied':
			return 'nothing tells it apart';
		case 'selected':
			return 'selected';
	}
}

/** `1 of 3 marks seen, 2 wanted: head, hands hidden by Crate`. */
function wordsOfMarks({ seen = 0, of = 0, margin = 0, marks = [] }: Verdict, by: string): string {
	const named = marks.filter((id) => id !== null);
	if (of === 1) return `hidden by ${by}`;
	return `${seen} of ${of} marks seen, ${seen + margin} wanted: ${named.join(', ')} hidden, the first by ${by}`;
}

const NO_TAGS: readonly string[] = [];

/** The tags of which a query wants one; the very same list for the same query. */
export const anyTagsOf = (query: Query | undefined): readonly string[] => query?.selects?.tags?.any ?? NO_TAGS;

/** The stages in words, as headings. */
export const STAGE_WORDS: Record<Stage, string> = {
	inactive: 'Inactive',
	excluded: 'Excluded',
	layer: 'Layer',
	tags: 'Tags',
	side: 'Side',
	state: 'State',
	role: 'Role',
	touch: 'Missed',
	range: 'Range',
	view: 'View',
	approach: 'Approach',
	sight: 'Sight',
	choice: 'Outranked',
	tied: 'Tied',
	selected: 'Selected',
};
