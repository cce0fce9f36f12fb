/** A query and a moment's differences as plain sentences, for reports on paper. */
import { ARC, takeOf } from '../project/defaults';
import type { Difference } from '../project/record';
import type { Anchor, Direction, Project, Query, RuleName, StateValue } from '../project/schema';
import { rulesOf } from '../query/choose';
import { degrees, metres, type Naming, wordsOfCondition, wordsOfValue } from '../query/words';

const triple = (v: readonly number[]): string => `(${v.map((x) => Number(x.toFixed(2))).join(', ')})`;

/** How things are called, those beside objects, tags and layers too. */
interface Names {
	naming: Naming;
	camera: (id: string) => string;
	query: (id: string) => string;
}

function anchor(a: Anchor, { naming, camera, query }: Names): string {
	if (a.point) return triple(a.point);
	if (a.object !== undefined)
		return `${naming('object', a.object)}${a.offset?.some((v) => v !== 0) ? ` ${triple(a.offset)}` : ''}`;
	if (a.focus !== undefined) return `the focus of ${naming('object', a.focus)}`;
	if (a.camera !== undefined) return camera(a.camera);
	return `the hit of ${query(a.hitOf ?? '')}${a.off ? `, ${metres(a.off)} off the surface` : ''}`;
}

function direction(d: Direction | undefined, names: Names, flat: boolean): string {
	if (!d) return '';
	if (d.toward) return `toward ${anchor(d.toward, names)}`;
	const along = d.along ?? [0, 0, 0];
	if (d.of === undefined) return `along ${triple(along)}`;
	const object = names.naming('object', d.of);
	const name = object === d.of ? names.camera(d.of) : object;
	const ahead = flat ? along[0] > 0 && along[1] === 0 : along[0] === 0 && along[1] === 0 && along[2] < 0;
	return ahead ? `straight ahead of ${name}` : `along ${triple(along)} of ${name}`;
}

function opening(query: Query, names: Names, flat: boolean): string {
	switch (query.kind) {
		case 'pick': {
			const at = (query.cursor ?? query.viewport.map((v) => v / 2)).map(Math.round).join(', ');
			return `Through ${names.camera(query.camera)} at ${at} px`;
		}
		case 'overlap':
			return `Within a volume at ${anchor(query.at, names)}`;
		case 'hitbox':
			return `In the swing of ${names.naming('object', query.asker)}`;
		default: {
			if (query.arc) {
				const { speed, time = ARC.time, at, high } = query.arc;
				const where = at
					? `toward ${anchor(at, names)}, the ${high ? 'steep' : 'flat'} way`
					: direction(query.aim, names, flat);
				const what = query.kind === 'sweep' ? 'A shape thrown from' : 'Thrown from';
				return `${what} ${anchor(query.from, names)} at ${Number(speed.toFixed(2))} m/s ${where}, within ${Number(time.toFixed(2))} s`;
			}
			const way = query.to ? `to ${anchor(query.to, names)}` : direction(query.aim, names, flat);
			const far = query.to ? '' : `, up to ${metres(query.length ?? 1000)}`;
			return `${query.kind === 'sweep' ? 'A shape moved from' : 'From'} ${anchor(query.from, names)} ${way}${far}`;
		}
	}
}

/** Several as one names them: `apples, pears or plums`. */
function list(items: readonly string[], joint: string): string {
	return items.length <= 1 ? (items[0] ?? '') : `${items.slice(0, -1).join(', ')} ${joint} ${items.at(-1)}`;
}

/** How many marks have to be seen: `seen by 2 of its marks`. */
export const wordsOfLeast = (least: number | 'all' = 1): string =>
	least === 'all'
		? 'seen by all its marks'
		: least === 1
			? 'seen by one of its marks'
			: `seen by ${least} of its marks`;

/** The rules of choice, in the words of the bench and of reports. */
export const RULE_WORDS: Record<RuleName, string> = {
	distance: 'nearest',
	aim: 'nearest to the aim',
	cursor: 'nearest to the cursor',
	priority: 'higher priority',
	direct: 'directly touched',
	listed: 'first in the file',
	seen: 'most seen',
};

/** The rules that decide among several, in the words of the bench. */
function choice(query: Query): string {
	const order = rulesOf(query)
		.map((r) => `${RULE_WORDS[r.rule]}${r.to === 'focus' ? ' by focus' : ''}`)
		.join(', then ');
	const take = takeOf(query);
	return `of several take ${take === 'all' ? `all, ${order} first` : take === 1 ? `the ${order}` : `up to ${take}, ${order}`}`;
}

const ASSIST = { angle: '°', distance: ' m', pixels: ' px' } as const;

/**
 * `From Eye toward Crank, up to 4 m, find Fittings tagged any of crank, cleat; helped within 8°; stopped by Walls; of several take the
 * nearest; asked by Deckhand.`
 */
export function sentenceOf(query: Query, project: Project, naming: Naming): string {
	const named = (entries: readonly { id: string; name?: string | undefined }[], id: string) =>
		entries.find((e) => e.id === id)?.name ?? id;
	const names: Names = {
		naming,
		camera: (id) => named(project.scene.cameras, id),
		query: (id) => named(project.queries, id),
	};
	const flat = project.scene.kind === 'flat';
	const layers = (ids: readonly string[] | 'all') =>
		ids === 'all'
			? 'any layer'
			: list(
					ids.map((id) => naming('layer', id)),
					'or',
				);
	const { selects } = query;
	const parts = [`${opening(query, names, flat)}, find ${layers(selects?.layers ?? 'all')}`];
	const { any = [], all = [], none = [] } = selects?.tags ?? {};
	const tags = (ids: readonly string[]) => ids.map((id) => naming('tag', id)).join(', ');
	if (any.length > 0) parts.push(`tagged any of ${tags(any)}`);
	if (all.length > 0) parts.push(`tagged all of ${tags(all)}`);
	if (none.length > 0) parts.push(`not tagged ${tags(none)}`);
	if (selects?.stances) parts.push(`regarded as ${list(selects.stances, 'or')}`);
	for (const c of selects?.when ?? [])
		parts.push(`where ${c.of === 'target' ? '' : `the ${c.of}’s `}${wordsOfCondition(c)}`);
	if (selects?.roles?.length === 1) parts.push(`${selects.roles[0]} alone`);
	if ('assist' in query && query.assist) parts.push(`helped within ${query.assist.within}${ASSIST[query.assist.by]}`);
	const { range, view, sight } = query;
	if (range) {
		const joint = range.min === undefined ? 'within' : range.max === undefined ? 'beyond' : 'between';
		const limits = [range.min, range.max].filter((limit) => limit !== undefined).map(metres);
		const from = range.from ? ` of ${anchor(range.from, names)}` : '';
		const ends = `${range.to === 'focus' ? ', to the focus' : ''}${range.flat ? ', level' : ''}`;
		parts.push(`${joint} ${limits.join(' and ') || 'any distance'}${from}${ends}`);
	}
	if (view) {
		const about = view.about ? direction(view.about, names, flat) : 'its view';
		parts.push(`within ${degrees(view.within)} of ${about}${view.flat ? ', level' : ''}`);
	}
	if (query.approach === 'ignore') parts.push('from any side');
	if (sight?.blockers && sight.blockers.length > 0)
		parts.push(`stopped by ${layers(sight.blockers)}${sight.sensors ? ', sensors too' : ''}`);
	if (sight?.to === 'marks') parts.push(wordsOfLeast(sight.least));
	if (query.kind === 'overlap' && query.room)
		parts.push(query.room.on ? `room to stand on ${layers(query.room.on.layers)}` : 'room to be there');
	parts.push(choice(query));
	if (query.asker !== undefined && query.kind !== 'hitbox') parts.push(`asked by ${naming('object', query.asker)}`);
	if (query.ignore && query.ignore.length > 0)
		parts.push(
			`passing over ${list(
				query.ignore.map((id) => naming('object', id)),
				'and',
			)}`,
		);
	return `${parts.join('; ')}.`;
}

const said = (value: unknown): string =>
	Array.isArray(value) && value.every((v) => typeof v === 'number')
		? triple(value)
		: typeof value === 'object' && value !== null
			? JSON.stringify(value)
			: wordsOfValue(value as StateValue | null | undefined);

/** `Crank: jammed no → yes`. */
export function wordsOfDifference(d: Difference, naming: Naming): string {
	const what = d.of === 'scene' ? 'scene' : d.of === 'object' ? naming('object', d.id) : d.id;
	return `${what}: ${d.key ?? d.field} ${said(d.from)} → ${said(d.to)}`;
}
