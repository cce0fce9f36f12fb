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

export default defineConfig({
	test: {
		include: [
			'interchange/**/*.test.ts',
			'core/**/*.test.ts',
			'cli/**/*.test.ts',
			'app/**/*.test.ts',
			'scripts/*.test.mjs',
		],
		setupFiles: ['vitest.setup.ts'],
		globalSetup: ['scripts/build-command.mjs'],
		testTimeout: 60_000,
		// By itself it leaves one core of two idle.
		maxWorkers: 2,
		sequence: { sequencer: LongFirst },
	},
});
