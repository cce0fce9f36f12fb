/** Sizes changed by hand: what a thing stands on stays where it is, and its focus keeps to its middle until it is set. */
import { roundedTriple, type SceneObject, type Shape, tripleOf, type Vec3 } from '@frelk/core';
import { rotationOf, turned } from '@frelk/core/geometry';

/** Half the extents of a shape along its own axes, metres; null where it has none that are typed. */
function halves(shape: Shape): Vec3 | null {
	switch (shape.kind) {
		case 'box':
			return [shape.size[0] / 2, shape.size[1] / 2, shape.size[2] / 2];
		case 'rect':
			return [shape.size[0] / 2, shape.size[1] / 2, 0];
		case 'sphere':
			return [shape.radius, shape.radius, shape.radius];
		case 'circle':
			return [shape.radius, shape.radius, 0];
		case 'capsule':
		case 'cylinder':
			return [shape.radius, shape.height / 2, shape.radius];
		default:
			return null;
	}
}

/** Whether a shape stands upright in its object: only turned about the vertical. */
const isUpright = (shape: Shape): boolean => {
	const [, pitch, roll] = shape.rotation ?? [0, 0, 0];
	return pitch === 0 && roll === 0;
};

const ORIGIN: Vec3 = [0, 0, 0];
const same = (a: readonly number[], b: readonly number[]): boolean =>
	a.every((v, k) => Math.abs(v - (b[k] ?? 0)) < 1e-6);

/**
 * Changes a shape's sizes and holds on to a place of it.
 * @param hold the axis whose lower face stays, the base it stands on, or its middle
 */
export function resizeShape(
	object: SceneObject,
	id: string,
	recipe: (shape: Shape) => void,
	hold: 'middle' | 'base' | 0 | 1 | 2,
): void {
	const shape = object.shapes?.find((s) => s.id === id);
	if (!shape) return;
	const before = halves(shape);
	const at = shape.at ?? ORIGIN;
	const focused = same(object.focus ?? ORIGIN, at);
	recipe(shape);
	const after = halves(shape);
	const axis = hold === 'base' ? (isUpright(shape) ? 1 : null) : hold === 'middle' ? null : hold;
	if (before && after && axis !== null) {
		const way = tripleOf((k) => (k === axis ? after[axis] - before[axis] : 0));
		const by = turned(rotationOf(shape.rotation), ...way);
		if (way[axis] !== 0) shape.at = roundedTriple([at[0] + by[0], at[1] + by[1], at[2] + by[2]]);
	}
	const now = shape.at ?? ORIGIN;
	if (focused && !same(now, at)) object.focus = [...now];
}
