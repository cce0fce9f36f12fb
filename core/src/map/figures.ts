/** The figures of a map (contract §13.3): shares, the largest circle in pixels, what is never selected and why. */
import { type Filters, filterVerdict } from '../query/filters';
import { isByFilter, Met } from '../query/met';
import { type Core, coreOf, missMargin, type Touching } from '../query/touch';
import { STAGES, type Stage, type Verdict } from '../query/types';
import { STAGE_WORDS } from '../query/words';
import type { WorldObject } from '../world/world';
import type { MapAsker } from './ask';
import { CELL } from './cell';

/** What the cells of a map hold. */
export interface MapCells {
	/** A value an answer, in printed order: a place of an object in the file, or one of `CELL`. */
	values: Int32Array;
	/** By row, how often each object is selected in a cell of another value: key row · objects + place. */
	also: Map<number, number>;
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
	/**
	 * The commonest stage, and the least margin at it, among the sampled answers in which the object is met or comes past `touch`; null where
	 * there are none.
	 */
	over: { stage: Stage; margin: number | null } | null;
}

/** Why an object is never selected: what it falls by where it is there at all, else what mostly befalls it. */
export const wordsOfNever = ({ over, stage }: NeverFigures): string =>
	over ? STAGE_WORDS[over.stage].toLowerCase() : `mostly ${STAGE_WORDS[stage].toLowerCase()}`;

/** Figures of a map: shares of all answers, and what is never selected. */
export interface MapFigures {
	objects: ObjectFigures[];
	tied: number;
	never: NeverFigures[];
}

/** Answers a sample has at most. */
const SAMPLE = 1000;
const TOUCH = STAGES.indexOf('touch');
/** What is farther away than this is not met, metres: more than any contact allows. */
const MET = 1e-5;
/** Room for rounding where balls tell what a gap is not below: metres, and as a part of the distance. */
const ROOM = 1e-6;

/** @returns the figures; `never` of a sample that is asked in full */
export function figuresOf(
	asker: MapAsker,
	{ values, also }: MapCells,
	{ never = true }: { never?: boolean } = {},
): MapFigures {
	const { columns, rows, headings } = asker.grid;
	const perRow = columns * headings;
	const n = asker.objects;
	const total = { all: 0, tied: 0 };
	const first = new Float64Array(n);
	const share = new Float64Array(n);
	const inRow = new Uint32Array(n);
	const seen: number[] = [];
	const selected = new Set<number>();
	for (let row = 0; row < rows; row++) {
		const weight = asker.weight(row);
		let [all, tied] = [0, 0];
		for (let i = row * perRow; i < (row + 1) * perRow; i++) {
			const value = values[i];
			if (value === CELL.out) continue;
			all++;
			if (value === CELL.tie) tied++;
			else if (value >= 0 && inRow[value]++ === 0) seen.push(value);
		}
		total.all += weight * all;
		total.tied += weight * tied;
		for (const object of seen) {
			selected.add(object);
			first[object] += weight * inRow[object];
			inRow[object] = 0;
		}
		seen.length = 0;
	}
	share.set(first);
	for (const [key, times] of [...also].sort((a, b) => a[0] - b[0])) {
		share[key % n] += asker.weight(Math.floor(key / n)) * times;
		selected.add(key % n);
	}
	const of = (part: number): number => (total.all > 0 ? part / total.all : 0);
	const circles = asker.map.kind === 'cursor' ? largestCircles(values, columns, rows, asker.map.cell ?? 4) : null;
	return {
		objects: [...selected]
			.sort((a, b) => a - b)
			.map((object) => ({
				object: asker.idOf(object),
				share: of(share[object]),
				first: of(first[object]),
				circle: circles ? (circles.get(object)?.diameter ?? 0) : null,
			})),
		tied: of(total.tied),
		never: never ? neverOf(asker, values, selected) : [],
	};
}

/** The largest circle of cells of one value: its diameter, and the cell in its middle. */
interface Circle {
	diameter: number;
	x: number;
	y: number;
}

/**
 * For each value the largest circle of its cells. Its diameter: (2·d − 1) cells, d being the greatest distance from the middle of one of
 * them to the nearest middle of a cell of another value; what surrounds the map is another.
 *
 * The exact distance transform of Felzenszwalb and Huttenlocher ("Distance transforms of sampled functions", 2012) in the bounds of each
 * value: along the columns by counting, along the rows by the lower envelope of parabolas.
 */
export function largestCircles(values: Int32Array, columns: number, rows: number, cell: number): Map<number, Circle> {
	const bounds = new Map<number, [number, number, number, number]>();
	for (let j = 0, i = 0; j < rows; j++)
		for (let x = 0; x < columns; x++, i++) {
			const value = values[i];
			if (value < 0) continue;
			const b = bounds.get(value);
			if (!b) bounds.set(value, [x, j, x, j]);
			else {
				if (x < b[0]) b[0] = x;
				if (x > b[2]) b[2] = x;
				if (j > b[3]) b[3] = j;
			}
		}
	const out = new Map<number, Circle>();
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
				up[y * w + x] = Math.min(up[y * w + x], run);
			}
		}
		const best = { most: 0, x: 0, y: 0 };
		for (let y = 1; y < h - 1; y++) farthestInRow(up, y, w, best);
		out.set(value, { diameter: (2 * Math.sqrt(best.most) - 1) * cell, x: x0 + best.x - 1, y: y0 + best.y - 1 });
	}
	return out;
}

/** Looks for the greatest squared distance in a row, of distances along the columns. */
function farthestInRow(up: Float64Array, y: number, w: number, best: { most: number; x: number; y: number }): void {
	const from = y * w;
	const at = new Int32Array(w);
	const starts = new Float64Array(w + 1);
	const f = (q: number) => up[from + q] ** 2;
	let k = 0;
	starts[0] = -Infinity;
	starts[1] = Infinity;
	for (let q = 1; q < w; q++) {
		let s = 0;
		for (;;) {
			const p = at[k];
			s = (f(q) + q * q - f(p) - p * p) / (2 * (q - p));
			if (s > starts[k]) break;
			k--;
		}
		at[++k] = q;
		starts[k] = s;
		starts[k + 1] = Infinity;
	}
	k = 0;
	for (let q = 0; q < w; q++) {
		while (starts[k + 1] < q) k++;
		const p = at[k];
		const square = (q - p) ** 2 + f(p);
		if (square > best.most) {
			best.most = square;
			best.x = q;
			best.y = y;
		}
	}
}

/**
 * Objects that pass the filters, or are met though they do not, in some answer of the sample, and are selected nowhere: neither they nor
 * what they answer for.
 *
 * Filters do not hang on where a query stands; so what is touched is asked for once an answer, and of all the rest only the least gap is
 * wanted. It is measured where the ball around an object lies nearer than the least gap so far: of thousands of gaps to few.
 */
function neverOf(asker: MapAsker, values: Int32Array, selected: ReadonlySet<number>): NeverFigures[] {
	const every = Math.ceil(values.length / SAMPLE);
	let sample: Sample | null = null;
	for (let at = 0; at < values.length; at += every) {
		if (values[at] === CELL.out) continue;
		const { touching, verdicts } = asker.probe(at) ?? {};
		if (!touching || !verdicts) continue;
		sample ??= new Sample(asker, touching.filters, selected);
		sample.add(touching, verdicts);
	}
	return sample?.figures() ?? [];
}

/** What befell the objects that may be among those never selected. */
class Sample {
	private readonly objects: WorldObject[];
	/** By object, the filter it fails wherever it is asked for; null for those that pass. */
	private readonly filtered: readonly (Stage | null)[];
	/** By object: the middle of a ball around all of its shapes and its radius; endless for what moves with the asker. */
	private readonly balls: Float64Array;
	/** By object and stage, how often a verdict was of it, and the least margin. */
	private readonly times: Uint32Array;
	private readonly margins: Float64Array;

	constructor(asker: MapAsker, filters: Filters, selected: ReadonlySet<number>) {
		const may = (o: WorldObject): boolean => {
			const stage = filterVerdict(filters, o)?.stage;
			return stage === undefined || (isByFilter(stage) && o.shapes.length > 0);
		};
		this.objects = asker
			.everyone()
			.filter((o) => !selected.has(o.index) && !selected.has(o.answersFor.index) && may(o));
		this.filtered = this.objects.map((o) => filterVerdict(filters, o)?.stage ?? null);
		this.times = new Uint32Array(this.objects.length * STAGES.length);
		this.margins = new Float64Array(this.times.length).fill(Infinity);
		this.balls = new Float64Array(4 * this.objects.length);
		this.objects.forEach((object, k) => {
			const b = 4 * k;
			const first = object.shapes[0]?.body;
			if (first) this.balls.set([first.x, first.y, first.z], b);
			for (const { body } of object.shapes) {
				const away = Math.hypot(...[body.x, body.y, body.z].map((v, i) => v - this.balls[b + i]));
				this.balls[b + 3] = Math.max(this.balls[b + 3], away + body.boundingRadius);
			}
			if (asker.moves(object)) this.balls[b + 3] = Infinity;
		});
	}

	/** @param verdicts on what is touched, by the place of the object */
	add(touching: Touching, verdicts: readonly (Verdict | undefined)[]): void {
		const core = coreOf(touching);
		const met = new Met(touching);
		for (let k = 0; k < this.objects.length; k++) {
			const object = this.objects[k] as WorldObject;
			const filter = this.filtered[k];
			if (filter) {
				// Of those only whether they are met counts.
				if (core && this.atLeast(core, 4 * k) > MET) continue;
				if (met.contact(object)) this.times[k * STAGES.length + STAGES.indexOf(filter)]++;
				continue;
			}
			const verdict = verdicts[object.index];
			const at = k * STAGES.length + (verdict ? STAGES.indexOf(verdict.stage) : TOUCH);
			this.times[at]++;
			const least = this.margins[at];
			if (!verdict && core && this.atLeast(core, 4 * k) >= least) continue;
			const margin = verdict ? verdict.margin : missMargin(touching, object);
			if (margin !== undefined && margin < least) this.margins[at] = margin;
		}
	}

	/** What the gap between a query and an object is not below, metres. */
	private atLeast({ start, dir, length, thickness }: Core, b: number): number {
		const { balls } = this;
		const x = balls[b] - start[0];
		const y = balls[b + 1] - start[1];
		const z = balls[b + 2] - start[2];
		const ahead = Math.max(0, Math.min(length, x * dir[0] + y * dir[1] + z * dir[2]));
		const away = Math.sqrt((x - ahead * dir[0]) ** 2 + (y - ahead * dir[1]) ** 2 + (z - ahead * dir[2]) ** 2);
		return away * (1 - ROOM) - (thickness + balls[b + 3]) * (1 + ROOM) - ROOM;
	}

	figures(): NeverFigures[] {
		return this.objects.flatMap(({ id }, k) => {
			const times = this.times.subarray(k * STAGES.length, (k + 1) * STAGES.length);
			const told = (from: number) => {
				let most = from;
				for (let s = from; s < times.length; s++) if (times[s] > times[most]) most = s;
				const margin = this.margins[k * STAGES.length + most];
				return times[most] === 0 ? null : { stage: STAGES[most] as Stage, margin: margin === Infinity ? null : margin };
			};
			const all = told(0);
			return all ? [{ object: id, ...all, over: this.filtered[k] ? all : told(TOUCH + 1) }] : [];
		});
	}
}
