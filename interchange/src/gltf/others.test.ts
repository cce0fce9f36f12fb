/** Levels as other programs write them, held against another loader and its rays: which node is hit, and where. */
import { Answerer, buildWorld, checkProject, type Project, type Query } from '@frelk/core';
import { Document, type Node as GltfNode, NodeIO, type TypedArray } from '@gltf-transform/core';
import {
	EXTMeshGPUInstancing,
	EXTMeshoptCompression,
	KHRDracoMeshCompression,
	KHRMeshQuantization,
} from '@gltf-transform/extensions';
import draco3d from 'draco3d';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { DoubleSide, type InstancedMesh, type Mesh, type Object3D, Raycaster, Vector3 } from 'three';
import { type GLTF, GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { levelInto } from '../into';
import { readGltf } from './read';

/** Numbers that come out the same each time, from 0 to 1. */
function chance(seed: number): () => number {
	let state = seed;
	return () => {
		state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
		return state / 2 ** 32;
	};
}

/** A ball of triangles with a bump, so that it is not the same from every side. */
function bumpy(around = 12): { position: Float32Array; indices: Uint16Array } {
	const position: number[] = [];
	const indices: number[] = [];
	for (let j = 0; j <= around; j++)
		for (let i = 0; i <= around; i++) {
			const [u, v] = [(2 * Math.PI * i) / around, (Math.PI * j) / around];
			const r = 0.5 + 0.15 * Math.cos(3 * u) * Math.sin(v);
			position.push(r * Math.sin(v) * Math.cos(u), 0.8 * r * Math.cos(v), r * Math.sin(v) * Math.sin(u));
			if (i === around || j === around) continue;
			const at = j * (around + 1) + i;
			indices.push(at, at + 1, at + around + 1, at + 1, at + around + 2, at + around + 1);
		}
	return { position: new Float32Array(position), indices: new Uint16Array(indices) };
}

function withBall(document: Document, name = 'ball') {
	const { position, indices } = bumpy();
	const buffer = document.getRoot().listBuffers()[0] ?? document.createBuffer();
	const accessor = (type: 'SCALAR' | 'VEC3' | 'VEC4' | 'MAT4', array: TypedArray) =>
		document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
	const primitive = document
		.createPrimitive()
		.setAttribute('POSITION', accessor('VEC3', position))
		.setIndices(accessor('SCALAR', indices));
	return { mesh: document.createMesh(name).addPrimitive(primitive), primitive, accessor, position };
}

const io = () => new NodeIO();

/** Nodes here and there, one under another, each with a turn and an even scale. */
function yard(document: Document, mesh: ReturnType<typeof withBall>['mesh']): void {
	const random = chance(7);
	const scene = document.createScene();
	let last: GltfNode | null = null;
	for (let i = 0; i < 9; i++) {
		const node = document.createNode(`thing ${i}`).setMesh(mesh);
		const q = [random() - 0.5, random() - 0.5, random() - 0.5, random()].map(Number);
		const length = Math.hypot(...q);
		node.setRotation(q.map((v) => v / length) as [number, number, number, number]);
		node.setTranslation([3 * random() - 1.5, 3 * random() - 1.5, 3 * random() - 1.5]);
		const s = 0.6 + 0.8 * random();
		node.setScale([s, s, s]);
		if (last && i % 3 === 2) last.addChild(node);
		else scene.addChild(node);
		last = node;
	}
}

interface Judge {
	/** Name of the node that is hit first, and how far off; null where nothing is. */
	first: (from: Vector3, dir: Vector3) => { name: string; distance: number } | null;
}

/** The other loader, and its rays. */
async function judgeOf(glb: Uint8Array): Promise<Judge> {
	const loader = new GLTFLoader();
	loader.setMeshoptDecoder(MeshoptDecoder);
	const data = glb.buffer.slice(glb.byteOffset, glb.byteOffset + glb.byteLength) as ArrayBuffer;
	const gltf = await new Promise<GLTF>((done, failed) => loader.parse(data, '', done, failed));
	gltf.scene.updateMatrixWorld(true);
	const meshes: Object3D[] = [];
	gltf.scene.traverse((object) => {
		if ((object as Mesh).isMesh) {
			((object as Mesh).material as { side: number }).side = DoubleSide;
			meshes.push(object);
		}
		if ((object as { isSkinnedMesh?: boolean }).isSkinnedMesh)
			(object as unknown as { computeBoundingSphere: () => void }).computeBoundingSphere();
	});
	const names = (gltf.parser.json as { nodes: { name: string }[] }).nodes.map((n) => n.name);
	const nameOf = (object: Object3D): string => {
		for (let at: Object3D | null = object; at; at = at.parent) {
			const node = gltf.parser.associations.get(at)?.nodes;
			if (node !== undefined) return names[node] ?? '';
		}
		return object.name;
	};
	return {
		first: (from, dir) => {
			const [hit] = new Raycaster(from, dir).intersectObjects(meshes, false);
			if (!hit) return null;
			const at = (hit.object as InstancedMesh).isInstancedMesh ? `[${hit.instanceId}]` : '';
			return { name: `${nameOf(hit.object)}${at}`, distance: hit.distance };
		},
	};
}

const ray = (from: Vector3, dir: Vector3): Query =>
	({
		id: 'r',
		kind: 'ray',
		from: { point: [from.x, from.y, from.z] },
		aim: { along: [dir.x, dir.y, dir.z] },
		length: 1000,
	}) as Query;

/** Rays from all around through the level, asked of both. @returns how many hit anything */
async function compare(glb: Uint8Array, judged: Uint8Array = glb, within = 2e-5, size = 4): Promise<number> {
	const level = await readGltf([{ name: 'level.glb', bytes: new Uint8Array(glb) }]);
	const made = levelInto(level, {}, null, 'level.glb').project;
	const reading = checkProject(JSON.parse(JSON.stringify(made)));
	expect(reading.ok).toBe(true);
	const world = buildWorld(made as Project);
	const answerer = new Answerer(world);
	const judge = await judgeOf(judged);
	const random = chance(3);
	const point = (r: number) => {
		const v = new Vector3(random() - 0.5, random() - 0.5, random() - 0.5).normalize();
		return v.multiplyScalar(r);
	};
	let hits = 0;
	for (let i = 0; i < 200; i++) {
		const from = point(3 * size);
		const dir = point(0.6 * size * random())
			.sub(from)
			.normalize();
		const wanted = judge.first(from, dir);
		const got = answerer.explain(ray(from, dir));
		const [first] = got.selected;
		if (!wanted) {
			expect(first?.object ?? null, `ray ${i}`).toBeNull();
			continue;
		}
		hits++;
		const reached = first ?? got.verdicts.find((v) => v.stage === 'tied');
		expect(reached, `ray ${i} at ${wanted.name}`).toBeDefined();
		if (!first) continue;
		expect(Math.abs(first.distance - wanted.distance), `ray ${i} at ${wanted.name}`).toBeLessThan(within * size);
		const told = made.scene.objects.find((o) => o.id === first.object)?.extras as { import: { node: string } };
		expect(told.import.node.split('/').at(-1), `ray ${i}`).toBe(wanted.name);
	}
	return hits;
}

beforeAll(async () => {
	await MeshoptEncoder.ready;
	await MeshoptDecoder.ready;
});

describe('levels of others, against another loader', () => {
	it('as they lie', async () => {
		const document = new Document();
		yard(document, withBall(document).mesh);
		expect(await compare(await io().writeBinary(document))).toBeGreaterThan(60);
	});

	it('with instances, an object each', async () => {
		const document = new Document();
		const { mesh, accessor } = withBall(document);
		const batch = document.createExtension(EXTMeshGPUInstancing).createInstancedMesh();
		const random = chance(11);
		const n = 40;
		const places = Float32Array.from({ length: 3 * n }, () => 4 * random() - 2);
		const scales = Float32Array.from({ length: 3 * n }, () => 0.3 + 0.5 * random());
		const turns = new Int16Array(4 * n);
		for (let i = 0; i < n; i++) {
			const q = [random() - 0.5, random() - 0.5, random() - 0.5, random() - 0.5];
			const length = Math.hypot(...q);
			turns.set(
				q.map((v) => Math.round((32767 * v) / length)),
				4 * i,
			);
		}
		batch.setAttribute('TRANSLATION', accessor('VEC3', places));
		batch.setAttribute('SCALE', accessor('VEC3', scales));
		batch.setAttribute('ROTATION', accessor('VEC4', turns).setNormalized(true));
		const node = document
			.createNode('grove')
			.setMesh(mesh)
			.setTranslation([0.2, 0, 0])
			.setExtension('EXT_mesh_gpu_instancing', batch);
		document.createScene().addChild(document.createNode('yard').setRotation([0, 0.6, 0, 0.8]).addChild(node));
		const glb = await io().registerExtensions([EXTMeshGPUInstancing]).writeBinary(document);
		// A turn of whole numbers is not quite of unit length: the other takes it as it is.
		expect(await compare(glb, glb, 1e-4)).toBeGreaterThan(60);
	});

	it('quantized', async () => {
		const document = new Document();
		const { mesh, primitive, accessor, position } = withBall(document);
		document.createExtension(KHRMeshQuantization).setRequired(true);
		const short = Int16Array.from(position, (v) => Math.round(v * 32767));
		primitive.setAttribute('POSITION', accessor('VEC3', short).setNormalized(true));
		yard(document, mesh);
		const glb = await io().registerExtensions([KHRMeshQuantization]).writeBinary(document);
		expect(await compare(glb)).toBeGreaterThan(60);
	});

	it('packed by meshopt, by itself and with quantization', async () => {
		for (const method of [EXTMeshoptCompression.EncoderMethod.QUANTIZE, EXTMeshoptCompression.EncoderMethod.FILTER]) {
			const document = new Document();
			yard(document, withBall(document).mesh);
			document.createExtension(EXTMeshoptCompression).setRequired(true).setEncoderOptions({ method });
			const glb = await io()
				.registerExtensions([EXTMeshoptCompression, KHRMeshQuantization])
				.registerDependencies({ 'meshopt.encoder': MeshoptEncoder })
				.writeBinary(document);
			expect(await compare(glb)).toBeGreaterThan(60);
		}
	});

	it('packed by Draco, as near as it packs', async () => {
		const document = new Document();
		yard(document, withBall(document).mesh);
		const plain = await io().writeBinary(document);
		document
			.createExtension(KHRDracoMeshCompression)
			.setRequired(true)
			.setEncoderOptions({ quantizationBits: { POSITION: 16 } });
		const glb = await io()
			.registerExtensions([KHRDracoMeshCompression])
			.registerDependencies({ 'draco3d.encoder': await draco3d.createEncoderModule() })
			.writeBinary(document);
		expect(glb.length).toBeLessThan(plain.length);
		expect(await compare(glb, plain, 1e-3)).toBeGreaterThan(60);
	});

	it('on bones at rest: a rig in centimetres, whose mesh lies under a node of its own', async () => {
		const document = new Document();
		const { mesh, primitive, accessor, position } = withBall(document);
		const n = position.length / 3;
		const inCentimetres = position.map((v) => 100 * v);
		primitive.setAttribute('POSITION', accessor('VEC3', inCentimetres));
		primitive.setAttribute(
			'JOINTS_0',
			accessor(
				'VEC4',
				Uint8Array.from({ length: 4 * n }, (_, i) => i % 2),
			),
		);
		const weights = new Float32Array(4 * n);
		for (let i = 0; i < n; i++) {
			const up = Math.min(1, Math.max(0, position[3 * i + 1] + 0.5));
			weights.set([1 - up, up, 0, 0], 4 * i);
		}
		primitive.setAttribute('WEIGHTS_0', accessor('VEC4', weights));
		const tip = document.createNode('tip').setTranslation([0, 30, 0]).setRotation([0.3, 0, 0, 0.954]);
		const hip = document.createNode('hip').setRotation([0, 0, 0.2, 0.98]).addChild(tip);
		const rig = document.createNode('rig').setScale([0.01, 0.01, 0.01]).setTranslation([0.4, 0.3, 0]).addChild(hip);
		const inverse = new Float32Array(32);
		inverse.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]);
		inverse.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -30, 0, 1], 16);
		const skin = document.createSkin().addJoint(hip).addJoint(tip).setInverseBindMatrices(accessor('MAT4', inverse));
		const body = document.createNode('body').setMesh(mesh).setSkin(skin).setTranslation([5, 5, 5]);
		document.createScene().addChild(rig).addChild(body);
		const glb = await io().writeBinary(document);
		// The other bends in single floats.
		expect(await compare(glb, glb, 3e-4, 1)).toBeGreaterThan(60);
		const level = await readGltf([{ name: 'rig.glb', bytes: new Uint8Array(glb) }]);
		expect(level.extent).toBeLessThan(40);
	});

	it('pressed by the weights their forms have at rest', async () => {
		const document = new Document();
		const { mesh, primitive, accessor, position } = withBall(document);
		for (let t = 0; t < 2; t++)
			primitive.addTarget(
				document.createPrimitiveTarget().setAttribute(
					'POSITION',
					accessor(
						'VEC3',
						position.map((v, i) => (i % 3 === t ? v : 0)),
					),
				),
			);
		mesh.setWeights([0.5, 0]);
		const scene = document.createScene();
		scene.addChild(document.createNode('as the mesh says').setMesh(mesh).setTranslation([-1, 0, 0]));
		scene.addChild(document.createNode('as it says itself').setMesh(mesh).setWeights([0, 1]).setTranslation([1, 0, 0]));
		expect(await compare(await io().writeBinary(document), undefined, 2e-5, 2)).toBeGreaterThan(60);
	});
});

describe('what is not shown', () => {
	it('is inactive, with all that is under it', async () => {
		const hidden = { KHR_node_visibility: { visible: false } };
		const box = { KHR_physics_rigid_bodies: { collider: { geometry: { shape: 0 } } } };
		const json = {
			asset: { version: '2.0' },
			scenes: [{ nodes: [0, 3] }],
			nodes: [
				{ name: 'a', children: [1], extensions: hidden },
				{ name: 'b', children: [2], extensions: box },
				{ name: 'c', extensions: { ...box, KHR_node_visibility: { visible: true } } },
				{ name: 'd', extensions: box },
			],
			extensionsUsed: ['KHR_node_visibility', 'KHR_implicit_shapes', 'KHR_physics_rigid_bodies'],
			extensions: { KHR_implicit_shapes: { shapes: [{ type: 'box' }] } },
		};
		const bytes = (of: object) => new TextEncoder().encode(JSON.stringify(of));
		const read = (of: object) => readGltf([{ name: 'l.gltf', bytes: bytes(of) }]);
		const { project } = levelInto(await read(json), {}, null, 'l.gltf');
		const active = (p: Project) => buildWorld(p).objects.map((o) => [o.id, o.active]);
		expect(active(project)).toEqual([
			['b', false],
			['c', false],
			['d', true],
		]);
		// Shown by the file the next time, it is again, unless it was made otherwise here.
		const shown = { ...json, nodes: [{ name: 'a', children: [1] }, ...json.nodes.slice(1)] };
		const again = levelInto(await read(shown), {}, project, 'l.gltf');
		expect(active(again.project).every(([, is]) => is)).toBe(true);
		expect(again.report.changed.map((c) => [c.id, c.what])).toEqual([
			['b', ['active']],
			['c', ['active']],
		]);
	});
});
