/**
 * Two edits of one project brought together: what differs between two states as a list of changes by thing and field, and one side's
 * changes laid over the other's state.
 */
import { COLLECTIONS, collectionAt, type EntryKind, entriesOf, keyOf } from './collections';
import { checkProject } from './read';
import type { Project } from './schema';
import { replaceUses } from './uses';

/** A change: keys of objects and ids of list entries down to what changed. */
export interface ProjectChange {
	path: readonly string[];
	/** What is there now; undefined where it is gone. */
	value?: unknown;
	/** Of a new entry of a list: the id it stands behind, null for the first. */
	after?: string | null;
	/** Of a list whose entries were put in another order, and nothing else: their ids. */
	order?: readonly string[];
}

type Tree = { [key: string]: unknown };

const isTree = (value: unknown): value is Tree => typeof value === 'object' && value !== null && !Array.isArray(value);

/** The entries of a list by their keys; null where it has entries that cannot be told apart. */
function byKey(list: readonly unknown[], name: string | undefined): Map<string, unknown> | null {
	const map = new Map<string, unknown>();
	for (const entry of list) {
		const key = keyOf(entry, name);
		if (key === null || map.has(key)) return null;
		map.set(key, entry);
	}
	return map;
}

/** Whether two values of a file say the same: lists in order, objects whatever the order of their keys. */
export function deepEqual(a: unknown, b: unknown): boolean {
	if (a === b) return true;
	if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
	if (Array.isArray(a) || Array.isArray(b)) {
		if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false;
		for (let i = 0; i < a.length; i++) if (!deepEqual(a[i], b[i])) return false;
		return true;
	}
	const [x, y] = [a as Tree, b as Tree];
	for (const key of Object.keys(x)) if (!deepEqual(x[key], y[key])) return false;
	for (const key of Object.keys(y)) if (y[key] !== undefined && x[key] === undefined) return false;
	return true;
}

/** @returns the changes that lead from one state to another */
export function changesFrom(before: unknown, after: unknown): ProjectChange[] {
	const changes: ProjectChange[] = [];
	collect(before, after, [], changes);
	return changes;
}

function collect(a: unknown, b: unknown, path: readonly string[], into: ProjectChange[]): void {
	if (a === b) return;
	if (isTree(a) && isTree(b)) {
		for (const key of new Set([...Object.keys(a), ...Object.keys(b)])) {
			if (a[key] === b[key]) continue;
			if (b[key] === undefined) into.push({ path: [...path, key] });
			else if (a[key] === undefined) {
				// Two who each begin a list have both their entries in it.
				const begun = Array.isArray(b[key]) && b[key].length > 0 ? byKey(b[key], key) : null;
				if (begun) collectEntries(new Map(), begun, [...path, key], into);
				else into.push({ path: [...path, key], value: b[key] });
			} else collect(a[key], b[key], [...path, key], into);
		}
		return;
	}
	if (Array.isArray(a) && Array.isArray(b) && a.length + b.length > 0) {
		const [x, y] = [byKey(a, path.at(-1)), byKey(b, path.at(-1))];
		if (x && y) {
			collectEntries(x, y, path, into);
			return;
		}
	}
	if (!deepEqual(a, b)) into.push({ path, value: b });
}

function collectEntries(
	a: Map<string, unknown>,
	b: Map<string, unknown>,
	path: readonly string[],
	into: ProjectChange[],
): void {
	for (const key of a.keys()) if (!b.has(key)) into.push({ path: [...path, key] });
	let last: string | null = null;
	for (const [key, entry] of b) {
		if (a.has(key)) collect(a.get(key), entry, [...path, key], into);
		else into.push({ path: [...path, key], value: entry, after: last });
		last = key;
	}
	const [was, is] = [[...a.keys()].filter((key) => b.has(key)), [...b.keys()].filter((key) => a.has(key))];
	if (was.some((key, i) => key !== is[i])) into.push({ path, order: [...b.keys()] });
}

/** @returns the state with the changes made in it; parts they do not touch are the very same. What has no place there any more is left out. */
export function applyChanges<T>(state: T, changes: readonly ProjectChange[]): T {
	let next: unknown = state;
	for (const change of changes) next = applied(next, change, 0);
	return next as T;
}

function applied(holder: unknown, change: ProjectChange, depth: number): unknown {
	const { path, value } = change;
	if (depth === path.length) {
		if (change.order) return Array.isArray(holder) ? reordered(holder, change.order, path.at(-1)) : holder;
		return value;
	}
	const step = path[depth] as string;
	const last = depth === path.length - 1 && !change.order;
	if (Array.isArray(holder)) {
		const list = path[depth - 1];
		const at = holder.findIndex((entry) => keyOf(entry, list) === step);
		if (at < 0) return last && value !== undefined ? inserted(holder, value, change.after, list) : holder;
		if (last && value === undefined) return holder.filter((_, i) => i !== at);
		const next = applied(holder[at], change, depth + 1);
		return next === holder[at] ? holder : holder.with(at, next);
	}
	if (!isTree(holder)) return holder;
	if (last && value === undefined) {
		if (holder[step] === undefined) return holder;
		const { [step]: _, ...rest } = holder;
		return rest;
	}
	if (holder[step] === undefined && change.order) return holder;
	// A list that was not there begins with the new entry.
	const under = holder[step] ?? (last ? undefined : change.after !== undefined && depth === path.length - 2 ? [] : {});
	const next = applied(under, change, depth + 1);
	return next === holder[step] ? holder : { ...holder, [step]: next };
}

function inserted(
	list: readonly unknown[],
	entry: unknown,
	after: string | null | undefined,
	name: string | undefined,
): unknown[] {
	if (name === 'keys') return byTime([...list, entry]);
	const at = after === null ? 0 : list.findIndex((other) => keyOf(other, name) === after) + 1;
	return at === 0 && after !== null ? [...list, entry] : list.toSpliced(at, 0, entry);
}

/** Keys of a track stand in the order of their times, whoever made them. */
const byTime = (keys: unknown[]): unknown[] => {
	const timeOf = (key: unknown): number => (isTree(key) && typeof key.t === 'number' ? key.t : 0);
	return keys.sort((a, b) => timeOf(a) - timeOf(b));
};

/** Those named in their new order, in the places they hold together; the others stay where they are. */
function reordered(list: readonly unknown[], order: readonly string[], name: string | undefined): unknown[] {
	const rank = new Map(order.map((key, i) => [key, i]));
	const rankOf = (entry: unknown): number | undefined => rank.get(keyOf(entry, name) ?? '');
	const named = list.filter((entry) => rankOf(entry) !== undefined).sort((a, b) => (rankOf(a) ?? 0) - (rankOf(b) ?? 0));
	let next = 0;
	return list.map((entry) => (rankOf(entry) !== undefined ? named[next++] : entry));
}

/** A thing both sides made under one id: ours goes by another. */
export interface Renaming {
	kind: EntryKind;
	from: string;
	to: string;
}

/** What both sides changed, to different values. */
export interface Clash {
	/** Their change. */
	theirs: ProjectChange;
	/** Our value at the same place; undefined where there is none any more. */
	mine: unknown;
}

/** Two edits of one project brought together. */
export interface Merged {
	project: Project;
	/** Their changes that were taken in: for other states of ours, as the history holds them. */
	taken: ProjectChange[];
	/** Our things that had to be called otherwise, already so in `project`. */
	renamed: Renaming[];
	/** What both changed, in words; ours stands. Empty where nothing was. */
	both: string[];
	/** Those of them in which both gave a value, as data: their change, and what is there instead. */
	clashes: Clash[];
	/** Those that no single value tells: what was deleted by one and needed by the other, or that nothing of theirs could be taken. */
	beside: string[];
	/** The same with theirs standing; null where nothing was changed by both. */
	theirs: Project | null;
}

/** @returns the project with a thing and all that names it under another id */
export function renamed(project: Project, { kind, from, to }: Renaming): Project {
	if (!entriesOf(project, kind)?.some((entry) => entry.id === from)) return project;
	const next: Project =
		kind === 'check' || kind === 'run' || kind === 'map'
			? structuredCopy(project)
			: replaceUses(project, kind, from, to);
	const entry = entriesOf(next, kind)?.find((e) => e.id === from);
	if (entry) entry.id = to;
	return next;
}

const structuredCopy = (project: Project): Project => JSON.parse(JSON.stringify(project)) as Project;

function doubles(base: Project, mine: Project, theirs: Project): Renaming[] {
	const found: Renaming[] = [];
	for (const { kind, of } of COLLECTIONS) {
		const [was, here, there] = [base, mine, theirs].map(
			(p) => new Map((of(p) ?? []).map((entry) => [entry.id, entry])),
		);
		if (!was || !here || !there) continue;
		for (const [id, entry] of here) {
			if (was.has(id) || !there.has(id) || deepEqual(entry, there.get(id))) continue;
			let n = 2;
			const stem = id.slice(0, 58).replace(/-\d+$/, '');
			while (here.has(`${stem}-${n}`) || there.has(`${stem}-${n}`) || was.has(`${stem}-${n}`)) n++;
			const to = `${stem}-${n}`;
			here.set(to, entry);
			found.push({ kind, from: id, to });
		}
	}
	return found;
}

const joined = (path: readonly string[]): string => path.join('\u0000');

/** @returns those of `theirs` that touch what `mine` changed too, to something else */
export function clashing(mine: readonly ProjectChange[], theirs: readonly ProjectChange[]): Set<ProjectChange> {
	const paths = new Map<string, ProjectChange>();
	const above = new Set<string>();
	const orders = new Set<string>();
	for (const change of mine) {
		if (change.order) orders.add(joined(change.path));
		else {
			paths.set(joined(change.path), change);
			for (let i = 0; i < change.path.length; i++) above.add(joined(change.path.slice(0, i)));
		}
	}
	const found = new Set<ProjectChange>();
	for (const change of theirs) {
		if (change.order) {
			if (orders.has(joined(change.path))) found.add(change);
			continue;
		}
		const own = paths.get(joined(change.path));
		if (own) {
			if (!deepEqual(own.value, change.value)) found.add(change);
		} else if (above.has(joined(change.path)) || change.path.some((_, i) => paths.has(joined(change.path.slice(0, i)))))
			found.add(change);
	}
	return found;
}

/** @returns what is at the place of a change; undefined where nothing is */
export function valueAt(state: unknown, path: readonly string[]): unknown {
	let now = state;
	for (const [i, step] of path.entries()) {
		if (Array.isArray(now)) now = now.find((entry) => keyOf(entry, path[i - 1]) === step);
		else if (isTree(now)) now = now[step];
		else return undefined;
	}
	return now;
}

/** Where a change is, in words: `Gangway crank: position`. */
export function wordsOfChange({ path, order }: ProjectChange, project: Project): string {
	const at = collectionAt(path);
	const [id, ...fields] = at?.below ?? [];
	const thing = at?.collection.of(project)?.find((entry) => entry.id === id);
	if (!thing) return order ? `the order of ${path.at(-1)}` : (path[0] === 'scene' ? path.slice(1) : path).join(' ');
	const what = order ? `the order of ${path.at(-1)}` : fields.join(' ');
	return what === '' ? (thing.name ?? thing.id) : `${thing.name ?? thing.id}: ${what}`;
}

/** Whether a change takes away a whole thing. */
const takesAway = ({ path, value, order }: ProjectChange): boolean =>
	value === undefined && !order && collectionAt(path)?.below.length === 1;

/**
 * @param base what both sides started from
 * @param mine the state here, valid
 * @param theirs the state written meanwhile by someone else, valid
 * @returns a valid project with both sides' changes; of what both changed, mine
 */
export function mergeProjects(base: Project, mine: Project, theirs: Project): Merged {
	const renamings = doubles(base, mine, theirs);
	const here = renamings.reduce(renamed, mine);
	const own = changesFrom(base, here);
	const other = changesFrom(base, theirs);
	const clashes = clashing(own, other);
	const told = [...clashes].map((theirs): Clash => ({ theirs, mine: valueAt(here, theirs.path) }));
	const both = [...new Set([...clashes].map((change) => wordsOfChange(change, theirs)))];
	const valid = (project: Project): Project | null =>
		own.length === 0 || other.length === 0 || checkProject(project).ok ? project : null;
	const taken = other.filter((change) => !clashes.has(change));
	const project = valid(applyChanges(here, taken));
	if (project)
		return {
			project,
			taken,
			renamed: renamings,
			both,
			clashes: told,
			beside: [],
			theirs: clashes.size > 0 ? valid(applyChanges(here, other)) : null,
		};
	// One side took away what the other now names: nothing is taken away then.
	const kept = [...own, ...other].filter(takesAway);
	const without = (changes: readonly ProjectChange[]) => changes.filter((change) => !takesAway(change));
	const whole = checkProject(applyChanges(base, [...without(other), ...without(own)]));
	if (whole.ok) {
		const beside = kept.map((change) => `${wordsOfChange(change, base)} (deleted by one, needed by the other: kept)`);
		return {
			project: whole.project,
			taken: without(taken),
			renamed: renamings,
			both: [...both, ...beside],
			clashes: told,
			beside,
			theirs: null,
		};
	}
	const beside = ['more than can be brought together'];
	return { project: here, taken: [], renamed: renamings, both: beside, clashes: told, beside, theirs };
}
