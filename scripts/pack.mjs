// Builds the packages as others install them: `@frelk/core` and the command `frelk`, as plain modules with declarations, without tests
// and without what runs TypeScript. `npm run pack` leaves their tarballs in build/packages.
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { build, root, run } from './lib.mjs';

const OUT = join(root, 'build', 'packages');
const readJson = (file) => JSON.parse(readFileSync(file, 'utf8'));
const writeJson = (file, value) => writeFileSync(file, `${JSON.stringify(value, null, '\t')}\n`);

/** Every file under a folder. */
const filesIn = (folder) =>
	readdirSync(folder, { recursive: true, withFileTypes: true })
		.filter((entry) => entry.isFile())
		.map((entry) => join(entry.parentPath, entry.name));

/** The sources name each other without an ending, as bundlers read them; Node and its types want `.js`. */
function withEndings(folder) {
	for (const file of filesIn(folder).filter((name) => /\.(js|d\.ts)$/.test(name))) {
		const text = readFileSync(file, 'utf8');
		writeFileSync(
			file,
			text.replace(/((?:from|import)\s*\(?\s*['"])(\.{1,2}\/[^'"]+?)(['"])/g, (whole, from, path, end) =>
				path.endsWith('.mjs') ? whole : `${from}${path}.js${end}`,
			),
		);
	}
}

/** The entries of the packages, by the names they are imported by. */
const ENTRIES = {
	core: {
		'.': 'index',
		'./maps': 'maps',
		'./runs': 'runs',
		'./traces': 'traces',
		'./editing': 'editing',
		'./differences': 'differences',
		'./geometry': 'geometry',
		'./schema': 'schema',
		'./formats': 'report/formats',
	},
	interchange: {
		'.': 'index',
		'./gltf': 'gltf/index',
		'./svg': 'svg/index',
		'./table': 'table',
		'./constants': 'constants',
	},
};
const PACKED = Object.fromEntries(
	Object.entries(ENTRIES).flatMap(([name, entries]) =>
		Object.entries(entries).map(([path, file]) => [
			`@frelk/${name}${path.slice(1)}`,
			[join(OUT, name, 'dist', `${file}.d.ts`)],
		]),
	),
);

async function compiled(name, to) {
	const config = join(OUT, `${name}.json`);
	writeJson(config, {
		extends: '../../tsconfig.base.json',
		compilerOptions: {
			noEmit: false,
			outDir: join(to, 'dist'),
			rootDir: join(root, name, 'src'),
			declaration: true,
			// What only our own tests look at.
			stripInternal: true,
			// What stands on others is built against them as they are packed.
			...(name === 'core' ? {} : { types: name === 'cli' ? ['node'] : [], paths: PACKED }),
			...(name === 'interchange' ? { lib: ['ES2023', 'DOM'] } : {}),
		},
		include: [join(root, name, 'src')],
		exclude: [join(root, name, 'src/**/*.test.ts'), join(root, name, 'src/tests')],
	});
	await run(process.execPath, [join(root, 'node_modules', 'typescript-7', 'bin', 'tsc'), '-p', config]);
	rmSync(config);
	withEndings(join(to, 'dist'));
}

/** What of a workspace's package.json its package has. */
function manifest(name, more) {
	const { version, license, description, dependencies } = readJson(join(root, name, 'package.json'));
	const { engines } = readJson(join(root, 'package.json'));
	return { version, description, license, type: 'module', engines, dependencies, ...more };
}

/** @param copies folders that are taken as they are, by where they go */
async function packed(name, fields, files = {}, copies = {}) {
	const to = join(OUT, name);
	mkdirSync(to, { recursive: true });
	await compiled(name, to);
	const made = manifest(name, fields);
	delete made.dependencies.tsx;
	writeJson(join(to, 'package.json'), made);
	cpSync(join(root, name, 'README.md'), join(to, 'README.md'));
	for (const [file, text] of Object.entries(files)) {
		mkdirSync(dirname(join(to, file)), { recursive: true });
		writeFileSync(join(to, file), text, { mode: 0o755 });
	}
	for (const [folder, from] of Object.entries(copies))
		cpSync(from, join(to, folder), { recursive: true, filter: (path) => !/\.test\.|\.map$/.test(path) });
	await run('npm', ['pack', '--silent', '--pack-destination', OUT], {
		cwd: to,
		stdio: ['ignore', 'ignore', 'inherit'],
	});
}

// The command brings the application with it.
await build();
rmSync(OUT, { recursive: true, force: true });
mkdirSync(OUT, { recursive: true });
const entry = (path) => ({ types: `./dist/${path}.d.ts`, default: `./dist/${path}.js` });
for (const [name, entries] of Object.entries(ENTRIES))
	await packed(name, {
		name: `@frelk/${name}`,
		sideEffects: false,
		exports: {
			...Object.fromEntries(Object.entries(entries).map(([path, file]) => [path, entry(file)])),
			'./package.json': './package.json',
		},
		files: ['dist'],
	});
await packed(
	'cli',
	{ name: 'frelk', bin: { frelk: './bin/frelk.mjs' }, files: ['bin', 'dist', 'server', 'app'] },
	{
		'bin/frelk.mjs': `#!/usr/bin/env node
import '../dist/command.js';
`,
	},
	{ server: join(root, 'cli', 'server'), app: join(root, 'app', 'build', 'client') },
);
for (const file of readdirSync(OUT).filter((name) => name.endsWith('.tgz')))
	console.log(join('build', 'packages', file));
