/** Points around round bodies, where only their hull can be told. */
import type { Vec3 } from '@frelk/core';

/** Sides around, and rings from pole to pole: the hull lies within a hundredth of the radius of what it stands for. */
const SIDES = 32;
const RINGS = 8;

/** Points of a body of two rounded or flat ends, about Y. @param round whether the ends are half balls */
export function aroundY(bottom: number, top: number, height: number, round: boolean): Vec3[] {
	const points: Vec3[] = [];
	const ring = (radius: number, y: number) => {
		if (radius < 1e-12) points.push([0, y, 0]);
		else
			for (let i = 0; i < SIDES; i++) {
				const turn = (2 * Math.PI * i) / SIDES;
				points.push([radius * Math.cos(turn), y, radius * Math.sin(turn)]);
			}
	};
	if (!round) {
		ring(bottom, -height / 2);
		ring(top, height / 2);
		return points;
	}
	for (let k = 0; k <= RINGS; k++) {
		const up = (Math.PI / 2) * (k / RINGS);
		ring(k === RINGS ? 0 : top * Math.cos(up), height / 2 + top * Math.sin(up));
		ring(k === RINGS ? 0 : bottom * Math.cos(up), -height / 2 - bottom * Math.sin(up));
	}
	return points;
}

/** Points of a ball. */
export const aroundBall = (radius: number): Vec3[] => aroundY(radius, radius, 0, true);

/** The eight corners of a box about the origin. */
export const corners = ([x, y, z]: Vec3): Vec3[] =>
	[-1, 1].flatMap((i) => [-1, 1].flatMap((j) => [-1, 1].map((k): Vec3 => [(i * x) / 2, (j * y) / 2, (k * z) / 2])));
