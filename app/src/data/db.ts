/** The browser's store: projects as they stand, what is told of them in a list apart from their text. */
import type { Project } from '@frelk/core';
import type { ProjectChange } from '@frelk/core/editing';
import Dexie, { type EntityTable } from 'dexie';
import { announce } from './tabs';

/** What a list of projects tells of one, without its text. */
export interface Head {
	name: string;
	kind?: 'space' | 'flat';
	objects?: number;
	queries?: number;
}

export interface Entry extends Head {
	/** The address of the project: its id, with a number behind it where that was taken. */
	key: string;
	/** Milliseconds since 1970. */
	changed: number;
	/** Counts the writes: who writes says which version it has seen. */
	version: number;
	/** The tab that wrote it. */
	by?: string;
	/** When it was deleted; such an entry is kept for a day, for undo. */
	deleted?: number;
}

/** A drawing of a project's scene, of one version of it. */
export interface Picture {
	key: string;
	version: number;
	/** Back to front: the edges of each shape, and its outline where it is filled. */
	lines: { hue: number; d: string; fill?: string }[];
	/** Why there is none. */
	trouble?: string;
	/** Of a project in a file: its name, and how its checks stand. */
	standing?: { name: string; hold: number; fail: number };
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

/** A step of the history, as the changes that lead to it from the one after it. */
export interface KeptStep {
	label: string;
	changes: ProjectChange[];
}

/** The history of a project's bench, for as long as the project is what it was when this was kept. */
export interface KeptHistory {
	key: string;
	/** The project it belongs to, in short. */
	stamp: string;
	past: KeptStep[];
	future: KeptStep[];
}

/** Of a project that lies in a file on disk: what of the file was last seen. Its row holds what is to stand there. */
export interface KeptDisk {
	key: string;
	/** From the folder it is served under. */
	name: string;
	/** Of the file's bytes. */
	hash: string;
	/** What the file said, as the store writes texts: where the row says otherwise, it has edits that are not in the file. */
	base: string;
}

/** The trace that is open beside a project. */
interface KeptTrace {
	key: string;
	file: File;
}

class Store extends Dexie {
	projects!: EntityTable<Entry, 'key'>;
	texts!: EntityTable<{ key: string; text: string }, 'key'>;
	pictures!: EntityTable<Picture, 'key'>;
	runs!: EntityTable<Run, 'id'>;
	versions!: EntityTable<Version, 'id'>;
	settings!: EntityTable<{ key: string; value: unknown }, 'key'>;
	undo!: EntityTable<KeptHistory, 'key'>;
	traces!: EntityTable<KeptTrace, 'key'>;
	disks!: EntityTable<KeptDisk, 'key'>;

	constructor(options?: { indexedDB: unknown; IDBKeyRange: unknown }) {
		super('frelk', options as ConstructorParameters<typeof Dexie>[1]);
		this.version(1).stores({ projects: 'key, changed', settings: 'key' });
		this.version(2).stores({
			projects: 'key, changed',
			settings: 'key',
			runs: '++id, [key+at]',
			versions: '++id, [key+at]',
		});
		this.version(3);
		this.version(4)
			.stores({
				projects: 'key, changed',
				settings: 'key',
				runs: '++id, [key+at]',
				versions: '++id, [key+at]',
				texts: 'key',
				pictures: 'key',
			})
			.upgrade(async (t) => {
				// Texts go into a table of their own, row by row: whatever a row is, the others are not held up by it.
				for (const key of await t.table('projects').toCollection().primaryKeys()) {
					const row = (await t.table('projects').get(key)) as
						| (Entry & { text?: unknown; project?: unknown })
						| undefined;
					if (!row) continue;
					const { text, project, ...entry } = row;
					if (text === undefined && project === undefined) continue;
					await t.table('texts').put({ key, text: typeof text === 'string' ? text : JSON.stringify(project ?? text) });
					await t.table('projects').put(entry);
				}
			});
		// Pictures are filled now: those of before are drawn anew.
		this.version(5)
			.stores({ undo: 'key' })
			.upgrade((t) => t.table('pictures').clear());
		this.version(6).stores({ traces: 'key' });
		this.version(7).stores({ disks: 'key' });
	}
}

/** Whether this browser keeps projects, and why not. */
export type Keeping = { kept: true } | { kept: false; why: string };

let store: Store | null = null;
let opening: Promise<Keeping> | null = null;
let keeping: Keeping = { kept: true };

/** A browser that does not answer at all is not waited for longer, milliseconds. */
const PATIENCE = 8000;

/** Opens the store; where the browser has none, one that lasts as long as the page. To be awaited before anything is read. */
export function openStore(): Promise<Keeping> {
	opening ??= (async () => {
		let late: ReturnType<typeof setTimeout> | undefined;
		try {
			store = new Store();
			await Promise.race([
				store.open(),
				new Promise((_, reject) => {
					late = setTimeout(() => reject(new Error('the browser’s storage does not answer')), PATIENCE);
				}),
			]);
		} catch (error) {
			console.error('no storage', error);
			const { indexedDB, IDBKeyRange } = await import('fake-indexeddb');
			store?.close();
			store = new Store({ indexedDB, IDBKeyRange });
			keeping = { kept: false, why: whyNot(error) };
			await store.open();
		} finally {
			clearTimeout(late);
		}
		return keeping;
	})();
	return opening;
}

export const keepingNow = (): Keeping => keeping;

/** Opened before by `openStore`; the server has no such store, and a worker only opens one the page has found to be there. */
export function db(): Store {
	store ??= new Store();
	return store;
}

const namesOf = (error: unknown): string => {
	const {
		name = '',
		message = String(error),
		inner,
	} = (error ?? {}) as { name?: string; message?: string; inner?: { name?: string } };
	return `${name} ${inner?.name ?? ''} ${message}`;
};

/** Whether a failure of the store says that there is no room left. */
export const isFull = (error: unknown): boolean => /Quota/i.test(namesOf(error));

/** What a failure of the store means, in words a person can act on. */
export function whyNot(error: unknown): string {
	const names = namesOf(error);
	if (isFull(error)) return 'there is no room left in this browser’s storage';
	if (/MissingAPI|Security|not allowed|denied/i.test(names))
		return 'this browser allows no storage here (a private window, or its settings)';
	if (/VersionError/i.test(names))
		return 'a newer version of Frelk has written to this browser’s storage; reload the page';
	return error instanceof Error ? error.message : String(error);
}

export type Written =
	| {
			done: 'written';
			version: number /** Where others had written meanwhile: what was written in place of what was given. */;
			text?: string;
	  }
	/** Someone else wrote since: their version and text. Nothing was written. */
	| { done: 'overtaken'; version: number; text: string }
	/** It was deleted. Nothing was written. */
	| { done: 'gone' }
	/** No file may hold it as it stands. Nothing was written. */
	| { done: 'unfit' };

export interface Writing {
	key: string;
	head: Head;
	text: string;
	/** The version the writer has seen last; null to write whatever is there, also where it was deleted. */
	seen: number | null;
	/** The tab that writes. */
	by: string;
}

/**
 * Writes the text of a project if nobody else wrote since: comparing and writing are one transaction.
 * @param bring what to write where someone did: without it nothing is written then
 */
export async function writeText(
	{ key, head, text, seen, by }: Writing,
	bring?: (theirs: string) => { head: Head; text: string } | null,
): Promise<Written> {
	const written = await db().transaction('rw', db().projects, db().texts, async (): Promise<Written> => {
		const entry = await db().projects.get(key);
		const put = async (head: Head, text: string): Promise<number> => {
			const version = Math.max(entry?.version ?? 0, seen ?? 0) + 1;
			await db().projects.put({ ...head, key, changed: Date.now(), version, by });
			await db().texts.put({ key, text });
			return version;
		};
		if (seen === null) return { done: 'written', version: await put(head, text) };
		if (!entry || entry.deleted !== undefined) return { done: 'gone' };
		// The last write of this very tab may have been done although the page was not told so any more.
		if (entry.version === seen || (entry.by === by && entry.version === seen + 1))
			return { done: 'written', version: await put(head, text) };
		const theirs = (await db().texts.get(key))?.text ?? '';
		const brought = bring?.(theirs);
		if (!brought) return { done: 'overtaken', version: entry.version, text: theirs };
		return { done: 'written', version: await put(brought.head, brought.text), text: brought.text };
	});
	if (written.done === 'written') announce({ key, version: written.version, by });
	return written;
}
