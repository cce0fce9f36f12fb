/** When the boxes of a swing are open. */

/** Times are compared to within this, seconds: nearer is at the edge. */
export const TIME_PLAY = 1e-9;

/**
 * Whether a box is open at a time since its swing began, both ends included.
 * @param t seconds
 */
export const isOpenAt = (box: { from?: number | undefined; until?: number | undefined }, t: number): boolean =>
	(box.from ?? 0) <= t + TIME_PLAY && t <= (box.until ?? Infinity) + TIME_PLAY;
