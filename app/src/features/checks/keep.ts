/** Turning answers into checks, and expectations in words. */
import { type Answer, type Check, type Expect, expectationOf, type Naming, type Project, wordsOfWanted } from '@frelk/core';
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

/** All that a check expects, in a few words. */
export function wordsOfExpectation(expect: Expect, naming: Naming): string {
	const name = (id: string) => naming('object', id);
	const parts = [
		expect.selects && expect.order === 'any' && expect.selects.length > 1 ? `${wordsOfWanted(expect, naming)}, in any order` : wordsOfWanted(expect, naming),
	];
	if (expect.not?.length) parts.push(`not ${expect.not.map(name).join(' nor ')}`);
	if (expect.action !== undefined) parts.push(`action ${expect.action}`);
	if (expect.point) parts.push(`within ${expect.point.within} m of (${expect.point.near.join(', ')})`);
	if (expect.blocked) parts.push(`${name(expect.blocked.object)} hidden by ${name(expect.blocked.by)}`);
	return parts.join('; ');
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

/** The words for how long ago something was. */
export function ago(at: number, now: number): string {
	const minutes = Math.round((now - at) / 60000);
	if (minutes < 1) return 'just now';
	if (minutes < 60) return `${minutes} min ago`;
	const hours = Math.round(minutes / 60);
	if (hours < 36) return `${hours} h ago`;
	return `${Math.round(hours / 24)} days ago`;
}
