/** Watched files: no change is missed, at whatever moment it falls. */
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { check } from './check';
import type { Io } from './files';
import { findings } from './findings';
import { watch } from './watch';

const text = readFileSync(join(import.meta.dirname, '../../examples/harl-quay-before.frelk.json'), 'utf8');
/** The same with one check that holds. */
const held = (): string => {
	const data = JSON.parse(text);
	return JSON.stringify({ ...data, checks: data.checks.slice(1, 2) });
};

let folder = '';
let file = '';
beforeEach(async () => {
	folder = await mkdtemp(join(tmpdir(), 'frelk-'));
	file = join(folder, 'quay.json');
	writeFileSync(file, text);
});
afterEach(() => rm(folder, { recursive: true, force: true }));

/** Watches until it has run twice. @param onOut, onTurn called with what is printed, as it is */
async function twice(
	does: { onOut?: () => void; onTurn?: () => void },
	act: (io: Io, files: string[], options: object) => Promise<number> = check,
): Promise<{ code: number; err: string }> {
	let err = '';
	let turns = 0;
	let end = () => {};
	const ended = new Promise<void>((done) => {
		end = done;
	});
	const io: Io = {
		out: () => {
			if (turns === 0) does.onOut?.();
		},
		err: (said) => {
			err += said;
			if (!said.startsWith('watching')) return;
			turns++;
			if (turns === 1) does.onTurn?.();
			else end();
		},
		stdin: async () => new Uint8Array(),
		colour: false,
		doing: () => {},
	};
	return {
		code: await watch(
			io,
			[file],
			() => act(io, [file], {}),
			() => ended,
		),
		err,
	};
}

it('sees a file that changes while it is first checked', async () => {
	expect((await twice({ onOut: () => writeFileSync(file, held()) })).code).toBe(0);
});

it('sees a file that goes in the very moment it is watched', async () => {
	const { code, err } = await twice({ onTurn: () => rmSync(file) });
	expect(code).toBe(2);
	expect(err).toContain('no such file');
});

it('sees a file put in place of another of the same size', async () => {
	const { code, err } = await twice({
		onTurn: () => {
			rmSync(file);
			writeFileSync(file, `${' '.repeat(text.length - 1)}{`);
		},
	});
	expect(code).toBe(2);
	expect(err).toContain('JSON');
});

it('looks again for what is wrong too', async () => {
	// A moment nobody looks at is a note; one that is not there is no project at all.
	const broken = text.replace('"format"', '"formatt"');
	const { code } = await twice({ onTurn: () => writeFileSync(file, broken) }, findings);
	expect(code).toBe(2);
	expect((await twice({ onTurn: () => writeFileSync(file, text) }, findings)).code).toBeLessThan(2);
});
