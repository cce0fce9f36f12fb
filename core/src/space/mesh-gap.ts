/** Gaps between meshes and other bodies. */
import { type Body, sweptBoundsOf } from '../geometry/body';
import { gap } from '../geometry/gjk';
import { segmentTriangleGap } from '../geometry/segment-gap';
import type { Mesh } from './mesh';
import { boundsInMesh, cornerBounds, Triangle, toLocalBox } from './mesh-triangle';

const triangle = new Triangle();
const worldBox = new Float64Array(6);
const localBox = new Float64Array(6);
/** A segment in a mesh's axes: start and displacement. */
const ray = new Float64Array(6);

/** Gap in metres between a convex body (its sweep included) and a mesh; `Infinity` beyond `limit` or for an empty mesh. */
export function gapToMesh(A: Body, M: Body, limit: number): number {
	const mesh = M.mesh as Mesh;
	let best = Infinity;
	boundsInMesh(A, M, localBox);
	mesh.tree.closest(localBox, limit, (t, most) => {
		const g = gap(A, triangle.set(mesh, t, M.x, M.y, M.z, M.m));
		if (g < best && g <= most) {
			best = g;
			return g;
		}
		return most;
	});
	return best;
}

/** Gap in metres between a segment, given as a swept point, and a mesh; `Infinity` for an empty one. */
export function segmentGapToMesh(segment: Body, M: Body): number {
	const { tree, corners } = M.mesh as Mesh;
	const { m } = M;
	const x = segment.x - M.x;
	const y = segment.y - M.y;
	const z = segment.z - M.z;
	const { sx, sy, sz } = segment;
	for (let k = 0; k < 3; k++) {
		ray[k] = m[k] * x + m[k + 3] * y + m[k + 6] * z;
		ray[k + 3] = m[k] * sx + m[k + 3] * sy + m[k + 6] * sz;
		localBox[k] = ray[k] + Math.min(0, ray[k + 3]);
		localBox[k + 3] = ray[k] + Math.max(0, ray[k + 3]);
	}
	let best = Infinity;
	tree.closest(localBox, Infinity, (t) => {
		best = Math.min(best, segmentTriangleGap(ray[0], ray[1], ray[2], ray[3], ray[4], ray[5], corners, 9 * t));
		return best;
	});
	return best;
}

/** Gap in metres between two meshes, given as bodies; `Infinity` beyond `limit`. */
export function gapBetweenMeshes(A: Body, M: Body, limit: number): number {
	const mesh = A.mesh as Mesh;
	const other = new Triangle();
	let best = Infinity;
	const box = new Float64Array(6);
	const whole = new Float64Array(6);
	// The other's bounds in A's axes give the order in which A's triangles are tried.
	sweptBoundsOf(M, worldBox);
	toLocalBox(worldBox, A, whole);
	mesh.tree.closest(whole, limit, (t, most) => {
		const body = other.set(mesh, t, A.x, A.y, A.z, A.m);
		cornerBounds(body, worldBox);
		toLocalBox(worldBox, M, box);
		let limitNow = most;
		const target = M.mesh as Mesh;
		target.tree.closest(box, limitNow, (u, now) => {
			const g = gap(body, triangle.set(target, u, M.x, M.y, M.z, M.m));
			if (g < best && g <= now) {
				best = g;
				limitNow = g;
				return g;
			}
			return now;
		});
		return limitNow;
	});
	return best;
}
