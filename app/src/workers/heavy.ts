/** The worker in which long computations run: the page stays free, and a job is ended by ending its worker. */
import { answersAt, type CheckResult, type Project, type QuickAnswer, type Robustness, robustnessOf, runChecks } from '@frelk/core';
import { expose } from 'comlink';

/** Projects come as text: a string crosses to a worker at once, a tree is copied piece by piece. */
const opened = (text: string): Project => JSON.parse(text) as Project;

const heavy = {
	/** Runs checks by id, telling how many are done. */
	checks(text: string, ids: readonly string[], progress: (done: number) => void): CheckResult[] {
		const project = opened(text);
		const wanted = new Set(ids);
		const checks = (project.checks ?? []).filter((c) => wanted.has(c.id));
		return runChecks(project, checks, progress, true);
	},
	/** Every query's answer at every moment. */
	answers(text: string, progress: (done: number) => void): QuickAnswer[] {
		return answersAt(opened(text), progress);
	},
	/** How far each check may be nudged before its answer changes. */
	robustness(text: string, ids: readonly string[], progress: (done: number) => void): Robustness[] {
		const project = opened(text);
		return ids.map((id, i) => {
			const found = robustnessOf(project, id);
			progress(i + 1);
			return found;
		});
	},
};

export type Heavy = typeof heavy;
expose(heavy);
