/** `frelk diff`: what a change does. What was edited, which answers are other ones now and why, checks, runs, maps, findings. */
import type { Project } from '@frelk/core';
import {
	answersDiffer,
	type DifferenceTold,
	differenceOf,
	differenceText,
	htmlDifference,
	markdownDifference,
	type ProjectDifference,
	toldDifference,
} from '@frelk/core/differences';
import { checkWritable, type Io, load, parse, UsageError, write } from './files';
import { indented } from './json';
import { atRevision, changedSince } from './revisions';

interface DiffOptions {
	since?: string;
	json?: boolean;
	markdown?: string;
	html?: string;
	maps: boolean;
	findings?: boolean;
}

/** One file, as it was and as it is; null where it was not there, or is not any more. */
interface Pair {
	file: string;
	before: Project | null;
	after: Project | null;
}

/** A file, standard input, or a file at a revision. */
async function read(io: Io, given: string): Promise<Project> {
	const then = given === '-' ? null : await atRevision(given);
	return then ? parse(given, then) : (await load(io, given)).project;
}

async function pairsOf(io: Io, files: readonly string[], { since }: DiffOptions): Promise<Pair[]> {
	if (since === undefined) {
		const [old, now, ...more] = files;
		if (old === undefined || now === undefined || more.length > 0)
			throw new UsageError('two files are held against each other, or with --since all that changed');
		if (old === '-' && now === '-') throw new UsageError('standard input is one file, not two');
		return [{ file: now, before: await read(io, old), after: await read(io, now) }];
	}
	const pairs: Pair[] = [];
	for (const { file, before, isThere } of await changedSince(since, files))
		pairs.push({
			file,
			before: before && parse(`${since}:${file}`, before),
			after: isThere ? (await load(io, file)).project : null,
		});
	return pairs;
}

interface Compared extends Pair {
	difference: ProjectDifference | null;
	told: DifferenceTold | null;
}

/** What is said of a file that is new, or gone. */
const aloneWords = ({ after, before }: Pair): string => {
	const project = (after ?? before) as Project;
	const { checks = [], queries, scene } = project;
	const counted = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
	const has = [
		counted(scene.objects.length, 'object', 'objects'),
		counted(queries.length, 'query', 'queries'),
		counted(checks.length, 'check', 'checks'),
	].join(', ');
	return `${after ? 'is new' : 'is gone'}: ${has}`;
};

function printed({ file, before, after, difference, told }: Compared): object {
	const { edits = [], ...rest } = difference ?? {
		answers: [],
		checks: [],
		runs: [],
		maps: [],
		findings: null,
	};
	return {
		file,
		old: before?.id ?? null,
		new: after?.id ?? null,
		edits: edits.map(({ kind, ids, moment }, i) => ({ kind, ids, moment, words: told?.edits[i] ?? '' })),
		...rest,
	};
}

/** @returns the exit code: 1 where an answer is another one */
export async function diff(io: Io, files: readonly string[], options: DiffOptions): Promise<number> {
	await checkWritable(options.markdown, options.html);
	const pairs = await pairsOf(io, files, options);
	if (options.html !== undefined && pairs.length > 1)
		throw new UsageError(`a page is of one project; ${pairs.length} changed`);
	const list = pairs.map((pair): Compared => {
		const { file, before, after } = pair;
		if (!before || !after) return { ...pair, difference: null, told: null };
		const { maps, findings } = options;
		const doing = (what: string) => io.doing(`${file}: ${what}`);
		const difference = differenceOf(before, after, { maps, doing, ...(findings === undefined ? {} : { findings }) });
		return { ...pair, difference, told: toldDifference(before, after, difference) };
	});
	const titleOf = ({ file, after, before }: Pair) => `${(after ?? before)?.name ?? file} (${file})`;
	if (options.markdown !== undefined) {
		const parts = list.map((one) =>
			one.told
				? markdownDifference(titleOf(one), one.told)
				: markdownDifference(`${titleOf(one)} ${aloneWords(one)}`, null),
		);
		await write(options.markdown, parts.length > 0 ? parts.join('\n') : 'No project changed.\n');
	}
	const [only] = list;
	if (options.html !== undefined && only?.before && only.after && only.difference && only.told)
		await write(options.html, htmlDifference(only.before, only.after, only.difference, only.told));
	else if (options.html !== undefined)
		throw new UsageError(
			only ? `${only.file} ${aloneWords(only)}: there is nothing to hold it against` : 'no project changed',
		);
	if (options.json) io.out(`${indented({ format: 'frelk-diff/1', files: list.map(printed) }, 0)}\n`);
	else {
		list.forEach((one, i) => {
			if (options.since !== undefined) io.out(`${i === 0 ? '' : '\n'}${one.file}: `);
			io.out(one.told ? differenceText(one.told) : `${aloneWords(one)}\n`);
		});
		if (list.length === 0) io.out('no project changed\n');
	}
	return list.some((one) => one.difference !== null && answersDiffer(one.difference)) ? 1 : 0;
}
