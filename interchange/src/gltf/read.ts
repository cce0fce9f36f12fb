/** glTF 2.0 in: nodes with a mesh or a collider, where they stand, and how they collide. */

import { oneLine, rounded, type Shape } from '@frelk/core';
import { type JSONDocument, type Root, WebIO } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRDracoMeshCompression, KHRMeshQuantization } from '@gltf-transform/extensions';

import { type Level, type LevelAnimation, LevelError, type LevelNote, MAX_NODES, type Progress } from '../level';
import { type Animation, animationsOf, animationWith, Budget, keysOf, type PoseAt } from './animation';
import { colliderShape } from './colliders';
import { jsonOf, type NamedBytes, type Opened, opened } from './container';
import { type DracoMaker, decodersFor } from './decoders';
import { embeddedProject, isAsWritten } from './embedded';
import { type ImplicitShape, ImplicitShapes, PhysicsBodies } from './physics';
import { EXTENSIONS, extensionOf, type GltfFile, type GltfNode } from './schema';
import { type Bones, Surfaces } from './surface';
import { type Affine, holdable, IDENTITY, matrixOf, type Placed, standing, stands, under, within } from './transform';
import { RIDES } from './write';

const MAX_NAME = 200;
/** Chains of parents a project holds; deeper nodes hang on nothing. */
const MAX_CHAIN = 255;

interface GltfOptions {
	/** Whether what is not read may be left out, where the forms of things stand on it. */
	partial?: boolean;
	/** Makes a decoder of Draco where the package's own start does not serve, as in a page. */
	draco?: DracoMaker;
}

/** What the library reads: the meshes and their numbers, and none of the nodes, which there may be a million of. */
async function documentOf(
	{ json, resources, name }: Opened,
	whole: boolean,
	draco: DracoMaker | undefined,
): Promise<Root> {
	const used = new Set([...(json.extensionsUsed ?? []), ...(json.extensionsRequired ?? [])]);
	for (const { primitives } of json.meshes ?? [])
		for (const { extensions } of primitives) for (const key of Object.keys(extensions ?? {})) used.add(key);
	for (const { extensions } of json.bufferViews ?? []) for (const key of Object.keys(extensions ?? {})) used.add(key);
	// The same packing under the name it had before.
	const views = (json.bufferViews ?? []).map((view) => {
		const packed = view.extensions?.KHR_meshopt_compression;
		return packed ? { ...view, extensions: { EXT_meshopt_compression: packed } } : { ...view };
	});
	if (used.delete('KHR_meshopt_compression')) used.add('EXT_meshopt_compression');
	const part = {
		asset: json.asset,
		// Copies: what is packed is written over while it is read.
		accessors: json.accessors?.map((a) => ({ ...a })),
		bufferViews: views,
		buffers: json.buffers?.map((b) => ({ ...b })),
		meshes: (json.meshes ?? []).map(({ primitives, ...mesh }) => ({
			...mesh,
			extras: undefined,
			primitives: primitives.map(({ material: _, ...p }) => p),
		})),
		extensionsUsed: [...used].filter((key) => key !== EXTENSIONS.instancing.name),
	};
	const { nodes, scenes, scene, cameras, extensions } = json;
	const all = { ...part, nodes: (nodes ?? []).map(({ skin: _, ...node }) => node), scenes, scene, cameras, extensions };
	const io = new WebIO()
		.registerExtensions([
			KHRMeshQuantization,
			KHRDracoMeshCompression,
			EXTMeshoptCompression,
			ImplicitShapes,
			PhysicsBodies,
		])
		.registerDependencies(await decodersFor(used, draco));
	io.setLogger({ debug: () => {}, info: () => {}, warn: () => {}, error: () => {} });
	try {
		return (await io.readJSON({ json: (whole ? all : part) as unknown as JSONDocument['json'], resources })).getRoot();
	} catch (error) {
		throw new LevelError(`${name}: ${oneLine((error as Error).message)}`);
	}
}

/** What the nodes below are on. */
interface Above {
	path: string;
	standing: Placed;
	depth: number;
}

interface Walked {
	at: number;
	path: string;
	affine: Affine;
	/** The nearest object above, and how many objects it hangs on. */
	above: Above | null;
	hidden: boolean;
}

const nameOf = (node: GltfNode, json: GltfFile): string => {
	const mesh = node.mesh === undefined ? undefined : json.meshes?.[node.mesh]?.name;
	return (oneLine(node.name ?? '', MAX_NAME) || oneLine(mesh ?? '', MAX_NAME) || 'node').slice(0, MAX_NAME);
};

/** A name as a part of a path: what would be read as the sign between names, or as the number of one that comes twice, is written out. */
const asPart = (name: string): string =>
	name
		.replace(/%(?=2[F35])/g, '%25')
		.replaceAll('/', '%2F')
		.replace(/#(?=\d+$)/, '%23');

/** Paths of nodes under one parent: those of one name are numbered, and one without a name is told from one that has it. */
function pathsOf(nodes: readonly number[], above: string, json: GltfFile): string[] {
	const times = new Map<string, number>();
	return nodes.map((at) => {
		const node = json.nodes?.[at] as GltfNode;
		const name = asPart(nameOf(node, json));
		const part = oneLine(node.name ?? '', MAX_NAME) === '' ? `(${name})` : name;
		const n = (times.get(part) ?? 0) + 1;
		times.set(part, n);
		return `${above === '' ? '' : `${above}/`}${part}${n > 1 ? `#${n}` : ''}`;
	});
}

const ownMatrix = ({ matrix, translation, rotation, scale }: GltfNode): readonly number[] =>
	matrix ?? matrixOf(translation ?? [0, 0, 0], rotation ?? [0, 0, 0, 1], scale ?? [1, 1, 1]);

const reaches = new WeakMap<object, number>();

/** How far a node's form reaches from its place at most, in its own axes, metres. */
function reachOf({ surface, colliders }: Level['nodes'][number]): number {
	let most = 0;
	if (surface) {
		let known = reaches.get(surface);
		if (known === undefined) {
			known = surface.vertices.reduce((far, v) => Math.max(far, Math.abs(v)), 0);
			reaches.set(surface, known);
		}
		most = known;
	}
	for (const { at = [0, 0, 0], ...shape } of colliders) {
		const { size, radius, height } = shape as { size?: number[]; radius?: number; height?: number };
		const own = Math.max(...(size ?? [0]).map((v) => v / 2), radius ?? 0, (height ?? 0) / 2);
		most = Math.max(most, own + Math.max(...at.map(Math.abs)));
	}
	return most;
}

/** Levels of nesting that what a level says beside may have. */
const MAX_NESTED = 40;

/** Whether a project can keep what a node carries: no keys of the language's own, no numbers no file holds, nothing nested without end. */
function keepable(extras: unknown): boolean {
	const stack: [unknown, number][] = [[extras, 0]];
	for (let top = stack.pop(); top; top = stack.pop()) {
		const [value, depth] = top;
		if (typeof value === 'number' && !Number.isFinite(value)) return false;
		if (typeof value !== 'object' || value === null) continue;
		if (depth > MAX_NESTED || Object.hasOwn(value, '__proto__')) return false;
		for (const inner of Object.values(value)) stack.push([inner, depth + 1]);
	}
	return true;
}

/** One reading of a file: what the walk over its nodes shares. */
class Reader {
	readonly level: Level;
	private readonly worlds = new Map<number, Affine>();
	private readonly shapes: ImplicitShape[];
	/** Nodes that are moved, and of those such as are no objects themselves but have some under them. */
	private readonly moved: ReadonlySet<number>;
	/** How each that is moved stands by what moves it. */
	private readonly standings = new Map<
		number,
		{ of: 'node' | 'camera'; path: string; poseAt: PoseAt; reach: number }
	>();

	constructor(
		private readonly file: Opened,
		private readonly root: Root,
		private readonly surfaces: Surfaces,
		notes: LevelNote[],
		private readonly animations: readonly Animation[],
	) {
		this.moved = new Set(animations.flatMap(({ nodes }) => [...nodes.keys()]));
		this.level = {
			kind: 'space',
			name: file.name,
			nodes: [],
			cameras: [],
			animations: [],
			notes,
			project: null,
			extent: 0,
			frame: null,
		};
		const tell = (message: string) => notes.push({ path: 'extensions', message });
		const { name, schema } = EXTENSIONS.shapes;
		this.shapes = (extensionOf(file.json, name, schema, tell)?.shapes ?? []) as ImplicitShape[];
	}

	private node(at: number): GltfNode {
		return this.file.json.nodes?.[at] as GltfNode;
	}

	/** Where a node stands in the world, whether or not it is in the scene that is read. */
	private world(at: number): Affine {
		const way: number[] = [];
		let top = at;
		while (top >= 0 && !this.worlds.has(top)) {
			way.push(top);
			top = this.file.above[top];
		}
		let affine = top >= 0 ? (this.worlds.get(top) as Affine) : IDENTITY;
		for (const one of way.reverse()) {
			affine = under(affine, ownMatrix(this.node(one)));
			this.worlds.set(one, affine);
		}
		return affine;
	}

	/** The bones of a skin as they stand at rest, each with what takes a corner into its own axes. */
	private bones(skin: number, standing: Placed): Bones {
		const of = this.file.json.skins?.[skin];
		const inverse =
			of?.inverseBindMatrices === undefined ? undefined : this.root.listAccessors()[of.inverseBindMatrices];
		const element: number[] = [];
		const joints = (of?.joints ?? []).map((joint, i) => {
			const world = this.world(joint);
			if (!inverse || i >= inverse.getCount() || inverse.getType() !== 'MAT4') return world;
			inverse.getElement(i, element);
			return under(world, element);
		});
		return { joints, standing };
	}

	/** The corners of the box about all that was read. */
	private readonly low = [Infinity, Infinity, Infinity];
	private readonly high = [-Infinity, -Infinity, -Infinity];

	/** How far the level reaches. */
	private reach(place: readonly number[], scale: readonly number[], node: Level['nodes'][number]): void {
		const radius = Math.max(...scale) * reachOf(node);
		for (let k = 0; k < 3; k++) {
			this.low[k] = Math.min(this.low[k], place[k] - radius);
			this.high[k] = Math.max(this.high[k], place[k] + radius);
		}
		this.level.extent = Math.hypot(...this.high.map((v, k) => v - this.low[k]));
	}

	private add(node: Level['nodes'][number], stood: Placed): void {
		this.reach(stood.place, stood.scale, node);
		if (this.level.nodes.length >= MAX_NODES)
			throw new LevelError(`${this.file.name}: makes more than ${MAX_NODES} objects, the most a project holds`);
		this.level.nodes.push(node);
	}

	/** Makes an object of a node where it is one, and its camera where it has one; @returns what hangs on it from now on */
	visit({ at, path, affine, above, hidden }: Walked): Above | null {
		const node = this.node(at);
		const { json } = this.file;
		const tell = (message: string) => this.level.notes.push({ path, message });
		const instanced =
			node.mesh === undefined
				? null
				: extensionOf(node, EXTENSIONS.instancing.name, EXTENSIONS.instancing.schema, tell);
		const body = extensionOf(node, EXTENSIONS.body.name, EXTENSIONS.body.schema, tell);
		let made: Above | null = null;
		const mesh = instanced ? undefined : node.mesh;
		const carries = this.moved.has(at) && !instanced && this.hasUnder(at);
		if (mesh !== undefined || body?.collider || body?.trigger || carries) {
			const extras = keepable(node.extras) ? node.extras : undefined;
			if (extras === undefined && node.extras !== undefined)
				tell('what its extras hold is nothing a project can keep: left out');
			const isPlain = typeof extras === 'object' && extras !== null && Object.keys(extras).length === 0;
			const placed = this.placed(affine, above, tell);
			const { stood, parent, local } = placed;
			const form = { weights: node.weights ?? null, vertexTransform: stood.vertexTransform };
			// A mesh that hangs on bones stands where these are, whatever the node says.
			const bones = mesh === undefined || node.skin === undefined ? null : this.bones(node.skin, stood);
			const surface =
				mesh === undefined
					? null
					: this.surfaces.of(mesh, { ...form, vertexTransform: bones ? null : form.vertexTransform, bones }, tell);
			if (stood.why && !bones) tell(`is ${stood.why}: that is baked into its corners`);
			const colliders: Shape[] = [];
			for (const kind of ['collider', 'trigger'] as const) {
				const geometry = body?.[kind]?.geometry;
				if (!geometry) continue;
				const of = geometry.node === undefined ? geometry.mesh : json.nodes?.[geometry.node]?.mesh;
				if (of !== undefined && of >= (json.meshes?.length ?? 0)) {
					tell(`${kind}: there is no mesh ${of}`);
					continue;
				}
				const shape = geometry.shape === undefined ? null : (this.shapes[geometry.shape] ?? null);
				const formed = of === undefined ? null : this.surfaces.of(of, { ...form, weights: null, bones: null }, tell);
				const { shape: found, said } = colliderShape(
					{ shape, hull: geometry.convexHull === true },
					stood.scale,
					stood.vertexTransform,
					formed,
				);
				if (said) tell(`${kind}: ${said}`);
				if (found) colliders.push({ id: kind, ...found, ...(kind === 'trigger' ? { role: 'sensor' } : {}) } as Shape);
			}
			this.add(
				{
					path,
					name: nameOf(node, json),
					parent: parent?.path ?? null,
					...local,
					colliders,
					surface,
					tags: [],
					id: null,
					layer: null,
					active: !hidden,
					extras: isPlain ? undefined : extras,
				},
				stood,
			);
			made = { path, standing: stood, depth: (parent?.depth ?? 0) + 1 };
			if (this.moved.has(at)) {
				if (node.skin !== undefined) tell('is moved by its bones: what moves it besides is left out');
				else this.stands(at, 'node', path, parent, stood.why);
			}
		}
		if (instanced) this.addInstances(node, instanced.attributes ?? {}, { path, affine, above, hidden }, tell);
		if (instanced && this.moved.has(at)) tell('is drawn at many places: what moves it is left out');
		if (node.camera !== undefined) {
			this.addCamera(node.camera, path, nameOf(node, json), affine, made ?? above);
			// One that is on an object goes with that.
			if (this.moved.has(at) && !made) this.stands(at, 'camera', path, above, null);
		}
		return made ?? above;
	}

	/** Whether a node has under it what becomes an object or a camera. */
	private hasUnder(at: number): boolean {
		const open = [...(this.node(at).children ?? [])];
		for (let one = open.pop(); one !== undefined; one = open.pop()) {
			const { mesh, camera, children = [], extensions } = this.node(one);
			if (mesh !== undefined || camera !== undefined || extensions?.[EXTENSIONS.body.name] !== undefined) return true;
			open.push(...children);
		}
		return false;
	}

	/** Keeps how a node that is moved stands, until its curves are gone through. */
	private stands(at: number, of: 'node' | 'camera', path: string, parent: Above | null, why: Placed['why']): void {
		const node = this.node(at);
		const up = this.file.above[at] as number;
		const above = up >= 0 ? this.world(up) : IDENTITY;
		const last = of === 'node' ? this.level.nodes.at(-1) : undefined;
		const { translation = [0, 0, 0], rotation = [0, 0, 0, 1], scale = [1, 1, 1] } = node;
		this.standings.set(at, {
			of,
			path,
			reach: last ? reachOf(last) : 0,
			poseAt: (trs) => {
				const own = under(
					above,
					matrixOf(trs.translation ?? translation, trs.rotation ?? rotation, trs.scale ?? scale),
				);
				if (!stands(own)) return null;
				const stood = standing(own);
				// What its corners carry was read at rest: another shear would be another form.
				if (of === 'node' && stood.why !== why) return null;
				const local = within(stood, parent?.standing ?? null);
				return holdable(local.scale) && local.position.every((v) => Math.abs(v) <= 1e7) ? local : null;
			},
		});
	}

	/** Goes through the animations, once all nodes stand. */
	animate(): void {
		const budget = new Budget();
		for (const animation of this.animations) {
			const tell = (message: string) => this.level.notes.push({ path: `animations: ${animation.name}`, message });
			const tracks: LevelAnimation['tracks'] = [];
			let others = 0;
			for (const [at, moves] of animation.nodes) {
				const found = this.standings.get(at);
				if (!found) {
					others++;
					continue;
				}
				const { scale: _, ...still } = moves;
				const keys = keysOf(found.of === 'camera' ? still : moves, found.poseAt, found.reach, budget);
				if (typeof keys === 'string') tell(`${found.path} ${keys}: left out`);
				else if (keys.length > 0) tracks.push({ of: found.of, path: found.path, keys });
			}
			if (others > 0) tell(`${others} of ${animation.nodes.size} nodes it moves are nothing a query meets`);
			if (tracks.length > 0) this.level.animations.push(animationWith(animation, tracks));
		}
	}

	/** Where an object stands: in the axes of the one it hangs on, or of the world where these cannot hold it. */
	private placed(affine: Affine, above: Above | null, tell: (message: string) => void) {
		const stood = standing(affine);
		let parent = above;
		if (parent && parent.depth >= MAX_CHAIN) {
			tell('hangs on too many: it stands by itself');
			parent = null;
		}
		let local = within(stood, parent?.standing ?? null);
		if (!holdable(local.scale) || !local.position.every((v) => Math.abs(v) <= 1e7)) {
			parent = null;
			local = within(stood, null);
		}
		return { stood, parent, local };
	}

	/** An object for each of the places at which a node's mesh is drawn. */
	private addInstances(
		node: GltfNode,
		attributes: Record<string, number>,
		{ path, affine, above, hidden }: Omit<Walked, 'at'>,
		tell: (message: string) => void,
	): void {
		const all = this.root.listAccessors();
		const of = (name: string, type: string) => {
			const at = attributes[name];
			const found = at === undefined ? undefined : all[at];
			if (at !== undefined && found?.getType() !== type)
				throw new LevelError(`${path}: ${name} of its instances is no list of ${type}`);
			return found;
		};
		const [places, turns, scales] = [of('TRANSLATION', 'VEC3'), of('ROTATION', 'VEC4'), of('SCALE', 'VEC3')];
		const counts = [places, turns, scales].flatMap((a) => (a ? [a.getCount()] : []));
		const [count = 0] = counts;
		if (counts.some((n) => n !== count))
			throw new LevelError(`${path}: lists of its instances are of different lengths`);
		const [place, turn, scale] = [
			[0, 0, 0],
			[0, 0, 0, 1],
			[1, 1, 1],
		];
		const name = nameOf(node, this.file.json);
		let lost = 0;
		for (let i = 0; i < count; i++) {
			places?.getElement(i, place);
			turns?.getElement(i, turn);
			scales?.getElement(i, scale);
			const own = under(affine, matrixOf(place, turn, scale));
			if (!stands(own)) {
				lost++;
				continue;
			}
			const { stood, parent, local } = this.placed(own, above, tell);
			const form = { weights: node.weights ?? null, vertexTransform: stood.vertexTransform, bones: null };
			this.add(
				{
					path: `${path}[${i}]`,
					name: `${name.slice(0, MAX_NAME - 8)} ${i + 1}`,
					parent: parent?.path ?? null,
					...local,
					colliders: [],
					surface: this.surfaces.of(node.mesh as number, form, i === 0 ? tell : () => {}),
					tags: [],
					id: null,
					layer: null,
					active: !hidden,
					extras: undefined,
				},
				stood,
			);
		}
		if (lost > 0) tell(`${lost} of ${count} instances stand nowhere: left out`);
	}

	private addCamera(at: number, path: string, name: string, affine: Affine, above: Above | null): void {
		const camera = this.file.json.cameras?.[at];
		const tell = (message: string) => this.level.notes.push({ path, message });
		const { position, rotation } = within(standing(affine), above?.standing ?? null);
		const { perspective, orthographic } = camera ?? {};
		const far = Math.min(1e9, (perspective?.zfar ?? orthographic?.zfar) || 1000);
		const placed = { name, position, ...(rotation.some((v) => v !== 0) ? { rotation } : {}), far: rounded(far, 6) };
		const parent = above?.path ?? null;
		if (!(far >= 1e-6)) tell('its camera sees no way: left out');
		else if (camera?.type === 'perspective' && perspective) {
			const fov = rounded((perspective.yfov * 180) / Math.PI, 6);
			if (!(fov > 0 && fov < 180)) tell(`its camera opens by ${fov}°: left out`);
			else this.level.cameras.push({ path, name, parent, camera: { ...placed, projection: 'perspective', fov } });
		} else if (camera?.type === 'orthographic' && orthographic) {
			const height = rounded(2 * Math.abs(orthographic.ymag), 6);
			if (!(height >= 1e-6 && height <= 1e7)) tell('its camera has no height: left out');
			else this.level.cameras.push({ path, name, parent, camera: { ...placed, projection: 'orthographic', height } });
		} else tell(`its camera says nothing of how it looks: left out`);
	}
}

/**
 * @param files a .glb, or a .gltf with the files it names
 * @throws LevelError with the place where a file is not what it says
 */
export async function readGltf(
	files: readonly NamedBytes[],
	progress: Progress = () => {},
	{ partial = false, draco }: GltfOptions = {},
): Promise<Level> {
	progress('opening', 0);
	const notes: LevelNote[] = [];
	const file = opened(files, notes, partial);
	const { json } = file;
	const embedded = embeddedProject(json.extras, notes);
	progress('reading', 0.1);
	const root = await documentOf(file, embedded !== null, draco);
	const animations = animationsOf(json.animations ?? [], root.listAccessors(), notes);
	const reader = new Reader(file, root, new Surfaces(root), notes, animations);
	const { level } = reader;
	level.project = embedded && isAsWritten(root, embedded, notes) ? embedded : null;
	noteLeft(json, notes);
	const nodes = json.nodes ?? [];
	const scene = json.scenes?.[json.scene ?? 0];
	const top = scene ? (scene.nodes ?? []) : nodes.flatMap((_, i) => (file.above[i] < 0 ? [i] : []));
	const stack: Walked[] = [];
	const push = (list: readonly number[], path: string, affine: Affine, above: Above | null, hidden: boolean) => {
		const paths = pathsOf(list, path, json);
		for (let i = list.length - 1; i >= 0; i--) {
			const at = list[i];
			const node = nodes[at] as GltfNode;
			const own = under(affine, ownMatrix(node));
			if (!stands(own)) {
				const below = countBelow(json, at);
				notes.push({
					path: paths[i] as string,
					message: `stands nowhere (its matrix is empty, or too large): left out${below > 0 ? `, with ${below} under it` : ''}`,
				});
				seen += below + 1;
				continue;
			}
			const { name, schema } = EXTENSIONS.visibility;
			const visible = extensionOf(node, name, schema, () => {})?.visible !== false;
			stack.push({ at, path: paths[i] as string, affine: own, above, hidden: hidden || !visible });
		}
	};
	let seen = 0;
	push(top, '', IDENTITY, null, false);
	for (let walked = stack.pop(); walked; walked = stack.pop()) {
		if (++seen % 500 === 0) progress('reading nodes', 0.2 + (0.8 * seen) / nodes.length);
		const above = reader.visit(walked);
		push(nodes[walked.at]?.children ?? [], walked.path, walked.affine, above, walked.hidden);
	}
	reader.animate();
	if (nodes.length > seen)
		notes.push({ path: 'nodes', message: `${nodes.length - seen} of ${nodes.length} are in no scene that is read` });
	progress('read', 1);
	return level;
}

/** How many nodes are under one. */
function countBelow({ nodes = [] }: GltfFile, at: number): number {
	let count = -1;
	const stack = [at];
	for (let one = stack.pop(); one !== undefined; one = stack.pop()) {
		count++;
		for (const child of nodes[one]?.children ?? []) stack.push(child);
	}
	return count;
}

/** What a level is drawn with, and what of it was not read. */
function noteLeft(json: GltfFile, notes: LevelNote[]): void {
	const { scenes = [], scene = 0 } = json;
	if (scenes.length > 1)
		notes.push({
			path: 'scenes',
			message: `only ${oneLine(scenes[scene]?.name || 'the first', 80)} of ${scenes.length} is read`,
		});
	const lights = (json.extensions?.KHR_lights_punctual as { lights?: unknown } | undefined)?.lights;
	if (Array.isArray(lights) && lights.length > 0)
		notes.push({ path: 'lights', message: `${lights.length} left out: no query sees light` });
}

/** @returns the project that rides in a file of our own, as long as no one has edited that elsewhere; null in any other */
export async function projectIn(file: NamedBytes): Promise<Level['project']> {
	try {
		return (jsonOf(file).extras as Record<string, unknown> | undefined)?.[RIDES] === undefined
			? null
			: (await readGltf([file])).project;
	} catch (error) {
		if (error instanceof LevelError) return null;
		throw error;
	}
}
