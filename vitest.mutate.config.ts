import { configDefaults, defineConfig, mergeConfig } from 'vitest/config';
import whole from './vitest.config';

// Without what tries thousands of generated projects, unless all is asked for: a survivor would cost a minute each, and only count as
// unseen by what was written for it. Other processes run what is built, not what is changed here.
const generated = process.env.FRELK_WHOLE
	? []
	: [
			'core/src/query/properties.test.ts',
			'core/src/project/{bounds,uses,merge,read,record}.test.ts',
			'core/src/checks/robustness.test.ts',
		];

export default mergeConfig(
	whole,
	defineConfig({
		test: {
			exclude: [...configDefaults.exclude, 'core/src/fuzz.test.ts', 'cli/**', 'scripts/**', ...generated],
			testTimeout: 20_000,
			pool: 'threads',
			isolate: false,
		},
	}),
);
