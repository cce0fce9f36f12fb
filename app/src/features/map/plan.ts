/** The plan of a scene beneath a floor map: what stands there, as lines in the cells of the map. */
import { buildWorld, type Project, type QueryMap, viewOf } from '@frelk/core';
import { eulerOf } from '@frelk/core/geometry';
import { worldLines } from '../../drawing/outline';
import { type DrawnShape, drawnScene } from '../../drawing/scene';
import { isFloor } from '../edit/fresh-query';

interface Plan {
	/** What is solid, but for floors and who asks, as a path. */
	lines: string;
	/** Where the asker stands, in cells, and the angle by which it is turned on the plan, degrees; null where it is not there. */
	asker: { x: number; y: number; turn: number } | null;
}

/** @returns null for a map that is none of places to stand */
export function planOf(project: Project, map: QueryMap): Plan | null {
	const { area, every } = map;
	if (map.kind !== 'floor' || !area || !every) return null;
	const world = buildWorld(project, map.moment ?? null);
	const { flat } = world;
	const asker = world.objectById.get(project.queries.find((q) => q.id === map.query)?.asker ?? '');
	const [across, down] = flat ? [0, 1] : [0, 2];
	// A cell's middle is the place it stands for.
	const x = (v: number) => (v - area.min[0]) / every + 0.5;
	const y = (v: number) => (v - area.min[1]) / every + 0.5;
	let lines = '';
	for (const object of world.objects) {
		if (!object.active || object === asker || isFloor(object.def)) continue;
		for (const shape of object.shapes) {
			if (shape.sensor) continue;
			for (const line of worldLines(shape.body, flat))
				lines += line
					.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p[across]).toFixed(2)} ${y(p[down] as number).toFixed(2)}`)
					.join('');
		}
	}
	if (!asker) return { lines, asker: null };
	const [yaw, , roll] = eulerOf(asker.rotation);
	return {
		lines,
		asker: {
			x: x(asker.position[across] as number),
			y: y(asker.position[down] as number),
			// On the plan Z goes down, and a yaw of 0 looks up.
			turn: flat ? roll : -yaw - 90,
		},
	};
}

/** What the camera of a map of cursors sees, in pixels of its picture. */
interface Behind {
	width: number;
	height: number;
	shapes: DrawnShape[];
}

/** @returns null for a map that is none of cursors */
export function behindMap(project: Project, map: QueryMap): Behind | null {
	const query = project.queries.find((q) => q.id === map.query);
	if (map.kind !== 'cursor' || query?.kind !== 'pick') return null;
	const world = buildWorld(project, map.moment ?? null);
	const camera = world.cameras.get(query.camera);
	if (!camera) return null;
	const [width, height] = query.viewport;
	return { width, height, shapes: drawnScene(world, viewOf(camera, query.viewport)) };
}
