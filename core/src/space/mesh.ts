/** A mesh: two-sided triangles with a tree over them. A surface with no inside. */
import type { Body, Surface } from '../geometry/body';
import { nearestOnTriangle } from '../geometry/nearest-point';
import { inverse, MAX_DEPTH, Tree } from './tree';

const LEAF = 4;
/** Squared area against the fourth power of the longest edge, under which a triangle has no area but for rounding. */
const NO_AREA = 1e-26;

/** Triangles in the axes of their shape, with a tree over them. */
export class Mesh implements Surface {
	readonly bounds: Float64Array;
	readonly boundingRadius: number;
	/** Corner positions, nine numbers a triangle, in the order of the tree's leaves: a walk reads them front to back. */
	readonly corners: Float64Array;
	readonly tree: Tree;

	/**
	 * @param vertices x, y, z of each corner, in the shape's axes, scale applied
	 * @param triangles three corner indices each; triangles without area are left out
	 * @throws RangeError for lists that are not of threes, a coordinate that is no number and a corner that is not there
	 */
	constructor(vertices: ArrayLike<number>, triangles: ArrayLike<number>) {
		if (vertices.length % 3 !== 0) throw new RangeError(`${vertices.length} coordinates are not three a corner`);
		if (triangles.length % 3 !== 0) throw new RangeError(`${triangles.length} corners are not three a triangle`);
		for (let i = 0; i < vertices.length; i++)
			if (!Number.isFinite(vertices[i])) throw new RangeError(`coordinate ${i} is ${vertices[i]}`);
		for (let i = 0; i < triangles.length; i++)
			if (!(triangles[i] >= 0 && triangles[i] < vertices.length / 3))
				throw new RangeError(`corner ${triangles[i]} of triangle ${Math.floor(i / 3)} is not there`);
		const kept = new Uint32Array(Math.floor(triangles.length / 3));
		let n = 0;
		let boundingRadius = 0;
		for (let i = 0; i + 2 < triangles.length; i += 3) {
			const a = 3 * triangles[i];
			const b = 3 * triangles[i + 1];
			const c = 3 * triangles[i + 2];
			const ux = vertices[b] - vertices[a];
			const uy = vertices[b + 1] - vertices[a + 1];
			const uz = vertices[b + 2] - vertices[a + 2];
			const wx = vertices[c] - vertices[a];
			const wy = vertices[c + 1] - vertices[a + 1];
			const wz = vertices[c + 2] - vertices[a + 2];
			const nx = uy * wz - uz * wy;
			const ny = uz * wx - ux * wz;
			const nz = ux * wy - uy * wx;
			const longest = Math.max(
				ux * ux + uy * uy + uz * uz,
				wx * wx + wy * wy + wz * wz,
				(wx - ux) ** 2 + (wy - uy) ** 2 + (wz - uz) ** 2,
			);
			if (nx * nx + ny * ny + nz * nz > NO_AREA * longest * longest) kept[n++] = i;
		}
		const boxes = new Float64Array(6 * n);
		for (let t = 0; t < n; t++) {
			for (let k = 0; k < 3; k++) {
				const a = vertices[3 * triangles[kept[t]] + k];
				const b = vertices[3 * triangles[kept[t] + 1] + k];
				const c = vertices[3 * triangles[kept[t] + 2] + k];
				boxes[6 * t + k] = Math.min(a, b, c);
				boxes[6 * t + 3 + k] = Math.max(a, b, c);
			}
		}
		this.tree = new Tree(boxes, LEAF, 2.5);
		this.corners = new Float64Array(9 * n);
		const { order } = this.tree;
		const bounds = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
		for (let t = 0; t < n; t++) {
			const source = kept[order[t]];
			for (let c = 0; c < 3; c++) {
				const v = 3 * triangles[source + c];
				const q = 9 * t + 3 * c;
				for (let k = 0; k < 3; k++) {
					const value = vertices[v + k];
					this.corners[q + k] = value;
					if (value < bounds[k]) bounds[k] = value;
					if (value > bounds[k + 3]) bounds[k + 3] = value;
				}
				const away = vertices[v] ** 2 + vertices[v + 1] ** 2 + vertices[v + 2] ** 2;
				if (away > boundingRadius) boundingRadius = away;
			}
			order[t] = t;
		}
		if (n === 0) bounds.fill(0);
		this.bounds = bounds;
		this.boundingRadius = Math.sqrt(boundingRadius);
	}

	get count(): number {
		return this.corners.length / 9;
	}

	/**
	 * First hit of a ray given in the mesh's axes.
	 * @param after hits at this distance or nearer do not count
	 * @returns the distance, or `Infinity`; the triangle is in `lastTriangle`
	 */
	castRay(x: number, y: number, z: number, dx: number, dy: number, dz: number, after: number, length: number): number {
		lastTriangle = -1;
		const { boxes, links, origin } = this.tree;
		const p = this.corners;
		if (p.length === 0) return Infinity;
		// Watertight shear of Woop, Benthin and Wald (2013): edges shared by two triangles are never slipped through.
		const kz =
			Math.abs(dx) > Math.abs(dy) ? (Math.abs(dx) > Math.abs(dz) ? 0 : 2) : Math.abs(dy) > Math.abs(dz) ? 1 : 2;
		const major = kz === 0 ? dx : kz === 1 ? dy : dz;
		const kx = (kz + (major < 0 ? 2 : 1)) % 3;
		const ky = (kz + (major < 0 ? 1 : 2)) % 3;
		const shearX = (kx === 0 ? dx : kx === 1 ? dy : dz) / major;
		const shearY = (ky === 0 ? dx : ky === 1 ? dy : dz) / major;
		const startX = kx === 0 ? x : kx === 1 ? y : z;
		const startY = ky === 0 ? x : ky === 1 ? y : z;
		const startZ = kz === 0 ? x : kz === 1 ? y : z;
		const ox = x - origin[0];
		const oy = y - origin[1];
		const oz = z - origin[2];
		const ix = inverse(dx);
		const iy = inverse(dy);
		const iz = inverse(dz);
		const nx = ix > 0 ? 0 : 3;
		const ny = iy > 0 ? 0 : 3;
		const nz = iz > 0 ? 0 : 3;
		let best = Infinity;
		let limit = length;
		let top = 0;
		let node = 0;
		for (;;) {
			if (node < 0) {
				if (top === 0) break;
				top--;
				if (entries[top] > limit) continue;
				node = stack[top];
			}
			const n = links[8 * node + 7] & 255;
			if (n === 0) {
				// Both children's boxes, written out: this is where the time of a ray goes. Which side of each comparison comes out
				// cannot be foreseen, so they are gathered as bits; a branch for each would be mispredicted half of the time.
				const l = node + 1;
				const r = links[8 * node + 6];
				let q = 8 * l;
				const lx0 = (boxes[q + nx] - ox) * ix;
				const lx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ly0 = (boxes[q + 1 + ny] - oy) * iy;
				const ly1 = (boxes[q + 4 - ny] - oy) * iy;
				const lz0 = (boxes[q + 2 + nz] - oz) * iz;
				const lz1 = (boxes[q + 5 - nz] - oz) * iz;
				const left =
					+(lx0 <= ly1) &
					+(lx0 <= lz1) &
					+(ly0 <= lx1) &
					+(ly0 <= lz1) &
					+(lz0 <= lx1) &
					+(lz0 <= ly1) &
					+(lx0 <= limit) &
					+(ly0 <= limit) &
					+(lz0 <= limit) &
					+(lx1 >= 0) &
					+(ly1 >= 0) &
					+(lz1 >= 0);
				q = 8 * r;
				const rx0 = (boxes[q + nx] - ox) * ix;
				const rx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ry0 = (boxes[q + 1 + ny] - oy) * iy;
				const ry1 = (boxes[q + 4 - ny] - oy) * iy;
				const rz0 = (boxes[q + 2 + nz] - oz) * iz;
				const rz1 = (boxes[q + 5 - nz] - oz) * iz;
				const right =
					+(rx0 <= ry1) &
					+(rx0 <= rz1) &
					+(ry0 <= rx1) &
					+(ry0 <= rz1) &
					+(rz0 <= rx1) &
					+(rz0 <= ry1) &
					+(rx0 <= limit) &
					+(ry0 <= limit) &
					+(rz0 <= limit) &
					+(rx1 >= 0) &
					+(ry1 >= 0) &
					+(rz1 >= 0);
				if ((left & right) === 1) {
					// The child on the near side of the cut goes on; the other waits, with a bound below which it cannot be entered.
					const axis = links[8 * node + 7] >> 8;
					const leftFirst = axis === 0 ? nx === 0 : axis === 1 ? ny === 0 : nz === 0;
					stack[top] = leftFirst ? r : l;
					entries[top++] = leftFirst
						? axis === 0
							? rx0
							: axis === 1
								? ry0
								: rz0
						: axis === 0
							? lx0
							: axis === 1
								? ly0
								: lz0;
					node = leftFirst ? l : r;
				} else node = left === 1 ? l : right === 1 ? r : -1;
				continue;
			}
			const first = ~links[8 * node + 6];
			node = -1;
			for (let t = first; t < first + n; t++) {
				const q = 9 * t;
				const az = p[q + kz] - startZ;
				const bz = p[q + 3 + kz] - startZ;
				const cz = p[q + 6 + kz] - startZ;
				const ax = p[q + kx] - startX - shearX * az;
				const ay = p[q + ky] - startY - shearY * az;
				const bx = p[q + 3 + kx] - startX - shearX * bz;
				const by = p[q + 3 + ky] - startY - shearY * bz;
				const cx = p[q + 6 + kx] - startX - shearX * cz;
				const cy = p[q + 6 + ky] - startY - shearY * cz;
				const u = cx * by - cy * bx;
				const v = ax * cy - ay * cx;
				const w = bx * ay - by * ax;
				if ((u < 0 || v < 0 || w < 0) && (u > 0 || v > 0 || w > 0)) continue;
				const det = u + v + w;
				// A line in the triangle's plane misses it; in the plane but for rounding counts as in it.
				const size = Math.abs(ax) + Math.abs(bx) + Math.abs(cx) + Math.abs(ay) + Math.abs(by) + Math.abs(cy);
				if (det === 0 || (Math.abs(det) <= 1e-14 * size * size && this.inPlane(t, dx, dy, dz))) continue;
				const distance = (u * az + v * bz + w * cz) / (det * major);
				if (distance > after && distance < best && distance <= limit) {
					best = distance;
					limit = distance;
					lastTriangle = t;
				}
			}
		}
		return best;
	}

	/** Whether a direction lies in the plane of a triangle, to rounding. */
	private inPlane(triangle: number, dx: number, dy: number, dz: number): boolean {
		this.normal(triangle, spot);
		return Math.abs(spot[0] * dx + spot[1] * dy + spot[2] * dz) <= 1e-14;
	}

	/** Unit normal of a triangle, in the mesh's axes. */
	normal(triangle: number, out: Float64Array): void {
		const p = this.corners;
		const q = 9 * triangle;
		const ux = p[q + 3] - p[q];
		const uy = p[q + 4] - p[q + 1];
		const uz = p[q + 5] - p[q + 2];
		const wx = p[q + 6] - p[q];
		const wy = p[q + 7] - p[q + 1];
		const wz = p[q + 8] - p[q + 2];
		const nx = uy * wz - uz * wy;
		const ny = uz * wx - ux * wz;
		const nz = ux * wy - uy * wx;
		const length = Math.hypot(nx, ny, nz);
		out[0] = nx / length;
		out[1] = ny / length;
		out[2] = nz / length;
	}

	/** Nearest point of the surface to a point, both in the mesh's axes; @returns the distance, or `Infinity` beyond `limit`. */
	nearestPoint(x: number, y: number, z: number, limit: number, out: Float64Array): number {
		pointBox[0] = pointBox[3] = x;
		pointBox[1] = pointBox[4] = y;
		pointBox[2] = pointBox[5] = z;
		let best = Infinity;
		this.tree.closest(pointBox, limit, (t, most) => {
			const d = nearestOnTriangle(this.corners, 9 * t, x, y, z, spot);
			if (d < best && d <= most) {
				best = d;
				out.set(spot);
				return d;
			}
			return most;
		});
		return best;
	}
}

/** Nodes still to be walked by `Mesh.castRay`, and where the ray enters them. */
const stack = new Int32Array(MAX_DEPTH + 1);
const entries = new Float64Array(MAX_DEPTH + 1);
const pointBox = new Float64Array(6);
const spot = new Float64Array(3);

/** Triangle found by the last `Mesh.castRay`. */
export let lastTriangle = -1;

/** Gap between a world point and a mesh body, up to `limit`. */
export function pointToMesh(x: number, y: number, z: number, M: Body, limit: number, out: Float64Array): number {
	const m = M.m;
	const lx = x - M.x;
	const ly = y - M.y;
	const lz = z - M.z;
	const d = (M.mesh as Mesh).nearestPoint(
		m[0] * lx + m[3] * ly + m[6] * lz,
		m[1] * lx + m[4] * ly + m[7] * lz,
		m[2] * lx + m[5] * ly + m[8] * lz,
		limit,
		out,
	);
	if (d === Infinity) return d;
	const [qx, qy, qz] = [out[0], out[1], out[2]];
	out[0] = M.x + m[0] * qx + m[1] * qy + m[2] * qz;
	out[1] = M.y + m[3] * qx + m[4] * qy + m[5] * qz;
	out[2] = M.z + m[6] * qx + m[7] * qy + m[8] * qz;
	return d;
}
