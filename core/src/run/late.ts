/**
 * The scene as somebody saw it who is late (contract §20): everything as it stood a while ago, but for the one who asks and what is tied to
 * that one, the cameras, the queries and the scene's states.
 */
import { eulerOf } from '../geometry/matrix';
import { stepAt } from '../project/defaults';
import type { SceneAtMoment } from '../project/moment';
import { onlyMoved } from '../project/overlay';
import type { Project, Run, SceneObject } from '../project/schema';
import { AT_ORIGIN, poseUnder } from '../world/pose';
import { moveObjects, type World, withQueries, worldOf } from '../world/world';
import { type InForce, RunScene } from './scene';
import { sameTriple } from './tracks';

/** Who hangs on whom at one time. */
class Hanging {
	readonly byId: Map<string, SceneObject>;
	private readonly under = new Map<string, string[]>();

	constructor(readonly objects: readonly SceneObject[]) {
		this.byId = new Map(objects.map((o) => [o.id, o]));
		for (const { id, parent } of objects)
			if (parent !== undefined) this.under.set(parent, [...(this.under.get(parent) ?? []), id]);
	}

	/** Itself and all it hangs on, outward. */
	chain(id: string): SceneObject[] {
		const out: SceneObject[] = [];
		for (let at: string | undefined = id; at !== undefined && out.length <= this.objects.length; ) {
			const object = this.byId.get(at);
			if (!object) break;
			out.push(object);
			at = object.parent;
		}
		return out;
	}

	/** Adds what hangs under some, and those. */
	withAllUnder(ids: Iterable<string>, into: Set<string>): void {
		const open = [...ids];
		for (let id = open.pop(); id !== undefined; id = open.pop()) {
			if (into.has(id)) continue;
			into.add(id);
			open.push(...(this.under.get(id) ?? []));
		}
	}

	/** An object freed of what it hangs on, where it stands in the world, and active as it is there. */
	freed(object: SceneObject): SceneObject {
		const chain = this.chain(object.id);
		const { position, rotation, scale } = chain.reduceRight(poseUnder, AT_ORIGIN);
		const { parent: _, ...rest } = object;
		return { ...rest, position, rotation: eulerOf(rotation), scale, active: chain.every((o) => o.active !== false) };
	}
}

/** Which objects are as they are now: the asker, what it hangs on, all that hangs on those, and what hung on one of them before. */
function ofNow(now: Hanging, then: Hanging, asker: string | undefined): Set<string> {
	const present = new Set<string>();
	if (asker === undefined) return present;
	now.withAllUnder(
		now.chain(asker).map((o) => o.id),
		present,
	);
	const letGo = then.objects.filter(
		({ id }) => !present.has(id) && then.chain(id).some((above) => above.id !== id && present.has(above.id)),
	);
	// Once: what hung on those does not come along.
	now.withAllUnder(
		letGo.map((o) => o.id),
		present,
	);
	return present;
}

/** Which objects are as they are now, and which of either time stand freed of what they hang on: it holds as long as nobody hangs elsewhere. */
interface Ties {
	parentsNow: (string | undefined)[];
	parentsThen: (string | undefined)[];
	isNow: boolean[];
	isFreed: boolean[];
}

const parentsOf = (objects: readonly SceneObject[]) => objects.map((o) => o.parent);
const sameParents = (objects: readonly SceneObject[], parents: readonly (string | undefined)[]): boolean =>
	objects.every((o, i) => o.parent === parents[i]);

/** @param then the objects of `now` at another time, in the same order */
function tiesOf(now: readonly SceneObject[], then: readonly SceneObject[], asker: string | undefined): Ties {
	const present = ofNow(new Hanging(now), new Hanging(then), asker);
	const isNow = now.map(({ id }) => present.has(id));
	const parentsNow = parentsOf(now);
	const parentsThen = parentsOf(then);
	const isFreed = isNow.map((own, i) => {
		const parent = own ? parentsNow[i] : parentsThen[i];
		return parent !== undefined && present.has(parent) !== own;
	});
	return { parentsNow, parentsThen, isNow, isFreed };
}

/** The objects of both times in one scene: what is of one while its parent is of the other stands freed of it. */
function mixed(now: readonly SceneObject[], then: readonly SceneObject[], { isNow, isFreed }: Ties): SceneObject[] {
	if (!isFreed.includes(true)) return now.map((object, i) => (isNow[i] ? object : (then[i] as SceneObject)));
	const [present, past] = [new Hanging(now), new Hanging(then)];
	return now.map((standing, i) => {
		const object = isNow[i] ? standing : (then[i] as SceneObject);
		return isFreed[i] ? (isNow[i] ? present : past).freed(object) : object;
	});
}

/** The scene late by a time, for one who asks; taken along a run, forward. */
export class LateScene {
	private readonly past: RunScene;
	private objects: SceneObject[] = [];
	private world: World | null = null;
	private ties: Ties | null = null;

	constructor(
		private readonly project: Project,
		private readonly run: Run,
		private readonly late: number,
		private readonly asker: string | undefined,
	) {
		this.past = new RunScene(project, run, false);
	}

	/**
	 * @param t seconds
	 * @param now the scene at t, and its world
	 * @param inForceAt what effects have set at a step
	 * @returns the world to be asked; the same one, moved on
	 */
	at(t: number, now: SceneAtMoment, standing: World, inForceAt: (k: number) => InForce): World {
		const before = Math.max(0, t - this.late);
		this.past.to(before, inForceAt(stepAt(this.run, before)));
		const then = this.past.laid().objects;
		if (!this.ties || !sameParents(now.objects, this.ties.parentsNow) || !sameParents(then, this.ties.parentsThen))
			this.ties = tiesOf(now.objects, then, this.asker);
		const objects = mixed(now.objects, then, this.ties);
		this.stand(objects, now);
		const world = this.world as World;
		// Every camera is where it is now, whatever it hangs on.
		for (const [id, camera] of world.cameras) {
			const own = standing.cameras.get(id);
			if (own) ({ position: camera.position, rotation: camera.rotation } = own);
		}
		return world;
	}

	private stand(objects: SceneObject[], { cameras, queries, states }: SceneAtMoment): void {
		const { world } = this;
		const moved = new Map<string, SceneObject>();
		let anew = world === null;
		objects.forEach((next, i) => {
			const last = this.objects[i];
			if (anew || next === last) return;
			if (!last || !onlyMoved(last, next)) anew = true;
			else if (!sameTriple(last.position, next.position) || !sameTriple(last.rotation, next.rotation))
				moved.set(next.id, next);
		});
		this.objects = objects;
		if (anew || world === null) {
			this.world = worldOf(this.project, this.run.moment ?? null, {
				objects: [...objects],
				cameras: [...cameras],
				queries: [...queries],
				states,
			});
			return;
		}
		if (moved.size > 0) moveObjects(world, moved);
		const sameQueries = queries.length === world.queries.length && queries.every((q, i) => q === world.queries[i]);
		this.world = { ...(sameQueries ? world : withQueries(world, [...queries])), states };
	}
}
