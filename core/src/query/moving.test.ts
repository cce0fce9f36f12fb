import { describe, expect, it } from 'vitest';
import type { SceneObject } from '../project/schema';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { buildWorld, moveObjects, withQueries } from '../world/world';
import { Answerer } from './answer';

const SEEDS = Array.from({ length: runs(60) }, (_, i) => i + 1);

describe('a world seen with other queries', () => {
	it('answers as one that is built with them, however often it is seen anew', () => {
		for (const seed of SEEDS) {
			const project = randomProject(seed);
			const other = project.queries.map((q, i) => (i % 2 === 0 ? { ...q, enabled: q.enabled === false } : q));
			let world = buildWorld(project);
			for (let i = 0; i < 5; i++) world = withQueries(world, i % 2 === 0 ? other : project.queries);
			const fresh = buildWorld({ ...project, queries: other });
			for (const q of fresh.queries)
				expect(new Answerer(world).explain(q), `seed ${seed}, ${q.id}`).toEqual(new Answerer(fresh).explain(q));
		}
	});

	it('lies on no chain of those before it', () => {
		let world = buildWorld(randomProject(3));
		for (let i = 0; i < 50; i++) world = withQueries(world, world.queries);
		expect(Object.getPrototypeOf(world)).toBe(Object.prototype);
	});
});

describe('objects that move', () => {
	it('move in every view of their world, with foci and bounds as a world built there has them', () => {
		let moved = 0;
		for (const seed of SEEDS) {
			const project = randomProject(seed);
			const d = dice(seed);
			const world = buildWorld(project);
			const face = withQueries(world, project.queries);
			const some = new Map<string, SceneObject>();
			for (const o of project.scene.objects) {
				if (!d.chance(0.5)) continue;
				const [x, y, z] = o.position ?? [0, 0, 0];
				some.set(o.id, { ...o, position: [x + d.between(-1, 1), y + d.between(-1, 1), z] });
			}
			moveObjects(face, some);
			moved += some.size;
			const fresh = buildWorld({
				...project,
				scene: { ...project.scene, objects: project.scene.objects.map((o) => some.get(o.id) ?? o) },
			});
			expect(world.foci).toEqual(fresh.foci);
			expect(face.foci).toBe(world.foci);
			for (const o of fresh.objects) expect([...world.foci.subarray(3 * o.index, 3 * o.index + 3)]).toEqual(o.focus);
			expect(world.bounds()).toEqual(fresh.bounds());
			for (const q of fresh.queries)
				expect(new Answerer(face).winner(q).selected).toEqual(new Answerer(fresh).winner(q).selected);
		}
		expect(moved).toBeGreaterThan(runs(80));
	});
});
