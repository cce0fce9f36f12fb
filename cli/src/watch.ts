/** `frelk check --watch`: the checks again whenever a file changes. */
import { existsSync, type Stats, unwatchFile, watchFile } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { type CheckOptions, check } from './check';
import { type Io, UsageError } from './files';

/** Editors write a file in several strokes; this long after the last one it is read, milliseconds. */
const SETTLE = 120;
/** How often a file is looked at, milliseconds. */
const LOOK = 250;

/** Runs until the process is asked to end. @returns the outcome of the last run */
export async function watch(io: Io, files: readonly string[], options: CheckOptions): Promise<number> {
	if (files.includes('-')) throw new UsageError('--watch follows files; standard input cannot be watched');
	if (options.update)
		throw new UsageError('--watch and --update do not go together: what is wanted would follow every slip');
	let code = 0;
	const run = async () => {
		try {
			code = await check(io, files, options);
		} catch (error) {
			if (!(error instanceof UsageError)) throw error;
			code = 2;
			for (const line of error.message.split('\n')) io.err(`frelk: ${line}\n`);
		}
		io.doing('');
		io.err(`watching ${files.length === 1 ? files[0] : `${files.length} files`}\n`);
	};
	for (const file of files)
		if (!existsSync(dirname(resolve(file))))
			throw new UsageError(`${file}: there is no folder ${dirname(file)} to watch`);
	await run();
	let timer: ReturnType<typeof setTimeout> | null = null;
	let running = Promise.resolve();
	const changed = (now: Stats, before: Stats) => {
		if (now.mtimeMs === before.mtimeMs && now.ino === before.ino && now.size === before.size) return;
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(() => {
			running = running.then(run);
		}, SETTLE);
	};
	// By path, not by what lies there: editors put a new file in place of the old one, and whole folders are checked out anew.
	for (const file of files) watchFile(file, { interval: LOOK }, changed);
	await new Promise<void>((done) => {
		for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, done);
	});
	if (timer !== null) clearTimeout(timer);
	for (const file of files) unwatchFile(file, changed);
	await running;
	return code;
}
