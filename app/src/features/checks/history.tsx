/** The runs kept with a project. */
import type { Run } from '../../data/db';
import { useBench } from '../../model/use-bench';

export function History({ runs }: { runs: readonly Run[] }) {
	const project = useBench((s) => s.project);
	if (runs.length === 0)
		return (
			<p className="p-6 text-quiet">
				No run yet. Runs are noted whenever their outcome changes, and kept in this browser.
			</p>
		);
	return (
		<ol className="p-4">
			{runs.map((run) => (
				<li key={run.id} className="mb-2 border-l-3 border-l-line pl-3">
					<span className="figure">{new Date(run.at).toLocaleString('en-GB')}</span> · {run.hold} hold
					{run.failing.length > 0 && <span className="font-semibold text-cut">, {run.failing.length} fail</span>}
					<ul className="text-[12px] text-quiet">
						{run.failing.slice(0, 8).map((f) => (
							<li key={f.check}>
								{project.checks?.find((c) => c.id === f.check)?.name ?? f.check}: {f.reason}
							</li>
						))}
						{run.failing.length > 8 && <li>and {run.failing.length - 8} more</li>}
					</ul>
				</li>
			))}
		</ol>
	);
}
