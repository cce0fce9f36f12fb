/** What of a project was put otherwise by the last edits, as it was before. */
import type { Earlier, Project } from '@frelk/core';
import type { Step } from './bench-state';

/** How many edits are looked back. */
const LAST = 30;

/** @returns objects and queries as they were before each of the last edits that changed them, the newest first */
export function earlierIn(now: Project, past: readonly Step[]): Earlier[] {
	const list: Earlier[] = [];
	let after = now;
	for (const { project: before, label } of past.slice(-LAST).reverse()) {
		// What an edit left alone is the very same entry: nothing is compared by its text.
		const changed = <T extends { id: string }>(was: readonly T[], is: readonly T[]): T[] => {
			if (was === is) return [];
			const by = new Map(is.map((entry) => [entry.id, entry]));
			return was.filter((entry) => by.has(entry.id) && by.get(entry.id) !== entry);
		};
		list.push(
			...changed(before.scene.objects, after.scene.objects).map((object) => ({ entry: { object }, edit: label })),
			...changed(before.queries, after.queries).map((query) => ({ entry: { query }, edit: label })),
		);
		after = before;
	}
	return list;
}
