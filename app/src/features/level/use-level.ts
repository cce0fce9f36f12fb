/** A level that was brought to a project: read in a worker, and laid over the project by the rules as they stand. */
import type { Project } from '@frelk/core';
import type { NamingRules } from '@frelk/interchange';
import { proxy, type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import { textOf } from '../../data/text';
import type { LevelHand, LevelMade, LevelShown } from '../../workers/level';

/** Largest files a page takes, bytes of all together. */
const MOST_BYTES = 600e6;
/** Milliseconds a rule rests before it is tried. */
const SETTLED = 150;

export function useLevel(files: readonly File[] | null, project: Project, rules: NamingRules) {
	const [shown, setShown] = useState<LevelShown | null>(null);
	const [made, setMade] = useState<LevelMade | null>(null);
	const [progress, setProgress] = useState<{ what: string; done: number } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const worker = useRef<Worker | null>(null);
	const hand = useRef<Remote<LevelHand> | null>(null);
	const cancel = () => {
		worker.current?.terminate();
		worker.current = null;
		hand.current = null;
		setProgress(null);
		setTrouble('It was cancelled. Drop the level again to read it.');
	};
	useEffect(() => {
		setShown(null);
		setMade(null);
		setTrouble(null);
		if (!files || files.length === 0) return;
		let over = false;
		const size = files.reduce((sum, f) => sum + f.size, 0);
		if (size > MOST_BYTES) {
			setTrouble(
				`The files have ${Math.round(size / 1e6)} MB; this page takes ${MOST_BYTES / 1e6} MB. frelk import takes larger ones.`,
			);
			return;
		}
		setProgress({ what: 'opening', done: 0 });
		const own = new Worker(new URL('../../workers/level.ts', import.meta.url), { type: 'module', name: 'frelk-level' });
		worker.current = own;
		const remote = wrap<LevelHand>(own);
		hand.current = remote;
		own.addEventListener('error', (event) => !over && setTrouble(event.message || 'the worker could not be started'));
		let ended = false;
		const read = async () => {
			const bytes = await Promise.all(
				files.map(async (f) => ({ name: f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
			);
			return remote.read(
				bytes,
				// Told from the worker, a word of progress may come after the end.
				proxy((what: string, done: number) => void (over || ended || setProgress({ what, done }))),
			);
		};
		read()
			.then(
				(level) => !over && setShown(level),
				(error) => !over && setTrouble(error instanceof Error ? error.message : String(error)),
			)
			.finally(() => {
				ended = true;
				if (!over) setProgress(null);
			});
		return () => {
			over = true;
			own.terminate();
		};
	}, [files]);
	useEffect(() => {
		if (!shown) return;
		let over = false;
		const timer = setTimeout(() => {
			hand.current?.lay(textOf(project), rules).then(
				(next) => {
					if (over) return;
					setMade(next);
					setTrouble(null);
				},
				(error) => !over && setTrouble(error instanceof Error ? error.message : String(error)),
			);
		}, SETTLED);
		return () => {
			over = true;
			clearTimeout(timer);
		};
	}, [shown, project, rules]);
	return { shown, made, progress, trouble, cancel, compare: (at: number) => hand.current?.compare(at, rules) };
}
