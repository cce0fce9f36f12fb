/** The runs kept with a project: how many held over time, and what turned at each. */
import { useCallback, useState } from 'react';
import type { Run } from '../../data/db';
import { nameOf } from '../../model/names';
import { useBench } from '../../model/use-bench';
import { Part } from '../../ui/part';
import { nameOfCheck, turnedIn } from './words';

const loadChart = () => import('./history-chart');
/** What fails at a run is listed up to here. */
const MOST = 12;

export function History({ runs }: { runs: readonly Run[] }) {
	const project = useBench((s) => s.project);
	const [pointed, setPointed] = useState<number | undefined>();
	const point = useCallback((run: Run) => {
		setPointed(run.id);
		document.getElementById(`run-${run.id}`)?.scrollIntoView({ block: 'nearest' });
	}, []);
	if (runs.length === 0)
		return (
			<p className="p-6 text-quiet">
				No run yet. Runs are noted whenever their outcome changes, and kept in this browser.
			</p>
		);
	const named = (id: string) => nameOfCheck(project, id, (kind, of) => nameOf(project, kind, of));
	return (
		<section className="p-4">
			<Part what="The chart" load={loadChart} give={{ runs, onPoint: point }} />
			<ol className="mt-2">
				{runs.map((run, i) => {
					const { fails, holds } = turnedIn(run, runs[i + 1]);
					return (
						<li
							key={run.id}
							id={`run-${run.id}`}
							className={`border-l-3 py-1 pl-3 ${pointed === run.id ? 'border-l-ink bg-[var(--wash)]' : 'border-l-line'}`}
						>
							<span className="figure">{new Date(run.at).toLocaleString('en-GB')}</span> · {run.hold} hold
							{run.failing.length > 0 && <span className="font-semibold text-cut">, {run.failing.length} fail</span>}
							{run.after && <span className="text-quiet"> · after “{run.after}”</span>}
							<ul className="text-[12px]">
								{fails.slice(0, MOST).map((f) => (
									<li key={f.check}>
										<span className="font-semibold text-cut">fails now:</span> {named(f.check)}
										<span className="text-quiet">: {f.reason}</span>
									</li>
								))}
								{fails.length > MOST && <li className="text-quiet">and {fails.length - MOST} more</li>}
								{holds.length > 0 && (
									<li>
										<span className="font-semibold">holds again:</span> {holds.slice(0, MOST).map(named).join(', ')}
										{holds.length > MOST && ` and ${holds.length - MOST} more`}
									</li>
								)}
							</ul>
						</li>
					);
				})}
			</ol>
		</section>
	);
}
