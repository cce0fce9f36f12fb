/**
 * Values painted as a picture: a tone and a hatching an object, edges where values meet, ties hatched in the tone of ties. There are more
 * objects than tones, and print has none.
 */
import { CELL } from './cell';

type Tone = readonly [number, number, number];

/** Light and dark by turns, so that neighbours differ in print too. */
const TONES: readonly Tone[] = [
	[143, 86, 20],
	[150, 190, 190],
	[70, 92, 160],
	[214, 168, 92],
	[96, 130, 60],
	[196, 150, 190],
	[40, 110, 120],
	[226, 206, 140],
	[150, 60, 80],
	[160, 180, 110],
	[90, 70, 120],
	[236, 180, 150],
];
/** As many as share no divisor with the tones: together they tell sixty objects apart. */
const HATCHES = 5;
const GAP = 7;

const TIE: Tone = [163, 32, 111];
const LIGHT = {
	edge: [20, 36, 43],
	none: [238, 242, 243],
	off: [152, 163, 168],
	out: [60, 70, 76],
	tie: [255, 255, 255],
};
const DARK = { edge: [231, 239, 241], none: [27, 43, 51], off: [90, 104, 112], out: [13, 23, 28], tie: [60, 20, 44] };

/** @param place of an object among those of the map, or in the file. @returns red, green, blue */
export const toneOfPlace = (place: number): Tone => TONES[place % TONES.length] as Tone;

/** @returns which hatching an object has: 0 none, 1 and 2 aslant, 3 lying, 4 upright lines */
export const hatchOfPlace = (place: number): number => place % HATCHES;

const hatched = (hatch: number, x: number, y: number): boolean =>
	hatch === 1
		? (x + y) % GAP === 0
		: hatch === 2
			? (((x - y) % GAP) + GAP) % GAP === 0
			: hatch === 3
				? y % GAP === 0
				: hatch === 4 && x % GAP === 0;

/** How a picture is painted. */
export interface Painting {
	/** For a dark page. */
	dark?: boolean;
	/** The only value that is painted in full. */
	lit?: number | null;
	/** 0 to 1, of areas: less over a picture that is to be seen through. Where nothing is selected nothing is painted then. */
	alpha?: number;
}

/**
 * @param shown the value of each pixel, row by row: a place, or one of `CELL`
 * @returns red, green, blue and opacity of each, from 0 to 255
 */
export function paint(
	shown: Int32Array,
	width: number,
	height: number,
	{ dark = false, lit = null, alpha = 1 }: Painting = {},
): Uint8ClampedArray<ArrayBuffer> {
	const out = new Uint8ClampedArray(4 * width * height);
	const plain = dark ? DARK : LIGHT;
	for (let y = 0, i = 0; y < height; y++)
		for (let x = 0; x < width; x++, i++) {
			const value = shown[i];
			const edge = (x + 1 < width && shown[i + 1] !== value) || (y + 1 < height && shown[i + width] !== value);
			const tie = value === CELL.tie;
			const line = value >= 0 && hatched(hatchOfPlace(value), x, y);
			const dotted = value === CELL.unborne && x % GAP < 2 && y % GAP < 2;
			const tone = (
				edge
					? plain.edge
					: dotted
						? plain.off
						: tie
							? (x + y) % 6 < 2
								? TIE
								: plain.tie
							: value >= 0
								? toneOfPlace(value)
								: value === CELL.out
									? plain.out
									: value === CELL.off
										? plain.off
										: plain.none
			) as Tone;
			const dim = lit !== null && value !== lit ? 0.18 : 1;
			const shade = line && !edge ? 0.72 : 1;
			out[4 * i] = tone[0] * shade;
			out[4 * i + 1] = tone[1] * shade;
			out[4 * i + 2] = tone[2] * shade;
			out[4 * i + 3] = 255 * (edge || dotted ? 1 : value === CELL.none && alpha < 1 ? 0 : alpha * dim);
		}
	return out;
}
