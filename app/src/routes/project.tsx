import { data } from 'react-router';
import { openStore } from '../data/db';
import { openFromDisk } from '../data/disk';
import { ensureFirstVisit, getProject, isOnDisk } from '../data/projects';
import { diedOpening } from '../features/opening/marks';
import { Opening } from '../features/opening/opening';
import type { Route } from './+types/project';

export function meta({ loaderData }: Route.MetaArgs) {
	return [{ title: `${(loaderData as { row?: { name: string } } | undefined)?.row?.name ?? 'Project'} · Frelk` }];
}

export async function clientLoader({ params }: Route.ClientLoaderArgs) {
	await openStore();
	await ensureFirstVisit().catch((error) => console.error('the examples could not be put in', error));
	if (isOnDisk(params.project)) {
		const row = await openFromDisk(params.project).catch((error) => {
			throw data(
				{
					title: 'This project lies in a file that cannot be reached',
					lines: [`${error instanceof Error ? error.message : String(error)}.`, 'Nothing of it is in this browser.'],
				},
				{ status: 404 },
			);
		});
		if (row) return { row, died: (await diedOpening()).has(params.project) };
	}
	const row = await getProject(params.project);
	if (!row)
		throw data(
			{
				title: isOnDisk(params.project)
					? 'The file of this project is not there any more'
					: `There is no project “${params.project}” in this browser`,
				lines: [
					'It may have been deleted, or it was made in another browser. Projects live where they were made; export a file there and import it here.',
				],
			},
			{ status: 404 },
		);
	return { row, died: (await diedOpening()).has(params.project) };
}
clientLoader.hydrate = true as const;

/** Going between the views of one project keeps what is open: the store is the truth then, not the row it was read from. */
export function shouldRevalidate({
	currentParams,
	nextParams,
}: {
	currentParams: { project?: string | undefined };
	nextParams: { project?: string | undefined };
}) {
	return currentParams.project !== nextParams.project;
}

export default function BenchRoute({ loaderData }: Route.ComponentProps) {
	return <Opening key={loaderData.row.key} row={loaderData.row} died={loaderData.died} />;
}
