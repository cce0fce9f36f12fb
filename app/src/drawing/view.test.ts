import { buildWorld, projectPoint, surfaceUnder } from '@frelk/core';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { circleAround, foldedEdges, localLines, worldLines } from './outline';
import { framing, onPlane, type Pose, pathOf, polyline, rayThrough, toPixels, viewOfPose } from './view';

const quay = buildWorld(example('harl-quay'));
const desk = buildWorld(example('pursers-desk'));

const POSES: Pose[] = [
	{ mode: 'free', target: [1, 0.5, -2], yaw: 28, pitch: -32, distance: 6 },
	{ mode: 'plan', target: [1, 0.5, -2], yaw: 0, pitch: 0, distance: 6 },
	{ mode: 'side', target: [1, 0.5, -2], yaw: 0, pitch: 0, distance: 6 },
];

describe('the view of the stage', () => {
	it.each(POSES)('puts its target in the middle: $mode', (pose) => {
		const p = toPixels(viewOfPose(pose, 800, 500, false), pose.target);
		expect(p?.[0]).toBeCloseTo(400, 6);
		expect(p?.[1]).toBeCloseTo(250, 6);
	});

	it.each(POSES)('sends a ray through a pixel back to that pixel: $mode', (pose) => {
		const view = viewOfPose(pose, 800, 500, false);
		for (const pixel of [
			[10, 20],
			[400, 250],
			[777, 333],
		] as [number, number][]) {
			const { start, dir } = rayThrough(view, pixel);
			const p = toPixels(view, [start[0] + 7 * dir[0], start[1] + 7 * dir[1], start[2] + 7 * dir[2]]);
			expect(p?.[0]).toBeCloseTo(pixel[0], 6);
			expect(p?.[1]).toBeCloseTo(pixel[1], 6);
		}
	});

	it('finds the ground under a pixel', () => {
		const view = viewOfPose(POSES[0] as Pose, 800, 500, false);
		const place = onPlane(view, [300, 400], 1, 0);
		expect(place?.[1]).toBeCloseTo(0, 9);
		const back = toPixels(view, place as [number, number, number]);
		expect(back?.[0]).toBeCloseTo(300, 6);
		// Above the horizon there is no ground.
		const low = viewOfPose({ ...(POSES[0] as Pose), pitch: -1 }, 800, 500, false);
		expect(onPlane(low, [400, 10], 1, 0)).toBeNull();
	});

	it('looks north in plan and straight down in flat scenes', () => {
		const plan = viewOfPose(POSES[1] as Pose, 800, 500, false);
		const [east, north] = [toPixels(plan, [2, 0.5, -2]), toPixels(plan, [1, 0.5, -3])];
		expect(east?.[0]).toBeGreaterThan(400);
		expect(north?.[1]).toBeLessThan(250);
		const flat = viewOfPose({ ...(POSES[1] as Pose), target: [0, 0, 0] }, 800, 500, true);
		expect(toPixels(flat, [0, 1, 0])?.[1]).toBeLessThan(250);
		expect(toPixels(flat, [1, 0, 5])?.[0]).toBeGreaterThan(400);
	});

	it('cuts lines where they go behind the camera', () => {
		const view = viewOfPose({ mode: 'free', target: [0, 0, 0], yaw: 0, pitch: 0, distance: 1 }, 800, 500, false);
		const behind: [number, number, number] = [0, 0, view.camera.position[2] + 5];
		const pieces = polyline(view, [[0, 0, 0], behind, [1, 0, 0]]);
		expect(pieces).toHaveLength(2);
		for (const piece of pieces) for (const [x, y] of piece) expect(Number.isFinite(x) && Number.isFinite(y)).toBe(true);
		expect(pathOf(view, [behind, [0, 0, behind[2] + 1]])).toBe('');
		expect(
			pathOf(
				view,
				[
					[0, 0, 0],
					[1, 0, 0],
					[1, 1, 0],
				],
				true,
			).match(/[ML]/g),
		).toEqual(['M', 'L', 'L', 'L']);
	});

	it('frames a scene so that what matters is in the picture', () => {
		for (const world of [quay, desk]) {
			const view = viewOfPose(framing(world), 760, 560, world.flat);
			const out = new Float64Array(3);
			const inside = world.objects.filter((o) => {
				projectPoint(view, o.focus, out);
				return out[0] > 0 && out[0] < 760 && out[1] > 0 && out[1] < 560;
			});
			expect(inside.length / world.objects.length).toBeGreaterThan(0.85);
		}
		const empty = buildWorld({
			...example('harl-quay'),
			queries: [],
			moments: [],
			checks: [],
			scene: { ...example('harl-quay').scene, objects: [], cameras: [] },
		});
		expect(Number.isFinite(framing(empty).distance)).toBe(true);
	});
});

describe('what is under the pointer', () => {
	it('is the shape the core finds there, nearest first', () => {
		const crank = quay.objectById.get('crank');
		const view = viewOfPose(framing(quay), 760, 560, false);
		const pixel = toPixels(view, crank?.focus ?? [0, 0, 0]);
		const { start, dir } = rayThrough(view, pixel as [number, number]);
		expect(surfaceUnder(quay, start, dir, () => false)?.shape.object.id).toBe('crank');
		expect(surfaceUnder(quay, start, dir, (s) => s.object.id === 'crank')?.shape.object.id).not.toBe('crank');
		expect(surfaceUnder(quay, [0, 500, 0], [0, 1, 0], () => false)).toBeNull();
	});

	it('in a flat scene is what lies on top, also looked at slantwise', () => {
		for (const pose of [framing(desk), { ...framing(desk), mode: 'free' as const, yaw: -18, pitch: 30 }]) {
			const view = viewOfPose(pose, 760, 560, true);
			const stub = desk.objectById.get('stub-106');
			const { start, dir } = rayThrough(view, toPixels(view, stub?.position ?? [0, 0, 0]) as [number, number]);
			expect(surfaceUnder(desk, start, dir, () => false)?.shape.object.id).toBe('stub-106');
		}
	});
});

describe('outlines', () => {
	it('lie on the surface of every body', () => {
		for (const world of [quay, desk])
			for (const { body } of world.shapes) {
				const lines = worldLines(body, world.flat);
				expect(lines.length).toBeGreaterThan(0);
				for (const line of lines)
					for (const [x, y, z] of line)
						expect(Math.hypot(x - body.x, y - body.y, z - body.z)).toBeLessThanOrEqual(body.boundingRadius + 1e-9);
			}
	});

	it('of flat figures are one closed line', () => {
		for (const { body } of desk.shapes) {
			const lines = localLines(body, true);
			expect(lines).toHaveLength(1);
			const line = lines[0] ?? [];
			const [first, last] = [line[0], line[line.length - 1]];
			expect(Math.hypot((first?.[0] ?? 0) - (last?.[0] ?? 9), (first?.[1] ?? 0) - (last?.[1] ?? 9))).toBeLessThan(1e-9);
		}
	});

	it('leave out the diagonals of flat faces', () => {
		// A square pyramid: four sides and a base of two triangles.
		const points = [0, 0, 0, 1, 0, 0, 1, 0, 1, 0, 0, 1, 0.5, 1, 0.5];
		const triangles = [0, 1, 2, 0, 2, 3, 0, 4, 1, 1, 4, 2, 2, 4, 3, 3, 4, 0];
		expect(foldedEdges(points, triangles)).toHaveLength(8);
		// An open sheet keeps its rim.
		expect(foldedEdges([0, 0, 0, 1, 0, 0, 1, 0, 1], [0, 1, 2])).toHaveLength(3);
	});

	it('of a range is a circle in the plane that matters', () => {
		for (const [x, y, z] of circleAround([1, 2, 3], 2, false)) {
			expect(y).toBe(2);
			expect(Math.hypot(x - 1, z - 3)).toBeCloseTo(2, 9);
		}
		for (const [, , z] of circleAround([1, 2, 3], 2, true)) expect(z).toBe(3);
	});
});
