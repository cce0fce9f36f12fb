/** The names of things, by their ids. */
import type { Project } from '@frelk/core';

/** The name of a thing, or its id where it has none. */
export function nameOf(
	project: Project,
	kind: 'object' | 'tag' | 'layer' | 'camera' | 'query' | 'moment' | 'side',
	id: string,
): string {
	const { scene } = project;
	const list: { id: string; name?: string | undefined }[] =
		kind === 'object'
			? scene.objects
			: kind === 'tag'
				? scene.tags
				: kind === 'layer'
					? scene.layers
					: kind === 'camera'
						? scene.cameras
						: kind === 'moment'
							? (project.moments ?? [])
							: kind === 'side'
								? (scene.sides ?? [])
								: project.queries;
	return namesOf(list).get(id) ?? id;
}

/** Names by id: asked for hundreds of times a move, of lists that may hold thousands. */
const names = new WeakMap<object, Map<string, string>>();

export function namesOf(list: readonly { id: string; name?: string | undefined }[]): ReadonlyMap<string, string> {
	let known = names.get(list);
	if (!known) {
		const times = new Map<string, number>();
		for (const { id, name = id } of list) times.set(name, (times.get(name) ?? 0) + 1);
		// Two of one name are told apart by their ids.
		known = new Map(
			list.map(({ id, name = id }) => [id, (times.get(name) ?? 0) > 1 && name !== id ? `${name} (${id})` : name]),
		);
		names.set(list, known);
	}
	return known;
}

/** What names the things of a scene: the same one for as long as the scene is. */
type SceneNaming = (kind: 'object' | 'tag' | 'layer' | 'side', id: string) => string;

const namings = new WeakMap<Project['scene'], SceneNaming>();

export function namingOf(scene: Project['scene']): SceneNaming {
	let naming = namings.get(scene);
	if (!naming) {
		const lists = { object: scene.objects, tag: scene.tags, layer: scene.layers, side: scene.sides ?? [] };
		naming = (kind, id) => namesOf(lists[kind]).get(id) ?? id;
		namings.set(scene, naming);
	}
	return naming;
}
