// `POST /api/check`: takes a project, answers with what `frelk check --json` prints. Computed in worker threads, so that a large
// project holds up nobody else.
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import express from 'express';
import { root } from './lib.mjs';

const MOST_BYTES = 64 * 1024 * 1024;
const SECONDS = Number(process.env.FRELK_CHECK_SECONDS ?? 30);
/** Two at once; the others wait their turn. */
const THREADS = 2;

class Pool {
	idle = [];
	waiting = [];
	running = 0;

	hire() {
		const worker = new Worker(join(root, 'cli/bin/check-worker.mjs'), { resourceLimits: { maxOldGenerationSizeMb: 2048 } });
		const ready = new Promise((resolve, reject) => {
			worker.once('message', resolve);
			worker.once('error', reject);
		});
		worker.unref();
		return { worker, ready };
	}

	async run(text) {
		if (this.running >= THREADS) await new Promise((resolve) => this.waiting.push(resolve));
		this.running++;
		const hand = this.idle.pop() ?? this.hire();
		let timer;
		try {
			await hand.ready;
			const reply = await new Promise((resolve, reject) => {
				timer = setTimeout(() => reject(new Late()), SECONDS * 1000);
				hand.worker.once('message', resolve);
				hand.worker.once('error', reject);
				hand.worker.postMessage(text);
			});
			hand.worker.removeAllListeners('error');
			this.idle.push(hand);
			return reply;
		} catch (error) {
			// Whatever it was at, it is ended; the next one starts afresh.
			void hand.worker.terminate();
			throw error;
		} finally {
			clearTimeout(timer);
			this.running--;
			this.waiting.shift()?.();
		}
	}
}

class Late extends Error {}

const trouble = (response, status, error) => response.status(status).json({ error, problems: [] });

export function mountCheck(app) {
	const pool = new Pool();
	app.post('/api/check', express.raw({ type: () => true, limit: MOST_BYTES }), async (request, response) => {
		const text = Buffer.isBuffer(request.body) ? request.body.toString('utf8') : '';
		if (text === '') return trouble(response, 400, 'the request has no body; send a project file as it is');
		try {
			const { status, body } = await pool.run(text);
			response.status(status).type('application/json').send(body);
		} catch (error) {
			if (error instanceof Late) trouble(response, 503, `not done within ${SECONDS} seconds; the work was stopped`);
			else trouble(response, 500, `internal error: ${error.message}`);
		}
	});
	app.all('/api/check', (_request, response) => trouble(response.set('Allow', 'POST'), 405, 'only POST: send a project file'));
	app.use('/api/check', (error, _request, response, _next) => {
		if (error.type === 'entity.too.large') return trouble(response, 413, `more than ${MOST_BYTES / 1024 / 1024} MB; split the project, or run frelk check`);
		trouble(response, error.status ?? 400, error.message);
	});
}
