/** How firmly each check holds, the weakest first: found by search in a worker, shown on the stage. */
import { activeChecks, type Check, type Project, type Robustness, stillChecks, wordsOfGot } from '@frelk/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { nameOf, namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { robustnessIn } from '../../workers/client';
import { marginWords, wayWords } from './robustness-words';

export function Weakest() {
	const store = useBenchStore();
	const navigate = useNavigate();
	const project = useBench((s) => s.project);
	const key = useBench((s) => s.key);
	const [found, setFound] = useState<{ of: Project; list: Robustness[] } | null>(null);
	const [running, setRunning] = useState<{ done: number; of: number; cancel: () => void } | null>(null);
	const [trouble, setTrouble] = useState<string | null>(null);
	const job = useRef<{ cancel: () => void } | null>(null);
	const search = useCallback(() => {
		const ids = activeChecks(project).map((c) => c.id);
		job.current?.cancel();
		if (ids.length === 0) return;
		const asked = robustnessIn(project, ids, (done) => setRunning((r) => r && { ...r, done }));
		job.current = asked;
		setRunning({ done: 0, of: ids.length, cancel: asked.cancel });
		setTrouble(null);
		asked.done
			.then(
				(list) => setFound({ of: project, list }),
				(error) => setTrouble(asked.cancelled() ? 'Stopped.' : error.message),
			)
			.finally(() => job.current === asked && setRunning(null));
	}, [project]);
	// It runs by itself, and anew when the project has come to rest.
	useEffect(() => {
		const timer = setTimeout(search, 400);
		return () => {
			clearTimeout(timer);
			job.current?.cancel();
		};
	}, [search]);
	const show = (check: Check, margins: Robustness['margins']) => {
		store.getState().open(check.query);
		store.getState().lookAt(check.moment ?? null);
		store.getState().showRobustness({ query: check.query, margins });
		void navigate(`/p/${key}`);
	};
	return (
		<section className="p-4">
			<p className="mb-2 flex items-center gap-3">
				{running ? (
					<>
						<progress aria-label="Checks searched" max={running.of} value={running.done} />
						<span className="figure">
							{running.done} of {running.of}
						</span>
						<Button onClick={running.cancel}>Stop</Button>
					</>
				) : (
					<Button className="font-semibold" disabled={activeChecks(project).length === 0} onClick={search}>
						Search again
					</Button>
				)}
				<span className="text-quiet">
					How far the cursor, the aim or the asker may move in any direction before the answer is another one.
				</span>
			</p>
			{trouble && <p role="alert">{trouble}</p>}
			<ol>
				{byQuery(project, found?.list ?? []).map(({ query, list }) => {
					const [first, ...rest] = list;
					if (!first) return null;
					return (
						<li key={query} className="border-t py-1">
							<Weak project={project} of={first} show={show} />
							{rest.length > 0 && (
								<details>
									<summary className="pl-2 text-[12px] text-quiet">
										{rest.length} further {rest.length === 1 ? 'check' : 'checks'} of {nameOf(project, 'query', query)}
									</summary>
									<ul className="pl-4">
										{rest.map((r) => (
											<li key={r.check}>
												<Weak project={project} of={r} show={show} />
											</li>
										))}
									</ul>
								</details>
							)}
						</li>
					);
				})}
			</ol>
		</section>
	);
}

const scoreOf = (r: Robustness): number => r.score ?? Infinity;

/** The queries with their checks, the weakest first in both. */
function byQuery(project: Project, found: readonly Robustness[]): { query: string; list: Robustness[] }[] {
	const queryOf = new Map(stillChecks(project).map((c) => [c.id, c.query]));
	const groups = new Map<string, Robustness[]>();
	for (const r of [...found].sort((a, b) => scoreOf(a) - scoreOf(b))) {
		const query = queryOf.get(r.check);
		if (query !== undefined) groups.set(query, [...(groups.get(query) ?? []), r]);
	}
	return [...groups].map(([query, list]) => ({ query, list }));
}

/** One check: what turns it, each figure with a bar of how much of the search it withstood. */
function Weak({
	project,
	of: r,
	show,
}: {
	project: Project;
	of: Robustness;
	show: (check: Check, margins: Robustness['margins']) => void;
}) {
	const check = stillChecks(project).find((c) => c.id === r.check);
	const naming = namingOf(project.scene);
	if (!check) return null;
	return (
		<div className="grid grid-cols-[16rem_1fr_auto] items-baseline gap-3 py-0.5">
			<span>
				<span className="font-semibold">{check.name ?? nameOf(project, 'query', check.query)}</span>
				<span className="text-quiet">
					{' '}
					· {check.moment === undefined ? 'as laid out' : nameOf(project, 'moment', check.moment)}
				</span>
			</span>
			<span>
				{r.margins.length === 0 && (
					<span className="text-quiet">{r.score === 0 ? 'fails now' : 'nothing to move'}</span>
				)}
				{r.margins.map((f) => (
					<span key={f.perturbation} className="grid grid-cols-[7rem_1fr] items-center gap-2">
						<span className="h-2 border bg-ground" aria-hidden="true">
							<span
								className="block h-full bg-ink/60"
								style={{ width: `${Math.max(2, Math.min(100, (100 * (f.least ?? f.most)) / f.most))}%` }}
							/>
						</span>
						<span>
							{marginWords(f)}
							{f.least !== null && (
								<span className="text-quiet">
									{' '}
									{wayWords(project, f)} → {f.becomes ? wordsOfGot(f.becomes, naming) : ''}
								</span>
							)}
						</span>
					</span>
				))}
			</span>
			<Button
				disabled={r.margins.length === 0}
				aria-label={`Show ${check.name ?? check.id} on the stage`}
				onClick={() => show(check, r.margins)}
			>
				Show
			</Button>
		</div>
	);
}
