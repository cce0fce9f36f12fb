// What the starter and the test runner share. Node built-ins only: this runs before anything is installed.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const stamps = join(root, 'node_modules', '.frelk');

/** Runs a command with its output on ours; rejects when it fails. */
export function run(command, args, options = {}) {
	return new Promise((resolve, reject) => {
		const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
		child.on('error', reject);
		child.on('exit', (code, signal) => (code === 0 ? resolve() : reject(new Error(`${[command, ...args].join(' ')} ended with ${signal ?? code}`))));
	});
}

const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';
const shell = process.platform === 'win32';

function stampOf(name) {
	const file = join(stamps, name);
	return existsSync(file) ? readFileSync(file, 'utf8') : '';
}

function setStamp(name, value) {
	mkdirSync(stamps, { recursive: true });
	writeFileSync(join(stamps, name), value);
}

/** Installs from the lock file, unless that very lock file has been installed. */
export async function install() {
	const wanted = createHash('sha256')
		.update(readFileSync(join(root, 'package-lock.json')))
		.digest('hex');
	if (stampOf('installed') === wanted) return;
	console.log('Installing packages from the lock file…');
	await run(npm, ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { shell });
	setStamp('installed', wanted);
}

const SKIP = new Set(['node_modules', 'build', '.react-router', 'test-results']);

/** Names, sizes and times of all that the build reads. */
function sourcesState() {
	const hash = createHash('sha256');
	const walk = (folder) => {
		for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
			if (SKIP.has(entry.name)) continue;
			const path = join(folder, entry.name);
			if (entry.isDirectory()) walk(path);
			else {
				const { size, mtimeMs } = statSync(path);
				hash.update(`${path}\n${size} ${mtimeMs}\n`);
			}
		}
	};
	for (const folder of ['core', 'app', 'examples']) walk(join(root, folder));
	hash.update(readFileSync(join(root, 'package-lock.json')));
	return hash.digest('hex');
}

/** Builds the application, unless nothing it is built from has changed since the last time. */
export async function build() {
	const state = sourcesState();
	if (stampOf('built') === state && existsSync(join(root, 'app/build/server/index.js'))) return;
	console.log('Building…');
	await run(npm, ['run', 'build', '--silent'], { shell });
	setStamp('built', state);
}
