/** For who draws what the core answers: axes and turns, the bodies of a world, and the nearest point of one. */

export { BOX, type Body, type BodyKind, CAPSULE, CYLINDER, HULL, MESH, SPHERE } from './geometry/body';
export { buildHull, buildPolygon, hasVolume } from './geometry/hull';
export {
	eulerOf,
	type Matrix,
	multiply,
	placed,
	rotationOf,
	transposed,
	turned,
	unturned,
} from './geometry/matrix';
export { nearestPoint } from './geometry/nearest-point';
export { nearestOn } from './space/cast';
export type { Mesh } from './space/mesh';
