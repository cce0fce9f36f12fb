/** The server by itself: who may use it, what it bears, what every answer carries. */
import { readFile } from 'node:fs/promises';
import { type ClientRequest, type IncomingMessage, request as send } from 'node:http';
import { join } from 'node:path';
import { slowProject } from './slow-project';
import { expect, test } from './test';

// One after the other: what all together may take is one bound for the whole server.
test.describe.configure({ mode: 'default' });

const before = join(import.meta.dirname, '../examples/harl-quay-before.frelk.json');
const JSON_TYPE = { 'content-type': 'application/json' };

interface Reply {
	status: number;
	headers: IncomingMessage['headers'];
	text: string;
}

/** A request with headers a browser would not let a page set; its body is still to be sent. */
function opened(
	baseURL: string | undefined,
	method: string,
	path: string,
	headers: Record<string, string>,
): Promise<Reply> & { sent: ClientRequest } {
	const url = new URL(path, baseURL);
	let sent!: ClientRequest;
	const reply = new Promise<Reply>((resolve, reject) => {
		sent = send(
			{ host: url.hostname, port: url.port, method, path, headers: { host: url.host, ...headers } },
			(response) => {
				let text = '';
				response.on('data', (part) => {
					text += part;
				});
				response.on('end', () => resolve({ status: response.statusCode ?? 0, headers: response.headers, text }));
				response.on('error', reject);
			},
		);
		sent.on('error', reject);
	});
	return Object.assign(reply, { sent });
}

/** A request that is sent whole. */
function ask(
	baseURL: string | undefined,
	method: string,
	path: string,
	headers: Record<string, string> = {},
	body?: Buffer | string,
) {
	const one = opened(baseURL, method, path, headers);
	one.sent.end(body);
	return one;
}

/** A body of spaces of a declared size, of which so much is sent as is told. */
function begun(baseURL: string | undefined, path: string, headers: Record<string, string>, size: number) {
	const one = opened(baseURL, 'POST', path, { ...headers, 'content-length': String(size) });
	const write = (bytes: number) => new Promise<void>((done) => one.sent.write(Buffer.alloc(bytes, 0x20), () => done()));
	return Object.assign(one, { write });
}

test('only pages it served itself and programs of this machine may use it', async ({ baseURL }) => {
	const file = await readFile(before);
	const status = async (method: string, path: string, headers: Record<string, string>, body?: Buffer) =>
		(await ask(baseURL, method, path, headers, body)).status;
	const { host } = new URL(baseURL ?? '');
	// A name of another site that is bound to this machine.
	for (const name of ['evil.example', 'evil.example:4173', '127.0.0.1.evil.example', 'localhost.evil.example', '[::2]'])
		expect(await status('GET', '/', { host: name }), name).toBe(400);
	for (const name of [host, 'localhost:4319', '127.0.0.1', '[::1]:9'])
		expect(await status('GET', '/', { host: name }), name).toBe(200);
	for (const origin of [
		'http://evil.example',
		'null',
		`https://${host}`,
		'http://localhost:3000',
		`http://${host}.evil.example`,
	])
		expect(await status('POST', '/api/check', { ...JSON_TYPE, origin }, file), origin).toBe(403);
	expect(await status('POST', '/api/check', { ...JSON_TYPE, origin: `http://${host}` }, file)).toBe(200);
	// An image or a form of another page; a link to follow is all right.
	expect(await status('GET', '/', { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'no-cors' })).toBe(403);
	expect(await status('GET', '/', { 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' })).toBe(200);
	for (const type of [
		'text/plain',
		'application/x-www-form-urlencoded',
		'multipart/form-data; boundary=x',
		'application/json; charset=latin1',
		'',
	])
		expect(await status('POST', '/api/check', type === '' ? {} : { 'content-type': type }, file), type).toBe(415);
	expect(await status('POST', '/api/check', { 'content-type': 'application/json; charset=UTF-8' }, file)).toBe(200);
});

test('every answer carries its headers, and what is not there is not there', async ({ baseURL }) => {
	for (const [method, path, code] of [
		['GET', '/', 200],
		['GET', '/nowhere/at/all', 404],
		['GET', '/assets/nothing.js', 404],
		['GET', '/%ff', 400],
		['GET', '/api/check', 405],
		['TRACE', '/', 405],
		['PUT', '/', 405],
		['POST', '/', 405],
	] as const) {
		const { status, headers, text } = await ask(baseURL, method, path);
		expect([method, path, status]).toEqual([method, path, code]);
		expect(headers['content-security-policy'], path).toMatch(
			/^default-src 'self';script-src 'self' 'wasm-unsafe-eval' 'nonce-[\w+/]{24}';.*connect-src 'self';.*frame-ancestors 'none'$/,
		);
		expect(headers['content-security-policy']).not.toContain(" 'unsafe-eval'");
		expect(headers['x-content-type-options']).toBe('nosniff');
		expect(headers['referrer-policy']).toBe('no-referrer');
		expect(headers['permissions-policy']).toContain('camera=()');
		expect(headers['cross-origin-opener-policy']).toBe('same-origin');
		expect(headers['x-powered-by']).toBeUndefined();
		// No stack, no path of this machine.
		expect(text).not.toMatch(/\n\s+at |node_modules|file:\/\//);
	}
	const [one, two] = [await ask(baseURL, 'GET', '/', { 'x-frelk-nonce': 'known' }), await ask(baseURL, 'GET', '/')];
	expect(one.text).not.toContain('known');
	expect(one.headers['content-security-policy']).not.toBe(two.headers['content-security-policy']);
});

test('the policy stops what is not ours, and each test of a page would hear of it', async ({ browser, baseURL }) => {
	const page = await browser.newPage({ baseURL });
	const stopped = page.waitForEvent('console', (message) => /Content Security Policy/.test(message.text()));
	await page.goto('/nowhere');
	await expect(page.getByText('There is nothing at this address')).toBeVisible();
	await page.evaluate(() => {
		const foreign = document.createElement('script');
		foreign.textContent = 'window.foreign = true';
		document.body.append(foreign);
	});
	await stopped;
	expect(await page.evaluate(() => 'foreign' in window)).toBe(false);
	await page.close();
});

test('workers may compile the walk of the core', async ({ page }) => {
	await page.goto('/p/harl-quay/checks');
	await page.getByRole('tab', { name: 'Maps' }).click();
	const compile = () =>
		new WebAssembly.Module(Uint8Array.of(0, 97, 115, 109, 1, 0, 0, 0)) instanceof WebAssembly.Module;
	// A worker that is done may be ended before it is asked.
	await expect(async () => expect(await page.workers()[0]?.evaluate(compile)).toBe(true)).toPass({ timeout: 20_000 });
});

test('bodies count against one bound together, and each against its own', async ({ baseURL }) => {
	test.setTimeout(120_000);
	const size = 60 * 1024 * 1024;
	expect((await ask(baseURL, 'POST', '/api/check', JSON_TYPE, '')).status).toBe(400);
	const large = await ask(
		baseURL,
		'POST',
		'/api/check',
		{ ...JSON_TYPE, 'content-length': String(65 * 1024 * 1024) },
		'',
	).catch(() => ({ status: 413 }));
	expect(large.status).toBe(413);
	// Four bodies are sent but for their last byte, and so are held; of a fifth there is no room for a third.
	const held = Array.from({ length: 4 }, () => begun(baseURL, '/api/check', JSON_TYPE, size));
	await Promise.all(held.map((one) => one.write(size - 1)));
	const refused = await ask(baseURL, 'POST', '/api/check', JSON_TYPE, Buffer.alloc(size, 0x20)).catch(() => null);
	// The connection may close before the answer is read.
	if (refused) expect([refused.status, refused.headers['retry-after']]).toEqual([503, '5']);
	for (const one of held) one.sent.end(' ');
	for (const one of held) expect((await one).status).toBe(422);
	// All given back.
	const after = await ask(baseURL, 'POST', '/api/check', JSON_TYPE, await readFile(before));
	expect([after.status, JSON.parse(after.text).failed]).toEqual([200, 4]);
});

test('the work of clients that left is stopped', async ({ baseURL }) => {
	test.setTimeout(120_000);
	const slow = (hulls: number) =>
		slowProject(hulls, {
			queries: [{ id: 'q', kind: 'ray', from: { point: [0, 0, 9] }, aim: { along: [0, 0, -1] } }],
			checks: [{ id: 'c', query: 'q', expect: { none: true } }],
		});
	const begin = (hulls: number) => {
		const one = ask(baseURL, 'POST', '/api/check', JSON_TYPE, slow(hulls));
		const ended = one.then(
			() => 'ended',
			() => 'ended',
		);
		return { leave: () => one.sent.destroy(), ended };
	};
	const small = await readFile(before);
	const moment = () => new Promise((done) => setTimeout(done, 1500));
	// Both that work leave: one that waits its turn goes on, and one that comes later.
	const left = [begin(80), begin(80)];
	await moment();
	const waiting = ask(baseURL, 'POST', '/api/check', JSON_TYPE, small);
	await moment();
	for (const one of left) one.leave();
	expect((await waiting).status).toBe(200);
	expect((await ask(baseURL, 'POST', '/api/check', JSON_TYPE, small)).status).toBe(200);
	// The longer of two leaves: who waits has its place at once, not only when the shorter is done.
	const shorter = begin(100);
	const longer = begin(200);
	await moment();
	const next = ask(baseURL, 'POST', '/api/check', JSON_TYPE, small).then(({ status }) => status);
	await moment();
	longer.leave();
	expect(await Promise.race([next, shorter.ended])).toBe(200);
	shorter.leave();
});
