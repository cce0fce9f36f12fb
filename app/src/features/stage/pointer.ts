/**
 * What the pointer does on the stage, without a page around it: presses, moves and releases come in as pixels, and what they ask for goes
 * out through `StageActs`. One thing is held at a time: the view, what is in hand, or a stroke of a tool.
 */
import { rounded, shapeUnder, type Vec3, type World, type WorldObject } from '@frelk/core';
import { onPlane, type P2, type Pose, rayThrough, type StageView, shiftedPose, turnedPose } from '../../drawing/view';
import type { Tool } from '../../model/store';

import { extentOf, isLocked, snapStep } from '../edit/objects';
import { type Pending, type Press, startTool } from './draw';

/** The stage as it is at the moment something happens on it. */
export interface StageNow extends StageView {
	world: World;
	tool: Tool | null;
	selection: readonly string[];
	snapping: boolean;
	hidden: ReadonlySet<string>;
	/** Where a depth of a flat scene is drawn. */
	depthOf: (z: number) => number;
}

interface StageActs {
	setPose: (pose: Pose) => void;
	/** Takes an object in hand instead of what was, or with it. */
	pick: (object: string | null, also: boolean) => void;
	point: (object: string | null) => void;
	beginMove: () => void;
	/** Moves what is in hand, metres in the world. */
	moveBy: (step: Vec3) => void;
	endMove: () => void;
	cancelMove: () => void;
	/** A tool's stroke is under way, or no longer. */
	show: (stroke: Pending | null) => void;
	finish: (stroke: Pending) => void;
}

interface HeldView {
	kind: 'view';
	from: P2;
	pose: Pose;
	shifting: boolean;
	moved: boolean;
	under: string | null;
}

interface HeldObjects {
	kind: 'objects';
	grab: Vec3;
	/** The axis along which nothing moves. */
	axis: 1 | 2;
	height: number;
	done: Vec3;
	low: Vec3;
	high: Vec3;
	/** Faces to rest on, by axis. */
	faces: readonly (readonly number[])[];
}

/** Pixels within which a press that is let go is a click. */
const STILL = 4;
/** Pixels beyond which a tool's stroke says both of its places. */
const STROKE = 6;
/** Grid things rest on when moved by hand, metres. */
const gridOf = (flat: boolean): number => (flat ? 0.005 : 0.05);
/** Beyond so many objects faces are no longer looked for: there would always be one. */
const MOST_FACES = 500;

/** The object under a pixel, as the core finds it. */
function objectUnder({ view, world, hidden, depthOf }: StageNow, p: P2): string | null {
	const { start, dir } = rayThrough(view, p);
	return shapeUnder(world, start, dir, (s) => hidden.has(s.object.id), depthOf)?.object.id ?? null;
}

/** The axis that the plane on which things are put and moved stands on: up, or in side view and flat scenes toward the viewer. */
const axisOf = ({ world, pose }: StageNow): 1 | 2 => (world.flat || pose.mode === 'side' ? 2 : 1);

/** A pixel with where it lies in the scene: on the ground, or on the plane that faces the viewer. */
export const pressAt = (now: StageNow, p: P2, under = objectUnder(now, p)): Press => ({
	pixel: p,
	place: onPlane(now.view, p, axisOf(now), 0),
	under,
});

export class StagePointer {
	private held: HeldView | HeldObjects | null = null;
	private stroke: Pending | null = null;

	constructor(
		private readonly now: () => StageNow,
		private readonly acts: StageActs,
	) {}

	/** @returns what the press holds: a tool's stroke, the view or the objects in hand */
	press(p: P2, button: number, shift: boolean): 'stroke' | 'view' | 'objects' {
		const now = this.now();
		const under = objectUnder(now, p);
		if (now.tool && button === 0 && !shift) {
			this.stroke = startTool(now.tool, this.stroke, pressAt(now, p, under));
			this.acts.show(this.stroke);
			return 'stroke';
		}
		const shifting = button === 1 || shift;
		const object =
			!shifting && under !== null && now.selection.includes(under) ? now.world.objectById.get(under) : undefined;
		const objects = object && !isLocked(object.def) ? this.grab(now, object, p) : null;
		this.held = objects ?? { kind: 'view', from: p, pose: now.pose, shifting, moved: false, under };
		if (objects) this.acts.beginMove();
		return this.held.kind;
	}

	/** The pointer moves with nothing held but, it may be, a stroke of two clicks. */
	hover(p: P2, pressed: boolean): void {
		const now = this.now();
		if (now.tool) {
			if (!this.stroke) return;
			this.stroke = { ...this.stroke, now: pressAt(now, p) };
			this.acts.show(this.stroke);
		} else if (!pressed) this.acts.point(objectUnder(now, p));
	}

	/** What is held follows the pointer. @param fine whether grid and faces are left out */
	drag(p: P2, fine: boolean): void {
		const now = this.now();
		const { held } = this;
		if (held?.kind === 'objects') this.carry(now, held, p, fine);
		if (held?.kind !== 'view') return;
		const dx = p[0] - held.from[0];
		const dy = p[1] - held.from[1];
		if (!held.moved && Math.hypot(dx, dy) < STILL) return;
		held.moved = true;
		const turning = !held.shifting && now.pose.mode === 'free';
		this.acts.setPose(turning ? turnedPose(held.pose, dx, dy, now.world.flat) : shiftedPose(now, held.pose, dx, dy));
	}

	/** What is held is let go. */
	release(): void {
		const { held } = this;
		this.held = null;
		if (held?.kind === 'objects') this.acts.endMove();
		else if (held && !held.moved) this.acts.pick(held.under, held.shifting);
	}

	/** What is held comes to nothing. */
	cancel(): void {
		if (this.held?.kind === 'objects') this.acts.cancelMove();
		else if (this.held?.moved) this.acts.setPose(this.held.pose);
		this.held = null;
	}

	/** The pointer is let go over the stage: one stroke says both places, two clicks say one each; what needs one only is done at once. */
	lift(p: P2): void {
		const { stroke } = this;
		const now = this.now();
		if (!now.tool || !stroke) return;
		const moved = Math.hypot(p[0] - stroke.from.pixel[0], p[1] - stroke.from.pixel[1]) > STROKE;
		if (!moved && stroke.clicks < 2 && !stroke.enough) return;
		this.dropStroke();
		this.acts.finish({ ...stroke, now: pressAt(now, p) });
	}

	dropStroke(): void {
		this.stroke = null;
		this.acts.show(null);
	}

	private grab(now: StageNow, object: WorldObject, p: P2): HeldObjects | null {
		const { world, view, selection, depthOf } = now;
		// In plan and free view things slide on the ground they stand on; in side view up and down.
		const axis = axisOf(now);
		const height = depthOf(object.position[axis]);
		const grab = onPlane(view, p, axis, height);
		if (!grab) return null;
		const mine = new Set(selection);
		const axes = [0, 1, 2] as const;
		const extent = axes.map((k) => extentOf(world, object, k));
		const others =
			world.objects.length > MOST_FACES ? [] : world.objects.filter((o) => !mine.has(o.id) && o.shapes.length > 0);
		return {
			kind: 'objects',
			grab,
			axis,
			height,
			done: [0, 0, 0],
			low: extent.map((e) => e[0]) as Vec3,
			high: extent.map((e) => e[1]) as Vec3,
			faces: axes.map((k) => others.flatMap((o) => extentOf(world, o, k))),
		};
	}

	/** Moves what is in hand by what the pointer has moved since it was grabbed, resting on faces and grid. */
	private carry({ view, world, snapping, pose, height }: StageNow, held: HeldObjects, p: P2, fine: boolean): void {
		const place = onPlane(view, p, held.axis, held.height);
		if (!place) return;
		const perPixel = (2 * pose.distance) / height;
		const reach = Math.min(8 * perPixel, world.flat ? 0.02 : 0.15);
		const step = [0, 1, 2].map((k) => {
			if (k === held.axis) return 0;
			const want = place[k] - held.grab[k];
			const [low, high] = [held.low[k] + want, held.high[k] + want];
			const rest = fine || !snapping ? 0 : snapStep(low, high, held.faces[k] ?? [], gridOf(world.flat), reach);
			return rounded(want + rest - held.done[k]);
		}) as Vec3;
		if (step.every((v) => v === 0)) return;
		held.done = held.done.map((v, k) => v + step[k]) as Vec3;
		this.acts.moveBy(step);
	}
}
