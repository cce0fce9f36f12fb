/**
 * The cut of a tree node with few items. Most nodes of a tree are such, and sorting a handful along the axis and trying every
 * place between two of them costs less than filling bins.
 */

/** Words of an item's record while a tree is built: six of bounds, its index, one to spare. */
export const RECORD = 8;
/** Most items of a node for which this is the cheaper way. */
export const FEW = 12;

const keys = new Float64Array(FEW);
const places = new Int32Array(FEW);
const costs = new Float64Array(FEW);

/**
 * Sorts the records from `first` on by their centres along `axis` and finds the cheapest cut by surface area.
 * @param next where the bounds and centre bounds of both sides go, twelve numbers each
 * @param most cost (items × area, both sides) from which on no cut is worth it
 * @returns the number of items on the left side, or 0 for no cut
 */
export function bestSplitOfFew(
	records: Float32Array,
	words: Int32Array,
	first: number,
	n: number,
	axis: number,
	next: Float64Array,
	most: number,
): number {
	const from = RECORD * first;
	for (let i = 0; i < n; i++) {
		const q = from + RECORD * i;
		const key = records[q + axis] + records[q + axis + 3];
		let k = i - 1;
		for (; k >= 0 && keys[k] > key; k--) {
			keys[k + 1] = keys[k];
			places[k + 1] = places[k];
		}
		keys[k + 1] = key;
		places[k + 1] = i;
	}
	let x0 = Infinity;
	let y0 = Infinity;
	let z0 = Infinity;
	let x1 = -Infinity;
	let y1 = -Infinity;
	let z1 = -Infinity;
	for (let i = n - 1; i > 0; i--) {
		const q = from + RECORD * places[i];
		if (records[q] < x0) x0 = records[q];
		if (records[q + 1] < y0) y0 = records[q + 1];
		if (records[q + 2] < z0) z0 = records[q + 2];
		if (records[q + 3] > x1) x1 = records[q + 3];
		if (records[q + 4] > y1) y1 = records[q + 4];
		if (records[q + 5] > z1) z1 = records[q + 5];
		costs[i] = (n - i) * ((x1 - x0) * (y1 - y0) + (y1 - y0) * (z1 - z0) + (z1 - z0) * (x1 - x0));
	}
	x0 = y0 = z0 = Infinity;
	x1 = y1 = z1 = -Infinity;
	let best = 0;
	let cost = most;
	for (let i = 1; i < n; i++) {
		const q = from + RECORD * places[i - 1];
		if (records[q] < x0) x0 = records[q];
		if (records[q + 1] < y0) y0 = records[q + 1];
		if (records[q + 2] < z0) z0 = records[q + 2];
		if (records[q + 3] > x1) x1 = records[q + 3];
		if (records[q + 4] > y1) y1 = records[q + 4];
		if (records[q + 5] > z1) z1 = records[q + 5];
		const c = i * ((x1 - x0) * (y1 - y0) + (y1 - y0) * (z1 - z0) + (z1 - z0) * (x1 - x0)) + costs[i];
		if (c < cost) {
			cost = c;
			best = i;
		}
	}
	if (best === 0) return 0;
	// The items of a side may lie in any order: only those on the wrong side change places.
	let free = best;
	for (let i = 0; i < best; i++) {
		if (places[i] < best) continue;
		while (places[free] >= best) free++;
		const a = from + RECORD * places[i];
		const b = from + RECORD * places[free++];
		for (let k = 0; k < 7; k++) {
			const word = words[a + k];
			words[a + k] = words[b + k];
			words[b + k] = word;
		}
	}
	boundsOfRecords(records, from, from + RECORD * best, next, 0);
	boundsOfRecords(records, from + RECORD * best, from + RECORD * n, next, 12);
	return best;
}

/** Bounds and centre bounds (doubled centres) of records, written to `out` from `at` on. */
export function boundsOfRecords(records: Float32Array, from: number, to: number, out: Float64Array, at: number): void {
	for (let k = 0; k < 3; k++) {
		let low = Infinity;
		let high = -Infinity;
		let first = Infinity;
		let last = -Infinity;
		for (let q = from + k; q < to; q += RECORD) {
			const a = records[q];
			const b = records[q + 3];
			const c = a + b;
			if (a < low) low = a;
			if (b > high) high = b;
			if (c < first) first = c;
			if (c > last) last = c;
		}
		out[at + k] = low;
		out[at + k + 3] = high;
		out[at + k + 6] = first;
		out[at + k + 9] = last;
	}
}
