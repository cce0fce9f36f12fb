/** The file's own colliders as shapes: exactly where a project has such a shape, as the hull of their points where it has not. */
import { roundedTriple, type Shape, type Vec3 } from '@frelk/core';
import { hasVolume, type Matrix } from '@frelk/core/geometry';
import type { Surface } from '../level';
import { aroundBall, aroundY, corners } from '../round';
import type { ColliderGeometry, ImplicitShape } from './physics';
import { transformed } from './transform';

const even = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 * Math.max(a, b);
const figure = (value: unknown, otherwise: number): number =>
	typeof value === 'number' && Number.isFinite(value) && value >= 0 ? value : otherwise;

/** A shape, or why there is none; `said` is what it does not tell as the file does. */
interface Told {
	shape: Omit<Shape, 'id'> | null;
	said: string | null;
}

const hullOf = (points: readonly Vec3[], vertexTransform: Matrix | null): { kind: 'hull'; points: Vec3[] } | null => {
	const out = points.map(([x, y, z]) => roundedTriple(transformed(vertexTransform, x, y, z), 9));
	return hasVolume(out.flat()) ? { kind: 'hull', points: out } : null;
};

const hullOfVertices = (points: readonly Vec3[], vertexTransform: Matrix | null, said: string): Told => {
	const hull = hullOf(points, vertexTransform);
	return hull ? { shape: hull as never, said } : { shape: null, said: 'has no volume as it is scaled' };
};

/**
 * @param scale of the node, each positive
 * @param vertexTransform what its corners carry beside, or null
 */
function implicit(shape: ImplicitShape, scale: Vec3, vertexTransform: Matrix | null): Told {
	const [sx, sy, sz] = scale;
	switch (shape.type) {
		case 'box': {
			const given = shape.box?.size ?? [1, 1, 1];
			const size: Vec3 = [figure(given[0], 1), figure(given[1], 1), figure(given[2], 1)];
			if (vertexTransform)
				return hullOfVertices(corners(size), vertexTransform, 'box baked into the hull of its corners');
			return { shape: { kind: 'box', size } as never, said: null };
		}
		case 'sphere': {
			const radius = figure(shape.sphere?.radius, 0.5);
			if (vertexTransform || !even(sx, sy) || !even(sx, sz))
				return hullOfVertices(
					aroundBall(radius),
					vertexTransform,
					'unevenly scaled sphere baked into a hull of 32 sides',
				);
			return { shape: { kind: 'sphere', radius } as never, said: null };
		}
		case 'capsule':
		case 'cylinder': {
			const round = shape.type === 'capsule';
			const given = (round ? (shape as { capsule?: object }).capsule : (shape as { cylinder?: object }).cylinder) as
				| { height?: number; radiusBottom?: number; radiusTop?: number }
				| undefined;
			const height = figure(given?.height, 0.5);
			const bottom = figure(given?.radiusBottom, 0.25);
			const top = figure(given?.radiusTop, 0.25);
			const tapers = !even(bottom, top);
			const uneven = !even(sx, sz) || (round && !even(sx, sy));
			if (vertexTransform || tapers || uneven)
				return hullOfVertices(
					aroundY(bottom, top, height, round),
					vertexTransform,
					`${tapers ? 'tapering' : 'unevenly scaled'} ${shape.type} baked into a hull of 32 sides`,
				);
			return {
				shape: { kind: shape.type, radius: bottom, height: round ? height + 2 * bottom : height } as never,
				said: null,
			};
		}
		case 'plane': {
			const [x, z] = [figure(shape.plane?.sizeX, 0), figure(shape.plane?.sizeZ, 0)];
			if (x === 0 || z === 0) return { shape: null, said: 'a plane without end is not taken; give it sizeX and sizeZ' };
			const at = (i: number, k: number) => transformed(vertexTransform, (i * x) / 2, 0, (k * z) / 2);
			return {
				shape: {
					kind: 'mesh',
					vertices: [at(-1, -1), at(-1, 1), at(1, 1), at(1, -1)].flat(),
					triangles: [0, 1, 2, 0, 2, 3],
				} as never,
				said: null,
			};
		}
		default:
			return {
				shape: null,
				said: `a collider of the kind ${JSON.stringify((shape as { type: unknown }).type)} is not known`,
			};
	}
}

/** Whether the sizes of a shape are within the bounds of a file. */
function measured(shape: Omit<Shape, 'id'>): boolean {
	const {
		size = [],
		radius = 1,
		height = 1,
		points = [],
	} = shape as { size?: Vec3; radius?: number; height?: number; points?: Vec3[] };
	return (
		[...size, radius, height].every((v) => v >= 1e-6 && v <= 1e7) &&
		points.every((p) => p.every((v) => Math.abs(v) <= 1e7))
	);
}

/** @param surface of the collider's mesh with what its corners carry, where it has one */
export function colliderShape(
	geometry: Pick<ColliderGeometry, 'shape' | 'hull'>,
	scale: Vec3,
	vertexTransform: Matrix | null,
	surface: Surface | null,
): Told {
	if (geometry.shape) {
		const told = implicit(geometry.shape, scale, vertexTransform);
		return told.shape && !measured(told.shape)
			? { shape: null, said: 'is smaller or larger than a project holds: left out' }
			: told;
	}
	if (!surface) return { shape: null, said: 'a collider without a shape or a mesh is not taken' };
	if (!geometry.hull) return { shape: { kind: 'mesh', ...surface } as never, said: null };
	return surfaceHull(surface);
}

/** Most points of a hull a project holds. */
const MAX_POINTS = 10_000;

/** The hull of a surface's corners; of one without volume, or with too many corners, the surface itself. */
export function surfaceHull({ vertices, triangles }: Surface): Told {
	const seen = new Set<string>();
	const points: Vec3[] = [];
	for (const i of new Set(triangles)) {
		const p: Vec3 = [vertices[3 * i], vertices[3 * i + 1], vertices[3 * i + 2]];
		const key = p.join();
		if (seen.has(key)) continue;
		seen.add(key);
		points.push(p);
	}
	if (points.length > MAX_POINTS)
		return {
			shape: { kind: 'mesh', vertices, triangles } as never,
			said: `has ${points.length} corners, more than the ${MAX_POINTS} of a hull: left a mesh`,
		};
	const hull = hullOf(points, null);
	return hull
		? { shape: hull as never, said: null }
		: { shape: { kind: 'mesh', vertices, triangles } as never, said: 'lies in one plane and has no hull: left a mesh' };
}
