/** `frelk check`: the checks of one or more projects, for build servers. */
import { writeFile } from 'node:fs/promises';
import {
	activeChecks,
	type Check,
	csvReport,
	didYouMean,
	htmlReport,
	junitXml,
	markdownReport,
	type Project,
	runChecks,
	type SuiteResult,
	updatedExpectation,
	wordsOfGot,
	wordsOfWanted,
	writeProject,
} from '@frelk/core';
import { type Io, load, UsageError } from './files';

export interface CheckOptions {
	moment?: string;
	only?: string;
	junit?: string;
	json?: boolean;
	shard?: string;
	csv?: string;
	markdown?: string;
	html?: string;
	update?: boolean;
}

/** @returns the exit code: 0 when all hold, 1 when one does not */
export async function check(io: Io, files: readonly string[], options: CheckOptions): Promise<number> {
	if (options.update && files.includes('-')) throw new UsageError('--update writes into the files; standard input cannot be written');
	if (options.html !== undefined && files.length > 1) throw new UsageError('--html makes the page of one project; give one file');
	const shard = options.shard === undefined ? null : parseShard(options.shard);
	const loaded: { file: string; project: Project }[] = [];
	for (const file of files) loaded.push({ file, project: await load(io, file) });
	const moments = loaded.flatMap(({ project }) => (project.moments ?? []).map((m) => m.id));
	if (options.moment !== undefined && !moments.includes(options.moment))
		throw new UsageError(`${files.join(', ')}: no moment "${options.moment}"${didYouMean(options.moment, moments)}`);
	const chosen = loaded.map(({ project }) => ({ project, checks: choose(project, options) }));
	if (options.only !== undefined && chosen.every((c) => c.checks.length === 0)) {
		const ids = loaded.flatMap(({ project }) => (project.checks ?? []).map((c) => c.id));
		throw new UsageError(`no check "${options.only}"${didYouMean(options.only, ids)}`);
	}
	if (chosen.every((c) => c.checks.length === 0))
		throw new UsageError(`${files.join(', ')}: there is no check to run${options.moment === undefined ? '' : ` at the moment "${options.moment}"`}`);
	let place = 0;
	const suites: SuiteResult[] = chosen.map(({ project, checks }) => ({
		project: project.id,
		// Shards deal the checks out one by one over all files, so that they come out alike in size.
		checks: runChecks(
			project,
			checks.filter(() => shard === null || place++ % shard.of === shard.index - 1),
		),
	}));
	const all = suites.flatMap((s) => s.checks);
	const failed = all.filter((c) => !c.pass).length;
	if (options.junit !== undefined) await write(options.junit, junitXml(suites));
	if (options.csv !== undefined) await write(options.csv, csvReport(suites));
	if (options.markdown !== undefined) await write(options.markdown, markdownReport(suites));
	if (options.html !== undefined && loaded[0] && suites[0]) await write(options.html, htmlReport(loaded[0].project, suites[0].checks));
	if (options.update) return await update(io, loaded, suites);
	if (options.json) io.out(`${JSON.stringify({ format: 'frelk-checks/1', projects: suites, passed: all.length - failed, failed }, null, 2)}\n`);
	else {
		const red = (text: string) => (io.colour ? `\u001b[31m${text}\u001b[0m` : text);
		for (const suite of suites)
			for (const c of suite.checks) {
				const where = `${suite.project}  ${c.query}${c.moment === null ? '' : ` at ${c.moment}`}  ${c.id}`;
				io.out(c.pass ? `holds  ${where}\n` : `${red('fails')}  ${where}: ${c.reason}\n`);
			}
		io.out(`${all.length - failed} hold, ${failed} fail\n`);
	}
	return failed > 0 ? 1 : 0;
}

async function write(file: string, text: string): Promise<void> {
	try {
		await writeFile(file, text);
	} catch (error) {
		throw new UsageError(`${file}: cannot be written (${(error as Error).message})`);
	}
}

/** Shows what failing checks wanted and what they get, and writes the latter into the files. @returns 1 where one cannot be updated */
async function update(io: Io, loaded: { file: string; project: Project }[], suites: readonly SuiteResult[]): Promise<number> {
	let left = 0;
	let changed = 0;
	for (const [i, { file, project }] of loaded.entries()) {
		let here = 0;
		for (const result of suites[i]?.checks ?? []) {
			const target = project.checks?.find((c) => c.id === result.id);
			if (result.pass || !target) continue;
			const next = updatedExpectation(target, result.got);
			if (!next) {
				left++;
				io.out(`stays  ${project.id}  ${result.id}: the query waits; there is nothing to want\n`);
				continue;
			}
			io.out(`wants  ${project.id}  ${result.id}: ${wordsOfWanted(target.expect)} → ${wordsOfGot(result.got)}\n`);
			target.expect = next;
			here++;
		}
		if (here > 0) await write(file, writeProject(project));
		changed += here;
	}
	io.out(`${changed} updated, ${left} left\n`);
	return left > 0 ? 1 : 0;
}

function choose(project: Project, options: CheckOptions): Check[] {
	return activeChecks(project).filter(
		(c) => (options.moment === undefined || c.moment === options.moment) && (options.only === undefined || c.id === options.only),
	);
}

function parseShard(text: string): { index: number; of: number } {
	const match = /^(\d+)\/(\d+)$/.exec(text);
	const [index, of] = [Number(match?.[1]), Number(match?.[2])];
	if (!match || index < 1 || index > of) throw new UsageError(`--shard ${text}: expected i/n with 1 ≤ i ≤ n, as in 2/4`);
	return { index, of };
}
