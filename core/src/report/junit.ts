/** Check results as JUnit XML, in the dialect build servers share: a suite per project, a case per check. */
import type { CheckResult } from '../checks/check';
import type { MapCheckResult } from '../map/map';
import type { Project } from '../project/schema';
import { escapeMarkup } from '../project/text';
import type { RunCheckResult } from '../run/check';
import { namedWithIds, reasonOf } from './named';

/** A project's name and the results of its checks. */
export interface SuiteResult {
	project: string;
	checks: CheckResult[];
	/** The results of the checks of its runs, and of its maps. */
	runs?: RunCheckResult[];
	maps?: MapCheckResult[];
	/** How long each check took, seconds, by its id, where that was measured. */
	seconds?: ReadonlyMap<string, number>;
	/** The project itself, where things are to be called by their names. */
	of?: Project;
}

/** What XML cannot carry: controls and halves of characters. */
const NOT_XML =
	// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is to be removed
	/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;

/** Text for an attribute or an element; characters XML cannot carry are left out. */
export const escaped = (text: string): string => escapeMarkup(text.replace(NOT_XML, ''));

/** Seconds as build servers read them. */
const timed = (seconds: number | undefined): string => (seconds === undefined ? '' : ` time="${seconds.toFixed(3)}"`);

/** @returns the document; the same for the same results and times */
export function junitXml(suites: readonly SuiteResult[]): string {
	const count = (list: readonly { pass: boolean }[]) => list.filter((c) => !c.pass).length;
	const ofSuite = (s: SuiteResult): (CheckResult | RunCheckResult | MapCheckResult)[] => [
		...s.checks,
		...(s.runs ?? []),
		...(s.maps ?? []),
	];
	const all = suites.flatMap(ofSuite);
	const lines = [
		'<?xml version="1.0" encoding="UTF-8"?>',
		`<testsuites name="frelk" tests="${all.length}" failures="${count(all)}" errors="0">`,
	];
	for (const suite of suites) {
		const results = ofSuite(suite);
		const { seconds } = suite;
		const sum = seconds && results.reduce((total, { id }) => total + (seconds.get(id) ?? 0), 0);
		lines.push(
			`  <testsuite name="${escaped(suite.project)}" tests="${results.length}" failures="${count(results)}" errors="0" skipped="0"${timed(sum)}>`,
		);
		const named = suite.of ? namedWithIds(suite.of) : (_kind: unknown, id: string) => id;
		for (const check of results) {
			const of = 'run' in check ? check.run : 'map' in check ? check.map : check.query;
			const place = check.moment === null ? of : `${of}@${check.moment}`;
			const head = `    <testcase classname="${escaped(`${suite.project}.${place}`)}" name="${escaped(named('check', check.id))}"${timed(seconds && (seconds.get(check.id) ?? 0))}`;
			if (check.pass) lines.push(`${head}/>`);
			else {
				const reason = escaped('query' in check ? reasonOf(suite.of, check) : check.reason);
				lines.push(
					`${head}>`,
					`      <failure type="check" message="${reason}">${reason}</failure>`,
					'    </testcase>',
				);
			}
		}
		lines.push('  </testsuite>');
	}
	lines.push('</testsuites>', '');
	return lines.join('\n');
}
