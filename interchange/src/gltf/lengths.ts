/** Every length and place in a glTF file held against each other, before anything is read by them: bounds follow from the bytes there are. */
import { LevelError } from '../level';
import type { GltfFile } from './schema';

/** Nodes above each other; deeper trees are refused before they are walked. */
const MAX_DEPTH = 256;
const MAX_NODES = 1_000_000;
/** What accessors may come to beside what the bytes of the file account for. */
const ROOM = 16e6;
/** How many times its bytes a file may come to, as it lies and packed. */
const TIMES = 20;
const TIMES_PACKED = 256;

const COMPONENT: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const NUMBERS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };
const MESHOPT = /^(EXT|KHR)_meshopt_compression$/;

const componentBytes = (type: number): number => COMPONENT[type] ?? 4;

function place(at: number | undefined, path: string, count: number, what: string): number {
	if (at !== undefined && at >= count)
		throw new LevelError(`${path}: there is no ${what} ${at}; the file has ${count}`);
	return at ?? -1;
}

/** What a bufferView says of how it is packed. */
interface Packed {
	buffer?: unknown;
	byteOffset?: unknown;
	byteLength?: unknown;
	byteStride?: unknown;
	count?: unknown;
}

export const packedIn = (view: { extensions?: Record<string, unknown> | undefined }): Packed | null => {
	const key = Object.keys(view.extensions ?? {}).find((name) => MESHOPT.test(name));
	const found = key === undefined ? undefined : view.extensions?.[key];
	return typeof found === 'object' && found !== null ? (found as Packed) : null;
};

const whole = (value: unknown): value is number => typeof value === 'number' && Number.isInteger(value) && value >= 0;

/** @param bytes of the file and of all that it names */
export function checkLengths(json: GltfFile, bytes: number): void {
	const { buffers = [], bufferViews: views = [], accessors = [] } = json;
	let packed = 0;
	let unpacked = 0;
	views.forEach((view, i) => {
		const path = `bufferViews[${i}]`;
		place(view.buffer, `${path}.buffer`, buffers.length, 'buffer');
		const end = (view.byteOffset ?? 0) + view.byteLength;
		const most = buffers[view.buffer]?.byteLength as number;
		if (end > most) throw new LevelError(`${path}: ends at byte ${end} of a buffer of ${most}`);
		const of = packedIn(view);
		if (!of) return;
		const { buffer, byteOffset = 0, byteLength, byteStride, count } = of;
		if (![buffer, byteOffset, byteLength, byteStride, count].every(whole))
			throw new LevelError(`${path}: what it says of how it is packed is not understood`);
		place(buffer as number, `${path}.extensions.buffer`, buffers.length, 'buffer');
		const size = (count as number) * (byteStride as number);
		if (size > view.byteLength) throw new LevelError(`${path}: unpacks to ${size} bytes; it has ${view.byteLength}`);
		packed += byteLength as number;
		unpacked += size;
	});
	let sum = unpacked;
	accessors.forEach((accessor, i) => {
		const path = `accessors[${i}]`;
		const size = componentBytes(accessor.componentType) * (NUMBERS[accessor.type] as number);
		sum += accessor.count * size;
		if (accessor.sparse) checkSparse(accessor, path, views, size);
		if (accessor.bufferView === undefined) return;
		const view = views[place(accessor.bufferView, `${path}.bufferView`, views.length, 'bufferView')];
		const stride = view?.byteStride ?? size;
		const end = (accessor.byteOffset ?? 0) + (accessor.count - 1) * stride + size;
		if (end > (view?.byteLength as number))
			throw new LevelError(
				`${path}: ${accessor.count} entries need ${end} bytes; its bufferView has ${view?.byteLength}`,
			);
	});
	// What is packed by primitives lies in views of its own; it may be all the file has.
	const draco = (json.extensionsUsed ?? []).includes('KHR_draco_mesh_compression');
	const most = ROOM + TIMES * bytes + TIMES_PACKED * (draco ? bytes : packed);
	if (sum > most)
		throw new LevelError(
			`accessors: come to ${sum} bytes; a file of ${bytes} bytes may come to ${most}. Is a count wrong?`,
		);
}

function checkSparse(
	{ sparse, count }: NonNullable<GltfFile['accessors']>[number],
	path: string,
	views: NonNullable<GltfFile['bufferViews']>,
	size: number,
): void {
	if (!sparse) return;
	if (sparse.count > count) throw new LevelError(`${path}.sparse.count: ${sparse.count} of ${count} entries`);
	for (const [part, each] of [
		['indices', componentBytes(sparse.indices.componentType)],
		['values', size],
	] as const) {
		const at = `${path}.sparse.${part}`;
		const view = views[place(sparse[part].bufferView, `${at}.bufferView`, views.length, 'bufferView')];
		const end = (sparse[part].byteOffset ?? 0) + sparse.count * each;
		if (end > (view?.byteLength as number))
			throw new LevelError(
				`${at}: ${sparse.count} entries need ${end} bytes; their bufferView has ${view?.byteLength}`,
			);
	}
}

/** Nodes form trees: none is under two others or under itself, and none lies deeper than can be kept. @returns the node above each, −1 where there is none */
export function checkTree(json: GltfFile): Int32Array {
	const { nodes = [], meshes = [], cameras = [], skins = [], scenes = [] } = json;
	if (nodes.length > MAX_NODES) throw new LevelError(`nodes: ${nodes.length}; at most ${MAX_NODES} are read`);
	const above = new Int32Array(nodes.length).fill(-1);
	nodes.forEach((node, i) => {
		place(node.mesh, `nodes[${i}].mesh`, meshes.length, 'mesh');
		place(node.camera, `nodes[${i}].camera`, cameras.length, 'camera');
		place(node.skin, `nodes[${i}].skin`, skins.length, 'skin');
		node.children?.forEach((child, k) => {
			place(child, `nodes[${i}].children[${k}]`, nodes.length, 'node');
			if (above[child] >= 0)
				throw new LevelError(`nodes[${i}].children[${k}]: node ${child} hangs under node ${above[child]} already`);
			above[child] = i;
		});
	});
	const depth = new Int32Array(nodes.length);
	for (let i = 0; i < nodes.length; i++) {
		// Up to a node whose depth is known; one that is met again on the way is above itself.
		const way: number[] = [];
		let at = i;
		while (at >= 0 && depth[at] === 0) {
			if (way.length > MAX_DEPTH + 1)
				throw new LevelError(`nodes[${i}]: lies under more than ${MAX_DEPTH - 1} others, or under itself`);
			way.push(at);
			at = above[at];
		}
		let d = at >= 0 ? depth[at] : 0;
		for (const one of way.reverse()) depth[one] = ++d;
		if (d > MAX_DEPTH)
			throw new LevelError(`nodes[${i}]: lies under ${d - 1} others; at most ${MAX_DEPTH - 1} are read`);
	}
	scenes.forEach((scene, i) => {
		const seen = new Set<number>();
		scene.nodes?.forEach((node, k) => {
			place(node, `scenes[${i}].nodes[${k}]`, nodes.length, 'node');
			if (seen.has(node)) throw new LevelError(`scenes[${i}].nodes[${k}]: node ${node} is named twice`);
			seen.add(node);
		});
	});
	place(json.scene, 'scene', scenes.length, 'scene');
	return above;
}

/**
 * Places that sparse lists name must be among those there are: what lies beyond would be lost without a word.
 * @param bytesOf a buffer, by its place
 */
export function checkSparsePlaces(json: GltfFile, bytesOf: (buffer: number) => Uint8Array): void {
	(json.accessors ?? []).forEach(({ sparse, count }, i) => {
		const view = sparse && json.bufferViews?.[sparse.indices.bufferView];
		if (!sparse || !view || packedIn(view)) return;
		const bytes = bytesOf(view.buffer);
		const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
		const each = componentBytes(sparse.indices.componentType);
		for (let k = 0; k < sparse.count; k++) {
			const at = (view.byteOffset ?? 0) + (sparse.indices.byteOffset ?? 0) + k * each;
			const place = each === 1 ? data.getUint8(at) : each === 2 ? data.getUint16(at, true) : data.getUint32(at, true);
			if (place >= count)
				throw new LevelError(`accessors[${i}].sparse.indices: names entry ${place}; there are ${count}`);
		}
	});
}

export function checkMeshes(json: GltfFile): void {
	const { meshes = [], skins = [], nodes = [] } = json;
	const accessors = json.accessors?.length ?? 0;
	meshes.forEach((mesh, i) => {
		mesh.primitives.forEach((p, k) => {
			const path = `meshes[${i}].primitives[${k}]`;
			place(p.indices, `${path}.indices`, accessors, 'accessor');
			for (const [name, at] of Object.entries(p.attributes))
				place(at, `${path}.attributes.${name}`, accessors, 'accessor');
			p.targets?.forEach((target, t) => {
				for (const [name, at] of Object.entries(target))
					place(at, `${path}.targets[${t}].${name}`, accessors, 'accessor');
			});
		});
	});
	skins.forEach((skin, i) => {
		place(skin.inverseBindMatrices, `skins[${i}].inverseBindMatrices`, accessors, 'accessor');
		skin.joints.forEach((joint, k) => {
			place(joint, `skins[${i}].joints[${k}]`, nodes.length, 'node');
		});
	});
}
