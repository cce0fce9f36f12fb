import { defineConfig } from 'vitest/config';

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
		testTimeout: 60_000,
		// By itself it leaves one core of two idle.
		maxWorkers: 2,
	},
});
