/** How the stage looks at the scene, in the core's own terms: a camera, a picture size, and the way from points to pixels. */
import { cursorRay, projectPoint, type View, type World, type WorldCamera } from '@frelk/core';
import { rotationOf, turned } from '@frelk/core/geometry';

export type StageMode = 'free' | 'plan' | 'side' | 'through';

export interface Pose {
	mode: StageMode;
	target: [number, number, number];
	yaw: number;
	pitch: number;
	/** Metres from the target (free), or from the middle to the upper edge (plan, side). */
	distance: number;
}

export type P2 = [number, number];
export type P3 = readonly [number, number, number];

/** Farther away no scene is looked at, metres. */
const FARTHEST = 2e7;

/** Half of the free view's opening, as a tangent. */
const FREE_HALF = Math.tan((36 * Math.PI) / 360);

function cameraAt(position: [number, number, number], rotation: Float64Array, far: number): WorldCamera {
	return {
		id: 'stage',
		def: { id: 'stage', position, projection: 'perspective', fov: 36 },
		object: null,
		position,
		rotation,
		far,
	};
}

/** The stage's view for a pose and a picture of w × h pixels. */
export function viewOfPose(pose: Pose, w: number, h: number, flat: boolean): View {
	const upright = flat ? { plan: [0, 0, 0], side: [0, -60, 0] } : { plan: [0, -90, 0], side: [0, 0, 0] };
	const angles = pose.mode === 'free' || pose.mode === 'through' ? [pose.yaw, pose.pitch, 0] : upright[pose.mode];
	const rotation = rotationOf(angles as [number, number, number]);
	const perspective = pose.mode === 'free' && !flat;
	const forward = turned(rotation, 0, 0, -1);
	const back = perspective ? pose.distance / FREE_HALF : Math.max(500, 20 * pose.distance);
	const position: [number, number, number] = [
		pose.target[0] - back * forward[0],
		pose.target[1] - back * forward[1],
		pose.target[2] - back * forward[2],
	];
	return {
		camera: cameraAt(position, rotation, 4000 + 20 * pose.distance),
		width: w,
		height: h,
		cursor: [w / 2, h / 2],
		half: perspective ? FREE_HALF : pose.distance,
		perspective,
	};
}

/** Two opposite corners, metres in the world. */
export interface Extent {
	low: [number, number, number];
	high: [number, number, number];
}

/** The room a picture has, CSS pixels; `free` is what nothing lies over, from its left edge. */
interface Room {
	w: number;
	h: number;
	free?: number;
}

/** How much of the room is filled. */
const FILLED = 0.88;
const HOME: Extent = { low: [-2, 0, -2], high: [2, 2, 2] };

/** The extent of shapes of the world; null where there is none. @param wanted all of them where left out */
export function extentOfShapes(world: World, wanted?: (shape: World['shapes'][number]) => boolean): Extent | null {
	const b = world.bounds();
	const low: Extent['low'] = [Infinity, Infinity, Infinity];
	const high: Extent['high'] = [-Infinity, -Infinity, -Infinity];
	for (const shape of world.shapes) {
		if (wanted && !wanted(shape)) continue;
		for (let k = 0; k < 3; k++) {
			low[k] = Math.min(low[k], b[6 * shape.index + k]);
			high[k] = Math.max(high[k], b[6 * shape.index + k + 3]);
		}
	}
	return low[0] === Infinity ? null : { low, high };
}

/** A pose, turned as it is, from which an extent fills the room. */
export function fitted(pose: Pose, { low, high }: Extent, { w, h, free = w }: Room, flat: boolean): Pose {
	const corners = Array.from(
		{ length: 8 },
		(_, i): P3 => [(i & 1 ? high : low)[0], (i & 2 ? high : low)[1], (i & 4 ? high : low)[2]],
	);
	const { camera, perspective } = viewOfPose(pose, w, h, flat);
	const m = camera.rotation;
	const aspect = Math.max(0.1, free / h);
	let target = low.map((v, k) => (v + high[k]) / 2) as Pose['target'];
	let distance = pose.distance;
	const least = flat ? 0.05 : 0.6;
	// What is near looks larger: the middle of the picture is found by looking, twice.
	for (let round = 0; round < 3; round++) {
		const seen = corners.map(([x, y, z]) => {
			const [a, b, c] = [x - target[0], y - target[1], z - target[2]];
			return {
				x: m[0] * a + m[3] * b + m[6] * c,
				y: m[1] * a + m[4] * b + m[7] * c,
				z: -(m[2] * a + m[5] * b + m[8] * c),
			};
		});
		distance = Math.max(
			least,
			...seen.map((p) => {
				const half = Math.max(Math.abs(p.y), Math.abs(p.x) / aspect) / FILLED;
				return perspective ? half - p.z * FREE_HALF : half;
			}),
		);
		const scale = (p: { z: number }) =>
			perspective ? distance / Math.max(distance * 0.05, distance + p.z * FREE_HALF) : 1;
		const xs = seen.map((p) => p.x * scale(p));
		const ys = seen.map((p) => p.y * scale(p));
		const [mx, my] = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2];
		target = target.map((v, k) => v + mx * m[3 * k] + my * m[3 * k + 1]) as Pose['target'];
	}
	// The free part lies left of the middle.
	const shift = ((w - free) / h) * distance;
	target = target.map((v, k) => v + shift * m[3 * k]) as Pose['target'];
	return { ...pose, target, distance: Math.min(FARTHEST, distance) };
}

/** How a scene is first looked at. */
const firstPose = (flat: boolean): Pose =>
	flat
		? { mode: 'plan', target: [0, 0, 0], yaw: 0, pitch: -60, distance: 1 }
		: { mode: 'free', target: [0, 0.8, 0], yaw: 28, pitch: -32, distance: 4 };

/** A pose that shows the whole scene, however large. */
export const framing = (world: World, room: Room = { w: 900, h: 640 }, pose = firstPose(world.flat)): Pose =>
	fitted(pose, extentOfShapes(world) ?? HOME, room, world.flat);

/** The same for views that show the same picture, wherever a cursor lies in it. Cameras are moved in place: to be told from what it was, a view has to be asked before. */
export const pictureKey = ({ width, height, half, perspective, camera }: View): string =>
	`${width} ${height} ${half} ${perspective} ${camera.position.join()} ${camera.rotation.join()}`;

const out = new Float64Array(3);

/** A world point in pixels, or null behind the camera. */
export function toPixels(view: View, p: P3): P2 | null {
	projectPoint(view, p as [number, number, number], out);
	if (view.perspective && out[2] <= 0.02) return null;
	return [out[0], out[1]];
}

/** Pieces of a polyline in pixels, cut where it goes behind the camera. */
export function polyline(view: View, points: readonly P3[]): P2[][] {
	const pieces: P2[][] = [];
	let piece: P2[] = [];
	let before: P3 | null = null;
	const near = 0.05;
	const depth = (p: P3) => {
		projectPoint(view, p as [number, number, number], out);
		return out[2];
	};
	for (const p of points) {
		const pixel = !view.perspective || depth(p) > near ? toPixels(view, p) : null;
		if (before && view.perspective) {
			const a = depth(before);
			const b = depth(p);
			if (a > near !== b > near) {
				const t = (near - a) / (b - a);
				const cut: P3 = [
					before[0] + t * (p[0] - before[0]),
					before[1] + t * (p[1] - before[1]),
					before[2] + t * (p[2] - before[2]),
				];
				projectPoint(view, cut as [number, number, number], out);
				piece.push([out[0], out[1]]);
			}
		}
		if (pixel) piece.push(pixel);
		else if (piece.length > 0) {
			pieces.push(piece);
			piece = [];
		}
		before = p;
	}
	if (piece.length > 0) pieces.push(piece);
	return pieces;
}

/** An SVG path through world points. */
export function pathOf(view: View, points: readonly P3[], closed = false): string {
	const list = closed && points.length > 0 ? [...points, points[0] as P3] : points;
	return polyline(view, list)
		.filter((piece) => piece.length > 1)
		.map((piece) => `M${piece.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}`)
		.join('');
}

/** The ray through a pixel of the stage. */
export function rayThrough(view: View, pixel: P2): { start: [number, number, number]; dir: [number, number, number] } {
	return cursorRay({ ...view, cursor: pixel }, false);
}

/** Where the ray through a pixel meets the plane coordinate[axis] = at; null where it does not. */
export function onPlane(view: View, pixel: P2, axis: 1 | 2, at: number): [number, number, number] | null {
	const { start, dir } = rayThrough(view, pixel);
	if (Math.abs(dir[axis]) < 1e-6) return null;
	const t = (at - start[axis]) / dir[axis];
	if (view.perspective && t < 0) return null;
	return [start[0] + t * dir[0], start[1] + t * dir[1], start[2] + t * dir[2]];
}

/** How the stage looks at the scene, with its own rectangle's height in CSS pixels. */
export interface StageView {
	pose: Pose;
	view: View;
	height: number;
}

/** A pose moved by pixels, so that the scene follows the hand. */
export function shiftedPose(
	{ view, height }: Pick<StageView, 'view' | 'height'>,
	from: Pose,
	dx: number,
	dy: number,
): Pose {
	const perPixel = (2 * from.distance) / height;
	const m = view.camera.rotation;
	const target = from.target.map((v, k) => v - m[3 * k] * dx * perPixel + m[3 * k + 1] * dy * perPixel);
	return { ...from, target: target as Pose['target'] };
}

/** A pose turned by pixels; a flat scene is only tilted, and one in space never seen from below the ground. */
export function turnedPose(from: Pose, dx: number, dy: number, flat: boolean): Pose {
	const between = (low: number, high: number, v: number) => Math.max(low, Math.min(high, v));
	return flat
		? { ...from, yaw: from.yaw - dx * 0.3, pitch: between(-60, 60, from.pitch - dy * 0.3) }
		: { ...from, yaw: from.yaw - dx * 0.35, pitch: between(-89, 20, from.pitch - dy * 0.3) };
}

/** A pose nearer by a factor, or farther. */
export const zoomedPose = (from: Pose, factor: number): Pose => ({
	...from,
	distance: Math.max(0.02, Math.min(FARTHEST, from.distance * factor)),
});

/** A rectangle of the stage, CSS pixels. */
export interface Rect {
	x: number;
	y: number;
	w: number;
	h: number;
}

/** A length that a ruler would have, at most so long: 1, 2 or 5 times a power of ten. */
export function rulerLength(most: number): number {
	const power = 10 ** Math.floor(Math.log10(most));
	const part = most / power;
	return (part >= 5 ? 5 : part >= 2 ? 2 : 1) * power;
}

/** The stage without the eye's rectangle, so that nothing of the one is drawn over the other: a CSS path. */
export const aroundEye = (w: number, h: number, r: Rect): string =>
	`path(evenodd, "M0 0H${w}V${h}H0Z M${r.x} ${r.y - 25}H${r.x + r.w}V${r.y + r.h}H${r.x}Z")`;
