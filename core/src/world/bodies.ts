/** From the shapes of the file to bodies: sizes under scale, hulls and meshes built once per shape and scale. */
import { type Body, boxBody, capsuleBody, cylinderBody, hullBody, meshBody, sphereBody } from '../geometry/body';
import { buildHull, buildPolygon, type Hull } from '../geometry/hull';
import { deepEqual } from '../project/merge';
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

/** Lists of numbers by a figure of what they hold, and each list's first twin: the objects of a level often have the very same mesh. */
const byFigure = new Map<number, WeakRef<readonly unknown[]>>();
const twins = new WeakMap<readonly unknown[], readonly unknown[]>();
/** Shorter ones are built as fast as compared. */
const WORTH = 12;
const MAX_FIGURES = 200_000;

const double = new Float64Array(1);
const halves = new Uint32Array(double.buffer);

/** A figure of a list of numbers, or of lists of them: equal lists have equal figures. */
function figureOf(list: readonly unknown[], from = 0x811c9dc5): number {
	let figure = from ^ list.length;
	for (let i = 0; i < list.length; i++) {
		const value = list[i];
		if (typeof value !== 'number') {
			figure = figureOf(value as readonly unknown[], figure);
			continue;
		}
		double[0] = value;
		figure = Math.imul(figure ^ halves[0], 0x01000193);
		figure = Math.imul(figure ^ (figure >>> 15) ^ halves[1], 0x01000193);
	}
	return figure;
}

/** @returns the first list met that holds the same; what is built from one serves them all */
function twinOf<T extends readonly unknown[]>(list: T): T {
	if (list.length < WORTH) return list;
	const known = twins.get(list);
	if (known) return known as T;
	const figure = figureOf(list);
	const first = byFigure.get(figure)?.deref() as T | undefined;
	const twin = first && deepEqual(first, list) ? first : list;
	if (twin === list) {
		if (byFigure.size >= MAX_FIGURES) byFigure.clear();
		byFigure.set(figure, new WeakRef(list));
	}
	twins.set(list, twin);
	return twin;
}

/** @throws RangeError for a hull without volume or a polygon without area; `checkRules` finds those with their path */
export function hullOf(list: readonly (readonly number[])[], scale: readonly [number, number, number]): Hull {
	const points = twinOf(list);
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
			return meshBody(meshOf(twinOf(shape.vertices), twinOf(shape.triangles), scale));
	}
}

function meshOf(
	vertices: readonly number[],
	triangles: readonly number[],
	scale: readonly [number, number, number],
): Mesh {
	const [sx, sy, sz] = scale;
	return cached(meshes, vertices, `${scale.join()}/${meshKey(triangles)}`, () => {
		const v = Float64Array.from(vertices);
		for (let i = 0; i < v.length; i += 3) {
			v[i] *= sx;
			v[i + 1] *= sy;
			v[i + 2] *= sz;
		}
		return new Mesh(v, triangles);
	});
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
