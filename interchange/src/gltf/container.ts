/** The files of a glTF level, opened and looked over before anything is built of them: JSON with the bytes it names. */

import { oneLine } from '@frelk/core';
import type { GLTF, JSONDocument } from '@gltf-transform/core';
import { LevelError, type LevelNote } from '../level';
import { checkLengths, checkMeshes, checkSparsePlaces, checkTree, packedIn } from './lengths';
import { checkedFile, type GltfFile } from './schema';

/** A file as it was dropped or read. */
export interface NamedBytes {
	name: string;
	bytes: Uint8Array<ArrayBuffer>;
}

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

/** A name as it is written in a file's text, without what a URL escapes. */
const decoded = (uri: string): string => {
	try {
		return decodeURIComponent(uri);
	} catch {
		return uri;
	}
};
const baseName = (uri: string): string => decoded(uri).split(/[\\/]/).at(-1) ?? uri;

/** Extensions that are read, in whole or as far as it matters here. */
const READ = new Set([
	'EXT_mesh_gpu_instancing',
	'EXT_meshopt_compression',
	'KHR_draco_mesh_compression',
	'KHR_implicit_shapes',
	'KHR_mesh_quantization',
	'KHR_meshopt_compression',
	'KHR_node_visibility',
	'KHR_physics_rigid_bodies',
]);
/** What is drawn with, heard, or said about: no query asks for it. */
const HARMLESS =
	/^[A-Z]+_(materials?|textures?|lights?|audio|xmp|animation|structural|(mesh|instance)_features|mesh_manifold|ngon|primitive_outline|packing|node_(hover|select)|environment)/i;
/** What lays out corners or things in another way: without it the level is another. */
const GEOMETRY = /mesh|geometry|primitive|splat|instanc|subdivision|voxel|point_?cloud|curve|displacement/i;

/** @throws LevelError where something that the level's forms stand on is not read, unless it may be left out */
function checkExtensions(json: GltfFile, partial: boolean, notes: LevelNote[]): void {
	const required = new Set(json.extensionsRequired ?? []);
	for (const extension of new Set([...(json.extensionsUsed ?? []), ...required])) {
		if (READ.has(extension) || HARMLESS.test(extension)) continue;
		const name = oneLine(extension, 80);
		if (!required.has(extension) && !GEOMETRY.test(extension)) {
			notes.push({ path: 'extensionsUsed', message: `${name} is not read; what it says is left out` });
			continue;
		}
		const why = required.has(extension) ? 'the file cannot be read without it' : 'it says how things are formed';
		if (!partial)
			throw new LevelError(
				`extensionsUsed: ${name} is not read, and ${why}. Export the level without it, or read it in part (--partial).`,
			);
		notes.push({ path: 'extensionsUsed', message: `${name} is not read, and ${why}: what it says is left out` });
	}
}

/** A glTF file that holds together, with the bytes of its buffers. */
export interface Opened {
	name: string;
	json: GltfFile;
	resources: JSONDocument['resources'];
	/** The node above each; −1 where there is none. */
	above: Int32Array;
}

/**
 * @param files a .glb, or a .gltf with the files it names
 * @param partial whether what is not read may be left out, where the forms of things stand on it
 * @throws LevelError where a file is missing, cut short, or says of itself what cannot be
 */
export function opened(files: readonly NamedBytes[], notes: LevelNote[], partial = false): Opened {
	const main =
		files.find((f) => isGlb(f.bytes) || /\.glb$/i.test(f.name)) ??
		files.find((f) => /\.gltf$/i.test(f.name)) ??
		files[0];
	if (!main) throw new LevelError('no file was given');
	const doc = isGlb(main.bytes) ? unpacked(main) : { json: parsed(main.bytes, main.name), resources: {} };
	const { asset } = doc.json as { asset?: { version?: unknown } };
	if (typeof asset?.version !== 'string') throw new LevelError(`${main.name}: is no glTF: asset.version is missing`);
	if (!/^2\./.test(asset.version))
		throw new LevelError(`${main.name}: is glTF version ${oneLine(asset.version, 40)}; 2.0 is read`);
	const json = checkedFile(doc.json, main.name);
	checkExtensions(json, partial, notes);
	const above = checkTree(json);
	checkMeshes(json);
	const resources: JSONDocument['resources'] = { ...doc.resources };
	const bytes = withBuffers(json, files, main, resources);
	checkLengths(json, bytes);
	checkSparsePlaces(json, (at) => {
		const uri = json.buffers?.[at]?.uri;
		if (!uri?.startsWith('data:')) return resources[uri ?? '@glb.bin'] ?? new Uint8Array();
		try {
			return Uint8Array.from(atob(uri.slice(uri.indexOf(',') + 1)), (c) => c.charCodeAt(0));
		} catch {
			throw new LevelError(`buffers[${at}].uri: is no base64`);
		}
	});
	return { json, resources, above, name: main.name };
}

/** Finds what each buffer names. @returns bytes of all files that are used, each counted once */
function withBuffers(
	json: GltfFile,
	files: readonly NamedBytes[],
	main: NamedBytes,
	resources: JSONDocument['resources'],
): number {
	const byName = new Map<string, NamedBytes>();
	for (const file of files) if (!byName.has(baseName(file.name))) byName.set(baseName(file.name), file);
	const used = new Set<NamedBytes>([main]);
	const fallbacks = new Set<number>();
	for (const [i, buffer] of (json.buffers ?? []).entries()) {
		const path = `buffers[${i}]`;
		const short = (has: number, what: string) => {
			if (has < buffer.byteLength)
				throw new LevelError(`${path}.byteLength: says ${buffer.byteLength}; ${what} ${has}`);
		};
		if (buffer.uri === undefined) {
			// What a packed view would be without its packing: nobody asks for it.
			if (Object.keys(buffer.extensions ?? {}).some((name) => /meshopt/.test(name))) {
				fallbacks.add(i);
				continue;
			}
			const own = resources['@glb.bin'];
			if (!own) throw new LevelError(`${path}: has no uri, and the file has no binary part`);
			short(own.byteLength, "the file's binary part has");
			continue;
		}
		if (buffer.uri.startsWith('data:')) {
			const comma = buffer.uri.indexOf(',');
			if (comma < 0 || !/;base64$/.test(buffer.uri.slice(0, comma)))
				throw new LevelError(`${path}.uri: is a data URI that is not base64`);
			short(Math.floor(((buffer.uri.length - comma - 1) * 3) / 4), 'its uri holds');
			continue;
		}
		const wanted = baseName(buffer.uri);
		const found = byName.get(wanted);
		if (!found)
			throw new LevelError(
				`${path}: ${oneLine(decoded(buffer.uri), 200)} was not given; bring it together with ${main.name}`,
			);
		short(found.bytes.byteLength, `${oneLine(wanted, 200)} has`);
		resources[buffer.uri] = found.bytes;
		used.add(found);
	}
	(json.bufferViews ?? []).forEach((view, i) => {
		if (fallbacks.has(view.buffer) && !packedIn(view))
			throw new LevelError(`bufferViews[${i}]: lies in a buffer that has no bytes`);
	});
	return [...used].reduce((sum, file) => sum + file.bytes.byteLength, 0);
}
