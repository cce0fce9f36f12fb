/** The worker that asks the map one looks at while one works: from coarse to fine, left off as soon as another is wanted. */
import type { Project, QueryMap } from '@frelk/core';
import { turned, unturned } from '@frelk/core/geometry';
import { CELL, MapAsker, namesOn, paint, refine, standsFor, UNSETTLED } from '@frelk/core/maps';
import { expose, transfer } from 'comlink';
import { type Change, changed } from '../data/text';

/** How a picture of directions is seen: the eye's rotation and opening, and the rotation of what the aim hangs on. */
export interface AimView {
	rotation: Float64Array;
	half: number;
	holder: Float64Array | null;
}

/** What is wanted to be seen. */
export type MapLook =
	| { kind: 'picture'; width: number; height: number; dark: boolean; view: AimView | null }
	| {
			kind: 'ground';
			heading: number | null;
			dark: boolean;
			/** The only object that is painted in full, as its place in the file. */
			only: number | null;
	  };

interface Shown {
	/** Cells asked so far stand for so many; 1 when all are asked. */
	step: number;
	/** A name an area that has room for one, in pixels of the picture, or in cells. */
	names: { x: number; y: number; text: string }[];
}
/** A picture over the eye: red, green, blue, opacity. */
export interface MapPicture extends Shown {
	kind: 'picture';
	width: number;
	height: number;
	pixels: Uint8ClampedArray<ArrayBuffer>;
}
/** A picture for the ground, its upper left corner at the first cell. */
export interface MapGround extends Shown {
	kind: 'ground';
	/** The share of the places at which each object is selected at one of the headings; where none can stand left out. */
	shares: { object: number; share: number }[];
	/** By place: the object selected there, or less than 0. */
	cells: Int32Array;
	/** By place: the heading at which that is so. */
	turns: Int32Array;
	/** Of what asks for room, the share of the places where it fits; null for others. */
	fits: number | null;
	width: number;
	height: number;
	columns: number;
	rows: number;
	pixels: Uint8ClampedArray<ArrayBuffer>;
}
export type MapShown = MapPicture | MapGround;

/** Longest time between two looks at whether another map is wanted, and between two pictures, milliseconds. */
const LOOK = 8;
const PICTURE = 60;
/** How much of what lies behind a picture is seen through it. */
const ALPHA = 0.5;

const pauses = new MessageChannel();
const waiting: (() => void)[] = [];
pauses.port1.onmessage = () => waiting.shift()?.();
/** Lets what has come in be seen. */
const pause = (): Promise<void> =>
	new Promise((go) => {
		waiting.push(go);
		pauses.port2.postMessage(0);
	});

let pieces: readonly string[] = [];
let wanted = 0;
/** The map that was asked last, to the end: another look at it asks nothing. */
let done: { key: string; asker: MapAsker; values: Int32Array; names: string[] } | null = null;

const asksRoom = ({ query }: MapAsker): boolean => query.kind === 'overlap' && query.room !== undefined;

function show(asker: MapAsker, values: Int32Array, step: number, look: MapLook, names: readonly string[]): MapShown {
	const { columns, rows, headings } = asker.grid;
	const valueWith = (place: number, heading: number): number => {
		const value = values[place * headings + heading];
		return value === UNSETTLED ? values[standsFor(asker.grid, step, place * headings + heading)] : value;
	};
	/** Which heading's value is shown of a place. */
	const headingAt = (place: number): number => {
		const looked = look.kind === 'ground' ? look : null;
		if (looked?.heading != null) return Math.min(looked.heading, headings - 1);
		const first = (is: (value: number) => boolean): number => {
			for (let k = 0; k < headings; k++) if (is(valueWith(place, k))) return k;
			return -1;
		};
		const only = looked?.only == null ? -1 : first((v) => v === looked.only);
		if (only >= 0) return only;
		// What asks for room wants nothing in the way.
		return Math.max(0, asksRoom(asker) ? first((v) => v === CELL.none) : first((v) => v >= 0));
	};
	const valueAt = (place: number): number => valueWith(place, headingAt(place));
	const valuesAt = (place: number): number[] =>
		look.kind === 'ground' && look.heading !== null
			? [valueAt(place)]
			: Array.from({ length: headings }, (_, k) => valueWith(place, k));
	if (look.kind === 'ground')
		return ground({ columns, rows, step }, names, look, { headingAt, valueAt, valuesAt }, asksRoom(asker));
	const { width, height, dark } = look;
	const shown = new Int32Array(width * height);
	const cellOf = look.view
		? directions(asker.map, columns, rows, width, height, look.view)
		: (x: number, y: number): [number, number] => [
				Math.min(columns - 1, Math.floor((x * columns) / width)),
				Math.min(rows - 1, Math.floor((y * rows) / height)),
			];
	for (let y = 0, i = 0; y < height; y++)
		for (let x = 0; x < width; x++, i++) {
			const cell = cellOf(x, y);
			shown[i] = cell ? valueAt(cell[1] * columns + cell[0]) : CELL.none;
		}
	return {
		kind: 'picture',
		step,
		width,
		height,
		pixels: paint(shown, width, height, { dark, alpha: ALPHA }),
		names: namesOn(shown, width, height, 1, (value) => names[value] ?? ''),
	};
}

/** @returns of a pixel the cell whose direction it shows, or null outside of the map */
function directions(
	map: QueryMap,
	columns: number,
	rows: number,
	width: number,
	height: number,
	{ rotation, half, holder }: AimView,
): (x: number, y: number) => [number, number] | null {
	const every = map.every ?? 1;
	const [yaw, pitch] = [map.yaw?.[0] ?? 0, map.pitch?.[1] ?? 0];
	return (px, py) => {
		const x = ((2 * (px + 0.5)) / width - 1) * half * (width / height);
		const y = (1 - (2 * (py + 0.5)) / height) * half;
		const v = turned(rotation, x, y, -1);
		const [a, b, c] = holder ? unturned(holder, ...v) : v;
		const degrees = 180 / Math.PI;
		const around = ((((Math.atan2(-a, -c) * degrees - yaw + every / 2) % 360) + 360) % 360) / every;
		const down = (pitch - Math.asin(b / Math.sqrt(a * a + b * b + c * c)) * degrees + every / 2) / every;
		const [i, j] = [Math.floor(around), Math.floor(down)];
		return i < columns && j >= 0 && j < rows ? [i, j] : null;
	};
}

/** Pixels along the longer side of a picture for the ground, and of a cell at most. */
const GROUND = 1024;
const CELL_ON_GROUND = 24;

/** What is known of each place: the value that is shown and its heading, and those of all headings that are looked at. */
interface PlaceValues {
	headingAt: (place: number) => number;
	valueAt: (place: number) => number;
	valuesAt: (place: number) => number[];
}

function ground(
	{ columns, rows, step }: { columns: number; rows: number; step: number },
	names: readonly string[],
	{ dark, only }: Extract<MapLook, { kind: 'ground' }>,
	{ headingAt, valueAt, valuesAt }: PlaceValues,
	room: boolean,
): MapGround {
	const block = Math.max(1, Math.min(CELL_ON_GROUND, Math.floor(GROUND / Math.max(columns, rows))));
	const [width, height] = [columns * block, rows * block];
	const cells = Int32Array.from({ length: columns * rows }, (_, place) => valueAt(place));
	const shown = new Int32Array(width * height);
	for (let y = 0, i = 0; y < height; y++)
		for (let x = 0; x < width; x++, i++) shown[i] = cells[Math.floor(y / block) * columns + Math.floor(x / block)];
	// Of what asks for room the places where it fits have a name too.
	const named = room
		? cells.map((v) => (v === CELL.none ? names.length : v === CELL.unborne ? names.length + 1 : v))
		: cells;
	const times = new Map<number, number>();
	let all = 0;
	for (let place = 0; place < cells.length; place++) {
		const values = valuesAt(place);
		if (values.every((v) => v === CELL.out)) continue;
		all++;
		for (const value of new Set(values)) times.set(value, (times.get(value) ?? 0) + 1);
	}
	const share = (value: number) => (all > 0 ? (times.get(value) ?? 0) / all : 0);
	return {
		kind: 'ground',
		cells,
		turns: Int32Array.from({ length: cells.length }, (_, place) => headingAt(place)),
		shares: [...times.keys()].filter((v) => v >= 0).map((object) => ({ object, share: share(object) })),
		fits: room ? share(CELL.none) : null,
		step,
		width,
		height,
		columns,
		rows,
		pixels: paint(shown, width, height, { dark, alpha: ALPHA, lit: only }),
		names: namesOn(named, columns, rows, BETWEEN, (value) => [...names, 'fits', 'hangs over'][value] ?? '').map(
			(n) => ({
				...n,
				x: n.x / BETWEEN,
				y: n.y / BETWEEN,
			}),
		),
	};
}

/** What a cell of the ground is taken for where room for names is looked for, pixels. */
const BETWEEN = 20;

const hand = {
	/**
	 * Asks a map and tells each picture of it as it comes; the last is told by `report` too.
	 * @param change what is new in the project's text since the last call
	 * @param report told of each picture; not any more once another map is wanted
	 */
	async look(
		change: readonly Change[],
		map: QueryMap,
		look: MapLook,
		report: (shown: MapShown) => void,
	): Promise<void> {
		pieces = changed(pieces, change);
		const mine = ++wanted;
		await pause();
		if (mine !== wanted) return;
		const text = pieces.join('');
		const key = `${JSON.stringify(map)}${text}`;
		const tell = (shown: MapShown) => report(transfer(shown, [shown.pixels.buffer]));
		if (done?.key === key) {
			tell(show(done.asker, done.values, 1, look, done.names));
			return;
		}
		const project = JSON.parse(text) as Project;
		const asker = new MapAsker(project, map);
		const names = project.scene.objects.map((o) => o.name ?? o.id);
		const going = refine(asker);
		let [looked, told, step] = [performance.now(), 0, Infinity];
		for (;;) {
			const next = going.next();
			if (next.done) break;
			const now = performance.now();
			const { values } = next.value;
			const finer = next.value.step < step && next.value.step <= 16;
			step = next.value.step;
			if ((finer && step > 1) || (step <= 16 && now - told > PICTURE)) {
				tell(show(asker, values, step, look, names));
				told = performance.now();
			}
			if (now - looked > LOOK) {
				await pause();
				if (mine !== wanted) return;
				looked = performance.now();
			}
			if (step === 1) {
				done = { key, asker, values, names };
				tell(show(asker, values, 1, look, names));
			}
		}
	},
	/** Nothing is wanted any more. */
	leave(): void {
		wanted++;
		done = null;
	},
};

export type MapHand = typeof hand;
expose(hand);
