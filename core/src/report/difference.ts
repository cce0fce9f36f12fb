/** What a change does, for a pull request and on paper. */
import type { CheckResult } from '../checks/check';
import type { ProjectDifference } from '../diff/diff';
import { type AnswerTold, type DifferenceTold, differenceInShort, partsOf, toldDifference } from '../diff/words';
import type { Expect, Project } from '../project/schema';
import { Answerer } from '../query/answer';
import { buildWorld } from '../world/world';
import { escaped } from './escaped';
import { markdownLine } from './files';
import { PAPER_STYLE } from './page';
import { picturesOf } from './picture';

/** Rows of a table, and lines of a list, of one summary: what is longer nobody reads, and places that show it cut it off. */
const MAX_ROWS = 100;
/** Pictures of one page. */
const MAX_PICTURES = 60;

/** The first of a list, and a line on how many more there are. */
function cut<T>(list: readonly T[], words: (entry: T) => string, more: (n: number) => string): string[] {
	const told = list.slice(0, MAX_ROWS).map(words);
	return list.length > MAX_ROWS ? [...told, more(list.length - MAX_ROWS)] : told;
}

/**
 * For a pull request, in Markdown: the answers that change as a table, all else folded.
 * @param title the file, or what it is called
 * @param told null where there is nothing to hold it against: the title alone
 */
export function markdownDifference(title: string, told: DifferenceTold | null): string {
	if (!told) return `## ${markdownLine(title)}\n`;
	const out = [`## ${markdownLine(title)}: ${markdownLine(differenceInShort(told))}`, ''];
	const row = ({ query, moment, before, after, why }: AnswerTold) =>
		`| ${[query, moment, before, after, why].map(markdownLine).join(' | ')} |`;
	if (told.answers.length > 0)
		out.push(
			'| query | moment | before | after | why |',
			'|---|---|---|---|---|',
			...cut(told.answers, row, (n) => `| and ${n} more | | | | |`),
			'',
		);
	const item = (text: string) => `- ${markdownLine(text)}`;
	for (const { heading, lines } of [{ heading: 'Edits', lines: told.edits }, ...partsOf(told)]) {
		if (lines.length === 0) continue;
		const open = heading === 'Breaks' ? ' open' : '';
		out.push(
			`<details${open}><summary>${heading}: ${lines.length}</summary>`,
			'',
			...cut(lines, item, (n) => `- and ${n} more`),
			'',
			'</details>',
			'',
		);
	}
	return `${out.join('\n').trimEnd()}\n`;
}

/** What is drawn of one answer: got as it is, and wanted what the other state selects. */
function picture(project: Project, moment: string | null, query: string, wanted: readonly string[]): string {
	const known = moment === null || project.moments?.some((m) => m.id === moment);
	if (!known || !project.queries.some((q) => q.id === query)) return '';
	const world = buildWorld(project, moment);
	const asked = world.queryById.get(query);
	if (!asked) return '';
	const got = new Answerer(world).explain(asked);
	const expect = { selects: wanted.filter((id) => world.objectById.has(id)) } as Expect;
	const check: CheckResult = { id: query, query, moment, pass: false, wanted: expect, got, reason: '' };
	const names = new Map(project.scene.objects.map((o) => [o.id, o.name ?? o.id]));
	return picturesOf(world, check, (id) => escaped((names.get(id) ?? id).slice(0, 28)));
}

/** One page that needs nothing else: each changed answer with a picture before and after, and all that was edited. */
export function htmlDifference(
	before: Project,
	after: Project,
	difference: ProjectDifference,
	told: DifferenceTold,
): string {
	const cases = difference.answers.slice(0, MAX_PICTURES).map((d) => {
		const [one] = toldDifference(before, after, { ...difference, answers: [d] }).answers;
		if (!one) return '';
		const { query, moment, before: was, after: is, why } = one;
		const side = (heading: string, words: string, drawn: string) =>
			`<h3>${heading}: ${escaped(words)}</h3><div class="pictures">${drawn}</div>`;
		return [
			`<section><h2>${escaped(query)} · ${escaped(moment)}</h2>`,
			why === '' ? '' : `<p class="why">${escaped(why)}</p>`,
			side('Before', was, picture(before, d.moment, d.query, d.after?.objects ?? [])),
			side('After', is, picture(after, d.moment, d.query, d.before?.objects ?? [])),
			'</section>',
		].join('');
	});
	const left = difference.answers.length - cases.length;
	const lists = [{ heading: 'Edits', lines: told.edits }, ...partsOf(told)].map(({ heading, lines }) =>
		lines.length === 0
			? ''
			: `<section><h2>${heading}</h2><ul>${lines.map((line) => `<li>${escaped(line)}</li>`).join('')}</ul></section>`,
	);
	const title = escaped(after.name);
	return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${title}: what a change does</title>
<style>${PAPER_STYLE}</style></head>
<body><h1>${title}</h1><p>${escaped(differenceInShort(told))}.</p>
${cases.join('\n')}${left > 0 ? `<p>And ${left} more answers.</p>` : ''}
${lists.join('\n')}</body></html>
`;
}
