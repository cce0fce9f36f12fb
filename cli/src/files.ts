/** Reading project files for the command line, with one line per problem. */
import { readFile } from 'node:fs/promises';
import { formatProblem, type Project, type Reading, readProject } from '@frelk/core';

export interface Io {
	out: (text: string) => void;
	err: (text: string) => void;
	/** The whole of standard input. */
	stdin: () => Promise<string>;
	/** Whether standard error may carry colour. */
	colour: boolean;
}

/** The file or the call is wrong: exit 2, the message as it stands. */
export class UsageError extends Error {}

async function read(io: Io, file: string): Promise<Reading> {
	let text: string;
	try {
		text = file === '-' ? await io.stdin() : await readFile(file, 'utf8');
	} catch (error) {
		throw new UsageError(`${file}: ${reason(error as NodeJS.ErrnoException)}`);
	}
	return readProject(text);
}

function reason(error: NodeJS.ErrnoException): string {
	if (error.code === 'ENOENT') return 'no such file';
	if (error.code === 'EISDIR') return 'is a folder, not a file';
	if (error.code === 'EACCES') return 'may not be read';
	return error.message;
}

/** Lines told about one file; a wrong export can have a problem on every line. */
const MOST = 200;

function lines(file: string, { problems }: Extract<Reading, { ok: false }>): string[] {
	const told = problems.slice(0, MOST).map((p) => `${file}: ${formatProblem(p)}`);
	return problems.length > MOST ? [...told, `${file}: and ${problems.length - MOST} more`] : told;
}

/** @throws UsageError with one line per problem */
export async function load(io: Io, file: string): Promise<Project> {
	const reading = await read(io, file);
	if (reading.ok) return reading.project;
	throw new UsageError(lines(file, reading).join('\n'));
}

/** Prints what is wrong with each file; @returns the exit code */
export async function validate(io: Io, files: readonly string[]): Promise<number> {
	let wrong = 0;
	for (const file of files) {
		const reading = await read(io, file);
		if (reading.ok) {
			const { project } = reading;
			const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : what.endsWith('y') ? '' : 's'}`;
			const queries = project.queries.length === 1 ? '1 query' : `${project.queries.length} queries`;
			io.out(`${file}: well (${count(project.scene.objects.length, 'object')}, ${queries}, ${count(project.checks?.length ?? 0, 'check')})\n`);
		} else {
			wrong++;
			for (const line of lines(file, reading)) io.err(`${line}\n`);
		}
	}
	return wrong > 0 ? 2 : 0;
}
