/** Some rows of a map, asked in a worker. */
import type { QueryMap } from '@frelk/core';
import { askRows, MapAsker, type MapPart } from '@frelk/core/maps';
import { unshared } from './shared';

/** What a worker is asked for. */
interface Wanted {
	/** The project's text, see `shared`. */
	text: SharedArrayBuffer;
	map: QueryMap;
	from: number;
	to: number;
}

/** A worker asks one map after the other, part by part: what is made ready for one part serves the next. */
let ready: { map: string; asker: MapAsker } | null = null;

export default function mapPart({ text, map, from, to }: Wanted): MapPart {
	if (ready?.map !== map.id) ready = { map: map.id, asker: new MapAsker(unshared(text), map) };
	return askRows(ready.asker, from, to);
}
