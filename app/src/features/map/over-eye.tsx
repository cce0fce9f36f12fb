/** The map of the open query over the eye: which place of the picture, or which direction, selects what. */
import type { Query, View, World } from '@frelk/core';
import { useEffect, useMemo, useRef } from 'react';
import { pictureKey } from '../../drawing/view';
import { useBench } from '../../model/use-bench';
import { useTheme } from '../../ui/theme';
import { useHeld } from '../../ui/use-held';
import type { MapLook } from '../../workers/map';
import { aimMapOf, cursorMapOf } from './kinds';
import { MapNames } from './map-names';
import { useLiveMap } from './use-live-map';

export default function OverEye({
	query,
	world,
	view,
	w,
	h,
	clip,
}: {
	query: Query;
	world: World;
	view: View;
	/** Size on the page, CSS pixels. */
	w: number;
	h: number;
	clip: string | undefined;
}) {
	const project = useBench((s) => s.project);
	const dark = useTheme() === 'dark';
	const canvas = useRef<HTMLCanvasElement>(null);
	const of = query.kind === 'ray' || query.kind === 'sweep' ? query.aim?.of : undefined;
	const holder =
		of === undefined ? null : (world.objectById.get(of)?.rotation ?? world.cameras.get(of)?.rotation ?? null);
	const [width, height] = [Math.round(w), Math.round(h)];
	// Both are made anew with every answer; only where they look matters.
	const eye = useHeld(view, pictureKey(view));
	const turned = useHeld(holder, holder ? holder.join() : '');
	const seen = useMemo(
		() => (query.kind === 'pick' ? null : { rotation: eye.camera.rotation, half: eye.half, holder: turned }),
		[eye, turned, query.kind],
	);
	const look = useMemo<MapLook>(
		() => ({ kind: 'picture', width, height, dark, view: seen }),
		[width, height, dark, seen],
	);
	const map = useMemo(
		() => cursorMapOf(project, query) ?? aimMapOf(project, query, eye, turned),
		[project, query, eye, turned],
	);
	const { shown, trouble } = useLiveMap(map, look);
	useEffect(() => {
		if (shown?.kind !== 'picture' || !canvas.current) return;
		canvas.current.width = shown.width;
		canvas.current.height = shown.height;
		canvas.current.getContext('2d')?.putImageData(new ImageData(shown.pixels, shown.width, shown.height), 0, 0);
	}, [shown]);
	const names = shown?.names ?? [];
	return (
		<>
			<canvas
				ref={canvas}
				aria-hidden="true"
				className="pointer-events-none absolute inset-0 size-full"
				style={{ clipPath: clip }}
			/>
			<svg
				aria-hidden="true"
				width={w}
				height={h}
				className="pointer-events-none absolute inset-0"
				style={{ clipPath: clip }}
			>
				<MapNames names={names} />
			</svg>
			<p role="status" className="sr-only">
				{trouble ??
					(shown
						? `Map: ${names.map((n) => n.text).join(', ') || 'nothing large enough for a name'}`
						: 'Asking the map…')}
			</p>
			{trouble && <p className="absolute inset-x-2 top-2 bg-panel px-2 text-cut">{trouble}</p>}
		</>
	);
}
