/** Things of one kind, told by their names: what all others of a kind have and one has not looks like a mistake. */
import type { World, WorldObject } from '../world/world';
import { type Candidate, layersOf } from './candidate';

/** So many others make a kind. */
const MIN_LIKES = 2;

/** A name without the number at its end: `crate-12` and `Crate 12` are of the kind `crate` and `Crate`; null where it has none. */
export function kindOf(name: string): string | null {
	let end = name.length;
	while (end > 0 && name.charCodeAt(end - 1) >= 48 && name.charCodeAt(end - 1) <= 57) end--;
	if (end === name.length || end === 0) return null;
	while (end > 0 && '-_ .#'.includes(name.charAt(end - 1))) end--;
	return end === 0 ? null : name.slice(0, end);
}

/** @returns the others of its kind, by its id or its name; none where they are too few to be one */
export function likesOf(world: World, object: WorldObject): WorldObject[] {
	const byId = kindOf(object.id);
	const byName = kindOf(object.def.name ?? '');
	const likes = world.objects.filter(
		(o) =>
			o !== object &&
			((byId !== null && kindOf(o.id) === byId) || (byName !== null && kindOf(o.def.name ?? '') === byName)),
	);
	return likes.length < MIN_LIKES ? [] : likes;
}

/** @returns that a change looks like what mends the mistake, where all others of its kind are so as the change makes it */
export const looksLike = (
	likes: readonly WorldObject[],
	are: (other: WorldObject) => boolean,
): Candidate['looks'] | null => (likes.length > 0 && likes.every(are) ? 'mistake' : null);

/** How a change of the layer looks: as what mends the mistake where all others of its kind lie there, as what merely works where none does. */
export function looksOnLayer(likes: readonly WorldObject[], layer: string): Candidate['looks'] | null {
	const there = likes.filter((other) => layersOf(other).every((l) => l === layer)).length;
	if (likes.length === 0) return null;
	return there === likes.length ? 'mistake' : there === 0 ? 'works' : null;
}
