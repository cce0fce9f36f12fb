/** What is made of a trace and for one: figure by figure, so that each is seen where it is wrong. */
import { describe, expect, it } from 'vitest';
import type { Project, Run } from '../project/schema';
import { runThrough } from '../run/run';
import { ahead, box, disc, object, project } from '../tests/scene';
import { runOfTrace, traceOfRun } from './make';
import { isTrace, readTraceHead, TraceReader } from './read';
import { TraceScene } from './scene';
import type { TraceLine } from './schema';

const PICK = { id: 'pick', kind: 'pick', camera: 'eye', viewport: [200, 100] };
const small = (): Project =>
	project(
		[
			object('near', [0, 0, -2], [box([1, 1, 1])]),
			object('cart', [3, 0, 0], [], { rotation: [90, 0, 0], scale: [2, 2, 2] }),
			object('load', [0, 1, 0], [box([1, 1, 1])], { parent: 'cart' }),
		],
		[ahead(), PICK],
	);
const made = (lines: TraceLine[], from = 0, to = lines.length - 1): Run =>
	runOfTrace(small(), lines, from, to, { id: 'r', name: 'R' });
const keysOf = (run: Run, of: object) =>
	(run.tracks ?? []).find((track) =>
		Object.entries(of).every(([key, id]) => (track as unknown as Record<string, unknown>)[key] === id),
	)?.keys;

describe('a stretch of a trace as a run', () => {
	it('begins at nothing, lasts to its last line, and steps by the middle of the gaps', () => {
		const at = (...times: number[]) => times.map((t): TraceLine => ({ t }));
		// In the order of their lengths the gaps are 0.1, 0.2 and 1.
		expect(made(at(5, 6, 6.1, 6.3))).toEqual({
			id: 'r',
			name: 'R',
			duration: expect.closeTo(1.3),
			step: expect.closeTo(0.2),
		});
		expect(made(at(5, 6, 6.5, 8), 1, 3)).toMatchObject({ duration: 2, step: 1.5 });
		expect(made(at(5))).toEqual({ id: 'r', name: 'R', duration: 0, step: 1 / 60 });
		// Two lines of one time are no gap; time does not run back.
		expect(made(at(5, 5, 5.5, 5.25, 5.75))).toMatchObject({ duration: 0.75, step: 0.5 });
	});

	it('watches what was asked in it, and what the project has', () => {
		const lines: TraceLine[] = [
			{ t: 0, asked: [{ query: 'pick', got: null }] },
			{
				t: 1,
				asked: [
					{ query: 'q', got: null },
					{ query: 'nobody', got: null },
				],
			},
			{ t: 2, asked: [{ query: 'q', got: ['near'] }] },
		];
		expect(made(lines).watch).toEqual([{ query: 'pick' }, { query: 'q' }]);
		expect(made(lines, 1).watch).toEqual([{ query: 'q' }]);
		expect(made(lines, 0, 0).watch).toEqual([{ query: 'pick' }]);
		expect('watch' in made([{ t: 0 }])).toBe(false);
	});

	it('has keys of objects, cameras and cursors, which stood still until they moved', () => {
		const lines: TraceLine[] = [
			{ t: 1 },
			{
				t: 2,
				objects: { near: { position: [1, 0, -2] } },
				cameras: { eye: { position: [0, 3, 0], rotation: [10, 0, 0] } },
			},
			{ t: 3, queries: { pick: { cursor: [10, 20] } } },
		];
		const run = made(lines);
		expect(keysOf(run, { object: 'near' })).toEqual([
			{ t: 0, position: [0, 0, -2] },
			{ t: 1, position: [1, 0, -2] },
		]);
		const camera = keysOf(run, { camera: 'eye' }) as { t: number; position?: number[]; rotation?: number[] }[];
		expect(camera.find((k) => k.t === 0)).toMatchObject({ position: [0, 0, 0], rotation: [0, 0, 0] });
		expect(camera.find((k) => k.t === 1)).toMatchObject({ position: [0, 3, 0], rotation: [10, 0, 0] });
		// Where no cursor was said it stood in the middle of the picture.
		expect(keysOf(run, { query: 'pick' })).toEqual([
			{ t: 1, cursor: [100, 50] },
			{ t: 2, cursor: [10, 20] },
		]);
	});

	it('holds what was told before it, and what hangs elsewhere takes its place with it', () => {
		const lines: TraceLine[] = [
			{ t: 0, objects: { near: { position: [4, 0, -2], states: { lit: true } } } },
			{ t: 1 },
			{ t: 2, objects: { load: { parent: null, position: [7, 0, 0], world: true } } },
		];
		const run = made(lines, 1);
		expect(keysOf(run, { object: 'near' })).toMatchObject([{ t: 0, position: [4, 0, -2], states: { lit: true } }]);
		expect(keysOf(run, { object: 'load' })).toEqual([
			expect.objectContaining({ t: 1, parent: null, position: [7, 0, 0] }),
		]);
	});

	it('has what is no place at the line that told it, beside the way that was gone', () => {
		const lines: TraceLine[] = [
			{ t: 0 },
			{ t: 1, objects: { near: { position: [1, 0, -2], active: false } } },
			{ t: 1, objects: { near: { position: [2, 0, -2] } } },
		];
		const keys = keysOf(made(lines), { object: 'near' }) as { t: number; active?: boolean; position?: number[] }[];
		expect(keys.filter((k) => k.active === false).map((k) => k.t)).toEqual([1]);
		// Of two lines at one time the later counts.
		expect(keys.find((k) => k.t === 1)?.position).toEqual([2, 0, -2]);
	});
});

describe('the trace of a run', () => {
	const run: Run = {
		id: 'r',
		duration: 0.2,
		step: 0.1,
		tracks: [{ object: 'near', keys: [{ t: 0.1, position: [0, 0, -9] }] }],
		watch: [{ query: 'q' }, { id: 'again', query: 'q' }],
	};

	it('names its format and project, and asks each watched query once a line, with what it got or nothing', () => {
		const p: Project = { ...small(), queries: [ahead({ length: 5 })] };
		const [head, ...lines] = [...traceOfRun(p, run)] as [object, ...TraceLine[]];
		expect(head).toEqual({ format: 'frelk-trace/1', project: 'test', clock: 's' });
		expect(lines.map((l) => [l.t, l.asked])).toEqual([
			[0, [{ query: 'q', got: ['near'] }]],
			[0.1, [{ query: 'q', got: null }]],
			[0.2, [{ query: 'q', got: null }]],
		]);
		expect(isTrace(JSON.stringify(head))).toBe(true);
		expect(isTrace(JSON.stringify(p))).toBe(false);
		expect(isTrace(`${' '.repeat(2000)}${JSON.stringify(head)}`)).toBe(false);
	});

	it('of a run that watches nothing asks nothing, and tells what effects have set', () => {
		const bare = [...traceOfRun(small(), { ...run, watch: [] })].slice(1) as TraceLine[];
		expect(bare.every((l) => (l.asked ?? []).length === 0)).toBe(true);
		const p: Project = {
			...small(),
			queries: [ahead({ outcomes: [{ when: [], action: 'light' }] })],
			effects: [{ action: 'light', do: [{ of: 'target', set: { states: { lit: true } } } as never] }],
		} as Project;
		const pressed: Run = { ...run, tracks: [], presses: [{ watch: 'q', at: 0 }], watch: [{ query: 'q' }] };
		const told = [...traceOfRun(p, pressed)].slice(1) as TraceLine[];
		const set = runThrough(p, pressed).events.some((e) => e.kind === 'press' && e.objects.includes('near'));
		expect(set).toBe(true);
		const scene = new TraceScene(p);
		const lit = told.map((line) => {
			scene.tell(line);
			return scene.world.objectById.get('near')?.states.lit ?? null;
		});
		expect(lit).toEqual([null, true, true]);
	});
});

describe('a line that is read', () => {
	const reader = new TraceReader(small());
	const read = (line: object) => {
		try {
			return reader.line(JSON.stringify({ t: 0, ...line }), 2) && 'well';
		} catch (error) {
			return (error as Error).message;
		}
	};

	it.each([
		['a tag the scene has', { objects: { near: { tags: ['gull', 'crank'] } } }, 'well'],
		[
			'a tag it has not',
			{ objects: { near: { tags: ['gull', 'gul'] } } },
			'objects.near.tags: no tag "gul" (did you mean "gull"?)',
		],
		['a side it has', { objects: { near: { side: 'us' } } }, 'well'],
		['no side', { objects: { near: { side: null } } }, 'well'],
		[
			'a side it has not',
			{ objects: { near: { side: 'uz' } } },
			'objects.near.side: no side "uz" (did you mean "us"?)',
		],
		['a shape it has', { objects: { near: { shapes: { box: { enabled: false } } } } }, 'well'],
		[
			'a shape of nobody’s',
			{ objects: { cart: { shapes: { box: { enabled: false } } } } },
			'objects.cart.shapes: no shape "box"',
		],
		['a cursor of a pick', { queries: { pick: { cursor: [1, 2] } } }, 'well'],
	])('with %s', (_name, line, wanted) => {
		expect(read(line)).toBe(wanted);
	});

	it('may be as long as the bound, and no longer; no list, no number, nothing', () => {
		const long = (n: number) => reader.line(`{"t":0${' '.repeat(n - 7)}}`, 2);
		expect(long(4_000_000).t).toBe(0);
		expect(() => long(4_000_001)).toThrow('at most 4000000');
		for (const text of ['[]', '3', 'null', '"x"'])
			expect(() => reader.line(text, 2)).toThrow('expected an object; a trace has one a line');
		expect(() => readTraceHead('{"format":"frelk-trace/1","project":"other"}', small())).toThrow('other');
		expect(readTraceHead('{"format":"frelk-trace/1","project":"test"}', small()).project).toBe('test');
		expect(readTraceHead('{"format":"frelk-trace/1","project":"other"}').project).toBe('other');
	});
});

describe('the scene that is told', () => {
	it('a copy goes its own way, and takes along all that was told', () => {
		const scene = new TraceScene(small());
		scene.tell({
			t: 0,
			objects: { near: { position: [1, 0, -2] } },
			cameras: { eye: { position: [0, 2, 0] } },
			queries: { pick: { cursor: [5, 6] } },
			states: { dark: true },
		});
		const other = scene.copy();
		scene.tell({ t: 1, objects: { near: { position: [9, 9, 9] } }, states: { dark: false } });
		other.tell({ t: 1, objects: { near: { active: false } }, cameras: { eye: { rotation: [5, 0, 0] } } });
		const { objects, cameras, queries, states } = other.laid();
		expect(objects[0]).toMatchObject({ position: [1, 0, -2], active: false });
		expect(cameras[0]).toMatchObject({ position: [0, 2, 0], rotation: [5, 0, 0] });
		expect(queries[1]).toMatchObject({ cursor: [5, 6] });
		expect(states).toEqual({ dark: true });
		expect(scene.laid().objects[0]).toMatchObject({ position: [9, 9, 9] });
		expect(scene.world.states).toEqual({ dark: false });
	});

	it('names what the project does not know, of each kind, and lays the rest', () => {
		const scene = new TraceScene(small());
		const line: TraceLine = {
			t: 0,
			objects: { ghost: { active: false }, near: { active: false } },
			cameras: { nowhere: { position: [0, 0, 0] } },
			queries: { nothing: { enabled: false } },
		};
		expect(scene.tell(line)).toEqual(['ghost', 'nowhere', 'nothing']);
		expect(scene.laid().objects[0]?.active).toBe(false);
	});

	it('places told in the world follow what they hang on no further, each field by itself', () => {
		const scene = new TraceScene(small());
		scene.tell({ t: 0, objects: { load: { position: [3, 0, -4], scale: [2, 4, 6], world: true } } });
		const at = () => scene.world.objectById.get('load');
		expect(at()?.position.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([3, 0, -4]);
		expect(at()?.scale).toEqual([2, 4, 6]);
		scene.tell({ t: 1, objects: { cart: { position: [50, 0, 0] } } });
		expect(at()?.position.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([3, 0, -4]);
		// Told in its parent's axes it hangs on it again, the place alone.
		scene.tell({ t: 2, objects: { load: { position: [0, 1, 0] } } });
		expect(at()?.position).toEqual([50, 2, 0]);
		expect(at()?.scale).toEqual([2, 4, 6]);
		scene.tell({ t: 3, objects: { load: { rotation: [0, 0, 0], world: true } } });
		expect(Math.round(Number(at()?.rotation[0]) * 1e9)).toBe(1e9);
	});

	it('in a flat scene turns by the roll alone', () => {
		const flat = project(
			[
				object('wheel', [1, 0, 0], [], { rotation: [0, 0, 30] }),
				object('spoke', [0, 1, 0], [disc(0.1)], { parent: 'wheel' }),
			],
			[],
			{ kind: 'flat' },
		);
		const scene = new TraceScene(flat);
		scene.tell({ t: 0, objects: { spoke: { rotation: [0, 0, 10], world: true } } });
		expect(scene.laid().objects[1]?.rotation?.[2]).toBeCloseTo(-20, 9);
	});
});
