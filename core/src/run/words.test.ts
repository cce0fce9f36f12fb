/** Every event in words: names as they are called, colons and numbers in them too. */
import { expect, it } from 'vitest';
import type { RunEvent } from './events';
import { whatHappened, wordsOfEvent } from './words';

const at = { k: 3, t: 0.3 };
const called = (_kind: string, id: string) => `N: ${id} than it`;

it.each<[RunEvent, string]>([
	[{ ...at, kind: 'enter', watch: 'w', object: 'a' }, 'w: N: a than it is touched'],
	[{ ...at, kind: 'leave', watch: 'w', object: 'a' }, 'w: N: a than it is no longer touched'],
	[{ ...at, kind: 'gain', watch: 'w', object: 'a' }, 'w: N: a than it contends'],
	[{ ...at, kind: 'lose', watch: 'w', object: 'a' }, 'w: N: a than it contends no longer'],
	[{ ...at, kind: 'choose', watch: 'w', selected: [], tied: [], instead: null }, 'w: chosen nothing'],
	[
		{ ...at, kind: 'choose', watch: 'w', selected: [], tied: ['a', 'b'], instead: null },
		'w: chosen tie of N: a than it, N: b than it',
	],
	[
		{
			...at,
			kind: 'choose',
			watch: 'w',
			selected: ['b'],
			tied: [],
			instead: { object: 'a', through: 'knob', stage: 'choice', by: 'b', margin: 0.04, rule: 'distance' },
		},
		'w: chosen N: b than it; N: a than it through N: knob than it is outranked, 0.04 m farther than N: b than it',
	],
	[
		{
			...at,
			kind: 'choose',
			watch: 'w',
			selected: [],
			tied: [],
			instead: { object: 'a', through: null, stage: 'touch', by: null, margin: 0.5 },
		},
		'w: chosen nothing; N: a than it is missed by 0.5 m',
	],
	[
		{ ...at, kind: 'hit', swing: 1, object: 'a', through: 'knob', box: 2 },
		'swing 1: box 2 hits N: a than it through N: knob than it',
	],
	[{ ...at, kind: 'undecided', swing: 0, tied: ['a', 'b'] }, 'swing 0: undecided between N: a than it, N: b than it'],
	[{ ...at, kind: 'press', watch: 'w', objects: [] }, 'w: pressed, with nothing chosen'],
	[{ ...at, kind: 'press', watch: 'w', objects: ['a'] }, 'w: pressed, on N: a than it'],
	[{ ...at, kind: 'refused', action: 'lift', line: 1, why: 'no-asker' }, 'refused: lift, line 1: there is no asker'],
	[{ ...at, kind: 'refused', action: 'lift', line: 0, why: 'cycle' }, 'refused: lift, line 0: it would hang on itself'],
	[{ ...at, kind: 'refused', object: 'a', why: 'cycle' }, 'refused: N: a than it would hang on itself'],
	[
		{ kind: 'missed', watch: 'w', object: 'a', after: 3, t: 0.35 },
		'w: N: a than it is touched between steps 3 and 4 only',
	],
	[
		{ kind: 'missed', swing: 2, object: 'a', after: 3, t: 0.35 },
		'swing 2: N: a than it would be hit between steps 3 and 4 only',
	],
])('is said: %j', (event, words) => {
	expect(wordsOfEvent(event, called)).toBe(words);
	expect(`${words.slice(0, words.indexOf(': '))}: ${whatHappened(event, called)}`).toBe(words);
});

it('without the numbers of steps, where runs of other steps are held against it', () => {
	const missed: RunEvent = { kind: 'missed', watch: 'w', object: 'a', after: 3, t: 0.35 };
	expect(wordsOfEvent(missed, undefined, false)).toBe('w: a is touched between two steps only');
	expect(wordsOfEvent({ ...missed, after: 9 }, undefined, false)).toBe('w: a is touched between two steps only');
});
