/** Each clause of an expectation, of what follows from an answer, and of a perturbation, at its very edge. */
import { describe, expect, it } from 'vitest';
import type { Check, Expect, Project, Query, SceneObject } from '../project/schema';
import { equalsIn } from '../query/answer';
import { ahead, ask, ball, box, disc, object, project, rect } from '../tests/scene';
import { activeChecks, failureOf, runChecks, wordsOfGot, wordsOfWanted } from './check';
import { expectationOf, updatedExpectation } from './expect';
import { type Robustness, robustnessOf } from './robustness';
import { answersAt, changesBetween, quickAnswer } from './survey';

const near = object('near', [0, 0, -3], [box([1, 1, 1])], { action: 'turn' });
const far = object('far', [0, 0, -6], [box([1, 1, 1])]);
const wall = object('wall', [0, 0, -4.5], [box([4, 4, 0.2])], { layer: 'wall' });
const pane = object('pane', [0, 0, -5], [box([4, 4, 0.2])], { layer: 'wall' });
const one = ask(
	project([near, far, wall, pane], [ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } })]),
);
const both = ask(project([far, near], [ahead({ choose: { take: 'all' } })]));
const twins = [object('b', [0, 0.1, -3], [box([1, 1, 1])]), object('a', [0, -0.1, -3], [box([1, 1, 1])])];
const tie = ask(project(twins, [ahead()]));
const none = ask(project([], [ahead()]));
const off = ask(project([], [ahead({ enabled: false })]));
const waiting = ask(
	project(
		[near],
		[
			ahead({ from: { hitOf: 'other' } }),
			{ id: 'other', kind: 'ray', from: { point: [9, 9, 9] }, aim: { along: [0, 1, 0] }, length: 1 },
		],
	),
);
const holds = (e: Expect, answer = one) => failureOf(e, answer) === '';

describe('words', () => {
	it('say every kind of expectation', () => {
		expect(wordsOfWanted({ selects: ['x', 'y'] })).toBe('x, then y');
		expect(wordsOfWanted({ selects: ['x', 'y'], order: 'exact' })).toBe('x, then y');
		expect(wordsOfWanted({ selects: ['x', 'y'], order: 'any' })).toBe('x and y');
		expect(wordsOfWanted({ none: true })).toBe('nothing');
		expect(wordsOfWanted({ tie: ['x', 'y'] })).toBe('a tie of x and y');
		expect(wordsOfWanted({ off: true })).toBe('the query to be off');
		expect(wordsOfWanted({ selects: ['x'] }, (_kind, id) => id.toUpperCase())).toBe('X');
	});

	it('say every kind of answer', () => {
		expect([one, both, none, tie, off, waiting].map((answer) => wordsOfGot(answer))).toEqual([
			'near',
			'near, then far',
			'nothing',
			'a tie of b and a',
			'the query off',
			'the query waiting',
		]);
	});
});

describe('an expectation', () => {
	it('of a set wants all of it and no more', () => {
		expect(holds({ selects: ['far', 'near'], order: 'any' }, both)).toBe(true);
		expect(holds({ selects: ['near', 'far'], order: 'exact' }, both)).toBe(true);
		expect(holds({ selects: ['far', 'near'], order: 'exact' }, both)).toBe(false);
		expect(holds({ selects: ['near', 'other'], order: 'any' }, both)).toBe(false);
		expect(holds({ selects: ['near'], order: 'any' }, both)).toBe(false);
		expect(holds({ tie: ['a', 'b'] }, tie)).toBe(true);
		expect(holds({ tie: ['a', 'c'] }, tie)).toBe(false);
	});

	it('of a selection is not met by what is sure beside a tie', () => {
		const beside = ask(project([object('first', [0, 0, -2], [ball(0.5)]), ...twins], [ahead({ choose: { take: 2 } })]));
		expect(beside.status).toBe('tie');
		expect(beside.selected.map((s) => s.object)).toEqual(['first']);
		expect(holds({ selects: ['first'] }, beside)).toBe(false);
		expect(holds({ selects: ['first'], order: 'any' }, beside)).toBe(false);
	});

	it('of nothing, of a tie and of being off is that status alone', () => {
		const answers = [one, none, tie, off, waiting];
		expect(answers.map((a) => holds({ none: true }, a))).toEqual([false, true, false, false, false]);
		expect(answers.map((a) => holds({ off: true }, a))).toEqual([false, false, false, true, false]);
		expect(answers.map((a) => holds({ tie: ['a', 'b'] }, a))).toEqual([false, false, true, false, false]);
	});

	it('of an action is of the first, and of its absence says so', () => {
		expect(failureOf({ selects: ['near', 'far'], action: 'turn' }, both)).toBe('');
		expect(failureOf({ none: true, action: 'turn' }, none)).toBe('wanted the action turn, got none');
		expect(failureOf({ selects: ['far'], action: 'turn' }, ask(project([far], [ahead()])))).toBe(
			'wanted the action turn, got none',
		);
	});

	it('of a point allows as much as it says', () => {
		const point = { near: [0.3, 0.4, -2.5] as [number, number, number], within: 0.5 };
		expect(one.selected[0]?.point).toEqual([0, 0, -2.5]);
		expect(failureOf({ selects: ['near'], point }, one)).toBe('');
		expect(failureOf({ selects: ['near'], point: { ...point, within: 0.4999 } }, one)).toBe(
			'the point is 0.5 m from where it should be, 0.4999 m is allowed',
		);
		// On the other side of the point it is as far.
		const side = ask(project([near], [ahead({ from: { point: [0.25, 0.125, 0] } })]));
		expect(failureOf({ selects: ['near'], point: { near: [0.25, 0.125, -2.5], within: 1e-6 } }, side)).toBe('');
		expect(failureOf({ none: true, point }, none)).toBe('wanted a point, but nothing is selected');
	});

	it('of a blocker wants that one, in sight’s own stage', () => {
		expect(failureOf({ selects: ['near'], blocked: { object: 'far', by: 'wall' } }, one)).toBe('');
		expect(failureOf({ selects: ['near'], blocked: { object: 'far', by: 'pane' } }, one)).toContain(
			'wanted far hidden by pane, but it is sight: ',
		);
		expect(failureOf({ selects: ['near'], blocked: { object: 'near', by: 'wall' } }, one)).toContain(
			'but it is selected',
		);
		expect(failureOf({ off: true, blocked: { object: 'far', by: 'wall' } }, off)).toBe(
			'wanted far hidden by wall, but it is not judged',
		);
	});

	it('says why the first of those wanted that is not there is not there', () => {
		expect(failureOf({ selects: ['near', 'far'] }, one)).toBe(
			'wanted near, then far, got near (far: sight, 1.1 m behind wall)',
		);
		expect(failureOf({ tie: ['near', 'far'] }, one)).toBe(
			'wanted a tie of near and far, got near (far: sight, 1.1 m behind wall)',
		);
		// What is selected, only not in that order or not alone, needs no reason.
		expect(failureOf({ selects: ['far', 'near'] }, both)).toBe('wanted far, then near, got near, then far');
		expect(failureOf({ none: true }, one)).toBe('wanted nothing, got near');
	});
});

describe('what an answer is, as an expectation', () => {
	it('says the action only where one alone is selected', () => {
		expect(expectationOf(one)).toEqual({ selects: ['near'], action: 'turn' });
		expect(expectationOf(both)).toEqual({ selects: ['near', 'far'] });
		expect(expectationOf(ask(project([far], [ahead()])))).toEqual({ selects: ['far'] });
		expect([none, tie, off, waiting].map(expectationOf)).toEqual([
			{ none: true },
			{ tie: ['b', 'a'] },
			{ off: true },
			null,
		]);
	});

	it('keeps of a check what still holds', () => {
		const check = (more: Partial<Expect>): Check => ({
			id: 'c',
			query: 'q',
			expect: { selects: ['other'], ...more } as Expect,
		});
		const point = { near: [0, 0, -2.5] as [number, number, number], within: 0.1 };
		const all = { not: ['wall'], point, blocked: { object: 'far', by: 'wall' } };
		expect(updatedExpectation(check({}), one)).toEqual({ selects: ['near'] });
		expect(updatedExpectation(check(all), one)).toEqual({ selects: ['near'], ...all });
		expect(
			updatedExpectation(
				check({ not: ['near'], point: { ...point, within: 1 }, blocked: { object: 'near', by: 'wall' } }),
				one,
			),
		).toEqual({
			selects: ['near'],
			point: { ...point, within: 1 },
		});
		// An action is brought up to date, where one is wanted and there is one.
		expect(updatedExpectation(check({ action: 'pull' }), one)).toEqual({ selects: ['near'], action: 'turn' });
		expect(updatedExpectation(check({ action: 'pull' }), none)).toEqual({ none: true });
		// An order is one of a selection.
		expect(updatedExpectation(check({ order: 'any' }), both)).toEqual({ selects: ['near', 'far'], order: 'any' });
		expect(updatedExpectation(check({ order: 'any' }), tie)).toEqual({ tie: ['b', 'a'] });
		expect(updatedExpectation(check({}), waiting)).toBeNull();
	});

	it('keeps no order that the rules do not make', () => {
		const p = project(
			[
				object('nearest', [0, 0, -2], [ball(0.5)]),
				object('level-b', [1, 0, -4], [ball(0.5)]),
				object('level-a', [-1, 0, -4], [ball(0.5)]),
			],
			[
				{
					id: 'q',
					kind: 'overlap',
					at: { point: [0, 0, 0] },
					shape: { kind: 'sphere', radius: 9 },
					choose: { take: 'all' },
				},
			],
		);
		const explained = ask(p);
		expect(equalsIn(explained)).toEqual([['level-b', 'level-a']]);
		expect(explained.status).toBe('selected');
		const expected = expectationOf(explained);
		expect(expected).toEqual({ selects: ['nearest', 'level-b', 'level-a'], order: 'any' });
		// Said by somebody, an order stays wanted.
		expect(
			updatedExpectation({ id: 'c', query: 'q', expect: { none: true, order: 'exact' } } as never, explained),
		).toEqual({
			selects: ['nearest', 'level-b', 'level-a'],
			order: 'exact',
		});
		const apart = project(
			p.scene.objects.map((o) =>
				o.id === 'level-a' ? { ...o, position: [-1, 0, -4.1] as [number, number, number] } : o,
			),
			p.queries,
		);
		expect(equalsIn(ask(apart))).toEqual([]);
		expect(expectationOf(ask(apart))).toEqual({ selects: ['nearest', 'level-b', 'level-a'] });
		// A copy tells nothing, and nothing of it is printed.
		expect(equalsIn({ ...explained })).toEqual([]);
		expect(JSON.stringify(explained)).not.toContain('equal');
	});
});

describe('checks', () => {
	const p: Project = {
		...project([near, far], [ahead(), ahead({ id: 'twice', choose: { take: 'all' } })]),
		moments: [{ id: 'gone', objects: { near: { active: false } } }],
		checks: [
			{ id: 'a', query: 'q', expect: { selects: ['near'] } },
			{ id: 'b', query: 'q', moment: 'gone', expect: { selects: ['near'] } },
			{ id: 'c', query: 'twice', expect: { selects: ['near', 'far'] }, extras: { off: true } },
			{ id: 'd', query: 'twice', expect: { selects: ['near', 'far'] }, extras: { off: 'yes' } },
		],
	};

	it('are run each at its moment, but for those switched off', () => {
		expect(activeChecks(p).map((c) => c.id)).toEqual(['a', 'b', 'd']);
		const { checks: _, ...without } = p;
		expect(activeChecks(without)).toEqual([]);
		const steps: number[] = [];
		const results = runChecks(p, undefined, (done) => steps.push(done));
		expect(results.map((r) => [r.id, r.query, r.moment, r.pass])).toEqual([
			['a', 'q', null, true],
			['b', 'q', 'gone', false],
			['d', 'twice', null, true],
		]);
		expect(results[1]?.reason).toBe('wanted near, got far (near: inactive, inactive, itself or above it)');
		expect(steps).toEqual([0]);
		const many = runChecks(p, Array(129).fill(p.checks?.[0]), (done) => steps.push(done));
		expect([many.length, steps]).toEqual([129, [0, 0, 64, 128]]);
		expect(() => runChecks(p, [{ id: 'x', query: 'nothing', expect: { none: true } }])).toThrow('no query "nothing"');
	});

	it('are each held against the scene at their own moment, of several', () => {
		const two: Project = {
			...p,
			moments: [
				{ id: 'gone', objects: { near: { active: false } } },
				{ id: 'both', objects: { near: { active: false }, far: { active: false } } },
			],
			checks: [
				{ id: 'a', query: 'q', moment: 'gone', expect: { selects: ['far'] } },
				{ id: 'b', query: 'q', moment: 'both', expect: { none: true } },
				{ id: 'c', query: 'q', expect: { selects: ['near'] } },
			],
		};
		expect(runChecks(two).map((r) => r.reason)).toEqual(['', '', '']);
		const [, , , , ...later] = answersAt(two);
		expect(changesBetween(answersAt(two), later).map((c) => [c.moment, c.query])).toEqual([
			[null, 'q'],
			[null, 'twice'],
			['gone', 'q'],
			['gone', 'twice'],
		]);
	});

	it('in brief have verdicts only where one fails or speaks of what hides', () => {
		const blocked: Check = {
			id: 'e',
			query: 'twice',
			expect: { selects: ['near', 'far'], blocked: { object: 'far', by: 'near' } },
		};
		const results = runChecks(p, [...(p.checks as Check[]), blocked], undefined, true);
		expect(results.map((r) => [r.id, r.pass, r.got.verdicts.length])).toEqual([
			['a', true, 0],
			['b', false, 2],
			['c', true, 0],
			['d', true, 0],
			['e', false, 2],
		]);
	});

	it('know what two versions answer differently', () => {
		const before = answersAt(p);
		expect(before.map((a) => [a.moment, a.query, a.status, a.objects, a.action])).toEqual([
			[null, 'q', 'selected', ['near'], 'turn'],
			[null, 'twice', 'selected', ['near', 'far'], 'turn'],
			['gone', 'q', 'selected', ['far'], null],
			['gone', 'twice', 'selected', ['far'], null],
		]);
		const { moments: _, ...still } = p;
		expect(answersAt(still)).toHaveLength(2);
		expect(quickAnswer(tie, 'm')).toEqual({
			query: 'q',
			moment: 'm',
			status: 'tie',
			objects: ['b', 'a'],
			action: null,
		});
		expect(changesBetween(before, before)).toEqual([]);
		expect(changesBetween(before, answersAt(still)).map((c) => [c.moment, c.query, c.before?.status, c.after])).toEqual(
			[
				['gone', 'q', 'selected', null],
				['gone', 'twice', 'selected', null],
			],
		);
		expect(changesBetween(answersAt(still), before).map((c) => [c.moment, c.before, c.after?.status])).toEqual([
			['gone', null, 'selected'],
			['gone', null, 'selected'],
		]);
		const first = before[0] as (typeof before)[0];
		for (const other of [{ status: 'tie' as const }, { action: 'pull' }, { objects: ['far'] }])
			expect(changesBetween([first], [{ ...first, ...other }])).toHaveLength(1);
	});
});

describe('a perturbation', () => {
	const of = (
		objects: SceneObject[],
		query: unknown,
		expected: Expect,
		more: Partial<Project['scene']> = {},
	): Robustness =>
		robustnessOf(
			{ ...project(objects, [query], more), checks: [{ id: 'c', query: (query as Query).id, expect: expected }] },
			'c',
		);
	const firm = (r: Robustness, perturbation: string) => r.margins.find((f) => f.perturbation === perturbation);
	const me = object('me', [0, 0, 0], []);

	it('goes every way: the least of all of them counts', () => {
		// The box ends 0.1 m to the left of the line and 0.9 m to the right, 2 m away; up and down 0.5 m.
		const aside = object('x', [0.4, 0, -2.5], [box([1, 1, 1])]);
		const pick = of([aside], { id: 'p', kind: 'pick', camera: 'eye', viewport: [400, 400] }, { selects: ['x'] });
		expect(firm(pick, 'cursor')).toMatchObject({ unit: 'px', most: 200 });
		expect(firm(pick, 'cursor')?.least).toBeCloseTo(10, 0);
		expect(firm(pick, 'cursor')?.way[0]).toBeCloseTo(-1, 9);
		expect(pick.score).toBeCloseTo(1, 1);
		const above = object('x', [0, 0.4, -2.5], [box([1, 1, 1])]);
		const down = firm(
			of(
				[above],
				{ id: 'p', kind: 'pick', camera: 'eye', viewport: [400, 400], cursor: [200, 190] },
				{ selects: ['x'] },
			),
			'cursor',
		);
		// Ten pixels above the middle there are twenty to its lower edge; the picture's y goes down.
		expect(down?.least).toBeCloseTo(20, 0);
		expect(down?.way[1]).toBeCloseTo(1, 9);
	});

	it('of the aim turns it left, right, up and down, degrees', () => {
		const aside = object('x', [0.4, 0, -2.5], [box([1, 1, 1])]);
		const ray = of([aside], ahead(), { selects: ['x'] });
		const turned = firm(ray, 'aim');
		expect(turned?.least).toBeCloseTo(Math.atan2(0.1, 2) * (180 / Math.PI), 1);
		// A greater yaw goes to the left, where the box ends.
		expect(turned?.way[0]).toBeCloseTo(1, 9);
		expect(ray.margins.map((f) => f.perturbation)).toEqual(['aim']);
		const above = object('x', [0, 0.4, -2.5], [box([1, 1, 1])]);
		const pitched = firm(
			of([above], ahead({ id: 's', kind: 'sweep', shape: { kind: 'sphere', radius: 0.01 } }), { selects: ['x'] }),
			'aim',
		);
		expect(pitched?.way[1]).toBeCloseTo(-1, 9);
		expect(pitched?.least).toBeCloseTo(Math.atan2(0.11, 2) * (180 / Math.PI), 0);
		// Not straight ahead: yaw and pitch are about the way it goes.
		const back = object('x', [2.5, 0, 0.4], [box([1, 1, 1])]);
		const east = firm(of([back], ahead({ aim: { along: [1, 0, 0] } }), { selects: ['x'] }), 'aim');
		expect(east?.least).toBeCloseTo(Math.atan2(0.1, 2) * (180 / Math.PI), 1);
		expect(east?.way[0]).toBeCloseTo(1, 9);
	});

	it('of the aim in a flat scene goes either way, and of a query without one is none', () => {
		const card = object('x', [2, 0.4, 0], [rect([1, 1])]);
		const flat = of(
			[card],
			ahead({ from: { point: [0, 0, 0] }, aim: { along: [1, 0, 0] } }),
			{ selects: ['x'] },
			{ kind: 'flat' },
		);
		expect(firm(flat, 'aim')?.way).toEqual([-1, 0]);
		// The lower edge ends at its near corner, 1.5 m away and 0.1 m below.
		expect(firm(flat, 'aim')?.least).toBeCloseTo(Math.atan2(0.1, 1.5) * (180 / Math.PI), 1);
		const other = object('x', [2, -0.4, 0], [rect([1, 1])]);
		expect(
			firm(of([other], ahead({ aim: { along: [1, 0, 0] } }), { selects: ['x'] }, { kind: 'flat' }), 'aim')?.way,
		).toEqual([1, 0]);
		const cursor = of(
			[object('x', [0, 0, 0], [disc(2)])],
			{ id: 'p', kind: 'pick', camera: 'above', viewport: [400, 400] },
			{ selects: ['x'] },
			{ kind: 'flat' },
		);
		expect(cursor.margins.map((f) => f.perturbation)).toEqual(['cursor']);
		expect(cursor.margins[0]?.least).toBeCloseTo(80, -1);
		const volume = of(
			[near],
			{ id: 'v', kind: 'overlap', at: { point: [0, 0, -3] }, shape: { kind: 'sphere', radius: 1 } },
			{ selects: ['near'] },
		);
		expect(volume).toEqual({ check: 'c', margins: [], score: null });
	});

	it('of the aim is about how high and low it goes', () => {
		// Half way up at a box whose upper front edge lies 2.6 m high, 2 m ahead.
		const up = object('x', [0, 2.5 - 0.4, -2.5], [box([1, 1, 1])]);
		const aimed = of([up], ahead({ aim: { along: [0, 1, -1] } }), { selects: ['x'] });
		const turned = firm(aimed, 'aim');
		expect(turned?.way[1]).toBeCloseTo(1, 1);
		const edge = Math.atan2(2.6, 2) * (180 / Math.PI) - 45;
		expect(turned?.least).toBeGreaterThanOrEqual(edge);
		expect(turned?.least).toBeLessThan(1.011 * edge);
	});

	it('is judged at the moment of the check, and nought where that fails', () => {
		const p: Project = {
			...project(
				[me, object('x', [1.4, 0, 0], [ball(0.5)])],
				[{ id: 'v', kind: 'overlap', asker: 'me', at: { object: 'me' }, shape: { kind: 'sphere', radius: 1 } }],
			),
			moments: [{ id: 'away', objects: { x: { position: [1.2, 0, 0] } } }],
			checks: [
				{ id: 'now', query: 'v', expect: { selects: ['x'] } },
				{ id: 'then', query: 'v', moment: 'away', expect: { selects: ['x'] } },
				{ id: 'wrong', query: 'v', expect: { none: true } },
			],
		};
		expect(firm(robustnessOf(p, 'now'), 'asker')?.least).toBeCloseTo(0.1, 2);
		expect(firm(robustnessOf(p, 'then'), 'asker')?.least).toBeCloseTo(0.3, 2);
		expect(robustnessOf(p, 'wrong')).toEqual({ check: 'wrong', margins: [], score: 0 });
		expect(() => robustnessOf(p, 'none')).toThrow('no check "none"');
		expect(() =>
			robustnessOf({ ...p, checks: [{ id: 'lost', query: 'gone', expect: { none: true } }] }, 'lost'),
		).toThrow('no query "gone"');
	});

	it('of the asker steps on the ground, in a flat scene in the picture', () => {
		const reach = { id: 'v', kind: 'overlap', asker: 'me', at: { object: 'me' }, shape: { kind: 'sphere', radius: 1 } };
		const east = firm(of([me, object('x', [1.4, 0, 0], [ball(0.5)])], reach, { selects: ['x'] }), 'asker');
		expect([east?.unit, east?.most]).toEqual(['m', 2]);
		expect(east?.least).toBeCloseTo(0.1, 2);
		expect(east?.way[0]).toBeCloseTo(-1, 9);
		const south = firm(of([me, object('x', [0, 0, 1.4], [ball(0.5)])], reach, { selects: ['x'] }), 'asker');
		expect(south?.way[1]).toBeCloseTo(-1, 9);
		const flatReach = { ...reach, shape: { kind: 'circle', radius: 1 } };
		const left = firm(
			of([me, object('x', [1.4, 0, 0], [disc(0.5)])], flatReach, { selects: ['x'] }, { kind: 'flat' }),
			'asker',
		);
		expect(left?.way[0]).toBeCloseTo(-1, 9);
		const down = firm(
			of([me, object('x', [0, 1.4, 0], [disc(0.5)])], flatReach, { selects: ['x'] }, { kind: 'flat' }),
			'asker',
		);
		expect(down?.way[1]).toBeCloseTo(-1, 9);
		expect(down?.least).toBeCloseTo(0.1, 2);
		// From wherever it stands.
		const away = { ...me, position: [5, 0, 5] as [number, number, number] };
		expect(
			firm(of([away, object('x', [6.4, 0, 5], [ball(0.5)])], reach, { selects: ['x'] }), 'asker')?.least,
		).toBeCloseTo(0.1, 2);
	});

	it('that changes nothing is told by how far it went; the weakest perturbation makes the score', () => {
		const large = object('x', [0, 0, -2.5], [box([400, 400, 1])]);
		const firmly = of(
			[me, large],
			{ id: 'p', kind: 'pick', camera: 'eye', viewport: [400, 400], asker: 'me' },
			{ selects: ['x'] },
		);
		expect(firmly.margins.map((f) => [f.perturbation, f.least, f.becomes])).toEqual([
			['cursor', null, null],
			['asker', null, null],
		]);
		expect(firmly.score).toBeNull();
		// 1.1 m to either side for the asker, 14° for the aim: the asker is eleven times its usual step, the aim fourteen times.
		const ray = of([me, object('x', [0, 0, -2.5], [box([1, 1, 1])])], ahead({ asker: 'me', from: { object: 'me' } }), {
			selects: ['x'],
		});
		expect(ray.score).toBeCloseTo(5, 0);
		expect(ray.margins.map((f) => f.perturbation)).toEqual(['aim', 'asker']);
	});
});
