/** Levels, traces and constants by the command line: exit codes, files that are written or not, and what is said. */
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { jsonSchemas } from '@frelk/core/formats';
import Ajv from 'ajv/dist/2020';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { desk, inProcess as frelk, quay } from './tests/command';

const folder = mkdtempSync(join(tmpdir(), 'frelk-interchange-'));
const file = (name: string, text?: string): string => {
	const path = join(folder, name);
	if (text !== undefined) writeFileSync(path, text);
	return path;
};

const schemas = jsonSchemas();
/** That what was printed is what the published schema says. */
function holds(name: 'import' | 'replay', printed: string): void {
	const valid = new Ajv({ strict: false, allowUnionTypes: true }).compile(schemas[name]);
	expect(valid(JSON.parse(printed)), JSON.stringify(valid.errors?.slice(0, 3))).toBe(true);
}

/** A drawing with two figures. */
const drawing = (x: number, second = true) =>
	`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect id="a" x="${x}" width="2" height="2"/>${second ? '<circle id="b" cx="5" cy="5" r="1"/>' : ''}</svg>`;

describe('frelk export and import', () => {
	it('give a project back byte for byte, as .glb and as .gltf', async () => {
		for (const ending of ['glb', 'gltf']) {
			const level = file(`quay.${ending}`);
			expect((await frelk(['export', quay, '--gltf', level])).code).toBe(0);
			const into = file(`again-${ending}.json`);
			expect(await frelk(['import', level, '--into', into])).toMatchObject({ code: 0, err: '' });
			expect(readFileSync(into, 'utf8')).toBe(readFileSync(quay, 'utf8'));
		}
	});

	it('read again, say what came, went and moved, and which answers changed; a dry run writes nothing', async () => {
		const into = file('drawing.json');
		const rules = file(
			'rules.json',
			JSON.stringify({ layer: 'paper', rules: [{ when: { name: '?' }, tags: ['thing'] }] }),
		);
		const first = await frelk(['import', file('d.svg', drawing(0)), '--into', into, '--rules', rules]);
		expect([first.code, first.err]).toEqual([0, '']);
		expect(first.out).toContain('2 came, 0 went');
		const project = JSON.parse(readFileSync(into, 'utf8'));
		project.queries.push({ id: 'point', kind: 'pick', camera: 'above', viewport: [100, 100], cursor: [50, 50] });
		project.checks = [{ id: 'b-there', query: 'point', expect: { selects: ['b'] } }];
		writeFileSync(into, JSON.stringify(project));
		expect((await frelk(['check', into])).code).toBe(0);
		const was = readFileSync(into, 'utf8');
		const changed = file('d.svg', drawing(1, false));
		const dry = await frelk(['import', changed, '--into', into, '--dry-run']);
		expect(dry.code).toBe(0);
		expect(dry.out.split('\n')).toEqual([
			'went     b  (b): kept, inactive, since something speaks of it',
			'moved    a  (a) by 1 m',
			'answer   point: b → none',
			'0 came, 1 went, 1 moved, 0 changed; 0 left out, 0 match no rule; 1 answer changed',
			`${into}: not written (dry run)`,
			'',
		]);
		expect(readFileSync(into, 'utf8')).toBe(was);
		const json = await frelk(['import', changed, '--into', into, '--json']);
		expect(JSON.parse(json.out)).toMatchObject({
			format: 'frelk-import/1',
			went: [{ id: 'b', kept: true }],
			moved: [{ id: 'a', by: 1 }],
			answers: [{ query: 'point', before: { objects: ['b'] }, after: { status: 'none' } }],
			written: true,
		});
		holds('import', json.out);
		// The build server sees what the level broke.
		expect((await frelk(['check', into])).code).toBe(1);
		expect((await frelk(['import', changed, '--into', into])).out).toContain(`${into}: nothing changed`);
	});

	it('refuse what cannot be, with the place, and leave the project as it was', async () => {
		const into = file('kept.json', readFileSync(quay, 'utf8'));
		const cases: [string[], string][] = [
			[['import', file('no.glb'), '--into', into], 'no.glb: no such file'],
			[['import', file('bad.glb', 'glTF....'), '--into', into], 'bad.glb: is cut short'],
			[['import', file('bad.svg', '<svg><g></svg>'), '--into', into], 'bad.svg:1: column'],
			[['import', file('flat.svg', drawing(0)), '--into', into], 'is a flat drawing'],
			[['import', file('t.csv', 'id,layer\nnew,nowhere'), '--into', into], 'no layer "nowhere"'],
			[['import', file('t2.csv', 'id,x\ncrank,far'), '--into', into], 'row 1, x: expected a number'],
			[['import', file('t3.csv', 'id\nx'), '--into', file('none.json')], 'a table goes into a project there is'],
			[['import', quay.replace('.frelk.json', '.nothing'), '--into', into], 'no such file'],
			[
				['import', file('d.svg', drawing(0)), '--into', file('new.json'), '--rules', file('r.json', '{"rules":[{}]}')],
				'rules[0].when: is missing',
			],
			[['export', quay, '--svg', file('q.svg')], 'is a scene in space; --svg draws flat ones'],
			[['export', quay], 'say what to write'],
			[['export', quay, '--gltf', file('q.obj')], '--gltf writes a .glb or a .gltf'],
			[['constants', quay, '--lang', 'cobol'], '--lang is one of json, cpp, csharp, typescript, python'],
		];
		for (const [args, message] of cases) {
			const { code, err, out } = await frelk(args);
			expect([code, out], args.join(' ')).toEqual([2, '']);
			expect(err).toContain(message);
		}
		expect(readFileSync(into, 'utf8')).toBe(readFileSync(quay, 'utf8'));
		expect(existsSync(file('new.json'))).toBe(false);
	}, 120_000);

	it('a .gltf finds its buffer beside it, and none elsewhere', async () => {
		const bin = Buffer.from(new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]).buffer);
		writeFileSync(join(folder, 'corner s.bin'), bin);
		const json = (uri: string) =>
			JSON.stringify({
				asset: { version: '2.0' },
				scenes: [{ nodes: [0] }],
				nodes: [{ name: 'leaf', mesh: 0 }],
				meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
				accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] }],
				bufferViews: [{ buffer: 0, byteLength: 36 }],
				buffers: [{ byteLength: 36, uri }],
			});
		const into = file('leaf.json');
		expect((await frelk(['import', file('leaf.gltf', json('corner%20s.bin')), '--into', into])).code).toBe(0);
		expect(JSON.parse(readFileSync(into, 'utf8')).scene.objects[0].shapes[0].vertices).toHaveLength(9);
		for (const uri of ['../corner%20s.bin', '/etc/passwd', 'http://127.0.0.1:1/x.bin'])
			expect((await frelk(['import', file('leaf.gltf', json(uri)), '--into', file('x.json')])).err).toContain(
				'was not given',
			);
	});

	it('tables and drawings come out and go in', async () => {
		const csv = file('desk.csv');
		expect(
			(await frelk(['export', desk, '--csv', csv, '--svg', file('desk.svg'), '--table', file('desk-table.json')])).code,
		).toBe(0);
		const into = file('desk.json', readFileSync(desk, 'utf8'));
		expect((await frelk(['import', csv, '--into', into])).out).toContain('nothing changed');
		expect((await frelk(['import', file('desk-table.json'), '--into', into])).out).toContain('nothing changed');
		expect(readFileSync(file('desk.svg'), 'utf8')).toContain('data-layer="paper"');
	});
});

describe('frelk replay', () => {
	const trace = file('walk.jsonl');
	it('finds no difference in a run of Frelk’s own, and each that is put in', async () => {
		expect((await frelk(['run', quay, '--run', 'past-the-cleats', '--trace', trace])).code).toBe(0);
		const same = await frelk(['replay', quay, trace]);
		expect([same.code, same.out]).toEqual([0, '81 lines, 81 asked: 81 same, 0 other\n']);
		const lines = readFileSync(trace, 'utf8').split('\n');
		lines[9] = (lines[9] as string).replace(/"got":\[[^\]]*\]/, '"got":["crank"]');
		lines[19] = (lines[19] as string).replace(/"got":\[[^\]]*\]/, '"got":null');
		writeFileSync(trace, lines.join('\r\n'));
		const junit = file('replay.xml');
		const other = await frelk(['replay', quay, trace, '--json', '--junit', junit]);
		expect(other.code).toBe(1);
		const data = JSON.parse(other.out);
		expect(data).toMatchObject({
			format: 'frelk-replay/1',
			project: 'harl-quay',
			lines: 81,
			asked: 81,
			same: 79,
			other: 2,
			unknown: 0,
		});
		expect(data.differences.map((d: { line: number; got: string[] }) => [d.line, d.got])).toEqual([
			[10, ['crank']],
			[20, []],
		]);
		expect(data.differences[0].verdicts[0]).toMatchObject({ object: 'crank' });
		holds('replay', other.out);
		const xml = new XMLParser({ ignoreAttributes: false }).parse(readFileSync(junit, 'utf8'));
		expect(xml.testsuites['@_failures']).toBe('1');
		const words = await frelk(['replay', '-', '-']);
		expect(words.err).toContain('only one of the project and the trace');
	});

	it('says which line is none', async () => {
		const wrong = async (text: string) => {
			const { code, err } = await frelk(['replay', quay, file('w.jsonl', text)]);
			expect(code).toBe(2);
			return err;
		};
		const head = '{"format":"frelk-trace/1"}\n';
		expect(await wrong('')).toContain('w.jsonl: is empty');
		expect(await wrong(`${head}{"t":0}\n{"t":`)).toContain('w.jsonl:3: is not JSON');
		expect(await wrong(`${head}{"t":0,"objects":{"crank":{"layer":"nowhere"}}}`)).toContain(
			'w.jsonl:2: objects.crank.layer: no layer "nowhere"',
		);
		expect(await wrong('{"format":"frelk-trace/9"}')).toContain('w.jsonl:1: format: expected "frelk-trace/1"');
		expect((await frelk(['replay', quay, file('nothing.jsonl')])).err).toContain('nothing.jsonl: no such file');
	});
});
