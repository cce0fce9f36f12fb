/** Where a node stands, in the terms of a project: place, turn and scale, and what of it only its corners can carry. */
import { rounded, tripleOf, type Vec3 } from '@frelk/core';
import { eulerOf, type Matrix, multiply, transposed, unturned } from '@frelk/core/geometry';

/** A node in the world: three rows of three, and a place. */
export interface Affine {
	linear: Matrix;
	place: Vec3;
}

export const IDENTITY: Affine = { linear: new Float64Array([1, 0, 0, 0, 1, 0, 0, 0, 1]), place: [0, 0, 0] };

/** @param m sixteen numbers, column by column */
export function under(above: Affine, m: ArrayLike<number>): Affine {
	const at = (i: number) => m[i];
	const own = new Float64Array([at(0), at(4), at(8), at(1), at(5), at(9), at(2), at(6), at(10)]);
	const [x, y, z] = [at(12), at(13), at(14)];
	const l = above.linear;
	return {
		linear: multiply(l, own),
		place: [
			above.place[0] + l[0] * x + l[1] * y + l[2] * z,
			above.place[1] + l[3] * x + l[4] * y + l[5] * z,
			above.place[2] + l[6] * x + l[7] * y + l[8] * z,
		],
	};
}

/** A node's turn and scale, with what is left for its corners; null where nothing is. */
export interface Placed {
	place: Vec3;
	rotation: Matrix;
	scale: Vec3;
	vertexTransform: Matrix | null;
	/** Why corners carry something. */
	why: 'sheared' | 'mirrored' | 'flattened' | null;
}

/** Axes that are square to each other within this (cosine) shear nothing. */
const SQUARE = 1e-6;
const LEAST = 1e-6;
const MOST = 1e6;

const column = (m: Matrix, k: number): Vec3 => [m[k], m[k + 3], m[k + 6]];
const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const cross = (a: Vec3, b: Vec3): Vec3 => [
	a[1] * b[2] - a[2] * b[1],
	a[2] * b[0] - a[0] * b[2],
	a[0] * b[1] - a[1] * b[0],
];
const times = (a: Vec3, s: number): Vec3 => [a[0] * s, a[1] * s, a[2] * s];
const columns = (a: Vec3, b: Vec3, c: Vec3): Matrix =>
	new Float64Array([a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]]);

/** A turn that goes with any three axes, however crooked: the first kept, the others made square to it. */
function turnOf(axes: readonly [Vec3, Vec3, Vec3]): Matrix {
	const first = axes.find((a) => Math.hypot(...a) > 1e-12) ?? [1, 0, 0];
	const a = times(first, 1 / Math.hypot(...first));
	const second =
		axes.find((b) => Math.hypot(...cross(a, b)) > 1e-9 * Math.hypot(...b) && Math.hypot(...b) > 1e-12) ??
		(Math.abs(a[0]) < 0.9 ? ([1, 0, 0] as Vec3) : ([0, 1, 0] as Vec3));
	const c = cross(a, second);
	const z = times(c, 1 / Math.hypot(...c));
	return columns(a, cross(z, a), z);
}

/** Takes a node apart. */
export function standing({ linear, place }: Affine): Placed {
	const axes: [Vec3, Vec3, Vec3] = [column(linear, 0), column(linear, 1), column(linear, 2)];
	const [a, b, c] = axes;
	const lengths: Vec3 = [Math.hypot(...a), Math.hypot(...b), Math.hypot(...c)];
	const sound = lengths.every((s) => s >= LEAST && s <= MOST);
	const square =
		sound &&
		Math.abs(dot(a, b)) <= SQUARE * lengths[0] * lengths[1] &&
		Math.abs(dot(a, c)) <= SQUARE * lengths[0] * lengths[2] &&
		Math.abs(dot(b, c)) <= SQUARE * lengths[1] * lengths[2];
	if (square) {
		const mirrored = dot(cross(a, b), c) < 0;
		const x = times(a, (mirrored ? -1 : 1) / lengths[0]);
		const rotation = columns(x, times(b, 1 / lengths[1]), times(c, 1 / lengths[2]));
		const vertexTransform = mirrored ? new Float64Array([-1, 0, 0, 0, 1, 0, 0, 0, 1]) : null;
		return { place, rotation, scale: lengths, vertexTransform, why: mirrored ? 'mirrored' : null };
	}
	const rotation = turnOf(axes);
	return {
		place,
		rotation,
		scale: [1, 1, 1],
		vertexTransform: multiply(transposed(rotation), linear),
		why: sound ? 'sheared' : 'flattened',
	};
}

const tidy = ([x, y, z]: Vec3): Vec3 => [rounded(x, 9), rounded(y, 9), rounded(z, 9)];

/** Place, turn and scale of a node in the axes of the one it hangs on, as a project has them. */
export function within(node: Placed, above: Placed | null): { position: Vec3; rotation: Vec3; scale: Vec3 } {
	if (!above)
		return { position: tidy(node.place), rotation: tidy(eulerOf(node.rotation)), scale: tidyScale(node.scale) };
	const [x, y, z] = node.place;
	const own = unturned(above.rotation, x - above.place[0], y - above.place[1], z - above.place[2]);
	const s = above.scale;
	return {
		position: tidy([own[0] / s[0], own[1] / s[1], own[2] / s[2]]),
		rotation: tidy(eulerOf(multiply(transposed(above.rotation), node.rotation))),
		scale: tidyScale([node.scale[0] / s[0], node.scale[1] / s[1], node.scale[2] / s[2]]),
	};
}

/** To nine figures: a scale is a factor, and may be small. */
const tidyScale = (scale: Vec3): Vec3 =>
	tripleOf((k) => (Number.isInteger(scale[k]) ? scale[k] : Number(scale[k].toPrecision(9))));

/** Whether a project can hold these scales. */
export const holdable = (scale: Vec3): boolean => scale.every((s) => s >= LEAST && s <= MOST);

/** A corner moved by what corners carry. */
export const transformed = (m: Matrix | null, x: number, y: number, z: number): Vec3 =>
	m ? [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z] : [x, y, z];

/** A point of a node's own axes in the world. */
export const placedBy = ({ linear: m, place }: Affine, x: number, y: number, z: number): Vec3 => [
	place[0] + m[0] * x + m[1] * y + m[2] * z,
	place[1] + m[3] * x + m[4] * y + m[5] * z,
	place[2] + m[6] * x + m[7] * y + m[8] * z,
];

/** A point of the world in the axes in which a standing node's corners are told, but for what they carry. */
export function unplacedBy({ place, rotation, scale }: Placed, x: number, y: number, z: number): Vec3 {
	const own = unturned(rotation, x - place[0], y - place[1], z - place[2]);
	return [own[0] / scale[0], own[1] / scale[1], own[2] / scale[2]];
}

/** The matrix of a node's place, turn (a quaternion) and scale, column by column. */
export function matrixOf(
	[x, y, z]: ArrayLike<number> & Iterable<number>,
	[qx, qy, qz, qw]: ArrayLike<number> & Iterable<number>,
	[sx, sy, sz]: ArrayLike<number> & Iterable<number>,
): number[] {
	// A turn that is not of unit length is one all the same.
	const length = Math.hypot(qx, qy, qz, qw) || 1;
	const [a, b, c, d] = [qx / length, qy / length, qz / length, qw / length];
	return [
		(1 - 2 * (b * b + c * c)) * sx,
		2 * (a * b + c * d) * sx,
		2 * (a * c - b * d) * sx,
		0,
		2 * (a * b - c * d) * sy,
		(1 - 2 * (a * a + c * c)) * sy,
		2 * (b * c + a * d) * sy,
		0,
		2 * (a * c + b * d) * sz,
		2 * (b * c - a * d) * sz,
		(1 - 2 * (a * a + b * b)) * sz,
		0,
		x,
		y,
		z,
		1,
	];
}

/** Whether a node stands anywhere: finite, within what a project holds, and not drawn together to a line or a point. */
export function stands({ linear, place }: Affine): boolean {
	if (!place.every((v) => Math.abs(v) <= 1e7)) return false;
	if (!linear.every((v) => Math.abs(v) <= MOST)) return false;
	const axes = [0, 1, 2].map((k) => column(linear, k));
	const areas = [cross(axes[0], axes[1]), cross(axes[1], axes[2]), cross(axes[2], axes[0])];
	return areas.some((v) => Math.hypot(...v) > 1e-12);
}

/** R = Ry(yaw) · Rx(pitch) · Rz(roll) as x, y, z, w. */
export function quaternionOf([yaw, pitch, roll]: Vec3 = [0, 0, 0]): [number, number, number, number] {
	const half = Math.PI / 360;
	const [sy, cy] = [Math.sin(yaw * half), Math.cos(yaw * half)];
	const [sx, cx] = [Math.sin(pitch * half), Math.cos(pitch * half)];
	const [sz, cz] = [Math.sin(roll * half), Math.cos(roll * half)];
	return [
		cy * sx * cz + sy * cx * sz,
		sy * cx * cz - cy * sx * sz,
		cy * cx * sz - sy * sx * cz,
		cy * cx * cz + sy * sx * sz,
	];
}
