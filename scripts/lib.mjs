// What the starter and the test runner share. Node built-ins only: this runs before anything is installed.
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command with its output on ours; rejects when it fails. */
export function run(command, args, options = {}) {
	return new Promise((resolve, reject) => {
		const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
		child.on('error', reject);
		child.on('exit', (code, signal) =>
			code === 0 ? resolve() : reject(new Error(`${[command, ...args].join(' ')} ended with ${signal ?? code}`)),
		);
	});
}

const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';
const shell = process.platform === 'win32';

/** What is installed, and what is built, is looked at itself: a note of it would outlive a removed folder or a process that was killed. */
function read(file) {
	try {
		return JSON.parse(readFileSync(file, 'utf8'));
	} catch {
		return null;
	}
}

/**
 * Whether every package of the lock file that the build needs lies there in its version. npm itself notes what it has put in place, when
 * it is done; it is enough that somebody ran `npm ci`.
 */
export function isInstalled(base = root) {
	const lock = read(join(base, 'package-lock.json'))?.packages ?? {};
	const there = read(join(base, 'node_modules', '.package-lock.json'))?.packages;
	if (!there) return false;
	return Object.entries(lock).every(([path, wanted]) => {
		// Of another system, or one of the workspaces.
		if (!path.includes('node_modules/') || wanted.optional || wanted.devOptional || wanted.peer) return true;
		if (wanted.link) return existsSync(join(base, path));
		return there[path]?.version === wanted.version && existsSync(join(base, path, 'package.json'));
	});
}

/** Installs from the lock file, unless that has been done. */
export async function install() {
	if (isInstalled()) return;
	console.log('Installing packages from the lock file…');
	// The build needs the development packages, whatever the environment says of production.
	const env = { ...process.env };
	delete env.NODE_ENV;
	await run(npm, ['ci', '--include=dev', '--no-audit', '--no-fund', '--loglevel=error'], { shell, env });
	if (!isInstalled())
		throw new Error(
			'npm ci ended well, but not every package of the lock file is there. Remove node_modules and try again.',
		);
}

const SKIP = new Set(['node_modules', 'build', '.react-router', 'test-results']);

/** Names, sizes and times of all that the build reads: the guide in it is read from docs, with its pictures. */
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
	for (const folder of ['core', 'interchange', 'app', 'examples', 'docs']) walk(join(root, folder));
	hash.update(readFileSync(join(root, 'package-lock.json')));
	return hash.digest('hex');
}

/** Builds the application, unless nothing it is built from has changed since the last time. */
export async function build() {
	const state = sourcesState();
	const note = join(root, 'app/build/.built-from');
	if (read(note) === state && existsSync(join(root, 'app/build/client/pages.json'))) return;
	console.log('Building…');
	const env = { ...process.env };
	delete env.NODE_ENV;
	await run(npm, ['run', 'build', '--silent'], { shell, env });
	writeFileSync(note, JSON.stringify(state));
}
