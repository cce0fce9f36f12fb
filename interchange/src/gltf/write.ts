/**
 * glTF 2.0 out: what a scene looks like and collides by, for any viewer and for engines that read the physics extensions, with the
 * project itself embedded in the file's extras.
 *
 * A project scales component by component and never shears; nodes of glTF do where an uneven scale lies above a turn. So no node of ours
 * has a scale: places and sizes are written as they come out in the world.
 */

import type { Camera, Project, SceneObject, Shape, Vec3 } from '@frelk/core';
import { buildHull, buildPolygon } from '@frelk/core/geometry';
import { type Buffer, Document, type Mesh, type Node, WebIO } from '@gltf-transform/core';
import type { Surface } from '../level';
import { aroundBall, aroundY, corners } from '../round';
import { Body, type ImplicitShape, ImplicitShapes, PhysicsBodies } from './physics';
import { quaternionOf } from './transform';

/** Key of the root's extras under which a project rides in a file of our own. */
export const RIDES = 'frelk';

const times = (a: Vec3, b: Vec3): [number, number, number] => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];

/** What a shape collides by in the world, and the points its hull is drawn of; sizes in metres, scale taken in. */
function formOf(
	shape: Shape,
	scale: Vec3,
	flat: boolean,
): { points?: Vec3[]; surface?: Surface; ring?: Vec3[]; shape?: ImplicitShape; hull?: boolean } {
	const [sx, sy, sz] = scale;
	const wide = flat ? sx : Math.max(sx, sz);
	switch (shape.kind) {
		case 'box': {
			const size = times(shape.size, scale);
			return { points: corners(size), shape: { type: 'box', box: { size } } };
		}
		case 'sphere': {
			const radius = shape.radius * Math.max(sx, sy, sz);
			return { points: aroundBall(radius), shape: { type: 'sphere', sphere: { radius } } };
		}
		case 'capsule': {
			const radius = shape.radius * wide;
			const height = Math.max(0, shape.height * sy - 2 * radius);
			if (flat) return { ring: aroundY(radius, radius, height, true).map(([x, y]): Vec3 => [x, y, 0]) };
			return {
				points: aroundY(radius, radius, height, true),
				shape: { type: 'capsule', capsule: { height, radiusBottom: radius, radiusTop: radius } },
			};
		}
		case 'cylinder': {
			const [radius, height] = [shape.radius * wide, shape.height * sy];
			return {
				points: aroundY(radius, radius, height, false),
				shape: { type: 'cylinder', cylinder: { height, radiusBottom: radius, radiusTop: radius } },
			};
		}
		case 'hull':
			return { points: shape.points.map((p) => times(p, scale)), hull: true };
		case 'mesh':
			return {
				surface: { vertices: shape.vertices.map((v, i) => v * scale[i % 3]), triangles: shape.triangles },
			};
		case 'rect': {
			const [w, h] = [(shape.size[0] * sx) / 2, (shape.size[1] * sy) / 2];
			return {
				ring: [
					[-w, -h, 0],
					[w, -h, 0],
					[w, h, 0],
					[-w, h, 0],
				],
			};
		}
		case 'circle': {
			const radius = shape.radius * Math.max(sx, sy);
			return { ring: aroundY(radius, radius, 0, false).map(([x, , z]): Vec3 => [x, z, 0]) };
		}
		case 'polygon':
			return { ring: shape.points.map(([x, y]): Vec3 => [x * sx, y * sy, 0]) };
	}
}

/** Triangles of the hull of points, or of a ring in the plane. */
function drawn(form: ReturnType<typeof formOf>): Surface | null {
	if (form.surface) return form.surface;
	if (form.points) {
		const hull = buildHull(form.points.flat());
		return hull && { vertices: [...hull.points], triangles: [...hull.triangles] };
	}
	const ring = form.ring && buildPolygon(form.ring.map(([x, y]) => [x, y] as const));
	if (!ring) return null;
	const n = ring.points.length / 3;
	const triangles: number[] = [];
	for (let i = 1; i + 1 < n; i++) triangles.push(0, i, i + 1);
	return { vertices: [...ring.points], triangles };
}

/** A project's scene as a document of glTF. */
export function documentOf(project: Project): Document {
	const doc = new Document();
	const { scene } = project;
	const flat = scene.kind === 'flat';
	doc.getRoot().getAsset().generator = 'Frelk';
	doc.getRoot().setExtras({ [RIDES]: project });
	const top = doc.createScene(project.name);
	doc.getRoot().setDefaultScene(top);
	doc.createExtension(ImplicitShapes);
	doc.createExtension(PhysicsBodies);
	let buffer: Buffer | null = null;
	const meshes = new Map<string, Mesh>();
	const meshOf = ({ vertices, triangles }: Surface, name: string): Mesh => {
		const key = vertices.length < 1000 ? JSON.stringify([vertices, triangles]) : '';
		const known = key === '' ? undefined : meshes.get(key);
		if (known) return known;
		buffer ??= doc.createBuffer();
		const position = doc.createAccessor().setType('VEC3').setArray(new Float32Array(vertices)).setBuffer(buffer);
		const indices = doc.createAccessor().setType('SCALAR').setArray(new Uint32Array(triangles)).setBuffer(buffer);
		const mesh = doc
			.createMesh(name)
			.addPrimitive(doc.createPrimitive().setAttribute('POSITION', position).setIndices(indices));
		if (key !== '') meshes.set(key, mesh);
		return mesh;
	};
	const byId = new Map(scene.objects.map((o) => [o.id, o]));
	const made = new Map<string, { node: Node; scale: Vec3; active: boolean }>();
	const nodeOf = (object: SceneObject): { node: Node; scale: Vec3; active: boolean } => {
		const known = made.get(object.id);
		if (known) return known;
		const parent = object.parent === undefined ? null : nodeOf(byId.get(object.parent) as SceneObject);
		const scale = times(parent?.scale ?? [1, 1, 1], object.scale ?? [1, 1, 1]);
		const active = (object.active ?? true) && (parent?.active ?? true);
		const { id, layer, tags, prompt, action } = object;
		const node = doc
			.createNode(object.name ?? object.id)
			.setTranslation(times(parent?.scale ?? [1, 1, 1], object.position ?? [0, 0, 0]))
			.setRotation(quaternionOf(object.rotation))
			.setExtras(JSON.parse(JSON.stringify({ id, layer, tags, prompt, action })));
		(parent?.node ?? top).addChild(node);
		const out = { node, scale, active };
		made.set(object.id, out);
		if (active) for (const shape of object.shapes ?? []) addShape(object, shape, out);
		return out;
	};
	const addShape = (object: SceneObject, shape: Shape, { node, scale }: { node: Node; scale: Vec3 }) => {
		if (shape.enabled === false) return;
		const form = formOf(shape, scale, flat);
		const surface = drawn(form);
		if (!surface) return;
		const mesh = meshOf(surface, `${object.id} ${shape.id}`);
		const child = doc
			.createNode(shape.name ?? shape.id)
			.setTranslation(times(scale, shape.at ?? [0, 0, 0]))
			.setRotation(quaternionOf(shape.rotation))
			.setMesh(mesh);
		if (!flat) {
			const body = new Body(doc.getGraph());
			body[shape.role === 'sensor' ? 'trigger' : 'collider'] = {
				shape: form.shape ?? null,
				mesh: form.shape ? null : mesh,
				hull: form.hull === true,
			};
			child.setExtension(PhysicsBodies.EXTENSION_NAME, body);
		}
		node.addChild(child);
	};
	for (const object of scene.objects) nodeOf(object);
	for (const camera of scene.cameras)
		addCamera(doc, camera, camera.object === undefined ? null : (made.get(camera.object) ?? null), top);
	return doc;
}

/** Nearest that a camera draws, metres; queries know no such thing. */
const NEAR = 0.01;

function addCamera(
	doc: Document,
	camera: Camera,
	on: { node: Node; scale: Vec3 } | null,
	top: { addChild: (node: Node) => unknown },
): void {
	const far = camera.far ?? 1000;
	const lens = doc.createCamera(camera.name ?? camera.id);
	if (camera.projection === 'perspective')
		lens
			.setType('perspective')
			.setYFov((camera.fov * Math.PI) / 180)
			.setZNear(Math.min(NEAR, far / 2))
			.setZFar(far);
	else
		lens
			.setType('orthographic')
			.setXMag(camera.height / 2)
			.setYMag(camera.height / 2)
			.setZNear(0)
			.setZFar(far);
	const node = doc
		.createNode(camera.name ?? camera.id)
		.setTranslation(times(on?.scale ?? [1, 1, 1], camera.position))
		.setRotation(quaternionOf(camera.rotation))
		.setCamera(lens);
	(on?.node ?? top).addChild(node);
}

const io = () => new WebIO().registerExtensions([ImplicitShapes, PhysicsBodies]);

/** @returns the scene as a .glb */
export const writeGlb = (project: Project): Promise<Uint8Array<ArrayBuffer>> => io().writeBinary(documentOf(project));

/** @returns the scene as one .gltf, its buffer within */
export async function writeGltf(project: Project): Promise<string> {
	const { json, resources } = await io().writeJSON(documentOf(project), {});
	for (const buffer of json.buffers ?? []) {
		const bytes = buffer.uri === undefined ? undefined : resources[buffer.uri];
		if (bytes) buffer.uri = `data:application/octet-stream;base64,${base64(bytes)}`;
	}
	return `${JSON.stringify(json, null, 2)}\n`;
}

function base64(bytes: Uint8Array): string {
	let text = '';
	// In pieces: a call takes only so many arguments.
	for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
	return btoa(text);
}
