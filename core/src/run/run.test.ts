/** Run-throughs by hand: each sentence of the contract's §12 at its edge and just past it. */
import { describe, expect, it } from 'vitest';
import { checkProject } from '../project/read';
import type { Overlay, Project, Run, SceneObject } from '../project/schema';
import { ball, box, object, project } from '../tests/scene';
import { checkRuns } from './check';
import type { RunEvent } from './events';
import { runThrough } from './run';
import { shortWay, TrackChannels } from './tracks';
import { runLog } from './words';

/** What a ball of a metre about the asker, or the origin, touches. */
const near = (more: object = {}) => ({
	id: 'near',
	kind: 'overlap',
	at: { point: [0, 0, 0] },
	shape: { kind: 'sphere', radius: 1 },
	...more,
});

const problemsOf = (p: Project, runs: unknown, more: object = {}): string[] => {
	const checked = checkProject(JSON.parse(JSON.stringify({ ...p, runs, ...more })));
	return checked.ok ? [] : checked.problems.map((x) => `${x.path.join('.')}: ${x.message}`);
};

function made(objects: SceneObject[], queries: unknown[], run: Partial<Run>, more: Partial<Project> = {}): Project {
	const p = {
		...project(objects, queries),
		...more,
		runs: [{ id: 'run', duration: 1, step: 0.25, between: 1, ...run }],
	};
	const checked = checkProject(JSON.parse(JSON.stringify(p)));
	if (!checked.ok) throw new Error(checked.problems.map((x) => `${x.path.join('.')}: ${x.message}`).join('\n'));
	return checked.project;
}

const ran = (p: Project) => runThrough(p, p.runs?.[0] as Run);
const short = (events: readonly RunEvent[]): string[] =>
	events.map((e) => {
		const at = 'k' in e ? e.k : `${e.after}+`;
		if (e.kind === 'choose')
			return `${at} choose ${e.selected.join(',') || '-'}${e.tied.length ? ` tie ${e.tied.join(',')}` : ''}`;
		if (e.kind === 'press') return `${at} press ${e.objects.join(',')}`;
		return `${at} ${e.kind} ${'object' in e ? e.object : ''}`.trim();
	});
const chosen = (p: Project, watch: string): string[] =>
	ran(p).events.flatMap((e) =>
		e.kind === 'choose' && e.watch === watch ? [`${e.k} ${e.tied.length ? 'tie' : e.selected.join(',') || '-'}`] : [],
	);

const small = (id: string, at: [number, number, number], more: Partial<SceneObject> = {}) =>
	object(id, at, [ball(0.1)], more);
const walk = (id: string, ...keys: ({ t: number } & Overlay)[]) => ({ object: id, keys });

describe('tracks', () => {
	it('turn the short way round; half a turn goes the positive way', () => {
		expect(shortWay(350, 10)).toBe(20);
		expect(shortWay(10, 350)).toBe(-20);
		expect(shortWay(0, 180)).toBe(180);
		expect(shortWay(0, -180)).toBe(180);
		expect(shortWay(180, 0)).toBe(180);
		expect(shortWay(0, 180 + 5e-10)).toBeCloseTo(180, 6);
		expect(shortWay(0, 180 + 5e-10)).toBeGreaterThan(0);
		expect(shortWay(0, 180.001)).toBeCloseTo(-179.999, 6);
		expect(shortWay(0, 720)).toBe(0);
	});

	it('give each field by itself: places go straight, the rest holds, and nothing is given before its first key', () => {
		const line = new TrackChannels(
			walk(
				'a',
				{ t: 1, position: [0, 0, 0] },
				{ t: 2, states: { on: true } },
				{ t: 3, position: [4, 0, 2], rotation: [90, 0, 0] },
			),
		);
		expect(line.at(0.5)).toEqual({});
		expect(line.at(1 - 2e-9).position).toBeUndefined();
		expect(line.at(1 - 5e-10).position).toEqual([0, 0, 0]);
		expect(line.at(2)).toEqual({ position: [2, 0, 1], states: { on: true } });
		expect(line.at(9)).toEqual({ position: [4, 0, 2], rotation: [90, 0, 0], states: { on: true } });
	});

	it('hold their place before a key that hangs the object elsewhere', () => {
		const line = new TrackChannels(
			walk(
				'a',
				{ t: 0, position: [0, 0, 0], rotation: [0, 0, 0] },
				{ t: 1, parent: 'b', position: [5, 0, 0], rotation: [90, 0, 0] },
			),
		);
		expect(line.at(0.9)).toEqual({ position: [0, 0, 0], rotation: [0, 0, 0] });
		expect(line.at(1)).toEqual({ parent: 'b', position: [5, 0, 0], rotation: [90, 0, 0] });
	});
});

describe('a run', () => {
	it('has its last step where the duration reaches it, to within a rounding', () => {
		const steps = (duration: number, step: number) =>
			ran(made([small('a', [0, 0, 0])], [near()], { duration, step })).steps;
		expect(steps(0, 0.25)).toBe(1);
		expect(steps(1, 0.25)).toBe(5);
		expect(steps(0.3, 0.1)).toBe(4);
		expect(steps(0.29, 0.1)).toBe(3);
	});

	it('tells of leaving and entering, losing and gaining, and then of the choice', () => {
		const p = made([small('a', [0, 0, 0]), small('b', [3, 0, 0])], [near()], {
			tracks: [walk('a', { t: 0.5, position: [3, 0, 0] }), walk('b', { t: 0.5, position: [0, 0, 0] })],
			watch: [{ query: 'near' }],
		});
		expect(short(ran(p).events)).toEqual([
			'0 enter a',
			'0 gain a',
			'0 choose a',
			'2 leave a',
			'2 enter b',
			'2 lose a',
			'2 gain b',
			'2 choose b',
		]);
		expect(ran(p).watch).toEqual([{ id: 'near', changes: 1, shortest: 0.5, tied: 0, unlike: null }]);
	});

	it('says what became of the one chosen before', () => {
		const p = made([small('a', [0.5, 0, 0]), small('b', [0.9, 0, 0])], [near()], {
			duration: 0.25,
			tracks: [walk('b', { t: 0.25, position: [0.2, 0, 0] })],
			watch: [{ query: 'near' }],
		});
		const last = ran(p).events.at(-1);
		expect(last).toMatchObject({
			kind: 'choose',
			selected: ['b'],
			instead: { object: 'a', through: null, stage: 'choice', by: 'b' },
		});
		expect(runLog(ran(p))).toContain('near: chosen b; a is outranked, 0.3 m farther than b');
	});

	it('starts from its moment', () => {
		const p = made(
			[small('a', [3, 0, 0])],
			[near()],
			{ moment: 'here', duration: 0, watch: [{ query: 'near' }] },
			{
				moments: [{ id: 'here', objects: { a: { position: [0, 0, 0] } } }],
			},
		);
		expect(chosen(p, 'near')).toEqual(['0 a']);
	});
});

describe('memories', () => {
	/** b comes while a stays, then goes; with a slot each. */
	const comeAndGo = (keep: object, leaves: 'a' | 'b') =>
		made([small('a', [0.2, 0, 0]), small('b', [5, 0, 0])], [near()], {
			tracks: [
				walk(
					'b',
					{ t: 0.25, position: [0.5, 0, 0] },
					{ t: 0.5, position: [0.5, 0, 0] },
					...(leaves === 'b' ? [{ t: 0.75, position: [5, 0, 0] as [number, number, number] }] : []),
				),
				...(leaves === 'a' ? [walk('a', { t: 0.75, position: [5, 0, 0] })] : []),
			],
			watch: [{ id: 'w', query: 'near', keeps: 'one', ...keep }],
		});

	it('of one slot holds the last that came, and is emptied by it alone', () => {
		expect(chosen(comeAndGo({}, 'b'), 'w')).toEqual(['0 a', '1 b', '3 -']);
		expect(chosen(comeAndGo({ forgets: 'own' }, 'a'), 'w')).toEqual(['0 a', '1 b']);
		expect(ran(comeAndGo({}, 'b')).watch[0]?.unlike).toBe(4);
	});

	it('of one slot that any may empty forgets what is still there', () => {
		expect(chosen(comeAndGo({ forgets: 'any' }, 'a'), 'w')).toEqual(['0 a', '1 b', '3 -']);
	});

	/** a is held at 0.5 m; b comes to within so much less. */
	const overtaken = (by: number, limit: number, more: object = {}) =>
		made([small('a', [0.5, 0, 0]), small('b', [9, 0, 0])], [near(more)], {
			duration: 0.25,
			tracks: [walk('b', { t: 0.25, position: [0.5 - by, 0, 0] })],
			watch: [{ id: 'w', query: 'near', stick: { distance: limit } }],
		});

	it('that sticks holds on up to its limit, and lets go past it', () => {
		expect(chosen(overtaken(0.25, 0.25), 'w')).toEqual(['0 a']);
		expect(chosen(overtaken(0.25, 0.249), 'w')).toEqual(['0 a', '1 b']);
		expect(ran(overtaken(0.25, 0.25)).watch[0]).toMatchObject({ unlike: 1, changes: 0 });
	});

	it('that sticks holds on in a tie, and not by a rule without a limit', () => {
		expect(chosen(overtaken(0, 0), 'w')).toEqual(['0 a']);
		const p = overtaken(0.25, 9, { choose: { take: 1, by: [{ rule: 'priority' }, { rule: 'distance' }] } });
		p.scene.objects[1]!.priority = 1;
		expect(chosen(p, 'w')).toEqual(['0 a', '1 b']);
	});
});

describe('presses and effects', () => {
	const carrying = (press: number, more: Partial<Project> = {}) =>
		made(
			[object('hand', [0, 0, 0], []), small('crate', [0.5, 0, 0], { action: 'lift' })],
			[near({ asker: 'hand', at: { object: 'hand' } })],
			{
				tracks: [
					walk('hand', { t: 0, position: [0, 0, 0] }, { t: 1, position: [8, 0, 0] }),
					walk('crate', { t: 0.75, position: [0, 0, -9] }),
				],
				watch: [{ query: 'near' }],
				presses: [{ watch: 'near', at: press }],
			},
			{
				effects: [
					{
						action: 'lift',
						do: [
							{ of: 'target', carriedBy: 'asker', at: [0, 0, -0.5] },
							{ of: 'target', add: { wear: 2 } },
							{ of: 'target', add: { wear: 1 } },
						],
					},
				],
				...more,
			},
		);

	it('fall on the first step at or after them, and are in force from the next one on', () => {
		const p = carrying(0);
		// From the next step on it hangs on the asker, which is left out; at the step itself it still lies there.
		expect(short(ran(p).events)).toEqual([
			'0 enter crate',
			'0 gain crate',
			'0 choose crate',
			'0 press crate',
			'1 leave crate',
			'1 lose crate',
			'1 choose -',
		]);
		expect(short(ran(carrying(0.25 + 5e-10)).events)).toContain('1 press ');
		expect(short(ran(carrying(0.2500001)).events)).toContain('2 press ');
	});

	it('set a state of the scene, which a query asks for at the next step', () => {
		const p = made(
			[small('crate', [0, 0, 0], { action: 'snuff' })],
			[near({ selects: { when: [{ of: 'scene', state: 'dark', is: false }] } })],
			{ watch: [{ query: 'near' }], presses: [{ watch: 'near', at: 0.25 }] },
			{ effects: [{ action: 'snuff', do: [{ of: 'scene', set: { states: { dark: true } } }] }] },
		);
		p.scene.states = { dark: false };
		expect(chosen(p, 'near')).toEqual(['0 crate', '2 -']);
	});

	it('lift a thing so that it is turned as who carries it', () => {
		// A rod along X lies across what is touched; carried along Z, as its bearer looks, it reaches out of it.
		const lying = (carriedBy: object[]) =>
			made(
				[
					object('rod', [0.6, 0, 0], [box([3, 0.1, 0.1])], { rotation: [90, 0, 0], action: 'lift' }),
					object('hand', [9, 0, 0], []),
				],
				[near({ asker: 'hand' })],
				{ watch: [{ query: 'near' }], presses: [{ watch: 'near', at: 0 }] },
				{ effects: [{ action: 'lift', do: carriedBy as never }] },
			);
		// Two metres beside what is touched: turned as its bearer it reaches in, as it lay it does not.
		const there = { position: [2.2, 0, 0], parent: null };
		expect(
			chosen(
				lying([
					{ of: 'target', carriedBy: 'asker' },
					{ of: 'target', set: there },
				]),
				'near',
			),
		).toEqual(['0 rod']);
		expect(chosen(lying([{ of: 'target', set: there }]), 'near')).toEqual(['0 rod', '1 -']);
	});

	it('never fall past the last step', () => {
		expect(short(ran(carrying(1)).events)).toContain('4 press ');
		expect(ran(carrying(1.1)).events.some((e) => e.kind === 'press')).toBe(false);
	});

	it('leave out a line that would hang a thing on itself, or has nobody to carry, and say so', () => {
		const p = carrying(0, {
			effects: [
				{
					action: 'lift',
					do: [
						{ of: 'asker', carriedBy: 'target' },
						{ of: 'target', carriedBy: 'asker' },
					],
				},
			],
		});
		expect(ran(p).events.filter((e) => e.kind === 'refused')).toEqual([
			{ k: 0, t: 0, kind: 'refused', action: 'lift', line: 1, why: 'cycle' },
		]);
		const alone = made(
			[small('crate', [0, 0, 0], { action: 'lift' })],
			[near()],
			{ watch: [{ query: 'near' }], presses: [{ watch: 'near', at: 0 }] },
			{
				effects: [{ action: 'lift', do: [{ of: 'target', carriedBy: 'asker' }] }],
			},
		);
		expect(ran(alone).events.filter((e) => e.kind === 'refused')).toEqual([
			{ k: 0, t: 0, kind: 'refused', action: 'lift', line: 0, why: 'no-asker' },
		]);
	});

	it('leave the project as it was', () => {
		const p = carrying(0);
		const before = JSON.stringify(p);
		ran(p);
		expect(JSON.stringify(p)).toBe(before);
	});
});

describe('swings', () => {
	const swung = (boxes: object[], objects: SceneObject[], more: Partial<Run> = {}, once?: boolean) =>
		made(
			[object('hand', [0, 0, 0], []), ...objects],
			[{ id: 'swing', kind: 'hitbox', asker: 'hand', boxes, ...(once === undefined ? {} : { once }) }],
			{ swings: [{ query: 'swing', at: 0.25 }], ...more },
		);
	const open = (from: number, until?: number) => ({
		shape: { kind: 'box', size: [1, 1, 1] },
		at: [0, 0, -1],
		from,
		...(until === undefined ? {} : { until }),
	});
	const hits = (p: Project) => ran(p).events.flatMap((e) => (e.kind === 'hit' ? [`${e.k} ${e.object} ${e.box}`] : []));

	it('open their boxes from and until, both included, and hit each thing once', () => {
		const gull = small('gull', [0, 0, -1]);
		expect(hits(swung([open(0.25, 0.25)], [gull]))).toEqual(['2 gull 0']);
		expect(hits(swung([open(0.26, 0.49)], [gull]))).toEqual([]);
		expect(hits(swung([open(0)], [gull]))).toEqual(['1 gull 0']);
		expect(hits(swung([open(0)], [gull], {}, false))).toEqual(['1 gull 0', '2 gull 0', '3 gull 0', '4 gull 0']);
		// The box keeps its place in the query.
		expect(hits(swung([open(9), open(0)], [gull]))).toEqual(['1 gull 1']);
	});

	it('miss between the steps what no step sees', () => {
		const p = swung([open(0.05, 0.1)], [small('gull', [0, 0, -1])], { between: 8 });
		expect(ran(p).events).toMatchObject([{ kind: 'missed', swing: 0, object: 'gull', after: 1 }]);
		expect(ran(p).swings).toEqual([{ hits: 0, undecided: 0, missed: 1 }]);
		expect(ran(swung([open(0.05, 0.1)], [small('gull', [0, 0, -1])], { between: 1 })).events).toEqual([]);
	});
});

describe('between the steps', () => {
	it('what is touched at neither of two steps but between them is named once', () => {
		const p = made([small('dart', [-8, 0, 0])], [near()], {
			duration: 0.5,
			step: 0.25,
			between: 8,
			tracks: [walk('dart', { t: 0, position: [-8, 0, 0] }, { t: 0.25, position: [8, 0, 0] })],
			watch: [{ query: 'near' }],
		});
		const { events } = ran(p);
		expect(events).toEqual([{ kind: 'missed', watch: 'near', object: 'dart', after: 0, t: (0.25 * 4) / 8 }]);
	});
});

describe('checks of runs', () => {
	const p = made([small('a', [0, 0, 0]), small('b', [3, 0, 0])], [near()], {
		tracks: [walk('a', { t: 0.5, position: [3, 0, 0] }), walk('b', { t: 0.75, position: [0, 0, 0] })],
		watch: [{ query: 'near' }],
	});
	const judged = (expectation: object) =>
		checkRuns(p, [{ id: 'c', run: 'run', watch: 'near', expect: expectation } as never])[0];

	it('say where the run first differs, and nothing where they hold', () => {
		expect(judged({ sequence: ['a', null, 'b'] })?.from).toBeNull();
		expect(judged({ sequence: ['a', 'b'] })?.from).toBe(0.5);
		expect(judged({ sequence: ['b'] })?.from).toBe(0);
		expect(judged({ sequence: [null, 'a'] })?.from).toBe(0);
		const last = judged({ sequence: ['a', null] })?.from;
		expect(last).toBeGreaterThan(0.5);
		// All that came was wanted, and more: the last change is the last thing there is to look at.
		expect(judged({ sequence: ['a', null, 'b', 'a'] })?.from).toBe(last);
		expect(judged({ never: ['b'] })?.from).toBe(last);
		expect(judged({ never: ['a'] })?.from).toBe(0);
		expect(judged({ changes: { max: 1 } })?.from).toBe(last);
		expect(judged({ changes: { max: 0 } })?.from).toBe(0.5);
		expect(judged({ at: 0.26, selects: ['a'] })?.from).toBe(0.26);
		expect(judged({ at: 1.01, selects: ['b'] })?.from).toBe(1);
	});

	it('hold sequences, moments of time, changes and what never is', () => {
		expect(judged({ sequence: ['a', null, 'b'] })?.pass).toBe(true);
		expect(judged({ sequence: ['a', 'b'] })).toMatchObject({
			pass: false,
			got: ['a', null, 'b'],
			reason: 'wanted the sequence a, b; got a, nothing, b',
		});
		expect(judged({ at: 0.25, selects: ['a'] })?.pass).toBe(true);
		expect(judged({ at: 0.26, selects: ['a'] })?.pass).toBe(false);
		expect(judged({ at: 0.5, none: true })?.pass).toBe(true);
		expect(judged({ at: 1, selects: ['b'] })?.pass).toBe(true);
		expect(judged({ at: 1.01, selects: ['b'] })).toMatchObject({ pass: false, got: null });
		expect(judged({ changes: { max: 2 } })?.pass).toBe(true);
		expect(judged({ changes: { max: 1 } })).toMatchObject({ pass: false, got: 2 });
		expect(judged({ never: ['c'] as string[] })?.pass).toBe(true);
		expect(judged({ never: ['b'] })).toMatchObject({ pass: false, got: ['b'] });
		expect(judged({ missed: 0 })?.pass).toBe(true);
	});
});

describe('what a run may not say', () => {
	const p = project([small('a', [0, 0, 0]), small('b', [0, 0, 0], { parent: 'a' })], [near()]);
	const run = (more: object) => [{ id: 'r', duration: 1, step: 0.5, ...more }];

	it('is told with its place', () => {
		expect(problemsOf(p, run({}))).toEqual([]);
		expect(problemsOf(p, run({ step: 0 }))[0]).toMatch(/^runs\.0\.step: must be more than 0/);
		expect(problemsOf(p, run({ duration: 1, step: 1e-5 }))).toEqual([]);
		expect(problemsOf(p, run({ duration: 1.00001, step: 1e-5 }))[0]).toMatch(/^runs\.0\.step: makes 100001 steps/);
		expect(problemsOf(p, run({ between: 65 }))[0]).toMatch(/^runs\.0\.between: must be a whole number from 1 to 64/);
		expect(problemsOf(p, run({ tracks: [walk('a', { t: 0 })] }))[0]).toMatch(/keys\.0: gives nothing/);
		expect(problemsOf(p, run({ tracks: [walk('a', { t: 1, active: true }, { t: 1, active: false })] }))[0]).toMatch(
			/keys\.1\.t: must be later/,
		);
		expect(
			problemsOf(p, run({ tracks: [walk('a', { t: 0, active: true }), walk('a', { t: 0, active: true })] }))[0],
		).toMatch(/one track for a thing/);
		expect(problemsOf(p, run({ tracks: [walk('a', { t: 0, parent: null })] }))[0]).toMatch(
			/gives position and rotation too/,
		);
		expect(
			problemsOf(p, run({ tracks: [walk('a', { t: 2, parent: 'b', position: [0, 0, 0], rotation: [0, 0, 0] })] }))[0],
		).toMatch(/keys\.0\.parent: at 2 s "a" would hang on itself/);
		expect(problemsOf(p, run({ watch: [{ query: 'near' }, { query: 'near' }] }))[0]).toMatch(/unique in a run/);
		expect(problemsOf(p, run({ watch: [{ query: 'near', forgets: 'any' }] }))[0]).toMatch(
			/"forgets" goes with "keeps": "one" only/,
		);
		expect(problemsOf(p, run({ watch: [{ query: 'near', keeps: 'one', stick: {} }] }))[0]).toMatch(/"stick" goes with/);
		expect(problemsOf(p, run({ swings: [{ query: 'near', at: 0 }] }))[0]).toMatch(/only a hitbox swings/);
		expect(problemsOf(p, run({ presses: [{ watch: 'near', at: 0 }] }))[0]).toMatch(/no watch entry "near"/);
		expect(problemsOf(p, run({ watch: [{ query: 'nera' }] }))[0]).toMatch(/no query "nera".*near/);
	});

	it('nor an effect or a check', () => {
		const effects = [{ action: 'x', do: [{ of: 'scene', release: true }] }];
		expect(problemsOf(p, [], { effects })[0]).toMatch(/neither carried nor released/);
		expect(
			problemsOf(p, [], {
				effects: [
					{ action: 'x', do: [] },
					{ action: 'x', do: [] },
				],
			})[0],
		).toMatch(/has an effect already/);
		expect(problemsOf(p, [], { effects: [{ action: 'x', do: [{ of: 'target' }] }] })[0]).toMatch(
			/exactly one of set, add, carriedBy, release/,
		);
		const check = (more: object) => [{ id: 'c', run: 'r', watch: 'near', expect: { missed: 0 }, ...more }];
		const watching = run({ watch: [{ query: 'near' }] });
		expect(problemsOf(p, watching, { checks: check({}) })).toEqual([]);
		expect(problemsOf(p, watching, { checks: check({ watch: 'far' }) })[0]).toMatch(/has no watch entry "far"/);
		expect(problemsOf(p, watching, { checks: check({ expect: { hits: ['a'] } }) })[0]).toMatch(
			/"hits" is asked of a swing/,
		);
		expect(problemsOf(p, watching, { checks: check({ expect: { at: 1 } }) })[0]).toMatch(
			/exactly one of selects, none, tie/,
		);
		expect(problemsOf(p, watching, { checks: check({ watch: undefined, swing: 0 }) })[0]).toMatch(/has no swing 0/);
		expect(problemsOf(p, watching, { checks: check({ expext: 1 }) })[0]).toMatch(/expext/);
	});
});

it('the still answer and a run of one step over it are the same', () => {
	const p = made([small('a', [0, 0, 0]), object('wall', [0, 0, 5], [box([1, 1, 1])])], [near()], {
		duration: 0,
		watch: [{ query: 'near' }],
	});
	expect(short(ran(p).events)).toEqual(['0 enter a', '0 gain a', '0 choose a']);
});
