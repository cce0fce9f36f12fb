/** The parts of a query in words, as the sentence says them. */
import {
	type Anchor,
	type Arc,
	type Direction,
	degrees,
	metres,
	type Project,
	type Query,
	RULE_WORDS,
	type Rule,
	rounded,
	wordsOfCondition,
} from '@frelk/core';
import { nameOf } from '../../model/names';

const trim = (v: number) => String(rounded(v, 2));
const pointWords = (p: readonly number[]): string => `(${p.map(trim).join(', ')})`;

/** `apples, pears or plums`. */
export function listWords(items: readonly string[], joint: string): string {
	if (items.length <= 1) return items[0] ?? '';
	return `${items.slice(0, -1).join(', ')} ${joint} ${items[items.length - 1]}`;
}

export function anchorWords(project: Project, anchor: Anchor | undefined): string {
	if (!anchor) return 'nowhere';
	if (anchor.point) return pointWords(anchor.point);
	if (anchor.object !== undefined) {
		const name = nameOf(project, 'object', anchor.object);
		return anchor.offset?.some((v) => v !== 0) ? `${name} ${pointWords(anchor.offset)}` : name;
	}
	if (anchor.focus !== undefined) return `the focus of ${nameOf(project, 'object', anchor.focus)}`;
	if (anchor.camera !== undefined) return nameOf(project, 'camera', anchor.camera);
	const off = anchor.off ? `, ${metres(anchor.off)} off the surface` : '';
	return `the hit of ${nameOf(project, 'query', anchor.hitOf ?? '')}${off}`;
}

export function directionWords(project: Project, direction: Direction | undefined): string {
	if (!direction) return 'no direction';
	if (direction.toward) return `toward ${anchorWords(project, direction.toward)}`;
	const along = direction.along ?? [0, 0, 0];
	const of = direction.of;
	const flat = project.scene.kind === 'flat';
	const forward = flat ? along[0] > 0 && along[1] === 0 : along[0] === 0 && along[1] === 0 && along[2] < 0;
	if (of === undefined) return `along ${pointWords(along)}`;
	const name = project.scene.objects.some((o) => o.id === of)
		? nameOf(project, 'object', of)
		: nameOf(project, 'camera', of);
	return forward ? `straight ahead of ${name}` : `along ${pointWords(along)} of ${name}`;
}

export function layersWords(project: Project, layers: readonly string[] | 'all' | undefined): string {
	if (layers === undefined || layers === 'all') return 'any layer';
	return listWords(
		layers.map((id) => nameOf(project, 'layer', id)),
		'or',
	);
}

export function tagsWords(query: Query): string {
	const { any = [], all = [], none = [] } = query.selects?.tags ?? {};
	const parts: string[] = [];
	if (any.length > 0) parts.push(any.length === 1 ? String(any[0]) : `any of ${any.join(', ')}`);
	if (all.length > 0) parts.push(all.length === 1 ? String(all[0]) : `all of ${all.join(', ')}`);
	if (none.length > 0) parts.push(`not ${none.join(' nor ')}`);
	return parts.join(', ');
}

export function conditionsWords(query: Query): string {
	return (query.selects?.when ?? [])
		.map((c) => `${c.of === 'target' ? '' : `the ${c.of}’s `}${wordsOfCondition(c)}`)
		.join(' and ');
}

/** What a range is told with: `within`, `between` or `beyond` its limits. */
export function rangeJoint({ range }: Query): string {
	const { min, max } = range ?? {};
	return min === undefined ? 'within' : max === undefined ? 'beyond' : 'between';
}

/** The limits of a range, as they follow `rangeJoint`. */
export function rangeWords(project: Project, query: Query): string {
	const { range } = query;
	if (!range) return '';
	const limits = [range.min, range.max].filter((limit) => limit !== undefined).map(metres);
	const from = range.from ? ` of ${anchorWords(project, range.from)}` : '';
	const ends = `${range.to === 'focus' ? ', to the focus' : ''}${range.flat ? ', level' : ''}`;
	return `${limits.join(' and ') || 'any distance'}${from}${ends}`;
}

export function viewWords(project: Project, query: Query): string {
	const { view } = query;
	if (!view) return '';
	const usual = query.kind === 'overlap' || query.kind === 'hitbox' ? 'straight ahead' : 'the path';
	const about = view.about ? directionWords(project, view.about) : usual;
	return `${degrees(view.within)} of ${about}${view.flat ? ', level' : ''}`;
}

/** `at 9 m/s toward Bollard, the flat way, within 3 s`. */
export function throwWords(project: Project, { speed, time = 5, at, high }: Arc, aim: Direction | undefined): string {
	const where = at
		? `toward ${anchorWords(project, at)}, the ${high ? 'steep' : 'flat'} way`
		: directionWords(project, aim);
	return `at ${trim(speed)} m/s ${where}, within ${trim(time)} s`;
}

export const ruleWords = (rule: Rule): string => `${RULE_WORDS[rule.rule]}${rule.to === 'focus' ? ' by focus' : ''}`;

export function shapeWords(shape: {
	kind: string;
	size?: readonly number[];
	radius?: number;
	height?: number;
}): string {
	if (shape.size) return `${shape.kind} ${shape.size.map(trim).join(' × ')} m`;
	if (shape.height !== undefined)
		return `${shape.kind} of radius ${metres(shape.radius ?? 0)}, ${metres(shape.height)} high`;
	if (shape.radius !== undefined) return `${shape.kind} of radius ${metres(shape.radius)}`;
	return shape.kind;
}

/** When boxes of a swing are open: `0.1 to 0.2 s and 0.3 to 0.5 s`; windows that meet are one. */
export function windowsWords(boxes: readonly { from?: number | undefined; until?: number | undefined }[]): string {
	const windows: [number, number][] = [];
	for (const [from, until] of boxes
		.map((b): [number, number] => [b.from ?? 0, b.until ?? Infinity])
		.sort((a, b) => a[0] - b[0])) {
		const last = windows.at(-1);
		if (last && from <= last[1] + 1e-9) last[1] = Math.max(last[1], until);
		else windows.push([from, until]);
	}
	return listWords(
		windows.map(([from, until]) =>
			until === Infinity ? `${trim(from)} s to the end` : `${trim(from)} to ${trim(until)} s`,
		),
		'and',
	);
}

/** The parts of a query's sentence that can be opened by their name, in the order in which they are said. */
export function partsOf(query: Query | undefined): string[] {
	if (!query) return [];
	const { selects, sight } = query;
	const said: [string, boolean][] = [
		['From', query.kind === 'ray' || query.kind === 'sweep'],
		['Throw', (query.kind === 'ray' || query.kind === 'sweep') && query.arc !== undefined],
		['Direction', (query.kind === 'ray' || query.kind === 'sweep') && !query.to && !query.arc],
		['To', (query.kind === 'ray' || query.kind === 'sweep') && !!query.to],
		['Camera', query.kind === 'pick'],
		['Cursor', query.kind === 'pick'],
		['Shape', query.kind === 'sweep' || query.kind === 'overlap'],
		['At', query.kind === 'overlap'],
		['Boxes', query.kind === 'hitbox'],
		['Length', query.kind === 'pick' ? query.length !== undefined : 'from' in query && !query.to && !query.arc],
		['Layers to choose from', true],
		['Tags', selects?.tags !== undefined],
		['Conditions', selects?.when !== undefined],
		['Stances', selects?.stances !== undefined],
		['Roles', selects?.roles !== undefined],
		['Aim assist', (query.kind === 'ray' || query.kind === 'pick') && query.assist !== undefined],
		['Range', query.range !== undefined],
		['View', query.view !== undefined],
		['Layers that stop it', sight?.blockers !== undefined],
		['Room', query.kind === 'overlap' && query.room !== undefined],
		['Choice', true],
		['Prompts by tag', query.outcomes !== undefined],
		['Asker', query.asker !== undefined],
		['Ignored', query.ignore !== undefined],
	];
	return said.filter(([, is]) => is).map(([part]) => part);
}
