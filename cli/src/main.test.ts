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
});
