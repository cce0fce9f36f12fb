/** When the boxes of a swing are open. */

import { TIME_EPSILON } from '../project/defaults';

/**
 * Whether a box is open at a time since its swing began, both ends included.
 * @param t seconds
 */
export const isOpenAt = (box: { from?: number | undefined; until?: number | undefined }, t: number): boolean =>
	(box.from ?? 0) <= t + TIME_EPSILON && t <= (box.until ?? Infinity) + TIME_EPSILON;
