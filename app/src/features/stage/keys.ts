/** What the keys do on the stage. */

import type { Vec3 } from '@frelk/core';
import { tripleOf } from '@frelk/core';

/** How far an arrow key moves what is in hand, metres; ten times with Shift. */
const STEP = { space: 0.1, flat: 0.01 };

/** Directions as the view has them: in space up and down arrows go away and near on the ground, in a flat scene up and down in the picture. */
const WAYS: Record<string, { space: Vec3; flat: Vec3 }> = {
	ArrowLeft: { space: [-1, 0, 0], flat: [-1, 0, 0] },
	ArrowRight: { space: [1, 0, 0], flat: [1, 0, 0] },
	ArrowUp: { space: [0, 0, -1], flat: [0, 1, 0] },
	ArrowDown: { space: [0, 0, 1], flat: [0, -1, 0] },
	PageUp: { space: [0, 1, 0], flat: [0, 0, 1] },
	PageDown: { space: [0, -1, 0], flat: [0, 0, -1] },
};

/** The move a key stands for, metres in the world, or null for any other key. */
export function moveOfKey(key: string, shift: boolean, flat: boolean): Vec3 | null {
	const way = WAYS[key];
	if (!way) return null;
	const size = (flat ? STEP.flat : STEP.space) * (shift ? 10 : 1);
	const unit = flat ? way.flat : way.space;
	return tripleOf((k) => unit[k] * size);
}

/** By how many pixels a key shifts the view, or null for any other key. */
export function shiftOfKey(key: string): [number, number] | null {
	const way = WAYS[key]?.flat;
	return way && (way[0] !== 0 || way[1] !== 0) ? [0 - way[0] * 30, way[1] * 30] : null;
}

/** By what factor a key zooms, or null for any other key. */
export const zoomOfKey = (key: string): number | null =>
	key === '+' || key === '=' ? 0.85 : key === '-' ? 1.18 : null;
