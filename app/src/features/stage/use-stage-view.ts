/** Where the stage looks at the scene from, and how stage and eye share the room. */
import type { Query, World } from '@frelk/core';
import { type RefObject, useCallback, useEffect, useLayoutEffect, useMemo, useState } from 'react';
import { aroundEye, framing, type Pose, type Rect, viewOfPose, zoomedPose } from '../../drawing/view';
import { useBenchStore } from '../../model/use-bench';
import { eyePicture } from './eye/picture';
import type { QueryGeometry } from './overlay/geometry';
import type { Part } from './render/scene3d';

function useSize(ref: RefObject<HTMLElement | null>): { w: number; h: number } {
	const [size, setSize] = useState({ w: 0, h: 0 });
	useLayoutEffect(() => {
		const element = ref.current;
		if (!element) return;
		const measure = () => setSize({ w: element.clientWidth, h: element.clientHeight });
		const observer = new ResizeObserver(measure);
		observer.observe(element);
		measure();
		return () => observer.disconnect();
	}, [ref]);
	return size;
}

/** Room the eye takes while the stage has its own. */
const SMALL: readonly [number, number] = [296, 206];

export function useStageView(
	host: RefObject<HTMLElement | null>,
	world: World,
	query: Query | null,
	geometry: QueryGeometry | null,
) {
	const store = useBenchStore();
	const size = useSize(host);
	const { w, h } = size;
	const [pose, setPose] = useState<Pose>(() => framing(world));
	const [swapped, setSwapped] = useState(false);
	const picture = useMemo(
		() => eyePicture(world, query, geometry, swapped ? [Math.max(100, w - 24), Math.max(100, h - 100)] : SMALL),
		[world, query, geometry, swapped, w, h],
	);
	/** Whether the eye has the room, and the stage a corner of it. */
	const large = swapped && picture !== null;
	const own: Rect = useMemo(
		() => (large ? { x: w - 282, y: h - 182, w: 270, h: 170 } : { x: 0, y: 0, w, h }),
		[large, w, h],
	);
	const view = useMemo(
		() => viewOfPose(pose, Math.max(1, own.w), Math.max(1, own.h), world.flat),
		[pose, own, world.flat],
	);
	const pw = picture?.w ?? 0;
	const ph = picture?.h ?? 0;
	const eye: Rect | null = useMemo(() => {
		if (pw === 0 || w === 0) return null;
		return large ? { x: 12, y: 70, w: pw, h: ph } : { x: w - pw - 13, y: h - ph - 13, w: pw, h: ph };
	}, [pw, ph, w, h, large]);
	const picks = query?.kind === 'pick';
	const parts: Part[] = useMemo(() => {
		const whole: Part = { view, rect: own, withLookers: true };
		if (!picture || !eye) return [whole];
		const through: Part = { view: picture.view, rect: eye, withLookers: large && picks };
		return large ? [through, whole] : [whole, through];
	}, [view, own, picture, eye, large, picks]);
	/** What names and handles keep out of: the eye with its title. */
	const room: Rect | null = useMemo(
		() => (eye && !large ? { ...eye, y: eye.y - 26, h: eye.h + 26 } : null),
		[eye, large],
	);
	const clip = eye && !large ? aroundEye(w, h, eye) : undefined;

	const zoom = useCallback((factor: number) => setPose((p) => zoomedPose(p, factor)), []);
	useEffect(() => {
		const element = host.current;
		if (!element) return;
		// React listens passively to wheels; zooming has to keep the page still.
		const onWheel = (event: WheelEvent) => {
			if ((event.target as Element).closest('[data-keeps-wheel]')) return;
			event.preventDefault();
			zoom(Math.exp(event.deltaY * 0.0012));
		};
		element.addEventListener('wheel', onWheel, { passive: false });
		return () => element.removeEventListener('wheel', onWheel);
	}, [host, zoom]);
	const showAll = useCallback(
		() => setPose((p) => ({ ...framing(store.getState().derived.world), mode: p.mode })),
		[store],
	);
	const swap = useCallback(() => setSwapped((is) => !is), []);
	return {
		size,
		pose,
		setPose,
		zoom,
		showAll,
		view,
		own,
		picture,
		large,
		eye,
		parts,
		room,
		clip,
		swap: picture ? swap : null,
	};
}
