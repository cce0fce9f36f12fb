/** The stage `choice`: among contenders the rules decide, with slack; what they cannot tell apart is a tie. */
import type { Query, Rule, RuleName } from '../project/schema';
import type { Filters } from './filters';
import { type Frame, pixelsFromCursor } from './frame';
import { choiceDistance, viewAngle } from './limits';
import { type Contender, focusOf } from './touch';
import type { Verdict } from './types';

export interface Choice {
	/** Taken for sure, in the order of taking. */
	taken: Contender[];
	/** The group that could not be told apart where it mattered; empty without a tie. */
	tied: Contender[];
	/** Verdicts of those that lost. */
	lost: Verdict[];
}

interface Loss {
	rule: RuleName;
	margin: number | undefined;
}

/** The rules that apply, defaults filled in. */
export function rulesOf(query: Query): Rule[] {
	if (query.choose?.by) return query.choose.by;
	const assist = (query.kind === 'ray' || query.kind === 'pick') && query.assist !== undefined;
	return assist ? [{ rule: 'direct' }, { rule: 'distance' }] : [{ rule: 'distance' }];
}

/** How many are taken: a number or all of them. */
export const takeOf = (query: Query): number | 'all' => query.choose?.take ?? (query.kind === 'hitbox' ? 'all' : 1);

/** Slack of a rule where none is given: metres, degrees, pixels, or exact. */
export function slackOf(rule: Rule, tieSlack: number): number {
	if (rule.slack !== undefined) return rule.slack;
	return { distance: tieSlack, aim: 0.1, cursor: 0.5, priority: 0, direct: 0, listed: 0 }[rule.rule];
}

/** A rule's figure for a contender; the smaller is the better. */
export function ruleValue(f: Filters, frame: Frame, rule: Rule, c: Contender): number {
	switch (rule.rule) {
		case 'distance':
			return choiceDistance(f, frame, c, rule.to ?? 'contact');
		case 'aim':
			return viewAngle(f, frame, c.object);
		case 'cursor':
			return frame.view ? pixelsFromCursor(frame.view, focusOf(frame, f.world.flat, c.object)) : Infinity;
		case 'priority':
			return -c.object.answersFor.priority;
		case 'direct':
			return c.assisted ? 1 : 0;
		case 'listed':
			return c.object.index;
	}
}

const inFileOrder = (a: Contender, b: Contender) => a.object.answersFor.index - b.object.answersFor.index || a.object.index - b.object.index;

/** Takes the best of the contenders: one, or the group the rules leave. */
function takeBest(f: Filters, frame: Frame, rules: readonly Rule[], from: readonly Contender[]): { group: Contender[]; losses: Map<Contender, Loss> } {
	let group = [...from];
	const losses = new Map<Contender, Loss>();
	for (const rule of rules) {
		if (group.length < 2) break;
		const slack = slackOf(rule, f.world.tieSlack);
		const values = group.map((c) => ruleValue(f, frame, rule, c));
		const best = Math.min(...values);
		group = group.filter((c, i) => {
			const behind = values[i] === best ? 0 : values[i] - best;
			if (behind <= slack) return true;
			losses.set(c, { rule: rule.rule, margin: Number.isFinite(behind) ? behind : undefined });
			return false;
		});
	}
	return { group: group.sort(inFileOrder), losses };
}

export function choose(f: Filters, frame: Frame, contenders: readonly Contender[]): Choice {
	const rules = rulesOf(f.query);
	const lost: Verdict[] = [];
	let remaining = mergeStandIns(f, frame, rules, contenders, lost);
	const taken: Contender[] = [];
	const take = takeOf(f.query);
	let open = take === 'all' ? Infinity : take;
	let tied: Contender[] = [];
	let last: ReturnType<typeof takeBest> | null = null;
	while (remaining.length > 0 && open > 0) {
		last = takeBest(f, frame, rules, remaining);
		const { group } = last;
		remaining = remaining.filter((c) => !group.includes(c));
		if (group.length > open) {
			tied = group;
			break;
		}
		taken.push(...group);
		open -= group.length;
	}
	for (const c of remaining) {
		const loss = last?.losses.get(c);
		const by = last?.group[0]?.object.answersFor.id;
		if (!loss || by === undefined) continue;
		const verdict: Verdict = { object: c.object.id, stage: 'choice', rule: loss.rule, by };
		if (loss.margin !== undefined) verdict.margin = loss.margin;
		lost.push(verdict);
	}
	return { taken, tied, lost };
}

/** Contenders that answer for the same object are reduced to the one the rules prefer; equal ones by file order. */
function mergeStandIns(f: Filters, frame: Frame, rules: readonly Rule[], contenders: readonly Contender[], lost: Verdict[]): Contender[] {
	if (!f.world.hasStandIns) return [...contenders];
	const groups = new Map<unknown, Contender[]>();
	for (const c of contenders) {
		const group = groups.get(c.object.answersFor);
		if (group) group.push(c);
		else groups.set(c.object.answersFor, [c]);
	}
	const kept: Contender[] = [];
	for (const group of groups.values()) {
		const winner = group.length === 1 ? group[0] : takeBest(f, frame, rules, group).group[0];
		kept.push(winner);
		for (const c of group) if (c !== winner) lost.push({ object: c.object.id, stage: 'choice', rule: 'stands-for', by: winner.object.id });
	}
	return kept.sort((a, b) => a.object.index - b.object.index);
}
