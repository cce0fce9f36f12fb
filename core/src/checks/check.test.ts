import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import type { Expect } from '../project/schema';
import { junitXml } from '../report/junit';
import { ahead, ask, box, object, project } from '../tests/scene';
import { failureOf, runChecks } from './check';

const near = object('near', [0, 0, -3], [box([1, 1, 1])], { action: 'turn' });
const far = object('far', [0, 0, -6], [box([1, 1, 1])]);
const wall = object('wall', [0, 0, -4.5], [box([4, 4, 0.2])], { layer: 'wall' });
const answer = ask(project([near, far, wall], [ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } })]));
const twins = [object('one', [0, 0.1, -3], [box([1, 1, 1])]), object('two', [0, -0.1, -3], [box([1, 1, 1])])];
const tie = ask(project(twins, [ahead()]));
const all = ask(project([far, near], [ahead({ choose: { take: 'all' } })]));

describe('an expectation', () => {
	const holds = (e: Expect, a = answer) => failureOf(e, a) === '';

	it('of a selection minds its order unless told not to', () => {
		expect(holds({ selects: ['near'] })).toBe(true);
		expect(holds({ selects: ['far'] })).toBe(false);
		expect(holds({ selects: ['near', 'far'] }, all)).toBe(true);
		expect(holds({ selects: ['far', 'near'] }, all)).toBe(false);
		expect(holds({ selects: ['far', 'near'], order: 'any' }, all)).toBe(true);
		expect(holds({ selects: ['near'] }, all)).toBe(false);
	});

	it('of a tie is that set and that status; a tie never satisfies a selection', () => {
		expect(holds({ tie: ['two', 'one'] }, tie)).toBe(true);
		expect(holds({ tie: ['one'] }, tie)).toBe(false);
		expect(holds({ selects: ['one', 'two'] }, tie)).toBe(false);
		expect(holds({ none: true }, tie)).toBe(false);
		expect(holds({ tie: ['near'] })).toBe(false);
	});

	it('of nothing and of being off are what they say', () => {
		const none = ask(project([], [ahead()]));
		const off = ask(project([], [ahead({ enabled: false })]));
		expect([
			holds({ none: true }, none),
			holds({ off: true }, none),
			holds({ off: true }, off),
			holds({ none: true }, off),
		]).toEqual([true, false, true, false]);
	});

	it('may add what must not be, the action, the point and the blocker', () => {
		const base = { selects: ['near'] };
		expect(
			holds({
				...base,
				not: ['far'],
				action: 'turn',
				point: { near: [0, 0, -2.45], within: 0.05 },
				blocked: { object: 'far', by: 'wall' },
			}),
		).toBe(true);
		expect(failureOf({ ...base, not: ['near'] }, answer)).toBe('near must not be selected, and is');
		expect(failureOf({ tie: ['one', 'two'], not: ['one'] }, tie)).toBe('one must not be tied, and is');
		expect(failureOf({ ...base, action: 'pull' }, answer)).toBe('wanted the action pull, got turn');
		expect(failureOf({ ...base, point: { near: [0, 0, -2.4], within: 0.05 } }, answer)).toBe(
			'the point is 0.1 m from where it should be, 0.05 m is allowed',
		);
		expect(failureOf({ ...base, blocked: { object: 'near', by: 'wall' } }, answer)).toBe(
			'wanted near hidden by wall, but it is selected: selected',
		);
	});

	it('says what was wanted, what was got, and why', () => {
		expect(failureOf({ selects: ['far'] }, answer)).toBe('wanted far, got near (far: sight, 1.1 m behind wall)');
		expect(failureOf({ tie: ['near', 'far'] }, answer)).toContain('wanted a tie of near and far, got near');
	});
});

describe('the checks of a project', () => {
	const p = project([near, far], [ahead()]);
	p.moments = [{ id: 'gone', objects: { near: { active: false } } }];
	p.checks = [
		{ id: 'now', query: 'q', expect: { selects: ['near'] } },
		{ id: 'later', query: 'q', moment: 'gone', expect: { selects: ['far'] } },
		{ id: 'wrong <&>', query: 'q', moment: 'gone', expect: { selects: ['near'] } },
	];

	it('are asked at their moments', () => {
		expect(runChecks(p).map((r) => [r.id, r.moment, r.pass])).toEqual([
			['now', null, true],
			['later', 'gone', true],
			['wrong <&>', 'gone', false],
		]);
	});

	it('come out as JUnit that a standard parser reads, the same every time', () => {
		const xml = junitXml([{ project: 'test', checks: runChecks(p) }]);
		expect(junitXml([{ project: 'test', checks: runChecks(p) }])).toBe(xml);
		const doc = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '' }).parse(xml);
		expect(doc.testsuites).toMatchObject({ tests: '3', failures: '1', errors: '0' });
		const suite = doc.testsuites.testsuite;
		expect(suite).toMatchObject({ name: 'test', tests: '3', failures: '1' });
		expect(suite.testcase[2]).toMatchObject({
			classname: 'test.q@gone',
			name: 'wrong <&>',
			failure: { message: 'wanted near, got far (near: inactive, inactive, itself or above it)' },
		});
		expect(suite.testcase[2].failure['#text']).toContain('near: inactive');
	});
});
