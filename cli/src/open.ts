/** `frelk open`: the application itself, working on project files where they lie. */
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { mountDisk, serve } from '../server/serve.mjs';
import { Disk } from './disk';
import { type Io, UsageError } from './files';
import { Under } from './under';

interface OpenOptions {
	port?: string;
	browser?: boolean;
	readOnly?: boolean;
}

const here = import.meta.url;
const beside = (path: string): string => fileURLToPath(new URL(path, here));

/** Where the built application lies: in the package beside this, in the repository where it is built. */
function clientFolder(): string {
	const places = [
		...(process.env.FRELK_APP ? [process.env.FRELK_APP] : []),
		...['../app', '../../app/build/client'].map(beside),
	];
	const found = places.find((place) => existsSync(join(place, 'pages.json')));
	if (found === undefined)
		throw new UsageError('the application is not built: run npm run build in the repository first');
	return found;
}

/** What opens an address in the browser of this machine. */
const OPENERS: Partial<Record<NodeJS.Platform, readonly string[]>> = {
	darwin: ['open'],
	win32: ['cmd', '/c', 'start', ''],
};

function openBrowser(io: Io, address: string): void {
	const [command = 'xdg-open', ...args] = OPENERS[process.platform] ?? [];
	const child = spawn(command, [...args, address], { stdio: 'ignore', detached: true });
	child.on('error', () =>
		io.err(`frelk: there is no ${command} here that opens a browser; open the address yourself\n`),
	);
	child.unref();
}

/**
 * Serves the application and the projects under some folders until it is ended.
 * @returns the exit code
 */
export async function open(io: Io, paths: readonly string[], options: OpenOptions): Promise<number> {
	// What serves decides by it how much it tells of what went wrong.
	process.env.NODE_ENV = 'production';
	const disk = new Disk(await Under.of(paths), options.readOnly === true);
	const files = await disk.list();
	let address = '';
	let first = '';
	const told = (key: string) => `${address}open?key=${key}`;
	const serving = await serve({
		port: options.port ?? process.env.PORT,
		client: clientFolder(),
		checkWorker: here.endsWith('.ts') ? beside('../bin/check-worker.mjs') : beside('./check-request.js'),
		mount: (app, port) =>
			mountDisk(app, port, disk, (key) => {
				if (address === '') first = key;
				else io.out(`Opened. For another browser: ${told(key)}\n`);
			}),
	}).catch((error: Error) => {
		throw new UsageError(error.message);
	});
	address = serving.address;
	await disk.watch((why) => io.err(`frelk: changes on disk are not seen: ${why}\n`));
	if (serving.note) io.out(`${serving.note}\n`);
	const count = `${files.length} ${files.length === 1 ? 'project' : 'projects'}`;
	io.out(`${count} on disk${disk.readOnly ? ', read-only' : ''}. Frelk is at ${told(first)}  (Ctrl+C ends it)\n`);
	io.out(`A running game traces to ${address}api/trace with the header Authorization: Bearer ${serving.token}\n`);
	if (options.browser) openBrowser(io, told(first));
	await new Promise<void>((done) => {
		for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => done());
	});
	await Promise.all([serving.close(), disk.close()]);
	return 0;
}
