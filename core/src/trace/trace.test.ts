/** Traces: reading, what holds until told again, places in the world, and each difference found and none invented. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkProject } from '../project/read';
import type { Project } from '../project/schema';
import { runThrough } from '../run/run';
import { example } from '../tests/examples';
import { randomRun } from '../tests/run';
import { runs } from '../tests/runs';
import { ahead, box, object, project } from '../tests/scene';
import { buildWorld } from '../world/world';
import { projectAsTold, runOfTrace, traceOfRun, withTraceMoment } from './make';
import { readTraceHead, type TraceError, TraceReader } from './read';
import { Replay, reasonOfCompared, wordsOfCompared } from './replay';
import { TraceScene } from './scene';
import type { TraceLine } from './schema';

const small = (): Project =>
	project(
		[
			object('near', [0, 0, -2], [box([1, 1, 1])]),
			object('far', [0, 0, -5], [box([1, 1, 1])]),
			object('cart', [3, 0, 0], [], { rotation: [90, 0, 0], scale: [2, 2, 2] }),
			object('load', [0, 1, 0], [box([1, 1, 1])], { parent: 'cart' }),
		],
		[ahead()],
	);

const replayed = (p: Project, lines: TraceLine[]) => {
	const replay = new Replay(p);
	return lines.map((line, i) => replay.line(line, i + 2));
};

describe('lines of a trace', () => {
	const reader = new TraceReader(small());
	const wrong = (line: unknown): string => {
		try {
			reader.line(typeof line === 'string' ? line : JSON.stringify(line), 7);
		} catch (error) {
			expect((error as TraceError).line).toBe(7);
			return (error as Error).message;
		}
		throw new Error('nothing was wrong with it');
	};

	it('are told with their place and what would be right', () => {
		expect(wrong('{"t": 1')).toContain('is not JSON');
		expect(wrong([])).toBe('expected an object; a trace has one a line');
		expect(wrong({ asked: [] })).toBe('t: is missing; expected a finite number');
		expect(wrong({ t: 1, objcts: {} })).toBe('objcts: unknown key "objcts" (did you mean "objects"?)');
		expect(wrong({ t: 1, asked: [{ query: 'q' }] })).toContain('asked[0].got: is missing');
		expect(wrong({ t: 1, objects: { near: { layer: 'wals' } } })).toBe(
			'objects.near.layer: no layer "wals" (did you mean "wall"?)',
		);
		expect(wrong({ t: 1, objects: { near: { parent: 'nobody' } } })).toContain(
			'objects.near.parent: no object "nobody"',
		);
		expect(wrong({ t: 1, objects: { near: { shapes: { nose: { enabled: false } } } } })).toContain(
			'objects.near.shapes: no shape "nose"',
		);
		expect(wrong({ t: 1, queries: { q: { cursor: [1, 2] } } })).toBe(
			'queries.q.cursor: only a pick has a cursor; this is a ray',
		);
		expect(wrong('{"t":1,"extras":'.concat('['.repeat(64), ']'.repeat(64), '}'))).toContain('nested more than 64');
		expect(wrong(' '.repeat(4_000_001))).toContain('at most 4000000');
	});

	it('begin with one that names the format, and the project where it names one', () => {
		expect(readTraceHead('{"format":"frelk-trace/1","clock":"s"}').clock).toBe('s');
		expect(() => readTraceHead('{"format":"frelk-trace/2"}')).toThrow('expected "frelk-trace/1"');
		expect(() => readTraceHead('{"format":"frelk-trace/1","clock":"ms"}')).toThrow('seconds of play');
		expect(() => readTraceHead('{"format":"frelk-trace/1","project":"other"}', small())).toThrow(
			'is a trace of "other"',
		);
	});
});

describe('what was told', () => {
	it('holds until it is told again', () => {
		const [a, b, c] = replayed(small(), [
			{ t: 0, objects: { near: { active: false } }, asked: [{ query: 'q', got: ['far'] }] },
			{ t: 1, asked: [{ query: 'q', got: ['far'] }] },
			{ t: 2, objects: { near: { active: true } }, asked: [{ query: 'q', got: ['near'] }] },
		]);
		expect([a, b, c].map((l) => l.compared[0].result)).toEqual(['same', 'same', 'same']);
	});

	it('of a camera in the world becomes that of the object it is on', () => {
		const p = small();
		p.scene.cameras[0].object = 'cart';
		const scene = new TraceScene(p);
		const { id } = p.scene.cameras[0];
		scene.tell({ t: 0, cameras: { [id]: { position: [3, 5, 1], rotation: [90, 0, 0], world: true } } });
		expect(scene.world.cameras.get(id)?.position.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([3, 5, 1]);
		// The cart is turned by as much itself.
		const { rotation, position } = projectAsTold(scene).scene.cameras[0];
		expect(rotation?.map((v) => v + 0)).toEqual([0, 0, 0]);
		expect(position.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([-0.5, 2.5, 0]);
	});

	it('in the world becomes the parent’s, and follows it no further', () => {
		const scene = new TraceScene(small());
		scene.tell({
			t: 0,
			objects: { load: { position: [3, 5, 1], rotation: [90, 0, 0], scale: [4, 2, 2], world: true } },
		});
		const place = () => {
			const load = scene.world.objectById.get('load');
			return [load?.position.map((v) => Math.round(v * 1e9) / 1e9), load?.scale];
		};
		expect(place()).toEqual([
			[3, 5, 1],
			[4, 2, 2],
		]);
		// Local: the cart is turned a quarter to the left and twice as large.
		const def = projectAsTold(scene).scene.objects[3];
		expect(def.position?.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([-0.5, 2.5, 0]);
		expect(def.rotation?.map((v) => v + 0)).toEqual([0, 0, 0]);
		expect(def.scale).toEqual([2, 1, 1]);
		scene.tell({ t: 1, objects: { cart: { position: [10, 0, 0] } } });
		expect(place()[0]).toEqual([3, 5, 1]);
		// A place of its own again.
		scene.tell({ t: 2, objects: { load: { position: [0, 1, 0] } } });
		expect(place()[0]).toEqual([10, 2, 0]);
	});

	it('tell of what the game took the stand-in that came furthest, at any stage', () => {
		const at = (z: number): [number, number, number] => [0, 0, z];
		const stand = (id: string, z: number, more: object) =>
			object(id, at(z), [box([1, 1, 1])], { standsFor: 'door', ...more });
		const p = project(
			[
				object('door', at(-9), [], { layer: 'wall' }),
				stand('knob', -2, { layer: 'b' }),
				stand('bell', -4, {}),
				stand('mat', -6, { active: false }),
			],
			[ahead({ selects: { layers: ['a'], tags: { all: ['crank'] } } })],
		);
		const [line] = replayed(p, [{ t: 0, asked: [{ query: 'q', got: ['door'] }] }] as TraceLine[]);
		expect(line.compared[0].verdicts.map((v) => [v.object, v.stage])).toEqual([['bell', 'tags']]);
	});

	it('moves the world there is as one built afresh would stand', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.tuple(fc.constantFrom('near', 'far', 'cart', 'load'), fc.integer({ min: -4, max: 4 }), fc.boolean()),
					{
						minLength: 1,
						maxLength: 8,
					},
				),
				(moves) => {
					const scene = new TraceScene(small());
					void scene.world;
					moves.forEach(([id, x, world], i) => {
						scene.tell({ t: i, objects: { [id]: { position: [x, 0, -x], world } } });
						const anew = buildWorld(projectAsTold(scene));
						for (const o of anew.objects) expect(scene.world.objectById.get(o.id)?.position).toEqual(o.position);
					});
				},
			),
			{ numRuns: runs(60) },
		);
	});

	it('is refused where it would hang something on itself, and nothing of it stays', () => {
		const replay = new Replay(small());
		expect(() => replay.line({ t: 0, objects: { cart: { parent: 'load', position: [9, 9, 9] } } }, 4)).toThrow(
			'"cart" would hang on itself',
		);
		expect(replay.scene.world.objectById.get('cart')?.position).toEqual([3, 0, 0]);
	});
});

describe('a replay', () => {
	const naming = (_: unknown, id: string) => id.toUpperCase();
	it('finds each difference, with the verdict on what the game took', () => {
		const [line] = replayed(small(), [
			{
				t: 0.5,
				objects: { ghost: { active: true } },
				asked: [
					{ query: 'q', got: ['near'] },
					{ query: 'q', got: ['far'], note: 'seen at 0.5' },
					{ query: 'q', got: null },
					{ query: 'q', got: ['spook'] },
					{ query: 'no', got: null },
				],
			},
		]);
		expect(line.unknown).toEqual(['ghost']);
		expect(line.compared.map((c) => [c.result, reasonOfCompared(c)])).toEqual([
			['same', 'order'],
			['other', 'choice'],
			['other', 'nothing'],
			['unknown', 'unknown'],
			['unknown', 'unknown'],
		]);
		expect(line.compared[1]).toMatchObject({ line: 2, place: 1, t: 0.5, note: 'seen at 0.5', selected: ['near'] });
		expect(wordsOfCompared(line.compared[1], undefined, naming as never)).toBe(
			'the game took FAR: 3 m farther than NEAR; Frelk selects NEAR',
		);
		expect(wordsOfCompared(line.compared[2], undefined)).toBe('the game took nothing; Frelk selects near');
		expect(wordsOfCompared(line.compared[3], undefined)).toBe(
			'the game took spook (spook: not in this project); Frelk selects near',
		);
		expect(wordsOfCompared(line.compared[4], undefined)).toBe('the game took nothing; there is no query "no" here');
	});

	it.each<[string, string[], string[], string, string]>([
		['unknown', [], [], 'same', 'unknown'],
		['different', ['a'], [], 'selected', 'nothing'],
		['different', ['a', 'b'], ['a'], 'selected', 'fewer'],
		['different', ['a', 'b'], ['b', 'a'], 'selected', 'order'],
		['different', [], [], 'off', 'off'],
	])('%s: wanted %j, got %j, %s: is put together under %s', (result, selected, got, status, reason) => {
		const compared = { result, selected, got, status, verdicts: [] } as unknown as Parameters<
			typeof reasonOfCompared
		>[0];
		expect(reasonOfCompared(compared)).toBe(reason);
	});

	it('takes another order for another answer, and nothing for an empty list', () => {
		const p = small();
		p.queries = [ahead({ choose: { take: 'all' } })];
		const [line] = replayed(p, [
			{
				t: 0,
				asked: [
					{ query: 'q', got: ['near', 'far'] },
					{ query: 'q', got: ['far', 'near'] },
				],
			},
			{
				t: 1,
				objects: { near: { active: false }, far: { active: false } },
				asked: [
					{ query: 'q', got: null },
					{ query: 'q', got: [] },
				],
			},
		]);
		expect(line.compared.map((c) => c.result)).toEqual(['same', 'other']);
		expect(wordsOfCompared(line.compared[1], undefined)).toContain('in another order');
	});

	it('of a run of Frelk’s own is without a difference; one that is put in is found, and no other', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				const p = randomRun(seed);
				const [run] = p.runs ?? [];
				if (!run) return;
				const [, ...lines] = [...traceOfRun(p, run)] as [unknown, ...TraceLine[]];
				const text = lines.map((l) => JSON.stringify(l));
				const reader = new TraceReader(p);
				const read = text.map((l, i) => reader.line(l, i + 2));
				const all = () => replayed(p, read).flatMap((l) => l.compared);
				expect(all().filter((c) => c.result !== 'same')).toEqual([]);
				const at = seed % read.length;
				const asked = read[at].asked?.[0];
				if (!asked) return;
				asked.got = (asked.got ?? []).length > 0 ? null : [p.scene.objects[0].id];
				const found = all().filter((c) => c.result !== 'same');
				expect(found.map((c) => [c.line, c.query])).toEqual([[at + 2, asked.query]]);
			}),
			{ numRuns: runs(60) },
		);
	});
});

describe('what is kept of a trace', () => {
	const quay = example('harl-quay');

	it('a line is a moment that answers as the line did', () => {
		const scene = new TraceScene(small());
		scene.tell({
			t: 0,
			objects: { near: { active: false }, load: { position: [0, 0, -9], world: true } },
			states: { dark: true },
		});
		const kept = withTraceMoment(scene, { id: 'then', name: 'Then' });
		expect(checkProject(kept).ok).toBe(true);
		const world = buildWorld(kept, 'then');
		expect(world.objectById.get('load')?.position.map((v) => Math.round(v * 1e9) / 1e9)).toEqual([0, 0, -9]);
		expect(world.objectById.get('near')?.active).toBe(false);
		expect(world.states.dark).toBe(true);
		expect(kept.scene).toEqual(small().scene);
	});

	it('a stretch is a run that does the same', () => {
		for (const run of (quay.runs ?? []).slice(0, 3)) {
			const [, ...lines] = [...traceOfRun(quay, run)] as [unknown, ...TraceLine[]];
			const kept = runOfTrace(quay, lines, 0, lines.length - 1, { id: 'kept' });
			expect(checkProject({ ...quay, runs: [...(quay.runs ?? []), kept] })).toMatchObject({ ok: true });
			expect(kept.duration).toBeCloseTo(run.duration, 6);
			expect(kept.step).toBeCloseTo(run.step, 9);
			const first = (r: typeof run) =>
				runThrough({ ...quay, effects: [] }, { ...r, between: 1, watch: kept.watch }).watch.map((w) => w.changes);
			// Thinned to within 5 mm: where two are as near, one may come a step earlier, and stay or not.
			const [is, was] = [first(kept), first({ ...run, swings: [], presses: [] })];
			expect(is.every((n, i) => Math.abs(n - (was[i] ?? Number.NaN)) <= 2)).toBe(true);
		}
	});

	it('what stood still and then was elsewhere stood still until then', () => {
		const lines: TraceLine[] = [0, 1, 2, 3].map((t) => ({
			t,
			...(t === 3 ? { objects: { near: { position: [4, 0, 0] } } } : {}),
		}));
		const kept = runOfTrace(small(), lines, 0, 3, { id: 'kept' });
		expect(kept.tracks).toEqual([
			{
				object: 'near',
				keys: [
					{ t: 2, position: [0, 0, -2] },
					{ t: 3, position: [4, 0, 0] },
				],
			},
		]);
		expect(kept).toMatchObject({ duration: 3, step: 1 });
	});
});
