/** `frelk run`: what happens in the run-throughs of a project, as a log one can read, as JSON or as a table. */
import { byId, didYouMean } from '@frelk/core';
import { type RunEvent, type RunResult, runLog, runThrough, wordsOfEvent } from '@frelk/core/runs';
import { traceOfRun } from '@frelk/core/traces';
import { type Io, load, UsageError, write } from './files';
import { indented } from './json';

interface RunOptions {
	run: string[];
	json?: boolean;
	csv?: boolean;
	trace?: string;
}

/** @returns the exit code */
export async function runThroughs(io: Io, file: string, options: RunOptions): Promise<number> {
	if (options.json && options.csv) throw new UsageError('--json and --csv cannot both be printed');
	const { project } = await load(io, file);
	const runs = project.runs ?? [];
	const ids = runs.map((r) => r.id);
	for (const id of options.run)
		if (!ids.includes(id)) throw new UsageError(`${file}: no run "${id}"${didYouMean(id, ids)}`);
	const wanted = runs.filter((r) => options.run.length === 0 || options.run.includes(r.id));
	if (options.trace !== undefined) {
		const [run, ...more] = wanted;
		if (!run || more.length > 0) throw new UsageError('a trace is of one run: name it with --run');
		const lines = [...traceOfRun(project, run)].map((line) => JSON.stringify(line));
		await write(options.trace, `${lines.join('\n')}\n`);
	}
	if (options.json) io.out(`{\n  "format": "frelk-runs/1",\n  "project": ${JSON.stringify(project.id)},\n  "runs": [`);
	if (options.csv) io.out('run,k,t,kind,watch,swing,object,detail\r\n');
	wanted.forEach((run, i) => {
		const result = runThrough(project, run, {
			progress: (done, of) => io.doing(`${run.id}: step ${done} of ${of}`),
		});
		if (options.json) io.out(`${i === 0 ? '' : ','}\n    ${indented(printed(result), 4)}`);
		else if (options.csv) for (const event of result.events) io.out(row(run.id, event));
		else io.out(`${i === 0 ? '' : '\n'}${run.id}: ${result.steps} steps of ${run.step} s\n${runLog(result)}`);
	});
	if (options.json) io.out(`${wanted.length > 0 ? '\n  ' : ''}]\n}\n`);
	else if (!options.csv && wanted.length === 0) io.out(`${project.id} has no run-throughs\n`);
	return 0;
}

/** As the format has it: of an outranked choice the rule is for people alone. */
function printed(result: RunResult) {
	return {
		...result,
		events: result.events.map((event) => {
			if ((event.kind !== 'choose' && event.kind !== 'broken') || !event.instead) return event;
			const { object, through, stage, by, margin } = event.instead;
			return { ...event, instead: { object, through, stage, by, margin } };
		}),
	};
}

const cell = (value: string | number): string => {
	const text = String(value);
	const safe = /^[=+\-@\t\r\n]/.test(text) && typeof value === 'string' ? `'${text}` : text;
	return /[",\n\r]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
};

function row(run: string, event: RunEvent): string {
	const k = 'k' in event ? event.k : event.after;
	const watch = 'watch' in event ? event.watch : '';
	const swing = 'swing' in event ? event.swing : '';
	const object = 'object' in event ? event.object : '';
	return `${[run, k, event.t, event.kind, watch, swing, object, wordsOfEvent(event, byId)].map(cell).join(',')}\r\n`;
}
