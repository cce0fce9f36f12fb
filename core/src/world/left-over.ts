/** Shapes that look like left-overs of a template. */
import type { World, WorldObject, WorldShape } from './world';

/** Times a shape is higher than the highest other of its object to be taken for a left-over. */
const LEFT_OVER = 4;

/** @returns the solid shape of an object that is far higher than all its others, and by how many times; null where there is none */
export function leftOverOf(world: World, object: WorldObject): { shape: WorldShape; times: number } | null {
	const solid = object.shapes.filter((s) => !s.sensor);
	const bounds = world.bounds();
	const high = (s: WorldShape) => (bounds[6 * s.index + 4] as number) - (bounds[6 * s.index + 1] as number);
	const [most, next] = [...solid].sort((a, b) => high(b) - high(a));
	if (!most || !next || high(most) < LEFT_OVER * high(next)) return null;
	return { shape: most, times: high(most) / high(next) };
}
