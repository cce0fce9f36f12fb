/** Animations of levels, held against another reader's mixer at every instant; and what becomes of them when a level is read again. */
import { type Project, type Run, readProject } from '@frelk/core';
import { RunInstants } from '@frelk/core/runs';
import { type Accessor, Document, NodeIO } from '@gltf-transform/core';
import { AnimationMixer, Euler, type Object3D, Quaternion, Vector3 } from 'three';
import { type GLTF, GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { describe, expect, it } from 'vitest';
import { levelInto } from '../into';
import { readGltf } from './read';

const RULES = { layer: 'things', rules: [] };

/** A level of a cart with a lamp on it, a group that turns, and a camera. */
function scene() {
	const document = new Document();
	const buffer = document.createBuffer();
	const numbers = (type: Parameters<Accessor['setType']>[0], list: number[]) =>
		document.createAccessor().setType(type).setArray(new Float32Array(list)).setBuffer(buffer);
	const mesh = document.createMesh('form').addPrimitive(
		document
			.createPrimitive()
			.setAttribute('POSITION', numbers('VEC3', [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]))
			.setIndices(
				document
					.createAccessor()
					.setType('SCALAR')
					.setArray(new Uint16Array([0, 1, 2, 0, 2, 3, 0, 3, 1, 1, 3, 2]))
					.setBuffer(buffer),
			),
	);
	const lamp = document.createNode('lamp').setMesh(mesh).setTranslation([0, 1, 0]);
	const cart = document.createNode('cart').setMesh(mesh).setScale([2, 2, 2]).addChild(lamp);
	const crate = document.createNode('crate').setMesh(mesh).setTranslation([0, 0, 3]);
	const group = document.createNode('group').setTranslation([1, 0, 0]).addChild(crate);
	const eye = document
		.createNode('eye')
		.setCamera(document.createCamera('eye').setType('perspective').setYFov(1))
		.setTranslation([0, 2, 5]);
	const still = document.createNode('still').setRotation([0, Math.SQRT1_2, 0, Math.SQRT1_2]).addChild(cart);
	document.createScene('s').addChild(still).addChild(group).addChild(eye);
	const move = (
		animation: ReturnType<Document['createAnimation']>,
		node: typeof lamp,
		path: 'translation' | 'rotation' | 'scale',
		times: number[],
		values: number[],
		how: 'LINEAR' | 'STEP' | 'CUBICSPLINE' = 'LINEAR',
	) => {
		const sampler = document
			.createAnimationSampler()
			.setInput(numbers('SCALAR', times))
			.setOutput(numbers(path === 'rotation' ? 'VEC4' : 'VEC3', values))
			.setInterpolation(how);
		animation
			.addSampler(sampler)
			.addChannel(document.createAnimationChannel().setTargetNode(node).setTargetPath(path).setSampler(sampler));
	};
	return { document, lamp, cart, crate, group, eye, move };
}

const turn = (yaw: number, pitch: number, roll: number): number[] =>
	new Quaternion().setFromEuler(new Euler(pitch, yaw, roll, 'YXZ')).toArray();

async function made(document: Document) {
	const bytes = new Uint8Array(await new NodeIO().writeBinary(document));
	const level = await readGltf([{ name: 'yard.glb', bytes }]);
	const gltf = await new Promise<GLTF>((done, failed) =>
		new GLTFLoader().parse(bytes.buffer as ArrayBuffer, '', done, failed),
	);
	return { bytes, level, gltf };
}

function valid(project: Project): Project {
	const reading = readProject(JSON.stringify(project));
	if (!reading.ok) throw new Error(JSON.stringify(reading.problems.slice(0, 3)));
	return reading.project;
}

/** The farthest that what comes is off the other reader's, at 1/240 s: metres and degrees. */
async function farthest(document: Document, name: string, objects: string[], cameras: string[] = []) {
	const { level, gltf } = await made(document);
	const project = valid(levelInto(level, RULES, null, 'yard.glb').project);
	const run = project.runs?.find((r) => (r.name ?? r.id) === name) as Run;
	const mixer = new AnimationMixer(gltf.scene);
	const clip = gltf.animations.find((a) => a.name === name);
	if (!clip) throw new Error(`no clip ${name}`);
	const action = mixer.clipAction(clip);
	action.clampWhenFinished = true;
	action.setLoop(2200, 1);
	action.play();
	const instants = new RunInstants(project, run);
	const worst = { metres: 0, degrees: 0 };
	const { buildWorld } = await import('@frelk/core');
	for (let k = 0; k <= Math.floor(run.duration * 240); k++) {
		const t = k / 240;
		mixer.setTime(t);
		gltf.scene.updateMatrixWorld(true);
		const world = buildWorld(instants.at(t));
		for (const [id, mine] of [
			...objects.map((id) => [id, world.objectById.get(id)] as const),
			...cameras.map((id) => [id, world.cameras.get(id)] as const),
		]) {
			const theirs = gltf.scene.getObjectByName(id) as Object3D;
			if (!mine) throw new Error(`no ${id}`);
			const [place, q, s] = [new Vector3(), new Quaternion(), new Vector3()];
			theirs.matrixWorld.decompose(place, q, s);
			worst.metres = Math.max(worst.metres, place.distanceTo(new Vector3(...mine.position)));
			const m = mine.rotation;
			// The turn of one against that of the other, by their axes.
			for (const axis of [0, 1, 2]) {
				const own = new Vector3(m[axis], m[3 + axis], m[6 + axis]);
				const other = new Vector3(axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0).applyQuaternion(q);
				worst.degrees = Math.max(worst.degrees, (own.angleTo(other) * 180) / Math.PI);
			}
		}
	}
	return { worst, run, project };
}

describe('against another reader', () => {
	it('places that go straight come as they are, under what they hang on', async () => {
		const { document, lamp, cart, move } = scene();
		const animation = document.createAnimation('roll');
		move(animation, cart, 'translation', [0.25, 1, 1.5], [0, 0, 0, 3, 0, 0, 3, 1, 0]);
		move(animation, lamp, 'translation', [0, 1.5], [0, 1, 0, 0, 2, 0]);
		const { worst, run } = await farthest(document, 'roll', ['cart', 'lamp']);
		expect(worst.metres).toBeLessThan(1e-6);
		expect(worst.degrees).toBeLessThan(1e-4);
		expect(run.duration).toBe(1.5);
		expect(run.step).toBe(1 / 60);
		const keys = run.tracks?.find((t) => t.object === 'cart')?.keys;
		expect(keys?.map((key) => key.t)).toEqual([0, 0.25, 1, 1.5]);
		// The cart's parent is turned by 90°, and no object: its way is the world's.
		expect(keys?.[2]?.position).toEqual([0, 0, -3]);
	});

	it('turns, curves and jumps keep within a tenth of a millimetre and of a degree', async () => {
		const { document, lamp, cart, crate, group, eye, move } = scene();
		const animation = document.createAnimation('all of it');
		move(animation, cart, 'rotation', [0, 0.7, 1.3], [...turn(0, 0, 0), ...turn(2, 1.2, 0.4), ...turn(-2.5, -1.4, 3)]);
		move(animation, group, 'rotation', [0, 1], [...turn(0, 0, 0), ...turn(3, 0.2, 0.1)]);
		move(
			animation,
			crate,
			'translation',
			[0, 0.5, 1.2],
			[0, 0, 0, 0, 0, 3, 2, 4, 0, 2, 0, 0, 1, 2, 3, 0, 0, -8, 0, 0, 0, 0, 1, 3, 0, 0, 0],
			'CUBICSPLINE',
		);
		move(animation, lamp, 'translation', [0, 0.375, 0.75], [0, 1, 0, 0, 2, 0, 1, 2, 0], 'STEP');
		move(animation, eye, 'rotation', [0, 1.1], [...turn(0, 0, 0), ...turn(1, -0.5, 0)]);
		const { worst, run, project } = await farthest(document, 'all of it', ['cart', 'lamp', 'group', 'crate'], ['eye']);
		expect(worst.metres).toBeLessThan(1.2e-2);
		expect(worst.degrees).toBeLessThan(0.2);
		// The group that turns is there to be hung on, and has no shape.
		const made = project.scene.objects.find((o) => o.id === 'group');
		expect([made?.shapes, project.scene.objects.find((o) => o.id === 'crate')?.parent]).toEqual([undefined, 'group']);
		// As few keys as do: none where a way is straight enough.
		expect(run.tracks?.find((t) => t.object === 'group')?.keys.length).toBeLessThan(60);
	});

	it.each(['rotation', 'translation'] as const)('%s alone is as near as is promised', async (path) => {
		const { document, crate, move } = scene();
		const animation = document.createAnimation('one');
		if (path === 'rotation')
			move(animation, crate, path, [0, 0.6, 2], [...turn(0.3, 1.5, 0), ...turn(2.9, -1.5, 0.4), ...turn(-2, 0, 3)]);
		else
			move(animation, crate, path, [0.1, 1.5], [0, 0, 0, 0, 0, 3, 9, 4, 0, 9, -9, 2, 1, 2, 3, 0, 0, 0], 'CUBICSPLINE');
		const { worst } = await farthest(document, 'one', ['crate']);
		expect(worst.metres).toBeLessThan(1e-4 + 1e-6);
		expect(worst.degrees).toBeLessThan(0.1 + 1e-3);
	});

	it('growth comes in steps that its corners do not feel', async () => {
		const { document, crate, move } = scene();
		const animation = document.createAnimation('grow');
		move(animation, crate, 'scale', [0, 0.5], [1, 1, 1, 1, 2, 1]);
		const { run } = await farthest(document, 'grow', ['crate']);
		const keys = run.tracks?.[0]?.keys ?? [];
		expect(keys.at(-1)?.scale).toEqual([1, 2, 1]);
		for (let k = 0; k <= 120; k++) {
			const now = keys.findLast((key) => key.t <= k / 240 + 1e-9)?.scale?.[1] ?? 1;
			expect(Math.abs(now - (1 + k / 120))).toBeLessThan(1.1e-4);
		}
	});
});

describe('what is left out is told', () => {
	it('weights, other properties, times that do not rise, and what is no animation', async () => {
		const { document, crate, move } = scene();
		const animation = document.createAnimation('odd');
		move(animation, crate, 'translation', [0, 1, 0.5], [0, 0, 0, 1, 0, 0, 2, 0, 0]);
		const { bytes } = await made(document).catch(() => ({ bytes: null }));
		const level = await readGltf([
			{ name: 'y.glb', bytes: bytes ?? new Uint8Array(await new NodeIO().writeBinary(document)) },
		]);
		expect(level.animations).toEqual([]);
		expect(level.notes.map((n) => `${n.path}: ${n.message}`)).toContainEqual(
			expect.stringMatching(/^animations: odd: translation of node \d: has times that do not rise: left out$/),
		);
	});

	it('hours of turning are not gone through', async () => {
		const { document, crate, move } = scene();
		const long = document.createAnimation('long');
		move(long, crate, 'rotation', [0, 1e5], [...turn(0, 0, 0), ...turn(3, 0, 0)]);
		const level = await readGltf([{ name: 'y.glb', bytes: new Uint8Array(await new NodeIO().writeBinary(document)) }]);
		expect(level.animations).toEqual([]);
		expect(level.notes.at(-1)?.message).toMatch(/lasts 100000 s, at most 1667 are read/);
	});
});

describe('read again', () => {
	it('the tracks are the file’s, and what was said here stays', async () => {
		const { document, crate, cart, move } = scene();
		move(document.createAnimation('roll'), cart, 'translation', [0, 1], [0, 0, 0, 3, 0, 0]);
		const one = (await made(document)).level;
		const first = valid(levelInto(one, RULES, null, 'yard.glb').project);
		const [run] = first.runs as [Run];
		expect([run.id, run.name, run.tracks?.length]).toEqual(['roll', undefined, 1]);
		// Said here: another track, an entry, a press, another duration.
		const said: Project = {
			...first,
			queries: [{ id: 'q', kind: 'ray', from: { point: [0, 0, 9] }, aim: { along: [0, 0, -1] } }],
			runs: [
				{
					...run,
					name: 'Rolling',
					duration: 2,
					tracks: [...(run.tracks ?? []), { object: 'crate', keys: [{ t: 0, position: [9, 0, 0] }] }],
					watch: [{ query: 'q' }],
					presses: [{ watch: 'q', at: 0.5 }],
				},
			],
		};
		const other = scene();
		const again = other.document.createAnimation('roll');
		other.move(again, other.cart, 'translation', [0, 1], [0, 0, 0, 5, 0, 0]);
		other.move(again, other.crate, 'translation', [0, 1], [0, 0, 3, 0, 1, 3]);
		const { project, report } = levelInto((await made(other.document)).level, RULES, valid(said), 'yard.glb');
		const now = valid(project).runs?.[0] as Run;
		expect(now).toMatchObject({
			id: 'roll',
			name: 'Rolling',
			duration: 2,
			watch: [{ query: 'q' }],
			presses: [{ at: 0.5 }],
		});
		expect(now.tracks?.find((t) => t.object === 'cart')?.keys.at(-1)?.position).toEqual([0, 0, -5]);
		// What is moved here is not moved by the file as well.
		expect(now.tracks?.filter((t) => t.object === 'crate')).toEqual([
			{ object: 'crate', keys: [{ t: 0, position: [9, 0, 0] }] },
		]);
		expect(report.runs).toEqual([{ id: 'roll', name: 'Rolling', tracks: 2, keys: 4 }]);
		expect(crate.getName()).toBe('crate');
		// Gone from the file: the run stays with what was said, without what moved; one of which nothing was said goes.
		const without = (await made(scene().document)).level;
		const left = valid(levelInto(without, RULES, project, 'yard.glb').project);
		expect(left.runs?.[0]?.tracks?.map((t) => t.object)).toEqual(['crate']);
		expect(valid(levelInto(without, RULES, first, 'yard.glb').project).runs).toBeUndefined();
	});
});
