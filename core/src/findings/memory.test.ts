/** What an edit has not touched is not asked again, and what is told is the same as if all were. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { runs } from '../tests/runs';
import { FindingsMemory } from './finding';
import { findFindings } from './rules';

const copy = (p: Project): Project => JSON.parse(JSON.stringify(p));

/** @returns how many answers and maps a look at an edited project asked, and what it told; the same as without memory */
function after(p: Project, edit: (p: Project) => void, memory: FindingsMemory): number {
	const next = copy(p);
	edit(next);
	const maps = memory.maps.made;
	const told = findFindings(next, undefined, undefined, memory);
	expect(told).toEqual(findFindings(next));
	return (memory.context?.made ?? -1) + memory.maps.made - maps;
}

it('of an edit only what it touches is asked again', () => {
	const desk = example('pursers-desk');
	const memory = new FindingsMemory();
	const all = after(desk, () => {}, memory);
	const queries = desk.queries.length;
	const moments = 1 + (desk.moments?.length ?? 0);
	expect(all).toBeGreaterThanOrEqual(queries * moments);
	// Nothing that answers stand on: names, checks, what is left be.
	expect(after(desk, () => {}, memory)).toBe(0);
	expect(after(desk, (p) => void (p.name = 'Another'), memory)).toBe(0);
	expect(after(desk, (p) => void (p.checks = []), memory)).toBe(0);
	// One query: no more than its own answers and what is asked about it.
	const one = after(desk, (p) => void (p.queries[0].name = 'Another'), memory);
	expect(one).toBeGreaterThanOrEqual(moments);
	expect(one).toBeLessThan(all / 2);
	// The scene: everything.
	expect(after(desk, (p) => void (p.scene.objects[0].position = [0.01, 0, 0]), memory)).toBe(all);
});

it('a moment that is edited is asked again, with those on it, and no other', () => {
	const p = copy(example('pursers-desk'));
	p.maps = [];
	p.checks = [];
	p.moments = [{ id: 'under' }, { id: 'over', on: 'under' }, { id: 'beside' }];
	for (const query of p.queries)
		Object.assign(query, { choose: {}, ignore: undefined, outcomes: undefined, sight: undefined });
	expect(checkProject(copy(p)).ok).toBe(true);
	const memory = new FindingsMemory();
	after(p, () => {}, memory);
	const id = p.scene.objects[0].id;
	const edited = (at: number) => (next: Project) =>
		void Object.assign(next.moments?.[at] ?? {}, { objects: { [id]: { active: false } } });
	const answers = p.queries.length;
	expect(after(p, edited(2), memory)).toBe(answers);
	after(p, () => {}, memory);
	expect(after(p, edited(0), memory)).toBe(2 * answers);
	after(p, () => {}, memory);
	expect(after(p, edited(1), memory)).toBe(answers);
});

it('whatever is edited, the same is told as without memory', () => {
	fc.assert(
		fc.property(
			fc.integer({ min: 0, max: 1e6 }),
			fc.array(fc.nat(5), { minLength: 1, maxLength: 5 }),
			(seed, edits) => {
				const memory = new FindingsMemory();
				const p = randomProject(seed, { objects: 5, queries: 3 });
				findFindings(p, undefined, undefined, memory);
				for (const kind of edits) {
					const query = p.queries[seed % p.queries.length];
					const object = p.scene.objects[(seed + kind) % p.scene.objects.length];
					if (kind === 0) query.name = `n${seed}`;
					if (kind === 1) query.ignore = [object.id];
					if (kind === 2) object.position = [0.5, 0, seed % 3];
					if (kind === 3) p.moments = (p.moments ?? []).slice(1);
					if (kind === 4) p.queries = [...p.queries].reverse();
					if (kind === 5) p.queries.length > 1 && p.queries.pop();
					const next = copy(p);
					// What stood on a moment that was taken out is no project any more.
					if (checkProject(copy(p)).ok)
						expect(findFindings(next, undefined, undefined, memory)).toEqual(findFindings(next));
				}
			},
		),
		{ numRuns: runs(20) },
	);
});
