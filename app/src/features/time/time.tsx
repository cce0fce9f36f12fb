/** Run-throughs: what happens over time, as lanes beside a log one can walk through, with the checks that hold it. */
import {
	isOn,
	judgeRun,
	lastStep,
	type Naming,
	type Project,
	type Run,
	type RunCheck,
	type RunResult,
	runChecksIn,
	wordsOfEvent,
} from '@frelk/core';
import { useEffect, useMemo, useState } from 'react';
import { namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { Mark } from '../../ui/marks';
import { VirtualRows } from '../../ui/virtual-rows';
import { runIn } from '../../workers/client';
import { freshId } from '../edit/objects';
import { heldAt } from './lanes';
import { Lanes } from './lanes-view';

interface Ran {
	of: Project;
	run: string;
	result: RunResult;
}

/** A run as it goes in the project as it stands, worked out in a worker; the one of before until then. */
function useRun(project: Project, run: Run | undefined) {
	const [ran, setRan] = useState<Ran | null>(null);
	const [done, setDone] = useState<number | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	useEffect(() => {
		if (!run) return;
		setTrouble(null);
		const job = runIn(project, run.id, setDone);
		job.done
			.then(
				(result) => setRan({ of: project, run: run.id, result }),
				(error) => !job.cancelled() && setTrouble(error instanceof Error ? error.message : String(error)),
			)
			.finally(() => setDone(null));
		return job.cancel;
	}, [project, run]);
	return { ran: ran && run && ran.run === run.id ? ran : null, done, trouble };
}

export function TimeView() {
	const project = useBench((s) => s.project);
	const runs = project.runs ?? [];
	const [chosen, setChosen] = useState<string | null>(null);
	const run = runs.find((r) => r.id === chosen) ?? runs[0];
	const { ran, done, trouble } = useRun(project, run);
	if (!run)
		return (
			<main className="p-10 text-center text-quiet">
				<h2 className="sr-only">Over time</h2>
				This project has no run-through yet. Put one into the file under “runs”; “Quay at Harl” has four to read.
			</main>
		);
	return (
		<main className="grid min-h-0 grid-cols-[14rem_minmax(0,1fr)_24rem] max-[1140px]:grid-cols-[11rem_minmax(0,1fr)_19rem]">
			<h2 className="sr-only">Over time</h2>
			<nav aria-label="Run-throughs" className="min-h-0 overflow-auto border-r bg-panel">
				<ul>
					{runs.map((r) => (
						<li
							key={r.id}
							className={`border-l-3 ${r === run ? 'border-l-ink bg-[var(--wash)]' : 'border-l-transparent'}`}
						>
							<button
								type="button"
								aria-current={r === run}
								className="block w-full px-2.5 py-1.5 text-left hover:bg-[var(--wash)]"
								onClick={() => setChosen(r.id)}
							>
								<span className="block font-semibold">{r.name ?? r.id}</span>
								<span className="block text-[12px] text-quiet">
									{r.duration} s, {lastStep(r) + 1} steps
								</span>
							</button>
						</li>
					))}
				</ul>
			</nav>
			{trouble && (
				<p role="alert" className="p-4">
					The run could not be worked out: {trouble}
				</p>
			)}
			{!ran && !trouble && (
				<p role="status" className="p-4 text-quiet">
					Running{done === null ? '…' : `: step ${done} of ${lastStep(run) + 1}`}
				</p>
			)}
			{ran && <Walked key={run.id} run={run} result={ran.result} />}
		</main>
	);
}

const seconds = (t: number): string => `${Number(t.toFixed(3))} s`;

function Walked({ run, result }: { run: Run; result: RunResult }) {
	const project = useBench((s) => s.project);
	const naming = namingOf(project.scene);
	const [at, setAt] = useState(0);
	const end = lastStep(run) * run.step;
	const name: Naming = naming;
	const last = useMemo(() => result.events.findLastIndex((e) => e.kind !== 'missed' && e.t <= at + 1e-9), [result, at]);
	return (
		<>
			<div className="min-h-0 min-w-0 overflow-auto p-4">
				<Lanes run={run} result={result} at={at} onPoint={setAt} naming={name} />
				<p className="mt-2 flex items-center gap-3">
					<label className="flex items-center gap-2">
						<span className="text-quiet">instant</span>
						<input
							type="range"
							aria-label="Instant of the run"
							aria-valuetext={seconds(at)}
							min={0}
							max={end}
							step={run.step}
							value={at}
							className="w-56"
							onChange={(event) => setAt(Number(event.target.value))}
						/>
					</label>
					<span className="figure">{seconds(at)}</span>
				</p>
				<table className="mt-2 w-full [&_td]:pr-3 [&_th]:pr-3">
					<thead>
						<tr className="text-left text-[12px] text-quiet">
							<th className="font-normal">watched</th>
							<th className="font-normal">holds now</th>
							<th className="font-normal">changes</th>
							<th className="font-normal">shortest hold</th>
							<th className="font-normal">tied for</th>
							<th className="font-normal">unlike the answer</th>
							<th />
						</tr>
					</thead>
					<tbody>
						{result.watch.map((w) => {
							const { selected, tied } = heldAt(result.events, w.id, at);
							return (
								<tr key={w.id} className="border-t align-baseline">
									<th scope="row" className="text-left font-semibold">
										{w.id}
									</th>
									<td>
										<span className="flex items-center gap-1.5">
											<Mark stage={tied.length > 0 ? 'tied' : selected.length > 0 ? 'selected' : 'touch'} size={10} />
											{tied.length > 0
												? `tie: ${tied.map((id) => name('object', id)).join(', ')}`
												: selected.map((id) => name('object', id)).join(', ') || 'nothing'}
										</span>
									</td>
									<td className="figure">{w.changes}</td>
									<td className="figure">{w.shortest === null ? '–' : seconds(w.shortest)}</td>
									<td className="figure">{seconds(w.tied)}</td>
									<td className="figure">{w.unlike === null ? '–' : `${w.unlike} steps`}</td>
									<td className="text-right">
										<KeepSequence run={run} watch={w.id} result={result} />
									</td>
								</tr>
							);
						})}
					</tbody>
				</table>
				<RunChecks run={run} result={result} />
			</div>
			<aside aria-label="Log" className="flex min-h-0 flex-col border-l bg-panel">
				<h3 className="px-3 py-2 font-semibold">
					{result.events.length} {result.events.length === 1 ? 'event' : 'events'}
				</h3>
				<VirtualRows
					items={result.events}
					keyOf={(e) => String(result.events.indexOf(e))}
					height={40}
					label="Events"
					className="min-h-0 flex-1"
				>
					{(e) => (
						<button
							type="button"
							className={`flex w-full items-baseline gap-2 px-3 py-0.5 text-left hover:bg-[var(--wash)] ${result.events.indexOf(e) === last ? 'border-l-3 border-l-ink bg-[var(--wash)]' : 'border-l-3 border-l-transparent'}`}
							onClick={() => setAt(Math.min(end, e.t))}
						>
							<span className="figure w-14 shrink-0 text-right text-quiet">{e.t.toFixed(2)} s</span>
							<span className="line-clamp-2 text-[12.5px]">{wordsOfEvent(e, name)}</span>
						</button>
					)}
				</VirtualRows>
			</aside>
		</>
	);
}

/** Today's sequence as a check, in one action. */
function KeepSequence({ run, watch, result }: { run: Run; watch: string; result: RunResult }) {
	const store = useBenchStore();
	const keep = () => {
		const asked = { id: 'x', run: run.id, watch, expect: { sequence: [] } } as RunCheck;
		const sequence = judgeRun(asked, run, result).got as (string | null)[];
		store.getState().editPlain('Keep a sequence', (draft) => {
			draft.checks ??= [];
			const id = freshId(
				draft.checks.map((c) => c.id),
				`${run.id}-${watch}`.slice(0, 56),
			);
			draft.checks.push({ id, run: run.id, watch, expect: { sequence } });
		});
	};
	return (
		<Button className="whitespace-nowrap" onClick={keep}>
			Keep this sequence
		</Button>
	);
}

/** The checks of the run, and whether they hold as it went. */
function RunChecks({ run, result }: { run: Run; result: RunResult }) {
	const project = useBench((s) => s.project);
	const naming = namingOf(project.scene);
	const checks = runChecksIn(project).filter((c) => c.run === run.id && isOn(c));
	if (checks.length === 0) return <p className="mt-4 text-quiet">No check holds this run yet.</p>;
	return (
		<section aria-label="Checks of this run" className="mt-4">
			<h3 className="font-semibold">Checks</h3>
			<ul>
				{checks.map((check) => {
					const { pass, reason } = judgeRun(check, run, result, (id) => naming('object', id));
					return (
						<li key={check.id} className={`border-l-3 py-0.5 pl-2 ${pass ? 'border-l-ink/50' : 'border-l-cut'}`}>
							<span className={pass ? '' : 'font-semibold text-cut'}>{pass ? 'holds' : 'fails'}</span>{' '}
							<span className="font-semibold">{check.name ?? check.id}</span>
							{!pass && <span className="block text-[12px]">{reason}</span>}
						</li>
					);
				})}
			</ul>
		</section>
	);
}
