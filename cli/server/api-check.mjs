// `POST /api/check`: takes a project, answers with what `frelk check --json` prints. Computed in worker threads, so that a large
// project holds up nobody else.
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { Tinypool } from 'tinypool';

const MB = 1024 * 1024;
/** One body, and all together that are being sent or worked on. */
const MAX_BYTES = 64 * MB;
const MAX_TOGETHER = 256 * MB;
const SECONDS = Number(process.env.FRELK_CHECK_SECONDS ?? 30);
/** Two at once; so many wait their turn. */
const THREADS = 2;
const WAITING = 8;
/** A thread may use so much; it is ended when it wants more, or has had nothing to do for a while. */
const THREAD_MB = Number(process.env.FRELK_CHECK_MB ?? 1024);
const IDLE_MS = 10_000;
/** After the last request memory is given back, milliseconds. */
const SETTLE_MS = 15_000;

class Refused extends Error {
	constructor(status, message, retry = false) {
		super(message);
		this.status = status;
		this.retry = retry;
	}
}

let together = 0;

/** The body as it comes, counted against the bound of all bodies. `release` gives its share back. */
function bodyOf(request) {
	let held = 0;
	const release = () => {
		together -= held;
		held = 0;
	};
	const whole = new Promise((resolve, reject) => {
		const declared = Number(request.headers['content-length']);
		// Room of the size that was told, which takes memory only as it is filled; else the parts are joined at the end.
		let room = declared <= MAX_BYTES ? Buffer.allocUnsafeSlow(declared) : null;
		let parts = [];
		const refuse = (error) => {
			parts = [];
			room = null;
			request.removeAllListeners('data');
			// The rest is let run past, unseen, until the answer is out and the connection closed.
			request.resume();
			reject(error);
		};
		if (declared > MAX_BYTES) return refuse(tooLarge());
		request.on('data', (part) => {
			held += part.length;
			together += part.length;
			if (held > MAX_BYTES) return refuse(tooLarge());
			if (together > MAX_TOGETHER)
				return refuse(new Refused(503, 'too much is being sent at once; try again in a moment', true));
			if (room) part.copy(room, held - part.length);
			else parts.push(part);
		});
		request.on('end', () => resolve(room ?? joined(parts, held)));
		request.on('error', reject);
		request.on('close', () => reject(new Refused(499, 'the client left')));
	});
	return { whole, release };
}

/** In memory of its own: it is handed over to a thread, and small buffers share theirs. */
function joined(parts, length) {
	const whole = Buffer.allocUnsafeSlow(length);
	let at = 0;
	for (const part of parts) at += part.copy(whole, at);
	return whole;
}

const tooLarge = () => new Refused(413, `more than ${MAX_BYTES / MB} MB; split the project, or run frelk check`);

let collect = null;
let settling = null;
let working = 0;

/** The engine keeps what it once took; some time after the last request it is asked to give it back. */
function settle(pool) {
	clearTimeout(settling);
	settling = setTimeout(async () => {
		if (working > 0) return;
		await pool.recycleWorkers();
		if (!collect) {
			setFlagsFromString('--expose-gc');
			collect = runInNewContext('gc');
		}
		collect();
	}, SETTLE_MS);
	settling.unref();
}

const trouble = (response, status, error) => {
	if (response.headersSent || response.destroyed) return;
	response.status(status).json({ error, problems: [] });
};

/**
 * @param app the server
 * @param {string} filename of the worker that is given a project's bytes
 */
export function mountCheck(app, filename) {
	const pool = new Tinypool({
		filename,
		// One always there: what waits goes on when those at work are ended.
		minThreads: 1,
		resourceLimits: { maxOldGenerationSizeMb: THREAD_MB },
		maxThreads: THREADS,
		maxQueue: WAITING,
		idleTimeout: IDLE_MS,
	});

	async function answer(request, response) {
		const type = (request.headers['content-type'] ?? '').toLowerCase().replace(/\s/g, '');
		if (type !== 'application/json' && type !== 'application/json;charset=utf-8')
			throw new Refused(415, 'send a project file as it is, with the header Content-Type: application/json');
		if (request.headers['content-encoding'] !== undefined)
			throw new Refused(415, 'send the file as it is, not compressed');
		if (together >= MAX_TOGETHER || pool.queueSize >= WAITING)
			throw new Refused(503, 'too many checks at once; try again in a moment', true);
		const stop = new AbortController();
		let why = null;
		const end = (reason) => {
			why ??= reason;
			stop.abort();
		};
		const timer = setTimeout(
			() => end(new Refused(503, `not done within ${SECONDS} seconds; the work was stopped`)),
			SECONDS * 1000,
		);
		response.on('close', () => {
			if (!response.writableFinished) end(new Refused(499, 'the client left'));
		});
		const body = bodyOf(request);
		working++;
		try {
			const bytes = await body.whole;
			if (bytes.length === 0) throw new Refused(400, 'the request has no body; send a project file as it is');
			const { status, body: text } = await pool.run(bytes, { transferList: [bytes.buffer], signal: stop.signal });
			response.status(status).type('application/json').send(text);
		} catch (error) {
			if (why) throw why;
			if (
				error.message === 'Task queue is at limit' ||
				error.message === 'No task queue available and all Workers are busy'
			)
				throw new Refused(503, 'too many checks at once; try again in a moment', true);
			if (error.code === 'ERR_WORKER_OUT_OF_MEMORY')
				throw new Refused(503, `needs more than ${THREAD_MB} MB of memory; run frelk check`);
			throw error;
		} finally {
			clearTimeout(timer);
			body.release();
			working--;
			settle(pool);
		}
	}

	app.post('/api/check', (request, response) => {
		answer(request, response).catch((error) => {
			if (!(error instanceof Refused)) {
				console.error(`POST /api/check: ${error.message}`);
				return trouble(response, 500, 'internal error');
			}
			if (error.retry) response.set('Retry-After', '5');
			// What is still being sent is not waited for.
			if (!request.complete) response.set('Connection', 'close');
			trouble(response, error.status, error.message);
		});
	});
	app.all('/api/check', (_request, response) =>
		trouble(response.set('Allow', 'POST'), 405, 'only POST: send a project file'),
	);
}
