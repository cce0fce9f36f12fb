/** The worker that goes through a trace: one trace of one project, line after line, as they come. */
import { readProject } from '@frelk/core';
import {
	type Compared,
	Replay,
	type ReplayedLine,
	readTraceHead,
	TraceError,
	type TraceLine,
	TraceReader,
} from '@frelk/core/traces';
import { expose } from 'comlink';

/** A line as it was sent, with its place in the trace. */
export interface Sent {
	n: number;
	text: string;
}
/** A line read, with what came of its questions. */
export interface Seen {
	n: number;
	line: TraceLine;
	compared: Compared[];
	unknown: string[];
}
export interface Pushed {
	seen: Seen[];
	troubles: { n: number; message: string }[];
}

let reader: TraceReader | null = null;
let replay: Replay | null = null;

const hand = {
	/** Begins a trace of a project. */
	open(text: string): void {
		const reading = readProject(text);
		if (!reading.ok) throw new Error('the project cannot be read');
		reader = new TraceReader(reading.project);
		replay = new Replay(reading.project);
	},
	/** @throws where the first line is not that of a trace of this project */
	head(text: string, project: string): void {
		const head = readTraceHead(text);
		if (head.project !== undefined && head.project !== project)
			throw new TraceError(1, `it is a trace of “${head.project}”, and this is “${project}”`);
	},
	/** Goes on by some lines; what is none is told and passed over. */
	push(lines: readonly Sent[]): Pushed {
		const out: Pushed = { seen: [], troubles: [] };
		for (const { n, text } of lines) {
			if (text.trim() === '') continue;
			try {
				const line = (reader as TraceReader).line(text, n);
				const { compared, unknown }: ReplayedLine = (replay as Replay).line(line, n);
				out.seen.push({ n, line, compared, unknown });
			} catch (error) {
				if (!(error instanceof TraceError)) throw error;
				out.troubles.push({ n, message: error.message });
			}
		}
		return out;
	},
	/** Asks lines again that were read already: the project has become another. */
	again(lines: readonly { n: number; line: TraceLine }[]): Pushed {
		return hand.push(lines.map(({ n, line }) => ({ n, text: JSON.stringify(line) })));
	},
};

export type TraceHand = typeof hand;
expose(hand);
