/** A query and a moment's differences as plain sentences, for reports on paper. */
import type { Difference } from '../project/record';
import type { Anchor, Direction, Query } from '../project/schema';
import { rulesOf, takeOf } from '../query/choose';
import { degrees, metres, type Naming, wordsOfCondition } from '../query/words';

const triple = (v: readonly number[]): string => `(${v.map((x) => Number(x.toFixed(2))).join(', ')})`;

function anchor(a: Anchor, naming: Naming): string {
	if (a.point) return triple(a.point);
	if (a.object !== undefined) return `${naming('object', a.object)}${a.offset ? ` ${triple(a.offset)}` : ''}`;
	if (a.focus !== undefined) return `the focus of ${naming('object', a.focus)}`;
	if (a.camera !== undefined) return `camera ${a.camera}`;
	return `the hit of ${a.hitOf}`;
}

function direction(d: Direction | undefined, naming: Naming): string {
	if (!d) return '';
	if (d.toward) return `toward ${anchor(d.toward, naming)}`;
	return `along ${triple(d.along ?? [0, 0, 0])}${d.of === undefined ? '' : ` of ${naming('object', d.of)}`}`;
}

function opening(query: Query, naming: Naming): string {
	switch (query.kind) {
		case 'pick':
			return `Through camera ${query.camera} at ${(query.cursor ?? query.viewport.map((v) => v / 2)).map(Math.round).join(', ')} px`;
		case 'overlap':
			return `Within a volume at ${anchor(query.at, naming)}`;
		case 'hitbox':
			return `In the swing of ${naming('object', query.asker)}`;
		default: {
			const way = query.to ? `to ${anchor(query.to, naming)}` : direction(query.aim, naming);
			const far = query.to ? '' : `, up to ${metres(query.length ?? 1000)}`;
			return `${query.kind === 'sweep' ? 'A shape moved from' : 'From'} ${anchor(query.from, naming)} ${way}${far}`;
		}
	}
}

/** `From Eye toward Crank, up to 4 m, find Fittings tagged any of crank, cleat; stopped by Walls; of several take the nearest.` */
export function sentenceOf(query: Query, naming: Naming): string {
	const layers = (ids: readonly string[] | 'all') =>
		ids === 'all' ? 'any layer' : ids.map((id) => naming('layer', id)).join(' or ');
	const { selects } = query;
	const parts = [`${opening(query, naming)}, find ${layers(selects?.layers ?? 'all')}`];
	const { any = [], all = [], none = [] } = selects?.tags ?? {};
	const tags = (ids: readonly string[]) => ids.map((id) => naming('tag', id)).join(', ');
	if (any.length > 0) parts.push(`tagged any of ${tags(any)}`);
	if (all.length > 0) parts.push(`tagged all of ${tags(all)}`);
	if (none.length > 0) parts.push(`not tagged ${tags(none)}`);
	if (selects?.stances) parts.push(`regarded as ${selects.stances.join(' or ')}`);
	for (const c of selects?.when ?? [])
		parts.push(`where ${c.of === 'target' ? '' : `the ${c.of}’s `}${wordsOfCondition(c)}`);
	const { range, view, sight } = query;
	if (range)
		parts.push(
			`${range.min === undefined ? '' : `from ${metres(range.min)} `}${range.max === undefined ? '' : `up to ${metres(range.max)} away`}`.trim(),
		);
	if (view) parts.push(`within ${degrees(view.within)} of the view`);
	if (sight?.blockers && sight.blockers.length > 0) parts.push(`stopped by ${layers(sight.blockers)}`);
	const take = takeOf(query);
	const rules = rulesOf(query).map((r) => `${r.rule}${r.to === 'focus' ? ' to the focus' : ''}`);
	parts.push(`of several take ${take === 'all' ? 'all' : take}, by ${rules.join(', then ')}`);
	return `${parts.join('; ')}.`;
}

const said = (value: unknown): string =>
	value === null || value === undefined
		? 'not set'
		: value === true
			? 'yes'
			: value === false
				? 'no'
				: Array.isArray(value) && value.every((v) => typeof v === 'number')
					? triple(value)
					: typeof value === 'object'
						? JSON.stringify(value)
						: String(value);

/** `Crank: jammed no → yes`. */
export function wordsOfDifference(d: Difference, naming: Naming): string {
	const what = d.of === 'scene' ? 'scene' : d.of === 'object' ? naming('object', d.id) : d.id;
	return `${what}: ${d.key ?? d.field} ${said(d.from)} → ${said(d.to)}`;
}
