/** The board: every query at every moment, what it answers and whether that is what is wanted. */
import {
	activeChecks,
	type CheckResult,
	isOn,
	mapChecksIn,
	type Project,
	type QuickAnswer,
	runChecksIn,
	wordsOfWanted,
} from '@frelk/core';
import type { MapCheckResult } from '@frelk/core/maps';
import type { RunCheckResult } from '@frelk/core/runs';
import { useLiveQuery } from 'dexie-react-hooks';
import { Tabs } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Run } from '../../data/db';
import { runsOf, type Since, sinceWhen } from '../../data/history';
import { type CheckState, standingWords } from '../../model/check-results';
import { nameOf, namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { Part } from '../../ui/part';
import { answersIn, checksIn, otherChecksIn } from '../../workers/client';
import { Cell } from './cell';
import { Compare } from './compare';
import { History } from './history';
import type { ReportKind } from './reports';
import { Weakest } from './weakest';
import { ago, markFor, quickWords, reasonWords } from './words';

/** All answers of the project as it stands, found in a worker; those of before until the new ones are there. */
function useSurvey(project: Project): ReadonlyMap<string, QuickAnswer> {
	const [answers, setAnswers] = useState<ReadonlyMap<string, QuickAnswer>>(new Map());
	useEffect(() => {
		const job = answersIn(project);
		job.done.then(
			(list) => setAnswers(new Map(list.map((a) => [`${a.moment ?? ''} ${a.query}`, a]))),
			(error) => !job.cancelled() && console.error('the answers could not be found', error),
		);
		return job.cancel;
	}, [project]);
	return answers;
}

/** The runs kept with this project, newest as the store has them. */
function useRuns(): readonly Run[] {
	const key = useBench((s) => s.key);
	return useLiveQuery(() => runsOf(key), [key]) ?? NONE;
}

const NONE: readonly Run[] = [];

const TABS = ['Board', 'Weakest', 'Compare', 'History', 'Maps', 'Findings'] as const;
/** Loaded when it is first looked at. */
const loadFindings = () => import('./findings');
const loadMaps = () => import('../map/maps');
type Tab = (typeof TABS)[number];

export function Board() {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const results = useBench((s) => s.checked);
	const survey = useSurvey(project);
	const runs = useRuns();
	const [params, setParams] = useSearchParams();
	const tab = TABS.find((name) => name.toLowerCase() === params.get('tab')) ?? 'Board';
	const setTab = (name: Tab) => setParams(name === 'Board' ? {} : { tab: name.toLowerCase() }, { replace: true });
	const [at, setAt] = useState<{ query: string; moment: string | null } | null>(null);
	const since = useMemo(() => sinceWhen(runs), [runs]);
	const byCell = useMemo(() => {
		const map = new Map<string, CheckResult[]>();
		for (const r of results?.results ?? []) {
			const key = `${r.moment ?? ''} ${r.query}`;
			map.set(key, [...(map.get(key) ?? []), r]);
		}
		return map;
	}, [results]);
	const moments = [
		{ id: null as string | null, name: 'Scene as laid out' },
		...(project.moments ?? []).map((m) => ({ id: m.id as string | null, name: m.name ?? m.id })),
	];
	const checks = activeChecks(project).length;
	const timed = [...runChecksIn(project), ...mapChecksIn(project)].filter(isOn).length;
	/** What makes reports is fetched when the first one is wanted. */
	const save = async (kind: ReportKind) => {
		try {
			(await import('./reports')).saveReport(kind, project);
		} catch (error) {
			store
				.getState()
				.refuse(`The report could not be made: ${error instanceof Error ? error.message : String(error)}`);
		}
	};
	const open = (query: string, moment: string | null) => {
		setAt({ query, moment });
		store.getState().open(query);
	};
	return (
		<main
			className={`grid min-h-0 ${at ? 'grid-cols-[minmax(0,1fr)_22rem] max-[1240px]:grid-cols-[minmax(0,1fr)_17rem]' : 'grid-cols-[minmax(0,1fr)]'}`}
		>
			<Tabs.Root value={tab} onValueChange={(name) => setTab(name as Tab)} className="flex min-h-0 min-w-0 flex-col">
				<header className="flex flex-wrap items-center gap-2 border-b bg-panel px-3 py-2">
					<h2 className="sr-only">Checks</h2>
					<Tabs.List aria-label="Checks" className="flex">
						{TABS.map((name) => (
							<Tabs.Trigger
								key={name}
								value={name}
								data-label={name}
								className="border-b-2 border-transparent px-3 py-0.5 text-quiet data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink"
							>
								{name}
							</Tabs.Trigger>
						))}
					</Tabs.List>
					<RunAll checks={checks} timed={timed} />
					<span className="ml-auto flex gap-1">
						{(['JUnit XML', 'CSV', 'Markdown', 'HTML page'] as const).map((kind) => (
							<Button
								key={kind}
								aria-label={`Save the results as ${kind}`}
								disabled={checks === 0}
								onClick={() => void save(kind)}
							>
								{kind}
							</Button>
						))}
					</span>
				</header>
				<Tabs.Content value="Weakest" className="min-h-0 flex-1 overflow-auto">
					<Weakest />
				</Tabs.Content>
				<Tabs.Content value="Maps" className="min-h-0 flex-1 overflow-auto">
					<Part what="The maps" load={loadMaps} give={{}} />
				</Tabs.Content>
				<Tabs.Content value="Findings" className="min-h-0 flex-1 overflow-auto">
					<Part what="The findings" load={loadFindings} give={{}} />
				</Tabs.Content>
				<Tabs.Content value="Compare" className="min-h-0 flex-1 overflow-auto">
					<Compare />
				</Tabs.Content>
				<Tabs.Content value="History" className="min-h-0 flex-1 overflow-auto">
					<History runs={runs} />
				</Tabs.Content>
				<Tabs.Content value="Board" className="min-h-0 flex-1 overflow-auto">
					{project.queries.length === 0 ? (
						<p className="p-10 text-center text-quiet">
							There is no query yet. Make one on the bench; its answers then stand here, at every moment.
						</p>
					) : (
						<>
							{checks === 0 && (
								<p className="px-4 pt-3 text-quiet">
									No answer is kept yet. Choose a cell and press “Keep this answer”: from then on it is checked on every
									change.
								</p>
							)}
							{!at && results && <Summary project={project} state={results} onOpen={open} />}
							<table className="w-full border-separate border-spacing-0">
								<thead>
									<tr>
										<th className="sticky top-0 left-0 z-20 border-r border-b bg-panel px-3 py-1 text-left font-normal text-quiet">
											query
										</th>
										{moments.map((m) => (
											<th
												key={m.id ?? ''}
												scope="col"
												className="sticky top-0 z-10 min-w-32 border-b bg-panel px-3 py-1 text-left font-semibold"
											>
												<span className="line-clamp-3 [overflow-wrap:anywhere]" title={m.name}>
													{m.name}
												</span>
											</th>
										))}
									</tr>
								</thead>
								<tbody>
									{project.queries.map((query) => (
										<tr key={query.id}>
											<th
												scope="row"
												className="sticky left-0 z-10 min-w-32 border-r border-b bg-panel px-3 py-1 text-left align-top"
											>
												<span className="line-clamp-3 max-w-56 [overflow-wrap:anywhere]" title={query.name ?? query.id}>
													{query.name ?? query.id}
												</span>
												<span className="block font-normal text-quiet">{query.kind}</span>
											</th>
											{moments.map((m) => {
												const key = `${m.id ?? ''} ${query.id}`;
												const list = byCell.get(key) ?? [];
												const here = at?.query === query.id && at.moment === m.id;
												return (
													<td key={key} className="h-px border-b p-0 align-top">
														<CellFace
															project={project}
															answer={survey.get(key)}
															results={list}
															since={since}
															here={here}
															onOpen={() => setAt({ query: query.id, moment: m.id })}
														/>
													</td>
												);
											})}
										</tr>
									))}
								</tbody>
							</table>
							<OverTime project={project} results={results?.overTime ?? []} since={since} />
						</>
					)}
				</Tabs.Content>
			</Tabs.Root>
			{at && (
				<Cell
					at={at}
					results={byCell.get(`${at.moment ?? ''} ${at.query}`) ?? []}
					since={since}
					onClose={() => setAt(null)}
				/>
			)}
		</main>
	);
}

const checkName = (project: Project, id: string): string => project.checks?.find((c) => c.id === id)?.name ?? id;

/** Where a check of a run or a map is looked at: the run where it first differs, the query of the map. */
function useAddresses(project: Project): (r: RunCheckResult | MapCheckResult) => string {
	const key = useBench((s) => s.key);
	return (r) =>
		'map' in r
			? `/p/${key}?query=${encodeURIComponent(project.maps?.find((m) => m.id === r.map)?.query ?? '')}`
			: `/p/${key}/time?run=${encodeURIComponent(r.run)}${r.from === null ? '' : `&at=${r.from}`}`;
}

/** The checks of runs and maps; one of a run that fails opens it where it first differs, one of a map opens its query. */
function OverTime({
	project,
	results,
	since,
}: {
	project: Project;
	results: readonly (RunCheckResult | MapCheckResult)[];
	since: ReadonlyMap<string, Since>;
}) {
	const address = useAddresses(project);
	if (results.length === 0) return null;
	const runs = new Map((project.runs ?? []).map((r) => [r.id, r.name ?? r.id]));
	const maps = new Map((project.maps ?? []).map((m) => [m.id, m]));
	return (
		<section aria-label="Checks over time" className="border-t px-3 py-2">
			<h3 className="mb-1 font-semibold">{results.some((r) => 'map' in r) ? 'Over time, and of maps' : 'Over time'}</h3>
			<ul className="grid grid-cols-[repeat(auto-fill,minmax(22rem,1fr))] gap-x-4">
				{results.map((r) => {
					const stands = since.get(r.id);
					return (
						<li key={r.id} className={`mt-1 border-l-3 ${r.pass ? 'border-l-line' : 'border-l-cut'}`}>
							<Link to={address(r)} className="block px-2 py-0.5 hover:bg-[var(--wash)]">
								<span className={r.pass ? '' : 'font-semibold text-cut'}>{r.pass ? 'holds' : 'fails'}</span>{' '}
								<span className="font-semibold">{checkName(project, r.id)}</span>
								<span className="text-quiet">
									{' '}
									· {'map' in r ? (maps.get(r.map)?.name ?? r.map) : (runs.get(r.run) ?? r.run)}
									{'map' in r || r.from === null ? '' : `, from ${Number(r.from.toFixed(3))} s`}
									{stands ? ` · ${ago(stands.at, Date.now())}` : ''}
								</span>
								{!r.pass && <span className="block text-[12px]">{r.reason}</span>}
							</Link>
						</li>
					);
				})}
			</ul>
		</section>
	);
}

/** What fails, or that all holds: before a cell is chosen. */
function Summary({
	project,
	state: { results, overTime, hold, fail, pending },
	onOpen,
}: {
	project: Project;
	state: CheckState;
	onOpen: (query: string, moment: string | null) => void;
}) {
	const failing = results.filter((r) => !r.pass);
	const later = overTime.filter((r) => !r.pass);
	const addressOf = useAddresses(project);
	if (hold + fail === 0 || (fail === 0 && pending > 0)) return null;
	if (fail === 0)
		return (
			<p className="px-3 py-2 text-quiet">
				{hold === 1 ? 'The one check holds.' : `All ${hold} checks hold.`} Choose a cell to see its answer and its
				checks.
			</p>
		);
	return (
		<section aria-label="What fails" className="border-b-2 border-b-cut px-3 py-2">
			<h3 className="font-semibold text-cut">
				{fail} {fail === 1 ? 'check fails' : 'checks fail'}
				{pending > 0 && <span className="font-normal text-quiet"> so far, {pending} still to be asked</span>}
			</h3>
			<ul className="grid grid-cols-[repeat(auto-fill,minmax(22rem,1fr))] gap-x-4">
				{failing.map((r) => (
					<li key={r.id}>
						<button
							type="button"
							className="block w-full py-1 text-left hover:bg-[var(--wash)]"
							onClick={() => onOpen(r.query, r.moment)}
						>
							<span className="font-semibold">{nameOf(project, 'query', r.query)}</span>
							<span className="text-quiet">
								{' '}
								· {r.moment === null ? 'as laid out' : nameOf(project, 'moment', r.moment)}
							</span>
							<span className="block text-[12px]">{reasonWords(project, r)}</span>
						</button>
					</li>
				))}
				{later.map((r) => (
					<li key={r.id}>
						<Link to={addressOf(r)} className="block py-1 hover:bg-[var(--wash)]">
							<span className="font-semibold">{checkName(project, r.id)}</span>
							<span className="text-quiet"> · {'map' in r ? 'of a map' : 'over time'}</span>
							<span className="block text-[12px]">{r.reason}</span>
						</Link>
					</li>
				))}
			</ul>
		</section>
	);
}

function CellFace({
	project,
	answer,
	results,
	since,
	here,
	onOpen,
}: {
	project: Project;
	answer: QuickAnswer | undefined;
	results: CheckResult[];
	since: ReadonlyMap<string, Since>;
	here: boolean;
	onOpen: () => void;
}) {
	const failing = results.find((r) => !r.pass);
	const naming = namingOf(project.scene);
	const stands = since.get((failing ?? results[0])?.id ?? '');
	return (
		<button
			type="button"
			aria-pressed={here}
			className={`flex h-full w-full min-w-32 flex-col items-start [overflow-wrap:anywhere] justify-start border-l-3 px-2.5 py-1.5 text-left hover:bg-[var(--wash)] ${here ? 'bg-[var(--wash)]' : ''} ${failing ? 'border-l-cut' : results.length > 0 ? 'border-l-ink/50' : 'border-l-transparent'}`}
			onClick={onOpen}
		>
			<span className="flex items-center gap-1.5">
				<Mark stage={markFor(answer?.status)} size={10} />
				<span className={`line-clamp-2 ${failing ? 'font-semibold' : ''}`}>{quickWords(project, answer)}</span>
			</span>
			{failing ? (
				<span className="line-clamp-3 text-[12px] text-cut">
					fails: wanted {wordsOfWanted(failing.wanted, naming)}
					{stands && ` · ${ago(stands.at, Date.now())}`}
				</span>
			) : (
				<span className="block text-[12px] text-quiet">
					{results.length === 0 ? 'no check' : `holds${results.length > 1 ? `, ${results.length} checks` : ''}`}
				</span>
			)}
		</button>
	);
}

/** Runs everything on demand, with progress and a way out. */
function RunAll({ checks, timed }: { checks: number; timed: number }) {
	const store = useBenchStore();
	const results = useBench((s) => s.checked);
	const [running, setRunning] = useState<{ done: number; cancel: () => void } | null>(null);
	const [said, setSaid] = useState<string | null>(null);
	const run = () => {
		const { project } = store.getState();
		const started = performance.now();
		const ids = activeChecks(project).map((c) => c.id);
		const job = checksIn(project, ids, (done) => setRunning((r) => r && { ...r, done }));
		const over = timed === 0 ? null : otherChecksIn(project);
		const stopped = () => job.cancelled() || over?.cancelled() === true;
		setRunning({
			done: 0,
			cancel: () => {
				job.cancel();
				over?.cancel();
			},
		});
		setSaid(null);
		Promise.all([job.done, over?.done ?? []]).then(
			([still, timed]) => {
				const list = [...still, ...timed];
				const fail = list.filter((r) => !r.pass).length;
				setSaid(
					`${list.length} run in ${((performance.now() - started) / 1000).toFixed(2)} s: ${fail === 0 ? 'all hold' : `${fail} fail`}`,
				);
				setRunning(null);
			},
			(error) => {
				setSaid(stopped() ? 'Stopped; nothing was changed.' : `Not run: ${error.message}`);
				setRunning(null);
			},
		);
	};
	return (
		<span className="flex items-center gap-2">
			{running ? (
				<>
					<progress aria-label="Checks run" max={checks} value={running.done} className="w-32" />
					<span className="figure text-quiet">
						{running.done} of {checks}
					</span>
					<Button onClick={running.cancel}>Stop</Button>
				</>
			) : (
				<Button disabled={checks + timed === 0} onClick={run}>
					Run all
				</Button>
			)}
			<span role="status">{said ?? (results ? standingWords(results) : checks === 0 ? 'no checks' : '…')}</span>
		</span>
	);
}
