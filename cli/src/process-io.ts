/** The command's standard streams: a reader that goes away is no error of ours, a disk that is full is one. */
import { Worker } from 'node:worker_threads';
import { type Io, reason } from './files';

/** What takes longer is named on standard error, milliseconds; then again at every such step. */
const LONG = 10_000;

/** Runs beside the computation, which never looks up: it says what was last begun. */
const WATCHER = `
const { parentPort, workerData } = require('node:worker_threads');
const { writeSync } = require('node:fs');
let what = '';
const from = Date.now();
parentPort.on('message', (next) => { what = next; });
setInterval(() => {
	if (what === '') return;
	try { writeSync(2, 'frelk: ' + Math.round((Date.now() - from) / 1000) + ' s, ' + what + '; Ctrl+C ends it\\n'); } catch {}
}, workerData);
`;

/** Controls but tab and line breaks, and a return that is not before one: what would make a terminal do things. */
const CONTROLS =
	// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is to be seen
	/\r(?!\n)|[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f]/g;
/** Colours as this command sets them. */
const OWN_COLOUR =
	// biome-ignore lint/suspicious/noControlCharactersInRegex: they begin with one
	/^\u001b\[[\d;]{1,5}m/;

/** Whatever comes from a file or the machine reaches a terminal as text; in JSON the same escapes mean the same. */
export const harmless = (text: string, colour: boolean): string =>
	text.replace(CONTROLS, (c, at: number) =>
		colour && OWN_COLOUR.test(text.slice(at, at + 8)) ? c : `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`,
	);

async function stdin(): Promise<Uint8Array> {
	const parts: Buffer[] = [];
	for await (const part of process.stdin) parts.push(part as Buffer);
	return Buffer.concat(parts);
}

/**
 * @param long after how many milliseconds what is under way is named
 * @returns the streams, and `ended`, which turns the code of the work into that of the process once all is written
 */
export function processIo(long = LONG): Io & { ended: (code: number) => Promise<number> } {
	let closed = false;
	let failed: NodeJS.ErrnoException | null = null;
	const broke = (error: NodeJS.ErrnoException) => {
		// Whoever read has seen enough (`| head`): the work goes on for its exit code.
		closed = true;
		if (error.code !== 'EPIPE') failed ??= error;
	};
	process.stdout.on('error', broke);
	process.stderr.on('error', () => {});
	let watcher: Worker | null = null;
	const colour = Boolean(process.stdout.isTTY) && !process.env.NO_COLOR;
	return {
		out: (text) => {
			if (closed) return;
			try {
				process.stdout.write(harmless(text, colour));
			} catch (error) {
				broke(error as NodeJS.ErrnoException);
			}
		},
		err: (text) => {
			process.stderr.write(harmless(text, colour));
		},
		stdin,
		colour,
		doing: (what) => {
			if (!watcher) {
				watcher = new Worker(WATCHER, { eval: true, execArgv: [], workerData: long });
				watcher.unref();
			}
			watcher.postMessage(what);
		},
		ended: async (code) => {
			void watcher?.terminate();
			if (!closed) await new Promise<void>((done) => process.stdout.write('', () => done()));
			if (!failed) return code;
			process.stderr.write(`frelk: standard output cannot be written: ${reason(failed)}\n`);
			return 2;
		},
	};
}
