/**
 * What the pointer does on the stage, without a page around it: presses, moves and releases come in as pixels, and what they ask for goes
 * out through `StageActs`. One thing is held at a time: the view, what is in hand, or a stroke of a tool.
 */
import {
	rounded,
	type Surface,
	surfaceUnder,
	tripleOf,
	type Vec3,
	type View,
	type World,
	type WorldObject,
} from '@frelk/core';
import {
	onPlane,
	type P2,
	type P3,
	type Pose,
	rayThrough,
	type StageView,
	shiftedPose,
	toPixels,
	turnedPose,
} from '../../drawing/view';
import type { Tool } from '../../model/bench-state';

import { extentOf, isLocked, snapStep } from '../edit/objects';
import { heightBelow, isLevel, isStanding, isWithin, LEVEL } from '../edit/standing';
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
	/** What is carried, with all that hangs on it. */
	mine: ReadonlySet<string>;
	/** The pixel of its foot less the one grabbed; null for what hangs in the air, or is moved in a picture: that keeps its height. */
	foot: P2 | null;
	done: Vec3;
	low: Vec3;
	high: Vec3;
	/** Faces to rest on, by axis. */
	faces: readonly (readonly number[])[];
}

const UP: Vec3 = [0, 1, 0];

/** Pixels within which a press that is let go is a click. */
const STILL = 4;
/** Pixels beyond which a tool's stroke says both of its places. */
const STROKE = 6;
/** Grid things rest on when moved by hand, metres. */
const gridOf = (flat: boolean): number => (flat ? 0.005 : 0.05);
/** Beyond so many objects faces are no longer looked for: there would always be one. */
const MAX_FACES = 500;

/** The surface under a pixel, as the core finds it. @param without these, and what hangs on them */
function surfaceAt({ view, world, hidden, depthOf }: StageNow, p: P2, without?: ReadonlySet<string>): Surface | null {
	const { start, dir } = rayThrough(view, p);
	const skip = (o: WorldObject) => hidden.has(o.id) || (without !== undefined && isWithin(o, without));
	return surfaceUnder(world, start, dir, (s) => skip(s.object), depthOf);
}

const objectUnder = (now: StageNow, p: P2): string | null => surfaceAt(now, p)?.shape.object.id ?? null;

/** The axis that the plane on which things are put and moved stands on: up, or in side view and flat scenes toward the viewer. */
const axisOf = ({ world, pose }: StageNow): 1 | 2 => (world.flat || pose.mode === 'side' ? 2 : 1);

/** Where the ray through a pixel meets the plane through a point, square to a normal. */
function onFace(view: View, p: P2, point: P3, normal: P3): Vec3 | null {
	const { start, dir } = rayThrough(view, p);
	const slope = dir[0] * normal[0] + dir[1] * normal[1] + dir[2] * normal[2];
	if (Math.abs(slope) < 1e-6) return null;
	const t =
		((point[0] - start[0]) * normal[0] + (point[1] - start[1]) * normal[1] + (point[2] - start[2]) * normal[2]) / slope;
	if (view.perspective && t < 0) return null;
	return [start[0] + t * dir[0], start[1] + t * dir[1], start[2] + t * dir[2]];
}

/**
 * A pixel with where it lies in the scene: on the face of what is there, else on the ground, or on the plane that faces the viewer.
 * @param hang whether a wall takes what is put there, instead of the ground before it
 */
export function pressAt(now: StageNow, p: P2, hang = false): Press {
	const { world, view } = now;
	const focus = now.tool?.kind === 'measure' ? focusNear(now, p) : null;
	if (focus) return { pixel: p, place: [...focus.focus], under: focus.id, face: null };
	const surface = surfaceAt(now, p);
	const under = surface?.shape.object.id ?? null;
	const axis = axisOf(now);
	if (world.flat || !surface || surface.shape.sensor)
		return { pixel: p, place: onPlane(view, p, axis, 0), under, face: null };
	const { point, normal } = surface;
	if (axis === 2 || isLevel(normal) || hang) return { pixel: p, place: point, under, face: { normal, hung: hang } };
	// Before a wall, on what is below there.
	const foot: P3 = [point[0] + 1e-3 * normal[0], point[1], point[2] + 1e-3 * normal[2]];
	const height = heightBelow(world, foot[0], foot[2], foot[1], (s) => now.hidden.has(s.object.id));
	return { pixel: p, place: [point[0], height, point[2]], under, face: { normal, hung: false } };
}

/** Pixels within which a focus is measured from, rather than what lies about it. */
const AT_FOCUS = 9;

function focusNear({ world, view, hidden }: StageNow, p: P2): WorldObject | null {
	let best = AT_FOCUS;
	let near: WorldObject | null = null;
	for (const object of world.objects) {
		const at = hidden.has(object.id) ? null : toPixels(view, object.focus);
		const d = at ? Math.hypot(at[0] - p[0], at[1] - p[1]) : Infinity;
		if (d < best) {
			best = d;
			near = object;
		}
	}
	return near;
}

/** The second place of a stroke that draws a shape: on the plane on which it began. */
function strokeAt(now: StageNow, p: P2, from: Press): Press {
	const { place, face } = from;
	const axis = axisOf(now);
	if (!place || now.world.flat) return { pixel: p, place: onPlane(now.view, p, axis, 0), under: null, face: null };
	const hung = face?.hung && !isLevel(face.normal) ? onFace(now.view, p, place, face.normal) : null;
	return { pixel: p, place: hung ?? onPlane(now.view, p, axis, place[axis]), under: null, face };
}

const drawsShape = (tool: Tool): boolean => tool.kind === 'shape' || tool.kind === 'ready-made';

export class StagePointer {
	private held: HeldView | HeldObjects | null = null;
	private stroke: Pending | null = null;
	private measured = false;

	constructor(
		private readonly now: () => StageNow,
		private readonly acts: StageActs,
	) {}

	/** @returns what the press holds: a tool's stroke, the view or the objects in hand */
	press(p: P2, button: number, shift: boolean, hang = false): 'stroke' | 'view' | 'objects' {
		const now = this.now();
		if (now.tool && button === 0 && !shift) {
			// What was measured stands until the next press.
			if (this.measured) this.stroke = null;
			this.measured = false;
			this.stroke = startTool(now.tool, this.stroke, this.second(now, p) ?? pressAt(now, p, hang));
			this.acts.show(this.stroke);
			return 'stroke';
		}
		const under = objectUnder(now, p);
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
			if (!this.stroke || this.measured) return;
			this.stroke = { ...this.stroke, now: this.second(now, p) ?? pressAt(now, p) };
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
		if (now.tool.kind === 'measure') {
			this.measured = true;
			return;
		}
		this.dropStroke();
		this.acts.finish({ ...stroke, now: drawsShape(now.tool) ? strokeAt(now, p, stroke.from) : pressAt(now, p) });
	}

	/** The second place of a shape that is being drawn; null while there is none. */
	private second(now: StageNow, p: P2): Press | null {
		return this.stroke && now.tool && drawsShape(now.tool) ? strokeAt(now, p, this.stroke.from) : null;
	}

	dropStroke(): void {
		this.stroke = null;
		this.measured = false;
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
		const low = tripleOf((k) => extentOf(world, object, k)[0]);
		const high = tripleOf((k) => extentOf(world, object, k)[1]);
		const foot = toPixels(view, [(low[0] + high[0]) / 2, low[1], (low[2] + high[2]) / 2]);
		const below = foot && surfaceAt(now, foot, mine);
		// One whose foot is hidden from here would jump to what hides it.
		const isSeen = !below || Math.abs(below.point[1] - low[1]) < 0.1;
		const stands = axis === 1 && object.shapes.length > 0 && isSeen && isStanding(world, object);
		const others =
			world.objects.length > MAX_FACES ? [] : world.objects.filter((o) => !mine.has(o.id) && o.shapes.length > 0);
		return {
			kind: 'objects',
			grab,
			axis,
			height,
			mine,
			foot: foot && stands ? [foot[0] - p[0], foot[1] - p[1]] : null,
			done: [0, 0, 0],
			low,
			high,
			faces: ([0, 1, 2] as const).map((k) => others.flatMap((o) => extentOf(world, o, k))),
		};
	}

	/** Moves what is in hand by what the pointer has moved since it was grabbed, resting on faces and grid. */
	private carry(now: StageNow, held: HeldObjects, p: P2, fine: boolean): void {
		const { view, world, snapping, pose, height } = now;
		const want = (held.foot && this.standing(now, held, p, held.foot, fine)) ?? this.sliding(view, held, p);
		if (!want) return;
		const perPixel = (2 * pose.distance) / height;
		const reach = Math.min(8 * perPixel, world.flat ? 0.02 : 0.15);
		const step = tripleOf((k) => {
			const to = want[k];
			if (to === null) return 0;
			const [low, high] = [held.low[k] + to, held.high[k] + to];
			// What a surface says is exact.
			const free = fine || !snapping || (held.foot !== null && k === 1);
			const rest = free ? 0 : snapStep(low, high, held.faces[k] ?? [], gridOf(world.flat), reach);
			return rounded(to + rest - held.done[k]);
		});
		if (step.every((v) => v === 0)) return;
		const { done } = held;
		held.done = tripleOf((k) => done[k] + step[k]);
		this.acts.moveBy(step);
	}

	/** On the plane at the height at which it was grabbed. @returns how far it is moved by then, by axis; null along the axis that stays */
	private sliding(view: View, held: HeldObjects, p: P2): (number | null)[] | null {
		const place = onPlane(view, p, held.axis, held.height);
		return place && [0, 1, 2].map((k) => (k === held.axis ? null : place[k] - held.grab[k]));
	}

	/** Its foot on the face under it: on floors and tops; before walls, or with Alt held against them where the pointer is. */
	private standing(now: StageNow, held: HeldObjects, p: P2, foot: P2, hang: boolean): number[] | null {
		const pixel: P2 = [p[0] + foot[0], p[1] + foot[1]];
		const surface = surfaceAt(now, pixel, held.mine);
		if (surface?.shape.sensor) return null;
		const { low, high } = held;
		// Beside everything there is the ground.
		const point = surface ? surface.point : onPlane(now.view, pixel, 1, 0);
		if (!point) return null;
		const normal = surface?.normal ?? UP;
		const to = [...point];
		if (!isLevel(normal)) {
			if (normal[1] < -LEVEL) return null;
			const half = [(high[0] - low[0]) / 2, 0, (high[2] - low[2]) / 2];
			// Its box before the wall, whichever way that leans.
			const out = Math.abs(normal[0]) * half[0] + Math.abs(normal[2]) * half[2];
			to[0] += normal[0] * out;
			to[2] += normal[2] * out;
			if (!hang)
				to[1] = heightBelow(
					now.world,
					to[0],
					to[2],
					point[1] + 1e-3,
					(s) => now.hidden.has(s.object.id) || isWithin(s.object, held.mine),
				);
		}
		return [to[0] - (low[0] + high[0]) / 2, to[1] - low[1], to[2] - (low[2] + high[2]) / 2];
	}
}
