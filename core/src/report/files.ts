/** Check results for people: a table for spreadsheets, a summary for a pull request, a page to print with pictures of what fails. */

import { type CheckResult, failureOf, wordsOfGot, wordsOfWanted } from '../checks/check';
import type { Finding } from '../findings/finding';
import type { MapCheckResult, MapResult } from '../map/map';
import { mapSvg } from '../map/svg';
import { oneLine } from '../project/describe';
import { differencesOf } from '../project/record';
import type { Project } from '../project/schema';
import { escapeMarkup } from '../project/text';
import { STAGES, type Stage, type Verdict } from '../query/types';
import { anyTagsOf, type Naming, STAGE_WORDS, wordsOfVerdict } from '../query/words';
import type { RunCheckResult } from '../run/check';
import { buildWorld, type World } from '../world/world';
import { escaped } from './escaped';
import type { SuiteResult } from './junit';
import { namedWithIds, reasonOf } from './named';
import { otherResults } from './others';
import { picturesOf } from './picture';
import { sentenceOf, wordsOfDifference } from './sentence';

const cell = (text: string): string => (/[",\n\r]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);

/** Comma-separated, a header line first, lines ended as RFC 4180 has them. */
export function csvReport(suites: readonly SuiteResult[]): string {
	const rows = [['project', 'check', 'query', 'moment', 'outcome', 'wanted', 'got', 'reason']];
	for (const suite of suites) {
		const { project, checks } = suite;
		for (const c of otherResults(suite))
			rows.push([project, c.id, c.of, c.moment ?? '', c.pass ? 'holds' : 'fails', c.wanted, c.got, c.reason]);
		for (const c of checks)
			rows.push([
				project,
				c.id,
				c.query,
				c.moment ?? '',
				c.pass ? 'holds' : 'fails',
				wordsOfWanted(c.wanted),
				wordsOfGot(c.got),
				c.reason,
			]);
	}
	// A cell that begins like a formula is text all the same.
	return rows
		.map((row) => `${row.map((text) => cell(/^[=+\-@\t\r\n]/.test(text) ? `'${text}` : text)).join(',')}\r\n`)
		.join('');
}

/** Text as a cell of a table in a pull request: nothing in it is markup, a link or a person called upon. */
const line = (text: string): string =>
	escapeMarkup(oneLine(text))
		.replace(/[\\`*_~[\]|#!$]/g, '\\$&')
		.replace(/@/g, '@<!-- -->')
		.replace(/:\/\//g, ':<!-- -->//');

/** The failing checks as a table for a pull request, in Markdown. */
export function markdownReport(suites: readonly SuiteResult[]): string {
	const out: string[] = [];
	for (const suite of suites) {
		const { project, checks, of } = suite;
		const name = of ? namedWithIds(of) : (_kind: unknown, id: string) => id;
		const failing = checks.filter((c) => !c.pass);
		const others = otherResults(suite, name);
		const failingRuns = others.filter((c) => !c.pass);
		const total = checks.length + others.length;
		out.push(`## ${project}: ${total - failing.length - failingRuns.length} of ${total} checks hold`, '');
		if (failing.length + failingRuns.length === 0) continue;
		out.push('| check | query | moment | wanted | got | why |', '|---|---|---|---|---|---|');
		for (const c of failing)
			out.push(
				`| ${[name('check', c.id), name('query', c.query), c.moment === null ? 'as laid out' : name('moment', c.moment), wordsOfWanted(c.wanted, name), wordsOfGot(c.got, name), reasonOf(of, c)].map(line).join(' | ')} |`,
			);
		for (const c of failingRuns)
			out.push(
				`| ${[name('check', c.id), c.of, c.moment === null ? 'as laid out' : name('moment', c.moment), c.wanted, c.got, c.reason].map(line).join(' | ')} |`,
			);
		out.push('');
	}
	return `${out.join('\n').trimEnd()}\n`;
}

/** Stages of those that nearly were chosen. */
const MATTERS: ReadonlySet<Stage> = new Set([
	'touch',
	'range',
	'view',
	'approach',
	'sight',
	'choice',
	'tied',
	'selected',
]);
const MOST_LOSERS = 6;
/** Pictures and ladders of one page: a page of thousands would not open. */
const MOST_CASES = 200;

/** What a page shows beside the checks. */
interface PageExtras {
	/** Maps that were asked, each drawn. */
	maps?: readonly MapResult[];
	findings?: readonly Finding[];
}

/** One page that needs nothing else: a table of all checks, and each failing one with a plan of the scene and its ladder. */
export function htmlReport(
	project: Project,
	checks: readonly CheckResult[],
	runs: readonly RunCheckResult[] = [],
	maps: readonly MapCheckResult[] = [],
	extras: PageExtras = {},
): string {
	const { scene } = project;
	const names = (list: readonly { id: string; name?: string | undefined }[] = []) =>
		new Map(list.map((entry) => [entry.id, entry.name ?? entry.id]));
	const known = { object: names(scene.objects), tag: names(scene.tags), layer: names(scene.layers) };
	const naming: Naming = (kind, id) => known[kind].get(id) ?? id;
	const [queryNames, momentNames] = [names(project.queries), names(project.moments)];
	const queries = new Map(project.queries.map((q) => [q.id, q]));
	const queryName = (id: string) => queryNames.get(id) ?? id;
	const momentName = (id: string | null) => (id === null ? 'Scene as laid out' : (momentNames.get(id) ?? id));
	let world: World | null = null;
	const worldAt = (moment: string | null): World => {
		if (world?.moment !== moment) world = buildWorld(project, moment);
		return world as World;
	};
	const failing = checks.filter((c) => !c.pass);
	const rows = checks
		.map(
			(c) =>
				`<tr class="${c.pass ? 'holds' : 'fails'}"><td>${c.pass ? 'holds' : 'FAILS'}</td><td>${escaped(c.id)}</td><td>${escaped(queryName(c.query))}</td><td>${escaped(momentName(c.moment))}</td><td>${escaped(wordsOfWanted(c.wanted, naming))}</td><td>${escaped(wordsOfGot(c.got, naming))}</td></tr>`,
		)
		.join('\n');
	const cases = failing
		.slice(0, MOST_CASES)
		.map((c) => {
			const world = worldAt(c.moment);
			const verdictWords = (v: Verdict) =>
				`<b>${escaped(naming('object', v.object))}</b>: ${v.stage === 'touch' ? '' : escaped(STAGE_WORDS[v.stage].toLowerCase())}${v.stage === 'selected' || v.stage === 'tied' ? '' : `${v.stage === 'touch' ? '' : ', '}${escaped(wordsOfVerdict(v, naming, anyTagsOf(queries.get(c.query))))}`}`;
			const wanted = new Set([...(c.wanted.selects ?? []), ...(c.wanted.tie ?? []), ...(c.wanted.not ?? [])]);
			const first = c.got.verdicts.filter((v) => wanted.has(v.object)).map((v) => `<li>${verdictWords(v)}</li>`);
			// Of the others those that came nearest to being chosen: the rest says nothing here.
			const rest = c.got.verdicts
				.filter((v) => !wanted.has(v.object) && MATTERS.has(v.stage))
				.sort((a, b) => STAGES.indexOf(b.stage) - STAGES.indexOf(a.stage) || (a.margin ?? 0) - (b.margin ?? 0))
				.slice(0, MOST_LOSERS)
				.map((v) => `<li>${verdictWords(v)}</li>`);
			const differences = c.moment === null ? [] : differencesOf(project, c.moment);
			const query = world.queryById.get(c.query);
			return `<section><h2>${escaped(queryName(c.query))} · ${escaped(momentName(c.moment))}</h2><p class="why">${escaped(failureOf(c.wanted, c.got, naming, queries.get(c.query)) || c.reason)}</p>${query ? `<p>${escaped(sentenceOf(query, naming))}</p>` : ''}${
				differences.length > 0
					? `<p>At this moment: ${differences
							.slice(0, 12)
							.map((d) => escaped(wordsOfDifference(d, naming)))
							.join('; ')}${differences.length > 12 ? `; and ${differences.length - 12} more` : ''}.</p>`
					: ''
			}${first.length > 0 ? `<h3>Wanted</h3><ul>${first.join('')}</ul>` : ''}<div class="pictures">${picturesOf(world, c, (id) => escaped(naming('object', id)).slice(0, 28))}</div>${rest.length > 0 ? `<h3>Nearest to it</h3><ul>${rest.join('')}</ul>` : ''}</section>`;
		})
		.join('\n');
	const others = otherResults({ runs, maps }, naming);
	const failingRuns = others.filter((c) => !c.pass);
	const runName = (id: string) =>
		[...(project.runs ?? []), ...(project.maps ?? [])].find((r) => r.id === id)?.name ?? id;
	const runCases = failingRuns
		.map((c) => `<section><h2>${escaped(runName(c.of))}</h2><p class="why">${escaped(c.reason)}</p></section>`)
		.join('\n');
	const runRows = others
		.map(
			(c) =>
				`<tr class="${c.pass ? 'holds' : 'fails'}"><td>${c.pass ? 'holds' : 'FAILS'}</td><td>${escaped(c.id)}</td><td>${escaped(runName(c.of))}</td><td>${escaped(momentName(c.moment))}</td><td>${escaped(c.wanted)}</td><td>${escaped(c.pass ? '' : c.reason)}</td></tr>`,
		)
		.join('\n');
	const drawn = (extras.maps ?? []).flatMap((result) => {
		const map = project.maps?.find((m) => m.id === result.map);
		if (!map) return [];
		const of = `${queryName(map.query)} · ${momentName(map.moment ?? null)}`;
		return `<section><h2>Map: ${escaped(map.name ?? map.id)}</h2><p>${escaped(of)}</p>${mapSvg(map, result, (id) => naming('object', id))}</section>`;
	});
	const found = (extras.findings ?? []).map(
		(f) => `<li><b>${f.level}</b>: ${escaped(f.message)} <code>${escaped(f.path)}</code></li>`,
	);
	const [total, wrong] = [checks.length + others.length, failing.length + failingRuns.length];
	return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(project.name)}: checks</title>
<style>body{font:13.5px/1.45 system-ui,sans-serif;color:#14242b;background:#fff;max-width:60rem;margin:2rem auto;padding:0 1rem}table{border-collapse:collapse;width:100%}td,th,h1,h2,p,li{overflow-wrap:anywhere}td,th{border-bottom:1px solid #c9d3d6;padding:.25rem .5rem;text-align:left;vertical-align:top}.fails td{font-weight:600}.why{font-weight:600;border-left:4px solid #14242b;padding-left:.6rem}section{break-inside:avoid;margin-top:2rem}h2{margin:.2rem 0}h3{margin:.6rem 0 .1rem;font-size:13.5px}.pictures{display:flex;flex-wrap:wrap;gap:.8rem}figure{margin:.5rem 0;flex:1 1 20rem}figcaption{font-size:11.5px;color:#51646c}svg{width:100%;border:1px solid #8a979c;background:#fff}ul{margin:0;padding-left:1.2rem}@page{size:A4;margin:14mm}@media print{body{margin:0;max-width:none;font-size:10pt}}</style></head>
<body><h1>${escaped(project.name)}</h1><p>${total - wrong} of ${total} checks hold${wrong > 0 ? `, ${wrong} fail` : ''}.</p>
${cases}${runCases}${failing.length > MOST_CASES ? `<p>And ${failing.length - MOST_CASES} more, in the table below.</p>` : ''}
<h2>All checks</h2><table><thead><tr><th>outcome</th><th>check</th><th>query</th><th>moment</th><th>wanted</th><th>got</th></tr></thead><tbody>
${rows}
${runRows}
</tbody></table>
${drawn.join('\n')}${found.length > 0 ? `<section><h2>Findings</h2><ul>${found.join('')}</ul></section>` : ''}</body></html>
`;
}
