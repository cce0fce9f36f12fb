/** Properties every answer must have, over generated projects. */

import { describe, expect, it } from 'vitest';
import { multiply, rotationOf, turned } from '../geometry/matrix';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Anchor, Direction, Project, Query } from '../project/schema';
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

type V3 = [number, number, number];

interface Motion {
	yaw: number;
	shift: V3;
	scale: number;
	flat: boolean;
}

/** The whole scene under a turn about the vertical (flat: in the plane), a shift and a uniform scale. */
function moved(project: Project, motion: Motion): Project {
	const { yaw, shift, scale, flat } = motion;
	const R = rotationOf(flat ? [0, 0, yaw] : [yaw, 0, 0]);
	const place = (p: V3 | undefined): V3 => {
		const [x, y, z] = turned(R, ...(p ?? [0, 0, 0]));
		return [scale * x + shift[0], scale * y + shift[1], scale * z + shift[2]];
	};
	const size = (p: V3): V3 => [scale * p[0], scale * p[1], scale * p[2]];
	const anglesOf = (m: Float64Array): V3 => {
		const deg = 180 / Math.PI;
		if (flat) return [0, 0, Math.atan2(m[3], m[0]) * deg];
		const sin = -m[5];
		// Looking straight up or down yaw and roll are one turn.
		if (Math.abs(sin) > 1 - 1e-12) return [Math.atan2(Math.sign(sin) * m[1], m[0]) * deg, Math.sign(sin) * 90, 0];
		return [Math.atan2(m[2], m[8]) * deg, Math.asin(sin) * deg, Math.atan2(m[3], m[4]) * deg];
	};
	const turn = (r: V3 | undefined): V3 => anglesOf(multiply(R, rotationOf(r)));
	const shape = <T extends object>(s: T): T => {
		const out = { ...s } as Record<string, unknown>;
		for (const key of ['size', 'at'] as const)
			if (Array.isArray(out[key])) out[key] = (out[key] as number[]).map((v) => v * scale);
		for (const key of ['radius', 'height', 'grow'] as const)
			if (typeof out[key] === 'number') out[key] = out[key] * scale;
		if (Array.isArray(out.points)) out.points = (out.points as number[][]).map((p) => p.map((v) => v * scale));
		if (Array.isArray(out.vertices)) out.vertices = (out.vertices as number[]).map((v) => v * scale);
		return out as unknown as T;
	};
	const anchor = (a: Anchor): Anchor => {
		if (a.point) return { point: place(a.point) };
		if (a.offset) return { ...a, offset: size(a.offset) };
		return a.off === undefined ? a : { ...a, off: a.off * scale };
	};
	const way = (a: Direction): Direction => {
		if (a.toward) return { toward: anchor(a.toward) };
		return a.of === undefined ? { along: turned(R, ...(a.along ?? [0, 0, 0])) } : a;
	};
	const query = (q: Query): Query => {
		const out = structuredClone(q) as Query & Record<string, unknown>;
		if (out.kind === 'ray' || out.kind === 'sweep') {
			out.from = anchor(out.from);
			if (out.to) out.to = anchor(out.to);
			if (out.aim) out.aim = way(out.aim);
			if (out.length !== undefined) out.length *= scale;
		}
		if (out.kind === 'sweep') {
			out.shape = shape(out.shape);
			out.rotation = turn(out.rotation);
		}
		if (out.kind === 'overlap') {
			const { at } = out;
			const turning = (out.turns ?? true) && (at.object ?? at.focus ?? at.camera) !== undefined;
			out.at = anchor(at);
			out.shape = shape(out.shape);
			if (turning) {
				if (out.offset) out.offset = size(out.offset);
			} else {
				if (out.offset) out.offset = size(turned(R, ...out.offset));
				out.rotation = turn(out.rotation);
			}
		}
		if (out.kind === 'hitbox')
			out.boxes = out.boxes.map((b) => ({ ...b, shape: shape(b.shape), ...(b.at ? { at: size(b.at) } : {}) }));
		if (out.range) {
			if (out.range.min !== undefined) out.range.min *= scale;
			if (out.range.max !== undefined) out.range.max *= scale;
			if (out.range.from) out.range.from = anchor(out.range.from);
		}
		if (out.view?.about) out.view.about = way(out.view.about);
		if (out.sight?.from) out.sight.from = anchor(out.sight.from);
		if ((out.kind === 'ray' || out.kind === 'pick') && out.assist?.by === 'distance') out.assist.within *= scale;
		for (const rule of out.choose?.by ?? [])
			if (rule.rule === 'distance' && rule.slack !== undefined) rule.slack *= scale;
		return out;
	};
	const { scene } = project;
	return {
		...project,
		queries: project.queries.map(query),
		scene: {
			...scene,
			tieSlack: (scene.tieSlack ?? 0.001) * scale,
			objects: scene.objects.map((o) => ({
				...o,
				position: o.parent === undefined ? place(o.position) : size(o.position ?? [0, 0, 0]),
				rotation: o.parent === undefined ? turn(o.rotation) : o.rotation,
				...(o.focus ? { focus: size(o.focus) } : {}),
				shapes: (o.shapes ?? []).map(shape),
			})),
			cameras: scene.cameras.map((c) => ({
				...c,
				position: c.object === undefined ? place(c.position) : size(c.position),
				...(flat ? {} : { rotation: c.object === undefined ? turn(c.rotation) : (c.rotation ?? [0, 0, 0]) }),
				far: (c.far ?? 1000) * scale,
				...(c.projection === 'orthographic' ? { height: c.height * scale } : {}),
			})) as Project['scene']['cameras'],
		},
	};
}

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
