/** Project files under folders: what a server may show and change, and nothing beside. */
import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { realpath, stat } from 'node:fs/promises';
import { basename, dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { glob } from 'tinyglobby';
import { reason, UsageError } from './files';

/** What a project file is called by. */
export const ENDING = '.frelk.json';

/** A folder that is served, as it really lies, or one file of it. */
interface Place {
	folder: string;
	/** The one file, where a file was given. */
	only: string | null;
}

/** What git knows of a folder, and what it does not yet; null where there is no git, or no repository. */
const known = (folder: string): Promise<string[] | null> =>
	new Promise((done) => {
		const args = ['ls-files', '--cached', '--others', '--exclude-standard', '-z'];
		execFile('git', args, { cwd: folder, maxBuffer: 1 << 26 }, (error, out) =>
			done(error ? null : out.split('\0').filter((name) => name.endsWith(ENDING))),
		);
	});

/** Whether a real path lies in a real folder. */
const isIn = (folder: string, path: string): boolean =>
	path === folder || path.startsWith(folder.endsWith(sep) ? folder : folder + sep);

/** The projects under some folders, by names relative to them. */
export class Under {
	private constructor(private readonly places: readonly Place[]) {}

	/** @throws UsageError for what is not there */
	static async of(given: readonly string[]): Promise<Under> {
		const places: Place[] = [];
		for (const one of given.length > 0 ? given : ['.']) {
			try {
				const path = await realpath(resolve(one));
				const isFile = (await stat(path)).isFile();
				places.push({ folder: isFile ? join(path, '..') : path, only: isFile ? path : null });
			} catch (error) {
				throw new UsageError(`${one}: ${reason(error as NodeJS.ErrnoException)}`);
			}
		}
		return new Under(places);
	}

	/** The folders that are served, as they really lie. */
	get folders(): string[] {
		return this.places.map(({ folder }) => folder);
	}

	/** @returns the name of a path under the folders; null for one that is not served */
	nameAt(path: string): string | null {
		for (const place of this.places)
			if (isIn(place.folder, path) && (place.only === null || place.only === path)) return this.nameOf(place, path);
		return null;
	}

	/**
	 * @returns where a file that is not there any more would lie, by its name
	 * @throws UsageError where that is not in the folders
	 */
	async placeFor(name: string): Promise<string> {
		const outside = new UsageError(`${name}: is not among the projects that are served here`);
		if (!name.endsWith(ENDING) || isAbsolute(name) || name.includes('\0')) throw outside;
		for (const place of this.places) {
			const prefix = this.places.length > 1 ? `${basename(place.folder)}/` : '';
			if (!name.startsWith(prefix)) continue;
			const path = resolve(place.folder, name.slice(prefix.length));
			if (!isIn(place.folder, path) || (place.only !== null && place.only !== path)) continue;
			// What lies above it may be a link that leads out.
			let above = dirname(path);
			while (!existsSync(above) && above !== place.folder && above !== dirname(above)) above = dirname(above);
			if (!existsSync(above) || isIn(place.folder, await realpath(above))) return path;
		}
		throw outside;
	}

	/** How a file is called: from the folder it is served under; with several folders with that folder's name before. */
	private nameOf({ folder }: Place, path: string): string {
		const name = relative(folder, path).split(sep).join('/');
		return this.places.length > 1 ? `${basename(folder)}/${name}` : name;
	}

	/** @returns names in order: as git sees them, elsewhere all but those in `node_modules` and `.git` */
	async list(): Promise<string[]> {
		const names = new Set<string>();
		for (const place of this.places) {
			if (place.only !== null) {
				names.add(this.nameOf(place, place.only));
				continue;
			}
			const found =
				(await known(place.folder)) ??
				(await glob(`**/*${ENDING}`, { cwd: place.folder, ignore: ['**/node_modules/**', '**/.git/**'], dot: false }));
			for (const name of found) {
				const path = join(place.folder, name);
				if (existsSync(path) && isIn(place.folder, await realpath(path))) names.add(this.nameOf(place, path));
			}
		}
		return [...names].sort();
	}

	/**
	 * @returns the path of a file that is there, by its name
	 * @throws UsageError for one that is not there, is no project file or leads out of the folders
	 */
	async pathOf(name: string): Promise<string> {
		const outside = new UsageError(`${name}: is not among the projects that are served here`);
		if (!name.endsWith('.json') || isAbsolute(name) || name.includes('\0')) throw outside;
		for (const place of this.places) {
			const prefix = this.places.length > 1 ? `${basename(place.folder)}/` : '';
			if (!name.startsWith(prefix)) continue;
			const path = resolve(place.folder, name.slice(prefix.length));
			if (!existsSync(path)) continue;
			const real = await realpath(path);
			if (isIn(place.folder, real) && (place.only === null || place.only === real)) return real;
		}
		throw outside;
	}
}
