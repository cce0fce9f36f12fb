/** What is prompted and done: by tag, by states, by the object's name (contract §24). */
import { describe, expect, it } from 'vitest';
import { ask, ball, object, project } from '../tests/scene';

describe('an outcome that asks, and a prompt that names', () => {
	const scene = (outcomes: object[], more: object = {}) =>
		project(
			[
				object('crank', [0, 0, -2], [ball(0.5)], {
					name: 'Gangway {name}',
					prompt: 'Turn {name}, {Name}',
					action: 'turn',
					tags: ['gull'],
					states: { stuck: true },
				}),
				object('me', [0, 0, 5], [], { states: { full: true, load: 2 } }),
			],
			[{ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 5, outcomes, ...more }],
			{ states: { dark: true } },
		);
	const got = (outcomes: object[], more: object = {}) => {
		const [own] = ask(scene(outcomes, more)).selected;
		return [own?.action, own?.prompt];
	};

	it.each([
		['no outcome', [], {}, ['turn', 'Turn Gangway {name}, {Name}']],
		['its tag alone', [{ tag: 'bird', prompt: 'Use' }], {}, ['turn', 'Use']],
		[
			'a state that holds',
			[{ when: [{ of: 'target', state: 'stuck', is: true }], prompt: '{name}: stuck', action: null }],
			{},
			[null, 'Gangway {name}: stuck'],
		],
		[
			'a state that does not',
			[
				{ when: [{ of: 'target', state: 'stuck', is: false }], prompt: 'No' },
				{ tag: 'bird', action: 'pull' },
			],
			{},
			['pull', 'Turn Gangway {name}, {Name}'],
		],
		[
			'a state nobody has',
			[{ tag: 'bird', when: [{ of: 'target', state: 'lit', is: false }], action: 'light' }],
			{},
			['light', 'Turn Gangway {name}, {Name}'],
		],
		[
			'of the scene',
			[{ when: [{ of: 'scene', state: 'dark', is: true }], action: 'grope' }],
			{},
			['grope', 'Turn Gangway {name}, {Name}'],
		],
		[
			'of the asker',
			[
				{
					tag: 'bird',
					when: [
						{ of: 'asker', state: 'full', is: true },
						{ of: 'asker', state: 'load', above: 1 },
					],
					prompt: 'Put down {name}',
				},
			],
			{ asker: 'me' },
			['turn', 'Put down Gangway {name}'],
		],
		[
			'one of two that fails',
			[
				{
					tag: 'bird',
					when: [
						{ of: 'asker', state: 'full', is: true },
						{ of: 'asker', state: 'load', above: 2 },
					],
					prompt: 'No',
				},
			],
			{ asker: 'me' },
			['turn', 'Turn Gangway {name}, {Name}'],
		],
		[
			'another tag whose state holds',
			[{ tag: 'crank', when: [{ of: 'target', state: 'stuck', is: true }], prompt: 'No' }],
			{},
			['turn', 'Turn Gangway {name}, {Name}'],
		],
	])('%s', (_name, outcomes, more, wanted) => {
		expect(got(outcomes, more)).toEqual(wanted);
	});

	it('needs a tag or a condition, and an asker where it asks one', () => {
		const reasons = (outcomes: object[]) => {
			try {
				return ask(scene(outcomes)).status;
			} catch (error) {
				return (error as Error).message;
			}
		};
		expect(reasons([{ prompt: 'x' }])).toBe('queries[0].outcomes[0]: an outcome needs at least one of tag, when');
		expect(reasons([{ when: [{ of: 'asker', state: 'full', is: true }] }])).toBe(
			'queries[0].outcomes[0].when[0].of: a condition on the asker needs an "asker"',
		);
		expect(reasons([{ when: [] }, { tag: 'bird', when: [] }])).toBe('selected');
	});
});
