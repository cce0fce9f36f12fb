/**
 * Where a thing may be put without the world saying no: not into anything solid, on what bears it where it stands on something, and not
 * at all where others stand on it, or where it is a wall.
 */
import { boundsOf, MESH, sphereBody } from '../geometry/body';
import { depthBetween } from '../geometry/depth';
import { rotationOf } from '../geometry/matrix';
import { OVERLAP_GAP } from '../geometry/tolerances';
import { BORNE_WITHIN } from '../project/defaults';
import { bornePoints } from '../query/room';
import { gapBetween } from '../space/cast';
import type { World, WorldObject, WorldShape } from '../world/world';

type Point = [number, number, number];

/** So much deeper than it stood may a thing stick in another, metres: what touches is not told from what sticks a hair in. */
const SINKS = 0.002;
/** How far a thing is lifted off a surface that has no inside before it is asked whether it is still in it, metres. */
const LIFTED = 0.02;
/** What is longer than this is part of the place, metres: a wall, a floor, a quay. */
const PLACE = 4;
/** In a flat scene: what is longer than this share of all of it. */
const FLAT_PLACE = 0.25;
/** Somebody without shapes of their own: how thick, and at what height over their feet, metres. */
const BODY = { radius: 0.2, height: 0.9 };

/** What is meant to be moved: a thing, or somebody, who walks whatever bears them. */
export type Mover = 'thing' | 'somebody';

/** How a thing stands, and whether it may stand elsewhere. Asked of the world as it is at the moment: it is moved in place. */
export class Footing {
	/** It can only be moved level: it stands on something, or walks. */
	readonly level: boolean;
	/** It is not to be moved at all: a part of the place, or others stand on it. */
	readonly fixed: boolean;
	private readonly own: WorldShape[];
	private readonly mine: ReadonlySet<WorldObject>;
	private readonly borne: boolean[];
	private readonly sunk: ReadonlyMap<WorldObject, number>;
	/** A pile, in which things lie one on another by nature. */
	private readonly piled: boolean;

	constructor(
		private readonly world: World,
		private readonly object: WorldObject,
		private readonly mover: Mover,
	) {
		this.mine = withAllUnder(object);
		this.own = [...this.mine].flatMap((o) => o.shapes).filter((s) => !s.sensor);
		this.sunk = this.depths();
		this.piled = world.flat && [...this.sunk.values()].some((depth) => depth > SINKS);
		this.borne = world.flat ? [] : this.bornAt();
		this.level = !world.flat && (mover === 'somebody' || this.borne.includes(true));
		this.fixed = mover === 'thing' && (this.isPlace() || this.bearsOthers());
	}

	/** @returns whether it may be where it is now */
	allows(): boolean {
		if (!this.piled)
			for (const [other, depth] of this.depths()) if (depth > (this.sunk.get(other) ?? 0) + SINKS) return false;
		if (!this.borne.includes(true)) return true;
		const now = this.bornAt();
		const count = (list: readonly boolean[]) => list.filter(Boolean).length;
		return (now[0] || !this.borne[0]) && 2 * count(now) >= count(this.borne);
	}

	/** How deep it sticks in each other thing, metres; those it does not touch are left out. */
	private depths(): Map<WorldObject, number> {
		const { world, mine } = this;
		const found = new Map<WorldObject, number>();
		const box = new Float64Array(6);
		for (const body of this.bodies()) {
			if (body.kind === MESH) continue;
			boundsOf(body, box);
			world.tree().overlap(box, (index) => {
				const shape = world.shapes[index];
				if (!shape || shape.sensor || !shape.object.active || mine.has(shape.object)) return;
				const known = found.get(shape.object) ?? 0;
				const depth =
					shape.body.kind === MESH ? inSurface(body, shape.body) : depthBetween(body, shape.body, world.flat);
				if (depth > known) found.set(shape.object, depth);
			});
		}
		return found;
	}

	private bodies() {
		if (this.own.length > 0 || this.mover === 'thing') return this.own.map((s) => s.body);
		const [x, y, z] = this.object.position;
		return [sphereBody(BODY.radius).place(x, this.world.flat ? y : y + BODY.height, z, rotationOf(undefined))];
	}

	/** Whether its base is borne, by what it does not stick in: its middle, then its corners drawn in a little; of what has no shapes its own place. */
	private bornAt(): boolean[] {
		const { world, mine, sunk } = this;
		return bornePoints(
			world,
			basePoints(this.own, this.object),
			BORNE_WITHIN,
			(s) => s.object.active && !mine.has(s.object) && (sunk.get(s.object) ?? 0) <= BORNE_WITHIN,
		);
	}

	private isPlace(): boolean {
		const { world, own } = this;
		const box = spanOf(own);
		const longest = Math.max(box[3] - box[0], box[4] - box[1], world.flat ? 0 : box[5] - box[2]);
		if (!world.flat) return longest > PLACE;
		const all = spanOf(world.shapes);
		return longest > FLAT_PLACE * Math.max(all[3] - all[0], all[4] - all[1]) && own.length > 0;
	}

	/** Whether something else stands on it, and on nothing else. */
	private bearsOthers(): boolean {
		const { world, mine } = this;
		if (world.flat) return false;
		const asked = new Set<WorldObject>();
		const box = new Float64Array(6);
		for (const { body } of this.own) {
			boundsOf(body, box);
			box[4] = (box[4] as number) + BORNE_WITHIN;
			world.tree().overlap(box, (index) => {
				const other = world.shapes[index]?.object;
				// What sticks in it does not stand on it.
				if (other?.active && !mine.has(other) && (this.sunk.get(other) ?? 0) <= BORNE_WITHIN) asked.add(other);
			});
		}
		for (const other of asked) {
			const theirs = withAllUnder(other);
			const shapes = other.shapes.filter((s) => !s.sensor);
			if (shapes.length === 0 || theirs.has(this.object)) continue;
			const [foot] = basePoints(shapes, other);
			const bears = (counts: (s: WorldShape) => boolean) =>
				bornePoints(
					world,
					[foot as Point],
					BORNE_WITHIN,
					(s) => s.object.active && !theirs.has(s.object) && counts(s),
				)[0];
			if (bears((s) => mine.has(s.object)) && !bears((s) => !mine.has(s.object))) return true;
		}
		return false;
	}
}

/** An object and all that hangs on it. */
function withAllUnder(object: WorldObject): Set<WorldObject> {
	const all = new Set<WorldObject>();
	const open = [object];
	for (let o = open.pop(); o; o = open.pop()) {
		if (all.has(o)) continue;
		all.add(o);
		open.push(...o.children);
	}
	return all;
}

function spanOf(shapes: readonly WorldShape[]): Float64Array {
	const span = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
	const box = new Float64Array(6);
	for (const { body } of shapes) {
		boundsOf(body, box);
		for (let k = 0; k < 3; k++) {
			span[k] = Math.min(span[k] as number, box[k] as number);
			span[k + 3] = Math.max(span[k + 3] as number, box[k + 3] as number);
		}
	}
	return span;
}

/** The middle and the corners of the lower side of what stands lowest. */
function basePoints(shapes: readonly WorldShape[], object: WorldObject): Point[] {
	if (shapes.length === 0) return [[...object.position]];
	const lowest = spanOf(shapes)[1] as number;
	const standing = shapes.filter((s) => (spanOf([s])[1] as number) <= lowest + BORNE_WITHIN / 5);
	const [x0, , z0, x1, , z1] = spanOf(standing) as unknown as [number, number, number, number, number, number];
	const [cx, cz] = [(x0 + x1) / 2, (z0 + z1) / 2];
	const corner = (x: number, z: number): Point => [cx + 0.4 * x * (x1 - x0), lowest, cz + 0.4 * z * (z1 - z0)];
	return [[cx, lowest, cz], corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)];
}

/** A surface has no inside: what is still in it when it is lifted a little sticks in it, by more than can be said. */
function inSurface(body: WorldShape['body'], surface: WorldShape['body']): number {
	const lifted = body.clone();
	lifted.y += LIFTED;
	return gapBetween(lifted, surface, OVERLAP_GAP) <= OVERLAP_GAP ? LIFTED : 0;
}
