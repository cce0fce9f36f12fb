/** A level that was brought to a project: read in a worker, and laid over the project by the rules as they stand. */
import type { Project } from '@frelk/core';
import type { NamingRules } from '@frelk/interchange';
import { proxy, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { textOf } from '../../data/text';
import type { LevelHand, LevelMade, LevelShown } from '../../workers/level';
import { GivenUp, type LevelHands, LevelWork } from './level-work';

/** Largest files a page takes, bytes of all together. */
const MAX_BYTES = 600e6;
/** Milliseconds a rule rests before it is tried. */
const SETTLED = 150;
/** Milliseconds after which it is said that rules are being tried. */
const NOTED = 400;

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

function hire(failed: (why: string) => void): LevelHands {
	const worker = new Worker(new URL('../../workers/level.ts', import.meta.url), {
		type: 'module',
		name: 'frelk-level',
	});
	const remote = wrap<LevelHand>(worker);
	worker.addEventListener('error', (event) => failed(event.message || 'the worker could not be started'));
	return {
		async read(files, progress) {
			let ended = false;
			const bytes = await Promise.all(
				files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
			);
			try {
				return await remote.read(
					bytes,
					// Told from the worker, a word of progress may come after the end.
					proxy((what: string, done: number) => void (ended || progress(what, done))),
				);
			} finally {
				ended = true;
			}
		},
		lay: (project, rules) => remote.lay(project, rules),
		compare: (at, rules) => remote.compare(at, rules),
		end: () => worker.terminate(),
	};
}

export function useLevel(files: readonly File[] | null, project: Project, rules: NamingRules) {
	const [shown, setShown] = useState<LevelShown | null>(null);
	const [made, setMade] = useState<LevelMade | null>(null);
	const [progress, setProgress] = useState<{ what: string; done: number } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	/** Whether rules are being tried, for so long that one would ask. */
	const [trying, setTrying] = useState(false);
	const work = useRef<LevelWork | null>(null);
	/** While one takes it, what is only tried gives way. */
	const isTaken = useRef(false);
	const cancel = () => {
		work.current?.end();
		work.current = null;
		setProgress(null);
		setTrouble('It was cancelled. Drop the level again to read it.');
	};
	useEffect(() => {
		setShown(null);
		setMade(null);
		setTrouble(null);
		setTrying(false);
		if (!files || files.length === 0) return;
		let over = false;
		const size = files.reduce((sum, f) => sum + f.size, 0);
		if (size > MAX_BYTES) {
			setTrouble(
				`The files have ${Math.round(size / 1e6)} MB; this page takes ${MAX_BYTES / 1e6} MB. frelk import takes larger ones.`,
			);
			return;
		}
		setProgress({ what: 'opening', done: 0 });
		const own = new LevelWork(
			() => hire((why) => !over && setTrouble(why)),
			files,
			(what, done) => !over && setProgress(done < 1 ? { what, done } : null),
		);
		work.current = own;
		own.shown
			.then(
				(level) => !over && setShown(level),
				(error) => !over && setTrouble(wordsOf(error)),
			)
			.finally(() => !over && setProgress(null));
		return () => {
			over = true;
			own.end();
		};
	}, [files]);
	useEffect(() => {
		if (!shown) return;
		let over = false;
		const noted = setTimeout(() => setTrying(true), SETTLED + NOTED);
		const done = () => {
			clearTimeout(noted);
			if (!over) setTrying(false);
		};
		const timer = setTimeout(() => {
			if (isTaken.current) return done();
			work.current
				?.lay(textOf(project), rules)
				.then(
					(next) => {
						if (over) return;
						setMade(next);
						setTrouble(null);
					},
					(error) => !over && !(error instanceof GivenUp) && setTrouble(wordsOf(error)),
				)
				.finally(done);
		}, SETTLED);
		return () => {
			over = true;
			clearTimeout(timer);
			clearTimeout(noted);
		};
	}, [shown, project, rules]);
	return {
		shown,
		made,
		progress,
		trouble,
		cancel,
		trying,
		/** Lets go of the rules that are being tried: the next change of one begins anew. */
		stop: () => work.current?.stop(),
		/** Lays the level now: what is typed and what is edited elsewhere until this moment counts. */
		async layNow(now: Project): Promise<LevelMade | null> {
			isTaken.current = true;
			try {
				const next = (await work.current?.lay(textOf(now), rules)) ?? null;
				setMade(next);
				return next;
			} finally {
				isTaken.current = false;
			}
		},
		compare: (at: number) => work.current?.compare(at, rules),
	};
}
