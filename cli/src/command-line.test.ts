/** What the command line takes and tells: versions, shells, patterns, workers, places that cannot be written, questions asked otherwise. */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import type { Io } from './files';
import { harmless } from './process-io';
import { desk, inProcess as frelk, quay, root } from './tests/command';
import { watch } from './watch';

const folder = mkdtempSync(join(tmpdir(), 'frelk-line-'));
const file = (name: string, text?: string): string => {
	const path = join(folder, name);
	if (text !== undefined) writeFileSync(path, text);
	return path;
};
const small = (id: string, more: object = {}) =>
	JSON.stringify({
		format: 'frelk/1',
		id,
		name: id,
		scene: {
			kind: 'space',
			layers: [{ id: 'a' }],
			tags: [],
			objects: [
				{ id: 'near', layer: 'a', position: [0, 0, -2], shapes: [{ id: 'b', kind: 'box', size: [1, 1, 1] }] },
				{ id: 'who', layer: 'a', position: [0, 0, 9] },
			],
			cameras: [{ id: 'eye', position: [0, 0, 0], projection: 'perspective', fov: 60 }],
		},
		queries: [
			{ id: 'pick', kind: 'pick', camera: 'eye', viewport: [100, 100] },
			{ id: 'reach', kind: 'overlap', at: { point: [0, 0, 0] }, shape: { kind: 'sphere', radius: 3 }, asker: 'who' },
		],
		checks: [{ id: 'c', query: 'pick', expect: { selects: ['near'] } }],
		...more,
	});

describe('the command line', () => {
	it('tells its version, which is that of its package', async () => {
		const { version } = JSON.parse(readFileSync(join(root, 'cli/package.json'), 'utf8')) as { version: string };
		for (const flag of ['--version', '-V'])
			expect(await frelk([flag])).toEqual({ code: 0, out: `${version}\n`, err: '' });
	});

	it('completes its words in three shells', async () => {
		const scripts = await Promise.all(['bash', 'zsh', 'fish'].map((shell) => frelk(['completion', shell])));
		for (const { code, out } of scripts) {
			expect(code).toBe(0);
			for (const word of ['answer', 'check', 'findings', 'junit', 'shard', 'cursor']) expect(out).toContain(word);
		}
		const [bash] = scripts;
		const script = file('complete.bash', bash?.out);
		const completed = (...words: string[]) =>
			execFileSync('bash', [
				'-c',
				`. ${script}; COMP_WORDS=(frelk ${words.map((w) => `'${w}'`).join(' ')}); COMP_CWORD=${words.length}; _frelk; printf '%s\\n' "\${COMPREPLY[@]}"`,
			])
				.toString()
				.trim()
				.split('\n');
		expect(completed('ch')).toEqual(['check']);
		expect(completed('check', '--sh')).toEqual(['--shard']);
		expect(await frelk(['completion', 'tcsh'])).toMatchObject({ code: 2, out: '' });
	});

	it('takes patterns that the shell left as they are', async () => {
		mkdirSync(join(folder, 'levels'));
		for (const name of ['one', 'two']) file(`levels/${name}.frelk.json`, small(name));
		const { code, out } = await frelk(['check', join(folder, 'levels', '*.frelk.json')]);
		expect([code, out.match(/^holds {2}(\w+)/gm)]).toEqual([0, ['holds  one', 'holds  two']]);
		expect((await frelk(['validate', join(folder, '**', '*.frelk.json')])).out.trim().split('\n')).toHaveLength(2);
		expect(await frelk(['check', join(folder, '*.none')])).toMatchObject({ code: 2, out: '' });
		// A name that is one is no pattern.
		file('odd[1].json', small('odd'));
		expect((await frelk(['check', join(folder, 'odd[1].json')])).code).toBe(0);
	});

	it('says that a report cannot be written before it works for it', async () => {
		const nowhere = join(folder, 'nowhere', 'out');
		for (const args of [
			['check', quay, '--junit', nowhere],
			['check', quay, '--markdown', nowhere],
			['map', quay, '--csv', nowhere],
			['findings', quay, '--sarif', nowhere],
			['replay', quay, file('t.jsonl', '{"format":"frelk-trace/1"}\n'), '--junit', nowhere],
			['check', quay, '--junit', folder],
		]) {
			const { code, out, err } = await frelk(args);
			expect([code, out], args.join(' ')).toEqual([2, '']);
			expect(err).toMatch(/cannot be written: (there is no folder|is a folder)/);
		}
	});

	it('checks by several workers as by one, in the order of the files', async () => {
		const files = ['one', 'two', 'three'].map((name) => file(`${name}.json`, small(name)));
		files.push(file('off.json', small('off', { checks: [{ id: 'c', query: 'pick', expect: { none: true } }] })));
		const by = (...more: string[]) => frelk(['check', ...files, ...more]);
		const one = await by('--workers', '1');
		expect(one).toMatchObject({ code: 1, err: '' });
		expect(await by('--workers', '3')).toEqual(one);
		expect((await by('--workers', '3', '--json')).out).toBe((await by('--workers', '1', '--json')).out);
		expect((await by('--workers', '2', '--shard', '2/2')).out).toBe((await by('--workers', '1', '--shard', '2/2')).out);
		expect(await by('--workers', '0')).toMatchObject({ code: 2, out: '' });
	}, 60_000);

	it('leaves the checks of maps out when told to', async () => {
		const { out } = await frelk(['check', desk, '--no-maps']);
		expect(out).not.toContain('pile-map');
		expect(out).toMatch(/^1[0-9] hold, 0 fail$/m);
	});

	it('asks from elsewhere, or as somebody else', async () => {
		const one = file('ask.json', small('ask'));
		const asked = async (...more: string[]) => (await frelk(['answer', one, ...more])).out.match(/^\w+: \w+/gm);
		expect(await asked()).toEqual(['pick: selected', 'reach: selected']);
		expect(await asked('--cursor', '1,1')).toEqual(['pick: none', 'reach: selected']);
		expect(await asked('--asker', 'near')).toEqual(['pick: none', 'reach: none']);
		expect(await asked('--asker', 'near', '--query', 'reach')).toEqual(['reach: none']);
		for (const more of [
			['--cursor', '5'],
			['--cursor', '1,x'],
			['--cursor', '1,1', '--query', 'reach'],
			['--asker', 'nobody'],
		])
			expect(await frelk(['answer', one, ...more]), more.join(' ')).toMatchObject({ code: 2, out: '' });
	});

	it('says what a level would make without a project to put it in', async () => {
		const level = file('d.svg', '<svg viewBox="0 0 9 9"><rect id="a" width="1" height="1"/></svg>');
		const { code, out } = await frelk(['import', level, '--dry-run']);
		expect([code, out]).toEqual([0, expect.stringContaining('1 came')]);
		expect(out).toContain('a new project: not written (dry run)');
		expect(await frelk(['import', level])).toMatchObject({ code: 2, out: '' });
	});

	it('waits for no pipe beside a level, and reads a buffer of many names once', async () => {
		const pipe = join(folder, 'pipe.bin');
		execFileSync('mkfifo', [pipe]);
		const json = (uris: string[]) =>
			JSON.stringify({ asset: { version: '2.0' }, buffers: uris.map((uri) => ({ byteLength: 4, uri })) });
		expect((await frelk(['import', file('p.gltf', json(['pipe.bin'])), '--dry-run'])).err).toContain(
			'pipe.bin is no file to read from',
		);
		file('b.bin', 'abcd');
		const many = json(['b.bin', './b.bin', 'b%2Ebin', 'x/../b.bin']);
		expect((await frelk(['import', file('m.gltf', many), '--dry-run'])).code).toBe(0);
		const strange = JSON.stringify({ asset: { version: '2.0' }, extensionsUsed: ['EXT_mesh_odd'], nodes: [{}] });
		expect(await frelk(['import', file('x.gltf', strange), '--dry-run'])).toMatchObject({ code: 2, out: '' });
		expect((await frelk(['import', file('x.gltf', strange), '--dry-run', '--partial'])).code).toBe(0);
	});

	it('draws a map of one long row as small as a picture is', async () => {
		const map = { id: 'm', query: 'reach', kind: 'floor', area: { min: [0, 0], max: [20_000, 0] }, every: 1 };
		const png = join(folder, 'long.png');
		await frelk(['map', file('long.json', small('long', { maps: [map] })), '--png', png]);
		const { width, height } = PNG.sync.read(readFileSync(png));
		expect([width <= 4096, height < 1000]).toEqual([true, true]);
	}, 60_000);

	it('hears no signal while it works, so that the first one ends it, and ends by itself between', async () => {
		const before = process.listenerCount('SIGINT');
		const heard: number[] = [];
		let end = () => {};
		const ended = new Promise<void>((done) => {
			end = done;
		});
		const io = { err: () => setTimeout(end, 0), doing: () => {} } as unknown as Io;
		const act = async () => {
			heard.push(process.listenerCount('SIGINT') - before);
			return 0;
		};
		const code = await watch(io, [quay], act, async () => {
			heard.push(process.listenerCount('SIGINT') - before);
			await ended;
		});
		expect([code, heard, process.listenerCount('SIGINT') - before]).toEqual([0, [0, 1], 0]);
	});

	it('lets nothing of a file do anything to a terminal', () => {
		expect(harmless('a\u001b[2Jb\u0007\u009b1m\r\n\r\tc\u007f', false)).toBe(
			'a\\u001b[2Jb\\u0007\\u009b1m\r\n\\u000d\tc\\u007f',
		);
		expect(harmless('\u001b[31mred\u001b[0m \u001b[2J', true)).toBe('\u001b[31mred\u001b[0m \\u001b[2J');
		expect(JSON.parse(harmless(JSON.stringify('x\u009by'), false))).toBe('x\u009by');
	});

	it('tells what a game says in one line each, whatever that is', async () => {
		const evil = 'x\u001b[2J\n1 lines, 1 asked: all the same';
		const trace = file(
			'evil.jsonl',
			`\ufeff{"format":"frelk-trace/1"}\r\n${JSON.stringify({ t: 0, objects: { [evil]: {} }, asked: [{ query: 'pick', got: [evil], note: evil }] })}\r\n`,
		);
		const junit = join(folder, 'evil.xml');
		const { code, out } = await frelk(['replay', file('e.json', small('e')), trace, '--junit', junit]);
		expect(code).toBe(1);
		expect(out.trim().split('\n')).toHaveLength(3);
		for (const text of [out, readFileSync(junit, 'utf8')]) {
			expect(text).not.toContain('\u001b');
			expect(text).not.toMatch(/^1 lines, 1 asked: all/m);
		}
		// What cannot be a line is an error with its number, however long it is.
		const broken = file('broken.jsonl', '{"format":"frelk-trace/1"}\n{"t":0}\n');
		writeFileSync(broken, Buffer.concat([readFileSync(broken), Buffer.from([0x7b, 0xff, 0x7d, 0x0a])]));
		expect((await frelk(['replay', file('e.json'), broken])).err).toContain('broken.jsonl:3: is not valid UTF-8');
	});

	it('is put together once from the sources, and anew when they change', () => {
		const run = (...args: string[]) =>
			execFileSync(process.execPath, [join(root, 'cli/bin/frelk.mjs'), ...args]).toString();
		expect(run('--version')).toBe('0.1.0\n');
		const cache = join(root, 'node_modules/.cache/frelk-command');
		const made = readdirSync(cache).filter((name) => !name.startsWith('under-way'));
		expect(made).toHaveLength(1);
		expect(existsSync(join(cache, made[0] as string, 'check-part.js'))).toBe(true);
	}, 60_000);
});
