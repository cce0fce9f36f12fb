/** The triangles of a mesh, whatever its primitives are made of. */

import type { Matrix } from '@frelk/core/geometry';
import { type Mesh, Primitive } from '@gltf-transform/core';
import type { Surface } from '../level';
import { carried } from './transform';

/** The shortest decimal that is the same single float. */
function shortest(value: number): number {
	for (let digits = 6; digits < 9; digits++) {
		const short = Number(value.toPrecision(digits));
		if (Math.fround(short) === value) return short;
	}
	return Number(value.toPrecision(9));
}

const PACKED = /draco|meshopt/i;

/** @returns the triangles, or null where the mesh has none; what was left out of it is told */
export function surfaceOf(mesh: Mesh, baked: Matrix | null, tell: (message: string) => void): Surface | null {
	const vertices: number[] = [];
	const triangles: number[] = [];
	const packed = (mesh.getExtras() as { packed?: string }).packed;
	if (packed !== undefined && PACKED.test(packed)) {
		tell(`is compressed by ${packed}; export it without`);
		return null;
	}
	let lines = 0;
	let broken = 0;
	for (const primitive of mesh.listPrimitives()) {
		const mode = primitive.getMode();
		const position = primitive.getAttribute('POSITION');
		const strip = mode === Primitive.Mode.TRIANGLE_STRIP;
		const fan = mode === Primitive.Mode.TRIANGLE_FAN;
		if (mode !== Primitive.Mode.TRIANGLES && !strip && !fan) {
			lines++;
			continue;
		}
		if (position?.getType() !== 'VEC3') {
			tell('has a primitive without positions');
			continue;
		}
		const first = vertices.length / 3;
		const count = position.getCount();
		const element: number[] = [0, 0, 0];
		const sound = new Uint8Array(count);
		for (let i = 0; i < count; i++) {
			position.getElement(i, element);
			const [x, y, z] = element as [number, number, number];
			sound[i] = Number.isFinite(x) && Number.isFinite(y) && Number.isFinite(z) ? 1 : 0;
			if (!sound[i]) vertices.push(0, 0, 0);
			else if (baked) vertices.push(...carried(baked, x, y, z).map((v) => Number(v.toPrecision(9))));
			else vertices.push(shortest(x), shortest(y), shortest(z));
		}
		const indices = primitive.getIndices();
		const of = indices?.getArray();
		const corners = indices ? indices.getCount() : count;
		const at = (i: number): number => (of ? of[i] : i);
		const push = (a: number, b: number, c: number) => {
			if (!(a < count && b < count && c < count && sound[a] && sound[b] && sound[c])) broken++;
			else triangles.push(first + a, first + b, first + c);
		};
		if (strip) for (let i = 0; i + 2 < corners; i++) push(at(i), at(i + 1 + (i & 1)), at(i + 2 - (i & 1)));
		else if (fan) for (let i = 1; i + 1 < corners; i++) push(at(0), at(i), at(i + 1));
		else for (let i = 0; i + 2 < corners; i += 3) push(at(i), at(i + 1), at(i + 2));
		if (primitive.listTargets().length > 0) tell('can change its form; it is taken as it was modelled');
	}
	if (lines > 0) tell(`${lines} ${lines === 1 ? 'part' : 'parts'} of points or lines left out: nothing can hit them`);
	if (broken > 0)
		tell(`${broken} ${broken === 1 ? 'triangle' : 'triangles'} left out: a corner is no place, or is not there`);
	return triangles.length === 0 ? null : { vertices, triangles };
}
