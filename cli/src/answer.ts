/** `frelk answer`: the answers of a project at one moment, as words or as JSON. */
import {
	type Answer,
	Answerer,
	anyTagsOf,
	buildWorld,
	checkProject,
	didYouMean,
	formatProblem,
	oneLine,
	type Project,
	type Query,
	wordsOfVerdict,
} from '@frelk/core';
import { type Io, load, type Source, UsageError } from './files';
import { indented } from './json';

interface AnswerOptions {
	query: string[];
	moment?: string;
	json?: boolean;
	stats?: boolean;
	cursor?: string;
	asker?: string;
}

/** The project with its queries asked from elsewhere, or by somebody else. @throws UsageError where that cannot be */
function asked({ file, project }: Source, { cursor, asker, query: ids }: AnswerOptions): Project {
	if (cursor === undefined && asker === undefined) return project;
	const at = (cursor ?? '0,0').split(',').map((part) => (part.trim() === '' ? Number.NaN : Number(part)));
	if (at.length !== 2 || !at.every(Number.isFinite))
		throw new UsageError(`--cursor ${oneLine(cursor ?? '', 40)}: expected two numbers of pixels, as in 480,270`);
	const meant = (q: Query) => ids.length === 0 || ids.includes(q.id);
	if (cursor !== undefined && !project.queries.some((q) => q.kind === 'pick' && meant(q)))
		throw new UsageError(`${file}: --cursor is for picks, and none of these queries is one`);
	const queries = project.queries.map((q) =>
		meant(q)
			? ({
					...q,
					...(q.kind === 'pick' && cursor !== undefined ? { cursor: at } : {}),
					...(asker === undefined ? {} : { asker }),
				} as Query)
			: q,
	);
	const reading = checkProject({ ...project, queries });
	if (!reading.ok) throw new UsageError(reading.problems.map((p) => `${file}: ${formatProblem(p)}`).join('\n'));
	return reading.project;
}

/** @returns the exit code */
export async function answer(io: Io, file: string, options: AnswerOptions): Promise<number> {
	const t0 = performance.now();
	const source = await load(io, file);
	const project = asked(source, options);
	const t1 = performance.now();
	const unknown = (what: string, id: string, ids: string[]) =>
		new UsageError(`${file}: no ${what} "${id}"${didYouMean(id, ids)}`);
	const moments = (project.moments ?? []).map((m) => m.id);
	if (options.moment !== undefined && !moments.includes(options.moment))
		throw unknown('moment', options.moment, moments);
	const ids = project.queries.map((q) => q.id);
	for (const id of options.query) if (!ids.includes(id)) throw unknown('query', id, ids);
	io.doing('building the world');
	const world = buildWorld(project, options.moment ?? null);
	const t2 = performance.now();
	const answerer = new Answerer(world);
	const times: [string, number][] = [];
	const wanted = world.queries.filter((q) => options.query.length === 0 || options.query.includes(q.id));
	if (options.json) {
		const [of, moment] = [project.id, options.moment ?? null].map((id) => JSON.stringify(id));
		io.out(`{\n  "format": "frelk-answers/1",\n  "project": ${of},\n  "moment": ${moment},\n  "answers": [`);
	}
	// One after the other: all together may be more than one text can hold.
	wanted.forEach((query, i) => {
		io.doing(`answering ${query.id}, ${i + 1} of ${wanted.length}`);
		const before = performance.now();
		const given = answerer.explain(query);
		if (options.json) io.out(`${i === 0 ? '' : ','}\n    ${indented(given, 4)}`);
		else io.out(`${words(given, query)}\n`);
		times.push([query.id, performance.now() - before]);
	});
	if (options.json) io.out(`${wanted.length > 0 ? '\n  ' : ''}]\n}\n`);
	if (options.stats) {
		io.err(
			`read ${ms(t1 - t0)}, world ${ms(t2 - t1)}: ${world.objects.length} objects, ${world.shapes.length} shapes\n`,
		);
		for (const [id, time] of times) io.err(`${id}: ${ms(time)}\n`);
	}
	return 0;
}

const ms = (n: number): string => `${n.toFixed(2)} ms`;

function words(a: Answer, query: Query): string {
	const lines = [`${a.query}: ${a.status}`];
	for (const s of a.selected) {
		const through = s.through === null ? '' : ` through ${s.through}`;
		const acts = [s.prompt, s.action]
			.filter((v) => v !== null)
			.map((v) => oneLine(v))
			.join(' · ');
		lines.push(`  selected  ${s.object}${through}, ${s.distance.toFixed(3)} m${acts ? `  ${acts}` : ''}`);
	}
	if (a.tied.length > 0) lines.push(`  tied      ${a.tied.join(', ')}`);
	for (const note of a.notes) {
		const { code, ...rest } = note;
		lines.push(`  note      ${code} ${oneLine(Object.values(rest).join(' '))}`.trimEnd());
	}
	for (const v of a.verdicts)
		if (v.stage !== 'selected' && v.stage !== 'tied')
			lines.push(`  ${v.stage.padEnd(9)} ${v.object}: ${wordsOfVerdict(v, undefined, anyTagsOf(query))}`);
	return lines.join('\n');
}
