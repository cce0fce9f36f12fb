/** How well a shape stands for what is drawn: the greatest gap between the two. */
import { buildWorld, type Project, type Shape, type Vec3 } from '@frelk/core';
import { type Body, nearestOn } from '@frelk/core/geometry';
import type { LevelNode, Surface } from './level';
import { aroundBall, aroundY, corners } from './round';

/** Points that are looked at on each side at most: of more every n-th. */
const MOST = 4000;

/** Points on a shape's outside, in the axes of its object. */
function pointsOf(shape: Shape): Vec3[] {
	switch (shape.kind) {
		case 'box':
			return corners(shape.size);
		case 'sphere':
			return aroundBall(shape.radius);
		case 'capsule':
			return aroundY(shape.radius, shape.radius, shape.height - 2 * shape.radius, true);
		case 'cylinder':
			return aroundY(shape.radius, shape.radius, shape.height, false);
		case 'hull':
			return shape.points;
		default:
			return [];
	}
}

const every = <T>(list: readonly T[]): readonly T[] => {
	const n = Math.ceil(list.length / MOST);
	return n <= 1 ? list : list.filter((_, i) => i % n === 0);
};

/**
 * @param shapes what stands for the node, in its own axes
 * @returns the farthest a corner of the one lies from the other, metres in the node's own scale; null where there is nothing to compare
 */
export function greatestGap(node: Pick<LevelNode, 'scale' | 'surface'>, shapes: readonly Shape[]): number | null {
	const { surface, scale } = node;
	if (!surface || shapes.length === 0 || shapes.every((s) => s.kind === 'mesh')) return null;
	const drawn: Shape = { id: 'drawn', kind: 'mesh', ...surface };
	const project: Project = {
		format: 'frelk/1',
		id: 'fit',
		name: 'fit',
		scene: {
			kind: 'space',
			layers: [{ id: 'a' }],
			tags: [],
			objects: [
				{ id: 'shape', layer: 'a', scale, shapes: [...shapes] },
				{ id: 'drawn', layer: 'a', scale, shapes: [drawn] },
			],
			cameras: [],
		},
		queries: [],
	};
	const [shape, mesh] = buildWorld(project).objects.map((o) => o.shapes.map((s) => s.body)) as [Body[], Body[]];
	const out = new Float64Array(8);
	const to = (bodies: readonly Body[], [x, y, z]: Vec3) =>
		Math.min(...bodies.map((b) => nearestOn(b, x * scale[0], y * scale[1], z * scale[2], out)));
	let worst = 0;
	for (const p of every(cornersOf(surface))) worst = Math.max(worst, to(shape, p));
	// A turned collider is measured from the mesh's side alone.
	for (const s of shapes)
		if (!s.rotation)
			for (const [x, y, z] of every(pointsOf(s))) {
				const [ax, ay, az] = s.at ?? [0, 0, 0];
				worst = Math.max(worst, to(mesh, [x + ax, y + ay, z + az]));
			}
	return worst;
}

const cornersOf = ({ vertices, triangles }: Surface): Vec3[] =>
	[...new Set(triangles)].map((i) => [vertices[3 * i], vertices[3 * i + 1], vertices[3 * i + 2]] as Vec3);
