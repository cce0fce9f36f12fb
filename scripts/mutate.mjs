// Mutation testing in passes, each of what survived the one before: the tests of the same folder; all that are written by hand, with a
// tenth of the generated cases; with --whole everything there is, overnight for the whole core. See docs/mutation.md.
//
//   npm run mutate -- [FILE|FOLDER …] [--near: the first pass alone] [--whole] [--report=FILE: what an earlier run found, counted again]
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { root, run } from './lib.mjs';

const FOLDERS = ['geometry', 'space', 'world', 'query', 'checks'].map((name) => `core/src/${name}`);
const given = process.argv.slice(2);
const whole = given.includes('--whole');
const places = given.filter((word) => !word.startsWith('--'));

/** Mutants that were looked at and change nothing, with why: by file and line of the source, and by what they put there. */
const EQUAL = JSON.parse(readFileSync(join(root, 'docs', 'mutation-equal.json'), 'utf8'));
const isEqual = (file, line, replacement) =>
	(EQUAL[file] ?? []).some((e) => e.line === line && (e.to === undefined || e.to.includes(replacement)));

const REPORT = join(root, 'build', 'mutation.json');
const survived = (mutant) => mutant.status === 'Survived' || mutant.status === 'NoCoverage';
const counted = (mutant) => survived(mutant) || mutant.status === 'Killed' || mutant.status === 'Timeout';

/** One run of Stryker. @returns the files of its report */
async function pass(mutate, env) {
	await run('npx', ['stryker', 'run'], { env: { ...process.env, FRELK_MUTATE: mutate.join(','), ...env } });
	return JSON.parse(readFileSync(REPORT, 'utf8')).files;
}

const told = given.find((word) => word.startsWith('--report='))?.slice('--report='.length);
const asked = places.length > 0 ? places : FOLDERS;
const FEWER = { FRELK_RUNS: process.env.FRELK_RUNS ?? '0.1' };
const folderOf = (place) => (/\.tsx?(:|$)/.test(place) ? dirname(place) : place);
const found = told
	? JSON.parse(readFileSync(told, 'utf8')).files
	: await pass(asked, { ...FEWER, FRELK_NEAR: [...new Set(asked.map(folderOf))].join(',') });

/** Asks what survived so far again, of more tests. */
async function again(env) {
	const ranges = new Set();
	for (const [file, { mutants }] of Object.entries(found))
		for (const { start, end } of mutants.filter(survived).map((m) => m.location))
			ranges.add(`${file}:${start.line}:${start.column - 1}-${end.line}:${end.column - 1}`);
	if (ranges.size === 0) return;
	const key = (m) => JSON.stringify([m.location, m.mutatorName, m.replacement]);
	for (const [file, { mutants }] of Object.entries(await pass([...ranges], env))) {
		const now = new Map(mutants.map((m) => [key(m), m.status]));
		for (const mutant of found[file].mutants)
			if (survived(mutant)) mutant.status = now.get(key(mutant)) ?? mutant.status;
	}
}
if (!told && !given.includes('--near')) await again(FEWER);
if (whole) await again({ FRELK_WHOLE: 'yes' });
writeFileSync(REPORT, JSON.stringify({ files: found }));

const rows = [];
let killed = 0;
let all = 0;
const unseen = [];
for (const [file, { mutants, source }] of Object.entries(found)) {
	const lines = source.split('\n');
	const lineOf = ({ location }) => lines[location.start.line - 1].trim();
	const changesNothing = (mutant) => survived(mutant) && isEqual(file, lineOf(mutant), mutant.replacement);
	const list = mutants.filter((mutant) => counted(mutant) && !changesNothing(mutant));
	const aside = mutants.filter(changesNothing).length;
	for (const { line } of EQUAL[file] ?? [])
		if (!lines.some((text) => text.trim() === line)) console.log(`${file} has no line any more like: ${line}`);
	const live = list.filter(survived);
	killed += list.length - live.length;
	all += list.length;
	rows.push(
		`${((100 * (list.length - live.length)) / Math.max(1, list.length)).toFixed(1).padStart(5)} %  ${list.length - live.length} of ${list.length}  ${file}${aside > 0 ? `, and ${aside} that change nothing` : ''}`,
	);
	for (const mutant of live) {
		const { location, mutatorName, replacement } = mutant;
		unseen.push(
			`${file}:${location.start.line}:${location.start.column} ${mutatorName} → ${replacement}\n    ${lineOf(mutant)}`,
		);
	}
}
console.log(
	`\n${rows.join('\n')}\n${((100 * killed) / Math.max(1, all)).toFixed(1).padStart(5)} %  ${killed} of ${all}  in all`,
);
mkdirSync(join(root, 'build'), { recursive: true });
writeFileSync(join(root, 'build', 'survivors.txt'), `${unseen.join('\n')}\n`);
console.log('What was not seen stands in build/survivors.txt.');
