/** The command as a process, for tests. */
import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { main } from '../main';

export const root = join(import.meta.dirname, '../../..');
export const quay = join(root, 'examples/harl-quay.frelk.json');
/** As it is built before the tests. */
export const command = join(root, 'build/command/frelk.js');
export const desk = join(root, 'examples/pursers-desk.frelk.json');

/** What says that it takes long, as on a busy machine: not what a test of the rest asks about. */
const STILL_AT_IT = /^frelk: \d+ s, .*; Ctrl\+C ends it\n/gm;

export function frelk(args: string[], input?: string): Promise<{ code: number; out: string; err: string }> {
	return new Promise((resolve) => {
		const child = execFile(process.execPath, [command, ...args], { cwd: root, maxBuffer: 1 << 26 }, (error, out, err) =>
			resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err: err.replace(STILL_AT_IT, '') }),
		);
		child.stdin?.end(input ?? '');
	});
}

/** The command in this very process: the same code, without the second a new process takes to begin. */
export async function inProcess(args: string[], input = ''): Promise<{ code: number; out: string; err: string }> {
	let out = '';
	let err = '';
	const code = await main(args, {
		out: (text) => {
			out += text;
		},
		err: (text) => {
			err += text;
		},
		stdin: async () => new TextEncoder().encode(input),
		colour: false,
		doing: () => {},
	});
	return { code, out, err };
}
