/** A link to what one looks at, put on the clipboard. */
import { writeProject } from '@frelk/core';
import type { BenchStore } from '../../model/bench-state';
import { fileAddress, linkTo, MAX_LINKED, type Place } from './link';
import { placeOf } from './place';

/** What became of it: copied, or why not. */
type Copied = { link: string } | { trouble: string };

/** @param path of the page, which names the view */
export async function copyLink(store: BenchStore, path: string): Promise<Copied> {
	const { project, disk } = store.getState();
	const name = /^\/p\/[^/]+\/(checks|filters|time)/.exec(path)?.[1] as Place['view'] | undefined;
	const place = placeOf(store, name ?? 'bench');
	// Whoever serves the same folder has the project: the link says where in it.
	const link = disk
		? `${window.location.origin}${fileAddress(disk.name, place)}`
		: await linkTo(window.location.origin, project, place);
	if (link === null) {
		const size = Math.round(new TextEncoder().encode(writeProject(project)).length / 1000);
		return {
			trouble: `The project is ${size} kB; a link holds up to ${MAX_LINKED / 1000} kB. Export its file instead.`,
		};
	}
	try {
		await navigator.clipboard.writeText(link);
	} catch {
		return { trouble: 'The browser does not let the page write to the clipboard here.' };
	}
	return { link };
}
