/** Properties every answer must have, over generated projects. */

import { describe, expect, it } from 'vitest';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { type Motion, moved } from '../tests/moved';
import { type Recipe, randomProject } from '../tests/project';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import type { Answer, Verdict } from './types';

const SEEDS = Array.from({ length: 400 }, (_, i) => i + 1);

function answers(project: Project, moment: string | null = null): Answer[] {
	const answerer = new Answerer(buildWorld(project, moment));
	return answerer.world.queries.map((q) => answerer.explain(q));
}

/** What of an answer is the same wherever the scene stands. */
const gist = (a: Answer) => ({
	query: a.query,
	status: a.status,
	selected: a.selected.map((s) => [s.object, s.through, s.shape, s.assisted, s.action, s.prompt, s.box]),
	tied: a.tied,
	stages: a.verdicts.map((v) => [v.object, v.stage, v.by, v.rule]),
});

/** Answers whose outcome hangs on the last digits of a comparison say nothing about a moved scene: their margins are at a limit. */
function onTheEdge(a: Answer): boolean {
	return a.verdicts.some((v) => v.margin !== undefined && v.margin < 2e-5) || a.status === 'tie' || a.notes.length > 0;
}

function same(a: Answer[], b: Answer[], what: string): number {
	let compared = 0;
	a.forEach((answer, i) => {
		const other = b[i] as Answer;
		if (onTheEdge(answer) || onTheEdge(other)) return;
		compared++;
		expect(gist(other), `${what}: ${answer.query}`).toEqual(gist(answer));
	});
	return compared;
}

describe('generated projects', () => {
	it('are valid', () => {
		for (const seed of SEEDS) {
			const reading = checkProject(randomProject(seed));
			expect(reading.ok ? [] : reading.problems.map(formatProblem), `seed ${seed}`).toEqual([]);
		}
	});

	it('give a verdict for every object, in file order, and one for each that is selected or tied', () => {
		const statuses = new Set<string>();
		const stages = new Set<string>();
		for (const seed of SEEDS) {
			const project = randomProject(seed);
			for (const answer of answers(project)) {
				statuses.add(answer.status);
				if (answer.status === 'off' || answer.status === 'waiting') {
					expect(answer.verdicts).toEqual([]);
					continue;
				}
				expect(answer.verdicts.map((v) => v.object)).toEqual(project.scene.objects.map((o) => o.id));
				for (const v of answer.verdicts) {
					stages.add(v.stage);
					if (v.margin !== undefined) expect(v.margin).toBeGreaterThanOrEqual(0);
					expect(Number.isFinite(v.margin ?? 0)).toBe(true);
				}
				expect(
					answer.verdicts
						.filter((v) => v.stage === 'selected')
						.map((v) => v.object)
						.sort(),
				).toEqual(answer.selected.map((s) => s.through ?? s.object).sort());
				expect(answer.status === 'tie').toBe(answer.tied.length > 0);
				if (answer.status === 'none') expect(answer.selected).toEqual([]);
			}
		}
		expect([...statuses].sort()).toEqual(['none', 'off', 'selected', 'tie', 'waiting']);
		expect(stages.size).toBe(15);
	});

	it('are answered alike by the explaining and the winner-only path', () => {
		for (const seed of SEEDS) {
			for (const moment of [null, 'later']) {
				const project = randomProject(seed, { moments: true });
				const answerer = new Answerer(buildWorld(project, moment));
				for (const query of answerer.world.queries) {
					const full = answerer.explain(query);
					const quick = new Answerer(answerer.world).winner(query);
					expect([quick.status, quick.selected, quick.tied], `seed ${seed} ${query.id}`).toEqual([
						full.status,
						full.selected,
						full.tied,
					]);
				}
			}
		}
	});

	it('say the same of every object where misses are measured when asked for', () => {
		for (const seed of SEEDS.slice(0, 100)) {
			const answerer = new Answerer(buildWorld(randomProject(seed), null));
			for (const query of answerer.world.queries) {
				const later = answerer.explain(query, undefined, true).verdicts;
				const known = answerer.explain(query).verdicts;
				const said = (v: Verdict) => [v.object, v.stage, v.margin, v.beyond, v.by];
				expect(later.map(said)).toEqual(known.map(said));
			}
		}
	});

	it('do not change their answers when an object that fails a filter is added', () => {
		for (const seed of SEEDS.slice(0, 150)) {
			const project = randomProject(seed);
			const more: Project = {
				...project,
				scene: {
					...project.scene,
					objects: [
						...project.scene.objects,
						{ id: 'extra', layer: 'one', active: false, position: [0, 0, 0], shapes: [] },
					],
				},
			};
			const before = answers(project);
			const after = answers(more);
			expect(after.map((a) => ({ ...a, verdicts: a.verdicts.slice(0, -1) }))).toEqual(
				before.map((a) => ({ ...a, verdicts: a.verdicts.slice(0, project.scene.objects.length) })),
			);
		}
	});

	it('do not depend on the order of the objects in the file, but for what says so', () => {
		let compared = 0;
		for (const seed of SEEDS) {
			const project = randomProject(seed, { standIns: false });
			project.queries = project.queries.filter((q) => !q.choose?.by?.some((r) => r.rule === 'listed'));
			// A chain may end in the first of several equals: which one that is, is a matter of order.
			project.queries = project.queries.filter((q) => !JSON.stringify(q).includes('hitOf'));
			// A tied group is taken together, in the order of the file.
			project.queries = project.queries.filter((q) => (q.choose?.take ?? (q.kind === 'hitbox' ? 'all' : 1)) === 1);
			const turnedRound: Project = {
				...project,
				scene: { ...project.scene, objects: [...project.scene.objects].reverse() },
			};
			const before = answers(project);
			const after = answers(turnedRound).map((a) => ({ ...a, verdicts: [...a.verdicts].reverse() }));
			compared += same(before, after, `seed ${seed}`);
		}
		expect(compared).toBeGreaterThan(300);
	});
});

// ---- the scene moved, turned, scaled ----

function unmoved(recipe: Recipe, motion: (flat: boolean) => Omit<Motion, 'flat'>, seeds: number[]): number {
	let compared = 0;
	for (const seed of seeds) {
		const project = randomProject(seed, recipe);
		const flat = project.scene.kind === 'flat';
		const m = { ...motion(flat), flat };
		// A flat camera of its own cannot be turned.
		if (flat && project.scene.cameras.some((c) => c.object === undefined)) m.yaw = 0;
		compared += same(answers(project), answers(moved(project, m)), `seed ${seed}`);
	}
	return compared;
}

describe('the whole scene', () => {
	it('may be moved and turned without changing an answer', () => {
		expect(
			unmoved({}, (flat) => ({ yaw: 37, shift: flat ? [12, -7, 0] : [12, 3, -7], scale: 1 }), SEEDS),
		).toBeGreaterThan(400);
	});

	it('may stand a hundred kilometres from the origin', () => {
		expect(
			unmoved(
				{ meshes: true },
				(flat) => ({ yaw: 90, shift: flat ? [1e5, 1e5, 0] : [1e5, -2e4, 1e5], scale: 1 }),
				SEEDS.slice(0, 200),
			),
		).toBeGreaterThan(200);
	});

	it('may be made ten times as large or small', () => {
		expect(unmoved({}, () => ({ yaw: 0, shift: [0, 0, 0], scale: 10 }), SEEDS.slice(0, 200))).toBeGreaterThan(200);
		expect(unmoved({}, () => ({ yaw: 0, shift: [0, 0, 0], scale: 0.1 }), SEEDS.slice(0, 200))).toBeGreaterThan(150);
	});
});
