/**
 * The winner of many rays asked by one query: for maps, robustness searches and fast scenes.
 *
 * The usual case is settled in one walk of the tree that goes near first and stops behind the first thing that decides, with no
 * memory taken per ray. Whatever that walk cannot settle (ties, several rules, view, approach, aim assist, stand-ins) goes through
 * the ordinary stages, so both give the same answer by construction or by test.
 */
import { BODY_SIZE, INSIDE, MESH } from '../geometry/body';
import { castLoaded, loadRay, ray } from '../geometry/ray';
import { PATH_END } from '../geometry/tolerances';
import type { Query } from '../project/schema';
import { rayOn } from '../space/cast';
import { entry, inverse, MOST_DEPTH } from '../space/tree';
import type { World } from '../world/world';
import { Answerer } from './answer';
import { Beam } from './beam';
import { rulesOf, slackOf, takeOf } from './choose';
import { type Filters, filtersOf, isBlocker, isEligible, passesFilters } from './filters';
import type { Answer } from './types';

/** Results of `RayWinner.cast` that are no object. */
export const NOTHING = -1;
/** What `cast` returns where several are tied. */
export const TIED = -2;
/** Several objects are taken, or the query is off or waiting: see `RayWinner.answer`. */
export const OTHER = -3;

const CHOOSES = 1;
const STOPS = 2;
/** Set on every shape of an object that can be chosen through another of its shapes. */
const OF_CANDIDATE = 4;
const MOST_HITS = 96;

const stack = new Int32Array(MOST_DEPTH + 1);
const entries = new Float64Array(MOST_DEPTH + 1);
const hitShape = new Int32Array(MOST_HITS);
const hitDistance = new Float64Array(MOST_HITS);

/** One query asked along many rays, the winner alone: for maps and bulk tests. */
export class RayWinner {
	/** Distance of the last winner's contact, metres. */
	get distance(): number {
		return this.found[0];
	}
	private readonly found = new Float64Array(1);
	/** The last answer, where it took the ordinary stages; else null. */
	answer: Answer | null = null;
	/** What each shape is to the query, in the order of the tree's leaves. */
	private readonly flags: Uint8Array;
	private readonly plain: boolean;
	private readonly count: boolean;
	private readonly slack: number;
	private readonly min: number;
	private readonly max: number;
	private readonly filters: Filters;
	private readonly onlyRule: boolean;
	private beam: Beam | null = null;

	constructor(
		private readonly world: World,
		private readonly query: Query,
	) {
		const f = filtersOf(world, query);
		this.filters = f;
		const rules = rulesOf(query);
		const first = rules[0];
		const { range } = query;
		this.plain =
			(query.kind === 'ray' || (query.kind === 'pick' && !world.flat)) &&
			query.assist === undefined &&
			!world.hasStandIns &&
			takeOf(query) === 1 &&
			first?.rule === 'distance' &&
			first.to !== 'focus' &&
			!range?.from &&
			!range?.flat &&
			range?.to !== 'focus' &&
			query.view === undefined &&
			(query.approach === 'ignore' || !world.objects.some((o) => o.def.approach)) &&
			query.enabled !== false &&
			!query.selects?.when?.some((c) => c.of !== 'target');
		this.onlyRule = rules.length === 1;
		this.count = query.startInside === 'count';
		this.slack = first ? slackOf(first, world.tieSlack) : 0;
		this.min = range?.min ?? 0;
		this.max = range?.max ?? Infinity;
		this.flags = new Uint8Array(world.shapes.length);
		world.tree();
		for (const object of world.objects) {
			const passes = passesFilters(f, object);
			for (const shape of object.shapes) {
				const chooses = passes && isEligible(f, shape) ? CHOOSES : 0;
				this.flags[world.leafPlace[shape.index]] =
					chooses | (f.blockers !== 0 && isBlocker(f, shape) ? STOPS : 0) | (passes ? OF_CANDIDATE : 0);
			}
		}
	}

	/**
	 * @param rays start (world metres), unit direction and length of rays, seven numbers each
	 * @param at where the ray to cast begins in them: doubles handed over one by one would each take memory
	 * @returns the index of the selected object, or `NOTHING`, `TIED`, `OTHER`
	 */
	cast(rays: Float64Array, at: number): number {
		if (this.answer !== null) this.answer = null;
		const x = rays[at];
		const y = rays[at + 1];
		const z = rays[at + 2];
		const dx = rays[at + 3];
		const dy = rays[at + 4];
		const dz = rays[at + 5];
		const length = rays[at + 6] + PATH_END;
		if (!this.plain) return this.slow(rays, at);
		const { world, flags, slack, count } = this;
		const { tieSlack } = world;
		const tree = world.tree();
		const { boxes, links, order, origin } = tree;
		if (order.length === 0) return NOTHING;
		const { bodies, boundingSpheres: balls, leafBodies, leafKinds, leafPlanes } = world;
		loadRay(x, y, z, dx, dy, dz);
		const ox = x - origin[0];
		const oy = y - origin[1];
		const oz = z - origin[2];
		const ix = inverse(dx);
		const iy = inverse(dy);
		const iz = inverse(dz);
		// Where the near side of a box lies in its six numbers.
		const nx = ix > 0 ? 0 : 3;
		const ny = iy > 0 ? 0 : 3;
		const nz = iz > 0 ? 0 : 3;
		const reach = Math.max(slack, tieSlack);
		// Blockers count up to the slack past the end, candidates up to the end.
		let limit = length + tieSlack;
		let hits = 0;
		let top = 0;
		stack[0] = 0;
		entries[0] = entry(boxes, 0, ox, oy, oz, ix, iy, iz, limit, 0, 0, 0);
		if (entries[0] < Infinity) top = 1;
		let node = -1;
		for (;;) {
			if (node < 0) {
				if (top === 0) break;
				top--;
				if (entries[top] > limit) continue;
				node = stack[top];
			}
			const n = links[8 * node + 7] & 255;
			if (n === 0) {
				// Both children's boxes, written out: this is where the time of a ray goes. Which side of each comparison comes out
				// cannot be foreseen, so they are gathered as bits; a branch for each would be mispredicted half of the time.
				const l = node + 1;
				const r = links[8 * node + 6];
				let q = 8 * l;
				const lx0 = (boxes[q + nx] - ox) * ix;
				const lx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ly0 = (boxes[q + 1 + ny] - oy) * iy;
				const ly1 = (boxes[q + 4 - ny] - oy) * iy;
				const lz0 = (boxes[q + 2 + nz] - oz) * iz;
				const lz1 = (boxes[q + 5 - nz] - oz) * iz;
				const left =
					+(lx0 <= ly1) &
					+(lx0 <= lz1) &
					+(ly0 <= lx1) &
					+(ly0 <= lz1) &
					+(lz0 <= lx1) &
					+(lz0 <= ly1) &
					+(lx0 <= limit) &
					+(ly0 <= limit) &
					+(lz0 <= limit) &
					+(lx1 >= 0) &
					+(ly1 >= 0) &
					+(lz1 >= 0);
				q = 8 * r;
				const rx0 = (boxes[q + nx] - ox) * ix;
				const rx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ry0 = (boxes[q + 1 + ny] - oy) * iy;
				const ry1 = (boxes[q + 4 - ny] - oy) * iy;
				const rz0 = (boxes[q + 2 + nz] - oz) * iz;
				const rz1 = (boxes[q + 5 - nz] - oz) * iz;
				const right =
					+(rx0 <= ry1) &
					+(rx0 <= rz1) &
					+(ry0 <= rx1) &
					+(ry0 <= rz1) &
					+(rz0 <= rx1) &
					+(rz0 <= ry1) &
					+(rx0 <= limit) &
					+(ry0 <= limit) &
					+(rz0 <= limit) &
					+(rx1 >= 0) &
					+(ry1 >= 0) &
					+(rz1 >= 0);
				if ((left & right) === 1) {
					// The child on the near side of the cut goes on; the other waits, with a bound below which it cannot be entered.
					const axis = links[8 * node + 7] >> 8;
					const leftFirst = axis === 0 ? nx === 0 : axis === 1 ? ny === 0 : nz === 0;
					stack[top] = leftFirst ? r : l;
					entries[top++] = leftFirst
						? axis === 0
							? rx0
							: axis === 1
								? ry0
								: rz0
						: axis === 0
							? lx0
							: axis === 1
								? ly0
								: lz0;
					node = leftFirst ? l : r;
				} else node = left === 1 ? l : right === 1 ? r : -1;
				continue;
			}
			const first = ~links[8 * node + 6];
			node = -1;
			for (let i = first, end = first + n; i < end; i++) {
				const flag = flags[i];
				if ((flag & (CHOOSES | STOPS)) === 0) continue;
				// The ball around the shape, before anything of the shape itself is touched.
				const bx = ox - balls[4 * i];
				const by = oy - balls[4 * i + 1];
				const bz = oz - balls[4 * i + 2];
				const along = bx * dx + by * dy + bz * dz;
				const radius = balls[4 * i + 3];
				const fx = bx - along * dx;
				const fy = by - along * dy;
				const fz = bz - along * dz;
				if (fx * fx + fy * fy + fz * fz > radius * radius) continue;
				const from = i * BODY_SIZE;
				const kind = leafKinds[i];
				let t: number;
				if (kind === MESH) {
					t = rayOn(leafBodies[i], x, y, z, dx, dy, dz, limit, count);
				} else {
					castLoaded(leafBodies[i], kind, leafPlanes[i], bodies, from);
					t = ray[6];
					if (t === INSIDE) {
						if (!count) continue;
						t = 0;
					}
				}
				if (t > limit) continue;
				if (hits === MOST_HITS) return this.slow(rays, at);
				hitShape[hits] = i;
				hitDistance[hits++] = t;
				if (flag & CHOOSES) {
					if (t >= this.min && t <= this.max && t <= length && t + reach < limit) limit = t + reach;
				} else if ((flag & OF_CANDIDATE) === 0 && t + tieSlack < limit) limit = t + tieSlack;
			}
		}
		return this.settle(hits, rays, at);
	}

	/**
	 * Makes ready for the rays of a bundle, see `Beam`.
	 * @param edges its four edges and its middle, six numbers each
	 * @returns false where each ray is to be cast by itself
	 */
	aim(edges: Float64Array): boolean {
		if (!this.plain) return false;
		this.beam ??= new Beam(this.world, this.flags, CHOOSES | STOPS);
		return this.beam.gather(edges);
	}

	/** Whether its rays are settled by the walk alone, so that neighbours can share it. */
	get shares(): boolean {
		return this.plain;
	}

	/** Whether the bundle that was aimed meets anything at all. */
	get meets(): boolean {
		return this.beam !== null && this.beam.count > 0;
	}

	/**
	 * As `cast`, for a ray of the bundle that was aimed last. What is done with a shape is written out in both: called for each, it would
	 * cost more than most of what it does.
	 */
	castInBeam(rays: Float64Array, at: number): number {
		const { beam, world, flags, count } = this;
		if (beam === null) return this.cast(rays, at);
		if (this.answer !== null) this.answer = null;
		const x = rays[at];
		const y = rays[at + 1];
		const z = rays[at + 2];
		const dx = rays[at + 3];
		const dy = rays[at + 4];
		const dz = rays[at + 5];
		const length = rays[at + 6] + PATH_END;
		const { tieSlack, bodies, boundingSpheres: balls, leafBodies, leafKinds, leafPlanes } = world;
		const { origin } = world.tree();
		loadRay(x, y, z, dx, dy, dz);
		const ox = x - origin[0];
		const oy = y - origin[1];
		const oz = z - origin[2];
		const reach = Math.max(this.slack, tieSlack);
		let limit = length + tieSlack;
		let hits = 0;
		const { leaves, near, count: n } = beam;
		for (let k = 0; k < n && near[k] <= limit; k++) {
			const i = leaves[k];
			const bx = ox - balls[4 * i];
			const by = oy - balls[4 * i + 1];
			const bz = oz - balls[4 * i + 2];
			const along = bx * dx + by * dy + bz * dz;
			const radius = balls[4 * i + 3];
			if (-along - radius > limit) continue;
			const fx = bx - along * dx;
			const fy = by - along * dy;
			const fz = bz - along * dz;
			if (fx * fx + fy * fy + fz * fz > radius * radius) continue;
			const kind = leafKinds[i];
			let t: number;
			if (kind === MESH) t = rayOn(leafBodies[i], x, y, z, dx, dy, dz, limit, count);
			else {
				castLoaded(leafBodies[i], kind, leafPlanes[i], bodies, i * BODY_SIZE);
				t = ray[6];
				if (t === INSIDE) {
					if (!count) continue;
					t = 0;
				}
			}
			if (t > limit) continue;
			if (hits === MOST_HITS) return this.slow(rays, at);
			hitShape[hits] = i;
			hitDistance[hits++] = t;
			const flag = flags[i];
			if (flag & CHOOSES) {
				if (t >= this.min && t <= this.max && t <= length && t + reach < limit) limit = t + reach;
			} else if ((flag & OF_CANDIDATE) === 0 && t + tieSlack < limit) limit = t + tieSlack;
		}
		return this.settle(hits, rays, at);
	}

	/** Decides among the hits of the walk, or hands over to the ordinary stages. */
	private settle(hits: number, rays: Float64Array, at: number): number {
		const length = rays[at + 6] + PATH_END;
		const { world, flags, slack } = this;
		const { tieSlack, shapes } = world;
		const { order } = world.tree();
		let best = -1;
		let distance = Infinity;
		let second = Infinity;
		let open = false;
		for (let i = 0; i < hits; i++) {
			const t = hitDistance[i];
			if ((flags[hitShape[i]] & CHOOSES) === 0 || t > length) continue;
			const { object } = shapes[order[hitShape[i]]];
			let first = true;
			let blocked = false;
			let contested = false;
			for (let k = 0; k < hits; k++) {
				const other = shapes[order[hitShape[k]]].object;
				const flag = flags[hitShape[k]];
				if (other === object) {
					// One contact per object: the nearest, of equal ones the first found.
					if (flag & CHOOSES && (hitDistance[k] < t || (hitDistance[k] === t && k < i))) first = false;
				} else if (flag & STOPS) {
					if (hitDistance[k] < t - tieSlack) {
						blocked = true;
						// What blocks may itself be chosen farther on, behind where the walk stopped.
						if (flag & OF_CANDIDATE) open = true;
					} else if (hitDistance[k] <= t + tieSlack) contested = true;
				}
			}
			if (!first || t < this.min || t > this.max || blocked) continue;
			if (contested) return this.slow(rays, at);
			if (t < distance) {
				second = distance;
				distance = t;
				best = object.index;
			} else if (t < second) second = t;
		}
		if (best < 0) return open ? this.slow(rays, at) : NOTHING;
		if (second - distance <= slack) return this.onlyRule ? TIED : this.slow(rays, at);
		this.found[0] = distance;
		return best;
	}

	/** Through the ordinary stages, as a plain ray from a point. */
	private slow(rays: Float64Array, at: number): number {
		const [x, y, z, dx, dy, dz, length] = rays.subarray(at, at + 7);
		const { query, world } = this;
		const answer = new Answerer(world).along(query, [x, y, z], [dx, dy, dz], length, this.filters);
		this.answer = answer;
		if (answer.status === 'tie') return TIED;
		if (answer.status === 'none') return NOTHING;
		const only = answer.selected[0];
		if (answer.status !== 'selected' || answer.selected.length !== 1 || !only) return OTHER;
		this.found[0] = only.distance;
		return world.objectById.get(only.object)?.index ?? OTHER;
	}
}

/**
 * Prepares a query for many rays.
 * @example
 * const ray = prepareRay(world, query);
 * const index = ray.cast(new Float64Array([0, 1.6, 0, 0, 0, -1, 20]), 0); // start, direction, length
 * if (index >= 0) console.log(world.objects[index].answersFor.id, ray.distance);
 * @param query a ray or pick of the world; its own start and direction are left aside, those of each cast count
 */
export function prepareRay(world: World, query: Query): RayWinner {
	return new RayWinner(world, query);
}
