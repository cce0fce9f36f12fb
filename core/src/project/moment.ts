/** A project at one moment: the moment, and those it is on, laid over the scene. */
import { withOverlays } from './overlay';
import type { Camera, Moment, Overlay, Project, Query, SceneObject, StateValue } from './schema';

export interface SceneAtMoment {
	objects: SceneObject[];
	cameras: Camera[];
	queries: Query[];
	states: Record<string, StateValue>;
}

/** The moments that make up `id`, the one lowest down first. @throws RangeError for an unknown moment */
export function momentChain(project: Project, id: string): Moment[] {
	const chain: Moment[] = [];
	let current: string | undefined = id;
	while (current !== undefined) {
		const moment: Moment | undefined = (project.moments ?? []).find((m) => m.id === current);
		if (!moment) throw new RangeError(`no moment "${current}"`);
		if (chain.includes(moment)) throw new RangeError(`the moments "${id}" stands on go round in a circle`);
		chain.unshift(moment);
		current = moment.on;
	}
	return chain;
}

/**
 * @param moment id of a moment, or null for the scene as it stands
 * @returns new lists; entries no moment touches are the project's own objects
 */
export function applyMoment(project: Project, moment: string | null): SceneAtMoment {
	const { scene } = project;
	const laid: SceneAtMoment = {
		objects: scene.objects,
		cameras: scene.cameras,
		queries: project.queries,
		states: scene.states ?? {},
	};
	if (moment === null) return laid;
	for (const layer of momentChain(project, moment)) {
		const { objects, cameras, queries, states } = layer;
		if (objects)
			laid.objects = laid.objects.map((o) =>
				Object.hasOwn(objects, o.id) ? overlaid(o, objects[o.id] as Overlay) : o,
			);
		if (cameras)
			laid.cameras = laid.cameras.map((c) =>
				Object.hasOwn(cameras, c.id) ? { ...c, ...given(cameras[c.id] ?? {}) } : c,
			);
		if (queries)
			laid.queries = laid.queries.map((q) =>
				Object.hasOwn(queries, q.id) ? ({ ...q, ...given(queries[q.id] ?? {}) } as Query) : q,
			);
		if (states) laid.states = { ...laid.states, ...states };
	}
	return laid;
}

/** The entries that are given at all. */
function given<T extends object>(value: T): Partial<T> {
	return Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as Partial<T>;
}

/** The last result for each overlay: while another object is moved, the rest of a moment stays the very same. */
const laidBefore = new WeakMap<Overlay, { object: SceneObject; out: SceneObject }>();

function overlaid(object: SceneObject, overlay: Overlay): SceneObject {
	const known = laidBefore.get(overlay);
	if (known?.object === object) return known.out;
	const out = withOverlays(object, [overlay]);
	laidBefore.set(overlay, { object, out });
	return out;
}
