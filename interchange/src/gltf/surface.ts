/** The triangles of a mesh, whatever its primitives are made of: packed, pressed by weights, bent over bones. */

import type { Matrix } from '@frelk/core/geometry';
import { type Accessor, type Mesh, Primitive, type Root } from '@gltf-transform/core';
import type { Surface } from '../level';
import { type Affine, type Placed, placedBy, transformed, unplacedBy } from './transform';

/** The shortest decimal that is the same single float. */
function shortest(value: number): number {
	for (let digits = 6; digits < 9; digits++) {
		const short = Number(value.toPrecision(digits));
		if (Math.fround(short) === value) return short;
	}
	return Number(value.toPrecision(9));
}

/** The bones a mesh is bent over, as they stand in the world, each with what takes a corner into its own axes. */
export interface Bones {
	joints: readonly Affine[];
	/** Where the node stands whose mesh it is: the corners are told in its axes. */
	standing: Placed;
}

/** A mesh as it is asked for. */
interface Form {
	mesh: Mesh;
	/** How far each target of its form is taken; null for what the mesh itself says. */
	weights: readonly number[] | null;
	/** What its corners carry beside, or null. */
	vertexTransform: Matrix | null;
	bones: Bones | null;
}

type Tell = (message: string) => void;

/** One corner read from a primitive, into three numbers. */
type Corner = (at: number, out: number[]) => void;

const scratch: number[] = [];

/** How a corner of a primitive stands at rest: its place, with the targets that weigh anything, over the bones. */
function cornerOf(primitive: Primitive, form: Form, tell: Tell): Corner | null {
	const position = primitive.getAttribute('POSITION');
	if (position?.getType() !== 'VEC3') {
		tell('has a primitive without positions');
		return null;
	}
	const weights = form.weights ?? form.mesh.getWeights();
	const targets = primitive.listTargets().flatMap((target, i): [Accessor, number][] => {
		const by = target.getAttribute('POSITION');
		const weight = weights[i] ?? 0;
		return by?.getType() === 'VEC3' && by.getCount() === position.getCount() && weight !== 0 ? [[by, weight]] : [];
	});
	const modelled: Corner = (at, out) => {
		position.getElement(at, out);
		for (const [by, weight] of targets) {
			by.getElement(at, scratch);
			for (let k = 0; k < 3; k++) out[k] += weight * scratch[k];
		}
	};
	const { bones } = form;
	if (!bones) return modelled;
	const sets: [Accessor, Accessor][] = [];
	for (let n = 0; ; n++) {
		const [joints, weights] = [primitive.getAttribute(`JOINTS_${n}`), primitive.getAttribute(`WEIGHTS_${n}`)];
		if (!joints || !weights) break;
		sets.push([joints, weights]);
	}
	if (sets.length === 0) {
		tell('has a part that hangs on no bone: it stands as it was modelled');
		return modelled;
	}
	const which: number[] = [];
	const much: number[] = [];
	return (at, out) => {
		modelled(at, out);
		const [x, y, z] = out as [number, number, number];
		let [wx, wy, wz] = [0, 0, 0];
		for (const [joints, weights] of sets) {
			joints.getElement(at, which);
			weights.getElement(at, much);
			for (let k = 0; k < 4; k++) {
				const weight = much[k];
				const joint = bones.joints[which[k]];
				if (!weight || !joint) continue;
				const [jx, jy, jz] = placedBy(joint, x, y, z);
				wx += weight * jx;
				wy += weight * jy;
				wz += weight * jz;
			}
		}
		const local = unplacedBy(bones.standing, wx, wy, wz);
		for (let k = 0; k < 3; k++) out[k] = local[k];
	};
}

/** The corners of the triangles of a primitive, three by three; null where it has none. */
function trianglesOf(primitive: Primitive, count: number): Uint32Array | null {
	const mode = primitive.getMode();
	const of = primitive.getIndices()?.getArray();
	const corners = of ? of.length : count;
	const at = (i: number): number => (of ? of[i] : i);
	if (mode === Primitive.Mode.TRIANGLES) {
		const out = new Uint32Array(3 * Math.floor(corners / 3));
		for (let i = 0; i < out.length; i++) out[i] = at(i);
		return out;
	}
	if (mode !== Primitive.Mode.TRIANGLE_STRIP && mode !== Primitive.Mode.TRIANGLE_FAN) return null;
	const strip = mode === Primitive.Mode.TRIANGLE_STRIP;
	const out = new Uint32Array(3 * Math.max(0, corners - 2));
	for (let i = 0; i + 2 < corners; i++) {
		out[3 * i] = strip ? at(i) : at(0);
		out[3 * i + 1] = strip ? at(i + 1 + (i & 1)) : at(i + 1);
		out[3 * i + 2] = strip ? at(i + 2 - (i & 1)) : at(i + 2);
	}
	return out;
}

/** @returns the triangles, or null where the mesh has none; what was left out of it is told */
function surfaceOf(form: Form, tell: Tell): Surface | null {
	const vertices: number[] = [];
	const triangles: number[] = [];
	const raw = form.vertexTransform === null && form.bones === null;
	let lines = 0;
	let broken = 0;
	for (const primitive of form.mesh.listPrimitives()) {
		const count = primitive.getAttribute('POSITION')?.getCount() ?? 0;
		const corners = trianglesOf(primitive, count);
		if (!corners) {
			lines++;
			continue;
		}
		const corner = cornerOf(primitive, form, tell);
		if (!corner) continue;
		const pressed = raw && primitive.listTargets().every((_, i) => !(form.weights ?? form.mesh.getWeights())[i]);
		// Those that are used, in their order: many meshes may lie in one long list of corners.
		const used = Uint32Array.from(new Set(corners)).sort();
		const place = new Map<number, number>();
		const out: number[] = [0, 0, 0];
		for (const at of used) {
			if (at >= count) break;
			corner(at, out);
			const [x, y, z] = out as [number, number, number];
			const is = form.vertexTransform ? transformed(form.vertexTransform, x, y, z) : [x, y, z];
			if (!is.every((v) => Math.abs(v) <= FARTHEST)) continue;
			place.set(at, vertices.length / 3);
			for (const v of is) vertices.push(pressed ? shortest(v) : Number(v.toPrecision(9)));
		}
		for (let i = 0; i + 2 < corners.length; i += 3) {
			const [a, b, c] = [place.get(corners[i]), place.get(corners[i + 1]), place.get(corners[i + 2])];
			if (a === undefined || b === undefined || c === undefined) broken++;
			else triangles.push(a, b, c);
		}
	}
	if (lines > 0) tell(`${lines} ${lines === 1 ? 'part' : 'parts'} of points or lines left out: nothing can hit them`);
	if (broken > 0)
		tell(`${broken} ${broken === 1 ? 'triangle' : 'triangles'} left out: a corner is no place, or is not there`);
	return triangles.length === 0 ? null : { vertices, triangles };
}

/** Corners farther out are no places of a level, metres. */
const FARTHEST = 1e7;

const same = (a: readonly number[] | null, b: readonly number[] | null): boolean =>
	a === b || (a !== null && b !== null && a.length === b.length && a.every((v, i) => v === b[i]));

/** The surfaces of a file's meshes, each made once: many nodes have one mesh. */
export class Surfaces {
	private readonly known = new Map<
		Mesh,
		{ weights: readonly number[] | null; made: Surface | null; notes: string[] }[]
	>();
	private readonly meshes: Mesh[];

	constructor(root: Root) {
		this.meshes = root.listMeshes();
	}

	/**
	 * @param at place of the mesh in the file
	 * @returns its triangles; for nodes that carry nothing of their own the very same
	 */
	of(at: number, form: Omit<Form, 'mesh'>, tell: Tell): Surface | null {
		const mesh = this.meshes[at] as Mesh;
		if (form.vertexTransform || form.bones) return surfaceOf({ mesh, ...form }, tell);
		const list = this.known.get(mesh) ?? [];
		let found = list.find((one) => same(one.weights, form.weights));
		if (!found) {
			const notes: string[] = [];
			const made = surfaceOf({ mesh, ...form }, (message) => notes.push(message));
			found = { weights: form.weights, made, notes };
			list.push(found);
			this.known.set(mesh, list);
		}
		for (const note of found.notes) tell(note);
		return found.made;
	}
}
