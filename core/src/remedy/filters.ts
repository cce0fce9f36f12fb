/** What may be tried where a filter, or a condition of the query, leaves an object out. */
import { rounded } from '../project/rounding';
import type { Condition, Query, SceneObject, StateValue } from '../project/schema';
import { wordsOfCondition, wordsOfValue } from '../query/words';
import { hangsUnder, type WorldObject } from '../world/world';
import { type Candidate, type Case, layersOf, looking, plain } from './candidate';
import { onObject, onQuery, onScene, onStates, ontoLayer, type Recipe } from './change';
import { likesOf, looksLike, looksOnLayer } from './likes';

/** Of a query that is off. */
export function switchingOn({ query, answer, naming }: Case): Candidate[] {
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
				plain(
					'set-state',
					`Set ${note.state} of the scene to ${wordsOfValue(value)}`,
					onStates({ [note.state]: value }),
				),
			);
		if (value !== null && note.of === 'asker' && asker !== undefined)
			out.push(stateOf(asker, note.state, value, naming('object', asker)));
		out.push(dropping(query, condition));
	}

	return out;
}

const stateOf = (object: string, state: string, value: StateValue, name: string): Candidate =>
	plain(
		'set-state',
		`Set ${state} of ${name} to ${wordsOfValue(value)}`,
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

/** Of an object that is not active. */
export function activating({ target, subject, naming }: Case): Candidate[] {
	const asleep: WorldObject[] = [];
	for (const start of new Set([target, subject]))
		for (let at: WorldObject | null = start; at; at = at.parent)
			if (at.def.active === false && !asleep.includes(at)) asleep.push(at);
	if (asleep.length === 0) return [];
	const recipe: Recipe = (p) => asleep.reduce((next, o) => onObject(o.id, () => ({ active: true }))(next), p);
	return [plain('enable', `Make ${asleep.map((o) => naming('object', o.id)).join(' and ')} active`, recipe)];
}

/** Of one that is ignored. */
export function including({ query, world, target, subject, naming }: Case): Candidate[] {
	const ignored = (query.ignore ?? []).filter((id) => {
		const above = world.objectById.get(id);
		return above && (hangsUnder(target, above) || hangsUnder(subject, above));
	});
	const asker = world.objectById.get(query.asker ?? '');
	const asks = asker && (hangsUnder(target, asker) || hangsUnder(subject, asker));
	const out: Candidate[] =
		asks && query.kind !== 'hitbox'
			? [
					plain(
						'ask-for-nobody',
						`Ask for nobody: ${naming('object', asker.id)}, who asks, and what hangs there are never chosen`,
						onQuery(query.id, () => ({ asker: undefined })),
					),
				]
			: [];
	if (ignored.length === 0) return out;
	return [
		...out,
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

/** Of one on no layer that is chosen from. */
export function layers({ query, subject, naming, world }: Case): Candidate[] {
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
	const likes = likesOf(world, subject);
	for (const layer of chosen)
		out.push(
			looking(
				looksOnLayer(likes, layer),
				plain(
					'change-layer',
					`Put ${naming('object', subject.id)} on layer ${naming('layer', layer)}`,
					ontoLayer(subject.id, layer),
				),
			),
		);
	return out;
}

/** Of one without the tags asked for, or with one forbidden. */
export function tags({ query, target, verdict, naming, world }: Case): Candidate[] {
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
	const likes = likesOf(world, target);
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
			looking(
				looksLike(
					likes,
					({ tags: theirs }) => fresh.every((t) => theirs.has(t)) && !forbidden.some((t) => theirs.has(t)),
				),
				plain(
					fresh.length > 0 ? 'add-tag' : 'remove-tag',
					words,
					onObject(target.id, (o) => {
						const next = [...new Set([...kept(o), ...fresh])];
						return { tags: next.length > 0 ? next : undefined };
					}),
				),
			),
		);
	}
	const left = (ids: readonly string[], gone: readonly string[]) => ids.filter((id) => !gone.includes(id));
	out.push(
		plain(
			'drop-term',
			`Ask no longer for ${[list(missing), forbidden.length > 0 ? `no ${list(forbidden)}` : ''].filter(Boolean).join(' and ')}`,
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

/** Of one whose stance is not wanted. */
export function sides({ query, target, project, verdict, naming, world }: Case): Candidate[] {
	const out: Candidate[] = [];
	const wanted = query.selects?.stances ?? [];
	const stance = verdict?.stance;
	const likes = likesOf(world, target);
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
			looking(
				looksLike(likes, (other) => other.def.side === side.id),
				plain(
					'side',
					`Put ${naming('object', target.id)} on the side ${side.name ?? side.id}`,
					onObject(target.id, () => ({ side: side.id })),
				),
			),
		);
	const from = world.objectById.get(query.asker ?? '')?.def.side;
	const to = target.def.side;
	if (from !== undefined && to !== undefined) {
		const called = (id: string) => project.scene.sides?.find((side) => side.id === id)?.name ?? id;
		for (const regards of wanted)
			out.push(
				plain(
					'regard',
					from === to
						? `Let those of ${called(from)} be ${regards} to each other`
						: `Let ${called(from)} regard ${called(to)} as ${regards}`,
					onScene(({ stances = [] }) => ({
						stances: [...stances.filter((s) => s.from !== from || s.to !== to), { from, to, stance: regards }],
					})),
				),
			);
	}
	return out;
}

/** Of one whose state does not fit. */
export function states({ query, target, verdict, naming, world }: Case): Candidate[] {
	const condition = verdict?.condition;
	if (!condition) return [];
	const value = satisfying(condition);
	const likes = likesOf(world, target);
	return [
		...(value === null
			? []
			: [
					looking(
						looksLike(likes, (other) => (other.states[condition.state] ?? false) === value),
						stateOf(target.id, condition.state, value, naming('object', target.id)),
					),
				]),
		dropping(query, condition),
	];
}

/** Of one whose shapes are not of the role asked for. */
export function roles({ query, subject, verdict, naming }: Case): Candidate[] {
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
