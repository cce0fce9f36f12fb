/** Every bound of the file at its edge, and just past it. */
import { describe, expect, it } from 'vitest';
import { ahead, box, object, project } from '../tests/scene';
import { oneLine } from './describe';
import { formatProblem } from './problems';
import { checkProject, decodeUtf8, readBytes, readProject } from './read';
import { writeProject } from './write';

// biome-ignore lint/suspicious/noExplicitAny: what a file holds before it is checked
type Data = any;

const base = (): Data =>
	JSON.parse(
		JSON.stringify(project([object('one', [0, 0, 0], [box([1, 1, 1])]), object('two', [0, 0, 0], [])], [ahead()])),
	);

function said(change: (p: Data) => void): string[] {
	const data = base();
	change(data);
	const reading = checkProject(data);
	return reading.ok ? [] : reading.problems.map(formatProblem);
}

const list = (n: number, make: (i: number) => object): object[] => Array.from({ length: n }, (_, i) => make(i));
const layerOf = (p: Data): string => p.scene.objects[0].layer;

/** Name of the bound, what puts a value there, the last value that is allowed, the first that is not, and what is said of that. */
const NUMBERS: [string, (p: Data, v: number) => void, number, number, string][] = [
	[
		'a coordinate',
		(p, v) => (p.scene.objects[0].position = [0, v, 0]),
		1e7,
		10_000_001,
		'scene.objects[0].position[1]: must be at most 1e7 m in size, got 10000001',
	],
	[
		'a coordinate, negative',
		(p, v) => (p.scene.objects[0].position = [0, 0, v]),
		-1e7,
		-10_000_001,
		'position[2]: must be at most 1e7 m in size',
	],
	['a focus', (p, v) => (p.scene.objects[0].focus = [v, 0, 0]), 1e7, 1.1e7, 'focus[0]: must be at most 1e7 m in size'],
	[
		'a shape’s place',
		(p, v) => (p.scene.objects[0].shapes[0].at = [v, 0, 0]),
		-1e7,
		-1.1e7,
		'shapes[0].at[0]: must be at most 1e7 m in size',
	],
	[
		'a size',
		(p, v) => (p.scene.objects[0].shapes[0].size[2] = v),
		1e7,
		1.1e7,
		'size[2]: must be at most 1e7 m, got 11000000',
	],
	[
		'a small size',
		(p, v) => (p.scene.objects[0].shapes[0].size[2] = v),
		1e-6,
		9.99e-7,
		'size[2]: must be at least 1e-6 m, got 9.99e-7',
	],
	[
		'a radius',
		(p, v) => (p.scene.objects[0].shapes = [{ id: 's', kind: 'sphere', radius: v }]),
		1e-6,
		9e-7,
		'radius: must be at least 1e-6 m',
	],
	[
		'a scale',
		(p, v) => (p.scene.objects[0].scale = [1, 1, v]),
		1e6,
		1.000001e6,
		'scale[2]: must be at most 1e6, got 1000001',
	],
	['a small scale', (p, v) => (p.scene.objects[0].scale = [v, 1, 1]), 1e-6, 9.9e-7, 'scale[0]: must be at least 1e-6'],
	['a length', (p, v) => (p.queries[0].length = v), 1e9, 1.1e9, 'length: must be at most 1e9 m'],
	['a range', (p, v) => (p.queries[0].range = { max: v }), 1e9, 1.1e9, 'range.max: must be at most 1e9 m'],
	['a least range', (p, v) => (p.queries[0].range = { min: v }), 0, -1e-300, 'range.min: must be 0 or more'],
	['a camera’s far', (p, v) => (p.scene.cameras[0].far = v), 1e9, 1.1e9, 'far: must be at most 1e9 m'],
	['a camera’s least far', (p, v) => (p.scene.cameras[0].far = v), 1e-300, 0, 'far: must be more than 0'],
	[
		'a state',
		(p, v) => (p.scene.states = { tide: v }),
		1e12,
		1.1e12,
		'scene.states.tide: a state is true, false or a number of at most 1e12 in size, got 1100000000000',
	],
	['a priority', (p, v) => (p.scene.objects[0].priority = v), -1e12, -1.1e12, 'priority: must be at most 1e12 in size'],
	[
		'an angle',
		(p, v) => (p.scene.objects[0].rotation = [v, 0, 0]),
		1e12,
		1e308,
		'rotation[0]: must be at most 1e12 in size, got 1e+308',
	],
	[
		'a direction',
		(p, v) => (p.queries[0].aim = { along: [v, 0, 0] }),
		1e12,
		1.1e12,
		'aim.along[0]: must be at most 1e12 in size',
	],
	['a slack', (p, v) => (p.scene.tieSlack = v), 1e12, 1.1e12, 'tieSlack: must be at most 1e12'],
	[
		'an off',
		(p, v) =>
			(p.queries = [
				{ ...p.queries[0], from: { hitOf: 'r', off: v } },
				{ ...p.queries[0], id: 'r' },
			]),
		1e7,
		1.1e7,
		'from.off: must be at most 1e7 m',
	],
	[
		'an offset',
		(p, v) => (p.queries[0].from = { object: 'one', offset: [v, 0, 0] }),
		1e7,
		1.1e7,
		'from.offset[0]: must be at most 1e7 m in size',
	],
	[
		'a corner of a mesh',
		(p, v) =>
			(p.scene.objects[0].shapes = [
				{ id: 's', kind: 'mesh', vertices: [0, 0, 0, 1, 0, 0, 0, v, 0], triangles: [0, 1, 2] },
			]),
		1e7,
		1.1e7,
		'vertices[7]: must be at most 1e7 m in size',
	],
	[
		'a point of a hull',
		(p, v) =>
			(p.scene.objects[0].shapes = [
				{
					id: 's',
					kind: 'hull',
					points: [
						[0, 0, 0],
						[1, 0, 0],
						[0, 1, 0],
						[0, 0, v],
					],
				},
			]),
		1e7,
		1.1e7,
		'points[3][2]: must be at most 1e7 m in size',
	],
];

const COUNTS: [string, (p: Data, n: number) => void, number, string][] = [
	[
		'layers',
		(p, n) => (p.scene.layers = [...p.scene.layers, ...list(n - p.scene.layers.length, (i) => ({ id: `l${i}` }))]),
		32,
		'scene.layers: at most 32 layers are allowed, got 33',
	],
	[
		'tags',
		(p, n) => (p.scene.tags = list(n, (i) => ({ id: `t${i}` }))),
		1000,
		'scene.tags: at most 1000 tags are allowed, got 1001',
	],
	[
		'objects',
		(p, n) => p.scene.objects.push(...list(n - 2, (i) => ({ id: `o${i}`, layer: layerOf(p) }))),
		100_000,
		'scene.objects: at most 100000 objects are allowed, got 100001',
	],
	[
		'queries',
		(p, n) => p.queries.push(...list(n - 1, (i) => ({ ...p.queries[0], id: `q${i}` }))),
		1000,
		'queries: at most 1000 queries are allowed, got 1001',
	],
	[
		'moments',
		(p, n) => (p.moments = list(n, (i) => ({ id: `m${i}` }))),
		1000,
		'moments: at most 1000 moments are allowed, got 1001',
	],
	[
		'checks',
		(p, n) => (p.checks = list(n, (i) => ({ id: `c${i}`, query: p.queries[0].id, expect: { none: true } }))),
		100_000,
		'checks: at most 100000 checks are allowed, got 100001',
	],
	[
		'points of a hull',
		(p, n) =>
			(p.scene.objects[0].shapes = [
				{ id: 's', kind: 'hull', points: Array.from({ length: n }, (_, i) => [i % 7, i % 11, i % 13]) },
			]),
		10_000,
		'points: has 10001 points; at most 10000 are allowed',
	],
	[
		'characters of a name',
		(p, n) => (p.name = 'é'.repeat(n)),
		200,
		'name: has 201 characters; at most 200 are allowed',
	],
	[
		'characters of a name, of two units each',
		(p, n) => (p.scene.objects[0].name = '🦆'.repeat(n)),
		200,
		'name: has 201 characters',
	],
	['characters of a prompt', (p, n) => (p.scene.objects[0].prompt = 'x'.repeat(n)), 200, 'prompt: has 201 characters'],
	['characters of an action', (p, n) => (p.scene.objects[0].action = 'x'.repeat(n)), 200, 'action: has 201 characters'],
	[
		'characters of a state’s name',
		(p, n) => (p.scene.states = { ['x'.repeat(n)]: true }),
		200,
		'the name of a state has 201 characters',
	],
	['characters of notes', (p, n) => (p.notes = 'x'.repeat(n)), 10_000, 'notes: has 10001 characters'],
	[
		'parents',
		(p, n) =>
			(p.scene.objects = list(n + 1, (i) => ({
				id: `o${i}`,
				layer: layerOf(p),
				...(i > 0 ? { parent: `o${i - 1}` } : {}),
			}))),
		256,
		'scene.objects[257].parent: is the link 257 of a chain; at most 256 are allowed',
	],
	[
		'tags under tags',
		(p, n) => (p.scene.tags = list(n + 1, (i) => ({ id: `t${i}`, ...(i > 0 ? { under: `t${i - 1}` } : {}) }))),
		256,
		'scene.tags[257].under: is the link 257 of a chain',
	],
	[
		'moments on moments',
		(p, n) => (p.moments = list(n + 1, (i) => ({ id: `m${i}`, ...(i > 0 ? { on: `m${i - 1}` } : {}) }))),
		256,
		'moments[257].on: is the link 257 of a chain',
	],
	[
		'hits of hits',
		(p, n) =>
			(p.queries = list(n + 1, (i) => ({
				...p.queries[0],
				id: `q${i}`,
				...(i > 0 ? { from: { hitOf: `q${i - 1}` } } : {}),
			}))),
		256,
		'queries[257]: hangs on a chain of 257 hits ("hitOf"); at most 256 are allowed',
	],
	[
		'parents at a moment',
		(p, n) => {
			p.scene.objects = list(n + 1, (i) => ({ id: `o${i}`, layer: layerOf(p) }));
			p.moments = [
				{
					id: 'm',
					objects: Object.fromEntries(list(n, (i) => ({ i })).map((_, i) => [`o${i + 1}`, { parent: `o${i}` }])),
				},
			];
		},
		256,
		'at this moment hangs on a chain of 257 parents; at most 256 are allowed',
	],
	[
		'nesting',
		(p, n) => (p.extras = Array.from({ length: n - 2 }).reduce<unknown>((inner) => [inner], [])),
		64,
		'is nested more than 64 levels deep',
	],
	[
		'nesting behind a number',
		(p, n) => (p.extras = Array.from({ length: n - 2 }).reduce<unknown>((inner) => [1, inner], [])),
		64,
		'is nested more than 64 levels deep',
	],
];

describe('a bound', () => {
	it.each(NUMBERS)('of %s holds at its edge and no further', (_name, set, last, first, message) => {
		expect(said((p) => void set(p, last))).toEqual([]);
		const lines = said((p) => void set(p, first));
		expect(lines).toHaveLength(1);
		expect(lines[0]).toContain(message);
	});

	it.each(COUNTS)('of %s holds at its edge and no further', (_name, set, most, message) => {
		expect(said((p) => void set(p, most))).toEqual([]);
		const lines = said((p) => void set(p, most + 1));
		expect(lines).toHaveLength(1);
		expect(lines[0]).toContain(message);
	});

	it('of nesting holds for the text before anything of it is built', () => {
		const text = (levels: number) =>
			JSON.stringify(base()).replace(
				/}$/,
				`,"extras":${'['.repeat(levels - 1)}"a \\" [[[ \\\\"${']'.repeat(levels - 1)}}`,
			);
		expect(readProject(text(64)).ok).toBe(true);
		const deep = readProject(text(65));
		expect(!deep.ok && deep.problems[0]?.message).toMatch(
			/^is nested more than 64 levels deep at line 1, column \d+; a project needs far fewer$/,
		);
		const many = readProject('['.repeat(2e6));
		expect(!many.ok && many.problems[0]?.message).toContain('line 1, column 65');
	});
});

describe('problems', () => {
	it('are told up to fifty, and the rest counted', () => {
		const flood = (n: number) => {
			const data = base();
			data.scene.objects[0].tags = Array.from({ length: n }, (_, i) => `nowhere-${i}`);
			return checkProject(data);
		};
		const exact = flood(50);
		expect(!exact.ok && [exact.problems.length, exact.more]).toEqual([50, 0]);
		const past = flood(1_000_000);
		expect(!past.ok && [past.problems.length, past.more]).toEqual([50, 999_950]);
		const keys = base();
		keys.scene.objects[0] = {
			...keys.scene.objects[0],
			...Object.fromEntries(Array.from({ length: 300_000 }, (_, i) => [`k${i}`, 1])),
		};
		const unknown = checkProject(keys);
		expect(!unknown.ok && [unknown.problems.length, unknown.more]).toEqual([50, 299_950]);
	});

	it('of more wrong entries than can be carried are one, with the place', () => {
		const data = base();
		data.scene.objects[0].shapes = Array.from({ length: 400_000 }, () => 7);
		const reading = checkProject(data);
		if (reading.ok) throw new Error('read');
		// How many can be carried is the engine's: a thread with a larger stack counts them all.
		if (reading.problems.length > 1) expect([reading.problems.length, reading.more]).toEqual([50, 399_950]);
		else
			expect(reading.problems.map(formatProblem)).toEqual([
				'scene.objects[0].shapes: has 400000 entries, of which too many are wrong to be listed',
			]);
	});

	it('are one clean line each, whatever the file holds', () => {
		const evil = `\u001b[31mred\u0007 two\nlines \u202e${'x'.repeat(1e6)}`;
		for (const change of [
			(p: Data) => (p.scene.objects[0][evil] = 1),
			(p: Data) => (p.scene.objects[0].layer = evil),
			(p: Data) => (p.scene.objects[0].id = evil),
			(p: Data) => (p.queries[0].kind = evil),
			(p: Data) => (p.format = evil),
			(p: Data) => (p.scene.states = { [evil]: 'x' }),
			(p: Data) => (p.moments = [{ id: 'm', objects: { [evil]: {} } }]),
			(p: Data) => (p.queries[0].asker = { [evil]: evil }),
		]) {
			const lines = said(change);
			expect(lines.length).toBeGreaterThan(0);
			for (const line of lines) {
				expect(line.length).toBeLessThan(1000);
				expect(oneLine(line, 5000)).toBe(line);
			}
		}
		expect(oneLine('a\u001b[1mb\n\u2028\ud800c')).toBe('a\\u001b[1mb\\u000a\\u2028\\ud800c');
		expect(oneLine('👩‍🚀 é')).toBe('👩‍🚀 é');
		expect([oneLine('12345', 5), oneLine('123456', 5)]).toEqual(['12345', '1234…']);
	});

	it('of what is no project at all say what one has', () => {
		for (const data of [{}, { name: 'x' }])
			expect(readLine(JSON.stringify(data))).toBe(
				'(the file): is not a project; one has at least "format": "frelk/1", "id", "name", "scene" and "queries"',
			);
		expect(readLine('{"format":"frelk/1"}')).toBe('id: is missing; expected text');
		expect(readLine('[]')).toContain('expected an object, got a list');
	});

	it('of keys and numbers that JSON can write and no project may hold', () => {
		expect(readLine(JSON.stringify(base()).replace('"scene":{', '"scene":{"__proto__":{},'))).toBe(
			'scene.__proto__: is not a key a project may use',
		);
		expect(readLine(JSON.stringify(base()).replace('"scene":{', '"extras":[1,[{"__proto__":1}]],"scene":{'))).toBe(
			'extras[1][0].__proto__: is not a key a project may use',
		);
		expect(readLine(JSON.stringify(base()).replace('"scene":{', '"extras":{"a":[1,1e999]},"scene":{'))).toBe(
			'extras.a[1]: is larger than any number a file can hold',
		);
	});
});

const readLine = (text: string): string => {
	const reading = readProject(text);
	return reading.ok ? '' : formatProblem(reading.problems[0] ?? { path: [], message: '' });
};

describe('bytes', () => {
	it('that are UTF-8 are read, with and without a mark', () => {
		const text = JSON.stringify({ ...base(), name: 'Brücke 桥 🌉' });
		expect(readBytes(Buffer.from(text)).ok).toBe(true);
		expect(readBytes(Buffer.from(`\ufeff${text}`)).ok).toBe(true);
		expect(decodeUtf8(Buffer.from(`\ufeff${text}`))).toBe(`\ufeff${text}`);
	});

	it.each([
		['a byte that begins nothing', [0x61, 0xff], 'byte 0xff at offset 1'],
		['a byte that only goes on', [0x61, 0x62, 0x80], 'byte 0x80 at offset 2'],
		['a character cut by another', [0xc3, 0x28], 'byte 0x28 at offset 1'],
		['the end within a character', [0x61, 0xe2, 0x82], 'the file ends in the middle of a character at offset 3'],
		['a form that is too long', [0xc0, 0xaf], 'byte 0xc0 at offset 0'],
		['another one', [0xe0, 0x9f, 0xbf], 'byte 0x9f at offset 1'],
		['half of a surrogate pair', [0xed, 0xa0, 0x80], 'byte 0xa0 at offset 1'],
		['a point past the last', [0xf4, 0x90, 0x80, 0x80], 'byte 0x90 at offset 1'],
		['four bytes that are too long a form', [0xf0, 0x8f, 0xbf, 0xbf], 'byte 0x8f at offset 1'],
	])('with %s are refused with the offset', (_name, bytes, message) => {
		const reading = readBytes(Uint8Array.from(bytes));
		expect(!reading.ok && reading.problems.map(formatProblem)).toEqual([
			`(the file): is not valid UTF-8: ${message}; save it as UTF-8`,
		]);
	});

	it('at the edges of the forms are characters', () => {
		for (const point of [0x7f, 0x80, 0x7ff, 0x800, 0xd7ff, 0xe000, 0xffff, 0x10000, 0x10ffff])
			expect(decodeUtf8(Buffer.from(String.fromCodePoint(point)))).toBe(String.fromCodePoint(point));
	});
});

describe('within the bounds', () => {
	it('extras of any shape are written as they were read', () => {
		const p = base();
		p.extras = {
			deep: Array.from({ length: 58 }).reduce<unknown>((inner) => ({ a: inner, b: [1, 2, {}], c: [] }), 'the end'),
			empty: {},
			none: [],
			zero: 0,
		};
		const text = writeProject(p);
		const reading = readProject(text);
		expect(reading.ok && reading.project).toEqual(p);
		expect(text.length).toBeLessThan(20_000);
		expect(Math.max(...text.split('\n').map((line) => line.search(/\S/)))).toBeLessThanOrEqual(40);
	});
});
