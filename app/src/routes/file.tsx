import { data, redirect } from 'react-router';
import { filesOnDisk } from '../data/disk';
import { fromFileAddress } from '../features/link/link';
import type { Route } from './+types/file';

/** A link into a project on disk: its file is looked for among those that are served. */
export async function clientLoader({ request }: Route.ClientLoaderArgs) {
	const { name, address } = fromFileAddress(new URL(request.url).searchParams);
	const title = `There is no file ${name} here`;
	const found = await filesOnDisk().then(
		({ projects }) => projects.find((file) => file.name === name),
		(error) => {
			throw data({ title, lines: [`${error instanceof Error ? error.message : String(error)}.`] }, { status: 404 });
		},
	);
	if (!found)
		throw data({ title, lines: ['It is none of the projects under the folders that are served.'] }, { status: 404 });
	throw redirect(address(found.key));
}
clientLoader.hydrate = true as const;

export default function FileRoute() {
	return null;
}
