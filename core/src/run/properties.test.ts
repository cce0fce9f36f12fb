/** What holds of every run-through. */
import { describe, expect, it } from 'vitest';
import type { Project, Run } from '../project/schema';
import { randomRun } from '../tests/run';
import { runs } from '../tests/runs';
import { runThrough } from './run';

const cases = (each: (project: Project, run: Run, seed: number) => void): void => {
	for (let seed = 1; seed <= runs(40); seed++) {
		const project = randomRun(seed, seed % 3 === 0);
		each(project, project.runs?.[0] as Run, seed);
	}
};

describe('a run-through', () => {
	it('leaves the project as it was, whatever its effects do', () => {
		cases((project, run, seed) => {
			const before = JSON.stringify(project);
			runThrough(project, run);
			expect([seed, JSON.stringify(project) === before]).toEqual([seed, true]);
		});
	});

	it('over a still scene has no events after the first step', () => {
		cases((project, { tracks: _, presses: __, swings: ___, ...run }, seed) => {
			const { events } = runThrough(project, run);
			expect([seed, events.filter((e) => !('k' in e) || e.k > 0)]).toEqual([seed, []]);
		});
	});

	it('says at its whole steps what it says with half the step, as long as it has no memory and nothing is pressed', () => {
		let compared = 0;
		cases((project, { presses: _, swings: __, ...run }, seed) => {
			const watch = (run.watch ?? []).map(({ keeps: _k, forgets: _f, stick: _s, ...entry }) => entry);
			const plain: Run = { ...run, watch, between: 1, duration: Math.floor(run.duration / run.step + 1e-9) * run.step };
			const held = (r: Run, every: number) => {
				const { events } = runThrough(project, r);
				return watch.map(({ id, query }) => {
					const mine = events.filter((e) => e.kind === 'choose' && e.watch === (id ?? query));
					return Array.from({ length: Math.round(plain.duration / plain.step) + 1 }, (_, k) => {
						const last = mine.findLast((e) => 'k' in e && e.k <= k * every);
						return last?.kind === 'choose' ? [last.selected, last.tied] : [[], []];
					});
				});
			};
			compared++;
			expect([seed, held({ ...plain, step: plain.step / 2 }, 2)]).toEqual([seed, held(plain, 1)]);
		});
		expect(compared).toBeGreaterThan(0);
	});

	it('looked at more often between its steps says the same of them', () => {
		cases((project, run, seed) => {
			const steps = (between: number) =>
				runThrough(project, { ...run, between }).events.filter((e) => e.kind !== 'missed');
			expect([seed, steps(7)]).toEqual([seed, steps(1)]);
		});
	});
});
