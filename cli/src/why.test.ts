/** `frelk why` and `frelk findings`: what is printed, and how they end. */
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { applyPatch } from 'fast-json-patch';
import { describe, expect, it } from 'vitest';
import { inProcess as frelk, quay, root } from './tests/command';

const folder = mkdtempSync(join(tmpdir(), 'frelk-why-'));
const before = join(root, 'examples/harl-quay-before.frelk.json');
const deck = join(root, 'examples/deck-from-above.frelk.json');

describe('frelk why', () => {
	it('prints the verdict and remedies whose patch, applied by a library, gives the promised answer', async () => {
		const { code, out } = await frelk(['why', before, '--query', 'gaze', '--object', 'crank', '--json']);
		expect(code).toBe(0);
		const data = JSON.parse(out);
		expect(data).toMatchObject({
			format: 'frelk-why/1',
			project: 'harl-quay-before',
			query: 'gaze',
			moment: null,
			object: 'crank',
		});
		expect(data.verdict).toMatchObject({ object: 'crank', stage: 'sight', by: 'crate-4' });
		expect(data.remedies.length).toBeGreaterThan(2);
		const [best] = data.remedies;
		expect(Object.keys(best).sort()).toEqual(['changes', 'kind', 'mends', 'patch', 'size', 'turns', 'unit', 'words']);
		expect([best.turns, best.mends]).toEqual([[], ['gaze']]);
		const project = applyPatch(JSON.parse(readFileSync(before, 'utf8')), best.patch, true).newDocument;
		const mended = join(folder, 'mended.json');
		writeFileSync(mended, JSON.stringify(project));
		const answer = JSON.parse((await frelk(['answer', mended, '--query', 'gaze', '--json'])).out);
		expect(answer.answers[0].selected.map((s: { object: string }) => s.object)).toEqual(['crank']);
	});

	it('says it in words with the cost, and refuses unknown names', async () => {
		const { out } = await frelk(['why', quay, '--query', 'in-sight', '--object', 'bell']);
		// What looks like the mistake stands first, whatever else would do.
		expect(out).toMatch(
			/^bell: sight, 3\.61 m behind tarpaulin\n- Switch the shape left-over of tarpaulin off: .*; looks like the mistake\n/,
		);
		expect(out).toContain('- Make the shape left-over of tarpaulin a sensor: 3 other answers change, breaks in-sight');
		expect((await frelk(['why', quay, '--query', 'gaze', '--object', 'crank'])).out).toContain(
			'crank is selected as it is',
		);
		expect(await frelk(['why', quay, '--query', 'gase', '--object', 'crank'])).toMatchObject({
			code: 2,
			err: expect.stringContaining('no query "gase" (did you mean "gaze"?)'),
		});
		expect((await frelk(['why', quay, '--query', 'gaze', '--object', 'crank', '--wish', 'go'])).err).toContain(
			'--wish is select or leave',
		);
		const leave = JSON.parse(
			(await frelk(['why', deck, '--query', 'walk', '--object', 'gull-1', '--wish', 'leave', '--json'])).out,
		);
		expect(leave.remedies.length).toBeGreaterThan(2);
	});
});

describe('frelk findings', () => {
	it('prints them by project, in words, as JSON and as SARIF; only an error ends with 1', async () => {
		const sarif = join(folder, 'out.sarif');
		const { code, out } = await frelk(['findings', quay, before, '--json', '--sarif', sarif]);
		expect(code).toBe(0);
		const data = JSON.parse(out);
		expect(data).toMatchObject({
			format: 'frelk-findings/1',
			projects: [{ project: 'harl-quay' }, { project: 'harl-quay-before' }],
		});
		for (const f of data.projects[0].findings)
			expect(Object.keys(f).every((k) => ['rule', 'level', 'message', 'path', 'related', 'patch'].includes(k))).toBe(
				true,
			);
		expect(JSON.parse(readFileSync(sarif, 'utf8')).runs[0].results.length).toBe(
			data.projects.reduce((n: number, p: { findings: unknown[] }) => n + p.findings.length, 0),
		);
		const warnings = await frelk(['findings', quay, '--level', 'warning']);
		expect(warnings.out).toContain('[left-over-shape]');
		expect(warnings.out).not.toContain('note ');
		expect(warnings.out).toMatch(/0 errors, \d+ warnings, 0 notes\n$/);
		const project = JSON.parse(readFileSync(quay, 'utf8'));
		project.queries[0].selects.tags = { all: ['crank'], none: ['fitting'] };
		const broken = join(folder, 'broken.json');
		writeFileSync(broken, JSON.stringify(project));
		expect(await frelk(['findings', broken, '--level', 'error'])).toMatchObject({
			code: 1,
			out: expect.stringContaining('filter-never-passes'),
		});
		expect((await frelk(['findings', quay, '--level', 'hint'])).err).toContain(
			'--level is one of error, warning, note',
		);
	});
});
