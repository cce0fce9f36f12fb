/**
 * Projects in files on disk, as the server that was started with folders gives them out. Each has its row in the browser's store like any
 * other, with what was last seen of its file beside it: where both say the same, nothing is open.
 */
import { checkProject, type Project, readProject } from '@frelk/core';
import { changesFrom, type Merged, mergeProjects } from '@frelk/core/editing';
import { db, type KeptDisk, writeText } from './db';
import { getProject, headOf, type Opened } from './projects';
import { soundRow } from './rows';
import { announce, TAB } from './tabs';
import { textOf } from './text';

/** Why nothing is heard of the files. */
export type AwayKind = 'server' | 'key' | 'folders';

const AWAY: Record<AwayKind, string> = {
	server: 'the server that was started with its folder does not answer',
	key: 'this browser has no key: open Frelk with the address that the terminal shows',
	folders: 'this server was started without its folder',
};

export class Away extends Error {
	constructor(readonly kind: AwayKind) {
		super(AWAY[kind]);
	}
}

export interface DiskFile {
	key: string;
	name: string;
	changed: number;
	size: number;
}

/** A file as it lies there. */
export interface DiskText {
	key: string;
	name: string;
	hash: string;
	text: string;
	/** Why it is no project; null where it is one. */
	broken: string[] | null;
	writable: boolean;
}

type Saved =
	| { done: 'written'; hash: string }
	| { done: 'overtaken'; file: DiskText }
	| { done: 'gone' }
	| { done: 'read-only' }
	| { done: 'failed'; why: string };

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
	let response: Response;
	try {
		response = await fetch(`/api/disk/${path}`, { credentials: 'same-origin', ...init });
	} catch {
		throw new Away('server');
	}
	if (response.status === 401 || response.status === 403) throw new Away('key');
	const isJson = response.headers.get('content-type')?.startsWith('application/json') ?? false;
	// A server without folders has nothing under this address.
	if (response.status === 204 || !isJson) throw new Away('folders');
	const body = (await response.json()) as T & { error?: string };
	if (!response.ok) throw new Error(body.error ?? `the server says ${response.status}`);
	return body;
}

const named = (key: string): string => `key=${encodeURIComponent(key)}`;

/** @throws Away */
export const filesOnDisk = (): Promise<{ projects: DiskFile[]; readOnly: boolean }> => ask('projects');

/** @returns null where there is no such file. @throws Away */
export const fileOf = async (key: string): Promise<DiskText | null> =>
	(await ask<{ file: DiskText | null }>(`project?${named(key)}`)).file;

/** @returns the text of a file at the last commit; null where git has none. @throws Away */
export const committedText = async (key: string): Promise<string | null> =>
	(await ask<{ text: string | null }>(`committed?${named(key)}`)).text;

/**
 * @param on the file the writer has seen; null to put one back that is gone
 * @param leaving whether the page is being left: the request outlives it then, where it is small
 * @throws Away
 */
export const saveToFile = (key: string, on: string | null, text: string, leaving = false): Promise<Saved> =>
	ask(`save?${named(key)}${on === null ? '' : `&on=${on}`}`, {
		method: 'POST',
		headers: { 'Content-Type': 'application/json' },
		body: text,
		keepalive: leaving,
	});

/** @returns what was last seen of a project's file */
export const keptDisk = async (key: string): Promise<KeptDisk | null> =>
	soundRow('disks', key, await db().disks.get(key));

export const keepDisk = async (disk: KeptDisk): Promise<void> => void (await db().disks.put(disk));

/** Every project in a file that this browser has worked on. */
export async function keptDisks(): Promise<KeptDisk[]> {
	const keys = await db().disks.toCollection().primaryKeys();
	return (await Promise.all(keys.map(keptDisk))).filter((disk) => disk !== null);
}

/** Whether a project has edits that are not in its file. */
export async function isUnwritten(disk: KeptDisk): Promise<boolean> {
	const text = (await getProject(disk.key))?.text;
	return text !== undefined && text !== disk.base;
}

/** What a file says, as the store writes texts. */
const stored = (project: Project): string => textOf(project);

/** Puts what a file says into the store in place of what is there. */
async function putFile({ key, name, hash }: DiskText, project: Project): Promise<void> {
	const text = stored(project);
	const version = await db().transaction('rw', db().projects, db().texts, db().disks, async () => {
		const next = ((await db().projects.get(key))?.version ?? 0) + 1;
		await db().projects.put({ ...headOf(project), key, changed: Date.now(), version: next, by: `${TAB} disk` });
		await db().texts.put({ key, text });
		await db().disks.put({ key, name, hash, base: text });
		return next;
	});
	announce({ key, version, by: `${TAB} disk` });
}

/**
 * What is opened where one asks for a project in a file.
 * @returns its row; of a file that is broken and was never worked on the text as it lies there
 * @throws Away where this browser has nothing of it, and its file cannot be asked for; undefined where there is no such project
 */
export async function openFromDisk(key: string): Promise<Opened | undefined> {
	const [row, disk] = [await getProject(key), await keptDisk(key)];
	let file: DiskText | null;
	try {
		file = await fileOf(key);
	} catch (error) {
		if (row && error instanceof Away) return row;
		throw error;
	}
	if (!file) return row;
	const reading = file.broken ? null : readProject(file.text);
	if (!reading?.ok) return row ?? { key, name: file.name, version: 0, text: file.text };
	const isClean = !row || (disk !== null && row.text === disk.base);
	if (isClean && disk?.hash !== file.hash) await putFile(file, reading.project);
	else if (row && row.text === stored(reading.project))
		await keepDisk({ key, name: file.name, hash: file.hash, base: row.text });
	return getProject(key);
}

/** What a file brought. */
type Taken =
	/** The very file that was seen before, or another tab has taken it. */
	{ took: 'nothing' } | { took: 'edits'; count: number; merged: Merged } | { took: 'broken'; lines: string[] };

/**
 * Brings what stands in a file now together with the row, by thing and field; of what both changed the row's stands. One tab does it, and
 * the others hear of the new version.
 */
export async function takeFromDisk(file: DiskText): Promise<Taken> {
	const { key, name, hash } = file;
	const reading = file.broken ? null : readProject(file.text);
	if (!reading?.ok) return { took: 'broken', lines: file.broken ?? [] };
	const theirs = reading.project;
	const base = stored(theirs);
	type Outcome = { taken: Taken; version?: number };
	const { taken, version } = await db().transaction(
		'rw',
		db().projects,
		db().texts,
		db().disks,
		async (): Promise<Outcome> => {
			const disk = await db().disks.get(key);
			const row = await db().projects.get(key);
			const text = (await db().texts.get(key))?.text;
			const mine = text === undefined ? null : readProject(text);
			if (!row || !mine?.ok || disk?.hash === hash) return { taken: { took: 'nothing' } };
			const before = disk ? readProject(disk.base) : null;
			const merged = mergeProjects(before?.ok ? before.project : mine.project, mine.project, theirs);
			await db().disks.put({ key, name, hash, base });
			const next = stored(merged.project);
			const count = changesFrom(mine.project, merged.project).length;
			if (next === text) return { taken: { took: 'edits', count, merged } };
			const version = row.version + 1;
			await db().projects.put({ ...headOf(merged.project), key, changed: Date.now(), version, by: `${TAB} disk` });
			await db().texts.put({ key, text: next });
			return { taken: { took: 'edits', count, merged }, version };
		},
	);
	if (version !== undefined) announce({ key, version, by: `${TAB} disk` });
	return taken;
}

/** Writes a project into the file of its key whatever is there, and reads it again. @throws where it cannot be written */
export async function mendFile(key: string, project: Project): Promise<Opened | undefined> {
	const file = await fileOf(key);
	const saved = await saveToFile(key, file?.hash ?? null, textOf(project));
	if (saved.done !== 'written') throw new Error(saved.done === 'failed' ? saved.why : 'the file was changed meanwhile');
	return openFromDisk(key);
}

/** Gives a project in a file another name. @returns whether that could be written */
export async function renameOnDisk(key: string, name: string): Promise<boolean> {
	const row = await openFromDisk(key);
	const reading = row ? readProject(row.text) : null;
	const disk = await keptDisk(key);
	if (!row || !reading?.ok || !disk) return false;
	const project = { ...reading.project, name };
	if (!checkProject(project).ok) return false;
	const text = textOf(project);
	const saved = await saveToFile(key, disk.hash, text);
	if (saved.done !== 'written') return false;
	await writeText({ key, head: headOf(project), text, seen: row.version, by: `${TAB} disk` });
	await keepDisk({ ...disk, hash: saved.hash, base: text });
	return true;
}
