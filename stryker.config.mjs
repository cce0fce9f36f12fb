/** Mutation testing: `npm run mutate -- FOLDER…`, by default the whole core that answers. See docs/mutation.md. */
const folders = (
	process.env.FRELK_MUTATE ?? 'core/src/geometry,core/src/space,core/src/world,core/src/query,core/src/checks'
).split(',');

export default {
	testRunner: 'vitest',
	plugins: ['@stryker-mutator/vitest-runner'],
	vitest: { configFile: 'vitest.mutate.config.ts', related: true },
	mutate: folders
		.flatMap((name) => (/\.tsx?(:|$)/.test(name) ? [name] : [`${name}/**/*.ts`, `${name}/**/*.tsx`]))
		.concat('!**/*.test.ts', '!**/*.test.tsx'),
	mutator: { excludedMutations: ['StringLiteral'] },
	coverageAnalysis: 'perTest',
	ignoreStatic: true,
	ignorePatterns: ['**/build', '**/.react-router', '**/test-results', 'docs/screenshots', 'e2e'],
	concurrency: Number(process.env.FRELK_CORES ?? 2),
	// Beside half as much again as the tests take: what runs on without end costs this and a new worker.
	timeoutMS: 4_000,
	tempDirName: 'build/mutants',
	reporters: ['clear-text', 'json', 'progress'],
	clearTextReporter: { allowColor: false, logTests: false, reportTests: false },
	jsonReporter: { fileName: 'build/mutation.json' },
	cleanTempDir: 'always',
};
