/** The floor map of the open query over the ground of the stage, with a rose to choose the heading. */
import type { Query, QueryMap, View, World } from '@frelk/core';
import { eulerOf } from '@frelk/core/geometry';
import { CELL } from '@frelk/core/maps';
import { useEffect, useMemo, useState } from 'react';
import type { Laid } from '../../drawing/laid';
import { type P3, toPixels } from '../../drawing/view';
import { nameOf } from '../../model/names';
import { useBench, useBenchStore } from '../../model/use-bench';
import { Button, Select } from '../../ui/controls';
import { useTheme } from '../../ui/theme';
import type { MapLook } from '../../workers/map';
import { goToCell, nearestCell } from './go-to-cell';
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
	const store = useBenchStore();
	const [heading, setHeading] = useState<number | null>(null);
	const [only, setOnly] = useState<string | null>(null);
	const asker = query.asker === undefined ? undefined : world.objectById.get(query.asker);
	const [ax, ay, az] = asker?.position ?? [0, 0, 0];
	// As seen from above: in space forward is up the picture at a yaw of 0.
	const [yaw, , roll] = asker ? eulerOf(asker.rotation) : [0, 0, 0];
	const own = world.flat ? roll : yaw + 90;
	// By the metre: the map stays where it is while the asker takes a step.
	const [mx, my, mz] = [Math.floor(ax), world.flat ? Math.floor(ay) : ay, Math.floor(az)];
	const map = useMemo(() => floorMapOf(project, query, [mx, my, mz]), [project, query, mx, my, mz]);
	const onlyAt = only === null ? -1 : project.scene.objects.findIndex((o) => o.id === only);
	const look = useMemo<MapLook>(
		() => ({ kind: 'ground', heading, dark, only: onlyAt < 0 ? null : onlyAt }),
		[heading, dark, onlyAt],
	);
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
	const percent = (share: number) => `${Number((100 * share).toFixed(share < 0.01 ? 2 : 0))} %`;
	const choices = (ground?.shares ?? [])
		.toSorted((a, b) => b.share - a.share)
		.flatMap(({ object, share }) => {
			const id = project.scene.objects[object]?.id;
			return id === undefined ? [] : [{ value: id, label: `${nameOf(project, 'object', id)}, ${percent(share)}` }];
		});
	const [u, v] = world.flat ? [ax, ay] : [ax, az];
	// What asks for room is put where it fits, whatever in its way is looked at.
	const wanted = ground && ground.fits !== null ? CELL.none : onlyAt;
	const near =
		ground && (only !== null || ground.fits !== null)
			? nearestCell(ground, wanted, (u - u0) / every, (v - v0) / every)
			: null;
	const mark = near && toPixels(view, at(near.x + 0.5, near.y + 0.5));
	return (
		<>
			<svg
				aria-hidden="true"
				className="pointer-events-none absolute inset-0 size-full"
				style={clip ? { clipPath: clip } : undefined}
			>
				<MapNames names={names} />
				{mark && (
					<g fill="none" strokeWidth="2">
						<circle cx={mark[0]} cy={mark[1]} r="9" stroke="var(--panel)" strokeWidth="5" />
						<circle cx={mark[0]} cy={mark[1]} r="9" stroke="var(--ink)" />
						<path
							d={`M${mark[0] - 14} ${mark[1]}h28M${mark[0]} ${mark[1] - 14}v28`}
							stroke="var(--ink)"
							strokeWidth="1"
						/>
					</g>
				)}
			</svg>
			<div
				className="absolute top-11 left-2 rounded-[3px] border bg-panel/95 px-2 py-1 text-[12px]"
				onPointerDown={(event) => event.stopPropagation()}
			>
				{(map?.headings ?? 1) > 1 && (
					<Rose headings={map?.headings ?? 1} heading={heading} choose={setHeading} own={own} />
				)}
				<p role="status" className="text-quiet">
					{trouble ??
						(!ground || ground.step > 1
							? 'Asking…'
							: ground.fits !== null
								? `Fits at ${percent(ground.fits)} of the places`
								: 'Where to stand')}
				</p>
				{choices.length > 0 && (
					<Select
						label={ground?.fits !== null ? 'In the way' : 'Reached from here'}
						value={only ?? ''}
						options={[
							{ value: '', label: ground?.fits !== null ? 'whatever is in the way' : 'every object' },
							...choices,
						]}
						onChange={(id) => setOnly(id === '' ? null : id)}
						className="mt-1 w-full max-w-44"
					/>
				)}
				{near && map && (
					<p className="mt-1">
						<Button
							disabled={asker?.parent != null}
							title={asker?.parent != null ? 'It hangs on another object' : undefined}
							onClick={() =>
								goToCell(
									store,
									{ id: 'live', ...map } as QueryMap,
									near.x,
									near.y,
									(map.headings ?? 1) > 1 ? (ground?.turns[near.y * ground.columns + near.x] ?? heading) : heading,
								)
							}
						>
							{ground?.fits !== null ? 'Put it at the nearest place' : 'Stand at the nearest place'}
						</Button>
					</p>
				)}
				{only !== null && !near && ground?.step === 1 && ground.fits === null && (
					<p className="mt-1 text-quiet">from nowhere here</p>
				)}
			</div>
		</>
	);
}
