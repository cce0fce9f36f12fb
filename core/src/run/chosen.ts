/** What an entry chooses at a step, and who was in the running. */
import type { Probed } from '../query/answer';
import type { Verdict } from '../query/types';
import type { WorldObject } from '../world/world';

/** What is chosen, as answered for, with the object it was chosen through where that is a stand-in. */
export interface Chosen {
	selected: string[];
	tied: string[];
	/** By the place in `selected`. */
	through: (string | null)[];
}

export const NOTHING_CHOSEN: Chosen = { selected: [], tied: [], through: [] };

const sameList = (a: readonly string[], b: readonly string[]): boolean =>
	a.length === b.length && a.every((v, i) => v === b[i]);

export const sameChoice = (a: Chosen, b: Chosen): boolean =>
	sameList(a.selected, b.selected) && sameList(a.tied, b.tied);

const isContender = (v: Verdict): boolean => v.stage === 'choice' || v.stage === 'tied' || v.stage === 'selected';

/** The contenders of a step, in file order. */
export function contendersOf({ verdicts, touched }: Probed): WorldObject[] {
	return touched.filter((o) => {
		const verdict = verdicts[o.index];
		return verdict !== undefined && isContender(verdict);
	});
}
