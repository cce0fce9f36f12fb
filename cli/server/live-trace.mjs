// `POST /api/trace`: a running game tells what it saw and took, a line of JSON each; open benches follow by Server-Sent Events.
import { createHash, randomBytes } from 'node:crypto';
import { answerWith, same, textOf, Wrong } from './asked.mjs';

/** One body, and one line. */
const MAX_BODY = 4 * 1024 * 1024;
const MAX_LINE = 1024 * 1024;
/** Kept for a bench that comes or comes back: lines, and bytes of all of them. */
const KEPT_LINES = 5000;
const KEPT_BYTES = 16 * 1024 * 1024;
/** Lines and bytes a second, over a window of that. */
const MAX_RATE = 5000;
const MAX_BYTES_A_SECOND = 20 * 1024 * 1024;
const MAX_LISTENERS = 16;
const MAX_PROJECTS = 16;
/** What has said nothing for so long is forgotten, and a connection without news is kept open by a comment, milliseconds. */
const FORGOTTEN = 10 * 60_000;
const HEARTBEAT = 15_000;
/** A bench that reads slower than the game writes is let go; it comes back and goes on from the last line it had. */
const MAX_WAITING = 8 * 1024 * 1024;
const FORMAT = 'frelk-trace/1';
/** Kept from scripts and from every other site. */
const COOKIE = 'frelk-follows';
const ID = /^[a-z0-9][a-z0-9-]{0,63}$/;

/** A trace under way: the last lines with their numbers, and who follows. */
class Channel {
	constructor() {
		this.lines = [];
		this.bytes = 0;
		/** Number of the next line, from 1. */
		this.next = 1;
		this.touched = Date.now();
	}

	/** @param listeners the benches that follow it */
	push(texts, listeners) {
		const first = this.next;
		for (const text of texts) {
			this.lines.push({ n: this.next++, text });
			this.bytes += text.length;
		}
		while (this.lines.length > KEPT_LINES || this.bytes > KEPT_BYTES) this.bytes -= this.lines.shift().text.length;
		this.touched = Date.now();
		for (const listener of listeners) this.send(listener, first);
	}

	/** An event with all lines from a number on; its id is that of the last. */
	send(response, from) {
		const lines = this.lines.filter((line) => line.n >= from);
		const last = lines.at(-1);
		if (!last) return;
		if (response.writableLength > MAX_WAITING) return response.destroy();
		response.write(`id: ${last.n}\nevent: lines\n${lines.map((l) => `data: ${l.n} ${l.text}\n`).join('')}\n`);
	}
}

const BODY = {
	tooMuch: () =>
		new Wrong(413, `more than ${MAX_BODY / 1024 / 1024} MB at once; send fewer lines`, { Connection: 'close' }),
	noText: 'the lines are not valid UTF-8; nothing of them was taken',
	left: 'the game left',
};

/** The lines of a body, each held against what a line of a trace is at least. */
function linesOf(text) {
	const lines = text.split('\n').filter((line) => line.trim() !== '');
	return lines.map((raw, i) => {
		// Between two tokens a return is as good as a blank; in the events that benches follow it would end a line.
		const line = raw.replace(/\r$/, '').replaceAll('\r', ' ');
		if (line.length > MAX_LINE) throw new Wrong(413, `line ${i + 1} is longer than ${MAX_LINE} characters`);
		let data;
		try {
			data = JSON.parse(line);
		} catch (error) {
			throw new Wrong(400, `line ${i + 1} is not JSON: ${clean(error.message)}`);
		}
		if (typeof data !== 'object' || data === null || (data.format !== FORMAT && !Number.isFinite(data.t)))
			throw new Wrong(400, `line ${i + 1} has neither "t", a finite number of seconds, nor "format": "${FORMAT}"`);
		return { line, head: data.format === FORMAT ? data : null };
	});
}

/** Words that carry a piece of the body, which may end on a terminal. */
const clean = (words) => words.slice(0, 200).replace(/[\p{Cc}\p{Cf}\u2028\u2029]/gu, '\ufffd');

/**
 * @param app the server
 * @returns the token a game sends, new at each start unless FRELK_TOKEN says it
 */
export function mountTrace(app) {
	const token = process.env.FRELK_TOKEN || randomBytes(18).toString('base64url');
	/** What a bench has to bring with it to follow: a page of this server fetches it as a cookie. */
	const reading = createHash('sha256').update(`frelk reads ${token}`).digest('base64url');
	/** The projects that a game tells of; who only listens makes none. */
	const channels = new Map();
	/** Benches by the project they follow. */
	const followers = new Map();
	const followersOf = (project) => followers.get(project) ?? new Set();
	let listening = 0;
	let window = { at: 0, lines: 0, bytes: 0 };

	const channelOf = (project) => {
		const now = Date.now();
		for (const [id, channel] of channels)
			if (followersOf(id).size === 0 && now - channel.touched > FORGOTTEN) channels.delete(id);
		let channel = channels.get(project);
		if (!channel) {
			if (channels.size >= MAX_PROJECTS)
				throw new Wrong(503, 'too many projects are traced at once', { 'Retry-After': '60' });
			channel = new Channel();
			channels.set(project, channel);
		}
		return channel;
	};

	function spend(lines, bytes) {
		const now = Date.now();
		if (now - window.at >= 1000) window = { at: now, lines: 0, bytes: 0 };
		if (window.lines + lines > MAX_RATE || window.bytes + bytes > MAX_BYTES_A_SECOND)
			throw new Wrong(429, `more than ${MAX_RATE} lines or ${MAX_BYTES_A_SECOND / 1024 / 1024} MB a second`, {
				'Retry-After': '1',
			});
		window.lines += lines;
		window.bytes += bytes;
	}

	async function take(request) {
		const given = /^Bearer (.+)$/.exec(request.headers.authorization ?? '')?.[1] ?? '';
		if (!same(given, token))
			throw new Wrong(401, 'send the token that npm start printed: Authorization: Bearer …', {
				'WWW-Authenticate': 'Bearer',
				Connection: 'close',
			});
		const text = await textOf(request, MAX_BODY, BODY);
		const lines = linesOf(text);
		const head = lines.find((l) => l.head?.project !== undefined)?.head;
		const project = head?.project ?? request.query.project;
		if (typeof project !== 'string' || !ID.test(project))
			throw new Wrong(
				400,
				'say which project: ?project=ID, or {"format":"frelk-trace/1","project":"ID"} as the first line',
			);
		const told = lines.filter((l) => l.head === null).map((l) => l.line);
		spend(told.length, text.length);
		const channel = channelOf(project);
		channel.push(told, followersOf(project));
		return { taken: told.length, last: channel.next - 1, listeners: followersOf(project).size };
	}

	app.post('/api/trace', (request, response) => {
		answerWith(response, 'POST /api/trace', take(request));
	});

	/** Whether a request is made by a page of this server, and not by going to an address. */
	const isOwn = ({ headers }) =>
		headers.origin !== undefined ||
		(headers['sec-fetch-site'] === 'same-origin' && headers['sec-fetch-mode'] !== 'navigate');

	app.post('/api/trace/key', (request, response) => {
		if (!isOwn(request)) return response.status(403).json({ error: 'only pages of this server follow a trace' });
		response
			.cookie(COOKIE, reading, { httpOnly: true, sameSite: 'strict', path: '/api/trace' })
			.set('Cache-Control', 'no-store')
			.status(204)
			.end();
	});

	/** Whether a request brings what following wants: the cookie of a page, or the token of a game. */
	const mayFollow = ({ headers }) => {
		const given = /^Bearer (.+)$/.exec(headers.authorization ?? '')?.[1];
		if (given !== undefined) return same(given, token);
		if (headers['sec-fetch-mode'] === 'navigate' || ![undefined, 'same-origin'].includes(headers['sec-fetch-site']))
			return false;
		const cookies = (headers.cookie ?? '').split(/;\s*/);
		return cookies.some((one) => one.startsWith(`${COOKIE}=`) && same(one.slice(COOKIE.length + 1), reading));
	};

	app.get('/api/trace', (request, response) => {
		if (!mayFollow(request))
			return response
				.status(401)
				.json({ error: 'following wants the key that a page gets by POST /api/trace/key, or the token of the game' });
		const { project } = request.query;
		if (typeof project !== 'string' || !ID.test(project))
			return response.status(400).json({ error: 'say which project: ?project=ID' });
		if (listening >= MAX_LISTENERS)
			return response.status(503).set('Retry-After', '5').json({ error: 'too many benches follow at once' });
		response.writeHead(200, {
			'Content-Type': 'text/event-stream',
			'Cache-Control': 'no-store',
			Connection: 'keep-alive',
		});
		const channel = channels.get(project) ?? new Channel();
		const last = Number(request.headers['last-event-id'] ?? request.query.after ?? 0);
		// A number of another start of the server is none of this one.
		const after = Number.isInteger(last) && last >= 0 && last < channel.next ? last : 0;
		const lost = Math.max(0, (channel.lines[0]?.n ?? channel.next) - 1 - after);
		response.write(`retry: 1000\nevent: hello\ndata: ${JSON.stringify({ last: channel.next - 1, lost })}\n\n`);
		channel.send(response, after + 1);
		const beside = followersOf(project);
		followers.set(project, beside.add(response));
		listening++;
		const beat = setInterval(() => response.write(': still here\n\n'), HEARTBEAT);
		response.on('close', () => {
			clearInterval(beat);
			beside.delete(response);
			if (beside.size === 0) followers.delete(project);
			listening--;
		});
	});
	app.all('/api/trace', (_request, response) =>
		response.status(405).set('Allow', 'GET, POST').json({ error: 'only POST, and GET to follow' }),
	);
	return token;
}
