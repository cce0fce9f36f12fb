import { existsSync } from 'node:fs';
import { defineConfig } from '@playwright/test';

const PORT = 4319;
const chromium =
	process.env.CHROMIUM ??
	['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].find((path) => existsSync(path));

/** Another size of the window: FRELK_VIEWPORT=1100x700. */
const [width = 1280, height = 800] = (process.env.FRELK_VIEWPORT ?? '').split('x').filter(Boolean).map(Number);

export default defineConfig({
	testDir: 'e2e',
	outputDir: 'test-results',
	timeout: 240_000,
	// What is waited for comes at once on a machine of its own; on a shared one it may not.
	expect: { timeout: 60_000 },
	// By itself it leaves one core of two idle; more than two would be slower than what tests wait for.
	workers: 2,
	// Test by test, not file by file: the last file would keep one core waiting.
	fullyParallel: true,
	// On a shared machine a minute may be slow; what fails twice is broken. What passed only then is told as flaky.
	retries: 1,
	reporter: 'list',
	use: {
		baseURL: `http://127.0.0.1:${PORT}`,
		viewport: { width, height },
		colorScheme: 'light',
		// Each test is a new browser, which would fetch all of the application to keep it; one test lets it.
		serviceWorkers: 'block',
		launchOptions: {
			...(chromium ? { executablePath: chromium } : {}),
			args: [
				'--no-sandbox',
				'--enable-unsafe-swiftshader',
				'--disable-background-networking',
				'--disable-component-update',
				'--disable-sync',
				'--no-first-run',
				// Each test is a page of some seconds: what would be compiled to the utmost for it is thrown away with it.
				'--js-flags=--no-opt --single-threaded-gc',
			],
		},
	},
	webServer: {
		command: 'node scripts/start.mjs',
		url: `http://127.0.0.1:${PORT}/`,
		env: { PORT: String(PORT), FRELK_TOKEN: 'e2e-token' },
		reuseExistingServer: false,
		timeout: 120_000,
	},
});
