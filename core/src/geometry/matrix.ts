/**
 * Rotations as nine numbers in row order: world = M · local, so the columns are the local axes seen from the world.
 * Plain arithmetic on plain arrays. A matrix is never written to once it is made: several may hold the same.
 */

export type Matrix = Float64Array;
export type Triple = readonly [number, number, number];

const DEG = Math.PI / 180;

/** Sine and cosine of an angle in degrees, exact at multiples of 90. */
export function sinCos(degrees: number): [number, number] {
	const turns = degrees / 90;
	if (Number.isInteger(turns)) {
		const quarter = ((turns % 4) + 4) % 4;
		return [[0, 1, 0, -1][quarter], [1, 0, -1, 0][quarter]];
	}
	return [Math.sin(degrees * DEG), Math.cos(degrees * DEG)];
}

/** No rotation: shared, as matrices are never written to once made. */
const IDENTITY: Matrix = new Float64Array([1, 0, 0, 0, 1, 0, 0, 0, 1]);

/** @returns R = Ry(yaw) · Rx(pitch) · Rz(roll), angles in degrees; not to be written to. */
export function rotationOf(rotation: Triple | undefined): Matrix {
	if (!rotation) return IDENTITY;
	const [sy, cy] = sinCos(rotation[0]);
	// Set one by one: an array made from a list takes three times as long.
	const m = new Float64Array(9);
	// Most things are turned about the vertical alone.
	if (rotation[1] === 0 && rotation[2] === 0) {
		m[0] = cy;
		m[2] = sy;
		m[4] = 1;
		m[6] = -sy;
		m[8] = cy;
		return m;
	}
	const [sx, cx] = sinCos(rotation[1]);
	const [sz, cz] = sinCos(rotation[2]);
	m[0] = cy * cz + sy * sx * sz;
	m[1] = sy * sx * cz - cy * sz;
	m[2] = sy * cx;
	m[3] = cx * sz;
	m[4] = cx * cz;
	m[5] = -sx;
	m[6] = cy * sx * sz - sy * cz;
	m[7] = sy * sz + cy * sx * cz;
	m[8] = cy * cx;
	return m;
}

/** @returns yaw, pitch, roll in degrees of a rotation; straight up or down the roll is taken as 0. */
export function eulerOf(m: Matrix): [number, number, number] {
	const degrees = 180 / Math.PI;
	const pitch = Math.asin(Math.max(-1, Math.min(1, -m[5])));
	if (Math.abs(m[5]) > 1 - 1e-12) return [Math.atan2(-m[6], m[0]) * degrees, pitch * degrees, 0];
	return [Math.atan2(m[2], m[8]) * degrees, pitch * degrees, Math.atan2(m[3], m[4]) * degrees];
}

/** @returns a · b; not to be written to. */
export function multiply(a: Matrix, b: Matrix): Matrix {
	if (b === IDENTITY) return a;
	const out = new Float64Array(9);
	for (let i = 0; i < 9; i += 3)
		for (let j = 0; j < 3; j++) out[i + j] = a[i] * b[j] + a[i + 1] * b[j + 3] + a[i + 2] * b[j + 6];
	return out;
}

/** @returns the inverse of a rotation, as a new matrix. */
export function transposed(m: Matrix): Matrix {
	return new Float64Array([m[0], m[3], m[6], m[1], m[4], m[7], m[2], m[5], m[8]]);
}

/** @returns m · v as a new triple. */
export function turned(m: Matrix, x: number, y: number, z: number): [number, number, number] {
	return [m[0] * x + m[1] * y + m[2] * z, m[3] * x + m[4] * y + m[5] * z, m[6] * x + m[7] * y + m[8] * z];
}

/** @returns mᵀ · v as a new triple: a world direction in the local axes. */
export function unturned(m: Matrix, x: number, y: number, z: number): [number, number, number] {
	return [m[0] * x + m[3] * y + m[6] * z, m[1] * x + m[4] * y + m[7] * z, m[2] * x + m[5] * y + m[8] * z];
}

/** @returns position + m · (scale ∘ local) as a new triple: how parents, focus points and offsets are placed. */
export function placed(position: Triple, m: Matrix, scale: Triple, local: Triple): [number, number, number] {
	const [x, y, z] = turned(m, scale[0] * local[0], scale[1] * local[1], scale[2] * local[2]);
	return [position[0] + x, position[1] + y, position[2] + z];
}

export const distanceBetween = (a: Triple, b: Triple): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/**
 * Angle in degrees between two vectors, from sine and cosine so that small angles keep their digits.
 * 0 where either vanishes.
 */
export function angleBetween(ax: number, ay: number, az: number, bx: number, by: number, bz: number): number {
	const cross = Math.hypot(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx);
	const dot = ax * bx + ay * by + az * bz;
	// A vanished vector has a dot product of −0 as soon as of 0, and the arc tangent of that is half a turn.
	return dot === 0 && cross === 0 ? 0 : Math.atan2(cross, dot) / DEG;
}
