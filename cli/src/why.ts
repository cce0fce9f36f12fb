/** `frelk why`: why an object is not selected (or is), and what to change so that it is otherwise. */
import { anyTagsOf, buildWorld, didYouMean, type Remedies, remediesFor, wordsOfVerdict } from '@frelk/core';
import { type Io, load, UsageError } from './files';
import { indented } from './json';

interface WhyOptions {
	query: string;
	object: string;
	moment?: string;
	wish?: string;
	json?: boolean;
}

/** @returns the exit code */
export async function why(io: Io, file: string, options: WhyOptions): Promise<number> {
	const { project } = await load(io, file);
	const known = (what: string, id: string | undefined, list: readonly { id: string }[]) => {
		if (id !== undefined && !list.some((e) => e.id === id))
			throw new UsageError(
				`${file}: no ${what} "${id}"${didYouMean(
					id,
					list.map((e) => e.id),
				)}`,
			);
	};
	known('query', options.query, project.queries);
	known('object', options.object, project.scene.objects);
	known('moment', options.moment, project.moments ?? []);
	const wish = options.wish ?? 'select';
	if (wish !== 'select' && wish !== 'leave') throw new UsageError(`--wish is select or leave; got ${wish}`);
	const moment = options.moment ?? null;
	io.doing('trying remedies');
	const found = remediesFor(project, { query: options.query, object: options.object, moment, wish });
	if (options.json) {
		const { query, object } = options;
		const { verdict, nearest } = found;
		// How it looks says the order; the format has what is done and what it costs.
		const remedies = found.remedies.map(({ looks: _, ...remedy }) => remedy);
		const told = { format: 'frelk-why/1', project: project.id, query, moment, object, verdict, remedies };
		if (nearest) Object.assign(told, { nearest });
		io.out(`${indented(told, 0)}\n`);
	} else io.out(words(found, options, anyTagsOf(buildWorld(project, moment).queryById.get(options.query))));
	return 0;
}

function words(
	{ verdict, already, remedies, nearest }: Remedies,
	{ object, wish }: WhyOptions,
	any: readonly string[],
): string {
	const lines: string[] = [];
	if (verdict) lines.push(`${verdict.object}: ${verdict.stage}, ${wordsOfVerdict(verdict, undefined, any)}`);
	else lines.push('the query is off, or waits');
	if (already) lines.push(wish === 'leave' ? `${object} is not selected as it is` : `${object} is selected as it is`);
	else if (remedies.length === 0) lines.push('no change that was tried is enough, nor are several together');
	if (nearest) {
		lines.push(`what came nearest: ${nearest.words.join('; then ')}`);
		if (nearest.verdict)
			lines.push(`then still: ${nearest.verdict.stage}, ${wordsOfVerdict(nearest.verdict, undefined, any)}`);
	}
	for (const { words: said, changes, turns, mends, looks } of remedies) {
		const costs = [
			changes.length === 0
				? 'no other answer changes'
				: `${changes.length} other ${changes.length === 1 ? 'answer changes' : 'answers change'}`,
			turns.length === 0 ? 'no check breaks' : `breaks ${turns.join(', ')}`,
			...(mends.length > 0 ? [`fixes ${mends.join(', ')}`] : []),
		];
		lines.push(`- ${said}: ${costs.join(', ')}${looks === 'mistake' ? '; looks like the mistake' : ''}`);
	}
	return `${lines.join('\n')}\n`;
}
