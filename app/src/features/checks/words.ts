/** Answers and checks in words, with names. */
import {
	type CheckResult,
	type Expect,
	failureOf,
	type Naming,
	type Project,
	type QuickAnswer,
	type Stage,
	wordsOfWanted,
} from '@frelk/core';
import { nameOf, namingOf } from '../../model/names';

export function quickWords(project: Project, answer: QuickAnswer | undefined): string {
	if (!answer) return '…';
	const names = answer.objects.map((id) => nameOf(project, 'object', id));
	if (answer.status === 'selected')
		return names.length > 2 ? `${names[0]} and ${names.length - 1} more` : names.join(', ');
	if (answer.status === 'tie') return `tie: ${names.join(', ')}`;
	return answer.status === 'none' ? 'nothing' : answer.status;
}

export const markFor = (status: string | undefined): Stage =>
	status === 'selected' ? 'selected' : status === 'tie' ? 'tied' : status === 'none' ? 'touch' : 'layer';

/** The reason a check fails, with names. */
export function reasonWords(project: Project, r: CheckResult): string {
	const query = project.queries.find((q) => q.id === r.query);
	return failureOf(r.wanted, r.got, namingOf(project.scene), query) || r.reason;
}

/** All that a check expects, in a few words. */
export function wordsOfExpectation(expect: Expect, naming: Naming): string {
	const name = (id: string) => naming('object', id);
	const parts = [
		expect.selects && expect.order === 'any' && expect.selects.length > 1
			? `${wordsOfWanted(expect, naming)}, in any order`
			: wordsOfWanted(expect, naming),
	];
	if (expect.not?.length) parts.push(`not ${expect.not.map(name).join(' nor ')}`);
	if (expect.action !== undefined) parts.push(`action ${expect.action}`);
	if (expect.point) parts.push(`within ${expect.point.within} m of (${expect.point.near.join(', ')})`);
	if (expect.blocked) parts.push(`${name(expect.blocked.object)} hidden by ${name(expect.blocked.by)}`);
	return parts.join('; ');
}

const relative = new Intl.RelativeTimeFormat('en-GB', { numeric: 'auto', style: 'short' });
const MINUTE = 60_000;
const UNITS = [
	{ unit: 'day', ms: 1440 * MINUTE },
	{ unit: 'hour', ms: 60 * MINUTE },
	{ unit: 'minute', ms: MINUTE },
] as const;

/** How long ago something was. @param at @param now milliseconds since 1970 */
export function ago(at: number, now: number): string {
	const past = Math.max(0, now - at);
	const { unit, ms } = UNITS.find((u) => past >= u.ms) ?? UNITS[2];
	return past < MINUTE ? 'just now' : relative.format(-Math.round(past / ms), unit);
}
