/** The scene resolved: where everything stands, what carries it, its masks; and what stays true when things move. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BODY_SIZE, MESH, support } from '../geometry/body';
import { rotationOf } from '../geometry/matrix';
import type { Project, SceneObject, Shape } from '../project/schema';
import type { Mesh } from '../space/mesh';
import { randomProject } from '../tests/project';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { ahead, box, object, project } from '../tests/scene';
import { bodyOf, hullOf } from './bodies';
import {
	buildWorld,
	forwardOf,
	hangsUnder,
	maskOf,
	moveObjects,
	tagMask,
	type World,
	type WorldObject,
	withQueries,
} from './world';

const at = (world: World, id: string): WorldObject => {
	const found = world.objectById.get(id);
	if (!found) throw new Error(`no ${id}`);
	return found;
};

/** To a nanometre, and without the sign of nothing. */
const tidy = (v: number): number => Math.round(v * 1e9) / 1e9 + 0;

/** A carrier turned a quarter to the left, twice as large, with a box on it that has one of its own. */
const carried = (): Project =>
	project(
		[
			object('hand', [1, 0, 0], [], { parent: 'arm', focus: [0, 0.5, 0] }),
			object('arm', [0, 0, -1], [box([1, 1, 1], { at: [0, 1, 0] })], { parent: 'body', scale: [1, 3, 1] }),
			object('body', [10, 0, 0], [], { rotation: [90, 0, 0], scale: [2, 2, 2] }),
		],
		[ahead()],
		{
			cameras: [
				{ id: 'eye', object: 'arm', position: [0, 0, -1], rotation: [0, 30, 0], projection: 'perspective', fov: 60 },
			],
		},
	);

describe('a world', () => {
	it('has children where their parents put them, wherever they stand in the file', () => {
		const world = buildWorld(carried());
		// A quarter to the left turns ahead (0, 0, −1) into (−1, 0, 0); twice as far.
		expect(at(world, 'arm').position.map(tidy)).toEqual([8, 0, 0]);
		expect(at(world, 'arm').scale).toEqual([2, 6, 2]);
		expect(at(world, 'hand').position.map(tidy)).toEqual([8, 0, -2]);
		expect(at(world, 'hand').focus[1]).toBeCloseTo(3, 9);
		expect(at(world, 'arm').focus).toEqual(at(world, 'arm').position);
		expect([
			at(world, 'hand').parent?.id,
			at(world, 'arm').children.map((c) => c.id),
			at(world, 'body').parent,
		]).toEqual(['arm', ['hand'], null]);
		const { body } = world.shapes[0]!;
		expect([body.x, body.y, body.z].map(tidy)).toEqual([8, 6, 0]);
		expect([body.hx, body.hy, body.hz]).toEqual([1, 3, 1]);
		// A camera carried by a turned thing looks where that looks, and up by its own pitch.
		const eye = world.cameras.get('eye')!;
		expect(eye.position.map(tidy)).toEqual([6, 0, 0]);
		const m = eye.rotation;
		expect([-m[2], -m[5], -m[8]].map(tidy)).toEqual([-0.866025404, 0.5, 0]);
		expect([eye.object?.id, eye.far]).toEqual(['arm', 1000]);
	});

	it('leaves a shape its own turn under its object’s', () => {
		const world = buildWorld(
			project([object('o', [0, 0, 0], [box([2, 1, 1], { rotation: [90, 0, 0] })], { rotation: [90, 0, 0] })], []),
		);
		const m = world.shapes[0]!.body.m;
		expect([...m].map(tidy)).toEqual([-1, 0, 0, 0, 1, 0, 0, 0, -1]);
	});

	it('is active only where everything above is', () => {
		const world = buildWorld(
			project(
				[
					object('a', [0, 0, 0], [], { active: false }),
					object('b', [0, 0, 0], [], { parent: 'a' }),
					object('c', [0, 0, 0], []),
				],
				[],
			),
		);
		expect(world.objects.map((o) => o.active)).toEqual([false, false, true]);
	});

	it('leaves out shapes that are not enabled, and says of the rest layer and role', () => {
		const shapes: Shape[] = [
			box([1, 1, 1], { id: 'x', enabled: false }),
			box([1, 1, 1], { id: 'y', layer: 'wall', role: 'sensor' }),
			box([1, 1, 1], { id: 'z' }),
		];
		const world = buildWorld(project([object('o', [0, 0, 0], shapes)], []));
		expect(world.shapes.map((s) => [s.index, s.id, s.layer, s.sensor])).toEqual([
			[0, 'y', 4, true],
			[1, 'z', 1, false],
		]);
		expect(at(world, 'o').shapes).toEqual(world.shapes);
		expect([maskOf(world, ['a', 'wall']), maskOf(world, []), maskOf(world, 'all'), maskOf(world, undefined)]).toEqual([
			5, 0, -1, -1,
		]);
		expect([world.tieSlack, world.hasStandIns, world.flat]).toEqual([0.001, false, false]);
	});

	it('puts stand-ins with what they answer for', () => {
		const world = buildWorld(
			project([object('lid', [0, 0, 0], [], { standsFor: 'chest' }), object('chest', [0, 0, 0], [])], []),
		);
		expect(world.objects.map((o) => o.answersFor.id)).toEqual(['chest', 'chest']);
		expect(world.hasStandIns).toBe(true);
	});

	it('has bits for tags, families included, past the thirty-second', () => {
		const tags = Array.from({ length: 65 }, (_, i) => ({
			id: `t${i}`,
			...(i === 64 ? { under: 't33' } : i === 33 ? { under: 't0' } : {}),
		}));
		const world = buildWorld(
			project(
				[
					object('none', [0, 0, 0], []),
					object('deep', [0, 0, 0], [], { tags: ['t64'] }),
					object('flat', [0, 0, 0], [], { tags: ['t31', 't32'] }),
				],
				[],
				{
					tags,
				},
			),
		);
		expect(world.tagWords).toBe(3);
		const bits = (i: number) => [...world.tagBits.subarray(3 * i, 3 * i + 3)];
		expect([bits(0), bits(1), bits(2)]).toEqual([
			[0, 0, 0],
			[1, 2, 1],
			[2147483648, 1, 0],
		]);
		expect([...(tagMask(world, ['t33', 't31']) ?? [])]).toEqual([2147483648, 2, 0]);
		expect([tagMask(world, []), tagMask(world, undefined)]).toEqual([null, null]);
		expect([...at(world, 'deep').tags].sort()).toEqual(['t0', 't33', 't64']);
		const none = buildWorld(project([], [], { tags: [] }));
		expect(none.tagWords).toBe(1);
		const full = buildWorld(
			project([object('o', [0, 0, 0], [], { tags: ['t31'] })], [], {
				tags: tags.slice(0, 32).map(({ id }) => ({ id })),
			}),
		);
		expect([full.tagWords, full.tagBits[0]]).toEqual([1, 2147483648]);
	});

	it('keeps what chains of parents multiply to within what can be calculated with', () => {
		const chain = (scale: number, step: number) =>
			Array.from(
				{ length: 4 },
				(_, i): SceneObject => ({
					id: `o${i}`,
					layer: 'a',
					position: [step, 0, -step],
					scale: [scale, 1, scale],
					...(i > 0 ? { parent: `o${i - 1}` } : {}),
				}),
			);
		const large = buildWorld(project(chain(1e6, 1e7), []));
		expect(large.objects.map((o) => o.scale[0])).toEqual([1e6, 1e12, 1e12, 1e12]);
		expect(large.objects.map((o) => o.scale[1])).toEqual([1, 1, 1, 1]);
		expect(large.objects.map((o) => o.position[0])).toEqual([1e7, 1e7 + 1e13, 1e15, 1e15]);
		expect(large.objects[3]?.position[2]).toBe(-1e15);
		const small = buildWorld(project(chain(1e-6, 0), []));
		expect(small.objects.map((o) => o.scale[0])).toEqual([1e-6, 1e-12, 1e-12, 1e-12]);
	});

	it('says what cannot stand', () => {
		const round = project([object('a', [0, 0, 0], []), object('b', [0, 0, 0], [], { parent: 'a' })], []);
		round.scene.objects[0]!.parent = 'b';
		expect(() => buildWorld(round)).toThrow('go round in a circle');
		expect(() => buildWorld(round, 'never')).toThrow(RangeError);
		// As many in a chain as there are is none.
		const line = Array.from({ length: 300 }, (_, i) =>
			object(`o${i}`, [0, 1, 0], [], i < 299 ? { parent: `o${i + 1}` } : {}),
		);
		const world = buildWorld({ ...round, scene: { ...round.scene, objects: line } });
		expect(world.objects[0]?.position[1]).toBe(300);
		expect(() => hullOf([[0, 0, 0], [1, 0, 0], [0, 1, 0], [1, 1, 0]], [1, 1, 1])).toThrow('the points have no volume'); // biome-ignore format: one line
		expect(() => hullOf([[0, 0], [1, 0], [2, 0]], [1, 1, 1])).toThrow('the points have no area'); // biome-ignore format: one line
	});

	it('knows what hangs under what, and what is ahead', () => {
		const world = buildWorld(carried());
		const [hand, arm, body] = ['hand', 'arm', 'body'].map((id) => at(world, id)) as [
			WorldObject,
			WorldObject,
			WorldObject,
		];
		expect([
			hangsUnder(hand, body),
			hangsUnder(hand, hand),
			hangsUnder(body, hand),
			hangsUnder(null, body),
			hangsUnder(arm, hand),
		]).toEqual([true, true, false, false, false]);
		const turned = { ...body, rotation: rotationOf([30, 20, 10]) };
		const m = turned.rotation;
		expect(forwardOf(turned, false)).toEqual([-m[2], -m[5], -m[8]]);
		expect(forwardOf(turned, true)).toEqual([m[0], m[3], m[6]]);
		const ahead = forwardOf(body, false);
		expect(ahead.map(tidy)).toEqual([-1, 0, 0]);
	});
});

describe('bodies', () => {
	it('take the scale as the contract says', () => {
		const of = (shape: object, scale: [number, number, number], flat = false) => bodyOf(shape as Shape, scale, flat);
		expect(of({ kind: 'sphere', radius: 1 }, [2, 3, 4]).r).toBe(4);
		expect(of({ kind: 'circle', radius: 1 }, [2, 3, 4], true).r).toBe(3);
		const capsule = of({ kind: 'capsule', radius: 0.5, height: 2 }, [2, 3, 4]);
		expect([capsule.r, capsule.hy]).toEqual([2, 1]);
		// In a flat scene the way round a capsule is X alone.
		const stick = of({ kind: 'capsule', radius: 0.5, height: 4 }, [2, 3, 9], true);
		expect([stick.r, stick.hy]).toEqual([1, 5]);
		const drum = of({ kind: 'cylinder', radius: 0.5, height: 2 }, [2, 3, 4]);
		expect([drum.hx, drum.hy]).toEqual([2, 3]);
		const card = of({ kind: 'rect', size: [1, 2] }, [2, 3, 1], true);
		expect([card.hx, card.hy, card.hz]).toEqual([1, 3, 0]);
		const mesh = of({ kind: 'mesh', vertices: [0, 0, 0, 1, 0, 0, 0, 1, 1], triangles: [0, 1, 2] }, [2, 3, 4]);
		expect([...(mesh.mesh as Mesh).corners]).toEqual([0, 0, 0, 2, 0, 0, 0, 3, 4]);
	});

	it('are built once for a list of points and a scale, and anew for another list', () => {
		const points = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]]; // biome-ignore format: one line
		expect(hullOf(points, [2, 1, 1])).toBe(hullOf(points, [2, 1, 1]));
		expect(hullOf(points, [2, 1, 1])).not.toBe(hullOf(points, [3, 1, 1]));
		expect(hullOf([...points], [2, 1, 1])).not.toBe(hullOf(points, [2, 1, 1]));
		expect(Math.max(...hullOf(points, [3, 1, 1]).points)).toBe(3);
		const vertices = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1];
		const [one, other] = [[0, 1, 2], [0, 1, 3]]; // biome-ignore format: one line
		const mesh = (triangles: number[] | undefined, scale: [number, number, number] = [1, 1, 1]) =>
			bodyOf({ id: 'm', kind: 'mesh', vertices, triangles: triangles ?? [] }, scale, false).mesh;
		expect(mesh(one)).toBe(mesh(one));
		expect(mesh(one)).not.toBe(mesh(other));
		expect((mesh(other) as Mesh).corners[8]).toBe(1);
		expect(mesh(one, [2, 1, 1])).not.toBe(mesh(one));
		// Only a few are kept; what is asked for again is then built again, and is the same.
		const first = mesh(one, [1, 1, 2]);
		for (let i = 3; i < 12; i++) mesh(one, [1, 1, i]);
		expect(mesh(one, [1, 1, 2])).not.toBe(first);
		expect(mesh(one, [1, 1, 2])).toEqual(first);
	});
});

describe('the bodies in the order of the tree', () => {
	/** Every body as the tree's arrays have it. */
	function held(world: World): void {
		const tree = world.tree();
		world.shapes.forEach((shape, index) => {
			const place = world.leafPlace[index]!;
			expect(tree.order[place]).toBe(index);
			expect(world.leafBodies[place]).toBe(shape.body);
			expect(world.leafKinds[place]).toBe(shape.body.kind);
			expect([...world.bodies.subarray(BODY_SIZE * place, BODY_SIZE * place + 3)]).toEqual([
				shape.body.x,
				shape.body.y,
				shape.body.z,
			]);
			const [x, y, z, r] = world.boundingSpheres.subarray(4 * place, 4 * place + 4);
			const [cx, cy, cz] = [x! + tree.origin[0]!, y! + tree.origin[1]!, z! + tree.origin[2]!];
			const off = Math.hypot(shape.body.x - cx, shape.body.y - cy, shape.body.z - cz);
			// With a micrometre to spare all of it lies in its ball, and the ball is no larger than that asks for.
			expect(off + shape.body.boundingRadius + 1e-6).toBeLessThanOrEqual(r!);
			expect(r).toBeLessThanOrEqual(
				(shape.body.boundingRadius + 1e-5 + 1e-6 * (Math.abs(x!) + Math.abs(y!) + Math.abs(z!))) * 1.00001,
			);
			if (shape.body.kind === MESH) return;
			const far = new Float64Array(3);
			for (const [dx, dy, dz] of [
				[1, 0, 0],
				[0, -1, 0],
				[0.6, 0, 0.8],
			] as const) {
				// biome-ignore format: one line
				support(shape.body, dx, dy, dz, far, 0);
				expect(Math.hypot(far[0]!, far[1]!, far[2]!) + shape.body.r).toBeLessThanOrEqual(
					shape.body.boundingRadius * (1 + 1e-12),
				);
			}
		});
	}

	it('are there for every shape, also far out and after moves', () => {
		fc.assert(
			fc.property(fc.integer({ min: 1, max: 1e6 }), fc.constantFrom(0, 1e3, 1e6), (seed, out) => {
				const p = randomProject(seed, { meshes: true });
				for (const o of p.scene.objects)
					if (o.parent === undefined)
						o.position = [(o.position?.[0] ?? 0) + out, (o.position?.[1] ?? 0) - out, o.position?.[2] ?? 0];
				const world = buildWorld(p);
				held(world);
				const d = dice(seed);
				const moved = world.objects.filter(() => d.whole(0, 2) === 0);
				moveObjects(
					world,
					new Map(
						moved.map((o) => [
							o.id,
							{ ...o.def, position: [d.between(-3, 3), d.between(-3, 3), 0] as [number, number, number] },
						]),
					),
				);
				held(world);
			}),
			{ numRuns: runs(60) },
		);
	});
});

describe('moving', () => {
	it('brings children, foci and carried cameras along, and leaves the world as one built there', () => {
		const p = carried();
		const world = buildWorld(p);
		world.tree();
		const turned: SceneObject = { ...p.scene.objects[2]!, position: [0, 5, 0], rotation: [0, 90, 0] };
		moveObjects(world, new Map([['body', turned], ['hand', { ...p.scene.objects[0]!, position: [0, 0, 7] }]])); // biome-ignore format: one line
		const there = buildWorld({ ...p, scene: { ...p.scene, objects: world.objects.map((o) => o.def) } });
		expect(world.objects.map((o) => [o.position, o.focus, [...o.rotation]])).toEqual(
			there.objects.map((o) => [o.position, o.focus, [...o.rotation]]),
		);
		expect([...world.foci]).toEqual([...there.foci]);
		expect([...world.bounds()]).toEqual([...there.bounds()]);
		const [eye, other] = [world.cameras.get('eye')!, there.cameras.get('eye')!];
		expect([eye.position, [...eye.rotation]]).toEqual([other.position, [...other.rotation]]);
		expect(() => moveObjects(world, new Map([['nobody', turned]]))).toThrow('no object "nobody"');
	});

	it('is seen through other queries too', () => {
		const p = carried();
		const world = buildWorld(p);
		const other = withQueries(world, [ahead({ id: 'other' })]);
		expect([...other.queryById.keys()]).toEqual(['other']);
		expect([...world.queryById.keys()]).toEqual(['q']);
		moveObjects(world, new Map([['body', { ...p.scene.objects[2]!, position: [0, 0, 0] }]]));
		expect(other.boundingSpheres).toBe(world.boundingSpheres);
		expect(other.shapes[0]?.body.x).toBeCloseTo(-2, 9);
		expect(other.tree()).toBe(world.tree());
	});
});
