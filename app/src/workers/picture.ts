/** A project as home shows it: a line drawing of its scene, or why it cannot be opened. */
import { buildWorld, formatProblem, readProject, type WorldShape } from '@frelk/core';
import type { Head, Picture } from '../data/db';
import { layerHue } from '../drawing/hues';
import { worldLines } from '../drawing/outline';
import { framing, type P2, pathOf, toPixels, viewOfPose } from '../drawing/view';
import { PICTURE } from './picture-size';

/** Shapes drawn; more are only a smudge at this size. */
const MAX_SHAPES = 400;

/** What is larger is a floor or a wall, metres. */
const LARGE = 8;

/** The convex outline of pixels, counter-clockwise (Andrew's monotone chain). */
function outlineOf(points: P2[]): P2[] {
	const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
	const half = (list: P2[]): P2[] => {
		const chain: P2[] = [];
		for (const p of list) {
			for (;;) {
				const [a, b] = [chain.at(-2), chain.at(-1)];
				if (!a || !b || (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
				chain.pop();
			}
			chain.push(p);
		}
		return chain.slice(0, -1);
	};
	return [...half(sorted), ...half(sorted.reverse())];
}

export function pictureOfText(text: string): { lines: Picture['lines']; trouble?: string; head?: Head } {
	const reading = readProject(text);
	if (!reading.ok) return { lines: [], trouble: reading.problems.slice(0, 1).map(formatProblem).join('') };
	const { project } = reading;
	const world = buildWorld(project);
	const { width: w, height: h } = PICTURE;
	const view = viewOfPose(framing(world, { w, h }), w, h, world.flat);
	const [fx, fy, fz] = [2, 5, 8].map((k) => view.camera.rotation[k]) as [number, number, number];
	const b = world.bounds();
	const sizeOf = (i: number) => Math.max(...[0, 1, 2].map((k) => b[6 * i + 3 + k] - b[6 * i + k]));
	// From the back to the front; what one stands on, and walls, behind everything.
	const backOf = (s: WorldShape) =>
		world.flat
			? s.object.position[2]
			: s.body.x * fx + s.body.y * fy + s.body.z * fz - (sizeOf(s.index) > LARGE ? 1e6 : 0);
	const lines = world.shapes
		.slice(0, MAX_SHAPES)
		.sort((a, b) => backOf(a) - backOf(b))
		.map((shape) => {
			const edges = worldLines(shape.body, world.flat, world.flat ? shape.object.position[2] : 0);
			const outline = outlineOf(
				edges.flat().flatMap((p) => [toPixels(view, p) ?? []].filter((q) => q.length === 2)) as P2[],
			);
			return {
				hue: layerHue(shape.layer),
				d: edges.map((line) => pathOf(view, line)).join(''),
				...(shape.sensor ? {} : { fill: `M${outline.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z` }),
			};
		});
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
