/** The floor map of the open query over the ground of the stage, with a rose to choose the heading. */
import type { Query, View, World } from '@frelk/core';
import { eulerOf } from '@frelk/core/geometry';
import { useEffect, useMemo, useState } from 'react';
import type { Laid } from '../../drawing/laid';
import { type P3, toPixels } from '../../drawing/view';
import { useBench } from '../../model/use-bench';
import { useTheme } from '../../ui/theme';
import type { MapLook } from '../../workers/map';
import { floorMapOf } from './kinds';
import { MapNames } from './map-names';
import { Rose } from './rose';
import { useLiveMap } from './use-live-map';

/** How far above the ground it lies, metres: in it, it would flicker. */
const ABOVE = 0.012;

export default function OverGround({
	query,
	world,
	view,
	clip,
	lay,
}: {
	query: Query;
	world: World;
	view: View;
	/** What of the stage is not covered, as a clip path. */
	clip: string | undefined;
	/** Has the picture lie in the scene. */
	lay: (laid: Laid | null) => void;
}) {
	const dark = useTheme() === 'dark';
	const project = useBench((s) => s.project);
	const [heading, setHeading] = useState<number | null>(null);
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	const [ax, ay, az] = asker?.position ?? [0, 0, 0];
	// As seen from above: in space forward is up the picture at a yaw of 0.
	const [yaw, , roll] = asker ? eulerOf(asker.rotation) : [0, 0, 0];
	const own = world.flat ? roll : yaw + 90;
	// By the metre: the map stays where it is while the asker takes a step.
	const [mx, my, mz] = [Math.floor(ax), world.flat ? Math.floor(ay) : ay, Math.floor(az)];
	const map = useMemo(() => floorMapOf(project, query, [mx, my, mz]), [project, query, mx, my, mz]);
	const look = useMemo<MapLook>(() => ({ kind: 'ground', heading, dark }), [heading, dark]);
	const { shown, trouble } = useLiveMap(map, look);
	const ground = shown?.kind === 'ground' ? shown : null;
	const every = map?.every ?? 1;
	const [u0, v0] = map?.area?.min ?? [0, 0];
	const y = (map?.y ?? ay) + ABOVE;
	const at = (i: number, j: number): P3 => {
		const [u, v] = [u0 + (i - 0.5) * every, v0 + (j - 0.5) * every];
		return world.flat ? [u, v, 0] : [u, y, v];
	};
	useEffect(() => {
		if (!ground) return;
		const [uTo, vTo] = [u0 + (ground.columns - 0.5) * every, v0 + (ground.rows - 0.5) * every];
		const from: [number, number] = [u0 - every / 2, v0 - every / 2];
		lay({ pixels: ground.pixels, width: ground.width, height: ground.height, from, to: [uTo, vTo], at: y });
	}, [ground, u0, v0, every, y, lay]);
	useEffect(() => () => lay(null), [lay]);
	const names = (ground?.names ?? []).flatMap((n) => {
		const p = toPixels(view, at(n.x, n.y));
		return p ? [{ x: p[0], y: p[1], text: n.text }] : [];
	});
	return (
		<>
			<svg
				aria-hidden="true"
				className="pointer-events-none absolute inset-0 size-full"
				style={clip ? { clipPath: clip } : undefined}
			>
				<MapNames names={names} />
			</svg>
			<div
				className="absolute top-11 right-2 rounded-[3px] border bg-panel/95 px-2 py-1 text-[12px]"
				onPointerDown={(event) => event.stopPropagation()}
			>
				<Rose headings={map?.headings ?? 1} heading={heading} choose={setHeading} own={own} />
				<p role="status" className="text-quiet">
					{trouble ?? (ground ? (ground.step > 1 ? 'Asking…' : 'Where to stand') : 'Asking…')}
				</p>
			</div>
		</>
	);
}
