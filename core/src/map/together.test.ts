/** What maps do to be fast changes no cell: rays that share their walk, coarse to fine, gaps measured only where they may be least. */
import fc from 'fast-check';
import { XMLParser } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import type { Project, Query, QueryMap } from '../project/schema';
import { Answerer } from '../query/answer';
import { STAGES } from '../query/types';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { ahead, ball, box, object, project } from '../tests/scene';
import { MapAsker } from './ask';
import { type Asked, type Block, CELL, UNSETTLED } from './cell';
import { compareMaps } from './compare';
import { askMap, askRows, type MapResult } from './map';
import { hatchOfPlace, paint, toneOfPlace } from './paint';
import { type Refining, refine, standsFor } from './refine';
import { mapSvg, namesOn } from './svg';

/** Many shapes of all kinds before a camera, some of them behind one another, some blocking, some flush. */
function crowd(seed: number, count: number, projection: object): Project {
	const d = dice(seed);
	const shape = () => {
		const r = d.between(0.2, 0.9);
		switch (d.of(['box', 'ball', 'capsule', 'cylinder', 'hull', 'mesh'])) {
			case 'box':
				return box([2 * r, r, r]);
			case 'ball':
				return ball(r);
			case 'capsule':
				return { id: 's', kind: 'capsule', radius: r / 3, height: 2 * r };
			case 'cylinder':
				return { id: 's', kind: 'cylinder', radius: r / 2, height: r };
			case 'hull':
				return {
					id: 's',
					kind: 'hull',
					points: [
						[r, 0, 0],
						[-r, 0, 0.1],
						[0, r, 0],
						[0, 0, r],
						[0, -r, -r],
					],
				};
			default:
				return {
					id: 's',
					kind: 'mesh',
					vertices: [-r, -r, 0, r, -r, 0, 0, r, 0.2],
					triangles: [0, 1, 2],
				};
		}
	};
	const alone = Array.from({ length: count }, (_, i) =>
		object(`o${i}`, [d.between(-6, 6), d.between(-4, 4), Math.round(d.between(-9, -2))], [shape() as never], {
			rotation: d.chance(0.5) ? [0, 0, 0] : [d.between(-180, 180), d.between(-60, 60), 0],
			layer: d.of(['a', 'b', 'wall']),
		}),
	);
	return project(
		// Some have a twin in the same place: a tie.
		[...alone, ...alone.filter((_, i) => i % 6 === 0).map((o) => ({ ...o, id: `${o.id}-twin` }))],
		[
			{
				id: 'q',
				kind: 'pick',
				camera: 'eye',
				viewport: [75, 50],
				selects: { layers: ['a'] },
				sight: { blockers: ['wall'] },
				length: 30,
			} as Query,
		],
		{ cameras: [{ id: 'eye', position: [0.3, 0.2, 1], rotation: [3, -2, 1], ...projection }] as never },
	);
}

describe('rays that share their walk', () => {
	it.each([
		['perspective', { projection: 'perspective', fov: 70, far: 30 }],
		['wide perspective', { projection: 'perspective', fov: 160, far: 30 }],
		['orthographic', { projection: 'orthographic', height: 9, far: 30 }],
	])('say cell by cell what each says by itself: %s', (_name, projection) => {
		let [hit, tied] = [0, 0];
		for (let seed = 1; seed <= runs(12); seed++) {
			const p = crowd(seed, 10 + 15 * (seed % 9), projection);
			const asker = new MapAsker(p, { id: 'm', query: 'q', kind: 'cursor', cell: 1 } as QueryMap);
			const { values } = askRows(asker, 0, asker.grid.rows);
			const answerer = new Answerer(new MapAsker(p, { id: 'm', query: 'q', kind: 'cursor' } as QueryMap).world);
			for (let at = 0; at < values.length; at++) {
				const cursor: [number, number] = [(at % 75) + 0.5, Math.floor(at / 75) + 0.5];
				const { status, selected } = answerer.winner({ ...(p.queries[0] as Query), cursor } as Query);
				const want =
					status === 'tie'
						? CELL.tie
						: selected[0]
							? p.scene.objects.findIndex((o) => o.id === selected[0]?.object)
							: CELL.none;
				expect(values[at], `seed ${seed}, cursor ${cursor}`).toBe(want);
				if (want >= 0) hit++;
				if (want === CELL.tie) tied++;
			}
		}
		expect(hit).toBeGreaterThan(0);
		expect(tied).toBeGreaterThan(0);
	});
});

describe('coarse to fine', () => {
	const maps: [string, Project, QueryMap][] = [
		[
			'of cursors',
			crowd(3, 60, { projection: 'perspective', fov: 70 }),
			{ id: 'm', query: 'q', kind: 'cursor', cell: 1 } as QueryMap,
		],
		[
			'of the floor, with headings',
			project(
				[object('who', [0, 0, 0], [ball(0.3)], { layer: 'b' }), object('x', [1, 0, -2], [box([1, 1, 1])])],
				[ahead({ asker: 'who', from: { object: 'who' }, aim: { along: [0, 0, -1], of: 'who' }, length: 3 })],
			),
			{ id: 'm', query: 'q', kind: 'floor', area: { min: [-4, -4], max: [4, 4] }, every: 0.4, headings: 3 } as QueryMap,
		],
	];
	it.each(maps)('ends as the whole, asks each answer once, and is whole in its steps before: %s', (_name, p, map) => {
		const asker = new MapAsker(p, { ...map, query: p.queries[0]?.id ?? '' });
		const whole = askRows(asker, 0, asker.grid.rows).values;
		let asked = 0;
		const seen: Refining[] = [];
		const counting = Object.create(asker, {
			askBlock: {
				value: (block: Block, given: Asked, also: () => void) => {
					for (let y = block[1]; y < block[3]; y++)
						for (
							let i = (y * asker.grid.columns + block[0]) * asker.grid.headings;
							i < (y * asker.grid.columns + block[2]) * asker.grid.headings;
							i++
						)
							if (given.known?.[i] === 0) asked++;
					asker.askBlock(block, given, also);
				},
			},
		}) as MapAsker;
		const going = refine(counting);
		const steps = new Set<number>();
		for (let next = going.next(); !next.done; next = going.next()) {
			const { values, step, row, rows } = next.value;
			seen.push(next.value);
			steps.add(step);
			expect(row).toBeLessThanOrEqual(rows);
			if (step <= 16)
				for (let at = 0; at < values.length; at++) {
					const from = standsFor(asker.grid, step, at);
					expect(values[from]).not.toBe(UNSETTLED);
					expect(values[from]).toBe(whole[from]);
				}
		}
		expect([...steps]).toEqual([256, 16, 4, 1]);
		expect(seen.at(-1)?.values).toEqual(whole);
		expect(asked).toBe(asker.answers);
	});

	it('names the answer that stands for one', () => {
		const grid = { columns: 10, headings: 2 };
		expect(standsFor(grid, 4, 0)).toBe(0);
		expect(standsFor(grid, 4, 2 * 13 + 1)).toBe(1);
		expect(standsFor(grid, 4, 2 * 49)).toBe(2 * 48);
		expect(standsFor(grid, 1, 2 * 49 + 1)).toBe(2 * 49 + 1);
	});
});

describe('what is never selected', () => {
	/** The contract's sentence, by asking every answer of the sample in full. */
	function plainly(p: Project, map: QueryMap, result: ReturnType<typeof askMap>) {
		const asker = new MapAsker(p, map);
		const every = Math.ceil(asker.answers / 1000);
		const selected = new Set(result.objects);
		const seen = new Map<string, { stage: string; margin: number | null; met: boolean }[]>();
		for (let at = 0; at < asker.answers; at += every)
			for (const v of asker.explain(at)?.verdicts ?? [])
				seen.set(v.object, [
					...(seen.get(v.object) ?? []),
					{ stage: v.stage, margin: v.margin ?? null, met: v.met !== undefined },
				]);
		return asker.everyone().flatMap(({ id, answersFor }) => {
			const list = seen.get(id) ?? [];
			if (selected.has(id) || selected.has(answersFor.id)) return [];
			const comesTo = (least: string) => (v: { stage: string; met: boolean }) =>
				v.met || STAGES.indexOf(v.stage as never) >= STAGES.indexOf(least as never);
			if (!list.some(comesTo('touch'))) return [];
			const commonest = (of: typeof list) => {
				const times = STAGES.map((stage) => of.filter((v) => v.stage === stage).length);
				const stage = STAGES[times.indexOf(Math.max(...times))] as string;
				const margins = of.flatMap((v) => (v.stage === stage && v.margin !== null ? [v.margin] : []));
				return { stage, margin: margins.length > 0 ? Math.min(...margins) : null };
			};
			const there = list.filter(comesTo('range'));
			return [{ object: id, ...commonest(list), over: there.length > 0 ? commonest(there) : null }];
		});
	}

	it('is what a plain count finds, in random projects', () => {
		let found = 0;
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 1_000_000 }), (seed) => {
				const p = randomProject(seed);
				for (const query of p.queries) {
					const map = (
						query.kind === 'pick'
							? { id: 'm', query: query.id, kind: 'cursor', cell: Math.ceil(Math.max(...query.viewport) / 9) }
							: query.asker !== undefined
								? {
										id: 'm',
										query: query.id,
										kind: 'floor',
										area: { min: [-2, -2], max: [2, 2] },
										every: 1,
										headings: 2,
									}
								: null
					) as QueryMap | null;
					if (!map) continue;
					const result = askMap(p, map);
					const want = plainly(p, map, result);
					const told = (list: readonly { object: string; stage: string; over: { stage: string } | null }[]) =>
						list.map(({ object: id, stage, over }) => [id, stage, over?.stage ?? null]);
					expect(told(result.figures.never)).toEqual(told(want));
					result.figures.never.forEach((n, i) => {
						for (const [got, margin] of [
							[n.margin, want[i]?.margin ?? null],
							[n.over?.margin ?? null, want[i]?.over?.margin ?? null],
						] as const)
							if (margin === null || got === null) expect(got).toBe(margin);
							else expect(got).toBeCloseTo(margin, 7);
						found++;
					});
				}
			}),
			{ numRuns: runs(60) },
		);
		expect(found).toBeGreaterThan(runs(40));
	});
});

describe('a picture', () => {
	const shown = Int32Array.from([0, 0, 1, CELL.none, CELL.tie, 1, CELL.out, CELL.off, 1]);
	const at = (out: Uint8ClampedArray, i: number) => [...out.subarray(4 * i, 4 * i + 4)];

	it('has a tone an object, edges where values meet, and ties in a tone of their own', () => {
		const out = paint(shown, 3, 3);
		// Beside itself and above another: an edge. The last of a row has no neighbour there.
		expect(at(out, 0)).toEqual([20, 36, 43, 255]);
		expect(at(out, 2)).toEqual([...toneOfPlace(1), 255].map((v, k) => (k < 3 ? Math.round(v) : v)));
		const alone = paint(Int32Array.from([CELL.tie]), 1, 1);
		expect(at(alone, 0)).toEqual([163, 32, 111, 255]);
		expect(at(paint(Int32Array.from([CELL.out]), 1, 1), 0)).toEqual([60, 70, 76, 255]);
		expect(at(paint(Int32Array.from([CELL.off]), 1, 1), 0)).toEqual([152, 163, 168, 255]);
	});

	it('dots where nothing is in the way and something does not bear it', () => {
		const out = paint(new Int32Array(49).fill(CELL.unborne), 7, 7);
		expect([at(out, 0), at(out, 8), at(out, 24)]).toEqual([
			[152, 163, 168, 255],
			[152, 163, 168, 255],
			[238, 242, 243, 255],
		]);
	});

	it('dims all but what is lit, and over another leaves out where nothing is', () => {
		const one = (value: number, painting: object) => at(paint(Int32Array.from([value]), 1, 1, painting), 0)[3];
		expect([one(0, {}), one(0, { lit: 0 }), one(0, { lit: 1 })]).toEqual([255, 255, 46]);
		expect([one(0, { alpha: 0.5 }), one(CELL.none, { alpha: 0.5 }), one(CELL.none, {})]).toEqual([128, 0, 255]);
	});

	it('tells sixty objects apart', () => {
		const looks = new Set(Array.from({ length: 60 }, (_, i) => `${toneOfPlace(i)} ${hatchOfPlace(i)}`));
		expect(looks.size).toBe(60);
	});

	it('as SVG has the names, the legend and nothing of markup in them', () => {
		const p = project(
			[object('a', [0, 0, -5.5], [box([6, 3, 1])], { name: 'A <b> & co' }), object('b', [40, 0, -5], [box([1, 1, 1])])],
			[{ id: 'q', kind: 'pick', camera: 'eye', viewport: [8, 6] } as Query],
		);
		const map = { id: 'm', query: 'q', kind: 'cursor', cell: 1 } as QueryMap;
		const svg = mapSvg(map, askMap(p, map), (id) => p.scene.objects.find((o) => o.id === id)?.name ?? id);
		expect(new XMLParser({ ignoreAttributes: false }).parse(svg).svg['@_aria-label']).toBe('m');
		expect(svg).not.toContain('<b>');
		expect(svg.match(/A &lt;b&gt; &amp; co/g)).toHaveLength(2);
		// Two rows of four cells are one rectangle; its eight units fit the picture.
		expect(svg).toContain('d="M2 2h4v2h-4z"');
		expect(svg).toContain('16.67 % · 1 px wide (under 24)');
		expect(svg).toContain('never: b · mostly missed');
	});

	it('names the larger of two areas whose names would lie over each other', () => {
		const cells = Int32Array.from([1, 0]);
		const told = (scale: number, nameOf: (value: number) => string) =>
			namesOn(cells, 2, 1, scale, nameOf).map((n) => n.text);
		expect(told(20, (value) => `a long name ${value}`)).toEqual(['a long name 1']);
		expect(told(20, String)).toEqual(['1', '0']);
		// Twenty-eight letters are written whole; of more the first, on what they name.
		expect(told(400, () => 'x'.repeat(28))).toContain('x'.repeat(28));
		expect(told(400, () => 'x'.repeat(29))).toContain(`${'x'.repeat(27)}…`);
		// Ten units are room enough for a name, and less is not.
		expect(told(10, String)).toEqual(['1', '0']);
		expect(told(9.9, String)).toEqual([]);
	});
});

describe('two maps', () => {
	const of = (objects: string[], cells: number[], more: object = {}) =>
		({ map: 'm', columns: 3, rows: 2, headings: null, objects, cells, ...more }) as unknown as MapResult;

	it('tell what changed hands, by name whatever its place among the objects, the most first', () => {
		const before = of(['a', 'b'], [0, 0, 1, CELL.none, CELL.tie, CELL.out]);
		const after = of(['b', 'c'], [0, 0, 0, 1, CELL.tie, CELL.off]);
		const { changed, differ, answers, handed } = compareMaps(before, after);
		expect([...changed]).toEqual([1, 1, 0, 1, 0, 1]);
		expect([differ, answers]).toEqual([4, 6]);
		expect(handed).toEqual([
			{ from: { object: 'a' }, to: { object: 'b' }, answers: 2 },
			{ from: 'nothing', to: { object: 'c' }, answers: 1 },
			{ from: 'no place', to: 'off', answers: 1 },
		]);
		expect(compareMaps(before, before)).toMatchObject({ differ: 0, handed: [] });
		// An object called as what is no object is called is still one.
		expect(compareMaps(of(['nothing'], [0]), of([], [CELL.none])).handed).toEqual([
			{ from: { object: 'nothing' }, to: 'nothing', answers: 1 },
		]);
	});

	it('of different grids are refused', () => {
		const one = of([], [-1, -1, -1, -1, -1, -1]);
		for (const more of [{ columns: 2 }, { rows: 3 }, { headings: 1 }])
			expect(() => compareMaps(one, of([], [], more))).toThrow('different grids');
	});
});
