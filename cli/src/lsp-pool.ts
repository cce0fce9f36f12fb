/** The worker that says of a project what takes long: where it lies depends on how the command was put together. */
import { Tinypool } from 'tinypool';
import type { Told, Wanted } from './lsp-part';

const here = import.meta.url;

type Ask = (wanted: Wanted, signal: AbortSignal) => Promise<Told>;

/**
 * One worker for what is said at every stop of the typing: it stays, for a fresh one is many times slower. And two for what takes longer and
 * is ended by the next keystroke, of which one may still be ending while the next begins.
 */
export function lspPools(): { soon: Ask; later: Ask; end: () => Promise<void> } {
	const filename = new URL(here.endsWith('.ts') ? '../bin/lsp-part.mjs' : './lsp-part.js', here).href;
	const pool = (maxThreads: number) =>
		new Tinypool({ filename, runtime: 'worker_threads', minThreads: 0, maxThreads, idleTimeout: 60_000 });
	const [soon, later] = [pool(1), pool(2)];
	const asking =
		(of: Tinypool): Ask =>
		(wanted, signal) =>
			of.run(wanted, { signal });
	return {
		soon: asking(soon),
		later: asking(later),
		end: async () => {
			await Promise.all([soon.destroy(), later.destroy()]);
		},
	};
}
