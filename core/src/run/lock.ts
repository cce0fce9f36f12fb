/** A lock on one target: it stays until it is let go, and steps to the next one on the right or the left (contract §19). */
import { angleBetween } from '../geometry/matrix';
import { NO_LENGTH } from '../geometry/tolerances';
import { TIME_EPSILON } from '../project/defaults';
import type { Press, Query } from '../project/schema';
import type { Probed } from '../query/answer';
import { type Point, projectPoint } from '../query/placement';
import { focusOf, type Touching } from '../query/touch';
import { forwardOf, type World, type WorldObject } from '../world/world';
import { type Chosen, contendersOf, NOTHING_CHOSEN } from './chosen';

/** Bearings are compared to so much, degrees or pixels. */
const ROUNDING = 1e6;

/** Contenders by whom they answer for, the one of several that choosing keeps. */
function keptContenders(probed: Probed): Map<WorldObject, WorldObject> {
	const kept = new Map<WorldObject, WorldObject>();
	for (const object of contendersOf(probed))
		if (probed.verdicts[object.index]?.rule !== 'stands-for') kept.set(object.answersFor, object);
	return kept;
}

export class Lock {
	/** What is held at this step, as answered for; and what the presses of this step have made of it, for the next. */
	private held: string | null = null;
	private next: string | null = null;
	/** When each was last a contender, seconds. */
	private readonly lastSeen = new Map<string, number>();

	constructor(private readonly patience: number) {}

	/** @param t seconds; @returns what is shown at this step */
	step(world: World, probed: Probed, t: number): Chosen {
		const kept = keptContenders(probed);
		for (const target of kept.keys()) this.lastSeen.set(target.id, t);
		const { next } = this;
		const isKept = next !== null && (this.lastSeen.get(next) ?? -Infinity) >= t - this.patience - TIME_EPSILON;
		this.held = isKept ? next : null;
		this.next = this.held;
		const target = this.held === null ? undefined : world.objectById.get(this.held);
		if (!target) return NOTHING_CHOSEN;
		const by = kept.get(target) ?? target;
		return { selected: [target.id], tied: [], through: [by === target ? null : by.id] };
	}

	/** @returns what was held and what will be, as far as it is known at this step */
	press(
		what: NonNullable<Press['do']>,
		world: World,
		query: Query | undefined,
		probed: Probed,
	): { from: string | null; to: string | null } {
		const from = this.next;
		if (what === 'release') this.next = null;
		else if (what === 'lock' || from === null) this.next = probed.answer.selected[0]?.object ?? from;
		else if (query && probed.touching)
			this.next = beside(world, query, probed, probed.touching, from, what === 'next' ? 1 : -1);
		return { from, to: this.next };
	}
}

/** The one beside another in the ring of contenders by bearing. */
function beside(world: World, query: Query, probed: Probed, t: Touching, held: string, by: 1 | -1): string {
	const kept = keptContenders(probed);
	const own = world.objectById.get(held);
	if (own && !kept.has(own)) kept.set(own, own);
	const ring = [...kept].map(([target, object]) => ({ target, bearing: bearingOf(world, query, t, object) }));
	ring.sort((a, b) => (a.bearing === b.bearing ? 0 : a.bearing - b.bearing) || a.target.index - b.target.index);
	const at = ring.findIndex(({ target }) => target.id === held);
	return ring[(at + by + ring.length) % ring.length]?.target.id ?? held;
}

const rounded = (value: number): number => {
	const short = Math.round(value * ROUNDING) / ROUNDING;
	// The same place whichever way it is told, and no −0.
	return short === -180 ? 180 : short + 0;
};

const projected = new Float64Array(3);

/** Where an object stands to the right: pixels in a picture, else degrees about the vertical from the query's axis; behind a camera last. */
function bearingOf(world: World, query: Query, { placement }: Touching, object: WorldObject): number {
	const focus = focusOf(placement, world.flat, object);
	if (placement.view) {
		projectPoint(placement.view, focus, projected);
		const behind = placement.view.perspective ? projected[2] <= 0 : projected[2] < 0;
		return behind ? Infinity : Math.round(projected[0] * ROUNDING) / ROUNDING + 0;
	}
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	const axis: Point =
		placement.viewAxis ??
		placement.path?.dir ??
		placement.arc?.dir ??
		(asker ? forwardOf(asker, world.flat) : world.flat ? [1, 0, 0] : [0, 0, -1]);
	const [x, y, z] = [0, 1, 2].map((k) => (focus[k] as number) - (placement.apex[k] as number)) as [
		number,
		number,
		number,
	];
	// The plane of the ground; in a flat scene the picture's, seen from above.
	const [ax, ay] = world.flat ? [axis[0], axis[1]] : [axis[0], -axis[2]];
	const [bx, by] = world.flat ? [x, y] : [x, -z];
	if (Math.hypot(ax, ay) <= NO_LENGTH || Math.hypot(bx, by) <= NO_LENGTH) return 0;
	const angle = angleBetween(ax, ay, 0, bx, by, 0);
	return rounded(ax * by - ay * bx > 0 ? -angle : angle);
}
