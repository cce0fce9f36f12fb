/** Every stage with answers worked out by hand. */
import { describe, expect, it } from 'vitest';
import { ahead, answerTo, ask, ball, box, disc, object, project, rect, verdict } from '../tests/scene';

const near = () => object('near', [0, 0, -3], [box([1, 1, 1])]);
const far = () => object('far', [0, 0, -6], [ball(0.5)]);

describe('ray', () => {
	it('selects the nearest and says how far the others are behind', () => {
		const answer = answerTo(ahead(), [far(), near(), object('beside', [2, 0, -4], [ball(0.5)])]);
		expect(answer.status).toBe('selected');
		expect(answer.selected).toEqual([
			{
				object: 'near',
				through: null,
				shape: 'box',
				distance: 2.5,
				point: [0, 0, -2.5],
				normal: [0, 0, 1],
				assisted: false,
				action: null,
				prompt: null,
				box: null,
			},
		]);
		expect(verdict(answer, 'far')).toEqual({ object: 'far', stage: 'choice', rule: 'distance', margin: 3, by: 'near' });
		expect(verdict(answer, 'beside')).toEqual({ object: 'beside', stage: 'touch', margin: 1.5 });
	});

	it('ends at its length, and at the place it goes to', () => {
		expect(answerTo(ahead({ length: 2.5 }), [near()]).status).toBe('selected');
		const short = answerTo(ahead({ length: 2 }), [near()]);
		expect(verdict(short, 'near')).toEqual({ object: 'near', stage: 'touch', margin: 0.5, beyond: 0.5 });
		expect(
			answerTo({ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, to: { focus: 'far' } }, [far()]).selected[0]
				?.distance,
		).toBe(5.5);
	});

	it('waits without a direction or on a query that selects nothing', () => {
		expect(answerTo({ id: 'q', kind: 'ray', from: { point: [1, 1, 1] }, to: { point: [1, 1, 1] } }, []).notes).toEqual([
			{ code: 'zero-direction' },
		]);
		const chained = project(
			[near()],
			[ahead({ id: 'second', from: { hitOf: 'first' } }), ahead({ id: 'first', enabled: false })],
		);
		expect(ask(chained)).toMatchObject({
			status: 'waiting',
			notes: [{ code: 'waiting', on: 'first' }],
			verdicts: [],
			selected: [],
		});
	});

	it('goes on from the hit of another, off its surface', () => {
		const p = project(
			[near(), object('left', [-3, 0, -2.4], [box([1, 1, 1])])],
			[ahead({ id: 'second', from: { hitOf: 'first', off: 0.1 }, aim: { along: [-1, 0, 0] } }), ahead({ id: 'first' })],
		);
		expect(ask(p).selected[0]).toMatchObject({ object: 'left', distance: 2.5, point: [-2.5, 0, -2.4] });
	});

	it('skips what it starts in, or counts it', () => {
		const around = object('around', [0, 0, 0], [box([2, 2, 2])]);
		const skipping = answerTo(ahead(), [around, near()]);
		expect(skipping.selected[0]?.object).toBe('near');
		expect(skipping.notes).toEqual([{ code: 'starts-inside', object: 'around' }]);
		expect(verdict(skipping, 'around')).toEqual({ object: 'around', stage: 'touch', margin: 0 });
		const counting = answerTo(ahead({ startInside: 'count' }), [around, near()]);
		expect(counting.selected[0]).toMatchObject({ object: 'around', distance: 0, point: [0, 0, 0], normal: [0, 0, 1] });
		expect(counting.notes).toEqual([]);
	});

	it('touches a focus near it where aim assist helps', () => {
		const dot = object('dot', [0.2, 0, -4], []);
		const helped = answerTo(ahead({ assist: { by: 'distance', within: 0.25 } }), [dot]);
		expect(helped.selected[0]).toMatchObject({
			object: 'dot',
			shape: null,
			normal: null,
			assisted: true,
			point: [0.2, 0, -4],
			distance: Math.hypot(0.2, 4),
		});
		expect(answerTo(ahead({ assist: { by: 'angle', within: 2 } }), [dot]).status).toBe('none');
		expect(answerTo(ahead({ assist: { by: 'angle', within: 3 } }), [dot]).status).toBe('selected');
		// Touched directly goes before assisted, however far.
		const both = answerTo(ahead({ assist: { by: 'distance', within: 0.25 } }), [dot, far()]);
		expect(both.selected[0]?.object).toBe('far');
		expect(verdict(both, 'dot')).toEqual({ object: 'dot', stage: 'choice', rule: 'direct', margin: 1, by: 'far' });
	});
});

describe('pick', () => {
	const pick = (cursor: [number, number], more: object = {}) => ({
		id: 'q',
		kind: 'pick',
		camera: 'eye',
		viewport: [200, 100],
		cursor,
		...more,
	});

	it('goes through the point of the picture', () => {
		// 90° high: the picture's upper edge is at 45°, and one pixel is 1/50 at distance 1.
		const answer = answerTo(pick([125, 25]), [object('there', [0.5, 0.5, -1], [ball(0.1)])]);
		expect(answer.selected[0]?.distance).toBeCloseTo(Math.sqrt(1.5) - 0.1, 12);
		expect(answerTo(pick([125, 75]), [object('there', [0.5, 0.5, -1], [ball(0.1)])]).status).toBe('none');
	});

	it('helps by pixels and chooses by the cursor', () => {
		const dots = [object('one', [0.1, 0, -1], []), object('two', [-0.04, 0, -1], []), object('behind', [0, 0, 1], [])];
		const answer = answerTo(
			pick([100, 50], { assist: { by: 'pixels', within: 5 }, choose: { by: [{ rule: 'cursor' }] } }),
			dots,
		);
		expect(answer.selected[0]?.object).toBe('two');
		expect(verdict(answer, 'one')).toMatchObject({ stage: 'choice', rule: 'cursor' });
		expect(verdict(answer, 'one').margin).toBeCloseTo(3, 9);
		expect(verdict(answer, 'behind').stage).toBe('touch');
	});

	it('starts on the plane of an orthographic camera', () => {
		const cameras = [
			{ id: 'eye', position: [0, 0, 5] as [number, number, number], projection: 'orthographic' as const, height: 10 },
		];
		const answer = answerTo(pick([150, 25]), [object('there', [5, 2.5, 0], [box([1, 1, 1])])], { cameras });
		expect(answer.selected[0]).toMatchObject({ distance: 4.5, point: [5, 2.5, 0.5] });
	});

	it('in a flat scene takes what lies on top, and calls equal depth a tie', () => {
		const flat = { kind: 'flat' as const };
		const at = (cursor: [number, number], more: object = {}) => ({
			id: 'q',
			kind: 'pick',
			camera: 'above',
			viewport: [100, 100],
			cursor,
			...more,
		});
		const stubs = [object('low', [0, 0, 1], [rect([4, 4])]), object('high', [1, 0, 2], [rect([2, 2])])];
		const answer = answerTo(at([55, 50]), stubs, flat);
		expect(answer.selected[0]).toMatchObject({ object: 'high', distance: 8 });
		expect(answer.selected[0]?.point[0]).toBeCloseTo(0.5, 12);
		expect(answer.selected[0]?.point[2]).toBe(2);
		expect(verdict(answer, 'low')).toEqual({ object: 'low', stage: 'choice', rule: 'distance', margin: 1, by: 'high' });
		expect(answerTo(at([40, 50]), stubs, flat).selected[0]?.object).toBe('low');
		const level = answerTo(at([55, 50]), [stubs[0] as never, object('same', [1, 0, 1], [rect([2, 2])])], flat);
		expect(level).toMatchObject({ status: 'tie', selected: [], tied: ['low', 'same'] });
		// Missed in the plane by 1, or in depth by more than that.
		expect(verdict(answerTo(at([80, 50]), stubs, flat), 'high').margin).toBeCloseTo(1, 12);
		expect(verdict(answerTo(at([80, 50], { length: 5 }), stubs, flat), 'high').margin).toBeCloseTo(3, 12);
		// A range with a place of its own is measured in the plane, the choice still by depth.
		const ranged = answerTo(at([55, 50], { range: { max: 0.6, from: { point: [0, 0, 0] } } }), stubs, flat);
		expect(ranged.selected[0]?.object).toBe('high');
	});
});

describe('sweep', () => {
	const sweep = (more: object = {}) => ({
		id: 'q',
		kind: 'sweep',
		from: { point: [0, 0, 0] },
		aim: { along: [0, 0, -1] },
		length: 20,
		shape: { kind: 'sphere', radius: 0.5 },
		...more,
	});

	it('travels until it touches', () => {
		const answer = answerTo(sweep(), [near(), object('grazed', [1.2, 0, -8], [ball(0.5)])]);
		expect(answer.selected[0]).toMatchObject({ object: 'near', distance: 2, point: [0, 0, -2.5], normal: [0, 0, 1] });
		expect(verdict(answer, 'grazed')).toMatchObject({ stage: 'touch' });
		expect(verdict(answer, 'grazed').margin).toBeCloseTo(0.2, 12);
	});

	it('skips what it overlaps at the start, or counts it with the nearest point', () => {
		const beside = object('beside', [0.8, 0, 0], [box([1, 1, 1])]);
		expect(answerTo(sweep(), [beside, near()]).notes).toEqual([{ code: 'starts-inside', object: 'beside' }]);
		const counted = answerTo(sweep({ startInside: 'count' }), [beside, near()]).selected[0];
		expect(counted).toMatchObject({ object: 'beside', distance: 0, normal: [0, 0, 1] });
		expect(counted?.point[0]).toBeCloseTo(0.3, 12);
	});

	it('is stopped by what its shape meets, where a ray would pass', () => {
		const post = object('post', [0.4, 0, -1.5], [box([0.2, 2, 0.2])], { layer: 'wall' });
		const query = { selects: { layers: ['a'] }, sight: { blockers: ['wall'] } };
		expect(answerTo(ahead(query), [post, near()]).status).toBe('selected');
		expect(verdict(answerTo(sweep(query), [post, near()]), 'near')).toMatchObject({ stage: 'sight', by: 'post' });
	});
});

describe('overlap', () => {
	const reach = (more: object = {}) => ({
		id: 'q',
		kind: 'overlap',
		at: { point: [0, 0, 0] },
		shape: { kind: 'sphere', radius: 2 },
		...more,
	});

	it('takes what its volume meets, the nearest point counting from the middle', () => {
		const answer = answerTo(reach(), [near(), object('close', [0, 0, 1.5], [box([1, 1, 1])])]);
		expect(answer.selected[0]).toMatchObject({ object: 'close', distance: 1, point: [0, 0, 1], normal: null });
		expect(verdict(answer, 'near')).toEqual({ object: 'near', stage: 'touch', margin: 0.5 });
		// A volume moved off its anchor is still measured from the anchor.
		expect(answerTo(reach({ offset: [0, 0, -2] }), [near()]).selected[0]).toMatchObject({ distance: 2.5 });
	});

	it('turns with what it is at, unless told not to', () => {
		const turned = object('turned', [0, 0, 0], [], { rotation: [90, 0, 0] });
		// Yaw 90° turns forward (−Z) to −X.
		const left = object('left', [-3, 0, 0], [box([1, 1, 1])]);
		const query = { at: { object: 'turned' }, offset: [0, 0, -3] as const, shape: { kind: 'sphere', radius: 0.4 } };
		expect(answerTo(reach(query), [turned, left]).selected[0]?.object).toBe('left');
		expect(answerTo(reach({ ...query, turns: false }), [turned, left]).status).toBe('none');
	});

	it('copies the shapes of another object, grown', () => {
		const model = object('model', [9, 9, 9], [box([1, 1, 1])], { rotation: [45, 0, 0], scale: [2, 1, 1] });
		const query = (grow: number) => reach({ shape: { like: 'model', grow } });
		const beside = object('beside', [1.75, 0, 0], [box([1, 1, 1])]);
		// Model half-width 1 after scale; the gap to the other's face is 0.25.
		expect(verdict(answerTo(query(0), [model, beside]), 'beside').margin).toBeCloseTo(0.25, 12);
		expect(verdict(answerTo(query(0.2), [model, beside]), 'beside').margin).toBeCloseTo(0.05, 12);
		expect(answerTo(query(0.3), [model, beside]).selected[0]?.object).toBe('beside');
		expect(verdict(answerTo(query(0.3), [model, beside]), 'model').stage).toBe('excluded');
	});

	it('sees along a line from the apex to the focus', () => {
		const wall = object('wall', [0, 0, -1], [box([4, 4, 0.2])], { layer: 'wall' });
		const answer = answerTo(
			reach({ shape: { kind: 'sphere', radius: 5 }, selects: { layers: ['a'] }, sight: { blockers: ['wall'] } }),
			[wall, near()],
		);
		expect(verdict(answer, 'near')).toMatchObject({ stage: 'sight', by: 'wall' });
		expect(verdict(answer, 'near').margin).toBeCloseTo(2.1, 12);
		const over = answerTo(
			reach({
				shape: { kind: 'sphere', radius: 5 },
				selects: { layers: ['a'] },
				sight: { blockers: ['wall'], from: { point: [0, 0, -2] } },
			}),
			[wall, near()],
		);
		expect(over.selected[0]?.object).toBe('near');
	});
});

describe('hitbox', () => {
	it('hits all that its boxes meet and names the box that opens first', () => {
		const asker = object('asker', [0, 0, 0], [ball(0.3)], { scale: [2, 2, 2] });
		const query = {
			id: 'q',
			kind: 'hitbox',
			asker: 'asker',
			boxes: [
				{ shape: { kind: 'box', size: [1, 1, 1] }, at: [0, 0, -1.5], from: 0.2 },
				{ shape: { kind: 'sphere', radius: 1 }, at: [0, 0, -1], from: 0.1 },
			],
		};
		// Scaled by two with the asker: the box reaches from z = −2 to −4, the ball from 0 to −4.
		const answer = answerTo(query, [asker, near(), object('flank', [1.2, 0, -2], [ball(0.5)]), far()]);
		expect(answer.selected.map((s) => [s.object, s.box])).toEqual([
			['flank', 1],
			['near', 1],
		]);
		expect(verdict(answer, 'asker').stage).toBe('excluded');
		expect(verdict(answer, 'far').margin).toBeCloseTo(1.5, 12);
	});
});

describe('filters', () => {
	it('name the layer, the tag, the stance, the state and the role', () => {
		const answer = answerTo(
			{
				...ahead({ asker: 'me' }),
				selects: {
					layers: ['a'],
					tags: { any: ['bird'], none: ['crank'] },
					stances: ['hostile'],
					when: [{ of: 'target', state: 'wear', below: 3 }],
					roles: ['solid'],
				},
			},
			[
				object('me', [0, 0, 5], [], { side: 'us' }),
				object('below', [0, 0, 5], [], { parent: 'me' }),
				object('off', [0, 0, -1], [], { active: false }),
				object('other-layer', [0, 0, -1], [box([1, 1, 1], { layer: 'b' })]),
				object('untagged', [0, 0, -1], [], {}),
				object('forbidden', [0, 0, -1], [], { tags: ['gull', 'crank'] }),
				object('friend', [0, 0, -1], [], { tags: ['gull'], side: 'us' }),
				object('worn', [0, 0, -1], [], { tags: ['gull'], side: 'them', states: { wear: 3 } }),
				object('ghost', [0, 0, -1], [box([1, 1, 1], { role: 'sensor' })], { tags: ['bird'], side: 'them' }),
				object('right', [0, 0, -3], [box([1, 1, 1])], { tags: ['gull'], side: 'them' }),
			],
		);
		expect(answer.verdicts).toEqual([
			{ object: 'me', stage: 'excluded' },
			{ object: 'below', stage: 'excluded' },
			{ object: 'off', stage: 'inactive' },
			{ object: 'other-layer', stage: 'layer', layers: ['b'], met: 0.5 },
			{ object: 'untagged', stage: 'tags', missing: ['bird'], forbidden: [] },
			{ object: 'forbidden', stage: 'tags', missing: [], forbidden: ['crank'] },
			{ object: 'friend', stage: 'side', stance: 'friendly' },
			{ object: 'worn', stage: 'state', condition: { of: 'target', state: 'wear', below: 3 }, value: 3 },
			{ object: 'ghost', stage: 'role', role: 'sensor', met: 0.5 },
			{ object: 'right', stage: 'selected' },
		]);
	});

	it('turn the query off by the asker, the scene, or its switch', () => {
		const when = (of: string, state: string, is: boolean) =>
			ahead({ asker: 'me', selects: { when: [{ of, state, is }] } });
		const me = object('me', [0, 0, 5], [], { states: { busy: true } });
		expect(answerTo(when('asker', 'busy', false), [me]).notes).toEqual([
			{ code: 'condition', of: 'asker', state: 'busy' },
		]);
		// A missing state equals false.
		expect(answerTo(when('scene', 'tide', true), [me]).status).toBe('off');
		expect(answerTo(when('scene', 'tide', false), [me]).status).toBe('none');
		expect(answerTo(ahead({ enabled: false }), [me])).toMatchObject({
			status: 'off',
			notes: [{ code: 'disabled' }],
			verdicts: [],
		});
	});

	it('a disabled shape counts as if it were not there', () => {
		const answer = answerTo(ahead(), [object('ghost', [0, 0, -3], [box([1, 1, 1], { enabled: false, layer: 'b' })])]);
		expect(verdict(answer, 'ghost')).toEqual({ object: 'ghost', stage: 'touch' });
	});
});

describe('limits', () => {
	it('measure the range from where it is meant to be measured', () => {
		const query = (range: object) => answerTo(ahead({ range }), [near()]);
		expect(query({ max: 2.5 }).status).toBe('selected');
		expect(verdict(query({ max: 2 }), 'near')).toEqual({ object: 'near', stage: 'range', margin: 0.5 });
		expect(verdict(query({ min: 3 }), 'near')).toEqual({ object: 'near', stage: 'range', margin: 0.5 });
		expect(query({ max: 2.9, to: 'focus' }).verdicts[0]?.margin).toBeCloseTo(0.1, 12);
		// From a metre above the contact, and level.
		expect(query({ max: 0.9, from: { point: [0, 1, -2.5] } }).verdicts[0]?.margin).toBeCloseTo(0.1, 12);
		expect(query({ max: 0.9, from: { point: [0, 1, -2.5] }, flat: true }).status).toBe('selected');
	});

	it('hold the focus against the view cone', () => {
		const aside = object('aside', [1, 0, -1], [box([3, 1, 1])]);
		expect(verdict(answerTo(ahead({ view: { within: 40 } }), [aside]), 'aside').margin).toBeCloseTo(5, 9);
		expect(answerTo(ahead({ view: { within: 45.001 } }), [aside]).status).toBe('selected');
		expect(answerTo(ahead({ view: { within: 1, about: { toward: { focus: 'aside' } } } }), [aside]).status).toBe(
			'selected',
		);
		const above = object('above', [0, 3, -3], [box([1, 7, 1])]);
		expect(answerTo(ahead({ view: { within: 10 } }), [above]).status).toBe('none');
		expect(answerTo(ahead({ view: { within: 10, flat: true } }), [above]).status).toBe('selected');
	});

	it('mind the side an object is approached from', () => {
		const shy = (from: [number, number, number]) =>
			object('shy', [0, 0, -3], [box([1, 1, 1])], { approach: { from, within: 30 } });
		expect(answerTo(ahead(), [shy([0, 0, 1])]).status).toBe('selected');
		expect(verdict(answerTo(ahead(), [shy([1, 0, 0])]), 'shy').margin).toBeCloseTo(60, 9);
		expect(answerTo(ahead({ approach: 'ignore' }), [shy([1, 0, 0])]).status).toBe('selected');
		// From the asker when there is one, not from the ray's start.
		expect(answerTo(ahead({ asker: 'me' }), [object('me', [5, 0, -3], []), shy([1, 0, 0])]).status).toBe('selected');
	});
});

describe('sight', () => {
	const wall = (z: number) => object('wall', [0, 0, z], [box([4, 4, 0.2])], { layer: 'wall' });
	const through = (more: object = {}) => ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] }, ...more });

	it('names the blocker and how far behind it the object is', () => {
		const answer = answerTo(through(), [near(), wall(-1)]);
		expect(answer.status).toBe('none');
		expect(verdict(answer, 'near')).toMatchObject({ stage: 'sight', by: 'wall' });
		expect(verdict(answer, 'near').margin).toBeCloseTo(1.6, 12);
	});

	it('passes sensors, unless they are asked to block', () => {
		const veil = object('veil', [0, 0, -1], [box([4, 4, 0.2], { role: 'sensor' })], { layer: 'wall' });
		expect(answerTo(through(), [near(), veil]).status).toBe('selected');
		expect(answerTo(through({ sight: { blockers: ['wall'], sensors: true } }), [near(), veil]).status).toBe('none');
	});

	it('calls it a tie when a blocker is as near as the selected object', () => {
		const front = object('front', [0, 0, -2.5 - 0.0005 - 0.1], [box([4, 4, 0.2])], { layer: 'wall' });
		const tie = answerTo(through(), [near(), front]);
		expect(tie).toMatchObject({ status: 'tie', selected: [], tied: ['near', 'front'] });
		expect(verdict(tie, 'near')).toEqual({ object: 'near', stage: 'tied' });
		expect(verdict(tie, 'front').stage).toBe('layer');
		const all = answerTo(through({ choose: { take: 'all' } }), [near(), front]);
		expect(all.status).toBe('selected');
		expect(all.notes).toEqual([{ code: 'contested', object: 'near', by: 'front' }]);
	});

	it('lets an object be seen past what answers for the same', () => {
		const clerk = object('clerk', [0, 0, -5], [ball(0.5)]);
		const counter = object('counter', [0, 0, -3], [box([2, 1, 0.5])], { standsFor: 'clerk', layer: 'wall' });
		const answer = answerTo(ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } }), [clerk, counter]);
		expect(answer.selected[0]).toMatchObject({ object: 'clerk', through: null });
	});
});

describe('choice', () => {
	it('goes from rule to rule, keeping what is within slack', () => {
		const one = object('one', [0, 0, -3], [box([1, 1, 1])], { priority: 1 });
		const two = object('two', [0, 0.2, -3.05], [box([1, 1, 1])], { priority: 2 });
		const by = (slack: number) => ahead({ choose: { by: [{ rule: 'distance', slack }, { rule: 'priority' }] } });
		expect(answerTo(by(0.01), [one, two]).selected[0]?.object).toBe('one');
		const wide = answerTo(by(0.1), [one, two]);
		expect(wide.selected[0]?.object).toBe('two');
		expect(verdict(wide, 'one')).toEqual({ object: 'one', stage: 'choice', rule: 'priority', margin: 1, by: 'two' });
	});

	it('names a tie, and breaks it by the order in the file when asked to', () => {
		const twin = (id: string, y: number) => object(id, [0, y, -3], [box([1, 1, 1])]);
		const objects = [twin('first', 0.1), twin('second', -0.1), far()];
		const tie = answerTo(ahead(), objects);
		expect(tie).toMatchObject({ status: 'tie', tied: ['first', 'second'] });
		expect(verdict(tie, 'far')).toMatchObject({ stage: 'choice', by: 'first' });
		const listed = answerTo(ahead({ choose: { by: [{ rule: 'distance' }, { rule: 'listed' }] } }), objects);
		expect(listed.selected[0]?.object).toBe('first');
		expect(verdict(listed, 'second')).toEqual({
			object: 'second',
			stage: 'choice',
			rule: 'listed',
			margin: 1,
			by: 'first',
		});
	});

	it('takes several, a tied group together, and is a tie where the group does not fit', () => {
		const row = [
			object('c', [0, 0, -9], [box([1, 1, 1])]),
			object('a', [0, 0.1, -3], [box([1, 1, 1])]),
			object('b', [0, -0.1, -3], [box([1, 1, 1])]),
		];
		expect(answerTo(ahead({ choose: { take: 'all' } }), row).selected.map((s) => s.object)).toEqual(['a', 'b', 'c']);
		expect(answerTo(ahead({ choose: { take: 2 } }), row).selected.map((s) => s.object)).toEqual(['a', 'b']);
		const first = object('first', [0, 0, -1], [box([1, 1, 1])]);
		const some = answerTo(ahead({ choose: { take: 2 } }), [...row, first]);
		expect(some).toMatchObject({ status: 'tie', tied: ['a', 'b'] });
		expect(some.selected.map((s) => s.object)).toEqual(['first']);
		expect(verdict(some, 'c')).toMatchObject({ stage: 'choice', by: 'a' });
	});

	it('lets stand-ins answer, the best one for each object', () => {
		const clerk = object('clerk', [9, 0, 0], [], { prompt: 'Ask', action: 'talk', tags: ['gull'] });
		const desk = (id: string, z: number) =>
			object(id, [0, 0, z], [box([1, 1, 1])], { standsFor: 'clerk', prompt: 'Desk' });
		const answer = answerTo(
			ahead({ selects: { tags: { any: ['bird'] } }, outcomes: [{ tag: 'bird', action: 'greet' }] }),
			[clerk, desk('desk', -5), desk('bell', -3)],
		);
		expect(answer.selected[0]).toMatchObject({ object: 'clerk', through: 'bell', prompt: 'Ask', action: 'greet' });
		expect(verdict(answer, 'desk')).toEqual({ object: 'desk', stage: 'choice', rule: 'stands-for', by: 'bell' });
		expect(verdict(answer, 'clerk')).toEqual({ object: 'clerk', stage: 'touch' });
		expect(verdict(answer, 'bell')).toEqual({ object: 'bell', stage: 'selected' });
	});

	it('takes prompt and action from the first outcome whose tag fits; null takes them away', () => {
		const gull = object('gull', [0, 0, -3], [box([1, 1, 1])], { tags: ['gull'], prompt: 'Shoo', action: 'shoo' });
		const outcomes = [
			{ tag: 'crank', action: 'turn' },
			{ tag: 'bird', action: null },
			{ tag: 'gull', prompt: 'Feed' },
		];
		expect(answerTo(ahead({ outcomes }), [gull]).selected[0]).toMatchObject({ prompt: 'Shoo', action: null });
	});
});

describe('world', () => {
	it('puts shapes where parents, scale and rotation say', () => {
		const parent = object('parent', [1, 0, 0], [], { rotation: [90, 0, 0], scale: [2, 2, 2] });
		const child = object('child', [0, 0, -1], [box([1, 1, 1], { at: [0, 0, -0.5] })], {
			parent: 'parent',
			scale: [1, 1, 0.5],
		});
		// Forward of the parent is −X: the child stands at (−1, 0, 0), its box a metre long there, its middle half a metre farther on.
		const answer = answerTo({ id: 'q', kind: 'ray', from: { point: [-9, 0, 0] }, aim: { along: [1, 0, 0] } }, [
			parent,
			child,
		]);
		expect(answer.selected[0]?.point[0]).toBeCloseTo(-2, 12);
	});

	it('makes round shapes as large as the widest scale', () => {
		const egg = object('egg', [0, 0, -5], [ball(0.5)], { scale: [1, 3, 2] });
		expect(answerTo(ahead(), [egg]).selected[0]?.distance).toBeCloseTo(3.5, 12);
	});

	it('lays moments over, one on the other', () => {
		const p = project([near(), far()], [ahead()]);
		p.moments = [
			{ id: 'later', objects: { near: { active: false } } },
			{
				id: 'moved',
				on: 'later',
				objects: { far: { position: [0, 0, -3], states: { seen: true } } },
				queries: { q: { enabled: true } },
			},
		];
		expect(ask(p).selected[0]?.object).toBe('near');
		expect(ask(p, 'later').selected[0]).toMatchObject({ object: 'far', distance: 5.5 });
		expect(ask(p, 'moved').selected[0]).toMatchObject({ object: 'far', distance: 2.5 });
	});

	it('in a flat scene leaves depth out of all but picks', () => {
		const answer = answerTo(
			{ id: 'q', kind: 'ray', from: { object: 'me' }, aim: { along: [1, 0, 0], of: 'me' }, length: 9 },
			[object('me', [0, 0, 7], []), object('coin', [4, 0, -3], [disc(1)])],
			{
				kind: 'flat',
			},
		);
		expect(answer.selected[0]).toMatchObject({ object: 'coin', distance: 3, point: [3, 0, 0], normal: [-1, 0, 0] });
	});

	it('answers a chain of a hundred parents and thirty-two layers', () => {
		const chain = Array.from({ length: 100 }, (_, i) =>
			object(`p${i}`, [0, 0, -0.1], i === 99 ? [box([1, 1, 1], { layer: 'l31' })] : [], {
				layer: 'l0',
				...(i > 0 ? { parent: `p${i - 1}` } : {}),
			}),
		);
		const layers = Array.from({ length: 32 }, (_, i) => ({ id: `l${i}` }));
		const answer = answerTo(ahead({ selects: { layers: ['l31'] } }), chain, { layers });
		expect(answer.selected[0]?.distance).toBeCloseTo(9.5, 9);
	});
});
