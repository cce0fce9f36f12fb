import { openStore } from '../data/db';
import { addProject } from '../data/projects';
import { addressOf, fromLink, type Linked } from '../features/link/link';
import { LinkPage } from '../features/link/link-page';
import { keepPose } from '../features/stage/pose';
import type { Route } from './+types/link';

export function meta() {
	return [{ title: 'A project in a link · Frelk' }];
}

/** The part of the address behind the `#` is the page's alone: no server is told of it. */
export async function clientLoader(): Promise<Linked | { trouble: string[] }> {
	await openStore();
	try {
		return await fromLink(window.location.hash);
	} catch (error) {
		return { trouble: (error instanceof Error ? error.message : String(error)).split('\n') };
	}
}
clientLoader.hydrate = true as const;

/** Puts a copy into this browser. @returns its address */
async function take({ project, place }: Linked): Promise<string> {
	const key = await addProject(project);
	if (place.pose) keepPose(key, place.pose);
	return addressOf(key, place);
}

export default function LinkRoute({ loaderData }: Route.ComponentProps) {
	return <LinkPage linked={loaderData} take={take} />;
}
