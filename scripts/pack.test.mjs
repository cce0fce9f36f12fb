// The packages as somebody else has them: installed from their tarballs into an empty folder, without the repository.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readGltf, writeGlb } from '../interchange/src/gltf/index.ts';
import { levelInto } from '../interchange/src/index.ts';
import { root } from './lib.mjs';

const packages = join(root, 'build', 'packages');
const core = join(packages, 'frelk-core-0.1.0.tgz');
const interchange = join(packages, 'frelk-interchange-0.1.0.tgz');
const frelk = join(packages, 'frelk-0.1.0.tgz');
const listed = (tarball) => execFileSync('tar', ['tzf', tarball], { encoding: 'utf8' }).trim().split('\n');
const folder = mkdtempSync(join(tmpdir(), 'frelk-pack-'));
const node = (...args) => spawnSync(process.execPath, args, { cwd: folder, encoding: 'utf8' });

/** What the packages depend on, from what is installed here: a test needs no network. */
function dependencies() {
	const wanted = { '@frelk/core': `file:${core}`, '@frelk/interchange': `file:${interchange}`, frelk: `file:${frelk}` };
	for (const name of ['core', 'interchange', 'cli']) {
		const { dependencies: of } = JSON.parse(readFileSync(join(root, name, 'package.json'), 'utf8'));
		for (const other of Object.keys(of))
			if (!other.startsWith('@frelk/') && other !== 'tsx') wanted[other] = `file:${join(root, 'node_modules', other)}`;
	}
	return wanted;
}

beforeAll(() => {
	execFileSync(process.execPath, [join(root, 'scripts', 'pack.mjs')], { stdio: 'ignore' });
	writeFileSync(
		join(folder, 'package.json'),
		JSON.stringify({ name: 'empty', private: true, type: 'module', dependencies: dependencies() }),
	);
	execFileSync('npm', ['install', '--offline', '--no-audit', '--no-fund', '--silent'], {
		cwd: folder,
		stdio: 'ignore',
	});
}, 180_000);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('the tarballs', () => {
	it('hold what is built and nothing that tests it', () => {
		for (const file of [...listed(core), ...listed(interchange), ...listed(frelk)]) {
			expect(file).toMatch(
				/^package\/(package\.json|README\.md|bin\/frelk\.mjs|dist\/.+\.(js|d\.ts)|server\/[\w-]+\.(d\.)?mjs|server\/serve\.d\.mts|app\/[\w./-]+)$/,
			);
			expect(file).not.toMatch(/test|oracle|random/);
		}
		expect(listed(core)).toContain('package/dist/index.d.ts');
	});
});

describe('@frelk/core', () => {
	it('gives the answers of its README, under strict TypeScript and under plain Node', () => {
		const readme = readFileSync(join(folder, 'node_modules', '@frelk', 'core', 'README.md'), 'utf8');
		const block = (language) => new RegExp(`\`\`\`${language}\\n([^]*?)\`\`\``).exec(readme)?.[1] ?? '';
		expect(block('ts').split('\n').length).toBeLessThan(30);
		writeFileSync(join(folder, 'first.ts'), block('ts'));
		const tsc = join(root, 'node_modules', 'typescript-7', 'bin', 'tsc');
		const strict = ['--strict', '--exactOptionalPropertyTypes', '--module', 'nodenext', '--target', 'es2022'];
		const compiled = node(tsc, ...strict, '--types', '', '--lib', 'es2023,dom', 'first.ts');
		expect(compiled.stdout).toBe('');
		const run = node('first.js');
		expect(run.stderr).toBe('');
		expect(run.stdout).toBe(block('text'));
		// What is not in the file is not in the types.
		writeFileSync(join(folder, 'wrong.ts'), block('ts').replace("kind: 'ray'", "kind: 'ray', reach: 3"));
		expect(node(tsc, ...strict, '--noEmit', '--types', '', '--lib', 'es2023,dom', 'wrong.ts').stdout).toContain(
			"'reach'",
		);
	});

	it('gives out its entries and nothing of what is inside', () => {
		const tried = (name) => node('--input-type=module', '-e', `await import('${name}')`);
		const names = (entry) =>
			JSON.parse(
				node(
					'--input-type=module',
					'-e',
					`console.log(JSON.stringify(Object.keys(await import('@frelk/core${entry}'))))`,
				).stdout,
			);
		// Each says one thing by its name, and by one entry.
		const all = ['', '/maps', '/runs', '/traces', '/editing', '/differences', '/geometry', '/schema', '/formats'].map(
			names,
		);
		expect(all.map((entry) => entry.length > 0)).toEqual(all.map(() => true));
		expect(all[0]).not.toContain('project');
		const [own, ...beside] = all.slice(0, 6);
		expect(beside.flat().filter((name) => own.includes(name))).toEqual([]);
		for (const inside of ['@frelk/core/dist/query/answer.js', '@frelk/core/query/answer', '@frelk/core/tests/random'])
			expect(tried(inside).stderr).toContain('ERR_PACKAGE_PATH_NOT_EXPORTED');
	});
});

describe('@frelk/interchange', () => {
	it('reads a level as the example of its README does, and as the sources do', async () => {
		const readme = readFileSync(join(folder, 'node_modules', '@frelk', 'interchange', 'README.md'), 'utf8');
		const example = /```js\n([\s\S]*?)```/.exec(readme)?.[1] ?? '';
		const quay = JSON.parse(readFileSync(join(root, 'examples', 'harl-quay.frelk.json'), 'utf8'));
		const bytes = await writeGlb(quay);
		writeFileSync(join(folder, 'yard.glb'), bytes);
		writeFileSync(join(folder, 'level.mjs'), `${example}console.log(JSON.stringify(project));\n`);
		const run = node('level.mjs');
		expect(run.stderr).toBe('');
		const level = await readGltf([{ name: 'yard.glb', bytes }]);
		// As the example has them.
		const given = { layer: 'walls', rules: [{ when: { name: '*_trigger' }, layer: 'sensors', role: 'sensor' }] };
		const { project, report } = levelInto(level, given, null, 'yard.glb');
		expect(report.unmatched.length).toBeGreaterThan(10);
		expect(run.stdout.startsWith(`${project.scene.objects.length} [`)).toBe(true);
		expect(JSON.parse(run.stdout.trimEnd().split('\n').at(-1))).toEqual(JSON.parse(JSON.stringify(project)));
	});

	it('gives out nothing of what is inside', () => {
		const inside = node('--input-type=module', '-e', "await import('@frelk/interchange/dist/gltf/embedded.js')");
		expect(inside.stderr).toContain('ERR_PACKAGE_PATH_NOT_EXPORTED');
	});
});

describe('both', () => {
	it('have the types one needs, for Node’s own way of finding modules', () => {
		writeFileSync(
			join(folder, 'uses.ts'),
			`import { type Answer, Answerer, buildWorld, type Project, type Query, readProject, type Verdict, type World } from '@frelk/core';
import { type Body, nearestOn, rotationOf } from '@frelk/core/geometry';
const reading = readProject('{}');
const project: Project | null = reading.ok ? reading.project : null;
export function ask(world: World, query: Query): readonly Verdict[] {
	const answer: Answer = new Answerer(world).explain(query);
	return answer.verdicts;
}
export const world = project && buildWorld(project);
export const near = (body: Body, out: Float64Array): number => nearestOn(body, 0, 0, 0, out) + (rotationOf([0, 0, 0])[0] ?? 0);
// @ts-expect-error a project is not a text
buildWorld('text');
`,
		);
		writeFileSync(
			join(folder, 'levels.ts'),
			`import { type ImportReport, type Level, levelInto, type NamingRules } from '@frelk/interchange';
import { projectIn, readGltf, writeGlb } from '@frelk/interchange/gltf';
import { writeSvg } from '@frelk/interchange/svg';
const rules: NamingRules = { rules: [] };
export async function read(bytes: Uint8Array<ArrayBuffer>): Promise<ImportReport> {
	const level: Level = await readGltf([{ name: 'a.glb', bytes }]);
	const { project, report } = levelInto(level, rules, null, 'a.glb');
	const again = await projectIn({ name: 'b.glb', bytes: await writeGlb(project) });
	return again && writeSvg(again) === '' ? report : report;
}
// @ts-expect-error a level is not a text
levelInto('text', rules, null, 'a.glb');
`,
		);
		const tsc = join(root, 'node_modules', 'typescript-7', 'bin', 'tsc');
		const flags = ['--noEmit', '--strict', '--skipLibCheck', '--module', 'nodenext', '--target', 'es2022'];
		expect(node(tsc, ...flags, 'uses.ts', 'levels.ts').stdout).toBe('');
	});
});

describe('frelk', () => {
	it('runs without the repository, with its exit codes', () => {
		for (const name of ['harl-quay', 'harl-quay-before'])
			copyFileSync(join(root, 'examples', `${name}.frelk.json`), join(folder, `${name}.frelk.json`));
		const bin = join('node_modules', 'frelk', 'bin', 'frelk.mjs');
		const answer = node(bin, 'answer', 'harl-quay.frelk.json', '--query', 'gaze', '--json');
		expect(JSON.parse(answer.stdout).answers[0].selected[0].object).toBe('crank');
		expect(node(bin, 'check', 'harl-quay.frelk.json').status).toBe(0);
		expect(node(bin, 'check', 'harl-quay-before.frelk.json').status).toBe(1);
		expect(node(bin, 'check', 'nothing.frelk.json').status).toBe(2);
		const diff = node(bin, 'diff', 'harl-quay-before.frelk.json', 'harl-quay.frelk.json', '--no-maps');
		expect([diff.status, diff.stdout.split('\n')[0]]).toEqual([
			1,
			'16 edits; 14 answers change; fixes 2 checks; 1 run goes otherwise',
		]);
		expect(node(bin, 'git').stdout).toContain('merge=frelk');
		// Servers end with the one who asked, and say nothing where nobody did.
		for (const server of ['lsp', 'mcp']) expect([server, node(bin, server).stdout]).toEqual([server, '']);
		expect(node(bin, 'export', 'harl-quay.frelk.json', '--gltf', 'quay.glb').status).toBe(0);
		expect(node(bin, 'import', 'quay.glb', '--into', 'again.frelk.json').status).toBe(0);
		expect(readFileSync(join(folder, 'again.frelk.json'), 'utf8')).toBe(
			readFileSync(join(folder, 'harl-quay.frelk.json'), 'utf8'),
		);
		expect(readFileSync(join(folder, 'node_modules', 'frelk', 'package.json'), 'utf8')).not.toContain('tsx');
	}, 180_000);

	it('brings the application, and opens it on the files of a folder', async () => {
		const child = spawn(process.execPath, [join('node_modules', 'frelk', 'bin', 'frelk.mjs'), 'open', '--read-only'], {
			cwd: folder,
			stdio: ['ignore', 'pipe', 'inherit'],
		});
		let said = '';
		for await (const part of child.stdout) {
			said += part;
			if (/key=\S+/.test(said)) break;
		}
		const address = /http:\S+/.exec(said)?.[0];
		const entered = await fetch(address, { redirect: 'manual' });
		const cookie = entered.headers.get('set-cookie').split(';')[0];
		const page = await (await fetch(new URL('/p/any/checks', address))).text();
		const script = /import "(\/assets\/manifest-[^"]+)"/.exec(page)?.[1];
		expect((await fetch(new URL(script, address))).status).toBe(200);
		const listed = await fetch(new URL('/api/disk/projects', address), { headers: { cookie } });
		expect((await listed.json()).projects.map(({ name }) => name)).toContain('harl-quay.frelk.json');
		const checked = await fetch(new URL('/api/check', address), {
			method: 'POST',
			headers: { 'Content-Type': 'application/json' },
			body: readFileSync(join(root, 'examples', 'pursers-desk.frelk.json')),
		});
		expect([checked.status, (await checked.json()).failed]).toEqual([200, 0]);
		const over = new Promise((done) => child.once('exit', done));
		child.kill();
		expect(await over).toBe(0);
	}, 60_000);
});
