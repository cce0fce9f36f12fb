/** Project files in and out of the browser. */
import { decodeUtf8, formatProblem, type Project, type Reading, readProject, writeProject } from '@frelk/core';
import { type Repair, repairProject } from '@frelk/core/editing';
import { addProject } from './projects';

export interface ImportFailure {
	file: string;
	/** What is wrong, one line each. */
	lines: string[];
	/** How many things are wrong: more than there are lines where not all are told. */
	wrong: number;
	/** The project without what names things that are gone, where nothing else is wrong. */
	repair: Repair | null;
}

interface ImportResult {
	/** Addresses of what came in. */
	keys: string[];
	/** What did not, with the reasons, one line each. */
	failures: ImportFailure[];
}

const MAX_BYTES = 200e6;
/** What is wrong with a project, a line each. */
export function told({ problems, more }: Extract<Reading, { ok: false }>): string[] {
	const lines = problems.map(formatProblem);
	return more > 0 ? [...lines, `and ${more} more`] : lines;
}

/** Reads the given files; the good ones are added even where others fail. */
export async function importFiles(files: File[]): Promise<ImportResult> {
	const result: ImportResult = { keys: [], failures: [] };
	for (const file of files) {
		if (file.size > MAX_BYTES) {
			result.failures.push({
				file: file.name,
				lines: [
					`is ${Math.round(file.size / 1e6)} MB; this page takes up to ${MAX_BYTES / 1e6} MB. Use frelk on the command line for larger ones.`,
				],
				wrong: 1,
				repair: null,
			});
			continue;
		}
		const text = decodeUtf8(new Uint8Array(await file.arrayBuffer()));
		if (typeof text !== 'string') {
			result.failures.push({ file: file.name, lines: [text.message], wrong: 1, repair: null });
			continue;
		}
		const reading = readProject(text);
		if (reading.ok) result.keys.push(await addProject(reading.project));
		else
			result.failures.push({
				file: file.name,
				lines: told(reading),
				wrong: reading.problems.length + reading.more,
				repair: repairProject(text),
			});
	}
	return result;
}

/** Hands a text to the browser as a file to save. */
export const saveText = (text: string, name: string, type: string): void => saveBytes(text, name, type);

/** Hands bytes, or a text, to the browser as a file to save. */
export function saveBytes(data: Uint8Array<ArrayBuffer> | string, name: string, type: string): void {
	const url = URL.createObjectURL(new Blob([data], { type }));
	const link = document.createElement('a');
	link.href = url;
	link.download = name;
	link.click();
	setTimeout(() => URL.revokeObjectURL(url), 1000);
}

/** Hands the project to the browser as a file to save. */
export const exportProject = (project: Project): void =>
	saveText(writeProject(project), `${project.id}.frelk.json`, 'application/json');
