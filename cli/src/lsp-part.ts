/** What takes long to say of a project, said in a worker that is ended when the text is another one. */
import {
	activeChecks,
	byName,
	type Check,
	type Finding,
	findFindings,
	isStill,
	type Problem,
	type Project,
	type Reading,
	type Remedy,
	readBytes,
	remediesFor,
	runChecks,
} from '@frelk/core';
import { checkRuns } from '@frelk/core/runs';
import { lensesOf } from './lsp/hover';

/**
 * What is asked of the text of a project: its problems and checks; what stands at its queries; its findings, which take longest; or what
 * would mend one of its checks. Texts under one key are the same.
 */
export type Wanted = {
	key: string;
	text: SharedArrayBuffer;
	what: 'checks' | 'lenses' | 'findings' | { mend: string };
};

/** What became of a check. */
export interface Outcome {
	id: string;
	pass: boolean;
	reason: string;
}

export interface Told {
	/** What is wrong with the text; nothing else is told then. */
	problems: Problem[];
	checks: Outcome[];
	findings: Finding[];
	lenses: [query: string, words: string][];
	remedies: Remedy[];
}

const NONE: Told = { problems: [], checks: [], findings: [], lenses: [], remedies: [] };

function remediesOf(project: Project, id: string): Remedy[] {
	const check = project.checks?.find((c) => c.id === id);
	if (!check || !isStill(check)) return [];
	const { moment = null, query, expect } = check as Check;
	const object = (expect.selects ?? expect.tie ?? [])[0];
	if (object === undefined) return [];
	return remediesFor(project, { query, object, moment, wish: 'select' }, { naming: byName(project) }).remedies;
}

/** The text that was read last: what is asked next is mostly asked of the same. */
let read: { key: string; reading: Reading } | null = null;

export default function part({ key, text, what }: Wanted): Told {
	if (read?.key !== key) read = { key, reading: readBytes(new Uint8Array(text).slice()) };
	const { reading } = read;
	if (!reading.ok) return { ...NONE, problems: reading.problems };
	const { project } = reading;
	if (what === 'findings') return { ...NONE, findings: findFindings(project) };
	if (what === 'lenses') return { ...NONE, lenses: [...lensesOf(project)] };
	if (what !== 'checks') return { ...NONE, remedies: remediesOf(project, what.mend) };
	const outcomes = [...runChecks(project, activeChecks(project), undefined, 'reasons'), ...checkRuns(project)];
	return { ...NONE, checks: outcomes.map(({ id, pass, reason }) => ({ id, pass, reason })) };
}
