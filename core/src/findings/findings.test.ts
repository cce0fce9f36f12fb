/** Each rule has a project that has it and its nearest neighbour that does not; over generated projects none throws; SARIF. */

import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { applyPatch } from 'fast-json-patch';
import { describe, expect, it } from 'vitest';
import { answersAt } from '../checks/survey';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { randomRun } from '../tests/run';
import { runs } from '../tests/runs';
import { ahead, ball, box, object, project, rect } from '../tests/scene';
import { findingsPage } from './page';
import { FINDING_RULES, findFindings } from './rules';
import { sarifOf } from './sarif';

type More = Partial<Omit<Project, 'scene'>> & { scene?: Partial<Project['scene']> };
/** A cube ahead, a ray that selects it, and whatever is laid over that. */
function made(query: object = {}, cube: object = {}, more: More = {}): Project {
	const p = project(
		[object('x', [0, 0, -5], [box([1, 1, 1])], { prompt: 'Take', ...cube })],
		[ahead(query)],
		more.scene ?? {},
	);
	const { scene: _, ...rest } = more;
	const reading = checkProject(JSON.parse(JSON.stringify({ ...p, ...rest })));
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
}
const beside = (...others: ReturnType<typeof object>[]) => ({
	scene: { objects: [object('x', [0, 0, -5], [box([1, 1, 1])], { prompt: 'Take' }), ...others] },
});
const flatPick = { id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100] };
const flatPair = (z: number): Project =>
	project(
		[
			object('x', [0, 0, 0], [rect([1, 1])], { prompt: 'Take' }),
			object('y', [0.5, 0, z], [rect([1, 1])], { prompt: 'Take' }),
		],
		[flatPick],
		{ kind: 'flat' },
	);
const swing = (from: number, until: number): Project => {
	const p = made({}, {}, {
		queries: [
			{ id: 'q', kind: 'hitbox', asker: 'x', boxes: [{ shape: { kind: 'box', size: [1, 1, 1] }, from, until }] },
		],
	} as never);
	return { ...p, runs: [{ id: 'r', duration: 1, step: 0.1, swings: [{ query: 'q', at: 0.5 }] }] };
};
const passing = (step: number, between = 8): Project =>
	({
		...made({}, {}, {
			queries: [{ id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 0.5 } }],
		} as never),
		runs: [
			{
				id: 'r',
				duration: 1,
				step,
				between,
				tracks: [
					{
						object: 'x',
						keys: [
							{ t: 0, position: [-9, 0, 0] },
							{ t: 1, position: [9, 0, 0] },
						],
					},
				],
				watch: [{ query: 'q' }],
			},
		],
	}) as Project;
const slots = (keeps: 'all' | 'one'): Project =>
	({
		...made({}, {}, {
			queries: [{ id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 1 } }],
			...beside(object('y', [0, 0.1, 0], [box([1, 1, 1])], { prompt: 'Take' })),
		} as never),
		runs: [
			{
				id: 'r',
				duration: 1,
				step: 0.1,
				tracks: [
					{
						object: 'x',
						keys: [
							{ t: 0, position: [-5, 0, 0] },
							{ t: 0.3, position: [-0.6, 0, 0] },
							{ t: 0.6, position: [-5, 0, 0] },
						],
					},
				],
				watch: [{ id: 'w', query: 'q', keeps, ...(keeps === 'one' ? { forgets: 'any' } : {}) }],
			},
		],
	}) as Project;
const mapped = (wide: number): Project =>
	({
		...made({}, { shapes: [box([wide, wide, 1])] }, {
			queries: [{ id: 'q', kind: 'pick', camera: 'eye', viewport: [100, 100] }],
		} as never),
		maps: [{ id: 'm', query: 'q', kind: 'cursor', cell: 1 }],
	}) as Project;
/** Thrown at a place 5 m off, which takes √(9.81 · 5) m/s. */
const thrown = (speed: number): Project =>
	made({}, {}, {
		queries: [{ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, arc: { speed, at: { point: [3, 0, -4] } } }],
	} as never);
const lateBy = (late: number): Project =>
	({ ...made(), runs: [{ id: 'r', duration: 1, step: 0.1, watch: [{ query: 'q', late }] }] }) as Project;
/** A mark so far beside the middle of a wall that is 1 m wide. */
const marked = (away: number): Project =>
	made({}, {}, {
		scene: {
			objects: [
				object('x', [0, 0, -5], [box([1, 1, 1])], { prompt: 'Take', marks: [{ id: 'head', at: [2 + away, 0, 0] }] }),
				object('wall', [2, 0, -5], [box([1, 2, 2])], { layer: 'wall' }),
			],
		},
		queries: [
			{
				id: 'q',
				kind: 'overlap',
				at: { point: [0, 0, 0] },
				shape: { kind: 'sphere', radius: 9 },
				sight: { blockers: ['wall'], to: 'marks' },
			},
		],
	} as never);
const checked = (...checks: object[]): Project => made({}, {}, { checks: checks as never });
const selects = { id: 'c', query: 'q', expect: { selects: ['x'] } };

/** By rule: with it, and just without. */
/** An object looked for behind a wall that stands at z. */
const walledIn = (z: number): Project =>
	made({}, {}, {
		queries: [
			{
				id: 'q',
				kind: 'overlap',
				at: { point: [0, 0, 0] },
				shape: { kind: 'sphere', radius: 9 },
				sight: { blockers: ['wall'] },
				selects: { layers: ['a'] },
			},
		],
		...beside(object('wall', [0, 0, z], [box([2, 2, 2])], { layer: 'wall' })),
	} as never);

const CASES: Record<string, [Project, Project]> = {
	'tag-carried-by-nothing': [
		made({ selects: { tags: { any: ['crank', 'bird'] } } }, { tags: ['gull'] }),
		made({ selects: { tags: { any: ['bird'] } } }, { tags: ['gull'] }),
	],
	'tag-unused': [
		made({ selects: { tags: { none: ['gull'] } } }),
		made({ selects: { tags: { none: ['gull', 'crank'] } } }),
	],
	'layer-unused': [
		made({}, {}, { scene: { layers: [{ id: 'a' }, { id: 'b' }] } }),
		made({}, {}, { scene: { layers: [{ id: 'a' }] } }),
	],
	'side-unused': [
		made({}, {}, { scene: { sides: [{ id: 'us' }], stances: [] } }),
		made({}, { side: 'us' }, { scene: { sides: [{ id: 'us' }], stances: [] } }),
	],
	'state-unasked': [
		made({}, { states: { worn: true } }),
		made({ selects: { when: [{ of: 'target', state: 'worn', is: true }] } }, { states: { worn: true } }),
	],
	'state-unknown': [
		made({ selects: { when: [{ of: 'target', state: 'wron', is: false }] } }, { states: { worn: true } }),
		made({ selects: { when: [{ of: 'target', state: 'worn', is: false }] } }, { states: { worn: true } }),
	],
	'filter-never-passes': [
		made({ selects: { tags: { all: ['gull'], none: ['bird'] } } }),
		made({ selects: { tags: { all: ['bird'], none: ['gull'] } } }),
	],
	'query-never-on': [made({ enabled: false }), made()],
	'query-never-selects': [made({ length: 4.4 }), made({ length: 4.6 })],
	'answer-tied': [
		made({}, {}, beside(object('y', [0, 0.2, -5], [box([1, 1, 1])]))),
		made({}, {}, beside(object('y', [0, 0.2, -5.01], [box([1, 1, 1])]))),
	],
	'answer-by-order': [
		made(
			{ choose: { by: [{ rule: 'distance' }, { rule: 'listed' }] } },
			{},
			beside(object('y', [0, 0.2, -5], [box([1, 1, 1])])),
		),
		made(
			{ choose: { by: [{ rule: 'distance' }, { rule: 'listed' }] } },
			{},
			beside(object('y', [0, 0.2, -6], [box([1, 1, 1])])),
		),
	],
	'rule-never-decides': [
		made(
			{ choose: { by: [{ rule: 'distance' }, { rule: 'priority' }] } },
			{},
			beside(object('y', [0, 0.2, -6], [box([1, 1, 1])])),
		),
		made({ choose: { by: [{ rule: 'distance' }] } }, {}, beside(object('y', [0, 0.2, -6], [box([1, 1, 1])]))),
	],
	'outcome-never-reached': [
		made(
			{
				outcomes: [
					{ tag: 'bird', action: 'shoo' },
					{ tag: 'gull', action: 'feed' },
				],
			},
			{ tags: ['gull'] },
		),
		made(
			{
				outcomes: [
					{ tag: 'gull', action: 'feed' },
					{ tag: 'bird', action: 'shoo' },
				],
			},
			{ tags: ['gull'] },
		),
	],
	'action-without-effect': [
		made({}, { action: 'take' }, { effects: [{ action: 'ring', do: [] }] }),
		made({}, { action: 'ring' }, { effects: [{ action: 'ring', do: [] }] }),
	],
	'selectable-without-prompt': [
		made({ choose: { take: 'all' } }, {}, beside(object('y', [0, 0.2, -7], [box([1, 1, 1])]))),
		made({ choose: { take: 'all' } }, {}, beside(object('y', [0, 0.2, -7], [box([1, 1, 1])], { prompt: 'See' }))),
	],
	'object-never-selected': [
		made({}, {}, beside(object('y', [9, 0, 0], [box([1, 1, 1])], { action: 'take' }))),
		made({}, {}, beside(object('y', [9, 0, 0], [box([1, 1, 1])]))),
	],
	'sensors-asked-to-block': [
		made(
			{ sight: { blockers: ['wall'] } },
			{},
			beside(object('zone', [0, 0, -3], [box([1, 1, 1], { role: 'sensor' })], { layer: 'wall' })),
		),
		made(
			{ sight: { blockers: ['wall'], sensors: true } },
			{},
			beside(object('zone', [0, 0, -3], [box([1, 1, 1], { role: 'sensor' })], { layer: 'wall' })),
		),
	],
	'ignore-ignores-nothing': [
		made({ ignore: ['y'] }, {}, beside(object('y', [9, 0, 0], [box([1, 1, 1])]))),
		made({ ignore: ['y'] }, {}, beside(object('y', [0, 0, -3], [box([1, 1, 1])]))),
	],
	'reach-from-camera': [
		made({ from: { camera: 'eye' }, asker: 'me', range: { max: 9 } }, {}, beside(object('me', [0, 0, 3], []))),
		made(
			{ from: { camera: 'eye' }, asker: 'me', range: { max: 9, from: { object: 'me' } } },
			{},
			beside(object('me', [0, 0, 3], [])),
		),
	],
	'shape-tiny': [made({}, { shapes: [box([1, 1, 0.0009])] }), made({}, { shapes: [box([1, 1, 0.001])] })],
	'shape-huge': [made({}, { shapes: [box([1, 1, 10_001])] }), made({}, { shapes: [box([1, 1, 9_999])] })],
	'shape-out-of-scale': [
		made(
			{},
			{},
			beside(
				...[1, 2, 3, 4, 5].map((i) => object(`o${i}`, [i, 9, 0], [box([1, 1, 1])])),
				object('big', [0, 0, -400], [box([102, 102, 102])]),
			),
		),
		made(
			{},
			{},
			beside(
				...[1, 2, 3, 4, 5].map((i) => object(`o${i}`, [i, 9, 0], [box([1, 1, 1])])),
				object('big', [0, 0, -400], [box([99, 99, 99])]),
			),
		),
	],
	'far-from-origin': [
		made({}, {}, beside(object('y', [20_001, 0, 0], [box([1, 1, 1])]))),
		made({}, {}, beside(object('y', [19_999, 0, 0], [box([1, 1, 1])]))),
	],
	'round-under-uneven-scale': [
		made({}, { shapes: [ball(1)], scale: [1, 2, 1] }),
		made({}, { shapes: [ball(1)], scale: [2, 2, 2] }),
	],
	'focus-outside': [made({}, { focus: [0, 0.8, 0] }), made({}, { focus: [0, 0.7, 0] })],
	'focus-buried': [walledIn(-5), walledIn(-3)],
	'left-over-shape': [
		made(
			{ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } },
			{},
			beside(
				object('cover', [0, 0, -3], [box([1, 0.2, 1], { id: 'folds' }), box([1, 2, 1], { id: 'old' })], {
					layer: 'wall',
				}),
			),
		),
		made(
			{ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } },
			{},
			beside(
				object('cover', [0, 0, -3], [box([1, 0.6, 1], { id: 'folds' }), box([1, 2, 1], { id: 'old' })], {
					layer: 'wall',
				}),
			),
		),
	],
	'approach-walled-off': [
		made(
			{ sight: { blockers: ['wall'] } },
			{ approach: { from: [1, 0, 0], within: 180 } },
			{
				scene: {
					objects: [
						object('x', [0, 0, -5], [box([1, 1, 1])], { approach: { from: [1, 0, 0], within: 180 }, prompt: 'Take' }),
						object('wall', [1.2, 0, -5], [box([0.6, 2, 2])], { layer: 'wall' }),
					],
				},
			},
		),
		made(
			{ sight: { blockers: ['wall'] } },
			{},
			{
				scene: {
					objects: [
						object('x', [0, 0, -5], [box([1, 1, 1])], { approach: { from: [-1, 0, 0], within: 180 }, prompt: 'Take' }),
						object('wall', [1.2, 0, -5], [box([0.6, 2, 2])], { layer: 'wall' }),
					],
				},
			},
		),
	],
	'same-depth': [flatPair(0.001), flatPair(0.0011)],
	'check-twice': [
		checked(selects, { ...selects, id: 'd', name: 'Again' }),
		checked(selects, { id: 'd', query: 'q', expect: { none: true } }),
	],
	'answer-unchecked': [made(), checked(selects)],
	'check-off': [checked({ ...selects, extras: { off: true } }), checked(selects)],
	'throw-never-reaches': [thrown(7), thrown(7.01)],
	'late-before-beginning': [lateBy(1), lateBy(0.9)],
	'mark-buried': [marked(0.4), marked(0.6)],
	'window-without-step': [swing(0.01, 0.09), swing(0.01, 0.1)],
	'passes-between-steps': [passing(0.4), passing(0.05)],
	'memory-disagrees': [slots('one'), slots('all')],
	'target-small': [mapped(1), mapped(4)],
};

const found = (p: Project, rule: string) => findFindings(p).filter((f) => f.rule === rule);

describe('each rule', () => {
	it('has a section in docs/findings.md: npm run schemas writes it', () => {
		expect(readFileSync(join(import.meta.dirname, '../../../docs/findings.md'), 'utf8')).toBe(findingsPage());
	});

	it('looks between the steps of a run as the run does where it says nothing of it', () => {
		const p = passing(0.4);
		for (const run of p.runs ?? []) delete run.between;
		expect(found(p, 'passes-between-steps')).toHaveLength(1);
		expect(found(passing(0.4, 1), 'passes-between-steps')).toEqual([]);
	});

	it('takes a tie for an answer, where none but ties are given', () => {
		const tie = made({}, {}, beside(object('y', [0, 0.2, -5], [box([1, 1, 1])])));
		expect(found(tie, 'query-never-selects')).toEqual([]);
		expect(found(tie, 'answer-tied')).toHaveLength(1);
	});

	it('is a note where checks expect it everywhere, and says how many do', () => {
		const tie = made({}, {}, beside(object('y', [0, 0.2, -5], [box([1, 1, 1])])));
		const one = { id: 'c1', query: 'q', expect: { tie: ['x', 'y'] } };
		const of = (checks: object[]) =>
			found({ ...tie, checks } as Project, 'answer-tied').map((f) => [f.level, f.message.includes('expected by')]);
		expect(of([])).toEqual([['warning', false]]);
		expect(of([one])).toEqual([['note', true]]);
		expect(of([{ ...one, extras: { off: true } }])).toEqual([['warning', false]]);
		expect(of([{ ...one, expect: { none: true } }])).toEqual([['warning', false]]);
		// At one of two moments nobody expects it.
		const later = { ...tie, moments: [{ id: 'later' }], checks: [one, { ...one, id: 'c2' }] } as Project;
		expect(found(later, 'answer-tied').map((f) => f.level)).toEqual(['warning']);
		const both = { ...later, checks: [one, { ...one, id: 'c2', moment: 'later' }] } as Project;
		expect(found(both, 'answer-tied')[0]?.message).toMatch(/; expected by 2 checks$/);
		const nothing = { ...made({ length: 4.4 }), checks: [{ id: 'c', query: 'q', expect: { none: true } }] } as Project;
		expect(found(nothing, 'query-never-selects').map((f) => [f.level, f.message])).toEqual([
			['note', expect.stringMatching(/selects nothing at any moment; expected by 1 check$/)],
		]);
	});

	it('of many objects never selected is one line, with the place of each', () => {
		const many = (n: number) =>
			made(
				{},
				{},
				beside(
					...Array.from({ length: n }, (_, i) =>
						object(`y-${i}`, [9 + 3 * i, 0, 0], [box([1, 1, 1])], { action: 'take' }),
					),
				),
			);
		expect(found(many(5), 'object-never-selected')).toHaveLength(5);
		const [one, ...more] = found(many(6), 'object-never-selected');
		expect(more).toEqual([]);
		expect(one?.message).toBe(
			'6 objects have a prompt or an action, and neither a query nor a map selects them: y-0, y-1, y-2, y-3, y-4 and 1 more',
		);
		expect(one?.path).toBe('scene.objects');
		expect(one?.related).toHaveLength(6);
		// What is ignored by itself does not count among them, and all of them may be ignored.
		const but = (path: string) =>
			({ ...many(6), extras: { findings: [{ rule: 'object-never-selected', path }] } }) as Project;
		expect(found(but('scene.objects[1]'), 'object-never-selected').map((f) => f.path)).toHaveLength(5);
		expect(found(but('scene.objects'), 'object-never-selected')).toEqual([]);
	});

	it('has a case', () => {
		expect(Object.keys(CASES).sort()).toEqual(FINDING_RULES.map((r) => r.id).sort());
		expect(FINDING_RULES.length).toBeGreaterThanOrEqual(30);
		expect(new Set(FINDING_RULES.map((r) => r.id)).size).toBe(FINDING_RULES.length);
	});

	for (const [rule, [has, hasNot]] of Object.entries(CASES))
		it(`${rule}: found where it is, and not just beside`, () => {
			const list = found(has, rule);
			expect(list.length).toBeGreaterThan(0);
			for (const f of list) {
				expect(f.message).toMatch(/\S.{10,}/);
				// Its place is in the file.
				const steps = [...f.path.matchAll(/\[(\d+)\]|([^.[\]]+)/g)].map((m) => m[1] ?? m[2]);
				expect(
					steps.reduce<unknown>((at, step) => (at as Record<string, unknown>)?.[step as string], has),
					f.path,
				).toBeDefined();
			}
			expect(found(hasNot, rule)).toEqual([]);
		});

	it('whose finding has a patch: it settles it, and changes no answer', () => {
		for (const [rule, [has]] of Object.entries(CASES))
			for (const { patch } of found(has, rule)) {
				if (!patch) continue;
				const after = applyPatch(JSON.parse(JSON.stringify(has)), patch, true).newDocument as Project;
				expect(checkProject(after).ok, rule).toBe(true);
				expect(found(after, rule).length, rule).toBeLessThan(found(has, rule).length);
				expect(answersAt(after)).toEqual(answersAt(has));
			}
	});
});

describe('findings', () => {
	it('say what is meant, with near spellings and names', () => {
		const [tag] = found(made({ selects: { tags: { any: ['crank'] } } }, { tags: ['gull'] }), 'tag-carried-by-nothing');
		expect(tag).toMatchObject({ level: 'warning', path: 'queries[0].selects.tags.any[0]', related: [] });
		const [state] = found(CASES['state-unknown'][0], 'state-unknown');
		expect(state.message).toBe('“q” asks for the state “wron”, which no object has (did you mean "worn"?)');
	});

	it('that are left be are not told again', () => {
		const p = made();
		const [f] = found(p, 'answer-unchecked');
		expect(
			found({ ...p, extras: { findings: [{ rule: f.rule, path: f.path, why: 'tried by hand' }] } }, f.rule),
		).toEqual([]);
		expect(found({ ...p, extras: { findings: [{ rule: f.rule, path: 'queries[1]' }] } }, f.rule)).toHaveLength(1);
	});

	it('come errors first, and none of the examples has one', () => {
		const p = made({ selects: { tags: { all: ['gull'], none: ['bird'] } } });
		expect(findFindings(p)[0].level).toBe('error');
		for (const name of ['harl-quay', 'deck-from-above', 'pursers-desk']) {
			const list = findFindings(example(name));
			expect(list.filter((f) => f.level === 'error')).toEqual([]);
			expect(list.length).toBeGreaterThan(0);
		}
		// What was put there to be found.
		expect(found(example('harl-quay'), 'left-over-shape').map((f) => f.path)).toEqual(['scene.objects[10].shapes[1]']);
		expect(found(example('pursers-desk'), 'same-depth')).toHaveLength(1);
	});

	it('throw for no project', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				for (const p of [randomProject(seed, { objects: 5, queries: 4 }), randomRun(seed)])
					expect(Array.isArray(findFindings(p))).toBe(true);
			}),
			{ numRuns: runs(40) },
		);
	});

	it('as SARIF have their rules, levels, places and lines', () => {
		const p = made({ selects: { tags: { any: ['crank'] } } });
		const text = JSON.stringify(p, null, 2);
		const log = sarifOf([{ file: 'levels/my yard.json', text, findings: findFindings(p) }]) as {
			version: string;
			runs: {
				tool: { driver: { rules: { id: string }[] } };
				results: {
					ruleId: string;
					ruleIndex: number;
					level: string;
					locations: {
						physicalLocation: { artifactLocation: { uri: string }; region?: { startLine: number } };
						logicalLocations: { fullyQualifiedName: string }[];
					}[];
				}[];
			}[];
		};
		expect(log.version).toBe('2.1.0');
		const [run] = log.runs;
		for (const result of run.results) {
			expect(run.tool.driver.rules[result.ruleIndex].id).toBe(result.ruleId);
			expect(['error', 'warning', 'note']).toContain(result.level);
			expect(result.locations[0].physicalLocation.artifactLocation.uri).toBe('levels/my%20yard.json');
		}
		const tag = run.results.find((r) => r.ruleId === 'tag-carried-by-nothing');
		const line = tag?.locations[0].physicalLocation.region?.startLine ?? 0;
		expect(text.split('\n')[line - 1]).toContain('"crank"');
	});
});

it('a throw that never reaches is told once, with the speed that would', () => {
	const all = findFindings(thrown(7));
	expect(all.filter((f) => f.rule === 'query-never-on')).toEqual([]);
	expect(all.find((f) => f.rule === 'throw-never-reaches')?.message).toContain('7.01 m/s would');
});

it('every rule says how it is mended, as an instruction', () => {
	for (const rule of FINDING_RULES) expect(rule.mend, rule.id).toMatch(/^[A-Z][^.]+.*\.$/);
});
