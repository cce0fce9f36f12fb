/** Bodies swept against meshes: contacts worked out by hand, and held against both bodies wherever the scene is turned. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Body, boxBody, capsuleBody, meshBody, sphereBody } from '../geometry/body';
import { multiply, rotationOf, turned } from '../geometry/matrix';
import { nearestPoint } from '../geometry/nearest-point';
import { dice } from '../tests/random';
import { runs } from '../tests/runs';
import { hit, nearestOn, sweepOn } from './cast';
import { Mesh } from './mesh';

const STILL = rotationOf([0, 0, 0]);
const at = (body: Body, x: number, y: number, z: number): Body => body.place(x, y, z, STILL);
/** One triangle in the plane y = z, a slope of 45°, and one level at y = 0. */
const slope = at(meshBody(new Mesh([-5, -5, -5, 5, -5, -5, 0, 5, 5], [0, 1, 2])), 0, 0, 0);
const floor = at(meshBody(new Mesh([-4, 0, -4, 4, 0, -4, 0, 0, 4], [0, 1, 2])), 0, 0, 0);

function fall(body: Body, onto: Body): { travel: number; point: number[]; normal: number[] } {
	const travel = sweepOn(body, 0, -1, 0, 20, onto, false);
	return { travel, point: [...hit.point], normal: [...hit.normal] };
}

const close = (got: number[], wanted: number[], digits = 8) => {
	for (const [k, v] of wanted.entries()) expect(got[k], `${got} against ${wanted}`).toBeCloseTo(v, digits);
};

describe('a body that falls on a mesh', () => {
	const half = Math.SQRT1_2;

	it('touches a slope where the slope faces it, not straight below', () => {
		const { travel, point, normal } = fall(at(sphereBody(0.5), 0, 4, 0), slope);
		expect(travel).toBeCloseTo(4 - 0.5 * Math.SQRT2, 9);
		// The middle comes to rest half a metre off the plane: the contact lies that far along the normal below it.
		close(normal, [0, half, -half]);
		close(point, [0, 0.5 * Math.SQRT2 - 0.5 * half, 0.5 * half]);
	});

	it('touches with the lower end of a capsule', () => {
		const { travel, point, normal } = fall(at(capsuleBody(0.25, 2), 1, 5, 0), slope);
		expect(travel).toBeCloseTo(5 - 0.75 - 0.25 * Math.SQRT2, 9);
		close(normal, [0, half, -half]);
		close(point, [1, 0.25 * Math.SQRT2 - 0.25 * half, 0.25 * half]);
	});

	it('touches a slope with an edge of a box, at the middle of that edge', () => {
		const { travel, point } = fall(at(boxBody(1, 1, 1), 0.5, 4, 0), slope);
		// The lower edge at z = 0.5 meets the plane at y = 0.5.
		expect(travel).toBeCloseTo(4 - 0.5 - 0.5, 9);
		close(point, [0.5, 0.5, 0.5]);
	});

	it('lands level, and of all that touches the point nearest to its middle counts', () => {
		const under = fall(at(boxBody(1, 1, 1), 0.25, 3, -1), floor);
		expect(under.travel).toBeCloseTo(2.5, 9);
		close(under.point, [0.25, 0, -1]);
		close(under.normal, [0, 1, 0]);
		// Its middle beyond the floor's edge at z = −4: the nearest point of the strip that touches lies on that edge.
		const over = fall(at(boxBody(1, 1, 1), 0.25, 3, -4.3), floor);
		expect(over.travel).toBeCloseTo(2.5, 9);
		close(over.point, [0.25, 0, -4], 6);
	});

	it('touches an edge and a corner of the mesh, and passes what it does not reach', () => {
		const edge = fall(at(sphereBody(0.5), 0, 3, -4.3), floor);
		expect(edge.travel).toBeCloseTo(3 - 0.4, 9);
		close(edge.point, [0, 0, -4]);
		close(edge.normal, [0, 0.8, -0.6]);
		const corner = fall(at(sphereBody(0.5), 4.3, 3, -4), floor);
		expect(corner.travel).toBeCloseTo(3 - 0.4, 9);
		close(corner.point, [4, 0, -4]);
		expect(fall(at(sphereBody(0.5), 0, 3, -4.51), floor).travel).toBe(Number.POSITIVE_INFINITY);
	});
});

describe('a contact with a mesh', () => {
	const onto = new Float64Array(3);

	it('lies on both, and turns with the scene', () => {
		let touched = 0;
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 2 ** 31 }), (seed) => {
				const d = dice(seed);
				const body = d.body(1, ['sphere', 'capsule', 'box']);
				const mesh = d.body(3, ['mesh']);
				const from = d.direction().map((v) => 5 * v) as [number, number, number];
				const way = from.map((v) => -v / 5) as [number, number, number];
				const [own, other] = [body.m, mesh.m];
				const scene = rotationOf([d.between(-180, 180), d.between(-90, 90), d.between(-180, 180)]);
				const seen: { travel: number; point: number[] }[] = [];
				for (const R of [STILL, scene]) {
					const start = turned(R, ...from);
					const dir = turned(R, ...way);
					body.place(...start, multiply(R, own));
					mesh.place(0, 0, 0, multiply(R, other));
					const travel = sweepOn(body, ...dir, 10, mesh, false);
					if (travel === Number.POSITIVE_INFINITY) continue;
					const [x, y, z] = hit.point as unknown as [number, number, number];
					expect(nearestOn(mesh, x, y, z, onto)).toBeLessThan(1e-7);
					expect(nearestPoint(body, x - travel * dir[0], y - travel * dir[1], z - travel * dir[2], onto)).toBeLessThan(
						1e-7,
					);
					seen.push({
						travel,
						point: [
							x * R[0] + y * R[3] + z * R[6],
							x * R[1] + y * R[4] + z * R[7],
							x * R[2] + y * R[5] + z * R[8],
						] as number[],
					});
				}
				const [first, second] = seen;
				if (!first || !second) return;
				touched++;
				expect(second.travel).toBeCloseTo(first.travel, 8);
				close(second.point, first.point, 6);
			}),
			{ numRuns: runs(600) },
		);
		expect(touched).toBeGreaterThan(runs(200));
	});
});
