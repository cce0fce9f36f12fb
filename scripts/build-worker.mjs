// Builds the service worker after the application: its list of files is that of the build, each page as the server gives it.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, relative, sep } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './lib.mjs';

const client = join(root, 'app/build/client');
const files = readdirSync(client, { recursive: true, withFileTypes: true })
	.filter((entry) => entry.isFile() && !/^sw\.js/.test(entry.name) && !entry.name.endsWith('.map'))
	.map((entry) => relative(client, join(entry.parentPath, entry.name)).split(sep).join('/'))
	.sort();
const digest = (data) => createHash('sha256').update(data).digest('hex').slice(0, 16);
const manifest = files.map((file) => ({
	url: `/${file}`,
	// The names of these carry their own.
	revision: file.startsWith('assets/') ? null : digest(readFileSync(join(client, file))),
}));
/** A page is another one whenever anything it is made of is. */
const version = digest(JSON.stringify(manifest));
const PAGES = ['/', '/guide', '/p/_', '/p/_/checks', '/p/_/filters', '/p/_/time', '/p/_/level'];
const list = [...manifest, ...PAGES.map((url) => ({ url, revision: version }))];

const { build } = await import(pathToFileURL(createRequire(join(root, 'app/package.json')).resolve('vite')).href);
rmSync(join(client, 'sw.js'), { force: true });
await build({
	root: join(root, 'app'),
	configFile: false,
	envDir: false,
	logLevel: 'warn',
	publicDir: false,
	define: { FILES: JSON.stringify(list), 'process.env.NODE_ENV': '"production"' },
	build: {
		outDir: client,
		emptyOutDir: false,
		target: 'es2022',
		lib: { entry: join(root, 'app/src/sw/sw.ts'), formats: ['iife'], name: 'frelk', fileName: () => 'sw.js' },
	},
});
const bytes = files.reduce((sum, file) => sum + readFileSync(join(client, file)).length, 0);
console.log(`service worker: ${list.length} files, ${(bytes / 1e6).toFixed(1)} MB`);
