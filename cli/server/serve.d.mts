import type { Disk } from '../src/disk';

/** What Express hands on; only the server's own modules look into it. */
type App = unknown;

export function serve(how: {
	/** The port asked for, which must be free; without it the first free one from 4173. */
	port?: string | undefined;
	/** The folder of the built application. */
	client: string;
	/** The module that runs the checks of a project's bytes. */
	checkWorker: string;
	/** What answers beside it. */
	mount: (app: App, port: () => number) => void;
}): Promise<{ address: string; note: string | null; token: string; close: () => Promise<void> }>;

export function mountDisk(app: App, port: () => number, disk: Disk, nextKey: (key: string) => void): void;
