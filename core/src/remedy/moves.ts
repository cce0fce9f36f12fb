/** Things moved by the least way that makes it well. */
import { unturned } from '../geometry/matrix';
import { rounded, tripleOf } from '../project/rounding';
import type { Vec3 } from '../project/schema';
import { Answerer } from '../query/answer';
import { isNote, placementOf } from '../query/placement';
import { metres } from '../query/words';
import { hangsUnder, moveObjects, type WorldObject } from '../world/world';
import { type Candidate, type Case, wellWith } from './candidate';
import { onObject, onQuery } from './change';
import { Relaxed } from './relaxed';
import { leastMove } from './search';

/** The subject, the asker or the cursor moved by the least way; each is looked for when it is asked for. */
export function* moves(c: Case): Generator<Candidate> {
	const { query, subject, world, naming } = c;
	yield* moved(c, subject, 'move-object', `Move ${naming('object', subject.id)}`);
	const asker = world.objectById.get(query.asker ?? '');
	if (asker && !hangsUnder(subject, asker)) yield* moved(c, asker, 'move-asker', `Move ${naming('object', asker.id)}`);
	if (query.kind === 'pick') {
		const cursor = query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2];
		const at = (dx: number, dy: number): [number, number] => [rounded(cursor[0] + dx, 3), rounded(cursor[1] + dy, 3)];
		const found = leastMove(
			(dx, dy) => wellWith(c, { ...query, cursor: at(dx, dy) }),
			true,
			[],
			1,
			Math.hypot(...query.viewport),
		);
		if (found) {
			const to = at(found.move[0], found.move[1]);
			yield {
				kind: 'move-cursor',
				words: `Point ${Number(found.length.toFixed(1))} px farther, at ${to.map((v) => Number(v.toFixed(1))).join(', ')}`,
				recipe: onQuery(query.id, () => ({ cursor: to })),
				size: rounded(found.length, 3),
				unit: 'px',
				of: 'cursor',
			};
		}
	}
}

/** One object moved by the least way that makes it well, with what hangs on it. */
export function* moved(c: Case, object: WorldObject, kind: string, words: string): Generator<Candidate> {
	const { world, query, isWell } = c;
	const was = object.def;
	const from = was.position ?? [0, 0, 0];
	const { parent } = object;
	const local = (dx: number, dy: number, dz: number): Vec3 => {
		const d = parent ? unturned(parent.rotation, dx, dy, dz) : [dx, dy, dz];
		return tripleOf((k) => rounded(from[k] + d[k] / (parent?.scale[k] ?? 1), 6));
	};
	const alone = new Relaxed(c);
	const holds = (dx: number, dy: number, dz: number): boolean => {
		const def = { ...was, position: local(dx, dy, dz) };
		if (!alone.mayBe(object.id, def)) return false;
		moveObjects(world, new Map([[object.id, def]]));
		return isWell(new Answerer(world).winner(query));
	};
	const found = leastMove(holds, world.flat, toward(c, object));
	moveObjects(world, new Map([[object.id, was]]));
	if (!found) return;
	const position = local(...found.move);
	const way = found.move.map((v) => Number(v.toFixed(3)));
	yield {
		kind,
		words: `${words} by ${metres(found.length)} (${way.join(', ')})`,
		recipe: onObject(object.id, () => ({ position })),
		size: rounded(found.length, 6),
		unit: 'm',
		of: object.id,
	};
}

/** Directions worth trying: onto the path and away from it, to the start and to the middle of the volume. */
function toward({ world, query }: Case, object: WorldObject): Vec3[] {
	const asker = world.objectById.get(query.asker ?? '') ?? null;
	const placement = placementOf({ world, query, asker, hitOf: () => null });
	if (isNote(placement)) return [];
	const points: Vec3[] = [placement.measuring as Vec3];
	const { path } = placement;
	if (path) {
		const [dx, dy, dz] = path.dir;
		const to = tripleOf((k) => object.focus[k] - path.start[k]);
		const t = Math.max(0, Math.min(path.length, to[0] * dx + to[1] * dy + to[2] * dz));
		points.push([path.start[0] + t * dx, path.start[1] + t * dy, path.start[2] + t * dz]);
	}
	const centre = object.shapes[0]?.body;
	const from: Vec3 = centre ? [centre.x, centre.y, centre.z] : object.focus;
	return points.flatMap(([x, y, z]): Vec3[] => {
		const d: Vec3 = [x - from[0], y - from[1], z - from[2]];
		return [d, [-d[0], -d[1], -d[2]]];
	});
}
