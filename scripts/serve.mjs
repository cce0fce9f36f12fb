// Serves the built application on loopback.
import { createServer } from 'node:http';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { createRequestHandler } from '@react-router/express';
import compression from 'compression';
import express from 'express';
import { mountCheck } from './api-check.mjs';
import { giveNonce, headers, onlyOwn } from './guard.mjs';
import { root } from './lib.mjs';
import { mountTrace } from './live-trace.mjs';

const HOST = '127.0.0.1';
const FIRST = 4173;
const TRIES = 20;

/** Resolves to the listening server, or null when the port is taken. */
function listen(app, port) {
	return new Promise((resolve, reject) => {
		const server = createServer({ headersTimeout: 10_000, requestTimeout: 60_000 }, app);
		server.once('error', (error) => (error.code === 'EADDRINUSE' ? resolve(null) : reject(error)));
		server.listen(port, HOST, () => resolve(server));
	});
}

/**
 * NODE_ENV has to be "production" before this module is loaded.
 * @param {string | undefined} wanted the port asked for, which must be free; without it the first free one from 4173
 * @returns {Promise<{ address: string, note: string | null, token: string }>} `token`: what a game sends with its trace
 */
export async function serve(wanted) {
	const build = await import(pathToFileURL(join(root, 'app/build/server/index.js')).href);
	const client = join(root, 'app/build/client');
	const app = express();
	app.disable('x-powered-by');
	app.use(giveNonce, headers, onlyOwn);
	mountCheck(app);
	const token = mountTrace(app);
	app.use(compression());
	app.use('/assets', express.static(join(client, 'assets'), { immutable: true, maxAge: '1y' }));
	app.use('/assets', (_request, response) => response.status(404).type('text/plain').send('There is no such file.\n'));
	app.use(express.static(client));
	app.all('*', createRequestHandler({ build, mode: 'production' }));
	// What is wrong with a request is the client's to know; the log gets one line, and no stack.
	app.use((error, _request, response, _next) => {
		const status = error.status ?? error.statusCode ?? 500;
		if (status >= 500) console.error(`the server failed: ${error.message}`);
		if (response.headersSent) response.destroy();
		else
			response
				.status(status)
				.type('text/plain')
				.send(status >= 500 ? 'Something went wrong in Frelk itself.\n' : 'The request cannot be understood.\n');
	});

	if (wanted) {
		const port = Number(wanted);
		if (!Number.isInteger(port) || port < 1 || port > 65535)
			throw new Error(`PORT is "${wanted}"; it must be a whole number from 1 to 65535.`);
		if (!(await listen(app, port)))
			throw new Error(
				`Port ${port} is in use. Set PORT to a free one, or leave it out: Frelk then takes the first free port from ${FIRST}.`,
			);
		return { address: `http://${HOST}:${port}/`, note: null, token };
	}
	for (let port = FIRST; port < FIRST + TRIES; port++) {
		if (await listen(app, port))
			return {
				address: `http://${HOST}:${port}/`,
				note: port === FIRST ? null : `Port ${FIRST} is in use; taking ${port}.`,
				token,
			};
	}
	throw new Error(`Ports ${FIRST} to ${FIRST + TRIES - 1} are all in use. Set PORT to a free one.`);
}
