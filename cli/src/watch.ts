/** `frelk check --watch`: the checks again whenever a file changes. */
import { watch as watchFolder } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { type CheckOptions, check } from './check';
import { type Io, UsageError } from './files';

/** Editors write a file in several strokes; this long after the last one it is read, milliseconds. */
const SETTLE = 120;

/** Runs until the process is asked to end. @returns the outcome of the last run */
export async function watch(io: Io, files: readonly string[], options: CheckOptions): Promise<number> {
	if (files.includes('-')) throw new UsageError('--watch follows files; standard input cannot be watched');
	if (options.update) throw new UsageError('--watch and --update do not go together: what is wanted would follow every slip');
	let code = 0;
	const run = async () => {
		try {
			code = await check(io, files, options);
		} catch (error) {
			if (!(error instanceof UsageError)) throw error;
			code = 2;
			for (const line of error.message.split('\n')) io.err(`frelk: ${line}\n`);
		}
		io.err(`watching ${files.length === 1 ? files[0] : `${files.length} files`}\n`);
	};
	await run();
	// The folders are watched, not the files: many editors put a new file in place of the old one.
	const wanted = new Set(files.map((file) => resolve(file)));
	let timer: ReturnType<typeof setTimeout> | null = null;
	let running = Promise.resolve();
	const watchers = [...new Set([...wanted].map(dirname))].map((folder) =>
		watchFolder(folder, (_event, name) => {
			if (name === null || !wanted.has(resolve(folder, basename(name)))) return;
			if (timer !== null) clearTimeout(timer);
			timer = setTimeout(() => {
				running = running.then(run);
			}, SETTLE);
		}),
	);
	await new Promise<void>((done) => {
		for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, done);
	});
	if (timer !== null) clearTimeout(timer);
	for (const watcher of watchers) watcher.close();
	await running;
	return code;
}
