/** Where a view is measured from: the asker's focus when the query is asked on it, the place itself when it is not. */
import { expect, it } from 'vitest';
import type { Anchor } from '../project/schema';
import { answerTo, ball, object, verdict } from '../tests/scene';

it.each<[string, Anchor, 'selected' | 'view']>([
	['the asker', { object: 'who' }, 'selected'],
	['what hangs on it', { object: 'hand' }, 'selected'],
	['what hangs on that', { object: 'finger' }, 'selected'],
	['a camera on what hangs on it', { camera: 'palm' }, 'selected'],
	['another thing there', { object: 'other' }, 'view'],
	['a camera there', { camera: 'post' }, 'view'],
	['a point there', { point: [0, 0, 0] }, 'view'],
])('an overlap at %s', (_name, at, stage) => {
	const camera = {
		projection: 'perspective' as const,
		fov: 60,
		far: 50,
		position: [0, 0, 0] as [number, number, number],
	};
	const answer = answerTo(
		{
			id: 'q',
			kind: 'overlap',
			asker: 'who',
			at,
			shape: { kind: 'sphere', radius: 9 },
			view: { within: 10, about: { along: [0, 0, -1] } },
		},
		[
			// Straight ahead of the focus, 34° up from where the asker stands.
			object('x', [0, 2, -3], [ball(0.1)]),
			object('who', [0, 0, 0], [], { focus: [0, 2, 0] }),
			object('hand', [0, 0, 0], [], { parent: 'who' }),
			object('finger', [0, 0, 0], [], { parent: 'hand' }),
			object('other', [0, 0, 0], []),
		],
		{
			cameras: [
				{ id: 'palm', object: 'hand', ...camera },
				{ id: 'post', object: 'other', ...camera },
			],
		},
	);
	expect(verdict(answer, 'x').stage).toBe(stage);
});
