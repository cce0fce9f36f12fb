/** What the eye shows: the picture from the query's camera, along its path, or from the asker's eye. */
import { type Query, type View, viewOf, type World, type WorldCamera } from '@frelk/core';
import { rotationOf } from '@frelk/core/geometry';
import { toPixels } from '../../../drawing/view';
import type { QueryGeometry } from '../overlay/geometry';

export interface EyePicture {
	view: View;
	/** Size of the picture on the stage, CSS pixels. */
	w: number;
	h: number;
	/** What the cursor does when dragged. */
	drives: 'cursor' | 'aim' | null;
	title: string;
}

/**
 * The picture that belongs to a query, or null where nobody looks.
 * @param most greatest size on the stage, CSS pixels
 * @param through a camera to look through instead
 */
export function eyePicture(
	world: World,
	query: Query | null,
	geometry: QueryGeometry | null,
	most: readonly [number, number],
	through: string | null = null,
): EyePicture | null {
	const width = most[0];
	const height = Math.min(most[1], Math.round(most[0] * 0.595));
	const other = through === null ? undefined : world.cameras.get(through);
	if (other && !(query?.kind === 'pick' && query.camera === through))
		return {
			view: viewOf(other, [width, height], [width / 2, height / 2]),
			w: width,
			h: height,
			drives: null,
			title: other.def.name ?? other.id,
		};
	if (!query) return null;
	if (query.kind === 'pick') {
		const camera = world.cameras.get(query.camera);
		if (!camera) return null;
		const [vw, vh] = query.viewport;
		const scale = Math.min(width / vw, most[1] / vh);
		const view = viewOf(camera, query.viewport, query.cursor);
		return { view, w: vw * scale, h: vh * scale, drives: 'cursor', title: camera.def.name ?? camera.id };
	}
	if (world.flat) return null;
	const placement = geometry?.placement;
	const size: [number, number] = [width, height];
	if (query.kind === 'ray' || query.kind === 'sweep') {
		if (!placement?.path) return null;
		const { start, dir } = placement.path;
		const own = query.from.camera === undefined ? undefined : world.cameras.get(query.from.camera);
		const camera = own ?? lookingAlong(start, dir);
		const view = viewOf(camera, size);
		const p = toPixels(view, [start[0] + 5 * dir[0], start[1] + 5 * dir[1], start[2] + 5 * dir[2]]);
		if (p) view.cursor = p;
		return {
			view,
			w: width,
			h: height,
			drives: query.aim?.along ? 'aim' : null,
			title: own ? (own.def.name ?? own.id) : 'Along the path',
		};
	}
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	if (!asker) return null;
	// The asker's own eye, where it has one: two pictures of one name would be one too many.
	const own = [...world.cameras.values()].find((camera) => camera.object === asker);
	if (own) return { view: viewOf(own, size), w: width, h: height, drives: null, title: own.def.name ?? own.id };
	const m = asker.rotation;
	const view = viewOf(lookingAlong(asker.focus, [-m[2], -m[5], -m[8]]), size);
	return { view, w: width, h: height, drives: null, title: `Ahead of ${asker.def.name ?? asker.id}` };
}

function lookingAlong(position: [number, number, number], dir: readonly [number, number, number]): WorldCamera {
	const yaw = (Math.atan2(-dir[0], -dir[2]) * 180) / Math.PI;
	const pitch = (Math.asin(Math.max(-1, Math.min(1, dir[1]))) * 180) / Math.PI;
	return {
		id: 'eye',
		def: { id: 'eye', position, projection: 'perspective', fov: 60 },
		object: null,
		position,
		rotation: rotationOf([yaw, pitch, 0]),
		far: 1000,
	};
}
