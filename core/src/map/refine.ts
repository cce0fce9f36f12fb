/** A map from coarse to fine: a first picture from every sixteenth cell, then every fourth, then all; each answer asked once. */
import type { MapAsker } from './ask';
import { UNSETTLED } from './cell';

/** Cells from one that is asked to the next, pass by pass. */
const PASSES = [16, 4, 1] as const;
/** Rows of cells between two pictures of the last pass. */
const BAND = 16;

/** How far a map has come. */
export interface Refining {
	/** A value an answer, in printed order; `UNSETTLED` where it was not asked yet. Filled further by what comes. */
	values: Int32Array;
	/** The picture is whole in steps of so many cells. */
	step: number;
	/** Rows of the pass that goes on, of how many. */
	row: number;
	rows: number;
}

/**
 * Asks a map pass by pass. Between two pictures one may stop, or look whether it is still wanted.
 * @param also told of what is selected beside a cell's value, as in `MapAsker.askBlock`
 */
export function* refine(
	asker: MapAsker,
	also: (row: number, object: number) => void = () => {},
): Generator<Refining, Int32Array> {
	const { columns, rows, headings } = asker.grid;
	const values = new Int32Array(asker.answers).fill(UNSETTLED);
	const known = new Uint8Array(values.length);
	const asked = { known, values, base: 0 };
	let whole = PASSES[0] * PASSES[0];
	for (const step of PASSES) {
		if (step > 1)
			for (let y = 0; y < rows; y += step) {
				for (let x = 0; x < columns; x += step) {
					asker.askBlock([x, y, x + 1, y + 1], asked, also);
					known.fill(1, (y * columns + x) * headings, (y * columns + x + 1) * headings);
				}
				yield { values, step: whole, row: Math.min(rows, y + step), rows };
			}
		else
			for (let y = 0; y < rows; y += BAND) {
				const end = Math.min(rows, y + BAND);
				asker.askBlock([0, y, columns, end], asked, also);
				yield { values, step: whole, row: end, rows };
			}
		whole = step;
		yield { values, step: whole, row: rows, rows };
	}
	return values;
}

/** The place of the answer that stands for one while a map is whole in steps only. @returns its place in the values */
export function standsFor(grid: { columns: number; headings: number }, step: number, at: number): number {
	const { columns, headings } = grid;
	const place = Math.floor(at / headings);
	const x = place % columns;
	const y = Math.floor(place / columns);
	return ((y - (y % step)) * columns + (x - (x % step))) * headings + (at % headings);
}
