// Builds the command for the tests that run it as a process, before them all: from its sources each of their processes would take a
// second longer to begin. Vitest calls it; the sources as they are, and the packed command, have tests of their own.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root } from './lib.mjs';

const { build } = await import(pathToFileURL(createRequire(join(root, 'app/package.json')).resolve('vite')).href);

export default async function buildCommand() {
	await build({
		root: join(root, 'cli'),
		configFile: false,
		envDir: false,
		logLevel: 'warn',
		publicDir: false,
		ssr: { noExternal: [/^@frelk\//] },
		build: {
			ssr: true,
			target: 'node20',
			outDir: join(root, 'build', 'command'),
			emptyOutDir: true,
			rollupOptions: {
				input: {
					frelk: join(root, 'cli/src/command.ts'),
					'process-io': join(root, 'cli/src/process-io.ts'),
					'map-part': join(root, 'cli/src/map-part.ts'),
					'check-part': join(root, 'cli/src/check-part.ts'),
					'check-request': join(root, 'cli/src/check-request.ts'),
					'lsp-part': join(root, 'cli/src/lsp-part.ts'),
				},
				// All in one folder: the worker is looked for beside what starts it.
				output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
			},
		},
	});
}
