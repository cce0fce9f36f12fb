/** Turning answers into checks. */
import { type Answer, type Check, expectationOf, type Project } from '@frelk/core';
import { freshId } from '../edit/objects';

/** Keeps an answer as a check of its query at a moment. @returns the id of the check, or null where there is nothing to keep */
export function keepAnswer(draft: Project, answer: Answer, moment: string | null): string | null {
	const expect = expectationOf(answer);
	if (!expect) return null;
	draft.checks ??= [];
	const id = freshId(
		draft.checks.map((c) => c.id),
		moment === null ? answer.query : `${answer.query}-${moment}`.slice(0, 56),
	);
	draft.checks.push({ id, query: answer.query, ...(moment === null ? {} : { moment }), expect });
	return id;
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
