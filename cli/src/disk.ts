/**
 * Project files on disk, as a page works on them: read, written whole where nobody else wrote meanwhile, and told of when they change.
 * What a page names is a key of this server's; no path comes from it.
 */
import { createHash } from 'node:crypto';
import { lstat, mkdir, readFile, realpath, stat } from 'node:fs/promises';
import { basename, dirname, sep } from 'node:path';
import { formatProblem, readBytes, readProject, slug, writeProject } from '@frelk/core';
import { textWith } from '@frelk/core/editing';
import { type FSWatcher, watch } from 'chokidar';
import { locked, MAX_BYTES, reason, UsageError, write } from './files';
import { git } from './revisions';
import { ENDING, type Under } from './under';

/** A project file that is served. */
interface DiskFile {
	/** What it goes by in addresses and in the browser's store: the same as long as it lies at the same real path. */
	key: string;
	/** From the folder it is served under. */
	name: string;
	/** Milliseconds since 1970. */
	changed: number;
	/** Bytes. */
	size: number;
}

/** A file as it was read. */
interface DiskText {
	key: string;
	name: string;
	/** Of its bytes: whoever writes says which ones it has seen. */
	hash: string;
	text: string;
	/** Why it is no project, in lines; null where it is one. */
	broken: string[] | null;
	writable: boolean;
}

type DiskSaved =
	| { done: 'written'; hash: string }
	/** Someone else wrote since: nothing was written. */
	| { done: 'overtaken'; file: DiskText }
	| { done: 'gone' }
	| { done: 'read-only' }
	| { done: 'failed'; why: string };

/** What changed on disk. `now`: the key under which the same bytes lie elsewhere since. */
export type DiskNews = { key: string; name: string } & ({ hash: string } | { gone: true; now: string | null });

/** Lines that are told of a broken file. */
const TOLD = 20;
/** What happens to a file within so long is one change, milliseconds: an editor that saves by another name, a checkout. */
const TOGETHER = 60;
/** A file that is half written may be whole a moment later, milliseconds. */
const HALF = 250;
/** Where the system has no more watches to give, the files are looked at so often, milliseconds. */
const POLL = 700;

const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex').slice(0, 32);

/** `disk~NAME~HASH`: no id has a tilde, so that no project of the browser goes by it. */
export const keyOf = (path: string): string =>
	`disk~${slug(basename(path).replace(/\.(frelk\.)?json$/, ''), 40) || 'project'}~${hashOf(new TextEncoder().encode(path)).slice(0, 12)}`;

/** The text of bytes with its byte order mark, as it is to be written again. */
const decode = (bytes: Uint8Array): string => new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);

interface Known {
	name: string;
	path: string;
	/** Of what was last read there, or written. */
	hash: string | null;
	/** When it was first seen. */
	since: number;
}

/** A file that was first seen so lately may be one that had another name before, milliseconds. */
const NEW = 2000;

export class Disk {
	private watcher: FSWatcher | null = null;
	private readonly known = new Map<string, Known>();
	private readonly listeners = new Set<(news: DiskNews) => void>();
	private readonly waiting = new Map<string, NodeJS.Timeout>();

	constructor(
		private readonly under: Under,
		readonly readOnly: boolean,
	) {}

	/** @returns every project file there is now, by name */
	async list(): Promise<DiskFile[]> {
		const files: DiskFile[] = [];
		for (const name of await this.under.list()) {
			try {
				const path = await this.under.pathOf(name);
				const { mtimeMs, size } = await stat(path);
				files.push({ key: this.know(path, name), name, changed: Math.round(mtimeMs), size });
			} catch {
				// It went while it was looked at.
			}
		}
		return files;
	}

	private know(path: string, name: string): string {
		const key = keyOf(path);
		if (!this.known.has(key)) this.known.set(key, { name, path, hash: null, since: performance.now() });
		return key;
	}

	private async find(key: string): Promise<Known | undefined> {
		if (!this.known.has(key)) await this.list();
		return this.known.get(key);
	}

	/** @returns null where there is no such file, or none any more */
	async read(key: string): Promise<DiskText | null> {
		const file = await this.find(key);
		if (!file) return null;
		let bytes: Uint8Array;
		let writable = !this.readOnly;
		try {
			const path = await this.under.pathOf(file.name);
			const { size, mode } = await stat(path);
			if (size > MAX_BYTES) throw new UsageError(`${file.name}: is larger than ${MAX_BYTES / 1e6} MB`);
			// Whoever may write anything would write over what was made read-only.
			writable &&= (mode & 0o222) !== 0;
			bytes = await readFile(path);
		} catch (error) {
			if ((error as NodeJS.ErrnoException).code === 'ENOENT' || error instanceof UsageError) return null;
			throw error;
		}
		const hash = hashOf(bytes);
		file.hash = hash;
		const reading = readBytes(bytes);
		return {
			key,
			name: file.name,
			hash,
			text: decode(bytes),
			broken: reading.ok ? null : reading.problems.slice(0, TOLD).map(formatProblem),
			writable,
		};
	}

	/**
	 * Writes a project into its file: of the text that is there every character that says the same stays.
	 * @param on the hash of the file the writer has seen; null to put back a file that is gone
	 * @param text of the whole project, as JSON
	 * @throws UsageError where the text is no project
	 */
	async save(key: string, on: string | null, text: string): Promise<DiskSaved> {
		if (this.readOnly) return { done: 'read-only' };
		const reading = readProject(text);
		if (!reading.ok) throw new UsageError(reading.problems.slice(0, TOLD).map(formatProblem).join('\n'));
		const known = await this.find(key);
		if (!known) return { done: 'gone' };
		try {
			const there = await this.read(key);
			if (!there) {
				if (on !== null) return { done: 'gone' };
				const path = await this.under.placeFor(known.name);
				// Writing through a link that leads out would be writing elsewhere.
				if (await lstat(path).catch(() => null)) return { done: 'failed', why: 'something else lies in its place' };
				await mkdir(dirname(path), { recursive: true });
				return this.wrote(key, path, writeProject(reading.project));
			}
			if (!there.writable) return { done: 'read-only' };
			const path = await this.under.pathOf(known.name);
			return await locked(path, async () => {
				const now = await this.read(key);
				if (!now) return { done: 'gone' };
				if (now.hash !== on) return { done: 'overtaken', file: now };
				const next = now.broken ? writeProject(reading.project) : textWith(now.text, reading.project);
				return next === now.text ? { done: 'written', hash: now.hash } : this.wrote(key, path, next);
			});
		} catch (error) {
			const why = error instanceof UsageError ? error.message : reason(error as NodeJS.ErrnoException);
			return { done: 'failed', why };
		}
	}

	private async wrote(key: string, path: string, text: string): Promise<DiskSaved> {
		await write(path, text);
		const hash = hashOf(new TextEncoder().encode(text));
		const file = this.known.get(key);
		if (file) file.hash = hash;
		return { done: 'written', hash };
	}

	/** @returns the text of the file at the last commit; null where git knows of none */
	async committed(key: string): Promise<string | null> {
		const file = await this.find(key);
		if (!file) return null;
		try {
			return decode(await git(['cat-file', 'blob', `HEAD:./${basename(file.path)}`], dirname(file.path)));
		} catch (error) {
			if (error instanceof UsageError) return null;
			throw error;
		}
	}

	/** Tells of every change from now on. @returns a function that ends it */
	onNews(listener: (news: DiskNews) => void): () => void {
		this.listeners.add(listener);
		return () => void this.listeners.delete(listener);
	}

	/** Begins to watch the folders. @param polling whether to look at the files again and again instead */
	async watch(failed: (why: string) => void, polling = false): Promise<void> {
		const watcher = watch(this.under.folders, {
			ignoreInitial: true,
			followSymlinks: false,
			usePolling: polling,
			interval: POLL,
			ignored: (path, stats) =>
				path.split(sep).some((part) => part === 'node_modules' || part === '.git') ||
				(stats?.isFile() === true && !path.endsWith(ENDING)),
		});
		this.watcher = watcher;
		watcher.on('all', (_event, path) => {
			if (path.endsWith(ENDING)) this.settle(path, TOGETHER);
		});
		watcher.on('error', (error) => {
			const { code } = error as NodeJS.ErrnoException;
			if (polling || (code !== 'ENOSPC' && code !== 'EMFILE')) return failed(reason(error as NodeJS.ErrnoException));
			void watcher.close();
			if (this.watcher === watcher) void this.watch(failed, true);
		});
		await new Promise<void>((done) => watcher.once('ready', () => done()));
	}

	private settle(path: string, after: number, again = false): void {
		clearTimeout(this.waiting.get(path));
		this.waiting.set(
			path,
			setTimeout(() => {
				this.waiting.delete(path);
				this.look(path, again).catch((error: unknown) =>
					console.error(`a change of a file could not be told: ${error}`),
				);
			}, after),
		);
	}

	/** Tells what became of a path. @param again whether it was seen broken a moment ago */
	private async look(path: string, again: boolean): Promise<void> {
		const real = await realpath(path).catch(() => path);
		const name = this.under.nameAt(real);
		if (name === null) return;
		const key = this.know(real, name);
		const before = this.known.get(key)?.hash ?? null;
		const file = await this.read(key);
		if (file?.broken && !again) return this.settle(path, HALF, true);
		if (!file) {
			const known = this.known.get(key);
			if (known) known.hash = null;
			return this.tell({ key, name, gone: true, now: before === null ? null : await this.elsewhere(key, before) });
		}
		this.tell({ key, name, hash: file.hash });
	}

	/** @returns the key under which the same bytes lie now, where there is one that was not there before */
	private async elsewhere(key: string, hash: string): Promise<string | null> {
		for (const other of await this.list()) {
			const known = this.known.get(other.key);
			if (other.key === key || !known || performance.now() - known.since > NEW) continue;
			if ((await this.read(other.key))?.hash === hash) return other.key;
		}
		return null;
	}

	private tell(news: DiskNews): void {
		for (const listener of this.listeners) listener(news);
	}

	async close(): Promise<void> {
		for (const timer of this.waiting.values()) clearTimeout(timer);
		await this.watcher?.close();
	}
}
