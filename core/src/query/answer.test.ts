/** The path of one query: what winner only looks at, what is remembered, what a probe tells, and the order of what is noted. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Query, SceneObject } from '../project/schema';
import { runs } from '../tests/runs';
import { ahead, ask, ball, box, object, project, rect } from '../tests/scene';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { filtersOf } from './filters';

/** More shapes than are looked through without a tree, out of everybody's way. */
const crowd: SceneObject[] = Array.from({ length: 14 }, (_, i) =>
	object(`far-${i}`, [40 + 3 * i, 40, 40], [box([1, 1, 1])]),
);
const both = (query: Query, objects: SceneObject[], flat = false) => {
	const p = project([...crowd, ...objects], [query], flat ? { kind: 'flat' } : {});
	const world = buildWorld(p);
	const { verdicts: _, ...full } = new Answerer(world).explain(world.queries[0]);
	const { verdicts: __, ...fast } = new Answerer(world).winner(world.queries[0]);
	expect(fast).toEqual(full);
	return full.selected.map((s) => s.object);
};

describe('winner only finds among many', () => {
	it('what a swept body touches with any of its corners, sides and ends', () => {
		const sweep = (more: object = {}) =>
			ahead({ kind: 'sweep', shape: { kind: 'box', size: [1, 2, 3] }, length: 5, ...more });
		for (const [at, hit] of [
			[[0.999, 0, -4], true],
			[[-0.999, 0, -4], true],
			[[0, 1.499, -4], true],
			[[0, -1.499, -4], true],
			[[0, 0, -6.999], true],
			[[1.001, 0, -4], false],
			[[-1.001, 0, -4], false],
			[[0, 1.501, -4], false],
			[[0, -1.501, -4], false],
			[[0, 0, -7.001], false],
		] as const)
			expect([at, both(sweep(), [object('it', [...at], [box([1, 1, 1])])])]).toEqual([at, hit ? ['it'] : []]);
	});

	it('what a volume touches with any of its sides, of several boxes too', () => {
		const overlap = {
			id: 'q',
			kind: 'overlap',
			shape: { kind: 'box', size: [1, 2, 3] },
			at: { point: [0, 0, 0] },
		} as Query;
		for (let k = 0; k < 3; k++)
			for (const sign of [1, -1])
				for (const [past, hit] of [
					[-0.001, true],
					[0.001, false],
				] as const) {
					const at: [number, number, number] = [0, 0, 0];
					at[k] = sign * ((k + 1) / 2 + 0.5 + past);
					expect([at, both(overlap, [object('it', at, [box([1, 1, 1])])])]).toEqual([at, hit ? ['it'] : []]);
				}
		const hitbox = {
			id: 'q',
			kind: 'hitbox',
			asker: 'me',
			boxes: [-4, 4].map((x) => ({ shape: { kind: 'sphere', radius: 1 }, at: [x, 0, 0], from: 0, until: 1 })),
		} as unknown as Query;
		const me = object('me', [0, 0, 0], [ball(0.1)]);
		expect(
			both(hitbox, [me, object('b', [5.5, 0, 0], [ball(0.6)]), object('a', [-5.5, 0, 0], [ball(0.6)])]).sort(),
		).toEqual(['a', 'b']);
	});

	it('what a cursor points at, up to the edge of a figure', () => {
		const pick = (cursor: [number, number]) =>
			({ id: 'q', kind: 'pick', camera: 'above', viewport: [100, 100], cursor }) as Query;
		for (const [cursor, hit] of [
			[[60, 40], true],
			[[40, 60], true],
			[[60.1, 50], false],
			[[39.9, 50], false],
			[[50, 60.1], false],
			[[50, 39.9], false],
		] as const) {
			const flat = crowd.map((o) => ({ ...o, shapes: [rect([1, 1])] }));
			const p = project([...flat, object('it', [0, 0, 1], [rect([2, 2])])], [pick([...cursor])], { kind: 'flat' });
			const world = buildWorld(p);
			const fast = new Answerer(world).winner(world.queries[0]).selected.map((s) => s.object);
			expect([cursor, fast]).toEqual([cursor, hit ? ['it'] : []]);
		}
	});

	it('in the order of the file, wherever things lie', () => {
		const all = ahead({ choose: { take: 'all', by: [{ rule: 'listed' }] } });
		const row = [-9, -3, -7, -5].map((z, i) => object(`o${i}`, [0, 0, z], [box([1, 1, 1])]));
		expect(both(all, row)).toEqual(['o0', 'o1', 'o2', 'o3']);
	});
});

describe('what is noted and tied', () => {
	it('stands in the order of the file, not in that in which it was found', () => {
		const inside = [2, 1, 3].map((r, i) => object(`in-${i}`, [0, 0, 0], [ball(r)]));
		const p = project([...crowd, ...inside, object('it', [0, 0, -8], [box([1, 1, 1])])], [ahead()]);
		const world = buildWorld(p);
		for (const answer of [new Answerer(world).explain(world.queries[0]), new Answerer(world).winner(world.queries[0])])
			expect(answer.notes.map((n) => n.code === 'starts-inside' && n.object)).toEqual(['in-0', 'in-1', 'in-2']);
	});

	it('a winner as near as two blockers is tied with both, in the order of the file', () => {
		const wall = (id: string, x: number) => object(id, [x, 0, -4.5], [box([1, 1, 1])], { layer: 'wall' });
		const p = project(
			[...crowd, wall('w2', 0.4), object('it', [0, 0, -4.5], [box([1, 1, 1])]), wall('w1', -0.4)],
			[ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } })],
		);
		expect(ask(p)).toMatchObject({ status: 'tie', selected: [], tied: ['it', 'w2', 'w1'] });
	});

	it('of several taken each contested one is noted with its first blocker', () => {
		const wall = (id: string, z: number) => object(id, [0, 0, z], [box([1, 1, 1])], { layer: 'wall' });
		const p = project(
			[wall('w', -4.5), object('it', [0, 0, -4.5], [box([1, 1, 1])]), object('free', [0, 0, -2], [ball(0.1)])],
			[ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] }, choose: { take: 'all' } })],
		);
		expect(ask(p)).toMatchObject({ status: 'selected', notes: [{ code: 'contested', object: 'it', by: 'w' }] });
		expect(ask(p).selected.map((s) => s.object)).toEqual(['free', 'it']);
	});
});

describe('what an answerer remembers', () => {
	const p = project(
		[object('it', [0, 0, -4], [ball(1)]), object('behind', [0, 0, -8], [ball(1)])],
		[ahead(), { ...ahead({ id: 'next', from: { hitOf: 'q' }, aim: { along: [0, 0, -1] } }) }],
	);
	const world = buildWorld(p);
	const [q, next] = world.queries as [Query, Query];
	const hit = (a: Answerer) => a.hitOf('q')?.object ?? null;

	it('is the hit of a query of its world: asked once, explained or probed', () => {
		for (const first of ['explain', 'probe', 'winner'] as const) {
			const answerer = new Answerer(world);
			answerer[first](q);
			expect(hit(answerer)).toBe('it');
			expect(answerer.winner(next).selected[0]?.object).toBe('behind');
		}
		expect(() => new Answerer(world).hitOf('none')).toThrow('no query "none"');
	});

	it('is not that of another query of the same name, nor of a probe that leaves something out or stops at the touch', () => {
		const other = { ...q, aim: { along: [0, 1, 0] } } as Query;
		const asked: ((a: Answerer) => unknown)[] = [
			(a) => a.explain(other),
			(a) => a.probe(other),
			(a) => a.probe(q, new Set(['it'])),
			(a) => a.probe(q, undefined, true),
		];
		for (const ask of asked) {
			const answerer = new Answerer(world);
			ask(answerer);
			expect(hit(answerer)).toBe('it');
		}
	});

	it('stays what it was first', () => {
		const answerer = new Answerer(world);
		answerer.explain(q);
		answerer.probe({ ...q });
		world.queryById.set('q', { ...q, length: 1 } as Query);
		answerer.explain(world.queryById.get('q') as Query);
		answerer.probe(world.queryById.get('q') as Query);
		expect(hit(answerer)).toBe('it');
		world.queryById.set('q', q);
	});
});

describe('a probe', () => {
	const p = project(
		[
			object('far', [0, 0, -9], [ball(1)]),
			object('near', [0, 0, -4], [ball(1)]),
			object('off', [9, 0, -4], [ball(1)]),
			object('tagless', [0, 0, -6], [ball(1)], { layer: 'b' }),
			object('beyond', [0, 0, -15], [ball(1)]),
		],
		[ahead({ selects: { layers: ['a'] }, range: { max: 12 } })],
	);
	const world = buildWorld(p);
	const q = world.queries[0];
	const told = (...args: [ReadonlySet<string>?, boolean?]) => {
		const { answer, verdicts, touched } = new Answerer(world).probe(q, ...args);
		return {
			selected: answer.selected.map((s) => s.object),
			touched: touched.map((o) => o.id),
			stages: world.objects.map((o) => verdicts[o.index]?.stage ?? null),
		};
	};

	it('tells the verdicts of what was touched, and of nothing else', () => {
		expect(told()).toEqual({
			selected: ['near'],
			touched: ['far', 'near', 'beyond'],
			stages: ['choice', 'selected', null, null, 'range'],
		});
	});

	it('leaves out of the choice what is skipped, by what it answers for', () => {
		expect(told(new Set(['near']))).toMatchObject({ selected: ['far'], touched: ['far', 'near', 'beyond'] });
	});

	it('that stops at the touch says only what was touched', () => {
		expect(told(undefined, true)).toEqual({
			selected: [],
			touched: ['far', 'near', 'beyond'],
			stages: [null, null, null, null, null],
		});
	});
});

describe('asked along another path', () => {
	it('it answers as a query would that has that path', () => {
		const direction = fc.tuple(
			...([0, 1, 2].map(() => fc.integer({ min: -4, max: 4 })) as [
				fc.Arbitrary<number>,
				fc.Arbitrary<number>,
				fc.Arbitrary<number>,
			]),
		);
		const cases: object[] = [
			{},
			{ view: { within: 25 } },
			{ view: { within: 25, flat: true } },
			{ view: { within: 60, about: { along: [0, 0, -1] } } },
			{ range: { min: 3, max: 8 } },
			{ asker: 'me' },
			{ sight: { blockers: ['wall'] } },
		];
		const things = [
			object('me', [0, 1, 3], [ball(0.2)]),
			...Array.from({ length: 20 }, (_, i) =>
				object(`o${i}`, [((i * 7) % 11) - 5, ((i * 5) % 9) - 4, ((i * 3) % 13) - 6], [ball(0.5 + (i % 3) / 2)], {
					layer: i % 5 === 0 ? 'wall' : 'a',
					...(i % 4 === 0 ? { approach: { from: [0, 0, 1], within: 80 } } : {}),
				}),
			),
		];
		fc.assert(
			fc.property(fc.constantFrom(...cases), direction, direction, (more, start, way) => {
				const norm = Math.hypot(...way);
				// A view that leaves the height out has no middle straight up.
				fc.pre(norm > 0 && Math.hypot(way[0], way[2]) > 0);
				const query = ahead({ selects: { layers: ['a'] }, choose: { take: 'all' }, ...more });
				const there = ahead({
					selects: { layers: ['a'] },
					choose: { take: 'all' },
					...more,
					from: { point: start },
					aim: { along: way },
				});
				const world = buildWorld(project(things, [query]));
				const wanted = new Answerer(buildWorld(project(things, [there]))).winner(there);
				const dir = way.map((v) => v / norm) as [number, number, number];
				const got = new Answerer(world).along(query, start, dir, 20, filtersOf(world, query));
				expect(got.selected.map((s) => s.object)).toEqual(wanted.selected.map((s) => s.object));
			}),
			{ numRuns: runs(300) },
		);
	});
});

it('an object whose blocking shape holds the start was missed by the gap to what could be chosen', () => {
	const things = [
		object('x', [0, 0, 0], [ball(1, { layer: 'wall' }), { ...box([1, 1, 1]), id: 't', at: [4, 0, -5] }], {
			layer: 'a',
		}),
		...Array.from({ length: 9 }, (_, i) => object(`o${i}`, [20 + 3 * i, 0, 0], [ball(1)])),
	];
	const query = ahead({ selects: { layers: ['a'] }, sight: { blockers: ['wall'] } });
	const world = buildWorld(project(things, [query]));
	for (const later of [false, true]) {
		const answer = new Answerer(world).explain(world.queries[0], undefined, later);
		expect(answer.verdicts[0]?.stage).toBe('touch');
		expect(answer.notes).toEqual([{ code: 'starts-inside', object: 'x' }]);
		expect(answer.verdicts[0]?.margin).toBeCloseTo(3.5, 9);
	}
});

it('what is measured later is what is measured at once, however often it is read', () => {
	const things = [...crowd, object('short', [0, 0, -30], [ball(1)]), object('beside', [3, 0, -5], [ball(1)])];
	const world = buildWorld(project(things, [ahead()]));
	const at = (later: boolean) => new Answerer(world).explain(world.queries[0], undefined, later).verdicts;
	const [now, then] = [at(false), at(true)];
	for (const [i, v] of now.entries())
		for (let round = 0; round < 2; round++)
			expect([then[i]?.object, then[i]?.margin, then[i]?.beyond]).toEqual([v.object, v.margin, v.beyond]);
	expect(now.find((v) => v.object === 'short')?.beyond).toBeCloseTo(9, 9);
	expect(now.find((v) => v.object === 'beside')?.margin).toBeCloseTo(2, 9);
});
