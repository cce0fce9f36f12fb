/** Maps equal single answers cell by cell, whatever is split; figures by hand and against plain counting; what the file may say of them. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { eulerOf, multiply, rotationOf, turned } from '../geometry/matrix';
import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Project, Query, QueryMap } from '../project/schema';
import { removeReferences } from '../project/uses';
import { Answerer } from '../query/answer';
import type { Answer } from '../query/types';
import { randomProject } from '../tests/project';
import { runs } from '../tests/runs';
import { ahead, ball, box, object, project, rect } from '../tests/scene';
import { buildWorld } from '../world/world';
import { MapAsker } from './ask';
import { CELL } from './cell';
import { largestCircles } from './figures';
import { askMap, askRows, joinedParts, resultOf } from './map';
import { checkMaps } from './memory';
import { shownIn } from './svg';

const pick = (more: object = {}): Query =>
	({ id: 'q', kind: 'pick', camera: 'eye', viewport: [8, 6], ...more }) as Query;
const withMaps = (p: Project, ...maps: object[]): Project => {
	const next = { ...p, maps } as Project;
	const reading = checkProject(JSON.parse(JSON.stringify(next)));
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
};
const problemsOf = (p: Project, ...maps: object[]): string[] => {
	const reading = checkProject(JSON.parse(JSON.stringify({ ...p, maps })));
	return reading.ok ? [] : reading.problems.map(formatProblem);
};
const spokenOf = ({ status, selected }: Answer): string =>
	status === 'tie' ? 'tie' : status === 'off' || status === 'waiting' ? 'off' : (selected[0]?.object ?? 'none');
const said = (result: ReturnType<typeof askMap>): string[] =>
	result.cells.map((c) => (c >= 0 ? result.objects[c] : ['none', 'tie', 'off', 'out'][-1 - c]) as string);

describe('the grid', () => {
	it('of cursors covers the picture, of places and directions reaches their ends', () => {
		const p = project(
			[object('a', [0, 0, -5], [box([1, 1, 1])])],
			[pick({ viewport: [10, 7] }), { ...ahead(), id: 'r', asker: 'a' }],
		);
		const size = (map: object) => {
			const { columns, rows, headings } = askMap(withMaps(p, map), { id: 'm', ...map } as QueryMap);
			return [columns, rows, headings];
		};
		expect(size({ id: 'm', query: 'q', kind: 'cursor' })).toEqual([3, 2, null]);
		expect(size({ id: 'm', query: 'q', kind: 'cursor', cell: 5 })).toEqual([2, 2, null]);
		expect(
			size({ id: 'm', query: 'r', kind: 'floor', area: { min: [0, 0], max: [0.3, 0.2] }, every: 0.1, headings: 3 }),
		).toEqual([4, 3, 3]);
		expect(size({ id: 'm', query: 'r', kind: 'floor', area: { min: [0, 0], max: [0.29, 0] }, every: 0.1 })).toEqual([
			3, 1, 1,
		]);
		expect(size({ id: 'm', query: 'r', kind: 'aim', yaw: [-90, 90], pitch: [0, 45], every: 45 })).toEqual([5, 2, null]);
	});

	it('that cannot be is refused with the place', () => {
		const p = project(
			[object('a', [0, 0, -5], [])],
			[
				pick(),
				ahead({ id: 'r' }),
				ahead({ id: 's', asker: 'a' }),
				ahead({ id: 't', aim: undefined, length: undefined, to: { point: [0, 0, -3] } }),
			],
		);
		const wrong = (map: object) => problemsOf(p, { id: 'm', query: 'q', kind: 'cursor', ...map });
		expect(wrong({})).toEqual([]);
		expect(wrong({ cell: 0 })).toEqual(['maps[0].cell: must be a whole number from 1, got 0']);
		expect(wrong({ cell: 1.5 })).toHaveLength(1);
		expect(wrong({ every: 1 })).toEqual(['maps[0].every: does not go with a map of the kind cursor; it has cell']);
		expect(wrong({ query: 'r' })).toEqual(['maps[0].query: a map of cursor positions asks a pick; "r" is a ray']);
		expect(wrong({ query: 'nowhere' })).toEqual(['maps[0].query: no query "nowhere"']);
		expect(wrong({ moment: 'nowhere' })).toEqual(['maps[0].moment: no moment "nowhere"']);
		const floor = { query: 's', kind: 'floor', area: { min: [0, 0], max: [1, 1] }, every: 1 };
		expect(wrong(floor)).toEqual([]);
		expect(wrong({ ...floor, query: 'r' })).toEqual(['maps[0].query: a floor map moves the asker; "r" has none']);
		expect(wrong({ ...floor, area: { min: [0, 2], max: [1, 1] } })).toEqual([
			'maps[0].area.max[1]: must not be less than min, 2; got 1',
		]);
		expect(wrong({ ...floor, every: 0 })).toHaveLength(1);
		expect(wrong({ ...floor, headings: 0 })).toHaveLength(1);
		expect(wrong({ ...floor, clear: { layers: ['nowhere'] } })).toEqual([
			'maps[0].clear.layers[0]: no layer "nowhere"',
		]);
		expect(wrong({ ...floor, clear: { layers: [] } })).toHaveLength(1);
		expect(wrong({ ...floor, area: { min: [0, 0], max: [1999, 1999] } })).toEqual([]);
		expect(wrong({ ...floor, area: { min: [0, 0], max: [1999, 2000] } })).toEqual([
			'maps[0]: has 4002000 answers; at most 4,000,000 are allowed: make its steps wider',
		]);
		const aim = { query: 'r', kind: 'aim', yaw: [0, 1], pitch: [-90, 90], every: 1 };
		expect(wrong(aim)).toEqual([]);
		expect(wrong({ ...aim, pitch: [-90, 91] })).toEqual(['maps[0].pitch[1]: must be from −90 to 90, got 91']);
		expect(wrong({ ...aim, yaw: [1, 0] })).toHaveLength(1);
		expect(wrong({ ...aim, query: 't' })).toEqual([
			'maps[0].query: a map of directions asks a ray or sweep that aims along a direction; "t" does not',
		]);
		expect(wrong({ kind: 'globe' })).toHaveLength(1);
		const flat = project([object('a', [0, 0, 0], [])], [ahead({ asker: 'a', aim: { along: [1, 0, 0] } })], {
			kind: 'flat',
		});
		expect(problemsOf(flat, { ...floor, id: 'm', query: 'q', y: 1 })).toEqual([
			'maps[0].y: belongs to scenes in space: in a flat one the asker keeps its depth',
		]);
		expect(problemsOf(flat, { ...aim, id: 'm', query: 'q' })[0]).toContain(
			'a map of directions belongs to scenes in space',
		);
	});

	it('goes with its query, and its checks with it', () => {
		const p = withMaps(project([object('a', [0, 0, -5], [])], [pick()]), { id: 'm', query: 'q', kind: 'cursor' });
		p.checks = [{ id: 'c', map: 'm', expect: { tied: { max: 0 } } }];
		expect(checkProject(p).ok).toBe(true);
		const gone: string[] = [];
		expect(removeReferences(p, 'query', 'q', gone)).toMatchObject({ maps: [], checks: [], queries: [] });
		expect(gone).toEqual(['map m', 'check c']);
	});
});

describe('small maps by hand', () => {
	it('of the cursor: a box in the middle of eight by six', () => {
		// 90° from lower to upper edge, six cells high: a cell is a third at distance 1, five thirds at 5.
		const p = withMaps(
			project([object('a', [0, 0, -5.5], [box([6, 3, 1])]), object('b', [40, 0, -5], [box([1, 1, 1])])], [pick()]),
			{ id: 'm', query: 'q', kind: 'cursor', cell: 1 },
		);
		const [map] = p.maps as [QueryMap];
		const result = askMap(p, map);
		const rows = Array.from({ length: 6 }, (_, j) =>
			said(result)
				.slice(8 * j, 8 * j + 8)
				.map((v) => (v === 'a' ? '#' : '.'))
				.join(''),
		);
		expect(rows).toEqual(['........', '........', '..####..', '..####..', '........', '........']);
		expect(result.figures.objects).toEqual([{ object: 'a', share: 8 / 48, first: 8 / 48, circle: 1 }]);
		expect(result.figures.tied).toBe(0);
		expect(result.figures.never).toEqual([{ object: 'b', stage: 'touch', margin: expect.any(Number), over: null }]);
	});

	it('of the floor: where a wall is in the way, where there is no place, and for each heading', () => {
		const p = withMaps(
			project(
				[
					object('who', [0, 0, 9], [ball(0.4)], { layer: 'b' }),
					object('thing', [0, 0, 0], [box([1, 1, 1])]),
					object('wall', [1.5, 0, 0], [box([0.2, 4, 4])], { layer: 'wall' }),
				],
				[
					{
						...ahead(),
						from: { object: 'who' },
						aim: { along: [0, 0, -1], of: 'who' },
						asker: 'who',
						length: 3,
						selects: { layers: ['a'] },
						sight: { blockers: ['wall'] },
					},
				],
			),
			{
				id: 'm',
				query: 'q',
				kind: 'floor',
				area: { min: [-2, 0], max: [3, 2] },
				every: 1,
				headings: 4,
				clear: { layers: ['a', 'wall'] },
			},
		);
		const result = askMap(p, (p.maps as [QueryMap])[0]);
		expect([result.columns, result.rows, result.headings]).toEqual([6, 3, 4]);
		const cell = (i: number, j: number) => said(result).slice(4 * (6 * j + i), 4 * (6 * j + i) + 4);
		// On the thing itself there is no place; to its left it lies at a quarter to the right, which is the fourth heading.
		expect(cell(2, 0)).toEqual(['out', 'out', 'out', 'out']);
		expect(cell(0, 0)).toEqual(['none', 'none', 'none', 'thing']);
		// In the wall, and behind it.
		expect(cell(5, 0)).toEqual(['none', 'none', 'none', 'none']);
		expect(cell(2, 2)).toEqual(['thing', 'none', 'none', 'none']);
		// The ball's side touches the wall's at 1: that is no place; a hair to its left is one.
		expect(cell(3, 2)).toEqual(['out', 'out', 'out', 'out']);
		const [map] = p.maps as [QueryMap];
		const near = (x: number) => said(askMap(p, { ...map, area: { min: [x, 2], max: [x, 2] } }))[0];
		expect([near(1), near(1 - 1e-10), near(1 - 1e-6)]).toEqual(['out', 'out', 'none']);
		// By a corner of the thing their boxes overlap, and two centimetres are between them.
		expect(said(askMap(p, { ...map, area: { min: [0.8, 0.8], max: [0.8, 0.8] } }))[0]).toBe('none');
		const share = result.figures.objects.find((o) => o.object === 'thing');
		const counted = said(result).filter((v) => v !== 'out');
		expect(share?.share).toBeCloseTo(counted.filter((v) => v === 'thing').length / counted.length, 12);
		expect(share?.circle).toBeNull();
	});

	it('count what is taken before a tie, as selected and not as first', () => {
		const p = withMaps(
			project(
				[
					object('who', [0, 0, 0], []),
					object('near', [0, 0, 1], [ball(0.1)]),
					object('left', [-2, 0, 0], [ball(0.1)]),
					object('right', [2, 0, 0], [ball(0.1)]),
				],
				[
					{
						id: 'q',
						kind: 'overlap',
						asker: 'who',
						at: { object: 'who' },
						shape: { kind: 'sphere', radius: 5 },
						choose: { take: 2 },
					},
				],
			),
			{ id: 'm', query: 'q', kind: 'floor', area: { min: [0, 0], max: [0, 0] }, every: 1 },
		);
		const result = askMap(p, (p.maps as [QueryMap])[0]);
		expect(said(result)).toEqual(['tie']);
		expect(result.figures).toMatchObject({ tied: 1, objects: [{ object: 'near', share: 1, first: 0 }] });
	});

	it('of the floor: the asker is turned by each heading from how it stands, its tilt kept', () => {
		const things = [
			object('left', [-5, 0, 0], [box([1, 1, 1])]),
			object('above', [0, 5, 0], [box([1, 1, 1])]),
			object('ahead', [0, 0, -5], [box([1, 1, 1])]),
		];
		const seen = (rotation: [number, number, number], headings: number, parent = false) => {
			const turntable = object('turntable', [0, 0, 0], [], { rotation: [90, 0, 0] });
			const who = object('who', [0, 0, 0], [], { rotation, ...(parent ? { parent: 'turntable' } : {}) });
			const p = withMaps(
				project(
					[...things, turntable, who],
					[{ ...ahead(), from: { object: 'who' }, aim: { along: [0, 0, -1], of: 'who' }, asker: 'who' }],
				),
				{ id: 'm', query: 'q', kind: 'floor', area: { min: [0, 0], max: [0, 0] }, every: 1, headings },
			);
			return said(askMap(p, (p.maps as [QueryMap])[0]));
		};
		expect(seen([90, 0, 0], 1)).toEqual(['left']);
		expect(seen([-90, 0, 0], 4)).toEqual(['none', 'ahead', 'left', 'none']);
		expect(seen([30, 90, 0], 2)).toEqual(['above', 'above']);
		expect(seen([0, 0, 0], 1, true)).toEqual(['left']);
		expect(seen([90, 0, 0], 4, true)).toEqual(['none', 'none', 'ahead', 'left']);
	});

	it('of the floor of a flat scene: turned in the picture from how it stands', () => {
		const p = withMaps(
			project(
				[
					object('right', [5, 0, 0], [{ id: 's', kind: 'rect', size: [1, 1] }]),
					object('up', [0, 5, 0], [{ id: 's', kind: 'rect', size: [1, 1] }]),
					object('who', [0, 0, 0], [], { rotation: [0, 0, 90] }),
				],
				[{ ...ahead(), from: { object: 'who' }, aim: { along: [1, 0, 0], of: 'who' }, asker: 'who' }],
				{ kind: 'flat' },
			),
			{ id: 'm', query: 'q', kind: 'floor', area: { min: [0, 0], max: [0, 0] }, every: 1, headings: 4 },
		);
		expect(said(askMap(p, (p.maps as [QueryMap])[0]))).toEqual(['up', 'none', 'none', 'right']);
	});

	it('of directions: shares weigh by the cosine of the pitch', () => {
		const p = withMaps(
			project([object('up', [0, 10, 0], [box([1, 1, 1])]), object('left', [-5, 0, 0], [box([1, 1, 1])])], [ahead()]),
			{
				id: 'm',
				query: 'q',
				kind: 'aim',
				yaw: [0, 90],
				pitch: [0, 90],
				every: 90,
			},
		);
		const result = askMap(p, (p.maps as [QueryMap])[0]);
		// Rows from the top: straight up twice, then ahead and to the left.
		expect(said(result)).toEqual(['up', 'up', 'none', 'left']);
		const [up, left] = ['up', 'left'].map((id) => result.figures.objects.find((o) => o.object === id));
		expect(up?.share).toBe(0);
		expect(left?.share).toBe(0.5);
	});

	it('count ties, what is off, and several at once', () => {
		const two = [object('a', [-4, 0, -5], [box([8, 12, 1])]), object('b', [4, 0, -5], [box([8, 12, 1])])];
		const p = withMaps(project(two, [pick({ choose: { take: 'all', by: [{ rule: 'priority' }] } })]), {
			id: 'm',
			query: 'q',
			kind: 'cursor',
			cell: 4,
		});
		const result = askMap(p, (p.maps as [QueryMap])[0]);
		expect(said(result)).toEqual(['a', 'b', 'a', 'b']);
		const off = withMaps(project(two, [pick({ enabled: false })]), { id: 'm', query: 'q', kind: 'cursor', cell: 4 });
		expect(askMap(off, (off.maps as [QueryMap])[0])).toMatchObject({
			cells: [-3, -3, -3, -3],
			objects: [],
			figures: { objects: [], tied: 0, never: [] },
		});
		const tie = withMaps(
			project([object('c', [0, 0, -5], [box([99, 99, 1])]), object('d', [0, 0, -5], [box([99, 99, 1])])], [pick()]),
			{ id: 'm', query: 'q', kind: 'cursor', cell: 8 },
		);
		expect(askMap(tie, (tie.maps as [QueryMap])[0])).toMatchObject({ cells: [-2], figures: { tied: 1, objects: [] } });
	});
});

describe('every map', () => {
	/** The project with one cell's place, cursor or direction written into it. */
	function single(p: Project, map: QueryMap, at: number): { project: Project; query: Query } {
		const { columns, headings } = new MapAsker(p, map).grid;
		const copy = JSON.parse(JSON.stringify(p)) as Project;
		const query = copy.queries.find((q) => q.id === map.query) as Query;
		const [k, place] = [at % headings, Math.floor(at / headings)];
		const [i, j] = [place % columns, Math.floor(place / columns)];
		if (map.kind === 'cursor')
			Object.assign(query, { cursor: [(i + 0.5) * (map.cell ?? 4), (j + 0.5) * (map.cell ?? 4)] });
		else if (map.kind === 'aim') {
			const along = turned(
				rotationOf([(map.yaw?.[0] ?? 0) + i * (map.every ?? 1), (map.pitch?.[1] ?? 0) - j * (map.every ?? 1), 0]),
				0,
				0,
				-1,
			);
			const aim = (query as { aim?: { along?: number[] } }).aim;
			if (aim) aim.along = along;
		} else {
			const who = copy.scene.objects.find((o) => o.id === query.asker);
			const stands = buildWorld(p).objectById.get(query.asker ?? '');
			if (who && stands) {
				const [u, v] = [(map.area?.min[0] ?? 0) + i * (map.every ?? 1), (map.area?.min[1] ?? 0) + j * (map.every ?? 1)];
				const turn = (360 * k) / headings;
				const flat = copy.scene.kind === 'flat';
				who.position = flat ? [u, v, stands.position[2]] : [u, map.y ?? stands.position[1], v];
				const about = rotationOf(flat ? [0, 0, turn] : [turn, 0, 0]);
				who.rotation = eulerOf(multiply(about, stands.rotation));
				who.scale = [...stands.scale];
				delete who.parent;
			}
		}
		return { project: copy, query };
	}

	it('equals single answers cell by cell, in both kinds of scene, whole and in parts', () => {
		let asked = 0;
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				const p = randomProject(seed, { objects: 7, queries: 6 });
				const flat = p.scene.kind === 'flat';
				for (const query of p.queries) {
					const maps: QueryMap[] = [];
					if (query.kind === 'pick')
						maps.push({ id: 'm', query: query.id, kind: 'cursor', cell: Math.ceil(Math.max(...query.viewport) / 4) });
					if (query.asker !== undefined && p.scene.objects.some((o) => o.id === query.asker))
						maps.push({
							id: 'm',
							query: query.id,
							kind: 'floor',
							area: { min: [-3, -2], max: [3, 2] },
							every: 3,
							headings: 2,
							...(flat ? {} : seed % 2 ? { y: 1 } : {}),
						});
					if (!flat && (query.kind === 'ray' || query.kind === 'sweep') && query.aim?.along)
						maps.push({ id: 'm', query: query.id, kind: 'aim', yaw: [-180, 150], pitch: [-60, 60], every: 55 });
					for (const map of maps) {
						const whole = askMap(p, map);
						const values = said(whole);
						for (let at = 0; at < values.length; at++) {
							const one = single(p, map, at);
							const answer = new Answerer(buildWorld(one.project)).winner(one.query);
							expect(values[at], `seed ${seed}, ${map.kind} map of ${query.id}, answer ${at}`).toBe(spokenOf(answer));
							asked++;
						}
						// Split between two askers, the later part first.
						const [a, b] = [new MapAsker(p, map), new MapAsker(p, map)];
						const cut = Math.floor(a.grid.rows / 2);
						const parts = [askRows(b, cut, b.grid.rows), askRows(a, 0, cut)];
						expect(resultOf(a, joinedParts(a, parts))).toEqual(whole);
					}
				}
			}),
			{ numRuns: runs(40) },
		);
		expect(asked).toBeGreaterThan(20);
	});

	it('has circles as plain counting finds them', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 1, max: 12 }),
				fc.integer({ min: 1, max: 9 }),
				fc.array(fc.integer({ min: -1, max: 2 }), { minLength: 108, maxLength: 108 }),
				(w, h, cells) => {
					const values = Int32Array.from(cells.slice(0, w * h));
					const found = largestCircles(values, w, h, 3);
					const at = (x: number, y: number) => (x < 0 || y < 0 || x >= w || y >= h ? -9 : values[y * w + x]);
					const plain = new Map<number, number>();
					for (let y = 0; y < h; y++)
						for (let x = 0; x < w; x++) {
							if (at(x, y) < 0) continue;
							let d = Infinity;
							for (let v = -1; v <= h; v++)
								for (let u = -1; u <= w; u++) if (at(u, v) !== at(x, y)) d = Math.min(d, Math.hypot(u - x, v - y));
							plain.set(at(x, y), Math.max(plain.get(at(x, y)) ?? 0, (2 * d - 1) * 3));
						}
					expect([...found.keys()].sort()).toEqual([...plain.keys()].sort());
					for (const [value, circle] of plain) {
						const { diameter, x, y } = found.get(value) ?? { diameter: -1, x: -1, y: -1 };
						expect(diameter).toBeCloseTo(circle, 9);
						expect(at(x, y)).toBe(value);
					}
				},
			),
			{ numRuns: runs(300) },
		);
	});
});

describe('checks of maps', () => {
	const p = withMaps(
		project([object('a', [0, 0, -5.5], [box([6, 3, 1])]), object('b', [40, 0, -5], [rect([1, 1])].slice(1))], [pick()]),
		{ id: 'm', query: 'q', kind: 'cursor', cell: 1 },
	);
	const judged = (expect: object) => {
		const [found] = checkMaps(p, [{ id: 'c', map: 'm', expect } as never]);
		return [found?.pass, found?.got, found?.reason];
	};
	it('hold at their edge and fail just past it', () => {
		expect(judged({ object: 'a', share: { min: 8 / 48, max: 8 / 48 } })).toEqual([true, 8 / 48, '']);
		expect(judged({ object: 'a', share: { min: 0.17 } })).toEqual([
			false,
			8 / 48,
			'wanted a in at least 17 % of the answers, got 16.67 %',
		]);
		expect(judged({ object: 'a', share: { max: 0.16 } })[0]).toBe(false);
		expect(judged({ object: 'b', share: { max: 0 } })).toEqual([true, 0, '']);
		expect(judged({ object: 'a', circle: { min: 1 } })[0]).toBe(true);
		expect(judged({ object: 'a', circle: { min: 1.01 } })).toEqual([
			false,
			1,
			'wanted a at least 1.01 px wide, got 1 px',
		]);
		expect(judged({ object: 'b', circle: { min: 1 } })).toEqual([false, 0, 'wanted b at least 1 px wide, got 0 px']);
		expect(judged({ never: ['b'] })).toEqual([true, [], '']);
		expect(judged({ never: ['b', 'a'] })).toEqual([false, ['a'], 'wanted b, a never selected, got a selected']);
		expect(judged({ tied: { max: 0 } })).toEqual([true, 0, '']);
	});

	it('that are none say so', () => {
		const wrong = (expect: object) => {
			const reading = checkProject({ ...JSON.parse(JSON.stringify(p)), checks: [{ id: 'c', map: 'm', expect }] });
			return reading.ok ? [] : reading.problems.map(formatProblem);
		};
		expect(wrong({ tied: { max: 1 } })).toEqual([]);
		expect(wrong({})).toEqual(['checks[0].expect: needs exactly one of share, circle, never, tied; this one has none']);
		expect(wrong({ share: { min: 0 } })).toEqual([
			'checks[0].expect.object: is missing; a share or a circle is an object’s',
		]);
		expect(wrong({ object: 'a', share: {} })).toEqual(['checks[0].expect.share: needs min, max or both']);
		expect(wrong({ object: 'a', share: { min: 1.1 } })).toHaveLength(1);
		expect(wrong({ object: 'nowhere', circle: { min: 1 } })).toEqual(['checks[0].expect.object: no object "nowhere"']);
		expect(wrong({ never: ['nowhere'] })).toEqual(['checks[0].expect.never[0]: no object "nowhere"']);
		expect(wrong({ object: 'a', tied: { max: 0 } })).toHaveLength(1);
	});
});

describe('of what asks for room', () => {
	const floor = object('floor', [0, -0.5, 0], [box([4, 1, 20])]);
	const crate = object('crate', [1.2, 0.5, 0], [box([1, 1, 1])]);
	const ghost = object('ghost', [0, 0, 0], []);
	const query = {
		id: 'q',
		kind: 'overlap',
		asker: 'ghost',
		at: { object: 'ghost' },
		shape: { kind: 'box', size: [1, 1, 1] },
		offset: [0, 0.51, 0],
		room: { on: { layers: 'all' } },
	} as unknown as Query;
	const p = project([floor, crate, ghost], [query]);
	const map = { id: 'm', query: 'q', kind: 'floor', area: { min: [-3, 0], max: [1, 0] }, every: 1 } as QueryMap;

	it('tells who asks where it hangs over, and prints that as nothing in the way', () => {
		const asker = new MapAsker(p, map);
		expect(Array.from({ length: 5 }, (_, i) => asker.ask(i).value)).toEqual([
			CELL.unborne,
			CELL.unborne,
			CELL.none,
			CELL.none,
			1,
		]);
		expect(said(askMap(p, map))).toEqual(['none', 'none', 'none', 'none', 'crate']);
	});
	it('shows what is looked for wherever one of the headings has it', () => {
		const result = { columns: 1, headings: 3, cells: [-1, 2, 5] };
		expect([shownIn(result, 0, 0), shownIn(result, 0, 0, null, 5), shownIn(result, 0, 0, 0, 5)]).toEqual([2, 5, -1]);
		expect(shownIn(result, 0, 0, null, 9)).toBe(2);
	});
});
