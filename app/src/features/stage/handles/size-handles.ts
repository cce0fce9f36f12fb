/** Handles on the faces of a shape, whether an object's or a query's. */
import type { Project } from '@frelk/core';
import type { Matrix } from '@frelk/core/geometry';
import type { P3 } from '../../../drawing/view';
import { type Base, type Handle, type LineHandle, plus } from './handles';

/** What stays where it is while a size changes: its middle, the face opposite along an axis, or the base it stands on. */
type Hold = 'middle' | 'base' | 0 | 1 | 2;

/**
 * Faces of a shape as handles, given where its body lies; `set` gets the shape. An object's face is pulled away from the one opposite,
 * which stays; a query's volume grows about its middle.
 */
export function sizeHandles(
	of: Base['of'],
	id: string,
	shape: { kind: string; size?: readonly number[]; radius?: number; height?: number },
	centre: P3,
	m: Matrix,
	scale: readonly number[],
	flat: boolean,
	set: (draft: Project, recipe: (shape: Sized) => void, hold: Hold) => void,
): Handle[] {
	const fromFace = of === 'object';
	const axis = (k: number): P3 => [m[k], m[k + 3], m[k + 6]];
	const grid = flat ? 0.01 : 0.05;
	const line = (
		name: string,
		k: number,
		half: number,
		per: number,
		value: number,
		put: (shape: Sized, v: number) => void,
		hold: Hold = fromFace ? (k as 0 | 1 | 2) : 'middle',
	): LineHandle => ({
		kind: 'line',
		id: `${id}-${name}`,
		label: `${name} of ${id}`,
		at: plus(centre, axis(k), half),
		of,
		step: grid,
		grid,
		origin: hold === k ? plus(centre, axis(k), -half) : centre,
		middle: centre,
		dir: axis(k),
		per: hold === k ? per / 2 : per,
		value,
		min: grid,
		unit: 'm',
		set: (draft, v) => set(draft, (s) => put(s, v), hold),
	});
	const s = (k: number): number => scale[k];
	if (shape.size) {
		const names = flat ? ['Width', 'Height'] : ['Width', 'Height', 'Depth'];
		return names.map((name, k) =>
			line(
				name,
				k,
				((shape.size?.[k] as number) * s(k)) / 2,
				2 / s(k),
				shape.size?.[k] as number,
				(x, v) => x.size && void (x.size[k] = v),
			),
		);
	}
	if (shape.radius === undefined) return [];
	const wide =
		shape.kind === 'sphere'
			? Math.max(s(0), s(1), s(2))
			: shape.kind === 'circle'
				? Math.max(s(0), s(1))
				: flat
					? s(0)
					: Math.max(s(0), s(2));
	const list: Handle[] = [
		line(
			'Radius',
			0,
			shape.radius * wide,
			1 / wide,
			shape.radius,
			(x, v) => {
				x.radius = v;
				// A capsule is never lower than it is wide.
				if (x.kind === 'capsule' && x.height !== undefined) x.height = Math.max(x.height, 2 * v);
			},
			fromFace && !flat ? 'base' : 'middle',
		),
	];
	if (shape.height !== undefined)
		list.push(
			line('Height', 1, (shape.height * s(1)) / 2, 2 / s(1), shape.height, (x, v) => {
				x.height = x.kind === 'capsule' && x.radius !== undefined ? Math.max(v, 2 * x.radius) : v;
			}),
		);
	return list;
}

export interface Sized {
	kind: string;
	size?: number[];
	radius?: number;
	height?: number;
}
