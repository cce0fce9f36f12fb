/** A scene and its mirror image have the same answers; rays asked in bulk have those of rays asked one by one. */
import { describe, expect, it } from 'vitest';
import type { Project } from '../project/schema';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { filtersOf } from './filters';
import { NOTHING, OTHER, prepareRay, RayWinner, TIED } from './ray-winner';
import type { Answer } from './types';

const POINTS = new Set(['position', 'at', 'offset', 'focus', 'point', 'along', 'from']);

/** Everything with an X turned round; a rotation keeps its pitch. `from` is a point only where it is a list. */
function mirrored(value: unknown, key = ''): unknown {
	if (Array.isArray(value)) {
		if (key === 'rotation') return [-value[0], value[1], -value[2]];
		if (POINTS.has(key) && value.length === 3) return [-value[0], value[1], value[2]];
		if (key === 'points') return (value as number[][]).map(([x, y, z]) => [-x, y, z]);
		if (key === 'vertices') return (value as number[]).map((v, i) => (i % 3 === 0 ? -v : v));
		return value.map((v) => mirrored(v));
	}
	if (typeof value !== 'object' || value === null) return value;
	return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, mirrored(v, k)]));
}

const gist = (a: Answer) => [
	a.status,
	a.selected.map((s) => [s.object, s.shape, s.box]),
	a.tied,
	a.verdicts.map((v) => [v.object, v.stage, v.by]),
];
const onTheEdge = (a: Answer) =>
	a.verdicts.some((v) => v.margin !== undefined && v.margin < 2e-5) || a.status === 'tie' || a.notes.length > 0;

describe('a mirrored scene', () => {
	it('has the same answers', () => {
		let compared = 0;
		for (let seed = 1; seed <= runs(300); seed++) {
			const project = randomProject(seed, { flat: false });
			const image = mirrored(project) as Project;
			for (const q of image.queries)
				if (q.kind === 'pick' && q.cursor) q.cursor = [q.viewport[0] - q.cursor[0], q.cursor[1]];
			const [a, b] = [project, image].map((p) => {
				const answerer = new Answerer(buildWorld(p));
				return answerer.world.queries.map((q) => answerer.explain(q));
			}) as [Answer[], Answer[]];
			a.forEach((answer, i) => {
				const other = b[i] as Answer;
				if (onTheEdge(answer) || onTheEdge(other)) return;
				compared++;
				expect(gist(other), `seed ${seed} ${answer.query}`).toEqual(gist(answer));
			});
		}
		expect(compared).toBeGreaterThan(runs(400));
	});
});

describe('rays asked in bulk', () => {
	it('have the winners of the ordinary stages', () => {
		let cast = 0;
		const outcomes = new Set<string>();
		for (let seed = 1; seed <= runs(250); seed++) {
			const project = randomProject(seed, { flat: false, standIns: seed % 3 === 0, objects: 14 });
			// A twin in the same place: what hits the one hits the other.
			const model = project.scene.objects.find((o) => (o.shapes ?? []).length > 0 && o.standsFor === undefined);
			if (model) project.scene.objects.push({ ...model, id: 'twin' });
			const world = buildWorld(project);
			const d = dice(seed);
			for (const query of world.queries) {
				if (query.kind !== 'ray' && query.kind !== 'pick') continue;
				const ray = prepareRay(world, query);
				const plain = new RayWinner(world, query, null);
				const filters = filtersOf(world, query);
				const rays = new Float64Array(7);
				for (let i = 0; i < 12; i++) {
					const start: [number, number, number] = [d.between(-4, 4), d.between(-4, 4), d.between(-4, 4)];
					const dir = d.direction();
					const length = d.between(1, 12);
					rays.set([...start, ...dir, length]);
					const got = ray.cast(rays, 0);
					// Where no code can be compiled.
					expect([plain.cast(rays, 0), plain.distance]).toEqual([got, ray.distance]);
					const answer = new Answerer(world).along(query, start, dir, length, filters);
					cast++;
					outcomes.add(got >= 0 ? 'object' : String(got));
					const label = `seed ${seed} ${query.id} ray ${i}`;
					if (answer.status === 'tie') expect(got, label).toBe(TIED);
					else if (answer.status === 'none') expect(got, label).toBe(NOTHING);
					else if (answer.status !== 'selected' || answer.selected.length > 1) expect(got, label).toBe(OTHER);
					else {
						expect(world.objects[got]?.answersFor.id, label).toBe(answer.selected[0]?.object);
						expect(ray.distance, label).toBeCloseTo(answer.selected[0]?.distance ?? 0, 12);
					}
				}
			}
		}
		expect(cast).toBeGreaterThan(runs(3000));
		expect(outcomes).toContain('object');
		expect(outcomes).toContain(String(NOTHING));
		// A tie is rare.
		if (runs(250) === 250) expect(outcomes).toContain(String(TIED));
	});
});
