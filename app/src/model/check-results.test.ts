import { type CheckResult, runChecks, stillChecks } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { randomProject } from '@frelk/core/tests/project';
import { dice } from '@frelk/core/tests/random';
import { create as produce } from 'mutative';
import { describe, expect, it } from 'vitest';
import { affectedChecks } from './check-results';

const quay = () => example('harl-quay');

describe('the checks an edit can have turned', () => {
	it('are all after an edit of the scene, and none after a new name of the project', () => {
		const p = quay();
		const moved = produce(p, (d) => void (d.scene.objects[1]!.position = [9, 0, 9]));
		expect(affectedChecks(p, moved).size).toBe(stillChecks(p).length);
		expect(affectedChecks(null, p).size).toBe(stillChecks(p).length);
		expect(
			affectedChecks(
				p,
				produce(p, (d) => void (d.name = 'Harl')),
			).size,
		).toBe(0);
	});

	it('are those of a changed query and of what starts at its hit, and those at a changed moment and on it', () => {
		const p = quay();
		const picked = produce(p, (d) => {
			const q = d.queries.find((entry) => entry.id === 'harbour-pick');
			if (q?.kind === 'pick') q.cursor = [3, 3];
		});
		const chained = p.queries.filter((q) => JSON.stringify(q).includes('"hitOf":"harbour-pick"')).map((q) => q.id);
		expect(chained.length).toBeGreaterThan(0);
		const wanted = stillChecks(p)
			.filter((c) => c.query === 'harbour-pick' || chained.includes(c.query))
			.map((c) => c.id);
		expect([...affectedChecks(p, picked)]).toEqual(expect.arrayContaining(wanted));
		expect(affectedChecks(p, picked).size).toBeLessThan(p.checks?.length ?? 0);
		const base = p.moments?.find((m) => p.moments?.some((o) => o.on === m.id))?.id ?? '';
		const above = (p.moments ?? []).filter((m) => m.on === base).map((m) => m.id);
		const changed = produce(p, (d) => void (d.moments!.find((m) => m.id === base)!.states = { 'tide-high': true }));
		const at = stillChecks(p)
			.filter((c) => c.moment === base || above.includes(c.moment ?? ''))
			.map((c) => c.id);
		expect([...affectedChecks(p, changed)].sort()).toEqual(at.sort());
	});

	it('leave out none whose outcome changes, in any project', () => {
		for (let seed = 0; seed < 60; seed++) {
			const d = dice(seed);
			let p = randomProject(seed);
			// One check for each query at each moment, whatever it answers.
			p = {
				...p,
				checks: p.queries.flatMap((q) =>
					[undefined, ...(p.moments ?? []).map((m) => m.id)].map((moment, i) => ({
						id: `${q.id}-${i}`.slice(0, 60),
						query: q.id,
						...(moment ? { moment } : {}),
						expect: { none: true as const },
					})),
				),
			};
			const next = produce(p, (draft) => {
				const query = draft.queries[d.whole(0, Math.max(0, draft.queries.length - 1))];
				const moment = draft.moments?.[0];
				if (d.chance(0.4) && query) query.enabled = false;
				else if (d.chance(0.5) && moment && draft.scene.objects[0])
					moment.objects = { ...moment.objects, [draft.scene.objects[0].id]: { active: false } };
				else for (const q of draft.queries) if (q.kind === 'pick') q.cursor = [d.between(0, 300), 50];
			});
			const affected = affectedChecks(p, next);
			const told = (r: CheckResult) => `${r.got.status} ${r.got.selected.map((s) => s.object)} ${r.got.tied}`;
			const was = new Map(runChecks(p).map((r) => [r.id, told(r)]));
			for (const r of runChecks(next)) if (was.get(r.id) !== told(r)) expect(affected.has(r.id)).toBe(true);
		}
	});
});
