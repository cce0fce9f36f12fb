/** What is read aloud when an answer has become another: the object, the distance and the reason, and nothing else. */
import { type Answer, type Naming, STAGES, type Verdict, wordsOfVerdict } from '@frelk/core';

/** As many are read out by name; who has more looks at the list. */
const FEW = 3;

/** By how much one failed, in the unit of its stage. */
export const byHowMuch = (v: Verdict): number => v.beyond ?? v.margin ?? Infinity;

/** The one that came farthest of those that were not taken: what is said of it is why the answer is this one. */
function farthest(verdicts: readonly Verdict[]): Verdict | null {
	let best: Verdict | null = null;
	for (const v of verdicts) {
		if (v.stage === 'selected' || v.stage === 'tied') continue;
		const by = best === null ? 1 : STAGES.indexOf(v.stage) - STAGES.indexOf(best.stage);
		if (by > 0 || (by === 0 && best !== null && byHowMuch(v) < byHowMuch(best))) best = v;
	}
	return best;
}

/**
 * @param figure an object's figure in words, by which it was chosen
 * @param any the tags of which the query wants one
 */
export function toldOf(
	answer: Answer,
	naming: Naming,
	figure: (object: string, distance: number) => string,
	any: readonly string[] = [],
): string {
	const name = (id: string) => naming('object', id);
	const loser = farthest(answer.verdicts);
	const why = loser === null ? '' : ` ${name(loser.object)}: ${wordsOfVerdict(loser, naming, any)}.`;
	switch (answer.status) {
		case 'selected': {
			const few = answer.selected
				.slice(0, FEW)
				.map((s) => `${name(s.object)}, ${figure(s.through ?? s.object, s.distance)}`);
			const more = answer.selected.length - few.length;
			// Why another was not taken is a reason only where it was a choice.
			return `${few.join('; ')}${more > 0 ? `; ${more} more` : ''}.${loser?.stage === 'choice' ? why : ''}`;
		}
		case 'tie':
			return `Tie: ${answer.tied.slice(0, FEW).map(name).join(', ')}${answer.tied.length > FEW ? ` and ${answer.tied.length - FEW} more` : ''}. Nothing tells them apart.`;
		case 'none':
			return `Nothing is selected.${why}`;
		case 'off':
			return 'The query is off.';
		case 'waiting':
			return 'The query is waiting.';
	}
}
