/** What is answered does not hang on where the origin lies: the examples and some generated scenes elsewhere, with every figure. */
import { expect, it } from 'vitest';
import type { Project } from '../project/schema';
import { example } from '../tests/examples';
import { moved } from '../tests/moved';
import { randomProject } from '../tests/project';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import type { Answer, Verdict } from './types';

function answers(project: Project): Answer[] {
	const answerer = new Answerer(buildWorld(project));
	return answerer.world.queries.map((q) => answerer.explain(q));
}

/** Nearer to a limit than this the last digits decide. */
const EDGE = 1e-5;
const isOnEdge = ({ verdicts, notes, status }: Answer): boolean =>
	status === 'tie' || notes.length > 0 || verdicts.some((v) => v.margin !== undefined && v.margin < EDGE);

const figures = (v: Verdict) => [v.margin, v.beyond].map((f) => (f === undefined ? -1 : f));

function held(project: Project, yaw: number, shift: [number, number, number]): number {
	const flat = project.scene.kind === 'flat';
	const own = project.scene.cameras.some((c) => c.object === undefined);
	const motion = {
		yaw: flat && own ? 0 : yaw,
		shift: flat ? ([shift[0], shift[1], 0] as typeof shift) : shift,
		scale: 1,
		flat,
	};
	const before = answers(project);
	const after = answers(moved(project, motion));
	let compared = 0;
	before.forEach((answer, i) => {
		const other = after[i] as Answer;
		if (isOnEdge(answer) || isOnEdge(other)) return;
		compared++;
		const label = `${project.id} ${answer.query}`;
		expect([other.status, other.selected.map((s) => s.object)], label).toEqual([
			answer.status,
			answer.selected.map((s) => s.object),
		]);
		other.selected.forEach((s, k) => {
			expect(s.distance, label).toBeCloseTo(answer.selected[k]?.distance ?? -1, 6);
		});
		other.verdicts.forEach((v, k) => {
			const was = answer.verdicts[k] as Verdict;
			expect([v.object, v.stage, v.by, v.rule], label).toEqual([was.object, was.stage, was.by, was.rule]);
			const [margin, beyond] = figures(was);
			expect(figures(v), `${label} ${v.object}`).toEqual([
				expect.closeTo(margin ?? -1, 5),
				expect.closeTo(beyond ?? -1, 5),
			]);
		});
	});
	return compared;
}

it('the examples, moved and turned', () => {
	let compared = 0;
	for (const name of ['harl-quay', 'pursers-desk', 'deck-from-above'])
		for (const yaw of [0, 73]) compared += held(example(name), yaw, [13, -7, 29]);
	expect(compared).toBeGreaterThan(15);
});

it('generated scenes, moved and turned', () => {
	let compared = 0;
	for (let seed = 1; seed <= 25; seed++)
		compared += held(randomProject(seed, { meshes: seed % 2 === 0 }), 210, [-4, 11, 6]);
	expect(compared).toBeGreaterThan(25);
});
