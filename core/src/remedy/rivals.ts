/** What may be tried against what stands in the way: a blocker, or what is chosen instead. */
import type { Shape } from '../project/schema';
import { rulesOf } from '../query/choose';
import { leftOverOf } from '../world/left-over';
import { type Candidate, type Case, layersOf, looking, plain } from './candidate';
import { onObject, onQuery, ontoLayer } from './change';
import { likesOf, looksOnLayer } from './likes';
import { moved } from './moves';

/** Of an object of which too few marks are seen, but some. */
export function enoughMarks({ query, verdict }: Case): Candidate[] {
	const seen = verdict?.seen ?? 0;
	if (query.sight?.to !== 'marks' || seen === 0) return [];
	return [
		plain(
			'marks',
			seen === 1 ? 'Let one mark seen be enough' : `Let ${seen} marks seen be enough`,
			onQuery(query.id, (q) => ({ sight: { ...q.sight, least: seen } })),
		),
	];
}

/** Of an object that is hidden. */
export function* unblocking(c: Case): Generator<Candidate> {
	const { query, world, verdict, naming, project } = c;
	const blocker = world.objectById.get(verdict?.by ?? '');
	if (!blocker) return;
	const name = naming('object', blocker.id);
	const blockers = query.sight?.blockers;
	const stopping = project.scene.layers.map((l) => l.id).filter((id) => blockers === 'all' || blockers?.includes(id));
	const own = layersOf(blocker).filter((l) => stopping.includes(l));
	const out: Candidate[] = [];
	const left = stopping.filter((l) => !own.includes(l));
	out.push(
		plain(
			'drop-blocker',
			`Let ${own.map((l) => naming('layer', l)).join(', ')} stop it no longer`,
			onQuery(query.id, (q) => ({
				sight: left.length > 0 ? { ...q.sight, blockers: left } : undefined,
			})),
		),
		plain(
			'make-sensor',
			`Make ${name} a sensor`,
			onObject(blocker.id, (o) => ({ shapes: o.shapes?.map((s) => ({ ...s, role: 'sensor' as const })) })),
		),
	);
	const leftOver = leftOverOf(world, blocker)?.shape;
	const solid = (blocker.def.shapes ?? []).filter((s) => s.role !== 'sensor' && s.enabled !== false);
	for (const shape of solid.length > 1 ? solid : []) {
		const changing = (kind: string, words: string, change: Partial<Shape>) =>
			looking(
				shape === leftOver?.def && 'mistake',
				plain(
					kind,
					words,
					onObject(blocker.id, (o) => ({
						shapes: o.shapes?.map((s) => (s.id === shape.id ? ({ ...s, ...change } as Shape) : s)),
					})),
				),
			);
		const what = `the shape ${shape.name ?? shape.id} of ${name}`;
		if (shape === leftOver?.def) out.push(changing('disable', `Switch ${what} off`, { enabled: false }));
		out.push(changing('make-sensor', `Make ${what} a sensor`, { role: 'sensor' }));
	}
	const likes = likesOf(world, blocker);
	for (const { id } of project.scene.layers.filter((l) => !stopping.includes(l.id)))
		out.push(
			looking(
				looksOnLayer(likes, id),
				plain(
					'unblock-layer',
					`Put ${name} on layer ${naming('layer', id)}, which stops nothing here`,
					ontoLayer(blocker.id, id),
				),
			),
		);
	yield* out;
	yield* moved(c, blocker, 'move-blocker', `Move ${name} aside`);
}

/** Of one that another is chosen before, or that is tied. */
export function* preferring(c: Case): Generator<Candidate> {
	const { query, target, answer, naming, world } = c;
	const out: Candidate[] = [];
	const rules = rulesOf(query);
	const rivals = [...new Set([...answer.selected.map((s) => s.object), ...answer.tied])].filter(
		(id) => id !== target.id,
	);
	const top = Math.max(0, ...rivals.map((id) => world.objectById.get(id)?.priority ?? 0));
	const raise = onObject(target.id, () => ({ priority: top + 1 }));
	const name = naming('object', target.id);
	if (rules.some((r) => r.rule === 'priority'))
		out.push({
			kind: 'priority',
			words: `Give ${name} the priority ${top + 1}`,
			recipe: raise,
			size: top + 1 - target.priority,
			unit: 'priority',
		});
	else
		for (const [kind, by, words] of [
			['rule', [...rules, { rule: 'priority' as const }], 'at last by priority'],
			['rule', [{ rule: 'priority' as const }, ...rules], 'by priority first'],
		] as const)
			out.push(
				plain(kind, `Choose ${words}, and give ${name} the priority ${top + 1}`, (p) =>
					raise(onQuery(query.id, (q) => ({ choose: { ...q.choose, by: [...by] } }))(p)),
				),
			);
	if (!rules.some((r) => r.rule === 'listed'))
		out.push(
			plain(
				'rule',
				'Choose at last the one that is listed first',
				onQuery(query.id, (q) => ({ choose: { ...q.choose, by: [...rules, { rule: 'listed' }] } })),
			),
		);
	const mine = new Set(target.def.tags ?? []);
	for (const id of rivals) {
		const rival = world.objectById.get(id);
		if (!rival) continue;
		const tag = (rival.def.tags ?? []).find((t) => !target.tags.has(t) && !mine.has(t));
		const { none = [] } = query.selects?.tags ?? {};
		if (tag)
			out.push(
				plain(
					'forbid-tag',
					`Choose nothing with the tag ${naming('tag', tag)}`,
					onQuery(query.id, (q) => ({ selects: { ...q.selects, tags: { ...q.selects?.tags, none: [...none, tag] } } })),
				),
			);
	}
	yield* out;
	for (const id of rivals) {
		const rival = world.objectById.get(id);
		if (rival) yield* moved(c, rival, 'move-rival', `Move ${naming('object', id)} away`);
	}
}
