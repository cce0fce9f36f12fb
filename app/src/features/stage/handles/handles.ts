/**
 * Handles: the places on the stage where a value is held and pulled. Plain data, so that the same list is drawn, dragged, stepped
 * by the keyboard and tested. A line handle slides along a line, an angle handle round an axis, a point handle on a plane.
 */

import type { Project, Vec3, View } from '@frelk/core';
import { rounded, roundedTriple } from '@frelk/core';
import { onPlane, type P2, type P3, rayThrough } from '../../../drawing/view';

export interface Base {
	id: string;
	label: string;
	/** Where it is drawn. */
	at: P3;
	/** Kind of mark: what belongs to the object, and what to the query. */
	of: 'object' | 'query';
	/** One step of an arrow key. */
	step: number;
	/** Where a drag comes to rest, and 0 for nowhere. */
	grid: number;
}

export interface LineHandle extends Base {
	kind: 'line';
	/** The value is `origin` metres at 0 and grows along `dir` (unit), `per` of it a metre. */
	origin: P3;
	/** The middle of the body it belongs to, where that is not the origin. */
	middle?: P3;
	dir: P3;
	per: number;
	value: number;
	min: number;
	unit: 'm' | '°' | 'px';
	set: (draft: Project, value: number) => void;
}

export interface AngleHandle extends Base {
	kind: 'angle';
	centre: P3;
	/** Axis the turn goes round: Y in space, Z in flat scenes. */
	axis: 1 | 2;
	/** Degrees counter-clockwise seen from the axis' tip; in space 0 is −Z, in flat scenes +X. */
	value: number;
	/** The value that a turn in that sense stands for; the turn itself where left out. */
	measure?: (turn: number) => number;
	unit: '°';
	set: (draft: Project, value: number) => void;
}

export interface PointHandle extends Base {
	kind: 'point';
	axis: 1 | 2;
	set: (draft: Project, at: Vec3) => void;
}

export type Handle = LineHandle | AngleHandle | PointHandle;

/** Figures a drag leaves: a tenth of a millimetre. */
export const round = (v: number): number => rounded(v, 4);
export const round3 = (v: readonly number[]): Vec3 => roundedTriple(v, 4);
export const plus = (a: P3, b: P3, t = 1): P3 => [a[0] + t * b[0], a[1] + t * b[1], a[2] + t * b[2]];

/** Where along a line the ray through a pixel passes nearest to it, metres; null where it runs along the line of sight. */
function alongLine(view: View, pixel: P2, origin: P3, dir: P3): number | null {
	const { start, dir: u } = rayThrough(view, pixel);
	const w = [start[0] - origin[0], start[1] - origin[1], start[2] - origin[2]];
	const b = u[0] * dir[0] + u[1] * dir[1] + u[2] * dir[2];
	const d = u[0] * w[0] + u[1] * w[1] + u[2] * w[2];
	const e = dir[0] * w[0] + dir[1] * w[1] + dir[2] * w[2];
	const det = 1 - b * b;
	return det < 1e-4 ? null : (e - b * d) / det;
}

/** The turn of a place about a centre, in the sense of `AngleHandle.value`. */
function turnOf(centre: P3, at: P3, axis: 1 | 2): number {
	const degrees =
		axis === 1
			? Math.atan2(-(at[0] - centre[0]), -(at[2] - centre[2]))
			: Math.atan2(at[1] - centre[1], at[0] - centre[0]);
	return (degrees * 180) / Math.PI;
}

const snapped = (value: number, grid: number, fine: boolean): number =>
	fine || grid === 0 ? value : Math.round(value / grid) * grid;

/** What a drag of a handle to a pixel makes of it, written into the draft; false where the pixel says nothing. */
export function dragHandle(handle: Handle, view: View, pixel: P2, fine: boolean): ((draft: Project) => void) | null {
	if (handle.kind === 'line') {
		const t = alongLine(view, pixel, handle.origin, handle.dir);
		if (t === null) return null;
		const value = Math.max(handle.min, round(snapped(t * handle.per, handle.grid, fine)));
		return (draft) => handle.set(draft, value);
	}
	const depth = handle.kind === 'angle' ? handle.centre[handle.axis] : handle.at[handle.axis];
	const place = onPlane(view, pixel, handle.axis, depth);
	if (!place) return null;
	if (handle.kind === 'angle') {
		const turn = turnOf(handle.centre, place, handle.axis);
		const value = round(snapped(handle.measure ? handle.measure(turn) : turn, handle.grid, fine));
		return (draft) => handle.set(draft, value);
	}
	const at = round3(place.map((v, k) => (k === handle.axis ? v : snapped(v, handle.grid, fine))));
	return (draft) => handle.set(draft, at);
}

/** What an arrow key makes of a handle. */
export function stepHandle(handle: Handle, key: string, factor: number): ((draft: Project) => void) | null {
	const up = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[key];
	if (up === undefined) return null;
	const size = handle.step * factor;
	if (handle.kind !== 'point') {
		const value = round(
			handle.kind === 'line' ? Math.max(handle.min, handle.value + up * size) : handle.value + up * size,
		);
		return (draft) => handle.set(draft, value);
	}
	const at: [number, number, number] = [...handle.at];
	if (key === 'ArrowLeft' || key === 'ArrowRight') at[0] += up * size;
	else if (handle.axis === 1) at[2] -= up * size;
	else at[1] += up * size;
	return (draft) => handle.set(draft, round3(at));
}

/** What a handle holds, in words: a place by its coordinates. */
export function valueWords(handle: Handle): string {
	if (handle.kind === 'point') {
		const [x, y, z] = round3(handle.at);
		return `X ${x}, Y ${y}, Z ${z} m`;
	}
	return `${round(handle.value)} ${handle.unit}`;
}

/** Farther out no file holds a place, metres. */
const FAR = 1e7;

/** A handle as a slider: its value between its limits. Of a place it is the coordinate that the right and left arrows change. */
export function sliderOf(handle: Handle): { now: number; min: number; max: number } {
	if (handle.kind === 'point') return { now: round(handle.at[0]), min: -FAR, max: FAR };
	const now = round(handle.value);
	if (handle.kind === 'angle') return { now, min: Math.min(handle.measure ? 0 : -180, now), max: Math.max(180, now) };
	return { now, min: handle.min, max: Math.max(handle.unit === '°' ? 180 : FAR, now) };
}
