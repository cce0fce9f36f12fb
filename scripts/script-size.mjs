// Prints what the first load of each page ships in compressed script, from the build's own manifest.
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { root } from './lib.mjs';

const assets = join(root, 'app/build/client/assets');
const manifestFile = readdirSync(assets).find((f) => f.startsWith('manifest-'));
if (!manifestFile) throw new Error('the build has no manifest');
const manifest = JSON.parse(
	readFileSync(join(assets, manifestFile), 'utf8')
		.replace(/^window\.__reactRouterManifest=/, '')
		.replace(/;$/, ''),
);
const size = (path) => gzipSync(readFileSync(join(root, 'app/build/client', path)), { level: 9 }).length;
for (const [id, route] of Object.entries(manifest.routes)) {
	if (id === 'root') continue;
	const chain = [];
	for (let at = route; at; at = manifest.routes[at.parentId]) chain.push(at);
	const parts = [manifest.entry, ...chain].flatMap((r) => [r.module, ...(r.imports ?? [])]);
	const total = [...new Set(parts)].reduce((sum, path) => sum + size(path), 0);
	console.log(`${id}: ${(total / 1000).toFixed(1)} kB of compressed script at first load`);
}
