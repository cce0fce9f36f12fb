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
import { takeOf } from '../project/defaults';
import type { Query } from '../project/schema';
import { rayOn } from '../space/cast';
import { type LeafWalk, PlainWalk } from '../space/leaf-walk';
import { CompiledWalk } from '../space/simd/compiled-walk';
import { walkMemory } from '../space/simd/module';
import { wideOf } from '../space/simd/wide';
import type { World } from '../world/world';
import { Answerer } from './answer';
import { Beam } from './beam';
import { rulesOf, slackOf } from './choose';
import { asGood, contests, hides } from './decide';
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
const MAX_HITS = 96;

const hitShape = new Int32Array(MAX_HITS);
const hitDistance = new Float64Array(MAX_HITS);

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
	private readonly walk: LeafWalk;

	/** @param memory where the compiled walk goes; null for the walk in JavaScript, which finds the same */
	constructor(
		private readonly world: World,
		private readonly query: Query,
		memory = walkMemory(),
	) {
		const f = filtersOf(world, query);
		this.filters = f;
		const rules = rulesOf(query);
		const first = rules[0];
		const { range } = query;
		this.plain =
			((query.kind === 'ray' && !query.arc) || (query.kind === 'pick' && !world.flat)) &&
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
		const tree = world.tree();
		this.walk = memory
			? new CompiledWalk(memory, wideOf(memory, tree, world.boundingSpheres), this.flags)
			: new PlainWalk(tree, world.boundingSpheres, this.flags);
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
		if (!this.plain) return this.slow(rays, at);
		return this.walkAlong(this.walk, rays, at);
	}

	/**
	 * Makes ready for the rays of a bundle, see `Beam`.
	 * @param edges its four edges and its middle, six numbers each
	 * @returns false where each ray is to be cast by itself
	 */
	aim(edges: Float64Array): boolean {
		if (!this.plain) return false;
		this.beam ??= new Beam(this.world, this.flags);
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

	/** As `cast`, for a ray of the bundle that was aimed last. */
	castInBeam(rays: Float64Array, at: number): number {
		if (this.beam === null) return this.cast(rays, at);
		if (this.answer !== null) this.answer = null;
		return this.walkAlong(this.beam, rays, at);
	}

	private walkAlong(walk: LeafWalk, rays: Float64Array, at: number): number {
		const { world, flags, count } = this;
		const { tieSlack, bodies, leafBodies, leafKinds, leafPlanes } = world;
		const { origin } = world.tree();
		if (leafKinds.length === 0) return NOTHING;
		const x = rays[at];
		const y = rays[at + 1];
		const z = rays[at + 2];
		const dx = rays[at + 3];
		const dy = rays[at + 4];
		const dz = rays[at + 5];
		const length = rays[at + 6] + PATH_END;
		// Blockers count up to the slack past the end, candidates up to the end.
		let limit = length + tieSlack;
		loadRay(x, y, z, dx, dy, dz);
		const along = walk.ready();
		along[0] = x - origin[0];
		along[1] = y - origin[1];
		along[2] = z - origin[2];
		along[3] = dx;
		along[4] = dy;
		along[5] = dz;
		along[6] = limit;
		const reach = Math.max(this.slack, tieSlack);
		let hits = 0;
		for (let i = walk.first(); i >= 0; i = walk.next()) {
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
			if (hits === MAX_HITS) return this.slow(rays, at);
			hitShape[hits] = i;
			hitDistance[hits++] = t;
			const flag = flags[i];
			if (flag & CHOOSES) {
				if (t >= this.min && t <= this.max && t <= length && t + reach < limit) limit = t + reach;
			} else if ((flag & OF_CANDIDATE) === 0 && t + tieSlack < limit) limit = t + tieSlack;
			along[6] = limit;
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
					if (hides(hitDistance[k], t, tieSlack)) {
						blocked = true;
						// What blocks may itself be chosen farther on, behind where the walk stopped.
						if (flag & OF_CANDIDATE) open = true;
					} else if (contests(hitDistance[k], t, tieSlack)) contested = true;
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
		if (asGood(second, distance, slack)) return this.onlyRule ? TIED : this.slow(rays, at);
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
