/** Figures as a hand leaves them in a file. */
import type { Vec3 } from './schema';

/**
 * A figure to so many places after the point; nothing below them is left, not even its sign.
 * @param places 6: micrometres, where a figure is in metres
 */
export const rounded = (value: number, places = 6): number =>
	(Number.isInteger(value) ? value : Number(value.toFixed(places))) + 0;

/** A place or direction, each of its figures rounded; what is not there is 0. */
export const roundedTriple = ([x = 0, y = 0, z = 0]: readonly number[], places = 6): Vec3 => [
	rounded(x, places),
	rounded(y, places),
	rounded(z, places),
];

/** Three numbers, each made from its place: 0, 1, 2 for x, y, z. */
export const tripleOf = (of: (k: 0 | 1 | 2) => number): Vec3 => [of(0), of(1), of(2)];
