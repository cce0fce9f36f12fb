/** Reading and writing projects in the browser's store. */
import { type Project, readProject, slug } from '@frelk/core';
import { db, type Entry, type Head, type Picture, writeText } from './db';
import { soundEntry, soundRow } from './rows';
import { announce, TAB } from './tabs';
import { textOf } from './text';

/** The examples that ship, by project id. */
export const EXAMPLES: { id: string; name: string; about: string; load: () => Promise<Project> }[] = [
	{
		id: 'harl-quay',
		name: 'Quay at Harl',
		about: 'A small ferry quay at night: gaze, pick, reach, swing, throw and set-down.',
		load: async () => (await import('../../../examples/harl-quay.frelk.json')).default as unknown as Project,
	},
	{
		id: 'harl-quay-before',
		name: 'Quay at Harl, before the fix',
		about: 'The same quay with checks that fail; the guide walks through the repair.',
		load: async () => (await import('../../../examples/harl-quay-before.frelk.json')).default as unknown as Project,
	},
	{
		id: 'pursers-desk',
		name: 'Purser’s desk',
		about: 'A flat scene: ticket stubs in a pile, two of them at one depth.',
		load: async () => (await import('../../../examples/pursers-desk.frelk.json')).default as unknown as Project,
	},
	{
		id: 'deck-from-above',
		name: 'Deck from above',
		about: 'A flat scene: movement, reach and boathook among gulls and passengers; sides and stances.',
		load: async () => (await import('../../../examples/deck-from-above.frelk.json')).default as unknown as Project,
	},
	{
		id: 'cargo-shed',
		name: 'Cargo shed',
		about: 'Some twelve hundred crates on racks, for scale; made when it is opened.',
		load: async () => (await import('./cargo-shed')).cargoShed(),
	},
];

async function freeKey(id: string): Promise<string> {
	const taken = new Set(await db().projects.toCollection().primaryKeys());
	if (!taken.has(id)) return id;
	for (let n = 2; ; n++) if (!taken.has(`${id}-${n}`)) return `${id}-${n}`;
}

export const headOf = ({ name, scene, queries }: Project): Head => ({
	name,
	kind: scene.kind,
	objects: scene.objects.length,
	queries: queries.length,
});

/** Puts a project into the store under a free address. @returns the address */
export async function addProject(project: Project): Promise<string> {
	return db().transaction('rw', db().projects, db().texts, async () => {
		const key = await freeKey(project.id);
		await db().projects.add({ ...headOf(project), key, changed: Date.now(), version: 1, by: TAB });
		await db().texts.put({ key, text: textOf(project) });
		return key;
	});
}

/** Examples put in on the first visit, so that there is something to open. */
const AT_FIRST = new Set(['harl-quay', 'pursers-desk', 'deck-from-above']);

/** On the first visit of a browser some examples are put in. */
export async function ensureFirstVisit(): Promise<void> {
	if (await db().settings.get('visited')) return;
	for (const example of EXAMPLES.filter((e) => AT_FIRST.has(e.id))) {
		const project = await example.load();
		await db().transaction('rw', db().projects, db().texts, db().settings, async () => {
			if (!(await db().projects.get(example.id))) {
				await db().projects.add({ ...headOf(project), key: example.id, changed: Date.now(), version: 1, by: TAB });
				await db().texts.put({ key: example.id, text: textOf(project) });
			}
			await db().settings.put({ key: 'visited', value: Date.now() });
		});
	}
}

/** A project in the list: what is told of it, or what is wrong with its entry. */
export interface Listed extends Entry {
	/** Why it cannot be listed as others are; it can be exported and deleted all the same. */
	damaged: string | null;
}

/** Whether a key is that of a project in a file on disk: no id has such a character. */
export const isOnDisk = (key: string): boolean => key.startsWith('disk~');

const asEntry = (key: string, row: unknown): Listed => {
	const { name, changed, version, ...rest } = soundEntry(row);
	const whole = name !== undefined && changed !== undefined && version !== undefined;
	return {
		...rest,
		key,
		name: name ?? key,
		changed: changed ?? 0,
		version: version ?? 0,
		damaged: whole ? null : 'its entry in the store is damaged',
	};
};

/** Every project, the last changed first. Row by row: one that cannot be read does not hide the others. */
export async function listProjects(): Promise<Listed[]> {
	const keys = await db().projects.toCollection().primaryKeys();
	const texts = new Set(await db().texts.toCollection().primaryKeys());
	// Those that lie in files have a list of their own.
	for (const key of [...texts]) if (isOnDisk(key)) texts.delete(key);
	const list: Listed[] = [];
	for (const key of keys) {
		if (isOnDisk(String(key))) continue;
		let row: unknown;
		let unread: string | null = null;
		try {
			row = await db().projects.get(key);
		} catch (error) {
			unread = `its entry in the store cannot be read (${error instanceof Error ? error.message : String(error)})`;
		}
		const entry = asEntry(String(key), row);
		if (entry.deleted !== undefined) continue;
		list.push({
			...entry,
			damaged: unread ?? entry.damaged ?? (texts.has(key) ? null : 'its text is missing from the store'),
		});
	}
	// A text whose entry is gone is somebody's work all the same.
	for (const key of texts)
		if (!keys.includes(key)) list.push({ ...asEntry(key, null), damaged: 'its entry in the store is missing' });
	return list.sort((a, b) => b.changed - a.changed);
}

/** A project as it lies in the store, not looked at yet. */
export interface Opened {
	key: string;
	name: string;
	version: number;
	text: string;
}

/** @returns undefined where there is none, or it was deleted */
export async function getProject(key: string): Promise<Opened | undefined> {
	const row = await db().projects.get(key);
	const text = (await db().texts.get(key))?.text;
	if (row?.deleted !== undefined || (!row && text === undefined)) return undefined;
	const { name, version } = asEntry(key, row);
	return { key, name, version, text: typeof text === 'string' ? text : text === undefined ? '' : JSON.stringify(text) };
}

/** Marks a project as deleted; `restoreProject` takes that back. One whose entry is damaged is gone at once. @returns whether it can be taken back */
export async function deleteProject(key: string): Promise<boolean> {
	const kept = await db().transaction('rw', db().projects, db().texts, async () => {
		const row = await db()
			.projects.get(key)
			.catch(() => undefined);
		if (row && asEntry(key, row).damaged === null && (await db().texts.get(key))) {
			await db().projects.put({ ...row, deleted: Date.now(), version: row.version + 1, by: TAB });
			return true;
		}
		await db().projects.delete(key);
		await db().texts.delete(key);
		return false;
	});
	if (!kept) await forgetAll([key]);
	announce({ key, by: TAB, gone: true });
	return kept;
}

export async function restoreProject(key: string): Promise<void> {
	await db()
		.projects.where('key')
		.equals(key)
		.modify((row) => {
			delete row.deleted;
		});
	announce({ key, by: TAB, back: true });
}

/** What hangs on projects that are gone goes with them: a new one under the same address begins without it. */
async function forgetAll(keys: readonly string[]): Promise<void> {
	const gone = new Set(keys);
	await db().texts.bulkDelete([...gone]);
	await db().pictures.bulkDelete([...gone]);
	await db().undo.bulkDelete([...gone]);
	await db().traces.bulkDelete([...gone]);
	for (const table of [db().runs, db().versions])
		await table.filter((row) => gone.has((row as { key: string }).key)).delete();
}

/** Deleted projects nobody took back within a day are gone for good, with their runs and versions. */
export async function sweepDeleted(): Promise<void> {
	const before = Date.now() - 24 * 3600 * 1000;
	const gone = await db()
		.projects.filter((row) => typeof row?.deleted === 'number' && row.deleted < before)
		.primaryKeys();
	if (gone.length === 0) return;
	await db().projects.bulkDelete(gone);
	await forgetAll(gone);
}

/** Gives a project another name, whoever else writes to it meanwhile. @returns whether it could be read */
export async function renameProject(key: string, name: string): Promise<boolean> {
	for (let tries = 0; tries < 5; tries++) {
		const row = await getProject(key);
		const reading = row ? readProject(row.text) : null;
		if (!row || !reading?.ok) return false;
		const project = { ...reading.project, name };
		const written = await writeText({
			key,
			head: headOf(project),
			text: textOf(project),
			seen: row.version,
			by: `${TAB} home`,
		});
		if (written.done !== 'overtaken') return written.done === 'written';
	}
	return false;
}

export async function pictureOf(key: string): Promise<Picture | undefined> {
	return soundRow('pictures', key, await db().pictures.get(key)) ?? undefined;
}

export async function keepPicture(picture: Picture): Promise<void> {
	await db().pictures.put(picture);
}

/** A blank project of either kind: two layers and nothing in it; a flat one has the camera that shows it. */
export function blankProject(kind: 'space' | 'flat', name: string): Project {
	const id = slug(name, 60) || 'project';
	return {
		format: 'frelk/1',
		id,
		name,
		scene: {
			kind,
			layers: [
				{ id: 'things', name: 'Things' },
				{ id: 'walls', name: 'Walls' },
			],
			tags: [],
			sides: [],
			stances: [],
			objects: [],
			cameras:
				kind === 'space'
					? []
					: [{ id: 'above', name: 'Above', position: [0, 0, 10], projection: 'orthographic', height: 4 }],
		},
		queries: [],
	};
}
