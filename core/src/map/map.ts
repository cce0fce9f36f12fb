/** Maps: asked whole, in parts or coarse to fine, always with the same outcome; and what becomes of a check of one. */
import type { MapCheck, MapExpect, Project, QueryMap } from '../project/schema';
import type { Naming } from '../query/words';
import { MapAsker } from './ask';
import { CELL } from './cell';
import { figuresOf, type MapCells, type MapFigures } from './figures';

/** A map as it is printed: cells as places in `objects`, or −1 none, −2 tie, −3 off, −4 out. */
export interface MapResult {
	map: string;
	columns: number;
	rows: number;
	/** Null where there are none: of cursors and directions. */
	headings: number | null;
	/** Ids selected anywhere, in file order. */
	objects: string[];
	cells: number[];
	figures: MapFigures;
}

/** How a map is asked. */
export interface MapOptions {
	/** False: what is never selected is left out of the figures; no check is held against it, and its sample takes a fifth of the time. */
	never?: boolean;
	/** Rows asked, of how many. */
	progress?: (done: number, of: number) => void;
}

/** A part of a map: some of its rows. */
export interface MapPart {
	from: number;
	to: number;
	values: Int32Array;
	/** As in `MapCells`. */
	also: Map<number, number>;
}

/** Rows that are asked at once: rays of a square of cells share their walk. */
const ROWS = 16;

/** @param from the first row, @param to the one after the last */
export function askRows(
	asker: MapAsker,
	from: number,
	to: number,
	progress: (row: number) => void = () => {},
): MapPart {
	const { columns, headings } = asker.grid;
	const perRow = columns * headings;
	const values = new Int32Array((to - from) * perRow);
	const also = new Map<number, number>();
	const n = asker.objects;
	const note = (row: number, object: number) => {
		const key = row * n + object;
		also.set(key, (also.get(key) ?? 0) + 1);
	};
	for (let row = from; row < to; row += ROWS) {
		const end = Math.min(to, row + ROWS);
		asker.askBlock([0, row, columns, end], { known: null, values, base: from * perRow }, note);
		progress(end - 1);
	}
	return { from, to, values, also };
}

/** Puts parts together, in whatever order they came. */
export function joinedParts(asker: MapAsker, parts: readonly MapPart[]): MapCells {
	const { columns, headings } = asker.grid;
	const values = new Int32Array(asker.answers);
	const also = new Map<number, number>();
	for (const part of parts) {
		values.set(part.values, part.from * columns * headings);
		for (const [key, times] of part.also) also.set(key, times);
	}
	return { values, also };
}

/** A map as it is printed, of its cells. */
export function resultOf(asker: MapAsker, cells: MapCells, { never = true }: MapOptions = {}): MapResult {
	const figures = figuresOf(asker, cells, { never });
	const objects = figures.objects.map((o) => o.object);
	const place = new Map(objects.map((id, i) => [id, i]));
	const printed = new Map<number, number>();
	const { columns, rows, headings } = asker.grid;
	return {
		map: asker.map.id,
		columns,
		rows,
		headings: asker.map.kind === 'floor' ? headings : null,
		objects,
		cells: Array.from(cells.values, (value) => {
			if (value < 0) return value === CELL.unborne ? CELL.none : value;
			let at = printed.get(value);
			if (at === undefined) {
				at = place.get(asker.idOf(value)) ?? CELL.none;
				printed.set(value, at);
			}
			return at;
		}),
		figures,
	};
}

/**
 * One map, asked whole.
 * @throws RangeError for a map whose query it cannot ask
 */
export function askMap(project: Project, map: QueryMap, options: MapOptions = {}): MapResult {
	const asker = new MapAsker(project, map);
	const { rows } = asker.grid;
	const part = askRows(asker, 0, rows, (row) => options.progress?.(row + 1, rows));
	return resultOf(asker, joinedParts(asker, [part]), options);
}

/** What became of one check of a map. */
export interface MapCheckResult {
	id: string;
	map: string;
	moment: string | null;
	pass: boolean;
	wanted: MapExpect;
	/** The figure that was asked for: a share, a circle in pixels, or ids that are selected though they should not be. */
	got: number | string[];
	reason: string;
}

const percent = (share: number): string => `${Number((100 * share).toFixed(2))} %`;

/** What a check of a map wants, in words. */
export function wordsOfMapWanted(expect: MapExpect, naming: Naming = (_kind, id) => id): string {
	const name = expect.object === undefined ? '' : naming('object', expect.object);
	if (expect.share) {
		const { min, max } = expect.share;
		const least = min === undefined ? [] : [`at least ${percent(min)}`];
		const most = max === undefined ? [] : [`at most ${percent(max)}`];
		return `${name} in ${[...least, ...most].join(' and ')} of the answers`;
	}
	if (expect.circle) return `${name} at least ${expect.circle.min} px wide`;
	if (expect.never) return `${expect.never.map((id) => naming('object', id)).join(', ')} never selected`;
	return `at most ${percent(expect.tied?.max ?? 0)} tied`;
}

/** Holds one check against a map that was asked. */
export function judgeMap(
	project: Project,
	check: MapCheck,
	result: MapResult,
	naming: Naming = (_kind, id) => id,
): MapCheckResult {
	const { expect } = check;
	const map = project.maps?.find((m) => m.id === check.map);
	const of = result.figures.objects.find((o) => o.object === expect.object);
	let got: number | string[];
	let pass: boolean;
	if (expect.share) {
		got = of?.share ?? 0;
		pass = got >= (expect.share.min ?? 0) && got <= (expect.share.max ?? 1);
	} else if (expect.circle) {
		got = of?.circle ?? 0;
		pass = got >= expect.circle.min;
	} else if (expect.never) {
		const selected = new Set(result.objects);
		got = expect.never.filter((id) => selected.has(id));
		pass = got.length === 0;
	} else {
		got = result.figures.tied;
		pass = got <= (expect.tied?.max ?? 0);
	}
	const said = Array.isArray(got)
		? `${got.map((id) => naming('object', id)).join(', ')} selected`
		: expect.circle
			? `${Number(got.toFixed(2))} px`
			: percent(got);
	return {
		id: check.id,
		map: check.map,
		moment: map?.moment ?? null,
		pass,
		wanted: expect,
		got,
		reason: pass ? '' : `wanted ${wordsOfMapWanted(expect, naming)}, got ${said}`,
	};
}
