import { checkProject } from '@frelk/core';
import { redirect } from 'react-router';
import { type ImportFailure, importFiles } from '../data/files';
import {
	addProject,
	blankProject,
	deleteProject,
	EXAMPLES,
	ensureFirstVisit,
	getProject,
	listProjects,
	restoreProject,
	saveProject,
	sweepDeleted,
} from '../data/projects';
import { Home } from '../features/home/home';
import type { Route } from './+types/home';

export function meta() {
	return [{ title: 'Projects · Frelk' }];
}

export async function clientLoader() {
	await ensureFirstVisit();
	await sweepDeleted();
	return { rows: await listProjects() };
}
clientLoader.hydrate = true as const;

export type HomeResult =
	| { did: 'import'; keys: string[]; failures: ImportFailure[] }
	| { did: 'delete'; key: string; name: string }
	| { did: 'restore' }
	| { did: 'nothing' };

export async function clientAction({ request }: Route.ClientActionArgs): Promise<HomeResult | Response> {
	const form = await request.formData();
	const key = String(form.get('key') ?? '');
	switch (form.get('do')) {
		case 'create': {
			const kind = form.get('kind') === 'flat' ? 'flat' : 'space';
			const name = String(form.get('name') ?? '').trim() || (kind === 'flat' ? 'Flat project' : 'Project');
			return redirect(`/p/${await addProject(blankProject(kind, name))}`);
		}
		case 'example': {
			const example = EXAMPLES.find((e) => e.id === form.get('id'));
			if (!example) return { did: 'nothing' };
			return redirect(`/p/${await addProject(await example.load())}`);
		}
		case 'import': {
			const files = form.getAll('file').filter((f): f is File => f instanceof File && f.size + f.name.length > 0);
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
			const row = await getProject(key);
			const name = String(form.get('name') ?? '').trim();
			if (row && name !== '') await saveProject(key, { ...row.project, name });
			return { did: 'nothing' };
		}
		case 'duplicate': {
			const row = await getProject(key);
			if (!row) return { did: 'nothing' };
			await addProject({ ...row.project, name: `${row.name}, copy` });
			return { did: 'nothing' };
		}
		case 'delete': {
			const row = await getProject(key);
			await deleteProject(key);
			return { did: 'delete', key, name: row?.name ?? key };
		}
		case 'restore':
			await restoreProject(key);
			return { did: 'restore' };
		default:
			return { did: 'nothing' };
	}
}

export { HydrateFallback } from '../root';

export default function HomeRoute({ loaderData }: Route.ComponentProps) {
	return <Home rows={loaderData.rows} />;
}
