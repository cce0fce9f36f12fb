import { defineConfig, mergeConfig } from 'vitest/config';
import whole from './vitest.config';

// Without what tries thousands of generated projects: a survivor would cost a minute each, and only count as unseen by what was written for it.
export default mergeConfig(
	whole,
	defineConfig({
		test: {
			exclude: ['**/node_modules/**', 'core/src/fuzz.test.ts', 'core/src/query/properties.test.ts', 'core/src/project/bounds.test.ts', 'cli/**', 'scripts/**'],
			testTimeout: 20_000,
		},
	}),
);
