// The projects on disk over HTTP: who is let in, and what is taken.
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import express from 'express';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Disk, keyOf } from '../src/disk.ts';
import { Under } from '../src/under.ts';
import { onlyOwn } from './guard.mjs';
import { mountDisk, mountNoDisk } from './mount-disk.mjs';

const example = readFileSync(join(import.meta.dirname, '../../examples/pursers-desk.frelk.json'), 'utf8');
/** The same project, otherwise called. */
const called = (name) => example.replace('"name": "Purser\'s desk"', `"name": "${name}"`);

let folder;
let file;
let disk;
beforeEach(async () => {
	folder = mkdtempSync(join(tmpdir(), 'frelk-disk-'));
	file = join(folder, 'desk.frelk.json');
	writeFileSync(file, example);
	disk = new Disk(await Under.of([folder]), false);
});
afterEach(() => rmSync(folder, { recursive: true, force: true }));

describe('over HTTP', () => {
	let server;
	let base;
	let key = '';
	const serving = async (mount) => {
		const app = express();
		app.use(onlyOwn);
		server = createServer(app);
		mount(app, () => server.address().port);
		await new Promise((done) => server.listen(0, '127.0.0.1', () => done()));
		base = `http://127.0.0.1:${server.address().port}`;
	};
	afterEach(async () => {
		server.closeAllConnections();
		await new Promise((done) => server.close(done));
	});
	const enter = async (with_ = key) => fetch(`${base}/open?key=${with_}`, { redirect: 'manual' });
	const ask = (path, headers = {}, more = {}) => fetch(`${base}/api/disk/${path}`, { headers, ...more });

	it('lets in one browser a key, by a cookie no script and no other site has', async () => {
		await serving((app, port) => mountDisk(app, port, disk, (next) => (key = next)));
		const first = key;
		expect((await enter('wrong')).status).toBe(403);
		const reply = await enter();
		expect([reply.status, reply.headers.get('location')]).toEqual([302, '/']);
		const cookie = reply.headers.get('set-cookie') ?? '';
		expect(cookie).toMatch(/^frelk-disk-\d+=[\w-]{32}; Path=\/; HttpOnly; SameSite=Strict$/);
		expect((await enter(first)).status).toBe(403);
		expect(key).not.toBe(first);
		const Cookie = cookie.split(';')[0];
		for (const path of ['projects', 'project?key=x', 'committed?key=x', 'news', 'nothing']) {
			expect([path, (await ask(path)).status]).toEqual([path, 401]);
			expect((await ask(path, { Cookie: `${Cookie.slice(0, -1)}~` })).status).toBe(401);
			expect((await ask(path, { Cookie, 'Sec-Fetch-Site': 'cross-site', 'Sec-Fetch-Mode': 'cors' })).status).toBe(403);
			expect((await ask(path, { Cookie, 'Sec-Fetch-Site': 'none', 'Sec-Fetch-Mode': 'navigate' })).status).toBe(403);
		}
		expect((await ask('projects', { Cookie, Origin: 'http://evil.example' })).status).toBe(403);
		const { projects } = await (await ask('projects', { Cookie })).json();
		expect(projects.map((one) => one.key)).toEqual([keyOf(file)]);
		expect((await ask('nothing', { Cookie })).status).toBe(404);
		expect((await ask('project', { Cookie })).status).toBe(400);
	});

	it('takes a project as JSON, and says what became of it', async () => {
		await serving((app, port) => mountDisk(app, port, disk, (next) => (key = next)));
		const Cookie = ((await enter()).headers.get('set-cookie') ?? '').split(';')[0];
		const found = await (await ask(`project?key=${keyOf(file)}`, { Cookie })).json();
		const { hash } = found.file;
		const save = (type, body, on = hash) =>
			ask(`save?key=${keyOf(file)}&on=${on}`, { Cookie, 'Content-Type': type }, { method: 'POST', body });
		expect((await save('text/plain', called('X'))).status).toBe(415);
		expect((await save('application/json', Uint8Array.of(0xff))).status).toBe(400);
		const wrong = await save('application/json', '{}');
		expect([wrong.status, await wrong.json()]).toEqual([422, { error: expect.stringContaining('format') }]);
		expect(readFileSync(file, 'utf8')).toBe(example);
		expect(await (await save('application/json', called('Said'))).json()).toMatchObject({ done: 'written' });
		expect(await (await save('application/json', called('Late'))).json()).toMatchObject({ done: 'overtaken' });
		expect(JSON.parse(readFileSync(file, 'utf8')).name).toBe('Said');
	});

	it('is not there where no folder is served', async () => {
		await serving((app) => mountNoDisk(app));
		const reply = await ask('projects');
		expect([reply.status, await reply.text()]).toEqual([204, '']);
	});
});
