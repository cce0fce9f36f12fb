/** `frelk lsp`: project files in an editor, over the Language Server Protocol on standard input and output. */
import {
	ID_PATTERN,
	isStill,
	oneLine,
	type Problem,
	type Project,
	type Reading,
	readProject,
	runChecks,
	updatedExpectation,
} from '@frelk/core';
import { COLLECTIONS, type JsonPath, stepsOf, textWith } from '@frelk/core/editing';
import { jsonSchemas } from '@frelk/core/formats';
import jsonPatch from 'fast-json-patch';
import { printParseErrorCode } from 'jsonc-parser';
import { getLanguageService } from 'vscode-json-languageservice';
import {
	type CodeAction,
	CodeActionKind,
	type CodeLens,
	type CompletionItem,
	CompletionItemKind,
	createConnection,
	type Diagnostic,
	DiagnosticSeverity,
	type DocumentSymbol,
	ErrorCodes,
	type Location,
	type Position,
	type Range,
	ResponseError,
	SymbolKind,
	TextDocumentSyncKind,
	TextDocuments,
	type WorkspaceEdit,
} from 'vscode-languageserver/node.js';
import { TextDocument } from 'vscode-languageserver-textdocument';
import type { Told, Wanted } from '../lsp-part';
import { lspPools } from '../lsp-pool';
import { sharedText } from '../shared';
import { VERSION } from '../version';
import { hoverOf } from './hover';
import { declarationOf, idsFor, nearIds, thingAt, usesIn } from './ids';
import { editBetween, entriesOf, memberSpan, movedSpan, Places, type Span } from './places';

/** After so long without a keystroke the text is looked at, milliseconds. */
const QUIET = 15;

/** What an action of a diagnostic goes by. */
type About =
	| { about: 'id'; path: JsonPath; ids: string[] }
	| { about: 'finding'; patch: unknown[]; rule: string }
	| { about: 'check'; id: string };

const SEVERITY = {
	error: DiagnosticSeverity.Error,
	warning: DiagnosticSeverity.Warning,
	note: DiagnosticSeverity.Information,
};

/** What was told of a text, with the places of its findings. */
interface Saying extends Told {
	spans: readonly Span[];
}

/** A keystroke lets the checks of the text before come to their end, unless they take longer than this, milliseconds. */
const PATIENCE = 1000;

/** How often the first file is asked again, for nothing but speed. */
const WARMING = 3;

/** One open file: what its text says now, and what was said of it last. */
class Open {
	private static opened = 0;
	/** No other state of any file has it: an editor may begin again at the same version with another text. */
	readonly key = `${Open.opened++}`;
	/** Of the last text that was asked; `spans` of its findings, as they lie in this text. */
	told: Saying | null = null;
	private pending: AbortController | null = null;
	private gone: Places | null = null;
	private known: Reading | null = null;

	/** Of the text that was read: the document goes on. */
	readonly version: number;
	readonly text: string;

	constructor(readonly document: TextDocument) {
		this.version = document.version;
		this.text = document.getText();
	}

	/** Read when it is first asked for: what is said at every stop of the typing is read by a worker. */
	get reading(): Reading {
		this.known ??= readProject(this.text);
		return this.known;
	}

	/** The text gone through, when it is first asked for. */
	get places(): Places {
		this.gone ??= new Places(this.text);
		return this.gone;
	}

	get project(): Project | null {
		return this.reading.ok ? this.reading.project : null;
	}

	/** Takes the next turn: what was asked for an older text is ended. */
	turn(): AbortSignal {
		this.pending?.abort();
		this.pending = new AbortController();
		return this.pending.signal;
	}

	range([from, to]: Span): Range {
		return { start: this.document.positionAt(from), end: this.document.positionAt(to) };
	}

	at(position: Position) {
		return this.places.at(this.document.offsetAt(position));
	}

	/** A text edit that leaves every character that stays. */
	edit(after: unknown): WorkspaceEdit {
		const before = this.document.getText();
		const { span, text } = editBetween(before, textWith(before, after));
		return { changes: { [this.document.uri]: [{ range: this.range(span), newText: text }] } };
	}
}

/** Serves until the editor says that it is over. @returns the exit code */
export function lsp(): Promise<number> {
	const connection = createConnection(process.stdin, process.stdout);
	const documents = new TextDocuments(TextDocument);
	const files = new Map<string, Open>();
	const timers = new Map<string, ReturnType<typeof setTimeout>>();
	const { soon, later, end } = lspPools();
	let warmed = false;
	const json = getLanguageService({});
	json.configure({
		validate: false,
		schemas: [{ uri: 'frelk://project', fileMatch: ['*'], schema: jsonSchemas().project as never }],
	});
	let over: (code: number) => void = () => {};
	const ended = new Promise<number>((done) => {
		over = done;
	});

	connection.onInitialize(() => ({
		serverInfo: { name: 'frelk', version: VERSION },
		capabilities: {
			textDocumentSync: TextDocumentSyncKind.Incremental,
			hoverProvider: true,
			completionProvider: { triggerCharacters: ['"', ':'] },
			definitionProvider: true,
			referencesProvider: true,
			renameProvider: { prepareProvider: true },
			documentSymbolProvider: true,
			codeLensProvider: {},
			codeActionProvider: { codeActionKinds: [CodeActionKind.QuickFix] },
		},
	}));

	/** The file as it stands this moment, whether or not it was looked at yet. */
	const fileOf = (uri: string): Open | null => {
		const document = documents.get(uri);
		if (!document) return null;
		const known = files.get(uri);
		if (known && known.version === document.version) return known;
		const open = new Open(document);
		// What was said last stands until it is said anew.
		if (known?.told) {
			const stretch = editBetween(known.text, open.text);
			open.told = { ...known.told, spans: known.told.spans.map((span) => movedSpan(span, stretch)) };
		}
		known?.turn();
		files.set(uri, open);
		return open;
	};

	const problemsOf = (file: Open, problems: readonly Problem[]): Diagnostic[] => {
		if (problems.length === 0) return [];
		const [syntax] = file.places.errors;
		if (syntax) {
			const what = printParseErrorCode(syntax.error)
				.replace(/([a-z])([A-Z])/g, '$1 $2')
				.toLowerCase();
			const range = file.range([syntax.offset, syntax.offset + Math.max(1, syntax.length)]);
			return [{ range, severity: DiagnosticSeverity.Error, source: 'frelk', message: `not JSON: ${what}` }];
		}
		const uses = usesIn(file.places.value);
		return problems.map(({ path, message }): Diagnostic => {
			const use = uses.find((one) => one.path.length === path.length && one.path.every((step, i) => step === path[i]));
			const undeclared = use && declarationOf(file.places.value, use.kind, use.id) === null ? use : null;
			const ids = undeclared ? nearIds(file.places.value, undeclared.path, undeclared.id) : [];
			const data: About | undefined =
				undeclared && ids.length > 0 ? { about: 'id', path: undeclared.path, ids } : undefined;
			return {
				range: file.range(file.places.spanOf(path)),
				severity: DiagnosticSeverity.Error,
				source: 'frelk',
				message: oneLine(message),
				...(data ? { data } : {}),
			};
		});
	};

	const toldOf = (file: Open, { checks, findings, spans }: Saying): Diagnostic[] => {
		const failed = new Map(checks.filter((c) => !c.pass).map((c) => [c.id, c]));
		const failing: Diagnostic[] = [];
		const fails = (id: string, reason: string, span: Span) => {
			failed.delete(id);
			const data: About = { about: 'check', id };
			failing.push({
				range: file.range(span),
				severity: DiagnosticSeverity.Warning,
				source: 'frelk check',
				code: id,
				message: oneLine(reason),
				data,
			});
		};
		if (failed.size > 0)
			for (const { id, span, at } of entriesOf(file.text, 'checks')) {
				const outcome = failed.get(id);
				if (outcome) fails(id, outcome.reason, memberSpan(file.text, at, 'expect') ?? span);
			}
		// None is lost because its place was not found.
		for (const { id, reason } of [...failed.values()]) fails(id, reason, [0, Math.min(1, file.text.length)]);
		const found = findings.map(({ rule, level, message, patch }, i): Diagnostic => {
			const data: About | undefined = patch ? { about: 'finding', patch, rule } : undefined;
			return {
				range: file.range(spans[i] ?? [0, 0]),
				severity: SEVERITY[level],
				source: 'frelk findings',
				code: rule,
				message: oneLine(message),
				...(data ? { data } : {}),
			};
		});
		return [...failing, ...found];
	};

	/** What is asked of the text of a file. */
	const wanted = (file: Open, what: Wanted['what']): Wanted => ({
		key: file.key,
		text: sharedText(file.text),
		what,
	});

	/** When the worker for what is said soon is free. */
	let free = Promise.resolve();

	/**
	 * Asks one thing after another: what a keystroke has made old before its turn is never asked, what is under way comes to its end, unless it
	 * takes long.
	 * @param signal of the text's being old
	 * @returns null where it was old, or was ended
	 */
	async function inTurn(asked: Wanted, signal: AbortSignal): Promise<Told | null> {
		const before = free;
		let done = () => {};
		free = new Promise<void>((resolve) => {
			done = resolve;
		});
		await before;
		const patience = new AbortController();
		let timer: ReturnType<typeof setTimeout> | undefined;
		const old = () => {
			timer = setTimeout(() => patience.abort(), PATIENCE);
		};
		signal.addEventListener('abort', old);
		try {
			return signal.aborted ? null : await soon(asked, patience.signal);
		} catch (error) {
			if (patience.signal.aborted) return null;
			throw error;
		} finally {
			signal.removeEventListener('abort', old);
			clearTimeout(timer);
			done();
		}
	}

	async function look(uri: string): Promise<void> {
		const file = fileOf(uri);
		if (!file) return;
		const signal = file.turn();
		const before = file.told;
		const { version } = file;
		const tell = () =>
			connection.sendDiagnostics({ uri, version, diagnostics: file.told ? toldOf(file, file.told) : [] });
		try {
			const told = await inTurn(wanted(file, 'checks'), signal);
			if (!told || signal.aborted) return;
			const { problems, checks } = told;
			// What the last sound text said stands until a sound one has been asked.
			if (problems.length > 0) {
				await connection.sendDiagnostics({ uri, version, diagnostics: problemsOf(file, problems) });
				return;
			}
			// What takes longer stands as it was until it is said anew.
			file.told = {
				problems,
				checks,
				lenses: before?.lenses ?? [],
				findings: before?.findings ?? [],
				spans: before?.spans ?? [],
				remedies: [],
			};
			await tell();
			if (!warmed) {
				warmed = true;
				// The engine makes fast what it has done some times: done while one reads, and not at the first keystroke.
				for (let i = 0; i < WARMING; i++)
					inTurn({ ...wanted(file, 'checks'), key: `warming ${i}` }, signal).catch(() => {
						// Nobody waits for it: what is wrong is told where it is asked for.
					});
			}
			const { lenses } = await later(wanted(file, 'lenses'), signal);
			if (signal.aborted) return;
			file.told = { ...file.told, lenses };
			await connection.sendRequest('workspace/codeLens/refresh').catch(() => {
				// An editor without lenses.
			});
			const { findings } = await later(wanted(file, 'findings'), signal);
			if (signal.aborted) return;
			const spans = findings.map(({ path }): Span => {
				const [from, to] = file.places.spanOf(stepsOf(path));
				// Of a whole list its first character, not all there is.
				return file.text.charAt(from) === '[' ? [from, from + 1] : [from, to];
			});
			file.told = { ...file.told, findings, spans };
			await tell();
		} catch (error) {
			if (!signal.aborted) connection.console.error(error instanceof Error ? error.message : String(error));
		}
	}

	documents.onDidChangeContent(({ document: { uri } }) => {
		files.get(uri)?.turn();
		clearTimeout(timers.get(uri));
		timers.set(
			uri,
			setTimeout(() => void look(uri), QUIET),
		);
	});
	documents.onDidClose(({ document: { uri } }) => {
		clearTimeout(timers.get(uri));
		files.get(uri)?.turn();
		files.delete(uri);
		void connection.sendDiagnostics({ uri, diagnostics: [] });
	});

	connection.onHover(({ textDocument, position }) => {
		const file = fileOf(textDocument.uri);
		const at = file?.at(position);
		if (!file?.project || !at) return null;
		const value = hoverOf(file.project, at.path, thingAt(file.project, at.path, at.isKey));
		return value === null
			? null
			: { contents: { kind: 'markdown', value }, range: file.range([at.node.offset, at.node.offset + at.node.length]) };
	});

	connection.onCompletion(async ({ textDocument, position }) => {
		const file = fileOf(textDocument.uri);
		if (!file) return [];
		const at = file.at(position);
		const ids: CompletionItem[] =
			at && !at.isKey && at.node.type === 'string'
				? idsFor(file.places.value, at.path).map(({ id, name, kind }) => ({
						label: id,
						kind: CompletionItemKind.Reference,
						detail: name === '' ? kind : `${kind} ${oneLine(name, 80)}`,
						textEdit: {
							range: file.range([at.node.offset, at.node.offset + at.node.length]),
							newText: JSON.stringify(id),
						},
						filterText: JSON.stringify(id),
					}))
				: [];
		if (ids.length > 0) return ids;
		const parsed = json.parseJSONDocument(file.document as never);
		return (await json.doComplete(file.document as never, position, parsed))?.items ?? [];
	});

	/** Every place at which a thing is declared or named. */
	const placesOf = (file: Open, kind: string, id: string): { span: Span; isDeclaration: boolean }[] => {
		const { places } = file;
		const own = declarationOf(places.value, kind as never, id);
		const spans = usesIn(places.value)
			.filter((use) => use.kind === kind && use.id === id)
			.map((use) => (use.isKey ? places.keySpan(use.path) : places.idSpan(use.path)));
		return [
			...[own && places.idSpan(own)].map((span) => ({ span, isDeclaration: true })),
			...spans.map((span) => ({ span, isDeclaration: false })),
		].flatMap(({ span, isDeclaration }) => (span ? [{ span, isDeclaration }] : []));
	};
	const thingUnder = (uri: string, position: Position) => {
		const file = fileOf(uri);
		const at = file?.at(position);
		const thing = file && at ? thingAt(file.places.value, at.path, at.isKey) : null;
		return file && at && thing ? { file, at, thing } : null;
	};

	connection.onDefinition(({ textDocument: { uri }, position }): Location | null => {
		const found = thingUnder(uri, position);
		const own = found && placesOf(found.file, found.thing.kind, found.thing.id).find((p) => p.isDeclaration);
		return found && own ? { uri, range: found.file.range(own.span) } : null;
	});
	connection.onReferences(({ textDocument: { uri }, position, context }): Location[] => {
		const found = thingUnder(uri, position);
		if (!found) return [];
		return placesOf(found.file, found.thing.kind, found.thing.id)
			.filter((p) => context.includeDeclaration || !p.isDeclaration)
			.map(({ span }) => ({ uri, range: found.file.range(span) }));
	});
	connection.onPrepareRename(({ textDocument: { uri }, position }) => {
		const found = thingUnder(uri, position);
		if (!found) return null;
		const { offset, length } = found.at.node;
		return { range: found.file.range([offset + 1, offset + length - 1]), placeholder: found.thing.id };
	});
	connection.onRenameRequest(({ textDocument: { uri }, position, newName }): WorkspaceEdit | null => {
		const found = thingUnder(uri, position);
		if (!found) return null;
		const { file, thing } = found;
		if (!ID_PATTERN.test(newName))
			throw new ResponseError(
				ErrorCodes.InvalidParams,
				`${oneLine(newName, 80)} is no id: lower-case letters, digits and dashes`,
			);
		if (declarationOf(file.places.value, thing.kind, newName))
			throw new ResponseError(ErrorCodes.InvalidParams, `another ${thing.kind} is called ${newName}`);
		const edits = placesOf(file, thing.kind, thing.id).map(({ span }) => ({
			range: file.range(span),
			newText: newName,
		}));
		return { changes: { [uri]: edits } };
	});

	connection.onDocumentSymbol(({ textDocument }): DocumentSymbol[] => {
		const file = fileOf(textDocument.uri);
		const value = file?.places.value;
		if (!file || typeof value !== 'object' || value === null) return [];
		return COLLECTIONS.flatMap(({ path }): DocumentSymbol[] => {
			const list = path.reduce<unknown>((now, step) => (now as Record<string, unknown> | undefined)?.[step], value);
			if (!Array.isArray(list) || list.length === 0) return [];
			const range = file.range(file.places.spanOf([...path]));
			const children = list.flatMap((entry, i): DocumentSymbol[] => {
				const { id, name } = (entry ?? {}) as { id?: unknown; name?: unknown };
				if (typeof id !== 'string' || id === '') return [];
				const own = file.range(file.places.spanOf([...path, i]));
				const selectionRange = file.range(file.places.spanOf([...path, i, 'id']));
				const detail = typeof name === 'string' ? oneLine(name, 80) : '';
				return [{ name: id, detail, kind: SymbolKind.Object, range: own, selectionRange }];
			});
			return [{ name: path.at(-1) ?? '', kind: SymbolKind.Array, range, selectionRange: range, children }];
		});
	});

	connection.onCodeLens(({ textDocument }): CodeLens[] => {
		const file = fileOf(textDocument.uri);
		if (!file?.told) return [];
		const words = new Map(file.told.lenses);
		const outcomes = new Map(file.told.checks.map((c) => [c.id, c.pass ? 'holds' : 'fails']));
		const lenses = (list: string, said: ReadonlyMap<string, string>): CodeLens[] =>
			entriesOf(file.text, list).flatMap(({ id, span }) => {
				const title = said.get(id);
				return title === undefined ? [] : [{ range: file.range(span), command: { title, command: '' } }];
			});
		return [...lenses('queries', words), ...lenses('checks', outcomes)];
	});

	/** The project with what a check wants put as what it gets. */
	const expecting = (project: Project, id: string): Project | null => {
		const check = project.checks?.find((c) => c.id === id);
		if (!check || !isStill(check)) return null;
		const [result] = runChecks(project, [check]);
		const expect = result && updatedExpectation(check, result.got);
		return expect
			? { ...project, checks: (project.checks ?? []).map((c) => (c === check ? { ...check, expect } : c)) }
			: null;
	};

	connection.onCodeAction(async ({ textDocument: { uri }, context }): Promise<CodeAction[]> => {
		const file = fileOf(uri);
		if (!file) return [];
		const out: CodeAction[] = [];
		const fix = (title: string, diagnostic: Diagnostic, edit: WorkspaceEdit) =>
			out.push({ title: oneLine(title, 200), kind: CodeActionKind.QuickFix, diagnostics: [diagnostic], edit });
		for (const diagnostic of context.diagnostics) {
			const data = diagnostic.data as About | undefined;
			if (data?.about === 'id') {
				const span = file.places.idSpan(data.path);
				for (const id of span ? data.ids : [])
					fix(`Put ${id} here`, diagnostic, { changes: { [uri]: [{ range: file.range(span as Span), newText: id }] } });
			}
			const { project } = file;
			if (!project) continue;
			if (data?.about === 'finding') fix(`Mend it: ${data.rule}`, diagnostic, file.edit(patched(project, data.patch)));
			if (data?.about === 'check') {
				const { remedies } = await later(wanted(file, { mend: data.id }), new AbortController().signal);
				for (const { words, patch, turns } of remedies) {
					const breaks = turns.length > 0 ? ` (breaks ${turns.join(', ')})` : '';
					fix(`${words}${breaks}`, diagnostic, file.edit(patched(project, patch)));
				}
				const accepted = expecting(project, data.id);
				if (accepted) fix('Expect what it gets', diagnostic, file.edit(accepted));
			}
		}
		return out;
	});

	connection.onShutdown(() => end());
	connection.onExit(() => over(0));
	process.stdin.on('close', () => over(0));
	documents.listen(connection);
	connection.listen();
	return ended;
}

const patched = (project: Project, patch: readonly unknown[]): unknown =>
	jsonPatch.applyPatch(JSON.parse(JSON.stringify(project)), patch as never, true, true, true).newDocument;
