/**
 * What may be tried for an object that fell at a stage (contract §14): one candidate a change. Each is only worth what trying it shows:
 * nothing here says that it helps.
 */
import { rounded } from '../project/rounding';
import { metres } from '../query/words';
import { type Candidate, type Case, layersOf, plain } from './candidate';
import { onObject, onQuery } from './change';
import { activating, including, layers, roles, sides, states, switchingOn, tags } from './filters';
import { moves } from './moves';
import { approaches, ranges, reaching, views } from './reach';
import { enoughMarks, preferring, unblocking } from './rivals';
import { reachingThere, throwing } from './throwing';
import { thickening, turning } from './turning';

/** Candidates for the stage at which the subject fell, those first that need no search; each is made when it is asked for. */
export function* candidatesFor(c: Case): Generator<Candidate> {
	if (c.wish === 'leave') {
		yield* leaving(c);
		return yield* moves(c);
	}
	if (c.answer.status === 'off') return yield* switchingOn(c);
	if (c.answer.status === 'waiting') return yield* reachingThere(c);
	switch (c.verdict?.stage) {
		case 'inactive':
			return yield* activating(c);
		case 'excluded':
			return yield* including(c);
		case 'layer':
			return yield* layers(c);
		case 'tags':
			return yield* tags(c);
		case 'side':
			return yield* sides(c);
		case 'state':
			return yield* states(c);
		case 'role':
			return yield* roles(c);
		case 'touch':
			yield* reaching(c);
			yield* throwing(c);
			yield* thickening(c);
			yield* turning(c);
			return yield* moves(c);
		case 'range':
			yield* ranges(c);
			return yield* moves(c);
		case 'view':
			yield* views(c);
			yield* turning(c);
			return yield* moves(c);
		case 'approach':
			yield* approaches(c);
			return yield* moves(c);
		case 'sight':
			yield* enoughMarks(c);
			yield* unblocking(c);
			yield* throwing(c);
			yield* turning(c);
			return yield* moves(c);
		case 'choice':
		case 'tied':
			yield* preferring(c);
			yield* turning(c);
			return yield* moves(c);
	}
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
					'drop-layer',
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
			of: 'max',
		});
	}
	return out;
}
