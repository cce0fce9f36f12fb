import { buildWorld, explain, type Project } from '@frelk/core';
import { expect, it } from 'vitest';
import quay from '../../../../../examples/harl-quay.frelk.json';
import { blockingIn, emphasesOf, type Seen } from './emphasis';

const project = quay as unknown as Project;
const world = buildWorld(project);
const seen: Seen = { cutBy: null, pointed: null, blocking: [], tint: 'layer' };
const answers = world.queries.map((q) => explain(world, q));
const answer = answers.find(
	(a) => a.status === 'selected' && a.verdicts.some((v) => v.stage === 'layer'),
) as (typeof answers)[number];
const place = (id: string) => world.objectById.get(id)?.index as number;

it('shows what is chosen, and leaves faint what the filters left out', () => {
	const list = emphasesOf(world, answer, seen);
	expect(list[place(answer.selected[0]?.through ?? (answer.selected[0]?.object as string))]).toBe('chosen');
	for (const [i, v] of answer.verdicts.entries()) if (v.stage === 'layer') expect(list[i]).toBe('faint');
});

it('does not leave faint what stops the query, unless verdicts tint the scene', () => {
	const blocking = world.objects.map(() => true);
	expect(emphasesOf(world, answer, { ...seen, blocking })).not.toContain('faint');
	expect(emphasesOf(world, answer, { ...seen, blocking, tint: 'verdict' })).toContain('faint');
});

it('shows the blocker of what is pointed at, and the bar that cuts the path above all', () => {
	const hidden = answers.flatMap((a) =>
		a.verdicts.filter((v) => v.stage === 'sight' && v.by !== undefined).map((v) => ({ a, v })),
	)[0];
	if (!hidden) throw new Error('nothing on the quay is out of sight');
	const { a, v } = hidden;
	const list = emphasesOf(world, a, { ...seen, pointed: v.object });
	expect(list[place(v.object)]).toBe('outranked');
	expect(list[place(v.by as string)]).toBe('cut');
	expect(emphasesOf(world, a, { ...seen, pointed: v.object, cutBy: v.object })[place(v.object)]).toBe('cut');
});

it('draws all alike where no query is in hand, or it is off', () => {
	expect(new Set(emphasesOf(world, null, seen))).toEqual(new Set(['plain']));
});

it('knows what stops a query by the layers of its shapes', () => {
	const blocking = blockingIn(world, ['walls']);
	const walls = world.objects.filter((_, i) => blocking[i]);
	expect(walls.length).toBeGreaterThan(0);
	for (const o of world.objects)
		expect(blocking[o.index], o.id).toBe(
			(o.def.shapes ?? []).some((s) => s.enabled !== false && (s.layer ?? o.def.layer) === 'walls'),
		);
	expect(blockingIn(world, 'all')).not.toContain(false);
	expect(blockingIn(world, undefined)).not.toContain(true);
});

it('shows by verdict, where one asks for it, what a query left out late', () => {
	const stages = answers.flatMap((a) =>
		emphasesOf(world, a, { ...seen, tint: 'verdict' }).map((e, i) => [a.verdicts[i]?.stage, e] as const),
	);
	const of = (stage: string) => new Set(stages.filter(([s]) => s === stage).map(([, e]) => e));
	expect(of('range')).toEqual(new Set(['short']));
	expect(of('sight')).toEqual(new Set(['cut']));
	expect(of('choice')).toEqual(new Set(['outranked']));
	expect(of('touch')).toEqual(new Set(['plain']));
});
