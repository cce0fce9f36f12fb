/** Project files on disk as pages work on them: what is told, written and refused. */
import { execFileSync } from 'node:child_process';
import {
	chmodSync,
	existsSync,
	mkdirSync,
	mkdtempSync,
	readFileSync,
	renameSync,
	rmSync,
	statSync,
	symlinkSync,
	writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Disk, type DiskNews, keyOf } from './disk';
import { Under } from './under';

const full = vi.hoisted(() => ({ is: false }));
vi.mock('write-file-atomic', async (original) => {
	const real = (await original<{ default: (file: string, data: unknown) => Promise<void> }>()).default;
	return {
		default: (file: string, data: unknown) =>
			full.is ? Promise.reject(Object.assign(new Error(), { code: 'ENOSPC' })) : real(file, data),
	};
});

const example = readFileSync(join(import.meta.dirname, '../../examples/pursers-desk.frelk.json'), 'utf8');
/** The same project, otherwise called. */
const called = (name: string, text = example): string => text.replace('"name": "Purser\'s desk"', `"name": "${name}"`);

let folder: string;
let file: string;
let disk: Disk;
const served = async (readOnly = false) => new Disk(await Under.of([folder]), readOnly);
beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'frelk-disk-'));
	mkdirSync(join(folder, 'a'));
	file = join(folder, 'a', 'desk.frelk.json');
	writeFileSync(file, example);
	disk = await served();
});
afterEach(async () => {
	full.is = false;
	await disk.close();
	rmSync(folder, { recursive: true, force: true });
});
const only = async () => (await disk.list())[0] as { key: string; name: string; size: number };

describe('what lies there', () => {
	it('is told with a key that stays the same for as long as the file lies where it does', async () => {
		const { key, name, size } = await only();
		expect({ key, name, size }).toEqual({
			key: keyOf(file),
			name: 'a/desk.frelk.json',
			size: Buffer.byteLength(example),
		});
		expect(key).toMatch(/^disk~desk~[0-9a-f]{12}$/);
		expect(await disk.read(key)).toMatchObject({ key, name, text: example, broken: null, writable: true });
		expect((await (await served(true)).read(key))?.writable).toBe(false);
	});

	it('is nothing outside of the folders, by a link neither, and nothing of another name', async () => {
		const outside = mkdtempSync(join(tmpdir(), 'frelk-out-'));
		writeFileSync(join(outside, 'secret.frelk.json'), example);
		symlinkSync(join(outside, 'secret.frelk.json'), join(folder, 'link.frelk.json'));
		symlinkSync(outside, join(folder, 'way'));
		writeFileSync(join(folder, 'package.json'), '{}');
		expect((await disk.list()).map(({ name }) => name)).toEqual(['a/desk.frelk.json']);
		for (const path of [join(outside, 'secret.frelk.json'), join(folder, 'package.json')])
			expect(await disk.read(keyOf(path))).toBeNull();
		// A file that became such a link since it was listed.
		const { key } = await only();
		rmSync(file);
		symlinkSync(join(outside, 'secret.frelk.json'), file);
		expect(await disk.read(key)).toBeNull();
		expect(await disk.save(key, null, called('Written'))).toMatchObject({ done: 'failed' });
		expect(readFileSync(join(outside, 'secret.frelk.json'), 'utf8')).toBe(example);
		// A folder that is gone, with a way out in its place.
		rmSync(join(folder, 'a'), { recursive: true });
		symlinkSync(outside, join(folder, 'a'));
		expect(await disk.save(key, null, called('Written'))).toMatchObject({ done: 'failed' });
		expect(existsSync(join(outside, 'desk.frelk.json'))).toBe(false);
		rmSync(outside, { recursive: true });
	});

	it('says of a broken file what is wrong with it', async () => {
		const { key } = await only();
		writeFileSync(file, '{ "format": ');
		expect((await disk.read(key))?.broken?.[0]).toMatch(/line 1/);
		writeFileSync(file, Uint8Array.of(0xff, 0xfe));
		expect((await disk.read(key))?.broken).toHaveLength(1);
	});

	it('has its text at the last commit', async () => {
		const { key } = await only();
		expect(await disk.committed(key)).toBeNull();
		const git = (...args: string[]) =>
			execFileSync('git', ['-c', 'user.name=a', '-c', 'user.email=a@b', ...args], { cwd: folder });
		git('init', '-q');
		git('add', '.');
		git('commit', '-qm', 'one');
		writeFileSync(file, called('Since'));
		expect(await disk.committed(key)).toBe(example);
		expect(await disk.committed('disk~none~000000000000')).toBeNull();
	});
});

describe('saving', () => {
	it('writes only the values that changed, and nothing where none did', async () => {
		const theirs = example.replaceAll('\n', '\r\n').replace('"name": ', '"name":\t');
		writeFileSync(file, theirs);
		const { key } = await only();
		const before = await disk.read(key);
		const other = called('Other', example);
		const saved = await disk.save(key, before?.hash ?? '', JSON.stringify(JSON.parse(other)));
		expect(readFileSync(file, 'utf8')).toBe(theirs.replace('"Purser\'s desk"', '"Other"'));
		expect(saved).toEqual({ done: 'written', hash: (await disk.read(key))?.hash });
		const { mtimeMs } = statSync(file);
		expect(await disk.save(key, (await disk.read(key))?.hash ?? '', other)).toEqual(saved);
		expect(statSync(file).mtimeMs).toBe(mtimeMs);
	});

	it('writes over nobody: who comes second is given what is there', async () => {
		const { key } = await only();
		const seen = (await disk.read(key))?.hash ?? '';
		const [one, two] = await Promise.all([disk.save(key, seen, called('One')), disk.save(key, seen, called('Two'))]);
		const [first, second] = one.done === 'written' ? [one, two] : [two, one];
		expect(first.done).toBe('written');
		expect(second).toMatchObject({ done: 'overtaken', file: { text: readFileSync(file, 'utf8'), broken: null } });
		writeFileSync(file, 'broken');
		expect(await disk.save(key, seen, called('Three'))).toMatchObject({ done: 'overtaken', file: { text: 'broken' } });
		expect(readFileSync(file, 'utf8')).toBe('broken');
		// Over a broken file it is written by whoever has seen that it is.
		expect(await disk.save(key, (await disk.read(key))?.hash ?? '', called('Four'))).toMatchObject({ done: 'written' });
		expect(JSON.parse(readFileSync(file, 'utf8')).name).toBe('Four');
	});

	it('says that a file is gone, and puts it back when that is asked for, with its folder', async () => {
		const { key } = await only();
		const seen = (await disk.read(key))?.hash ?? '';
		rmSync(join(folder, 'a'), { recursive: true });
		expect(await disk.save(key, seen, example)).toEqual({ done: 'gone' });
		expect(existsSync(file)).toBe(false);
		expect(await disk.save(key, null, example)).toMatchObject({ done: 'written' });
		expect(JSON.parse(readFileSync(file, 'utf8'))).toEqual(JSON.parse(example));
		expect(await disk.save('disk~none~000000000000', null, example)).toEqual({ done: 'gone' });
	});

	it('leaves alone what is read-only, and what it has no room for, and takes no text that is no project', async () => {
		const { key } = await only();
		const seen = (await disk.read(key))?.hash ?? '';
		expect(await (await served(true)).save(key, seen, called('X'))).toEqual({ done: 'read-only' });
		chmodSync(file, 0o444);
		expect(await disk.save(key, seen, called('X'))).toEqual({ done: 'read-only' });
		chmodSync(file, 0o644);
		full.is = true;
		expect(await disk.save(key, seen, called('X'))).toEqual({
			done: 'failed',
			why: expect.stringContaining('there is no room left on the disk'),
		});
		full.is = false;
		await expect(disk.save(key, seen, '{}')).rejects.toThrow('format');
		expect(readFileSync(file, 'utf8')).toBe(example);
	});
});

describe('news', () => {
	it('tells of a change once it is whole, of what is gone, and of where it went', async () => {
		const { key } = await only();
		const told: DiskNews[] = [];
		await disk.watch(() => {});
		disk.onNews((news) => told.push(news));
		const heard = (want: Partial<DiskNews>) =>
			vi.waitFor(() => expect(told).toContainEqual(expect.objectContaining(want)), 20_000);
		// Half of it, and the rest a moment later.
		writeFileSync(file, example.slice(0, 100));
		setTimeout(() => writeFileSync(file, called('Whole')), 90);
		await vi.waitFor(
			async () => expect(told.at(-1)).toMatchObject({ key, hash: (await disk.read(key))?.hash }),
			20_000,
		);
		expect((await disk.read(key))?.broken).toBeNull();
		await new Promise((done) => setTimeout(done, 2100));
		const moved = join(folder, 'moved.frelk.json');
		renameSync(file, moved);
		await heard({ key, gone: true, now: keyOf(moved) });
		rmSync(moved);
		await heard({ key: keyOf(moved), gone: true, now: null });
		mkdirSync(join(folder, 'node_modules'));
		writeFileSync(join(folder, 'node_modules', 'x.frelk.json'), example);
		writeFileSync(join(folder, 'new.frelk.json'), example);
		await heard({ name: 'new.frelk.json' });
		expect(told.some(({ name }) => name.includes('node_modules'))).toBe(false);
	});
});
