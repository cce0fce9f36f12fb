/** A project as home shows it: a line drawing of its scene, or why it cannot be opened. */
import { buildWorld, formatProblem, readProject } from '@frelk/core';
import type { Head, Picture } from '../data/db';
import { layerHue } from '../drawing/hues';
import { worldLines } from '../drawing/outline';
import { framing, pathOf, viewOfPose } from '../drawing/view';
import { PICTURE } from './picture-size';

/** Shapes drawn; more are only a smudge at this size. */
const MOST_SHAPES = 400;

export function pictureOfText(text: string): { lines: Picture['lines']; trouble?: string; head?: Head } {
	const reading = readProject(text);
	if (!reading.ok) return { lines: [], trouble: reading.problems.slice(0, 1).map(formatProblem).join('') };
	const { project } = reading;
	const world = buildWorld(project);
	const view = viewOfPose(framing(world), PICTURE.width, PICTURE.height, world.flat);
	const lines = world.shapes.slice(0, MOST_SHAPES).map((shape) => ({
		hue: layerHue(shape.layer),
		d: worldLines(shape.body, world.flat, world.flat ? shape.object.position[2] : 0)
			.map((line) => pathOf(view, line))
			.join(''),
	}));
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
