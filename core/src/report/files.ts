/** Check results for people: a table for spreadsheets, a summary for a pull request. The page to print is `page.ts`. */

import { wordsOfGot, wordsOfWanted } from '../checks/check';
import { oneLine } from '../project/describe';
import { escapeMarkup } from '../project/text';
import { isFormula } from './escaped';
import type { SuiteResult } from './junit';
import { namedWithIds, reasonOf } from './named';
import { otherResults } from './others';

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
	return rows.map((row) => `${row.map((text) => cell(isFormula(text) ? `'${text}` : text)).join(',')}\r\n`).join('');
}

/** Text as a cell of a table in a pull request: nothing in it is markup, a link or a person called upon. */
export const markdownLine = (text: string): string =>
	escapeMarkup(oneLine(text))
		.replace(/[\\`*_~[\]|#!$]/g, '\\$&')
		.replace(/@/g, '@<!-- -->')
		.replace(/:\/\//g, ':<!-- -->//');

/**
 * The failing checks for a pull request, in Markdown.
 * @param lists whether as lists: not every place that shows Markdown shows tables
 */
export function markdownReport(suites: readonly SuiteResult[], lists = false): string {
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
		if (!lists) out.push('| check | query | moment | wanted | got | why |', '|---|---|---|---|---|---|');
		const momentName = (id: string | null) => (id === null ? 'as laid out' : name('moment', id));
		const row = (...cells: string[]) => {
			const told = cells.map(markdownLine);
			if (!lists) return out.push(`| ${told.join(' | ')} |`);
			const [check, query, moment, wanted, got, why] = told;
			return out.push(`- **${check}** (${query}, ${moment}): wanted ${wanted}; got ${got}`, `  - ${why}`);
		};
		for (const c of failing) {
			const [wanted, got] = [wordsOfWanted(c.wanted, name), wordsOfGot(c.got, name)];
			row(name('check', c.id), name('query', c.query), momentName(c.moment), wanted, got, reasonOf(of, c));
		}
		for (const c of failingRuns) row(name('check', c.id), c.of, momentName(c.moment), c.wanted, c.got, c.reason);
		out.push('');
	}
	return `${out.join('\n').trimEnd()}\n`;
}
