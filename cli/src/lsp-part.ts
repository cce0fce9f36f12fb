/** What takes long to say of a project, said in a worker that is ended when the text is another one. */
import {
	activeChecks,
	byName,
	type Check,
	type Finding,
	findFindings,
	formatProblem,
	isStill,
	type Project,
	type Remedy,
	readProject,
	remediesFor,
	runChecks,
} from '@frelk/core';
import { checkRuns } from '@frelk/core/runs';
import { lensesOf } from './lsp/hover';

/** What is asked of a text: its checks and answers, its findings, which take longer, or what would mend one of its checks. */
export type Wanted = { text: string; what: 'checks' | 'findings' | { mend: string } };

/** What became of a check. */
export interface Outcome {
	id: string;
	pass: boolean;
	reason: string;
}

export interface Told {
	checks: Outcome[];
	findings: Finding[];
	lenses: [query: string, words: string][];
	remedies: Remedy[];
}

const NONE: Told = { checks: [], findings: [], lenses: [], remedies: [] };

function remediesOf(project: Project, id: string): Remedy[] {
	const check = project.checks?.find((c) => c.id === id);
	if (!check || !isStill(check)) return [];
	const { moment = null, query, expect } = check as Check;
	const object = (expect.selects ?? expect.tie ?? [])[0];
	if (object === undefined) return [];
	return remediesFor(project, { query, object, moment, wish: 'select' }, { naming: byName(project) }).remedies;
}

export default function part({ text, what }: Wanted): Told {
	const reading = readProject(text);
	if (!reading.ok) throw new Error(reading.problems.slice(0, 1).map(formatProblem).join(''));
	const { project } = reading;
	if (what === 'findings') return { ...NONE, findings: findFindings(project) };
	if (what !== 'checks') return { ...NONE, remedies: remediesOf(project, what.mend) };
	const outcomes = [...runChecks(project, activeChecks(project), undefined, true), ...checkRuns(project)];
	return {
		...NONE,
		checks: outcomes.map(({ id, pass, reason }) => ({ id, pass, reason })),
		lenses: [...lensesOf(project)],
	};
}
