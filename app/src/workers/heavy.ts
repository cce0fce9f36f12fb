/** The worker in which long computations run: the page stays free, and a job is ended by ending its worker. */
import { answersAt, type CheckResult, type Project, type QuickAnswer, type Robustness, robustnessOf, runChecks } from '@frelk/core';
import { expose } from 'comlink';

const heavy = {
	/** Runs checks by id, telling how many are done. */
	checks(project: Project, ids: readonly string[], progress: (done: number) => void): CheckResult[] {
		const wanted = new Set(ids);
		const checks = (project.checks ?? []).filter((c) => wanted.has(c.id));
		return runChecks(project, checks, progress).map((r) => (r.pass ? { ...r, got: { ...r.got, verdicts: [] } } : r));
	},
	/** Every query's answer at every moment. */
	answers(project: Project, progress: (done: number) => void): QuickAnswer[] {
		return answersAt(project, progress);
	},
	/** How far each check may be nudged before its answer changes. */
	robustness(project: Project, ids: readonly string[], progress: (done: number) => void): Robustness[] {
		return ids.map((id, i) => {
			const found = robustnessOf(project, id);
			progress(i + 1);
			return found;
		});
	},
};

export type Heavy = typeof heavy;
expose(heavy);
