/** The figures by which contenders were told apart: those of the rule that decided, as a ladder or a strip shows them. */
import type { Query, Rule } from '../project/schema';
import type { World } from '../world/world';
import { rulesOf, ruleValue } from './choose';
import { filtersOf } from './filters';
import type { Placement } from './placement';
import type { Contender } from './touch';
import type { Answer } from './types';
import { degrees, metres } from './words';

/** The deciding rule, and each contender's figure by it. */
export interface ChoiceFigures {
	rule: Rule;
	/** By the id of the contender itself: metres, degrees, pixels, a priority or a place in the file. What cannot be measured is left out. */
	of: ReadonlyMap<string, number>;
}

/**
 * The rule that decided an answer: the last that told a contender from the one taken; where none had to, or nothing could, the first.
 * @param touched the contacts that `Answerer.explain` gave with the answer
 * @returns null where nothing came to the choice
 */
export function choiceFigures(
	world: World,
	query: Query,
	placement: Placement,
	answer: Answer,
	touched: readonly Contender[],
): ChoiceFigures | null {
	const rules = rulesOf(query);
	const lost = new Set<string>();
	const contending = new Set<string>();
	for (const verdict of answer.verdicts) {
		if (verdict.stage !== 'choice' && verdict.stage !== 'tied' && verdict.stage !== 'selected') continue;
		contending.add(verdict.object);
		if (verdict.rule !== undefined && verdict.rule !== 'stands-for') lost.add(verdict.rule);
	}
	if (contending.size === 0) return null;
	const rule = rules.findLast((r) => lost.has(r.rule)) ?? rules[0];
	if (!rule) return null;
	const filters = filtersOf(world, query);
	const of = new Map<string, number>();
	for (const contact of touched) {
		if (!contending.has(contact.object.id)) continue;
		const value = ruleValue(filters, placement, rule, contact);
		if (Number.isFinite(value))
			of.set(contact.object.id, rule.rule === 'priority' || rule.rule === 'seen' ? 0 - value : value);
	}
	return { rule, of };
}

/** A figure with its unit and what it is of: `1.63 m to its focus`, `3.2° off the aim`, `priority 4`. */
export function wordsOfFigure(rule: Rule, value: number): string {
	switch (rule.rule) {
		case 'distance':
			return rule.to === 'focus' ? `${metres(value)} to its focus` : metres(value);
		case 'aim':
			return `${degrees(value)} off the aim`;
		case 'cursor':
			return `${Number(value.toFixed(1))} px from the cursor`;
		case 'priority':
			return `priority ${Number(value.toFixed(3))}`;
		case 'direct':
			return value === 0 ? 'touched itself' : 'by assist';
		case 'listed':
			return `entry ${value + 1} in the file`;
		case 'seen':
			return `${Math.round(100 * value)} % of its marks seen`;
	}
}
