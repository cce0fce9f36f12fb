/** A project as home shows it: a line drawing of its scene, or why it cannot be opened. */
import { buildWorld, formatProblem, readProject } from '@frelk/core';
import type { Head, Picture } from '../data/db';
import { drawnScene } from '../drawing/scene';
import { framing, viewOfPose } from '../drawing/view';
import { PICTURE } from './picture-size';

export function pictureOfText(text: string): { lines: Picture['lines']; trouble?: string; head?: Head } {
	const reading = readProject(text);
	if (!reading.ok) return { lines: [], trouble: reading.problems.slice(0, 1).map(formatProblem).join('') };
	const { project } = reading;
	const world = buildWorld(project);
	const { width: w, height: h } = PICTURE;
	const view = viewOfPose(framing(world, { w, h }), w, h, world.flat);
	const lines = drawnScene(world, view);
	return {
		lines,
		head: {
			name: project.name,
			kind: project.scene.kind,
			objects: project.scene.objects.length,
			queries: project.queries.length,
		},
	};
}
