/** The files of a glTF level, opened and looked over before anything is built of them: JSON with the bytes it names. */

import { oneLine } from '@frelk/core';
import type { GLTF, JSONDocument } from '@gltf-transform/core';
import { LevelError, type LevelNote } from '../level';

/** A file as it was dropped or read. */
export interface NamedBytes {
	name: string;
	bytes: Uint8Array<ArrayBuffer>;
}

/** Nodes above each other; deeper trees are refused before they are walked. */
const MOST_DEPTH = 256;
const MOST_NODES = 1_000_000;
const GLB_MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;

const isGlb = (bytes: Uint8Array): boolean =>
	bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === GLB_MAGIC;

const mb = (bytes: number): string => `${bytes} bytes`;

function parsed(text: Uint8Array, name: string): GLTF.IGLTF {
	let json: unknown;
	try {
		json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(text));
	} catch (error) {
		throw new LevelError(`${name}: is not JSON: ${oneLine((error as Error).message)}`);
	}
	if (typeof json !== 'object' || json === null || Array.isArray(json))
		throw new LevelError(`${name}: expected an object; a glTF file is one`);
	return json as GLTF.IGLTF;
}

/** The chunks of a .glb, held against the lengths it says. */
function unpacked({ name, bytes }: NamedBytes): JSONDocument {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	if (bytes.length < 20)
		throw new LevelError(`${name}: is cut short: a .glb has at least 20 bytes, this has ${bytes.length}`);
	const version = view.getUint32(4, true);
	if (version !== 2) throw new LevelError(`${name}: is glTF version ${version}; 2 is read`);
	const said = view.getUint32(8, true);
	if (said > bytes.length) throw new LevelError(`${name}: is cut short: says ${mb(said)}, has ${bytes.length}`);
	let json: GLTF.IGLTF | null = null;
	const resources: Record<string, Uint8Array<ArrayBuffer>> = {};
	for (let at = 12, n = 0; at + 8 <= said; n++) {
		const length = view.getUint32(at, true);
		const kind = view.getUint32(at + 4, true);
		if (at + 8 + length > said)
			throw new LevelError(`${name}: chunk ${n} says ${mb(length)}; ${said - at - 8} are left in the file`);
		const chunk = bytes.subarray(at + 8, at + 8 + length);
		if (n === 0) {
			if (kind !== JSON_CHUNK) throw new LevelError(`${name}: does not begin with its JSON`);
			json = parsed(chunk, name);
		} else if (n === 1) resources['@glb.bin'] = chunk;
		at += 8 + length + ((4 - (length % 4)) % 4);
	}
	if (!json) throw new LevelError(`${name}: holds no JSON`);
	return { json, resources };
}

/** The JSON of a .gltf or .glb, and nothing of its bytes. @throws LevelError where it has none */
export const jsonOf = (file: NamedBytes): GLTF.IGLTF =>
	isGlb(file.bytes) ? unpacked(file).json : parsed(file.bytes, file.name);

/** The last part of a path, without what a URL escapes. */
const baseName = (uri: string): string => {
	try {
		return decodeURIComponent(uri).split(/[\\/]/).at(-1) ?? uri;
	} catch {
		return uri;
	}
};

const list = (json: GLTF.IGLTF, key: string): Record<string, unknown>[] => {
	const value = (json as unknown as Record<string, unknown>)[key];
	if (value === undefined) return [];
	if (!Array.isArray(value)) throw new LevelError(`${key}: expected a list`);
	value.forEach((entry, i) => {
		if (typeof entry !== 'object' || entry === null) throw new LevelError(`${key}[${i}]: expected an object`);
	});
	return value;
};

const COMPONENT: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const NUMBERS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };

const whole = (value: unknown, path: string, least = 0): number => {
	if (typeof value !== 'number' || !Number.isInteger(value) || value < least)
		throw new LevelError(`${path}: expected a whole number from ${least}, got ${JSON.stringify(value)}`);
	return value;
};

const place = (value: unknown, path: string, count: number, what: string): number => {
	const at = whole(value, path);
	if (at >= count) throw new LevelError(`${path}: there is no ${what} ${at}; the file has ${count}`);
	return at;
};

/** Every length and place in the file, before anything is read by them. */
function checkLengths(json: GLTF.IGLTF): void {
	const buffers = list(json, 'buffers');
	const views = list(json, 'bufferViews');
	const accessors = list(json, 'accessors');
	buffers.forEach((b, i) => {
		whole(b.byteLength, `buffers[${i}].byteLength`, 1);
	});
	views.forEach((v, i) => {
		const path = `bufferViews[${i}]`;
		const buffer = buffers[place(v.buffer, `${path}.buffer`, buffers.length, 'buffer')];
		const end = whole(v.byteOffset ?? 0, `${path}.byteOffset`) + whole(v.byteLength, `${path}.byteLength`, 1);
		const most = buffer?.byteLength as number;
		if (end > most) throw new LevelError(`${path}: ends at byte ${end} of a buffer of ${most}`);
		if (v.byteStride !== undefined) whole(v.byteStride, `${path}.byteStride`, 4);
	});
	accessors.forEach((a, i) => {
		const path = `accessors[${i}]`;
		const count = whole(a.count, `${path}.count`, 1);
		const component = COMPONENT[a.componentType as number];
		const numbers = NUMBERS[a.type as string];
		if (component === undefined) throw new LevelError(`${path}.componentType: ${a.componentType} is none of glTF's`);
		if (numbers === undefined) throw new LevelError(`${path}.type: ${JSON.stringify(a.type)} is none of glTF's`);
		if (a.sparse !== undefined) checkSparse(a.sparse as Record<string, unknown>, `${path}.sparse`, count, views);
		if (a.bufferView === undefined) {
			if (count * component * numbers > 1e9) throw new LevelError(`${path}.count: ${count} is more than any level has`);
			return;
		}
		const view = views[place(a.bufferView, `${path}.bufferView`, views.length, 'bufferView')];
		const size = component * numbers;
		const stride = (view?.byteStride as number | undefined) ?? size;
		const end = whole(a.byteOffset ?? 0, `${path}.byteOffset`) + (count - 1) * stride + size;
		if (end > (view?.byteLength as number))
			throw new LevelError(`${path}: ${count} entries need ${end} bytes; its bufferView has ${view?.byteLength}`);
	});
}

function checkSparse(
	sparse: Record<string, unknown>,
	path: string,
	count: number,
	views: Record<string, unknown>[],
): void {
	const n = whole(sparse.count, `${path}.count`, 1);
	if (n > count) throw new LevelError(`${path}.count: ${n} of ${count} entries`);
	for (const part of ['indices', 'values'] as const) {
		const of = sparse[part] as Record<string, unknown> | undefined;
		place(of?.bufferView, `${path}.${part}.bufferView`, views.length, 'bufferView');
	}
}

/** Nodes form trees: none is under two others or under itself, and none lies deeper than can be kept. */
function checkTree(json: GLTF.IGLTF): void {
	const nodes = list(json, 'nodes');
	if (nodes.length > MOST_NODES) throw new LevelError(`nodes: ${nodes.length}; at most ${MOST_NODES} are read`);
	const above = new Int32Array(nodes.length).fill(-1);
	const meshes = list(json, 'meshes').length;
	const cameras = list(json, 'cameras').length;
	nodes.forEach((node, i) => {
		if (node.mesh !== undefined) place(node.mesh, `nodes[${i}].mesh`, meshes, 'mesh');
		if (node.camera !== undefined) place(node.camera, `nodes[${i}].camera`, cameras, 'camera');
		const { children = [] } = node as { children?: unknown };
		if (!Array.isArray(children)) throw new LevelError(`nodes[${i}].children: expected a list`);
		children.forEach((child, k) => {
			const at = place(child, `nodes[${i}].children[${k}]`, nodes.length, 'node');
			if (above[at] >= 0)
				throw new LevelError(`nodes[${i}].children[${k}]: node ${at} hangs under node ${above[at]} already`);
			above[at] = i;
		});
		for (const [key, n] of [
			['matrix', 16],
			['translation', 3],
			['rotation', 4],
			['scale', 3],
		] as const) {
			const value = node[key];
			if (
				value !== undefined &&
				!(Array.isArray(value) && value.length === n && value.every((v) => Number.isFinite(v)))
			)
				throw new LevelError(`nodes[${i}].${key}: expected ${n} finite numbers`);
		}
	});
	const depth = new Int32Array(nodes.length);
	for (let i = 0; i < nodes.length; i++) {
		// Up to a node whose depth is known; one that is met again on the way is above itself.
		const way: number[] = [];
		let at = i;
		while (at >= 0 && depth[at] === 0) {
			if (way.length > nodes.length) throw new LevelError(`nodes[${i}]: hangs under itself`);
			way.push(at);
			at = above[at];
		}
		let d = at >= 0 ? depth[at] : 0;
		for (const one of way.reverse()) depth[one] = ++d;
		if (d > MOST_DEPTH)
			throw new LevelError(`nodes[${i}]: lies under ${d - 1} others; at most ${MOST_DEPTH - 1} are read`);
	}
	list(json, 'scenes').forEach((scene, i) => {
		for (const [k, node] of ((scene.nodes as unknown[] | undefined) ?? []).entries())
			place(node, `scenes[${i}].nodes[${k}]`, nodes.length, 'node');
	});
	if (json.scene !== undefined) place(json.scene, 'scene', list(json, 'scenes').length, 'scene');
}

function checkMeshes(json: GLTF.IGLTF): void {
	const accessors = list(json, 'accessors').length;
	list(json, 'meshes').forEach((mesh, i) => {
		const { primitives } = mesh as { primitives?: unknown };
		if (!Array.isArray(primitives)) throw new LevelError(`meshes[${i}].primitives: expected a list`);
		primitives.forEach((p: Record<string, unknown>, k) => {
			const path = `meshes[${i}].primitives[${k}]`;
			if (p?.indices !== undefined) place(p.indices, `${path}.indices`, accessors, 'accessor');
			for (const [name, at] of Object.entries((p?.attributes as Record<string, unknown>) ?? {}))
				place(at, `${path}.attributes.${name}`, accessors, 'accessor');
		});
	});
}

/** What a level is drawn with and moved by: nothing a query asks for. */
const LEFT = ['images', 'textures', 'samplers', 'materials', 'animations', 'skins'] as const;
/** Extensions that change where corners lie or how they are packed. */
const READ = new Set(['KHR_mesh_quantization', 'KHR_implicit_shapes', 'KHR_physics_rigid_bodies']);

/** Takes out what is not read, so that pictures are never looked for, and says what of it a level would miss. */
function stripped(json: GLTF.IGLTF, notes: LevelNote[]): GLTF.IGLTF {
	const out = { ...json } as unknown as Record<string, unknown>;
	const count = (key: string) => list(json, key).length;
	if (count('animations') > 0)
		notes.push({
			path: 'animations',
			message: `${count('animations')} left out: things stand as the file lays them out`,
		});
	if (count('skins') > 0)
		notes.push({ path: 'skins', message: `${count('skins')} left out: bodies that bend stand as they were modelled` });
	for (const key of LEFT) delete out[key];
	out.nodes = list(json, 'nodes').map(({ skin: _, ...node }) => node);
	out.meshes = list(json, 'meshes').map((mesh) => ({
		...mesh,
		primitives: (mesh.primitives as Record<string, unknown>[]).map(({ material: _, ...p }) => p),
	}));
	const required = (json.extensionsRequired ?? []) as string[];
	for (const name of required)
		if (!READ.has(name) && !/^KHR_(materials|texture|draco)|^EXT_(texture|meshopt)/.test(name))
			notes.push({ path: 'extensionsRequired', message: `${oneLine(name)} is not read; what it says is left out` });
	out.extensionsRequired = required.filter((name) => READ.has(name));
	return out as unknown as GLTF.IGLTF;
}

/**
 * @param files a .glb, or a .gltf with the files it names
 * @returns its JSON with the bytes of its buffers
 * @throws LevelError where a file is missing, cut short, or says of itself what cannot be
 */
export function opened(files: readonly NamedBytes[], notes: LevelNote[]): JSONDocument & { name: string } {
	const main =
		files.find((f) => isGlb(f.bytes) || /\.glb$/i.test(f.name)) ??
		files.find((f) => /\.gltf$/i.test(f.name)) ??
		files[0];
	if (!main) throw new LevelError('no file was given');
	const doc = isGlb(main.bytes) ? unpacked(main) : { json: parsed(main.bytes, main.name), resources: {} };
	const { asset } = doc.json as { asset?: { version?: unknown } };
	if (typeof asset?.version !== 'string') throw new LevelError(`${main.name}: is no glTF: asset.version is missing`);
	if (!/^2\./.test(asset.version))
		throw new LevelError(`${main.name}: is glTF version ${oneLine(asset.version)}; 2.0 is read`);
	checkLengths(doc.json);
	checkTree(doc.json);
	checkMeshes(doc.json);
	const json = stripped(doc.json, notes);
	const resources: JSONDocument['resources'] = { ...doc.resources };
	(json.buffers ?? []).forEach((buffer, i) => {
		const path = `buffers[${i}]`;
		if (buffer.uri === undefined) {
			if (!resources['@glb.bin']) throw new LevelError(`${path}: has no uri, and the file has no binary part`);
			if (resources['@glb.bin'].byteLength < buffer.byteLength)
				throw new LevelError(
					`${path}.byteLength: says ${buffer.byteLength}; the file's binary part has ${resources['@glb.bin'].byteLength}`,
				);
			return;
		}
		if (buffer.uri.startsWith('data:')) {
			const comma = buffer.uri.indexOf(',');
			const held = Math.floor(((buffer.uri.length - comma - 1) * 3) / 4);
			if (comma < 0 || !/;base64$/.test(buffer.uri.slice(0, comma)))
				throw new LevelError(`${path}.uri: is a data URI that is not base64`);
			if (held < buffer.byteLength)
				throw new LevelError(`${path}.byteLength: says ${buffer.byteLength}; its uri holds ${held}`);
			return;
		}
		const wanted = baseName(buffer.uri);
		const found = files.find((f) => baseName(f.name) === wanted);
		if (!found)
			throw new LevelError(`${path}: ${oneLine(buffer.uri)} was not given; drop it together with ${main.name}`);
		if (found.bytes.byteLength < buffer.byteLength)
			throw new LevelError(`${path}.byteLength: says ${buffer.byteLength}; ${wanted} has ${found.bytes.byteLength}`);
		resources[buffer.uri] = found.bytes;
	});
	return { json, resources, name: main.name };
}
