#!/usr/bin/env node
// The sources are TypeScript and run as they are, so that nothing has to be built before the first call.
import { register } from 'tsx/esm/api';

register();
const { main } = await import('../src/main.ts');

async function stdin() {
	const parts = [];
	for await (const part of process.stdin) parts.push(part);
	return Buffer.concat(parts).toString('utf8');
}

// A reader that closes early (`| head`) is no error of ours.
process.stdout.on('error', (error) => {
	if (error.code === 'EPIPE') process.exit(0);
	throw error;
});

process.exitCode = await main(process.argv.slice(2), {
	out: (text) => process.stdout.write(text),
	err: (text) => process.stderr.write(text),
	stdin,
	colour: Boolean(process.stderr.isTTY) && !process.env.NO_COLOR,
});
