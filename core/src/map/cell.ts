/**
 * Values of a cell that are no object. `unborne` is never printed: there nothing is in the way of what asks for room, and something does not
 * bear it; in print it is none.
 */
export const CELL = { none: -1, tie: -2, off: -3, out: -4, unborne: -5 } as const;

/** A value that is none yet: the cell is to be asked by itself. */
export const UNSETTLED = -9;

/** Cells from x0, y0 up to x1, y1, those left out. */
export type Block = readonly [x0: number, y0: number, x1: number, y1: number];

/** What a block of cells is asked into. */
export interface Asked {
	/** By place among all answers, 1 for those that are not to be asked again; null to ask all. */
	known: Uint8Array | null;
	/** Where the value of each goes, in printed order from `base` on. */
	values: Int32Array;
	base: number;
}
