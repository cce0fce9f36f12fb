/** The scene as a game told it, line by line: what was told holds until it is told again, places in the world too. */
import { eulerOf, multiply, rotationOf, transposed, unturned } from '../geometry/matrix';
import { deepEqual } from '../project/merge';
import { applyMoment, type SceneAtMoment } from '../project/moment';
import { joinedOverlays, onlyMoved, withOverlays } from '../project/overlay';
import type { Camera, Overlay, Project, Query, SceneObject, StateValue, Vec3 } from '../project/schema';
import { AT_ORIGIN, type Pose, poseUnder } from '../world/pose';
import { moveCamera, moveObjects, type World, withQueries, worldOf } from '../world/world';
import type { TraceLine } from './schema';

const POSE = ['position', 'rotation', 'scale'] as const;
type PoseField = (typeof POSE)[number];

/** What was told of a thing, and which of its places are the world's and not its parent's. */
interface Told<T> {
	fields: T;
	world: Set<PoseField>;
}

function told<T extends { position?: Vec3; rotation?: Vec3; scale?: Vec3 }>(
	before: Told<T> | undefined,
	given: T & { world?: boolean },
	join: (before: T | undefined, after: T) => T,
): Told<T> {
	const { world = false, ...rest } = given;
	const next = new Set(before?.world);
	for (const field of POSE)
		if (rest[field] !== undefined) {
			if (world) next.add(field);
			else next.delete(field);
		}
	return { fields: join(before?.fields, rest as unknown as T), world: next };
}

/** The scene of a project while a trace is gone through, from its first line on. */
export class TraceScene {
	private readonly base: SceneAtMoment;
	private readonly flat: boolean;
	private readonly index: Map<string, number>;
	private readonly toldObjects = new Map<string, Told<Overlay>>();
	private readonly toldCameras = new Map<string, Told<{ position?: Vec3; rotation?: Vec3 }>>();
	private readonly toldQueries = new Map<string, Partial<Query>>();
	private objects: SceneObject[];
	private cameras: Camera[];
	private queries: Query[];
	private states: Record<string, StateValue>;
	private stands: World | null = null;

	/** @param project as laid out; what no line has told yet stands as it says */
	constructor(readonly project: Project) {
		this.base = applyMoment(project, null);
		this.flat = project.scene.kind === 'flat';
		this.index = new Map(this.base.objects.map((o, i) => [o.id, i]));
		this.objects = [...this.base.objects];
		this.cameras = [...this.base.cameras];
		this.queries = [...this.base.queries];
		this.states = this.base.states;
	}

	/** The same scene once more, that can be taken on by itself. */
	copy(): TraceScene {
		const out = new TraceScene(this.project);
		for (const [id, was] of this.toldObjects) out.toldObjects.set(id, was);
		for (const [id, was] of this.toldCameras) out.toldCameras.set(id, was);
		for (const [id, was] of this.toldQueries) out.toldQueries.set(id, was);
		out.objects = [...this.objects];
		out.cameras = [...this.cameras];
		out.queries = [...this.queries];
		out.states = this.states;
		return out;
	}

	/** The world after the line last told; bodies move in the one there is. */
	get world(): World {
		this.stands ??= this.built();
		return this.stands;
	}

	private built(): World {
		const world = worldOf(this.project, null, this.laid());
		world.tree();
		return world;
	}

	/** The scene as it stands, in its parts. */
	laid(): SceneAtMoment {
		const { objects, cameras, queries, states } = this;
		return { objects: [...objects], cameras: [...cameras], queries: [...queries], states };
	}

	/**
	 * Lays what a line tells over the scene.
	 * @returns ids it tells of and the project does not know
	 * @throws RangeError where a parent it tells closes a circle; the scene then stays as it was
	 */
	tell(line: TraceLine): string[] {
		const unknown: string[] = [];
		const before = new Map(this.toldObjects);
		for (const [id, given] of Object.entries(line.objects ?? {}))
			if (this.index.has(id)) this.toldObjects.set(id, told(this.toldObjects.get(id), given, joinedOverlays));
			else unknown.push(id);
		try {
			this.layObjects();
		} catch (error) {
			this.toldObjects.clear();
			for (const [id, was] of before) this.toldObjects.set(id, was);
			throw error;
		}
		for (const [id, given] of Object.entries(line.cameras ?? {}))
			if (this.base.cameras.some((c) => c.id === id))
				this.toldCameras.set(
					id,
					told(this.toldCameras.get(id), given, (a, b) => ({ ...a, ...b })),
				);
			else unknown.push(id);
		this.layCameras();
		for (const [id, given] of Object.entries(line.queries ?? {}))
			if (this.base.queries.some((q) => q.id === id))
				this.toldQueries.set(id, { ...this.toldQueries.get(id), ...given } as Partial<Query>);
			else unknown.push(id);
		if (line.queries) this.layQueries();
		if (line.states) {
			this.states = { ...this.states, ...line.states };
			if (this.stands) this.stands = { ...this.stands, states: this.states };
		}
		return unknown;
	}

	private layObjects(): void {
		if (this.toldObjects.size === 0) return;
		const next = new Map<string, SceneObject>();
		const poses = new Map<string, Pose>();
		const under = new Set<string>();
		const defOf = (id: string): SceneObject => {
			const base = this.base.objects[this.index.get(id) as number] as SceneObject;
			const was = this.toldObjects.get(id);
			return was ? withOverlays(base, [was.fields]) : base;
		};
		/** Where an object stands in the world; on the way what was told in the world becomes its parent's. */
		const poseOf = (id: string): Pose => {
			const known = poses.get(id);
			if (known) return known;
			if (under.has(id)) throw new RangeError(`"${id}" would hang on itself`);
			under.add(id);
			let def = defOf(id);
			const parent = def.parent === undefined ? AT_ORIGIN : poseOf(def.parent);
			const was = this.toldObjects.get(id);
			if (was && was.world.size > 0) def = { ...def, ...this.local(def, was.world, parent) };
			if (was) next.set(id, def);
			const pose = poseUnder(parent, def);
			under.delete(id);
			poses.set(id, pose);
			return pose;
		};
		for (const id of this.toldObjects.keys()) poseOf(id);
		const moved = new Map<string, SceneObject>();
		let anew = this.stands === null;
		for (const [id, def] of next) {
			const i = this.index.get(id) as number;
			const now = this.objects[i] as SceneObject;
			if (deepEqual(now, def)) continue;
			if (onlyMoved(now, def)) moved.set(id, def);
			else anew = true;
			this.objects[i] = def;
		}
		if (anew) this.stands = null;
		else if (moved.size > 0) moveObjects(this.world, moved);
	}

	/** Places told in the world as their parent has them. */
	private local(
		def: { position?: Vec3; rotation?: Vec3; scale?: Vec3 },
		world: ReadonlySet<PoseField>,
		parent: Pose,
	): { position?: Vec3; rotation?: Vec3; scale?: Vec3 } {
		const out: { position?: Vec3; rotation?: Vec3; scale?: Vec3 } = {};
		const { position, rotation, scale } = parent;
		if (world.has('position') && def.position) {
			const [x, y, z] = def.position;
			const own = unturned(rotation, x - position[0], y - position[1], z - position[2]);
			out.position = [own[0] / scale[0], own[1] / scale[1], own[2] / scale[2]];
		}
		if (world.has('rotation') && def.rotation) {
			if (this.flat) out.rotation = [0, 0, def.rotation[2] - eulerOf(rotation)[2]];
			else if (parent === AT_ORIGIN) out.rotation = def.rotation;
			else out.rotation = eulerOf(multiply(transposed(rotation), rotationOf(def.rotation)));
		}
		if (world.has('scale') && def.scale)
			out.scale = [def.scale[0] / scale[0], def.scale[1] / scale[1], def.scale[2] / scale[2]];
		return out;
	}

	private layCameras(): void {
		for (const [id, was] of this.toldCameras) {
			const i = this.base.cameras.findIndex((c) => c.id === id);
			const base = this.base.cameras[i] as Camera;
			let next = { ...base, ...was.fields } as Camera;
			if (was.world.size > 0 && base.object !== undefined) {
				const object = this.world.objectById.get(base.object);
				if (object) next = { ...next, ...this.local(next, was.world, object) } as Camera;
			}
			if (deepEqual(this.cameras[i], next)) continue;
			this.cameras[i] = next;
			if (this.stands) moveCamera(this.stands, next);
		}
	}

	private layQueries(): void {
		let changed = false;
		for (const [id, given] of this.toldQueries) {
			const i = this.base.queries.findIndex((q) => q.id === id);
			const next = { ...this.base.queries[i], ...given } as Query;
			if (deepEqual(this.queries[i], next)) continue;
			this.queries[i] = next;
			changed = true;
		}
		if (changed && this.stands) this.stands = withQueries(this.stands, [...this.queries]);
	}
}
