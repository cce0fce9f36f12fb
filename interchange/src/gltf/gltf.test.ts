/** glTF in and out: every kind of collider, scales, shears, what is not taken, files that lie, and our own that come back. */
import { buildWorld, checkProject, type Project, type Shape, type Vec3 } from '@frelk/core';
import { nearestOn } from '@frelk/core/geometry';
import { example } from '@frelk/core/tests/examples';
import { randomProject } from '@frelk/core/tests/project';
import { runs } from '@frelk/core/tests/runs';
import fc from 'fast-check';
import validator from 'gltf-validator';
import { describe, expect, it } from 'vitest';
import { levelInto } from '../into';
import type { Level, LevelNode } from '../level';
import { projectIn, readGltf } from './read';
import { writeGlb, writeGltf } from './write';

const text = (json: unknown) => new TextEncoder().encode(JSON.stringify(json));
const gltf = (json: object) => readGltf([{ name: 'level.gltf', bytes: text({ asset: { version: '2.0' }, ...json }) }]);
const refused = (json: object): Promise<string> =>
	gltf(json).then(
		() => 'nothing was wrong with it',
		(error: Error) => error.message,
	);

const f32 = (numbers: number[]) => Buffer.from(new Float32Array(numbers).buffer);
const u16 = (numbers: number[]) => Buffer.from(new Uint16Array(numbers).buffer);

/** A tetrahedron of side 1 at the origin, as a mesh of a file. */
const CORNERS = [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1];
const FACES = [0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3];
function withMesh(nodes: object[], more: object = {}, primitive: object = {}) {
	const bytes = Buffer.concat([f32(CORNERS), u16(FACES)]);
	return {
		scene: 0,
		scenes: [{ nodes: [0] }],
		nodes,
		meshes: [{ name: 'tetra', primitives: [{ attributes: { POSITION: 0 }, indices: 1, ...primitive }] }],
		accessors: [
			{ bufferView: 0, componentType: 5126, count: 4, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 1] },
			{ bufferView: 1, componentType: 5123, count: 12, type: 'SCALAR' },
		],
		bufferViews: [
			{ buffer: 0, byteOffset: 0, byteLength: 48 },
			{ buffer: 0, byteOffset: 48, byteLength: 24 },
		],
		buffers: [{ byteLength: 72, uri: `data:application/octet-stream;base64,${bytes.toString('base64')}` }],
		...more,
	};
}

/** Colliders of every kind, a node each. */
function withShapes(shapes: object[], node: object = {}) {
	return {
		scenes: [{ nodes: shapes.map((_, i) => i) }],
		nodes: shapes.map((_, i) => ({
			name: `n${i}`,
			...node,
			extensions: { KHR_physics_rigid_bodies: { collider: { geometry: { shape: i } } } },
		})),
		extensionsUsed: ['KHR_implicit_shapes', 'KHR_physics_rigid_bodies'],
		extensions: { KHR_implicit_shapes: { shapes } },
	};
}

const one = (level: Level, name: string): LevelNode => {
	const found = level.nodes.find((n) => n.name === name);
	if (!found) throw new Error(`no node ${name}`);
	return found;
};
const near = (a: readonly number[], b: readonly number[], by = 1e-6) => {
	expect(a).toHaveLength(b.length);
	a.forEach((v, i) => {
		expect(Math.abs(v - b[i]), `${a} against ${b}`).toBeLessThan(by);
	});
};

describe('colliders', () => {
	const SHAPES = [
		{ type: 'box', box: { size: [1, 2, 3] } },
		{ type: 'sphere', sphere: { radius: 0.7 } },
		{ type: 'capsule', capsule: { height: 1, radiusBottom: 0.25, radiusTop: 0.25 } },
		{ type: 'cylinder', cylinder: { height: 2, radiusBottom: 0.5, radiusTop: 0.5 } },
		{ type: 'box' },
		{ type: 'sphere' },
		{ type: 'cylinder', cylinder: { height: 2, radiusBottom: 0.5, radiusTop: 0.25 } },
		{ type: 'plane', plane: { sizeX: 4, sizeZ: 2 } },
		{ type: 'plane' },
		{ type: 'heap' },
	];
	it('are shapes, measure for measure', async () => {
		const level = await gltf(withShapes(SHAPES));
		expect(level.nodes.map((n) => n.colliders[0]).slice(0, 6)).toEqual([
			{ id: 'collider', kind: 'box', size: [1, 2, 3] },
			{ id: 'collider', kind: 'sphere', radius: 0.7 },
			// From tip to tip.
			{ id: 'collider', kind: 'capsule', radius: 0.25, height: 1.5 },
			{ id: 'collider', kind: 'cylinder', radius: 0.5, height: 2 },
			{ id: 'collider', kind: 'box', size: [1, 1, 1] },
			{ id: 'collider', kind: 'sphere', radius: 0.5 },
		]);
		expect(one(level, 'n6').colliders[0].kind).toBe('hull');
		expect(one(level, 'n7').colliders[0]).toMatchObject({ kind: 'mesh', triangles: [0, 1, 2, 0, 2, 3] });
		expect(one(level, 'n8').colliders).toEqual([]);
		expect(level.notes).toEqual([
			{ path: 'n6', message: 'collider: tapering cylinder baked into a hull of 32 sides' },
			{ path: 'n8', message: 'collider: a plane without end is not taken; give it sizeX and sizeZ' },
			{ path: 'n9', message: 'collider: a collider of the kind "heap" is not known' },
		]);
	});

	it('keep what a scale leaves them, and are baked where it does not', async () => {
		const level = await gltf(withShapes(SHAPES.slice(0, 4), { scale: [2, 3, 2] }));
		expect(level.nodes.map((n) => [n.colliders[0].kind, n.scale])).toEqual([
			['box', [2, 3, 2]],
			['hull', [2, 3, 2]],
			['hull', [2, 3, 2]],
			['cylinder', [2, 3, 2]],
		]);
		const even = await gltf(withShapes(SHAPES.slice(0, 4), { scale: [2, 2, 2] }));
		expect(even.nodes.map((n) => n.colliders[0].kind)).toEqual(['box', 'sphere', 'capsule', 'cylinder']);
		const wide = await gltf(withShapes(SHAPES.slice(0, 4), { scale: [2, 1, 1] }));
		expect(wide.nodes.map((n) => n.colliders[0].kind)).toEqual(['box', 'hull', 'hull', 'hull']);
		// An ellipsoid's ends lie where they should.
		const { points } = wide.nodes[1].colliders[0] as Extract<Shape, { kind: 'hull' }>;
		near([Math.max(...points.map((p) => p[0]))], [0.7]);
	});

	it('by mesh are the mesh or its hull; a trigger is a sensor', async () => {
		const geometry = (more: object) => ({ extensions: { KHR_physics_rigid_bodies: more } });
		const level = await gltf(
			withMesh(
				[
					{ name: 'top', children: [1, 2, 3] },
					{ name: 'whole', ...geometry({ collider: { geometry: { mesh: 0 } } }) },
					{ name: 'hull', ...geometry({ collider: { geometry: { mesh: 0, convexHull: true } } }) },
					{ name: 'zone', mesh: 0, ...geometry({ trigger: { geometry: { node: 3, convexHull: true } } }) },
				],
				{ extensionsUsed: ['KHR_physics_rigid_bodies'] },
			),
		);
		expect(one(level, 'whole').colliders).toEqual([
			{ id: 'collider', kind: 'mesh', vertices: CORNERS, triangles: FACES },
		]);
		expect(one(level, 'hull').colliders[0]).toMatchObject({ kind: 'hull' });
		expect((one(level, 'hull').colliders[0] as { points: Vec3[] }).points).toHaveLength(4);
		expect(one(level, 'zone').colliders[0]).toMatchObject({ id: 'trigger', kind: 'hull', role: 'sensor' });
		// An empty node is no object, and what hangs on it stands by itself.
		expect(level.nodes.map((n) => [n.path, n.parent])).toEqual([
			['top/whole', null],
			['top/hull', null],
			['top/zone', null],
		]);
	});
});

describe('nodes', () => {
	it('hang as in the file, under scales and turns', async () => {
		const s = Math.SQRT1_2;
		const level = await gltf(
			withMesh([
				{
					name: 'a',
					mesh: 0,
					translation: [1, 2, 3],
					rotation: [0, s, 0, s],
					scale: [2, 2, 2],
					children: [1],
					extras: { kind: 'door' },
				},
				{ name: 'gap', translation: [0, 1, 0], children: [2] },
				{ name: 'b', mesh: 0, translation: [1, 0, 0] },
			]),
		);
		expect(one(level, 'a')).toMatchObject({
			parent: null,
			position: [1, 2, 3],
			scale: [2, 2, 2],
			extras: { kind: 'door' },
		});
		near(one(level, 'a').rotation, [90, 0, 0]);
		// The node between is no object: its place goes into what hangs on it.
		expect(one(level, 'b')).toMatchObject({ path: 'a/gap/b', parent: 'a', scale: [1, 1, 1] });
		near(one(level, 'b').position, [1, 1, 0]);
		const { project } = levelInto(level, {}, null, 'level.gltf');
		expect(checkProject(project)).toMatchObject({ ok: true });
		near(buildWorld(project).objectById.get('b')?.position ?? [], [1, 4, 1]);
	});

	it('that shear, mirror or flatten are baked, corner for corner', async () => {
		const s = Math.sin(Math.PI / 8);
		const c = Math.cos(Math.PI / 8);
		const level = await gltf(
			withMesh([
				{ name: 'top', scale: [3, 1, 1], children: [1, 2, 3] },
				{ name: 'sheared', mesh: 0, rotation: [0, 0, s, c], translation: [1, 0, 0], children: [4] },
				{ name: 'mirrored', mesh: 0, scale: [-1, 2, 1] },
				{ name: 'flat', mesh: 0, scale: [1, 0, 1] },
				{ name: 'under', mesh: 0, translation: [0, 0, 2] },
			]),
		);
		expect(level.notes.map((n) => `${n.path}: ${n.message}`)).toEqual([
			'top/sheared: is sheared: that is baked into its corners',
			'top/sheared/under: is sheared: that is baked into its corners',
			'top/mirrored: is mirrored: that is baked into its corners',
			'top/flat: is flattened: that is baked into its corners',
		]);
		const { project } = levelInto(level, {}, null, 'level.gltf');
		expect(checkProject(project)).toMatchObject({ ok: true });
		const world = buildWorld(project);
		const out = new Float64Array(8);
		/** Corners of the tetrahedron lie where the file's own transform puts them. */
		const lies = (id: string, p: Vec3) => {
			const shape = world.objectById.get(id)?.shapes[0];
			if (!shape) throw new Error(`${id} has no shape`);
			expect(nearestOn(shape.body, ...p, out), `${id} at ${p}`).toBeLessThan(1e-6);
		};
		const q = Math.SQRT1_2;
		// Turned by 45° about Z and then three times as wide.
		for (const p of [
			[0, 0, 0],
			[q, q, 0],
			[-q, q, 0],
			[0, 0, 1],
		] as Vec3[]) {
			lies('sheared', [3 * (p[0] + 1), p[1], p[2]]);
			lies('under', [3 * (p[0] + 1), p[1], p[2] + 2]);
		}
		for (const p of [
			[0, 0, 0],
			[-3, 0, 0],
			[0, 2, 0],
			[0, 0, 1],
		] as Vec3[])
			lies('mirrored', p);
		for (const p of [
			[0, 0, 0],
			[3, 0, 0],
			[0, 0, 1],
		] as Vec3[])
			lies('flat', p);
	});

	it('of one name are told apart by number; cameras are cameras', async () => {
		const level = await gltf(
			withMesh(
				[
					{ name: 'top', mesh: 0, scale: [2, 2, 2], children: [1, 2, 3] },
					{ name: 'crate', mesh: 0 },
					{ name: 'crate', mesh: 0 },
					{ name: 'eye', camera: 0, translation: [0, 1, 0] },
				],
				{ cameras: [{ type: 'perspective', perspective: { yfov: Math.PI / 3, znear: 0.1, zfar: 50 } }] },
			),
		);
		expect(level.nodes.map((n) => n.path)).toEqual(['top', 'top/crate', 'top/crate#2']);
		expect(level.cameras).toEqual([
			{
				path: 'top/eye',
				name: 'eye',
				parent: 'top',
				camera: { name: 'eye', position: [0, 1, 0], projection: 'perspective', fov: 60, far: 50 },
			},
		]);
		const { project } = levelInto(level, {}, null, 'level.gltf');
		near(buildWorld(project).cameras.get('eye')?.position ?? [], [0, 2, 0]);
	});

	it('strips, fans and unindexed triangles are triangles; points and lines are told', async () => {
		const tris = async (primitive: object) => {
			const level = await gltf(withMesh([{ name: 'a', mesh: 0 }], {}, primitive));
			return [level.nodes[0]?.surface?.triangles ?? null, level.notes.map((n) => n.message)];
		};
		expect(await tris({ mode: 5, indices: undefined })).toEqual([[0, 1, 2, 1, 3, 2], []]);
		expect(await tris({ mode: 6, indices: undefined })).toEqual([[0, 1, 2, 0, 2, 3], []]);
		expect(await tris({ indices: undefined })).toEqual([[0, 1, 2], []]);
		expect(await tris({ mode: 1 })).toEqual([null, ['1 part of points or lines left out: nothing can hit them']]);
		// Packed, with nothing that could be unpacked: an error, and not an object without a shape.
		await expect(tris({ extensions: { KHR_draco_mesh_compression: {} } })).rejects.toThrow(/^level\.gltf: /);
	});

	it('lights and animations are told, pictures are never looked for', async () => {
		const file = {
			...withMesh([{ name: 'a', mesh: 0 }], {
				images: [{ uri: 'http://nowhere.example/wall.png' }],
				textures: [{ source: 0 }],
				materials: [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }],
				animations: [{ channels: [], samplers: [] }],
				extensionsUsed: ['KHR_lights_punctual', 'KHR_materials_unlit', 'EXT_texture_webp', 'EXT_strange'],
				extensions: { KHR_lights_punctual: { lights: [{ type: 'point' }] } },
			}),
		};
		const level = await gltf(file);
		expect(level.nodes).toHaveLength(1);
		expect(level.notes.map((n) => n.path)).toEqual(['extensionsUsed', 'animations: Animation 1', 'lights']);
		// What a file cannot be read without, and what says how things are formed, is not passed over.
		for (const more of [
			{ extensionsUsed: ['EXT_strange'], extensionsRequired: ['EXT_strange'] },
			{ extensionsUsed: ['EXT_mesh_of_tomorrow'] },
		]) {
			expect(await refused({ ...file, ...more })).toMatch(
				/^extensionsUsed: EXT_\w+ is not read, and .*read it in part \(--partial\)\.$/,
			);
			const bytes = text({ asset: { version: '2.0' }, ...file, ...more });
			const part = await readGltf([{ name: 'level.gltf', bytes }], () => {}, { partial: true });
			expect(part.nodes).toHaveLength(1);
			expect(part.notes[0]?.message).toContain('is not read, and');
		}
	});
});

describe('files that are not what they say', () => {
	const mesh = withMesh([{ name: 'a', mesh: 0 }]);
	it('are refused with the place', async () => {
		expect(await refused({ asset: { version: '1.0' } })).toBe('level.gltf: is glTF version 1.0; 2.0 is read');
		expect(await refused({ ...mesh, buffers: [{ byteLength: 73, uri: mesh.buffers[0].uri }] })).toBe(
			'buffers[0].byteLength: says 73; its uri holds 72',
		);
		expect(await refused({ ...mesh, buffers: [{ byteLength: 72, uri: 'far%20away.bin' }] })).toBe(
			'buffers[0]: far away.bin was not given; bring it together with level.gltf',
		);
		expect(
			await refused({ ...mesh, bufferViews: [{ buffer: 0, byteOffset: 48, byteLength: 48 }, mesh.bufferViews[1]] }),
		).toBe('bufferViews[0]: ends at byte 96 of a buffer of 72');
		expect(await refused({ ...mesh, accessors: [{ ...mesh.accessors[0], count: 5 }, mesh.accessors[1]] })).toBe(
			'accessors[0]: 5 entries need 60 bytes; its bufferView has 48',
		);
		expect(await refused({ ...mesh, accessors: [{ ...mesh.accessors[0], count: 1e15 }, mesh.accessors[1]] })).toContain(
			'accessors[0]',
		);
		expect(await refused({ ...mesh, nodes: [{ mesh: 1 }] })).toBe('nodes[0].mesh: there is no mesh 1; the file has 1');
		expect(await refused({ nodes: [{ children: [1] }, { children: [0] }] })).toContain('or under itself');
		expect(await refused({ nodes: [{ children: [2] }, { children: [2] }, {}] })).toBe(
			'nodes[1].children[0]: node 2 hangs under node 0 already',
		);
		expect(await refused({ nodes: [{ translation: [1, 2] }] })).toBe(
			'level.gltf: nodes[0].translation: expected 3 numbers, got a list',
		);
		const deep = (n: number) => ({
			scenes: [{ nodes: [0] }],
			nodes: Array.from({ length: n }, (_, i) => (i + 1 < n ? { children: [i + 1] } : {})),
		});
		expect(await refused(deep(10_000))).toBe('nodes[256]: lies under 256 others; at most 255 are read');
		expect(await refused(deep(256))).toBe('nothing was wrong with it');
		expect(await refused(deep(257))).toContain('at most 255');
		const bytes = text({ asset: { version: '2.0' } });
		await expect(readGltf([{ name: 'x.gltf', bytes: bytes.slice(0, 9) }])).rejects.toThrow('x.gltf: is not JSON');
		await expect(readGltf([])).rejects.toThrow('no file was given');
	});

	it('are refused for what is of another kind, with the path, and never fall over it', async () => {
		const wrong: [object, RegExp][] = [
			[{ accessors: [{ ...mesh.accessors[0], sparse: null }] }, /accessors\[0\]\.sparse: expected an object, got null/],
			[{ nodes: [{ name: 5 }] }, /nodes\[0\]\.name: expected text, got 5/],
			[{ buffers: [{ byteLength: 72, uri: 7 }] }, /buffers\[0\]\.uri: expected text, got 7/],
			[{ meshes: [{ primitives: [null] }] }, /meshes\[0\]\.primitives\[0\]: expected an object, got null/],
			[{ nodes: 'abc' }, /nodes: expected a list, got "abc"/],
			[{ extensionsRequired: 5 }, /extensionsRequired: expected a list, got 5/],
			[{ nodes: [{ children: {} }] }, /nodes\[0\]\.children: expected a list/],
			[{ scenes: [{ nodes: [0, 0] }] }, /scenes\[0\]\.nodes\[1\]: node 0 is named twice/],
			[{ accessors: [{ ...mesh.accessors[0], componentType: 5124 }] }, /accessors\[0\]\.componentType/],
			[{ accessors: [{ ...mesh.accessors[0], type: 'VEC9' }, mesh.accessors[1]] }, /accessors\[0\]\.type/],
			[{ bufferViews: [{ buffer: 0, byteLength: 48, byteStride: '12' }] }, /bufferViews\[0\]\.byteStride/],
			[{ skins: [{ joints: [9] }] }, /skins\[0\]\.joints\[0\]: there is no node 9/],
			[{ cameras: [{ type: 'fisheye' }] }, /cameras\[0\]\.type/],
			[{ extensions: 'none' }, /extensions: expected an object/],
		];
		for (const [more, message] of wrong) expect(await refused({ ...mesh, ...more })).toMatch(message);
		// Extensions that say something odd say nothing, and the node is there.
		for (const said of [null, 5, { collider: 3 }, { collider: { geometry: { shape: -1 } } }]) {
			const level = await gltf({
				...mesh,
				nodes: [{ name: 'a', mesh: 0, extensions: { KHR_physics_rigid_bodies: said } }],
				extensionsUsed: ['KHR_physics_rigid_bodies'],
			});
			expect(level.notes.map((n) => n.message)).toEqual([
				'what KHR_physics_rigid_bodies says is not understood: left out',
			]);
			expect(level.nodes[0]?.surface).not.toBeNull();
		}
	});

	it('are bounded by the bytes they have, all lists together', async () => {
		const many = { componentType: 5126, type: 'VEC3' };
		expect(await refused({ ...mesh, accessors: [...mesh.accessors, { ...many, count: 8e7 }] })).toMatch(
			/^accessors: come to 960000072 bytes; a file of \d+ bytes may come to \d+/,
		);
		const lists = Array.from({ length: 400 }, () => ({ ...many, count: 10_000 }));
		expect(await refused({ ...mesh, accessors: [...mesh.accessors, ...lists] })).toMatch(/^accessors: come to/);
		const sparse = (indices: object, values: object, count = 1) =>
			refused({
				...mesh,
				accessors: [{ ...mesh.accessors[0], sparse: { count, indices, values } }, mesh.accessors[1]],
			});
		const [indices, values] = [{ bufferView: 1, componentType: 5123 }, { bufferView: 0 }];
		expect(await sparse(indices, values)).toBe('nothing was wrong with it');
		expect(await sparse({ ...indices, byteOffset: 23 }, values)).toBe(
			'accessors[0].sparse.indices: 1 entries need 25 bytes; their bufferView has 24',
		);
		expect(await sparse(indices, { bufferView: 0, byteOffset: 40 })).toBe(
			'accessors[0].sparse.values: 1 entries need 52 bytes; their bufferView has 48',
		);
		expect(await sparse(indices, values, 5)).toBe('accessors[0].sparse.count: 5 of 4 entries');
		// What it names must be there: beyond the list it would be lost without a word.
		const bytes = Buffer.concat([f32(CORNERS), u16([9, ...FACES.slice(1)])]).toString('base64');
		const beyond = {
			...mesh,
			buffers: [{ byteLength: 72, uri: `data:application/octet-stream;base64,${bytes}` }],
			accessors: [{ ...mesh.accessors[0], sparse: { count: 1, indices, values } }, mesh.accessors[1]],
		};
		expect(await refused(beyond)).toBe('accessors[0].sparse.indices: names entry 9; there are 4');
	});

	it('keep the rest of a level beside a node that stands nowhere, or carries what cannot be kept', async () => {
		const lost = [
			{ matrix: Array.from({ length: 16 }, () => 0) },
			{ translation: [1e300, 0, 0] },
			{ scale: [1e300, 1, 1] },
			{ scale: [0, 0, 1] },
			{ rotation: [0, 0, 0, Infinity] },
		];
		for (const pose of lost) {
			const file = JSON.stringify({
				asset: { version: '2.0' },
				...mesh,
				scenes: [{ nodes: [0, 1] }],
				nodes: [{ name: 'nowhere', mesh: 0, children: [2], ...pose }, { name: 'here', mesh: 0 }, { mesh: 0 }],
			}).replace('null', '1e999');
			const level = await readGltf([{ name: 'l.gltf', bytes: new TextEncoder().encode(file) }]);
			expect(level.nodes.map((n) => n.path)).toEqual(['here']);
			expect(level.notes).toEqual([
				{
					path: 'nowhere',
					message: 'stands nowhere (its matrix is empty, or too large): left out, with 1 under it',
				},
			]);
		}
		const extras = '{"__proto__":{"polluted":true}}';
		const file = JSON.stringify({ asset: { version: '2.0' }, ...mesh, nodes: [{ name: 'a', mesh: 0, extras: 'X' }] });
		const level = await readGltf([{ name: 'l.gltf', bytes: new TextEncoder().encode(file.replace('"X"', extras)) }]);
		expect(level.nodes[0]?.extras).toBeUndefined();
		expect(checkProject(levelInto(level, {}, null, 'l.gltf').project).ok).toBe(true);
	});

	it('tell nodes apart whose names read like paths, numbers, or nothing', async () => {
		const names = ['a/b', 'a', 'node', undefined, 'Crate', 'Crate', 'Crate#2', '50%'];
		const level = await gltf({
			...mesh,
			scenes: [{ nodes: names.map((_, i) => i) }],
			nodes: [
				...names.map((name, i) => ({
					...(name === undefined ? {} : { name }),
					mesh: 0,
					...(i === 1 ? { children: [8] } : {}),
				})),
				{ name: 'b', mesh: 0 },
			],
		});
		const paths = level.nodes.map((n) => n.path);
		expect(paths).toEqual(['a%2Fb', 'a', 'a/b', 'node', '(tetra)', 'Crate', 'Crate#2', 'Crate%232', '50%']);
		expect(new Set(paths).size).toBe(paths.length);
	});

	it('cut .glb files too, at every byte', async () => {
		const glb = await writeGlb(example('pursers-desk'));
		for (let at = 4; at < glb.length; at += 977)
			await expect(readGltf([{ name: 'x.glb', bytes: glb.slice(0, at) }])).rejects.toThrow(
				/^x\.glb: (is cut short|is not JSON)/,
			);
		const long = glb.slice();
		new DataView(long.buffer).setUint32(12, 0x7fffffff, true);
		await expect(readGltf([{ name: 'x.glb', bytes: long }])).rejects.toThrow('chunk 0 says 2147483647 bytes');
	});

	it('that name corners which are not there lose those triangles alone', async () => {
		const bytes = Buffer.concat([
			f32([...CORNERS.slice(0, 9), Number.NaN, 0, 0]),
			u16([0, 1, 2, 0, 1, 3, 0, 1, 9, 1, 2, 0]),
		]);
		const level = await gltf({
			...withMesh([{ name: 'a', mesh: 0 }]),
			buffers: [{ byteLength: 72, uri: `data:application/octet-stream;base64,${bytes.toString('base64')}` }],
		});
		expect(level.nodes[0].surface?.triangles).toEqual([0, 1, 2, 1, 2, 0]);
		expect(level.notes[0].message).toBe('2 triangles left out: a corner is no place, or is not there');
	});
});

describe('our own files', () => {
	const back = async (bytes: Uint8Array<ArrayBuffer>, name: string) => (await readGltf([{ name, bytes }])).project;

	it('open without an error of the validator, and are the very same when they come back', async () => {
		for (const name of ['harl-quay', 'deck-from-above', 'pursers-desk']) {
			const project = example(name);
			const glb = await writeGlb(project);
			const { issues } = await validator.validateBytes(glb);
			expect([issues.numErrors, issues.numWarnings], JSON.stringify(issues.messages)).toEqual([0, 0]);
			expect(await back(glb, 'a.glb')).toEqual(project);
			const json = await writeGltf(project);
			expect((await validator.validateString(json)).issues.numErrors).toBe(0);
			expect(await back(new TextEncoder().encode(json), 'a.gltf')).toEqual(project);
		}
	});

	it('edited elsewhere are read by their nodes, and that is said', async () => {
		const written = JSON.parse(await writeGltf(example('harl-quay')));
		type Json = typeof written;
		const after = async (edit: (json: Json) => void) => {
			const json = structuredClone(written);
			edit(json);
			const level = await readGltf([{ name: 'a.gltf', bytes: text(json) }]);
			const said = level.notes.filter((n) => n.path === 'extras.frelk').map((n) => n.message);
			return { taken: level.project !== null, said, nodes: level.nodes };
		};
		const node = (json: Json, name: string) => json.nodes.find((n: { name?: string }) => n.name === name);
		const top = (json: Json) => json.scenes[0].nodes as number[];
		// Only written anew: other spaces, a last digit.
		const same = await after((json) => {
			node(json, 'Gangway crank').translation[0] += 1e-9;
			const [x, y, z, w] = node(json, 'Quay bell').rotation ?? [0, 0, 0, 1];
			node(json, 'Quay bell').rotation = [x + 1e-16, y, z, w];
		});
		expect(same).toMatchObject({ taken: true, said: [] });
		const moved = await after((json) => {
			node(json, 'Gangway crank').translation[0] += 0.01;
		});
		expect(moved).toMatchObject({
			taken: false,
			said: [
				'the project in it is not taken: the file was edited elsewhere since (Gangway/Gangway crank is not as it was); its nodes are read',
			],
		});
		expect(moved.nodes.length).toBeGreaterThan(5);
		const gone = await after((json) =>
			top(json).splice(top(json).indexOf(json.nodes.indexOf(node(json, 'Quay bell'))), 1),
		);
		expect(gone.taken).toBe(false);
		expect(gone.said[0]).toMatch(/\(Quay bell is gone, and \d+ more\)/);
		const more = await after((json) => top(json).push(json.nodes.push({ name: 'Buoy' }) - 1));
		expect(more).toMatchObject({ taken: false, said: [expect.stringContaining('(Buoy is new)')] });
		const others: ((json: Json) => void)[] = [
			(json) => void (node(json, 'Gangway crank').name = 'Crank'),
			(json) => void (json.cameras[0].perspective.yfov *= 1.01),
			(json) => void (json.extensions.KHR_implicit_shapes.shapes[0].box.size[0] += 0.1),
			(json) => {
				const body = json.nodes.find(
					(n: { extensions?: { KHR_physics_rigid_bodies?: { trigger?: object } } }) =>
						n.extensions?.KHR_physics_rigid_bodies?.trigger,
				).extensions;
				body.KHR_physics_rigid_bodies = { collider: { geometry: body.KHR_physics_rigid_bodies.trigger.geometry } };
			},
			(json) => {
				const bytes = Buffer.from(json.buffers[0].uri.split(',')[1], 'base64');
				const { byteOffset = 0 } =
					json.bufferViews[json.accessors[json.meshes[0].primitives[0].attributes.POSITION].bufferView];
				bytes.writeFloatLE(bytes.readFloatLE(byteOffset) + 0.01, byteOffset);
				json.buffers[0].uri = `data:application/octet-stream;base64,${bytes.toString('base64')}`;
			},
		];
		for (const edit of others) expect((await after(edit)).taken, String(edit)).toBe(false);
		const bytes = (json: Json) => ({ name: 'a.gltf', bytes: text(json) });
		expect((await projectIn(bytes(written)))?.id).toBe('harl-quay');
		node(written, 'Gangway crank').translation[0] += 1;
		expect(await projectIn(bytes(written))).toBeNull();
		delete written.extras;
		expect(await projectIn(bytes(written))).toBeNull();
		expect(await projectIn({ name: 'a.glb', bytes: new Uint8Array(8) })).toBeNull();
	});

	it('of any project do so, and read by their nodes stand and touch as the project does', async () => {
		await fc.assert(
			fc.asyncProperty(fc.integer({ min: 0, max: 1e6 }), async (seed) => {
				const project: Project = randomProject(seed, { objects: 6 });
				const glb = await writeGlb(project);
				const { issues } = await validator.validateBytes(glb);
				expect(issues.numErrors, JSON.stringify(issues.messages.slice(0, 3))).toBe(0);
				const level = await readGltf([{ name: 'a.glb', bytes: glb }]);
				expect(level.project).toEqual(project);
				if (project.scene.kind === 'flat') return;
				const read = levelInto(level, {}, null, 'a.glb').project;
				const was = buildWorld(project)
					.objects.filter((o) => o.active)
					.flatMap((o) => o.shapes);
				const is = buildWorld(read).shapes;
				expect(is).toHaveLength(was.length);
				const out = new Float64Array(8);
				// Distances from a few places are the same to the single floats of corners, and to the sides of round hulls.
				const gaps = (shapes: typeof was) =>
					[
						[0, 0, 0],
						[9, 3, -4],
					].map((p) => Math.min(1e9, ...shapes.map((s) => nearestOn(s.body, ...(p as [number, number, number]), out))));
				const [a, b] = [gaps(was), gaps(is)];
				a.forEach((gap, i) => {
					expect(Math.abs(gap - b[i])).toBeLessThan(0.02 + 1e-5 * gap);
				});
			}),
			{ numRuns: runs(40) },
		);
	});

	it('with a project that is none are read by their nodes, and say so', async () => {
		const level = await gltf({ ...withMesh([{ name: 'a', mesh: 0 }]), extras: { frelk: { format: 'frelk/1' } } });
		expect(level.project).toBeNull();
		expect(level.notes[0].path).toBe('extras.frelk');
	});
});
