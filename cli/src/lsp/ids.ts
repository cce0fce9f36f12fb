/** What an id in a project file is of: where it is declared, where it is named, and which could stand at a place. */
import { editDistance, type Project } from '@frelk/core';
import { COLLECTIONS, checkReferences, type EntryKind, entriesOf, type JsonPath } from '@frelk/core/editing';

/** A place where a thing is named. */
interface Use {
	kind: EntryKind;
	id: string;
	path: JsonPath;
	/** Whether the id is the key at that path, as in what a moment lays over things. */
	isKey: boolean;
}

/** Fields of checks that name a run or a map, which nothing else does. */
const OF_CHECKS = { run: 'run', map: 'map' } as const;

/** @returns every reference of what can be read of a project; none where too little of it is there */
export function usesIn(project: unknown): Use[] {
	const uses: Use[] = [];
	try {
		checkReferences(project as Project, undefined, (kind, id, path) => {
			uses.push({ kind, id, path, isKey: path.at(-1) === id && !isEntry(project, path) });
		});
		((project as Project).checks ?? []).forEach((check, i) => {
			for (const [field, kind] of Object.entries(OF_CHECKS)) {
				const id = (check as unknown as Record<string, unknown>)[field];
				if (typeof id === 'string') uses.push({ kind, id, path: ['checks', i, field], isKey: false });
			}
		});
	} catch {
		// A list where an object should be: what was found so far is right.
	}
	return uses;
}

const valueAt = (tree: unknown, path: JsonPath): unknown =>
	path.reduce<unknown>((now, step) => (now as Record<string | number, unknown> | null | undefined)?.[step], tree);

/** Whether the value at a path is the id itself: else the id is the key of what lies there. */
const isEntry = (tree: unknown, path: JsonPath): boolean => valueAt(tree, path) === path.at(-1);

const samePath = (a: JsonPath, b: JsonPath): boolean => a.length === b.length && a.every((step, i) => step === b[i]);

/** The thing whose `id` stands at a path. */
function declaredAt(project: unknown, path: JsonPath): { kind: EntryKind; id: string } | null {
	if (path.at(-1) !== 'id') return null;
	for (const { kind, path: list } of COLLECTIONS)
		if (path.length === list.length + 2 && list.every((step, i) => path[i] === step)) {
			const id = valueAt(project, path);
			return typeof id === 'string' ? { kind, id } : null;
		}
	return null;
}

/** @returns the thing that is declared or named at a path */
export function thingAt(project: unknown, path: JsonPath, isKey: boolean): { kind: EntryKind; id: string } | null {
	return (
		declaredAt(project, path) ?? usesIn(project).find((use) => use.isKey === isKey && samePath(use.path, path)) ?? null
	);
}

/** @returns the path of the `id` by which a thing is declared */
export function declarationOf(project: unknown, kind: EntryKind, id: string): JsonPath | null {
	const row = COLLECTIONS.find((one) => one.kind === kind);
	const list = row && valueAt(project, [...row.path]);
	const at = Array.isArray(list) ? list.findIndex((entry) => (entry as { id?: unknown } | null)?.id === id) : -1;
	return row && at >= 0 ? [...row.path, at, 'id'] : null;
}

/** No id of a project is this. */
const PROBE = '\u0000probe';

/** @returns what may be named at a path where a text stands, or is about to */
function kindAt(project: unknown, path: JsonPath): EntryKind | null {
	const copy = structuredClone(project);
	const holder = valueAt(copy, path.slice(0, -1)) as Record<string | number, unknown> | undefined;
	const last = path.at(-1);
	if (typeof holder !== 'object' || holder === null || last === undefined) return null;
	holder[last] = PROBE;
	return usesIn(copy).find((use) => use.id === PROBE)?.kind ?? null;
}

/** @returns ids that may stand at a path, with names; states and shapes by their names too */
export function idsFor(project: unknown, path: JsonPath): { id: string; name: string; kind: string }[] {
	const kind = kindAt(project, path);
	if (kind) {
		try {
			const entries = entriesOf(project as Project, kind) ?? [];
			return entries.filter((e) => typeof e?.id === 'string').map((e) => ({ id: e.id, name: e.name ?? '', kind }));
		} catch {
			return [];
		}
	}
	if (path.at(-1) === 'state') return statesIn(project).map((id) => ({ id, name: '', kind: 'state' }));
	return [];
}

/** Every state that something has, at any moment. */
function statesIn(project: unknown): string[] {
	const { scene, moments } = (project ?? {}) as Partial<Project>;
	const holders: { states?: object }[] = [...(scene?.objects ?? []), ...(scene ? [scene] : [])];
	for (const m of moments ?? []) holders.push(m, ...Object.values(m.objects ?? {}));
	return [...new Set(holders.flatMap((o) => Object.keys(o?.states ?? {})))].sort();
}

/** @returns the ids nearest to one that is declared nowhere */
export function nearIds(project: unknown, path: JsonPath, id: string): string[] {
	return idsFor(project, path)
		.map((one) => ({ id: one.id, away: editDistance(id, one.id, 3) }))
		.filter(({ away }) => away <= 3)
		.sort((a, b) => a.away - b.away)
		.slice(0, 3)
		.map((one) => one.id);
}
