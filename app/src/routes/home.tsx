import { checkProject, MAX_TEXT, readProject } from '@frelk/core';
import { redirect } from 'react-router';
import { type KeptDisk, openStore, whyNot } from '../data/db';
import { Away, filesOnDisk, isUnwritten, keptDisks, renameOnDisk } from '../data/disk';
import { importFiles } from '../data/files';
import {
	addProject,
	blankProject,
	deleteProject,
	EXAMPLES,
	ensureFirstVisit,
	getProject,
	isOnDisk,
	listProjects,
	renameProject,
	restoreProject,
	sweepDeleted,
} from '../data/projects';
import { Home } from '../features/home/home';
import type { DiskListing } from '../features/home/on-disk';
import type { HomeResult } from '../features/home/result';
import { clearOpening, diedOpening } from '../features/opening/marks';
import { bringLevel } from '../model/incoming';
import type { Route } from './+types/home';

export function meta() {
	return [{ title: 'Projects · Frelk' }];
}

/** The projects in files, and those of this browser whose edits are not in theirs. */
async function onDisk(): Promise<DiskListing> {
	const unwritten: KeptDisk[] = [];
	for (const disk of await keptDisks()) if (await isUnwritten(disk)) unwritten.push(disk);
	try {
		return { at: 'here', ...(await filesOnDisk()), unwritten };
	} catch (error) {
		return { at: error instanceof Away ? error.kind : 'server', unwritten };
	}
}

export async function clientLoader() {
	await openStore();
	// What cannot be done for want of room or for a damaged row does not keep the list from being shown.
	for (const step of [ensureFirstVisit, sweepDeleted])
		await step().catch((error) => console.error('the store could not be tidied', error));
	return { rows: await listProjects(), died: [...(await diedOpening())], disk: await onDisk() };
}
clientLoader.hydrate = true as const;

export async function clientAction({ request }: Route.ClientActionArgs): Promise<HomeResult | Response> {
	const form = await request.formData();
	try {
		return await act(form);
	} catch (error) {
		// Nothing was done: a store that refuses is no reason to lose the page.
		console.error('the store refused', error);
		return { did: 'refused', why: whyNot(error) };
	}
}

const LEVEL = /\.(glb|gltf|svg)$/i;

/** A level becomes a new project, shown before it is taken; a file Frelk wrote is the project that rides in it. */
async function levelAddress(files: File[]): Promise<string> {
	const main = files.find((f) => LEVEL.test(f.name)) as File;
	if (/\.(glb|gltf)$/i.test(main.name)) {
		const { projectIn } = await import('@frelk/interchange/gltf');
		const own = await projectIn({ name: main.name, bytes: new Uint8Array(await main.arrayBuffer()) });
		if (own) return `/p/${await addProject(own)}`;
	}
	const kind = /\.svg$/i.test(main.name) ? 'flat' : 'space';
	const key = await addProject(blankProject(kind, main.name.replace(/\.[^.]*$/, '').slice(0, MAX_TEXT) || 'Level'));
	bringLevel(key, files);
	return `/p/${key}/level`;
}

async function act(form: FormData): Promise<HomeResult | Response> {
	const key = String(form.get('key') ?? '');
	switch (form.get('do')) {
		case 'create': {
			const kind = form.get('kind') === 'flat' ? 'flat' : 'space';
			const name = String(form.get('name') ?? '').trim() || (kind === 'flat' ? 'Flat project' : 'Project');
			const key = await addProject(blankProject(kind, name));
			// The bench puts in what a scene begins with, as a step that can be undone.
			return redirect(form.get('begin') === 'yes' ? `/p/${key}?begin` : `/p/${key}`);
		}
		case 'example': {
			const example = EXAMPLES.find((e) => e.id === form.get('id'));
			if (!example) return { did: 'nothing' };
			return redirect(`/p/${await addProject(await example.load())}`);
		}
		case 'import': {
			const files = form.getAll('file').filter((f): f is File => f instanceof File && f.size + f.name.length > 0);
			if (files.some((f) => LEVEL.test(f.name))) return redirect(await levelAddress(files));
			const result = await importFiles(files);
			const only = result.keys[0];
			if (only !== undefined && result.keys.length === 1 && result.failures.length === 0) return redirect(`/p/${only}`);
			return { did: 'import', ...result };
		}
		case 'repaired': {
			const reading = checkProject(JSON.parse(String(form.get('project') ?? 'null')));
			return reading.ok ? redirect(`/p/${await addProject(reading.project)}`) : { did: 'nothing' };
		}
		case 'rename': {
			const name = String(form.get('name') ?? '').trim();
			if (name !== '') await (isOnDisk(key) ? renameOnDisk(key, name) : renameProject(key, name));
			return { did: 'nothing' };
		}
		case 'duplicate': {
			const row = await getProject(key);
			const reading = row ? readProject(row.text) : null;
			if (row && reading?.ok)
				await addProject({ ...reading.project, name: `${row.name.slice(0, MAX_TEXT - 6)}, copy` });
			return { did: 'nothing' };
		}
		case 'delete': {
			const name = (await listProjects()).find((row) => row.key === key)?.name ?? key;
			const kept = await deleteProject(key);
			clearOpening(key);
			return { did: 'delete', key, name, kept };
		}
		case 'restore':
			await restoreProject(key);
			return { did: 'restore' };
		default:
			return { did: 'nothing' };
	}
}

export default function HomeRoute({ loaderData }: Route.ComponentProps) {
	return <Home rows={loaderData.rows} died={loaderData.died} disk={loaderData.disk} />;
}
