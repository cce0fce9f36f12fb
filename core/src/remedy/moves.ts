/** Things moved by the least way that makes it well. */
import { unturned } from '../geometry/matrix';
import { rounded, tripleOf } from '../project/rounding';
import type { Vec3 } from '../project/schema';
import { isNote, placementOf, projectPoint } from '../query/placement';
import { metres } from '../query/words';
import { hangsUnder, moveObjects, type WorldObject } from '../world/world';
import { type Candidate, type Case, wellWith } from './candidate';
import { onObject, onQuery } from './change';
import { Footing, type Mover } from './footing';
import { Relaxed } from './relaxed';
import { leastMove } from './search';

/** The subject, the asker or the cursor moved by the least way; each is looked for when it is asked for. */
export function* moves(c: Case): Generator<Candidate> {
	const { query, subject, naming } = c;
	yield* moved(c, subject, 'move-object', `Move ${naming('object', subject.id)}`);
	const asker = somebodyIn(c);
	if (asker) yield* moved(c, asker, 'move-asker', `Move ${naming('object', asker.id)}`, 'somebody');
	if (query.kind === 'pick') {
		const cursor = query.cursor ?? [query.viewport[0] / 2, query.viewport[1] / 2];
		const at = (dx: number, dy: number): [number, number] => [rounded(cursor[0] + dx, 3), rounded(cursor[1] + dy, 3)];
		const [width, height] = query.viewport;
		const inPicture = ([x, y]: readonly [number, number]) => x >= 0 && y >= 0 && x <= width && y <= height;
		const found = leastMove(
			(dx, dy) => inPicture(at(dx, dy)) && wellWith(c, { ...query, cursor: at(dx, dy) }),
			'flat',
			towardInPicture(c, cursor),
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
				looks: 'works',
			};
		}
	}
}

/** From the cursor to where the subject is seen, pixels. */
function towardInPicture({ world, query, subject }: Case, [x, y]: readonly [number, number]): Vec3[] {
	const placement = placementOf({
		world,
		query,
		asker: world.objectById.get(query.asker ?? '') ?? null,
		hitOf: () => null,
	});
	if (isNote(placement) || !placement.view) return [];
	const seen = new Float64Array(3);
	const { view } = placement;
	return [subject.focus, ...subject.shapes.map(({ body }) => [body.x, body.y, body.z] as const)].flatMap(
		(point): Vec3[] => {
			projectPoint(view, point, seen);
			const [px, py, depth] = seen as unknown as [number, number, number];
			return depth > 0 || !view.perspective ? [[px - x, py - y, 0]] : [];
		},
	);
}

/** The asker with all that carries them, as somebody who can step aside; null where the subject would come along. */
export function somebodyIn({ world, query, subject }: Case): WorldObject | null {
	let asker = world.objectById.get(query.asker ?? '') ?? null;
	if (!asker || hangsUnder(subject, asker)) return null;
	while (asker.parent && !hangsUnder(subject, asker.parent)) asker = asker.parent;
	return asker;
}

/** One object moved by the least way that makes it well, with what hangs on it, to where the world lets it stand. */
export function* moved(
	c: Case,
	object: WorldObject,
	kind: string,
	words: string,
	mover: Mover = 'thing',
): Generator<Candidate> {
	const { world, query, isWell } = c;
	const footing = new Footing(world, object, mover);
	if (footing.fixed) return;
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
		return isWell(world, query) && footing.allows();
	};
	const found = leastMove(holds, world.flat ? 'flat' : footing.level ? 'ground' : 'space', toward(c, object, mover));
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
		looks: 'works',
	};
}

/** Moves worth trying: of a thing onto the path, before what is met first, to the start; of who asks, so that the path comes to the subject. */
function toward({ world, query, answer, subject }: Case, object: WorldObject, mover: Mover): Vec3[] {
	const asker = world.objectById.get(query.asker ?? '') ?? null;
	const placement = placementOf({ world, query, asker, hitOf: () => null });
	if (isNote(placement)) return [];
	const what = mover === 'somebody' ? subject : object;
	const points: Vec3[] = [placement.measuring as Vec3];
	const { path } = placement;
	if (path) {
		const [dx, dy, dz] = path.dir;
		const to = tripleOf((k) => what.focus[k] - path.start[k]);
		const t = Math.max(0, Math.min(path.length, to[0] * dx + to[1] * dy + to[2] * dz));
		// Where it is nearest, and before what is met first.
		const first = answer.selected[0]?.distance;
		for (const at of [t, ...(first === undefined ? [] : [first / 2])])
			points.push([path.start[0] + at * dx, path.start[1] + at * dy, path.start[2] + at * dz]);
	}
	const centre = what.shapes[0]?.body;
	const from: Vec3 = centre ? [centre.x, centre.y, centre.z] : what.focus;
	return points.flatMap(([x, y, z]): Vec3[] => {
		const d: Vec3 = [x - from[0], y - from[1], z - from[2]];
		return [d, [-d[0], -d[1], -d[2]]];
	});
}
