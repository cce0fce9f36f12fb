/**
 * `frelk mcp`: what the command line says, for assistants and scripts, over the Model Context Protocol on standard input and output. Each
 * tool answers with JSON of a bounded size; what is longer is read on with `rest`.
 */
import {
	Answerer,
	activeChecks,
	anyTagsOf,
	buildWorld,
	checkProject,
	decodeUtf8,
	didYouMean,
	findFindings,
	formatProblem,
	namedWithIds,
	remediesFor,
	runChecks,
	STAGES,
	type Verdict,
	wordsOfVerdict,
} from '@frelk/core';
import { differenceInShort, differenceOf, toldDifference } from '@frelk/core/differences';
import { textWith } from '@frelk/core/editing';
import { askMap, checkMaps } from '@frelk/core/maps';
import { checkRuns, runLog, runThrough } from '@frelk/core/runs';
import { McpServer } from '@modelcontextprotocol/sdk/server/mcp.js';
import { StdioServerTransport } from '@modelcontextprotocol/sdk/server/stdio.js';
import jsonPatch from 'fast-json-patch';
import * as z from 'zod';
import { type Io, load, parse, replaceFile, type Source, UsageError } from './files';
import { fileAt } from './revisions';
import { Under } from './under';
import { VERSION } from './version';

/** Characters of one result. */
const MAX_TEXT = 20_000;
/** Rests that are kept, the newest. */
const MAX_RESTS = 16;
/** Losers that are told of an answer where nobody says how many. */
const USUAL_LOSERS = 12;

const project = z.string().describe('name of a project file, as list_projects has it');
const moment = z.string().optional().describe('id of a moment; the scene as laid out where left out');

const idIn = (what: string, id: string, list: readonly { id: string }[]): string => {
	if (list.some((e) => e.id === id)) return id;
	const ids = list.map((e) => e.id);
	throw new UsageError(`no ${what} "${id}"${didYouMean(id, ids)}`);
};

/** Nearest to being selected first: the later the stage, then the smaller the margin. */
const byNearness = (a: Verdict, b: Verdict): number =>
	STAGES.indexOf(b.stage) - STAGES.indexOf(a.stage) || (a.margin ?? Infinity) - (b.margin ?? Infinity);

/** Longer results, handed out piece by piece. */
class Rests {
	private readonly kept = new Map<string, string>();
	private next = 1;

	/** @returns as much as one result holds, with how to read on */
	cut(text: string): string {
		if (text.length <= MAX_TEXT) return text;
		const key = String(this.next++);
		const room = MAX_TEXT - 120;
		// Not in the middle of a character that takes two.
		const at = /[\ud800-\udbff]/.test(text[room - 1] ?? '') ? room - 1 : room;
		this.kept.set(key, text.slice(at));
		for (const old of [...this.kept.keys()].slice(0, Math.max(0, this.kept.size - MAX_RESTS))) this.kept.delete(old);
		return `${text.slice(0, at)}\n[${text.length - at} characters more: call rest with key "${key}"]`;
	}

	take(key: string): string {
		const text = this.kept.get(key);
		if (text === undefined) throw new UsageError(`no rest "${key}": it was read, or is too long ago`);
		this.kept.delete(key);
		return this.cut(text);
	}
}

/** A value, and a text too long to stand in it. */
class Parts {
	constructor(
		readonly value: object,
		readonly text: string,
	) {}
}

interface McpOptions {
	write?: boolean;
}

/** A server with all tools, to be connected. */
function mcpServer(io: Io, under: Under, { write = false }: McpOptions): McpServer {
	const server = new McpServer({ name: 'frelk', version: VERSION });
	const rests = new Rests();
	const open = async (name: string): Promise<Source> => ({ ...(await load(io, await under.pathOf(name))) });

	const json = (value: unknown): string => rests.cut(JSON.stringify(value, null, 1));

	/** A tool that answers with a value as JSON; what is wrong with a call is said as a person would read it. */
	function tool<Shape extends z.ZodRawShape>(
		name: string,
		description: string,
		inputSchema: Shape,
		work: (given: z.output<z.ZodObject<Shape>>) => unknown,
	): void {
		const answered = async (given: z.output<z.ZodObject<Shape>>) => {
			const said = (text: string | readonly string[], isError: boolean) => ({
				content: [text].flat().map((part) => ({ type: 'text' as const, text: part })),
				isError,
			});
			try {
				const value = await work(given);
				if (value instanceof Parts) return said([json(value.value), rests.cut(value.text)], false);
				return said(typeof value === 'string' ? value : json(value), false);
			} catch (error) {
				if (error instanceof UsageError || error instanceof RangeError) return said(rests.cut(error.message), true);
				throw error;
			}
		};
		server.registerTool(name, { description, inputSchema }, answered as never);
	}

	tool('list_projects', 'The project files that are served, with what is in each.', {}, async () => {
		const out: object[] = [];
		for (const name of await under.list()) {
			try {
				const { scene, queries, moments = [], checks = [], runs = [], maps = [], ...p } = (await open(name)).project;
				const ids = (list: readonly { id: string }[]) => list.map((e) => e.id);
				out.push({
					project: name,
					name: p.name,
					scene: scene.kind,
					objects: scene.objects.length,
					queries: ids(queries),
					moments: ids(moments),
					runs: ids(runs),
					maps: ids(maps),
					checks: checks.length,
				});
			} catch (error) {
				if (!(error instanceof UsageError)) throw error;
				out.push({ project: name, problems: error.message.split('\n').slice(0, 20) });
			}
		}
		return out;
	});

	tool(
		'ask',
		'What a query selects at a moment, and why each other object lost, those that came nearest first.',
		{
			project,
			query: z.string(),
			moment,
			losers: z.number().int().min(0).max(2000).optional().describe(`how many; ${USUAL_LOSERS} where left out`),
		},
		async ({ project: name, query, moment: at = null, losers = USUAL_LOSERS }) => {
			const p = (await open(name)).project;
			idIn('query', query, p.queries);
			if (at !== null) idIn('moment', at, p.moments ?? []);
			const world = buildWorld(p, at);
			const asked = world.queryById.get(query);
			if (!asked) throw new UsageError(`no query "${query}"`);
			const { verdicts, ...answer } = new Answerer(world).explain(asked);
			const lost = verdicts.filter((v) => v.stage !== 'selected' && v.stage !== 'tied').sort(byNearness);
			const naming = namedWithIds(p);
			return {
				status: answer.status,
				selected: answer.selected.map((s) => ({ ...s, name: naming('object', s.object) })),
				tied: answer.tied,
				notes: answer.notes,
				lost: lost.length,
				losers: lost.slice(0, losers).map((v) => ({
					object: v.object,
					stage: v.stage,
					...(v.met === undefined ? {} : { met: v.met }),
					why: wordsOfVerdict(v, naming, anyTagsOf(asked)),
				})),
			};
		},
	);

	tool(
		'why_not',
		'Why an object is not selected, and changes that were tried and make it so, cheapest first, each as a JSON Patch for edit.',
		{
			project,
			query: z.string(),
			object: z.string(),
			moment,
			wish: z.enum(['select', 'leave']).optional().describe('leave: that it is not selected'),
		},
		async ({ project: name, query, object, moment: at = null, wish = 'select' }) => {
			const p = (await open(name)).project;
			const known = { query: idIn('query', query, p.queries), object: idIn('object', object, p.scene.objects) };
			if (at !== null) idIn('moment', at, p.moments ?? []);
			const naming = namedWithIds(p);
			const { verdict, already, remedies, nearest } = remediesFor(p, { ...known, moment: at, wish }, { naming });
			const asked = p.queries.find((q) => q.id === query);
			return {
				verdict: verdict && { stage: verdict.stage, why: wordsOfVerdict(verdict, naming, anyTagsOf(asked)) },
				already,
				remedies: remedies.map(({ words, patch, changes, turns, mends }) => ({
					words,
					otherAnswersChanged: changes.length,
					breaks: turns,
					fixes: mends,
					patch,
				})),
				...(nearest
					? {
							nearest: {
								words: nearest.words,
								still: nearest.verdict && {
									stage: nearest.verdict.stage,
									why: wordsOfVerdict(nearest.verdict, naming, anyTagsOf(asked)),
								},
							},
						}
					: {}),
			};
		},
	);

	tool(
		'check',
		'Runs the checks of a project: how many hold, and each that fails with what was wanted and got.',
		{ project, only: z.string().optional().describe('id of one check') },
		async ({ project: name, only }) => {
			const p = (await open(name)).project;
			if (only !== undefined) idIn('check', only, p.checks ?? []);
			const mine = <T extends { id: string }>(list: readonly T[]) =>
				list.filter((r) => only === undefined || r.id === only);
			const results = mine([
				...runChecks(p, activeChecks(p), undefined, true).map(({ id, pass, reason }) => ({ id, pass, reason })),
				...checkRuns(p).map(({ id, pass, reason }) => ({ id, pass, reason })),
				...checkMaps(p).map(({ id, pass, reason }) => ({ id, pass, reason })),
			]);
			const failing = results.filter((r) => !r.pass);
			return { checks: results.length, hold: results.length - failing.length, failing };
		},
	);

	tool(
		'findings',
		'What is wrong with a project, or worth a look, without being asked.',
		{ project, level: z.enum(['error', 'warning', 'note']).optional().describe('the least that is told') },
		async ({ project: name, level = 'note' }) => {
			const levels = ['error', 'warning', 'note'];
			const found = findFindings((await open(name)).project);
			return found.filter((f) => levels.indexOf(f.level) <= levels.indexOf(level));
		},
	);

	tool(
		'map',
		'A map of a project, asked whole: in which part of all answers each object is selected, and what never is, with why.',
		{ project, map: z.string() },
		async ({ project: name, map }) => {
			const p = (await open(name)).project;
			idIn('map', map, p.maps ?? []);
			const asked = (p.maps ?? []).find((m) => m.id === map);
			if (!asked) throw new UsageError(`no map "${map}"`);
			const { columns, rows, headings, figures } = askMap(p, asked);
			return { columns, rows, headings, figures };
		},
	);

	tool(
		'run',
		'A run-through of a project: what happens when, in words, with the figures of each watched query.',
		{ project, run: z.string() },
		async ({ project: name, run }) => {
			const p = (await open(name)).project;
			idIn('run', run, p.runs ?? []);
			const asked = (p.runs ?? []).find((r) => r.id === run);
			if (!asked) throw new UsageError(`no run "${run}"`);
			return rests.cut(runLog(runThrough(p, asked), namedWithIds(p)));
		},
	);

	tool(
		'diff',
		'What changed in a project since a revision of git: edits, answers that are other ones and why, checks, runs, maps.',
		{ project, since: z.string().describe('a revision, such as HEAD or main') },
		async ({ project: name, since }) => {
			const { project: after, file } = await open(name);
			const before = parse(`${since}:${name}`, await fileAt(since, file));
			const told = toldDifference(before, after, differenceOf(before, after));
			return { inShort: differenceInShort(told), ...told };
		},
	);

	tool(
		'edit',
		write
			? 'Changes a project by a JSON Patch and writes it, if it is valid; says what that does to the answers.'
			: 'Tries a JSON Patch on a project: says what it does to the answers, and gives the text. Nothing is written.',
		{
			project,
			patch: z
				.array(z.record(z.string(), z.unknown()))
				.min(1)
				.max(1000)
				.describe('operations as RFC 6902 has them, in the axes and units of the file'),
		},
		async ({ project: name, patch }) => {
			const source = await open(name);
			let after: unknown;
			try {
				after = jsonPatch.applyPatch(
					JSON.parse(JSON.stringify(source.project)),
					patch as never,
					true,
					true,
					true,
				).newDocument;
			} catch (error) {
				const { name: why, message, index } = error as { name: string; message: string; index?: number };
				const where = index === undefined ? '' : `operation ${index}: `;
				throw new UsageError(`refused: ${where}${why}: ${message.split('\n')[0]}`);
			}
			const reading = checkProject(after);
			if (!reading.ok)
				throw new UsageError(
					['refused: the project would not be valid', ...reading.problems.map(formatProblem)].join('\n'),
				);
			const text = textWith(decodeUtf8(source.bytes) as string, after);
			const told = toldDifference(source.project, reading.project, differenceOf(source.project, reading.project));
			if (write) await replaceFile(source, text);
			const value = { written: write, inShort: differenceInShort(told), ...told };
			return write ? value : new Parts(value, text);
		},
	);

	tool('rest', 'What did not fit into a result.', { key: z.string() }, ({ key }) => rests.take(key));
	return server;
}

/** Serves until standard input ends. */
export async function mcp(io: Io, folders: readonly string[], options: McpOptions): Promise<number> {
	const server = mcpServer(io, await Under.of(folders), options);
	const transport = new StdioServerTransport();
	const ended = new Promise<void>((done) => {
		process.stdin.on('end', done);
		process.stdin.on('close', done);
	});
	await server.connect(transport);
	await ended;
	await server.close();
	return 0;
}
