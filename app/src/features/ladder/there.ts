/** What is really there: what the query touches, were it not for a filter. */
import type { Answer, Verdict } from '@frelk/core';

/** Met by the query, and left out by a filter. */
export const isThere = (v: Verdict): boolean => v.met !== undefined;

/**
 * Whether one of these is worth drawing: a floor or a wall that is on no layer asked for is everywhere, and told only where nothing was
 * selected.
 */
export const isWorthDrawing = (answer: Pick<Answer, 'status'>, v: Verdict): boolean =>
	isThere(v) && (answer.status === 'none' || v.stage !== 'layer');
