/**
 * The contract's small lengths, in metres, and what rounding may take of them. Places lie within 1e7 m, where a double is good to
 * 2e-9 m; a distance worked out of two places, by way of a body's own axes, is good to some 1e-8 m there and to 1e-14 m within ten
 * metres of the origin. What decides at one of these lengths is therefore decided as the contract says wherever a scene is built, but
 * for what lies within that of the length itself; the contract binds nothing nearer than 1e-5 m to a limit.
 */

/** How near a start counts as on or in a shape: at the start. Every rule about starts reads this one. */
export const START_GAP = 1e-6;

/** The largest gap at which volumes still overlap. */
export const OVERLAP_GAP = 1e-9;

/** A vector no longer than this has no direction. */
export const NO_LENGTH = 1e-9;

/** How far past its end a path still touches: one that ends on a surface, or at a focus, reaches it whatever the last digit says. */
export const PATH_END = 1e-9;
