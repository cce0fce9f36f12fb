// Serves the built application on loopback.
import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import compression from 'compression';
import express from 'express';
import { mountCheck } from './api-check.mjs';
import { giveNonce, headers, onlyOwn } from './guard.mjs';
import { mountTrace } from './live-trace.mjs';
import { mountNoDisk } from './mount-disk.mjs';

export { mountDisk } from './mount-disk.mjs';

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

/** The one page of the application, under the addresses that have one; elsewhere it says that there is nothing, and so does the status. */
function mountPages(app, client) {
	const [before, ...parts] = readFileSync(join(client, 'index.html'), 'utf8').split('<script');
	const pages = JSON.parse(readFileSync(join(client, 'pages.json'), 'utf8'));
	const send = (response, status) =>
		response
			.status(status)
			.type('html')
			.set('Cache-Control', 'no-cache')
			.send([before, ...parts].join(`<script nonce="${response.locals.nonce}"`));
	app.use('/assets', express.static(join(client, 'assets'), { immutable: true, maxAge: '1y' }));
	app.use('/assets', (_request, response) => response.status(404).type('text/plain').send('There is no such file.\n'));
	app.get('/index.html', (_request, response) => response.redirect(301, '/'));
	app.get(pages, (_request, response) => send(response, 200));
	app.use(express.static(client, { index: false }));
	app.get('*', (_request, response) => send(response, 404));
	app.all('*', (_request, response) =>
		response.status(405).set('Allow', 'GET, HEAD').type('text/plain').send('Only GET and HEAD.\n'),
	);
}

/**
 * NODE_ENV has to be "production" before this module is loaded.
 * @param {object} how
 * @param {string | undefined} how.port the port asked for, which must be free; without it the first free one from 4173
 * @param {string} how.client the folder of the built application
 * @param {string} how.checkWorker the module that runs the checks of a project's bytes
 * @param {(app: import('express').Express, port: () => number) => void} [how.mount] what answers beside it
 * @returns {Promise<{ address: string, note: string | null, token: string, close: () => Promise<void> }>} `token`: what a game sends with its trace
 */
export async function serve({ port: wanted, client, checkWorker, mount = mountNoDisk }) {
	const app = express();
	let server = null;
	app.disable('x-powered-by');
	app.use(giveNonce, headers, onlyOwn);
	mountCheck(app, checkWorker);
	const token = mountTrace(app);
	mount(app, () => server.address().port);
	app.use(compression());
	mountPages(app, client);
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

	const open = async (port) => {
		server = await listen(app, port);
		return server !== null;
	};
	const close = () =>
		new Promise((done) => {
			server.close(() => done());
			server.closeAllConnections();
		});
	const serving = (port, note) => ({ address: `http://${HOST}:${port}/`, note, token, close });
	if (wanted) {
		const port = Number(wanted);
		if (!Number.isInteger(port) || port < 1 || port > 65535)
			throw new Error(`The port is "${wanted}"; it must be a whole number from 1 to 65535.`);
		if (await open(port)) return serving(port, null);
		throw new Error(
			`Port ${port} is in use. Say a free one, or none: Frelk then takes the first free port from ${FIRST}.`,
		);
	}
	for (let port = FIRST; port < FIRST + TRIES; port++)
		if (await open(port)) return serving(port, port === FIRST ? null : `Port ${FIRST} is in use; taking ${port}.`);
	throw new Error(`Ports ${FIRST} to ${FIRST + TRIES - 1} are all in use. Say a free one.`);
}
