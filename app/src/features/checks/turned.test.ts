import { describe, expect, it } from 'vitest';
import { turnedIn } from './words';

const run = (failing: string[], ran = ['a', 'b', 'c']) => ({
	key: 'p',
	at: 0,
	hold: ran.length - failing.length,
	failing: failing.map((check) => ({ check, reason: 'because' })),
	ran,
});

describe('what turned at a run', () => {
	it('is what fails now and did not, and what held again and was run', () => {
		expect(turnedIn(run(['a', 'b']), run(['b', 'c']))).toEqual({
			fails: [{ check: 'a', reason: 'because' }],
			holds: ['c'],
		});
		expect(turnedIn(run([], ['a']), run(['b']))).toEqual({ fails: [], holds: [] });
		expect(turnedIn(run(['a']), undefined).fails.map((f) => f.check)).toEqual(['a']);
	});
});
