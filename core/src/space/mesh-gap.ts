/** Gaps between meshes and other bodies. */
import { type Body, sweptBoundsOf } from '../geometry/body';
import { gap } from '../geometry/gjk';
import type { Mesh } from './mesh';
import { boundsInMesh, cornerBounds, Triangle, toLocalBox } from './mesh-triangle';

const triangle = new Triangle();
const worldBox = new Float64Array(6);
const localBox = new Float64Array(6);

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
