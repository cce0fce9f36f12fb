/** The figures of a run, and the checks that hold it. */
import { isOn, type Run, type RunCheck, runChecksIn } from '@frelk/core';
import { judgeRun, type RunResult } from '@frelk/core/runs';
import { namingOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button } from '../../ui/controls';
import { freshId } from '../edit/objects';
import { seconds } from './transport';

export function RunFigures({ run, result }: { run: Run; result: RunResult }) {
	const most = Math.max(1, ...result.watch.map((w) => w.changes));
	return (
		<section aria-label="Figures" className="p-3">
			<h3 className="font-semibold">Figures</h3>
			<ul>
				{result.watch.map((w) => (
					<li key={w.id} className="border-t py-1">
						<p className="flex items-center gap-2">
							<span className="min-w-0 flex-1 truncate font-semibold">{w.id}</span>
							<KeepSequence run={run} watch={w.id} result={result} />
						</p>
						<p className="flex items-center gap-2">
							<span
								className="h-2 bg-[var(--chosen)]"
								style={{ width: `${(w.changes / most) * 7}rem` }}
								aria-hidden="true"
							/>
							<span className="figure">{w.changes}</span> {w.changes === 1 ? 'change' : 'changes'}
						</p>
						<p className="text-[12px] text-quiet">
							shortest hold {w.shortest === null ? '–' : seconds(w.shortest)} · tied for {seconds(w.tied)}
							{w.unlike === null ? '' : ` · unlike the answer at ${w.unlike} steps`}
						</p>
					</li>
				))}
				{result.swings.map((s, i) => (
					// biome-ignore lint/suspicious/noArrayIndexKey: swings go by their place
					<li key={i} className="border-t py-1">
						swing {i}: <span className="figure">{s.hits}</span> hits, <span className="figure">{s.undecided}</span>{' '}
						undecided, <span className="figure">{s.missed}</span> missed
					</li>
				))}
			</ul>
		</section>
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
export function RunChecks({ run, result }: { run: Run; result: RunResult }) {
	const store = useBenchStore();
	const project = useBench((s) => s.project);
	const naming = namingOf(project.scene);
	const checks = runChecksIn(project).filter((c) => c.run === run.id && isOn(c));
	return (
		<section aria-label="Checks of this run" className="p-3">
			<h3 className="font-semibold">Checks</h3>
			{checks.length === 0 && <p className="text-quiet">No check holds this run yet.</p>}
			<ul>
				{checks.map((check) => {
					const { pass, reason } = judgeRun(check, run, result, (id) => naming('object', id));
					return (
						<li key={check.id} className={`mt-1 border-l-3 py-0.5 pl-2 ${pass ? 'border-l-ink/50' : 'border-l-cut'}`}>
							<span className={pass ? '' : 'font-semibold text-cut'}>{pass ? 'holds' : 'fails'}</span>{' '}
							<span className="font-semibold">{check.name ?? check.id}</span>
							{!pass && <span className="block text-[12px]">{reason}</span>}
							<Button
								quiet
								className="text-[12px] text-quiet"
								onClick={() =>
									store.getState().editPlain(`Delete the check ${check.name ?? check.id}`, (draft) => {
										draft.checks = (draft.checks ?? []).filter((c) => c.id !== check.id);
									})
								}
							>
								Delete
							</Button>
						</li>
					);
				})}
			</ul>
		</section>
	);
}
