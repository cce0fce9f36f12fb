/**
 * A shape in the world, in the one form all of the geometry works on.
 *
 * A body is a rounded convex core: a point (sphere), a segment along local Y (capsule), a box, a cylinder along local Y, or a
 * cloud of points (hull); or it is a mesh. Flat shapes are the same bodies with no extent in Z, at Z = 0, so that one geometry
 * serves both kinds of scene. Scale is already in the sizes: a body is only moved and turned.
 */
import type { Hull } from './hull';
import { type Matrix, rotationOf } from './matrix';

/** Kind of a body: a ball, or a disc in flat scenes. */
export const SPHERE = 0;
/** Kind of a body: a segment with a rounding radius. */
export const CAPSULE = 1;
/** Kind of a body: a box, or a rectangle in flat scenes. */
export const BOX = 2;
/** Kind of a body: a cylinder. */
export const CYLINDER = 3;
/** Kind of a body: the convex hull of points. */
export const HULL = 4;
/** Kind of a body: triangles, a surface with no inside. */
export const MESH = 5;
/** The kind of a body. */
export type BodyKind = 0 | 1 | 2 | 3 | 4 | 5;

/** Answer of a cast whose start lies in the shape (gap ≤ `START_GAP`). */
export const INSIDE = -1;

/** What a body needs to know of a mesh; the triangles and their tree are in `space/mesh.ts`. */
export interface Surface {
	readonly bounds: Float64Array;
	readonly boundingRadius: number;
}

const IDENTITY: Matrix = rotationOf(undefined);

/** Numbers a body's data takes. */
export const BODY_SIZE = 20;

/**
 * Layout of a body's data: centre 0…2, local axes 3…11 (row order), half extents 12…14, rounding radius 15, reach 16, sweep 17…19.
 * One run of doubles a body, so that the bodies of a world can lie side by side and be walked without following pointers.
 */
export class Body {
	readonly kind: BodyKind;
	data: Float64Array;
	/** Local axes in the world: a view of the data. */
	m: Matrix;
	hull: Hull | null = null;
	mesh: Surface | null = null;

	constructor(kind: BodyKind) {
		this.kind = kind;
		this.data = new Float64Array(BODY_SIZE);
		this.m = this.data.subarray(3, 12);
		this.m.set(IDENTITY);
	}

	/** Centre in the world, metres. */
	get x(): number {
		return this.data[0];
	}
	set x(value: number) {
		this.data[0] = value;
	}
	get y(): number {
		return this.data[1];
	}
	set y(value: number) {
		this.data[1] = value;
	}
	get z(): number {
		return this.data[2];
	}
	set z(value: number) {
		this.data[2] = value;
	}
	/** Box: half extents. Capsule: hy is half the core segment. Cylinder: hx the radius, hy half the height. */
	get hx(): number {
		return this.data[12];
	}
	set hx(value: number) {
		this.data[12] = value;
	}
	get hy(): number {
		return this.data[13];
	}
	set hy(value: number) {
		this.data[13] = value;
	}
	get hz(): number {
		return this.data[14];
	}
	set hz(value: number) {
		this.data[14] = value;
	}
	/** Rounding radius around the core (sphere, capsule). */
	get r(): number {
		return this.data[15];
	}
	set r(value: number) {
		this.data[15] = value;
	}
	/** Radius around the centre that holds the body at rest. */
	get boundingRadius(): number {
		return this.data[16];
	}
	set boundingRadius(value: number) {
		this.data[16] = value;
	}
	/** Displacement along which the body is swept; zero for a body at rest. */
	get sx(): number {
		return this.data[17];
	}
	set sx(value: number) {
		this.data[17] = value;
	}
	get sy(): number {
		return this.data[18];
	}
	set sy(value: number) {
		this.data[18] = value;
	}
	get sz(): number {
		return this.data[19];
	}
	set sz(value: number) {
		this.data[19] = value;
	}

	/** A copy that can be placed and swept on its own; hulls and meshes are shared. */
	clone(): Body {
		const copy = new Body(this.kind);
		copy.data.set(this.data);
		copy.hull = this.hull;
		copy.mesh = this.mesh;
		return copy;
	}

	place(x: number, y: number, z: number, m: Matrix): this {
		this.data[0] = x;
		this.data[1] = y;
		this.data[2] = z;
		this.m.set(m);
		return this;
	}

	/** Moves the data into a larger array, as body number `index` there. */
	settle(all: Float64Array, index: number): void {
		const data = all.subarray(index * BODY_SIZE, (index + 1) * BODY_SIZE);
		data.set(this.data);
		this.data = data;
		this.m = data.subarray(3, 12);
	}
}

/** @throws RangeError for a size that is no number, or below 0 */
function sized(...sizes: number[]): void {
	for (const size of sizes) if (!(size >= 0)) throw new RangeError(`a size of ${size} m is none`);
}

/** A ball, or a disc in flat scenes. @param radius metres @throws RangeError for what is no size */
export function sphereBody(radius: number): Body {
	sized(radius);
	const body = new Body(SPHERE);
	body.r = radius;
	body.boundingRadius = radius;
	return body;
}

/** An upright capsule. @param height tip to tip, metres, never less than the diameter @throws RangeError for what is no size */
export function capsuleBody(radius: number, height: number): Body {
	sized(radius, height);
	const body = new Body(CAPSULE);
	body.r = radius;
	body.hy = Math.max(0, height / 2 - radius);
	body.boundingRadius = body.hy + radius;
	return body;
}

/** A box. @param sx full extents, metres; `sz` is 0 for a rectangle in a flat scene @throws RangeError for what is no size */
export function boxBody(sx: number, sy: number, sz: number): Body {
	sized(sx, sy, sz);
	const body = new Body(BOX);
	body.hx = sx / 2;
	body.hy = sy / 2;
	body.hz = sz / 2;
	body.boundingRadius = Math.hypot(body.hx, body.hy, body.hz);
	return body;
}

/** An upright cylinder. @param height end to end, metres @throws RangeError for what is no size */
export function cylinderBody(radius: number, height: number): Body {
	sized(radius, height);
	const body = new Body(CYLINDER);
	body.hx = radius;
	body.hy = height / 2;
	body.boundingRadius = Math.hypot(radius, height / 2);
	return body;
}

export function hullBody(hull: Hull): Body {
	const body = new Body(HULL);
	body.hull = hull;
	body.boundingRadius = hull.boundingRadius;
	return body;
}

export function meshBody(mesh: Surface): Body {
	const body = new Body(MESH);
	body.mesh = mesh;
	body.boundingRadius = mesh.boundingRadius;
	return body;
}

/**
 * Farthest point of the body's core along a world direction, relative to the body's centre, written to `out[at…at+2]`.
 * The rounding radius is left out; a sweep is included. Not for meshes.
 */
export function support(body: Body, dx: number, dy: number, dz: number, out: Float64Array, at: number): void {
	let x = 0;
	let y = 0;
	let z = 0;
	if (body.kind !== SPHERE) {
		const m = body.m;
		let lx = 0;
		let ly = 0;
		let lz = 0;
		switch (body.kind) {
			case CAPSULE: {
				ly = m[1] * dx + m[4] * dy + m[7] * dz >= 0 ? body.hy : -body.hy;
				break;
			}
			case BOX: {
				lx = m[0] * dx + m[3] * dy + m[6] * dz >= 0 ? body.hx : -body.hx;
				ly = m[1] * dx + m[4] * dy + m[7] * dz >= 0 ? body.hy : -body.hy;
				lz = m[2] * dx + m[5] * dy + m[8] * dz >= 0 ? body.hz : -body.hz;
				break;
			}
			case CYLINDER: {
				const qx = m[0] * dx + m[3] * dy + m[6] * dz;
				const qz = m[2] * dx + m[5] * dy + m[8] * dz;
				const radial = Math.sqrt(qx * qx + qz * qz);
				if (radial > 0) {
					lx = (body.hx * qx) / radial;
					lz = (body.hx * qz) / radial;
				}
				ly = m[1] * dx + m[4] * dy + m[7] * dz >= 0 ? body.hy : -body.hy;
				break;
			}
			case HULL: {
				const hull = body.hull as Hull;
				const qx = m[0] * dx + m[3] * dy + m[6] * dz;
				const qy = m[1] * dx + m[4] * dy + m[7] * dz;
				const qz = m[2] * dx + m[5] * dy + m[8] * dz;
				const i = 3 * hull.farthest(qx, qy, qz);
				lx = hull.points[i];
				ly = hull.points[i + 1];
				lz = hull.points[i + 2];
				break;
			}
		}
		x = m[0] * lx + m[1] * ly + m[2] * lz;
		y = m[3] * lx + m[4] * ly + m[5] * lz;
		z = m[6] * lx + m[7] * ly + m[8] * lz;
	}
	if (body.sx * dx + body.sy * dy + body.sz * dz > 0) {
		x += body.sx;
		y += body.sy;
		z += body.sz;
	}
	out[at] = x;
	out[at + 1] = y;
	out[at + 2] = z;
}

/** World bounds of the body at rest, `[minX, minY, minZ, maxX, maxY, maxZ]`, written to `out`. */
export function boundsOf(body: Body, out: Float64Array): void {
	const m = body.m;
	let ex = body.r;
	let ey = body.r;
	let ez = body.r;
	let cx = body.x;
	let cy = body.y;
	let cz = body.z;
	switch (body.kind) {
		case CAPSULE:
			ex += Math.abs(m[1]) * body.hy;
			ey += Math.abs(m[4]) * body.hy;
			ez += Math.abs(m[7]) * body.hy;
			break;
		case BOX:
			ex += Math.abs(m[0]) * body.hx + Math.abs(m[1]) * body.hy + Math.abs(m[2]) * body.hz;
			ey += Math.abs(m[3]) * body.hx + Math.abs(m[4]) * body.hy + Math.abs(m[5]) * body.hz;
			ez += Math.abs(m[6]) * body.hx + Math.abs(m[7]) * body.hy + Math.abs(m[8]) * body.hz;
			break;
		case CYLINDER:
			// The disc reaches r·√(1 − axis²) along each world axis.
			ex += Math.abs(m[1]) * body.hy + body.hx * Math.sqrt(Math.max(0, 1 - m[1] * m[1]));
			ey += Math.abs(m[4]) * body.hy + body.hx * Math.sqrt(Math.max(0, 1 - m[4] * m[4]));
			ez += Math.abs(m[7]) * body.hy + body.hx * Math.sqrt(Math.max(0, 1 - m[7] * m[7]));
			break;
		case HULL:
		case MESH: {
			const b = (body.hull ?? (body.mesh as Surface)).bounds;
			const lx = (b[0] + b[3]) / 2;
			const ly = (b[1] + b[4]) / 2;
			const lz = (b[2] + b[5]) / 2;
			const wx = (b[3] - b[0]) / 2;
			const wy = (b[4] - b[1]) / 2;
			const wz = (b[5] - b[2]) / 2;
			cx += m[0] * lx + m[1] * ly + m[2] * lz;
			cy += m[3] * lx + m[4] * ly + m[5] * lz;
			cz += m[6] * lx + m[7] * ly + m[8] * lz;
			ex = Math.abs(m[0]) * wx + Math.abs(m[1]) * wy + Math.abs(m[2]) * wz;
			ey = Math.abs(m[3]) * wx + Math.abs(m[4]) * wy + Math.abs(m[5]) * wz;
			ez = Math.abs(m[6]) * wx + Math.abs(m[7]) * wy + Math.abs(m[8]) * wz;
			break;
		}
	}
	out[0] = cx - ex;
	out[1] = cy - ey;
	out[2] = cz - ez;
	out[3] = cx + ex;
	out[4] = cy + ey;
	out[5] = cz + ez;
}

/** World bounds of everything a body sweeps over. */
export function sweptBoundsOf(body: Body, out: Float64Array): void {
	boundsOf(body, out);
	out[0] += Math.min(0, body.sx);
	out[1] += Math.min(0, body.sy);
	out[2] += Math.min(0, body.sz);
	out[3] += Math.max(0, body.sx);
	out[4] += Math.max(0, body.sy);
	out[5] += Math.max(0, body.sz);
}
