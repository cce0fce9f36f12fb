/**
 * A world of the subject alone, with what it and the query name. Without rivals and without what stands in the way, who is not selected
 * there is not selected in the whole world either: a search for a place asks the small one first.
 */
import { projectAt } from '../project/record';
import type { SceneObject } from '../project/schema';
import { buildWorld, moveObjects, type World } from '../world/world';
import type { Case } from './candidate';

/** All texts in some JSON. */
function* texts(value: unknown): Generator<string> {
	if (typeof value === 'string') yield value;
	else if (typeof value === 'object' && value !== null) for (const part of Object.values(value)) yield* texts(part);
}

/** @returns the world of the subject alone; null where what others are struck by matters to where the query stands */
function aloneOf({ project, moment, world, query, target }: Case): World | null {
	if (JSON.stringify(query).includes('"hitOf"')) return null;
	const seen = projectAt(project, moment);
	const byId = new Map(seen.scene.objects.map((o) => [o.id, o]));
	const kept = new Set<string>();
	// The subject is among those that answer for the target.
	const open = world.objects.filter((o) => o.answersFor === target).map((o) => o.id);
	const name = (value: unknown) => {
		for (const text of texts(value)) if (byId.has(text) && !kept.has(text)) open.push(text);
	};
	name(query);
	for (const camera of seen.scene.cameras) name(camera);
	for (let id = open.pop(); id !== undefined; id = open.pop()) {
		kept.add(id);
		name(byId.get(id));
	}
	const objects = seen.scene.objects.filter((o) => kept.has(o.id));
	return buildWorld({ ...seen, scene: { ...seen.scene, objects } }, null);
}

/** What may be told of a place before the whole world is asked. */
export class Relaxed {
	private readonly world: World | null;

	constructor(private readonly c: Case) {
		this.world = c.wish === 'select' ? aloneOf(c) : null;
	}

	/** @returns false where the wish cannot be true with an object moved so; true where the whole world has to be asked */
	mayBe(object: string, def: SceneObject): boolean {
		const { world, c } = this;
		const query = world?.queryById.get(c.query.id);
		if (!world?.objectById.has(object) || !query) return true;
		moveObjects(world, new Map([[object, def]]));
		return c.isWell(world, query);
	}
}
