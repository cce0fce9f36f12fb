/**
 * Keeps a project and its file on disk the same: what is saved in the browser goes into the file, and what others write into the file comes
 * in. The row in the store is what both meet in, so that undo, other tabs and a page that ends are as with any project.
 */

import { readProject } from '@frelk/core';
import { Away, type DiskText, fileOf, isUnwritten, keepDisk, keptDisk, saveToFile, takeFromDisk } from '../data/disk';
import { onDiskNews } from '../data/disk-news';
import { getProject } from '../data/projects';
import { textOf } from '../data/text';
import type { BenchStore, DiskStanding } from './bench-state';
import type { Keeper } from './keep-saved';

/** After a failure it is tried again so soon, and then ever later, milliseconds. */
const RETRY = { first: 1000, last: 15_000 };
/** So long it is said that something was taken in, milliseconds. */
const SAID = 6000;
/** A request that is to outlive its page may have so many bytes. */
const KEEPALIVE = 60_000;

type At = DiskStanding extends infer One ? (One extends { name: string } ? Omit<One, 'name'> : never) : never;

export interface DiskKeeper {
	stop: () => void;
	/** Tries again at once. */
	retry: () => void;
	/** Writes the project over what is there, or puts it back. */
	writeOver: () => void;
	/** Brings edits that never reached the file together with what it says now. */
	join: () => void;
	/** Takes what the file says, as a step that can be undone. */
	takeFile: () => void;
}

export function keepOnDisk(store: BenchStore, keeper: () => Keeper | null): DiskKeeper {
	const { key } = store.getState();
	let name = '';
	let timer: ReturnType<typeof setTimeout> | null = null;
	let quiet: ReturnType<typeof setTimeout> | null = null;
	let retryIn = RETRY.first;
	let stopped = false;
	let held = false;
	let readOnly = false;
	/** Of the file as it was last seen here. */
	let seen: string | null = null;
	/** One thing after the other. */
	let turn: Promise<void> = Promise.resolve();
	/**
	 * And one tab after the other: a tab that was slow would write what it knows onto a file that another has written since, and that
	 * was put back as it was before.
	 */
	const alone = <T>(act: () => Promise<T>): Promise<T> =>
		navigator.locks ? navigator.locks.request(`frelk-disk ${key}`, act) : act();

	const stand = (at: At) => {
		if (!stopped) store.getState().setDisk({ ...at, name } as DiskStanding);
	};
	const now = () => store.getState().disk;

	const inTurn = (act: () => Promise<void>) => {
		turn = turn.then(async () => {
			if (stopped) return;
			try {
				await alone(act);
			} catch (error) {
				stand(
					error instanceof Away
						? { at: 'away', why: error.message }
						: { at: 'failed', why: error instanceof Error ? error.message : String(error) },
				);
				again();
			}
		});
		return turn;
	};
	const again = () => {
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(() => void inTurn(look), retryIn);
		retryIn = Math.min(RETRY.last, retryIn * 2);
	};

	const settled = () => {
		retryIn = RETRY.first;
		const standing = now();
		if (standing?.at === 'written' && standing.said !== undefined) return;
		stand(readOnly ? { at: 'read-only' } : { at: 'written' });
	};

	/** Takes in what stands in the file. @returns whether the row may be written onto it now */
	const take = async (file: DiskText): Promise<boolean> => {
		name = file.name;
		readOnly = !file.writable;
		const taken = await takeFromDisk(file);
		if (taken.took === 'broken') {
			stand({ at: 'broken', lines: taken.lines, hash: file.hash });
			return false;
		}
		if (taken.took === 'edits') {
			const { count, merged } = taken;
			await keeper()?.caughtUp();
			if (merged.both.length > 0)
				store.getState().takeIn({ ...merged, project: store.getState().project, taken: [], renamed: [] });
			else if (count > 0) {
				stand({ at: 'written', said: `Taken in from the file: ${count} ${count === 1 ? 'change' : 'changes'}` });
				if (quiet !== null) clearTimeout(quiet);
				quiet = setTimeout(() => now()?.at === 'written' && stand({ at: 'written' }), SAID);
			}
		}
		return true;
	};

	/** Writes the row into the file, until both say the same or something is in the way. */
	const push = async (): Promise<void> => {
		if (held) return stand({ at: 'held' });
		for (let round = 0; round < 20; round++) {
			const disk = await keptDisk(key);
			const text = (await getProject(key))?.text;
			if (!disk || text === undefined) return;
			name = disk.name;
			seen = disk.hash;
			if (text === disk.base) return settled();
			if (now()?.at === 'written' || now() === null) stand({ at: 'writing' });
			const saved = await saveToFile(key, disk.hash, text);
			switch (saved.done) {
				case 'written':
					readOnly = false;
					seen = saved.hash;
					await keepDisk({ ...disk, hash: saved.hash, base: text });
					break;
				case 'overtaken':
					if (!(await take(saved.file))) return;
					break;
				case 'gone': {
					const standing = now();
					return stand({ at: 'gone', now: standing?.at === 'gone' ? standing.now : null });
				}
				case 'read-only':
					stand({ at: 'read-only' });
					return again();
				case 'failed':
					stand({ at: 'failed', why: saved.why });
					return again();
			}
		}
	};

	/** Looks at the file, takes in what is new in it and writes what is new here. */
	const look = async (): Promise<void> => {
		const file = await fileOf(key);
		if (!file) {
			const disk = await keptDisk(key);
			name = disk?.name ?? name;
			const standing = now();
			return stand({ at: 'gone', now: standing?.at === 'gone' ? standing.now : null });
		}
		name = file.name;
		readOnly = !file.writable;
		const disk = await keptDisk(key);
		if (held) return stand({ at: 'held' });
		if (disk?.hash !== file.hash && !(await take(file))) return;
		await push();
	};

	/** What an earlier page left unwritten is offered where the file is another one since, and written where it is not. */
	const begin = async (): Promise<void> => {
		const disk = await keptDisk(key);
		name = disk?.name ?? '';
		if (!disk) held = (await fileOf(key)) !== null;
		else if (await isUnwritten(disk)) {
			const file = await fileOf(key);
			held = file !== null && file.broken === null && file.hash !== disk.hash;
			name = file?.name ?? name;
		}
		await look();
	};

	const stopStore = store.subscribe((state, before) => {
		if (state.saving === 'saved' && (before.saving !== 'saved' || state.project !== before.project)) void inTurn(push);
	});
	const stopNews = onDiskNews((news) => {
		if ('hello' in news) void inTurn(look);
		else if (news.key !== key) return;
		else if ('gone' in news) {
			name = news.name;
			void inTurn(async () => stand({ at: 'gone', now: news.now }));
		} else
			void inTurn(async () => {
				const disk = await keptDisk(key);
				// What this browser wrote itself, unless the file was thought gone or broken.
				if (disk?.hash === news.hash && (now()?.at === 'written' || now()?.at === 'writing')) return;
				await look();
			});
	});
	/** Whoever leaves in the middle of an edit: what is small still goes out. */
	const onLeave = () => {
		const { project, gesture, saving } = store.getState();
		if (saving === 'saved' || gesture || held || stopped || seen === null) return;
		const text = textOf(project);
		if (text.length > KEEPALIVE) return;
		void saveToFile(key, seen, text, true).catch(() => {
			// Nobody is there any more to be told; the next page finds it in the store.
		});
	};
	window.addEventListener('pagehide', onLeave);
	void inTurn(begin);

	const writeOver = async (): Promise<void> => {
		await keeper()?.caughtUp();
		const [disk, file] = [await keptDisk(key), await fileOf(key)];
		const text = (await getProject(key))?.text;
		if (!disk || text === undefined) return;
		const saved = await saveToFile(key, file?.hash ?? null, text);
		if (saved.done === 'written') await keepDisk({ ...disk, hash: saved.hash, base: text });
		await look();
	};
	const takeFile = async (): Promise<void> => {
		const file = await fileOf(key);
		const reading = file && !file.broken ? readProject(file.text) : null;
		if (!file || !reading?.ok) return look();
		held = false;
		await keepDisk({ key, name: file.name, hash: file.hash, base: textOf(reading.project) });
		store.getState().put('Take the file as it is', reading.project);
		await keeper()?.caughtUp();
	};
	return {
		stop: () => {
			stopped = true;
			stopStore();
			stopNews();
			if (timer !== null) clearTimeout(timer);
			if (quiet !== null) clearTimeout(quiet);
			window.removeEventListener('pagehide', onLeave);
		},
		retry: () => {
			retryIn = RETRY.first;
			void inTurn(look);
		},
		writeOver: () => void inTurn(writeOver),
		join: () => {
			held = false;
			void inTurn(look);
		},
		takeFile: () => void inTurn(takeFile),
	};
}
