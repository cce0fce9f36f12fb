import { describe, expect, it } from 'vitest';
import { stillChecks } from '../project/check-kinds';
import { checkProject } from '../project/read';
import { repairProject } from '../project/repair';
import type { Project, Query } from '../project/schema';
import { Answerer } from '../query/answer';
import { csvReport, markdownReport } from '../report/files';
import { htmlReport } from '../report/page';
import { example } from '../tests/examples';
import { box, object, project } from '../tests/scene';
import { buildWorld, moveObjects } from '../world/world';
import { failureOf, runChecks } from './check';
import { expectationOf, updatedExpectation } from './expect';
import { leastChanges, robustnessOf } from './robustness';
import { answersAt, changesBetween } from './survey';

/** A lone box 2 m ahead, half a metre to either side, and a pick straight at it. */
function lone(): Project {
	return {
		format: 'frelk/1',
		id: 'lone',
		name: 'Lone',
		scene: {
			kind: 'space',
			layers: [{ id: 'l' }],
			tags: [],
			objects: [
				{ id: 'me', layer: 'l', position: [0, 0, 0] },
				{ id: 'box', layer: 'l', position: [0, 0, -2.5], shapes: [{ id: 's', kind: 'box', size: [1, 1, 1] }] },
			],
			cameras: [{ id: 'cam', object: 'me', position: [0, 0, 0], projection: 'perspective', fov: 90 }],
		},
		queries: [
			{ id: 'pick', kind: 'pick', camera: 'cam', viewport: [400, 400], asker: 'me' },
			{ id: 'ray', kind: 'ray', from: { object: 'me' }, aim: { along: [0, 0, -1] }, length: 10, asker: 'me' },
		],
		checks: [
			{ id: 'a', query: 'pick', expect: { selects: ['box'] } },
			{ id: 'b', query: 'ray', expect: { selects: ['box'] } },
			{ id: 'c', query: 'ray', expect: { none: true } },
		],
	};
}

describe('robustness', () => {
	it('finds the least perturbation of cursor, aim and asker', () => {
		// The face spans ±0.5 at 2 m: 50 px of the 200 to the edge, 14.04°; the asker leaves it by 0.5 m sideways.
		const pick = robustnessOf(lone(), 'a');
		const cursor = pick.margins.find((f) => f.perturbation === 'cursor');
		expect(cursor?.least).toBeGreaterThan(49.9);
		expect(cursor?.least).toBeLessThan(51);
		expect(cursor?.becomes?.status).toBe('none');
		const asker = pick.margins.find((f) => f.perturbation === 'asker');
		expect(asker?.least).toBeGreaterThan(0.499);
		expect(asker?.least).toBeLessThan(0.51);
		expect(Math.abs(asker?.way[0] ?? 0)).toBeCloseTo(1, 6);
		const aim = robustnessOf(lone(), 'b').margins.find((f) => f.perturbation === 'aim');
		expect(aim?.least).toBeGreaterThan(14.0);
		expect(aim?.least).toBeLessThan(14.3);
		expect(pick.score).toBeCloseTo(5, 0);
	});

	it('is nought for a check that fails, and leaves the project as it was', () => {
		const p = lone();
		const before = JSON.stringify(p);
		expect(robustnessOf(p, 'c')).toMatchObject({ score: 0, margins: [] });
		expect(JSON.stringify(p)).toBe(before);
		expect(() => robustnessOf(p, 'nothing')).toThrow('no check');
	});

	it('of every check of the examples is a perturbation after which it fails, and half of it keeps it', () => {
		const p = example('pursers-desk');
		for (const check of stillChecks(p)) {
			const found = robustnessOf(p, check.id);
			for (const f of found.margins) {
				if (f.least === null) continue;
				expect(f.becomes && failureOf(check.expect, f.becomes)).not.toBe('');
			}
		}
	});
});

describe('what would change an answer with the least', () => {
	const wide = project(
		[object('a', [0, 0, -5], [box([2, 2, 1])]), object('b', [1.6, 0, -5], [box([1, 2, 1])])],
		[{ id: 'q', kind: 'pick', camera: 'eye', viewport: [800, 600] } as Query],
	);

	it('is told with what it makes of the answer, the likeliest first, and comes true', () => {
		// At 4.5 m, 45° about the middle: 300 px are 4.5 m, so the edge at 1 m is 66.7 px away; up and left the box ends there too.
		const [cursor, ...more] = leastChanges(wide, 'q', null);
		expect(more).toEqual([]);
		expect(cursor?.perturbation).toBe('cursor');
		expect(cursor?.least).toBeCloseTo(66.7, 0);
		for (const change of leastChanges(wide, 'q', null)) {
			if (!('query' in change.makes)) throw new Error('no query');
			const after = { ...wide, queries: [change.makes.query] };
			const answer = new Answerer(buildWorld(after)).winner(change.makes.query);
			expect(answer.selected.map((s) => s.object)).toEqual(change.becomes.selected.map((s) => s.object));
			expect(answer.selected[0]?.object).not.toBe('a');
		}
	});

	it('of every answer of an example comes true, in the order of what a hand does unmeant', () => {
		const p = example('harl-quay');
		let tried = 0;
		for (const query of p.queries)
			for (const moment of [null, 'booth-shut']) {
				const world = buildWorld(p, moment);
				const before = new Answerer(world).winner(world.queryById.get(query.id) as Query);
				const changes = leastChanges(p, query.id, moment);
				const usual = { cursor: 10, aim: 1, asker: 0.1 };
				const order = changes.map((c) => c.least / usual[c.perturbation]);
				expect(order).toEqual([...order].sort((a, b) => a - b));
				for (const { makes, becomes } of changes) {
					tried++;
					if ('asker' in makes) moveObjects(world, new Map([[makes.asker.id, makes.asker]]));
					const asked = 'query' in makes ? makes.query : (world.queryById.get(query.id) as Query);
					const answer = new Answerer(world).winner(asked);
					expect([answer.status, answer.selected.map((s) => s.object), answer.tied]).toEqual([
						becomes.status,
						becomes.selected.map((s) => s.object),
						becomes.tied,
					]);
					const kept = expectationOf(before);
					expect(kept && failureOf(kept, answer)).not.toBe('');
					if ('asker' in makes) {
						const own = buildWorld(p, moment).objectById.get(makes.asker.id)?.def;
						if (own) moveObjects(world, new Map([[own.id, own]]));
					}
				}
			}
		expect(tried).toBeGreaterThan(8);
		expect(() => leastChanges(p, 'nowhere', null)).toThrow('no query "nowhere"');
	});
});

describe('answers kept, updated and compared', () => {
	it('an updated check holds, with the conditions that still do', () => {
		const p = example('harl-quay');
		const crank = p.scene.objects.find((o) => o.id === 'crank');
		if (crank) crank.position = [3, 0, 2.2];
		const failing = runChecks(p).filter((r) => !r.pass);
		expect(failing.length).toBeGreaterThan(0);
		for (const r of failing) {
			const check = stillChecks(p).find((c) => c.id === r.id);
			if (!check) continue;
			const next = updatedExpectation(check, r.got);
			if (r.got.status === 'waiting') expect(next).toBeNull();
			else expect(next && failureOf(next, r.got)).toBe('');
			if (next) check.expect = next;
		}
		expect(checkProject(p).ok).toBe(true);
		expect(runChecks(p).filter((r) => !r.pass && r.got.status !== 'waiting')).toEqual([]);
		expect(
			expectationOf({ query: 'q', status: 'waiting', selected: [], tied: [], notes: [], verdicts: [] }),
		).toBeNull();
	});

	it('two versions differ in the answers that changed and in no other', () => {
		const p = example('harl-quay');
		const before = answersAt(p);
		expect(before).toHaveLength(p.queries.length * ((p.moments?.length ?? 0) + 1));
		expect(changesBetween(before, answersAt(p))).toEqual([]);
		const crank = p.scene.objects.find((o) => o.id === 'crank');
		if (crank) crank.active = false;
		const changes = changesBetween(before, answersAt(p));
		expect(changes.length).toBeGreaterThan(0);
		for (const c of changes) expect(c.before?.objects.join()).not.toBe(c.after?.objects.join());
		p.queries = p.queries.filter((q) => q.id !== 'gaze');
		expect(changesBetween(before, answersAt(p)).some((c) => c.query === 'gaze' && c.after === null)).toBe(true);
	});
});

it('checks run briefly come out as those run in full', () => {
	for (const name of ['harl-quay', 'harl-quay-before', 'pursers-desk', 'deck-from-above']) {
		const p = example(name);
		const full = runChecks(p);
		const brief = runChecks(p, stillChecks(p), () => {}, true);
		expect(brief.map((r) => [r.id, r.pass, r.reason])).toEqual(full.map((r) => [r.id, r.pass, r.reason]));
		for (const [i, r] of brief.entries()) if (!r.pass) expect(r.got).toEqual(full[i]?.got);
	}
});

describe('repair', () => {
	it('leaves out the checks and overlays that name what is gone, and nothing else', () => {
		const p = example('harl-quay');
		const total = p.checks?.length ?? 0;
		const text = JSON.stringify({
			...p,
			checks: [...(p.checks ?? []), { id: 'ghost', query: 'gaze', expect: { selects: ['nobody'] } }],
		});
		const repair = repairProject(text);
		expect(repair?.removed).toEqual(['the check ghost']);
		expect(repair?.project.checks).toHaveLength(total);
		const moment = { id: 'm9', on: 'nowhere', objects: { nobody: { active: false } } };
		expect(repairProject(JSON.stringify({ ...p, moments: [...(p.moments ?? []), moment] }))?.removed).toEqual([
			'what the moment m9 is on',
			'what the moment m9 does to nobody',
		]);
		expect(repairProject(JSON.stringify(p))).toBeNull();
		expect(repairProject('{')).toBeNull();
		expect(repairProject(JSON.stringify({ ...p, name: 3 }))).toBeNull();
	});
});

describe('reports', () => {
	const p = example('harl-quay');
	const crank = p.scene.objects.find((o) => o.id === 'crank');
	if (crank) crank.position = [3, 0, 2.2];
	const checks = runChecks(p);
	const failing = checks.filter((c) => !c.pass);

	it('as CSV have one line a check, quoted where needed', () => {
		const lines = csvReport([{ project: p.id, checks }]).split('\r\n');
		expect(lines).toHaveLength(checks.length + 2);
		expect(lines[0]).toBe('project,check,query,moment,outcome,wanted,got,reason');
		const odd = csvReport([
			{ project: '=1+1', checks: [{ ...(checks[0] as (typeof checks)[0]), reason: 'a "b", c' }] },
		]);
		expect(odd).toContain("'=1+1");
		expect(odd).toContain('"a ""b"", c"');
	});

	it('as Markdown name what fails and why', () => {
		const text = markdownReport([{ project: p.id, checks }]);
		expect(text).toContain(`## harl-quay: ${checks.length - failing.length} of ${checks.length} checks hold`);
		expect(text.split('\n').filter((l) => l.startsWith('| ')).length).toBe(failing.length + 1);
	});

	it('as a page carry a picture of each failing case and no outside address', () => {
		const page = htmlReport({ ...p, name: 'Quay <b>' }, checks);
		// A plan and a section each.
		expect(page.match(/<svg/g)).toHaveLength(2 * failing.length);
		expect(page).not.toMatch(/https?:|<script|src=/);
		expect(page).toContain('Quay &lt;b&gt;');
	});
});
