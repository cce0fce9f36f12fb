/** `frelk replay`: what a running game took, held against what Frelk selects in the scene the game told. */
import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { oneLine, rounded } from '@frelk/core';
import {
	type CutLine,
	LineCutter,
	Replay,
	type ReplaySummary,
	ReplayTally,
	readTraceHead,
	replayJunit,
	TraceError,
	TraceReader,
} from '@frelk/core/traces';
import { checkWritable, type Io, load, reason, UsageError, write } from './files';
import { indented } from './json';

interface ReplayOptions {
	json?: boolean;
	junit?: string;
}

/** Characters of a difference that are told. */
const MAX_WORDS = 1000;
/** Lines of which one is begun after another, so that the program can be seen to work. */
const SAID_EVERY = 1000;

/** @throws UsageError where a line is none of a trace */
export async function replay(io: Io, file: string, trace: string, options: ReplayOptions): Promise<number> {
	if (file === '-' && trace === '-') throw new UsageError('only one of the project and the trace can be read from -');
	await checkWritable(options.junit);
	const { project } = await load(io, file);
	const tally = new ReplayTally(project);
	const reader = new TraceReader(project);
	const replayed = new Replay(project);
	const stream = trace === '-' ? Readable.from([Buffer.from(await io.stdin())]) : createReadStream(trace);
	let number = 0;
	try {
		for await (const line of linesOf(stream)) {
			number = line.number;
			if (!('text' in line)) throw new TraceError(number, line.message);
			const { text } = line;
			if (number === 1) readTraceHead(text, project);
			else if (text.trim() !== '') tally.add(replayed.line(reader.line(text, number), number));
			if (number % SAID_EVERY === 0) io.doing(`${trace}: line ${number}`);
		}
	} catch (error) {
		if (error instanceof TraceError) throw new UsageError(`${trace}:${error.line}: ${error.message}`);
		if ((error as NodeJS.ErrnoException).code !== undefined)
			throw new UsageError(`${trace}: ${reason(error as NodeJS.ErrnoException)}`);
		throw error;
	}
	if (number === 0) throw new UsageError(`${trace}: is empty; a trace begins with {"format":"frelk-trace/1"}`);
	const { summary } = tally;
	if (options.junit !== undefined) await write(options.junit, replayJunit(summary, trace));
	if (options.json) io.out(`${indented(summary, 0)}\n`);
	else io.out(said(summary, trace));
	return summary.other + summary.unknown > 0 ? 1 : 0;
}

/** A line at a time, from the bytes as they come. */
async function* linesOf(stream: Readable): AsyncGenerator<CutLine> {
	const cutter = new LineCutter();
	for await (const part of stream) yield* cutter.push(part as Uint8Array);
	yield* cutter.end();
}

function said(summary: ReplaySummary, trace: string): string {
	const { asked, same, other, unknown, lines, strangers, differences } = summary;
	// Ids of a trace are whatever the game says.
	const out = differences.map((d) =>
		oneLine(`${trace}:${d.line}: ${rounded(d.t)} s, ${d.query}: ${d.words}`, MAX_WORDS),
	);
	if (strangers.length > 0) {
		const first = strangers.slice(0, 20).map((id) => oneLine(id, 80));
		out.push(
			`not in this project: ${first.join(', ')}${strangers.length > 20 ? `, and ${strangers.length - 20} more` : ''}`,
		);
	}
	out.push(
		`${lines} lines, ${asked} asked: ${same} same, ${other} other${unknown > 0 ? `, ${unknown} of ids not in this project` : ''}`,
	);
	return `${out.join('\n')}\n`;
}
