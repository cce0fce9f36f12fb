/** What takes long to say of a project, said in a worker that is ended when the text is another one. */
import {
	activeChecks,
	byName,
	type Check,
	type Finding,
	findFindings,
	isStill,
	type Project,
	type Remedy,
	remediesFor,
	runChecks,
} from '@frelk/core';
import { checkRuns } from '@frelk/core/runs';
import { lensesOf } from './lsp/hover';
import { unshared } from './shared';

/**
 * What is asked of a project, which has been read: its checks; what stands at its queries; its findings, which take longest; or what would
 * mend one of its checks.
 */
export type Wanted = { project: SharedArrayBuffer; what: 'checks' | 'lenses' | 'findings' | { mend: string } };

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

export default function part({ project: given, what }: Wanted): Told {
	const project = unshared(given);
	if (what === 'findings') return { ...NONE, findings: findFindings(project) };
	if (what === 'lenses') return { ...NONE, lenses: [...lensesOf(project)] };
	if (what !== 'checks') return { ...NONE, remedies: remediesOf(project, what.mend) };
	const outcomes = [...runChecks(project, activeChecks(project), undefined, true), ...checkRuns(project)];
	return { ...NONE, checks: outcomes.map(({ id, pass, reason }) => ({ id, pass, reason })) };
}
