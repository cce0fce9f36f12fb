/** Checks: what a query should answer at a moment, held against what it does answer. */

import { isOn, stillChecks } from '../project/check-kinds';
import { oneLine } from '../project/describe';
import type { Check, Expect, Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Answer } from '../query/types';
import { anyTagsOf, byId, metres, type Naming, wordsOfVerdict } from '../query/words';
import { buildWorld } from '../world/world';

/** What became of one check. */
export interface CheckResult {
	id: string;
	query: string;
	moment: string | null;
	pass: boolean;
	wanted: Expect;
	got: Answer;
	/** Empty when it holds; else what was wanted, what was got, and why. */
	reason: string;
}

/** `crank, then lever`, `nothing`, `a tie of a and b`. */
export function wordsOfWanted(expect: Expect, naming: Naming = byId): string {
	const names = (ids: readonly string[]) => ids.map((id) => naming('object', id));
	if (expect.selects) return names(expect.selects).join(expect.order === 'any' ? ' and ' : ', then ');
	if (expect.none) return 'nothing';
	if (expect.tie) return `a tie of ${names(expect.tie).join(' and ')}`;
	if (expect.room !== undefined) return expect.room ? 'room' : 'no room';
	return 'the query to be off';
}

/** The same for an answer. */
export function wordsOfGot(answer: Answer, naming: Naming = byId): string {
	const names = (ids: readonly string[]) => ids.map((id) => naming('object', id));
	switch (answer.status) {
		case 'selected':
			return names(answer.selected.map((s) => s.object)).join(', then ');
		case 'none':
			return 'nothing';
		case 'tie':
			return `a tie of ${names(answer.tied).join(' and ')}`;
		case 'off':
			return 'the query off';
		case 'waiting':
			return 'the query waiting';
	}
}

/** A depth of less than this is told as touching, metres. */
export const FELT = 1e-5;

/** What an answer says of room: what is in the way and how deep, and where it is borne; null where it says nothing. */
export function wordsOfRoom({ room, selected, tied }: Answer, naming: Naming = byId): string | null {
	if (!room) return null;
	const name = (id: string) => naming('object', id);
	const deep = selected.map(
		(s) => `${name(s.object)} ${s.depth && s.depth >= FELT ? `${metres(s.depth)} deep` : 'touching'}`,
	);
	const way = room.free ? 'nothing in the way' : `in the way: ${[...deep, ...tied.map(name)].join(', ')}`;
	return room.of === undefined ? way : `${way}${room.free ? ',' : ';'} borne at ${room.bears} of ${room.of} points`;
}

/** Whether there is room by an answer: nothing in the way, and borne everywhere where that is asked; null where it says nothing. */
export const hasRoom = ({ room }: Answer): boolean | null => (room ? room.free && room.bears === room.of : null);

const sameSet = (a: readonly string[], b: readonly string[]): boolean =>
	a.length === b.length && [...a].sort().join(' ') === [...b].sort().join(' ');

/**
 * @returns why an answer is not what a check expects, or an empty text when it is
 */
export function failureOf(expect: Expect, answer: Answer, naming: Naming = byId, query?: Query): string {
	const chosen = answer.selected.map((s) => s.object);
	const main = (): boolean => {
		if (expect.selects) {
			if (answer.status !== 'selected') return false;
			return expect.order === 'any' ? sameSet(expect.selects, chosen) : expect.selects.join(' ') === chosen.join(' ');
		}
		if (expect.none) return answer.status === 'none';
		if (expect.tie) return answer.status === 'tie' && sameSet(expect.tie, answer.tied);
		if (expect.room !== undefined) return hasRoom(answer) === expect.room;
		return answer.status === 'off';
	};
	const name = (id: string) => naming('object', id);
	if (!main()) {
		const lists = severalWords(expect, answer, naming);
		const got =
			expect.room === undefined
				? wordsOfGot(answer, naming)
				: (wordsOfRoom(answer, naming) ?? wordsOfGot(answer, naming));
		const what = lists ?? `wanted ${wordsOfWanted(expect, naming)}, got ${got}`;
		return `${what}${because(expect, answer, naming, query)}`;
	}
	for (const id of expect.not ?? []) {
		if (chosen.includes(id)) return `${name(id)} must not be selected, and is`;
		if (answer.tied.includes(id)) return `${name(id)} must not be tied, and is`;
	}
	const first = answer.selected[0];
	if (expect.action !== undefined && first?.action !== expect.action)
		return `wanted the action ${oneLine(expect.action)}, got ${oneLine(first?.action ?? 'none')}`;
	if (expect.point) {
		if (!first) return 'wanted a point, but nothing is selected';
		const [x, y, z] = expect.point.near;
		const away = Math.hypot(first.point[0] - x, first.point[1] - y, first.point[2] - z);
		if (away > expect.point.within)
			return `the point is ${Number(away.toPrecision(4))} m from where it should be, ${expect.point.within} m is allowed`;
	}
	if (expect.blocked) {
		const { object, by } = expect.blocked;
		const verdict = answer.verdicts.find((v) => v.object === object);
		if (verdict?.stage !== 'sight' || verdict.by !== by) {
			const is = verdict ? `${verdict.stage}: ${wordsOfVerdict(verdict, naming, anyTagsOf(query))}` : 'not judged';
			return `wanted ${name(object)} hidden by ${name(by)}, but it is ${is}`;
		}
	}
	return '';
}

/** Of lists of several: what is missing, what is too much, what is out of order; null where that says no more than the lists. */
function severalWords(expect: Expect, answer: Answer, naming: Naming): string | null {
	const wanted = expect.selects;
	if (!wanted || answer.status !== 'selected') return null;
	const got = answer.selected.map((s) => s.object);
	if (wanted.length < 3 && got.length < 3) return null;
	const names = (ids: readonly string[]) => ids.map((id) => naming('object', id)).join(', ');
	const missing = wanted.filter((id) => !got.includes(id));
	const surplus = got.filter((id) => !wanted.includes(id));
	const parts: string[] = [];
	if (missing.length > 0) parts.push(`missing ${names(missing)}`);
	if (surplus.length > 0) parts.push(`too much: ${names(surplus)}`);
	if (parts.length === 0) {
		const at = got.findIndex((id, i) => wanted[i] !== id);
		const [is, should] = [got[at], wanted[at]];
		if (is !== undefined && should !== undefined)
			parts.push(`out of order: place ${at + 1} is ${names([is])}, wanted ${names([should])}`);
	}
	return `wanted ${wanted.length}, got ${got.length}: ${parts.join('; ')}`;
}

/** Why the first wanted object is not there. */
function because(expect: Expect, answer: Answer, naming: Naming, query: Query | undefined): string {
	const chosen = new Set(answer.selected.map((s) => s.object));
	const missing = [...(expect.selects ?? []), ...(expect.tie ?? [])].find((id) => !chosen.has(id));
	const verdict = answer.verdicts.find((v) => v.object === missing && v.stage !== 'selected');
	return verdict
		? ` (${naming('object', verdict.object)}: ${verdict.stage}, ${wordsOfVerdict(verdict, naming, anyTagsOf(query))})`
		: '';
}

/** Checks of queries at moments that are not switched off: `extras.off` keeps one in the file without running it. */
export const activeChecks = (project: Project): Check[] => stillChecks(project).filter(isOn);

/**
 * Runs checks of a project; each moment's world is built once.
 * @example
 * const results = runChecks(project);
 * const failing = results.filter((result) => !result.pass);
 * for (const { id, reason } of failing) console.log(id, reason);
 * @param checks those to run, in the order wanted
 * @param progress told how many are done
 * @param brief verdicts only of what fails: several times faster where most holds. `reasons`: of those only what the reason is made of is
 *   measured, and `got` is not to be kept: for whoever goes on with `pass` and `reason` alone
 */
export function runChecks(
	project: Project,
	checks: readonly Check[] = activeChecks(project),
	progress: (done: number) => void = () => {},
	brief: boolean | 'reasons' = false,
	judged: (id: string) => void = () => {},
): CheckResult[] {
	const asked = new Map<string, Answerer>();
	const answers = new Map<string, Answer>();
	return checks.map((check, i) => {
		if (i % 64 === 0) progress(i);
		const moment = check.moment ?? null;
		const place = moment ?? '';
		let answerer = asked.get(place);
		if (!answerer) {
			answerer = new Answerer(buildWorld(project, moment));
			asked.set(place, answerer);
		}
		const key = `${place} ${check.query}`;
		let got = answers.get(key);
		if (!got) {
			const query = answerer.world.queryById.get(check.query);
			if (!query) throw new RangeError(`no query "${check.query}"`);
			got = brief ? answerer.winner(query) : answerer.explain(query);
			answers.set(key, got);
		}
		if (brief && got.verdicts.length === 0 && (check.expect.blocked || failureOf(check.expect, got) !== '')) {
			got = answerer.explain(answerer.world.queryById.get(check.query) as Query, undefined, brief === 'reasons');
			answers.set(key, got);
		}
		const reason = failureOf(check.expect, got, byId, answerer.world.queryById.get(check.query));
		judged(check.id);
		return { id: check.id, query: check.query, moment, pass: reason === '', wanted: check.expect, got, reason };
	});
}
