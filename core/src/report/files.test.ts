import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { runChecks } from '../checks/check';
import { ahead, box, object, project } from '../tests/scene';
import { csvReport, markdownReport } from './files';
import { junitXml } from './junit';
import { htmlReport } from './page';

const NASTY =
	'<script>alert(1)</script> | `code` **bold** [link](https://example.invalid) @someone \u202eright to left\u001b[31m "quoted" =1+1';

/** A project whose every name, prompt and action is hostile, with one failing check. */
function hostile() {
	const p = project(
		[{ ...object('one', [0, 0, -2], [box([1, 1, 1])]), name: NASTY, prompt: NASTY, action: NASTY }],
		[{ ...ahead(), name: NASTY }],
	);
	p.name = NASTY;
	p.checks = [
		{ id: 'wrong', query: 'q', expect: { none: true } },
		{ id: 'action', query: 'q', expect: { selects: ['one'], action: 'other' } },
	];
	return { p, checks: runChecks(p) };
}

describe('reports of hostile names', () => {
	const { p, checks } = hostile();
	const suites = [{ project: p.id, checks }];

	it('carry no markup of theirs into a page', () => {
		const page = htmlReport(p, checks);
		expect(page).not.toContain('<script');
		for (const hidden of ['\u202e', '\u001b']) expect(page).not.toContain(hidden);
		expect(page).toContain('&lt;script&gt;alert(1)&lt;/script&gt;');
	});

	it('stay cells of a table in Markdown, call upon nobody and link nowhere', () => {
		const text = markdownReport(suites);
		const row = text.split('\n').find((l) => l.startsWith('| action')) ?? '';
		// Six cells, so seven bars that are not escaped.
		expect(row.match(/(?<!\\)\|/g)).toHaveLength(7);
		expect(row).not.toContain('<script');
		expect(row).toContain('&lt;script&gt;');
		expect(row).toContain('\\*\\*bold\\*\\*');
		expect(row).not.toMatch(/@someone|https:\/\//);
		expect(row).toContain('\\`code\\`');
		expect(row).toContain('\\\\u202e');
	});

	it('are read as they are by a parser of XML, and as text by a spreadsheet', () => {
		const xml = new XMLParser({ ignoreAttributes: false }).parse(junitXml(suites));
		const failing = xml.testsuites.testsuite.testcase;
		expect(failing).toHaveLength(2);
		expect(failing[1].failure['@_message']).toContain('wanted the action other, got <script>alert(1)</script>');
		const csv = csvReport([{ project: '=cmd', checks: checks.map((c) => ({ ...c, reason: '\r=1+1' })) }]);
		expect(csv).toContain("'=cmd,");
		expect(csv).toContain('"\'\r=1+1"');
	});

	it.each(['=1', '+1', '-1', '@x', '\t1', '\r1', '\n1'])('begin no formula: %j', (reason) => {
		const [, row] = csvReport([{ project: 'p', checks: [{ ...checks[0], reason }] }]).split(/\r\n(?=p,|$)/);
		expect(row.endsWith(/[\r\n]/.test(reason) ? `"'${reason}"` : `'${reason}`)).toBe(true);
	});

	it('of one moment and the next are classes of their own', () => {
		const xml = junitXml([{ project: 'p', checks: [checks[0], { ...checks[0], moment: 'later' }] }]);
		expect([...xml.matchAll(/classname="([^"]*)"/g)].map((m) => m[1])).toEqual(['p.q', 'p.q@later']);
	});

	it('show the first two hundred failures and count the rest', () => {
		const many = Array.from({ length: 201 }, () => checks[0] as (typeof checks)[number]);
		expect(htmlReport(p, many.slice(1)).match(/<section>/g)).toHaveLength(200);
		expect(htmlReport(p, many.slice(1))).not.toContain('more, in the table');
		expect(htmlReport(p, many)).toContain('And 1 more, in the table below.');
	});
});
