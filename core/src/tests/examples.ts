/** The sample projects, for tests. What is looked up in one and is not there is a fault of the test, and thrown. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Project, Query, QueryOf, SceneObject } from '../project/schema';

/** @param name of a file in examples/, without what follows the first dot */
export const example = (name: string): Project =>
	JSON.parse(readFileSync(join(import.meta.dirname, `../../../examples/${name}.frelk.json`), 'utf8'));

function named<T extends { id: string }>(list: readonly T[] | undefined, id: string): T {
	const found = list?.find((entry) => entry.id === id);
	if (!found) throw new Error(`nothing is called ${id} here`);
	return found;
}

export const objectIn = (project: Project, id: string): SceneObject => named(project.scene.objects, id);

export function queryIn<K extends Query['kind']>(project: Project, id: string, kind: K): QueryOf<K> {
	const query = named(project.queries, id);
	if (query.kind !== kind) throw new Error(`${id} is a ${query.kind}, not a ${kind}`);
	return query as QueryOf<K>;
}
