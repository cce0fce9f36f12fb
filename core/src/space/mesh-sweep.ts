/** Convex bodies moved along a line against meshes. */
import { type Body, INSIDE } from '../geometry/body';
import { contactNearCentre } from '../geometry/contact';
import { gap } from '../geometry/gjk';
import { nearestOnTriangle } from '../geometry/nearest-point';
import { castSweep, contact } from '../geometry/sweep';
import { START_GAP } from '../geometry/tolerances';
import type { Mesh } from './mesh';
import { boundsInMesh, Triangle } from './mesh-triangle';

const triangle = new Triangle();
const localBox = new Float64Array(6);
const spot = new Float64Array(3);

/** What `castSweepToMesh` found. */
interface MeshTouch {
	/** Travel to the first touch, or `Infinity`. */
	travel: number;
	point: [number, number, number];
	normal: [number, number, number];
	/** Whether any triangle overlapped the body at the start. */
	startsInside: boolean;
	/** Nearest point to the body's centre of the triangles it overlapped at the start. */
	startPoint: [number, number, number];
}

/**
 * A convex body moved along a line until it touches a mesh. Triangles it overlaps at the start (gap ≤ 1e-6), and all triangles
 * level with such a one, are left out.
 */
export function castSweepToMesh(A: Body, dx: number, dy: number, dz: number, length: number, M: Body): MeshTouch {
	const mesh = M.mesh as Mesh;
	const result: MeshTouch = {
		travel: Infinity,
		point: [0, 0, 0],
		normal: [0, 0, 0],
		startsInside: false,
		startPoint: [0, 0, 0],
	};
	const place = (t: number) => triangle.set(mesh, t, M.x, M.y, M.z, M.m);
	// The moving box in the mesh's axes: its extents and the way it goes.
	boundsInMesh(A, M, localBox);
	const ex = (localBox[3] - localBox[0]) / 2;
	const ey = (localBox[4] - localBox[1]) / 2;
	const ez = (localBox[5] - localBox[2]) / 2;
	const cx = (localBox[0] + localBox[3]) / 2;
	const cy = (localBox[1] + localBox[4]) / 2;
	const cz = (localBox[2] + localBox[5]) / 2;
	const m = M.m;
	const qx = m[0] * dx + m[3] * dy + m[6] * dz;
	const qy = m[1] * dx + m[4] * dy + m[7] * dz;
	const qz = m[2] * dx + m[5] * dy + m[8] * dz;

	const planes: number[] = [];
	const overlapped = new Set<number>();
	let nearestStart = Infinity;
	mesh.tree.overlap(localBox.slice(), (t) => {
		if (gap(A, place(t)) > START_GAP) return;
		overlapped.add(t);
		mesh.normal(t, spot);
		const p = mesh.corners;
		const q = 9 * t;
		const d = spot[0] * p[q] + spot[1] * p[q + 1] + spot[2] * p[q + 2];
		let known = false;
		for (let i = 0; i < planes.length; i += 4) {
			const turn =
				Math.abs(planes[i] - spot[0]) + Math.abs(planes[i + 1] - spot[1]) + Math.abs(planes[i + 2] - spot[2]);
			if (turn < 1e-15 && planes[i + 3] === d) known = true;
		}
		if (!known) planes.push(spot[0], spot[1], spot[2], d);
		const lx = A.x - M.x;
		const ly = A.y - M.y;
		const lz = A.z - M.z;
		const distance = nearestOnTriangle(
			p,
			q,
			m[0] * lx + m[3] * ly + m[6] * lz,
			m[1] * lx + m[4] * ly + m[7] * lz,
			m[2] * lx + m[5] * ly + m[8] * lz,
			spot,
		);
		if (distance < nearestStart) {
			nearestStart = distance;
			result.startPoint = [
				M.x + m[0] * spot[0] + m[1] * spot[1] + m[2] * spot[2],
				M.y + m[3] * spot[0] + m[4] * spot[1] + m[5] * spot[2],
				M.z + m[6] * spot[0] + m[7] * spot[1] + m[8] * spot[2],
			];
		}
	});
	result.startsInside = overlapped.size > 0;
	const skipped = (t: number): boolean => {
		if (overlapped.has(t)) return true;
		const p = mesh.corners;
		const q = 9 * t;
		for (let i = 0; i < planes.length; i += 4) {
			let level = true;
			for (let k = 0; k < 9 && level; k += 3) {
				const h = planes[i] * p[q + k] + planes[i + 1] * p[q + k + 1] + planes[i + 2] * p[q + k + 2] - planes[i + 3];
				level = Math.abs(h) <= START_GAP;
			}
			if (level) return true;
		}
		return false;
	};

	let centreDistance = Infinity;
	mesh.tree.walk(cx, cy, cz, qx, qy, qz, length, ex, ey, ez, (t, limit) => {
		if (skipped(t)) return limit;
		const body = place(t);
		const travel = castSweep(A, dx, dy, dz, limit, body);
		if (travel === Infinity || travel === INSIDE || travel > result.travel + LEVEL) return limit;
		contactNearCentre(A, dx, dy, dz, travel, body, spot);
		const away = Math.hypot(
			spot[0] - (A.x + travel * dx),
			spot[1] - (A.y + travel * dy),
			spot[2] - (A.z + travel * dz),
		);
		// Triangles touched together: the point nearest to the centre counts.
		if (travel < result.travel - LEVEL || away < centreDistance) {
			centreDistance = away;
			result.point = [spot[0], spot[1], spot[2]];
			result.normal = [contact.nx, contact.ny, contact.nz];
		}
		result.travel = Math.min(result.travel, travel);
		return Math.min(limit, result.travel + LEVEL);
	});
	return result;
}

/** Touches closer together than this along the way are one. */
const LEVEL = 1e-9;
