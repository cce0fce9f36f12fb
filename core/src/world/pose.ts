/** Where things stand in the world, one under the other: the one place that goes from a parent's axes to the world's. */
import { type Matrix, multiply, placed, rotationOf, type Triple } from '../geometry/matrix';

/** A place, a turn and a scale in the world. */
export interface Pose {
	position: [number, number, number];
	rotation: Matrix;
	scale: [number, number, number];
}

const ZERO: Triple = [0, 0, 0];
const ONE: Triple = [1, 1, 1];

/**
 * Within the bounds of a file a chain of parents can still multiply to numbers whose squares no double holds. Scales and places are kept
 * within these: far past anything a game means, near enough to be calculated with.
 */
const MIN_SCALE = 1e-12;
const MAX_SCALE = 1e12;
const MAX_COORDINATE = 1e15;

/** What stands on nothing stands under this. */
export const AT_ORIGIN: Pose = { position: [0, 0, 0], rotation: rotationOf(undefined), scale: [1, 1, 1] };

/**
 * @param parent null for what hangs on nothing
 * @param own as a file has it: metres, degrees, factors, each in the parent's axes
 * @returns the same in the world, kept within what computes
 */
export function poseUnder(
	parent: Pose | null,
	own: { position?: Triple | undefined; rotation?: Triple | undefined; scale?: Triple | undefined },
): Pose {
	const [x, y, z] = own.position ?? ZERO;
	const [sx, sy, sz] = own.scale ?? ONE;
	const rotation = rotationOf(own.rotation);
	if (!parent) return { position: [x, y, z], rotation, scale: [sx, sy, sz] };
	const position = placed(parent.position, parent.rotation, parent.scale, [x, y, z]);
	const scale: Pose['scale'] = [parent.scale[0] * sx, parent.scale[1] * sy, parent.scale[2] * sz];
	for (let k = 0; k < 3; k++) {
		if (Math.abs(position[k]) > MAX_COORDINATE) position[k] = Math.sign(position[k]) * MAX_COORDINATE;
		scale[k] = Math.min(MAX_SCALE, Math.max(MIN_SCALE, scale[k]));
	}
	return { position, rotation: multiply(parent.rotation, rotation), scale };
}
