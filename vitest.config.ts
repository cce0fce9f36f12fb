import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** What takes longest begins first, so that no core waits for it at the end: on a clean checkout no durations are known. */
const LONG = ['pack', 'safe-writing', 'properties', 'fuzz', 'why', 'api-check', 'together', 'oracle'];

class LongFirst extends BaseSequencer {
	override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
		const place = ({ moduleId }: TestSpecification): number => {
			const at = LONG.findIndex((name) => moduleId.includes(`/${name}.test.`));
			return at < 0 ? LONG.length : at;
		};
		return (await super.sort(files)).sort((a, b) => place(a) - place(b));
	}
}

const FOLDERS = ['interchange', 'core', 'cli', 'app'];

/** What puts something of its own in place of a module or of what is global has a process of its own; all others share theirs. */
const APART = /vi\.(mock|doMock|stubGlobal)\(|fake-indexeddb/;
const isApart = (file: string): boolean => APART.test(readFileSync(join(import.meta.dirname, file), 'utf8'));
const files = FOLDERS.flatMap((folder) =>
	readdirSync(join(import.meta.dirname, folder), { recursive: true, encoding: 'utf8' })
		.filter((file) => /\.test\.(ts|mjs)$/.test(file) && !file.includes('node_modules'))
		.map((file) => join(folder, file)),
).concat(
	readdirSync(join(import.meta.dirname, 'scripts'))
		.filter((file) => file.endsWith('.test.mjs'))
		.map((file) => join('scripts', file)),
);

export default defineConfig({
	test: {
		setupFiles: ['vitest.setup.ts'],
		globalSetup: ['scripts/build-command.mjs'],
		// Only what never ends runs into these: on a busy machine everything takes ten times as long.
		testTimeout: 300_000,
		hookTimeout: 300_000,
		// By itself it leaves one core of two idle.
		maxWorkers: 2,
		sequence: { sequencer: LongFirst },
		projects: [
			{ extends: true, test: { name: 'apart', include: files.filter(isApart), isolate: true } },
			{ extends: true, test: { name: 'shared', include: files.filter((file) => !isApart(file)), isolate: false } },
		],
	},
});
