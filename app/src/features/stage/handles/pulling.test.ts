/** Handles one by one: which way a pull and a key go, where they rest and where they end. */
import type { Project } from '@frelk/core';
import { describe, expect, it } from 'vitest';
import { type Pose, toPixels, viewOfPose } from '../../../drawing/view';
import {
	type AngleHandle,
	dragHandle,
	type Handle,
	type LineHandle,
	type PointHandle,
	sliderOf,
	stepHandle,
	valueWords,
} from './handles';

const W = 800;
const H = 500;
const PLAN: Pose = { mode: 'plan', target: [0, 0, 0], yaw: 0, pitch: 0, distance: 5 };
const plan = viewOfPose(PLAN, W, H, false);
const picture = viewOfPose(PLAN, W, H, true);

const NOBODY = {} as Project;
const base = { id: 'h', label: 'Handle', at: [0, 0, 0] as [number, number, number], of: 'object', step: 0.1 } as const;

/** What a recipe sets; null for none. */
function setBy(handle: Handle, recipe: ((draft: Project) => void) | null): unknown {
	let got: unknown = null;
	(handle as { set: (draft: Project, value: unknown) => void }).set = (_, value) => {
		got = value;
	};
	recipe?.(NOBODY);
	return got;
}
const dragged = (handle: Handle, to: [number, number, number], fine = true, view = plan) =>
	setBy(handle, dragHandle(handle, view, toPixels(view, to) as [number, number], fine));
const stepped = (handle: Handle, key: string, factor = 1) => setBy(handle, stepHandle(handle, key, factor));

const line = (more: Partial<LineHandle> = {}): LineHandle => ({
	...base,
	kind: 'line',
	grid: 0.5,
	origin: [0, 0, 0],
	dir: [1, 0, 0],
	per: 2,
	value: 3,
	min: 0.25,
	unit: 'm',
	set: () => {},
	...more,
});
const angle = (more: Partial<AngleHandle> = {}): AngleHandle => ({
	...base,
	kind: 'angle',
	grid: 15,
	centre: [0, 0, 0],
	axis: 1,
	value: 0,
	unit: '°',
	set: () => {},
	...more,
});
const point = (more: Partial<PointHandle> = {}): PointHandle => ({
	...base,
	kind: 'point',
	grid: 0.5,
	axis: 1,
	set: () => {},
	...more,
});

describe('a handle on a line', () => {
	it('has the value of where it is pulled to along it, and no less than its least', () => {
		expect(dragged(line(), [1.2, 0, 3])).toBeCloseTo(2.4, 4);
		expect(dragged(line({ origin: [1, 0, 0] }), [1.2, 0, 3])).toBeCloseTo(0.4, 4);
		expect(dragged(line({ dir: [-1, 0, 0] }), [-1.2, 0, 3])).toBeCloseTo(2.4, 4);
		expect(dragged(line(), [0.125, 0, 0])).toBe(0.25);
		expect(dragged(line(), [-5, 0, 0])).toBe(0.25);
		expect(dragged(line({ min: -20 }), [-5, 0, 0])).toBe(-10);
	});

	it('rests on its grid unless told otherwise, and says nothing seen end on', () => {
		expect(dragged(line(), [1.2, 0, 0], false)).toBe(2.5);
		expect(dragged(line({ grid: 0 }), [1.2, 0, 0], false)).toBeCloseTo(2.4, 4);
		expect(dragHandle(line({ dir: [0, 1, 0] }), plan, [W / 2, H / 2], true)).toBeNull();
	});

	it('grows by the arrows up and to the right', () => {
		expect(['ArrowUp', 'ArrowRight', 'ArrowDown', 'ArrowLeft'].map((key) => stepped(line(), key))).toEqual([
			3.1, 3.1, 2.9, 2.9,
		]);
		expect(stepped(line(), 'ArrowDown', 10)).toBe(2);
		expect(stepped(line({ value: 0.3 }), 'ArrowDown')).toBe(0.25);
		expect(stepped(line(), 'Enter')).toBeNull();
	});
});

describe('a handle round an axis', () => {
	it('counts from ahead to the left, in a flat scene from the right upward', () => {
		const turns = (
			[
				[0, 0, -2],
				[-2, 0, 0],
				[2, 0, 0],
			] as [number, number, number][]
		).map((to) => dragged(angle(), to));
		expect(turns).toEqual([0, 90, -90]);
		expect(Math.abs(dragged(angle(), [0, 0, 2]) as number)).toBe(180);
		const flat = angle({ axis: 2 });
		expect(dragged(flat, [2, 0, 0], true, picture)).toBe(0);
		expect(dragged(flat, [0, 2, 0], true, picture)).toBe(90);
		expect(dragged(flat, [0, -2, 0], true, picture)).toBe(-90);
		// About its own middle.
		expect(dragged(angle({ centre: [5, 0, 5] }), [3, 0, 5])).toBe(90);
	});

	it('goes on past half a turn to the other side', () => {
		const near = (x: number) => dragged(angle(), [x, 0, 2]);
		expect(near(-0.01)).toBeCloseTo(179.7135, 3);
		expect(near(0.01)).toBeCloseTo(-179.7135, 3);
	});

	it('rests on its grid in the measure it shows', () => {
		expect(dragged(angle(), [-2, 0, -1.9], false)).toBe(45);
		expect(dragged(angle({ measure: (turn) => Math.abs(turn) }), [2, 0, 0])).toBe(90);
		expect(stepped(angle({ value: 30, step: 5 }), 'ArrowLeft', 2)).toBe(20);
		expect(stepped(angle({ value: 30, step: 5 }), 'ArrowUp')).toBe(35);
	});
});

describe('a handle on a plane', () => {
	it('goes where it is pulled, at its own height', () => {
		expect(dragged(point({ at: [0, 2, 0] }), [1.23, 2, -0.77])).toEqual([1.23, 2, -0.77]);
		expect(dragged(point({ at: [0, 2, 0] }), [1.23, 2, -0.8], false)).toEqual([1, 2, -1]);
		expect(dragged(point({ axis: 2, at: [0, 0, 0.3] }), [1.23, 0.4, 0.3], true, picture)).toEqual([1.23, 0.4, 0.3]);
	});

	it('goes by the arrows as the view has them', () => {
		const keys = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'];
		expect(keys.map((key) => stepped(point(), key))).toEqual([
			[-0.1, 0, 0],
			[0.1, 0, 0],
			[0, 0, -0.1],
			[0, 0, 0.1],
		]);
		expect(keys.map((key) => stepped(point({ axis: 2 }), key, 10))).toEqual([
			[-1, 0, 0],
			[1, 0, 0],
			[0, 1, 0],
			[0, -1, 0],
		]);
	});
});

it('a handle says what it holds, between its limits', () => {
	expect(valueWords(point({ at: [1, 0.50004, -2] }))).toBe('X 1, Y 0.5, Z -2 m');
	expect(valueWords(line())).toBe('3 m');
	expect(sliderOf(point({ at: [1, 0, 0] }))).toEqual({ now: 1, min: -1e7, max: 1e7 });
	expect(sliderOf(line())).toEqual({ now: 3, min: 0.25, max: 1e7 });
	expect(sliderOf(line({ unit: '°' }))).toEqual({ now: 3, min: 0.25, max: 180 });
	expect(sliderOf(angle({ value: -20 }))).toEqual({ now: -20, min: -180, max: 180 });
	expect(sliderOf(angle({ value: 270 }))).toEqual({ now: 270, min: -180, max: 270 });
	expect(sliderOf(angle({ value: 20, measure: Math.abs }))).toEqual({ now: 20, min: 0, max: 180 });
});
