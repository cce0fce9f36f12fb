/** Tables of objects and constants for games: what goes out comes in, and what is wrong has its row. */
import { execFileSync } from 'node:child_process';
import { checkProject } from '@frelk/core';
import { jsonSchemas } from '@frelk/core/formats';
import { example } from '@frelk/core/tests/examples';
import Ajv from 'ajv/dist/2020';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import { constantsIn, constantsOf, LANGUAGES } from './constants';
import { csvTable, jsonTable, readTable, withTable } from './table';

describe('a table of objects', () => {
	const quay = example('harl-quay');
	it('that goes out comes in without a change, as CSV and as JSON', () => {
		for (const text of [csvTable(quay), jsonTable(quay)]) {
			const back = withTable(quay, readTable(text, 't'), 't');
			expect([back.came, back.changed]).toEqual([[], []]);
			expect(back.project).toEqual(quay);
		}
	});

	it('changes nothing of what is unusual either', () => {
		const p = example('harl-quay');
		const odd: object[] = [
			{ tags: [], name: ' crank ', prompt: '', priority: 0, active: true },
			{ name: "'=1+1", prompt: '-3', action: '', position: [-0, 0, 0], scale: [1, 1, 1] },
			{ name: 'a\nb', prompt: '"quoted", and more', rotation: [0, 0, 0], tags: [] },
			{ active: false, priority: -2.5, name: '\ttab' },
		];
		odd.forEach((fields, i) => {
			Object.assign(p.scene.objects[i] ?? {}, fields);
		});
		for (const text of [csvTable(p), jsonTable(p), `\ufeff${csvTable(p)}`, `\ufeff${jsonTable(p)}`]) {
			const back = withTable(p, readTable(text, 't'), 't');
			expect([back.came, back.changed]).toEqual([[], []]);
			expect(back.project.scene.objects).toEqual(p.scene.objects);
		}
		// No cell begins a formula.
		for (const cell of [",'-3,", ",'\ttab,"]) expect(csvTable(p)).toContain(cell);
		// What is said in a cell still counts, whatever stands there.
		const [id] = p.scene.objects.map((o) => o.id);
		const emptied = withTable(p, readTable(`id,name,tags,prompt\n${id},,cleat,Go`, 't'), 't');
		expect(emptied.changed).toEqual([id]);
		expect(emptied.project.scene.objects[0]).toMatchObject({ tags: ['cleat'], prompt: 'Go' });
		expect(emptied.project.scene.objects[0]?.name).toBeUndefined();
	});

	it('changes the columns there are, adds what is new, and takes nothing out', () => {
		const { project, came, changed } = withTable(
			quay,
			readTable('id,x,tags,layer,prompt\ncrank,1.5,"crank bell",fittings,\nnew-one,2,,cargo,Take it\n', 't'),
			't',
		);
		expect([came, changed]).toEqual([['new-one'], ['crank']]);
		const [was, is] = [quay, project].map((p) => p.scene.objects.find((o) => o.id === 'crank'));
		expect(is).toMatchObject({
			position: [1.5, was?.position?.[1], was?.position?.[2]],
			tags: ['crank', 'bell'],
		});
		expect(is?.prompt).toBeUndefined();
		expect(project.scene.objects.at(-1)).toEqual({
			id: 'new-one',
			layer: 'cargo',
			position: [2, 0, 0],
			prompt: 'Take it',
		});
		expect(checkProject(project)).toMatchObject({ ok: true });
	});

	it('that is none has its row and column named', () => {
		const wrong = (text: string) => () => withTable(quay, readTable(text, 't.csv'), 't.csv');
		expect(wrong('id,x\ncrank,far')).toThrow('t.csv: row 1, x: expected a number, got "far"');
		expect(wrong('id,active\ncrank,maybe')).toThrow('t.csv: row 1, active: expected yes or no');
		expect(wrong('id,colour\ncrank,red')).toThrow('t.csv: row 1: unknown column "colour"');
		expect(wrong('x\n1')).toThrow('t.csv: row 1: id is missing');
		expect(wrong('id,x\ncrank,1,2')).toThrow('t.csv: row 1');
		expect(wrong('[{"id":"crank"},3]')).toThrow('expected a list of objects');
		expect(wrong('[{"id"')).toThrow('is not JSON');
	});

	it('holds no formula for a program that would run it', () => {
		const p = example('harl-quay');
		p.scene.objects[0].name = '=1+1';
		p.scene.objects[1].position = [-3, 0, 0];
		expect(csvTable(p)).toContain("'=1+1");
		expect(csvTable(p)).not.toContain("'-3");
		expect(withTable(p, readTable(csvTable(p), 't'), 't').project).toEqual(p);
	});
});

describe('constants', () => {
	const quay = example('harl-quay');
	const all = constantsOf(quay);
	it('have the bits in the order of the layers, and the masks of each query', () => {
		expect(all.layers.slice(0, 3)).toEqual([
			{ id: quay.scene.layers[0].id, bit: 0, mask: 1 },
			{ id: quay.scene.layers[1].id, bit: 1, mask: 2 },
			{ id: quay.scene.layers[2].id, bit: 2, mask: 4 },
		]);
		const gaze = all.queries.find((q) => q.id === 'gaze');
		const bits = (ids: string[]) =>
			ids.reduce((sum, id) => sum + 2 ** quay.scene.layers.findIndex((l) => l.id === id), 0);
		expect(gaze).toMatchObject({
			kind: 'ray',
			layers: bits(['fittings', 'cargo']),
			blockers: bits(['walls', 'cargo', 'glass']),
			length: 4,
			take: 1,
		});
	});

	it('are as their schemas say, as tables are', () => {
		const ajv = new Ajv({ strict: false, allowUnionTypes: true });
		const { constants, table } = jsonSchemas();
		for (const name of ['harl-quay', 'pursers-desk', 'deck-from-above']) {
			const p = example(name);
			const told = JSON.parse(constantsIn('json', constantsOf(p)));
			expect(ajv.validate(constants, told), JSON.stringify(ajv.errors)).toBe(true);
			expect(ajv.validate(constants, { ...told, more: 1 })).toBe(false);
			const rows = JSON.parse(jsonTable(p));
			expect(ajv.validate(table, rows), JSON.stringify(ajv.errors)).toBe(true);
			expect(ajv.validate(table, [{ ...rows[0], colour: 'red' }])).toBe(false);
		}
	});

	it('have names that a language takes, whatever the ids, and that never come to mean another thing', () => {
		const ids = ['layers', 'tags', 'queries', 'equals', 'to-string', 'length', 'a-1', 'a1', '1st', 'x'];
		const named = (order: readonly string[], project = 'layers') => {
			const p = example('harl-quay');
			p.id = project;
			p.scene.layers = order.map((id) => ({ id }));
			p.scene.tags = order.map((id) => ({ id }));
			p.queries = order.map((id) => ({ id, kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, 1] } }));
			return constantsIn('csharp', constantsOf(p));
		};
		const text = named(ids);
		// No member is called as the class it is in, and no class has two of one name.
		const stack: { name: string; members: Set<string> }[] = [];
		let pending: string | null = null;
		for (const line of text.split('\n')) {
			const declared = /class (\w+)|const \w+ (\w+)/.exec(line);
			const name = declared?.[1] ?? declared?.[2];
			if (name !== undefined) {
				const top = stack.at(-1);
				expect(top?.name).not.toBe(name);
				expect(top?.members.has(name) ?? false, name).toBe(false);
				top?.members.add(name);
				expect(['Equals', 'ToString', 'GetHashCode']).not.toContain(name);
				pending = declared?.[1] ?? pending;
			}
			if (line.trim() === '{') stack.push({ name: pending ?? '', members: new Set() });
			if (line.trim() === '}') stack.pop();
		}
		// In another order each id has the name it had.
		const maskOf = (source: string) =>
			new Map([...source.matchAll(/public const int (\w+) = (\d+);/g)].map((m) => [m[1], Number(m[2])]));
		const [first, turned] = [maskOf(text), maskOf(named([...ids].reverse()))];
		expect([...turned.keys()].sort()).toEqual([...first.keys()].sort());
		for (const [name, index] of first) expect(turned.get(name)).toBe(ids.length - 1 - index);
	});

	it('have the speed, gravity, time and step of what is thrown, as the file says them or as they stand by default', () => {
		const p = example('harl-quay');
		const thrown = { kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, 1] } } as const;
		p.queries = [
			{ id: 'lob', ...thrown, arc: { speed: 12 } },
			{ id: 'dart', ...thrown, arc: { speed: 30.5, gravity: 0, time: 2, step: 0.1 } },
		];
		const made = constantsOf(p);
		expect(made.queries).toMatchObject([
			{ arcSpeed: 12, arcGravity: 9.81, arcTime: 5, arcStep: 1 / 60 },
			{ arcSpeed: 30.5, arcGravity: 0, arcTime: 2, arcStep: 0.1 },
		]);
		const valid = new Ajv({ strict: false, allowUnionTypes: true }).compile(jsonSchemas().constants);
		expect(valid(made), JSON.stringify(valid.errors)).toBe(true);
		expect(constantsIn('cpp', made)).toContain('constexpr double ArcSpeed = 30.5;');
		expect(constantsIn('python', made)).toContain('DART_ARC_GRAVITY = 0.0');
		expect(all.queries.some((q) => 'arcSpeed' in q)).toBe(false);
	});

	it('of 32 layers stay unsigned', () => {
		const p = example('harl-quay');
		p.scene.layers = Array.from({ length: 32 }, (_, i) => ({ id: `l${i}` }));
		p.queries = [{ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, 1] } }];
		const made = constantsOf(p);
		expect([made.layers[31].mask, made.queries[0].layers, made.queries[0].blockers]).toEqual([
			2147483648, 4294967295, 0,
		]);
		for (const language of LANGUAGES) expect(constantsIn(language, made)).toMatch(/0x80000000|2147483648/);
	});

	it('are what the language reads: TypeScript and Python run them', () => {
		const js = ts.transpileModule(constantsIn('typescript', all), {
			compilerOptions: { module: ts.ModuleKind.CommonJS },
		});
		expect(js.diagnostics ?? []).toEqual([]);
		const made: { Layers: Record<string, number>; Queries: Record<string, { layers: number }> } = {
			Layers: {},
			Queries: {},
		};
		new Function('exports', js.outputText)(made);
		expect(made.Layers.Walls).toBe(2);
		expect(made.Queries.Gaze.layers).toBe(all.queries.find((q) => q.id === 'gaze')?.layers);
		const names = constantsIn('cpp', all).match(/constexpr \S+ (\w+) =/g) ?? [];
		expect(names.length).toBeGreaterThan(20);
		try {
			execFileSync('python3', ['-c', `${constantsIn('python', all)}\nassert Layers.WALLS == 2`]);
		} catch (error) {
			// Not on every machine; where it is, it must read them.
			if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
		}
	});

	it('of names that come out alike are told apart', () => {
		const p = example('harl-quay');
		p.scene.tags = [{ id: 'a-b' }, { id: 'a--b' }, { id: '3d' }];
		const text = constantsIn('python', constantsOf({ ...p, queries: [] }));
		expect(text).toMatch(/A_B_[0-9A-F]{4} = 0/);
		expect(text).toMatch(/A_B_[0-9A-F]{4} = 1/);
		expect(text).toContain('_3D = 2');
	});
});
