/** Taking several in turn, held against taking one after the other by the contract's own words. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Rule } from '../project/schema';
import { runs } from '../tests/runs';
import { choose, ruleValue, slackOf } from './choose';
import type { Filters } from './filters';
import type { Placement } from './placement';
import type { Contender } from './touch';

const placement = { rangeFrom: null, flatPick: false, view: null } as unknown as Placement;
const filters = (take: number | 'all', by: Rule[]): Filters =>
	({
		world: { tieSlack: 0.001, hasStandIns: false, flat: false },
		query: { kind: 'overlap', choose: { take, by } },
	}) as unknown as Filters;

const contender = (index: number, distance: number, priority: number, assisted: boolean): Contender => {
	const object = { id: `o${index}`, index, priority };
	return {
		object: { ...object, answersFor: object },
		shape: null,
		distance,
		point: [0, 0, 0],
		normal: null,
		assisted,
		box: null,
		contestedBy: [],
	} as unknown as Contender;
};

/** The contract's sentence, word by word: for each rule in turn keep those within slack of the best. */
function oneRound(f: Filters, rules: readonly Rule[], from: readonly Contender[]): Contender[] {
	let group = [...from];
	for (const rule of rules) {
		if (group.length === 1) break;
		const best = group.reduce((least, c) => Math.min(least, ruleValue(f, placement, rule, c)), Infinity);
		group = group.filter(
			(c) =>
				ruleValue(f, placement, rule, c) - best <= slackOf(rule, 0.001) || ruleValue(f, placement, rule, c) === best,
		);
	}
	return group;
}

function simply(f: Filters, take: number | 'all', rules: readonly Rule[], from: readonly Contender[]) {
	let rest = [...from];
	let open = take === 'all' ? Infinity : take;
	const taken: string[] = [];
	while (rest.length > 0 && open > 0) {
		const group = oneRound(f, rules, rest);
		if (group.length > open)
			return {
				taken,
				tied: group.map((c) => c.object.id),
				left: rest.filter((c) => !group.includes(c)).map((c) => c.object.id),
			};
		taken.push(...group.map((c) => c.object.id));
		open -= group.length;
		rest = rest.filter((c) => !group.includes(c));
	}
	return { taken, tied: [], left: rest.map((c) => c.object.id) };
}

const rule: fc.Arbitrary<Rule> = fc.oneof(
	fc.record({ rule: fc.constant('distance' as const), slack: fc.constantFrom(undefined, 0, 0.25, 0.5, 2) }),
	fc.record({ rule: fc.constantFrom('priority' as const, 'direct' as const), slack: fc.constantFrom(undefined, 0, 1) }),
	fc.constant({ rule: 'listed' as const }),
);

it('takes what taking one after the other takes, with the same ties and the same losers', () => {
	fc.assert(
		fc.property(
			fc.array(
				fc.tuple(
					fc.constantFrom(0, 0.25, 0.5, 1, 1.0005, 1.5, 2, 3, Infinity),
					fc.integer({ min: 0, max: 3 }),
					fc.boolean(),
				),
				{ maxLength: 14 },
			),
			fc.array(rule, { minLength: 1, maxLength: 3 }),
			fc.constantFrom<number | 'all'>(1, 2, 3, 7, 100, 'all'),
			(list, rules, take) => {
				const f = filters(take, rules);
				const contenders = list.map(([distance, priority, assisted], i) => contender(i, distance, priority, assisted));
				const got = choose(f, placement, contenders);
				const wanted = simply(f, take, rules, contenders);
				expect(got.taken.map((c) => c.object.id)).toEqual(wanted.taken);
				expect(got.tied.map((c) => c.object.id)).toEqual(wanted.tied);
				expect(got.lost.map((v) => v.object).sort()).toEqual(wanted.left.sort());
				for (const v of got.lost)
					expect(v.margin === undefined || (Number.isFinite(v.margin) && v.margin > 0)).toBe(true);
			},
		),
		{ numRuns: runs(3000) },
	);
});

it('ends where nothing can be measured: what is no number comes last', () => {
	const f = filters('all', [{ rule: 'distance' }]);
	const odd = [contender(0, Number.NaN, 0, false), contender(1, 2, 0, false), contender(2, Infinity, 0, false)];
	expect(choose(f, placement, odd).taken.map((c) => c.object.id)).toEqual(['o1', 'o0', 'o2']);
	const one = choose(filters(1, [{ rule: 'distance' }]), placement, odd.slice(0, 1));
	expect(one.taken).toHaveLength(1);
	const two = choose(filters(1, [{ rule: 'distance' }]), placement, [odd[0] as Contender, odd[2] as Contender]);
	expect(two.tied.map((c) => c.object.id)).toEqual(['o0', 'o2']);
});

it('takes all of a hundred thousand equal ones in one go', () => {
	const n = runs(100_000);
	const many = Array.from({ length: n }, (_, i) => contender(i, 1, i % 2, false));
	expect(
		choose(filters('all', [{ rule: 'priority' }, { rule: 'distance' }, { rule: 'listed' }]), placement, many).taken,
	).toHaveLength(n);
	expect(
		choose(filters(n / 2, [{ rule: 'priority' }, { rule: 'listed' }]), placement, many).taken.at(-1)?.object.index,
	).toBe(n - 1);
});
