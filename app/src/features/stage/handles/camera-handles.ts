/** Handles of a camera in hand: where it stands, how high, and what it looks at. */
import { cursorRay, type Project, surfaceUnder, type Vec3, viewOf, type World, type WorldCamera } from '@frelk/core';
import { turned } from '@frelk/core/geometry';
import type { P3 } from '../../../drawing/view';
import { aimCamera, placeCamera } from '../../edit/cameras';
import { type Handle, type PointHandle, plus } from './handles';

/** Where nothing is met it looks at a place so far ahead, metres. */
const AHEAD = 4;
/** The height of a place is pulled by a stalk so long, metres. */
const STALK = 0.4;

/** What a camera looks at: the surface in the middle of its picture, or a place ahead. What it hangs on is not in its way. */
export function lookedAt(world: World, camera: WorldCamera): Vec3 {
	const { start, dir } = cursorRay(viewOf(camera, [2, 2], [1, 1]), world.flat);
	const surface = surfaceUnder(
		world,
		start,
		dir,
		(s) => s.object === camera.object || s.sensor,
		(z) => z,
	);
	const far = surface ? Math.hypot(...surface.point.map((v, k) => v - start[k])) : Infinity;
	const ahead = turned(camera.rotation, 0, 0, -1);
	return far <= camera.far && surface ? surface.point : (plus(camera.position, ahead, AHEAD) as Vec3);
}

export function cameraHandles(world: World, camera: WorldCamera): Handle[] {
	const { id, def, position } = camera;
	const name = def.name ?? id;
	const { flat } = world;
	const place: PointHandle = {
		kind: 'point',
		id: 'camera-place',
		label: `Place of ${name}`,
		at: position,
		of: 'object',
		step: flat ? 0.01 : 0.1,
		grid: flat ? 0.01 : 0.05,
		axis: flat ? 2 : 1,
		set: (draft, at) => placeCamera(draft, world, id, at),
	};
	if (flat) return [place];
	const target = lookedAt(world, camera);
	const aim = (at: P3): Vec3 => [at[0] - position[0], at[1] - position[1], at[2] - position[2]];
	const upright = (part: string, label: string, foot: P3, set: (draft: Project, y: number) => void): Handle => ({
		kind: 'line',
		id: part,
		label,
		at: plus(foot, [0, STALK, 0]),
		of: 'object',
		step: 0.05,
		grid: 0.05,
		origin: [foot[0], STALK, foot[2]],
		dir: [0, 1, 0],
		per: 1,
		value: foot[1],
		min: -1000,
		unit: 'm',
		set,
	});
	return [
		place,
		upright('camera-height', `Height of ${name}`, position, (draft, y) =>
			placeCamera(draft, world, id, [position[0], y, position[2]]),
		),
		{
			...place,
			id: 'camera-aim',
			label: `What ${name} looks at`,
			at: target,
			set: (draft: Project, at: Vec3) => aimCamera(draft, world, id, aim(at)),
		},
		upright('camera-aim-height', `Height ${name} looks at`, target, (draft, y) =>
			aimCamera(draft, world, id, aim([target[0], y, target[2]])),
		),
	];
}
