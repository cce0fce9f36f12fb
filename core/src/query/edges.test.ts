/** Rules of a query at their very edge, and just past it. */

import { describe, expect, it } from 'vitest';
import { takeOf } from '../project/defaults';
import type { Project, Query, SceneObject, Shape } from '../project/schema';
import { ahead, answerTo, ask, ball, box, disc, object, project, rect, verdict } from '../tests/scene';
import { buildWorld, moveObjects } from '../world/world';
import { Answerer } from './answer';
import { rulesOf, slackOf } from './choose';
import { NOTHING, OTHER, prepareRay } from './ray-winner';
import type { Answer } from './types';

type Point = [number, number, number];
const unitBox = (id: string, at: Point, more: Partial<SceneObject> = {}) => object(id, at, [box([1, 1, 1])], more);
const chosen = (answer: Answer) => answer.selected.map((s) => s.object);
const stage = (answer: Answer, id: string) => verdict(answer, id).stage;

/** The answer without verdicts, which goes its own way through the filters. */
function winner(p: Project): Answer {
	const answerer = new Answerer(buildWorld(p));
	return answerer.winner(answerer.world.queries[0] as Query);
}

describe('at the start', () => {
	const wedge: Shape = {
		id: 'hull',
		kind: 'hull',
		points: [
			[-1, -1, -1],
			[1, -1, -1],
			[-1, 1, -1],
			[1, 1, -1],
			[-1, -1, 0],
			[1, -1, 0],
			[-1, 1, 0],
			[1, 1, 0],
		],
	};
	const sheet: Shape = {
		id: 'mesh',
		kind: 'mesh',
		vertices: [-1, -1, 0, 1, -1, 0, 0, 1, 0],
		triangles: [0, 1, 2],
	};
	const bodies: [string, Shape, number][] = [
		['box', box([2, 2, 2]), 1],
		['ball', ball(1), 1],
		['capsule', { id: 'capsule', kind: 'capsule', radius: 1, height: 3 }, 1],
		['cylinder', { id: 'cylinder', kind: 'cylinder', radius: 1, height: 2 }, 1],
		['hull', wedge, 0],
		['mesh', sheet, 0],
	];
	const probe = { kind: 'sphere', radius: 0.25 };

	// The contract's micrometre: nine tenths of it are on the face, eleven before it.
	it.each(bodies)('counts as on a %s within a micrometre of its face, and not farther', (_, shape, face) => {
		const from = (gap: number) => ({ point: [0, 0, face + gap] });
		for (const gap of [1e-7, 9e-7]) {
			const on = answerTo(ahead({ from: from(gap) }), [object('o', [0, 0, 0], [shape])]);
			expect(on.notes, `${gap} m`).toEqual([{ code: 'starts-inside', object: 'o' }]);
			expect(
				answerTo(ahead({ from: from(gap), startInside: 'count' }), [object('o', [0, 0, 0], [shape])]).selected[0]
					?.distance,
			).toBe(0);
			const swept = answerTo(ahead({ kind: 'sweep', shape: probe, from: from(gap + 0.25) }), [
				object('o', [0, 0, 0], [shape]),
			]);
			expect(swept.notes, `swept, ${gap} m`).toEqual([{ code: 'starts-inside', object: 'o' }]);
		}
		const off = answerTo(ahead({ from: from(1.1e-6) }), [object('o', [0, 0, 0], [shape])]);
		expect([off.notes, chosen(off)]).toEqual([[], ['o']]);
		const swept = answerTo(ahead({ kind: 'sweep', shape: probe, from: from(0.25 + 1.1e-6) }), [
			object('o', [0, 0, 0], [shape]),
		]);
		expect([swept.notes, chosen(swept)]).toEqual([[], ['o']]);
	});

	it('counts for what blocks as for what is chosen', () => {
		const within = unitBox('within', [0, 0, 0], { layer: 'wall' });
		const skipping = answerTo(ahead({ sight: { blockers: ['wall'] }, selects: { layers: ['a'] } }), [
			within,
			unitBox('x', [0, 0, -3]),
		]);
		expect([chosen(skipping), skipping.notes]).toEqual([['x'], [{ code: 'starts-inside', object: 'within' }]]);
		const counting = answerTo(
			ahead({ sight: { blockers: ['wall'] }, selects: { layers: ['a'] }, startInside: 'count' }),
			[within, unitBox('x', [0, 0, -3])],
		);
		expect(verdict(counting, 'x')).toEqual({ object: 'x', stage: 'sight', by: 'within', margin: 2.5 });
	});
});

describe('a path', () => {
	it('touches up to its end and no farther', () => {
		for (const [past, touched] of [
			[0, true],
			[5e-10, true],
			[2e-9, false],
		] as const)
			expect(chosen(answerTo(ahead({ length: 2.5 - past }), [unitBox('x', [0, 0, -3])])), `${past}`).toEqual(
				touched ? ['x'] : [],
			);
	});

	it('is blocked up to the slack past its end', () => {
		const tie = (at: number) =>
			answerTo(ahead({ length: 2.5, sight: { blockers: ['wall'] }, selects: { layers: ['a'] } }), [
				unitBox('x', [0, 0, -3]),
				unitBox('wall', [0.3, 0, -3 - at], { layer: 'wall' }),
			]);
		// A blocker within the slack behind what is touched is as near as that.
		expect([tie(0.0009).status, tie(0.0009).tied]).toEqual(['tie', ['x', 'wall']]);
		expect(chosen(tie(0.0011))).toEqual(['x']);
		expect(tie(-0.0009).status).toBe('tie');
		expect(stage(tie(-0.0011), 'x')).toBe('sight');
	});
});

describe('filters', () => {
	const selects = (more: object, objects: SceneObject[], scene: Partial<Project['scene']> = {}) =>
		answerTo(ahead({ selects: more, choose: { take: 'all' } }), objects, scene);

	it('tell tags past the thirty-second apart', () => {
		const tags = Array.from({ length: 70 }, (_, i) => ({ id: `t${i}` }));
		const objects = ['t0', 't31', 't32', 't33', 't64'].map((tag, i) =>
			unitBox(tag, [0, 0, -3 - 2 * i], { tags: [tag] }),
		);
		const of = (filter: object) => chosen(selects({ tags: filter }, objects, { tags }));
		expect(of({ any: ['t32'] })).toEqual(['t32']);
		expect(of({ any: ['t0', 't64'] })).toEqual(['t0', 't64']);
		expect(of({ all: ['t33'] })).toEqual(['t33']);
		expect(of({ all: ['t33', 't32'] })).toEqual([]);
		expect(of({ none: ['t32', 't0'] })).toEqual(['t31', 't33', 't64']);
	});

	it('say what is missing and what is forbidden, each once', () => {
		const scene = { tags: ['a', 'b', 'c', 'd'].map((id) => ({ id })) };
		const told = selects(
			{ tags: { any: ['a', 'b'], all: ['b', 'c'], none: ['d'] } },
			[unitBox('x', [0, 0, -3], { tags: ['d'] })],
			scene,
		);
		expect(verdict(told, 'x')).toEqual({
			object: 'x',
			stage: 'tags',
			missing: ['b', 'c', 'a'],
			forbidden: ['d'],
			met: 2.5,
		});
		const any = selects({ tags: { any: ['a', 'b'], all: ['c'] } }, [unitBox('x', [0, 0, -3], { tags: ['b'] })], scene);
		expect(verdict(any, 'x')).toMatchObject({ missing: ['c'], forbidden: [] });
	});

	it('go by the layers and roles of each shape', () => {
		const two = object(
			'two',
			[0, 0, -3],
			[box([1, 1, 1], { id: 'first', layer: 'b', role: 'sensor' }), box([3, 3, 0.5], { id: 'second', layer: 'wall' })],
		);
		expect(verdict(selects({ layers: ['a'] }, [two]), 'two')).toEqual({
			object: 'two',
			stage: 'layer',
			layers: ['b', 'wall'],
			met: 2.5,
		});
		expect(selects({ layers: ['wall'] }, [two]).selected[0]?.shape).toBe('second');
		// The role named is that of the first shape on the layers asked for.
		expect(verdict(selects({ layers: ['wall'], roles: ['sensor'] }, [two]), 'two')).toMatchObject({
			stage: 'role',
			role: 'solid',
		});
		expect(verdict(selects({ layers: ['b'], roles: ['solid'] }, [two]), 'two')).toMatchObject({
			stage: 'role',
			role: 'sensor',
		});
		expect(selects({ roles: ['solid'] }, [two]).selected[0]?.shape).toBe('second');
		expect(selects({ roles: ['sensor'] }, [two]).selected[0]?.shape).toBe('first');
		// Two shapes of one layer name it once; without shapes the object's own counts.
		const twice = object('twice', [0, 0, -3], [box([1, 1, 1]), box([2, 2, 2], { id: 'more' })]);
		expect(verdict(selects({ layers: ['b'] }, [twice]), 'twice')).toMatchObject({ layers: ['a'] });
		expect(verdict(selects({ layers: ['b'] }, [object('bare', [0, 0, -3], [])]), 'bare')).toMatchObject({
			layers: ['a'],
		});
		expect(stage(selects({ layers: ['a'], roles: ['sensor'] }, [object('bare', [0, 0, -3], [])]), 'bare')).toBe(
			'touch',
		);
	});

	it('compare states as the contract does', () => {
		const when = (condition: object, states: Record<string, boolean | number> = {}) =>
			chosen(selects({ when: [{ of: 'target', state: 's', ...condition }] }, [unitBox('x', [0, 0, -3], { states })]))
				.length;
		expect([when({ is: false }), when({ is: 0 }), when({ is: true }), when({ is: 1 })]).toEqual([1, 1, 0, 0]);
		expect([when({ is: true }, { s: true }), when({ is: false }, { s: true }), when({ is: 1 }, { s: true })]).toEqual([
			1, 0, 0,
		]);
		expect([when({ is: 2 }, { s: 2 }), when({ is: 2 }, { s: 2.5 }), when({ is: 0 }, { s: false })]).toEqual([1, 0, 0]);
		// Neither limit is within.
		expect([
			when({ above: 2 }, { s: 2 }),
			when({ above: 2 }, { s: 2.001 }),
			when({ below: 2 }, { s: 2 }),
			when({ below: 2 }, { s: 1.999 }),
		]).toEqual([0, 1, 0, 1]);
		expect([
			when({ above: 1, below: 3 }, { s: 2 }),
			when({ above: 1, below: 3 }, { s: 3 }),
			when({ above: 1, below: 3 }, { s: 1 }),
		]).toEqual([1, 0, 0]);
		expect([
			when({ above: -1 }),
			when({ above: 0 }),
			when({ above: 0 }, { s: true }),
			when({ below: 1 }, { s: true }),
		]).toEqual([1, 0, 1, 0]);
	});

	it('regard sides as listed, else as friends within a side', () => {
		const me = object('me', [0, 0, 5], [], { side: 'us' });
		const stances = (wanted: string[], side: string | undefined, mine: Partial<SceneObject> = {}) =>
			chosen(
				answerTo(ahead({ asker: 'me', selects: { stances: wanted } }), [
					{ ...me, ...mine },
					unitBox('x', [0, 0, -3], side === undefined ? {} : { side }),
				]),
			).length;
		expect([stances(['friendly'], 'us'), stances(['neutral'], 'us'), stances(['hostile'], 'us')]).toEqual([1, 0, 0]);
		expect([stances(['hostile'], 'them'), stances(['neutral'], 'them')]).toEqual([1, 0]);
		expect([stances(['neutral'], undefined), stances(['friendly'], undefined)]).toEqual([1, 0]);
		// Only from us to them is anything listed.
		expect([stances(['neutral'], 'us', { side: 'them' }), stances(['hostile'], 'us', { side: 'them' })]).toEqual([
			1, 0,
		]);
		const none = answerTo(ahead({ selects: { stances: ['neutral'] } }), [unitBox('x', [0, 0, -3], { side: 'us' })]);
		expect(chosen(none)).toEqual(['x']);
	});

	it('leave out the asker, what is ignored, and what hangs on them, as blockers too', () => {
		const objects = [
			object('me', [0, 0, -1], [box([1, 1, 0.1])]),
			unitBox('held', [0, 0, -2], { parent: 'me', position: [0, 0, -1] }),
			unitBox('pane', [0, 0, -4]),
			unitBox('x', [0, 0, -6]),
		];
		const query = { sight: { blockers: 'all' }, selects: { layers: ['a'] } };
		expect(chosen(answerTo(ahead(query), objects))).toEqual(['me']);
		const asked = answerTo(ahead({ ...query, asker: 'me' }), objects);
		expect([stage(asked, 'me'), stage(asked, 'held'), chosen(asked)]).toEqual(['excluded', 'excluded', ['pane']]);
		const ignoring = answerTo(ahead({ ...query, asker: 'me', ignore: ['pane'] }), objects);
		expect([stage(ignoring, 'pane'), chosen(ignoring)]).toEqual(['excluded', ['x']]);
		// What answers for something left out is left out with it.
		const lid = unitBox('lid', [0, 0, -3], { standsFor: 'pane' });
		expect(stage(answerTo(ahead({ ...query, asker: 'me', ignore: ['pane'] }), [...objects, lid]), 'lid')).toBe(
			'excluded',
		);
		const off = answerTo(ahead(query), [
			unitBox('pane', [0, 0, -2], { active: false }),
			unitBox('lid', [0, 0, -3], { standsFor: 'pane' }),
		]);
		expect([stage(off, 'pane'), stage(off, 'lid')]).toEqual(['inactive', 'inactive']);
	});

	it('say the same on the way that gives no reasons', () => {
		const objects = [
			unitBox('layer', [0, 0, -2], { layer: 'b' }),
			unitBox('tag', [0, 0, -3.5], { tags: ['gull'] }),
			unitBox('state', [0, 0, -5], { states: { s: 2 } }),
			object('role', [0, 0, -6.5], [box([1, 1, 1], { role: 'sensor' })]),
			unitBox('side', [0, 0, -8], { side: 'them' }),
			unitBox('off', [0, 0, -9.5], { active: false }),
			unitBox('x', [0, 0, -11]),
		];
		const selects = {
			layers: ['a'],
			tags: { none: ['bird'] },
			roles: ['solid'],
			stances: ['neutral'],
			when: [{ of: 'target', state: 's', below: 2 }],
		};
		const p = project([object('me', [0, 0, 5], [], { side: 'us' }), ...objects], [ahead({ asker: 'me', selects })]);
		expect(chosen(ask(p))).toEqual(['x']);
		expect(ask(p).verdicts.map((v) => v.stage)).toEqual([
			'excluded',
			'layer',
			'tags',
			'state',
			'role',
			'side',
			'inactive',
			'selected',
		]);
		expect(chosen(winner(p))).toEqual(['x']);
	});
});

describe('limits', () => {
	const limited = (more: object, at: Point = [0, 0, -3], own: Partial<SceneObject> = {}) => {
		const answer = answerTo(ahead({ ...more, aim: { toward: { focus: 'x' } } }), [unitBox('x', at, own)]);
		return { stage: stage(answer, 'x'), margin: verdict(answer, 'x').margin };
	};

	it('hold at equality, for the contact and for the focus', () => {
		expect(limited({ range: { max: 2.5 } }).stage).toBe('selected');
		expect(limited({ range: { max: 2.4 } })).toEqual({ stage: 'range', margin: expect.closeTo(0.1, 9) });
		expect(limited({ range: { min: 2.5 } }).stage).toBe('selected');
		expect(limited({ range: { min: 2.75 } })).toEqual({ stage: 'range', margin: 0.25 });
		expect(limited({ range: { max: 3, to: 'focus' } }).stage).toBe('selected');
		expect(limited({ range: { max: 2.9, to: 'focus' } })).toEqual({ stage: 'range', margin: expect.closeTo(0.1, 9) });
		// From a place of its own, and on the level only.
		expect(limited({ range: { max: 0.5, from: { point: [0, 0, -2] } } }).stage).toBe('selected');
		expect(limited({ range: { max: 4.1, from: { point: [0, 4, -3] }, to: 'focus' } }).stage).toBe('selected');
		expect(limited({ range: { max: 3.9, from: { point: [0, 4, -3] }, to: 'focus' } }).stage).toBe('range');
		expect(limited({ range: { max: 0.001, from: { point: [0, 4, -3] }, to: 'focus', flat: true } }).stage).toBe(
			'selected',
		);
	});

	it('hold the view at its angle, on the level where that is asked for', () => {
		const at: Point = [1, 0, -1];
		const view = (more: object) => limited({ view: { about: { along: [0, 0, -1] }, within: 45, ...more } }, at);
		expect(view({}).stage).toBe('selected');
		expect(view({ within: 44.9 })).toEqual({ stage: 'view', margin: expect.closeTo(0.1, 6) });
		const high: Point = [0, 3, -3];
		expect(limited({ view: { about: { along: [0, 0, -1] }, within: 44.9 } }, high).stage).toBe('view');
		expect(limited({ view: { about: { along: [0, 0, -1] }, within: 1, flat: true } }, high).stage).toBe('selected');
	});

	it('mind the side approached from: that of the start where nobody asks', () => {
		const own = { approach: { from: [0, 0, 1] as Point, within: 45 } };
		expect(limited({}, [0, 0, -3], own).stage).toBe('selected');
		expect(limited({}, [3, 0, -3], own).stage).toBe('selected');
		expect(limited({}, [3.01, 0, -3], own)).toEqual({ stage: 'approach', margin: expect.closeTo(0.0953, 3) });
		// How high one stands is no side.
		expect(limited({}, [0, -9, -3], own).stage).toBe('selected');
		expect(limited({}, [0, 0, 3], own).stage).toBe('approach');
		expect(limited({ approach: 'ignore' }, [0, 0, 3], own).stage).toBe('selected');
		// With an asker it is where that stands, by its focus; and the side turns with the object.
		const turned = { ...own, rotation: [90, 0, 0] as Point };
		const me = object('me', [5, 0, -3], [], { focus: [0, 0, 0] });
		const asked = (x: Partial<SceneObject>) =>
			stage(answerTo(ahead({ asker: 'me' }), [me, unitBox('x', [0, 0, -3], x)]), 'x');
		expect([asked(own), asked(turned)]).toEqual(['approach', 'selected']);
		// From straight above, or by a side that is straight up, there is none to mind.
		expect(
			limited({ from: { point: [0, 5, -3] } }, [0, 0, -3], { approach: { from: [0, 0, 1], within: 0 } }).stage,
		).toBe('selected');
		expect(limited({}, [0, 0, 3], { approach: { from: [0, 1, 0], within: 0 } }).stage).toBe('selected');
	});

	it('of a stand-in are those of what it answers for', () => {
		const chest = unitBox('chest', [9, 0, 0], { approach: { from: [0, 0, -1], within: 90 } });
		const lid = unitBox('lid', [0, 0, -3], { standsFor: 'chest', approach: { from: [0, 0, 1], within: 180 } });
		expect(stage(answerTo(ahead({ asker: 'me' }), [lid, chest, object('me', [9, 0, 5], [])]), 'lid')).toBe('approach');
		expect(stage(answerTo(ahead({ asker: 'me' }), [lid, chest, object('me', [9, 0, -5], [])]), 'lid')).toBe('selected');
	});
});

describe('sight', () => {
	const wall = (at: Point, size: Point = [1, 1, 0.2]) => object('wall', at, [box(size)], { layer: 'wall' });
	const seen = { sight: { blockers: ['wall'] }, selects: { layers: ['a'] } };

	it('is blocked by the first of several, and by an object at its nearest cut', () => {
		const many = answerTo(ahead(seen), [
			wall([0, 0, -2]),
			{ ...wall([0, 0, -1]), id: 'first' },
			unitBox('x', [0, 0, -4]),
		]);
		expect(verdict(many, 'x')).toEqual({ object: 'x', stage: 'sight', by: 'first', margin: expect.closeTo(2.6, 9) });
		const folded = object(
			'wall',
			[0, 0, 0],
			[box([1, 1, 0.2], { id: 'far', at: [0, 0, -2] }), box([1, 1, 0.2], { id: 'near', at: [0, 0, -1] })],
			{ layer: 'wall' },
		);
		expect(verdict(answerTo(ahead(seen), [folded, unitBox('x', [0, 0, -4])]), 'x').margin).toBeCloseTo(2.6, 9);
	});

	it('takes what is as near as the slack for a tie, not for what hides', () => {
		const at = (z: number) =>
			answerTo(ahead(seen), [unitBox('x', [0, 0, -3]), wall([0, 0, z], [1, 1, 0.5])], { tieSlack: 0.25 });
		// Its face at 2.25, a slack before the contact at 2.5.
		expect([at(-2.5).status, at(-2.5).tied]).toEqual(['tie', ['x', 'wall']]);
		expect(verdict(at(-2.4375), 'x')).toEqual({ object: 'x', stage: 'sight', by: 'wall', margin: 0.3125 });
		// A slack behind it.
		expect(at(-3).status).toBe('tie');
		expect(chosen(at(-3.0625))).toEqual(['x']);
		// Equally near ones are named in file order.
		const two = answerTo(ahead(seen), [
			{ ...wall([0.2, 0, -1]), id: 'b' },
			{ ...wall([0, 0, -1]), id: 'a' },
			unitBox('x', [0, 0, -3]),
		]);
		expect(verdict(two, 'x').by).toBe('b');
	});

	it('names a blocker once, however many of its shapes are as near', () => {
		const folded = object(
			'wall',
			[0, 0, -3],
			[box([1, 1, 1], { id: 'one' }), box([0.5, 0.5, 1.0002], { id: 'two' }), box([0.2, 0.2, 1.0004], { id: 'three' })],
			{ layer: 'wall' },
		);
		const answer = answerTo(ahead(seen), [unitBox('x', [0, 0, -3]), folded]);
		expect([answer.status, answer.tied]).toEqual(['tie', ['x', 'wall']]);
	});

	it('stops a sweep by what its body meets beside the line, among many things', () => {
		const post = (id: string, x: number) => object(id, [x, 0, -2], [box([0.2, 2, 0.2])], { layer: 'wall' });
		const beside = post('post', 0.5);
		// Far apart, so that what stands beside the line is looked for apart from what stands on it.
		const many = Array.from({ length: 24 }, (_, i) => post(`post-${i}`, 1 + 0.3 * i));
		const others = Array.from({ length: 24 }, (_, i) => unitBox(`far-${i}`, [-3 * i - 3, 0, -80], { layer: 'b' }));
		const sweep = { kind: 'sweep', shape: { kind: 'sphere', radius: 0.5 }, length: 90, ...seen };
		const target = unitBox('x', [0, 0, -80]);
		const answer = answerTo(ahead(sweep), [...many, ...others, target, beside]);
		expect(verdict(answer, 'x')).toMatchObject({ stage: 'sight', by: 'post' });
		// Where it stands a little farther to the side, the body passes.
		const past = { ...beside, position: [0.61, 0, -2] as Point };
		expect(chosen(answerTo(ahead(sweep), [...many, ...others, target, past]))).toEqual(['x']);
	});

	it('of a volume is hidden only by what lies a slack before the focus', () => {
		const volume = {
			id: 'v',
			kind: 'overlap',
			at: { point: [0, 0, 0] },
			shape: { kind: 'sphere', radius: 6 },
			...seen,
		};
		const dot = object('x', [0, 0, -4], [box([0.1, 0.1, 0.1])]);
		const at = (face: number) => answerTo(volume, [dot, wall([0, 0, -face - 0.125], [1, 1, 0.25])], { tieSlack: 0.25 });
		expect(chosen(at(3.75))).toEqual(['x']);
		expect(verdict(at(3.6875), 'x')).toEqual({ object: 'x', stage: 'sight', by: 'wall', margin: 0.3125 });
	});

	it('of a volume that starts in a blocker skips it and says so, or counts it', () => {
		const volume = (more: object) => ({
			id: 'v',
			kind: 'overlap',
			at: { point: [0, 0, 0] },
			shape: { kind: 'sphere', radius: 6 },
			...seen,
			...more,
		});
		const objects = [unitBox('x', [0, 0, -4]), wall([0, 0, 0], [1, 1, 1])];
		const skipping = answerTo(volume({}), objects);
		expect([chosen(skipping), skipping.notes]).toEqual([['x'], [{ code: 'starts-inside', object: 'wall' }]]);
		const counting = answerTo(volume({ startInside: 'count' }), objects);
		expect([verdict(counting, 'x').by, verdict(counting, 'x').margin, counting.notes]).toEqual(['wall', 4, []]);
	});

	it('of what aim assist reaches goes straight to its focus', () => {
		const dot = object('dot', [0.4, 0, -4], []);
		const helped = { ...seen, assist: { by: 'distance', within: 0.5 } };
		// The path itself is free; the line to the dot is not.
		const beside = wall([0.3, 0, -2], [0.3, 1, 0.2]);
		const answer = answerTo(ahead(helped), [dot, beside]);
		expect(verdict(answer, 'dot')).toMatchObject({ stage: 'sight', by: 'wall' });
		const line = Math.hypot(0.4, 4);
		expect(verdict(answer, 'dot').margin).toBeCloseTo(line * (1 - 1.9 / 4), 9);
		// The path is blocked; the line is free.
		expect(chosen(answerTo(ahead(helped), [dot, wall([-0.1, 0, -2], [0.3, 1, 0.2])]))).toEqual(['dot']);
		// A blocker at the focus itself does not hide it.
		expect(chosen(answerTo(ahead(helped), [dot, wall([0.4, 0, -4 - 0.0995])]))).toEqual(['dot']);
		// Nor does what answers for the same.
		const cover = object('cover', [0.3, 0, -2], [box([0.3, 1, 0.2])], { layer: 'wall', standsFor: 'dot' });
		expect(chosen(answerTo(ahead(helped), [dot, cover]))).toEqual(['dot']);
	});

	it('of a volume goes to the focus, or to the contact where that is asked for', () => {
		const volume = (to: string) => ({
			id: 'v',
			kind: 'overlap',
			at: { point: [0, 0, 0] },
			shape: { kind: 'sphere', radius: 6 },
			selects: { layers: ['a'] },
			sight: { blockers: ['wall'], to },
		});
		// Seen from the middle the focus lies behind the wall, the nearest point below it.
		const high = object('x', [0, 2, -4], [box([1, 4, 1])], { focus: [0, 2, 0] });
		const objects = [high, wall([0, 2, -2], [4, 2.5, 0.2])];
		expect(stage(answerTo(volume('focus'), objects), 'x')).toBe('sight');
		expect(chosen(answerTo(volume('contact'), objects))).toEqual(['x']);
	});

	it('in a flat scene is straight down, through what lies above', () => {
		const pick = (more: object = {}) => ({
			id: 'p',
			kind: 'pick',
			camera: 'above',
			viewport: [200, 200],
			cursor: [100, 100],
			...more,
		});
		const card = object('card', [0, 0, 1], [rect([2, 2])]);
		const sheet = object('sheet', [0, 0, 2], [rect([2, 2])], { layer: 'wall' });
		const flat = (query: object, objects: SceneObject[]) => answerTo(query, objects, { kind: 'flat' });
		expect(verdict(flat(pick(seen), [card, sheet]), 'card')).toEqual({
			object: 'card',
			stage: 'sight',
			by: 'sheet',
			margin: 1,
		});
		expect(chosen(flat(pick(seen), [card, { ...sheet, position: [0, 0, 0.5] }]))).toEqual(['card']);
		// What is helped by pixels is looked down at where its own focus lies.
		const dot = object('dot', [0.2, 0, 1], []);
		const helped = pick({ ...seen, assist: { by: 'pixels', within: 10 } });
		const small = object('small', [0.2, 0, 2], [disc(0.05)], { layer: 'wall' });
		expect(verdict(flat(helped, [dot, small]), 'dot')).toMatchObject({ stage: 'sight', by: 'small', margin: 1 });
		expect(chosen(flat(helped, [dot, { ...small, position: [0, 0, 2] }]))).toEqual(['dot']);
		expect(chosen(flat(helped, [dot, { ...small, standsFor: 'dot' }]))).toEqual(['dot']);
	});
});

describe('choice', () => {
	it('has the rules, the number and the slacks the contract fills in', () => {
		const assist = { by: 'distance', within: 1 } as const;
		const rules = (query: object) => rulesOf(query as Query).map((r) => r.rule);
		expect(rules({ kind: 'ray' })).toEqual(['distance']);
		expect(rules({ kind: 'ray', assist })).toEqual(['direct', 'distance']);
		expect(rules({ kind: 'pick', assist })).toEqual(['direct', 'distance']);
		expect(rules({ kind: 'pick' })).toEqual(['distance']);
		expect(rules({ kind: 'sweep', assist })).toEqual(['distance']);
		expect(rules({ kind: 'ray', assist, choose: { by: [{ rule: 'listed' }] } })).toEqual(['listed']);
		expect([
			takeOf({ kind: 'hitbox' } as Query),
			takeOf({ kind: 'ray' } as Query),
			takeOf({ kind: 'hitbox', choose: { take: 2 } } as Query),
		]).toEqual(['all', 1, 2]);
		expect(
			(['distance', 'aim', 'cursor', 'priority', 'direct', 'listed'] as const).map((rule) => slackOf({ rule }, 0.007)),
		).toEqual([0.007, 0.1, 0.5, 0, 0, 0]);
		expect(slackOf({ rule: 'distance', slack: 0 }, 0.007)).toBe(0);
	});

	it('is a tie within the slack, and told apart past it', () => {
		const two = (apart: number, slack: number) =>
			answerTo(ahead({ choose: { by: [{ rule: 'distance', slack }] } }), [
				unitBox('one', [0, 0, -3 - apart]),
				unitBox('two', [0.2, 0, -3]),
			]);
		expect(two(0.25, 0.25).tied).toEqual(['one', 'two']);
		const told = two(0.375, 0.25);
		expect([chosen(told), verdict(told, 'one').margin]).toEqual([['two'], 0.375]);
		expect(two(0, 0).status).toBe('tie');
	});

	it('measures the aim about the path, and the distance to contact or focus', () => {
		const off = object('off', [1, 0, -4], [box([3, 1, 1])]);
		const on = object('on', [0, 0, -8], [box([1, 1, 1])]);
		const by = (...rules: object[]) => answerTo(ahead({ choose: { by: rules } }), [off, on]);
		expect(chosen(by({ rule: 'aim' }))).toEqual(['on']);
		expect(verdict(by({ rule: 'aim' }), 'off').margin).toBeCloseTo(Math.atan2(1, 4) * (180 / Math.PI), 9);
		expect(chosen(by({ rule: 'distance' }))).toEqual(['off']);
		const long = object('long', [0, 0, -9], [box([1, 1, 13])]);
		const to = (where: string) => answerTo(ahead({ choose: { by: [{ rule: 'distance', to: where }] } }), [long, on]);
		expect([chosen(to('contact')), chosen(to('focus'))]).toEqual([['long'], ['on']]);
	});

	it('measures from where the range does', () => {
		const two = [unitBox('near', [0, 0, -3]), unitBox('far', [0, 0, -8])];
		const from = (range: object) => chosen(answerTo(ahead({ range, choose: { by: [{ rule: 'distance' }] } }), two));
		expect(from({ max: 99 })).toEqual(['near']);
		expect(from({ max: 99, from: { point: [0, 0, -7] } })).toEqual(['far']);
		// On the level only, what lies high above is near.
		const high = [unitBox('level', [0, 0, -3]), object('high', [0, 9, -1], [box([1, 1, 1])])];
		const volume = (range: object) =>
			chosen(
				answerTo(
					{ id: 'v', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 12 }, range },
					high,
				),
			);
		expect([volume({ max: 99 }), volume({ max: 99, flat: true })]).toEqual([['level'], ['high']]);
	});

	it('reduces stand-ins to the one preferred, whichever stands first', () => {
		const chest = object('chest', [0, 0, -9], [box([1, 1, 1])]);
		const lid = (id: string, z: number) => unitBox(id, [0, 0, z], { standsFor: 'chest' });
		const answer = answerTo(ahead({ choose: { take: 'all' } }), [
			lid('back', -5),
			lid('front', -3),
			chest,
			unitBox('other', [0.3, 0, -7]),
		]);
		expect(answer.selected.map((s) => [s.object, s.through])).toEqual([
			['chest', 'front'],
			['other', null],
		]);
		expect(verdict(answer, 'back')).toEqual({ object: 'back', stage: 'choice', rule: 'stands-for', by: 'front' });
		// Equal ones by their place in the file; what is left is in file order again, so that ties name them so.
		const same = answerTo(ahead({ choose: { by: [{ rule: 'priority' }] } }), [
			unitBox('other', [0.3, 0, -7]),
			lid('b', -3),
			lid('a', -3),
			chest,
		]);
		expect(same.tied).toEqual(['other', 'chest']);
		expect(verdict(same, 'a')).toMatchObject({ rule: 'stands-for', by: 'b' });
	});

	it('asks no more of the winner-only way than of the other', () => {
		const p = project(
			[
				unitBox('one', [0, 0, -3], { priority: 1 }),
				unitBox('two', [0.2, 0, -3], { priority: 2 }),
				unitBox('three', [0, 0.2, -3], { priority: 2 }),
			],
			[ahead({ choose: { by: [{ rule: 'distance' }, { rule: 'priority' }] } })],
		);
		expect([winner(p).status, winner(p).tied]).toEqual(['tie', ['two', 'three']]);
		expect(
			winner({
				...p,
				queries: [ahead({ choose: { by: [{ rule: 'distance' }, { rule: 'priority' }, { rule: 'listed' }] } })],
			}).selected[0]?.object,
		).toBe('two');
	});
});

describe('rays in bulk', () => {
	it('follow what has moved', () => {
		const p = project([unitBox('x', [0, 0, -3]), unitBox('y', [0, 0, -6])], [ahead()]);
		const world = buildWorld(p);
		const ray = prepareRay(world, world.queries[0] as never);
		const path = new Float64Array([0, 0, 0, 0, 0, -1, 20]);
		expect([ray.cast(path, 0), ray.distance]).toEqual([0, 2.5]);
		moveObjects(world, new Map([['x', { ...p.scene.objects[0]!, position: [4, 0, -3] as Point }]]));
		expect([ray.cast(path, 0), ray.distance]).toEqual([1, 5.5]);
		moveObjects(world, new Map([['y', { ...p.scene.objects[1]!, position: [4, 0, -9] as Point }]]));
		expect(ray.cast(path, 0)).toBe(NOTHING);
		// Any ray of a longer list.
		const list = new Float64Array(14);
		list.set([4, 0, 0, 0, 0, -1, 20], 7);
		expect([ray.cast(list, 7), ray.distance]).toEqual([0, 2.5]);
		expect(ray.cast(new Float64Array([4, 0, 0, 0, 0, -1, 2.5]), 0)).toBe(0);
		expect(ray.cast(new Float64Array([4, 0, 0, 0, 0, -1, 2.499]), 0)).toBe(NOTHING);
	});

	it('say where the answer is more than one object', () => {
		const all = buildWorld(
			project([unitBox('x', [0, 0, -3]), unitBox('y', [0, 0, -6])], [ahead({ choose: { take: 'all' } })]),
		);
		expect(prepareRay(all, all.queries[0] as never).cast(new Float64Array([0, 0, 0, 0, 0, -1, 20]), 0)).toBe(OTHER);
	});
});
