// `/api/disk`: the projects of the folders that are served, for pages that were opened with the key the terminal shows.
import { randomBytes } from 'node:crypto';
import { answerWith, same, textOf, Wrong } from './asked.mjs';

const MAX_BODY = 256 * 1024 * 1024;
const MAX_LISTENERS = 64;
/** A connection without news is kept open by a comment, milliseconds. */
const HEARTBEAT = 15_000;

const BODY = {
	tooMuch: () => new Wrong(413, `more than ${MAX_BODY / 1024 / 1024} MB`),
	noText: 'the text is not valid UTF-8',
	left: 'the page left',
};

/** A server without folders says so, and nothing else. */
export function mountNoDisk(app) {
	app.get('/api/disk/projects', (_request, response) => response.set('Cache-Control', 'no-store').status(204).end());
}

/**
 * @param app the server
 * @param {() => number} port it listens on: cookies of two servers of one machine are told apart by it
 * @param disk the projects
 * @param {(key: string) => void} nextKey told the key that opens the next browser, since each opens one
 */
export function mountDisk(app, port, disk, nextKey) {
	const word = randomBytes(24).toString('base64url');
	let key = null;
	const renew = () => {
		key = randomBytes(18).toString('base64url');
		nextKey(key);
	};
	renew();
	const cookieName = () => `frelk-disk-${port()}`;

	app.get('/open', (request, response) => {
		response.set('Cache-Control', 'no-store');
		const given = String(request.query.key ?? '');
		// Whoever has been let in may follow the address again.
		if (!same(given, key) && !brings(request))
			return response
				.status(403)
				.type('text/plain')
				.send('This address was used already, or is of another start. The terminal shows the one that opens.\n');
		if (same(given, key)) {
			response.cookie(cookieName(), word, { httpOnly: true, sameSite: 'strict', path: '/' });
			renew();
		}
		response.redirect(302, '/');
	});

	const brings = ({ headers }) =>
		(headers.cookie ?? '')
			.split(/;\s*/)
			.some((one) => one.startsWith(`${cookieName()}=`) && same(one.slice(cookieName().length + 1), word));

	app.use('/api/disk', (request, response, next) => {
		response.set('Cache-Control', 'no-store');
		const { headers } = request;
		if (headers['sec-fetch-mode'] === 'navigate' || ![undefined, 'same-origin'].includes(headers['sec-fetch-site']))
			return response.status(403).json({ error: 'only pages of this server read what is on disk' });
		if (!brings(request))
			return response.status(401).json({ error: 'open Frelk with the address that the terminal shows' });
		next();
	});

	/** @param {(request: any) => Promise<unknown>} act */
	const answering = (act) => (request, response) => answerWith(response, '/api/disk', act(request));
	const keyIn = (request) => {
		if (typeof request.query.key !== 'string') throw new Wrong(400, 'say which project: ?key=');
		return request.query.key;
	};

	app.get(
		'/api/disk/projects',
		answering(async () => ({ projects: await disk.list(), readOnly: disk.readOnly })),
	);
	app.get(
		'/api/disk/project',
		answering(async (request) => ({ file: await disk.read(keyIn(request)) })),
	);
	app.get(
		'/api/disk/committed',
		answering(async (request) => ({ text: await disk.committed(keyIn(request)) })),
	);
	app.post(
		'/api/disk/save',
		answering(async (request) => {
			const name = keyIn(request);
			if (!/^application\/json(;\s*charset=utf-8)?$/i.test(request.headers['content-type'] ?? ''))
				throw new Wrong(415, 'send the project with the header Content-Type: application/json');
			const on = request.query.on === undefined ? null : String(request.query.on);
			try {
				return await disk.save(name, on, await textOf(request, MAX_BODY, BODY));
			} catch (error) {
				throw error instanceof Wrong ? error : new Wrong(422, error.message);
			}
		}),
	);

	let listening = 0;
	app.get('/api/disk/news', (_request, response) => {
		if (listening >= MAX_LISTENERS)
			return response.status(503).set('Retry-After', '5').json({ error: 'too many pages' });
		listening++;
		response.writeHead(200, { 'Content-Type': 'text/event-stream', Connection: 'keep-alive' });
		response.write('retry: 1000\nevent: hello\ndata: {}\n\n');
		const stop = disk.onNews((news) => response.write(`event: news\ndata: ${JSON.stringify(news)}\n\n`));
		const beat = setInterval(() => response.write(': still here\n\n'), HEARTBEAT);
		response.on('close', () => {
			clearInterval(beat);
			stop();
			listening--;
		});
	});
	app.all('/api/disk/*', (_request, response) => response.status(404).json({ error: 'there is no such thing here' }));
}
