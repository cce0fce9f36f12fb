/**
 * What may be tried for an object that fell at a stage (contract §14): one candidate a change. Each is only worth what trying it shows:
 * nothing here says that it helps.
 */
import { unturned } from '../geometry/matrix';
import { rounded } from '../project/rounding';
import type { Condition, Project, Query, SceneObject, Shape, StateValue, Vec3 } from '../project/schema';
import { Answerer } from '../query/answer';
import { rulesOf } from '../query/choose';
import { isNote, placementOf } from '../query/placement';
import type { Answer, Verdict } from '../query/types';
import { degrees, metres, type Naming, wordsOfCondition } from '../query/words';
import { hangsUnder, moveObjects, type World, type WorldObject } from '../world/world';
import { onObject, onQuery, onStates, type Recipe } from './change';
import { leastAlong, leastMove } from './search';

/** A change that may help. */
export interface Candidate {
	kind: string;
	words: string;
	recipe: Recipe;
	size: number;
	unit: string;
}

/** What a remedy is looked for: the query in its world, who is meant, and when it is well. */
export interface Case {
	project: Project;
	moment: string | null;
	world: World;
	query: Query;
	/** The object answered for, and the one whose verdict counts (itself, or the stand-in that came furthest). */
	target: WorldObject;
	subject: WorldObject;
	verdict: Verdict | null;
	answer: Answer;
	wish: 'select' | 'leave';
	naming: Naming;
	/** Whether an answer is what is wished. */
	isWell: (answer: Answer) => boolean;
}

const outward = (value: number, step: number): number => rounded(Math.ceil(value / step - 1e-9) * step, 6);
const plain = (kind: string, words: string, recipe: Recipe): Candidate => ({
	kind,
	words,
	recipe,
	size: 1,
	unit: 'edit',
});

/** Recipes for the same wish with a little more, where "just enough" lies on the edge. */
const steps = (value: number, step: number): number[] => [outward(value, step), outward(value + step, step)];

/** Candidates for the stage at which the subject fell. */
export function candidatesFor(c: Case): Candidate[] {
	if (c.wish === 'leave') return leaving(c);
	const { answer, verdict } = c;
	if (answer.status === 'off') return switchingOn(c);
	switch (verdict?.stage) {
		case 'inactive':
			return activating(c);
		case 'excluded':
			return including(c);
		case 'layer':
			return layers(c);
		case 'tags':
			return tags(c);
		case 'side':
			return sides(c);
		case 'state':
			return states(c);
		case 'role':
			return roles(c);
		case 'touch':
			return [...reaching(c), ...moves(c)];
		case 'range':
			return [...ranges(c), ...moves(c)];
		case 'view':
			return [...views(c), ...moves(c)];
		case 'approach':
			return [...approaches(c), ...moves(c)];
		case 'sight':
			return [...unblocking(c), ...moves(c)];
		case 'choice':
		case 'tied':
			return [...preferring(c), ...moves(c)];
		default:
			return [];
	}
}

function switchingOn({ query, answer, naming }: Case): Candidate[] {
	const out: Candidate[] = [];
	const id = query.id;
	for (const note of answer.notes) {
		if (note.code === 'disabled')
			out.push(
				plain(
					'enable',
					`Switch ${query.name ?? id} on`,
					onQuery(id, () => ({ enabled: undefined })),
				),
			);
		if (note.code !== 'condition') continue;
		const condition = query.selects?.when?.find((w) => w.of === note.of && w.state === note.state);
		if (!condition) continue;
		const value = satisfying(condition);
		const asker = query.asker;
		if (value !== null && note.of === 'scene')
			out.push(
				plain('set-state', `Set ${note.state} of the scene to ${said(value)}`, onStates({ [note.state]: value })),
			);
		if (value !== null && note.of === 'asker' && asker !== undefined)
			out.push(stateOf(asker, note.state, value, naming('object', asker)));
		out.push(dropping(query, condition));
	}

	return out;
}

const said = (value: StateValue): string => (value === true ? 'yes' : value === false ? 'no' : String(value));

const stateOf = (object: string, state: string, value: StateValue, name: string): Candidate =>
	plain(
		'set-state',
		`Set ${state} of ${name} to ${said(value)}`,
		onObject(object, (o) => ({ states: { ...o.states, [state]: value } })),
	);

const dropping = (query: Query, condition: Condition): Candidate =>
	plain(
		'drop-condition',
		`Drop the condition ${wordsOfCondition(condition)}`,
		onQuery(query.id, (q) => {
			const when = (q.selects?.when ?? []).filter((w) => JSON.stringify(w) !== JSON.stringify(condition));
			return { selects: { ...q.selects, when: when.length > 0 ? when : undefined } };
		}),
	);

/** A value that fulfils a condition, or null where none can. */
function satisfying({ is, above, below }: Condition): StateValue | null {
	if (is !== undefined)
		return (above === undefined || Number(is) > above) && (below === undefined || Number(is) < below) ? is : null;
	if (above !== undefined && below !== undefined) {
		const whole = Math.floor(above) + 1;
		if (whole < below) return whole;
		return above < below ? rounded((above + below) / 2, 9) : null;
	}
	return above !== undefined ? Math.floor(above) + 1 : Math.ceil(below as number) - 1;
}

function activating({ target, subject, naming }: Case): Candidate[] {
	const asleep: WorldObject[] = [];
	for (const start of new Set([target, subject]))
		for (let at: WorldObject | null = start; at; at = at.parent)
			if (at.def.active === false && !asleep.includes(at)) asleep.push(at);
	if (asleep.length === 0) return [];
	const recipe: Recipe = (p) => asleep.reduce((next, o) => onObject(o.id, () => ({ active: true }))(next), p);
	return [plain('enable', `Make ${asleep.map((o) => naming('object', o.id)).join(' and ')} active`, recipe)];
}

function including({ query, world, target, subject, naming }: Case): Candidate[] {
	const ignored = (query.ignore ?? []).filter((id) => {
		const above = world.objectById.get(id);
		return above && (hangsUnder(target, above) || hangsUnder(subject, above));
	});
	if (ignored.length === 0) return [];
	return [
		plain(
			'ignore',
			`Ignore ${ignored.map((id) => naming('object', id)).join(', ')} no longer`,
			onQuery(query.id, (q) => {
				const left = (q.ignore ?? []).filter((id) => !ignored.includes(id));
				return { ignore: left.length > 0 ? left : undefined };
			}),
		),
	];
}

const layersOf = ({ def }: WorldObject): string[] => [
	...new Set([def.layer, ...(def.shapes ?? []).filter((s) => s.enabled !== false).map((s) => s.layer ?? def.layer)]),
];

function layers({ query, subject, naming }: Case): Candidate[] {
	const chosen = query.selects?.layers;
	if (chosen === undefined || chosen === 'all') return [];
	const out: Candidate[] = [];
	for (const layer of layersOf(subject).filter((l) => !chosen.includes(l)))
		out.push(
			plain(
				'add-layer',
				`Choose from ${naming('layer', layer)} too`,
				onQuery(query.id, (q) => ({ selects: { ...q.selects, layers: [...chosen, layer] } })),
			),
		);
	for (const layer of chosen)
		out.push(
			plain(
				'change-layer',
				`Put ${naming('object', subject.id)} on layer ${naming('layer', layer)}`,
				onObject(subject.id, (o) => ({
					layer,
					...(o.shapes ? { shapes: o.shapes.map(({ layer: _, ...s }) => s as Shape) } : {}),
				})),
			),
		);
	return out;
}

function tags({ query, target, verdict, naming, world }: Case): Candidate[] {
	const { any = [], all = [], none = [] } = query.selects?.tags ?? {};
	const { missing = [], forbidden = [] } = verdict ?? {};
	const out: Candidate[] = [];
	const name = naming('object', target.id);
	const list = (ids: readonly string[]) => ids.map((id) => naming('tag', id)).join(', ');
	const wanted = missing.filter((t) => all.includes(t));
	const choices = any.length > 0 && missing.some((t) => any.includes(t)) ? any : [];
	const carries = (id: string) => (target.def.tags ?? []).filter((t) => world.family.get(t)?.includes(id));
	const kept = (o: SceneObject) =>
		(o.tags ?? []).filter((t) => !forbidden.some((f) => world.family.get(t)?.includes(f)));
	for (const one of choices.length > 0 ? choices : [null]) {
		const fresh = [...wanted, ...(one === null ? [] : [one])];
		if (fresh.length === 0 && forbidden.length === 0) continue;
		const words = [
			...(fresh.length > 0 ? [`Give ${name} ${fresh.length === 1 ? 'the tag' : 'the tags'} ${list(fresh)}`] : []),
			...(forbidden.length > 0
				? [`${fresh.length > 0 ? 'and take' : `Take ${name}`} ${list([...new Set(forbidden.flatMap(carries))])} away`]
				: []),
		].join(' ');
		out.push(
			plain(
				fresh.length > 0 ? 'add-tag' : 'remove-tag',
				words,
				onObject(target.id, (o) => {
					const next = [...new Set([...kept(o), ...fresh])];
					return { tags: next.length > 0 ? next : undefined };
				}),
			),
		);
	}
	const left = (ids: readonly string[], gone: readonly string[]) => ids.filter((id) => !gone.includes(id));
	out.push(
		plain(
			'drop-term',
			`Ask no longer for ${[...(missing.length > 0 ? [list(missing)] : []), ...(forbidden.length > 0 ? [`no ${list(forbidden)}`] : [])].join(' and ')}`,
			onQuery(query.id, (q) => ({
				selects: {
					...q.selects,
					tags: {
						...(choices.length > 0 ? {} : any.length > 0 ? { any } : {}),
						...(left(all, missing).length > 0 ? { all: left(all, missing) } : {}),
						...(left(none, forbidden).length > 0 ? { none: left(none, forbidden) } : {}),
					},
				},
			})),
		),
	);
	return out;
}

function sides({ query, target, project, verdict, naming }: Case): Candidate[] {
	const out: Candidate[] = [];
	const wanted = query.selects?.stances ?? [];
	const stance = verdict?.stance;
	if (stance)
		out.push(
			plain(
				'stance',
				`Choose from ${stance} ones too`,
				onQuery(query.id, (q) => ({ selects: { ...q.selects, stances: [...wanted, stance] } })),
			),
		);
	for (const side of project.scene.sides ?? [])
		out.push(
			plain(
				'side',
				`Put ${naming('object', target.id)} on the side ${side.name ?? side.id}`,
				onObject(target.id, () => ({ side: side.id })),
			),
		);
	return out;
}

function states({ query, target, verdict, naming }: Case): Candidate[] {
	const condition = verdict?.condition;
	if (!condition) return [];
	const value = satisfying(condition);
	return [
		...(value === null ? [] : [stateOf(target.id, condition.state, value, naming('object', target.id))]),
		dropping(query, condition),
	];
}

function roles({ query, subject, verdict, naming }: Case): Candidate[] {
	const role = verdict?.role ?? 'sensor';
	const wanted = query.selects?.roles ?? ['solid', 'sensor'];
	const [other] = wanted;
	return [
		plain(
			'role',
			`Choose by ${role} shapes too`,
			onQuery(query.id, (q) => ({ selects: { ...q.selects, roles: [...wanted, role] } })),
		),
		...(other
			? [
					plain(
						'role',
						`Make the shapes of ${naming('object', subject.id)} ${other}`,
						onObject(subject.id, (o) => ({ shapes: o.shapes?.map((s) => ({ ...s, role: other })) })),
					),
				]
			: []),
	];
}

/** Whether a query that differs a little is well in the same world. */
const wellWith = ({ world, isWell }: Case, query: Query): boolean => isWell(new Answerer(world).winner(query));

function reaching(c: Case): Candidate[] {
	const { query, subject, verdict, naming, world } = c;
	const out: Candidate[] = [];
	const asleep = (subject.def.shapes ?? []).filter((s) => s.enabled === false);
	for (const shape of asleep)
		out.push(
			plain(
				'enable',
				`Switch the shape ${shape.name ?? shape.id} of ${naming('object', subject.id)} on`,
				onObject(subject.id, (o) => ({
					shapes: o.shapes?.map((s) => (s.id === shape.id ? { ...s, enabled: true } : s)),
				})),
			),
		);
	if (verdict?.beyond !== undefined && !('to' in query && query.to)) {
		const camera = query.kind === 'pick' ? world.cameras.get(query.camera) : undefined;
		const was = ('length' in query ? query.length : undefined) ?? camera?.far ?? 1000;
		for (const length of steps(was + verdict.beyond, 0.01))
			out.push({
				kind: 'length',
				words: `Make it ${metres(length)} long`,
				recipe: onQuery(query.id, () => ({ length })),
				size: rounded(length - was, 6),
				unit: 'm',
			});
	}
	if (query.kind === 'ray' || query.kind === 'pick') out.push(...assists(c));
	if (query.kind === 'overlap') out.push(...grown(c));
	return out;
}

function assists(c: Case): Candidate[] {
	const query = c.query as Extract<Query, { kind: 'ray' | 'pick' }>;
	const was = query.assist;
	if (query.kind === 'pick' && c.world.flat && was?.by === 'angle') return [];
	const by = was?.by ?? (query.kind === 'pick' ? 'pixels' : 'angle');
	const [step, most, unit] = by === 'pixels' ? [1, 300, 'px'] : by === 'angle' ? [0.1, 60, '°'] : [0.01, 5, 'm'];
	const from = was?.within ?? 0;
	const found = leastAlong(
		(t) => wellWith(c, { ...query, assist: { by, within: rounded(from + t, 6) } } as Query),
		most,
		step,
	);
	if (found === null) return [];
	const within = outward(from + found, step);
	const words = by === 'pixels' ? `${within} px` : by === 'angle' ? degrees(within) : metres(within);
	return [
		{
			kind: 'assist',
			words: `${was ? 'Widen aim assist to' : 'Help the aim within'} ${words}`,
			recipe: onQuery(query.id, () => ({ assist: { by, within } })),
			size: rounded(within - from, 6),
			unit,
		},
	];
}

function grown(c: Case): Candidate[] {
	const query = c.query as Extract<Query, { kind: 'overlap' }>;
	const { shape } = query;
	const made = (by: number): typeof shape | null => {
		const more = (v: number) => outward(v + by, 0.01);
		if ('like' in shape) return { ...shape, grow: more(shape.grow ?? 0) };
		switch (shape.kind) {
			case 'sphere':
			case 'circle':
				return { ...shape, radius: more(shape.radius) };
			case 'box':
				return { ...shape, size: shape.size.map((v) => outward(v + 2 * by, 0.01)) as Vec3 };
			case 'rect':
				return { ...shape, size: shape.size.map((v) => outward(v + 2 * by, 0.01)) as [number, number] };
			case 'capsule':
			case 'cylinder':
				return { ...shape, radius: more(shape.radius), height: outward(shape.height + 2 * by, 0.01) };
			default:
				return null;
		}
	};
	if (!made(1)) return [];
	const found = leastAlong((t) => wellWith(c, { ...query, shape: made(t) } as Query), 20, 0.01);
	const next = found === null ? null : made(found);
	return next
		? [
				{
					kind: 'grow',
					words: `Grow its volume by ${metres(found as number)} on every side`,
					recipe: onQuery(query.id, () => ({ shape: next })),
					size: found as number,
					unit: 'm',
				},
			]
		: [];
}

function ranges({ query, verdict }: Case): Candidate[] {
	const { min, max } = query.range ?? {};
	const margin = verdict?.margin ?? 0;
	const out: Candidate[] = [];
	if (max !== undefined)
		for (const next of steps(max + margin, 0.01))
			out.push({
				kind: 'range',
				words: `Let it reach ${metres(next)} far`,
				recipe: onQuery(query.id, (q) => ({ range: { ...q.range, max: next } })),
				size: rounded(next - max, 6),
				unit: 'm',
			});
	if (min !== undefined) {
		const next = Math.max(0, rounded(Math.floor((min - margin) / 0.01 + 1e-9) * 0.01, 6));
		out.push({
			kind: 'range',
			words: `Let it begin at ${metres(next)}`,
			recipe: onQuery(query.id, (q) => ({ range: { ...q.range, min: next } })),
			size: rounded(min - next, 6),
			unit: 'm',
		});
	}
	return out;
}

function views({ query, verdict }: Case): Candidate[] {
	const was = query.view?.within ?? 0;
	return steps(was + (verdict?.margin ?? 0), 0.1)
		.filter((within) => within <= 180)
		.map((within) => ({
			kind: 'view',
			words: `Let it see ${degrees(within)} to every side`,
			recipe: onQuery(query.id, (q) => ({ view: { ...q.view, within } })),
			size: rounded(within - was, 6),
			unit: '°',
		}));
}

function approaches({ query, target, verdict, naming }: Case): Candidate[] {
	const was = target.def.approach;
	const out = was
		? steps(was.within + (verdict?.margin ?? 0), 0.1).map((within) => ({
				kind: 'approach',
				words: `Let ${naming('object', target.id)} be approached within ${degrees(within)}`,
				recipe: onObject(target.id, () => ({ approach: { ...was, within } })),
				size: rounded(within - was.within, 6),
				unit: '°',
			}))
		: [];
	return [
		...out,
		plain(
			'approach',
			'Let it be approached from any side',
			onQuery(query.id, () => ({ approach: 'ignore' })),
		),
	];
}

function unblocking(c: Case): Candidate[] {
	const { query, world, verdict, naming, project } = c;
	const blocker = world.objectById.get(verdict?.by ?? '');
	if (!blocker) return [];
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
	const solid = (blocker.def.shapes ?? []).filter((s) => s.role !== 'sensor' && s.enabled !== false);
	for (const shape of solid.length > 1 ? solid : [])
		out.push(
			plain(
				'make-sensor',
				`Make the shape ${shape.name ?? shape.id} of ${name} a sensor`,
				onObject(blocker.id, (o) => ({
					shapes: o.shapes?.map((s) => (s.id === shape.id ? { ...s, role: 'sensor' as const } : s)),
				})),
			),
		);
	for (const { id } of project.scene.layers.filter((l) => !stopping.includes(l.id)))
		out.push(
			plain(
				'unblock-layer',
				`Put ${name} on layer ${naming('layer', id)}, which stops nothing here`,
				onObject(blocker.id, (o) => ({
					layer: id,
					...(o.shapes ? { shapes: o.shapes.map(({ layer: _, ...s }) => s as Shape) } : {}),
				})),
			),
		);
	out.push(...moved(c, blocker, 'move-blocker', `Move ${name} aside`));
	return out;
}

function preferring(c: Case): Candidate[] {
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
		out.push(...moved(c, rival, 'move-rival', `Move ${naming('object', id)} away`));
	}
	return out;
}

/** The subject, the asker or the cursor moved by the least way. */
function moves(c: Case): Candidate[] {
	const { query, subject, world, naming } = c;
	const out = moved(c, subject, 'move-object', `Move ${naming('object', subject.id)}`);
	const asker = world.objectById.get(query.asker ?? '');
	if (asker && !hangsUnder(subject, asker))
		out.push(...moved(c, asker, 'move-asker', `Move ${naming('object', asker.id)}`));
	if (query.kind === 'pick') {
		const cursor = query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2];
		const at = (dx: number, dy: number): [number, number] => [rounded(cursor[0] + dx, 3), rounded(cursor[1] + dy, 3)];
		const found = leastMove(
			(dx, dy) => wellWith(c, { ...query, cursor: at(dx, dy) }),
			true,
			[],
			1,
			Math.hypot(...query.viewport),
		);
		if (found) {
			const to = at(found.move[0], found.move[1]);
			out.push({
				kind: 'move-cursor',
				words: `Point ${Number(found.length.toFixed(1))} px farther, at ${to.map((v) => Number(v.toFixed(1))).join(', ')}`,
				recipe: onQuery(query.id, () => ({ cursor: to })),
				size: rounded(found.length, 3),
				unit: 'px',
			});
		}
	}
	return out;
}

/** One object moved by the least way that makes it well, with what hangs on it. */
function moved(c: Case, object: WorldObject, kind: string, words: string): Candidate[] {
	const { world, query, isWell } = c;
	const was = object.def;
	const from = was.position ?? [0, 0, 0];
	const { parent } = object;
	const local = (dx: number, dy: number, dz: number): Vec3 => {
		const d = parent ? unturned(parent.rotation, dx, dy, dz) : [dx, dy, dz];
		return [0, 1, 2].map((k) => rounded((from[k] as number) + (d[k] as number) / (parent?.scale[k] ?? 1), 6)) as Vec3;
	};
	const holds = (dx: number, dy: number, dz: number): boolean => {
		moveObjects(world, new Map([[object.id, { ...was, position: local(dx, dy, dz) }]]));
		return isWell(new Answerer(world).winner(query));
	};
	const found = leastMove(holds, world.flat, toward(c, object));
	moveObjects(world, new Map([[object.id, was]]));
	if (!found) return [];
	const position = local(...found.move);
	const way = found.move.map((v) => Number(v.toFixed(3)));
	return [
		{
			kind,
			words: `${words} by ${metres(found.length)} (${way.join(', ')})`,
			recipe: onObject(object.id, () => ({ position })),
			size: rounded(found.length, 6),
			unit: 'm',
		},
	];
}

/** Directions worth trying: onto the path and away from it, to the start and to the middle of the volume. */
function toward({ world, query }: Case, object: WorldObject): Vec3[] {
	const asker = world.objectById.get(query.asker ?? '') ?? null;
	const placement = placementOf({ world, query, asker, hitOf: () => null });
	if (isNote(placement)) return [];
	const points: Vec3[] = [placement.measuring as Vec3];
	const { path } = placement;
	if (path) {
		const [dx, dy, dz] = path.dir;
		const to = [0, 1, 2].map((k) => (object.focus[k] as number) - (path.start[k] as number)) as Vec3;
		const t = Math.max(0, Math.min(path.length, to[0] * dx + to[1] * dy + to[2] * dz));
		points.push([path.start[0] + t * dx, path.start[1] + t * dy, path.start[2] + t * dz]);
	}
	const centre = object.shapes[0]?.body;
	const from: Vec3 = centre ? [centre.x, centre.y, centre.z] : object.focus;
	return points.flatMap(([x, y, z]): Vec3[] => {
		const d: Vec3 = [x - from[0], y - from[1], z - from[2]];
		return [d, [-d[0], -d[1], -d[2]]];
	});
}

/** What may keep an object from being selected. */
function leaving(c: Case): Candidate[] {
	const { query, target, subject, naming } = c;
	const name = naming('object', target.id);
	const out: Candidate[] = [
		plain(
			'enable',
			`Make ${name} inactive`,
			onObject(target.id, () => ({ active: false })),
		),
	];
	const { any = [], none = [] } = query.selects?.tags ?? {};
	for (const tag of target.def.tags ?? []) {
		out.push(
			plain(
				'forbid-tag',
				`Choose nothing with the tag ${naming('tag', tag)}`,
				onQuery(query.id, (q) => ({ selects: { ...q.selects, tags: { ...q.selects?.tags, none: [...none, tag] } } })),
			),
		);
		if ((query.selects?.tags?.all ?? []).length + any.length > 0)
			out.push(
				plain(
					'remove-tag',
					`Take the tag ${naming('tag', tag)} from ${name}`,
					onObject(target.id, (o) => {
						const left = (o.tags ?? []).filter((t) => t !== tag);
						return { tags: left.length > 0 ? left : undefined };
					}),
				),
			);
	}
	const chosen = query.selects?.layers;
	if (Array.isArray(chosen) && chosen.length > 1)
		for (const layer of layersOf(subject).filter((l) => chosen.includes(l)))
			out.push(
				plain(
					'add-layer',
					`Choose from ${naming('layer', layer)} no longer`,
					onQuery(query.id, (q) => ({ selects: { ...q.selects, layers: chosen.filter((l) => l !== layer) } })),
				),
			);
	out.push(
		plain(
			'ignore',
			`Ignore ${name}`,
			onQuery(query.id, (q) => ({ ignore: [...(q.ignore ?? []), target.id] })),
		),
	);
	const mine = c.answer.selected.find((s) => s.object === target.id);
	if (mine && mine.distance > 0.01) {
		const max = rounded(Math.floor((mine.distance - 1e-6) / 0.01) * 0.01, 6);
		out.push({
			kind: 'range',
			words: `Let it reach ${metres(max)} far`,
			recipe: onQuery(query.id, (q) => ({ range: { ...q.range, max } })),
			size: rounded((query.range?.max ?? mine.distance) - max, 6),
			unit: 'm',
		});
	}

	return [...out, ...moves(c)];
}
