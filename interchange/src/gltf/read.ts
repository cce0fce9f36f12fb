/** glTF 2.0 in: nodes with a mesh or a collider, where they stand, and how they collide. */

import { oneLine, rounded, type Shape } from '@frelk/core';
import { type Node, WebIO } from '@gltf-transform/core';
import { KHRMeshQuantization } from '@gltf-transform/extensions';

import {
	type Level,
	type LevelCamera,
	LevelError,
	type LevelNode,
	type LevelNote,
	type Progress,
	type Surface,
} from '../level';
import { colliderShape } from './colliders';
import { jsonOf, type NamedBytes, opened } from './container';
import { type Body, ImplicitShapes, PhysicsBodies } from './physics';
import { isAsWritten, ridingProject } from './riding';
import { surfaceOf } from './surface';
import { type Affine, holdable, IDENTITY, type Standing, standing, under, within } from './transform';
import { RIDES } from './write';

const MOST_NAME = 200;
/** Chains of parents a project holds; deeper nodes hang on nothing. */
const MOST_CHAIN = 255;

/** Meshes whose triangles only a decoder could tell: the library would read zeros. */
function markPacked(json: {
	meshes?: { extras?: unknown; primitives: { extensions?: object }[] }[];
	bufferViews?: { extensions?: object }[];
	accessors?: { bufferView?: number }[];
}): void {
	const packedViews = new Set<number>();
	json.bufferViews?.forEach((view, i) => {
		if (Object.keys(view.extensions ?? {}).some((k) => /meshopt/.test(k))) packedViews.add(i);
	});
	for (const mesh of json.meshes ?? []) {
		const by = mesh.primitives.flatMap((p) => {
			const { attributes } = p as { attributes?: Record<string, number> };
			const view = json.accessors?.[attributes?.POSITION ?? -1]?.bufferView;
			return [
				...Object.keys(p.extensions ?? {}).filter((k) => /draco/.test(k)),
				...(packedViews.has(view ?? -1) ? ['EXT_meshopt_compression'] : []),
			];
		});
		mesh.extras = { ...(typeof mesh.extras === 'object' ? mesh.extras : {}), packed: by[0] };
	}
}

interface Walked {
	node: Node;
	path: string;
	affine: Affine;
	/** The nearest object above, and how many objects it hangs on. */
	above: { path: string; standing: Standing; depth: number } | null;
}

/**
 * @param files a .glb, or a .gltf with the files it names
 * @throws LevelError with the place where a file is not what it says
 */
export async function readGltf(files: readonly NamedBytes[], progress: Progress = () => {}): Promise<Level> {
	progress('opening', 0);
	const notes: LevelNote[] = [];
	const { json, resources, name } = opened(files, notes);
	const riding = ridingProject(json.extras, notes);
	markPacked(json as never);
	const io = new WebIO().registerExtensions([KHRMeshQuantization, ImplicitShapes, PhysicsBodies]);
	io.setLogger({ debug: () => {}, info: () => {}, warn: () => {}, error: () => {} });
	progress('reading', 0.1);
	let root: import('@gltf-transform/core').Root;
	try {
		root = (await io.readJSON({ json, resources })).getRoot();
	} catch (error) {
		throw new LevelError(`${name}: ${oneLine((error as Error).message)}`);
	}
	const own = riding && isAsWritten(root, riding, notes) ? riding : null;
	const scenes = root.listScenes();
	const scene = root.getDefaultScene() ?? scenes[0];
	if (scenes.length > 1)
		notes.push({
			path: 'scenes',
			message: `only ${oneLine(scene?.getName() || 'the first')} of ${scenes.length} is read`,
		});
	const level: Level = { kind: 'space', name, nodes: [], cameras: [], notes, project: own, frame: null };
	const top = scene ? scene.listChildren() : root.listNodes().filter((n) => !n.getParentNode());
	const total = root.listNodes().length;
	const lights = ((json.extensions?.KHR_lights_punctual as { lights?: unknown[] } | undefined)?.lights ?? []).length;
	if (lights > 0) notes.push({ path: 'lights', message: `${lights} left out: no query sees light` });
	const stack: Walked[] = named(top, '')
		.reverse()
		.map(([node, path]) => ({ node, path, affine: under(IDENTITY, node.getMatrix()), above: null }));
	let seen = 0;
	for (let at = stack.pop(); at; at = stack.pop()) {
		if (++seen % 200 === 0) progress('reading nodes', 0.2 + (0.8 * seen) / total);
		const made = nodeOf(at, level);
		const above = made ?? at.above;
		for (const [child, path] of named(at.node.listChildren(), at.path).reverse())
			stack.push({ node: child, path, affine: under(at.affine, child.getMatrix()), above });
	}
	if (total > seen) notes.push({ path: 'nodes', message: `${total - seen} of ${total} are in no scene that is read` });
	progress('read', 1);
	return level;
}

/** @returns the project that rides in a file of our own, as long as no one has edited that elsewhere; null in any other */
export async function projectIn(file: NamedBytes): Promise<Level['project']> {
	try {
		return jsonOf(file).extras?.[RIDES] === undefined ? null : (await readGltf([file])).project;
	} catch (error) {
		if (error instanceof LevelError) return null;
		throw error;
	}
}

/** Nodes of one parent with their paths; names that come twice are numbered. */
function named(nodes: readonly Node[], above: string): [Node, string][] {
	const times = new Map<string, number>();
	return nodes.map((node) => {
		const name = nameOf(node);
		const n = (times.get(name) ?? 0) + 1;
		times.set(name, n);
		return [node, `${above === '' ? '' : `${above}/`}${name}${n > 1 ? `#${n}` : ''}`];
	});
}

const nameOf = (node: Node): string =>
	(oneLine(node.getName(), MOST_NAME) || oneLine(node.getMesh()?.getName() ?? '', MOST_NAME) || 'node').slice(
		0,
		MOST_NAME,
	);

/** Makes an object of a node where it is one, and its camera where it has one; @returns what hangs on it from now on */
function nodeOf({ node, path, affine, above }: Walked, level: Level): Walked['above'] {
	const tell = (message: string) => level.notes.push({ path, message });
	const mesh = node.getMesh();
	const body = node.getExtension<Body>(PhysicsBodies.EXTENSION_NAME);
	const camera = node.getCamera();
	let made: Walked['above'] = null;
	if (mesh || body?.collider || body?.trigger) {
		let stands = standing(affine);
		let parent = above;
		if (parent && parent.depth >= MOST_CHAIN) {
			tell('hangs on too many: it stands by itself');
			parent = null;
		}
		let local = within(stands, parent?.standing ?? null);
		if (!holdable(local.scale)) {
			parent = null;
			local = within(stands, null);
		}
		if (stands.why) tell(`is ${stands.why}: that is baked into its corners`);
		if (![...local.position, ...stands.place].every((v) => Math.abs(v) <= 1e7)) {
			tell('lies farther out than 10,000 km: left out');
			return above;
		}
		const surface = mesh ? surfaceOf(mesh, stands.baked, tell) : null;
		const colliders: Shape[] = [];
		for (const kind of ['collider', 'trigger'] as const) {
			const geometry = body?.[kind];
			if (!geometry) continue;
			const of: Surface | null =
				geometry.mesh === mesh && surface
					? surface
					: geometry.mesh
						? surfaceOf(geometry.mesh, stands.baked, tell)
						: null;
			const { shape, said } = colliderShape(geometry, stands.scale, stands.baked, of);
			if (said) tell(`${kind}: ${said}`);
			if (shape) colliders.push({ id: kind, ...shape, ...(kind === 'trigger' ? { role: 'sensor' } : {}) } as Shape);
		}
		const extras = node.getExtras();
		level.nodes.push({
			path,
			name: nameOf(node),
			parent: parent?.path ?? null,
			...local,
			colliders,
			surface,
			tags: [],
			id: null,
			layer: null,
			extras: Object.keys(extras).length > 0 ? extras : undefined,
		} satisfies LevelNode);
		made = { path, standing: stands, depth: (parent?.depth ?? 0) + 1 };
		stands = made.standing;
	}
	if (camera) addCamera(camera, path, nameOf(node), affine, made ?? above, level);
	return made ?? above;
}

function addCamera(
	camera: import('@gltf-transform/core').Camera,
	path: string,
	name: string,
	affine: Affine,
	above: Walked['above'],
	level: Level,
): void {
	const stands = standing(affine);
	const { position, rotation } = within(stands, above?.standing ?? null);
	const far = Math.min(1e9, camera.getZFar() || 1000);
	const placed = { name, position, ...(rotation.some((v) => v !== 0) ? { rotation } : {}), far: rounded(far, 6) };
	const made = (of: LevelCamera['camera']) =>
		level.cameras.push({ path, name, parent: above?.path ?? null, camera: of });
	if (camera.getType() === 'perspective') {
		const fov = rounded((camera.getYFov() * 180) / Math.PI, 6);
		if (!(fov > 0 && fov < 180)) level.notes.push({ path, message: `its camera opens by ${fov}°: left out` });
		else made({ ...placed, projection: 'perspective', fov });
	} else {
		const height = rounded(2 * Math.abs(camera.getYMag()), 6);
		if (!(height >= 1e-6)) level.notes.push({ path, message: 'its camera has no height: left out' });
		else made({ ...placed, projection: 'orthographic', height });
	}
}
