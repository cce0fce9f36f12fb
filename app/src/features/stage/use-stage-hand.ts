/** Pointer and keys on the stage: what they ask for is done to the store. */
import type { Vec3 } from '@frelk/core';
import { type KeyboardEvent, type PointerEvent, type RefObject, useEffect, useMemo, useState } from 'react';
import { type P2, type Pose, type Rect, shiftedPose } from '../../drawing/view';
import type { BenchStore } from '../../model/bench-state';
import { nameOf } from '../../model/names';
import { useBenchStore } from '../../model/use-bench';
import { beginDrag } from '../../ui/drag';
import { useLatest } from '../../ui/use-latest';
import { addReadyMade, addShape, handWords } from '../edit/acts';
import { shiftCamera } from '../edit/cameras';
import { depthStep, topDepth } from '../edit/depth';
import { isLocked, shiftObject, topmost } from '../edit/objects';
import { READY_MADES } from '../edit/ready-mades';
import { usualSize } from '../edit/usual-size';
import { drawn, type Pending, sayTool } from './draw';
import { moveOfKey, shiftOfKey, zoomOfKey } from './keys';
import { pressAt, type StageNow, StagePointer } from './pointer';

/** Moves what is in hand, with what hangs on it; what is locked stays. */
function moveInHand(store: BenchStore, step: Vec3): void {
	const { project, selection, camera, derived, edit } = store.getState();
	if (selection.length === 0 && camera !== null) {
		const named = nameOf(project, 'camera', camera);
		edit(`Move ${named}`, (draft) => shiftCamera(draft, derived.world, camera, step));
		return;
	}
	const movable = topmost(derived.world, selection).filter((o) => !isLocked(o.def));
	if (movable.length === 0) return;
	// One step of depth is one that decides.
	const depth = derived.world.flat && step[2] !== 0 ? Math.max(Math.abs(step[2]), depthStep(project)) : 0;
	const by: Vec3 = depth === 0 ? step : [step[0], step[1], Math.sign(step[2]) * depth];
	edit(`Move ${handWords(project, selection)}`, (draft) => {
		for (const o of movable) shiftObject(draft, derived.world, o.id, by);
	});
}

/** Adds what a tool's stroke says. */
function finishTool(store: BenchStore, stroke: Pending): void {
	const { tool, project, picked, derived, edit, open, refuse, use } = store.getState();
	if (!tool || tool.kind === 'measure') return;
	const { flat } = derived.world;
	if (tool.kind === 'shape') {
		const made = drawn(stroke, flat, usualSize(tool.shape, flat));
		if (flat) made.at = [made.at[0], made.at[1], topDepth(project, derived.world)];
		addShape(store, tool.shape, made);
	} else if (tool.kind === 'ready-made') {
		const usual = READY_MADES.find((t) => t.id === tool.readyMade)?.usual;
		const made = drawn(stroke, flat, usual);
		if (flat) made.at = [made.at[0], made.at[1], topDepth(project, derived.world)];
		const from = stroke.from.place ?? made.at;
		addReadyMade(store, tool.readyMade, { ...made, from, to: stroke.now.place ?? from });
	} else {
		const said = sayTool(tool, stroke, derived.world, project, picked);
		if (typeof said === 'string') refuse(said);
		else {
			edit(said.label, said.edit);
			if (said.open !== null) {
				open(said.open);
				store.getState().markPart('Layers to choose from');
			}
		}
	}
	use(null);
}

/** Whether what is placed hangs on walls by its own rule. */
const hangs = (store: BenchStore): boolean => {
	const { tool } = store.getState();
	return tool?.kind === 'ready-made' && READY_MADES.some((t) => t.id === tool.readyMade && t.hangs === true);
};

interface Moving {
	setPose: (pose: Pose) => void;
	zoom: (factor: number) => void;
}

export function useStageHand(host: RefObject<HTMLElement | null>, own: Rect, now: StageNow, { setPose, zoom }: Moving) {
	const store = useBenchStore();
	const [stroke, show] = useState<Pending | null>(null);
	const latest = useLatest(now);
	const pointer = useMemo(
		() =>
			new StagePointer(() => latest.current, {
				setPose,
				pick: (object, also) => store.getState().pick(object, also),
				point: (object) => store.getState().point(object),
				beginMove: () => {
					const { beginGesture, project, selection } = store.getState();
					beginGesture(`Move ${handWords(project, selection)}`);
				},
				moveBy: (step) => moveInHand(store, step),
				endMove: () => store.getState().endGesture(),
				cancelMove: () => store.getState().cancelGesture(),
				show,
				finish: (done) => finishTool(store, done),
			}),
		[store, setPose, latest],
	);
	// A stroke belongs to the tool it was begun with.
	const { tool: inHand } = now;
	useEffect(() => {
		if (inHand !== null) return () => pointer.dropStroke();
	}, [inHand, pointer]);
	/** A place on the page in pixels of the stage's own rectangle. */
	const local = useMemo(
		() =>
			(event: { clientX: number; clientY: number }): P2 => {
				const box = host.current?.getBoundingClientRect();
				return [event.clientX - (box?.left ?? 0) - own.x, event.clientY - (box?.top ?? 0) - own.y];
			},
		[host, own],
	);
	/** By keyboard a tool acts in the middle of the stage. */
	const actInTheMiddle = () => {
		const { tool, picked } = store.getState();
		const middle = pressAt(now, [own.w / 2, own.h / 2]);
		const at = { ...middle, under: tool?.kind === 'query' ? picked : middle.under };
		const along = tool?.kind === 'query' ? { ...pressAt(now, [own.w / 2 + 60, own.h / 2]), under: null } : at;
		finishTool(store, { from: at, now: along, clicks: 2, enough: true });
	};
	const onKeyDown = (event: KeyboardEvent) => {
		if (event.ctrlKey || event.metaKey) return;
		const { tool, selection, camera } = store.getState();
		const step = moveOfKey(event.key, event.shiftKey, now.world.flat);
		const shift = shiftOfKey(event.key);
		const factor = zoomOfKey(event.key);
		if (step) {
			event.preventDefault();
			if (selection.length > 0 || camera !== null) moveInHand(store, step);
			else if (shift) setPose(shiftedPose(now, now.pose, ...shift));
		} else if (factor !== null) zoom(factor);
		else if (event.key === 'Escape' && stroke) {
			event.preventDefault();
			pointer.dropStroke();
		} else if (event.key === 'Enter' && tool) actInTheMiddle();
	};
	return {
		stroke,
		local,
		handlers: {
			onPointerDown: (event: PointerEvent<HTMLElement>) => {
				if (event.button > 1) return;
				event.currentTarget.focus({ preventScroll: true });
				if (pointer.press(local(event), event.button, event.shiftKey, event.altKey || hangs(store)) === 'stroke') {
					event.currentTarget.setPointerCapture(event.pointerId);
					return;
				}
				beginDrag(event, {
					move: (move) => pointer.drag(local(move), move.altKey),
					end: () => pointer.release(),
					cancel: () => pointer.cancel(),
				});
			},
			onPointerMove: (event: PointerEvent<HTMLElement>) => pointer.hover(local(event), event.buttons !== 0),
			onPointerUp: (event: PointerEvent<HTMLElement>) => pointer.lift(local(event)),
			onPointerCancel: () => pointer.dropStroke(),
			onPointerLeave: () => store.getState().point(null),
			onKeyDown,
		},
	};
}
