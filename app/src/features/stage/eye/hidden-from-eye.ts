/** Who looks through the eye, and is not to be seen in it: nobody sees the inside of their own head. */
import { hangsUnder, type Query, type World, type WorldObject } from '@frelk/core';

const NOBODY: ReadonlySet<string> = new Set();

/** Whom a camera looked through hangs on; else the asker where the eye is theirs: of a pick only where its camera hangs on them, or on what hangs on them. */
export function eyeHolderOf(world: World, query: Query | null, through: string | null = null): string | undefined {
	const camera = through === null ? undefined : world.cameras.get(through);
	if (camera) return camera.object?.id;
	if (!query) return undefined;
	if (query.kind !== 'pick') return query.asker;
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	return asker && hangsUnder(world.cameras.get(query.camera)?.object ?? null, asker) ? asker.id : undefined;
}

/** An object and all that hangs on it, by id. */
export function hiddenFromEye(objects: readonly WorldObject[], looker: string | undefined): ReadonlySet<string> {
	const root = looker === undefined ? undefined : objects.find((o) => o.id === looker);
	return root ? new Set(objects.filter((o) => hangsUnder(o, root)).map((o) => o.id)) : NOBODY;
}
