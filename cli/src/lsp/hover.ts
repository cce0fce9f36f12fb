/** What is told where one points, in Markdown: answers, not only what is written there. */
import {
	Answerer,
	anyTagsOf,
	buildWorld,
	byName,
	degrees,
	failureOf,
	isStill,
	markdownLine,
	metres,
	type Naming,
	type Project,
	type Query,
	STAGE_WORDS,
	sentenceOf,
	type Verdict,
	wordsOfGot,
	wordsOfVerdict,
	wordsOfWanted,
} from '@frelk/core';
import type { JsonPath } from '@frelk/core/editing';

/** Of a longer list the first are told, and how many more there are. */
const MAX_LINES = 16;

const listed = (lines: readonly string[]): string =>
	[...lines.slice(0, MAX_LINES), ...(lines.length > MAX_LINES ? [`- and ${lines.length - MAX_LINES} more`] : [])].join(
		'\n',
	);

/** `selects Gangway crank · 6 hold`: what stands at a query. */
function queryInShort(project: Project, answer: ReturnType<Answerer['winner']>, holds: [number, number]): string {
	const got = wordsOfGot(answer, byName(project));
	const [hold, all] = holds;
	const checks =
		all === 0 ? 'no check' : hold === all ? `${hold} ${hold === 1 ? 'holds' : 'hold'}` : `${all - hold} of ${all} fail`;
	return `${answer.status === 'off' || answer.status === 'waiting' ? got : `selects ${got}`} · ${checks}`;
}

function queryHover(project: Project, query: Query): string {
	const naming = byName(project);
	const lines = [
		`**${markdownLine(query.name ?? query.id)}**`,
		'',
		markdownLine(sentenceOf(query, project, naming)),
		'',
	];
	for (const moment of [null, ...(project.moments ?? []).map((m) => m.id)].slice(0, MAX_LINES)) {
		const answerer = new Answerer(buildWorld(project, moment));
		const asked = answerer.world.queryById.get(query.id);
		if (!asked) continue;
		const name = moment === null ? 'as laid out' : (project.moments?.find((m) => m.id === moment)?.name ?? moment);
		lines.push(`- ${markdownLine(name)}: ${markdownLine(wordsOfGot(answerer.winner(asked), naming))}`);
	}
	return lines.join('\n');
}

const whyWords = (v: Verdict, query: Query, naming: Naming): string =>
	v.stage === 'selected' || v.stage === 'tied'
		? STAGE_WORDS[v.stage].toLowerCase()
		: `${v.stage === 'touch' ? '' : `${STAGE_WORDS[v.stage].toLowerCase()}, `}${wordsOfVerdict(v, naming, anyTagsOf(query))}`;

function objectHover(project: Project, id: string): string {
	const naming = byName(project);
	const answerer = new Answerer(buildWorld(project));
	const lines = answerer.world.queries.flatMap((query) => {
		const verdict = answerer.explain(query).verdicts.find((v) => v.object === id);
		return verdict
			? [`- ${markdownLine(query.name ?? query.id)}: ${markdownLine(whyWords(verdict, query, naming))}`]
			: [];
	});
	return [`**${markdownLine(naming('object', id))}**, as laid out`, '', listed(lines)].join('\n');
}

function layerHover(project: Project, id: string): string {
	const bit = project.scene.layers.findIndex((layer) => layer.id === id);
	const has = (layers: readonly string[] | 'all' | undefined) => layers === 'all' || (layers?.includes(id) ?? false);
	const names = (list: readonly Query[]) => list.map((q) => markdownLine(q.name ?? q.id)).join(', ') || 'no query';
	const chosen = project.queries.filter((q) => q.selects?.layers === undefined || has(q.selects.layers));
	const stopped = project.queries.filter((q) => has(q.sight?.blockers));
	const mask = (2 ** bit).toString(16).padStart(8, '0');
	return [
		`**${markdownLine(byName(project)('layer', id))}**: bit ${bit}, mask 0x${mask}`,
		'',
		`- chosen from by ${names(chosen)}`,
		`- stops ${names(stopped)}`,
	].join('\n');
}

function checkHover(project: Project, at: number): string | null {
	const check = project.checks?.[at];
	if (!check || !isStill(check)) return null;
	const naming = byName(project);
	const answerer = new Answerer(buildWorld(project, check.moment ?? null));
	const query = answerer.world.queryById.get(check.query);
	if (!query) return null;
	const got = answerer.explain(query);
	const why = failureOf(check.expect, got, naming, query);
	return [
		`**${markdownLine(check.name ?? check.id)}** ${why === '' ? 'holds' : 'fails'}`,
		'',
		`- wanted ${markdownLine(wordsOfWanted(check.expect, naming))}`,
		`- got ${markdownLine(wordsOfGot(got, naming))}`,
		...(why === '' ? [] : [`- ${markdownLine(why)}`]),
	].join('\n');
}

/** Limits of a query by the field that says them: the stage they decide, and the unit of what misses them. */
const LIMITS: Record<string, { stage: Verdict['stage']; words: (by: number) => string }> = {
	length: { stage: 'touch', words: metres },
	max: { stage: 'range', words: metres },
	min: { stage: 'range', words: metres },
	view: { stage: 'view', words: degrees },
};

/** By how much the nearest loser misses a limit. */
function limitHover(project: Project, query: Query, field: string): string | null {
	const limit = LIMITS[field];
	const asked = limit && new Answerer(buildWorld(project));
	const own = asked?.world.queryById.get(query.id);
	if (!limit || !asked || !own) return null;
	const reach = (v: Verdict) => (field === 'length' ? v.beyond : v.margin) ?? Infinity;
	const missed = asked.explain(own).verdicts.filter((v) => v.stage === limit.stage && Number.isFinite(reach(v)));
	const [nearest] = missed.sort((a, b) => reach(a) - reach(b));
	if (!nearest) return 'Nothing loses by this limit, as laid out.';
	const name = markdownLine(byName(project)('object', nearest.object));
	const others = missed.length > 1 ? `; ${missed.length - 1} more farther` : '';
	return `${name} misses it by ${limit.words(reach(nearest))}, as laid out${others}.`;
}

/**
 * @param thing that is declared or named where one points
 * @returns Markdown; null where there is nothing to tell
 */
export function hoverOf(project: Project, path: JsonPath, thing: { kind: string; id: string } | null): string | null {
	if (thing?.kind === 'object' && project.scene.objects.some((o) => o.id === thing.id))
		return objectHover(project, thing.id);
	if (path[0] === 'scene' && path[1] === 'objects' && path.length === 4 && path[3] === 'name') {
		const object = project.scene.objects[path[2] as number];
		if (object) return objectHover(project, object.id);
	}
	if (thing?.kind === 'layer' && project.scene.layers.some((l) => l.id === thing.id))
		return layerHover(project, thing.id);
	if (thing?.kind === 'check') return checkHover(project, Number(path[1]));
	const named = thing?.kind === 'query' ? project.queries.find((q) => q.id === thing.id) : undefined;
	if (named) return queryHover(project, named);
	if (path[0] === 'queries' && typeof path[1] === 'number') {
		const query = project.queries[path[1]];
		if (!query) return null;
		const field = path.at(-1) === 'within' && path.includes('view') ? 'view' : String(path.at(-1));
		if (path.length > 2 && LIMITS[field]) return limitHover(project, query, field);
		return path.length <= 3 && ['id', 'name', 'kind', undefined].includes(path[2] as string | undefined)
			? queryHover(project, query)
			: null;
	}
	return path[0] === 'checks' && typeof path[1] === 'number' && path.length <= 3 ? checkHover(project, path[1]) : null;
}

/** Short answers as the lens at each query has them, with how many of its checks hold. */
export function lensesOf(project: Project): Map<string, string> {
	const answerer = new Answerer(buildWorld(project));
	const worlds = new Map<string | null, Answerer>([[null, answerer]]);
	const out = new Map<string, string>();
	for (const query of answerer.world.queries) {
		const mine = (project.checks ?? []).filter(isStill).filter((c) => c.query === query.id);
		let hold = 0;
		for (const check of mine) {
			const moment = check.moment ?? null;
			let at = worlds.get(moment);
			if (!at) {
				at = new Answerer(buildWorld(project, moment));
				worlds.set(moment, at);
			}
			const asked = at.world.queryById.get(check.query);
			if (asked && failureOf(check.expect, at.explain(asked), undefined, asked) === '') hold++;
		}
		out.set(query.id, queryInShort(project, answerer.winner(query), [hold, mine.length]));
	}
	return out;
}
