/** The scene of a run at a time: scene, moment, tracks, effects in force. Bodies move in the world there is. */

import { eulerOf } from '../geometry/matrix';
import { TIME_EPSILON } from '../project/defaults';
import { applyMoment, type SceneAtMoment } from '../project/moment';
import { onlyMoved, withOverlays } from '../project/overlay';
import type { Camera, Overlay, Project, Query, Run, SceneObject, StateValue, Vec3 } from '../project/schema';
import { AT_ORIGIN, poseUnder } from '../world/pose';
import { moveCamera, moveObjects, type World, withQueries, worldOf } from '../world/world';
import { type Given, sameTriple, TrackChannels } from './tracks';

/** What effects have set so far, field by field. */
export interface InForce {
	objects: Map<string, Overlay>;
	states: Record<string, StateValue>;
}

export const nothingInForce = (): InForce => ({ objects: new Map(), states: {} });

/** The scene of a run, taken from one time to the next. */
export class RunScene {
	private readonly base: SceneAtMoment;
	private readonly index: Map<string, number>;
	private readonly cameraIndex: Map<string, number>;
	private readonly queryIndex: Map<string, number>;
	private readonly objectLines = new Map<string, TrackChannels>();
	private readonly cameraLines = new Map<string, TrackChannels>();
	private readonly queryLines = new Map<string, TrackChannels>();
	private sceneLine: TrackChannels | null = null;
	private readonly passed = new Map<string, Set<number>>();
	private objects: SceneObject[];
	private cameras: Camera[];
	private queries: Query[];
	private states: Record<string, StateValue>;
	private stands: World | null = null;
	private lastSet: Record<string, StateValue> | null = null;
	/** Objects whose track has come to its end, and where it left them. */
	private readonly settled = new Set<string>();
	/** Objects whose new parent was passed over because it would have closed a circle, since this was last emptied. */
	readonly refused: string[] = [];

	/** @param builds whether a world is kept; without one the scene is known by its parts alone */
	constructor(
		private readonly project: Project,
		private readonly run: Run,
		private readonly builds = true,
	) {
		this.base = applyMoment(project, run.moment ?? null);
		this.objects = [...this.base.objects];
		this.cameras = [...this.base.cameras];
		this.queries = [...this.base.queries];
		this.states = this.base.states;
		this.index = new Map(this.base.objects.map((o, i) => [o.id, i]));
		this.cameraIndex = new Map(this.base.cameras.map((c, i) => [c.id, i]));
		this.queryIndex = new Map(this.base.queries.map((q, i) => [q.id, i]));
		for (const track of run.tracks ?? []) {
			const line = new TrackChannels(track);
			if (track.object !== undefined) this.objectLines.set(track.object, line);
			else if (track.camera !== undefined) this.cameraLines.set(track.camera, line);
			else if (track.query !== undefined) this.queryLines.set(track.query, line);
			else this.sceneLine = line;
		}
	}

	get world(): World {
		if (!this.stands) throw new Error('the scene was not taken to a time yet');
		return this.stands;
	}

	/** An object as it stands now, with what is pending laid over it. */
	defOf(id: string, pending?: Overlay): SceneObject | undefined {
		const object = this.objects[this.index.get(id) ?? -1];
		return object && withOverlays(object, [pending]);
	}

	sceneStates(): Record<string, StateValue> {
		return this.states;
	}

	/**
	 * Takes the scene to a time.
	 * @param t seconds
	 */
	to(t: number, inForce: InForce): void {
		this.refused.push(...this.refuseCircles(t, inForce));
		const moved = new Map<string, SceneObject>();
		let anew = this.stands === null;
		const changed = new Set([...this.objectLines.keys(), ...inForce.objects.keys()]);
		for (const id of changed) {
			const i = this.index.get(id);
			const base = this.base.objects[i ?? -1];
			if (i === undefined || !base) continue;
			const line = this.objectLines.get(id);
			const set = inForce.objects.get(id);
			const now = this.objects[i] as SceneObject;
			const plain = line?.posesOnly === true && set === undefined;
			if (plain && line.isPast(t) && this.settled.has(id)) continue;
			const given = line?.at(t) as Given | undefined;
			const next = plain && given ? ({ ...base, ...given } as SceneObject) : withOverlays(base, [given, set]);
			if (plain && line.isPast(t)) this.settled.add(id);
			if (next === now) continue;
			const still = plain ? this.stands !== null : onlyMoved(now, next);
			if (still && sameTriple(now.position, next.position) && sameTriple(now.rotation, next.rotation)) continue;
			this.objects[i] = next;
			if (still) moved.set(id, next);
			else anew = true;
		}
		let newStates = false;
		if (this.sceneLine || this.lastSet !== inForce.states) {
			this.lastSet = inForce.states;
			const states = { ...this.base.states, ...this.sceneLine?.at(t).states, ...inForce.states };
			newStates = JSON.stringify(states) !== JSON.stringify(this.states);
			if (newStates) this.states = states;
		}
		let newQueries = false;
		for (const [id, line] of this.queryLines) {
			const i = this.queryIndex.get(id) as number;
			const { cursor, enabled } = line.at(t);
			const now = this.queries[i] as Query;
			const next = {
				...(this.base.queries[i] as Query),
				...(cursor === undefined ? {} : { cursor }),
				...(enabled === undefined ? {} : { enabled }),
			} as Query;
			if (JSON.stringify([now.enabled, cursorOf(now)]) === JSON.stringify([next.enabled, cursorOf(next)])) continue;
			this.queries[i] = next;
			newQueries = true;
		}
		const movedCameras: Camera[] = [];
		for (const [id, line] of this.cameraLines) {
			const i = this.cameraIndex.get(id) as number;
			const { position, rotation } = line.at(t);
			const now = this.cameras[i] as Camera;
			const next = {
				...(this.base.cameras[i] as Camera),
				...(position === undefined ? {} : { position }),
				...(rotation === undefined ? {} : { rotation }),
			} as Camera;
			if (sameTriple(now.position, next.position) && sameTriple(now.rotation, next.rotation)) continue;
			this.cameras[i] = next;
			movedCameras.push(next);
		}
		if (!this.builds) return;
		if (anew || this.stands === null) {
			const { objects, cameras, queries } = this;
			// What is made anew knows the states and queries as they are now.
			this.stands = worldOf(this.project, this.run.moment ?? null, {
				objects: [...objects],
				cameras: [...cameras],
				queries: [...queries],
				states: this.states,
			});
			this.stands.tree();
			return;
		}
		if (moved.size > 0) moveObjects(this.stands, moved);
		for (const camera of movedCameras) moveCamera(this.stands, camera);
		if (newQueries) this.stands = withQueries(this.stands, [...this.queries]);
		if (newStates) this.stands = { ...this.stands, states: this.states };
	}

	/** The scene as it stands, in its parts. */
	laid(): SceneAtMoment {
		const { objects, cameras, queries, states } = this;
		return { objects: [...objects], cameras: [...cameras], queries: [...queries], states };
	}

	/** Passes over the parents that keys give and effects in force would close to a circle. */
	private refuseCircles(t: number, inForce: InForce): string[] {
		if (inForce.objects.size === 0) return [];
		const refused: string[] = [];
		for (const [id, line] of this.objectLines) {
			// What an effect hangs elsewhere its track no longer does.
			if (inForce.objects.get(id)?.parent !== undefined) continue;
			const last = line.reparents.findLast((r) => r.t <= t + TIME_EPSILON);
			if (!last || last.parent === null || !this.closes(id, last.parent, t, inForce)) continue;
			const passed = this.passed.get(id) ?? new Set();
			passed.add(last.index);
			this.passed.set(id, passed);
			this.objectLines.set(id, new TrackChannels(line.track, passed));
			refused.push(id);
		}
		return refused;
	}

	/** Whether an object would hang under itself if it hung on another. */
	private closes(id: string, parent: string, t: number, inForce: InForce): boolean {
		const seen = new Set([id]);
		for (let at: string | null | undefined = parent; at != null; ) {
			if (seen.has(at)) return at === id;
			seen.add(at);
			const set: string | null | undefined = inForce.objects.get(at)?.parent;
			const tracked: string | null | undefined = set === undefined ? this.objectLines.get(at)?.at(t).parent : set;
			at = tracked === undefined ? this.base.objects[this.index.get(at) ?? -1]?.parent : tracked;
		}
		return false;
	}

	/** Where an object stands in the world with what is pending: place, turn in degrees, scale. */
	poseOf(id: string, pending: ReadonlyMap<string, Overlay>): { position: Vec3; rotation: Vec3; scale: Vec3 } {
		const chain: SceneObject[] = [];
		for (let at: string | undefined = id; at !== undefined && chain.length <= this.objects.length; ) {
			const def = this.defOf(at, pending.get(at));
			if (!def) break;
			chain.push(def);
			at = def.parent;
		}
		const { position, rotation, scale } = chain.reduceRight(poseUnder, AT_ORIGIN);
		return { position, rotation: eulerOf(rotation), scale };
	}

	/** Whether an object hangs, with what is pending, on another or is it. */
	hangsOn(id: string, above: string, pending: ReadonlyMap<string, Overlay>): boolean {
		let at: string | undefined = id;
		for (let n = 0; at !== undefined && n <= this.objects.length; n++) {
			if (at === above) return true;
			at = this.defOf(at, pending.get(at))?.parent;
		}
		return false;
	}
}

const cursorOf = (query: Query): unknown => (query.kind === 'pick' ? query.cursor : undefined);
