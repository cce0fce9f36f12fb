/** `frelk map`: a query asked over a grid, as words, JSON, a table or a picture. */
import { askMap, CELL, didYouMean, type MapResult, type QueryMap } from '@frelk/core';
import { PNG } from 'pngjs';
import { type Io, load, UsageError, write } from './files';
import { indented } from './json';

interface MapOptions {
	map: string[];
	json?: boolean;
	csv?: string;
	png?: string;
}

/** @returns the exit code */
export async function maps(io: Io, file: string, options: MapOptions): Promise<number> {
	const { project } = await load(io, file);
	const all = project.maps ?? [];
	const ids = all.map((m) => m.id);
	for (const id of options.map)
		if (!ids.includes(id)) throw new UsageError(`${file}: no map "${id}"${didYouMean(id, ids)}`);
	const wanted = all.filter((m) => options.map.length === 0 || options.map.includes(m.id));
	if (options.png !== undefined && wanted.length !== 1)
		throw new UsageError(`--png draws one map; name it with --map${ids.length > 0 ? ` (${ids.join(', ')})` : ''}`);
	if (options.json) io.out(`{\n  "format": "frelk-maps/1",\n  "project": ${JSON.stringify(project.id)},\n  "maps": [`);
	const rows: string[] = ['map,column,row,heading,value'];
	let drawn: Uint8Array | null = null;
	wanted.forEach((map, i) => {
		const result = askMap(project, map, { progress: (done, of) => io.doing(`${map.id}: row ${done} of ${of}`) });
		if (options.json)
			io.out(
				`${i === 0 ? '' : ','}\n    ${indented(result, 4).replace(/(?<=\[)[\s\d,-]+(?=\])/g, (list) => list.replace(/\s+/g, ''))}`,
			);
		if (options.csv !== undefined) rows.push(...table(result));
		if (options.png !== undefined) drawn = picture(result);
		if (!options.json) io.out(`${i === 0 ? '' : '\n'}${words(map, result)}`);
	});
	if (options.json) io.out(`${wanted.length > 0 ? '\n  ' : ''}]\n}\n`);
	else if (wanted.length === 0) io.out(`${project.id} has no maps\n`);
	if (options.csv !== undefined) await write(options.csv, `${rows.join('\r\n')}\r\n`);
	if (options.png !== undefined && drawn) await write(options.png, drawn);
	return 0;
}

const NAMES: Record<number, string> = {
	[CELL.none]: '(none)',
	[CELL.tie]: '(tie)',
	[CELL.off]: '(off)',
	[CELL.out]: '(out)',
};

function* table(result: MapResult): Generator<string> {
	const headings = result.headings ?? 1;
	for (let at = 0; at < result.cells.length; at++) {
		const place = Math.floor(at / headings);
		const value = result.cells[at] as number;
		yield [
			result.map,
			place % result.columns,
			Math.floor(place / result.columns),
			result.headings === null ? '' : at % headings,
			value >= 0 ? result.objects[value] : NAMES[value],
		].join(',');
	}
}

const percent = (share: number): string => `${(100 * share).toFixed(2).padStart(6)} %`;

function words(map: QueryMap, { columns, rows, headings, figures }: MapResult): string {
	const lines = [
		`${map.id}: ${map.kind} map of ${map.query}, ${columns} × ${rows}${headings === null ? '' : ` × ${headings} headings`}`,
	];
	for (const { object, share, first, circle } of figures.objects)
		lines.push(
			`  ${percent(share)}  ${object}${first === share ? '' : `, first in ${percent(first).trim()}`}${circle === null ? '' : `, ${Number(circle.toFixed(1))} px wide`}`,
		);
	if (figures.tied > 0) lines.push(`  ${percent(figures.tied)}  tied`);
	for (const { object, stage, margin } of figures.never)
		lines.push(
			`     never  ${object}: mostly ${stage}${margin === null ? '' : `, at least by ${Number(margin.toPrecision(3))}`}`,
		);
	return `${lines.join('\n')}\n`;
}

/** Tones of objects, light and dark by turns, so that neighbours differ in print too. */
const TONES: readonly (readonly [number, number, number])[] = [
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
const PLAIN: Record<number, readonly [number, number, number]> = {
	[CELL.none]: [238, 242, 243],
	[CELL.tie]: [255, 255, 255],
	[CELL.off]: [208, 214, 216],
	[CELL.out]: [60, 70, 76],
};

/** Pixels of a cell at least, so that a small map can be looked at; and of the whole at most. */
const LEAST = 480;
const MOST = 4096;
const BAR = 14;

/**
 * The map with a pixel block a cell (of headings the first that selects anything), ties hatched, edges between values drawn; below it a bar
 * of the objects in the order in which they are listed, as wide as their shares.
 */
function picture({ columns, rows, headings, cells, objects, figures }: MapResult): Uint8Array {
	const block = Math.max(
		1,
		Math.min(Math.floor(LEAST / Math.max(columns, rows)), Math.floor(MOST / Math.max(columns, rows))),
	);
	const width = columns * block;
	const height = rows * block + BAR;
	const png = new PNG({ width, height });
	const n = headings ?? 1;
	const shownAt = (i: number, j: number): number => {
		const from = (j * columns + i) * n;
		for (let k = 0; k < n; k++) if ((cells[from + k] as number) >= 0) return cells[from + k] as number;
		return cells[from] as number;
	};
	const put = (x: number, y: number, [r, g, b]: readonly [number, number, number]) => {
		const at = 4 * (y * width + x);
		png.data[at] = r;
		png.data[at + 1] = g;
		png.data[at + 2] = b;
		png.data[at + 3] = 255;
	};
	const tone = (value: number): readonly [number, number, number] =>
		value >= 0 ? (TONES[value % TONES.length] as [number, number, number]) : (PLAIN[value] as [number, number, number]);
	const EDGE = [20, 36, 43] as const;
	for (let j = 0; j < rows; j++)
		for (let i = 0; i < columns; i++) {
			const value = shownAt(i, j);
			const right = i + 1 < columns && shownAt(i + 1, j) !== value;
			const below = j + 1 < rows && shownAt(i, j + 1) !== value;
			for (let v = 0; v < block; v++)
				for (let u = 0; u < block; u++) {
					const [x, y] = [i * block + u, j * block + v];
					const hatched = value === CELL.tie && (x + y) % 6 < 2;
					const edge = block > 3 && ((right && u === block - 1) || (below && v === block - 1));
					put(x, y, hatched || edge ? EDGE : tone(value));
				}
		}
	let x = 0;
	for (const { object, share } of figures.objects) {
		const end = Math.min(width, Math.round(x + share * width));
		for (; x < end; x++)
			for (let y = rows * block; y < height; y++) put(x, y, y === rows * block ? EDGE : tone(objects.indexOf(object)));
	}
	for (; x < width; x++)
		for (let y = rows * block; y < height; y++) put(x, y, y === rows * block ? EDGE : [255, 255, 255]);
	return PNG.sync.write(png);
}
