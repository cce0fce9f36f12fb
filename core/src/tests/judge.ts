/** What must hold of any text whatever: it is refused in clean lines, or answered in sound numbers, and written back as it was read. */
import { runChecks } from '../checks/check';
import { MAX_PROBLEMS } from '../project/bounds';
import { formatProblem } from '../project/problems';
import { readProject } from '../project/read';
import type { Project } from '../project/schema';
import { writeProject } from '../project/write';
import { Answerer } from '../query/answer';
import type { Answer } from '../query/types';
import { csvReport, markdownReport } from '../report/files';
import { junitXml } from '../report/junit';
import { htmlReport } from '../report/page';
import { buildWorld } from '../world/world';

// biome-ignore lint/suspicious/noControlCharactersInRegex: these must not be there
const UNCLEAN = /[\u0000-\u001f\u007f-\u009f\u2028-\u202e\u2066-\u2069]/;
const LONGEST_LINE = 1500;

/** @returns what is unsound in an answer's numbers, or null */
export function unsound(answer: Answer): string | null {
	for (const s of answer.selected) {
		if (!(Number.isFinite(s.distance) && s.distance >= 0))
			return `${answer.query}: distance ${s.distance} of ${s.object}`;
		if (!s.point.every(Number.isFinite)) return `${answer.query}: point ${s.point} of ${s.object}`;
		if (s.normal && !(Math.abs(Math.hypot(...s.normal) - 1) <= 1e-6))
			return `${answer.query}: normal ${s.normal} of ${s.object}`;
	}
	for (const v of answer.verdicts) {
		if (v.beyond !== undefined && !(Number.isFinite(v.beyond) && v.beyond >= 0))
			return `${answer.query}: ${v.object} ${v.beyond} beyond the end`;
		if (v.margin !== undefined && !(Number.isFinite(v.margin) && v.margin >= 0))
			return `${answer.query}: margin ${v.margin} of ${v.object} at ${v.stage}`;
	}
	return null;
}

const said = (a: Answer): string => JSON.stringify([a.status, a.selected.map((s) => [s.object, s.through]), a.tied]);

function judgeProject(project: Project): string | null {
	const text = writeProject(project);
	if (JSON.stringify(JSON.parse(text)) !== JSON.stringify(project)) return 'is written as something else';
	const again = readProject(text);
	if (!again.ok)
		return `is written as what is refused: ${formatProblem(again.problems[0] ?? { path: [], message: '' })}`;
	if (writeProject(again.project) !== text) return 'is written otherwise the second time';
	for (const moment of [null, ...(project.moments ?? []).map((m) => m.id)]) {
		const world = buildWorld(project, moment);
		const answerer = new Answerer(world);
		for (const query of world.queries) {
			const answer = answerer.explain(query);
			const wrong = unsound(answer);
			if (wrong) return `at ${moment ?? 'the start'}, ${wrong}`;
			const winner = new Answerer(world).winner(query);
			if (said(winner) !== said(answer))
				return `at ${moment ?? 'the start'}, ${query.id}: winner only ${said(winner)}, explained ${said(answer)}`;
		}
	}
	const checks = runChecks(project);
	for (const check of checks) if (UNCLEAN.test(check.reason)) return `${check.id}: a reason that is not one clean line`;
	const suites = [{ project: project.id, checks }];
	for (const report of [junitXml(suites), csvReport(suites), markdownReport(suites), htmlReport(project, checks)])
		if (report === '' || /undefined|NaN/.test(report)) return 'a report with holes';
	return null;
}

/** @returns what is wrong, or null; whatever is thrown is wrong too */
export function judge(text: string): string | null {
	try {
		const reading = readProject(text);
		if (reading.ok) return judgeProject(reading.project);
		if (reading.problems.length === 0) return 'refused without a reason';
		if (reading.problems.length > MAX_PROBLEMS) return `${reading.problems.length} problems told`;
		for (const problem of reading.problems) {
			const line = formatProblem(problem);
			if (UNCLEAN.test(line) || line.length > LONGEST_LINE)
				return `a problem that is not one clean line (${line.length} characters)`;
		}
		return null;
	} catch (error) {
		return `threw ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`;
	}
}
