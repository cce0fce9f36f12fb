import { expect, it } from 'vitest';
import type { Run } from './db';
import { sinceWhen } from './history';

it('says since when, and after which edit, each check stands as it stands', () => {
	const run = (at: number, failing: string[], after: string | null, ran = ['a', 'b']): Run => ({
		key: 'p',
		at,
		hold: ran.length - failing.length,
		failing: failing.map((check) => ({ check, reason: '' })),
		ran,
		after,
	});
	// The latest first.
	const since = sinceWhen([
		run(5, ['a', 'b'], 'Move Crate 4'),
		run(4, ['a'], 'Turn'),
		run(3, ['a'], 'Delete'),
		run(2, [], null),
		run(1, ['a'], null),
	]);
	expect(since.get('a')).toEqual({ failing: true, at: 3, after: 'Delete' });
	expect(since.get('b')).toEqual({ failing: true, at: 5, after: 'Move Crate 4' });
	expect(sinceWhen([]).size).toBe(0);
	// One added later is known since its first run.
	expect(sinceWhen([run(9, [], 'Keep an answer', ['a', 'c']), run(8, [], null)]).get('c')).toEqual({
		failing: false,
		at: 9,
		after: 'Keep an answer',
	});
});
