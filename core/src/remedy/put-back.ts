/** What was put otherwise by the last edits, put back. */
import type { Query, SceneObject } from '../project/schema';
import { type Candidate, type Case, plain } from './candidate';
import { onObject, onQuery } from './change';

/** An object or a query as it was before an edit. */
export interface Earlier {
	entry: { object: SceneObject } | { query: Query };
	/** What the edit was called. */
	edit: string;
}

/** A change that leaves of an entry nothing but what it was. */
const restored = <T extends object>(now: T, was: T): Partial<T> => ({
	...(Object.fromEntries(Object.keys(now).map((key) => [key, undefined])) as Partial<T>),
	...was,
});

/** The query, the object meant, what stands before it, what is chosen instead and who asks, each as it was before its last edit. */
export function* puttingBack(c: Case, earlier: readonly Earlier[]): Generator<Candidate> {
	const { query, target, subject, verdict, answer, world, naming } = c;
	const meant = new Set([
		target.id,
		subject.id,
		verdict?.by,
		query.asker,
		...answer.selected.map((s) => s.object),
		...answer.tied,
	]);
	for (const id of [...meant])
		for (let up = world.objectById.get(id ?? '')?.parent ?? null; up; up = up.parent) meant.add(up.id);
	const done = new Set<string>();
	for (const { entry, edit } of earlier) {
		const isQuery = 'query' in entry;
		const { id } = isQuery ? entry.query : entry.object;
		const key = `${isQuery ? 'query' : 'object'} ${id}`;
		if (done.has(key) || !(isQuery ? id === query.id : meant.has(id))) continue;
		done.add(key);
		const recipe = isQuery
			? onQuery(id, (now) => restored(now, entry.query))
			: onObject(id, (now) => restored(now, entry.object));
		const name = isQuery ? (query.name ?? id) : naming('object', id);
		yield { ...plain('put-back', `Put ${name} back as it was before “${edit}”`, recipe), looks: 'mistake' };
	}
}
