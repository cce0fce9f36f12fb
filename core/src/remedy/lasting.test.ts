/** Checks of runs and maps that a remedy turns or mends: by hand, and as a full judgement before and after tells. */
import { applyPatch } from 'fast-json-patch';
import { expect, it } from 'vitest';
import { checkMaps } from '../map/memory';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { checkRuns } from '../run/check';
import { example } from '../tests/examples';
import { ahead, box, object, project } from '../tests/scene';
import { LastingChecks } from './lasting';
import { type Remedy, remediesFor } from './remedy';

/** A cube ahead and one aside, two rays ahead, and a run and a map of the first of them. */
function standing(more: Partial<Project> = {}): Project {
	const p = project(
		[object('x', [0, 0, -5], [box([1, 1, 1])]), object('y', [3, 0, -5], [box([1, 1, 1])])],
		[ahead(), { ...ahead(), id: 'other' }],
	);
	const reading = checkProject({
		...JSON.parse(JSON.stringify(p)),
		moments: [
			{ id: 'base', objects: { x: { position: [0, 0, -4] } } },
			{ id: 'late', on: 'base' },
			{ id: 'aside', objects: { x: { position: [0, 0, -6] } } },
		],
		runs: [{ id: 'r', duration: 0, step: 1, watch: [{ query: 'q' }], moment: 'late' }],
		maps: [{ id: 'm', query: 'q', kind: 'aim', yaw: [0, 0], pitch: [0, 0], every: 1 }],
		checks: [
			{ id: 'sees', run: 'r', watch: 'q', expect: { at: 0, selects: ['x'] } },
			{ id: 'never-y', map: 'm', expect: { never: ['y'] } },
			{ id: 'off', map: 'm', expect: { object: 'x', share: { min: 1 } }, extras: { off: true } },
		],
		...more,
	});
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
}

const withObject = (p: Project, id: string, change: object): Project => ({
	...p,
	scene: { ...p.scene, objects: p.scene.objects.map((o) => (o.id === id ? { ...o, ...change } : o)) },
});
const withQuery = (p: Project, id: string, change: object): Project => ({
	...p,
	queries: p.queries.map((q) => (q.id === id ? { ...q, ...change } : q)) as Project['queries'],
});

it('a change turns what stands on it, by scene, query and moment, and nothing that is switched off', () => {
	const p = standing();
	const checks = new LastingChecks(p);
	const none = { turns: [], mends: [] };
	expect(checks.turned(withObject(p, 'y', { position: [0, 0, -2] }))).toEqual({
		turns: ['sees', 'never-y'],
		mends: [],
	});
	// The run stands at a moment that has x elsewhere, so only the map sees where it is in the scene, and wants no more than not y.
	expect(checks.turned(withObject(p, 'x', { position: [0, 3, -5] }))).toEqual(none);
	expect(checks.turned(withQuery(p, 'q', { ignore: ['x'] }))).toEqual({ turns: ['sees'], mends: [] });
	expect(checks.turned(withQuery(p, 'other', { ignore: ['x'] }))).toEqual(none);
	const moments = (id: string, position: number[]) => ({
		...p,
		moments: p.moments?.map((m) => (m.id === id ? { ...m, objects: { x: { position } } } : m)),
	});
	expect(checks.turned(moments('late', [0, 3, -4]) as Project)).toEqual({ turns: ['sees'], mends: [] });
	// What a moment stands on counts as the moment does; another moment does not.
	expect(checks.turned(moments('base', [0, 3, -4]) as Project)).toEqual({ turns: ['sees'], mends: [] });
	expect(checks.turned(moments('aside', [0, 3, -4]) as Project)).toEqual(none);
	expect(checks.turned({ ...p, queries: [...p.queries] })).toEqual(none);
});

it('a change mends what did not hold', () => {
	const p = standing();
	const broken = withQuery(p, 'q', { ignore: ['x'] });
	expect(new LastingChecks(broken).turned(withQuery(broken, 'q', { ignore: [] }))).toEqual({
		turns: [],
		mends: ['sees'],
	});
});

it('remedies tell them, and those that turn none come first', () => {
	const { remedies } = remediesFor(standing(), { query: 'q', object: 'y' });
	const of = (kind: string) => remedies.filter((r) => r.kind === kind);
	expect(of('move-object').length).toBeGreaterThan(0);
	// A map of all directions finds it wherever the query itself is aimed.
	for (const r of remedies.filter((r) => r.kind !== 'turn-aim'))
		expect(r.turns, r.words).toEqual(expect.arrayContaining(['never-y']));
	// Of a query that no run and no map asks: what is changed in it alone turns nothing, what is moved for it turns both.
	const p = withObject(standing(), 'y', { position: [0, 0, -3], layer: 'b' });
	const other = withQuery(p, 'other', { selects: { layers: ['b'] }, range: { max: 1 } });
	const found = remediesFor(withQuery(other, 'q', { selects: { layers: ['a'] } }), { query: 'other', object: 'y' });
	const turns = found.remedies.map((r) => r.turns.length);
	expect(found.remedies[0]).toMatchObject({ kind: 'range', turns: [] });
	expect(turns).toEqual([...turns].sort((one, two) => one - two));
});

it.each(['harl-quay-before', 'pursers-desk'])('in %s they are those of a full judgement before and after', (name) => {
	const p = example(name);
	const all = (of: Project) => new Map([...checkRuns(of), ...checkMaps(of)].map((r) => [r.id, r.pass]));
	const before = all(p);
	let tried = 0;
	for (const [i, query] of p.queries.entries())
		for (let k = 3 + i; k < p.scene.objects.length && tried < 6; k += 7) {
			const seen: Remedy[] = [];
			const wish = { query: query.id, object: p.scene.objects[k]?.id ?? '' };
			const { remedies } = remediesFor(p, wish, { all: (list) => seen.push(...list) });
			for (const r of remedies.slice(0, 3)) {
				tried++;
				const first = seen.find((s) => s.patch === r.patch);
				const now = all(applyPatch(JSON.parse(JSON.stringify(p)), r.patch).newDocument as Project);
				const turned = (to: boolean) => [...before].filter(([id, pass]) => pass !== to && now.get(id) === to);
				expect(r.turns).toEqual([...(first?.turns ?? ['?']), ...turned(false).map(([id]) => id)]);
				expect(r.mends).toEqual([...(first?.mends ?? ['?']), ...turned(true).map(([id]) => id)]);
			}
		}
	expect(tried).toBeGreaterThan(3);
});
