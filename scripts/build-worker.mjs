// Builds the service worker after the application: its list of files is that of the build, with the one page that answers every address
// of it. Which addresses those are is said in `pages.json`, for the server too.
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join, relative, sep } from 'node:path';
import { pathToFileURL } from 'node:url';
import { register } from 'tsx/esm/api';
import { root } from './lib.mjs';

const client = join(root, 'app/build/client');
register();
const { default: routes } = await import(pathToFileURL(join(root, 'app/src/routes.ts')).href);
/** Addresses of pages: `/p/:project/checks`. */
const pages = (list, above) =>
	list.flatMap(({ path, children = [] }) => {
		if (path === '*') return [];
		const own = path === undefined ? above : `${above}/${path}`;
		return children.length > 0 ? pages(children, own) : [own || '/'];
	});
const PAGES = pages(routes, '');
writeFileSync(join(client, 'pages.json'), `${JSON.stringify(PAGES)}\n`);
const files = readdirSync(client, { recursive: true, withFileTypes: true })
	.filter(
		(entry) =>
			entry.isFile() && !['sw.js', 'index.html', 'pages.json'].includes(entry.name) && !entry.name.endsWith('.map'),
	)
	.map((entry) => relative(client, join(entry.parentPath, entry.name)).split(sep).join('/'))
	.sort();
const digest = (data) => createHash('sha256').update(data).digest('hex').slice(0, 16);
const manifest = files.map((file) => ({
	url: `/${file}`,
	// The names of these carry their own.
	revision: file.startsWith('assets/') ? null : digest(readFileSync(join(client, file))),
}));
/** The page is another one whenever anything it is made of is. */
const version = digest(JSON.stringify(manifest) + readFileSync(join(client, 'index.html'), 'utf8'));
const list = [...manifest, { url: '/', revision: version }];

const { build } = await import(pathToFileURL(createRequire(join(root, 'app/package.json')).resolve('vite')).href);
rmSync(join(client, 'sw.js'), { force: true });
await build({
	root: join(root, 'app'),
	configFile: false,
	envDir: false,
	logLevel: 'warn',
	publicDir: false,
	define: {
		FILES: JSON.stringify(list),
		PAGES: JSON.stringify(PAGES),
		'process.env.NODE_ENV': '"production"',
	},
	build: {
		outDir: client,
		emptyOutDir: false,
		target: 'es2022',
		lib: { entry: join(root, 'app/src/sw/sw.ts'), formats: ['iife'], name: 'frelk', fileName: () => 'sw.js' },
	},
});
const bytes = files.reduce((sum, file) => sum + readFileSync(join(client, file)).length, 0);
console.log(`service worker: ${list.length} files, ${(bytes / 1e6).toFixed(1)} MB`);
