/** The checks as one page to print: a table of all, and each that fails with a plan of the scene and its ladder. */

import { type CheckResult, failureOf, wordsOfGot, wordsOfWanted } from '../checks/check';
import type { Finding } from '../findings/finding';
import type { MapCheckResult, MapResult } from '../map/map';
import { mapSvg } from '../map/svg';
import { differencesOf } from '../project/record';
import type { Project } from '../project/schema';
import { STAGES, type Stage, type Verdict } from '../query/types';
import { anyTagsOf, type Naming, STAGE_WORDS, wordsOfVerdict } from '../query/words';
import type { RunCheckResult } from '../run/check';
import type { RunResult } from '../run/events';
import { buildWorld, type World } from '../world/world';
import { escaped } from './escaped';
import { otherResults } from './others';
import { picturesOf } from './picture';
import { runCase } from './run-lanes';
import { sentenceOf, wordsOfDifference } from './sentence';

/** Stages of those that nearly were chosen. */
const MATTERS: ReadonlySet<Stage> = new Set(STAGES.slice(STAGES.indexOf('touch')));
const MAX_LOSERS = 6;
const MAX_DIFFERENCES = 12;
/** Pictures and ladders of one page: a page of thousands would not open. */
const MAX_CASES = 200;

/** How a page looks on screen and on paper. */
export const PAPER_STYLE = [
	'body{font:13.5px/1.45 system-ui,sans-serif;color:#14242b;background:#fff;max-width:60rem;margin:2rem auto;padding:0 1rem}',
	'table{border-collapse:collapse;width:100%}',
	'td,th,h1,h2,p,li{overflow-wrap:break-word}',
	'table{table-layout:auto}',
	'tr{break-inside:avoid}',
	'td,th{border-bottom:1px solid #c9d3d6;padding:.25rem .5rem;text-align:left;vertical-align:top}',
	'.fails td{font-weight:600}',
	'.why{font-weight:600;border-left:4px solid #14242b;padding-left:.6rem}',
	'section{break-inside:avoid;margin-top:2rem}',
	'h2{margin:.2rem 0}',
	'h3{margin:.6rem 0 .1rem;font-size:13.5px}',
	'.pictures{display:flex;flex-wrap:wrap;gap:.8rem}',
	'figure{margin:.5rem 0;flex:1 1 20rem}',
	'figcaption{font-size:11.5px;color:#51646c}',
	'svg{width:100%;border:1px solid #8a979c;background:#fff}',
	'ul{margin:0;padding-left:1.2rem}',
	'@page{size:A4;margin:14mm}',
	'@media print{body{margin:0;max-width:none;font-size:10pt}}',
].join('');

/** What a page shows beside the checks. */
interface PageExtras {
	/** Maps that were asked, each drawn. */
	maps?: readonly MapResult[];
	findings?: readonly Finding[];
}

/** How a project calls its things. */
function namesIn(project: Project) {
	const { scene } = project;
	const names = (list: readonly { id: string; name?: string | undefined }[] = []) =>
		new Map(list.map((entry) => [entry.id, entry.name ?? entry.id]));
	const known = { object: names(scene.objects), tag: names(scene.tags), layer: names(scene.layers) };
	const [queries, moments] = [names(project.queries), names(project.moments)];
	const runs = names([...(project.maps ?? []), ...(project.runs ?? [])]);
	const naming: Naming = (kind, id) => known[kind].get(id) ?? id;
	return {
		naming,
		query: (id: string) => queries.get(id) ?? id,
		moment: (id: string | null) => (id === null ? 'Scene as laid out' : (moments.get(id) ?? id)),
		/** Of a run or a map. */
		run: (id: string) => runs.get(id) ?? id,
	};
}
type Names = ReturnType<typeof namesIn>;

/** A row of the table of all checks. */
function row(pass: boolean, ...cells: string[]): string {
	const outcome = pass ? 'holds' : 'FAILS';
	return `<tr class="${pass ? 'holds' : 'fails'}">${[outcome, ...cells].map((c) => `<td>${escaped(c)}</td>`).join('')}</tr>`;
}

const listOf = (title: string, rows: readonly string[]): string =>
	rows.length > 0 ? `<h3>${title}</h3><ul>${rows.join('')}</ul>` : '';

/** An object, how far it came, and why no further. */
function verdictRow(v: Verdict, anyTags: ReturnType<typeof anyTagsOf>, { naming }: Names): string {
	const stage = v.stage === 'touch' ? [] : [STAGE_WORDS[v.stage].toLowerCase()];
	const why = v.stage === 'selected' || v.stage === 'tied' ? [] : [wordsOfVerdict(v, naming, anyTags)];
	return `<li><b>${escaped(naming('object', v.object))}</b>: ${escaped([...stage, ...why].join(', '))}</li>`;
}

/** What a moment changes, as far as there is room for it. */
function momentWords(project: Project, moment: string | null, { naming }: Names): string {
	const differences = moment === null ? [] : differencesOf(project, moment);
	if (differences.length === 0) return '';
	const told = differences.slice(0, MAX_DIFFERENCES).map((d) => escaped(wordsOfDifference(d, naming)));
	const more = differences.length - told.length;
	return `<p>At this moment: ${told.join('; ')}${more > 0 ? `; and ${more} more` : ''}.</p>`;
}

/** A check that fails: why, how it was asked, a plan of the scene, its ladder. */
function caseOf(project: Project, world: World, check: CheckResult, names: Names): string {
	const { naming } = names;
	const { wanted, got } = check;
	const query = world.queryById.get(check.query);
	const stored = project.queries.find((q) => q.id === check.query);
	const anyTags = anyTagsOf(stored);
	const named = new Set([...(wanted.selects ?? []), ...(wanted.tie ?? []), ...(wanted.not ?? [])]);
	const first = got.verdicts.filter((v) => named.has(v.object)).map((v) => verdictRow(v, anyTags, names));
	// Of the others those that came nearest to being chosen: the rest says nothing here.
	const rest = got.verdicts
		.filter((v) => !named.has(v.object) && MATTERS.has(v.stage))
		.sort((a, b) => STAGES.indexOf(b.stage) - STAGES.indexOf(a.stage) || (a.margin ?? 0) - (b.margin ?? 0))
		.slice(0, MAX_LOSERS)
		.map((v) => verdictRow(v, anyTags, names));
	const pictures = picturesOf(world, check, (id) => escaped(naming('object', id).slice(0, 28)));
	return [
		`<section><h2>${escaped(names.query(check.query))} · ${escaped(names.moment(check.moment))}</h2>`,
		`<p class="why">${escaped(failureOf(wanted, got, naming, stored) || check.reason)}</p>`,
		query ? `<p>${escaped(sentenceOf(query, project, naming))}</p>` : '',
		momentWords(project, check.moment, names),
		listOf('Wanted', first),
		`<div class="pictures">${pictures}</div>`,
		listOf('Nearest to it', rest),
		'</section>',
	].join('');
}

/** A map that was asked, drawn. */
function mapSection(project: Project, result: MapResult, names: Names): string {
	const map = project.maps?.find((m) => m.id === result.map);
	if (!map) return '';
	const of = `${names.query(map.query)} · ${names.moment(map.moment ?? null)}`;
	const drawing = mapSvg(map, result, (id) => names.naming('object', id));
	return `<section><h2>Map: ${escaped(map.name ?? map.id)}</h2><p>${escaped(of)}</p>${drawing}</section>`;
}

/** One page that needs nothing else: a table of all checks, and each failing one with a plan of the scene and its ladder. */
export function htmlReport(
	project: Project,
	checks: readonly CheckResult[],
	runs: readonly RunCheckResult[] = [],
	maps: readonly MapCheckResult[] = [],
	extras: PageExtras = {},
): string {
	const names = namesIn(project);
	const { naming } = names;
	let world: World | null = null;
	const worldAt = (moment: string | null): World => {
		if (world?.moment !== moment) world = buildWorld(project, moment);
		return world as World;
	};
	const failing = checks.filter((c) => !c.pass);
	const rows = checks.map((c) =>
		row(
			c.pass,
			c.id,
			names.query(c.query),
			names.moment(c.moment),
			wordsOfWanted(c.wanted, naming),
			wordsOfGot(c.got, naming),
		),
	);
	const cases = failing.slice(0, MAX_CASES).map((c) => caseOf(project, worldAt(c.moment), c, names));
	const others = otherResults({ runs, maps }, naming);
	const failingRuns = others.filter((c) => !c.pass);
	const ran = new Map<string, RunResult>();
	const runById = new Map(runs.map((c) => [c.id, c]));
	const runCases = failingRuns.slice(0, MAX_CASES).map((c) => {
		const check = runById.get(c.id);
		return [
			`<section><h2>${escaped(names.run(c.of))} · ${escaped(names.moment(c.moment))}</h2>`,
			check ? runCase(project, check, ran, naming) : `<p class="why">${escaped(c.reason)}</p>`,
			'</section>',
		].join('');
	});
	const runRows = others.map((c) =>
		row(c.pass, c.id, names.run(c.of), names.moment(c.moment), c.wanted, c.pass ? '' : c.reason),
	);
	const drawn = (extras.maps ?? []).map((result) => mapSection(project, result, names)).filter((text) => text !== '');
	const found = (extras.findings ?? []).map(
		(f) => `<li><b>${f.level}</b>: ${escaped(f.message)} <code>${escaped(f.path)}</code></li>`,
	);
	const [total, wrong] = [checks.length + others.length, failing.length + failingRuns.length];
	const left = failing.length - cases.length + failingRuns.length - runCases.length;
	const headings = ['outcome', 'check', 'query', 'moment', 'wanted', 'got'].map((word) => `<th>${word}</th>`).join('');
	return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(project.name)}: checks</title>
<style>${PAPER_STYLE}</style></head>
<body><h1>${escaped(project.name)}</h1><p>${total - wrong} of ${total} checks hold${wrong > 0 ? `, ${wrong} fail` : ''}.</p>
${cases.join('\n')}${runCases.join('\n')}${left > 0 ? `<p>And ${left} more, in the table below.</p>` : ''}
<h2>All checks</h2><table><thead><tr>${headings}</tr></thead><tbody>
${rows.join('\n')}
${runRows.join('\n')}
</tbody></table>
${drawn.join('\n')}${found.length > 0 ? `<section><h2>Findings</h2><ul>${found.join('')}</ul></section>` : ''}</body></html>
`;
}
