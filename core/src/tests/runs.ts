/**
 * How many cases a property tries: `most`, or the share of it that FRELK_RUNS asks for (0.05: a twentieth), at least one.
 * Mutation testing asks for few, so that what it counts as seen is seen by cases that were written for it.
 */
export const runs = (most: number): number => Math.max(1, Math.round(most * Number(process.env.FRELK_RUNS ?? 1)));
