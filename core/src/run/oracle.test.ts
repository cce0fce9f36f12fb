/** Run-throughs against the second implementation, over generated projects. `ORACLE_FROM` and `ORACLE_COUNT` choose the seeds. */
import { describe, expect, it } from 'vitest';
import type { Run } from '../project/schema';
import { runOf } from '../tests/oracle/run';
import { randomRun } from '../tests/run';
import { runs } from '../tests/runs';
import { runThrough } from './run';

const from = Number(process.env.ORACLE_FROM ?? 1);
const count = Number(process.env.ORACLE_COUNT ?? runs(150));

/** Without the rule, which is for people; lengths to nine places. */
const comparable = (value: unknown): unknown =>
	JSON.parse(
		JSON.stringify(value, (key, v) => (key === 'rule' ? undefined : typeof v === 'number' ? Number(v.toFixed(7)) : v)),
	);

describe('a run-through', () => {
	it.each([
		['', false],
		[', held, locked and late', true],
	])('goes as the second implementation says%s', (_, held) => {
		const seen = new Set<string>();
		// What is late is asked of whole projects made anew: half as many.
		const seeds = held ? Math.ceil(count / 2) : count;
		for (let seed = from; seed < from + seeds; seed++) {
			const project = randomRun(seed, seed % 3 === 0, held);
			const run = project.runs?.[0] as Run;
			const result = runThrough(project, run);
			for (const event of result.events) seen.add(event.kind);
			expect({ seed, ...(comparable(result) as object) }).toEqual({
				seed,
				...(comparable(runOf(project, run)) as object),
			});
		}
		if (count >= 100)
			expect([...seen].sort()).toEqual([
				...(held ? ['broken'] : []),
				'choose',
				'enter',
				'gain',
				...(held ? ['held'] : []),
				'hit',
				'leave',
				...(held ? ['lock'] : []),
				'lose',
				'missed',
				'press',
				...(seen.has('refused') ? ['refused'] : []),
				...(seen.has('undecided') ? ['undecided'] : []),
			]);
	});
});
