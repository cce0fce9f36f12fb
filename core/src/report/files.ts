/** Check results for people: a table for spreadsheets, a summary for a pull request, a page to print with pictures of what fails. */

import { type CheckResult, wordsOfGot, wordsOfWanted } from '../checks/check';
import { oneLine } from '../project/describe';
import type { Project } from '../project/schema';
import { escapeMarkup } from '../project/text';
import { anyTagsOf, type Naming, wordsOfVerdict } from '../query/words';
import { buildWorld, type World } from '../world/world';
import type { SuiteResult } from './junit';

const cell = (text: string): string => (/[",\n\r]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);

/** Comma-separated, a header line first, lines ended as RFC 4180 has them. */
export function csvReport(suites: readonly SuiteResult[]): string {
	const rows = [['project', 'check', 'query', 'moment', 'outcome', 'wanted', 'got', 'reason']];
	for (const { project, checks } of suites)
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
	for (const { project, checks } of suites) {
		const failing = checks.filter((c) => !c.pass);
		out.push(`## ${project}: ${checks.length - failing.length} of ${checks.length} checks hold`, '');
		if (failing.length === 0) continue;
		out.push('| check | query | moment | wanted | got | why |', '|---|---|---|---|---|---|');
		for (const c of failing)
			out.push(
				`| ${[c.id, c.query, c.moment ?? 'as laid out', wordsOfWanted(c.wanted), wordsOfGot(c.got), c.reason].map(line).join(' | ')} |`,
			);
		out.push('');
	}
	return `${out.join('\n').trimEnd()}\n`;
}

/** Pictures and ladders of one page: a page of thousands would not open. */
const MOST_CASES = 200;

const escaped = (text: string): string =>
	oneLine(text).replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

/** One page that needs nothing else: a table of all checks, and each failing one with a plan of the scene and its ladder. */
export function htmlReport(project: Project, checks: readonly CheckResult[]): string {
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
			const ladder = c.got.verdicts
				.filter((v) => !['layer', 'excluded', 'inactive'].includes(v.stage))
				.map(
					(v) =>
						`<li><b>${escaped(naming('object', v.object))}</b> ${escaped(v.stage)}: ${escaped(wordsOfVerdict(v, naming, anyTagsOf(queries.get(c.query))))}</li>`,
				)
				.join('');
			return `<section><h2>${escaped(queryName(c.query))} · ${escaped(momentName(c.moment))}</h2><p>${escaped(c.reason)}</p>${planOf(worldAt(c.moment), c, naming)}<ul>${ladder}</ul></section>`;
		})
		.join('\n');
	return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(project.name)}: checks</title>
<style>body{font:14px/1.45 system-ui,sans-serif;color:#14242b;max-width:60rem;margin:2rem auto;padding:0 1rem}table{border-collapse:collapse;width:100%}td,th,h1,h2,p,li{overflow-wrap:anywhere}td,th{border-bottom:1px solid #c9d3d6;padding:.25rem .5rem;text-align:left;vertical-align:top}.fails td{color:#a43a1a;font-weight:600}section{break-inside:avoid;margin-top:2rem}svg{width:100%;max-height:22rem;background:#eef2f3;border:1px solid #c9d3d6}ul{columns:2;font-size:12px}</style></head>
<body><h1>${escaped(project.name)}</h1><p>${checks.length - failing.length} of ${checks.length} checks hold${failing.length > 0 ? `, ${failing.length} fail` : ''}.</p>
${cases}${failing.length > MOST_CASES ? `<p>And ${failing.length - MOST_CASES} more, in the table below.</p>` : ''}
<h2>All checks</h2><table><thead><tr><th>outcome</th><th>check</th><th>query</th><th>moment</th><th>wanted</th><th>got</th></tr></thead><tbody>
${rows}
</tbody></table></body></html>
`;
}

/** The scene at the check's moment from above (flat: face on), with what was wanted and what was got marked. */
function planOf(world: World, check: CheckResult, naming: Naming): string {
	const b = world.bounds();
	const [u, v] = world.flat ? [0, 1] : [0, 2];
	const wanted = new Set([...(check.wanted.selects ?? []), ...(check.wanted.tie ?? [])]);
	const got = new Set([...check.got.selected.map((s) => s.object), ...check.got.tied]);
	const marked = world.objects.filter((o) => wanted.has(o.id) || got.has(o.id));
	const shown = marked.length > 0 ? marked : world.objects;
	let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
	for (const o of shown) {
		x0 = Math.min(x0, o.position[u]);
		x1 = Math.max(x1, o.position[u]);
		y0 = Math.min(y0, o.position[v]);
		y1 = Math.max(y1, o.position[v]);
	}
	const room = Math.max(x1 - x0, y1 - y0, world.flat ? 0.2 : 4) * 0.6;
	[x0, x1, y0, y1] = [x0 - room, x1 + room, y0 - room, y1 + room];
	const unit = (x1 - x0) / 100;
	const at = (y: number) => (world.flat ? y1 + y0 - y : y);
	const rects = world.shapes
		.map((s) => {
			const [a, c] = [b[6 * s.index + u], b[6 * s.index + u + 3]];
			const [d, e] = [b[6 * s.index + v], b[6 * s.index + v + 3]];
			if (c < x0 || a > x1 || e < y0 || d > y1 || (c - a > 2 * (x1 - x0) && e - d > 2 * (y1 - y0))) return '';
			const tone = got.has(s.object.id) ? '#a43a1a' : wanted.has(s.object.id) ? '#975a00' : 'none';
			return `<rect x="${n(a)}" y="${n(world.flat ? at(e) : d)}" width="${n(c - a)}" height="${n(e - d)}" fill="${tone}" fill-opacity=".35" stroke="${tone === 'none' ? '#51646c' : tone}" stroke-width="${n(unit * 0.4)}"/>`;
		})
		.join('');
	const labels = marked
		.map(
			(o) =>
				`<text x="${n(o.position[u] + unit)}" y="${n(at(o.position[v]))}" font-size="${n(unit * 3)}">${escaped(naming('object', o.id))} (${got.has(o.id) ? 'got' : 'wanted'})</text>`,
		)
		.join('');
	return `<svg viewBox="${n(x0)} ${n(y0)} ${n(x1 - x0)} ${n(y1 - y0)}" role="img" aria-label="Plan of the scene">${rects}${labels}</svg>`;
}

const n = (value: number): string => String(Number(value.toFixed(4)));
