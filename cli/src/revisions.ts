/** Files as they were at a revision, asked of the git that is there: as a process, never through a shell. */
import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, relative, resolve, sep } from 'node:path';
import { oneLine } from '@frelk/core';
import { MAX_BYTES, UsageError } from './files';

/**
 * @param args of git
 * @throws UsageError with what git says
 */
export function git(args: readonly string[], cwd = process.cwd()): Promise<Buffer> {
	return new Promise((done, failed) => {
		execFile('git', args, { cwd, maxBuffer: MAX_BYTES, encoding: 'buffer' }, (error, out, err) => {
			if (!error) return done(out);
			if ((error as NodeJS.ErrnoException).code === 'ENOENT')
				return failed(new UsageError('git is asked for what was there before, and it is not installed'));
			const said = oneLine(err.toString('utf8').trim().split('\n')[0] ?? '').replace(/^(fatal|error): /, '');
			failed(new UsageError(`git: ${said || oneLine(error.message)}`));
		});
	});
}

/** `REVISION:path`, where no file is called so. */
function partsOf(given: string): { revision: string; path: string } | null {
	const at = given.indexOf(':');
	// One letter before the colon is a disk.
	if (at < 1 || existsSync(given) || /^[A-Za-z]:[\\/]/.test(given)) return null;
	return { revision: given.slice(0, at), path: given.slice(at + 1) };
}

/**
 * @param given `REVISION:path`, the path from the root of the repository or, where there is no such, from the present folder
 * @returns the bytes of the file at that revision; null where what is given names a file on disk
 * @throws UsageError where git has no such file
 */
export async function atRevision(given: string): Promise<Uint8Array | null> {
	const parts = partsOf(given);
	if (!parts) return null;
	const { revision, path } = parts;
	// What begins with a dash would be an option.
	if (revision.startsWith('-')) throw new UsageError(`${given}: is no revision`);
	try {
		return await git(['cat-file', 'blob', `${revision}:${path}`]);
	} catch (error) {
		if (path.startsWith('./') || path.startsWith('../')) throw error;
		return await git(['cat-file', 'blob', `${revision}:./${path}`]).catch(() => {
			throw error;
		});
	}
}

/** A project file that is another one since a revision, as it was and as it is. */
interface Changed {
	/** From the present folder. */
	file: string;
	/** Null where it was not there. */
	before: Uint8Array | null;
	isThere: boolean;
}

/**
 * Project files that changed since a revision: edited, new (also those git does not know yet), gone.
 * @param paths files or folders; by default all
 * @throws UsageError for a revision git does not know
 */
export async function changedSince(revision: string, paths: readonly string[]): Promise<Changed[]> {
	if (revision.startsWith('-')) throw new UsageError(`${revision}: is no revision`);
	await git(['rev-parse', '--verify', '--quiet', `${revision}^{commit}`]).catch(() => {
		throw new UsageError(`git knows no revision ${revision}`);
	});
	const root = (await git(['rev-parse', '--show-toplevel'])).toString('utf8').replace(/\n$/, '');
	const within = ['--', ...(paths.length > 0 ? paths : ['.'])];
	const names = (out: Buffer) =>
		out
			.toString('utf8')
			.split('\0')
			.filter((name) => name.endsWith('.frelk.json'));
	const edited = names(await git(['diff', '--name-only', '--no-renames', '-z', revision, ...within]));
	const own = names(await git(['ls-files', '--others', '--exclude-standard', '--full-name', '-z', ...within]));
	const out: Changed[] = [];
	for (const name of [...new Set([...edited, ...own])].sort()) {
		const path = resolve(root, name);
		const before = await git(['cat-file', 'blob', `${revision}:${name}`], root).catch(() => null);
		out.push({ file: relative(process.cwd(), path) || name, before, isThere: existsSync(path) });
	}
	return out;
}

/** The root of the repository a folder is in. @throws UsageError where it is in none */
export const repositoryOf = async (folder: string): Promise<string> =>
	(await git(['rev-parse', '--show-toplevel'], folder === '' ? dirname('.') : folder))
		.toString('utf8')
		.replace(/\n$/, '');

/**
 * A file on disk as it was at a revision.
 * @throws UsageError where git knows neither
 */
export async function fileAt(revision: string, file: string): Promise<Uint8Array> {
	if (revision.startsWith('-')) throw new UsageError(`${revision}: is no revision`);
	const folder = dirname(file);
	const path = relative(await repositoryOf(folder), file)
		.split(sep)
		.join('/');
	return git(['cat-file', 'blob', `${revision}:${path}`], folder);
}
