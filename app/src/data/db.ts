/** The browser's store: projects as they stand, one row each. */
import type { Project } from '@frelk/core';
import Dexie, { type EntityTable } from 'dexie';

/** A row as it is stored: the project as text, which is written and read many times faster than as a tree. */
export interface Stored extends Omit<Row, 'project'> {
	text: string;
}

export interface Row {
	/** The address of the project: its id, with a number behind it where that was taken. */
	key: string;
	name: string;
	/** Milliseconds since 1970. */
	changed: number;
	project: Project;
	/** Counts the writes, so that two tabs notice each other. */
	version: number;
	/** When it was deleted; such a row is kept until the page is left, for undo. */
	deleted?: number;
}

/** One run of a project's checks: kept where it differs from the one before. */
export interface Run {
	id?: number;
	key: string;
	/** Milliseconds since 1970. */
	at: number;
	hold: number;
	/** Ids of the checks that failed, with what they got. */
	failing: { check: string; reason: string }[];
	/** The edit after which it came out so, as the history of the bench names it; null where the project was only opened. */
	after?: string | null;
	/** Every check that was run. */
	ran: string[];
}

/** A version of a project kept to compare with. */
export interface Version {
	id?: number;
	key: string;
	at: number;
	name: string;
	project: Project;
}

class Store extends Dexie {
	projects!: EntityTable<Stored, 'key'>;
	runs!: EntityTable<Run, 'id'>;
	versions!: EntityTable<Version, 'id'>;
	settings!: EntityTable<{ key: string; value: unknown }, 'key'>;

	constructor() {
		super('frelk');
		this.version(1).stores({ projects: 'key, changed', settings: 'key' });
		this.version(2).stores({ projects: 'key, changed', settings: 'key', runs: '++id, [key+at]', versions: '++id, [key+at]' });
		this.version(3).upgrade((t) =>
			t
				.table('projects')
				.toCollection()
				.modify((row: Stored & { project?: Project }) => {
					if (row.project === undefined) return;
					row.text = JSON.stringify(row.project);
					delete row.project;
				}),
		);
	}
}

let store: Store | null = null;

/** Opened when first asked for: the server has no such store. */
export function db(): Store {
	store ??= new Store();
	return store;
}

/** Writes the text of a project as it now stands. @returns the new version */
export async function writeText(key: string, name: string, text: string): Promise<number> {
	return db().transaction('rw', db().projects, async () => {
		const row = await db().projects.get(key);
		const version = (row?.version ?? 0) + 1;
		await db().projects.put({ key, name, changed: Date.now(), text, version });
		return version;
	});
}
