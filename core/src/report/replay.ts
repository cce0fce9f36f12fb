/** What a replay found, put together, and as JUnit XML: a case a query. */

import { oneLine } from '../project/describe';
import { rounded } from '../project/rounding';
import type { Project } from '../project/schema';
import { type Compared, type ReplayedLine, reasonOfCompared, wordsOfCompared } from '../trace/replay';
import { escaped } from './junit';

/** How a trace and a project agree. */
export interface ReplaySummary {
	format: 'frelk-replay/1';
	project: string;
	lines: number;
	asked: number;
	same: number;
	other: number;
	unknown: number;
	/** By query, in the order in which they were first asked. */
	queries: { query: string; asked: number; differ: number }[];
	/** Ids lines tell of and the project does not know. */
	strangers: string[];
	differences: (Compared & { reason: string; words: string })[];
}

/** Gathers the lines of a replay, as they come. */
export class ReplayTally {
	private lines = 0;
	private readonly counts = { same: 0, other: 0, unknown: 0 };
	private readonly byQuery = new Map<string, { query: string; asked: number; differ: number }>();
	private readonly strangers = new Set<string>();
	private readonly differences: ReplaySummary['differences'] = [];

	/** @param most differences kept whole; all are counted */
	constructor(
		private readonly project: Project,
		private readonly most = Number.POSITIVE_INFINITY,
	) {}

	add({ compared, unknown }: ReplayedLine): void {
		this.lines++;
		for (const id of unknown) this.strangers.add(id);
		for (const one of compared) {
			this.counts[one.result]++;
			const of = this.byQuery.get(one.query) ?? { query: one.query, asked: 0, differ: 0 };
			of.asked++;
			this.byQuery.set(one.query, of);
			if (one.result === 'same') continue;
			of.differ++;
			if (this.differences.length >= this.most) continue;
			const query = this.project.queries.find((q) => q.id === one.query);
			this.differences.push({ ...one, reason: reasonOfCompared(one), words: wordsOfCompared(one, query) });
		}
	}

	get summary(): ReplaySummary {
		const { same, other, unknown } = this.counts;
		return {
			format: 'frelk-replay/1',
			project: this.project.id,
			lines: this.lines,
			asked: same + other + unknown,
			same,
			other,
			unknown,
			queries: [...this.byQuery.values()],
			strangers: [...this.strangers],
			differences: this.differences,
		};
	}
}

/** Differences told in one failure, and characters of each. */
const MAX_TOLD = 20;
const MAX_WORDS = 1000;

/** What a game says, for an attribute or an element: in one line, so that it can forge no other. */
const line = (text: string): string => escaped(oneLine(text, MAX_WORDS));

/** @returns JUnit XML: a suite for the trace, a case for each query it asked */
export function replayJunit(summary: ReplaySummary, trace: string): string {
	const failing = summary.queries.filter((q) => q.differ > 0).length;
	const lines = [
		'<?xml version="1.0" encoding="UTF-8"?>',
		`<testsuites name="frelk replay" tests="${summary.queries.length}" failures="${failing}" errors="0">`,
		`  <testsuite name="${line(`${summary.project}: ${trace}`)}" tests="${summary.queries.length}" failures="${failing}" errors="0" skipped="0">`,
	];
	for (const { query, asked, differ } of summary.queries) {
		const head = `    <testcase classname="${escaped(summary.project)}" name="${line(query)}"`;
		if (differ === 0) {
			lines.push(`${head}/>`);
			continue;
		}
		const told = summary.differences.filter((d) => d.query === query).slice(0, MAX_TOLD);
		const text = told.map((d) => line(`line ${d.line}, ${rounded(d.t)} s: ${d.words}`));
		if (differ > told.length) text.push(`and ${differ - told.length} more`);
		lines.push(
			`${head}>`,
			`      <failure type="replay" message="${escaped(`${differ} of ${asked} differ`)}">${text.join('\n')}</failure>`,
			'    </testcase>',
		);
	}
	lines.push('  </testsuite>', '</testsuites>', '');
	return lines.join('\n');
}
