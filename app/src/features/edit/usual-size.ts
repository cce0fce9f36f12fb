import type { ShapeKind, Vec3 } from '@frelk/core';

/** Sizes for one press, metres. */
export function usualSize(kind: ShapeKind, flat: boolean): Vec3 {
	if (flat) return [0.12, 0.08, 0];
	// A capsule in space is nearly always a person.
	return kind === 'capsule' ? [0.6, 1.8, 0.6] : [0.8, 0.8, 0.8];
}
