/** Small scenes for hand-computed tests. */

import { formatProblem } from '../project/problems';
import { checkProject } from '../project/read';
import type { Camera, Project, Query, SceneObject, Shape, Vec3 } from '../project/schema';
import { Answerer } from '../query/answer';
import type { Answer, Verdict } from '../query/types';
import { buildWorld } from '../world/world';

export const box = (size: [number, number, number], more: object = {}): Shape =>
	({ id: 'box', kind: 'box', size, ...more }) as Shape;
export const ball = (radius: number, more: object = {}): Shape =>
	({ id: 'ball', kind: 'sphere', radius, ...more }) as Shape;
export const disc = (radius: number, more: object = {}): Shape =>
	({ id: 'disc', kind: 'circle', radius, ...more }) as Shape;
export const rect = (size: [number, number], more: object = {}): Shape =>
	({ id: 'rect', kind: 'rect', size, ...more }) as Shape;

/** An object on layer "a" unless told otherwise. */
export const object = (id: string, position: Vec3, shapes: Shape[], more: Partial<SceneObject> = {}): SceneObject => ({
	id,
	position,
	layer: 'a',
	shapes,
	...more,
});

const EYE: Camera = { id: 'eye', position: [0, 0, 0], projection: 'perspective', fov: 90 };
const ABOVE: Camera = { id: 'above', position: [0, 0, 10], projection: 'orthographic', height: 10, far: 20 };

export function project(objects: SceneObject[], queries: unknown[], more: Partial<Project['scene']> = {}): Project {
	const flat = more.kind === 'flat';
	const made = {
		format: 'frelk/1',
		id: 'test',
		name: 'Test',
		scene: {
			kind: 'space',
			layers: [{ id: 'a' }, { id: 'b' }, { id: 'wall' }],
			tags: [{ id: 'bird' }, { id: 'gull', under: 'bird' }, { id: 'crank' }],
			sides: [{ id: 'us' }, { id: 'them' }],
			stances: [{ from: 'us', to: 'them', stance: 'hostile' }],
			objects,
			cameras: [flat ? ABOVE : EYE],
			...more,
		},
		queries,
	};
	const reading = checkProject(JSON.parse(JSON.stringify(made)));
	if (!reading.ok) throw new Error(reading.problems.map(formatProblem).join('\n'));
	return reading.project;
}

/** A ray from the origin straight ahead, with whatever is given laid over it. */
export const ahead = (more: object = {}): Query =>
	({ id: 'q', kind: 'ray', from: { point: [0, 0, 0] }, aim: { along: [0, 0, -1] }, length: 20, ...more }) as Query;

/** The answer of the first query. */
export function ask(p: Project, moment: string | null = null): Answer {
	const answerer = new Answerer(buildWorld(p, moment));
	return answerer.explain(answerer.world.queries[0] as Query);
}

/** The answer to one query about some objects. */
export const answerTo = (query: unknown, objects: SceneObject[], more: Partial<Project['scene']> = {}): Answer =>
	ask(project(objects, [query], more));

export const verdict = (answer: Answer, id: string): Verdict => {
	const found = answer.verdicts.find((v) => v.object === id);
	if (!found) throw new Error(`no verdict for ${id}`);
	return found;
};
