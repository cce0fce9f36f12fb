// Mutation testing in two passes. The first asks the tests written by hand, with a tenth of the generated cases: a folder takes
// minutes. The second asks what survived it of everything there is: overnight for the whole core. See docs/mutation.md.
//
//   npm run mutate -- [FILE|FOLDER …] [--whole] [--report=FILE: what an earlier run found, counted again]
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
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
const first = told
	? JSON.parse(readFileSync(told, 'utf8')).files
	: await pass(places.length > 0 ? places : FOLDERS, { FRELK_RUNS: process.env.FRELK_RUNS ?? '0.1' });
const left = [];
for (const [file, { mutants }] of Object.entries(first))
	for (const mutant of mutants.filter(survived)) {
		const { start, end } = mutant.location;
		left.push({ file, mutant, range: `${file}:${start.line}:${start.column - 1}-${end.line}:${end.column - 1}` });
	}
if (whole && left.length > 0) {
	const second = await pass([...new Set(left.map((l) => l.range))], { FRELK_WHOLE: 'yes' });
	const key = (m) => JSON.stringify([m.location, m.mutatorName, m.replacement]);
	for (const [file, { mutants }] of Object.entries(second)) {
		const now = new Map(mutants.map((m) => [key(m), m.status]));
		for (const mutant of first[file].mutants)
			if (survived(mutant)) mutant.status = now.get(key(mutant)) ?? mutant.status;
	}
}

const rows = [];
let killed = 0;
let all = 0;
const unseen = [];
for (const [file, { mutants, source }] of Object.entries(first)) {
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
