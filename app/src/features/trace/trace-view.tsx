/** A trace beside the project: the game's choice and Frelk's, where they differ and why, and the stage as the game told it. */
import {
	Answerer,
	buildWorld,
	expectationOf,
	type Naming,
	type Project,
	STAGE_WORDS,
	slug,
	type Stage as VerdictStage,
} from '@frelk/core';
import {
	type Compared,
	reasonOfCompared,
	runOfTrace,
	TraceScene,
	withTraceMoment,
	wordsOfCompared,
} from '@frelk/core/traces';
import { Pause, Play, SkipForward, X } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { useStore } from 'zustand';
import { saveText } from '../../data/files';
import type { BenchStore } from '../../model/bench-state';
import { namingOf } from '../../model/names';
import type { Trace } from '../../model/trace';
import { BenchContext, useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Boundary } from '../../ui/part';
import { Tabs } from '../../ui/tabs';
import { VirtualRows } from '../../ui/virtual-rows';
import { CardOverQueries } from '../bench/card-over-queries';
import { Ladder } from '../ladder/ladder';
import { Sentence } from '../sentence/sentence';
import { Stage } from '../stage/stage';
import { agreementWords } from './agreement';
import { TraceLanes } from './lanes';
import { type Difference, differencesOf } from './stretches';
import { createTold } from './told';

const SIDES = [
	{ value: 'differences', label: 'Differences' },
	{ value: 'ladder', label: 'Ladder' },
] as const;

/** Entries of the list; the rest are counted. */
const MAX_LISTED = 5000;
/** Milliseconds after an edit before all lines are asked again. */
const SETTLED = 400;

/** Reasons as headings: the stage at which what the game took falls here, or that there is nothing of it. */
function headingOf(reason: string): string {
	const words: Record<string, string> = {
		unknown: 'Not in this project',
		off: 'The query is off here',
		waiting: 'The query waits here',
		nothing: 'The game took nothing',
		fewer: 'The game took fewer',
		order: 'In another order',
	};
	return words[reason] ?? STAGE_WORDS[reason as VerdictStage] ?? reason;
}

export default function TraceView({ trace, beside }: { trace: Trace; beside: HTMLElement | null }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const held = useBench((s) => s.gesture !== null);
	const { name, live, heard, paused, seen, waiting, asked, differ, troubles, strangers, failed, dropped, lost } =
		useStore(trace.store);
	const naming: Naming = useMemo(() => namingOf(project.scene), [project.scene]);
	const [told] = useState(() => createTold(store, project));
	const [at, setAt] = useState(0);
	const [side, setSide] = useState<(typeof SIDES)[number]['value']>('differences');
	const [query, setQuery] = useState<string | null>(null);
	const [from, setFrom] = useState<number | null>(null);
	const follows = live && !paused;
	const shown = Math.max(0, Math.min(seen.length - 1, follows ? seen.length - 1 : at));
	const titleOf = useCallback((id: string) => project.queries.find((q) => q.id === id)?.name ?? id, [project.queries]);
	const standing = useMemo(
		() => (seen.length === 0 ? project : trace.standsAt(project, shown)),
		[trace, project, seen, shown],
	);
	useEffect(() => told.getState().stand(standing), [told, standing]);
	// What is edited is asked again of every line.
	const asLast = useRef(project);
	useEffect(() => {
		if (held || asLast.current === project) return;
		const timer = setTimeout(() => {
			asLast.current = project;
			void trace.again(project);
		}, SETTLED);
		return () => clearTimeout(timer);
	}, [trace, project, held]);
	const first = seen.find((s) => s.compared.length > 0)?.compared[0]?.query ?? null;
	const open = query ?? first;
	useEffect(() => {
		if (open !== null && project.queries.some((q) => q.id === open)) told.getState().open(open);
	}, [told, open, project.queries]);
	const list = useMemo(() => differencesOf(seen, MAX_LISTED), [seen]);
	const point = useCallback(
		(next: number) => {
			if (live) trace.pause(true);
			setAt(next);
		},
		[trace, live],
	);
	const goTo = ({ at: place, compared }: Difference) => {
		point(place);
		setQuery(compared.query);
		setSide('ladder');
	};
	const line = seen[shown];
	const next = list.find((d) => d.first.at > shown);
	return (
		<BenchContext.Provider value={told}>
			{beside && createPortal(<CardOverQueries />, beside)}
			<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)_20rem] max-[1140px]:grid-cols-[minmax(0,1fr)_17rem] max-[760px]:grid-cols-[minmax(0,1fr)] max-[760px]:grid-rows-[minmax(34rem,1fr)_22rem]">
				<div className="grid min-h-0 min-w-0 grid-cols-[minmax(0,1fr)] grid-rows-[auto_minmax(200px,1fr)_auto_auto]">
					<Boundary what="The sentence">
						<Sentence />
					</Boundary>
					<Boundary what="The stage">
						<Stage />
					</Boundary>
					<div className="flex flex-wrap items-center gap-2 border-t bg-panel px-3 py-1.5">
						{live && (
							<Button
								onClick={() => {
									setAt(shown);
									trace.pause(!paused);
								}}
							>
								{paused ? <Play size={13} /> : <Pause size={13} />} {paused ? 'Follow' : 'Pause'}
							</Button>
						)}
						<input
							type="range"
							aria-label="Line of the trace"
							aria-valuetext={line ? `line ${line.n}, ${line.line.t.toFixed(2)} s` : 'no line yet'}
							className="min-w-24 flex-1"
							min={0}
							max={Math.max(0, seen.length - 1)}
							value={shown}
							onChange={(event) => point(Number(event.target.value))}
						/>
						<span className="figure whitespace-nowrap">
							{line ? `line ${line.n}  ${line.line.t.toFixed(2)} s` : '–'}
						</span>
						<Button disabled={!next} onClick={() => next && goTo(next.first)}>
							<SkipForward size={13} /> Next difference
						</Button>
						<KeepLine store={store} trace={trace} at={shown} name={name ?? ''} />
						<KeepStretch store={store} trace={trace} at={shown} from={from} onFrom={setFrom} name={name ?? ''} />
					</div>
					<div className="max-h-[34vh] min-h-0 overflow-auto border-t px-3 pb-1">
						{seen.length > 0 && (
							<TraceLanes
								seen={seen}
								at={shown}
								naming={naming}
								titleOf={titleOf}
								chosen={open}
								onChoose={setQuery}
								onPoint={point}
							/>
						)}
					</div>
				</div>
				<aside aria-label="Beside the trace" className="flex min-h-0 min-w-0 flex-col border-l bg-panel">
					<header className="border-b px-3 py-2">
						<div className="flex items-start gap-2">
							<h3 className="min-w-0 flex-1 font-semibold [overflow-wrap:anywhere]">{name}</h3>
							{live && <Button onClick={() => saveTrace(project, trace)}>Save as a file</Button>}
							<Button quiet aria-label="Close the trace" onClick={trace.close}>
								<X size={14} />
							</Button>
						</div>
						{failed !== null && (
							<p role="alert" className="text-cut">
								It cannot be read: {failed}
							</p>
						)}
						<p role="status" className="text-[12.5px]">
							{live && !heard && 'The server is not heard; it is asked again. '}
							{live &&
								heard &&
								seen.length === 0 &&
								'Listening. A game posts lines to /api/trace with the token that npm start printed.'}
							{seen.length > 0 && (
								<>
									{seen.length + dropped} lines, {asked} asked,{' '}
									<strong className={differ > 0 ? 'text-cut' : ''}>{differ} differ</strong>
									{waiting > 0 && `; ${waiting} under way`}
								</>
							)}
						</p>
						{(dropped > 0 || lost > 0) && (
							<p className="text-[12px] text-quiet">
								{dropped > 0 && `The first ${dropped} lines are no longer kept. `}
								{lost > 0 && `${lost} came before this page listened.`}
							</p>
						)}
						{strangers.size > 0 && (
							<p className="text-[12px] text-quiet">
								Not in this project: {[...strangers].slice(0, 6).join(', ')}
								{strangers.size > 6 && ` and ${strangers.size - 6} more`}
							</p>
						)}
						{troubles.length > 0 && (
							<ul role="alert" aria-label="Lines passed over" className="max-h-24 overflow-auto text-[12px] text-cut">
								{troubles.map((t) => (
									<li key={t.n}>
										line {t.n}: {t.message}
									</li>
								))}
							</ul>
						)}
					</header>
					<Tabs
						label="Beside the trace"
						options={SIDES}
						value={side}
						onChange={setSide}
						className="flex flex-col overflow-auto"
					>
						{side === 'ladder' ? (
							<>
								{line && <Asked compared={line.compared} query={open} project={project} naming={naming} />}
								<div className="grid min-h-0 flex-1 grid-rows-[minmax(0,1fr)] [&>aside]:border-l-0">
									<Ladder keeps={false} />
								</div>
							</>
						) : (
							<Differences
								list={list}
								project={project}
								naming={naming}
								titleOf={titleOf}
								shown={shown}
								onGo={goTo}
								waiting={waiting > 0}
								agreement={agreementWords({ lines: seen.length + dropped, asked, unread: troubles.length })}
							/>
						)}
					</Tabs>
				</aside>
			</div>
		</BenchContext.Provider>
	);
}

/** What the game got at the line, beside the ladder that says what Frelk does. */
function Asked({
	compared,
	query,
	project,
	naming,
}: {
	compared: readonly Compared[];
	query: string | null;
	project: Project;
	naming: Naming;
}) {
	const own = compared.filter((c) => c.query === query);
	if (own.length === 0)
		return <p className="border-b px-3 py-2 text-[12.5px] text-quiet">The game did not ask this at this line.</p>;
	return (
		<section aria-label="What the game got" className="border-b px-3 py-2 text-[12.5px]">
			{own.map((c) => (
				<p key={c.place} className={c.result === 'same' ? '' : 'border-l-3 border-cut pl-2'}>
					{wordsOfCompared(
						c,
						project.queries.find((q) => q.id === c.query),
						naming,
					)}
					{c.note !== null && <span className="block text-quiet">{c.note}</span>}
				</p>
			))}
		</section>
	);
}

type Row = { heading: string; count: number } | { entry: { first: Difference; times: number } };

function Differences({
	list,
	project,
	naming,
	titleOf,
	shown,
	onGo,
	waiting,
	agreement,
}: {
	list: readonly { first: Difference; times: number }[];
	project: Project;
	naming: Naming;
	titleOf: (query: string) => string;
	shown: number;
	onGo: (d: Difference) => void;
	waiting: boolean;
	/** What is said where nothing differs. */
	agreement: string;
}) {
	const rows = useMemo(() => {
		const by = new Map<string, { first: Difference; times: number }[]>();
		for (const entry of list) {
			const reason = reasonOfCompared(entry.first.compared);
			const of = by.get(reason);
			if (of) of.push(entry);
			else by.set(reason, [entry]);
		}
		return [...by].flatMap(([reason, entries]): Row[] => [
			{ heading: headingOf(reason), count: entries.reduce((n, e) => n + e.times, 0) },
			...entries.map((entry) => ({ entry })),
		]);
	}, [list]);
	if (rows.length === 0) return <p className="p-3 text-quiet">{waiting ? 'Asking…' : agreement}</p>;
	return (
		<VirtualRows
			items={rows}
			keyOf={(row) => ('heading' in row ? row.heading : `${row.entry.first.at} ${row.entry.first.compared.place}`)}
			height={56}
			label="Differences"
			className="min-h-0 flex-1"
		>
			{(row) =>
				'heading' in row ? (
					<h4 className="flex justify-between border-b px-3 pt-2 pb-0.5 text-[12.5px] font-semibold">
						{row.heading} <span className="figure">{row.count}</span>
					</h4>
				) : (
					<button
						type="button"
						className={`block w-full border-l-3 px-3 py-1 text-left hover:bg-[var(--wash)] ${row.entry.first.at === shown ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
						onClick={() => onGo(row.entry.first)}
					>
						<span className="flex gap-2 text-[12px] text-quiet">
							<span className="figure">line {row.entry.first.compared.line}</span>
							<span>{titleOf(row.entry.first.compared.query)}</span>
							{row.entry.times > 1 && <span className="ml-auto">{row.entry.times} lines on end</span>}
						</span>
						<span className="block text-[12.5px]">
							{wordsOfCompared(
								row.entry.first.compared,
								project.queries.find((q) => q.id === row.entry.first.compared.query),
								naming,
							)}
						</span>
					</button>
				)
			}
		</VirtualRows>
	);
}

const freeId = (wanted: string, taken: readonly { id: string }[] | undefined): string => {
	const base = slug(wanted) || 'trace';
	let id = base;
	for (let n = 2; (taken ?? []).some((t) => t.id === id); n++) id = `${base}-${n}`;
	return id;
};

/** The scene as told up to a line, gone through from the first on. */
function sceneAt(project: Project, trace: Trace, at: number): TraceScene {
	const scene = new TraceScene(project);
	for (const line of trace.lines().slice(0, at + 1)) scene.tell(line);
	return scene;
}

function KeepLine({ store, trace, at, name }: { store: BenchStore; trace: Trace; at: number; name: string }) {
	const { seen } = trace.store.getState();
	const keep = () => {
		const line = seen[at];
		if (!line) return;
		const main = store.getState().project;
		const told = sceneAt(main, trace, at);
		const id = freeId(`${name.replace(/\.[^.]*$/, '')} ${line.n}`, main.moments);
		const kept = withTraceMoment(told, { id, name: `${name}, line ${line.n}`.slice(0, 200) });
		const answerer = new Answerer(buildWorld(kept, id));
		const checks = [...(kept.checks ?? [])];
		for (const query of new Set(line.compared.map((c) => c.query))) {
			const of = answerer.world.queryById.get(query);
			const expect = of && expectationOf(answerer.winner(of));
			if (expect) checks.push({ id: freeId(`${query} ${id}`, checks), query, moment: id, expect });
		}
		store.getState().put('Keep a line of a trace', { ...kept, checks });
	};
	return (
		<Button
			disabled={seen.length === 0}
			title="A moment as the game told it here, with a check of what Frelk selects for each query it asked"
			onClick={keep}
		>
			Keep as a moment
		</Button>
	);
}

function KeepStretch({
	store,
	trace,
	at,
	from,
	onFrom,
	name,
}: {
	store: BenchStore;
	trace: Trace;
	at: number;
	from: number | null;
	onFrom: (from: number | null) => void;
	name: string;
}) {
	const { seen } = trace.store.getState();
	if (from === null || from >= at)
		return (
			<Button disabled={seen.length === 0} title="A run is made from here to another line" onClick={() => onFrom(at)}>
				{from === null ? 'A run from here…' : `From line ${seen[from]?.n ?? ''}: go on to its end`}
			</Button>
		);
	return (
		<Button
			title="What the game did between the two lines, as a run that watches what it asked"
			onClick={() => {
				const main = store.getState().project;
				const id = freeId(name.replace(/\.[^.]*$/, ''), main.runs);
				const run = runOfTrace(main, trace.lines(), from, at, {
					id,
					name: `${name}, lines ${seen[from]?.n} to ${seen[at]?.n}`.slice(0, 200),
				});
				store.getState().put('Keep a stretch of a trace', { ...main, runs: [...(main.runs ?? []), run] });
				onFrom(null);
			}}
		>
			Keep lines {seen[from]?.n} to {seen[at]?.n} as a run
		</Button>
	);
}

function saveTrace(project: Project, trace: Trace): void {
	const head = JSON.stringify({ format: 'frelk-trace/1', project: project.id, clock: 's' });
	const text = [head, ...trace.lines().map((line) => JSON.stringify(line))].join('\n');
	saveText(`${text}\n`, `${project.id}.trace.jsonl`, 'application/jsonl');
}
