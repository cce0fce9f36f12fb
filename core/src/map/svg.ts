/** A map as SVG 1.1 with real text: areas with their names, and a legend with each object's figures. */
import type { QueryMap } from '../project/schema';
import { escaped } from '../report/escaped';
import { CELL } from './cell';
import { largestCircles, wordsOfNever } from './figures';
import type { MapResult } from './map';
import { hatchOfPlace, toneOfPlace } from './paint';

/** Units of the picture's longer side, and of a line of the legend. */
const SIDE = 640;
const LINE = 16;
/** A name is written in an area in which a circle of so many units fits. */
const ROOM = 10;
/** Under this a target is too small to be hit surely (WCAG 2.2), pixels. */
export const MIN_TARGET = 24;

/**
 * @returns what is shown of a cell: of several headings the chosen one, or the first that selects anything
 * @param heading null for the best of all
 * @param want then, what is shown wherever one of them has it
 */
export function shownIn(
	{ columns, headings, cells }: Pick<MapResult, 'columns' | 'headings'> & { cells: ArrayLike<number> },
	x: number,
	y: number,
	heading: number | null = null,
	want: number | null = null,
): number {
	const n = headings ?? 1;
	const from = (y * columns + x) * n;
	if (heading !== null) return cells[from + heading];
	if (want !== null) for (let k = 0; k < n; k++) if (cells[from + k] === want) return want;
	for (let k = 0; k < n; k++) if (cells[from + k] >= 0) return cells[from + k];
	return cells[from];
}

/** A name on a map: its middle, in units of the picture. */
interface PlacedName {
	x: number;
	y: number;
	text: string;
}

/** About what a letter takes, and a line, of names in 11 units; bold. */
const LETTER = 6.6;
const HIGH = 13;
/** Of a longer name this much is written on an area; the legend has all of it. */
const MAX_LETTERS = 28;

/**
 * Names of areas, each in the middle of the largest circle in it, or beneath where that is too small for it, the largest first; where two would lie over each other the smaller has
 * none.
 * @param scale units of the picture a cell
 */
export function namesOn(
	shown: Int32Array,
	columns: number,
	rows: number,
	scale: number,
	nameOf: (value: number) => string,
): PlacedName[] {
	const placed: PlacedName[] = [];
	const circles = [...largestCircles(shown, columns, rows, scale)].filter(([, c]) => c.diameter >= ROOM);
	for (const [value, circle] of circles.sort((a, b) => b[1].diameter - a[1].diameter)) {
		const whole = nameOf(value);
		const text = whole.length > MAX_LETTERS ? `${whole.slice(0, MAX_LETTERS - 1).trimEnd()}…` : whole;
		const half = (LETTER * text.length) / 2;
		const x = Math.max(half, Math.min(columns * scale - half, (circle.x + 0.5) * scale));
		// A name wider than its area would hide it: it stands beneath.
		const radius = circle.diameter / 2;
		const middle = (circle.y + 0.5) * scale;
		const beneath = middle + radius + HIGH / 2;
		const y = half <= radius ? middle : beneath + HIGH / 2 <= rows * scale ? beneath : middle - radius - HIGH / 2;
		const over = placed.some(
			(p) => Math.abs(p.y - y) < HIGH && Math.abs(p.x - x) < half + (LETTER * p.text.length) / 2,
		);
		if (!over) placed.push({ x, y, text });
	}
	return placed;
}

/** The cells of one value as few rectangles, each x, y, width, height: runs of a row, joined with the same run of the rows below. */
function rectanglesOf(shown: Int32Array, columns: number, rows: number): Map<number, number[][]> {
	const all = new Map<number, number[][]>();
	let open = new Map<string, number[]>();
	for (let y = 0; y < rows; y++) {
		const next = new Map<string, number[]>();
		for (let x = 0; x < columns; ) {
			const value = shown[y * columns + x];
			let end = x + 1;
			while (end < columns && shown[y * columns + end] === value) end++;
			if (value !== CELL.none) {
				const key = `${value} ${x} ${end}`;
				let one = open.get(key);
				if (one) one[3]++;
				else {
					one = [x, y, end - x, 1];
					const list = all.get(value);
					if (list) list.push(one);
					else all.set(value, [one]);
				}
				next.set(key, one);
			}
			x = end;
		}
		open = next;
	}
	return all;
}

/** The lines between cells of different values, as a path in cells. */
function edgesOf(shown: Int32Array, columns: number, rows: number): string {
	let d = '';
	const differ = (a: number, b: number) => shown[a] !== shown[b];
	for (let y = 0; y + 1 < rows; y++)
		for (let x = 0; x < columns; x++) {
			const from = x;
			while (x < columns && differ(y * columns + x, (y + 1) * columns + x)) x++;
			if (x > from) d += `M${from} ${y + 1}H${x}`;
		}
	for (let x = 0; x + 1 < columns; x++)
		for (let y = 0; y < rows; y++) {
			const from = y;
			while (y < rows && differ(y * columns + x, y * columns + x + 1)) y++;
			if (y > from) d += `M${x + 1} ${from}V${y}`;
		}
	return d;
}

const HATCH = ['', 'M-2 2L2 -2M0 8L8 0M6 10L10 6', 'M-2 6L2 10M0 0L8 8M6 -2L10 2', 'M0 4H8', 'M4 0V8'];
const percent = (share: number): string => `${Number((100 * share).toFixed(2))} %`;

const round = (x: number) => Number(x.toFixed(2));
const INK = '#14242b';

/** What fills the areas of a map, by key, each as a pattern of 8 units. @param scale units of the picture for one of the pattern's */
function patternsOf(map: QueryMap, objects: readonly string[], suffix: string, scale: number): string {
	const side = round(8 / scale);
	const pattern = (key: string, fill: string, line: string, ink = INK, wide = 1) => {
		const hatch = line ? `<path d="${line}" stroke="${ink}" stroke-width="${wide}" stroke-opacity=".6"/>` : '';
		const size = `width="${side}" height="${side}" patternUnits="userSpaceOnUse"`;
		const drawn = `<g transform="scale(${round(1 / scale)})"><path fill="${fill}" d="M0 0H8V8H0z"/>${hatch}</g>`;
		return `<pattern id="${map.id}-${key}${suffix}" ${size}>${drawn}</pattern>`;
	};
	return [
		...objects.map((_, i) => pattern(`o${i}`, `rgb(${toneOfPlace(i).join(',')})`, HATCH[hatchOfPlace(i)] ?? '')),
		pattern('tie', '#fff', HATCH[1] ?? '', '#a3206f', 2.5),
		pattern('off', '#98a3a8', ''),
		pattern('out', '#3c464c', ''),
	].join('');
}

/** The lines of a legend: what fills their boxes, and what they say. The least targets stand first. */
function legendOf(
	{ objects, figures }: MapResult,
	name: (id: string) => string,
): { fill: string | null; text: string }[] {
	const sorted = [...figures.objects].sort((a, b) => (a.circle ?? a.share) - (b.circle ?? b.share));
	const wide = (circle: number | null): string[] =>
		circle === null ? [] : [`${Number(circle.toFixed(1))} px wide${circle < MIN_TARGET ? ' (under 24)' : ''}`];
	return [
		...sorted.map((o) => ({
			fill: `o${objects.indexOf(o.object)}`,
			text: [name(o.object), percent(o.share), ...wide(o.circle)].join(' · '),
		})),
		...(figures.tied > 0 ? [{ fill: 'tie', text: `tied · ${percent(figures.tied)}` }] : []),
		...figures.never.map((n) => ({
			fill: null,
			text: `never: ${name(n.object)} · ${wordsOfNever(n)}`,
		})),
	];
}

const widthOf = (lines: ReturnType<typeof legendOf>): number =>
	Math.ceil(24 + LETTER * Math.max(0, ...lines.map(({ text }) => text.length)));

const drawnLegend = (map: QueryMap, lines: ReturnType<typeof legendOf>, top: number): string =>
	lines
		.map(({ fill, text }, i) => {
			const y = top + LINE * i;
			const filled = `fill="url(#${map.id}-${fill}-l)" stroke="${INK}" stroke-width=".6"`;
			const box = fill ? `<rect x="0.5" y="${round(y)}" width="12" height="10" ${filled}/>` : '';
			return `${box}<text x="18" y="${round(y + 9)}">${escaped(text)}</text>`;
		})
		.join('');

const NAMES = `.n{text-anchor:middle;font-weight:600;paint-order:stroke;stroke:#fff;stroke-width:3px;fill:${INK}}`;

function framed(map: QueryMap, width: number, height: number, defs: string, body: string): string {
	const size = `viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"`;
	const said = `role="img" aria-label="${escaped(map.name ?? map.id)}" font-family="sans-serif" font-size="11"`;
	const head = `<svg xmlns="http://www.w3.org/2000/svg" ${size} ${said}>`;
	return `${head}<style>${NAMES}</style><defs>${defs}</defs>${body}</svg>\n`;
}

/** The legend of a map alone, to be set below a picture of its cells. @param name of an object by its id */
export function mapLegendSvg(map: QueryMap, result: MapResult, name: (id: string) => string = (id) => id): string {
	const lines = legendOf(result, name);
	return framed(
		map,
		widthOf(lines),
		16 + LINE * lines.length,
		patternsOf(map, result.objects, '-l', 1),
		drawnLegend(map, lines, 8),
	);
}

/**
 * @param name of an object by its id
 * @param heading of a floor map; null for the first that selects anything
 */
export function mapSvg(
	map: QueryMap,
	result: MapResult,
	name: (id: string) => string = (id) => id,
	heading: number | null = null,
): string {
	const { columns, rows, objects } = result;
	const shown = Int32Array.from({ length: columns * rows }, (_, i) =>
		shownIn(result, i % columns, Math.floor(i / columns), heading),
	);
	const scale = SIDE / Math.max(columns, rows);
	const [w, h] = [columns * scale, rows * scale];
	const key = (value: number) =>
		value >= 0 ? `o${value}` : value === CELL.tie ? 'tie' : value === CELL.off ? 'off' : 'out';
	const fills = [...rectanglesOf(shown, columns, rows)].map(
		([value, list]) =>
			`<path fill="url(#${map.id}-${key(value)})" d="${list.map(([x, y, a, b]) => `M${x} ${y}h${a}v${b}h-${a}z`).join('')}"/>`,
	);
	const names = namesOn(shown, columns, rows, scale, (value) => name(objects[value] ?? '')).map(
		({ x, y, text }) => `<text class="n" x="${round(x)}" y="${round(y + 4)}">${escaped(text)}</text>`,
	);
	const lines = legendOf(result, name);
	const defs = patternsOf(map, objects, '', scale) + patternsOf(map, objects, '-l', 1);
	const size = `width="${round(w)}" height="${round(h)}"`;
	const lined = `fill="none" stroke="${INK}"`;
	const area = [
		`<rect ${size} fill="#eef2f3"/>`,
		`<g transform="scale(${round(scale)})">${fills.join('')}`,
		`<path d="${edgesOf(shown, columns, rows)}" ${lined} stroke-width="${round(0.8 / scale)}"/></g>`,
		`<rect ${size} ${lined}/>`,
		...names,
	].join('');
	return framed(
		map,
		Math.max(SIDE, widthOf(lines)),
		round(h + 16 + LINE * lines.length),
		defs,
		area + drawnLegend(map, lines, h + 12),
	);
}
