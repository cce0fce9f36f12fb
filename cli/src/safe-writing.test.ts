/** What a build server and a hasty hand do to files: nothing is lost, whatever happens in the middle of it. */
import { execFile, spawn } from 'node:child_process';
import { chmod, mkdir, mkdtemp, readdir, readFile, rm, stat, symlink, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { replaceFile, UsageError, write } from './files';
import { frelk as asProcess, command, inProcess as frelk, root } from './tests/command';

const before = join(root, 'examples/harl-quay-before.frelk.json');

let folder = '';
beforeEach(async () => {
	folder = await mkdtemp(join(tmpdir(), 'frelk-'));
});
afterEach(() => rm(folder, { recursive: true, force: true }));

const shell = (line: string, env: Record<string, string>): Promise<{ code: number; err: string }> =>
	new Promise((resolve) => {
		execFile('/bin/bash', ['-c', line], { cwd: root, env: { ...process.env, ...env } }, (error, _out, err) =>
			resolve({ code: typeof error?.code === 'number' ? error.code : error ? -1 : 0, err }),
		);
	});

/** The example with so much beside it that writing it takes a while. */
async function large(name: string): Promise<{ file: string; text: string }> {
	const data = JSON.parse(await readFile(before, 'utf8'));
	data.extras = {
		ballast: Array.from(
			{ length: 80_000 },
			(_, i) => `a line of ballast, ${i}, to make the writing of it take its time`,
		),
	};
	const text = JSON.stringify(data, null, 1);
	const file = join(folder, name);
	await writeFile(file, text);
	return { file, text };
}

describe('frelk check --update', () => {
	it('changes what is wanted and not one character more: line ends, indents, mark, keys of others, mode', async () => {
		const file = join(folder, 'crlf.json');
		const text = `\ufeff${(await readFile(before, 'utf8')).replace(/\n/g, '\r\n').replace('"id": "gaze",', '"id" :   "gaze",')}`;
		await writeFile(file, text);
		await chmod(file, 0o640);
		expect((await frelk(['check', file, '--update', '--only', 'gaze'])).code).toBe(0);
		const now = await readFile(file, 'utf8');
		expect(now).toBe(
			text.replace('"selects": ["crank"], "action": "turn"', '"selects": ["crate-4"], "action": "lift"'),
		);
		expect(now).not.toBe(text);
		expect((await stat(file)).mode & 0o777).toBe(0o640);
		// Nothing to change: nothing written.
		const then = (await stat(file)).mtimeMs;
		expect((await frelk(['check', file, '--update', '--only', 'gaze'])).out).toContain('0 updated, 0 left');
		expect((await stat(file)).mtimeMs).toBe(then);
		expect((await readdir(folder)).sort()).toEqual(['crlf.json']);
	});

	it('writes through a link into the file it names', async () => {
		const file = join(folder, 'real.json');
		await writeFile(file, await readFile(before, 'utf8'));
		await symlink(file, join(folder, 'link.json'));
		expect((await frelk(['check', join(folder, 'link.json'), '--update'])).code).toBe(0);
		expect((await frelk(['check', file])).code).toBe(0);
		expect((await readdir(folder)).sort()).toEqual(['link.json', 'real.json']);
	});

	it.each(['SIGKILL', 'SIGINT'] as const)(
		'leaves the whole old file when %s ends it in the middle of the writing',
		async (signal) => {
			const { file, text } = await large('killed.json');
			let killed = 0;
			for (let i = 0; i < 8 && killed < 2; i++) {
				await writeFile(file, text);
				const child = spawn(process.execPath, [command, 'check', file, '--update'], { cwd: root, stdio: 'ignore' });
				const ended = new Promise<void>((done) => child.on('exit', () => done()));
				let over = false;
				void ended.then(() => {
					over = true;
				});
				// The file beside the file is what the kill waits for.
				while (
					!over &&
					!(await readdir(folder)).some((name) => name.startsWith('killed.json.') && !name.endsWith('.lock'))
				)
					await new Promise((done) => setTimeout(done, 1));
				if (!over) killed++;
				child.kill(signal);
				await ended;
				const now = await readFile(file, 'utf8');
				if (now !== text)
					expect(JSON.parse(now).checks.find((c: { id: string }) => c.id === 'gaze').expect.selects).toEqual([
						'crate-4',
					]);
				// Who is asked to end takes along what was begun.
				if (signal === 'SIGINT')
					expect((await readdir(folder)).filter((name) => name !== 'killed.json' && !name.endsWith('.lock'))).toEqual(
						[],
					);
				for (const name of await readdir(folder))
					if (name !== 'killed.json') await rm(join(folder, name), { recursive: true });
			}
			expect(killed).toBeGreaterThan(0);
		},
		120_000,
	);

	it('leaves the whole old file when there is no room for the new one', async () => {
		const { file, text } = await large('full.json');
		const run = await shell(`ulimit -f 64; exec "${process.execPath}" "${command}" check "${file}" --update`, {});
		expect(run.code).not.toBe(0);
		expect(await readFile(file, 'utf8')).toBe(text);
	}, 60_000);

	it('takes turns with another one, and neither loses what the other wrote', async () => {
		const file = join(folder, 'two.json');
		await writeFile(file, await readFile(before, 'utf8'));
		const runs = await Promise.all([
			asProcess(['check', file, '--update', '--only', 'gaze']),
			asProcess(['check', file, '--update', '--only', 'in-sight']),
		]);
		// Whoever came second found another file than it had read, unless it read it after the first was done.
		for (const run of runs)
			if (run.code === 2) expect(run.err).toContain('was changed by someone else after it was read; that stays');
		expect(runs.some((run) => run.code === 0)).toBe(true);
		for (const id of ['gaze', 'in-sight', 'walk-steady', 'gull-seen'])
			await frelk(['check', file, '--update', '--only', id]);
		expect((await frelk(['check', file])).code).toBe(0);
		expect((await readdir(folder)).sort()).toEqual(['two.json']);
	}, 60_000);

	it('gives way to whoever saved meanwhile, or took the file away', async () => {
		const file = join(folder, 'raced.json');
		await writeFile(file, 'theirs');
		const source = { file, bytes: Buffer.from('what was read'), project: {} as never };
		await expect(replaceFile(source, 'ours')).rejects.toThrow(
			'was changed by someone else after it was read; that stays',
		);
		expect(await readFile(file, 'utf8')).toBe('theirs');
		await replaceFile({ ...source, bytes: Buffer.from('theirs') }, 'ours');
		expect(await readFile(file, 'utf8')).toBe('ours');
		await rm(file);
		await expect(replaceFile(source, 'ours')).rejects.toThrow(UsageError);
		expect(await readdir(folder)).toEqual([]);
	});
});

describe('files', () => {
	it('that are no UTF-8 are refused with the offset, and not written back changed', async () => {
		const file = join(folder, 'latin.json');
		const text = Buffer.from((await readFile(before, 'utf8')).replace('"Gangway crank"', '"Gangway cr\u0101nk"'));
		const at = text.indexOf(0xc4);
		const wrong = Buffer.concat([text.subarray(0, at), Buffer.from([0xe4]), text.subarray(at + 2)]);
		await writeFile(file, wrong);
		const run = await frelk(['check', file, '--update']);
		expect(run.code).toBe(2);
		expect(run.err).toMatch(new RegExp(`is not valid UTF-8: byte 0x[0-9a-f]{2} at offset ${at + 1}; save it as UTF-8`));
		expect((await readFile(file)).equals(wrong)).toBe(true);
	});

	it('of reports are written whole, devices as they stand, and what cannot be written is said', async () => {
		const report = join(folder, 'report.csv');
		await writeFile(report, 'old');
		await write(report, 'new');
		expect(await readFile(report, 'utf8')).toBe('new');
		await write('/dev/null', 'gone');
		expect((await stat('/dev/null')).isCharacterDevice()).toBe(true);
		await expect(write('/dev/full', 'no room')).rejects.toThrow(
			'/dev/full: cannot be written: there is no room left on the disk',
		);
		await expect(write(join(folder, 'no', 'r.csv'), '')).rejects.toThrow(`there is no folder ${join(folder, 'no')}`);
		await expect(write(folder, '')).rejects.toThrow('is a folder, not a file');
	});
});

describe('exit codes', () => {
	it('say that a check failed also to a pipe that is closed, and 2 where the output cannot be written', async () => {
		const one = `"${process.execPath}" "${command}" check "${before}"`;
		expect((await shell(`${one} | true; exit \${PIPESTATUS[0]}`, {})).code).toBe(1);
		expect((await shell(`${one} --json | head -c 10; exit \${PIPESTATUS[0]}`, {})).code).toBe(1);
		const full = await shell(`${one} > /dev/full`, {});
		expect(full.code).toBe(2);
		expect(full.err).toContain('frelk: standard output cannot be written: there is no room left on the disk');
	}, 30_000);

	it('are 2 for shards nobody means', async () => {
		for (const shard of ['1/100001', '0/2', '3/2', '1/99999999999999999999'])
			expect(await frelk(['check', before, `--shard=${shard}`])).toMatchObject({ code: 2, out: '' });
		expect((await frelk(['check', before, '--shard', '1/100000', '--json'])).code).toBe(1);
	}, 30_000);

	it('carry no colour into a file, whatever the error output is', async () => {
		const run = await asProcess(['check', before]);
		expect(run.out).toContain('fails  ');
		expect(run.out).not.toContain('\u001b');
	});
});

describe('--watch', () => {
	it('is refused where there is no folder, and goes on when one is made anew', async () => {
		const none = await frelk(['check', join(folder, 'none', 'a.json'), '--watch']);
		expect(none.code).toBe(2);
		expect(none.err).toContain(`there is no folder ${join(folder, 'none')} to watch`);

		const level = join(folder, 'level');
		await mkdir(level);
		const file = join(level, 'quay.json');
		const text = await readFile(before, 'utf8');
		await writeFile(file, text);
		const child = spawn(process.execPath, [command, 'check', file, '--watch'], { cwd: root });
		let err = '';
		let out = '';
		child.stderr.on('data', (part) => {
			err += part;
		});
		child.stdout.on('data', (part) => {
			out += part;
		});
		const until = async (is: () => boolean) => {
			for (let i = 0; i < 500 && !is(); i++) await new Promise((done) => setTimeout(done, 50));
			expect(is()).toBe(true);
		};
		const watching = () => err.split('watching').length - 1;
		await until(() => watching() === 1);
		await rm(level, { recursive: true });
		await until(() => err.includes('no such file') && watching() === 2);
		await mkdir(level);
		const data = JSON.parse(text);
		data.checks = data.checks.slice(1, 2);
		await writeFile(file, JSON.stringify(data));
		await until(() => watching() >= 3 && /1 hold, 0 fail|0 hold, 1 fail/.test(out));
		child.kill('SIGINT');
		await new Promise((done) => child.on('exit', done));
	}, 80_000);
});
