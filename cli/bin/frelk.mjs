#!/usr/bin/env node
// From the repository: the sources put together once for as long as they stay the same, so that a call begins in half a second. Where that
// cannot be done they run as they are.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');

/** Names, sizes and times of all sources. */
function state() {
	const hash = createHash('sha256');
	for (const part of ['core/src', 'interchange/src', 'cli/src', 'cli/server'])
		for (const entry of readdirSync(join(root, part), { recursive: true, withFileTypes: true })) {
			if (!entry.isFile() || !/\.m?[jt]s$/.test(entry.name) || entry.name.endsWith('.test.ts')) continue;
			const path = join(entry.parentPath ?? entry.path, entry.name);
			const { size, mtimeMs } = statSync(path);
			hash.update(`${path} ${size} ${mtimeMs}\n`);
		}
	return hash.digest('hex').slice(0, 24);
}

/** @returns the command put together from the sources as they are now */
async function built() {
	const cache = join(root, 'node_modules', '.cache', 'frelk-command');
	const folder = join(cache, state());
	const command = join(folder, 'command.js');
	if (existsSync(command)) return command;
	const { build } = await import('esbuild');
	const own = join(cache, `under-way-${process.pid}`);
	await build({
		absWorkingDir: root,
		entryPoints: ['command', 'map-part', 'check-part', 'lsp-part', 'check-request'].map((name) =>
			join(root, 'cli/src', `${name}.ts`),
		),
		outdir: own,
		bundle: true,
		splitting: true,
		format: 'esm',
		platform: 'node',
		target: 'node20',
		logLevel: 'silent',
		plugins: [
			{
				name: 'packages',
				setup({ onResolve }) {
					// Our own packages are put together; those of others are loaded as they lie.
					onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
						kind === 'entry-point' || path.startsWith('@frelk/') ? undefined : { path, external: true },
					);
				},
			},
		],
	});
	for (const name of readdirSync(cache))
		if (!name.startsWith('under-way-')) rmSync(join(cache, name), { recursive: true, force: true });
	mkdirSync(cache, { recursive: true });
	renameSync(own, folder);
	return command;
}

// The application that `frelk open` serves, wherever the command put together lies.
process.env.FRELK_APP ??= join(root, 'app/build/client');
let command = null;
try {
	command = await built();
} catch {
	// No place to write to, or two at once: the sources run all the same.
}
if (command !== null) await import(pathToFileURL(command).href);
else {
	const { register } = await import('tsx/esm/api');
	register();
	await import('../src/command.ts');
}
