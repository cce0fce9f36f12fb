/** Two maps of one grid held against each other: what changed hands. */
import { CELL } from './cell';
import type { MapResult } from './map';

/** What a cell says: an id, or in words what is no object. */
export type CellSays = { object: string } | 'nothing' | 'a tie' | 'off' | 'no place';

/** So many answers went from one to another. */
export interface Handed {
	from: CellSays;
	to: CellSays;
	answers: number;
}

/** Two maps compared. */
export interface MapsCompared {
	/** 1 for each answer that differs, in printed order. */
	changed: Uint8Array;
	/** How many differ, of how many. */
	differ: number;
	answers: number;
	/** The most first. */
	handed: Handed[];
}

const says = ({ objects, cells }: MapResult, at: number): CellSays => {
	const value = cells[at];
	if (value >= 0) return { object: objects[value] ?? '' };
	return value === CELL.none ? 'nothing' : value === CELL.tie ? 'a tie' : value === CELL.off ? 'off' : 'no place';
};

const keyOf = (said: CellSays): string => (typeof said === 'string' ? said : `:${said.object}`);

/** @throws RangeError for maps of different grids */
export function compareMaps(before: MapResult, after: MapResult): MapsCompared {
	if (before.columns !== after.columns || before.rows !== after.rows || before.headings !== after.headings)
		throw new RangeError('the maps have different grids');
	const answers = after.cells.length;
	const changed = new Uint8Array(answers);
	const handed = new Map<string, Handed>();
	let differ = 0;
	for (let at = 0; at < answers; at++) {
		const from = says(before, at);
		const to = says(after, at);
		const [a, b] = [keyOf(from), keyOf(to)];
		if (a === b) continue;
		changed[at] = 1;
		differ++;
		const key = `${a} ${b}`;
		const known = handed.get(key);
		if (known) known.answers++;
		else handed.set(key, { from, to, answers: 1 });
	}
	return { changed, differ, answers, handed: [...handed.values()].sort((a, b) => b.answers - a.answers) };
}
