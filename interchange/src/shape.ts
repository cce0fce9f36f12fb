/** A node's shape by rule: its box, its hull, its triangles, or what the file says itself. */
import { rounded, type Shape, tripleOf, type Vec3 } from '@frelk/core';
import { surfaceHull } from './gltf/colliders';
import type { LevelNode, Surface } from './level';
import type { ShapeWay } from './rules';

/** A side of a box is at least so long, metres: what is drawn flat is a thin box. */
const THIN = 0.001;

/** The box about a surface, in its own axes. */
export function boxOf({ vertices, triangles }: Surface): { at: Vec3; size: Vec3 } {
	const low: [number, number, number] = [Infinity, Infinity, Infinity];
	const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
	for (const i of triangles)
		for (let k = 0; k < 3; k++) {
			const v = vertices[3 * i + k];
			low[k] = Math.min(low[k], v);
			high[k] = Math.max(high[k], v);
		}
	const at = tripleOf((k) => rounded((low[k] + high[k]) / 2, 9));
	return { at, size: tripleOf((k) => Math.max(THIN, rounded(high[k] - low[k], 9))) };
}

/** Many nodes may have one surface: what is made of it is made once. */
const boxes = new WeakMap<Surface, ReturnType<typeof boxOf>>();
const hulls = new WeakMap<Surface, ReturnType<typeof surfaceHull>>();

function once<T>(known: WeakMap<Surface, T>, surface: Surface, make: (surface: Surface) => T): T {
	const found = known.get(surface) ?? make(surface);
	known.set(surface, found);
	return found;
}

/** The shapes of a node, and what they do not tell as the file does. */
export function shapesOf(
	node: LevelNode,
	way: ShapeWay,
	role: 'solid' | 'sensor' | null,
): { shapes: Shape[]; said: string | null } {
	const given = (shape: object): Shape => ({ ...shape, ...(role ? { role } : {}) }) as Shape;
	if (way === 'file' && node.colliders.length > 0) return { shapes: node.colliders.map(given), said: null };
	const { surface } = node;
	if (!surface)
		return {
			shapes: node.colliders.map(given),
			said: node.colliders.length > 0 ? 'has no mesh: its collider is taken' : null,
		};
	if (way === 'box') {
		const { at, size } = once(boxes, surface, boxOf);
		return {
			shapes: [given({ id: 'box', kind: 'box', size, ...(at.some((v) => v !== 0) ? { at } : {}) })],
			said: null,
		};
	}
	if (way === 'hull') {
		const { shape, said } = once(hulls, surface, surfaceHull);
		return { shapes: shape ? [given({ id: shape.kind, ...shape })] : [], said };
	}
	return { shapes: [given({ id: 'mesh', kind: 'mesh', ...surface })], said: null };
}
