/** The command line: what it prints where, and how it ends; in this process where that is not what is asked. */
import { spawn } from 'node:child_process';
import { mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { frelk as asProcess, command, desk, inProcess as frelk, quay, root } from './tests/command';

describe('frelk', () => {
	it('answers in JSON and prints nothing else to standard output', async () => {
		const { code, out, err } = await frelk(['answer', quay, '--query', 'gaze', '--json']);
		expect(code).toBe(0);
		expect(err).toBe('');
		const data = JSON.parse(out);
		expect(data).toMatchObject({ format: 'frelk-answers/1', project: 'harl-quay', moment: null });
		expect(data.answers).toHaveLength(1);
		expect(data.answers[0]).toMatchObject({
			query: 'gaze',
			status: 'selected',
			selected: [{ object: 'crank', action: 'turn' }],
		});
		expect(data.answers[0].verdicts).toHaveLength(36);
	});

	it('reads standard input and answers in words', async () => {
		const { code, out } = await frelk(['answer', '-'], await readFile(desk, 'utf8'));
		expect(code).toBe(0);
		expect(out).toContain('point: tie\n  tied      stub-104, stub-105');
		expect(out).toContain('state     stub-102: there at 1.88 m, but needs punched is no; it is yes');
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
		expect(await frelk(['answer', join(folder, 'none.json')])).toMatchObject({
			code: 2,
			err: `frelk: ${join(folder, 'none.json')}: no such file\n`,
		});
		expect((await frelk(['answer', quay, '--query', 'gase'])).err).toContain('no query "gase" (did you mean "gaze"?)');
		expect((await frelk(['answer', quay, '--moment', 'dusk'])).code).toBe(2);
		expect((await frelk(['answr', quay])).code).toBe(2);
		expect((await frelk(['answer', '-'], 'not json')).err).toContain('is not JSON');
		expect((await frelk(['--help'])).code).toBe(0);
	});

	it('runs checks and ends with 1 when one fails', async () => {
		const good = await asProcess(['check', quay, desk]);
		expect(good).toMatchObject({ code: 0, err: '' });
		expect(good.out).toContain('83 hold, 0 fail');
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

	it('writes reports, and updates what is wanted after showing it', async () => {
		const folder = await mkdtemp(join(tmpdir(), 'frelk-'));
		const file = join(folder, 'before.frelk.json');
		await writeFile(file, await readFile(join(root, 'examples/harl-quay-before.frelk.json'), 'utf8'));
		const out = (name: string) => join(folder, name);
		const run = await frelk([
			'check',
			file,
			'--csv',
			out('r.csv'),
			'--markdown',
			out('r.md'),
			'--html',
			out('r.html'),
			'--junit',
			out('r.xml'),
		]);
		expect(run.code).toBe(1);
		expect(run.out).toContain('28 hold, 4 fail');
		expect((await readFile(out('r.csv'), 'utf8')).split('\r\n')).toHaveLength(34);
		expect(await readFile(out('r.md'), 'utf8')).toContain('28 of 32 checks hold');
		expect((await readFile(out('r.html'), 'utf8')).match(/<svg/g)).toHaveLength(6);
		// Read back by a library that knows nothing of us.
		const xml = new XMLParser({ ignoreAttributes: false }).parse(await readFile(out('r.xml'), 'utf8'));
		expect(xml.testsuites['@_failures']).toBe('4');
		expect(xml.testsuites.testsuite.testcase.filter((c: { failure?: unknown }) => c.failure)).toHaveLength(4);
		const update = await frelk(['check', file, '--update']);
		expect(update.code).toBe(0);
		expect(update.out).toContain('wants  harl-quay-before  gaze: crank → crate-4');
		expect(update.out).toContain('4 updated, 0 left');
		expect((await frelk(['check', file])).code).toBe(0);
		expect((await frelk(['check', '-', '--update'], '{}')).code).toBe(2);
		expect((await frelk(['check', file, desk, '--html', out('x.html')])).err).toContain('one project');
		expect((await frelk(['check', file, '--csv', join(folder, 'no', 'such', 'r.csv')])).err).toContain(
			'cannot be written',
		);
	});

	it('runs again when a file changes, until it is ended', async () => {
		const folder = await mkdtemp(join(tmpdir(), 'frelk-'));
		const file = join(folder, 'desk.frelk.json');
		const text = await readFile(desk, 'utf8');
		await writeFile(file, text);
		const child = spawn(process.execPath, [command, 'check', file, '--watch'], { cwd: root });
		let told = '';
		child.stdout.on('data', (part) => {
			told += part;
		});
		let watching = 0;
		child.stderr.on('data', (part) => {
			watching += String(part).split('watching').length - 1;
		});
		const until = async (is: () => boolean) => {
			for (let i = 0; i < 150 && !is(); i++) await new Promise((done) => setTimeout(done, 100));
			expect(is()).toBe(true);
		};
		await until(() => watching === 1);
		expect(told).toContain('19 hold, 0 fail');
		const data = JSON.parse(text);
		data.checks = [{ id: 'wrong', query: data.queries[0].id, expect: { off: true } }];
		await writeFile(file, JSON.stringify(data));
		await until(() => watching >= 2);
		expect(told).toContain('0 hold, 1 fail');
		child.kill('SIGINT');
		const code = await new Promise((done) => child.on('exit', done));
		expect(code).toBe(1);
	}, 40_000);

	it('leaves checks that are switched off alone', async () => {
		const data = JSON.parse(await readFile(desk, 'utf8'));
		data.checks[0].extras = { off: true };
		const run = await frelk(['check', '-'], JSON.stringify(data));
		expect(run.out).toContain('18 hold, 0 fail');
		for (const check of data.checks) check.extras = { off: true };
		expect((await frelk(['check', '-'], JSON.stringify(data))).err).toContain('there is no check to run');
	});

	it('takes hostile files for what they are', async () => {
		const deep = await frelk(['validate', '-'], `${'['.repeat(100_000)}${']'.repeat(100_000)}`);
		expect(deep).toMatchObject({ code: 2 });
		expect(deep.err).toContain('nested more than 64 levels deep');
		const text = await readFile(desk, 'utf8');
		const proto = await frelk(
			['validate', '-'],
			text.replace('"scene": {', '"scene": { "__proto__": { "kind": "space" },'),
		);
		expect(proto).toMatchObject({ code: 2 });
		expect(proto.err).toContain('__proto__');
		const many = JSON.parse(text);
		many.scene.objects = Array.from({ length: 5000 }, (_, i) => ({ id: `o${i}`, layer: 'nowhere' }));
		const flood = await frelk(['validate', '-'], JSON.stringify(many));
		expect(flood.err.trim().split('\n').length).toBeLessThanOrEqual(201);
		expect(flood.err).toMatch(/and \d+ more/);
		const own = JSON.parse(text);
		own.moments[0].on = own.moments[0].id;
		expect((await frelk(['validate', '-'], JSON.stringify(own))).err).toContain('moments[0]');
	});

	it('deals checks out to shards and names what is not there', async () => {
		const counts = await Promise.all(
			[1, 2, 3].map(
				async (i) => JSON.parse((await frelk(['check', quay, desk, '--shard', `${i}/3`, '--json'])).out).passed,
			),
		);
		expect(counts).toEqual([28, 28, 27]);
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
