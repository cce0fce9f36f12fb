/** Values of a cell that are no object. */
export const CELL = { none: -1, tie: -2, off: -3, out: -4 } as const;

/** A value that is none yet: the cell is to be asked by itself. */
export const UNSETTLED = -9;
