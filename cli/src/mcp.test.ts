/** An assistant at work, with the protocol's own client: it finds out why, mends it, and shows that the checks hold. */
import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Client } from '@modelcontextprotocol/sdk/client/index.js';
import { StdioClientTransport } from '@modelcontextprotocol/sdk/client/stdio.js';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { command, root } from './tests/command';

const folder = mkdtempSync(join(tmpdir(), 'frelk-mcp-'));
const served = join(folder, 'levels');
const before = join(served, 'quay.frelk.json');
const text = () => readFileSync(before, 'utf8');
const example = () => copyFileSync(join(root, 'examples/harl-quay-before.frelk.json'), before);

beforeAll(() => {
	mkdirSync(join(served, 'node_modules'), { recursive: true });
	example();
	writeFileSync(join(served, 'broken.frelk.json'), '{');
	copyFileSync(before, join(served, 'node_modules', 'other.frelk.json'));
	copyFileSync(before, join(folder, 'outside.frelk.json'));
	symlinkSync(join(folder, 'outside.frelk.json'), join(served, 'link.frelk.json'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

let client = new Client({ name: 'a test', version: '1' });
afterEach(() => client.close());

async function connected(...options: string[]): Promise<void> {
	client = new Client({ name: 'a test', version: '1' });
	await client.connect(
		new StdioClientTransport({ command: process.execPath, args: [command, 'mcp', served, ...options], stderr: 'pipe' }),
	);
}
async function said(name: string, given: object = {}): Promise<{ text: string; wrong: boolean; more?: string }> {
	const { content, isError } = await client.callTool({ name, arguments: { ...given } });
	const [first, second] = content as { type: string; text: string }[];
	return { text: first?.text ?? '', wrong: isError === true, ...(second ? { more: second.text } : {}) };
}
const told = async (name: string, given: object = {}) => {
	const { text, wrong } = await said(name, given);
	expect(wrong, text).toBe(false);
	return JSON.parse(text);
};
const project = 'quay.frelk.json';

describe('frelk mcp', () => {
	it('lists what is served: no packages, nothing that a link leads to outside, and why a file is none', async () => {
		await connected();
		const list = await told('list_projects');
		expect(list.map((p: { project: string }) => p.project)).toEqual(['broken.frelk.json', project]);
		expect(list[0].problems[0]).toContain('broken.frelk.json: ');
		expect(list[1]).toMatchObject({ name: 'Quay at Harl, before the fix', scene: 'space', maps: [] });
		for (const name of [
			'../outside.frelk.json',
			'link.frelk.json',
			join(folder, 'outside.frelk.json'),
			'no.frelk.json',
		])
			expect(await said('ask', { project: name, query: 'gaze' })).toEqual({
				text: `${name}: is not among the projects that are served here`,
				wrong: true,
			});
	});

	it('finds out why the crank is not selected, mends it, and shows that the check holds', async () => {
		await connected('--write');
		const answer = await told('ask', { project, query: 'gaze', losers: 2 });
		expect(answer).toMatchObject({ status: 'selected', selected: [{ object: 'crate-4' }] });
		expect(answer.losers).toHaveLength(2);
		expect(answer.losers[0].why).toMatch(/behind|farther/);
		const checks = await told('check', { project });
		expect(checks.failing.map((c: { id: string }) => c.id)).toContain('gaze');
		const why = await told('why_not', { project, query: 'gaze', object: 'crank' });
		expect(why.verdict.stage).toBe('sight');
		const remedy = why.remedies.find((r: { fixes: string[] }) => r.fixes.includes('gaze'));
		const lines = text().split('\n').length;
		const edit = await told('edit', { project, patch: remedy.patch });
		expect(edit).toMatchObject({ written: true, fixes: expect.arrayContaining(['gaze']) });
		expect((await told('check', { project, only: 'gaze' })).failing).toEqual([]);
		expect(Math.abs(text().split('\n').length - lines)).toBeLessThan(3);
		example();
	});

	it('writes nothing unless it may, and says as a person would read it why an edit is refused', async () => {
		await connected();
		const was = text();
		const patch = [{ op: 'replace', path: '/queries/0/length', value: 3 }];
		const tried = await told('edit', { project, patch });
		expect(tried.written).toBe(false);
		expect(tried.edits[0]).toMatch(/length .* → 3 m/);
		expect(text()).toBe(was);
		expect(
			(await said('edit', { project, patch: [{ op: 'replace', path: '/queries/0/length', value: -3 }] })).text,
		).toMatch(/^refused: the project would not be valid\nqueries\[0\]\.length: must be 0 or more, got -3$/);
		expect((await said('edit', { project, patch: [{ op: 'remove', path: '/queries/99' }] })).text).toMatch(
			/^refused: operation 0: /,
		);
		expect((await said('ask', { project, query: 'gase' })).text).toBe('no query "gase" (did you mean "gaze"?)');
	});

	it('hands longer results out in pieces that put together are the whole', async () => {
		await connected();
		const patch = [{ op: 'replace', path: '/name', value: 'Other' }];
		let piece = (await said('edit', { project, patch })).more ?? '';
		let whole = '';
		for (let i = 0; i < 50; i++) {
			expect(piece.length).toBeLessThanOrEqual(20_000);
			const more = /\n\[\d+ characters more: call rest with key "(\d+)"\]$/.exec(piece);
			whole += more ? piece.slice(0, more.index) : piece;
			if (!more) break;
			piece = (await said('rest', { key: more[1] })).text;
		}
		expect(whole).toBe(text().replace('Quay at Harl, before the fix', 'Other'));
		expect((await said('rest', { key: '1' })).wrong).toBe(true);
	});

	it('tells runs, findings, maps, and what changed since a revision', async () => {
		const git = (...args: string[]) =>
			execFileSync('git', ['-c', 'user.name=A', '-c', 'user.email=a@example.org', ...args], {
				cwd: served,
				stdio: 'ignore',
			});
		git('init', '-q');
		git('add', '-A');
		git('commit', '-qm', 'Start');
		writeFileSync(before, text().replace('"name": "Quay at Harl, before the fix"', '"name": "Otherwise"'));
		await connected();
		expect((await told('diff', { project, since: 'HEAD' })).edits).toEqual([
			'project: name Quay at Harl, before the fix → Otherwise',
		]);
		expect((await said('diff', { project, since: 'nowhere' })).wrong).toBe(true);
		const [{ runs }] = (await told('list_projects')).slice(1);
		expect((await said('run', { project, run: runs[0] })).text).toMatch(/^ {3}0\.000 s {2}/);
		expect(
			(await told('findings', { project, level: 'warning' })).every((f: { level: string }) => f.level !== 'note'),
		).toBe(true);
		expect((await said('map', { project, map: 'x' })).text).toContain('no map "x"');
		example();
	});
});
