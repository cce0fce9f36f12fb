/**
 * `npm run fuzz -- [--cases 100000] [--seconds 600] [--seed 1] [--one SEED] [--command 0] [--keep]`: files nobody meant, read, answered,
 * checked and written. Seeds are printed; `--one` plays a single one again; what is found is made small and, with `--keep`, put with the
 * tests. `--command n` also gives n of them to the command line as a process. From the same seed on, `--levels n` reads n levels, drawings,
 * rules and traces nobody meant, `--maps n` asks n sets of maps, and `--live n` sends n bodies as a running game.
 */
import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import express from 'express';
import { mountTrace } from '../cli/server/live-trace.mjs';
import { readProject } from '../core/src/project/read';
import { caseOf, type Found, isSlow, SLOW } from '../core/src/tests/fuzz-case';
import { judgeMap } from '../core/src/tests/fuzz-map';
import { judge } from '../core/src/tests/judge';
import { type Json, reduced } from '../core/src/tests/mutate';
import { judgeLevel } from '../interchange/src/tests/fuzz-level';
import { follow, judgeLive } from './fuzz-live.mjs';

const root = join(import.meta.dirname, '..');
const { values } = parseArgs({
	options: {
		cases: { type: 'string', default: '100000' },
		seconds: { type: 'string', default: '3600' },
		seed: { type: 'string', default: '1' },
		one: { type: 'string' },
		command: { type: 'string', default: '0' },
		levels: { type: 'string', default: '0' },
		maps: { type: 'string', default: '0' },
		live: { type: 'string', default: '0' },
		keep: { type: 'boolean', default: false },
	},
});
const examples = readdirSync(join(root, 'examples'))
	.filter((name) => name.endsWith('.json'))
	.map((name) => readFileSync(join(root, 'examples', name), 'utf8'));

const first = Number(values.one ?? values.seed);
const count = values.one === undefined ? Number(values.cases) : 1;
const until = performance.now() + 1000 * Number(values.seconds);
const found: Found[] = [];
let slowest = 0;
let accepted = 0;
let seed = first;
for (; seed < first + count && performance.now() < until; seed++) {
	const text = caseOf(seed, examples);
	const before = performance.now();
	const wrong = judge(text);
	const took = performance.now() - before;
	slowest = Math.max(slowest, took);
	if (readProject(text).ok) accepted++;
	if (wrong !== null) report({ seed, text, wrong });
	else if (took > SLOW) report({ seed, text, wrong: `took ${(took / 1000).toFixed(1)} s` });
	if ((seed - first) % 5000 === 4999)
		console.log(`${seed - first + 1} cases, ${found.length} found, slowest ${slowest.toFixed(0)} ms`);
}

function report(one: Found): void {
	found.push(one);
	console.log(`seed ${one.seed}: ${one.wrong}`);
	if (found.length > 20) return;
	let tree: Json;
	try {
		tree = JSON.parse(one.text);
	} catch {
		return;
	}
	const kind = (wrong: string | null) => wrong?.replace(/[\d.e+-]+/g, '#').slice(0, 60);
	const slow = one.wrong.startsWith('took');
	const small = reduced(
		tree,
		(t) => (slow ? isSlow(JSON.stringify(t)) : kind(judge(JSON.stringify(t))) === kind(one.wrong)),
		slow ? 40 : 2000,
	);
	console.log(`  as small as it gets: ${JSON.stringify(small).slice(0, 1500)}`);
	if (!values.keep) return;
	const folder = join(root, 'core/src/tests/found');
	mkdirSync(folder, { recursive: true });
	writeFileSync(join(folder, `seed-${one.seed}.json`), `${JSON.stringify(small, null, 2)}\n`);
}

/** @returns how many cases of a kind there was time for */
async function play(kind: string, many: string, judged: (seed: number) => string | null | Promise<string | null>) {
	let n = 0;
	for (; n < Number(many) && performance.now() < until; n++) {
		const of = Number(values.seed) + n;
		const before = performance.now();
		const wrong = await judged(of);
		const took = performance.now() - before;
		slowest = Math.max(slowest, took);
		if (wrong === null && took <= SLOW) continue;
		found.push({ seed: of, text: '', wrong: wrong ?? `took ${(took / 1000).toFixed(1)} s` });
		console.log(`${kind} of seed ${of}: ${found.at(-1)?.wrong}`);
	}
	return n;
}
const levels = await play('level', values.levels, judgeLevel);
const maps = await play('maps', values.maps, judgeMap);
let live = 0;
if (values.live !== '0') {
	const app = express();
	const token = mountTrace(app);
	const server = createServer(app).listen(0, '127.0.0.1');
	await once(server, 'listening');
	const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
	const { heard, stop } = await follow(base, token, 'live');
	live = await play('body', values.live, (of) => judgeLive(of, { base, token, heard }));
	await stop();
	server.close();
}

/** The command as a process: it ends by itself, with a code that is ours, in clean lines. */
let ran = 0;
for (let i = 0; i < Number(values.command) && performance.now() < until; i++, ran++) {
	const text = caseOf(first + i, examples);
	const args = [
		['check', '-', '--json'],
		['answer', '-'],
		['validate', '-'],
		['check', '-'],
	][i % 4] as string[];
	const run = spawnSync(process.execPath, [join(root, 'cli/bin/frelk.mjs'), ...args], {
		input: text,
		timeout: 30_000,
		maxBuffer: 1 << 28,
		encoding: 'utf8',
	});
	// biome-ignore lint/suspicious/noControlCharactersInRegex: these must not be there
	const clean = !/[\u0000-\u0009\u000b-\u001f\u007f-\u009f]/.test(run.stderr);
	if (run.signal || ![0, 1, 2].includes(run.status ?? -1) || !clean)
		report({
			seed: first + i,
			text,
			wrong: `frelk ${args.join(' ')} ended with ${run.signal ?? run.status}: ${run.stderr.slice(0, 300)}`,
		});
}

console.log(
	`${seed - first} cases from seed ${first} (${accepted} taken as projects), ${levels} levels, ${maps} sets of maps, ${live} bodies of lines, ${ran} runs of the command: ${found.length} found, slowest ${slowest.toFixed(0)} ms`,
);
process.exitCode = found.length > 0 ? 1 : 0;
