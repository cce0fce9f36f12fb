/** One rule for several objects: what a player reads and does with them, by a tag they share, on one query. */
import { type Project, slug } from '@frelk/core';
import { freshId } from './objects';

/** What the rule gives; an empty text gives nothing of that. */
interface Given {
	prompt: string;
	action: string;
}

/**
 * The tag by which a rule finds exactly these objects: one they all have and no other has, else a new one, named after what is done.
 * @param ids the objects
 */
function tagFor(draft: Project, ids: readonly string[], { prompt, action }: Given): string {
	const { objects, tags } = draft.scene;
	const mine = objects.filter((o) => ids.includes(o.id));
	const others = objects.filter((o) => !ids.includes(o.id));
	const own = mine[0]?.tags?.find(
		(tag) => mine.every((o) => o.tags?.includes(tag)) && !others.some((o) => o.tags?.includes(tag)),
	);
	if (own !== undefined) return own;
	const id = freshId(
		tags.map((t) => t.id),
		slug(action || (prompt.replaceAll('{name}', '').trim().split(/\s+/)[0] ?? '')) || 'chosen',
	);
	tags.push({ id });
	for (const o of mine) o.tags = [...(o.tags ?? []), id];
	return id;
}

/** Puts the rule before the other outcomes of a query, so that it is the one that counts. */
export function ruleForAll(draft: Project, ids: readonly string[], query: string, given: Given): void {
	const asked = draft.queries.find((q) => q.id === query);
	if (!asked || (given.prompt === '' && given.action === '')) return;
	const tag = tagFor(draft, ids, given);
	asked.outcomes = [
		{
			tag,
			...(given.prompt === '' ? {} : { prompt: given.prompt }),
			...(given.action === '' ? {} : { action: given.action }),
		},
		...(asked.outcomes ?? []).filter((o) => o.tag !== tag || o.when !== undefined),
	];
}
