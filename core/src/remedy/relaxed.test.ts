/** Who is selected among all others is selected alone: the small world never says no where the whole one says yes. */

import { expect, it } from 'vitest';
import { takeOf } from '../project/defaults';
import type { Query } from '../project/schema';
import { Answerer } from '../query/answer';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { ahead, box, object, project } from '../tests/scene';
import { buildWorld, moveObjects, type World } from '../world/world';
import type { Case } from './candidate';
import { Relaxed } from './relaxed';

function caseOf(p: ReturnType<typeof randomProject>, at: number, moment: string | null, id: string): Case {
	const world = buildWorld(p, moment);
	const query = world.queries[at % world.queries.length];
	const target = world.objectById.get(id);
	if (!query || !target) throw new Error('no such thing');
	const isWell = (at: World, asked: Query) => {
		const { status, selected } = new Answerer(at).winner(asked);
		const has = selected.some((s) => s.object === id);
		return takeOf(query) === 1 ? status === 'selected' && has && selected.length === 1 : has;
	};
	const answer = new Answerer(world).explain(query);
	return {
		project: p,
		moment,
		world,
		query,
		target,
		subject: target,
		verdict: null,
		answer,
		wish: 'select',
		naming: (_, x) => x,
		isWell,
	};
}

it('wherever it is moved', () => {
	let well = 0;
	let not = 0;
	for (let seed = 1; seed <= 60; seed++) {
		const d = dice(seed);
		const [p, by] = [randomProject(seed, { objects: 6, queries: 3 }), d.between(-4, 4)];
		const moments = [null, ...(p.moments ?? []).map((m) => m.id)];
		for (const o of p.scene.objects) {
			const c = caseOf(p, seed, d.of(moments), o.id);
			const [x, y, z] = c.target.def.position ?? [0, 0, 0];
			for (const position of [
				[x, y, z],
				[x + by, y, z],
				[x, y + by, z - by],
			] as [number, number, number][]) {
				const def = { ...c.target.def, position };
				moveObjects(c.world, new Map([[o.id, def]]));
				const is = c.isWell(c.world, c.query);
				const may = new Relaxed(c).mayBe(o.id, def);
				if (is) expect(may, `seed ${seed}, ${o.id}`).toBe(true);
				if (is) well++;
				if (!may) not++;
			}
		}
	}
	expect(well).toBeGreaterThan(0);
	expect(not).toBeGreaterThan(well);
});

it('says no where the subject cannot be met, and asks the whole world of what it does not hold', () => {
	const scene = [object('x', [2, 0, -5], [box([1, 1, 1])]), object('wall', [0, 0, -2], [box([1, 1, 1])])];
	const c = caseOf(project(scene, [ahead()]), 0, null, 'x');
	const at = (x: number) => ({ ...c.target.def, position: [x, 0, -5] as [number, number, number] });
	const alone = new Relaxed(c);
	expect(alone.mayBe('x', at(0.51))).toBe(false);
	// Behind the wall, but alone there is no wall.
	expect(alone.mayBe('x', at(0.49))).toBe(true);
	expect(alone.mayBe('wall', { ...c.target.def, id: 'wall' })).toBe(true);
	expect(new Relaxed({ ...c, wish: 'leave' }).mayBe('x', at(3))).toBe(true);
});
