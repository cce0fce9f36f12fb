/** Cameras: placed and aimed in the world, whatever they hang on, and made anew. */
import { type Camera, type Project, rounded, roundedTriple, type Vec3, type World } from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import { freshId, localOf } from './objects';

type P3 = readonly [number, number, number];

const cameraIn = (draft: Project, id: string): Camera | undefined => draft.scene.cameras.find((c) => c.id === id);

/** Puts a camera at a place in the world, metres. */
export function placeCamera(draft: Project, world: World, id: string, to: P3): void {
	const camera = world.cameras.get(id);
	const target = cameraIn(draft, id);
	if (camera && target) target.position = camera.object ? localOf(camera.object, to) : roundedTriple(to, 4);
}

/** Shifts a camera by metres in the world. */
export function shiftCamera(draft: Project, world: World, id: string, [x, y, z]: P3): void {
	const at = world.cameras.get(id)?.position;
	if (at) placeCamera(draft, world, id, [at[0] + x, at[1] + y, at[2] + z]);
}

/** Turns a camera to look along a direction of the world; its roll stays. Nothing where the direction has no length. */
export function aimCamera(draft: Project, world: World, id: string, dir: P3): void {
	const camera = world.cameras.get(id);
	const target = cameraIn(draft, id);
	const length = Math.hypot(...dir);
	if (!camera || !target || length < 1e-6) return;
	const [x, y, z] = camera.object ? unturned(camera.object.rotation, ...dir) : dir;
	const [yaw, , roll] = target.rotation ?? [0, 0, 0];
	const degrees = (angle: number) => rounded((angle * 180) / Math.PI, 3);
	// Straight up and down has no yaw of its own.
	const turn = Math.hypot(x, z) < 1e-6 * length ? yaw : degrees(Math.atan2(-x, -z));
	target.rotation = [turn, degrees(Math.asin(Math.max(-1, Math.min(1, y / length)))), roll];
}

/** A new camera, on an object or by itself, that looks at the middle of things. @returns its id */
export function addCamera(draft: Project, on: string | null, flat: boolean): string {
	const { cameras } = draft.scene;
	const known = cameras.map((c) => c.id);
	let n = cameras.length + 1;
	while (known.includes(`camera-${n}`)) n++;
	const id = freshId(known, `camera-${n}`);
	const named = { id, name: `Camera ${n}`, ...(on === null ? {} : { object: on }) };
	const position: Vec3 = flat ? [0, 0, 10] : on === null ? [0, 1.6, 4] : [0, 1.6, 0];
	cameras.push(
		flat
			? { ...named, position, projection: 'orthographic', height: 2 }
			: { ...named, position, rotation: [0, on === null ? -10 : 0, 0], projection: 'perspective', fov: 60 },
	);
	return id;
}
