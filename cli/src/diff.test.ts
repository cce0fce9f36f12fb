/** What a change does, told on the command line, in a real repository, and two branches brought together in one. */
import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Ajv from 'ajv/dist/2020';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { command, root } from './tests/command';

const folder = realpathSync(mkdtempSync(join(tmpdir(), 'frelk-diff-')));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A process in the repository. */
function run(file: string, args: string[], input?: string) {
	try {
		const out = execFileSync(file, args, {
			cwd: folder,
			encoding: 'utf8',
			input: input ?? '',
			stdio: ['pipe', 'pipe', 'pipe'],
			env: { ...process.env, GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_SYSTEM: '/dev/null', GIT_PAGER: 'cat' },
		});
		return { code: 0, out, err: '' };
	} catch (error) {
		const { status, stdout, stderr } = error as { status: number; stdout: string; stderr: string };
		return { code: status, out: stdout, err: stderr };
	}
}
const git = (...args: string[]) => run('git', ['-c', 'user.name=A', '-c', 'user.email=a@example.org', ...args]);
const frelk = (...args: string[]) => run(process.execPath, [command, ...args]);
const level = (name = 'levels/quay.frelk.json') => join(folder, name);
const text = (name?: string) => readFileSync(level(name), 'utf8');

/** Two crates behind each other on lines of their own, as a hand writes a file. */
const START = `{
	"format": "frelk/1", "id": "quay", "name": "Quay",
	"scene": {
		"kind": "space", "layers": [{ "id": "a" }], "tags": [], "cameras": [],
		"objects": [
			{ "id": "near", "name": "Near", "layer": "a", "position": [0, 0, -2], "shapes": [{ "id": "s", "kind": "sphere", "radius": 0.5 }] },
			{ "id": "far",  "name": "Far",  "layer": "a", "position": [0, 0, -6], "shapes": [{ "id": "s", "kind": "sphere", "radius": 0.5 }] }
		]
	},
	"queries": [{ "id": "gaze", "name": "Gaze", "kind": "ray", "from": { "point": [0, 0, 0] }, "aim": { "along": [0, 0, -1] }, "length": 10.0 }],
	"checks": [{ "id": "first", "query": "gaze", "expect": { "selects": ["near"] } }]
}
`;
const change = (from: string, to: string, name?: string) => writeFileSync(level(name), text(name).replace(from, to));
const commit = (message: string) => {
	git('add', '-A');
	git('commit', '-qm', message);
};

// biome-ignore lint/suspicious/noExplicitAny: a project that is changed by hand
type Loose = any;

beforeAll(() => {
	git('init', '-q', '-b', 'main');
	mkdirSync(join(folder, 'levels'));
});
beforeEach(() => {
	git('merge', '--abort');
	git('checkout', '-qf', 'main');
	git('branch', '-qD', 'other');
	writeFileSync(level(), START);
	commit('Start');
});

describe('frelk diff', () => {
	it('of two files, of a revision, of standard input says what was edited and what is answered otherwise', () => {
		expect(frelk('diff', 'HEAD:levels/quay.frelk.json', level())).toEqual({
			code: 0,
			out: 'nothing differs\n',
			err: '',
		});
		change('"position": [0, 0, -2]', '"position": [3, 0, -2]');
		const wanted = [
			'1 edit; 1 answer changes; breaks 1 check',
			'',
			'Edits',
			'  Near moved 3 m +X',
			'',
			'Answers',
			'  Gaze (as laid out): Near → Far',
			'    Near: missed by 2.5 m',
			'',
			'Breaks',
			'  first',
			'',
		].join('\n');
		expect(frelk('diff', 'HEAD:levels/quay.frelk.json', 'levels/quay.frelk.json')).toEqual({
			code: 1,
			out: wanted,
			err: '',
		});
		expect(run(process.execPath, [command, 'diff', 'HEAD:levels/quay.frelk.json', '-'], text()).out).toBe(wanted);
		const { code, out } = frelk('diff', '--since', 'HEAD', 'levels');
		expect([code, out]).toEqual([1, `levels/quay.frelk.json: ${wanted}`]);
	});

	it('goes over all that changed since a revision: edited, new, gone', () => {
		writeFileSync(level('levels/new.frelk.json'), START.replace('"id": "quay"', '"id": "new"'));
		writeFileSync(level('levels/old.frelk.json'), START);
		git('add', 'levels/old.frelk.json');
		git('commit', '-qm', 'Old');
		rmSync(level('levels/old.frelk.json'));
		change('10.0', '4');
		const { code, out } = frelk('diff', '--since', 'HEAD');
		expect(out).toBe(
			[
				'levels/new.frelk.json: is new: 2 objects, 1 query, 1 check',
				'',
				'levels/old.frelk.json: is gone: 2 objects, 1 query, 1 check',
				'',
				'levels/quay.frelk.json: 1 edit; no answer changes',
				'',
				'Edits',
				'  Gaze: length 10 m → 4 m',
				'',
			].join('\n'),
		);
		expect(code).toBe(0);
		rmSync(level('levels/new.frelk.json'));
		change('4', '10.0');
		git('checkout', '-q', '--', '.');
		expect(frelk('diff', '--since', 'HEAD').out).toBe('no project changed\n');
	});

	it('prints JSON as its schema has it, and writes a summary and a page', () => {
		change('"position": [0, 0, -2]', '"position": [3, 0, -2]');
		const [summary, page] = [join(folder, 'summary.md'), join(folder, 'page.html')];
		const { code, out } = frelk('diff', '--since', 'HEAD', '--json', '--markdown', summary, '--html', page);
		expect(code).toBe(1);
		const schema = JSON.parse(readFileSync(join(root, 'docs/schemas/diff.schema.json'), 'utf8'));
		const valid = new Ajv({ strict: false, allowUnionTypes: true }).compile(schema);
		expect(valid(JSON.parse(out)), JSON.stringify(valid.errors)).toBe(true);
		expect(JSON.parse(out).files[0]).toMatchObject({
			file: 'levels/quay.frelk.json',
			edits: [{ kind: 'object', ids: ['near'], words: 'Near moved 3 m +X' }],
			answers: [
				{ query: 'gaze', before: { objects: ['near'] }, after: { objects: ['far'] }, lost: { stage: 'touch' } },
			],
			checks: [{ check: 'first', before: 'holds', after: 'fails' }],
		});
		expect(readFileSync(summary, 'utf8')).toContain('| Gaze | as laid out | Near | Far | Near: missed by 2.5 m |');
		expect(readFileSync(page, 'utf8')).toContain('<h3>Before: Near</h3>');
		rmSync(summary);
		rmSync(page);
	});

	it.each([
		[['HEAD:no.frelk.json', 'levels/quay.frelk.json'], /git: path 'no.frelk.json' does not exist in 'HEAD'/],
		[['nowhere:x', 'levels/quay.frelk.json'], /git: /],
		[['--since', 'nowhere'], /git knows no revision nowhere/],
		[['--since=--output=x'], /--output=x: is no revision/],
		[['levels/quay.frelk.json'], /two files are held against each other/],
		[['-', '-'], /one file, not two/],
	])('%j is told what is wrong with it', (args, message) => {
		const { code, out, err } = frelk('diff', ...args);
		expect([code, out]).toEqual([2, '']);
		expect(err).toMatch(message);
	});
});

describe('git that was told', () => {
	const branch = (recipe: () => void) => {
		git('checkout', '-qb', 'other');
		recipe();
		commit('There');
		git('checkout', '-q', 'main');
	};

	it('prints the lines, and writes them once', () => {
		const { out } = frelk('git');
		expect(out).toContain('# .gitattributes\n*.frelk.json merge=frelk diff=frelk\n');
		expect(out).toMatch(/git config merge\.frelk\.driver '.* merge %O %A %B'/);
		expect(frelk('git', '--install').out).toContain('has a line more');
		expect(frelk('git', '--install').out).toContain('has its line already');
		expect(text('.gitattributes')).toBe('*.frelk.json merge=frelk diff=frelk\n');
		expect(git('config', 'merge.frelk.driver').out).toContain(`${command}' merge %O %A %B`);
	});

	it('merges two branches that move different things, though they stand on one line, and keeps the writing of the file', () => {
		frelk('git', '--install');
		commit('Told');
		writeFileSync(level(), START.replaceAll('\n', '').replaceAll('\t', ''));
		commit('On one line');
		branch(() => change('"position": [0, 0, -6]', '"position": [0, 0, -9]'));
		change('"position": [0, 0, -2]', '"position": [0, 0, -3]');
		commit('Here');
		expect(git('merge', '-q', 'other').code).toBe(0);
		expect(text()).toBe(START.replaceAll('\n', '').replaceAll('\t', '').replace('-6]', '-9]').replace('-2]', '-3]'));
	});

	it('has two that move the same thing in conflict, and names it with both values', () => {
		frelk('git', '--install');
		commit('Told');
		branch(() => change('"position": [0, 0, -6]', '"position": [0, 0, -9]'));
		change('"position": [0, 0, -6]', '"position": [5, 0, -6]');
		commit('Here');
		const { code, err, out } = git('merge', 'other');
		expect(code).toBe(1);
		expect(err).toContain('both changed Far: position (5, 0, -6) m here, (0, 0, -9) m there; ours stands');
		expect(out).toContain('CONFLICT');
		expect(text()).toContain('"position": [5, 0, -6]');
	});

	it('names what one deleted and the other needs beside what both changed, and says where nothing of theirs was taken', () => {
		const apart = (ours: (p: Loose) => void, theirs: (p: Loose) => void) => {
			const [base, mine, other] = ['base', 'ours', 'theirs'].map((name) => join(folder, `${name}.json`)) as [
				string,
				string,
				string,
			];
			const edited = (recipe: (p: Loose) => void) => {
				const p = JSON.parse(START);
				recipe(p);
				return JSON.stringify(p);
			};
			writeFileSync(base, START);
			writeFileSync(mine, edited(ours));
			writeFileSync(other, edited(theirs));
			const { code, err } = frelk('merge', base, mine, other);
			const now = JSON.parse(readFileSync(mine, 'utf8'));
			for (const file of [base, mine, other]) rmSync(file);
			return { code, err, now };
		};
		const needed = apart(
			(p) => {
				p.scene.objects.splice(1, 1);
				p.queries[0].length = 4;
			},
			(p) => {
				p.checks.push({ id: 'second', query: 'gaze', expect: { selects: ['near'], not: ['far'] } });
				p.queries[0].length = 6;
			},
		);
		expect(needed.code).toBe(1);
		expect(needed.err).toContain('both changed Gaze: length 4 m here, 6 m there; ours stands');
		expect(needed.err).toContain('both changed Far (deleted by one, needed by the other: kept)');
		expect(needed.now.scene.objects).toHaveLength(2);
		const round = apart(
			(p) => {
				p.scene.objects[0].parent = 'far';
				p.queries[0].length = 4;
			},
			(p) => {
				p.scene.objects[1].parent = 'near';
				p.queries[0].length = 6;
			},
		);
		expect(round.code).toBe(1);
		expect(round.err).toContain('both changed more than can be brought together');
		expect(round.err).toContain('nothing of theirs was taken');
		expect(round.now.scene.objects[1].parent).toBeUndefined();
	});

	it('git diff tells what a change does, in words', () => {
		frelk('git', '--install');
		commit('Told');
		change('"position": [0, 0, -2]', '"position": [3, 0, -2]');
		const { code, out } = git('diff', '--ext-diff');
		expect(code).toBe(0);
		expect(out).toContain('levels/quay.frelk.json: 1 edit; 1 answer changes');
		expect(out).toContain('Gaze (as laid out): Near → Far');
		writeFileSync(level(), '{');
		expect(git('diff', '--ext-diff').out).toContain('cannot be read as a project');
		rmSync(level());
		expect(git('diff', '--ext-diff').out).toContain('is gone');
	});
});
