/** The published schemas are those the program reads by, and hold what it reads and prints. */
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import Ajv, { type ValidateFunction } from 'ajv/dist/2020';
import { describe, expect, it } from 'vitest';
import { runChecks } from '../checks/check';
import { findFindings } from '../findings/rules';
import { askMap } from '../map/map';
import { checkMaps } from '../map/memory';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { Answerer } from '../query/answer';
import { remediesFor } from '../remedy/remedy';
import { checkRuns } from '../run/check';
import { runThrough } from '../run/run';
import { example } from '../tests/examples';
import { randomProject } from '../tests/project';
import { randomRun } from '../tests/run';
import { traceOfRun } from '../trace/make';
import { TraceReader } from '../trace/read';
import { Replay } from '../trace/replay';
import { buildWorld } from '../world/world';
import { jsonSchemas } from './formats';
import { ReplayTally } from './replay';

const folder = join(import.meta.dirname, '../../../docs/schemas');
const schemas = jsonSchemas();
const ajv = new Ajv({ strict: false, allowUnionTypes: true });
const valid = Object.fromEntries(
	Object.entries(schemas).map(([name, schema]) => [name, ajv.compile(schema)]),
) as Record<keyof typeof schemas, ValidateFunction>;
const holds = (name: keyof typeof schemas, value: unknown) => {
	const ok = valid[name](JSON.parse(JSON.stringify(value)));
	expect(ok, JSON.stringify(valid[name].errors?.slice(0, 3))).toBe(true);
};
const EXAMPLES = ['harl-quay', 'harl-quay-before', 'deck-from-above', 'pursers-desk'];

describe('the published schemas', () => {
	it('are those of the program: npm run schemas writes them', () => {
		expect(readdirSync(folder).sort()).toEqual(
			Object.keys(schemas)
				.map((name) => `${name}.schema.json`)
				.sort(),
		);
		for (const [name, schema] of Object.entries(schemas))
			expect(JSON.parse(readFileSync(join(folder, `${name}.schema.json`), 'utf8')), name).toEqual(schema);
	});

	it('hold the examples, and projects of every form', () => {
		for (const name of EXAMPLES) holds('project', example(name));
		for (let seed = 0; seed < 40; seed++) holds('project', randomProject(seed));
		for (let seed = 0; seed < 20; seed++) holds('project', randomRun(seed));
	});

	it('hold what is printed of them', () => {
		for (const name of EXAMPLES) {
			const project = example(name);
			const answerer = new Answerer(buildWorld(project));
			holds('answers', {
				format: 'frelk-answers/1',
				project: project.id,
				moment: null,
				answers: project.queries.map((q) => answerer.explain(q)),
			});
			const still = runChecks(project);
			const over = checkRuns(project).map(({ from: _, ...rest }) => rest);
			holds('checks', {
				format: 'frelk-checks/1',
				projects: [{ project: project.id, checks: [...still, ...over, ...checkMaps(project)] }],
				passed: 1,
				failed: 0,
			});
			holds('maps', {
				format: 'frelk-maps/1',
				project: project.id,
				maps: (project.maps ?? []).map((m) => askMap(project, m)),
			});
			holds('findings', {
				format: 'frelk-findings/1',
				projects: [{ project: project.id, findings: findFindings(project) }],
			});
			// Of the largest one they take long, and look no different.
			for (const query of project.id === 'harl-quay' ? [] : project.queries.slice(0, 3))
				for (const wish of ['select', 'leave'] as const) {
					const object = project.scene.objects[0]?.id ?? '';
					const { verdict, remedies } = remediesFor(project, { query: query.id, object, moment: null, wish });
					holds('why', {
						format: 'frelk-why/1',
						project: project.id,
						query: query.id,
						moment: null,
						object,
						verdict,
						remedies: remedies.map(({ looks: _, ...remedy }) => remedy),
					});
				}
			const results = (project.runs ?? []).map((run) => runThrough(project, run));
			const printed = results.map((r) => ({
				...r,
				events: r.events.map((e) => {
					if (e.kind !== 'choose' || !e.instead) return e;
					const { rule: _, ...instead } = e.instead;
					return { ...e, instead };
				}),
			}));
			holds('runs', { format: 'frelk-runs/1', project: project.id, runs: printed });
			for (const run of project.runs ?? []) {
				const lines = [...traceOfRun(project, run)];
				for (const line of lines) holds('trace', line);
				const tally = new ReplayTally(project);
				const [replayed, reader] = [new Replay(project), new TraceReader(project)];
				lines.slice(1).forEach((line, i) => {
					const told = structuredClone(line) as { asked?: { got: string[] | null }[] };
					// Some differ, some name what is not there.
					for (const asked of told.asked ?? []) if (i % 3 > 0) asked.got = i % 3 === 1 ? ['no-such-thing'] : null;
					tally.add(replayed.line(reader.line(JSON.stringify(told), i + 2), i + 2));
				});
				expect(tally.summary.asked).toBeGreaterThan(0);
				holds('replay', tally.summary);
			}
		}
	});

	it('refuse what the program refuses, where a schema can say it', () => {
		const broken: ((p: Project) => void)[] = [
			(p) => Object.assign(p, { nonsense: 1 }),
			(p) => Object.assign(p.scene.objects[0], { id: 'Not An Id' }),
			(p) => Object.assign(p.scene.objects[0], { position: [0, 0] }),
			(p) => Object.assign(p.scene.objects[0], { position: [0, 0, 2e7] }),
			(p) => Object.assign(p.scene.objects[0].shapes?.[0] ?? {}, { size: [1, 1, 0] }),
			(p) => Object.assign(p.queries[0], { kind: 'beam' }),
			(p) => Object.assign(p.scene, { states: { a: 'text' } }),
			(p) => p.checks?.push({ id: 'x', query: 'gaze', expect: { selects: [] } } as never),
			(p) => Object.assign(p, { format: 'frelk/2' }),
		];
		for (const breaks of broken) {
			const project = example('harl-quay');
			breaks(project);
			expect(checkProject(project).ok, String(breaks)).toBe(false);
			expect(valid.project(project), String(breaks)).toBe(false);
		}
	});
});

it('say what each key of a project means, in a line that ends like one', () => {
	const without: string[] = [];
	const walk = (node: unknown, holder: string): void => {
		if (typeof node !== 'object' || node === null) return;
		if (Array.isArray(node)) {
			for (const part of node) walk(part, holder);
			return;
		}
		for (const [key, value] of Object.entries(node)) {
			if (key !== 'properties') {
				walk(value, holder);
				continue;
			}
			for (const [name, of] of Object.entries(value as Record<string, { description?: string }>)) {
				if (!/^\S.*[.]$/.test(of.description ?? '')) without.push(`${holder} ${name}`);
				walk(of, name);
			}
		}
	};
	walk(schemas.project, '');
	expect(without).toEqual([]);
	// By what it stands in.
	const { properties } = schemas.project as unknown as {
		properties: Record<string, { description: string; properties: Record<string, { description: string }> }>;
	};
	expect(properties.scene?.description).toBe('What there is.');
	expect(properties.scene?.properties.kind?.description).toContain('space');
	expect(properties.maps?.description).toBe('Queries asked over a grid.');
});
