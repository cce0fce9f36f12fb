/** `frelk findings`: what is wrong with project files, or worth a look, without being asked. */
import { relative, resolve } from 'node:path';
import {
	decodeUtf8,
	type Finding,
	FindingsMemory,
	findFindings,
	type Level,
	type SarifInput,
	sarifOf,
} from '@frelk/core';
import { checkWritable, type Io, load, UsageError, write } from './files';
import { indented } from './json';
import { VERSION } from './version';

interface FindingsOptions {
	json?: boolean;
	sarif?: string;
	level?: string;
}

const LEVELS: readonly Level[] = ['error', 'warning', 'note'];

/**
 * @param memories of the last look at each file: what has not changed since is not asked again
 * @returns the exit code: 1 with an error among them
 */
export async function findings(
	io: Io,
	files: readonly string[],
	options: FindingsOptions,
	memories: Map<string, FindingsMemory> = new Map(),
): Promise<number> {
	const level = (options.level ?? 'note') as Level;
	if (!LEVELS.includes(level)) throw new UsageError(`--level is one of ${LEVELS.join(', ')}; got ${options.level}`);
	await checkWritable(options.sarif);
	const wanted = (f: Finding) => LEVELS.indexOf(f.level) <= LEVELS.indexOf(level);
	const inputs: (SarifInput & { project: string })[] = [];
	for (const file of files) {
		const { project, bytes } = await load(io, file);
		const memory = memories.get(file) ?? new FindingsMemory();
		memories.set(file, memory);
		const doing = (rule: string) => io.doing(`${project.id}: looking for ${rule}`);
		const found = findFindings(project, undefined, doing, memory).filter(wanted);
		// As build servers name it: from the folder one works in.
		const told = file === '-' ? file : relative(process.cwd(), resolve(file)) || file;
		inputs.push({ project: project.id, file: told, text: decodeUtf8(bytes) as string, findings: found });
	}
	if (options.sarif !== undefined) await write(options.sarif, `${JSON.stringify(sarifOf(inputs, VERSION), null, 2)}\n`);
	const all = inputs.flatMap((i) => i.findings);
	if (options.json) {
		const projects = inputs.map(({ project, findings: list }) => ({ project, findings: list }));
		io.out(`${indented({ format: 'frelk-findings/1', projects }, 0)}\n`);
	} else {
		for (const { file, findings: list } of inputs)
			for (const f of list) io.out(`${f.level.padEnd(7)}  ${file}: ${f.path}: ${f.message} [${f.rule}]\n`);
		const count = (of: Level) => {
			const n = all.filter((f) => f.level === of).length;
			return `${n} ${of}${n === 1 ? '' : 's'}`;
		};
		io.out(`${LEVELS.map(count).join(', ')}\n`);
	}
	return all.some((f) => f.level === 'error') ? 1 : 0;
}
