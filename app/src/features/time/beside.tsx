/** The same run told otherwise, side by side: one query with several memories, or the run at another step length. */
import type { Naming, Project, Run } from '@frelk/core';
import { type RunResult, wordsOfEvent } from '@frelk/core/runs';
import { useMemo, useState } from 'react';
import { nameOf } from '../../model/names';
import { useBench } from '../../model/use-bench';
import { Button, NumberField, Select } from '../../ui/controls';
import { withMemory } from './entries';
import { Lanes } from './lanes-view';
import { seconds } from './transport';
import { useRun } from './use-run';

const KINDS = [
	{ id: 'own', label: 'the answer’s own' },
	{ id: 'one-own', label: 'one slot, forgetting its own' },
	{ id: 'one-any', label: 'one slot, forgetting any' },
	{ id: 'stick', label: 'sticking' },
] as const;

const kindOf = (id: string): string => KINDS.find((k) => k.id === id)?.label ?? id;

/** A run that watches one query with every memory. */
export function withEveryMemory(run: Run, query: string, limit: number): Run {
	const entry = (id: string) => ({ id, query });
	return {
		...run,
		presses: [],
		watch: [
			entry('own'),
			withMemory(entry('one-own'), 'own'),
			withMemory(entry('one-any'), 'any'),
			withMemory(entry('stick'), 'stick', limit),
		],
	};
}

const replacing = (project: Project, run: Run): Project => ({
	...project,
	runs: (project.runs ?? []).map((r) => (r.id === run.id ? run : r)),
	// What holds the run as it is says nothing of it as it would be.
	checks: [],
});

export function Memories({
	run,
	at,
	onPoint,
	naming,
}: {
	run: Run;
	at: number;
	onPoint: (t: number) => void;
	naming: Naming;
}) {
	const project = useBench((s) => s.project);
	const queries = [...new Set((run.watch ?? []).map((w) => w.query))];
	const [asked, setAsked] = useState<string | null>(null);
	const query = queries.find((q) => q === asked) ?? queries[0];
	const known = (run.watch ?? []).find((w) => w.query === query && w.stick)?.stick?.distance;
	const [limit, setLimit] = useState(known ?? 0.3);
	const other = useMemo(
		() => (query === undefined ? undefined : withEveryMemory(run, query, limit)),
		[run, query, limit],
	);
	const whole = useMemo(() => (other ? replacing(project, other) : project), [project, other]);
	const { ran } = useRun(whole, other);
	if (query === undefined || !other) return <p className="p-3 text-quiet">Nothing is watched yet.</p>;
	return (
		<section aria-label="Memories side by side" className="p-3">
			<div className="mb-2 flex flex-wrap items-center gap-3">
				{queries.length > 1 && (
					<Select
						label="Query"
						value={query}
						options={queries.map((q) => ({ value: q, label: nameOf(project, 'query', q) }))}
						onChange={setAsked}
					/>
				)}
				<label className="flex items-center gap-2">
					<span className="text-quiet">sticking within</span>
					<input
						type="range"
						aria-label="Sticking within"
						aria-valuetext={`${limit} m`}
						min={0}
						max={2}
						step={0.05}
						value={limit}
						onChange={(event) => setLimit(Number(event.target.value))}
					/>
					<span className="figure w-14">{limit} m</span>
				</label>
				{ran && (
					<span role="status">
						{ran.result.watch.map((w, i) => (
							<span key={w.id} className="mr-3 whitespace-nowrap">
								<span className="text-quiet">{KINDS[i]?.label}:</span> <span className="figure">{w.changes}</span>{' '}
								{w.changes === 1 ? 'change' : 'changes'}
							</span>
						))}
					</span>
				)}
			</div>
			{ran && <Lanes run={other} result={ran.result} at={at} onPoint={onPoint} naming={naming} titleOf={kindOf} />}
		</section>
	);
}

/** What is said of an event, without the step it fell on. */
const wordsIn = (result: RunResult, naming: Naming): string[] =>
	result.events
		.filter((e) => e.kind === 'choose' || e.kind === 'hit' || e.kind === 'missed' || e.kind === 'undecided')
		.map((e) => wordsOfEvent(e, naming, false));

export function Steps({ run, result, naming }: { run: Run; result: RunResult; naming: Naming }) {
	const project = useBench((s) => s.project);
	const [step, setStep] = useState(run.step / 2);
	const other = useMemo((): Run => ({ ...run, step }), [run, step]);
	const whole = useMemo(() => replacing(project, other), [project, other]);
	const { ran, trouble } = useRun(whole, other);
	const [here, there] = [wordsIn(result, naming), ran ? wordsIn(ran.result, naming) : []];
	const only = (a: string[], b: string[]) => {
		const left = [...b];
		return a.filter((line) => {
			const i = left.indexOf(line);
			if (i >= 0) left.splice(i, 1);
			return i < 0;
		});
	};
	return (
		<section aria-label="Two step lengths" className="p-3">
			<div className="mb-2 flex items-center gap-2">
				<span className="text-quiet">steps of {seconds(run.step)} against</span>
				<NumberField
					hideLabel
					label="The other step"
					unit="s"
					min={0.0005}
					step={0.01}
					value={step}
					onChange={setStep}
				/>
				<Button onClick={() => setStep(run.step / 2)}>half</Button>
				<Button onClick={() => setStep(run.step * 2)}>twice</Button>
			</div>
			{trouble && <p role="alert">{trouble}</p>}
			{ran && (
				<div className="grid grid-cols-2 gap-4">
					{(
						[
							[run.step, here, there],
							[step, there, here],
						] as const
					).map(([of, mine, others], i) => {
						const lines = only([...mine], [...others]);
						return (
							<div key={i === 0 ? 'here' : 'there'}>
								<h3 className="font-semibold">
									Only at {seconds(of)}: {lines.length}
								</h3>
								<ul className="text-[12.5px]">
									{lines.slice(0, 60).map((line, k) => (
										// biome-ignore lint/suspicious/noArrayIndexKey: the same may be said twice
										<li key={k}>{line}</li>
									))}
									{lines.length === 0 && <li className="text-quiet">nothing that the other does not say</li>}
								</ul>
							</div>
						);
					})}
				</div>
			)}
		</section>
	);
}
