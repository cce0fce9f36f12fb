/** Rays in bulk: where the walk alone decides, where it hands over, and each limit at its edge. */
import { describe, expect, it } from 'vitest';
import type { Project, Query, SceneObject, Shape } from '../project/schema';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { ahead, ball, box, object, project, rect } from '../tests/scene';
import { buildWorld, type World } from '../world/world';
import { Answerer } from './answer';
import { filtersOf } from './filters';
import { NOTHING, OTHER, RayWinner, TIED } from './ray-winner';

const AHEAD = [0, 0, 0, 0, 0, -1, 20];
const cube = (id: string, z: number, more: Partial<SceneObject> = {}, shape: object = {}) =>
	object(id, [0, 0, z], [box([1, 1, 1], shape)], more);

/** What a ray takes, by name, through the compiled walk; the walk in JavaScript has to say the same, and so have the stages. */
function takes(p: Project, ray: readonly number[] = AHEAD, query = 0): string {
	const world = buildWorld(p);
	const asked = world.queries[query] as Query;
	const path = Float64Array.from(ray);
	const quick = new RayWinner(world, asked);
	const named = (found: number) =>
		found >= 0
			? (world.objects[found] as { id: string }).id
			: { [NOTHING]: 'nothing', [TIED]: 'tied', [OTHER]: 'other' }[found];
	const said = named(quick.cast(path, 0));
	const plain = new RayWinner(world, asked, null);
	expect([named(plain.cast(path, 0)), plain.distance]).toEqual([said, quick.distance]);
	const [x, y, z, dx, dy, dz, length] = ray as [number, number, number, number, number, number, number];
	const { status, selected } = new Answerer(world).along(
		asked,
		[x, y, z],
		[dx, dy, dz],
		length,
		filtersOf(world, asked),
	);
	const only = selected.length === 1 ? selected[0] : undefined;
	expect(
		status === 'tie' ? 'tied' : status === 'none' ? 'nothing' : status === 'selected' && only ? only.object : 'other',
	).toBe(said);
	if (only && said === only.object) expect(quick.distance).toBeCloseTo(only.distance, 12);
	return `${said}`;
}

describe('the ordinary stages are asked', () => {
	const near = cube('near', -3);
	const far = cube('far', -6, { priority: 5 });
	const me = object('me', [0, 0, 12], [], { layer: 'b' });
	const asked = (query: object, objects: SceneObject[] = [near, far, me], ray: number[] = AHEAD) =>
		takes(project(objects, [ahead(query)]), ray);

	it('never where distance alone decides', () => {
		expect(asked({})).toBe('near');
		expect(asked({ choose: { by: [{ rule: 'distance' }, { rule: 'priority' }] } })).toBe('near');
		expect(asked({ choose: { take: 1 } })).toBe('near');
		const world = buildWorld(project([near, far, me], [ahead()]));
		const winner = new RayWinner(world, world.queries[0] as Query);
		winner.cast(Float64Array.from(AHEAD), 0);
		expect([winner.shares, winner.answer]).toEqual([true, null]);
	});

	it('for other rules, and for how many are taken', () => {
		expect(asked({ choose: { by: [{ rule: 'priority' }] } })).toBe('far');
		expect(asked({ choose: { by: [{ rule: 'priority' }, { rule: 'distance' }] } })).toBe('far');
		expect(asked({ choose: { by: [{ rule: 'distance', to: 'focus' }] } }, [{ ...near, focus: [0, 9, 0] }, far])).toBe(
			'far',
		);
		expect(asked({ choose: { take: 2 } })).toBe('other');
		expect(asked({ choose: { take: 'all' } })).toBe('other');
	});

	it('for ranges from elsewhere, level ones and ones to a focus', () => {
		expect(asked({ range: { max: 16, from: { object: 'me' } } })).toBe('near');
		expect(asked({ range: { min: 16, from: { object: 'me' } } })).toBe('far');
		const down = [0, 5, 2, 0, -Math.SQRT1_2, -Math.SQRT1_2, 20];
		expect(asked({ range: { max: 5.5 } }, [near, far], down)).toBe('nothing');
		expect(asked({ range: { max: 5.5, flat: true } }, [near, far], down)).toBe('near');
		expect(asked({ range: { max: 7, to: 'focus' } }, [{ ...near, focus: [0, 9, 0] }, far])).toBe('far');
	});

	it('for views, approaches, stand-ins and what is beside the ray', () => {
		expect(asked({ view: { within: 5, about: { along: [1, 0, 0] } } })).toBe('nothing');
		const shy = { ...near, approach: { from: [0, 0, -1], within: 60 } } as SceneObject;
		expect(asked({}, [shy, far])).toBe('far');
		expect(asked({ approach: 'ignore' }, [shy, far])).toBe('near');
		const plate = cube('plate', -3, { standsFor: 'far' });
		expect(asked({}, [plate, far])).toBe('far');
		const beside = object('beside', [0, 2, -3], [ball(0.5)]);
		expect(asked({}, [beside])).toBe('nothing');
		expect(asked({ assist: { by: 'distance', within: 2 } }, [beside])).toBe('beside');
	});

	it('for queries that are off, or wait for a state of the scene or the asker', () => {
		expect(asked({ enabled: false })).toBe('other');
		const states = { states: { lit: false } };
		const when = (of: string, is: boolean) => ({ selects: { when: [{ of, state: 'lit', is }] } });
		const inState = (query: object, of: SceneObject[] = [near, far]) => takes(project(of, [ahead(query)], states));
		expect(inState(when('scene', true))).toBe('other');
		expect(inState(when('scene', false))).toBe('near');
		expect(inState(when('target', true), [near, { ...far, states: { lit: true } }])).toBe('far');
	});

	it('for picks of flat scenes, by the depth of what lies there', () => {
		const flat = project(
			[object('low', [0, 0, 1], [rect([2, 2])], { priority: 1 }), object('high', [0, 0, 3], [rect([2, 2])])],
			[{ id: 'q', kind: 'pick', camera: 'above', cursor: [320, 180], viewport: [640, 360] }],
			{ kind: 'flat' },
		);
		const world = buildWorld(flat);
		const pick = world.queries[0] as Query;
		const winner = new RayWinner(world, pick);
		expect(winner.shares).toBe(false);
		expect(winner.aim(new Float64Array(30))).toBe(false);
	});

	it('and then have told, until the next ray does not need them', () => {
		const two = object('two', [0, 0, -3], [box([1, 1, 1], { at: [4, 0, 0] }), box([1, 1, 1], { id: 'b' })]);
		const world = buildWorld(
			project(
				[two, cube('twin', -3), cube('far', -6)],
				[ahead({ choose: { by: [{ rule: 'distance' }, { rule: 'listed' }] } })],
			),
		);
		const winner = new RayWinner(world, world.queries[0] as Query);
		const rays = Float64Array.of(...AHEAD, 4, 0, 0, 0, 0, -1, 20);
		expect([winner.cast(rays, 0), winner.answer?.selected[0]?.object]).toEqual([0, 'two']);
		expect([winner.cast(rays, 7), winner.answer]).toEqual([0, null]);
	});
});

describe('the walk alone', () => {
	const asked = (query: object, objects: SceneObject[], ray: number[] = AHEAD) =>
		takes(project(objects, [ahead(query)]), ray);
	const wall = (z: number, more: object = {}) => cube('wall', z, { layer: 'wall' }, more);
	const sees = { selects: { layers: ['a'] }, sight: { blockers: ['wall'] } };

	it('counts what it starts in, or passes it by', () => {
		const things = [cube('around', 0), cube('far', -6)];
		expect(asked({}, things)).toBe(asked({ startInside: 'skip' }, things));
		expect(asked({ startInside: 'skip' }, things)).toBe('far');
		expect(asked({ startInside: 'count' }, things)).toBe('around');
		const shell = object(
			'shell',
			[0, 0, 0],
			[
				{
					id: 'mesh',
					kind: 'hull',
					points: [
						[-1, -1, -1],
						[1, -1, -1],
						[0, 1, -1],
						[0, 0, 1],
					],
				} as Shape,
			],
		);
		expect(asked({ startInside: 'count' }, [shell, cube('far', -6)])).toBe('shell');
		// From behind, while a blocker holds the start: it counts at 0 and stops everything.
		expect(asked({ ...sees, startInside: 'count' }, [wall(0), cube('far', -6)])).toBe('nothing');
		expect(asked({ ...sees, startInside: 'skip' }, [wall(0), cube('far', -6)])).toBe('far');
	});

	it('keeps within the range, both ends belonging to it', () => {
		const things = [cube('near', -3), cube('far', -6)];
		expect(asked({ range: { min: 2.5 } }, things)).toBe('near');
		expect(asked({ range: { min: 2.5001 } }, things)).toBe('far');
		expect(asked({ range: { max: 2.5 } }, things)).toBe('near');
		expect(asked({ range: { max: 2.4999 } }, things)).toBe('nothing');
		expect(asked({ range: { min: 3, max: 5 } }, things)).toBe('nothing');
		// What is nearer than the range is no reason to stop before what lies in it, nor before a blocker.
		expect(asked({ ...sees, range: { min: 3 } }, [...things, wall(-4.5)])).toBe('nothing');
	});

	it('is stopped by a blocker before it, by none behind it, and has the stages say what stands about level', () => {
		const slack = 0.001;
		const thing = cube('thing', -4);
		expect(asked(sees, [thing, wall(-2)])).toBe('nothing');
		expect(asked(sees, [thing, wall(-6)])).toBe('thing');
		for (const off of [-2 * slack, -0.5 * slack, 0, 0.5 * slack, 2 * slack])
			expect(asked(sees, [thing, wall(-4 - off)])).toBe(off < -slack ? 'nothing' : off > slack ? 'thing' : 'tied');
		// Not by a sensor, nor by what is not on a blocking layer.
		expect(asked(sees, [thing, wall(-2, { role: 'sensor' })])).toBe('thing');
		expect(asked({ ...sees, sight: { blockers: ['b'] } }, [thing, wall(-2)])).toBe('thing');
	});

	it('chooses what itself blocks, and is stopped by it for the rest', () => {
		const blocking = { selects: { layers: ['a', 'wall'] }, sight: { blockers: ['wall'] } };
		expect(asked(blocking, [cube('thing', -6), wall(-3)])).toBe('wall');
		expect(asked({ ...blocking, range: { min: 4 } }, [cube('thing', -6), wall(-3)])).toBe('nothing');
		// One that blocks by one shape, and is chosen through another that lies farther on.
		const door = object(
			'door',
			[0, 0, 0],
			[box([1, 1, 1], { at: [0, 0, -3], layer: 'wall' }), box([1, 1, 1], { id: 'knob', at: [0, 0, -8] })],
		);
		expect(asked(sees, [cube('thing', -6), door])).toBe('door');
		expect(asked(sees, [cube('thing', -2), door])).toBe('thing');
	});

	it('takes one contact of an object, the nearest, in whatever order its shapes are met', () => {
		const long = object(
			'long',
			[0, 0, 0],
			[
				box([1, 1, 1], { at: [0, 0, -9] }),
				box([1, 1, 1], { id: 'b', at: [0, 0, -3] }),
				box([1, 1, 1], { id: 'c', at: [0, 0, -3] }),
			],
		);
		expect(asked({}, [long])).toBe('long');
		expect(asked({}, [cube('between', -6), long])).toBe('long');
		expect(asked({ range: { min: 3 } }, [cube('between', -6), long])).toBe('between');
	});

	it('is tied within the slack, and not past it; a further rule is for the stages', () => {
		const two = (off: number, query: object = {}) =>
			asked(query, [cube('one', -3), object('two', [0, 0, -3 - off], [box([1, 1, 1])], { priority: 2 })]);
		expect(two(0)).toBe('tied');
		expect(two(0.0009)).toBe('tied');
		expect(two(-0.0009)).toBe('tied');
		expect(two(0.0011)).toBe('one');
		expect(two(-0.0011)).toBe('two');
		const slack = (s: number) => ({ choose: { by: [{ rule: 'distance', slack: s }] } });
		expect(two(0.4, slack(0.5))).toBe('tied');
		expect(two(0.6, slack(0.5))).toBe('one');
		expect(two(0.5, slack(0.5))).toBe('tied');
		expect(two(0, { choose: { by: [{ rule: 'distance' }, { rule: 'priority' }] } })).toBe('two');
		// The second of three counts, wherever it stands in the file.
		const three = (a: number, b: number, c: number) => asked({}, [cube('a', a), cube('b', b), cube('c', c)]);
		expect(three(-9, -3, -3)).toBe('tied');
		expect(three(-3, -9, -3)).toBe('tied');
		expect(three(-3, -3, -9)).toBe('tied');
		expect(three(-9, -6, -3)).toBe('c');
	});

	it('hands over where it meets more than it can hold', () => {
		const many = (n: number) => Array.from({ length: n }, (_, i) => cube(`o${i}`, -3));
		const last = cube('last', -2.9);
		for (const n of [95, 96, 97, 200]) {
			expect(asked({}, many(n))).toBe('tied');
			expect(asked({ choose: { by: [{ rule: 'distance', slack: 0.05 }] } }, [...many(n), last])).toBe('last');
			expect(asked({ choose: { by: [{ rule: 'distance', slack: 0.2 }] } }, [...many(n), last])).toBe('tied');
		}
	});

	it('ends where the ray ends', () => {
		const on = (length: number) => asked({}, [cube('thing', -3)], [...AHEAD.slice(0, 6), length]);
		expect(on(2.5)).toBe('thing');
		expect(on(2.4999)).toBe('nothing');
		// A blocker just past the end, within the slack, still stands beside what is at the end; what could be chosen there does not.
		expect(asked(sees, [cube('thing', -3), wall(-3.0005)], [...AHEAD.slice(0, 6), 2.5])).toBe('tied');
		expect(asked(sees, [cube('thing', -3), wall(-3.0011)], [...AHEAD.slice(0, 6), 2.5])).toBe('thing');
		expect(asked({}, [cube('thing', -3), cube('other', -3.0005)], [...AHEAD.slice(0, 6), 2.5])).toBe('thing');
	});

	it('asks nothing of a scene without shapes', () => {
		expect(asked({}, [object('bare', [0, 0, -3], [])])).toBe('nothing');
	});
});

describe('a bundle of rays', () => {
	/** Four edges around a direction, and the middle, all from one point. */
	function edges(from: readonly number[], aim: readonly [number, number, number], wide: number): Float64Array {
		const [ax, ay, az] = aim;
		const side = Math.abs(ax) > 0.9 ? [0, 1, 0] : [1, 0, 0];
		const u = [ay * side[2]! - az * side[1]!, az * side[0]! - ax * side[2]!, ax * side[1]! - ay * side[0]!];
		const v = [ay * u[2]! - az * u[1]!, az * u[0]! - ax * u[2]!, ax * u[1]! - ay * u[0]!];
		const list: number[] = [];
		for (const [s, t] of [
			[-1, -1],
			[1, -1],
			[1, 1],
			[-1, 1],
			[0, 0],
		] as const) {
			const d = [0, 1, 2].map((k) => aim[k]! + wide * (s * u[k]! + t * v[k]!));
			const length = Math.hypot(...d);
			list.push(...from, ...d.map((c) => c / length));
		}
		return Float64Array.from(list);
	}

	/** Projects that leave the walk to decide, with what blocks and what ties. */
	function plain(seed: number): World {
		const p = randomProject(seed, { flat: false, standIns: false, objects: 16, moments: false });
		const d = dice(seed);
		for (const o of p.scene.objects) delete o.approach;
		const model = p.scene.objects.find((o) => (o.shapes ?? []).length > 0);
		if (model) p.scene.objects.push({ ...model, id: 'twin' });
		p.queries = p.queries.map((q) => {
			if (q.kind !== 'ray' && q.kind !== 'pick') return q;
			const { choose: _, view: __, assist: ___, ...rest } = q;
			// Its own path is left aside, but for whether there is one.
			if (rest.kind === 'ray')
				Object.assign(rest, { from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, to: undefined });
			const range = q.range && { min: q.range.min, max: q.range.max };
			return {
				...rest,
				enabled: true,
				range,
				choose: d.chance(0.5) ? undefined : { by: [{ rule: 'distance' }, { rule: 'listed' }] },
			} as Query;
		});
		for (const q of p.queries) if (q.selects?.when) q.selects.when = q.selects.when.filter((c) => c.of === 'target');
		return buildWorld(p);
	}

	it('has the winners each ray has by itself, and those of the stages', () => {
		let shared = 0;
		const outcomes = new Set<string>();
		for (let seed = 1; seed <= runs(400); seed++) {
			const world = plain(seed);
			const d = dice(seed);
			for (const query of world.queries) {
				if (query.kind !== 'ray' && query.kind !== 'pick') continue;
				const winner = new RayWinner(world, query);
				expect(winner.shares, `seed ${seed} ${query.id}`).toBe(true);
				const answerer = new Answerer(world);
				const filters = filtersOf(world, query);
				const from = [d.between(-4, 4), d.between(-4, 4), d.between(-4, 4)] as const;
				const aim = d.direction();
				const around = edges(from, aim, 0.2);
				const aimed = winner.aim(around);
				for (let k = 0; k < 8; k++) {
					// Between the edges: a mean of them, weighted anyhow.
					const weights = [d.next(), d.next(), d.next(), d.next()];
					const dir = [0, 1, 2].map((c) => weights.reduce((sum, w, e) => sum + w * around[6 * e + 3 + c], 0));
					const size = Math.hypot(...dir);
					const unit = dir.map((c) => c / size) as [number, number, number];
					const ray = Float64Array.of(...from, ...unit, d.between(1, 12));
					const alone = [winner.cast(ray, 0), winner.distance];
					const said = answerer.along(query, [...from], unit, ray[6], filters);
					const label = `seed ${seed} ${query.id} ${k}`;
					const object =
						said.status === 'tie' ? TIED : (world.objectById.get(said.selected[0]?.object ?? '')?.index ?? NOTHING);
					expect(alone[0], label).toBe(object);
					outcomes.add(object >= 0 ? 'object' : String(object));
					if (!aimed) continue;
					shared++;
					expect([winner.castInBeam(ray, 0), winner.distance], label).toEqual(alone);
					if (object >= 0) expect(winner.meets, label).toBe(true);
				}
			}
		}
		expect(shared).toBeGreaterThan(runs(1000));
		expect(outcomes).toContain('object');
		expect(outcomes).toContain(String(NOTHING));
		// A tie is rare.
		if (runs(400) === 400) expect(outcomes).toContain(String(TIED));
	});

	it('meets nothing where nothing lies, and says so', () => {
		const p = project([cube('thing', -5)], [ahead()]);
		const world = buildWorld(p);
		const winner = new RayWinner(world, world.queries[0] as Query);
		expect(winner.meets).toBe(false);
		expect(winner.aim(edges([0, 0, 0], [0, 1, 0], 0.1))).toBe(true);
		expect(winner.meets).toBe(false);
		expect(winner.castInBeam(Float64Array.of(0, 0, 0, 0, 1, 0, 20), 0)).toBe(NOTHING);
		expect(winner.aim(edges([0, 0, 0], [0, 0, -1], 0.1))).toBe(true);
		expect(winner.meets).toBe(true);
		expect([winner.castInBeam(Float64Array.from(AHEAD), 0), winner.distance]).toEqual([0, 4.5]);
		// Where no bundle was ever aimed each goes by itself.
		const other = new RayWinner(world, world.queries[0] as Query);
		expect([other.castInBeam(Float64Array.from(AHEAD), 0), other.distance]).toEqual([0, 4.5]);
	});
});
