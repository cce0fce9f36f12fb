/** What no file may go past (contract, part two, §0): magnitudes a game cannot mean, and counts no level has. */

/** Largest size of a coordinate, offset or move, metres. */
export const MAX_COORDINATE = 1e7;
/** Smallest and largest size or radius, metres. */
export const MIN_SIZE = 1e-6;
export const MAX_SIZE = 1e7;
export const MIN_SCALE = 1e-6;
export const MAX_SCALE = 1e6;
/** Largest length, range or camera's far, metres. */
export const MAX_DISTANCE = 1e9;
/** Largest speed, m/s. */
export const MAX_SPEED = 1e5;
/** Straight pieces of an arc. */
export const MAX_ARC_STEPS = 10_000;
/** Marks of an object. */
export const MAX_MARKS = 32;
/** Largest size of any other number. */
export const MAX_NUMBER = 1e12;
/** Characters (code points) of a name, prompt or action, and of notes. */
export const MAX_TEXT = 200;
export const MAX_NOTES = 10_000;
export const MAX_HULL_POINTS = 10_000;
/** Links from the first to the last of a chain: parents, tags under tags, moments on moments, hits of hits. */
export const MAX_CHAIN = 256;
/** Levels of lists and objects in each other, the file's own object being the first. */
export const MAX_NESTING = 64;
/** The number of the last step of a run. */
export const MAX_STEPS = 100_000;
/** Problems told of one file; the rest are counted. */
export const MAX_PROBLEMS = 50;

/** Entries of the lists that have a bound, by their path. */
export const MAX_ENTRIES: readonly { path: readonly string[]; most: number; what: string }[] = [
	{ path: ['scene', 'layers'], most: 32, what: 'layers' },
	{ path: ['scene', 'tags'], most: 1000, what: 'tags' },
	{ path: ['scene', 'objects'], most: 100_000, what: 'objects' },
	{ path: ['queries'], most: 1000, what: 'queries' },
	{ path: ['moments'], most: 1000, what: 'moments' },
	{ path: ['checks'], most: 100_000, what: 'checks' },
	{ path: ['maps'], most: 1000, what: 'maps' },
];
