/**
 * A project at a moment, resolved: every object and shape where it is in the world, with the masks and families the queries ask
 * for. Plain data; built once per moment and moved in place when objects are dragged.
 */
import { BODY_SIZE, type Body, boundsOf } from '../geometry/body';
import { type Matrix, multiply, placed, rotationOf, type Triple } from '../geometry/matrix';
import { planesOf } from '../geometry/ray';
import { applyMoment, type SceneAtMoment } from '../project/moment';
import type { Camera, Project, Query, SceneObject, Shape, StateValue } from '../project/schema';
import { Tree } from '../space/tree';
import { bodyOf } from './bodies';
import { poseUnder } from './pose';

/** An enabled shape, placed in the world. */
export interface WorldShape {
	/** Place among all enabled shapes, in file order. */
	index: number;
	object: WorldObject;
	id: string;
	def: Shape;
	body: Body;
	/** The shape's layer as a bit, `1 << its place in the list`. */
	layer: number;
	sensor: boolean;
}

/** An object, placed in the world: positions in metres, axes as the columns of a row-ordered 3 × 3 matrix. */
export interface WorldObject {
	/** Place in the file. */
	index: number;
	id: string;
	def: SceneObject;
	parent: WorldObject | null;
	children: WorldObject[];
	position: [number, number, number];
	rotation: Matrix;
	scale: [number, number, number];
	/** Active itself and all the way up. */
	active: boolean;
	focus: [number, number, number];
	/** The object's own layer as a bit. */
	layer: number;
	/** Its tags and all they stand under. */
	tags: Set<string>;
	priority: number;
	states: Record<string, StateValue>;
	/** Enabled shapes only. */
	shapes: WorldShape[];
	/** The object it answers for; itself when it is no stand-in. */
	answersFor: WorldObject;
}

/** A camera, placed in the world. */
export interface WorldCamera {
	id: string;
	def: Camera;
	object: WorldObject | null;
	position: [number, number, number];
	rotation: Matrix;
	far: number;
}

/** A project at a moment, resolved. Plain data, but for the tree that is made when first asked for. */
export interface World {
	project: Project;
	moment: string | null;
	flat: boolean;
	tieSlack: number;
	states: Record<string, StateValue>;
	/** Layer ids in bit order. */
	layers: string[];
	layerBit: Map<string, number>;
	/** A tag's place in the list. */
	tagPlace: Map<string, number>;
	/** Tags of all objects as bits, families included: `tagWords` numbers an object. */
	tagBits: Uint32Array;
	tagWords: number;
	/** A tag with all it stands under, itself included. */
	family: Map<string, string[]>;
	objects: WorldObject[];
	/** The foci of all objects side by side, three doubles each. */
	foci: Float64Array;
	objectById: Map<string, WorldObject>;
	shapes: WorldShape[];
	/** The data of all bodies side by side, in the order of the tree's leaves; there once the tree is. */
	bodies: Float64Array;
	/**
	 * A ball around each body in the same order, four single floats each: centre relative to the tree's origin, radius with room
	 * for rounding. A fifth of what the body itself takes, so that a walk over many objects stays in the processor's near memory.
	 */
	boundingSpheres: Float32Array;
	/** The bodies themselves in that order, and their kinds: most of what a walk meets is settled without touching the body. */
	leafBodies: Body[];
	leafKinds: Uint8Array;
	/** The planes of the hulls among them, empty for the rest. */
	leafPlanes: Float64Array[];
	/** Where each shape, by its index, lies in that order. */
	leafPlace: Uint32Array;
	cameras: Map<string, WorldCamera>;
	queries: Query[];
	queryById: Map<string, Query>;
	hasStandIns: boolean;
	/** Tree over `shapes`; made when first needed. */
	tree: () => Tree;
	/** Six doubles a shape. */
	bounds: () => Float64Array;
}

const ZERO: Triple = [0, 0, 0];

/**
 * The scene at a moment, with everything where it stands.
 * @example
 * const world = buildWorld(project, 'dusk');
 * world.objectById.get('crank')?.position; // metres, in world axes
 * world.tree(); // made here already, before the first answer needs it
 * @param project a valid project
 * @param moment id of a moment, or null for the scene as it stands
 * @throws RangeError for an unknown moment or a parent cycle it makes
 */
export function buildWorld(project: Project, moment: string | null = null): World {
	return worldOf(project, moment, applyMoment(project, moment));
}

/**
 * The world of a scene that is laid out already: objects, cameras, queries and states as they stand.
 * @throws RangeError for a parent cycle
 */
export function worldOf(project: Project, moment: string | null, laid: SceneAtMoment): World {
	const { scene } = project;
	const flat = scene.kind === 'flat';
	const layers = scene.layers.map((l) => l.id);
	const layerBit = new Map(layers.map((id, i) => [id, (1 << i) >>> 0]));
	const family = families(project);
	const objects = resolveObjects(laid, layerBit, family);
	const objectById = new Map(objects.map((o) => [o.id, o]));
	let hasStandIns = false;
	for (const object of objects) {
		const target = object.def.standsFor === undefined ? undefined : objectById.get(object.def.standsFor);
		if (target) {
			object.answersFor = target;
			hasStandIns = true;
		}
	}
	const shapes: WorldShape[] = [];
	for (const object of objects) {
		for (const def of object.def.shapes ?? []) {
			if (def.enabled === false) continue;
			const shape: WorldShape = {
				index: shapes.length,
				object,
				id: def.id,
				def,
				body: bodyOf(def, object.scale, flat),
				layer: layerBit.get(def.layer ?? object.def.layer) ?? 0,
				sensor: def.role === 'sensor',
			};
			placeShape(shape, flat);
			shapes.push(shape);
			object.shapes.push(shape);
		}
	}
	const cameras = new Map<string, WorldCamera>();
	for (const def of laid.cameras) {
		const object = def.object === undefined ? null : (objectById.get(def.object) ?? null);
		const own = rotationOf(def.rotation);
		cameras.set(def.id, {
			id: def.id,
			def,
			object,
			position: object ? placed(object.position, object.rotation, object.scale, def.position) : [...def.position],
			rotation: object ? multiply(object.rotation, own) : own,
			far: def.far ?? 1000,
		});
	}
	const tagPlace = new Map(scene.tags.map((t, i) => [t.id, i]));
	const tagWords = Math.max(1, Math.ceil(scene.tags.length / 32));
	const tagBits = new Uint32Array(tagWords * objects.length);
	for (const object of objects) {
		for (const tag of object.tags) {
			const place = tagPlace.get(tag) ?? 0;
			tagBits[object.index * tagWords + (place >> 5)] |= 1 << (place & 31);
		}
	}
	let bounds: Float64Array | null = null;
	let tree: Tree | null = null;
	const world: World = {
		project,
		moment,
		flat,
		tieSlack: scene.tieSlack ?? 0.001,
		states: laid.states,
		layers,
		layerBit,
		tagPlace,
		tagBits,
		tagWords,
		family,
		objects,
		foci: new Float64Array(3 * objects.length),
		objectById,
		shapes,
		bodies: new Float64Array(0),
		boundingSpheres: new Float32Array(0),
		leafBodies: [],
		leafKinds: new Uint8Array(0),
		leafPlanes: [],
		leafPlace: new Uint32Array(0),
		cameras,
		queries: laid.queries,
		queryById: new Map(laid.queries.map((q) => [q.id, q])),
		hasStandIns,
		bounds: () => {
			bounds ??= shapeBounds(shapes);
			return bounds;
		},
		tree: () => {
			if (tree === null) {
				tree = new Tree(world.bounds(), 8, 4);
				// Bodies of one leaf lie next to each other: what is tested together is fetched together.
				world.bodies = new Float64Array(BODY_SIZE * shapes.length);
				world.boundingSpheres = new Float32Array(4 * shapes.length);
				world.leafPlace = new Uint32Array(shapes.length);
				world.leafBodies = Array.from(tree.order, (index) => shapes[index].body);
				world.leafKinds = Uint8Array.from(world.leafBodies, (body) => body.kind);
				world.leafPlanes = world.leafBodies.map(planesOf);
				for (let i = 0; i < shapes.length; i++) {
					const body = world.leafBodies[i];
					body.settle(world.bodies, i);
					world.leafPlace[tree.order[i]] = i;
					setBoundingSphere(world.boundingSpheres, i, body, tree.origin);
				}
			}
			return tree;
		},
	};
	for (const object of objects) world.foci.set(object.focus, 3 * object.index);
	return world;
}

function families(project: Project): Map<string, string[]> {
	const under = new Map(project.scene.tags.map((t) => [t.id, t.under]));
	const family = new Map<string, string[]>();
	for (const id of under.keys()) {
		const line = new Set<string>();
		for (let at: string | undefined = id; at !== undefined && !line.has(at); at = under.get(at)) line.add(at);
		family.set(id, [...line]);
	}
	return family;
}

function resolveObjects(
	laid: SceneAtMoment,
	layerBit: Map<string, number>,
	family: Map<string, string[]>,
): WorldObject[] {
	const index = new Map(laid.objects.map((o, i) => [o.id, i]));
	const done: (WorldObject | undefined)[] = new Array(laid.objects.length);
	for (let i = 0; i < laid.objects.length; i++) {
		// Parents first, without recursion: chains may be long.
		const chain: number[] = [];
		for (let at: number | undefined = i; at !== undefined && !done[at]; ) {
			if (chain.length > laid.objects.length)
				throw new RangeError(`the parents of "${laid.objects[at]?.id}" go round in a circle`);
			chain.push(at);
			const up: string | undefined = laid.objects[at]?.parent;
			at = up === undefined ? undefined : index.get(up);
		}
		for (let at = chain.pop(); at !== undefined; at = chain.pop()) {
			const def = laid.objects[at] as SceneObject;
			const parent = def.parent === undefined ? null : (done[index.get(def.parent) ?? -1] ?? null);
			done[at] = resolveObject(def, at, parent, layerBit, family);
		}
	}
	return done as WorldObject[];
}

function resolveObject(
	def: SceneObject,
	index: number,
	parent: WorldObject | null,
	layerBit: Map<string, number>,
	family: Map<string, string[]>,
): WorldObject {
	const tags = new Set<string>();
	for (const tag of def.tags ?? []) for (const up of family.get(tag) ?? [tag]) tags.add(up);
	const object: WorldObject = {
		index,
		id: def.id,
		def,
		parent,
		children: [],
		position: [0, 0, 0],
		rotation: rotationOf(undefined),
		scale: [1, 1, 1],
		active: (def.active ?? true) && (parent?.active ?? true),
		focus: [0, 0, 0],
		layer: layerBit.get(def.layer) ?? 0,
		tags,
		priority: def.priority ?? 0,
		states: def.states ?? {},
		shapes: [],
		answersFor: undefined as unknown as WorldObject,
	};
	object.answersFor = object;
	parent?.children.push(object);
	placeObject(object);
	return object;
}

function placeObject(object: WorldObject): void {
	const { position, rotation, scale } = poseUnder(object.parent, object.def);
	object.position = position;
	object.rotation = rotation;
	object.scale = scale;
	object.focus = placed(position, rotation, scale, object.def.focus ?? ZERO);
}

function placeShape(shape: WorldShape, flat: boolean): void {
	const { object, def, body } = shape;
	const [x, y, z] = placed(object.position, object.rotation, object.scale, def.at ?? ZERO);
	// A flat scene's figures lie at Z = 0; their object's Z matters to picks alone, which ask the object.
	body.place(x, y, flat ? 0 : z, def.rotation ? multiply(object.rotation, rotationOf(def.rotation)) : object.rotation);
}

const scratch = new Float64Array(6);

function shapeBounds(shapes: WorldShape[]): Float64Array {
	const bounds = new Float64Array(6 * shapes.length);
	for (const shape of shapes) {
		boundsOf(shape.body, scratch);
		bounds.set(scratch, 6 * shape.index);
	}
	return bounds;
}

/**
 * Moves objects in place, with all that hangs under them: their new definitions may differ in position and rotation only. The
 * tree is refitted, so the next answer costs no rebuild.
 * @example
 * const crank = world.objectById.get('crank');
 * moveObjects(world, new Map([['crank', { ...crank.def, position: [0, 1, -2] }]]));
 * new Answerer(world).winner(query);
 * @param moved new definitions by object id
 * @throws RangeError for an unknown object
 */
export function moveObjects(world: World, moved: ReadonlyMap<string, SceneObject>): void {
	const touched = new Set<WorldObject>();
	for (const [id, def] of moved) {
		const object = world.objectById.get(id);
		if (!object) throw new RangeError(`no object "${id}"`);
		object.def = def;
		touched.add(object);
	}
	const bounds = world.bounds();
	const moving = new Set<WorldObject>();
	const queue = [...touched];
	for (let object = queue.pop(); object; object = queue.pop()) {
		if (moving.has(object)) continue;
		moving.add(object);
		queue.push(...object.children);
	}
	const changed: number[] = [];
	for (const object of inParentOrder([...moving])) {
		placeObject(object);
		world.foci.set(object.focus, 3 * object.index);
		for (const shape of object.shapes) {
			placeShape(shape, world.flat);
			boundsOf(shape.body, scratch);
			bounds.set(scratch, 6 * shape.index);
			changed.push(shape.index);
		}
	}
	for (const camera of world.cameras.values()) {
		if (!camera.object) continue;
		const { object, def } = camera;
		camera.position = placed(object.position, object.rotation, object.scale, def.position);
		camera.rotation = multiply(object.rotation, rotationOf(def.rotation));
	}
	const tree = world.tree();
	tree.update(bounds, changed);
	for (const index of changed)
		setBoundingSphere(world.boundingSpheres, world.leafPlace[index], world.shapes[index].body, tree.origin);
}

function setBoundingSphere(balls: Float32Array, place: number, body: Body, origin: Float64Array): void {
	const x = body.x - origin[0];
	const y = body.y - origin[1];
	const z = body.z - origin[2];
	balls[4 * place] = x;
	balls[4 * place + 1] = y;
	balls[4 * place + 2] = z;
	// Single floats keep 24 bits; starts within a micrometre of a surface belong to it.
	balls[4 * place + 3] = (body.boundingRadius + 3e-6 + 1.2e-7 * (Math.abs(x) + Math.abs(y) + Math.abs(z))) * (1 + 1e-6);
}

/** Moves a camera in place: its definition may differ in position and rotation only. */
export function moveCamera(world: World, def: Camera): void {
	const camera = world.cameras.get(def.id);
	if (!camera) throw new RangeError(`no camera "${def.id}"`);
	const { object } = camera;
	const own = rotationOf(def.rotation);
	camera.def = def;
	camera.position = object ? placed(object.position, object.rotation, object.scale, def.position) : [...def.position];
	camera.rotation = object ? multiply(object.rotation, own) : own;
}

/**
 * The same world seen anew: objects, shapes and tree are shared, the queries are others. Cheap, so that an edit of a query costs no
 * rebuild; it follows what `moveObjects` does to the world it was made of.
 */
export function withQueries(world: World, queries: Query[]): World {
	// Once the tree is there no field of a world is given another value; what moves moves inside of them.
	world.tree();
	return { ...world, queries, queryById: new Map(queries.map((q) => [q.id, q])) };
}

function inParentOrder(objects: WorldObject[]): WorldObject[] {
	const depth = (object: WorldObject) => {
		let n = 0;
		for (let at = object.parent; at; at = at.parent) n++;
		return n;
	};
	return [...objects].sort((a, b) => depth(a) - depth(b));
}

/** Whether `object` is `above` or hangs under it. */
export function hangsUnder(object: WorldObject | null, above: WorldObject): boolean {
	for (let at = object; at; at = at.parent) if (at === above) return true;
	return false;
}

/** Layers as a mask; "all" is every bit. */
export function maskOf(world: World, layers: readonly string[] | 'all' | undefined): number {
	if (layers === 'all' || layers === undefined) return 0xffffffff | 0;
	let mask = 0;
	for (const id of layers) mask |= world.layerBit.get(id) ?? 0;
	return mask;
}

/** Tags as bits, in the form of `World.tagBits`; null for no tags. */
export function tagMask(world: World, tags: readonly string[] | undefined): Uint32Array | null {
	if (!tags || tags.length === 0) return null;
	const mask = new Uint32Array(world.tagWords);
	for (const tag of tags) {
		const place = world.tagPlace.get(tag) ?? 0;
		mask[place >> 5] |= 1 << (place & 31);
	}
	return mask;
}

/** World forward of an object: local −Z, in flat scenes local +X. */
export function forwardOf(object: WorldObject, flat: boolean): [number, number, number] {
	const m = object.rotation;
	return flat ? [m[0], m[3], m[6]] : [-m[2], -m[5], -m[8]];
}
