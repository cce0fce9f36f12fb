/** From the shapes of the file to bodies: sizes under scale, hulls and meshes built once per shape and scale. */
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, meshBody, sphereBody } from '../geometry/body';
import { buildHull, buildPolygon, type Hull } from '../geometry/hull';
import type { Shape, VolumeShape } from '../project/schema';
import { Mesh } from '../space/mesh';

/** Built hulls and meshes by the list they were built from: an edit makes a new list and so a new entry. */
const hulls = new WeakMap<object, Map<string, Hull>>();
const meshes = new WeakMap<object, Map<string, Mesh>>();

function cached<T>(store: WeakMap<object, Map<string, T>>, list: object, key: string, build: () => T): T {
	let byScale = store.get(list);
	if (!byScale) {
		byScale = new Map();
		store.set(list, byScale);
	}
	let value = byScale.get(key);
	if (value === undefined) {
		// A shape being dragged larger makes a scale a step: keep only a few.
		if (byScale.size >= 8) byScale.clear();
		value = build();
		byScale.set(key, value);
	}
	return value;
}

/** @throws RangeError for a hull without volume or a polygon without area; `checkRules` finds those with their path */
export function hullOf(points: readonly (readonly number[])[], scale: readonly [number, number, number]): Hull {
	return cached(hulls, points, scale.join(), () => {
		const plain = cached(hulls, points, '1,1,1', () => {
			const hull =
				points[0]?.length === 2 ? buildPolygon(points as unknown as [number, number][]) : buildHull(points.flat());
			if (!hull)
				throw new RangeError(points[0]?.length === 2 ? 'the points have no area' : 'the points have no volume');
			return hull;
		});
		return plain.scaled(...scale);
	});
}

/** @returns a body of the shape's size under a scale, not yet placed */
export function bodyOf(shape: Shape | VolumeShape, scale: readonly [number, number, number], flat: boolean): Body {
	const [sx, sy, sz] = scale;
	const around = flat ? sx : Math.max(sx, sz);
	switch (shape.kind) {
		case 'box':
			return boxBody(shape.size[0] * sx, shape.size[1] * sy, shape.size[2] * sz);
		case 'rect':
			return boxBody(shape.size[0] * sx, shape.size[1] * sy, 0);
		case 'sphere':
			return sphereBody(shape.radius * Math.max(sx, sy, sz));
		case 'circle':
			return sphereBody(shape.radius * Math.max(sx, sy));
		case 'capsule':
			return capsuleBody(shape.radius * around, shape.height * sy);
		case 'cylinder':
			return cylinderBody(shape.radius * around, shape.height * sy);
		case 'hull':
		case 'polygon':
			return hullBody(hullOf(shape.points, scale));
		case 'mesh':
			return meshBody(
				cached(meshes, shape.vertices, `${scale.join()}/${meshKey(shape.triangles)}`, () => {
					const v = Float64Array.from(shape.vertices);
					for (let i = 0; i < v.length; i += 3) {
						v[i] *= sx;
						v[i + 1] *= sy;
						v[i + 2] *= sz;
					}
					return new Mesh(v, shape.triangles);
				}),
			);
	}
}

const meshKeys = new WeakMap<object, number>();
let nextMeshKey = 0;

/** A number per list of triangles, so that two meshes over the same corners stay apart. */
function meshKey(triangles: object): number {
	let key = meshKeys.get(triangles);
	if (key === undefined) {
		key = nextMeshKey++;
		meshKeys.set(triangles, key);
	}
	return key;
}
