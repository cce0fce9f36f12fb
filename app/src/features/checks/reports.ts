/** Results of the checks as files. */
import { activeChecks, csvReport, htmlReport, junitXml, markdownReport, type Project, runChecks } from '@frelk/core';
import { checkMaps } from '@frelk/core/maps';
import { checkRuns } from '@frelk/core/runs';
import { saveText } from '../../data/files';

export type ReportKind = 'JUnit XML' | 'CSV' | 'Markdown' | 'HTML page';

export function saveReport(kind: ReportKind, project: Project): void {
	const suite = {
		project: project.id,
		of: project,
		checks: runChecks(project, activeChecks(project)),
		runs: checkRuns(project),
		maps: checkMaps(project),
	};
	switch (kind) {
		case 'JUnit XML':
			return saveText(junitXml([suite]), `${project.id}.junit.xml`, 'application/xml');
		case 'CSV':
			return saveText(csvReport([suite]), `${project.id}.checks.csv`, 'text/csv');
		case 'Markdown':
			return saveText(markdownReport([suite]), `${project.id}.checks.md`, 'text/markdown');
		case 'HTML page':
			return saveText(
				htmlReport(project, suite.checks, suite.runs, suite.maps),
				`${project.id}.checks.html`,
				'text/html',
			);
	}
}
