/** The product against a second reading of the contract that shares no code with it (tests/oracle). */
import { describe, expect, it } from 'vitest';
import type { Query } from '../project/schema';
import { Oracle } from '../tests/oracle/answer';
import { randomProject } from '../tests/project';
import { runs } from '../tests/runs';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import type { Answer, Selected, Verdict } from './types';

const near = (a: number | null | undefined, b: number | null | undefined, by: number): boolean =>
	a === b || (typeof a === 'number' && typeof b === 'number' && Math.abs(a - b) <= by * Math.max(1, Math.abs(a)));
const nearPoint = (a: readonly number[] | null, b: readonly number[] | null, by: number): boolean =>
	a === b || (a !== null && b !== null && a.every((v, i) => near(v, b[i], by)));
const sameSet = (a: string[] | undefined, b: string[] | undefined): boolean =>
	JSON.stringify([...(a ?? [])].sort()) === JSON.stringify([...(b ?? [])].sort());

/** Whether two things selected differ. */
function selectedDiffers(oracle: Oracle, a: Selected, b: Selected, sweep: boolean): boolean {
	if (a.object !== b.object || a.through !== b.through || a.shape !== b.shape || a.assisted !== b.assisted) return true;
	if (a.action !== b.action || a.prompt !== b.prompt || a.box !== b.box) return true;
	if (!near(a.distance, b.distance, 2e-6)) return true;
	if (a.seen !== b.seen || a.of !== b.of || !near(a.time, b.time, 2e-6)) return true;
	// At an edge or a corner there is more than one normal.
	if (!nearPoint(a.normal, b.normal, 1e-3) && (a.normal === null || b.normal === null || oracle.normalOff(a) > 1e-5))
		return true;
	// A normal of the oracle's, and so a start moved along one, is good to about 1e-5.
	return !sweep && !nearPoint(a.point, b.point, 1e-5);
}

function verdictDiffers(a: Verdict, b: Verdict): boolean {
	if (a.object !== b.object || a.stage !== b.stage || a.by !== b.by || a.rule !== b.rule) return true;
	if (
		a.stance !== b.stance ||
		a.role !== b.role ||
		a.value !== b.value ||
		JSON.stringify(a.condition) !== JSON.stringify(b.condition)
	)
		return true;
	if (!sameSet(a.layers, b.layers) || !sameSet(a.missing, b.missing) || !sameSet(a.forbidden, b.forbidden)) return true;
	if (!near(a.met, b.met, 2e-6)) return true;
	if (a.seen !== b.seen || a.of !== b.of || JSON.stringify(a.marks) !== JSON.stringify(b.marks)) return true;
	return !near(a.margin, b.margin, 1e-5) || !near(a.beyond, b.beyond, 1e-5);
}

/** What differs between the answer and the expected one, in words; null where nothing does. */
function difference(oracle: Oracle, got: Answer, wanted: Answer, sweep: boolean): string | null {
	if (got.status !== wanted.status) return `status ${got.status}, expected ${wanted.status}`;
	if (JSON.stringify(got.tied) !== JSON.stringify(wanted.tied)) return `tied ${got.tied}, expected ${wanted.tied}`;
	if (got.selected.length !== wanted.selected.length)
		return `${got.selected.length} selected, expected ${wanted.selected.length}`;
	for (const [i, s] of got.selected.entries()) {
		const other = wanted.selected[i] as Selected;
		if (selectedDiffers(oracle, s, other, sweep))
			return `selected ${JSON.stringify(s)}, expected ${JSON.stringify(other)}`;
	}
	for (const [i, v] of got.verdicts.entries()) {
		const other = wanted.verdicts[i] as Verdict;
		if (verdictDiffers(v, other)) return `verdict ${JSON.stringify(v)}, expected ${JSON.stringify(other)}`;
	}
	const notes = (a: Answer): string[] =>
		a.notes.map((n) => JSON.stringify(n.code === 'out-of-reach' ? { ...n, speed: n.speed.toPrecision(9) } : n));
	return sameSet(notes(got), notes(wanted)) ? null : `notes ${notes(got)}, expected ${notes(wanted)}`;
}

/** The oracle finds the contact of a sweep to few digits: the point must lie on both, and no farther from the middle than the oracle's. */
function contactDiffers(oracle: Oracle, query: Query, got: Answer, wanted: Answer): string | null {
	for (const [i, s] of got.selected.entries()) {
		if (s.distance === 0) {
			if (!nearPoint(s.point, wanted.selected[i]?.point ?? null, 1e-6))
				return `starts at ${s.point}, expected ${wanted.selected[i]?.point}`;
			continue;
		}
		const off = oracle.contactOff(query, s);
		// The oracle's own figure at a cylinder's rim is no better than this.
		if (off > 5e-6) return `contact ${s.point} of ${s.object} lies ${off} m off`;
		const other = wanted.selected[i] as Selected;
		const [a, b] = [oracle.fromMiddle(query, s), oracle.fromMiddle(query, other)];
		if (a > b + 0.02 && oracle.contactOff(query, other) < 1e-5)
			return `contact ${s.point} of ${s.object} lies ${a} m from the middle, expected ${b}`;
	}
	return null;
}

/** @returns how many answers were compared and what was wrong with them */
export function compare(
	seeds: number[],
	recipe: Parameters<typeof randomProject>[1] = {},
): { compared: number; wrong: string[] } {
	const wrong: string[] = [];
	let compared = 0;
	for (const seed of seeds) {
		const project = randomProject(seed, recipe);
		for (const moment of [null, ...(project.moments ?? []).map((m) => m.id)]) {
			const answerer = new Answerer(buildWorld(project, moment));
			const oracle = new Oracle(project, moment);
			for (const query of answerer.world.queries) {
				const wanted = oracle.answer(query);
				if (wanted.edge < 2e-5) continue;
				compared++;
				const got = answerer.explain(query);
				const found =
					difference(oracle, got, wanted.answer, query.kind === 'sweep') ??
					(query.kind === 'sweep' ? contactDiffers(oracle, query, got, wanted.answer) : null);
				if (found)
					wrong.push(`seed ${seed}, ${moment ?? 'start'}, ${query.id} (${project.scene.kind} ${query.kind}): ${found}`);
			}
		}
	}
	return { compared, wrong };
}

const from = Number(process.env.ORACLE_FROM ?? 1);
const count = Number(process.env.ORACLE_COUNT ?? runs(150));

describe('an answer worked out a second time', () => {
	const seeds = Array.from({ length: count }, (_, i) => from + i);

	it('is the same, in every part', () => {
		const { compared, wrong } = compare(seeds);
		expect(wrong).toEqual([]);
		expect(compared).toBeGreaterThan(4 * count);
	});

	it('is the same where things are thrown, and seen by their marks', () => {
		const { compared, wrong } = compare(seeds, { thrown: true });
		expect(wrong).toEqual([]);
		expect(compared).toBeGreaterThan(3 * count);
	});

	it('is the same where things are thrown on a grid', () => {
		const { compared, wrong } = compare(seeds, { thrown: true, grid: true });
		expect(wrong).toEqual([]);
		expect(compared).toBeGreaterThan(2 * count);
	});

	it('is the same on a grid, where faces touch and distances are equal', () => {
		const { compared, wrong } = compare(seeds, { grid: true });
		expect(wrong).toEqual([]);
		expect(compared).toBeGreaterThan(4 * count);
	});
});
