/** `--watch`: a command again whenever a file changes. */
import { existsSync, statSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { type Io, UsageError } from './files';

/** Editors write a file in several strokes; this long after the last one it is read, milliseconds. */
const SETTLE = 120;
/** How often a file is looked at, milliseconds. */
const LOOK = 250;

/** What tells a file from itself a moment ago; by path, as editors put a new file in place of the old one, and folders are checked out anew. */
function stateOf(file: string): string {
	try {
		const { mtimeMs, ino, size } = statSync(file);
		return `${mtimeMs} ${ino} ${size}`;
	} catch {
		// Gone, or not to be read for now: reading it says which.
		return 'none';
	}
}

const SIGNALS = ['SIGINT', 'SIGTERM'] as const;

/**
 * @param act what is done at first, and again whenever a file changes
 * @param until when to end: by default when the process is asked to, at once where something is being done
 * @returns the outcome of the last run
 */
export async function watch(
	io: Io,
	files: readonly string[],
	act: () => Promise<number>,
	until: () => Promise<void> = () => new Promise(() => {}),
): Promise<number> {
	if (files.includes('-')) throw new UsageError('--watch follows files; standard input cannot be watched');
	let code = 0;
	let end = () => {};
	const asked = new Promise<void>((done) => {
		end = done;
	});
	/** What is being worked out hears no signal: without somebody who listens it ends the process by itself. */
	const listen = (how: 'on' | 'off') => {
		for (const signal of SIGNALS) process[how](signal, end);
	};
	const run = async () => {
		listen('off');
		try {
			code = await act();
		} catch (error) {
			if (!(error instanceof UsageError)) throw error;
			code = 2;
			for (const line of error.message.split('\n')) io.err(`frelk: ${line}\n`);
		} finally {
			listen('off');
			listen('on');
		}
		io.doing('');
		io.err(`watching ${files.length === 1 ? files[0] : `${files.length} files`}\n`);
	};
	for (const file of files)
		if (!existsSync(dirname(resolve(file))))
			throw new UsageError(`${file}: there is no folder ${dirname(file)} to watch`);
	// Looked at before they are read: what changes while they are checked is seen at the next look.
	let seen = files.map(stateOf);
	await run();
	let timer: ReturnType<typeof setTimeout> | null = null;
	let running = Promise.resolve();
	const look = () => {
		const now = files.map(stateOf);
		if (now.every((state, i) => state === seen[i])) return;
		seen = now;
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(() => {
			running = running.then(run);
		}, SETTLE);
	};
	const looking = setInterval(look, LOOK);
	await Promise.race([until(), asked]);
	listen('off');
	clearInterval(looking);
	if (timer !== null) clearTimeout(timer);
	await running;
	return code;
}
