/** By how much something was missed does not depend on how far beyond it a sweep goes on. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Query, Shape } from '../project/schema';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { answerTo, object, verdict } from '../tests/scene';

const shapes: ((d: ReturnType<typeof dice>) => Shape)[] = [
	(d) => ({ id: 's', kind: 'cylinder', radius: d.between(0.1, 0.6), height: d.between(0.1, 1) }),
	(d) => ({ id: 's', kind: 'box', size: [d.between(0.1, 1), d.between(0.1, 1), d.between(0.1, 1)] }),
	(d) => ({ id: 's', kind: 'sphere', radius: d.between(0.1, 0.6) }),
	(d) => ({ id: 's', kind: 'capsule', radius: 0.2, height: d.between(0.5, 1) }),
	(d) => ({
		id: 's',
		kind: 'mesh',
		vertices: [0, 0, 0, d.between(0.2, 1), 0, 0, 0, d.between(0.2, 1), 0.3],
		triangles: [0, 1, 2],
	}),
];

it('and is as exact to a thousand kilometres as to twenty metres', () => {
	fc.assert(
		fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
			const d = dice(seed);
			const along = d.direction();
			const at = d.between(4, 12);
			const side = [d.between(-1.5, 1.5), d.between(-1.5, 1.5), d.between(-1.5, 1.5)] as const;
			const position = [0, 1, 2].map((k) => along[k] * at + side[k]) as [number, number, number];
			const things = [object('thing', position, [d.of(shapes)(d)], { rotation: d.rotation() })];
			const shape = d.of<object>([
				{ kind: 'box', size: [0.2424, 0.3898, 0.4596] },
				{ kind: 'sphere', radius: 0.2 },
				{ kind: 'capsule', radius: 0.1, height: 0.5 },
			]);
			const margin = (length: number | undefined) => {
				const query = { id: 'q', kind: 'sweep', from: { point: [0, 0, 0] }, aim: { along }, shape, length };
				const answer = answerTo(JSON.parse(JSON.stringify(query)) as Query, JSON.parse(JSON.stringify(things)));
				return answer.status === 'none' ? verdict(answer, 'thing').margin : -1;
			};
			const short = margin(20) ?? Number.NaN;
			for (const length of [undefined, 1e4, 1e6])
				expect(Math.abs((margin(length) ?? Number.NaN) - short)).toBeLessThan(1e-7);
		}),
		{ numRuns: runs(400) },
	);
});

it('ends where the path ends: what lies beyond is as far off as its last place', () => {
	const query = (length: number) => ({
		id: 'q',
		kind: 'sweep',
		from: { point: [0, 0, 0] },
		aim: { along: [0, 0, -1] },
		shape: { kind: 'sphere', radius: 0.25 },
		length,
	});
	const thing = [object('thing', [0, 0, -10], [{ id: 's', kind: 'sphere', radius: 0.5 }])];
	expect(verdict(answerTo(query(4), thing), 'thing').margin).toBeCloseTo(10 - 4 - 0.75, 9);
	expect(verdict(answerTo(query(9.2), thing), 'thing').margin).toBeCloseTo(0.05, 9);
	const behind = [object('thing', [0, 0, 3], [{ id: 's', kind: 'sphere', radius: 0.5 }])];
	expect(verdict(answerTo(query(1000), behind), 'thing').margin).toBeCloseTo(2.25, 9);
});
