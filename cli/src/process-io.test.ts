import { execFile } from 'node:child_process';
import { expect, it } from 'vitest';
import { root } from './tests/command';

const script = (work: string) => `
import { processIo } from './build/command/process-io.js';
const io = processIo(60);
${work}
process.exitCode = await io.ended(0);
`;
const run = (work: string): Promise<string> =>
	new Promise((resolve) => {
		execFile(process.execPath, ['--input-type=module', '-e', script(work)], { cwd: root }, (_error, _out, err) =>
			resolve(err),
		);
	});
/** Computes without ever looking up. */
const busy = (ms: number) => `for (const until = Date.now() + ${ms}; Date.now() < until; );`;

it('what takes long is named while it goes on, and what does not is not', async () => {
	const long = await run(`io.doing('answering gaze, 1 of 7'); ${busy(900)}`);
	expect(long).toMatch(/^frelk: \d+ s, answering gaze, 1 of 7; Ctrl\+C ends it\n/);
	expect(await run(`io.doing('answering gaze'); io.doing(''); ${busy(600)}`)).toBe('');
	expect(await run(busy(300))).toBe('');
});
