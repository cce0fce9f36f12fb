// `npm test`: installs, fetches Chromium where that is possible, then types, lint, build, unit tests and end-to-end tests.
import { existsSync } from 'node:fs';
import { build, install, run } from './lib.mjs';

const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

async function chromium() {
	const found = process.env.CHROMIUM ?? CHROMIUM.find((path) => existsSync(path));
	if (found) return found;
	if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get'))
		throw new Error(
			'The end-to-end tests need Chromium. Install it (on Debian: apt-get install chromium), or set CHROMIUM to its path.',
		);
	console.log('Installing Chromium from Debian…');
	const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
	await run('apt-get', ['update', '-qq'], { env });
	await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], { env });
	return CHROMIUM[0];
}

const bin = (name) => `node_modules/.bin/${name}`;

try {
	await install();
	const path = await chromium();
	const steps = [
		[
			'Types, lint and build',
			() => Promise.all([run('npm', ['run', 'types', '--silent']), run('npm', ['run', 'lint', '--silent']), build()]),
		],
		['Unit tests', () => run(bin('vitest'), ['run'])],
		['End-to-end tests', () => run(bin('playwright'), ['test'], { env: { ...process.env, CHROMIUM: path } })],
	];
	for (const [name, step] of steps) {
		const start = Date.now();
		console.log(`\n== ${name}`);
		await step();
		console.log(`== ${name}: ${((Date.now() - start) / 1000).toFixed(1)} s`);
	}
} catch (error) {
	console.error(`\n${error.message}`);
	process.exit(1);
}
