/** Reading and writing projects in the browser's store. */
import type { Project } from '@frelk/core';
import { db, type Row, type Stored, writeText } from './db';
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
		about: 'The same quay with two failing checks; the guide walks through the repair.',
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

/** Puts a project into the store under a free address. @returns the address */
export async function addProject(project: Project): Promise<string> {
	return db().transaction('rw', db().projects, async () => {
		const key = await freeKey(project.id);
		await db().projects.add({ key, name: project.name, changed: Date.now(), text: textOf(project), version: 1 });
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
		await db().transaction('rw', db().projects, db().settings, async () => {
			if (!(await db().projects.get(example.id)))
				await db().projects.add({ key: example.id, name: project.name, changed: Date.now(), text: textOf(project), version: 1 });
			await db().settings.put({ key: 'visited', value: Date.now() });
		});
	}
}

const opened = ({ text, ...row }: Stored): Row => ({ ...row, project: JSON.parse(text) as Project });

export async function listProjects(): Promise<Row[]> {
	const rows = await db().projects.orderBy('changed').reverse().toArray();
	return rows.filter((row) => row.deleted === undefined).map(opened);
}

export async function getProject(key: string): Promise<Row | undefined> {
	const row = await db().projects.get(key);
	return row && row.deleted === undefined ? opened(row) : undefined;
}

/** Marks a project as deleted; `restoreProject` takes that back. */
export async function deleteProject(key: string): Promise<void> {
	await db().projects.update(key, { deleted: Date.now() });
}

export async function restoreProject(key: string): Promise<void> {
	await db()
		.projects.where('key')
		.equals(key)
		.modify((row) => {
			delete row.deleted;
		});
}

/** Deleted projects nobody took back within a day are gone for good. */
export async function sweepDeleted(): Promise<void> {
	const before = Date.now() - 24 * 3600 * 1000;
	await db()
		.projects.filter((row) => row.deleted !== undefined && row.deleted < before)
		.delete();
}

/** Writes a project as it now stands. @returns the new version */
export const saveProject = (key: string, project: Project): Promise<number> => writeText(key, project.name, textOf(project));

/** A blank project of either kind: one layer, one camera, nothing in it. */
export function blankProject(kind: 'space' | 'flat', name: string): Project {
	const id =
		name
			.toLowerCase()
			.replace(/[^a-z0-9]+/g, '-')
			.replace(/^-+|-+$/g, '')
			.slice(0, 60) || 'project';
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
			cameras: [
				kind === 'space'
					? { id: 'eye', name: 'Eye', position: [0, 1.6, 4], rotation: [0, -10, 0], projection: 'perspective', fov: 60 }
					: { id: 'above', name: 'Above', position: [0, 0, 10], projection: 'orthographic', height: 4 },
			],
		},
		queries: [],
	};
}
