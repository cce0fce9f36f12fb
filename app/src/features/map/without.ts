/** A query with one of its parts taken away: what that part does shows in what is different without it. */
import type { Project, Query } from '@frelk/core';

/** Parts that can be taken away, in words. */
const PARTS: readonly { key: string; words: string; rid: (query: Record<string, unknown>) => void }[] = [
	{ key: 'assist', words: 'aim assist', rid: (q) => delete q.assist },
	{ key: 'sight', words: 'what stops it', rid: (q) => delete q.sight },
	{ key: 'range', words: 'its range', rid: (q) => delete q.range },
	{ key: 'view', words: 'its view', rid: (q) => delete q.view },
	{
		key: 'tags',
		words: 'its tags',
		rid: (q) => {
			const { tags: _, ...rest } = (q.selects ?? {}) as Record<string, unknown>;
			q.selects = rest;
		},
	},
	{
		key: 'when',
		words: 'its states',
		rid: (q) => {
			const { when: _, ...rest } = (q.selects ?? {}) as Record<string, unknown>;
			q.selects = rest;
		},
	},
];

/** @returns what can be taken away from a query, by key and in words */
export function partsOf(query: Query): { key: string; words: string }[] {
	const has = { ...(query as unknown as Record<string, unknown>), ...(query.selects as object | undefined) };
	return PARTS.filter(({ key }) => (has as Record<string, unknown>)[key] !== undefined).map(({ key, words }) => ({
		key,
		words,
	}));
}

/** @returns the project with a query that lacks a part */
export function withoutPart(project: Project, query: string, key: string): Project {
	const part = PARTS.find((p) => p.key === key);
	return {
		...project,
		queries: project.queries.map((q) => {
			if (q.id !== query || !part) return q;
			const made = { ...q } as unknown as Record<string, unknown>;
			part.rid(made);
			return made as unknown as Query;
		}),
	};
}
