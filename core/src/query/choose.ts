/** The stage `choice`: among contenders the rules decide, with slack; what they cannot tell apart is a tie. */
import { takeOf } from '../project/defaults';
import type { Query, Rule, RuleName } from '../project/schema';
import { asGood } from './decide';
import type { Filters } from './filters';
import { choiceDistance, viewAngle } from './limits';
import { type Placement, pixelsFromCursor } from './placement';
import { type Contender, focusOf } from './touch';
import type { Verdict } from './types';

export interface Choice {
	/** Taken for sure, in the order of taking. */
	taken: Contender[];
	/** The group that could not be told apart where it mattered; empty without a tie. */
	tied: Contender[];
	/** Groups among those taken that no rule could tell apart: their order is the file's. Of one taken alone there is none. */
	equal: Contender[][];
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

/** Slack of a rule where none is given: metres, degrees, pixels, or exact. */
export function slackOf(rule: Rule, tieSlack: number): number {
	if (rule.slack !== undefined) return rule.slack;
	return { distance: tieSlack, aim: 0.1, cursor: 0.5, priority: 0, direct: 0, listed: 0, seen: 0 }[rule.rule];
}

/** A rule's figure for a contender; the smaller is the better, and what cannot be measured comes last. */
export function ruleValue(f: Filters, placement: Placement, rule: Rule, c: Contender): number {
	const value = measured(f, placement, rule, c);
	return Number.isNaN(value) ? Infinity : value;
}

function measured(f: Filters, placement: Placement, rule: Rule, c: Contender): number {
	switch (rule.rule) {
		case 'distance':
			return choiceDistance(f, placement, c, rule.to ?? 'contact');
		case 'aim':
			return viewAngle(f, placement, c.object);
		case 'cursor':
			return placement.view ? pixelsFromCursor(placement.view, focusOf(placement, f.world.flat, c.object)) : Infinity;
		case 'priority':
			return -c.object.answersFor.priority;
		case 'direct':
			return c.assisted ? 1 : 0;
		case 'listed':
			return c.object.index;
		case 'seen':
			return c.marks ? -c.marks.seen / c.marks.of : 0;
	}
}

const inFileOrder = (a: Contender, b: Contender) =>
	a.object.answersFor.index - b.object.answersFor.index || a.object.index - b.object.index;

/** Takes the best of the contenders: one, or the group the rules leave. */
function takeBest(
	f: Filters,
	placement: Placement,
	rules: readonly Rule[],
	from: readonly Contender[],
): { group: Contender[]; losses: Map<Contender, Loss> } {
	let group = [...from];
	const losses = new Map<Contender, Loss>();
	for (const rule of rules) {
		if (group.length < 2) break;
		const slack = slackOf(rule, f.world.tieSlack);
		const values = group.map((c) => ruleValue(f, placement, rule, c));
		let best = Infinity;
		for (const value of values) if (value < best) best = value;
		group = group.filter((c, i) => {
			if (asGood(values[i], best, slack)) return true;
			const behind = values[i] - best;
			losses.set(c, { rule: rule.rule, margin: Number.isFinite(behind) ? behind : undefined });
			return false;
		});
	}
	return { group: group.sort(inFileOrder), losses };
}

/**
 * The groups that taking one after the other comes to, each as `takeBest` would find it among what is left. Values are measured once, and
 * as long as one of the best is left those within slack of it stay the same: among them the further rules take in turn.
 */
function* inTurn(
	f: Filters,
	placement: Placement,
	rules: readonly Rule[],
	from: readonly Contender[],
): Generator<Contender[]> {
	const [rule, ...rest] = rules;
	if (!rule || from.length < 2) {
		if (from.length > 0) yield [...from].sort(inFileOrder);
		return;
	}
	const slack = slackOf(rule, f.world.tieSlack);
	const figures = new Map(from.map((c) => [c, ruleValue(f, placement, rule, c)]));
	const figure = (c: Contender): number => figures.get(c) ?? Infinity;
	const sorted = [...from].sort((a, b) => (figure(a) === figure(b) ? 0 : figure(a) - figure(b)));
	const gone = new Set<Contender>();
	for (let head = 0; head < sorted.length; ) {
		const best = figure(sorted[head]);
		const near: Contender[] = [];
		let ofBest = 0;
		for (let i = head; i < sorted.length; i++) {
			const c = sorted[i];
			if (!asGood(figure(c), best, slack)) break;
			if (gone.has(c)) continue;
			near.push(c);
			if (figure(c) === best) ofBest++;
		}
		for (const group of inTurn(f, placement, rest, near)) {
			yield group;
			for (const c of group) {
				gone.add(c);
				if (figure(c) === best) ofBest--;
			}
			if (ofBest === 0) break;
		}
		while (head < sorted.length && gone.has(sorted[head])) head++;
	}
}

export function choose(f: Filters, placement: Placement, contenders: readonly Contender[]): Choice {
	const rules = rulesOf(f.query);
	const lost: Verdict[] = [];
	let remaining = mergeStandIns(f, placement, rules, contenders, lost);
	const taken: Contender[] = [];
	const take = takeOf(f.query);
	let open = take === 'all' ? Infinity : take;
	let tied: Contender[] = [];
	const equal: Contender[][] = [];
	let last: ReturnType<typeof takeBest> | null = null;
	if (open === 1) {
		if (remaining.length > 0) {
			last = takeBest(f, placement, rules, remaining);
			if (last.group.length > 1) tied = last.group;
			else taken.push(...last.group);
		}
	} else {
		const gone = new Set<Contender>();
		let group: Contender[] = [];
		for (group of inTurn(f, placement, rules, remaining)) {
			if (group.length > open) {
				tied = group;
				break;
			}
			taken.push(...group);
			if (group.length > 1) equal.push(group);
			open -= group.length;
			if (open === 0) break;
			for (const c of group) gone.add(c);
		}
		remaining = remaining.filter((c) => !gone.has(c));
		// What is left over is held against the last round.
		if (remaining.length > group.length) last = takeBest(f, placement, rules, remaining);
	}
	if (last) {
		const chosen = new Set(last.group);
		remaining = remaining.filter((c) => !chosen.has(c));
	} else remaining = [];
	for (const c of remaining) {
		const loss = last?.losses.get(c);
		const by = last?.group[0]?.object.answersFor.id;
		if (!loss || by === undefined) continue;
		const verdict: Verdict = { object: c.object.id, stage: 'choice', rule: loss.rule, by };
		if (loss.margin !== undefined) verdict.margin = loss.margin;
		lost.push({ ...verdict, ...c.marks });
	}
	return { taken, tied, equal, lost };
}

/** Contenders that answer for the same object are reduced to the one the rules prefer; equal ones by file order. */
function mergeStandIns(
	f: Filters,
	placement: Placement,
	rules: readonly Rule[],
	contenders: readonly Contender[],
	lost: Verdict[],
): Contender[] {
	if (!f.world.hasStandIns) return [...contenders];
	const groups = new Map<unknown, Contender[]>();
	for (const c of contenders) {
		const group = groups.get(c.object.answersFor);
		if (group) group.push(c);
		else groups.set(c.object.answersFor, [c]);
	}
	const kept: Contender[] = [];
	for (const group of groups.values()) {
		const winner = group.length === 1 ? group[0] : takeBest(f, placement, rules, group).group[0];
		kept.push(winner);
		for (const c of group)
			if (c !== winner)
				lost.push({ object: c.object.id, stage: 'choice', rule: 'stands-for', by: winner.object.id, ...c.marks });
	}
	return kept.sort((a, b) => a.object.index - b.object.index);
}
