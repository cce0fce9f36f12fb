/** The command line: arguments, files, exit codes. The answers are the core's. */
import { Command, CommanderError, InvalidArgumentError } from 'commander';
import { answer } from './answer';
import { type CheckOptions, check } from './check';
import { filesOf, type Io, UsageError, validate } from './files';
import { replay } from './replay';
import { runThroughs } from './run';
import { VERSION } from './version';
import { watch } from './watch';

/** Exit codes: all well, a check failed, the file or the call is wrong, internal error. */
const EXIT = { ok: 0, failed: 1, wrong: 2, internal: 3 } as const;

const collect = (value: string, before: string[]): string[] => [...before, value];

/** The checks again whenever a file changes. */
async function watchChecks(io: Io, files: readonly string[], options: CheckOptions): Promise<number> {
	if (options.update)
		throw new UsageError('--watch and --update do not go together: what is wanted would follow every slip');
	return watch(io, files, () => check(io, files, options));
}

/** What reads other formats is loaded where it is asked for: the other commands begin sooner. */
function program(io: Io, done: (code: number) => void): Command {
	const frelk = new Command('frelk')
		.description('Ask which object a query selects, and why.')
		.exitOverride()
		.version(VERSION, '-V, --version', 'the version of the command')
		.configureOutput({ writeOut: io.out, writeErr: (text) => io.err(text.replace(/^error: /, 'frelk: ')) });
	frelk
		.command('answer')
		.description('Answer the queries of a project; "-" reads it from standard input.')
		.argument('<file>', 'a project file, or -')
		.option('--query <id>', 'only this query; may be given several times', collect, [])
		.option('--moment <id>', 'the scene at this moment')
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--cursor <x,y>', 'picks as if their cursor stood there, pixels from the top left')
		.option('--asker <id>', 'the queries as if this object asked them')
		.option('--stats', 'timings and counts to standard error')
		.action(async (file: string, options) => done(await answer(io, file, options)));
	frelk
		.command('check')
		.description('Run the checks of project files.')
		.argument('<file...>', 'project files, patterns of them, or -')
		.option('--moment <id>', 'only the checks at this moment')
		.option('--only <id>', 'only this check')
		.option('--junit <file>', 'write JUnit XML to a file')
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--shard <i/n>', 'only the i-th of n equal parts')
		.option('--no-maps', 'leave out the checks of maps, which take longest')
		.option(
			'--workers <n>',
			'workers that share the files; by default as many as the machine has cores, for many files',
		)
		.option('--csv <file>', 'write a table of all results to a file')
		.option('--markdown <file>', 'write a summary for a pull request to a file')
		.option('--lists', 'the summary as lists, for places that show no tables')
		.option('--html <file>', 'write a page to print, with pictures of what fails; one project only')
		.option('--update', 'show what the failing checks get, and write that into the files as what is wanted')
		.option('--watch', 'run again whenever a file changes, until ended with Ctrl+C')
		.action(async (given: string[], options) => {
			const files = await filesOf(given);
			done(options.watch ? await watchChecks(io, files, options) : await check(io, files, options));
		});
	frelk
		.command('run')
		.description('Run the run-throughs of a project, and say what happens.')
		.argument('<file>', 'a project file, or -')
		.option('--run <id>', 'only this run; may be given several times', collect, [])
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--csv', 'print a table of all events')
		.option('--trace <file>', 'write one run as a trace, as a game would tell it')
		.action(async (file: string, options) => done(await runThroughs(io, file, options)));
	frelk
		.command('map')
		.description('Ask a query over a grid: every cursor position, every place to stand, every direction.')
		.argument('<file>', 'a project file, or -')
		.option('--map <id>', 'only this map; may be given several times', collect, [])
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--csv <file>', 'write a table of all cells to a file')
		.option('--png <file>', 'draw one map into a file')
		.option('--svg <file>', 'draw one map into a file, with names and a legend')
		.option(
			'--workers <n>',
			'workers that share the asking; by default as many as the machine has cores, for large maps',
		)
		.action(async (file: string, options) => done(await (await import('./map')).maps(io, file, options)));
	frelk
		.command('why')
		.description('Why an object is not selected, and what to change so that it is; every remedy is tried.')
		.argument('<file>', 'a project file, or -')
		.requiredOption('--query <id>', 'the query')
		.requiredOption('--object <id>', 'the object that is meant')
		.option('--moment <id>', 'the scene at this moment')
		.option('--wish <wish>', 'select, or leave: that it is not selected', 'select')
		.option('--json', 'print JSON to standard output and nothing else there')
		.action(async (file: string, options) => done(await (await import('./why')).why(io, file, options)));
	frelk
		.command('findings')
		.description('Say what is wrong with project files, or worth a look, without being asked.')
		.argument('<file...>', 'project files, or -')
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--sarif <file>', 'write SARIF 2.1.0 to a file')
		.option('--level <level>', 'error, warning or note: the least that is told', 'note')
		.option('--watch', 'look again whenever a file changes, until ended with Ctrl+C')
		.action(async (given: string[], options) => {
			const files = await filesOf(given);
			const { findings } = await import('./findings');
			const memories = new Map();
			const look = () => findings(io, files, options, memories);
			done(options.watch ? await watch(io, files, look) : await look());
		});
	frelk
		.command('diff')
		.description('Say what a change does: what was edited, and which answers, checks, runs and maps are other ones.')
		.argument('[files...]', 'OLD and NEW: a file, -, or REVISION:path; with --since files or folders')
		.option('--since <revision>', 'all project files that changed since a revision of git')
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--markdown <file>', 'write a summary for a pull request to a file')
		.option('--html <file>', 'write a page to print, with a picture before and after of each changed answer')
		.option('--no-maps', 'leave out maps and their checks, which take longest')
		.option('--findings', 'findings that came and went also in large projects')
		.action(async (files: string[], options) => done(await (await import('./diff')).diff(io, files, options)));
	frelk
		.command('merge')
		.description('Bring two edits of one project together by thing and field, into OURS; a merge driver for git.')
		.argument('<base>', 'what both began from')
		.argument('<ours>', 'one edit; the result is written into it')
		.argument('<theirs>', 'the other')
		.action(async (base: string, ours: string, theirs: string) =>
			done(await (await import('./merge')).merge(io, base, ours, theirs)),
		);
	frelk
		.command('git')
		.description('Print how git is told to merge and to tell project files apart by what they say.')
		.option('--install', 'tell it, in this repository')
		.action(async (options) => done(await (await import('./merge')).gitSetup(io, options.install === true)));
	frelk
		.command('git-diff', { hidden: true })
		.argument('<args...>')
		.action(async ([path = '', old = '', , , now = '']: string[]) =>
			done(await (await import('./merge')).gitDiff(io, path, old, now)),
		);
	frelk
		.command('open')
		.description('Serve the application on this machine, working on project files where they lie.')
		.argument('[paths...]', 'folders or files; the present folder where none is given')
		.option('--port <port>', 'the port; the first free one from 4173 where none is given')
		.option('--browser', 'open it in the browser of this machine')
		.option('--read-only', 'write nothing to the files')
		.action(async (paths: string[], options) => done(await (await import('./open')).open(io, paths, options)));
	frelk
		.command('lsp')
		.description('Serve project files to an editor, over the Language Server Protocol on standard input and output.')
		.option('--stdio', 'as editors say it; there is no other way')
		.action(async () => done(await (await import('./lsp/server')).lsp()));
	frelk
		.command('mcp')
		.description(
			'Serve projects to assistants and scripts, over the Model Context Protocol on standard input and output.',
		)
		.argument('[folders...]', 'folders or files; the present folder where none is given')
		.option('--write', 'let edits be written into the files')
		.action(async (folders: string[], options) => done(await (await import('./mcp')).mcp(io, folders, options)));
	frelk
		.command('replay')
		.description('Go through a trace of the running game, and say where it took another object than Frelk selects.')
		.argument('<file>', 'a project file, or -')
		.argument('<trace>', 'a trace (JSON Lines, frelk-trace/1), or -')
		.option('--json', 'print JSON to standard output and nothing else there')
		.option('--junit <file>', 'write JUnit XML to a file, a case a query')
		.action(async (file: string, trace: string, options) => done(await replay(io, file, trace, options)));
	frelk
		.command('import')
		.description(
			'Read a level (.glb, .gltf, .svg) or a table of objects (.csv, .json) into a project, for the first time or again.',
		)
		.argument('<level...>', 'the files to read: levels, several at once or by a pattern, or one table')
		.option('--into <project>', 'the project file; made where there is none')
		.option('--rules <file>', 'naming rules (JSON), kept in the project from then on')
		.option('--partial', 'leave out what a level says by extensions that are not read, where its forms stand on them')
		.option('--dry-run', 'say what would change, or without --into what would be made, and write nothing')
		.option('--json', 'print JSON to standard output and nothing else there')
		.action(async (levels: string[], options) =>
			done(await (await import('./import')).importLevels(io, await filesOf(levels), options)),
		);
	frelk
		.command('export')
		.description('Write a project for other programs.')
		.argument('<file>', 'a project file, or -')
		.option('--gltf <file>', 'the scene as a .glb or .gltf, the project riding in it')
		.option('--svg <file>', 'a flat scene as a drawing')
		.option('--csv <file>', 'its objects as a table')
		.option('--table <file>', 'the same as JSON, a row an object')
		.action(async (file: string, options) => done(await (await import('./export')).exportProject(io, file, options)));
	frelk
		.command('constants')
		.description('Print layer bits and masks, query figures and tag ids, to be typed into a game.')
		.argument('<file>', 'a project file, or -')
		.option('--lang <language>', 'json, cpp, csharp, typescript or python', 'json')
		.action(async (file: string, options) => done(await (await import('./export')).constants(io, file, options)));
	frelk
		.command('validate')
		.description('Say what is wrong with project files, with the place.')
		.argument('<file...>', 'project files, or -')
		.action(async (files: string[]) => done(await validate(io, await filesOf(files))));
	frelk
		.command('completion')
		.description('Print what a shell needs to complete the words of this command.')
		.argument('<shell>', 'bash, zsh or fish')
		.action(async (shell: string) => {
			io.out((await import('./complete')).completion(frelk, shell));
			done(EXIT.ok);
		});
	return frelk;
}

/** @param args the arguments after the program's name; @returns the exit code */
export async function main(args: readonly string[], io: Io): Promise<number> {
	let code: number = EXIT.ok;
	try {
		await program(io, (c) => {
			code = c;
		}).parseAsync([...args], { from: 'user' });
		return code;
	} catch (error) {
		if (error instanceof CommanderError) return error.exitCode === 0 ? EXIT.ok : EXIT.wrong;
		if (error instanceof UsageError || error instanceof InvalidArgumentError) {
			for (const line of error.message.split('\n')) io.err(`frelk: ${line}\n`);
			return EXIT.wrong;
		}
		io.err(`frelk: internal error: ${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
		return EXIT.internal;
	}
}
