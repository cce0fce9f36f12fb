/** Levels into projects: rules, and reading again: what came, went and moved, what stays that was said here, and answers that are lost. */
import {
	answersAt,
	changesBetween,
	checkProject,
	formatProblem,
	type Project,
	type Query,
	runChecks,
	type Vec3,
} from '@frelk/core';
import { describe, expect, it } from 'vitest';
import { isUnchanged, levelInto, levelsInto } from './into';
import type { Level, LevelNode } from './level';
import { checkRules, madeBy, type NamingRules, rulesIn } from './rules';
import { boxOf, shapesOf } from './shape';

const CUBE = {
	vertices: [0, 1].flatMap((x) => [0, 1].flatMap((y) => [0, 1].flatMap((z) => [x, y, z]))),
	triangles: [0, 1, 2, 1, 2, 3, 4, 5, 6, 5, 6, 7, 0, 2, 4, 2, 4, 6, 1, 3, 5, 3, 5, 7],
};
const node = (path: string, position: Vec3 = [0, 0, 0], more: Partial<LevelNode> = {}): LevelNode => ({
	path,
	name: path.split('/').at(-1) ?? path,
	parent: null,
	position,
	rotation: [0, 0, 0],
	scale: [1, 1, 1],
	colliders: [],
	surface: CUBE,
	tags: [],
	id: null,
	layer: null,
	active: true,
	extras: undefined,
	...more,
});
const level = (...nodes: LevelNode[]): Level => ({
	kind: 'space',
	name: 'yard.glb',
	nodes,
	cameras: [],
	animations: [],
	notes: [],
	project: null,
	extent: 9,
	frame: null,
});
const read = (l: Level, project: Project | null = null, rules: NamingRules = {}) => {
	const out = levelInto(l, rules, project, l.name);
	const reading = checkProject(out.project);
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return out;
};
const ids = (list: { id: string }[]) => list.map((e) => e.id);
const ahead: Query = { id: 'q', kind: 'ray', from: { point: [0.5, 0.5, 9] }, aim: { along: [0, 0, -1] }, length: 50 };

describe('rules', () => {
	const nodes = [
		node('Yard/Door_trigger'),
		node('Yard/Door', [0, 0, 0], { extras: { kind: 'door', open: false, level: 3 } }),
		node('Yard/Sheds/Shed.001'),
		node('rock'),
	];
	const made = (...rules: NonNullable<NamingRules['rules']>) => madeBy({ rules }, nodes);
	const matched = (when: object) => made({ when } as never).map((m) => m.rules.length);

	it('match names, paths and extras', () => {
		expect(matched({ name: '*_trigger' })).toEqual([1, 0, 0, 0]);
		expect(matched({ name: 'Door*' })).toEqual([1, 1, 0, 0]);
		expect(matched({ name: 'door*' })).toEqual([0, 0, 0, 0]);
		expect(matched({ name: 'Shed.00?' })).toEqual([0, 0, 1, 0]);
		expect(matched({ name: '*' })).toEqual([1, 1, 1, 1]);
		expect(matched({ path: 'Yard/*' })).toEqual([1, 1, 0, 0]);
		expect(matched({ path: 'Yard/**' })).toEqual([1, 1, 1, 0]);
		expect(matched({ extra: 'kind' })).toEqual([0, 1, 0, 0]);
		expect(matched({ extra: 'open' })).toEqual([0, 0, 0, 0]);
		expect(matched({ extra: 'kind', is: 'd*' })).toEqual([0, 1, 0, 0]);
		expect(matched({ extra: 'level', is: '3' })).toEqual([0, 1, 0, 0]);
		expect(matched({ extra: 'toString' })).toEqual([0, 0, 0, 0]);
		// What looks like a name with a sign in it is one.
		expect(matched({ name: '!rock' })).toEqual([0, 0, 0, 0]);
	});

	it('apply in their order: the later says it, tags add up', () => {
		const [trigger, door, , rock] = made(
			{ when: { name: '*' }, layer: 'walls', tags: ['a'], shape: 'hull', leave: true },
			{ when: { name: '*oor*' }, layer: 'doors', tags: ['b', 'a'], prompt: 'Open', action: 'open', leave: false },
			{ when: { name: '*_trigger' }, role: 'sensor', shape: 'box' },
		);
		expect(trigger).toEqual({
			rules: [0, 1, 2],
			leave: false,
			layer: 'doors',
			tags: ['a', 'b'],
			shape: 'box',
			role: 'sensor',
			prompt: 'Open',
			action: 'open',
		});
		expect(door).toMatchObject({ rules: [0, 1], shape: 'hull', role: null });
		expect(rock).toMatchObject({ leave: true, layer: 'walls', tags: ['a'] });
	});

	it('that are none say where', () => {
		expect(() => checkRules({ rules: [{ when: { name: 'a', path: 'b' } }] }, 'r.json')).toThrow(
			'r.json: rules[0].when: needs exactly one of name, path, extra; this one has name and path',
		);
		expect(() => checkRules({ rules: [{ when: { name: 'a', is: 'b' } }] }, 'r.json')).toThrow(
			'"is" goes with "extra" only',
		);
		expect(() => checkRules({ rules: [{ when: { name: 'a' }, layer: 'Sensor Layer' }] }, 'r.json')).toThrow(
			'rules[0].layer',
		);
		expect(() => checkRules({ rules: [{ when: { name: 'a' }, shap: 'box' }] }, 'r.json')).toThrow(
			'did you mean "shape"?',
		);
	});
});

describe('shapes', () => {
	it('are the box, the hull or the triangles of what is drawn, by rule', () => {
		const one = node('a');
		expect(boxOf(CUBE)).toEqual({ at: [0.5, 0.5, 0.5], size: [1, 1, 1] });
		expect(shapesOf(one, 'box', 'sensor').shapes).toEqual([
			{ id: 'box', kind: 'box', size: [1, 1, 1], at: [0.5, 0.5, 0.5], role: 'sensor' },
		]);
		expect(shapesOf(one, 'hull', null).shapes[0]).toMatchObject({ id: 'hull', kind: 'hull' });
		expect(shapesOf(one, 'file', null).shapes[0]).toMatchObject({ id: 'mesh', kind: 'mesh' });
		const own = node('b', [0, 0, 0], { colliders: [{ id: 'collider', kind: 'sphere', radius: 1 }] });
		expect(shapesOf(own, 'file', null).shapes[0].kind).toBe('sphere');
		expect(shapesOf(own, 'mesh', null).shapes[0].kind).toBe('mesh');
		const flat = node('c', [0, 0, 0], { surface: { vertices: [0, 0, 0, 1, 0, 0, 0, 0, 1], triangles: [0, 1, 2] } });
		expect(shapesOf(flat, 'hull', null)).toMatchObject({
			shapes: [{ kind: 'mesh' }],
			said: 'lies in one plane and has no hull: left a mesh',
		});
		expect(shapesOf(flat, 'box', null).shapes[0]).toMatchObject({ size: [1, 0.001, 1] });
	});
});

describe('a level read', () => {
	it('for the first time is a project with its layers, tags and rules', () => {
		const rules: NamingRules = {
			layer: 'walls',
			rules: [
				{ when: { name: '*_zone' }, layer: 'sensors', role: 'sensor', tags: ['zone'] },
				{ when: { name: 'tmp*' }, leave: true },
			],
		};
		const { project, report } = read(
			level(
				node('house'),
				node('house/in_zone', [1, 0, 0], { parent: 'house' }),
				node('tmp'),
				node('tmp/leaf', [0, 1, 0], { parent: 'tmp' }),
			),
			null,
			rules,
		);
		expect(project).toMatchObject({ id: 'yard', name: 'yard' });
		expect(project.scene.layers).toEqual([{ id: 'walls' }, { id: 'sensors' }]);
		expect(project.scene.tags).toEqual([{ id: 'zone' }]);
		expect(project.scene.objects).toMatchObject([
			{ id: 'house', layer: 'walls', position: [0, 0, 0] },
			{
				id: 'in-zone',
				name: 'in_zone',
				parent: 'house',
				layer: 'sensors',
				tags: ['zone'],
				shapes: [{ kind: 'mesh', role: 'sensor' }],
			},
			// What it hung on is left out: it stands by itself.
			{ id: 'leaf' },
		]);
		expect(project.scene.objects[2].parent).toBeUndefined();
		expect(report).toMatchObject({ leftOut: ['tmp'], unmatched: ['house', 'tmp/leaf'], matches: [1, 1] });
		expect(rulesIn(project)).toEqual(rules);
	});

	it('again without a change changes nothing', () => {
		const first = read(level(node('a'), node('b', [3, 0, 0])));
		const second = read(level(node('a'), node('b', [3, 0, 0])), first.project);
		expect(isUnchanged(first.project, second.project)).toBe(true);
		expect(second.report).toMatchObject({ came: [], went: [], moved: [], changed: [], kept: [] });
	});

	it('again takes what the file changed and keeps what was said here', () => {
		const { project } = read(level(node('a'), node('b', [3, 0, 0]), node('c', [6, 0, 0])), null, {
			rules: [{ when: { name: '*' }, prompt: 'Look' }],
		});
		const [a, b, c] = project.scene.objects;
		project.scene.layers.push({ id: 'mine' });
		project.scene.tags.push({ id: 'mine' });
		// Said here: layer, tags, prompt, a shape of its own, a role, a place.
		Object.assign(a, { layer: 'mine', tags: ['mine'], prompt: 'Take', priority: 2 });
		a.shapes?.push({ id: 'mine', kind: 'sphere', radius: 1 });
		Object.assign(a.shapes?.[0] ?? {}, { role: 'sensor' });
		b.position = [3, 0, 1];
		c.position = [6, 0, 1];
		const larger = { ...CUBE, vertices: CUBE.vertices.map((v) => 2 * v) };
		const { project: next, report } = read(
			level(node('a', [0, 5, 0], { surface: larger }), node('b', [3, 0, 0]), node('c', [7, 0, 0]), node('d')),
			project,
			{ rules: [{ when: { name: '*' }, prompt: 'See', tags: ['new'] }] },
		);
		expect(report.came).toEqual([{ id: 'd', path: 'd' }]);
		expect(report.moved.map((m) => [m.id, m.by])).toEqual([
			['a', 5],
			['c', Math.SQRT2],
		]);
		expect(report.kept.map((k) => `${k.id} ${k.what}`)).toEqual(['a tags', 'a prompt']);
		expect(report.changed.map((k) => `${k.id} ${k.what.join(' ')}`)).toEqual([
			'a shapes',
			'b tags prompt',
			'c tags prompt',
		]);
		expect(next.scene.objects).toMatchObject([
			{ id: 'a', layer: 'mine', tags: ['mine'], prompt: 'Take', priority: 2, position: [0, 5, 0] },
			// The file left it where it was: it stays where it was put.
			{ id: 'b', position: [3, 0, 1], prompt: 'See', tags: ['new'] },
			{ id: 'c', position: [7, 0, 0] },
			{ id: 'd' },
		]);
		expect(next.scene.objects[0].shapes).toMatchObject([
			{ id: 'mesh', role: 'sensor', vertices: larger.vertices },
			{ id: 'mine', kind: 'sphere' },
		]);
	});

	it('again loses what went, keeps what is spoken of without effect, and names the answer that is lost', () => {
		const before = read(
			level(
				node('near'),
				node('far', [0, 0, -9]),
				node('idle', [9, 0, 0]),
				node('idle/child', [0, 0, 0], { parent: 'idle' }),
			),
		).project;
		before.queries.push(ahead);
		before.checks = [{ id: 'c', query: 'q', expect: { selects: ['near'] } }];
		const { project, report } = read(level(node('far', [0, 0, -9])), before);
		expect(report.went).toEqual([
			{ id: 'near', path: 'near', kept: true },
			{ id: 'idle', path: 'idle', kept: false },
			{ id: 'child', path: 'idle/child', kept: false },
		]);
		expect(ids(project.scene.objects)).toEqual(['near', 'far']);
		expect(project.scene.objects[0].active).toBe(false);
		expect(changesBetween(answersAt(before), answersAt(project))).toMatchObject([
			{ query: 'q', before: { objects: ['near'] }, after: { objects: ['far'] } },
		]);
		expect(runChecks(project)[0]).toMatchObject({ pass: false });
		// Gone twice is told once; and it comes again.
		const twice = read(level(node('far', [0, 0, -9])), project);
		expect(twice.report.went).toEqual([]);
		const back = read(level(node('near'), node('far', [0, 0, -9])), twice.project);
		expect(back.report.came).toEqual([{ id: 'near', path: 'near' }]);
		expect(back.project.scene.objects[0].active).toBeUndefined();
		expect(runChecks(back.project)[0]).toMatchObject({ pass: true });
	});

	it('several at once stay apart, though their nodes have the same names, and each is read again as itself', () => {
		const [yard, shed] = [level(node('a'), node('b', [3, 0, 0])), level(node('a', [9, 0, 0]))];
		const both = (first: Level, second: Level, project: Project | null) =>
			levelsInto(
				[
					{ level: first, file: 'yard.glb' },
					{ level: second, file: 'shed.glb' },
				],
				{ rules: [{ when: { name: 'a' }, layer: 'known' }] },
				project,
			);
		const once = both(yard, shed, null);
		expect(checkProject(once.project).ok).toBe(true);
		expect(once.report.came.map((c) => c.path)).toEqual(['a', 'b', 'a']);
		expect(once.report).toMatchObject({ went: [], moved: [], matches: [2], unmatched: ['b'] });
		expect(once.project.scene.objects.map((o) => o.position?.[0] ?? 0)).toEqual([0, 3, 9]);
		const again = both(yard, level(node('a', [8, 0, 0])), once.project);
		expect(again.report).toMatchObject({ came: [], went: [], changed: [] });
		expect(again.report.moved).toEqual([{ id: once.project.scene.objects[2]?.id, path: 'a', by: 1 }]);
		// What one of them no longer has goes; what the other has under that name stays.
		const less = both(level(node('b', [3, 0, 0])), shed, once.project);
		expect(less.report.went.map((w) => w.id)).toEqual([once.project.scene.objects[0]?.id]);
		expect(less.project.scene.objects).toHaveLength(2);
		expect(() => both(yard, { ...shed, kind: 'flat' }, null)).toThrow('shed.glb is a flat drawing');
		expect(() => levelsInto([], {}, null)).toThrow('there is no level');
	});

	it('keeps of what the file said only what is unusual, and is read again by it', () => {
		const plain = node('Yard/Crate');
		const turned = node('Yard/Lamp', [1, 2, 3], { parent: 'Yard/Crate', rotation: [0, 90, 0], extras: { dim: true } });
		const first = read(level(plain, turned), null, {
			rules: [{ when: { name: 'Lamp' }, tags: ['light'], prompt: 'Light it', action: 'light' }],
		}).project;
		const told = first.scene.objects.map((o) => (o.extras as { import: Record<string, unknown> }).import);
		expect(Object.keys(told[0] ?? {})).toEqual(['file', 'node', 'name', 'layer', 'shapes']);
		expect(told[1]).toMatchObject({
			pose: { parent: 'crate', position: [1, 2, 3], rotation: [0, 90, 0] },
			tags: ['light'],
			prompt: 'Light it',
			action: 'light',
		});
		expect(told[1]?.pose).not.toHaveProperty('scale');
		// As former versions wrote it: in full.
		const pose = { parent: null, position: [0, 0, 0], rotation: [0, 0, 0], scale: [1, 1, 1] };
		const usual = { pose, tags: [], prompt: null, action: null, role: null, extras: '1omwfhr5hyy' };
		const full = structuredClone(first);
		(full.scene.objects[0] as { extras: object }).extras = { import: { ...usual, ...told[0] } };
		const again = read(level(node('Yard/Crate', [0, 0, 4]), turned), full, rulesIn(first)).report;
		expect([ids(again.moved), again.came, again.went, again.changed]).toEqual([['crate'], [], [], []]);
	});

	it('is no longer known by what somebody else wrote in its place', () => {
		const first = read(level(node('Crate'))).project;
		for (const wrong of [{ pose: 7 }, { pose: { position: [1, 2] } }, { shapes: [] }, { tags: 'crate' }, { name: 1 }]) {
			const odd = structuredClone(first);
			const object = odd.scene.objects[0] as { extras: { import: object } };
			const told = object.extras.import;
			object.extras = { import: { ...told, ...wrong } };
			expect(ids(read(level(node('Crate')), odd).report.came), JSON.stringify(wrong)).toEqual(['crate-2']);
		}
	});

	it('from a file of another name is the same level; two levels in one project stay apart', () => {
		const one = read(level(node('a'))).project;
		const renamed = levelInto(level(node('a')), {}, one, 'yard-2.glb');
		expect(renamed.report).toMatchObject({ came: [], went: [] });
		const both = levelInto(
			level(node('a'), node('b')),
			{},
			levelInto(level(node('a')), {}, renamed.project, 'other.glb').project,
			'third.glb',
		);
		expect(both.project.scene.objects.length).toBeGreaterThan(1);
	});

	it('without anything in it takes nothing away', () => {
		const { project } = read(level(node('a'), node('b')));
		expect(() => read(level(), project)).toThrow(
			'yard.glb: has nothing in it that becomes an object; read again it would take away all 2 that came from it',
		);
		const bare = level(...['a', 'b'].map((name) => node(name, [0, 0, 0], { surface: null })));
		expect(() => read(bare, project)).toThrow('none of its objects has a shape any more');
		// By a rule it is as one says.
		expect(read(level(node('a')), project, { rules: [{ when: { name: '*' }, leave: true }] }).report.leftOut).toEqual([
			'a',
		]);
	});

	it('of thousands of one name has an id for each, also beside those there are', () => {
		const many = level(...Array.from({ length: 3000 }, (_, i) => node(`Crate#${i + 1}`, [i, 0, 0], { name: 'Crate' })));
		const { project } = read(many);
		const ids = project.scene.objects.map((o) => o.id);
		expect([ids[0], ids[1], ids[2999], new Set(ids).size]).toEqual(['crate', 'crate-2', 'crate-3000', 3000]);
		const more = level(node('Crate 2', [0, 9, 0]), node('x', [0, 9, 0], { name: 'Crate' }));
		const beside = levelInto(more, {}, project, 'other.glb').project.scene.objects.slice(3000);
		expect(beside.map((o) => o.id)).toEqual(['crate-2-2', 'crate-3001']);
		// A long name leaves room for its number.
		const long = read(level(...[1, 2].map((i) => node(`n${i}`, [i, 0, 0], { name: 'x'.repeat(90) })))).project;
		expect(checkProject(long).ok).toBe(true);
	});

	it('that is small proposes what counts as equal, in a scene of its own', () => {
		const slack = (extent: number, project: Project | null = null) =>
			levelInto({ ...level(node('a')), extent }, {}, project, 'yard.glb').project.scene.tieSlack;
		expect([0, 0.005, 0.1, 0.5, 0.99, 1, 50].map((extent) => slack(extent))).toEqual([
			undefined,
			0.000001,
			0.0001,
			0.0001,
			0.0001,
			undefined,
			undefined,
		]);
		expect(slack(0.1, read(level(node('b'))).project)).toBeUndefined();
	});

	it('has its own cameras in place of those an empty scene came with', () => {
		const camera = { name: 'Eye', position: [0, 1, 0] as Vec3, projection: 'perspective' as const, fov: 60, far: 9 };
		const with_: Level = { ...level(node('a')), cameras: [{ path: 'eye', name: 'eye', parent: null, camera }] };
		const blank = { ...read(level(node('x'))).project };
		const old = { id: 'old', position: [0, 0, 0] as Vec3, projection: 'perspective' as const, fov: 50 };
		const empty: Project = { ...blank, scene: { ...blank.scene, objects: [], cameras: [old] } };
		const cameras = (p: Project) => levelInto(with_, {}, p, 'yard.glb').project.scene.cameras.map((c) => c.id);
		expect(cameras(empty)).toEqual(['eye']);
		expect(cameras({ ...empty, scene: { ...empty.scene, objects: blank.scene.objects } })).toEqual(['old', 'eye']);
		expect(levelInto(level(node('a')), {}, empty, 'yard.glb').project.scene.cameras.map((c) => c.id)).toEqual(['old']);
	});

	it('of the other kind of scene is refused', () => {
		expect(() => levelInto({ ...level(node('a')), kind: 'flat' }, {}, read(level(node('a'))).project, 'a.svg')).toThrow(
			'a.svg is a flat drawing; yard is a space scene',
		);
	});
});
