/** Paths that end too early: how far past its end one would have touched, by hand. */
import { describe, expect, it } from 'vitest';
import { answerTo, ball, box, disc, object, verdict } from '../tests/scene';

const ray = (length: number, more: object = {}) => ({
	id: 'q',
	kind: 'ray',
	from: { point: [0, 0, 0] },
	aim: { along: [0, 0, -1] },
	length,
	...more,
});
const beyond = (query: object, ...things: Parameters<typeof object>[]) => {
	const answer = answerTo(
		query,
		things.map((args) => object(...args)),
	);
	return things.map(([id]) => verdict(answer, id).beyond);
};

describe('beyond its end', () => {
	it('is from the end of the path to where an endless one would first touch', () => {
		const near = ['near', [0, 0, -5], [box([1, 1, 1])]] as Parameters<typeof object>;
		expect(beyond(ray(2.5), near)).toEqual([2]);
		// A hair short, and just there.
		expect(beyond(ray(4.4999), near)[0]).toBeCloseTo(0.0001, 9);
		expect(verdict(answerTo(ray(4.5), [object(...near)]), 'near').stage).toBe('selected');
	});

	it('is left out where it never would: beside the line, behind the start, or skipped at it', () => {
		expect(
			beyond(
				ray(2),
				['beside', [1.01, 0, -5], [ball(1)]],
				['touching', [0.99, 0, -5], [ball(1)]],
				['behind', [0, 0, 5], [ball(1)]],
				['around', [0, 0, 0], [ball(1)]],
				['bare', [0, 0, -5], []],
			),
		).toEqual([undefined, expect.closeTo(5 - Math.sqrt(1 - 0.99 ** 2) - 2, 9), undefined, undefined, undefined]);
	});

	it('looks at shapes that may be chosen only, and at the first of them', () => {
		const shapes = [box([1, 1, 1], { id: 'sensor', role: 'sensor', at: [0, 0, 2] }), box([1, 1, 1], { id: 'solid' })];
		expect(beyond(ray(2), ['two', [0, 0, -9], shapes])).toEqual([4.5]);
		expect(beyond(ray(2, { selects: { roles: ['solid'] } }), ['two', [0, 0, -9], shapes])).toEqual([6.5]);
	});

	it('counts from the travel of a sweep, and from the depth of a flat pick', () => {
		const sweep = { ...ray(3), kind: 'sweep', shape: { kind: 'sphere', radius: 0.5 } };
		expect(beyond(sweep, ['ball', [0, 0, -10], [ball(1)]], ['beside', [1.6, 0, -10], [ball(1)]])).toEqual([
			expect.closeTo(5.5, 9),
			undefined,
		]);
		const pick = { id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100], length: 6 };
		const flat = answerTo(
			pick,
			[
				object('deep', [0, 0, 1], [disc(1)]),
				object('high', [0, 0, 20], [disc(1)]),
				object('aside', [4, 0, 1], [disc(1)]),
			],
			{
				kind: 'flat',
			},
		);
		expect(['deep', 'high', 'aside'].map((id) => verdict(flat, id).beyond)).toEqual([3, undefined, undefined]);
	});

	it('is nothing a volume has', () => {
		const overlap = { id: 'q', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 1 } };
		expect(beyond(overlap, ['far', [0, 0, -5], [ball(1)]])).toEqual([undefined]);
	});
});
