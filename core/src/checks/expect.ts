/** From an answer to what a check expects of it. */
import type { Check, Expect } from '../project/schema';
import { equalsIn } from '../query/answer';
import type { Answer } from '../query/types';
import { failureOf, hasRoom } from './check';

/**
 * What an answer is, as an expectation; null for one that waits: that is nothing to expect. Where several are selected that no rule tells
 * apart, their order is nothing to expect either.
 */
export function expectationOf(answer: Answer): Expect | null {
	switch (answer.status) {
		case 'selected': {
			const first = answer.selected[0];
			return {
				selects: answer.selected.map((s) => s.object),
				...(equalsIn(answer).length > 0 ? { order: 'any' as const } : {}),
				...(answer.selected.length === 1 && first?.action ? { action: first.action } : {}),
			};
		}
		case 'none':
			return { none: true };
		case 'tie':
			return { tie: [...answer.tied] };
		case 'off':
			return { off: true };
		case 'waiting':
			return null;
	}
}

/** What is kept of an answer as a check: of a question of room whether there is any, whatever is in the way; else the answer. */
export function keptOf(answer: Answer): Expect | null {
	const room = hasRoom(answer);
	return room === null ? expectationOf(answer) : { room };
}

/**
 * What a failing check would have to expect to hold: the answer as it is now, with those of its further conditions that hold.
 * @returns null where the query waits
 */
export function updatedExpectation(check: Check, answer: Answer): Expect | null {
	const now = check.expect.room === undefined ? expectationOf(answer) : keptOf(answer);
	if (!now) return null;
	const { action: _, ...main } = now;
	const next: Expect = { ...main, ...(check.expect.order && main.selects ? { order: check.expect.order } : {}) };
	for (const key of ['not', 'point', 'blocked'] as const) {
		const with_ = { ...next, [key]: check.expect[key] };
		if (check.expect[key] !== undefined && failureOf(with_, answer) === '')
			Object.assign(next, { [key]: check.expect[key] });
	}
	const action = answer.selected[0]?.action;
	if (check.expect.action !== undefined && action) next.action = action;
	return next;
}
