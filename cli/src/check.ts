/** `frelk check`: the checks of one or more projects, for build servers. */
import { availableParallelism } from 'node:os';
import {
	activeChecks,
	type Check,
	type CheckResult,
	csvReport,
	decodeUtf8,
	didYouMean,
	type Expect,
	FindingsMemory,
	findFindings,
	htmlReport,
	isOn,
	isStill,
	junitXml,
	type MapCheck,
	mapChecksIn,
	markdownReport,
	oneLine,
	type Project,
	type RunCheck,
	type RunExpect,
	readProject,
	runChecks,
	runChecksIn,
	type SuiteResult,
	updatedExpectation,
	wordsOfGot,
	wordsOfWanted,
} from '@frelk/core';
import { replaceExpectations } from '@frelk/core/editing';
import { checkMaps, MapMemory } from '@frelk/core/maps';
import { checkRuns, updatedRunExpectation, wordsOfRunWanted } from '@frelk/core/runs';
import { checkWritable, type Io, load, replaceFile, type Source, UsageError, write } from './files';
import { indented } from './json';
import { inFileOrder, printedResult, subjectOf } from './results';
import { shared } from './shared';
import { stopwatch } from './stopwatch';

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
	/** Markdown as lists. */
	lists?: boolean;
	/** False: without the checks of maps. */
	maps?: boolean;
	workers?: string;
}

/** @returns the exit code: 0 when all hold, 1 when one does not */
export async function check(io: Io, files: readonly string[], options: CheckOptions): Promise<number> {
	if (options.update && files.includes('-'))
		throw new UsageError('--update writes into the files; standard input cannot be written');
	if (options.html !== undefined && files.length > 1)
		throw new UsageError('--html makes the page of one project; give one file');
	const shard = options.shard === undefined ? null : parseShard(options.shard);
	const workers = parseWorkers(options.workers);
	await checkWritable(options.junit, options.csv, options.markdown, options.html);
	const loaded: Source[] = [];
	for (const file of files) loaded.push(await load(io, file));
	const moments = loaded.flatMap(({ project }) => (project.moments ?? []).map((m) => m.id));
	if (options.moment !== undefined && !moments.includes(options.moment))
		throw new UsageError(`${files.join(', ')}: no moment "${options.moment}"${didYouMean(options.moment, moments)}`);
	const chosen = loaded.map(({ project }) => ({
		project,
		checks: choose(project, options),
		runs: chooseRuns(project, options),
		maps: options.maps === false ? [] : chooseMaps(project, options),
	}));
	const none = chosen.every((c) => c.checks.length + c.runs.length + c.maps.length === 0);
	if (options.only !== undefined && none) {
		const ids = loaded.flatMap(({ project }) => (project.checks ?? []).map((c) => c.id));
		throw new UsageError(`no check "${options.only}"${didYouMean(options.only, ids)}`);
	}
	if (none)
		throw new UsageError(
			`${files.join(', ')}: there is no check to run${options.moment === undefined ? '' : ` at the moment "${options.moment}"`}`,
		);
	let place = 0;
	// Shards deal the checks out one by one over all files, so that they come out alike in size.
	const mine = () => shard === null || place++ % shard.of === shard.index - 1;
	// Only a page draws them, and that has one project.
	const memory = loaded.length === 1 ? new MapMemory() : undefined;
	const tasks: Task[] = chosen.map(({ project, checks, runs, maps }) => ({
		project,
		checks: checks.filter(mine),
		runs: runs.filter(mine),
		maps: maps.filter(mine),
	}));
	// What is to be updated is told from the answers themselves, which do not go from one thread to another.
	const hands = options.update
		? 1
		: Math.min(tasks.length, workers ?? (tasks.length < MANY ? 1 : availableParallelism()));
	const brief = options.json !== true;
	const suites =
		hands > 1 ? await runShared(io, tasks, brief, hands) : tasks.map((task) => runHere(io, task, brief, memory));
	io.doing('writing the reports');
	const all = suites.flatMap((s): { pass: boolean }[] => [...s.checks, ...(s.runs ?? []), ...(s.maps ?? [])]);
	const failed = all.filter((c) => !c.pass).length;
	if (options.junit !== undefined) await write(options.junit, junitXml(suites));
	if (options.csv !== undefined) await write(options.csv, csvReport(suites));
	if (options.markdown !== undefined) await write(options.markdown, markdownReport(suites, options.lists === true));
	if (options.html !== undefined && loaded[0] && suites[0])
		await write(
			options.html,
			htmlReport(loaded[0].project, suites[0].checks, suites[0].runs, suites[0].maps, {
				maps: memory?.results ?? [],
				findings: findFindings(loaded[0].project, undefined, undefined, new FindingsMemory(memory)),
			}),
		);
	if (options.update) return await update(io, loaded, suites);
	if (options.json) printJson(io, suites, all.length - failed, failed);
	else {
		const red = (text: string) => (io.colour ? `\u001b[31m${text}\u001b[0m` : text);
		for (const suite of suites)
			for (const c of inFileOrder(suite)) {
				const where = `${suite.project}  ${subjectOf(c)}${c.moment === null ? '' : ` at ${c.moment}`}  ${c.id}`;
				io.out(c.pass ? `holds  ${where}\n` : `${red('fails')}  ${where}: ${c.reason}\n`);
			}
		io.out(`${all.length - failed} hold, ${failed} fail\n`);
	}
	return failed > 0 ? 1 : 0;
}

/** Files from which on several workers are worth their start. */
const MANY = 8;
const MAX_WORKERS = 64;

function parseWorkers(text: string | undefined): number | null {
	if (text === undefined) return null;
	const workers = Number(text);
	if (!(Number.isInteger(workers) && workers >= 1 && workers <= MAX_WORKERS))
		throw new UsageError(`--workers is a whole number from 1 to ${MAX_WORKERS}; got ${oneLine(text, 40)}`);
	return workers;
}

interface Task {
	project: Project;
	checks: Check[];
	runs: RunCheck[];
	maps: MapCheck[];
}

function runHere(io: Io, { project, checks, runs, maps }: Task, brief: boolean, memory?: MapMemory): SuiteResult {
	const { seconds, judged } = stopwatch();
	return {
		project: project.id,
		of: project,
		seconds,
		checks: run(io, project, checks, brief, judged),
		runs: checkRuns(project, runs, (done, of) => io.doing(`${project.id}: step ${done} of ${of} of its runs`), judged),
		maps: checkMaps(
			project,
			maps,
			(map, done, of) => io.doing(`${project.id}: row ${done} of ${of} of the map ${map}`),
			memory,
			judged,
		),
	};
}

/** The same by several workers, a project each at a time; the outcome is in the order of the files. */
async function runShared(io: Io, tasks: readonly Task[], brief: boolean, hands: number): Promise<SuiteResult[]> {
	const here = import.meta.url;
	// The sources run as they are; what is packed is compiled.
	const filename = new URL(here.endsWith('.ts') ? '../bin/check-part.mjs' : './check-part.js', here).href;
	const { Tinypool } = await import('tinypool');
	const pool = new Tinypool({ filename, runtime: 'worker_threads', minThreads: hands, maxThreads: hands });
	let done = 0;
	try {
		return await Promise.all(
			tasks.map(async ({ project, checks, runs, maps }): Promise<SuiteResult> => {
				const part = await pool.run({ text: shared(project), checks, runs, maps, brief });
				io.doing(`${++done} of ${tasks.length} files checked, by ${hands} workers`);
				return { project: project.id, of: project, ...part };
			}),
		);
	} finally {
		await pool.destroy();
	}
}

/** Runs checks, saying which query is being answered should it take long. */
function run(
	io: Io,
	project: Project,
	checks: readonly Check[],
	brief: boolean,
	judged: (id: string) => void,
): CheckResult[] {
	return runChecks(
		project,
		checks,
		(done) => io.doing(`${project.id}: ${done} of ${checks.length} checks run, at ${checks[done]?.id}`),
		brief,
		judged,
	);
}

/** Check by check: together they may be more than one text can hold. */
function printJson(io: Io, suites: readonly SuiteResult[], passed: number, failed: number): void {
	io.out('{\n  "format": "frelk-checks/1",\n  "projects": [');
	suites.forEach((suite, i) => {
		io.out(`${i === 0 ? '' : ','}\n    {\n      "project": ${JSON.stringify(suite.project)},\n      "checks": [`);
		const results = inFileOrder(suite);
		results.forEach((result, k) => {
			io.out(`${k === 0 ? '' : ','}\n        ${indented(printedResult(result), 8)}`);
		});
		io.out(`${results.length > 0 ? '\n      ' : ''}]\n    }`);
	});
	io.out(`\n  ],\n  "passed": ${passed},\n  "failed": ${failed}\n}\n`);
}

/** Shows what failing checks wanted and what they get, and writes the latter into the files. @returns 1 where one cannot be updated */
async function update(io: Io, loaded: readonly Source[], suites: readonly SuiteResult[]): Promise<number> {
	let left = 0;
	let changed = 0;
	for (const [i, source] of loaded.entries()) {
		const { project } = source;
		const places = new Map((project.checks ?? []).map((c, place) => [c.id, place]));
		const wanted = new Map<number, Expect | RunExpect>();
		for (const result of suites[i]?.runs ?? []) {
			const place = places.get(result.id);
			if (result.pass || place === undefined) continue;
			const next = updatedRunExpectation(result);
			if (!next) {
				left++;
				io.out(`stays  ${project.id}  ${result.id}: ${result.reason}\n`);
				continue;
			}
			io.out(`wants  ${project.id}  ${result.id}: ${wordsOfRunWanted(result.wanted)} → ${wordsOfRunWanted(next)}\n`);
			wanted.set(place, next);
		}
		for (const result of suites[i]?.maps ?? []) {
			if (result.pass) continue;
			left++;
			io.out(`stays  ${project.id}  ${result.id}: ${result.reason}\n`);
		}
		for (const result of suites[i]?.checks ?? []) {
			const place = places.get(result.id);
			const target = place === undefined ? undefined : project.checks?.[place];
			if (result.pass || !target || !isStill(target) || place === undefined) continue;
			const next = updatedExpectation(target, result.got);
			if (!next) {
				left++;
				io.out(`stays  ${project.id}  ${result.id}: the query waits; there is nothing to want\n`);
				continue;
			}
			io.out(`wants  ${project.id}  ${result.id}: ${wordsOfWanted(target.expect)} → ${wordsOfGot(result.got)}\n`);
			wanted.set(place, next);
		}
		if (wanted.size > 0) await replaceFile(source, updatedText(source, wanted));
		changed += wanted.size;
	}
	io.out(`${changed} updated, ${left} left\n`);
	return left > 0 ? 1 : 0;
}

/** The file's text with other expectations, and every other character as it was. @throws Error where that would not be read as meant */
function updatedText({ bytes, project }: Source, wanted: ReadonlyMap<number, Expect | RunExpect>): string {
	const text = replaceExpectations(decodeUtf8(bytes) as string, wanted);
	const reading = readProject(text);
	const meant = { ...project, checks: project.checks?.map((c, i) => ({ ...c, expect: wanted.get(i) ?? c.expect })) };
	if (!reading.ok || JSON.stringify(reading.project) !== JSON.stringify(meant))
		throw new Error('the updated file would not say what is meant; nothing was written');
	return text;
}

function choose(project: Project, options: CheckOptions): Check[] {
	return activeChecks(project).filter(
		(c) =>
			(options.moment === undefined || c.moment === options.moment) &&
			(options.only === undefined || c.id === options.only),
	);
}

function chooseRuns(project: Project, options: CheckOptions): RunCheck[] {
	const moments = new Map((project.runs ?? []).map((r) => [r.id, r.moment]));
	return runChecksIn(project).filter(
		(c) =>
			isOn(c) &&
			(options.moment === undefined || moments.get(c.run) === options.moment) &&
			(options.only === undefined || c.id === options.only),
	);
}

function chooseMaps(project: Project, options: CheckOptions): MapCheck[] {
	const moments = new Map((project.maps ?? []).map((m) => [m.id, m.moment]));
	return mapChecksIn(project).filter(
		(c) =>
			isOn(c) &&
			(options.moment === undefined || moments.get(c.map) === options.moment) &&
			(options.only === undefined || c.id === options.only),
	);
}

/** More shards than checks a project may have are a slip of the hand. */
const MAX_SHARDS = 100_000;

function parseShard(text: string): { index: number; of: number } {
	const match = /^(\d{1,9})\/(\d{1,9})$/.exec(text);
	const [index, of] = [Number(match?.[1]), Number(match?.[2])];
	if (!match || index < 1 || index > of || of > MAX_SHARDS)
		throw new UsageError(`--shard ${oneLine(text, 40)}: expected i/n with 1 ≤ i ≤ n ≤ ${MAX_SHARDS}, as in 2/4`);
	return { index, of };
}
