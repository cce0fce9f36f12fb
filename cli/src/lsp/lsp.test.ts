/** An editor at work on a project file, through a real client: what it is told, and what it is handed to write. */
import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import {
	type CodeAction,
	createProtocolConnection,
	type Diagnostic,
	type DocumentSymbol,
	type Hover,
	type ProtocolConnection,
	StreamMessageReader,
	StreamMessageWriter,
	type TextEdit,
	type WorkspaceEdit,
} from 'vscode-languageserver-protocol/node.js';
import { TextDocument } from 'vscode-languageserver-textdocument';
import { command, root } from '../tests/command';
import { editBetween } from './places';

const uri = 'file:///levels/quay.frelk.json';
const example = readFileSync(join(root, 'examples/harl-quay-before.frelk.json'), 'utf8');
let child: ChildProcess;
let client: ProtocolConnection;
let heard: { version?: number | undefined; diagnostics: Diagnostic[] }[] = [];
let wake: () => void = () => {};
let document = TextDocument.create(uri, 'json', 0, '');

beforeAll(async () => {
	child = spawn(process.execPath, [command, 'lsp', '--stdio'], { stdio: ['pipe', 'pipe', 'inherit'] });
	client = createProtocolConnection(
		new StreamMessageReader(child.stdout as never),
		new StreamMessageWriter(child.stdin as never),
	);
	client.onNotification('textDocument/publishDiagnostics', (told) => {
		heard.push(told as never);
		wake();
	});
	client.onRequest('workspace/codeLens/refresh', () => null);
	client.listen();
	await client.sendRequest('initialize', { processId: process.pid, rootUri: null, capabilities: {} });
	await client.sendNotification('initialized', {});
});
afterAll(async () => {
	await client.sendRequest('shutdown');
	const gone = new Promise((done) => child.once('exit', done));
	await client.sendNotification('exit');
	expect(await gone).toBe(0);
	client.dispose();
});

/** What is told of the text as it is now: problems at once, then checks, then findings. */
async function diagnostics(isWhole = (list: readonly Diagnostic[]) => list.length > 0): Promise<Diagnostic[]> {
	for (;;) {
		const last = heard.findLast((one) => one.version === document.version);
		if (last && isWhole(last.diagnostics)) return last.diagnostics;
		await new Promise<void>((done) => {
			wake = done;
		});
	}
}
const withFindings = (list: readonly Diagnostic[]) => list.some((d) => d.source === 'frelk findings');
/** One stretch of the text put otherwise, as a keystroke does. */
async function type(from: string, to: string): Promise<void> {
	const before = document.getText();
	const { span, text } = editBetween(before, before.replace(from, to));
	const range = { start: document.positionAt(span[0]), end: document.positionAt(span[1]) };
	document = TextDocument.update(document, [{ range, text }], document.version + 1);
	await client.sendNotification('textDocument/didChange', {
		textDocument: { uri, version: document.version },
		contentChanges: [{ range, text }],
	});
}
/** Behind a piece of text, some characters on or back. */
const at = (text: string, by = 0) => {
	const offset = document.getText().indexOf(text);
	expect(offset, text).toBeGreaterThanOrEqual(0);
	return document.positionAt(offset + text.length + by);
};
const ask = <T>(method: string, given: object): Promise<T> =>
	client.sendRequest(`textDocument/${method}`, { textDocument: { uri }, ...given });
const hover = async (text: string, by = -2): Promise<string> => {
	const said = await ask<Hover | null>('hover', { position: at(text, by) });
	return (said?.contents as { value: string } | undefined)?.value ?? '';
};
const written = (edit: WorkspaceEdit | undefined): string => {
	const edits = edit?.changes?.[uri] as TextEdit[];
	return TextDocument.applyEdits(document, edits);
};

let opened = 0;
beforeEach(async () => {
	heard = [];
	opened += 1000;
	document = TextDocument.create(uri, 'json', opened, example);
	await client.sendNotification('textDocument/didClose', { textDocument: { uri } });
	await client.sendNotification('textDocument/didOpen', {
		textDocument: { uri, languageId: 'json', version: opened, text: example },
	});
});

describe('what an editor is told', () => {
	it('is what validate says, at the very place, also while the text is no JSON', async () => {
		await type('"layer": "cargo"', '"layer": "cargoo"');
		const [problem] = await diagnostics();
		expect(problem?.message).toMatch(/^no layer "cargoo" \(did you mean "cargo"/);
		expect(document.getText(problem?.range)).toBe('"cargoo"');
		await type('"queries": [', '"queries": [,');
		const [syntax] = await diagnostics();
		expect(syntax?.message).toBe('not JSON: value expected');
		expect(document.getText(syntax?.range)).toBe(',');
	});

	it('is each check that fails, and each finding, by its level', async () => {
		const list = await diagnostics(withFindings);
		const failing = list.filter((d) => d.source === 'frelk check');
		expect(failing.map((d) => d.code)).toContain('gaze');
		const gaze = failing.find((d) => d.code === 'gaze');
		expect(gaze?.message).toMatch(/^wanted crank, got crate-4/);
		expect(document.getText(gaze?.range)).toContain('"selects"');
		const found = list.filter((d) => d.source === 'frelk findings');
		expect(found.length).toBeGreaterThan(2);
		expect(new Set(found.map((d) => d.severity))).toEqual(new Set([2, 3]));
	});

	it('stands at its thing while more is typed before it', async () => {
		const texts = (list: readonly Diagnostic[]) =>
			list
				.filter((d) => d.source === 'frelk findings')
				.map((d) => document.getText(d.range))
				.sort();
		const before = texts(await diagnostics(withFindings));
		await type('"name": "Quay at Harl', '"name":\n\n"Another quay, not at Harl');
		// Told with the checks, before findings are looked for anew.
		const [first] = [await diagnostics(), heard]
			.flat()
			.filter((one) => 'version' in one && one.version === document.version) as typeof heard;
		expect(texts(first?.diagnostics ?? [])).toEqual(before);
		expect((first?.diagnostics ?? []).find((d) => d.code === 'gaze')).toBeDefined();
	});

	it('is of the text that was opened, also where one of another had its version', async () => {
		const open = async (text: string) => {
			await client.sendNotification('textDocument/didClose', { textDocument: { uri } });
			heard = [];
			await client.sendNotification('textDocument/didOpen', {
				textDocument: { uri, languageId: 'json', version: opened, text },
			});
		};
		await diagnostics(withFindings);
		await open(example);
		await diagnostics(withFindings);
		await open(example.replace('"format": "frelk/1"', '"format": "frelk/2"'));
		const [problem] = await diagnostics();
		expect(problem?.message).toContain('frelk/1');
		expect(problem?.source).toBe('frelk');
	});

	it('is of the last keystroke alone: what an older text said is not told', async () => {
		for (let i = 0; i < 5; i++)
			await type('"name": "Quay at Harl', `"name": "${i}Quay at Harl`.replace(/\d(?=\d)/, ''));
		await diagnostics();
		expect(heard.filter((one) => (one.version ?? 0) > opened && one.version !== document.version)).toEqual([]);
	});
});

describe('pointing at', () => {
	it('a query tells its sentence and its answer at each moment', async () => {
		const said = await hover('"id": "gaze"');
		expect(said).toContain('**Gaze**');
		expect(said).toMatch(/- as laid out: Lemon crate 4/);
		expect(said).toMatch(/- The crank is jammed: /);
	});

	it('an object tells how it fares with every query, a layer its bit and mask and whom it stops', async () => {
		expect(await hover('"selects": ["crank"')).toMatch(/- Gaze: sight, .* behind Lemon crate 4/);
		const layer = await hover('"id": "cargo"');
		expect(layer).toMatch(/bit \d+, mask 0x[0-9a-f]{8}/);
		expect(layer).toMatch(/- stops .*Gaze/);
	});

	it('a check tells what is wanted and got, a limit by how much the nearest loser misses it', async () => {
		expect(await hover('"query": "gaze", "expect"', -3)).toMatch(/- wanted Gangway crank\n- got Lemon crate 4/);
		expect(await hover('"length": 4', -1)).toMatch(/misses it by .* m, as laid out|Nothing loses by this limit/);
	});
});

describe('ids', () => {
	it('are offered by place, with their names, and keys with the schema', async () => {
		const items = await ask<{ label: string; detail?: string }[]>('completion', { position: at('"layer": "', 1) });
		expect(items.map((i) => i.label)).toContain('cargo');
		expect(items.every((i) => i.detail?.startsWith('layer'))).toBe(true);
		const asker = await ask<{ label: string; detail?: string }[]>('completion', { position: at('"asker": "', 1) });
		expect(asker.find((i) => i.label === 'crank')?.detail).toBe('object Gangway crank');
		await type('"queries": [', '"queries": [{ "" },');
		const keys = await ask<{ label: string; documentation?: unknown }[]>('completion', {
			position: at('"queries": [{ "'),
		});
		expect(keys.map((i) => i.label)).toEqual(expect.arrayContaining(['id', 'kind']));
		// With what they mean.
		expect(JSON.stringify(keys.find((i) => i.label === 'sight')?.documentation)).toContain('stand in the way');
	});

	it('lead to where they are declared, to all that name them, and are renamed everywhere', async () => {
		const named = at('"selects": ["crank"', -2);
		const [there] = [await ask<{ range: { start: { line: number } } }>('definition', { position: named })];
		expect(document.getText(there.range as never)).toBe('crank');
		expect(there.range.start.line).toBe(at('"name": "Gangway crank"').line - 1);
		const all = await ask<object[]>('references', { position: named, context: { includeDeclaration: true } });
		const renamed = written(await ask<WorkspaceEdit>('rename', { position: named, newName: 'winch' }));
		expect(renamed.split('"winch"').length - 1).toBe(all.length);
		expect(renamed.replaceAll('"winch"', '"crank"')).toBe(example);
		// The tag of that id is another thing.
		expect(renamed).toContain('{ "id": "crank", "under": "fitting" }');
		await expect(ask('rename', { position: named, newName: 'bell' })).rejects.toThrow('another object is called bell');
		await expect(ask('rename', { position: named, newName: 'Two words' })).rejects.toThrow('is no id');
	});

	it('are an outline of the file, and answers stand at each query and check', async () => {
		const outline = await ask<DocumentSymbol[]>('documentSymbol', {});
		expect(outline.map((s) => s.name)).toEqual(expect.arrayContaining(['layers', 'objects', 'queries', 'checks']));
		await diagnostics();
		// They come a little after the checks.
		let titles: string[] = [];
		await vi.waitFor(async () => {
			const lenses = await ask<{ range: never; command: { title: string } }[]>('codeLens', {});
			titles = lenses.map((l) => `${document.getText(l.range)}: ${l.command.title}`);
			expect(titles).toContain('"gaze": selects Lemon crate 4 · 1 of 3 fail');
		}, 60_000);
		expect(titles.filter((t) => t.endsWith(': fails')).length).toBeGreaterThan(1);
	});
});

describe('what mends it', () => {
	const actions = async (list: readonly Diagnostic[]) => {
		const [first] = list;
		return ask<CodeAction[]>('codeAction', { range: first?.range, context: { diagnostics: list } });
	};

	it('is the id that was meant', async () => {
		await type('"layer": "cargo"', '"layer": "cargoo"');
		const [fix] = await actions((await diagnostics()).slice(0, 1));
		expect(fix?.title).toBe('Put cargo here');
		expect(written(fix?.edit)).toBe(example);
	});

	it('is each remedy of a check, tried, with what it breaks; or to expect what it gets', async () => {
		const failing = (await diagnostics()).filter((d) => d.code === 'gaze');
		const list = await actions(failing);
		expect(list.length).toBeGreaterThan(3);
		expect(list.at(-1)?.title).toBe('Expect what it gets');
		const accepted = written(list.at(-1)?.edit);
		expect(accepted.split('\n').filter((line, i) => line !== example.split('\n')[i])).toHaveLength(1);
		for (const action of list.slice(0, 2)) {
			const text = written(action.edit);
			expect(() => JSON.parse(text)).not.toThrow();
			expect(text).not.toBe(example);
		}
	});

	it('is the patch of a finding', async () => {
		const check = /\{ "id": "gaze", "query".*/.exec(example)?.[0] ?? '';
		await type(check, `${check}\n${check.replace('"gaze"', '"again"')}`);
		const found = (await diagnostics((list) => list.some((d) => d.code === 'check-twice'))).filter(
			(d) => (d.data as { about?: string } | undefined)?.about === 'finding',
		);
		const list = await actions(found.slice(0, 1));
		expect(list[0]?.title).toMatch(/^Mend it: /);
		expect(() => JSON.parse(written(list[0]?.edit))).not.toThrow();
	});
});
