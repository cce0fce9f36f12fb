/** What may be tried of a throw: faster or slower, the other of its two ways, longer in the air. */
import { ARC } from '../project/defaults';
import { rounded } from '../project/rounding';
import type { Arc, Query } from '../project/schema';
import { type Candidate, type Case, outward, plain, wellWith } from './candidate';
import { onQuery, type Recipe } from './change';
import { leastAlong } from './search';

/** How near a speed is found, m/s, and how many times faster is tried. */
const SPEED = { near: 0.1, times: 3 };
/** How near a time in the air is found, and how long is tried, seconds. */
const TIME = { near: 0.1, most: 30 };

const onArc = (id: string, change: Partial<Arc>): Recipe =>
	onQuery(id, (q) => ('arc' in q && q.arc ? { arc: { ...q.arc, ...change } } : {}));

const speedWords = (speed: number): string => `Throw it at ${rounded(speed, 6)} m/s`;

/** Of a throw that waits, for no throw of its speed comes there. */
export function* reachingThere({ query, answer }: Case): Generator<Candidate> {
	const note = answer.notes.find((n) => n.code === 'out-of-reach');
	if (!note || !('arc' in query) || !query.arc) return;
	const was = query.arc.speed;
	// At the least speed both ways are one, and the last digit decides: one step more is tried after it.
	for (const speed of [outward(note.speed, SPEED.near), outward(note.speed + SPEED.near, SPEED.near)])
		yield {
			kind: 'speed',
			words: speedWords(speed),
			recipe: onArc(query.id, { speed }),
			size: rounded(speed - was, 6),
			unit: 'm/s',
			of: 'speed',
		};
}

/** Of a throw that does not come to the object; each is looked for when it is asked for. */
export function* throwing(c: Case): Generator<Candidate> {
	const { query } = c;
	if (!('arc' in query) || !query.arc) return;
	const { arc } = query;
	const well = (change: Partial<Arc>) => wellWith(c, { ...query, arc: { ...arc, ...change } } as Query);
	if (arc.at)
		yield plain(
			'way',
			arc.high ? 'Throw it the flat way' : 'Throw it the steep way',
			onArc(query.id, { high: !arc.high }),
		);
	const at = (by: number) => rounded(arc.speed + by, 6);
	for (const way of [1, -1]) {
		const most = way > 0 ? arc.speed * (SPEED.times - 1) : arc.speed - SPEED.near;
		const by = most > 0 ? leastAlong((t) => well({ speed: at(way * t) }), most, SPEED.near) : null;
		if (by === null) continue;
		const speed = at(way * by);
		yield {
			kind: 'speed',
			words: speedWords(speed),
			recipe: onArc(query.id, { speed }),
			size: rounded(by, 6),
			unit: 'm/s',
		};
	}
	const time = arc.time ?? ARC.time;
	const longer = leastAlong((t) => well({ time: rounded(time + t, 6) }), TIME.most, TIME.near);
	if (longer !== null)
		yield {
			kind: 'time',
			words: `Let it fly for ${rounded(time + longer, 6)} s`,
			recipe: onArc(query.id, { time: rounded(time + longer, 6) }),
			size: rounded(longer, 6),
			unit: 's',
		};
}
