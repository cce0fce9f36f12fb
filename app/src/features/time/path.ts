/** The way of what is in hand through a run, with its keys to be pulled on the stage. */
import type { Project, Run, Vec3, World } from '@frelk/core';
import { placed } from '@frelk/core/geometry';
import { RunInstants } from '@frelk/core/runs';
import type { P3 } from '../../drawing/view';
import { localOf } from '../edit/objects';
import type { Handle } from '../stage/handles/handles';

interface RunPath {
	points: P3[];
	handles: Handle[];
}

/** Points a path is drawn with at most. */
const MOST = 240;

/** @returns null where the object has no track with places */
export function pathOfObject(project: Project, run: Run, world: World, id: string): RunPath | null {
	const track = run.tracks?.find((t) => t.object === id);
	const keys = (track?.keys ?? []).filter((key) => key.position !== undefined);
	if (keys.length === 0) return null;
	const object = world.objectById.get(id);
	if (!object) return null;
	// Keys are in the frame of the parent there is now.
	const toWorld = (p: Vec3): Vec3 =>
		object.parent ? placed(object.parent.position, object.parent.rotation, object.parent.scale, p) : p;
	const instants = new RunInstants(project, run);
	const [from, to] = [keys[0]?.t ?? 0, keys.at(-1)?.t ?? 0];
	const n = to > from ? Math.min(MOST, 2 + Math.ceil((to - from) / 0.05)) : 1;
	const points = Array.from({ length: n }, (_, i): P3 => {
		const there = instants.at(n === 1 ? from : from + ((to - from) * i) / (n - 1));
		return toWorld(there.scene.objects.find((o) => o.id === id)?.position ?? [0, 0, 0]);
	});
	const { flat } = world;
	const handles = keys.map(
		(key): Handle => ({
			kind: 'point',
			id: `key-${key.t}`,
			label: `Place at ${Number(key.t.toFixed(3))} s`,
			at: toWorld(key.position as Vec3),
			of: 'query',
			step: flat ? 0.01 : 0.05,
			grid: flat ? 0.01 : 0.05,
			axis: flat ? 2 : 1,
			set: (draft, at) => {
				const r = draft.runs?.find((one) => one.id === run.id);
				const target = r?.tracks?.find((t) => t.object === id)?.keys.find((k) => k.t === key.t);
				if (target) target.position = object.parent ? localOf(object.parent, at) : [at[0], at[1], at[2]];
			},
		}),
	);
	return { points, handles };
}
