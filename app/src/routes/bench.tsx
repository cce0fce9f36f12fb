import { data } from 'react-router';
import { ensureFirstVisit, getProject } from '../data/projects';
import { Bench } from '../features/bench/bench';
import type { Route } from './+types/bench';

export function meta({ loaderData }: Route.MetaArgs) {
	return [{ title: `${(loaderData as { row?: { name: string } } | undefined)?.row?.name ?? 'Project'} · Frelk` }];
}

export async function clientLoader({ params }: Route.ClientLoaderArgs) {
	await ensureFirstVisit();
	const row = await getProject(params.project);
	if (!row)
		throw data(
			{
				title: `There is no project “${params.project}” in this browser`,
				lines: ['It may have been deleted, or it was made in another browser. Projects live where they were made; export a file there and import it here.'],
			},
			{ status: 404 },
		);
	return { row };
}
clientLoader.hydrate = true as const;

export { HydrateFallback } from '../root';

export default function BenchRoute({ loaderData }: Route.ComponentProps) {
	return <Bench key={loaderData.row.key} row={loaderData.row} />;
}
