// A game that traces while it runs: what is taken and refused, what a bench hears, comes back to, and what is bounded.
import { createServer, request } from 'node:http';
import express from 'express';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { follow as followLive, judgeLive } from '../../scripts/fuzz-live.mjs';

let server;
let base;
let token;
let cookie;
const open = new Set();

beforeEach(async () => {
	vi.stubEnv('FRELK_TOKEN', 'secret');
	const { mountTrace } = await import('./live-trace.mjs');
	const app = express();
	token = mountTrace(app);
	server = createServer(app);
	await new Promise((done) => server.listen(0, '127.0.0.1', done));
	base = `http://127.0.0.1:${server.address().port}`;
	const key = await fetch(`${base}/api/trace/key`, { method: 'POST', headers: { Origin: base } });
	cookie = key.headers.get('set-cookie').split(';')[0];
});
afterEach(async () => {
	for (const stop of open) stop.abort();
	open.clear();
	server.closeAllConnections();
	await new Promise((done) => server.close(done));
});

const head = (project) => JSON.stringify({ format: 'frelk-trace/1', project, clock: 's' });
const line = (t) => JSON.stringify({ t, asked: [{ query: 'q', got: null }] });
async function post(body, { auth = `Bearer ${token}`, query = '' } = {}) {
	const reply = await fetch(`${base}/api/trace${query}`, { method: 'POST', headers: { Authorization: auth }, body });
	return { status: reply.status, body: await reply.json(), headers: reply.headers };
}

/** Follows a project; `until` waits for so many lines. */
async function follow(project, { Cookie = cookie, ...headers } = {}) {
	const stop = new AbortController();
	open.add(stop);
	const reply = await fetch(`${base}/api/trace?project=${project}`, {
		headers: { ...(Cookie ? { Cookie } : {}), ...headers },
		signal: stop.signal,
	});
	if (reply.status !== 200) return { status: reply.status };
	const reader = reply.body.pipeThrough(new TextDecoderStream()).getReader();
	const lines = [];
	const hellos = [];
	let rest = '';
	const read = async () => {
		const { done, value } = await reader.read();
		if (done) return false;
		const events = (rest + value).split('\n\n');
		rest = events.pop();
		for (const event of events) {
			const of = (key) =>
				event
					.split('\n')
					.filter((l) => l.startsWith(`${key}: `))
					.map((l) => l.slice(key.length + 2));
			if (of('event')[0] === 'hello') hellos.push(JSON.parse(of('data')[0]));
			if (of('event')[0] === 'lines') lines.push(...of('data'));
		}
		return true;
	};
	return {
		status: 200,
		lines,
		hellos,
		stop: () => stop.abort(),
		until: async (n) => {
			while (lines.length < n && (await read()));
		},
	};
}

it('takes lines from who has the token, and from nobody else', async () => {
	expect((await post(line(0), { auth: '' })).status).toBe(401);
	expect((await post(line(0), { auth: 'Bearer secreT' })).status).toBe(401);
	expect((await post(line(0), { auth: 'Bearer secret-and-more' })).status).toBe(401);
	expect(await post(`${head('quay')}\n${line(0)}\n${line(1)}\n`)).toMatchObject({
		status: 200,
		body: { taken: 2, last: 2, listeners: 0 },
	});
	expect(await post(line(2), { query: '?project=quay' })).toMatchObject({ status: 200, body: { taken: 1, last: 3 } });
});

it('says what is wrong with a line, with its number', async () => {
	const wrong = async (body, query) => (await post(body, { query })).body.error;
	expect(await wrong(`${line(0)}\n{"t":`, '?project=quay')).toContain('line 2 is not JSON');
	expect(await wrong('{"time":3}', '?project=quay')).toBe(
		'line 1 has neither "t", a finite number of seconds, nor "format": "frelk-trace/1"',
	);
	expect(await wrong(line(0))).toContain('say which project');
	expect(await wrong(line(0), '?project=../etc')).toContain('say which project');
	expect((await post(`{"t":0,"x":"${'a'.repeat(1024 * 1024)}"}`, { query: '?project=quay' })).status).toBe(413);
});

it('is heard by every bench of that project, from the first line kept or from where it left off', async () => {
	await post(`${head('quay')}\n${line(0)}\n${line(1)}`);
	const [one, two, other] = [await follow('quay'), await follow('quay'), await follow('deck')];
	await one.until(2);
	expect((await post(`${line(2)}\n${line(3)}`, { query: '?project=quay' })).body.listeners).toBe(2);
	await one.until(4);
	await two.until(4);
	expect(one.lines).toEqual([0, 1, 2, 3].map((t) => `${t + 1} ${line(t)}`));
	expect(two.lines).toEqual(one.lines);
	expect(other.lines).toEqual([]);
	one.stop();
	await new Promise((done) => setTimeout(done, 50));
	expect((await post(line(4), { query: '?project=quay' })).body.listeners).toBe(1);
	const back = await follow('quay', { 'Last-Event-ID': '4' });
	await back.until(1);
	expect(back.lines).toEqual([`5 ${line(4)}`]);
	// A number of another start of the server is none of this one: all is told again.
	const late = await follow('quay', { 'Last-Event-ID': '999' });
	await late.until(5);
	expect(late.lines).toHaveLength(5);
});

it('loses no line at a thousand a second, and keeps only the last ones for who comes late', async () => {
	const bench = await follow('quay');
	const sent = 10_000;
	for (let i = 0; i < sent; i += 500) {
		const part = Array.from({ length: 500 }, (_, k) => line(i + k)).join('\n');
		let reply = await post(part, { query: '?project=quay' });
		while (reply.status === 429) {
			// Faster than any game: it is asked to wait, and nothing of it is taken.
			expect(reply.headers.get('retry-after')).toBe('1');
			await new Promise((done) => setTimeout(done, 200));
			reply = await post(part, { query: '?project=quay' });
		}
		expect(reply.status).toBe(200);
		await bench.until(i + 500);
	}
	expect(bench.lines).toHaveLength(sent);
	expect(bench.lines.every((text, i) => text.startsWith(`${i + 1} {"t":${i},`))).toBe(true);
	const late = await follow('quay');
	await late.until(5000);
	expect(late.lines[0].startsWith('5001 ')).toBe(true);
	expect(late.hellos).toEqual([{ last: sent, lost: 5000 }]);
}, 60_000);

it('is bounded: benches, bodies and projects', async () => {
	for (let i = 0; i < 16; i++) expect((await follow('quay')).status).toBe(200);
	expect((await follow('quay')).status).toBe(503);
	const large = await post(`${`${line(0)}\n`.repeat(120_000)}`, { query: '?project=quay' }).catch(() => ({
		status: 413,
	}));
	expect(large.status).toBe(413);
	for (let i = 0; i < 16; i++) expect((await post(line(0), { query: `?project=p${i}` })).status).toBe(200);
	expect((await post(line(0), { query: '?project=one-more' })).status).toBe(503);
	expect((await fetch(`${base}/api/trace`, { method: 'DELETE' })).status).toBe(405);
});

it('is followed with a key alone, which only pages of this server get', async () => {
	const key = (headers) => fetch(`${base}/api/trace/key`, { method: 'POST', headers });
	expect((await key({})).status).toBe(403);
	// `fetch` writes headers of this kind itself.
	const navigated = (path, method, headers) =>
		new Promise((done) => {
			const one = request(
				`${base}${path}`,
				{ method, headers: { ...headers, 'Sec-Fetch-Mode': 'navigate' } },
				(reply) => {
					done(reply.statusCode);
					reply.destroy();
				},
			);
			one.end();
		});
	expect(await navigated('/api/trace/key', 'POST', { 'Sec-Fetch-Site': 'same-origin' })).toBe(403);
	const given = await key({ 'Sec-Fetch-Site': 'same-origin', 'Sec-Fetch-Mode': 'cors' });
	expect([given.status, given.headers.get('set-cookie')]).toEqual([
		204,
		expect.stringMatching(/^frelk-follows=[\w-]{40,}; Path=\/api\/trace; HttpOnly; SameSite=Strict$/),
	]);
	const status = async (headers) => (await follow('quay', headers)).status;
	expect(await status({ Cookie: '' })).toBe(401);
	expect(await status({ Cookie: 'frelk-follows=' })).toBe(401);
	expect(await status({ Cookie: 'frelk-follows=guess' })).toBe(401);
	expect(await status({ Cookie: '', Authorization: 'Bearer guess' })).toBe(401);
	// The key itself is of no use to who is sent here from elsewhere.
	expect(await status({ 'Sec-Fetch-Site': 'cross-site' })).toBe(401);
	expect(await status({ 'Sec-Fetch-Site': 'same-site' })).toBe(401);
	expect(await navigated('/api/trace?project=quay', 'GET', { Cookie: cookie })).toBe(401);
	expect(await status({ Cookie: '', Authorization: 'Bearer secret' })).toBe(200);
	expect(await status({ Cookie: `other=1; ${cookie}`, 'Sec-Fetch-Site': 'same-origin' })).toBe(200);
});

it('keeps room for the game, whoever listens for what', async () => {
	for (let i = 0; i < 16; i++) {
		const one = await follow(`nobody-${i}`);
		expect(one.status).toBe(200);
		one.stop();
	}
	const early = await follow('quay');
	expect((await post(line(0), { query: '?project=quay' })).body).toEqual({ taken: 1, last: 1, listeners: 1 });
	await early.until(1);
	expect(early.lines).toEqual([`1 ${line(0)}`]);
	for (let i = 1; i < 16; i++) expect((await post(line(0), { query: `?project=p${i}` })).status).toBe(200);
});

it('takes no line that would break what benches follow, or that no bench could read', async () => {
	const refused = async (body) => {
		const reply = await post(body, { query: '?project=quay' });
		return [reply.status, reply.body.error];
	};
	expect(await refused('{"t":1e999}')).toEqual([400, expect.stringContaining('a finite number')]);
	expect(await refused(Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x3a, 0x31, 0x7d]))).toEqual([
		400,
		'the lines are not valid UTF-8; nothing of them was taken',
	]);
	const bench = await follow('quay');
	expect((await post(`\ufeff${head('quay')}\r\n{"t":\r1}\r\n{"t":2}`)).body.taken).toBe(2);
	await bench.until(2);
	expect(bench.lines).toEqual(['1 {"t": 1}', '2 {"t":2}']);
});

it('takes bodies nobody meant whole or not at all, and passes each line on as it was', async () => {
	// Not more a second than a game may send.
	const heardBy = await followLive(base, token, 'live');
	for (let seed = 1; seed <= 1000; seed++)
		expect(await judgeLive(seed, { base, token, heard: heardBy.heard }), `seed ${seed}`).toBeNull();
	await heardBy.stop();
}, 120_000);
