/** The command line, as a process: what it prints where, and how it ends. */
import { execFile } from 'node:child_process';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const root = join(import.meta.dirname, '../..');
const quay = join(root, 'examples/harl-quay.frelk.json');
const desk = join(root, 'examples/pursers-desk.frelk.json');

function frelk(args: string[], input?: string): Promise<{ code: number; out: string; err: string }> {
	return new Promise((resolve) => {
		const child = execFile(process.execPath, [join(root, 'cli/bin/frelk.mjs'), ...args], { cwd: root, maxBuffer: 1 << 26 }, (error, out, err) =>
			resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err }),
		);
		child.stdin?.end(input ?? '');
	});
}

describe('frelk', () => {
	it('answers in JSON and prints nothing else to standard output', async () => {
		const { code, out, err } = await frelk(['answer', quay, '--query', 'gaze', '--json']);
		expect(code).toBe(0);
		expect(err).toBe('');
		const data = JSON.parse(out);
		expect(data).toMatchObject({ format: 'frelk-answers/1', project: 'harl-quay', moment: null });
		expect(data.answers).toHaveLength(1);
		expect(data.answers[0]).toMatchObject({ query: 'gaze', status: 'selected', selected: [{ object: 'crank', action: 'turn' }] });
		expect(data.answers[0].verdicts).toHaveLength(34);
	});

	it('reads standard input and answers in words', async () => {
		const { code, out } = await frelk(['answer', '-'], await readFile(desk, 'utf8'));
		expect(code).toBe(0);
		expect(out).toContain('point: tie\n  tied      stub-104, stub-105');
		expect(out).toContain('state     stub-102: needs punched is no; it is yes');
	});

	it('gives timings on standard error when asked', async () => {
		const { err } = await frelk(['answer', desk, '--stats', '--json']);
		expect(err).toMatch(/^read [\d.]+ ms, world [\d.]+ ms: 19 objects, 20 shapes\npoint: /);
	});

	it('ends with 2 and one line each for wrong files and calls', async () => {
		const folder = await mkdtemp(join(tmpdir(), 'frelk-'));
		const broken = join(folder, 'broken.json');
		const data = JSON.parse(await readFile(quay, 'utf8'));
		data.scene.objects[3].layer = 'walll';
		data.queries[0].asker = 'deckhnd';
		await writeFile(broken, JSON.stringify(data));
		const wrong = await frelk(['validate', desk, broken]);
		expect(wrong.code).toBe(2);
		expect(wrong.out).toContain('well (19 objects, 4 queries');
		expect(wrong.err.trim().split('\n')).toEqual([
			`${broken}: scene.objects[3].layer: no layer "walll" (did you mean "walls"?)`,
			`${broken}: queries[0].asker: no object "deckhnd" (did you mean "deckhand"?)`,
		]);
		expect(await frelk(['answer', broken])).toMatchObject({ code: 2, out: '' });
		expect(await frelk(['answer', join(folder, 'none.json')])).toMatchObject({ code: 2, err: `frelk: ${join(folder, 'none.json')}: no such file\n` });
		expect((await frelk(['answer', quay, '--query', 'gase'])).err).toContain('no query "gase" (did you mean "gaze"?)');
		expect((await frelk(['answer', quay, '--moment', 'dusk'])).code).toBe(2);
		expect((await frelk(['answr', quay])).code).toBe(2);
		expect((await frelk(['answer', '-'], 'not json')).err).toContain('is not JSON');
		expect((await frelk(['--help'])).code).toBe(0);
	});

	it('runs checks and ends with 1 when one fails', async () => {
		const good = await frelk(['check', quay, desk]);
		expect(good).toMatchObject({ code: 0, err: '' });
		expect(good.out).toContain('58 hold, 0 fail');
		const folder = await mkdtemp(join(tmpdir(), 'frelk-'));
		const moved = join(folder, 'moved.json');
		const data = JSON.parse(await readFile(quay, 'utf8'));
		data.scene.objects.find((o: { id: string }) => o.id === 'crank').position = [3, 0, 2.2];
		await writeFile(moved, JSON.stringify(data));
		const junit = join(folder, 'out.xml');
		const bad = await frelk(['check', moved, '--only', 'gaze', '--junit', junit, '--json']);
		expect(bad.code).toBe(1);
		const json = JSON.parse(bad.out);
		expect(json).toMatchObject({
			format: 'frelk-checks/1',
			passed: 0,
			failed: 1,
			projects: [{ project: 'harl-quay', checks: [{ id: 'gaze', pass: false, wanted: { selects: ['crank'] } }] }],
		});
		expect(json.projects[0].checks[0].reason).toContain('wanted crank, got nothing (crank: touch, missed by');
		expect(await readFile(junit, 'utf8')).toContain('<testsuites name="frelk" tests="1" failures="1"');
		// The same input gives the same bytes.
		expect((await frelk(['check', moved, '--only', 'gaze', '--json'])).out).toBe(bad.out);
	});

	it('deals checks out to shards and names what is not there', async () => {
		const counts = await Promise.all([1, 2, 3].map(async (i) => JSON.parse((await frelk(['check', quay, desk, '--shard', `${i}/3`, '--json'])).out).passed));
		expect(counts).toEqual([20, 19, 19]);
		const dusk = await frelk(['check', quay, '--moment', 'carryin']);
		expect(dusk).toMatchObject({ code: 2 });
		expect(dusk.err).toContain('no moment "carryin" (did you mean "carrying"?)');
		expect((await frelk(['check', quay, '--only', 'gaz'])).err).toContain('no check "gaz" (did you mean "gaze"?)');
		expect((await frelk(['check', quay, '--shard', '4/3'])).code).toBe(2);
		const empty = JSON.parse(await readFile(quay, 'utf8'));
		empty.checks = [];
		const none = await frelk(['check', '-'], JSON.stringify(empty));
		expect(none.code).toBe(2);
		expect(none.err).toContain('there is no check to run');
	});
});
