/** A map as a table: a line an answer. */
import { CELL } from './cell';
import type { MapResult } from './map';

/** What the columns of `mapRows` are. */
export const MAP_HEAD = 'map,column,row,heading,value';

const NAMES: Record<number, string> = {
	[CELL.none]: '(none)',
	[CELL.tie]: '(tie)',
	[CELL.off]: '(off)',
	[CELL.out]: '(out)',
};

/** Lines of CSV in printed order: ids, or in brackets what is no object; no heading where there are none. */
export function* mapRows(result: MapResult): Generator<string> {
	const headings = result.headings ?? 1;
	for (let at = 0; at < result.cells.length; at++) {
		const place = Math.floor(at / headings);
		const value = result.cells[at];
		yield [
			result.map,
			place % result.columns,
			Math.floor(place / result.columns),
			result.headings === null ? '' : at % headings,
			value >= 0 ? result.objects[value] : NAMES[value],
		].join(',');
	}
}
