/** Run-throughs: the same queries over time. The stage stands at an instant; below it lanes say what happened when. */
import { lastStep, type Naming, type Project, type Run, TIME_EPSILON, watchId } from '@frelk/core';
import { heldAt, type RunResult, whatHappened, wordsOfEvent } from '@frelk/core/runs';
import { Plus } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { useSearchParams } from 'react-router';
import { useStore } from 'zustand';
import type { BenchStore } from '../../model/bench-state';
import { namingOf } from '../../model/names';
import { traceOf } from '../../model/trace';
import { BenchContext, useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { Boundary, Part } from '../../ui/part';
import { Tabs } from '../../ui/tabs';
import { VirtualRows } from '../../ui/virtual-rows';
import { CardOverQueries } from '../bench/card-over-queries';
import { Ladder } from '../ladder/ladder';
import { useTellPlace } from '../link/place';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { Memories, Steps } from './beside';
import { RunChecks, RunFigures } from './checks';
import { useClock } from './clock';
import { Effects } from './effects';
import { Entries, withNewRun } from './entries';
import { createInstant } from './instant';
import { KeyRows } from './keys-view';
import { Lanes } from './lanes-view';
import { pathOfObject } from './path';
import { Traces } from './traces';
import { seconds, Transport } from './transport';
import { type Ran, useRun } from './use-run';
import { useHeldWalk } from './walk';

const loadTrace = () => import('../trace/trace-view');

export function TimeView() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const held = useBench((s) => s.gesture !== null);
	const [search] = useSearchParams();
	const runs = project.runs ?? [];
	// What the address says is taken once: it is cleared when it has been read.
	const [said] = useState(search);
	const [chosen, setChosen] = useState<string | null>(said.get('run'));
	/** Where the card of what is in hand at the instant lies. */
	const [beside, setBeside] = useState<HTMLElement | null>(null);
	/** The query one came from: a run that watches it, if there is one. */
	const from = said.get('query');
	const known = project.queries.find((q) => q.id === from);
	const watches = (r: Run) =>
		(r.watch ?? []).some((w) => w.query === from) || (r.swings ?? []).some((s) => s.query === from);
	const key = useBench((s) => s.key);
	const trace = useMemo(() => traceOf(key), [key]);
	useEffect(() => void trace.restore(store.getState().project), [trace, store]);
	const traced = useStore(trace.store, (s) => s.name);
	const [onTrace, setOnTrace] = useState(said.has('trace') || traced !== null);
	const showsTrace = onTrace && traced !== null;
	const run = runs.find((r) => r.id === chosen) ?? (known ? runs.find(watches) : undefined) ?? runs[0];
	const { ran, done, trouble, stop } = useRun(project, run, held);
	const choose = (id: string) => {
		setChosen(id);
		setOnTrace(false);
	};
	const add = () => {
		const made = withNewRun(project, known && !runs.some(watches) ? known.id : store.getState().query);
		store.getState().put('New run', made.project);
		choose(made.id);
	};
	return (
		<main className="grid min-h-0 grid-cols-[11.5rem_minmax(0,1fr)] max-[1140px]:grid-cols-[9.5rem_minmax(0,1fr)]">
			<h2 className="sr-only">Over time</h2>
			<div className="relative z-10 grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)]">
				<nav aria-label="Run-throughs" className="flex min-h-0 flex-col border-r bg-panel">
					<div className="flex items-center justify-between px-3 py-2">
						<h3 className="font-semibold">Runs</h3>
						<Button aria-label="New run" onClick={add}>
							<Plus size={13} /> New
						</Button>
					</div>
					{known && !runs.some(watches) && (
						<p className="px-3 pb-2 text-[12px] text-quiet">
							No run watches {known.name ?? known.id} yet: New makes one.
						</p>
					)}
					<ul className="min-h-0 flex-1 overflow-auto">
						{runs.map((r) => (
							<li
								key={r.id}
								className={`border-l-3 ${r === run && !showsTrace ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
							>
								<button
									type="button"
									aria-current={r === run && !showsTrace}
									className="block w-full px-2.5 py-1.5 text-left hover:bg-[var(--wash)]"
									onClick={() => choose(r.id)}
								>
									<span className="block font-semibold [overflow-wrap:anywhere]">{r.name ?? r.id}</span>
									<span className="block text-[12px] text-quiet">
										{r.duration} s, {lastStep(r) + 1} steps
									</span>
								</button>
							</li>
						))}
					</ul>
					<Traces trace={trace} shown={showsTrace} onShow={() => setOnTrace(true)} />
				</nav>
				<div ref={setBeside} />
			</div>
			{showsTrace && <Part what="The trace" load={loadTrace} give={{ trace, beside }} />}
			{!showsTrace && !run && (
				<p className="p-10 text-center text-quiet">
					No run-through yet. A run lets time go by: who moves, what is asked at every step, what is pressed. Make a new
					one; it begins with the query open on the bench.
				</p>
			)}
			{!showsTrace && run && trouble && !ran && (
				<p role="alert" className="p-4">
					The run could not be worked out: {trouble}
				</p>
			)}
			{!showsTrace && run && !ran && !trouble && (
				<p role="status" className="p-4 text-quiet">
					Running{done === null ? '…' : `: step ${done} of ${lastStep(run) + 1}`} <Button onClick={stop}>Stop</Button>
				</p>
			)}
			{!showsTrace && run && ran && (
				<Walked
					key={run.id}
					run={run}
					ran={ran}
					done={done}
					trouble={trouble}
					onStop={stop}
					first={said.get('at')}
					beside={beside}
				/>
			)}
		</main>
	);
}

const SIDES = [
	{ value: 'ladder', label: 'Ladder' },
	{ value: 'log', label: 'Log' },
	{ value: 'checks', label: 'Checks' },
	{ value: 'run', label: 'Run' },
	{ value: 'effects', label: 'Effects' },
] as const;
const BELOW = [
	{ value: 'lanes', label: 'Lanes' },
	{ value: 'memories', label: 'Memories' },
	{ value: 'steps', label: 'Step lengths' },
] as const;

/** Milliseconds after which time stands still again. */
const REST = 250;

function Walked({
	run,
	ran,
	first,
	beside,
	done,
	trouble,
	onStop,
}: {
	run: Run;
	ran: Ran;
	/** The instant that is shown first, seconds. */
	first: string | null;
	beside: HTMLElement | null;
	/** Steps worked out, where it is worked out again. */
	done: number | null;
	/** Why what is shown is that of before. */
	trouble: string | null;
	onStop: () => void;
}) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const naming: Naming = useMemo(() => namingOf(project.scene), [project.scene]);
	const { result, standing } = ran;
	const end = lastStep(run) * run.step;
	const [instant] = useState(() => createInstant(store, project, run));
	useTellPlace(store, () => ({ run: run.id, at: instant.at() }));
	const [recording, setRecording] = useState(false);
	const [side, setSide] = useState<(typeof SIDES)[number]['value']>('ladder');
	const [below, setBelow] = useState<(typeof BELOW)[number]['value']>('lanes');
	const walk = useHeldWalk(instant, recording);
	const rest = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
	useEffect(() => () => clearTimeout(rest.current), []);
	const clock = useClock(end, (t) => {
		// While instants follow each other, what is read beside the stage is drawn when there is time.
		const { moving, move } = instant.bench.getState();
		if (!moving) move(true);
		clearTimeout(rest.current);
		rest.current = setTimeout(() => instant.bench.getState().move(false), REST);
		const before = instant.at();
		instant.to(t);
		walk(t - before);
	});
	const { at } = clock;
	const firstAt = useRef(first === null ? 0 : Number(first));
	useEffect(() => instant.follow(project, run, standing), [instant, project, run, standing]);
	const { seek, pause } = clock;
	const sought = useRef(false);
	useEffect(() => {
		if (sought.current) return;
		sought.current = true;
		seek(Number.isFinite(firstAt.current) ? firstAt.current : 0);
	}, [seek]);
	const [entry, setEntry] = useState<string | null>(null);
	const watch = run.watch ?? [];
	const open = watch.find((w) => watchId(w) === entry) ?? watch[0];
	useEffect(() => {
		instant.bench.getState().open(open?.query ?? run.swings?.[0]?.query ?? project.queries[0]?.id ?? null);
	}, [instant, open?.query, run.swings, project.queries]);
	const keyRows = useCallback(
		(left: number, room: number) => <KeyRows run={run} left={left} room={room} end={end} />,
		[run, end],
	);
	const point = useCallback(
		(t: number) => {
			pause();
			seek(t);
		},
		[pause, seek],
	);
	useSameHand(store, instant.bench);
	const stop = () => {
		clock.pause();
		setRecording(false);
		if (instant.stop()) instant.to(at);
	};
	const record = () => {
		// A part gone round again would lie over what was recorded the first time.
		clock.setLoop(null);
		instant.record();
		setRecording(true);
		clock.play();
		document.querySelector<HTMLElement>('[role=application][aria-label=Scene]')?.focus({ preventScroll: true });
	};
	const ended = useRef(stop);
	useEffect(() => {
		ended.current = stop;
	});
	useEffect(() => {
		if (recording && !clock.running) ended.current();
	}, [recording, clock.running]);
	return (
		<BenchContext.Provider value={instant.bench}>
			{beside && createPortal(<CardOverQueries />, beside)}
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)_18.5rem] max-[1140px]:grid-cols-[minmax(0,1fr)_16rem] max-[760px]:grid-cols-[minmax(0,1fr)] max-[760px]:grid-rows-[minmax(34rem,1fr)_22rem]">
				<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(200px,1fr)_auto_minmax(0,40%)]">
					<Boundary what="The sentence">
						<Sentence />
					</Boundary>
					<Boundary what="The stage">
						<StageOfRun project={project} run={run} />
					</Boundary>
					<Transport run={run} end={end} clock={clock} recording={recording} onRecord={record} onStop={stop} />
					<BenchContext.Provider value={store}>
						<div className="relative flex min-h-0 min-w-0 flex-col border-t">
							{trouble && done === null && (
								<p
									role="alert"
									className="absolute top-0 right-2 z-10 max-w-[60%] truncate bg-panel px-2 text-cut"
									title={trouble}
								>
									As it was before; not worked out: {trouble}
								</p>
							)}
							{done !== null && (
								<p
									role="status"
									className="absolute top-0 right-2 z-10 flex items-center gap-2 bg-panel px-2 text-[12px] text-quiet"
								>
									Worked out again: step {done} of {lastStep(run) + 1}{' '}
									<Button onClick={onStop}>Stop working it out</Button>
								</p>
							)}
							<Tabs label="Below the stage" options={BELOW} value={below} onChange={setBelow} className="overflow-auto">
								{below === 'lanes' && (
									<div className="px-3 pb-2">
										<Lanes
											run={run}
											result={result}
											at={at}
											onPoint={point}
											naming={naming}
											chosen={open ? watchId(open) : null}
											onChoose={setEntry}
										>
											{keyRows}
										</Lanes>
									</div>
								)}
								{below === 'memories' && <Memories run={run} at={at} onPoint={clock.seek} naming={naming} />}
								{below === 'steps' && <Steps run={run} result={result} naming={naming} />}
							</Tabs>
						</div>
					</BenchContext.Provider>
				</div>
				<aside aria-label="Beside the run" className="flex min-h-0 min-w-0 flex-col border-l bg-panel">
					<Tabs
						label="Beside the run"
						options={SIDES}
						value={side}
						onChange={setSide}
						className="flex flex-col overflow-auto"
					>
						{side === 'ladder' && (
							<>
								{open && <Held watch={watchId(open)} result={result} at={at} naming={naming} />}
								<div className="grid min-h-0 flex-1 grid-rows-[minmax(0,1fr)] [&>aside]:border-l-0">
									<Ladder keeps={false} />
								</div>
							</>
						)}
						<BenchContext.Provider value={store}>
							{side === 'log' && (
								<Log result={result} at={at} naming={naming} onPoint={(t) => clock.seek(Math.min(end, t))} />
							)}
							{side !== 'ladder' && side !== 'log' && (
								<div>
									{side === 'checks' && (
										<>
											<RunFigures run={run} result={result} />
											<RunChecks run={run} result={result} />
										</>
									)}
									{side === 'run' && <Entries run={run} at={at} />}
									{side === 'effects' && <Effects run={run} />}
								</div>
							)}
						</BenchContext.Provider>
					</Tabs>
				</aside>
			</div>
		</BenchContext.Provider>
	);
}

/** What is taken in hand by Find or in the roster is in hand at the instant too, and the other way round. */
function useSameHand(main: BenchStore, bench: BenchStore): void {
	useEffect(() => {
		const follow = (from: BenchStore, to: BenchStore) =>
			from.subscribe((now, before) => {
				const { selection, camera, pickAll, takeCamera } = to.getState();
				if (now.selection !== before.selection && now.selection.join() !== selection.join()) pickAll(now.selection);
				if (now.camera !== before.camera && now.camera !== null && now.camera !== camera) takeCamera(now.camera);
			});
		const stop = [follow(main, bench), follow(bench, main)];
		// Escape leaves what is innermost there first: its tool, its hand.
		main.getState().standInFront(bench.getState().leave);
		return () => {
			main.getState().standInFront(null);
			for (const one of stop) one();
		};
	}, [main, bench]);
}

/** The stage at the instant, with the way of what is in hand. */
function StageOfRun({ project, run }: { project: Project; run: Run }) {
	const picked = useBench((s) => s.picked);
	const { world } = useBench((s) => s.derived);
	const over = useMemo(
		() => (picked === null ? null : pathOfObject(project, run, world, picked)),
		[project, run, world, picked],
	);
	return <Stage over={over} />;
}

/** What an entry holds at the instant, where that may be another thing than the answer. */
function Held({ watch, result, at, naming }: { watch: string; result: RunResult; at: number; naming: Naming }) {
	const { selected, tied } = heldAt(result.events, watch, at);
	const last = result.events.findLast((e) => e.kind === 'choose' && e.watch === watch && e.t <= at + TIME_EPSILON);
	return (
		<section aria-label="Held now" className="border-b px-3 py-2">
			<p className="flex items-center gap-1.5">
				<span className="text-quiet">{watch} holds</span>{' '}
				<Mark stage={tied.length > 0 ? 'tied' : selected.length > 0 ? 'selected' : 'touch'} size={10} />
				<span className="font-semibold">
					{tied.length > 0
						? `tie: ${tied.map((id) => naming('object', id)).join(', ')}`
						: selected.map((id) => naming('object', id)).join(', ') || 'nothing'}
				</span>
			</p>
			{last && (
				<p className="text-[12px] text-quiet">
					since {seconds(last.t)}: {whatHappened(last, naming)}
				</p>
			)}
		</section>
	);
}

function Log({
	result,
	at,
	naming,
	onPoint,
}: {
	result: RunResult;
	at: number;
	naming: Naming;
	onPoint: (t: number) => void;
}) {
	const last = useMemo(
		() => result.events.findLastIndex((e) => e.kind !== 'missed' && e.t <= at + TIME_EPSILON),
		[result, at],
	);
	const rows = useMemo(() => result.events.map((event, i) => ({ event, i })), [result]);
	return (
		<section aria-label="Log" className="flex min-h-0 flex-1 flex-col">
			<h3 className="px-3 py-2 font-semibold">
				{rows.length} {rows.length === 1 ? 'event' : 'events'}
			</h3>
			<VirtualRows items={rows} keyOf={({ i }) => String(i)} height={40} label="Events" className="min-h-0 flex-1">
				{({ event, i }) => (
					<button
						type="button"
						className={`flex w-full items-baseline gap-2 border-l-3 px-3 py-0.5 text-left hover:bg-[var(--wash)] ${i === last ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
						onClick={() => onPoint(event.t)}
					>
						<span className="figure w-14 shrink-0 text-right text-quiet">{event.t.toFixed(2)} s</span>
						<span className="line-clamp-2 text-[12.5px]">{wordsOfEvent(event, naming)}</span>
					</button>
				)}
			</VirtualRows>
		</section>
	);
}
