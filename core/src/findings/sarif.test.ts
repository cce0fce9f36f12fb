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
