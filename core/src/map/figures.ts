/** The figures of a map (contract §13.3): shares, the largest circle in pixels, what is never selected and why. */
import { STAGES, type Stage, type Verdict } from '../query/types';
import { CELL, type MapAsker } from './ask';

/** What the cells of a map hold. */
export interface MapCells {
	/** A value an answer, in printed order: a place of an object in the file, or one of `CELL`. */
	values: Int32Array;
	/** By row, how often each object is among the selected: key row · objects + place. */
	held: Map<number, number>;
}

/** Figures of one object of a map. */
export interface ObjectFigures {
	object: string;
	/** Part of the answers in which it is selected, and in which it is the first. */
	share: number;
	first: number;
	/** Diameter in pixels of the largest circle of cells that select it first; null but for cursors. */
	circle: number | null;
}

/** An object that comes near being selected and never is. */
export interface NeverFigures {
	object: string;
	stage: Stage;
	margin: number | null;
}

/** Figures of a map: shares of all answers, and what is never selected. */
export interface MapFigures {
	objects: ObjectFigures[];
	tied: number;
	never: NeverFigures[];
}

/** Answers a sample has at most. */
const SAMPLE = 1000;
const TOUCH = STAGES.indexOf('touch');

/** @returns the figures; `never` of a sample that is asked in full */
export function figuresOf(asker: MapAsker, { values, held }: MapCells, progress: () => void = () => {}): MapFigures {
	const { columns, rows, headings } = asker.grid;
	const perRow = columns * headings;
	const total = { all: 0, tied: 0 };
	const share = new Map<number, number>();
	const first = new Map<number, number>();
	const add = (to: Map<number, number>, key: number, by: number) => to.set(key, (to.get(key) ?? 0) + by);
	const rowFirst = new Map<number, number>();
	for (let row = 0; row < rows; row++) {
		const weight = asker.weight(row);
		let [all, tied] = [0, 0];
		rowFirst.clear();
		for (let i = row * perRow; i < (row + 1) * perRow; i++) {
			const value = values[i] as number;
			if (value === CELL.out) continue;
			all++;
			if (value === CELL.tie) tied++;
			else if (value >= 0) add(rowFirst, value, 1);
		}
		total.all += weight * all;
		total.tied += weight * tied;
		for (const [object, times] of rowFirst) add(first, object, weight * times);
	}
	const n = asker.objects;
	for (const [key, times] of [...held].sort((a, b) => a[0] - b[0]))
		add(share, key % n, asker.weight(Math.floor(key / n)) * times);
	const of = (part: number): number => (total.all > 0 ? part / total.all : 0);
	const selected = [...share.keys()].sort((a, b) => a - b);
	const circles = asker.map.kind === 'cursor' ? largestCircles(values, columns, rows, asker.map.cell ?? 4) : null;
	return {
		objects: selected.map((object) => ({
			object: asker.idOf(object),
			share: of(share.get(object) ?? 0),
			first: of(first.get(object) ?? 0),
			circle: circles ? (circles.get(object) ?? 0) : null,
		})),
		tied: of(total.tied),
		never: neverOf(asker, values, new Set(selected), progress),
	};
}

/**
 * For each value the diameter of the largest circle of its cells: (2·d − 1) cells, d being the greatest distance from the middle of one of
 * them to the nearest middle of a cell of another value; what surrounds the map is another.
 *
 * The exact distance transform of Felzenszwalb and Huttenlocher ("Distance transforms of sampled functions", 2012) in the bounds of each
 * value: along the columns by counting, along the rows by the lower envelope of parabolas.
 */
export function largestCircles(values: Int32Array, columns: number, rows: number, cell: number): Map<number, number> {
	const bounds = new Map<number, [number, number, number, number]>();
	for (let j = 0, i = 0; j < rows; j++)
		for (let x = 0; x < columns; x++, i++) {
			const value = values[i] as number;
			if (value < 0) continue;
			const b = bounds.get(value);
			if (!b) bounds.set(value, [x, j, x, j]);
			else {
				if (x < b[0]) b[0] = x;
				if (x > b[2]) b[2] = x;
				if (j > b[3]) b[3] = j;
			}
		}
	const out = new Map<number, number>();
	for (const [value, [x0, y0, x1, y1]] of bounds) {
		// With a ring of others around, which may be the map's own edge.
		const w = x1 - x0 + 3;
		const h = y1 - y0 + 3;
		const up = new Float64Array(w * h);
		const is = (x: number, y: number) =>
			x > 0 && y > 0 && x < w - 1 && y < h - 1 && values[(y0 + y - 1) * columns + x0 + x - 1] === value;
		for (let x = 0; x < w; x++) {
			let run = 0;
			for (let y = 0; y < h; y++) up[y * w + x] = run = is(x, y) ? run + 1 : 0;
			run = 0;
			for (let y = h - 1; y >= 0; y--) {
				run = is(x, y) ? run + 1 : 0;
				up[y * w + x] = Math.min(up[y * w + x] as number, run);
			}
		}
		let most = 0;
		for (let y = 1; y < h - 1; y++) most = Math.max(most, farthestInRow(up, y * w, w));
		out.set(value, (2 * Math.sqrt(most) - 1) * cell);
	}
	return out;
}

/** @returns the greatest squared distance in a row, of distances along the columns */
function farthestInRow(up: Float64Array, from: number, w: number): number {
	const at = new Int32Array(w);
	const starts = new Float64Array(w + 1);
	const f = (q: number) => (up[from + q] as number) ** 2;
	let k = 0;
	starts[0] = -Infinity;
	starts[1] = Infinity;
	for (let q = 1; q < w; q++) {
		let s = 0;
		for (;;) {
			const p = at[k] as number;
			s = (f(q) + q * q - f(p) - p * p) / (2 * (q - p));
			if (s > (starts[k] as number)) break;
			k--;
		}
		at[++k] = q;
		starts[k] = s;
		starts[k + 1] = Infinity;
	}
	let most = 0;
	k = 0;
	for (let q = 0; q < w; q++) {
		while ((starts[k + 1] as number) < q) k++;
		const p = at[k] as number;
		most = Math.max(most, (q - p) ** 2 + f(p));
	}
	return most;
}

/** Objects that were touched, or came further, in the sample, and are selected nowhere: neither they nor what they answer for. */
function neverOf(
	asker: MapAsker,
	values: Int32Array,
	selected: ReadonlySet<number>,
	progress: () => void,
): NeverFigures[] {
	const n = values.length;
	const every = Math.ceil(n / SAMPLE);
	const seen = new Map<string, { comes: boolean; stages: Map<Stage, { times: number; margin: number | null }> }>();
	for (let at = 0; at < n; at += every) {
		if (values[at] === CELL.out) continue;
		for (const verdict of asker.explain(at)?.verdicts ?? []) note(seen, verdict);
		progress();
	}
	const out: NeverFigures[] = [];
	for (const object of asker.everyone()) {
		const of = seen.get(object.id);
		if (!of?.comes || selected.has(object.index) || selected.has(object.answersFor.index)) continue;
		let best: Stage | null = null;
		for (const stage of STAGES) {
			const times = of.stages.get(stage)?.times ?? 0;
			if (times > (best === null ? 0 : (of.stages.get(best)?.times ?? 0))) best = stage;
		}
		if (best) out.push({ object: object.id, stage: best, margin: of.stages.get(best)?.margin ?? null });
	}
	return out;
}

function note(
	seen: Map<string, { comes: boolean; stages: Map<Stage, { times: number; margin: number | null }> }>,
	{ object, stage, margin }: Verdict,
): void {
	let of = seen.get(object);
	if (!of) {
		of = { comes: false, stages: new Map() };
		seen.set(object, of);
	}
	if (STAGES.indexOf(stage) >= TOUCH) of.comes = true;
	const was = of.stages.get(stage);
	if (!was) of.stages.set(stage, { times: 1, margin: margin ?? null });
	else {
		was.times++;
		if (margin !== undefined && (was.margin === null || margin < was.margin)) was.margin = margin;
	}
}
