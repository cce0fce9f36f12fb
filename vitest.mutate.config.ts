import { configDefaults, defineConfig } from 'vitest/config';
import whole from './vitest.config';

// Without what tries thousands of generated projects, unless all is asked for: a survivor would cost a minute each, and only count as
// unseen by what was written for it. Other processes run what is built, not what is changed here.
const generated = process.env.FRELK_WHOLE
	? []
	: [
			'core/src/query/properties.test.ts',
			...(process.env.FRELK_MUTATE?.includes('core/src/project')
				? []
				: ['core/src/project/{bounds,uses,merge,read,record}.test.ts']),
			'core/src/checks/robustness.test.ts',
			// What asks whole projects over and over: it sees much, slowly, and was written for something else.
			...['run', 'map', 'remedy', 'findings', 'trace', 'report']
				.filter((name) => !process.env.FRELK_MUTATE?.includes(`core/src/${name}`))
				.map((name) => `core/src/${name}/**`),
		];

// What is changed is seen by the tests of its own half.
const half = (process.env.FRELK_MUTATE ?? 'core').split('/')[0];

export default defineConfig({
	test: {
		...whole.test,
		globalSetup: [],
		projects: undefined,
		// First those beside it, which see most.
		include: process.env.FRELK_NEAR
			? process.env.FRELK_NEAR.split(',').map((folder) => `${folder}/**/*.test.ts`)
			: [`${half}/**/*.test.ts`],
		exclude: [...configDefaults.exclude, 'core/src/fuzz.test.ts', ...generated],
		testTimeout: 20_000,
		pool: 'threads',
		isolate: false,
	},
});
