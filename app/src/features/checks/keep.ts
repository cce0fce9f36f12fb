/** Turning answers into checks. */
import { type Answer, type Check, type Expect, keptOf, type Project } from '@frelk/core';
import { freshId } from '../edit/objects';

/** Keeps an answer as a check of its query at a moment. @returns the id of the check, or null where there is nothing to keep */
export function keepAnswer(draft: Project, answer: Answer, moment: string | null): string | null {
	const expect = keptOf(answer);
	if (!expect) return null;
	draft.checks ??= [];
	const id = freshId(
		draft.checks.map((c) => c.id),
		moment === null ? answer.query : `${answer.query}-${moment}`.slice(0, 56),
	);
	draft.checks.push({ id, query: answer.query, ...(moment === null ? {} : { moment }), expect });
	return id;
}

/** What to look remedies for so that a check holds; null where no object has to be selected, or left, for it. */
export function wishOf(expect: Expect, got: Answer): { object: string; wish: 'select' | 'leave' } | null {
	const chosen = got.selected.map((s) => s.object);
	const missing = expect.selects?.find((id) => !chosen.includes(id));
	if (missing !== undefined) return { object: missing, wish: 'select' };
	const surplus = [...chosen, ...got.tied].find((id) =>
		expect.selects ? !expect.selects.includes(id) : expect.none || expect.not?.includes(id),
	);
	return surplus === undefined ? null : { object: surplus, wish: 'leave' };
}

type Extras = { off?: boolean; notes?: string };
export const extrasOf = (check: Check): Extras => (check.extras ?? {}) as Extras;

export function setExtra(check: Check, key: keyof Extras, value: boolean | string | undefined): void {
	const extras = { ...(check.extras as Record<string, unknown> | undefined) };
	if (value === undefined || value === '' || value === false) delete extras[key];
	else extras[key] = value;
	if (Object.keys(extras).length === 0) delete check.extras;
	else check.extras = extras;
}
