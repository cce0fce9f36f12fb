/** The bench: rail, sentence, stage and ladder around one project. */
import { useEffect, useState } from 'react';
import type { Row } from '../../data/db';
import { Button } from '../../ui/controls';
import { Ladder } from '../ladder/ladder';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { keepSaved } from './keep-saved';
import { Rail } from './rail';
import { BenchContext, createBench, useBench, useBenchStore } from './store';
import { Strip } from './strip';
import { TopBar } from './top-bar';

export function Bench({ row }: { row: Row }) {
	const [store] = useState(() => createBench(row.key, row.project));
	useEffect(() => keepSaved(store, row.version), [store, row.version]);
	return (
		<BenchContext.Provider value={store}>
			<Keys />
			<div className="grid h-screen grid-rows-[auto_1fr]">
				<TopBar />
				<main className="grid min-h-0 grid-cols-[13.5rem_minmax(0,1fr)_18.5rem]">
					<Rail />
					<div className="grid min-h-0 min-w-0 grid-rows-[auto_minmax(0,1fr)_auto]">
						<Sentence />
						<Stage />
						<Strip />
					</div>
					<Ladder />
				</main>
			</div>
			<Refusal />
		</BenchContext.Provider>
	);
}

/** Keys that work everywhere on the bench. */
function Keys() {
	const store = useBenchStore();
	useEffect(() => {
		const onKey = (event: KeyboardEvent) => {
			if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
			const target = event.target as HTMLElement;
			if (target.matches('input, textarea') && (target as HTMLInputElement).type !== 'checkbox') return;
			event.preventDefault();
			if (event.shiftKey) store.getState().redo();
			else store.getState().undo();
		};
		window.addEventListener('keydown', onKey);
		return () => window.removeEventListener('keydown', onKey);
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
