/** A project's text to the outcome of its checks, as the server answers it. */
import { activeChecks, formatPath, isOn, mapChecksIn, oneLine, readBytes, runChecks, runChecksIn } from '@frelk/core';
import { checkMaps } from '@frelk/core/maps';
import { checkRuns } from '@frelk/core/runs';
import { inFileOrder, printedResult } from './results';

/** What the server answers: an HTTP status and the text of a JSON body. */
export interface Reply {
	status: number;
	body: string;
}

const refused = (error: string, problems: { path: string; message: string }[] = []): Reply => ({
	status: 422,
	body: JSON.stringify({ error, problems }),
});

/** @param bytes a project file as it came */
export function checkBytes(bytes: Uint8Array): Reply {
	const reading = readBytes(bytes);
	if (!reading.ok) {
		const { problems, more } = reading;
		const count = problems.length + more;
		return refused(
			`the project is not valid: ${count} ${count === 1 ? 'problem' : 'problems'}`,
			problems.map((p) => ({ path: formatPath(p.path), message: oneLine(p.message) })),
		);
	}
	const { project } = reading;
	if (activeChecks(project).length + [...runChecksIn(project), ...mapChecksIn(project)].filter(isOn).length === 0)
		return refused('there is no check to run');
	const checks = inFileOrder({
		project: project.id,
		of: project,
		checks: runChecks(project),
		runs: checkRuns(project),
		maps: checkMaps(project),
	});
	const failed = checks.filter((c) => !c.pass).length;
	return {
		status: 200,
		body: JSON.stringify({
			format: 'frelk-checks/1',
			projects: [{ project: project.id, checks: checks.map(printedResult) }],
			passed: checks.length - failed,
			failed,
		}),
	};
}
