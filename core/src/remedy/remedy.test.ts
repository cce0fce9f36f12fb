/** Remedies: each kind by hand, every one applied by a patch library gives the wished answer, its side effects are those of a full survey. */

import fc from 'fast-check';
import { applyPatch } from 'fast-json-patch';
import { describe, expect, it } from 'vitest';
import { runChecks } from '../checks/check';
import { answersAt, changesBetween } from '../checks/survey';
import { takeOf } from '../project/defaults';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project, SceneObject } from '../project/schema';
import { Answerer } from '../query/answer';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { runs } from '../tests/runs';
import { ahead, box, object, project, rect } from '../tests/scene';
import { buildWorld } from '../world/world';
import { byCost, type Remedy, remediesFor } from './remedy';
import { leastAlong, leastMove } from './search';

const CUBE = () => [box([1, 1, 1])];
const cube = (id: string, z: number, more: Partial<SceneObject> = {}): SceneObject =>
	object(id, [0, 0, z], CUBE(), more);
const patched = (p: Project, { patch }: Remedy): Project =>
	applyPatch(JSON.parse(JSON.stringify(p)), patch, true).newDocument as Project;
const selectedBy = (p: Project, query = 'q', moment: string | null = null): string[] => {
	const answerer = new Answerer(buildWorld(p, moment));
	const of = answerer.world.queryById.get(query);
	return of ? answerer.winner(of).selected.map((s) => s.object) : [];
};
/** The remedies for "x" in a scene, by kind; each is applied and found to help. */
function helps(
	objects: SceneObject[],
	query: object = {},
	more: Partial<Project['scene']> = {},
	wish: 'select' | 'leave' = 'select',
) {
	const p = project(objects, [ahead(query)], more);
	const { verdict, remedies } = remediesFor(p, { query: 'q', object: 'x', wish });
	for (const r of remedies) {
		const after = patched(p, r);
		const reading = checkProject(after);
		expect(reading.ok ? [] : reading.problems.map(formatProblem), r.words).toEqual([]);
		if (wish === 'select') expect(selectedBy(after), r.words).toEqual(['x']);
		else expect(selectedBy(after), r.words).not.toContain('x');
	}
	return {
		stage: verdict?.stage,
		kinds: [...new Set(remedies.map((r) => r.kind))].sort(),
		words: remedies.map((r) => r.words),
		remedies,
	};
}

it('of two that do the same the one that turns fewer checks stands first, then what changes fewer answers, fewer edits, the smaller', () => {
	const of = (turns: number, changes: number, kind: string, size: number) =>
		({ turns: Array(turns), changes: Array(changes), kind, size }) as unknown as Remedy;
	const order = [
		of(0, 0, 'a', 9),
		of(0, 1, 'a', 2),
		of(0, 1, 'a', 3),
		of(0, 1, 'a+b', 1),
		of(0, 2, 'a', 1),
		of(1, 0, 'a', 1),
	];
	expect([...order].reverse().sort(byCost)).toEqual(order);
});

describe('a remedy for each stage', () => {
	it('that looks at what an object is', () => {
		expect(helps([cube('x', -5, { active: false })])).toMatchObject({ stage: 'inactive', words: ['Make x active'] });
		expect(
			helps([object('up', [0, 0, 0], [], { active: false }), cube('x', -5, { parent: 'up', active: false })]).words,
		).toEqual(['Make x and up active']);
		expect(helps([cube('x', -5)], { ignore: ['x'] })).toMatchObject({
			stage: 'excluded',
			words: ['Ignore x no longer'],
		});
		expect(helps([cube('x', -5)], { selects: { layers: ['b'] } })).toMatchObject({
			stage: 'layer',
			words: ['Choose from a too', 'Put x on layer b'],
		});
		// A shape with a layer of its own goes along.
		expect(
			helps([object('x', [0, 0, -5], [box([1, 1, 1], { layer: 'wall' })])], { selects: { layers: ['b'] } }).words,
		).toEqual(['Choose from wall too', 'Put x on layer b']);
		expect(helps([cube('x', -5)], { selects: { tags: { any: ['crank', 'gull'] } } }).words).toEqual([
			'Give x the tag crank',
			'Give x the tag gull',
			'Ask no longer for crank, gull',
		]);
		expect(
			helps([cube('x', -5, { tags: ['gull'] })], { selects: { tags: { all: ['crank'], none: ['bird'] } } }),
		).toMatchObject({
			stage: 'tags',
			words: ['Give x the tag crank and take gull away', 'Ask no longer for crank and no bird'],
		});
		expect(
			helps([cube('x', -5, { side: 'us' }), object('me', [0, 0, 1], [], { side: 'us' })], {
				asker: 'me',
				selects: { stances: ['hostile'] },
			}),
		).toMatchObject({
			stage: 'side',
			words: ['Choose from friendly ones too', 'Put x on the side them', 'Let those of us be hostile to each other'],
		});
		expect(
			helps([cube('x', -5, { states: { wear: 7 } })], {
				selects: { when: [{ of: 'target', state: 'wear', above: 0, below: 5 }] },
			}),
		).toMatchObject({
			stage: 'state',
			words: ['Set wear of x to 1', 'Drop the condition wear above 0 and below 5'],
		});
		expect(
			helps([object('x', [0, 0, -5], [box([1, 1, 1], { role: 'sensor' })])], { selects: { roles: ['solid'] } }),
		).toMatchObject({
			stage: 'role',
			words: ['Choose by sensor shapes too', 'Make the shapes of x solid'],
		});
	});

	it('that looks at where it is, with the least figure that is enough', () => {
		const short = helps([cube('x', -5)], { length: 3 });
		expect(short.stage).toBe('touch');
		expect(short.words[0]).toBe('Make it 4.5 m long');
		expect(short.kinds).toEqual(['length', 'move-object']);
		expect(short.remedies.find((r) => r.kind === 'move-object')?.size).toBeCloseTo(1.5, 2);
		const beside = helps([object('x', [2, 0, -5], CUBE())]);
		expect(beside.kinds).toEqual(['assist', 'move-object', 'thicken', 'turn-aim']);
		// The corner of its far face, (1.5, −5.5), comes first: 15.26°.
		expect(beside.remedies.find((r) => r.kind === 'turn-aim')?.size).toBeCloseTo(15.3, 6);
		expect(beside.words).toContain('Make it a sweep 3.02 m thick');
		expect(beside.remedies.find((r) => r.kind === 'move-object')?.size).toBeCloseTo(1.5, 2);
		// The focus lies atan(2/5) off the ray.
		expect(beside.remedies.find((r) => r.kind === 'assist')?.words).toBe('Help the aim within 21.9°');
		expect(helps([cube('x', -5)], { range: { max: 4.2 } }).words[0]).toBe('Let it reach 4.5 m far');
		expect(helps([cube('x', -5)], { range: { min: 4.75 } }).words[0]).toBe('Let it begin at 4.5 m');
		const seen = helps([cube('x', -5, { focus: [1, 0, 0] })], { view: { within: 5 } });
		expect(seen.stage).toBe('view');
		expect(seen.words).toContain('Let it see 11.4° to every side');
		const side = helps([cube('x', -5, { approach: { from: [1, 0, 0], within: 30 } })]);
		expect(side.stage).toBe('approach');
		expect(side.words).toEqual(
			expect.arrayContaining(['Let it be approached from any side', 'Let x be approached within 90°']),
		);
	});

	it('that is hidden, or is not the one chosen', () => {
		const hidden = helps([object('w', [0, 0, -2], [box([2, 2, 0.2])], { layer: 'wall' }), cube('x', -5)], {
			selects: { layers: ['a'] },
			sight: { blockers: ['wall'] },
		});
		expect(hidden.stage).toBe('sight');
		expect(hidden.kinds).toEqual(['drop-blocker', 'make-sensor', 'move-blocker', 'move-object', 'unblock-layer']);
		expect(hidden.remedies.find((r) => r.kind === 'move-blocker')?.size).toBeCloseTo(1, 2);
		const behind = helps([cube('y', -3, { tags: ['crank'] }), cube('x', -5)]);
		expect(behind.stage).toBe('choice');
		expect(behind.kinds).toEqual(['forbid-tag', 'move-object', 'move-rival', 'rule']);
		expect(behind.remedies.find((r) => r.kind === 'move-rival')?.size).toBeCloseTo(0.5, 1);
		const tie = helps([cube('x', -5), object('y', [0, 0.2, -5], CUBE())]);
		expect(tie.stage).toBe('tied');
		expect(tie.words).toContain('Choose at last the one that is listed first');
		expect(tie.remedies.find((r) => r.kind === 'move-object')?.size).toBeLessThan(0.003);
	});

	it('that is one for each rival, whose names differ in a digit alone or not at all', () => {
		const crate = (i: number, z: number) => cube(`crate-${i}`, z);
		const { remedies } = remediesFor(
			project([crate(4, -3), crate(5, -5), cube('x', -7)], [ahead({ choose: { take: 2 } })]),
			{ query: 'q', object: 'x', wish: 'select' },
		);
		const away = remedies.filter((r) => r.kind === 'move-rival').map((r) => r.words.replace(/ by .*/, ''));
		expect(away.sort()).toEqual(['Move crate-4 away', 'Move crate-5 away']);
		const alike = remediesFor(
			project(
				[
					{ ...crate(4, -3), name: 'Crate', tags: ['crank'] },
					{ ...crate(5, -5), name: 'Crate', tags: ['crank'] },
					cube('x', -7),
				],
				[ahead({ choose: { take: 2 } })],
			),
			{ query: 'q', object: 'x', wish: 'select' },
			{ naming: () => 'Crate' },
		).remedies.map((r) => [r.kind, JSON.stringify(r.patch)]);
		expect(alike.filter(([kind]) => kind === 'move-rival')).toHaveLength(2);
		expect(new Set(alike.map(([, patch]) => patch)).size).toBe(alike.length);
	});

	it('of a query that is off', () => {
		expect(helps([cube('x', -5)], { enabled: false })).toMatchObject({ stage: undefined, words: ['Switch q on'] });
		const when = [{ of: 'scene', state: 'dark', is: true }];
		expect(helps([cube('x', -5)], { selects: { when } }, { states: { dark: false } }).words).toEqual([
			'Set dark of the scene to yes',
			'Drop the condition dark is yes',
		]);
	});

	it('in the plane: the cursor by the least way in pixels', () => {
		const p = project(
			[object('x', [2, 0, 0], [rect([1, 1])])],
			[{ id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100] }],
			{ kind: 'flat' },
		);
		const { remedies } = remediesFor(p, { query: 'q', object: 'x' });
		const cursor = remedies.find((r) => r.kind === 'move-cursor');
		// Ten pixels a metre: the edge at 1.5 m.
		expect(cursor?.size).toBeGreaterThanOrEqual(15);
		expect(cursor?.size).toBeLessThan(16.1);
	});

	it('that it leaves', () => {
		const away = helps(
			[cube('x', -5, { tags: ['crank'] }), cube('y', -9)],
			{ selects: { layers: ['a', 'b'] } },
			{},
			'leave',
		);
		expect(away.kinds).toEqual(
			expect.arrayContaining(['drop-layer', 'enable', 'forbid-tag', 'ignore', 'move-object', 'range']),
		);
		expect(away.remedies.find((r) => r.kind === 'move-object')?.size).toBeCloseTo(0.5, 2);
	});

	it('that needs two', () => {
		const two = helps([cube('x', -5)], { selects: { layers: ['b'], tags: { all: ['crank'] } } });
		expect(two.words).toContain('Choose from a too; give x the tag crank');
		expect(two.kinds.every((k) => k.includes('+'))).toBe(true);
	});

	it('is none where it is so already, and unknown names are refused', () => {
		const p = project([cube('x', -5)], [ahead()]);
		expect(remediesFor(p, { query: 'q', object: 'x' })).toMatchObject({ already: true, remedies: [] });
		expect(() => remediesFor(p, { query: 'no', object: 'x' })).toThrow('no query "no"');
	});
});

describe('least moves', () => {
	it('are found to a millimetre, and no smaller one is on a dense search', () => {
		expect(leastAlong((t) => t >= 0.7317, 20, 0.001)).toBeCloseTo(0.732, 9);
		expect(leastAlong(() => false, 20, 0.001)).toBeNull();
		expect(leastAlong(() => true, 20, 0.001)).toBe(0.001);
		// Out of a ball of radius one, its middle off the origin: the least way is straight away from it.
		const centre = [0.3, 0.2, -0.4];
		const out = (x: number, y: number, z: number) => Math.hypot(x - centre[0], y - centre[1], z - centre[2]) >= 1;
		const found = leastMove(out, 'space');
		const least = 1 - Math.hypot(...centre);
		expect(found?.length).toBeGreaterThanOrEqual(least - 1e-9);
		expect(found?.length).toBeLessThan(least + 0.004);
		const flat = leastMove((x, y) => Math.hypot(x - 0.3, y - 0.2) >= 1, 'flat');
		expect(flat?.move[2]).toBe(0);
		expect(flat?.length).toBeLessThan(1 - Math.hypot(0.3, 0.2) + 0.004);
	});
});

describe('every remedy', () => {
	it('in the examples goes into the moment where it can, and is told with its cost', () => {
		const quay = example('harl-quay-before');
		const check = quay.checks?.find((c) => c.id === 'gaze');
		if (!check || !('query' in check)) throw new Error('the example has no such check');
		const wanted = check.expect.selects?.[0] ?? '';
		const { verdict, remedies } = remediesFor(quay, { query: 'gaze', object: wanted, naming: undefined } as never);
		expect(verdict?.stage).toBe('sight');
		expect(remedies.length).toBeGreaterThan(2);
		// The cheapest turns nothing, and mends the check.
		expect(remedies[0].turns).toEqual([]);
		expect(remedies[0].mends).toContain('gaze');
		const moment = quay.moments?.[0]?.id ?? null;
		const there = remediesFor(quay, { query: 'gaze', object: 'cleat-far', moment });
		for (const r of there.remedies.filter((x) => x.kind === 'move-object'))
			expect(r.patch.every((op) => op.path.startsWith('/moments/'))).toBe(true);
	});

	it('applied by a patch library gives the wished answer, and changes what it says it changes', () => {
		let tried = 0;
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				const p = randomProject(seed, { objects: 6, queries: 3 });
				const query = p.queries[seed % p.queries.length];
				const target = p.scene.objects[seed % p.scene.objects.length];
				const moments = [null, ...(p.moments ?? []).map((m) => m.id)];
				const moment = moments[seed % moments.length] ?? null;
				const wish = seed % 3 === 0 ? 'leave' : 'select';
				const { remedies } = remediesFor(p, { query: query.id, object: target.id, moment, wish });
				const before = answersAt(p);
				const held = new Map(runChecks(p).map((r) => [r.id, r.pass]));
				for (const r of remedies) {
					tried++;
					const after = patched(p, r);
					expect(checkProject(after).ok, `seed ${seed}: ${r.words}`).toBe(true);
					const selected = selectedBy(after, query.id, moment);
					if (wish === 'leave') expect(selected, `seed ${seed}: ${r.words}`).not.toContain(target.id);
					else if (takeOf(after.queries.find((q) => q.id === query.id) ?? query) === 1)
						expect(selected, `seed ${seed}: ${r.words}`).toEqual([target.id]);
					else expect(selected, `seed ${seed}: ${r.words}`).toContain(target.id);
					const changes = changesBetween(before, answersAt(after)).filter(
						(c) => c.query !== query.id || c.moment !== moment,
					);
					expect(r.changes).toEqual(changes.map((c) => ({ query: c.query, moment: c.moment })));
					const now = new Map(runChecks(after).map((c) => [c.id, c.pass]));
					expect(r.turns).toEqual([...held].filter(([id, pass]) => pass && now.get(id) === false).map(([id]) => id));
				}
				const costs = remedies.map((r) => [
					r.looks === 'mistake' ? 0 : 1,
					r.turns.length,
					r.looks === 'works' ? 1 : 0,
					r.changes.length,
					r.kind.split('+').length,
					r.size,
				]);
				expect(costs).toEqual([...costs].sort((a, b) => a.map((v, i) => v - b[i]).find((d) => d !== 0) ?? 0));
			}),
			{ numRuns: runs(60) },
		);
		expect(tried).toBeGreaterThan(runs(10) / 2);
	});
});
