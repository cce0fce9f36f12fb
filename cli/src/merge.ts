/** `frelk merge` and `frelk git`: edits of two branches brought together by thing and field, and how git is told to do it so. */
import { appendFile, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { oneLine, type Project } from '@frelk/core';
import { differenceOf, differenceText, toldDifference, wordsOfClash } from '@frelk/core/differences';
import { mergeProjects, textWith } from '@frelk/core/editing';
import { type Io, load, reason, UsageError, write } from './files';
import { git, repositoryOf } from './revisions';

/**
 * What git calls for a file both branches changed. The result goes into OURS, its lines that say the same as they were.
 * @returns the exit code: 1 where both changed the same field, of which ours stands
 */
export async function merge(io: Io, base: string, ours: string, theirs: string): Promise<number> {
	const [mine, other] = [await load(io, ours), await load(io, theirs)];
	let before: Project;
	// Both began the file: all that is in it is new to either.
	if ((await stat(base).catch(() => null))?.size === 0)
		before = { ...mine.project, scene: { ...mine.project.scene, objects: [], cameras: [] }, queries: [] };
	else before = (await load(io, base)).project;
	const merged = mergeProjects(before, mine.project, other.project);
	await write(ours, textWith(new TextDecoder('utf-8', { ignoreBOM: true }).decode(mine.bytes), merged.project));
	for (const { kind, from, to } of merged.renamed)
		io.err(`frelk: ${kind} ${from} is new on both sides: ours is ${to} now\n`);
	if (merged.both.length === 0) return 0;
	for (const clash of merged.clashes)
		io.err(`frelk: both changed ${oneLine(wordsOfClash(clash, other.project))}; ours stands\n`);
	for (const words of merged.beside) io.err(`frelk: both changed ${oneLine(words)}\n`);
	if (merged.taken.length === 0) io.err('frelk: nothing of theirs was taken\n');
	return 1;
}

/** A file that is not there, as git names it. */
const NOTHING = '/dev/null';

/**
 * What `git diff` calls in place of its own, with the arguments it gives.
 * @returns 0 whatever differs: anything else ends git
 */
export async function gitDiff(io: Io, path: string, old: string, now: string): Promise<number> {
	io.out(`${path}: `);
	if (old === NOTHING || now === NOTHING) {
		io.out(`${old === NOTHING ? 'is new' : 'is gone'}\n`);
		return 0;
	}
	try {
		const [before, after] = [(await load(io, old)).project, (await load(io, now)).project];
		const difference = differenceOf(before, after, { maps: false, findings: false });
		io.out(differenceText(toldDifference(before, after, difference)));
	} catch (error) {
		if (!(error instanceof UsageError)) throw error;
		io.out(`cannot be read as a project\n${error.message}\n`);
	}
	return 0;
}

const ATTRIBUTES = '*.frelk.json merge=frelk diff=frelk';

/** Single quotes for a shell: git hands the line to one. */
const quoted = (word: string): string => `'${word.replaceAll("'", "'\\''")}'`;

/** This very command, as git is to call it on this machine. */
const itself = (): string => [process.execPath, process.argv[1] ?? 'frelk'].map(quoted).join(' ');

const settings = (): [string, string][] => [
	['merge.frelk.name', 'Frelk projects, by thing and field'],
	['merge.frelk.driver', `${itself()} merge %O %A %B`],
	['diff.frelk.command', `${itself()} git-diff`],
];

/** Prints what git is to be told, or with `install` tells it. */
export async function gitSetup(io: Io, install: boolean): Promise<number> {
	if (!install) {
		io.out(
			`# .gitattributes\n${ATTRIBUTES}\n\n# once on each machine, in the repository (frelk git --install does both)\n`,
		);
		for (const [key, value] of settings()) io.out(`git config ${key} ${quoted(value)}\n`);
		return 0;
	}
	const root = await repositoryOf(process.cwd());
	const file = join(root, '.gitattributes');
	const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
		if (error.code === 'ENOENT') return '';
		throw new UsageError(`${file}: ${reason(error)}`);
	});
	const has = text.split(/\r?\n/).includes(ATTRIBUTES);
	if (!has)
		await appendFile(file, `${text === '' || text.endsWith('\n') ? '' : '\n'}${ATTRIBUTES}\n`).catch(
			(error: NodeJS.ErrnoException) => {
				throw new UsageError(`${file}: cannot be written: ${reason(error)}`);
			},
		);
	for (const [key, value] of settings()) await git(['config', '--local', key, value], root);
	io.out(`${has ? '.gitattributes has its line already' : '.gitattributes has a line more: commit it'}\n`);
	io.out('git merges projects by thing and field here, and git diff tells what a change does\n');
	return 0;
}
