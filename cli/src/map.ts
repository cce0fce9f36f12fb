/** `frelk map`: a query asked over a grid, as words, JSON, a table or a picture. */
import { availableParallelism } from 'node:os';
import { didYouMean, type Project, type QueryMap } from '@frelk/core';
import {
	askMap,
	joinedParts,
	MAP_HEAD,
	MapAsker,
	type MapPart,
	type MapResult,
	mapGrid,
	mapLegendSvg,
	mapRows,
	mapSvg,
	paint,
	resultOf,
	shownIn,
} from '@frelk/core/maps';
import { PNG } from 'pngjs';
import { Tinypool } from 'tinypool';
import { checkWritable, type Io, load, UsageError, write } from './files';
import { indentedGrid } from './json';
import { rasterized } from './rasterized';
import { shared } from './shared';

interface MapOptions {
	map: string[];
	json?: boolean;
	csv?: string;
	png?: string;
	svg?: string;
	workers?: string;
}

/** @returns the exit code */
export async function maps(io: Io, file: string, options: MapOptions): Promise<number> {
	const { project } = await load(io, file);
	const all = project.maps ?? [];
	const ids = all.map((m) => m.id);
	for (const id of options.map)
		if (!ids.includes(id)) throw new UsageError(`${file}: no map "${id}"${didYouMean(id, ids)}`);
	const wanted = all.filter((m) => options.map.length === 0 || options.map.includes(m.id));
	for (const way of ['png', 'svg'] as const)
		if (options[way] !== undefined && wanted.length !== 1)
			throw new UsageError(`--${way} draws one map; name it with --map${ids.length > 0 ? ` (${ids.join(', ')})` : ''}`);
	const workers = options.workers === undefined ? null : Number(options.workers);
	if (workers !== null && !(Number.isInteger(workers) && workers >= 1 && workers <= MAX_WORKERS))
		throw new UsageError(`--workers is a whole number from 1 to ${MAX_WORKERS}; got ${options.workers}`);
	await checkWritable(options.csv, options.png, options.svg);
	if (options.json) io.out(`{\n  "format": "frelk-maps/1",\n  "project": ${JSON.stringify(project.id)},\n  "maps": [`);
	const rows: string[] = [MAP_HEAD];
	let drawn: Uint8Array | null = null;
	let svg: string | null = null;
	for (const [i, map] of wanted.entries()) {
		const result = await asked(io, project, map, workers);
		if (options.json) io.out(`${i === 0 ? '' : ','}\n    ${indentedGrid(result, 4)}`);
		if (options.csv !== undefined) rows.push(...mapRows(result));
		if (options.png !== undefined) drawn = await picture(map, result, namesIn(project));
		if (options.svg !== undefined) svg = mapSvg(map, result, namesIn(project));
		if (!options.json) io.out(`${i === 0 ? '' : '\n'}${words(map, result)}`);
	}
	if (options.json) io.out(`${wanted.length > 0 ? '\n  ' : ''}]\n}\n`);
	else if (wanted.length === 0) io.out(`${project.id} has no maps\n`);
	if (options.csv !== undefined) await write(options.csv, `${rows.join('\r\n')}\r\n`);
	if (options.png !== undefined && drawn) await write(options.png, drawn);
	if (options.svg !== undefined && svg) await write(options.svg, svg);
	return 0;
}

const MAX_WORKERS = 64;

const percent = (share: number): string => `${(100 * share).toFixed(2).padStart(6)} %`;

function words(map: QueryMap, { columns, rows, headings, figures }: MapResult): string {
	const cells = [columns, rows, ...(headings === null ? [] : [`${headings} headings`])].join(' × ');
	const lines = [`${map.id}: ${map.kind} map of ${map.query}, ${cells}`];
	for (const { object, share, first, circle } of figures.objects) {
		const firstOf = first === share ? '' : `, first in ${percent(first).trim()}`;
		const wide = circle === null ? '' : `, ${Number(circle.toFixed(1))} px wide`;
		lines.push(`  ${percent(share)}  ${object}${firstOf}${wide}`);
	}
	if (figures.tied > 0) lines.push(`  ${percent(figures.tied)}  tied`);
	for (const { object, over, ...most } of figures.never) {
		const { stage, margin } = over ?? most;
		const least = margin === null ? '' : `, at least by ${Number(margin.toPrecision(3))}`;
		lines.push(`     never  ${object}: ${over ? '' : 'mostly '}${stage}${least}`);
	}
	return `${lines.join('\n')}\n`;
}

/** Pixels of a cell at least, so that a small map can be looked at; and of the whole at most. */
const LEAST = 640;
const MOST = 4096;
/** Pixels in a row from which on the legend is written larger, so that it is read beside so large a map. */
const LARGE = 1280;
/** How many times as large at most: a map of one long row has a legend like any other. */
const LARGEST = 4;

/** The map with a block of pixels a cell (of headings the first that selects anything); below it the legend. */
async function picture(map: QueryMap, result: MapResult, name: (id: string) => string): Promise<Uint8Array> {
	const { columns, rows } = result;
	const longer = Math.max(columns, rows);
	const block = Math.max(1, Math.min(Math.floor(LEAST / longer), Math.floor(MOST / longer)));
	// Of a map that is longer than any picture one cell of several stands for all.
	const step = Math.ceil(longer / MOST);
	const [width, height] = [Math.ceil(columns / step) * block, Math.ceil(rows / step) * block];
	const shown = Int32Array.from({ length: width * height }, (_, i) =>
		shownIn(result, step * Math.floor((i % width) / block), step * Math.floor(i / width / block)),
	);
	const legend = PNG.sync.read(
		await rasterized(mapLegendSvg(map, result, name), Math.min(LARGEST, Math.max(1, width / LARGE))),
	);
	const cells = new PNG({ width, height });
	cells.data = Buffer.from(paint(shown, width, height).buffer);
	const whole = new PNG({ width: Math.max(width, legend.width), height: height + legend.height });
	whole.data.fill(255);
	PNG.bitblt(cells, whole, 0, 0, width, height, 0, 0);
	PNG.bitblt(legend, whole, 0, 0, legend.width, legend.height, 0, height);
	return PNG.sync.write(whole);
}

/** Answers from which on several workers are worth their start. */
const MANY = 200_000;

const namesIn = (project: Project): ((id: string) => string) => {
	const names = new Map(project.scene.objects.map((o) => [o.id, o.name ?? o.id]));
	return (id) => names.get(id) ?? id;
};

/** Asks a map, by as many workers as are given; the outcome is the same. */
async function asked(io: Io, project: Project, map: QueryMap, workers: number | null): Promise<MapResult> {
	const grid = mapGrid(project, map);
	const answers = grid ? grid.columns * grid.rows * grid.headings : 0;
	const hands = Math.min(grid?.rows ?? 1, workers ?? (answers < MANY ? 1 : availableParallelism()));
	if (hands <= 1) return askMap(project, map, { progress: (done, of) => io.doing(`${map.id}: row ${done} of ${of}`) });
	const here = import.meta.url;
	// The sources run as they are; what is packed is compiled.
	const filename = new URL(here.endsWith('.ts') ? '../bin/map-part.mjs' : './map-part.js', here).href;
	const pool = new Tinypool({ filename, runtime: 'worker_threads', minThreads: hands, maxThreads: hands });
	try {
		const asker = new MapAsker(project, map);
		const { rows } = asker.grid;
		const size = Math.max(1, Math.ceil(rows / (PARTS * hands)));
		const text = shared(project);
		let done = 0;
		const parts = await Promise.all(
			Array.from({ length: Math.ceil(rows / size) }, async (_, i): Promise<MapPart> => {
				const part = await pool.run({ text, map, from: i * size, to: Math.min(rows, (i + 1) * size) });
				done += part.to - part.from;
				io.doing(`${map.id}: row ${done} of ${rows}, by ${hands} workers`);
				return part;
			}),
		);
		return resultOf(asker, joinedParts(asker, parts));
	} finally {
		await pool.destroy();
	}
}

/** Parts a worker gets at least, so that none waits long for the slowest. */
const PARTS = 4;
