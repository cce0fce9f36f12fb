/** The bench: rail, sentence, stage and ladder around one project. */
import { useEffect, useState } from 'react';
import { Outlet } from 'react-router';
import type { Row } from '../../data/db';
import { noteRun } from '../../data/history';
import { Button } from '../../ui/controls';
import { commandsFor, matches, paste } from '../commands/commands';
import { Ladder } from '../ladder/ladder';
import { Panels } from '../panels/panels';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { keepChecked } from './check-results';
import { keepSaved } from './keep-saved';
import { Rail } from './rail';
import { BenchContext, createBench, useBench, useBenchStore } from './store';
import { Strip } from './strip';
import { TopBar } from './top-bar';

/** One open project: its store, what goes on beside it, and the view of it that the address names. */
export function OpenProject({ row }: { row: Row }) {
	const [store] = useState(() => createBench(row.key, row.project));
	useEffect(() => keepSaved(store, row.version), [store, row.version]);
	useEffect(() => keepChecked(store, (state) => void noteRun(row.key, state, store.getState().past.at(-1)?.label ?? null)), [store, row.key]);
	// Fetched while nothing else is to do: who opens it by its key types on at once.
	useEffect(() => {
		const timer = setTimeout(() => void import('../panels/palette'), 1500);
		return () => clearTimeout(timer);
	}, []);
	return (
		<BenchContext.Provider value={store}>
			<Keys />
			<div className="grid h-screen grid-rows-[auto_1fr]">
				<TopBar />
				<Outlet />
			</div>
			<Panels />
			<Refusal />
		</BenchContext.Provider>
	);
}

export function Bench() {
	const store = useBenchStore();
	// The walk speaks of what is on the bench: who comes in by another view is shown it here.
	useEffect(() => {
		if (localStorage.getItem('frelk-walked')) return;
		localStorage.setItem('frelk-walked', 'yes');
		store.getState().show('walk');
	}, [store]);
	return (
		<main className="grid min-h-0 grid-cols-[13.5rem_minmax(0,1fr)_18.5rem]">
			<Rail />
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(0,1fr)_auto]">
				<Sentence />
				<Stage />
				<Strip />
			</div>
			<Ladder />
		</main>
	);
}

/** Keys that work everywhere on the bench, from the list of commands. */
function Keys() {
	const store = useBenchStore();
	useEffect(() => {
		const onKey = (event: KeyboardEvent) => {
			const target = event.target as HTMLElement;
			const typing = target.matches('input:not([type=checkbox]):not([type=range]), textarea, select, [role=combobox]');
			const plain = !(event.ctrlKey || event.metaKey);
			if (event.defaultPrevented || typing) {
				if (plain || event.key.toLowerCase() !== 'k') return;
			}
			// A selection of text is copied as text.
			if (event.key.toLowerCase() === 'c' && !plain && String(window.getSelection()) !== '') return;
			const command = commandsFor(store.getState().project).find((c) => c.keys && !c.native && matches(c.keys, event));
			if (!command) return;
			event.preventDefault();
			const not = command.not?.(store);
			if (not === undefined) command.run(store);
		};
		const onPaste = (event: ClipboardEvent) => {
			if ((event.target as HTMLElement).matches?.('input, textarea')) return;
			event.preventDefault();
			paste(store, event.clipboardData?.getData('text/plain'));
		};
		window.addEventListener('keydown', onKey);
		window.addEventListener('paste', onPaste);
		return () => {
			window.removeEventListener('keydown', onKey);
			window.removeEventListener('paste', onPaste);
		};
	}, [store]);
	return null;
}

/** Says why an edit was refused. */
function Refusal() {
	const refusal = useBench((s) => s.refusal);
	const store = useBenchStore();
	if (refusal === null) return null;
	return (
		<div
			role="alert"
			className="fixed bottom-4 left-1/2 z-50 flex max-w-xl -translate-x-1/2 items-start gap-3 rounded-[4px] border-2 border-cut bg-panel p-3 shadow-lg"
		>
			<p>
				<strong>Not changed.</strong> <span className="break-words">{refusal}</span>
			</p>
			<Button onClick={() => store.getState().dismiss()}>All right</Button>
		</div>
	);
}
