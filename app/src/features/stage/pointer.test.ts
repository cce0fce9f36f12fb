import { buildWorld, type Project } from '@frelk/core';
import { box, object, project as scene } from '@frelk/core/tests/scene';
import { beforeEach, describe, expect, it } from 'vitest';
import { type P2, type Pose, toPixels, viewOfPose } from '../../drawing/view';
import type { Tool } from '../../model/bench-state';
import { moveOfKey, shiftOfKey, zoomOfKey } from './keys';
import { StagePointer } from './pointer';

const W = 800;
const H = 500;
const PLAN: Pose = { mode: 'plan', target: [0, 0, 0], yaw: 0, pitch: 0, distance: 5 };
const FREE: Pose = { mode: 'free', target: [0, 0, 0], yaw: 0, pitch: -45, distance: 5 };

/** Two metres of pixels in plan: 500 px are ten metres. */
const METRE = 50;

function stage(
	objects: Project['scene']['objects'],
	more: { pose?: Pose; selection?: string[]; tool?: Tool; snapping?: boolean; hidden?: string[] } = {},
) {
	const world = buildWorld(scene(objects, []));
	const done: unknown[][] = [];
	const now = {
		world,
		tool: more.tool ?? null,
		selection: more.selection ?? [],
		snapping: more.snapping ?? false,
		hidden: new Set(more.hidden),
		depthOf: (z: number) => z,
		pose: more.pose ?? PLAN,
		view: viewOfPose(more.pose ?? PLAN, W, H, false),
		height: H,
	};
	const act =
		(name: string) =>
		(...given: unknown[]) =>
			void done.push([name, ...given]);
	const setPose = (pose: Pose) => {
		now.pose = pose;
		now.view = viewOfPose(pose, W, H, false);
		done.push(['setPose', pose]);
	};
	const pointer = new StagePointer(() => now, {
		setPose,
		pick: act('pick'),
		point: act('point'),
		beginMove: act('beginMove'),
		moveBy: act('moveBy'),
		endMove: act('endMove'),
		cancelMove: act('cancelMove'),
		show: act('show'),
		finish: act('finish'),
	});
	const at = (x: number, z: number): P2 => toPixels(viewOfPose(PLAN, W, H, false), [x, 0, z]) as P2;
	return { pointer, done, now, at, names: () => done.map(([name]) => name) };
}

const crate = object('crate', [0, 0.5, 0], [box([1, 1, 1])]);
const far = object('far', [3, 0.5, 0], [box([1, 1, 1])]);

describe('the pointer on the stage', () => {
	it('takes in hand what is clicked, more with Shift, and nothing where there is nothing', () => {
		const { pointer, done, at } = stage([crate, far]);
		expect(pointer.press(at(0, 0), 0, false)).toBe('view');
		pointer.release();
		pointer.press(at(3, 0), 0, true);
		pointer.release();
		pointer.press(at(-3, 2), 0, false);
		pointer.release();
		expect(done).toEqual([
			['pick', 'crate', false],
			['pick', 'far', true],
			['pick', null, false],
		]);
	});

	it('moves the view from the fourth pixel on, and then picks nothing', () => {
		const { pointer, done, at, names } = stage([crate]);
		const [x, y] = at(0, 0);
		pointer.press([x, y], 0, false);
		pointer.drag([x + 3.9, y], false);
		expect(done).toEqual([]);
		pointer.drag([x + 4, y], false);
		pointer.release();
		expect(names()).toEqual(['setPose']);
		// In plan the scene follows the hand: four pixels to the right are so many metres to the left for what looks at it.
		expect((done[0]?.[1] as Pose | undefined)?.target[0]).toBeCloseTo(-4 / METRE, 9);
	});

	it('turns a free view, within its limits, and shifts it with Shift or the middle button', () => {
		const { pointer, now } = stage([crate], { pose: FREE });
		pointer.press([400, 250], 0, false);
		pointer.drag([410, 250], false);
		expect([now.pose.yaw, now.pose.target]).toEqual([-3.5, [0, 0, 0]]);
		pointer.drag([400, -9999], false);
		expect(now.pose.pitch).toBe(20);
		pointer.drag([400, 9999], false);
		expect(now.pose.pitch).toBe(-89);
		pointer.release();
		for (const [button, shift] of [
			[1, false],
			[0, true],
		] as const) {
			const other = stage([crate], { pose: FREE });
			other.pointer.press([400, 250], button, shift);
			other.pointer.drag([410, 250], false);
			expect(other.now.pose.yaw).toBe(0);
			expect(other.now.pose.target[0]).toBeLessThan(0);
		}
	});

	it('goes back to where the view was when it is cancelled', () => {
		const { pointer, now, names } = stage([crate], { pose: FREE });
		pointer.press([400, 250], 0, false);
		pointer.drag([500, 260], false);
		pointer.cancel();
		expect(now.pose).toEqual(FREE);
		pointer.release();
		expect(names()).not.toContain('pick');
	});

	it('carries what is in hand by as much as the pointer has moved, in steps that add up', () => {
		const { pointer, done, at, names } = stage([crate, far], { selection: ['crate'] });
		expect(pointer.press(at(0, 0), 0, false)).toBe('objects');
		pointer.drag(at(1, 0), false);
		pointer.drag(at(1, 0), false);
		pointer.drag(at(1.5, -0.25), false);
		pointer.release();
		expect(names()).toEqual(['beginMove', 'moveBy', 'moveBy', 'endMove']);
		expect(done[1]?.[1]).toEqual([1, 0, 0]);
		expect(done[2]?.[1]).toEqual([0.5, 0, -0.25]);
		pointer.press(at(0, 0), 0, false);
		pointer.cancel();
		expect(names().slice(4)).toEqual(['beginMove', 'cancelMove']);
	});

	it('rests on faces and on the grid unless Alt is held or snapping is off', () => {
		const step = (snapping: boolean, fine: boolean, x: number) => {
			const { pointer, done, at } = stage([crate, far], { selection: ['crate'], snapping });
			pointer.press(at(0, 0), 0, false);
			pointer.drag(at(x, 0), fine);
			return (done[1]?.[1] as number[] | undefined)?.[0];
		};
		// Its right face at 0.5 comes to rest on the left face of the other at 2.5.
		expect(step(true, false, 1.93)).toBe(2);
		expect(step(true, true, 1.93)).toBe(1.93);
		expect(step(false, false, 1.93)).toBe(1.93);
		// Far from any face: the grid of 5 cm.
		expect(step(true, false, -2.02)).toBe(-2);
	});

	it('carries what stands onto what is under it, and down again; what hangs in the air keeps its height', () => {
		const table = object('table', [3, 0, 0], [box([2, 0.8, 2], { at: [0, 0.4, 0] })]);
		const total = (done: unknown[][]) =>
			done
				.filter(([name]) => name === 'moveBy')
				.map(([, by]) => by as number[])
				.reduce<number[]>((sum, by) => by.map((v, k) => v + (sum[k] ?? 0)), [0, 0, 0]);
		const standing = stage([crate, table], { selection: ['crate'] });
		standing.pointer.press(standing.at(0, 0), 0, false);
		standing.pointer.drag(standing.at(3, 0), true);
		expect(total(standing.done)).toEqual([3, 0.8, 0]);
		standing.pointer.drag(standing.at(-2, 1), true);
		expect(total(standing.done).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([-2, 0, 1]);
		const floating = stage([object('crate', [0, 1.5, 0], [box([1, 1, 1])]), table], { selection: ['crate'] });
		floating.pointer.press(floating.at(0, 0), 0, false);
		floating.pointer.drag(floating.at(3, 0), true);
		expect(total(floating.done)).toEqual([3, 0, 0]);
	});

	it('draws on the top that is pressed, before a wall, and on it where it is to hang', () => {
		const table = object('table', [0, 0, 0], [box([2, 0.8, 2], { at: [0, 0.4, 0] })]);
		const tool = { kind: 'shape', shape: 'box' } as Tool;
		const finished = (pixel: P2, hang: boolean, pose: Pose) => {
			const { pointer, done } = stage([table], { tool, pose });
			pointer.press(pixel, 0, false, hang);
			pointer.lift(pixel);
			const stroke = done.find(([name]) => name === 'finish')?.[1];
			return (stroke as { from: { place: number[]; face: { normal: number[]; hung: boolean } } }).from;
		};
		const top = finished(toPixels(viewOfPose(PLAN, W, H, false), [0.5, 0.8, 0.5]) as P2, false, PLAN);
		expect(top.place.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.5, 0.8, 0.5]);
		const front = toPixels(viewOfPose(FREE, W, H, false), [0.2, 0.4, 1]) as P2;
		const before = finished(front, false, FREE);
		expect(before.place[1]).toBeCloseTo(0, 9);
		expect(before.face).toMatchObject({ hung: false });
		const hung = finished(front, true, FREE);
		expect(hung.place.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0.2, 0.4, 1]);
		expect(hung.face.hung).toBe(true);
	});

	it('slides along the ground in plan and up and down in side view', () => {
		const side: Pose = { ...PLAN, mode: 'side' };
		const { pointer, done } = stage([crate], { selection: ['crate'], pose: side });
		const [x, y] = toPixels(viewOfPose(side, W, H, false), [0, 0.5, 0]) as P2;
		pointer.press([x, y], 0, false);
		pointer.drag([x, y - METRE], false);
		expect(done[1]?.[1]).toEqual([0, 1, 0]);
	});

	it('leaves alone what is locked, hidden or not in hand', () => {
		const locked = { ...crate, extras: { locked: true } };
		const one = stage([locked], { selection: ['crate'] });
		expect(one.pointer.press(one.at(0, 0), 0, false)).toBe('view');
		const two = stage([crate], { selection: ['crate'], hidden: ['crate'] });
		expect(two.pointer.press(two.at(0, 0), 0, false)).toBe('view');
		two.pointer.release();
		expect(two.done).toEqual([['pick', null, false]]);
		const three = stage([crate, far], { selection: ['crate'] });
		expect(three.pointer.press(three.at(3, 0), 0, false)).toBe('view');
		// With Shift what is in hand is let go, not carried.
		expect(three.pointer.press(three.at(0, 0), 0, true)).toBe('view');
	});

	it('says what it points at, but not while a button is down or a tool waits', () => {
		const { pointer, done, at } = stage([crate]);
		pointer.hover(at(0, 0), false);
		pointer.hover(at(0, 0), true);
		pointer.hover(at(-3, 0), false);
		expect(done).toEqual([
			['point', 'crate'],
			['point', null],
		]);
		const tool = stage([crate], { tool: { kind: 'shape', shape: 'box' } });
		tool.pointer.hover(tool.at(0, 0), false);
		expect(tool.done).toEqual([]);
	});
});

describe('a tool', () => {
	let s: ReturnType<typeof stage>;
	const finished = () =>
		s.done.find(([name]) => name === 'finish')?.[1] as
			| { from: { under: string | null }; now: { place: number[] } }
			| undefined;

	beforeEach(() => {
		s = stage([crate], { tool: { kind: 'query', query: 'ray' } });
	});

	it('takes both places from one stroke', () => {
		const [x, y] = s.at(0, 0);
		expect(s.pointer.press([x, y], 0, false)).toBe('stroke');
		s.pointer.hover(s.at(2, 1), true);
		s.pointer.lift(s.at(2, 1));
		expect(finished()?.from.under).toBe('crate');
		expect(finished()?.now.place[0]).toBeCloseTo(2, 9);
		// The stroke is over before what it says is done.
		expect(s.names().slice(-2)).toEqual(['show', 'finish']);
	});

	it('takes one from each of two clicks; six pixels are still a click', () => {
		const [x, y] = s.at(0, 0);
		s.pointer.press([x, y], 0, false);
		s.pointer.lift([x + 6, y]);
		expect(finished()).toBeUndefined();
		s.pointer.hover(s.at(2, 0), false);
		s.pointer.press(s.at(2, 0), 0, false);
		s.pointer.lift(s.at(2, 0));
		expect(finished()?.from.under).toBe('crate');
	});

	it('takes seven pixels for a stroke', () => {
		const [x, y] = s.at(0, 0);
		s.pointer.press([x, y], 0, false);
		s.pointer.lift([x + 6.1, y]);
		expect(finished()).toBeDefined();
	});

	it('needs one place only for a shape, and nothing of a stroke that was dropped', () => {
		s.now.tool = { kind: 'shape', shape: 'box' };
		s.pointer.press(s.at(2, 0), 0, false);
		s.pointer.dropStroke();
		s.pointer.lift(s.at(2, 0));
		expect(finished()).toBeUndefined();
		s.pointer.press(s.at(2, 0), 0, false);
		s.pointer.lift(s.at(2, 0));
		expect(finished()).toBeDefined();
	});

	it('leaves the view to Shift and to the middle button', () => {
		expect(s.pointer.press(s.at(2, 0), 0, true)).toBe('view');
		expect(s.pointer.press(s.at(2, 0), 1, false)).toBe('view');
	});
});

describe('keys on the stage', () => {
	it('move what is in hand by 10 cm, in a flat scene by 1 cm, ten times as far with Shift', () => {
		expect(
			['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'PageUp', 'PageDown'].map((key) =>
				moveOfKey(key, false, false),
			),
		).toEqual([
			[-0.1, 0, 0],
			[0.1, 0, 0],
			[0, 0, -0.1],
			[0, 0, 0.1],
			[0, 0.1, 0],
			[0, -0.1, 0],
		]);
		expect(['ArrowUp', 'ArrowDown', 'PageUp', 'PageDown'].map((key) => moveOfKey(key, true, true))).toEqual([
			[0, 0.1, 0],
			[0, -0.1, 0],
			[0, 0, 0.1],
			[0, 0, -0.1],
		]);
		expect(moveOfKey('a', false, false)).toBeNull();
	});

	it('shift the view against the arrow, and zoom', () => {
		expect(['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'].map(shiftOfKey)).toEqual([
			[30, 0],
			[-30, 0],
			[0, 30],
			[0, -30],
		]);
		expect([shiftOfKey('PageUp'), shiftOfKey('x')]).toEqual([null, null]);
		expect(['+', '=', '-', 'x'].map(zoomOfKey)).toEqual([0.85, 0.85, 1.18, null]);
	});
});
