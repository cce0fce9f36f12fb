/** What is asked along another path, of grown volumes, of several boxes and of shapes that cannot be chosen: each at its edge. */
import { describe, expect, it } from 'vitest';
import type { Query, SceneObject, Vec3 } from '../project/schema';
import { answerTo, ask, ball, box, object, project, rect, verdict } from '../tests/scene';
import { buildWorld } from '../world/world';
import { Answerer } from './answer';
import { NOTHING, prepareRay } from './ray-winner';

/** More things than are looked through one by one, out of the way. */
const aside: SceneObject[] = Array.from({ length: 10 }, (_, i) =>
	object(`aside-${i}`, [60 + 3 * i, 40, 0], [ball(0.5)]),
);

describe('a ray cast along another path', () => {
	const things = [
		object('ahead', [0, 0, -5], [ball(0.5)]),
		object('right', [5, 0, 0], [ball(0.5)]),
		object('up', [0, 5, -5], [ball(0.5)]),
		object('door', [0, 0, 5], [ball(0.5)], { approach: { from: [0, 0, -1], within: 60 } }),
		object('me', [0, 0, 0], [], { layer: 'b' }),
		...aside,
	];
	const base: Query = { id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 20 };
	/** What the winner says along a path, and what the same query says that goes that way itself. */
	function both(more: object, start: Vec3, dir: Vec3): [string, string] {
		const query = { ...base, ...more } as Query;
		const world = buildWorld(project(things, [query]));
		const quick = prepareRay(world, query);
		const found = quick.cast(Float64Array.of(...start, ...dir, 20), 0);
		const own = { ...query, from: { point: start }, aim: { along: dir } } as Query;
		const plain = new Answerer(buildWorld(project(things, [own]))).explain(own);
		const said = found >= 0 ? (world.objects[found]?.id ?? '') : found === NOTHING ? 'nothing' : String(found);
		return [said, plain.selected[0]?.object ?? 'nothing'];
	}
	const UP: Vec3 = [0, Math.SQRT1_2, -Math.SQRT1_2];

	it('looks along that path, unless the query says about what', () => {
		const narrow = { view: { within: 5 } };
		expect(both(narrow, [0, 0, 0], [0, 0, -1])).toEqual(['ahead', 'ahead']);
		expect(both(narrow, [0, 0, 0], [1, 0, 0])).toEqual(['right', 'right']);
		expect(both({ view: { within: 5, about: { along: [0, 0, -1] } } }, [0, 0, 0], [1, 0, 0])).toEqual([
			'nothing',
			'nothing',
		]);
		expect(both({ view: { within: 95, about: { along: [0, 0, -1] } } }, [0, 0, 0], [1, 0, 0])).toEqual([
			'right',
			'right',
		]);
	});

	it('leaves the height out where the view is level', () => {
		expect(both({ view: { within: 5 } }, [0, 0, 0], UP)).toEqual(['up', 'up']);
		expect(both({ view: { within: 5, flat: true } }, [0, 0, 0], UP)).toEqual(['up', 'up']);
		expect(both({ view: { within: 5, flat: true } }, [3, 0, 0], [-0.6, 0, -0.8])).toEqual(['nothing', 'nothing']);
	});

	it('is approached from where it starts, or from the asker', () => {
		expect(both({}, [0, 0, 0], [0, 0, 1])).toEqual(['door', 'door']);
		expect(both({}, [0, 0, 10], [0, 0, -1])).toEqual(['ahead', 'ahead']);
		expect(both({ approach: 'ignore' }, [0, 0, 10], [0, 0, -1])).toEqual(['door', 'door']);
		// The asker stands on the right side, whatever side the ray comes from.
		expect(both({ asker: 'me' }, [0, 0, 10], [0, 0, -1])).toEqual(['door', 'door']);
	});
});

describe('a grown volume', () => {
	const model = object('model', [50, 0, 0], [box([1, 1, 1])], { layer: 'b' });
	const grown = (grow: number, at: Vec3, count = 12) =>
		answerTo(
			{ id: 'q', kind: 'overlap', at: { point: at }, shape: { like: 'model', grow }, selects: { layers: ['a'] } },
			[object('x', [0, 0, 0], [ball(0.5)]), model, ...aside.slice(0, count)],
		).selected.map((s) => s.object);

	it('reaches as far as it grows, on each side, however many things there are', () => {
		for (const count of [0, 10])
			for (const way of [
				[1, 0, 0],
				[-1, 0, 0],
				[0, 1, 0],
				[0, -1, 0],
				[0, 0, 1],
				[0, 0, -1],
			]) {
				// Half a metre of the box, half a metre of the ball: 0.4 m lie between them, or 0.6.
				const at = (d: number) => way.map((w) => w * d) as [number, number, number];
				expect(grown(0.5, at(1.4), count)).toEqual(['x']);
				expect(grown(0.5, at(1.6), count)).toEqual([]);
				expect(grown(0.5, at(1.5 - 1e-7), count)).toEqual(['x']);
				expect(grown(0.5, at(1.5 + 1e-7), count)).toEqual([]);
			}
	});
});

describe('several boxes of a hitbox', () => {
	const swing = (boxes: object[], shapes: object[]) => {
		const me = object('me', [0, 0, 0], [], { layer: 'b' });
		const answer = answerTo({ id: 'q', kind: 'hitbox', asker: 'me', boxes, selects: { layers: ['a'] } }, [
			me,
			object('x', [0, 0, 0], shapes as never),
		]);
		return answer.selected[0]?.box;
	};
	const small = { kind: 'box', size: [0.5, 0.5, 0.5] };
	const at = (x: number, from: number) => ({ shape: small, at: [x, 0, 0], from, until: 1 });
	const left = ball(0.3, { id: 'l', at: [-2, 0, 0] });
	const right = ball(0.3, { id: 'r', at: [2, 0, 0] });

	it('it is the one that opens first that hits, of several the first listed', () => {
		// One shape in all of them.
		const here = [ball(0.3, { at: [2, 0, 0] })];
		expect(swing([at(2, 0.2), at(2, 0.1), at(2, 0.1)], here)).toBe(1);
		expect(swing([at(2, 0.1), at(2, 0.1)], here)).toBe(0);
		expect(swing([at(2, 0.3), at(2, 0.2)], here)).toBe(1);
		// Another shape in each.
		expect(swing([at(-2, 0.1), at(2, 0.1)], [left, right])).toBe(0);
		expect(swing([at(-2, 0.1), at(2, 0.1)], [right, left])).toBe(0);
		expect(swing([at(-2, 0.2), at(2, 0.1)], [left, right])).toBe(1);
		expect(swing([at(-2, 0.2), at(2, 0.1)], [right, left])).toBe(1);
		expect(swing([at(2, 0.2), at(-2, 0.2), at(2, 0.1)], [left, right])).toBe(2);
	});
});

describe('a shape that cannot be chosen', () => {
	const two = [ball(0.5, { layer: 'wall' }), ball(0.5, { id: 't', at: [3, 0, 0] })];

	it('touches nothing for its object: of a ray, of a volume, of a flat pick', () => {
		const of = (query: object) =>
			answerTo({ id: 'q', selects: { layers: ['a'] }, ...query }, [object('x', [0, 0, -5], two), ...aside]);
		const ray = of({ kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 20 });
		expect([ray.status, verdict(ray, 'x').stage, verdict(ray, 'x').margin]).toEqual(['none', 'touch', 2.5]);
		const volume = of({ kind: 'overlap', at: { point: [0, 0, -5] }, shape: { kind: 'sphere', radius: 1 } });
		expect([volume.status, verdict(volume, 'x').margin]).toEqual(['none', 1.5]);
		const flat = ask(
			project(
				[
					object('x', [0, 0, 0], [rect([1, 1], { layer: 'wall' }), rect([1, 1], { id: 't', at: [3, 0, 0] })]),
					...Array.from({ length: 10 }, (_, i) => object(`o${i}`, [30 + 3 * i, 0, 0], [rect([1, 1])])),
				],
				[{ id: 'q', kind: 'pick', camera: 'eye', viewport: [100, 100], selects: { layers: ['a'] } }],
				{
					kind: 'flat',
					cameras: [{ id: 'eye', position: [0, 0, 10], projection: 'orthographic', height: 10 }],
				} as never,
			),
		);
		expect([flat.status, verdict(flat, 'x').stage, verdict(flat, 'x').margin]).toEqual(['none', 'touch', 2.5]);
	});
});
