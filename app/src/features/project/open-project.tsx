/** An open project: what its views share. Apart from the bench, so that the other views do not load the stage. */
import type { Project } from '@frelk/core';
import { useEffect, useRef, useState } from 'react';
import { Outlet, useLocation, useSearchParams } from 'react-router';
import { noteRun } from '../../data/history';
import { isOnDisk } from '../../data/projects';
import type { BenchStore } from '../../model/bench-state';
import { keepChecked } from '../../model/keep-checked';
import { keepFindings } from '../../model/keep-findings';
import { keepHistory } from '../../model/keep-history';
import { type DiskKeeper, keepOnDisk } from '../../model/keep-on-disk';
import { type Keeper, keepSaved } from '../../model/keep-saved';
import { createBench } from '../../model/store';
import { BenchContext, useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { isDragging } from '../../ui/drag';
import { Boundary } from '../../ui/part';
import { reasonWords } from '../checks/words';
import { commandsFor, isLetter, lettersAct, matches } from '../commands/commands';
import { paste } from '../edit/acts';
import { beginScene } from '../edit/ready-mades';
import { Dock } from '../panels/dock';
import { Panels } from '../panels/panels';
import { Dropped } from './dropped';
import { KeepingNotice } from './keeping-notice';
import { OnDisk } from './on-disk';
import { TopBar } from './top-bar';
import { Unsaved } from './unsaved';

/** One open project: its store, what goes on beside it, and the view of it that the address names. */
export function OpenProject({ project, rowKey, version }: { project: Project; rowKey: string; version: number }) {
	const [store] = useState(() => createBench(rowKey, project));
	useBeginning(store);
	const keeper = useRef<Keeper | null>(null);
	const diskKeeper = useRef<DiskKeeper | null>(null);
	const { pathname } = useLocation();
	const onBench = pathname.replace(/\/$/, '') === `/p/${rowKey}`;
	useEffect(() => {
		const now = keepSaved(store, version);
		keeper.current = now;
		const onDisk = isOnDisk(rowKey) ? keepOnDisk(store, () => keeper.current) : null;
		diskKeeper.current = onDisk;
		return () => {
			onDisk?.stop();
			now.stop();
		};
	}, [store, rowKey, version]);
	useEffect(
		() =>
			keepChecked(store, (state) => {
				const named = state.results.map((r) => (r.pass ? r : { ...r, reason: reasonWords(state.project, r) }));
				void noteRun(
					rowKey,
					{ ...state, results: [...named, ...state.overTime] },
					store.getState().past.at(-1)?.label ?? null,
				);
			}),
		[store, rowKey],
	);
	useEffect(() => keepHistory(store), [store]);
	useEffect(() => keepFindings(store), [store]);
	// Fetched while nothing else is to do: who opens one of them by its key types on at once.
	useEffect(() => {
		const fetchAll = () =>
			void Promise.all([
				import('../../ui/popover'),
				import('../panels/palette'),
				import('../card/object-card'),
				import('../panels/roster'),
				import('../panels/key-list'),
				import('../panels/delete'),
				import('../moments/moments'),
			]).catch(() => {
				// Each says so itself when it is asked for.
			});
		const timer = setTimeout(fetchAll, 600);
		return () => clearTimeout(timer);
	}, []);
	return (
		<BenchContext.Provider value={store}>
			<Keys />
			{onBench && <SkipLinks />}
			<div className="grid h-screen grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_minmax(0,1fr)] overflow-hidden">
				<TopBar />
				<KeepingNotice />
				{/* Where the window is lower than any view can be, as with all twice as large, the view is scrolled. */}
				<div className="relative flex min-h-0 [@media(max-height:460px)]:overflow-y-auto">
					<Dock />
					<div className="grid min-h-0 min-w-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)] [@media(max-height:460px)]:min-h-[36rem]">
						<Boundary key={pathname} what="This view">
							<Outlet />
						</Boundary>
					</div>
				</div>
			</div>
			<Panels />
			<Refusal />
			<Dropped />
			<Unsaved keeper={keeper} />
			<OnDisk keeper={diskKeeper} />
		</BenchContext.Provider>
	);
}

const SKIPS = [
	{ to: 'Sentence', within: '[aria-label=Sentence] button' },
	{ to: 'Stage', within: '[role=application][aria-label=Scene]' },
	{ to: 'Ladder', within: '[aria-label=Ladder] button' },
];

/** Reached by the Tab key first: past the bar to where the work is. */
function SkipLinks() {
	return (
		<nav aria-label="Skip to" className="fixed top-1 left-1 z-50 flex gap-1">
			{SKIPS.map(({ to, within }) => (
				<Button
					key={to}
					className="sr-only focus:not-sr-only focus:border-ink! focus:px-2!"
					onClick={() => document.querySelector<HTMLElement>(within)?.focus()}
				>
					Skip to the {to.toLowerCase()}
				</Button>
			))}
		</nav>
	);
}

/** What the address says to begin with is taken once and cleared; what names a place in a view (`tab`) stays, for as long as it is shown. */
const TAKEN_ONCE = ['begin', 'query', 'moment', 'hand', 'pin', 'run', 'at', 'trace'];

/**
 * What the address says to begin with, once: `begin` puts a floor, a person and layers into an empty scene, as one step; `query` and
 * `moment` are opened.
 */
function useBeginning(store: BenchStore): void {
	const [search, setSearch] = useSearchParams();
	const said = search.toString();
	useEffect(() => {
		const wish = new URLSearchParams(said);
		if (!TAKEN_ONCE.some((key) => wish.has(key))) return;
		const { project, edit, open, lookAt, pickAll, pin } = store.getState();
		if (wish.has('begin') && project.scene.objects.length === 0 && project.scene.kind === 'space')
			edit('Begin with a floor and a person', beginScene);
		const query = wish.get('query');
		if (query !== null && project.queries.some((q) => q.id === query)) open(query);
		const moment = wish.get('moment');
		if (moment !== null && project.moments?.some((m) => m.id === moment)) lookAt(moment);
		const isObject = (id: string) => project.scene.objects.some((o) => o.id === id);
		const hand = (wish.get('hand') ?? '').split(' ').filter(isObject);
		if (hand.length > 0) pickAll(hand);
		const pinned = wish.get('pin');
		if (pinned !== null && isObject(pinned)) pin(pinned);
		const rest = new URLSearchParams(said);
		for (const key of TAKEN_ONCE) rest.delete(key);
		setSearch(rest, { replace: true });
	}, [store, said, setSearch]);
}

/** Keys that work everywhere on the bench, from the list of commands. */
function Keys() {
	const store = useBenchStore();
	const key = useBench((s) => s.key);
	const { pathname } = useLocation();
	/** Only the bench shows what is in hand: elsewhere no key reaches it. */
	const onBench = pathname.replace(/\/$/, '') === `/p/${key}`;
	useEffect(() => {
		/** While something is dragged the keys wait: a command could take away what the hand holds. Behind a window, from when it is asked for, too. */
		const isHeld = () => {
			const { panel } = store.getState();
			return isDragging() || panel !== null;
		};
		const onKey = (event: KeyboardEvent) => {
			const target = event.target as HTMLElement;
			const typing = target.matches('input:not([type=checkbox]):not([type=range]), textarea, select, [role=combobox]');
			const plain = !(event.ctrlKey || event.metaKey);
			// In a window beside the page plain letters are the window's.
			if (isHeld() || (plain && target.closest('[role=dialog], dialog'))) return;
			if (event.defaultPrevented || typing) {
				// A field whose text became a change, and a choice, keep nothing of it to take back: that is the project's.
				const isHistory =
					!event.defaultPrevented && event.key.toLowerCase() === 'z' && target.matches('[data-field], select');
				if (plain || (event.key.toLowerCase() !== 'k' && !isHistory)) return;
			}
			// A selection of text is copied as text.
			if (event.key.toLowerCase() === 'c' && !plain && String(window.getSelection()) !== '') return;
			const command = commandsFor(store.getState().project).find((c) => c.keys && !c.native && matches(c.keys, event));
			if (!command || (isLetter(command.keys ?? '') && !lettersAct())) return;
			if (!onBench && command.onBench) return;
			event.preventDefault();
			const not = command.not?.(store);
			if (not === undefined) command.run(store);
		};
		const onPaste = (event: ClipboardEvent) => {
			if (!onBench || isHeld() || (event.target as HTMLElement).matches?.('input, textarea')) return;
			event.preventDefault();
			paste(store, event.clipboardData?.getData('text/plain'));
		};
		window.addEventListener('keydown', onKey);
		window.addEventListener('paste', onPaste);
		return () => {
			window.removeEventListener('keydown', onKey);
			window.removeEventListener('paste', onPaste);
		};
	}, [store, onBench]);
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
