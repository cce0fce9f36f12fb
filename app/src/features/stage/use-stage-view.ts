/** Where the stage looks at the scene from, and how stage and eye share the room. */
import type { Query, World } from '@frelk/core';
import { type RefObject, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { readLocal, writeLocal } from '../../data/local';
import {
	aroundEye,
	extentOfShapes,
	fitted,
	framing,
	type Pose,
	type Rect,
	viewOfPose,
	zoomedPose,
} from '../../drawing/view';
import { useBench, useBenchStore } from '../../model/use-bench';
import { useLatest } from '../../ui/use-latest';
import { useSize } from '../../ui/use-size';
import { isWithin } from '../edit/standing';
import { useTellPlace } from '../link/place';
import { eyePicture } from './eye/picture';
import { extentOfQuery } from './framing';
import type { QueryGeometry } from './overlay/geometry';
import { keepPose, lastPose } from './pose';
import type { Part } from './render/scene3d';

/** Room the eye takes while the stage has its own, by its size. */
const SIZES: Record<EyeSize, readonly [number, number]> = { small: [216, 150], usual: [296, 206], large: [420, 292] };

export type Corner = 'top left' | 'top right' | 'bottom left' | 'bottom right';
export type EyeSize = 'small' | 'usual' | 'large';
/** Where the eye lies and how large it is, as it was last put. */
export interface EyePlace {
	corner: Corner;
	size: EyeSize;
}

const EYE = 'frelk-eye';
const CORNERS: readonly Corner[] = ['bottom right', 'bottom left', 'top left', 'top right'];

function eyePlace(): EyePlace {
	const [corner, size] = (readLocal(EYE) ?? '').split(',');
	return {
		corner: CORNERS.find((c) => c === corner) ?? 'bottom right',
		size: size === 'small' || size === 'large' ? size : 'usual',
	};
}

/** Below the stage's bar. */
const TOP = 76;

export type StageView = ReturnType<typeof useStageView>;

export function useStageView(
	host: RefObject<HTMLElement | null>,
	world: World,
	query: Query | null,
	geometry: QueryGeometry | null,
	/** A camera the eye looks through, instead of the query's. */
	through: string | null,
	/** The side on which something else lies over the stage: the eye gives way. */
	covered: 'left' | 'right' | null,
) {
	const store = useBenchStore();
	const { key } = store.getState();
	const size = useSize(host);
	const { w, h } = size;
	const [pose, setPose] = useState<Pose>(() => lastPose(key) ?? framing(world));
	useTellPlace(store, () => {
		const { mode, ...rest } = pose;
		return mode === 'through' ? {} : { pose: { mode, ...rest } };
	});
	const [swapped, setSwapped] = useState(false);
	const [place, setPlace] = useState(eyePlace);
	const putEye = useCallback((next: EyePlace) => {
		writeLocal(EYE, `${next.corner},${next.size}`);
		setPlace(next);
	}, []);
	const small = SIZES[(w > 0 && w < 560) || (h > 0 && h < 400) ? 'small' : place.size];
	const picture = useMemo(
		() =>
			eyePicture(world, query, geometry, swapped ? [Math.max(100, w - 24), Math.max(100, h - 100)] : small, through),
		[world, query, geometry, swapped, w, h, small, through],
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
		if (large) return { x: 12, y: 70, w: pw, h: ph };
		const [up, wished] = place.corner.split(' ') as ['top' | 'bottom', 'left' | 'right'];
		const side = covered === wished ? (wished === 'left' ? 'right' : 'left') : wished;
		return { x: side === 'left' ? 13 : w - pw - 13, y: up === 'top' ? TOP : h - ph - 13, w: pw, h: ph };
	}, [pw, ph, w, h, large, place, covered]);
	const picks = query?.kind === 'pick';
	const parts: Part[] = useMemo(() => {
		const whole: Part = { view, rect: own, withStageOnly: true };
		if (!picture || !eye) return [whole];
		const through: Part = { view: picture.view, rect: eye, withStageOnly: large && picks };
		return large ? [through, whole] : [whole, through];
	}, [view, own, picture, eye, large, picks]);
	/** What names and handles keep out of: the eye with its title. */
	const eyeRoom: Rect | null = useMemo(
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
	const room = useCallback(
		() => ({
			w: Math.max(1, own.w),
			h: Math.max(1, own.h),
			...(pw > 0 && !large ? { free: Math.max(own.w / 2, own.w - pw - 20) } : {}),
		}),
		[own, pw, large],
	);
	const showAll = useCallback(
		() => setPose((p) => framing(store.getState().derived.world, { w: Math.max(1, own.w), h: Math.max(1, own.h) }, p)),
		[store, own],
	);
	const latest = useLatest({ geometry, room });
	const showQuery = useCallback(() => {
		const { derived } = store.getState();
		const extent = extentOfQuery(derived.world, latest.current.geometry, derived.current);
		if (extent) setPose((p) => fitted(p, extent, latest.current.room(), derived.world.flat));
		else showAll();
	}, [store, showAll, latest]);
	const frames = useBench((s) => s.frames);
	const frameSeen = useRef(frames);
	useEffect(() => {
		if (frameSeen.current === frames) return;
		frameSeen.current = frames;
		const { derived, selection } = store.getState();
		const ids = new Set(selection);
		const extent = extentOfShapes(derived.world, (s) => isWithin(s.object, ids));
		if (extent) setPose((p) => fitted(p, extent, latest.current.room(), derived.world.flat));
		else showQuery();
	}, [frames, store, latest, showQuery]);
	// Opened for the first time it shows what the open query is about, as soon as there is a room to show it in.
	const framed = useRef(lastPose(key) !== null);
	useLayoutEffect(() => {
		if (framed.current || w === 0) return;
		framed.current = true;
		showQuery();
	}, [w, showQuery]);
	const seen = useRef(pose);
	useEffect(() => {
		seen.current = pose;
		const timer = setTimeout(() => keepPose(key, pose), 300);
		return () => clearTimeout(timer);
	}, [key, pose]);
	useEffect(() => () => keepPose(key, seen.current), [key]);
	const swap = useCallback(() => setSwapped((is) => !is), []);
	return {
		size,
		pose,
		setPose,
		zoom,
		showAll,
		showQuery,
		place,
		putEye,
		view,
		own,
		picture,
		large,
		eye,
		parts,
		room: eyeRoom,
		clip,
		swap: picture ? swap : null,
	};
}
