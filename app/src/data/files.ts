/** Project files in and out of the browser. */
import { formatProblem, type Project, readProject, writeProject } from '@frelk/core';
import { addProject } from './projects';

export interface ImportResult {
	/** Addresses of what came in. */
	keys: string[];
	/** What did not, with the reasons, one line each. */
	failures: { file: string; lines: string[] }[];
}

/** Reads the given files; the good ones are added even where others fail. */
export async function importFiles(files: File[]): Promise<ImportResult> {
	const result: ImportResult = { keys: [], failures: [] };
	for (const file of files) {
		const reading = readProject(await file.text());
		if (reading.ok) result.keys.push(await addProject(reading.project));
		else result.failures.push({ file: file.name, lines: reading.problems.map(formatProblem) });
	}
	return result;
}

/** Hands a text to the browser as a file to save. */
export function saveText(text: string, name: string, type: string): void {
	const url = URL.createObjectURL(new Blob([text], { type }));
	const link = document.createElement('a');
	link.href = url;
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(url), 1000);
}

/** Hands the project to the browser as a file to save. */
export const exportProject = (project: Project): void => saveText(writeProject(project), `${project.id}.frelk.json`, 'application/json');
