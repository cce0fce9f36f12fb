/** SARIF, held against the schema that OASIS publishes: it lies in ../tests/published as it was given out. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Ajv from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Project } from '../project/schema';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { randomRun } from '../tests/run';
import { runs } from '../tests/runs';
import { findFindings } from './rules';
import { sarifOf } from './sarif';

const ajv = new Ajv({ strict: false });
addFormats.default(ajv);
const valid = ajv.compile(
	JSON.parse(readFileSync(join(import.meta.dirname, '../tests/published/sarif-2.1.0.json'), 'utf8')),
);

const NAMES = ['quay.frelk.json', 'levels/my yard (2).json', 'C:\\game\\100 % done#1.json', '../ö/?.json'];

function holds(project: Project, file: string): number {
	const findings = findFindings(project);
	const log = JSON.parse(JSON.stringify(sarifOf([{ file, text: JSON.stringify(project, null, 2), findings }])));
	const told = valid(log);
	expect(told, JSON.stringify(valid.errors?.slice(0, 3))).toBe(true);
	return findings.length;
}

it('tells where to the column, also in one line, and each finding so that it is known again', () => {
	const p = example('harl-quay');
	const findings = findFindings(p);
	interface Result {
		partialFingerprints: Record<string, string>;
		locations: {
			physicalLocation: { region: { startLine: number; startColumn: number; endLine: number; endColumn: number } };
		}[];
	}
	const resultsOf = (of: Project, text: string) => {
		const log = JSON.parse(JSON.stringify(sarifOf([{ file: 'q.json', text, findings: findFindings(of) }], '1.2.3')));
		expect(valid(log)).toBe(true);
		expect(log.runs[0].tool.driver).toMatchObject({
			version: '1.2.3',
			informationUri: expect.stringContaining('https://'),
		});
		return log.runs[0].results as Result[];
	};
	const one = JSON.stringify(p);
	const many = JSON.stringify(p, null, 2);
	for (const text of [one, many]) {
		const lines = text.split('\n');
		const told = resultsOf(p, text).map(({ locations }) => {
			const { startLine, startColumn, endLine, endColumn } = locations[0]!.physicalLocation.region;
			if (startLine === endLine) return lines[startLine - 1]!.slice(startColumn - 1, endColumn - 1);
			const [head, tail] = [lines[startLine - 1]!.slice(startColumn - 1), lines[endLine - 1]!.slice(0, endColumn - 1)];
			return [head, ...lines.slice(startLine, endLine - 1), tail].join('\n');
		});
		told.forEach((part, i) => {
			const place = findings[i]!.path.split(/[.[\]]+/).filter(Boolean);
			const value = place.reduce((at: unknown, key) => (at as Record<string, unknown>)?.[key], p);
			if (value !== undefined) expect(JSON.parse(part)).toEqual(value);
		});
	}
	const prints = (of: Project) =>
		resultsOf(of, JSON.stringify(of)).map((r) => r.partialFingerprints['frelkFinding/v1']);
	const before = prints(p);
	expect(new Set(before).size).toBe(before.length);
	// What stands elsewhere in its list is the same finding.
	const more = structuredClone(p);
	more.scene.objects.unshift({ id: 'new-one', layer: p.scene.layers[0]!.id, position: [500, 0, 500] });
	const kept = new Set(prints(more));
	expect(before.filter((print) => kept.has(print)).length).toBeGreaterThan(0.8 * before.length);
});

it.each(['harl-quay', 'harl-quay-before', 'pursers-desk', 'deck-from-above'])('of %s is valid', (name) => {
	holds(example(name), NAMES[0] as string);
});

it('of generated projects is valid, whatever their file is called', () => {
	let found = 0;
	fc.assert(
		fc.property(fc.integer({ min: 0, max: 1e6 }), fc.constantFrom(...NAMES), (seed, file) => {
			for (const p of [randomProject(seed, { objects: 5, queries: 4 }), randomRun(seed)]) found += holds(p, file);
		}),
		{ numRuns: runs(20) },
	);
	expect(found).toBeGreaterThan(20);
});

it('of no project at all is valid, and what is not SARIF is not', () => {
	expect(valid(JSON.parse(JSON.stringify(sarifOf([]))))).toBe(true);
	expect(valid({ version: '2.1.0', runs: [{ results: [] }] })).toBe(false);
});
