/** A box against the rim of a cylinder. */
import type { Body } from './body';

/**
 * A box that touches a cylinder's rim: along the rim the gap changes so little that the place of contact, found by the gap, is
 * only good to the root of rounding. Face and edge give it in closed form: the rim's point deepest along the face's normal, or
 * where the rim goes through the plane that the moving edge sweeps.
 * @param A the box @param B the cylinder
 * @param out the place found by the gap; the closed form takes its place
 * @returns whether it did: nothing is changed where the bodies do not touch at a rim
 */
export function ontoRim(
	A: Body,
	dx: number,
	dy: number,
	dz: number,
	travel: number,
	B: Body,
	out: Float64Array,
): boolean {
	const { m, hx: radius, hy } = B;
	const near = 1e-3 * Math.min(A.boundingRadius, B.boundingRadius);
	const x = out[0] - B.x;
	const y = out[1] - B.y;
	const z = out[2] - B.z;
	const lx = m[0] * x + m[3] * y + m[6] * z;
	const ly = m[1] * x + m[4] * y + m[7] * z;
	const lz = m[2] * x + m[5] * y + m[8] * z;
	if (Math.abs(Math.hypot(lx, lz) - radius) > near || Math.abs(Math.abs(ly) - hy) > near) return false;
	const height = ly < 0 ? -hy : hy;
	// The point in the box's axes tells which of its faces meet there.
	const a = A.m;
	const half = [A.hx, A.hy, A.hz];
	const sides: number[] = [];
	for (let k = 0; k < 3; k++) {
		const c =
			a[k] * (out[0] - A.x - travel * dx) +
			a[k + 3] * (out[1] - A.y - travel * dy) +
			a[k + 6] * (out[2] - A.z - travel * dz);
		if (Math.abs(Math.abs(c) - half[k]) < near) sides.push(c < 0 ? -1 : 1);
		else sides.push(0);
	}
	const touching = sides.filter((s) => s !== 0).length;
	const inB = (v: readonly [number, number, number]): [number, number, number] => [
		m[0] * v[0] + m[3] * v[1] + m[6] * v[2],
		m[1] * v[0] + m[4] * v[1] + m[7] * v[2],
		m[2] * v[0] + m[5] * v[1] + m[8] * v[2],
	];
	const axisOf = (k: number): [number, number, number] => [a[k], a[k + 3], a[k + 6]];
	let px: number;
	let pz: number;
	if (touching === 1) {
		const k = sides.findIndex((s) => s !== 0);
		const [nx, , nz] = inB(axisOf(k));
		const radial = Math.hypot(nx, nz);
		if (radial < 1e-6) return false;
		px = (-sides[k] * nx * radius) / radial;
		pz = (-sides[k] * nz * radius) / radial;
	} else if (touching === 2) {
		const along = inB(axisOf(sides.indexOf(0)));
		const way = inB([dx, dy, dz]);
		const corner = [0, 1, 2].map((k) => sides[k] * half[k]);
		const at = inB([
			A.x + a[0] * corner[0] + a[1] * corner[1] + a[2] * corner[2] - B.x,
			A.y + a[3] * corner[0] + a[4] * corner[1] + a[5] * corner[2] - B.y,
			A.z + a[6] * corner[0] + a[7] * corner[1] + a[8] * corner[2] - B.z,
		]);
		// The plane through the edge and its way: n · p = c. In the rim's plane that is a line.
		const nx = along[1] * way[2] - along[2] * way[1];
		const ny = along[2] * way[0] - along[0] * way[2];
		const nz = along[0] * way[1] - along[1] * way[0];
		const radial = Math.hypot(nx, nz);
		if (radial < 1e-6) return false;
		const c = (nx * at[0] + ny * (at[1] - height) + nz * at[2]) / radial;
		if (Math.abs(c) >= radius) return false;
		const [ux, uz] = [nx / radial, nz / radial];
		const chord = Math.sqrt(radius * radius - c * c) * (lz * ux - lx * uz < 0 ? -1 : 1);
		px = c * ux - chord * uz;
		pz = c * uz + chord * ux;
	} else return false;
	if (Math.hypot(px - lx, pz - lz) > near) return false;
	out[0] = B.x + m[0] * px + m[1] * height + m[2] * pz;
	out[1] = B.y + m[3] * px + m[4] * height + m[5] * pz;
	out[2] = B.z + m[6] * px + m[7] * height + m[8] * pz;
	return true;
}
