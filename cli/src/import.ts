/** `frelk import`: a level into a project, for the first time or again, with what came, went and moved, and which answers changed. */
import { existsSync } from 'node:fs';
import { readFile, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve, sep } from 'node:path';
import {
	type AnswerChange,
	answersAt,
	changesBetween,
	checkProject,
	decodeUtf8,
	formatProblem,
	metres,
	oneLine,
	type Project,
	type QuickAnswer,
	writeProject,
} from '@frelk/core';
import {
	checkRules,
	type ImportReport,
	isUnchanged,
	type Level,
	LevelError,
	levelsInto,
	type NamingRules,
	readTable,
	rulesIn,
	withTable,
} from '@frelk/interchange';
import type { NamedBytes } from '@frelk/interchange/gltf';
import { type Io, load, reason, replaceFile, type Source, UsageError, write } from './files';
import { indented } from './json';

interface ImportOptions {
	into?: string;
	rules?: string;
	partial?: boolean;
	dryRun?: boolean;
	json?: boolean;
}

const bytesOf = async (file: string): Promise<Uint8Array<ArrayBuffer>> => {
	try {
		return new Uint8Array(await readFile(file));
	} catch (error) {
		throw new UsageError(`${file}: ${reason(error as NodeJS.ErrnoException)}`);
	}
};

const textOf = async (file: string): Promise<string> => {
	const text = decodeUtf8(await bytesOf(file));
	if (typeof text !== 'string') throw new UsageError(`${file}: ${text.message}`);
	return text;
};

async function rulesFrom(file: string): Promise<NamingRules> {
	let data: unknown;
	try {
		data = JSON.parse((await textOf(file)).replace(/^\ufeff/, ''));
	} catch (error) {
		if (error instanceof UsageError) throw error;
		throw new UsageError(`${file}: is not JSON: ${oneLine((error as Error).message)}`);
	}
	return checkRules(data, file);
}

/** The files a .gltf names, from beside it and nowhere else. */
async function withNeighbours(file: string, bytes: Uint8Array<ArrayBuffer>): Promise<NamedBytes[]> {
	const files: NamedBytes[] = [{ name: basename(file), bytes }];
	if (!/\.gltf$/i.test(file)) return files;
	let buffers: unknown;
	try {
		buffers = (JSON.parse(Buffer.from(bytes).toString('utf8')) as { buffers?: unknown }).buffers;
	} catch {
		// Its reader says what is wrong with it.
		return files;
	}
	/** What lies at a path is read once, however often and under what names it is asked for. */
	const read = new Set<string>();
	for (const buffer of Array.isArray(buffers) ? buffers : []) {
		const uri = (buffer as { uri?: unknown })?.uri;
		if (typeof uri !== 'string' || /^[a-z][a-z0-9+.-]*:/i.test(uri)) continue;
		const folder = resolve(dirname(file));
		let path: string;
		try {
			path = resolve(join(folder, decodeURIComponent(uri)));
		} catch {
			continue;
		}
		if (!path.startsWith(folder + sep) || read.has(path)) continue;
		read.add(path);
		// Of what is no plain file (a pipe, a device) nobody knows when it ends.
		const found = await stat(path).catch(() => null);
		if (found && !found.isFile()) throw new UsageError(`${file}: ${oneLine(uri)} is no file to read from`);
		if (found) files.push({ name: basename(path), bytes: await bytesOf(path) });
	}
	return files;
}

async function levelOf(io: Io, file: string, partial: boolean): Promise<Level> {
	// Each reader is loaded where it is needed: they are most of what there is to load.
	if (/\.svg$/i.test(file)) {
		const { readSvg } = await import('@frelk/interchange/svg');
		return readSvg(await textOf(file), basename(file));
	}
	const { readGltf } = await import('@frelk/interchange/gltf');
	const files = await withNeighbours(file, await bytesOf(file));
	return readGltf(files, (what, done) => io.doing(`${file}: ${what}, ${Math.round(100 * done)} %`), { partial });
}

/** @returns the exit code */
export async function importLevels(io: Io, files: readonly string[], options: ImportOptions): Promise<number> {
	const { into } = options;
	const file = files.join(', ');
	if (into === undefined && !options.dryRun)
		throw new UsageError('say which project: --into PROJECT; --dry-run alone tells what a level would make');
	const source: Source | null = into !== undefined && existsSync(into) ? await load(io, into) : null;
	const before = source?.project ?? null;
	try {
		const { project, report } = await imported(io, files, options, before);
		const reading = checkProject(project);
		if (!reading.ok)
			throw new UsageError(reading.problems.map((p) => `${file}: makes no project: ${formatProblem(p)}`).join('\n'));
		// Where nothing was asked, nothing is compared.
		const asks = before !== null && before.queries.length > 0;
		if (asks) io.doing('comparing answers');
		const changes = asks ? changesBetween(answersAt(before), answersAt(project)) : [];
		const unchanged = before !== null && isUnchanged(before, project);
		const written = options.dryRun !== true && !unchanged;
		if (written && into !== undefined) {
			const text = writeProject(project);
			if (source) await replaceFile(source, text);
			else await write(into, text);
		}
		if (options.json) {
			const level = files.map((f) => basename(f)).join(', ');
			const told = { format: 'frelk-import/1', project: project.id, level, ...report, answers: changes, written };
			io.out(`${indented(told, 0)}\n`);
		} else io.out(said(report, changes, { into: into ?? 'a new project', written, unchanged, fresh: before === null }));
		return 0;
	} catch (error) {
		if (error instanceof LevelError) throw new UsageError(error.message);
		if (error instanceof RangeError && /scene/.test(error.message)) throw new UsageError(error.message);
		throw error;
	}
}

const NOTHING: ImportReport = {
	came: [],
	went: [],
	moved: [],
	changed: [],
	kept: [],
	leftOut: [],
	unmatched: [],
	matches: [],
	runs: [],
	notes: [],
};

async function imported(
	io: Io,
	files: readonly string[],
	options: ImportOptions,
	before: Project | null,
): Promise<{ project: Project; report: ImportReport }> {
	const isTable = (name: string) => /\.(csv|json)$/i.test(name);
	if (files.length > 1 && files.some(isTable)) throw new UsageError('a table of objects is read by itself');
	const [file = ''] = files;
	if (isTable(file)) {
		if (!before)
			throw new UsageError(`${options.into ?? '--into'}: no such file; a table goes into a project there is`);
		const table = withTable(before, readTable(await textOf(file), file), file);
		const row = (id: string) => ({ id, path: id });
		return {
			project: table.project,
			report: {
				...NOTHING,
				came: table.came.map(row),
				changed: table.changed.map((id) => ({ ...row(id), what: ['row'] })),
			},
		};
	}
	const levels: { level: Level; file: string }[] = [];
	for (const name of files)
		levels.push({ level: await levelOf(io, name, options.partial === true), file: basename(name) });
	const [first] = levels;
	if (levels.length === 1 && first?.level.project && !before)
		return { project: first.level.project, report: { ...NOTHING, notes: first.level.notes } };
	const rules = options.rules === undefined ? rulesIn(before) : await rulesFrom(options.rules);
	return levelsInto(levels, rules, before);
}

const shortly = (answer: QuickAnswer | null): string =>
	answer === null
		? 'not there'
		: answer.status === 'selected'
			? answer.objects.join(', ')
			: answer.status === 'tie'
				? `tie: ${answer.objects.join(', ')}`
				: answer.status;

function said(
	report: ImportReport,
	answers: readonly AnswerChange[],
	{ into, written, unchanged, fresh }: { into: string; written: boolean; unchanged: boolean; fresh: boolean },
): string {
	const lines: string[] = [];
	for (const { id, path } of fresh ? [] : report.came) lines.push(`came     ${id}  (${path})`);
	for (const { id, path, kept } of report.went)
		lines.push(`went     ${id}  (${path})${kept ? ': kept, inactive, since something speaks of it' : ''}`);
	for (const { id, path, by } of report.moved)
		lines.push(`moved    ${id}  (${path})${by > 0 ? ` by ${metres(by)}` : ''}`);
	for (const { id, path, what } of report.changed) lines.push(`changed  ${id}  (${path}): ${what.join(', ')}`);
	for (const { id, path, what } of report.kept)
		lines.push(`kept     ${id}  (${path}): ${what}, said here and otherwise in the file`);
	for (const { id, name, tracks, keys } of report.runs)
		lines.push(`run      ${id}  (${name}): ${tracks} ${tracks === 1 ? 'track' : 'tracks'}, ${keys} keys`);
	for (const { path, message } of report.notes) lines.push(`note     ${path}: ${message}`);
	for (const { query, moment, before, after } of answers)
		lines.push(`answer   ${query}${moment === null ? '' : ` at ${moment}`}: ${shortly(before)} → ${shortly(after)}`);
	const { came, unmatched, leftOut, went, moved, changed } = report;
	const objects = `${came.length} came, ${went.length} went, ${moved.length} moved, ${changed.length} changed`;
	const nodes = `${leftOut.length} left out, ${unmatched.length} match no rule`;
	lines.push(
		`${objects}; ${nodes}; ${answers.length} ${answers.length === 1 ? 'answer' : 'answers'} changed`,
		unchanged ? `${into}: nothing changed` : written ? `${into}: written` : `${into}: not written (dry run)`,
	);
	return `${lines.join('\n')}\n`;
}
