/** The collections of a project: what each holds, where it lies in the file, and what tells its entries apart. One table for all who ask. */
import type { Project } from './schema';

/** An entry of a collection. */
interface Entry {
	id: string;
	name?: string | undefined;
}

const of = (list: (project: Project) => Entry[] | undefined) => list;

/** In the order in which the file is gone through. */
const TABLE = [
	{ kind: 'layer', path: ['scene', 'layers'], of: of((p) => p.scene.layers) },
	{ kind: 'tag', path: ['scene', 'tags'], of: of((p) => p.scene.tags) },
	{ kind: 'side', path: ['scene', 'sides'], of: of((p) => p.scene.sides) },
	{ kind: 'object', path: ['scene', 'objects'], of: of((p) => p.scene.objects) },
	{ kind: 'camera', path: ['scene', 'cameras'], of: of((p) => p.scene.cameras) },
	{ kind: 'query', path: ['queries'], of: of((p) => p.queries) },
	{ kind: 'moment', path: ['moments'], of: of((p) => p.moments) },
	{ kind: 'check', path: ['checks'], of: of((p) => p.checks) },
	{ kind: 'run', path: ['runs'], of: of((p) => p.runs), noun: 'run-through' },
	{ kind: 'map', path: ['maps'], of: of((p) => p.maps) },
] as const;

/** What a collection holds one of. */
export type EntryKind = (typeof TABLE)[number]['kind'];

/** What other parts of a project refer to by its id wherever they stand. Runs and maps are named by checks alone, checks by nothing. */
export type ReferenceKind = Exclude<EntryKind, 'check' | 'run' | 'map'>;

/** A list of the project whose entries have ids of their own. */
interface Collection {
	kind: EntryKind;
	/** Where the list lies in the file. */
	path: readonly string[];
	/** The list in a project; undefined where it has none. */
	of: (project: Project) => Entry[] | undefined;
	/** What a message calls an entry. */
	noun: string;
}

/** Every collection of a project, in the order in which the file is gone through. */
export const COLLECTIONS: readonly Collection[] = TABLE.map((row) => ({ noun: row.kind, ...row }));

const BY_KIND = new Map(COLLECTIONS.map((row) => [row.kind, row]));

/** @returns the entries of a kind; undefined where the project has no such list */
export const entriesOf = (project: Project, kind: EntryKind): Entry[] | undefined => BY_KIND.get(kind)?.of(project);

/** @returns the collection a place in the file lies in, with what follows of the path below the list; null for other places */
export function collectionAt(
	path: readonly (string | number)[],
): { collection: Collection; below: readonly (string | number)[] } | null {
	const collection = COLLECTIONS.find((row) => row.path.every((step, i) => path[i] === step));
	return collection ? { collection, below: path.slice(collection.path.length) } : null;
}

/**
 * By the name of a list, the fields that tell its entries apart where they have no id. Swings are not among them: checks name them by their
 * place in the list, which another's swing would take.
 */
const TOLD_APART: Record<string, readonly string[]> = {
	stances: ['from', 'to'],
	effects: ['action'],
	tracks: ['object', 'camera', 'query', 'scene'],
	keys: ['t'],
	presses: ['watch', 'at'],
	watch: ['query'],
	by: ['rule'],
	outcomes: ['tag'],
};

/** @returns what tells an entry of a list from the others: its id, or what it is of; null where nothing does */
export function keyOf(entry: unknown, list: string | undefined): string | null {
	if (typeof entry !== 'object' || entry === null || Array.isArray(entry)) return null;
	const fields = entry as Record<string, unknown>;
	if (typeof fields.id === 'string') return fields.id;
	const given = (TOLD_APART[list ?? ''] ?? []).filter((field) => fields[field] !== undefined);
	// The field by its name too: an object and a camera may have the same id.
	return given.length > 0 ? given.map((field) => `${field} ${fields[field]}`).join(' ') : null;
}
