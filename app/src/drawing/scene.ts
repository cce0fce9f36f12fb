/** A scene as a line drawing: the shapes from the back to the front, each with its fill and its edges. */
import type { View, World, WorldShape } from '@frelk/core';
import { layerHue } from './hues';
import { worldLines } from './outline';
import { type P2, pathOf, toPixels } from './view';

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

/** One shape, drawn: the hue of its layer, its edges, and its outline where it is solid. */
export interface DrawnShape {
	hue: number;
	d: string;
	fill?: string;
}

/** @returns the shapes of a world as a view shows them */
export function drawnScene(world: World, view: View): DrawnShape[] {
	const [fx, fy, fz] = [2, 5, 8].map((k) => view.camera.rotation[k]) as [number, number, number];
	const b = world.bounds();
	const sizeOf = (i: number) => Math.max(...[0, 1, 2].map((k) => b[6 * i + 3 + k] - b[6 * i + k]));
	// From the back to the front; what one stands on, and walls, behind everything.
	const backOf = (s: WorldShape) =>
		world.flat
			? s.object.position[2]
			: s.body.x * fx + s.body.y * fy + s.body.z * fz - (sizeOf(s.index) > LARGE ? 1e6 : 0);
	return world.shapes
		.slice(0, MAX_SHAPES)
		.sort((a, b) => backOf(a) - backOf(b))
		.map((shape) => {
			const edges = worldLines(shape.body, world.flat, world.flat ? shape.object.position[2] : 0);
			const corners = edges.flat().map((p) => toPixels(view, p));
			// Of what reaches behind the picture the outline is not that of its corners.
			const whole = corners.every((p) => p !== null);
			const outline = whole ? outlineOf(corners as P2[]) : [];
			return {
				hue: layerHue(shape.layer),
				d: edges.map((line) => pathOf(view, line)).join(''),
				...(shape.sensor || outline.length < 3
					? {}
					: { fill: `M${outline.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z` }),
			};
		});
}
