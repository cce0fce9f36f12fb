/** Turning answers into checks. */
import {
	type Answer,
	type Check,
	type Expect,
	expectationOf,
	type MapResult,
	type Project,
	wordsOfMapWanted,
} from '@frelk/core';
import { namingOf } from '../../model/names';
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

/** The longest name a file may hold. */
const LONGEST_NAME = 200;

/** Keeps what an object has of a map: its widest circle, of a cursor map, else its share, each rounded down. @returns the id of the check */
export function keepFigure(draft: Project, map: string, figure: MapResult['figures']['objects'][number]): string {
	draft.checks ??= [];
	const id = freshId(
		draft.checks.map((c) => c.id),
		`${map}-${figure.object}`.slice(0, 56),
	);
	const { object, share, circle } = figure;
	// Four figures of it: a small share must not be kept as none.
	const scale = 10 ** (3 - Math.floor(Math.log10(share)));
	const expect =
		circle === null
			? { object, share: { min: Math.floor(share * scale) / scale } }
			: { object, circle: { min: Math.floor(circle * 10) / 10 } };
	const name = wordsOfMapWanted(expect, namingOf(draft.scene));
	draft.checks.push({ id, ...(name.length > LONGEST_NAME ? {} : { name }), map, expect });
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
