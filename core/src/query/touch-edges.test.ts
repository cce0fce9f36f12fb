/** Touches at their very edge and just past it: figures in the plane, ends of paths, contacts far out. */
import { describe, expect, it } from 'vitest';
import type { Query, SceneObject, Vec3 } from '../project/schema';
import { ahead, answerTo, ball, box, disc, object, project, verdict } from '../tests/scene';
import { buildWorld } from '../world/world';
import { Answerer, explain } from './answer';
import { isNote, placementOf } from './placement';
import { coreOf, type Touching, throughFigure } from './touch';
import type { Answer } from './types';

describe('a flat pick through a figure', () => {
	const world = buildWorld(project([object('x', [0, 0, 2], [disc(1)])], [], { kind: 'flat' }));
	const [shape] = world.shapes;
	const through = (x: number, depth: number, length = 10, count = true) => {
		if (!shape) throw new Error('no figure');
		return throughFigure(shape, x, 0, depth, length, count);
	};

	it('meets it up to a thousandth of a micrometre beside it, at its depth or below, as far as it goes', () => {
		expect(through(1, 5)).toBe(3);
		expect(through(1 + 0.9e-9, 5)).toBe(3);
		expect(through(1 + 2e-9, 5)).toBe(Infinity);
		expect(through(0, 5, 3)).toBe(3);
		expect(through(0, 5, 2.999)).toBe(Infinity);
		expect(through(0, 1)).toBe(Infinity);
	});

	it('starts in it up to a micrometre beside it and above or below', () => {
		for (const by of [0.9e-6, -0.9e-6]) expect(through(1 + Math.abs(by), 2 + by)).toBe(0);
		expect(through(0, 2, 10, false)).toBe(Infinity);
		// Past either edge it is no start: above it is met from there, beside it is missed.
		expect(through(0, 2 + 1.1e-6)).toBeCloseTo(1.1e-6, 12);
		expect(through(0, 2 + 1.1e-6, 10, false)).toBeCloseTo(1.1e-6, 12);
		expect(through(0, 2 - 1.1e-6)).toBe(Infinity);
		expect(through(1 + 1.1e-6, 2)).toBe(Infinity);
		expect(through(0, 2 + 0.9e-6, 10, false)).toBe(Infinity);
	});
});

describe('aim assist', () => {
	/** Whether an object whose focus lies there is helped by a ray of 10 m straight ahead. */
	const helped = (focus: Vec3, assist: object): boolean => {
		const [x, y, z] = focus;
		const far = object('x', [x, y, z], [ball(0.01, { at: [0, 50, 0] })], { focus: [0, 0, 0] });
		const query = { id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 10, assist };
		return verdict(answerTo(query, [far]), 'x').stage !== 'touch';
	};
	const angle = { by: 'angle', within: 10 };
	const distance = { by: 'distance', within: 0.5 };

	it('reaches what lies between the ends of the path, and no farther', () => {
		for (const assist of [angle, distance]) {
			expect(helped([0, 0, -10], assist)).toBe(true);
			expect(helped([0, 0, -10 - 0.9e-9], assist)).toBe(true);
			expect(helped([0, 0, -10 - 5e-9], assist)).toBe(false);
			expect(helped([0, 0, -10 - 5e-6], assist)).toBe(false);
		}
		expect(helped([0.1, 0, 0.9e-9], distance)).toBe(true);
		expect(helped([0.1, 0, 5e-9], distance)).toBe(false);
		expect(helped([0.1, 0, 5e-6], distance)).toBe(false);
	});

	it('by angle takes what lies at the very start for straight ahead', () => {
		expect(helped([0, 0, 0], angle)).toBe(true);
		expect(helped([0, 0, 0.9e-9], angle)).toBe(true);
		expect(helped([0.9e-9, 0, 0], angle)).toBe(true);
		expect(helped([5e-9, 0, 0], angle)).toBe(false);
	});

	it('ends at its own figure, on every side', () => {
		const side = Math.tan((10 * Math.PI) / 180) * 5;
		for (const [ux, uy] of [
			[1, 0],
			[-1, 0],
			[0, 1],
			[0, -1],
			[0.6, 0.8],
		] as const) {
			expect(helped([ux * (side - 1e-4), uy * (side - 1e-4), -5], angle)).toBe(true);
			expect(helped([ux * (side + 1e-4), uy * (side + 1e-4), -5], angle)).toBe(false);
			expect(helped([ux * 0.4999, uy * 0.4999, -5], distance)).toBe(true);
			expect(helped([ux * 0.5001, uy * 0.5001, -5], distance)).toBe(false);
		}
		// So wide that it is no cone any more: what lies beside the start.
		expect(helped([3, 0, -0.01], { by: 'angle', within: 89.9 })).toBe(true);
		expect(helped([3, 0, -0.001], { by: 'angle', within: 89.9 })).toBe(false);
		expect(helped([3, 0, -0.1], { by: 'angle', within: 88.9 })).toBe(true);
		expect(helped([3, 0, -0.05], { by: 'angle', within: 88.9 })).toBe(false);
	});
});

describe('among more shapes than are looked through one by one', () => {
	const crowd = (flat: boolean) =>
		Array.from({ length: 12 }, (_, i) => object(`far-${i}`, [60 + 3 * i, 40, 0], [flat ? disc(0.5) : ball(0.5)]));
	/** What the winner says, and what the full answer says. */
	const both = (query: object, objects: SceneObject[], flat = false): [string[], string[]] => {
		const p = project([...objects, ...crowd(flat)], [{ id: 'q', ...query }], flat ? { kind: 'flat' } : {});
		const answerer = new Answerer(buildWorld(p));
		const [own] = answerer.world.queries;
		if (!own) throw new Error('no query');
		const names = ({ selected }: Pick<Answer, 'selected'>) => selected.map((one) => one.object);
		return [names(answerer.winner(own)), names(answerer.explain(own))];
	};

	it('a start a little beside a shape is in it, on each side', () => {
		const cube = object('x', [0, 0, 0], [box([1, 1, 1])]);
		for (const axis of [0, 1, 2])
			for (const side of [-1, 1])
				for (const [by, names] of [
					[0.9e-6, ['x']],
					[1.1e-6, []],
				] as const) {
					const point: [number, number, number] = [0, 0, 0];
					point[axis] = side * (0.5 + by);
					const along: [number, number, number] = [0, 0, 0];
					along[axis] = side;
					const query = { kind: 'ray', from: { point }, aim: { along }, length: 5, startInside: 'count' };
					expect(both(query, [cube]), `${axis} ${side} ${by}`).toEqual([names, names]);
				}
	});

	it('a swept body is met wherever its path lies', () => {
		for (const [x, y, z] of [
			[7, 0, 0],
			[0, 7, 0],
			[0, 0, 7],
			[-7, 3, -9],
		] as Vec3[]) {
			const sweep = { kind: 'sweep', from: { point: [x, y, z] }, aim: { along: [1, 0, 0] }, length: 6 };
			const small = { ...sweep, shape: { kind: 'sphere', radius: 0.25 } };
			expect(both(small, [object('x', [x + 3, y + 0.5, z], [ball(0.3)])])).toEqual([['x'], ['x']]);
			expect(both(small, [object('x', [x + 3, y, z - 0.56], [ball(0.3)])])).toEqual([[], []]);
		}
	});

	it('who is helped by aim assist alone is found', () => {
		const ray = { kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 20 };
		const beside = object('x', [1, 0, -10], [ball(0.2)]);
		expect(both({ ...ray, assist: { by: 'distance', within: 1.01 } }, [beside])).toEqual([['x'], ['x']]);
		expect(both({ ...ray, assist: { by: 'distance', within: 0.99 } }, [beside])).toEqual([[], []]);
	});
});

describe('an outcome', () => {
	/** What is said of an object with a prompt of its own, by an outcome for its tag. */
	const said = (outcome: object, prompt: string | undefined = 'Own') => {
		const ray = { id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 20 };
		const x = object('x', [0, 0, -5], [ball(0.5)], { tags: ['crank'], action: 'own', ...(prompt ? { prompt } : {}) });
		const [chosen] = answerTo({ ...ray, outcomes: [{ tag: 'crank', ...outcome }] }, [x]).selected;
		return [chosen?.action, chosen?.prompt];
	};

	it('says what it says, leaves what it does not, and can take a prompt away', () => {
		expect(said({ action: 'turn', prompt: 'Turn it' })).toEqual(['turn', 'Turn it']);
		expect(said({ action: 'turn' })).toEqual(['turn', 'Own']);
		expect(said({ prompt: null })).toEqual(['own', null]);
		expect(said({ action: 'turn' }, '')).toEqual(['turn', null]);
	});
});

it('one query is explained by itself as by an answerer', () => {
	const p = project([object('x', [0, 0, -5], [ball(0.5)])], [ahead()]);
	const world = buildWorld(p);
	expect(explain(world, p.queries[0] as Query)).toEqual(new Answerer(world).explain(p.queries[0] as Query));
	expect(explain(world, p.queries[0] as Query).selected[0]?.object).toBe('x');
});

describe('the line a query comes down to', () => {
	const of = (kind: string, more: object, flat = false) => {
		const me = object('me', [1, 2, flat ? 0 : 3], []);
		const query = { id: 'q', kind, ...more } as Query;
		const world = buildWorld(project([me], [query], flat ? { kind: 'flat' } : {}));
		const placement = placementOf({ world, query, asker: world.objectById.get('me') ?? null, hitOf: () => null });
		if (isNote(placement)) throw new Error('it waits');
		return coreOf({ placement } as Touching);
	};
	const ray = { from: { point: [1, 2, 3] }, aim: { along: [0, 0, -1] }, length: 7 };

	it('is its path, as thick as what is swept', () => {
		expect(of('ray', ray)).toMatchObject({ start: [1, 2, 3], dir: [0, 0, -1], length: 7, thickness: 0 });
		const swept = of('sweep', { ...ray, shape: { kind: 'sphere', radius: 0.4 } });
		expect(swept).toMatchObject({ start: [1, 2, 3], length: 7, thickness: 0.4 });
	});

	it('is the middle of its one volume, as thick as that and what it grows', () => {
		const at = { at: { point: [4, 5, 6] as const } };
		expect(of('overlap', { ...at, shape: { kind: 'sphere', radius: 0.5 } })).toEqual({
			start: [4, 5, 6],
			dir: [0, 0, 0],
			length: 0,
			thickness: 0.5,
		});
		const me = object('me', [0, 0, 0], [ball(0.5)]);
		const query: Query = { id: 'q', kind: 'overlap', ...at, shape: { like: 'me', grow: 0.25 } };
		const world = buildWorld(project([me], [query]));
		const placement = placementOf({ world, query, asker: null, hitOf: () => null });
		if (isNote(placement)) throw new Error('it waits');
		expect(coreOf({ placement } as Touching)?.thickness).toBeCloseTo(0.75, 12);
	});

	it('is none of several volumes, and none of a flat pick', () => {
		const one = { shape: { kind: 'box', size: [1, 1, 1] }, at: [0, 0, -1], from: 0, until: 1 };
		expect(of('hitbox', { asker: 'me', boxes: [one] })?.length).toBe(0);
		expect(of('hitbox', { asker: 'me', boxes: [one, one] })).toBeNull();
		expect(of('pick', { camera: 'above', viewport: [100, 100], cursor: [50, 50] }, true)).toBeNull();
	});
});

describe('a contact far out', () => {
	it('has a normal one long, whatever digits the place has lost', () => {
		for (const radius of [1e-4, 1e-3, 0.5]) {
			const at: Vec3 = [9.9e6, -9.9e6, 9.9e6];
			const query = {
				id: 'q',
				kind: 'ray',
				from: { point: [at[0] - 3, at[1] + radius / 3, at[2]] },
				aim: { along: [1, 0, 0] },
				length: 20,
			};
			const [chosen] = answerTo(query, [object('x', at, [ball(radius)])]).selected;
			expect(Math.hypot(...(chosen?.normal ?? [0, 0, 0]))).toBeCloseTo(1, 8);
			expect(chosen?.normal?.[0]).toBeLessThan(-0.5);
		}
	});
});

describe('a normal far out', () => {
	/** Of a small ball, met at a place of it by a ray from ten thousand kilometres away. */
	const normalOf = (radius: number, x: number, y: number, scale = 1): Vec3 => {
		const from = { point: [x * radius, y * radius, 0] };
		const query = { id: 'q', kind: 'ray', from, aim: { along: [0, 0, -1] }, length: 2e7 };
		const small: SceneObject = { ...object('x', [0, 0, -1e7], [ball(radius)]), scale: [scale, scale, scale] };
		const normal = answerTo(query, [small]).selected[0]?.normal;
		if (!normal) throw new Error('missed');
		return normal;
	};

	it('is of length 1, however few digits of the contact are left', () => {
		for (const radius of [1e-2, 1e-4, 1e-6]) {
			const [x, y, z] = normalOf(radius, 0.3, 0.2);
			expect(Math.abs(Math.hypot(x, y, z) - 1)).toBeLessThan(1e-12);
			expect([Math.abs(x - 0.3), Math.abs(y - 0.2)].every((off) => off < 1e-3)).toBe(true);
		}
	});

	it('is against the path where none is left', () => {
		expect(normalOf(1e-6, 0, 0, 1e-6).map((v) => v + 0)).toEqual([0, 0, 1]);
	});
});
