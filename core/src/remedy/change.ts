/** Changes of a project that remedies are made of: pure, and made at a moment where a moment can hold them. */
import { projectAt, recordInto } from '../project/record';
import type { Project, Query, SceneObject, Shape } from '../project/schema';

/** A change, made to the project as it stands; the same values whatever it is made to. */
export type Recipe = (project: Project) => Project;

const replaced = <T extends { id: string }>(list: readonly T[], id: string, change: (entry: T) => T): T[] =>
	list.map((entry) => (entry.id === id ? change(entry) : entry));

/** The same entry without fields that were set to undefined. */
const cleaned = <T extends object>(entry: T): T =>
	Object.fromEntries(Object.entries(entry).filter(([, value]) => value !== undefined)) as T;

export const onObject =
	(id: string, change: (object: SceneObject) => Partial<SceneObject>): Recipe =>
	(project) => ({
		...project,
		scene: { ...project.scene, objects: replaced(project.scene.objects, id, (o) => cleaned({ ...o, ...change(o) })) },
	});

/** An object put on a layer with all its shapes. */
export const ontoLayer = (id: string, layer: string): Recipe =>
	onObject(id, ({ shapes }) => ({
		layer,
		...(shapes ? { shapes: shapes.map(({ layer: _, ...shape }) => shape as Shape) } : {}),
	}));

export const onQuery =
	(id: string, change: (query: Query) => object): Recipe =>
	(project) => ({
		...project,
		queries: replaced(project.queries, id, (q) => cleaned({ ...q, ...change(q) }) as Query),
	});

export const onScene =
	(change: (scene: Project['scene']) => Partial<Project['scene']>): Recipe =>
	(project) => ({ ...project, scene: { ...project.scene, ...change(project.scene) } });

export const onStates = (states: Record<string, boolean | number>): Recipe =>
	onScene((scene) => ({ states: { ...scene.states, ...states } }));

/** One change after another. */
export const both =
	(first: Recipe, second: Recipe): Recipe =>
	(project) =>
		second(first(project));

/** @returns the project changed: at a moment what a moment can hold goes into it, the rest into the scene */
export function changed(project: Project, moment: string | null, recipe: Recipe): Project {
	const plain = recipe(project);
	return moment === null ? plain : recordInto(project, moment, plain, recipe(projectAt(project, moment)));
}
