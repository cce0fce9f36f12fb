// What a check over HTTP may take: a thread that wants too much memory or time is ended, and the next one is served.
import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import express from 'express';
import { afterEach, expect, it, vi } from 'vitest';

const small = await readFile(join(import.meta.dirname, '../../examples/harl-quay-before.frelk.json'));
let server;
afterEach(() => new Promise((done) => server.close(done)));

/** @returns a way to send a body to a server with these bounds */
async function serving(bounds) {
	for (const [name, value] of Object.entries(bounds)) vi.stubEnv(name, value);
	vi.resetModules();
	const { mountCheck } = await import('./api-check.mjs');
	const app = express();
	mountCheck(app, join(import.meta.dirname, '../bin/check-worker.mjs'));
	server = createServer(app);
	await new Promise((done) => server.listen(0, '127.0.0.1', done));
	return async (body) => {
		const reply = await fetch(`http://127.0.0.1:${server.address().port}/api/check`, {
			method: 'POST',
			headers: { 'Content-Type': 'application/json' },
			body,
		});
		return { status: reply.status, body: await reply.json() };
	};
}

const project = (objects) =>
	JSON.stringify({
		format: 'frelk/1',
		id: 'p',
		name: 'P',
		scene: { kind: 'space', layers: [{ id: 'a' }], tags: [], objects, cameras: [] },
		queries: [{ id: 'q', kind: 'ray', from: { point: [0, 0, 9] }, aim: { along: [0, 0, -1] } }],
		checks: [{ id: 'c', query: 'q', expect: { none: true } }],
	});

it('one that wants more memory than it may have is refused, and another takes its place', async () => {
	const post = await serving({ FRELK_CHECK_MB: '80', FRELK_CHECK_SECONDS: '50' });
	const many = Array.from({ length: 60_000 }, (_, i) => ({
		id: `o${i}`,
		layer: 'a',
		shapes: [{ id: 's', kind: 'box', size: [1, 1, 1] }],
	}));
	expect(await post(project(many))).toEqual({
		status: 503,
		body: { error: 'needs more than 80 MB of memory; run frelk check', problems: [] },
	});
	expect((await post(small)).body).toMatchObject({ passed: 28, failed: 4 });
});

it('one that takes longer than it may is stopped, and another takes its place', async () => {
	const post = await serving({ FRELK_CHECK_MB: '1024', FRELK_CHECK_SECONDS: '8' });
	const points = Array.from({ length: 4000 }, (_, i) => [Math.cos(i) * Math.sin(2 * i), Math.sin(i), Math.cos(3 * i)]);
	// Each hull takes some tenths of a second.
	const hull = (i) => ({ id: 's', kind: 'hull', points: points.map(([x, y, z]) => [x + i, y, z]) });
	const slow = Array.from({ length: 200 }, (_, i) => ({ id: `o${i}`, layer: 'a', shapes: [hull(i)] }));
	const error = 'not done within 8 seconds; the work was stopped';
	expect(await post(project(slow))).toEqual({ status: 503, body: { error, problems: [] } });
	expect((await post(small)).status).toBe(200);
});
