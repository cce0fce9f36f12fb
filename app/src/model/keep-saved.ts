/**
 * Writes the project to the browser's store soon after each change, and at once when the page is left. While one works, a worker
 * writes; when the page is left it may be ended with the page, so that the page then writes by itself. What another tab has written
 * meanwhile is brought together with what was done here; nothing is written over unseen.
 */
import { checkProject, type Project, readProject } from '@frelk/core';
import {
	applyChanges,
	changesFrom,
	clashing,
	deepEqual,
	mergeProjects,
	type ProjectChange,
	wordsOfChange,
} from '@frelk/core/editing';
import { isFull, type Written, whyNot, writeText } from '../data/db';
import { getProject, headOf } from '../data/projects';
import { onNews, TAB } from '../data/tabs';
import { textOf } from '../data/text';
import { Ended, Saving } from '../workers/saving';
import type { BenchState, BenchStore } from './bench-state';

const DELAY = 250;
/** Even while a gesture goes on without pause, what has been done is written this often, milliseconds. */
const AT_MOST = 800;
/** After a failure it is tried again so soon, and then ever later, milliseconds. */
const RETRY = { first: 1000, last: 15_000 };

/** What was written here so lately and is changed by another tab now was changed at the same time, to a person; milliseconds. */
const AT_ONCE = 3000;

export interface Keeper {
	/** Stops it, writing what is still open. */
	stop: () => void;
	/** Tries again at once. */
	retry: () => void;
	/** Writes the project although it was deleted elsewhere. */
	bringBack: () => void;
	/** Resolves when what others wrote is taken in and what was done here is written, as far as either can be just now. */
	caughtUp: () => Promise<void>;
}

/** @param version of the row the store's project was opened from */
export function keepSaved(store: BenchStore, version: number): Keeper {
	const saving = new Saving();
	const { key } = store.getState();
	let timer: ReturnType<typeof setTimeout> | null = null;
	/** What the row holds, as far as this tab knows: the state both sides last had in common, and its version. */
	let base: Project = store.getState().project;
	let seen: number | null = version;
	let waitingSince = 0;
	let retryIn = RETRY.first;
	let running = false;
	/** Another tab has written while this one was. */
	let heard = false;
	let gone = false;
	/** What this tab has lately written. */
	let lately: { at: number; changes: ProjectChange[] }[] = [];

	const setSaving: BenchState['setSaving'] = (state, why) => store.getState().setSaving(state, why);
	const settled = () => store.getState().project === base;

	const after = (delay: number) => {
		if (timer !== null) clearTimeout(timer);
		timer = setTimeout(() => void write(), delay);
	};

	/** While the hand moves things may for an instant stand as no file may hold them. */
	const isFit = (): boolean => !store.getState().gesture || checkProject(store.getState().project).ok;

	/** Brings what another tab wrote together with what was done here; later, where that cannot be done just now. */
	const takeIn = (text: string, theirVersion: number) => {
		if (!isFit()) {
			heard = true;
			return;
		}
		const reading = readProject(text);
		if (!reading.ok) throw new Error('what another tab wrote cannot be read');
		const { project } = store.getState();
		const merged = mergeProjects(base, project, reading.project);
		const since = performance.now() - AT_ONCE;
		lately = lately.filter(({ at }) => at > since);
		const own = lately.flatMap(({ changes }) => changes);
		const lost = [...clashing(changesFrom(base, reading.project), own)];
		seen = theirVersion;
		if (deepEqual(merged.project, reading.project)) base = merged.project;
		else base = applyChanges(base, changesFrom(base, reading.project));
		if (lost.length === 0 || merged.both.length > 0) store.getState().takeIn(merged);
		else {
			// What was written here a moment ago, and was the other's to change: theirs stands, and that is said.
			const mine = applyChanges(merged.project, lost);
			const both = [...new Set(lost.map((change) => wordsOfChange(change, reading.project)))];
			store.getState().takeIn({ ...merged, both, theirs: checkProject(mine).ok ? mine : null }, 'theirs');
			lately = [];
		}
	};

	const conclude = (written: Written, project: Project) => {
		retryIn = RETRY.first;
		switch (written.done) {
			case 'written':
				if (written.text === undefined) {
					lately.push({ at: performance.now(), changes: changesFrom(base, project) });
					base = project;
					seen = written.version;
				} else takeIn(written.text, written.version);
				break;
			case 'overtaken':
				takeIn(written.text, written.version);
				break;
			case 'gone':
				gone = true;
				setSaving('gone');
		}
	};

	const failed = (error: unknown) => {
		// The page has written instead.
		if (error instanceof Ended) return;
		console.error('saving failed', error);
		setSaving(
			'failed',
			isFull(error)
				? `${whyNot(error)}: delete projects you no longer need, or free room on this device`
				: whyNot(error),
		);
		after(retryIn);
		retryIn = Math.min(RETRY.last, retryIn * 2);
	};

	/** Another tab's state, where it is newer. */
	const look = async () => {
		heard = false;
		const row = await getProject(key);
		if (row && seen !== null && row.version > seen) takeIn(row.text, row.version);
	};

	const write = async () => {
		if (timer !== null) clearTimeout(timer);
		timer = null;
		if (gone || running) return;
		running = true;
		let next = DELAY;
		try {
			if (heard) await look();
			// Once more wherever others were first: it ends when what is here lies on top of what is there.
			for (let round = 0; round < 20 && !settled(); round++) {
				const { project, gesture } = store.getState();
				const written = await saving.save(key, project, seen, gesture !== null);
				conclude(written, project);
				// As it stands it cannot be written, or taken in: once more when the hand has moved on.
				if (written.done === 'unfit' || heard) next = AT_MOST;
				if (written.done !== 'overtaken' || heard) break;
			}
			if (!gone) setSaving(settled() ? 'saved' : 'waiting');
			if (!gone && !settled()) after(next);
		} catch (error) {
			failed(error);
		} finally {
			running = false;
			if (heard && timer === null) after(isFit() ? 0 : AT_MOST);
		}
	};

	/** Writes now and here; what the worker has in hand is given up, so that it cannot be written over what is newer. */
	const writeHere = () => {
		if (timer !== null) clearTimeout(timer);
		timer = null;
		const project = isFit() ? store.getState().project : (store.getState().gesture?.before ?? base);
		if (gone || project === base) return;
		saving.stop();
		const from = base;
		const bring = (text: string) => {
			const theirs = readProject(text);
			if (!theirs.ok) return null;
			const merged = mergeProjects(from, project, theirs.project).project;
			return { head: headOf(merged), text: textOf(merged) };
		};
		writeText({ key, head: headOf(project), text: textOf(project), seen, by: TAB }, bring).then((written) => {
			conclude(written, project);
			if (!gone && settled()) setSaving('saved');
			else if (!gone) after(DELAY);
		}, failed);
	};

	const stopListening = store.subscribe((state, before) => {
		if (state.project === before.project || settled()) {
			// Taken back before it was written.
			if (state.project !== before.project && !gone && !running) {
				if (timer !== null) clearTimeout(timer);
				timer = null;
				if (state.saving === 'waiting') setSaving('saved');
			}
			return;
		}
		if (gone) return;
		if (state.saving === 'saved') setSaving('waiting');
		saving.ready();
		const now = performance.now();
		if (timer === null) waitingSince = now;
		after(Math.max(0, Math.min(DELAY, waitingSince + AT_MOST - now)));
	});

	const stopNews = onNews((news) => {
		if (news.key !== key) return;
		if ('gone' in news) {
			gone = true;
			setSaving('gone');
		} else if ('back' in news) {
			gone = false;
			heard = true;
			void write();
		} else if (seen === null || news.version > seen) {
			heard = true;
			if (!running) void write();
		}
	});

	const onVisibility = () => {
		if (document.visibilityState !== 'visible') writeHere();
		else {
			// A frozen tab has heard nothing.
			heard = true;
			void write();
		}
	};
	const beforeLeaving = (event: BeforeUnloadEvent) => {
		const { saving } = store.getState();
		if (saving === 'failed' || saving === 'gone') event.preventDefault();
	};
	document.addEventListener('visibilitychange', onVisibility);
	window.addEventListener('pagehide', writeHere);
	window.addEventListener('beforeunload', beforeLeaving);
	return {
		stop: () => {
			stopListening();
			stopNews();
			writeHere();
			if (timer !== null) clearTimeout(timer);
			saving.stop();
			document.removeEventListener('visibilitychange', onVisibility);
			window.removeEventListener('pagehide', writeHere);
			window.removeEventListener('beforeunload', beforeLeaving);
		},
		retry: () => {
			retryIn = RETRY.first;
			void write();
		},
		caughtUp: async () => {
			for (let round = 0; round < 100 && (running || heard); round++)
				await new Promise<void>((done) => setTimeout(done, 20));
		},
		bringBack: () => {
			gone = false;
			seen = null;
			// Nothing is known of the row any more, so all of it is to be written.
			base = { ...base };
			setSaving('waiting');
			void write();
		},
	};
}
