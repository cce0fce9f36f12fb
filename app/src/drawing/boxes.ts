/** Rectangles in pixels, and names laid out so that none lies over another or over what is to be kept clear. */
import type { Rect } from './view';

export const overlap = (a: Rect, b: Rect): boolean =>
	a.x < b.x + b.w && a.x + a.w > b.x && a.y < b.y + b.h && a.y + a.h > b.y;

const isWithin = (a: Rect, b: Rect): boolean =>
	a.x >= b.x && a.y >= b.y && a.x + a.w <= b.x + b.w && a.y + a.h <= b.y + b.h;

/**
 * The first of some places that lies whole within the room and over nothing that is taken; it is taken from then on.
 * @param taken grows by what is found
 * @returns its index, or −1 where all are taken
 */
export function takeFree(places: readonly Rect[], room: Rect, taken: Rect[]): number {
	const at = places.findIndex((place) => isWithin(place, room) && !taken.some((t) => overlap(t, place)));
	if (at >= 0) taken.push(places[at] as Rect);
	return at;
}
