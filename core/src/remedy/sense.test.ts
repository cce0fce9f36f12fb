/** Remedies a colleague would propose: they leave the world standing, name the mistake first, and say how far they came where none helps. */
import { expect, it } from 'vitest';
import type { Query, SceneObject } from '../project/schema';
import { ahead, box, object, project } from '../tests/scene';
import { buildWorld, moveObjects } from '../world/world';
import { Footing, type Mover } from './footing';
import { kindOf } from './likes';
import type { Earlier } from './put-back';
import { type Remedy, remediesFor } from './remedy';

const floor = object('floor', [0, -0.1, 0], [box([40, 0.2, 40])], { layer: 'wall' });
const cube = (id: string, at: [number, number, number], more: Partial<SceneObject> = {}): SceneObject =>
	object(id, at, [box([1, 1, 1])], more);
const found = (objects: SceneObject[], query: object = {}, earlier: Earlier[] = []) =>
	remediesFor(
		project(objects, [ahead({ from: { point: [0, 0.5, 0] }, ...query }) as Query]),
		{ query: 'q', object: 'x' },
		{ earlier },
	);
const moveOf = ({ patch }: Remedy, from: SceneObject): number[] => {
	const value = patch.find((op) => op.path.endsWith('/position')) as { value: number[] } | undefined;
	const parts = patch.filter((op) => /\/position\/\d$/.test(op.path)) as { path: string; value: number }[];
	const to = [...(value?.value ?? from.position ?? [0, 0, 0])];
	for (const { path, value: v } of parts) to[Number(path.at(-1))] = v;
	return to.map((v, k) => v - ((from.position ?? [0, 0, 0])[k] as number));
};

/** Whether an object may go from where it stands by so much. */
function mayGo(objects: SceneObject[], id: string, by: [number, number, number], mover: Mover = 'thing'): boolean {
	const world = buildWorld(project(objects, []));
	const one = world.objectById.get(id);
	if (!one) throw new Error(`no ${id}`);
	const footing = new Footing(world, one, mover);
	const [x, y, z] = one.def.position ?? [0, 0, 0];
	moveObjects(world, new Map([[id, { ...one.def, position: [x + by[0], y + by[1], z + by[2]] }]]));
	return !footing.fixed && footing.allows();
}

it('what stands on something goes level, and to where it is borne', () => {
	const table = object('table', [0, 0.5, 0], [box([2, 1, 1])], { layer: 'wall' });
	const cup = object('cup', [0, 1.05, 0], [box([0.1, 0.1, 0.1])]);
	const scene = [floor, table, cup];
	expect(mayGo(scene, 'cup', [0.5, 0, 0])).toBe(true);
	// Off the table, down into it, up into the air.
	expect(mayGo(scene, 'cup', [1.2, 0, 0])).toBe(false);
	expect(mayGo(scene, 'cup', [0, -0.2, 0])).toBe(false);
	expect(mayGo(scene, 'cup', [0, 0.5, 0])).toBe(false);
	// A table with something on it stays; so does a floor, and what is as long as a wall.
	expect(mayGo(scene, 'table', [0.1, 0, 0])).toBe(false);
	expect(mayGo([floor, table], 'table', [0.1, 0, 0])).toBe(true);
	expect(mayGo([floor, object('wall', [0, 1, 0], [box([5, 2, 0.2])])], 'wall', [0, 0, 0.1])).toBe(false);
	expect(mayGo([floor, object('board', [0, 1, 0], [box([3, 2, 0.2])])], 'board', [0, 0, 0.1])).toBe(true);
});

it('nothing goes into what is solid, deeper than it stood in it; what hangs may go anywhere else', () => {
	const scene = [floor, cube('x', [0, 0.5, 0]), cube('y', [1.5, 0.5, 0])];
	expect(mayGo(scene, 'x', [0.5, 0, 0])).toBe(true);
	expect(mayGo(scene, 'x', [0.51, 0, 0])).toBe(false);
	expect(
		mayGo(
			[floor, cube('x', [0, 0.5, 0]), object('zone', [1.5, 0.5, 0], [box([1, 1, 1], { role: 'sensor' })])],
			'x',
			[1, 0, 0],
		),
	).toBe(true);
	// What sticks in another already may go on sticking as deep.
	expect(mayGo([floor, cube('x', [0.7, 0.5, 0]), cube('y', [1.5, 0.5, 0])], 'x', [0, 0, 0.1])).toBe(true);
	expect(mayGo([floor, cube('x', [0, 3, 0])], 'x', [0, 1, 0])).toBe(true);
	expect(mayGo([floor, cube('x', [0, 3, 0])], 'x', [0, -2.6, 0])).toBe(false);
	// A mesh has no inside, and is a wall all the same.
	const sheet = object(
		'sheet',
		[0, 2, 0],
		[{ id: 's', kind: 'mesh', vertices: [-5, 0, -5, 5, 0, -5, 5, 0, 5, -5, 0, 5], triangles: [0, 2, 1, 0, 3, 2] }],
	);
	expect(mayGo([sheet, cube('x', [0, 3, 0])], 'x', [0, -0.4, 0])).toBe(true);
	expect(mayGo([sheet, cube('x', [0, 3, 0])], 'x', [0, -0.6, 0])).toBe(false);
	// What hangs on it comes along, and is not in its way.
	const hung = cube('hung', [0, 1.2, 0], { parent: 'x' });
	expect(
		mayGo([floor, cube('x', [0, 0.5, 0]), hung, object('beam', [3, 1.7, 0], [box([1, 0.2, 4])])], 'x', [2.2, 0, 0]),
	).toBe(false);
	expect(mayGo([floor, cube('x', [0, 0.5, 0]), hung], 'x', [2.2, 0, 0])).toBe(true);
});

it('who has no shapes walks level, and not through walls', () => {
	const me = object('me', [0, 0, 0], []);
	const wall = object('wall', [2, 1, 0], [box([0.2, 2, 6])]);
	expect(mayGo([floor, me, wall], 'me', [1.5, 0, 0], 'somebody')).toBe(true);
	expect(mayGo([floor, me, wall], 'me', [1.9, 0, 0], 'somebody')).toBe(false);
	expect(mayGo([floor, me], 'me', [0, 0.5, 0], 'somebody')).toBe(false);
	const world = buildWorld(project([me], []));
	expect(new Footing(world, world.objectById.get('me') as never, 'somebody').level).toBe(true);
	expect(new Footing(world, world.objectById.get('me') as never, 'thing').level).toBe(false);
});

it('moves of what stands on the ground are level', () => {
	const x = cube('x', [2, 0.5, -5]);
	const me = object('me', [0, 0, 0], []);
	const { remedies } = found([floor, x, me], { asker: 'me', from: { object: 'me', offset: [0, 0.8, 0] } });
	const of = (kind: string) => remedies.find((r) => r.kind === kind) as Remedy;
	expect(moveOf(of('move-object'), x)[1]).toBe(0);
	expect(of('move-object').size).toBeCloseTo(1.5, 2);
	expect(moveOf(of('move-asker'), me)[1]).toBe(0);
	expect(of('move-asker').size).toBeCloseTo(1.5, 2);
	// A blocker on the ground is not sunk into it, though that would be the least.
	const crate = object('crate', [0, 0.4, -2], [box([1, 0.8, 1])], { layer: 'wall' });
	const hidden = found([floor, crate, cube('x', [0, 0.5, -5])], {
		sight: { blockers: ['wall'] },
		selects: { layers: ['a'] },
	});
	const aside = hidden.remedies.find((r) => r.kind === 'move-blocker') as Remedy;
	expect(moveOf(aside, crate)[1]).toBe(0);
	expect(aside.size).toBeCloseTo(0.5, 2);
});

it('what all others of its kind have otherwise looks like the mistake, and stands first', () => {
	expect([kindOf('crate-12'), kindOf('Crate 3'), kindOf('crate'), kindOf('12'), kindOf('-7'), kindOf('')]).toEqual([
		'crate',
		'Crate',
		null,
		null,
		null,
		null,
	]);
	const others = [1, 2, 3].map((i) => cube(`x-${i}`, [4 * i, 0.5, 8], { layer: 'b' }));
	const ask = (list: SceneObject[], layer: string) =>
		remediesFor(
			project(
				[...list, cube('x-9', [0, 0.5, -5], { layer })],
				[ahead({ from: { point: [0, 0.5, 0] }, selects: { layers: ['b'] } })],
			),
			{
				query: 'q',
				object: 'x-9',
			},
		).remedies.map((r) => [r.words, r.looks]);
	expect(ask(others, 'a')).toEqual([
		['Put x-9 on layer b', 'mistake'],
		['Choose from a too', undefined],
	]);
	// One other makes no kind; where the others are elsewhere too, it merely works.
	expect(ask(others.slice(0, 1), 'a').map(([, looks]) => looks)).toEqual([undefined, undefined]);
	expect(
		ask(
			others.map((o) => ({ ...o, layer: 'a' })),
			'a',
		),
	).toEqual([
		['Choose from a too', undefined],
		['Put x-9 on layer b', 'works'],
	]);
	const tagged = others.map((o) => ({ ...o, layer: 'a', tags: ['crank'], states: { wear: 3 }, side: 'them' }));
	const first = (query: object) =>
		remediesFor(
			project(
				[...tagged, object('me', [0, 0, 9], [], { side: 'us' }), cube('x-9', [0, 0.5, -5], { side: 'us' })],
				[ahead({ from: { point: [0, 0.5, 0] }, asker: 'me', ...query })],
			),
			{ query: 'q', object: 'x-9' },
		).remedies.map((r) => [r.words, r.looks])[0];
	expect(first({ selects: { tags: { all: ['crank'] } } })).toEqual(['Give x-9 the tag crank', 'mistake']);
	expect(first({ selects: { when: [{ of: 'target', state: 'wear', is: 3 }] } })).toEqual([
		'Set wear of x-9 to 3',
		'mistake',
	]);
	expect(first({ selects: { stances: ['hostile'] } })).toEqual(['Put x-9 on the side them', 'mistake']);
});

it('a shape that is far higher than the others of its object is switched off before anything is moved', () => {
	const sheet = object('sheet', [0, 0, -2], [box([1, 0.1, 1]), box([1, 2, 1], { id: 'old', at: [0, 1, 0] })], {
		layer: 'wall',
	});
	const { remedies } = found([floor, sheet, cube('x', [0, 0.5, -5])], {
		sight: { blockers: ['wall'] },
		selects: { layers: ['a'] },
	});
	expect(remedies.slice(0, 2).map((r) => [r.words, r.looks])).toEqual([
		['Switch the shape old of sheet off', 'mistake'],
		['Make the shape old of sheet a sensor', 'mistake'],
	]);
	expect(remedies.at(-1)?.looks).toBe('works');
});

it('a tie is settled by a rule before a thing is nudged', () => {
	const { remedies } = found([cube('x', [0.2, 0.5, -5]), cube('y', [-0.2, 0.5, -5])]);
	const looks = remedies.map((r) => r.looks === 'works');
	expect(remedies[0]?.kind).toBe('rule');
	expect(looks.indexOf(true)).toBeGreaterThan(0);
	expect(looks.slice(looks.indexOf(true)).every(Boolean)).toBe(true);
});

it('what the last edits put otherwise is put back, the newest state first, and only of what matters', () => {
	const was = cube('x', [0, 0.5, -5], { tags: ['crank'] });
	const earlier: Earlier[] = [
		{ entry: { object: was }, edit: 'Move x' },
		{ entry: { object: { ...was, position: [0, 0.5, -6] } }, edit: 'Move x before' },
		{ entry: { object: cube('far', [0, 0.5, -5]) }, edit: 'Move far' },
		{ entry: { query: ahead({ from: { point: [3, 0.5, 0] } }) as Query }, edit: 'Move q' },
	];
	const { remedies } = found([cube('x', [3, 0.5, -5]), cube('far', [9, 0.5, 9])], {}, earlier);
	const back = remedies.filter((r) => r.kind === 'put-back');
	expect(back.map((r) => r.words).sort()).toEqual([
		'Put q back as it was before “Move q”',
		'Put x back as it was before “Move x”',
	]);
	expect(remedies.slice(0, 2).every((r) => r.kind === 'put-back' && r.looks === 'mistake')).toBe(true);
	// All of it is put back, what it had then and has no more too.
	expect(back.find((r) => r.words.includes('x back'))?.patch).toEqual(
		expect.arrayContaining([expect.objectContaining({ path: '/scene/objects/0/tags', value: ['crank'] })]),
	);
});

it('who asks is turned by the least to either side, and the aim towards what is meant', () => {
	const me = object('me', [0, 0, 0], []);
	const gaze = { asker: 'me', from: { object: 'me', offset: [0, 0.5, 0] }, aim: { along: [0, 0, -1], of: 'me' } };
	const right = found([me, object('x', [3, 0.5, -3], [box([0.2, 1, 0.2])])], gaze).remedies;
	const words = right.map((r) => r.words);
	expect(words.some((w) => /^Turn me by 43\.\d° to the right$/.test(w))).toBe(true);
	expect(words.some((w) => /^Turn its aim by 43\.\d° towards x$/.test(w))).toBe(true);
	const left = found([me, object('x', [-3, 0.5, 3], [box([0.2, 1, 0.2])])], gaze).remedies.map((r) => r.words);
	expect(left.some((w) => /^Turn me by 13[0-5](\.\d)?° to the left$/.test(w))).toBe(true);
	const toward = found([cube('x', [4, 0.5, -5]), cube('y', [0, 0.5, -3])], {
		aim: { toward: { focus: 'y' } },
	}).remedies;
	expect(toward.map((r) => r.words)).toContain('Aim at x');
	const to = found([cube('x', [4, 0.5, -5])], {
		aim: undefined,
		length: undefined,
		to: { point: [0, 0.5, -9] },
	}).remedies;
	expect(to.map((r) => r.words)).toContain('Let it go to x');
});

it('what has no shape, what the path starts in, and what is asked for by itself have their remedies', () => {
	expect(found([object('x', [0, 0.5, -5], []), cube('y', [9, 0.5, 9])]).remedies.map((r) => r.words)).toEqual([
		'Help the aim within 0.1°',
		'Give x a shape: a cube of 0.9 m',
	]);
	expect(found([cube('x', [0, 0.5, 0])]).remedies.map((r) => r.kind)).toContain('start-inside');
	expect(found([cube('x', [0, 0.5, -5])], { asker: 'x' }).remedies.map((r) => r.kind)).toEqual(['ask-for-nobody']);
});

it('a pick takes a cursor and a range together; of four changes all are told', () => {
	const camera = {
		id: 'eye',
		projection: 'perspective' as const,
		fov: 60,
		position: [0, 0, 0] as [number, number, number],
	};
	const p = project(
		[object('x', [8, 0, -12], [box([5, 5, 1])])],
		[{ id: 'q', kind: 'pick', camera: 'eye', viewport: [800, 600], range: { max: 4 } } as unknown as Query],
		{ cameras: [camera] },
	);
	const { remedies } = remediesFor(p, { query: 'q', object: 'x' });
	const pair = remedies.find((r) => r.kind === 'move-cursor+range') as Remedy;
	expect(pair.words).toMatch(/^Point \d+(\.\d)? px farther, at [\d., ]+; let it reach [\d.]+ m far$/);
	const many = found([cube('x', [0, 0.5, -5], { active: false, tags: ['gull'] })], {
		selects: { layers: ['b'], tags: { all: ['crank'] }, when: [{ of: 'target', state: 'wear', above: 2 }] },
	});
	expect(many.remedies.length).toBeGreaterThan(0);
	for (const r of many.remedies) expect(r.kind.split('+')).toHaveLength(4);
});

it('where nothing helps it is told how far it came, and at which stage it falls then', () => {
	// A mesh with a hole of its own would be needed: what stands all around bears, and is none of the kinds that move.
	const shut = ['n', 's'].map((id, i) => object(id, [0, 2.5, i === 0 ? -3 : 3], [box([40, 5, 0.5])], { layer: 'b' }));
	const { remedies, nearest } = found([floor, ...shut, cube('x', [0, 0.5, -5], { active: false })], {
		asker: 'x',
		kind: 'hitbox',
		from: undefined,
		aim: undefined,
		length: undefined,
		boxes: [{ shape: { kind: 'sphere', radius: 1 } }],
	});
	expect(remedies).toEqual([]);
	expect(nearest).toEqual({
		words: ['Make x active'],
		verdict: expect.objectContaining({ object: 'x', stage: 'excluded' }),
	});
});

it('a throw is made faster, steeper or longer, aimed higher, or as fast as it must be to come there at all', () => {
	const thrown = (arc: object, more: object = {}) => ({
		kind: 'ray',
		aim: undefined,
		length: undefined,
		from: { point: [0, 0, 0] },
		arc,
		...more,
	});
	// At 9 m/s a throw straight ahead is 1.09 m down at 4.24 m; x is up to 0.5 m down at 4.5 m.
	const ahead9 = found([cube('x', [0, 0, -5])], thrown({ speed: 9, time: 3 }, { aim: { along: [0, 0, -1] } })).remedies;
	const of = (list: Remedy[], kind: string) => list.find((r) => r.kind === kind);
	const speed = of(ahead9, 'speed') as Remedy;
	// √(g·4.5² / (2·0.5)) = 14.1 m/s brings it to the lower edge of the near face.
	expect(Number(/at ([\d.]+) m\/s/.exec(speed.words)?.[1])).toBeCloseTo(14.1, 0);
	expect(speed.unit).toBe('m/s');
	expect(of(ahead9, 'turn-aim')?.words).toMatch(/^Turn its aim by [\d.]+° towards x$/);
	// Out of reach: v² = g·R on level ground.
	const far = found([cube('x', [0, 0, -20])], thrown({ speed: 9, at: { focus: 'x' } })).remedies;
	expect(of(far, 'speed')?.words).toBe('Throw it at 14.1 m/s');
	// A wall before it: over it goes the steep way alone.
	const wall = object('wall', [0, 1, -2.5], [box([9, 4, 0.2])], { layer: 'wall' });
	const over = found(
		[wall, cube('x', [0, 0, -5])],
		thrown({ speed: 9, at: { focus: 'x' } }, { sight: { blockers: ['wall'] }, selects: { layers: ['a'] } }),
	).remedies;
	expect(of(over, 'way')?.words).toBe('Throw it the steep way');
	const short = found([cube('x', [0, 0, -5])], thrown({ speed: 9, time: 0.2, at: { point: [0, 0, -5] } })).remedies;
	expect(Number(/for ([\d.]+) s/.exec(of(short, 'time')?.words ?? '')?.[1])).toBeCloseTo(0.6, 0);
});

it('where some marks are seen and more are wanted, those are let be enough', () => {
	const screen = object('screen', [0, 0.4, -2], [box([3, 0.8, 0.2])], { layer: 'wall' });
	const x = cube('x', [0, 0.5, -5], {
		marks: [
			{ id: 'head', at: [0, 2, 0] },
			{ id: 'feet', at: [0, -0.4, 0] },
		],
	});
	const { verdict, remedies } = found([screen, x], {
		kind: 'overlap',
		from: undefined,
		aim: undefined,
		length: undefined,
		at: { point: [0, 1, 0] },
		shape: { kind: 'sphere', radius: 9 },
		selects: { layers: ['a'] },
		sight: { blockers: ['wall'], to: 'marks', least: 'all' },
	});
	expect(verdict).toMatchObject({ stage: 'sight', seen: 1, of: 2 });
	expect(remedies.map((r) => r.words)).toContain('Let one mark seen be enough');
});
