/** What was edited between two states of a project: lines of data, like edits of several things together in one. */
import { COLLECTIONS, collectionAt, type EntryKind, entriesOf } from '../project/collections';
import { changesFrom, deepEqual, type ProjectChange, type Renaming, renamed, valueAt } from '../project/merge';
import { rounded, tripleOf } from '../project/rounding';
import type { Project, Vec3 } from '../project/schema';

/** Ids that are followed, times the things of the project. */
const MAX_FOLLOWED = 200_000;

/** What was done to a thing. */
export type Deed =
	| { did: 'added' | 'removed' | 'reordered' }
	/** Its id is another, and nothing else. */
	| { did: 'renamed'; from: string; to: string }
	/** Its position, by so many metres in the axes it is given in. */
	| { did: 'moved'; by: Vec3 }
	/** Entries that came into a list of ids, or left it. */
	| { did: 'listed' | 'unlisted'; field: readonly string[]; entries: readonly string[] }
	/** A field; undefined where it is not given. */
	| { did: 'set'; field: readonly string[]; from: unknown; to: unknown };

/** One edit, of all the things it was made to alike. */
export interface Edit {
	kind: EntryKind | 'project';
	/** Ids, in file order; of the project itself none. */
	ids: string[];
	/** What a moment lays over the things, where it is there that it was edited. */
	moment: string | null;
	deed: Deed;
}

/**
 * Things that go by another id in the later state and are else the same: told as that, and not as gone and new.
 * @returns in the order of the collections
 */
export function renamingsBetween(before: Project, after: Project): Renaming[] {
	const found: Renaming[] = [];
	for (const { kind, of } of COLLECTIONS) {
		const [was, is] = [of(before) ?? [], of(after) ?? []];
		const [old, now] = [new Set(was.map((e) => e.id)), new Set(is.map((e) => e.id))];
		const bare = ({ id: _, ...rest }: { id: string }) => JSON.stringify(rest);
		const came = new Map<string, string[]>();
		for (const entry of is) {
			if (old.has(entry.id)) continue;
			const key = bare(entry);
			came.set(key, [...(came.get(key) ?? []), entry.id]);
		}
		for (const entry of was) {
			if (now.has(entry.id)) continue;
			const twins = came.get(bare(entry));
			// Of several alike nobody can tell which is which.
			if (twins?.length === 1) found.push({ kind, from: entry.id, to: twins[0] as string });
		}
	}
	// Following one takes as long as the project is large: where it is many of many, they are told as gone and new.
	return found.length * (after.scene.objects.length + after.queries.length) > MAX_FOLLOWED ? [] : found;
}

/** The earlier state with its things under the ids they have in the later one. */
export const alignedTo = (before: Project, renamings: readonly Renaming[]): Project =>
	renamings.reduce((project, renaming) => renamed(project, renaming), before);

const isIds = (value: unknown): value is string[] =>
	value === undefined || (Array.isArray(value) && value.every((entry) => typeof entry === 'string'));
const isPlace = (value: unknown): value is Vec3 =>
	Array.isArray(value) && value.length === 3 && value.every((v) => typeof v === 'number');

/** What a change of a field says, with what was there before. */
function deedsOf(field: readonly string[], from: unknown, to: unknown): Deed[] {
	if (field.length === 1 && field[0] === 'position') {
		const [a, b] = [from ?? [0, 0, 0], to ?? [0, 0, 0]];
		if (isPlace(a) && isPlace(b)) return [{ did: 'moved', by: tripleOf((k) => rounded(b[k] - a[k])) }];
	}
	if (isIds(from) && isIds(to) && (from !== undefined || to !== undefined)) {
		const [was, is] = [new Set(from ?? []), new Set(to ?? [])];
		const came = [...is].filter((id) => !was.has(id));
		const went = [...was].filter((id) => !is.has(id));
		if (came.length + went.length > 0)
			return [
				...(came.length > 0 ? [{ did: 'listed', field, entries: came } as const] : []),
				...(went.length > 0 ? [{ did: 'unlisted', field, entries: went } as const] : []),
			];
	}
	return [{ did: 'set', field, from, to }];
}

/** The fields of a moment's overlays, by the list it lays them over. */
const OVERLAID: Record<string, EntryKind> = { objects: 'object', cameras: 'camera', queries: 'query' };

/** @returns the edits that lead from one state to the other, like ones together, in file order */
export function editsBetween(before: Project, after: Project, renamings = renamingsBetween(before, after)): Edit[] {
	const aligned = alignedTo(before, renamings);
	const byKey = new Map<string, Edit>();
	const add = (kind: Edit['kind'], id: string | null, moment: string | null, deed: Deed) => {
		const key = JSON.stringify([kind, moment, deed]);
		const known = byKey.get(key);
		if (!known) byKey.set(key, { kind, ids: id === null ? [] : [id], moment, deed });
		else if (id !== null) known.ids.push(id);
	};
	for (const { kind, from, to } of renamings) add(kind, to, null, { did: 'renamed', from, to });
	const indexed = new Map<EntryKind, Map<string, unknown>>();
	/** An entry as it was. */
	const was = (kind: EntryKind, id: string): unknown => {
		let entries = indexed.get(kind);
		if (!entries) {
			entries = new Map((entriesOf(aligned, kind) ?? []).map((entry) => [entry.id, entry]));
			indexed.set(kind, entries);
		}
		return entries.get(id);
	};
	const say = (change: ProjectChange) => {
		const { path, value, order } = change;
		const found = collectionAt(path);
		if (!found) {
			if (order) add('project', null, null, { did: 'reordered' });
			else for (const deed of deedsOf(path, valueAt(aligned, path), value)) add('project', null, null, deed);
			return;
		}
		const { kind } = found.collection;
		const [id, ...fields] = found.below as string[];
		// The whole list, begun or gone.
		if (id === undefined) {
			if (order) return add(kind, null, null, { did: 'reordered' });
			for (const entry of entriesOf(aligned, kind) ?? []) add(kind, entry.id, null, { did: 'removed' });
			for (const entry of entriesOf(after, kind) ?? []) add(kind, entry.id, null, { did: 'added' });
			return;
		}
		if (fields.length === 0 && !order)
			return add(kind, id, null, {
				did: value === undefined ? 'removed' : was(kind, id) ? 'reordered' : 'added',
			});
		const [list, thing, ...over] = fields;
		const laid = kind === 'moment' && list !== undefined && thing !== undefined ? OVERLAID[list] : undefined;
		if (laid && thing !== undefined && over.length > 0) {
			const before = valueAt(was(kind, id), fields);
			for (const deed of order ? [{ did: 'reordered' } as const] : deedsOf(over, before, value))
				add(laid, thing, id, deed);
			return;
		}
		if (order) return add(kind, id, null, { did: 'set', field: fields, from: undefined, to: order });
		for (const deed of deedsOf(fields, valueAt(was(kind, id), fields), value)) add(kind, id, null, deed);
	};
	for (const change of changesFrom(aligned, after)) say(change);
	return [...byKey.values()].filter(({ deed }) => deed.did !== 'set' || !deepEqual(deed.from, deed.to));
}
