/** Answers and checks in words, with names. */
import {
	type CheckResult,
	type Expect,
	failureOf,
	isStill,
	type Naming,
	type Project,
	type QuickAnswer,
	type Stage,
	wordsOfWanted,
} from '@frelk/core';
import type { Run } from '../../data/db';
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

/** What a check is called: by its own name, or by its query and moment; its id where it is gone. */
export function nameOfCheck(
	project: Project,
	id: string,
	name: (kind: 'query' | 'moment', id: string) => string,
): string {
	const check = project.checks?.find((c) => c.id === id);
	if (!check) return id;
	if (check.name !== undefined) return check.name;
	if ('map' in check) return `${project.maps?.find((m) => m.id === check.map)?.name ?? check.map}, map`;
	if (!isStill(check)) return `${project.runs?.find((r) => r.id === check.run)?.name ?? check.run}, run-through`;
	return `${name('query', check.query)}, ${check.moment === undefined ? 'as laid out' : name('moment', check.moment)}`;
}

/** What turned at a run: checks that failed then and not at the run before it, and those that failed there and no longer. */
export function turnedIn(run: Run, before: Run | undefined): { fails: Run['failing']; holds: string[] } {
	const was = new Set(before?.failing.map((f) => f.check));
	const now = new Set(run.failing.map((f) => f.check));
	const ran = new Set(run.ran);
	return {
		fails: run.failing.filter((f) => !was.has(f.check)),
		holds: [...was].filter((check) => !now.has(check) && ran.has(check)),
	};
}
