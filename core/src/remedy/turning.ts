/** What may be tried where an object lies beside the way a query goes: the aim turned, the asker turned, the path made thicker. */
import { unturned } from '../geometry/matrix';
import { rounded, tripleOf } from '../project/rounding';
import type { Query, QueryOf, Vec3 } from '../project/schema';
import { isNote, placementOf } from '../query/placement';
import { degrees, metres } from '../query/words';
import { moveObjects, type WorldObject } from '../world/world';
import { type Candidate, type Case, plain, wellWith } from './candidate';
import { onObject, onQuery } from './change';
import { somebodyIn } from './moves';
import { leastAlong } from './search';

/** How near a turn is found, degrees. */
const TURN = 0.1;
/** How far above it, as parts of its distance, a throw is aimed. */
const RISES = [0.1, 0.25, 0.5, 1, 2];
/** Turns of the asker that are tried all around, degrees. */
const STOP = 3;
/** How near a radius is found, and how thick a path is made at most, metres. */
const THICK = { near: 0.01, most: 2 };

/** The aim of a path turned to the object, or the asker turned about the vertical; each is looked for when it is asked for. */
export function* turning(c: Case): Generator<Candidate> {
	const { query } = c;
	if (query.kind === 'ray' || query.kind === 'sweep') {
		if (query.to) yield aimedAt(c, 'to', 'Let it go to');
		else if (query.arc?.at) yield aimedAt(c, 'arc', 'Throw it at');
		else if (query.aim) yield* turnedAim(c, query);
	}
	const asker = somebodyIn(c);
	if (asker && !asker.parent) yield* turnedAsker(c, asker);
}

/** A ray made a sweep of the least radius that touches the object; all else of it stays. */
export function* thickening(c: Case): Generator<Candidate> {
	const { query, world } = c;
	// What lies past the end is not reached by being wider.
	if (query.kind !== 'ray' || query.assist || c.verdict?.beyond !== undefined) return;
	const shape = (radius: number) => ({ kind: world.flat ? ('circle' as const) : ('sphere' as const), radius });
	const thick = (radius: number) => ({ ...query, kind: 'sweep', shape: shape(rounded(radius, 6)) }) as Query;
	const found = leastAlong((radius) => wellWith(c, thick(radius)), THICK.most, THICK.near);
	if (found === null) return;
	const radius = rounded(found, 6);
	yield {
		kind: 'thicken',
		words: `Make it a sweep ${metres(2 * radius)} thick`,
		recipe: onQuery(query.id, () => ({ kind: 'sweep', shape: shape(radius) })),
		size: radius,
		unit: 'm',
	};
}

/** What a path goes to put at the object. */
function aimedAt({ query, target, naming }: Case, field: 'aim' | 'to' | 'arc', words: string): Candidate {
	const at = { focus: target.id };
	return {
		...plain(
			'turn-aim',
			`${words} ${naming('object', target.id)}`,
			onQuery(query.id, (q) =>
				field === 'to'
					? { to: at }
					: field === 'aim'
						? { aim: { toward: at } }
						: { arc: { ...(q as QueryOf<'ray'>).arc, at } },
			),
		),
		looks: 'works',
	};
}

function* turnedAim(c: Case, query: QueryOf<'ray'> | QueryOf<'sweep'>): Generator<Candidate> {
	const { world, subject, target, naming } = c;
	const { aim } = query;
	if (!aim?.along) {
		yield aimedAt(c, 'aim', 'Aim at');
		return;
	}
	const placement = placementOf({
		world,
		query,
		asker: world.objectById.get(query.asker ?? '') ?? null,
		hitOf: () => null,
	});
	if (isNote(placement)) return;
	const from = placement.path?.dir ?? placement.arc?.dir;
	if (!from) return;
	const axes = aim.of === undefined ? null : (world.objectById.get(aim.of) ?? world.cameras.get(aim.of))?.rotation;
	const start = placement.apex;
	const points: (readonly number[])[] = [subject.focus, ...subject.shapes.map(({ body }) => [body.x, body.y, body.z])];
	// What is thrown falls: it is aimed above what it is to meet.
	if (placement.arc) {
		const [x, y, z] = subject.focus;
		const away = Math.hypot(x - start[0], z - start[2]);
		for (const rise of RISES) points.push([x, y + away * rise, z]);
	}
	let best: { angle: number; along: Vec3 } | null = null;
	for (const point of points) {
		const way = unit(tripleOf((k) => (world.flat && k === 2 ? 0 : (point[k] as number) - (start[k] as number))));
		const arc = way && between(from as Vec3, way);
		if (!arc) continue;
		const along = (angle: number): Vec3 => {
			const d = arc.at(angle);
			const own = axes ? unturned(axes, ...d) : d;
			return tripleOf((k) => rounded(own[k] as number, 6));
		};
		const most = best ? best.angle - TURN / 2 : arc.whole;
		if (most <= 0) continue;
		const angle = leastAlong((t) => wellWith(c, { ...query, aim: { ...aim, along: along(t) } }), most, TURN);
		if (angle !== null) best = { angle, along: along(angle) };
	}
	if (!best) return;
	const { angle, along } = best;
	yield {
		kind: 'turn-aim',
		words: `Turn its aim by ${degrees(angle)} towards ${naming('object', target.id)}`,
		recipe: onQuery(query.id, () => ({ aim: { ...aim, along } })),
		size: rounded(angle, 6),
		unit: '°',
		looks: 'works',
	};
}

function* turnedAsker(c: Case, asker: WorldObject): Generator<Candidate> {
	const { world, query, naming, isWell } = c;
	const was = asker.def;
	const [yaw, pitch, roll] = was.rotation ?? [0, 0, 0];
	const turned = (by: number): Vec3 =>
		world.flat ? [yaw, pitch, rounded(roll + by, 6)] : [rounded(yaw + by, 6), pitch, roll];
	const holds = (by: number): boolean => {
		moveObjects(world, new Map([[asker.id, { ...was, rotation: turned(by) }]]));
		return isWell(world, query);
	};
	// A small thing may be passed over between two turns: all around is looked at in even ones.
	const stops = Array.from({ length: 180 / STOP }, (_, i) => (i + 1) * STOP);
	let best: number | null = null;
	for (const way of [1, -1]) {
		const most: number = best === null ? 180 : Math.abs(best) - TURN / 2;
		const found = most > 0 ? leastAlong((t) => holds(way * t), most, TURN, stops) : null;
		if (found !== null) best = way * found;
	}
	moveObjects(world, new Map([[asker.id, was]]));
	if (best === null) return;
	const rotation = turned(best);
	yield {
		kind: 'turn-asker',
		words: `Turn ${naming('object', asker.id)} by ${degrees(Math.abs(best))} to the ${best > 0 ? 'left' : 'right'}`,
		recipe: onObject(asker.id, () => ({ rotation })),
		size: rounded(Math.abs(best), 6),
		unit: '°',
		looks: 'works',
	};
}

function unit(v: Vec3): Vec3 | null {
	const length = Math.hypot(...v);
	return length < 1e-9 ? null : tripleOf((k) => (v[k] as number) / length);
}

/** The turn from one direction to another along the great circle of both; null where they are one, or opposite. */
function between(from: Vec3, to: Vec3): { whole: number; at: (angle: number) => Vec3 } | null {
	const cosine = from[0] * to[0] + from[1] * to[1] + from[2] * to[2];
	const side = unit(tripleOf((k) => (to[k] as number) - cosine * (from[k] as number)));
	if (!side) return null;
	const whole = (Math.atan2(Math.sqrt(Math.max(0, 1 - cosine * cosine)), cosine) * 180) / Math.PI;
	const at = (angle: number): Vec3 => {
		const [c, s] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
		return tripleOf((k) => c * (from[k] as number) + s * (side[k] as number));
	};
	return { whole, at };
}
