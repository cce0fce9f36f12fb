/** The worker that says of a project what takes long: where it lies depends on how the command was put together. */
import { Tinypool } from 'tinypool';
import type { Told, Wanted } from './lsp-part';

const here = import.meta.url;

/** A pool of two: one may still be ending while the next begins. */
export function lspPool(): { ask: (wanted: Wanted, signal: AbortSignal) => Promise<Told>; end: () => Promise<void> } {
	const filename = new URL(here.endsWith('.ts') ? '../bin/lsp-part.mjs' : './lsp-part.js', here).href;
	const pool = new Tinypool({ filename, runtime: 'worker_threads', minThreads: 0, maxThreads: 2, idleTimeout: 60_000 });
	return { ask: (wanted, signal) => pool.run(wanted, { signal }), end: () => pool.destroy() };
}
