/** Reading and writing files for the command line: what is wrong in a line each, and nothing half written. */
import { existsSync } from 'node:fs';
import { access, constants, readFile, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { formatProblem, oneLine, type Project, type Reading, readBytes } from '@frelk/core';
import { lock } from 'proper-lockfile';
import { glob, isDynamicPattern } from 'tinyglobby';
import writeFileAtomic from 'write-file-atomic';

export interface Io {
	out: (text: string) => void;
	err: (text: string) => void;
	/** The whole of standard input. */
	stdin: () => Promise<Uint8Array>;
	/** Whether standard output may carry colour. */
	colour: boolean;
	/** Says on standard error what is under way, should it take long. */
	doing: (what: string) => void;
}

/** The file or the call is wrong: exit 2, the message as it stands. */
export class UsageError extends Error {}

/** A project with the bytes it was read from. */
export interface Source {
	file: string;
	bytes: Uint8Array;
	project: Project;
}

/** Longer ones do not fit into one text of this engine. */
export const MAX_BYTES = 500e6;

async function read(io: Io, file: string): Promise<{ bytes: Uint8Array; reading: Reading }> {
	io.doing(`reading ${file}`);
	let bytes: Uint8Array;
	try {
		bytes = file === '-' ? await io.stdin() : await readFile(file);
	} catch (error) {
		throw new UsageError(`${file}: ${reason(error as NodeJS.ErrnoException)}`);
	}
	if (bytes.length > MAX_BYTES)
		throw new UsageError(`${file}: is ${Math.round(bytes.length / 1e6)} MB; at most ${MAX_BYTES / 1e6} MB are read`);
	return { bytes, reading: readBytes(bytes) };
}

const REASONS: Record<string, string> = {
	ENOENT: 'no such file',
	EISDIR: 'is a folder, not a file',
	EACCES: 'may not be read or written',
	EPERM: 'may not be read or written',
	EROFS: 'lies on a disk that cannot be written',
	ENOSPC: 'there is no room left on the disk',
	EDQUOT: 'there is no room left on the disk',
	ERR_FS_FILE_TOO_LARGE: 'is too large to be read',
};

export const reason = (error: NodeJS.ErrnoException): string => REASONS[error.code ?? ''] ?? oneLine(error.message);

function lines(file: string, { problems, more }: Extract<Reading, { ok: false }>): string[] {
	const told = problems.map((p) => `${file}: ${formatProblem(p)}`);
	return more > 0 ? [...told, `${file}: and ${more} more`] : told;
}

/** @throws UsageError with one line per problem */
export async function load(io: Io, file: string): Promise<Source> {
	const { bytes, reading } = await read(io, file);
	if (reading.ok) return { file, bytes, project: reading.project };
	throw new UsageError(lines(file, reading).join('\n'));
}

/**
 * A project of bytes that are at hand already.
 * @param name as messages name it
 * @throws UsageError with one line per problem
 */
export function parse(name: string, bytes: Uint8Array): Project {
	const reading = readBytes(bytes);
	if (reading.ok) return reading.project;
	throw new UsageError(lines(name, reading).join('\n'));
}

/** Prints what is wrong with each file; @returns the exit code */
export async function validate(io: Io, files: readonly string[]): Promise<number> {
	let wrong = 0;
	for (const file of files) {
		const { reading } = await read(io, file);
		if (reading.ok) {
			const { project } = reading;
			const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : what.endsWith('y') ? '' : 's'}`;
			const queries = project.queries.length === 1 ? '1 query' : `${project.queries.length} queries`;
			io.out(
				`${file}: well (${count(project.scene.objects.length, 'object')}, ${queries}, ${count(project.checks?.length ?? 0, 'check')})\n`,
			);
		} else {
			wrong++;
			for (const line of lines(file, reading)) io.err(`${line}\n`);
		}
	}
	return wrong > 0 ? 2 : 0;
}

/**
 * Writes a file whole or not at all: beside it, flushed, then put in its place with the mode it had. What is no plain file (a pipe, a
 * device) is written to as it stands.
 * @throws UsageError when it cannot be written
 */
export async function write(file: string, text: string | Uint8Array): Promise<void> {
	try {
		const plain = await stat(file).then(
			(found) => found.isFile(),
			(error: NodeJS.ErrnoException) => {
				if (error.code === 'ENOENT') return true;
				throw error;
			},
		);
		const data = typeof text === 'string' ? text : Buffer.from(text);
		if (plain) await writeFileAtomic(file, data);
		else await writeFile(file, data);
	} catch (error) {
		const why = error as NodeJS.ErrnoException;
		const folder = why.code === 'ENOENT' ? `there is no folder ${dirname(file)}` : reason(why);
		throw new UsageError(`${file}: cannot be written: ${folder}`);
	}
}

/**
 * Whether a report could be written, found before the work it would tell of.
 * @throws UsageError where it could not
 */
export async function checkWritable(...files: readonly (string | undefined)[]): Promise<void> {
	for (const file of files) {
		if (file === undefined) continue;
		try {
			const found = await stat(file).catch((error: NodeJS.ErrnoException) => {
				if (error.code === 'ENOENT') return null;
				throw error;
			});
			if (found?.isDirectory()) throw Object.assign(new Error(), { code: 'EISDIR' });
			await access(found ? file : dirname(file), constants.W_OK);
			// A file is put in place of the one that is there.
			if (found?.isFile()) await access(dirname(file), constants.W_OK);
		} catch (error) {
			const why = error as NodeJS.ErrnoException;
			const folder = why.code === 'ENOENT' ? `there is no folder ${dirname(file)}` : reason(why);
			throw new UsageError(`${file}: cannot be written: ${folder}`);
		}
	}
}

/**
 * Files as they are given, and those that a pattern names: a shell that leaves `*` as it is, or quotes, come to the same.
 * @throws UsageError for a pattern that names none
 */
export async function filesOf(given: readonly string[]): Promise<string[]> {
	const out: string[] = [];
	for (const one of given) {
		if (one === '-' || !isDynamicPattern(one) || existsSync(one)) {
			out.push(one);
			continue;
		}
		const found = await glob(one.replaceAll('\\', '/'), { expandDirectories: false, dot: false });
		if (found.length === 0) throw new UsageError(`${one}: names no file`);
		out.push(...found.sort());
	}
	return [...new Set(out)];
}

/** A lock that nobody has renewed for so long is a dead process's, milliseconds. */
const STALE = 5000;
const RETRIES = { retries: 40, factor: 1, minTimeout: 200 };

/**
 * Does something with a file while nobody else who asks for its lock does: two commands at once take turns.
 * @throws UsageError where the lock cannot be had
 */
export async function locked<T>(file: string, act: () => Promise<T>): Promise<T> {
	let release: () => Promise<void>;
	try {
		release = await lock(file, { stale: STALE, retries: RETRIES });
	} catch (error) {
		const why = error as NodeJS.ErrnoException;
		throw new UsageError(
			`${file}: cannot be written: ${why.code === 'ELOCKED' ? 'another frelk is writing it' : reason(why)}`,
		);
	}
	try {
		return await act();
	} finally {
		await release();
	}
}

/**
 * Puts a new text in place of a file's, if the file still is what was read: whoever wrote meanwhile wins.
 * @throws UsageError when it is not, or cannot be written
 */
export const replaceFile = ({ file, bytes }: Source, text: string): Promise<void> =>
	locked(file, async () => {
		const now = await readFile(file).catch(() => null);
		if (!now || !Buffer.from(bytes).equals(now)) {
			const how = `was ${now ? 'changed' : 'taken away'} by someone else after it was read`;
			throw new UsageError(`${file}: ${how}; that stays, and nothing of this update is written. Run it again.`);
		}
		await write(file, text);
	});
