/** The stage: the scene's real shapes with the query drawn on them; objects are picked, moved and drawn by hand. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Laid } from '../../drawing/laid';
import type { P2, P3 } from '../../drawing/view';
import { useBench, useDerived, useQuery } from '../../model/use-bench';
import { Part } from '../../ui/part';
import { isHidden } from '../edit/objects';
import { eyeHolderOf, hiddenFromEye } from './eye/hidden-from-eye';
import { Grips } from './handles/grips';
import type { Handle } from './handles/handles';
import { useHandles } from './handles/use-handles';
import { StageNotices } from './notices';
import { Cameras } from './overlay/cameras';
import { useQueryGeometry } from './overlay/geometry';
import { Overlay } from './overlay/overlay';
import { pressAt } from './pointer';
import { useRendering } from './render/use-rendering';
import { useMoveMeasure } from './timing';
import { StageTools } from './tools';
import { useStageHand } from './use-stage-hand';
import { useStageView } from './use-stage-view';
import { StageWindows, useSlipHere } from './windows';

/** Loaded when a floor map is first looked at. */
const loadGround = () => import('../map/over-ground');
/** Only where there is no WebGL. */
const loadFlatDrawing = () => import('./render/flat-drawing');

/** What another view lays over the stage: a way with handles on it, and single lines. */
interface OverStage {
	points: readonly P3[];
	handles: readonly Handle[];
	lines?: readonly (readonly [P3, P3])[];
}

/** @param looksOnly nothing can be made or moved: another view shows what might be */
export function Stage({ over = null, looksOnly = false }: { over?: OverStage | null; looksOnly?: boolean }) {
	const { world, built, current, revision } = useDerived();
	const query = useQuery();
	const selection = useBench((s) => s.selection);
	const tool = useBench((s) => s.tool);
	const through = useBench((s) => s.through);
	const host = useRef<HTMLDivElement>(null);
	const canvas = useRef<HTMLCanvasElement>(null);
	const scene = useRef<HTMLDivElement>(null);
	// What was chosen to be drawn is drawn here: Enter does it by keyboard, Escape leaves it.
	useEffect(() => {
		if (tool) scene.current?.focus({ preventScroll: true });
	}, [tool]);
	const [snapping, setSnapping] = useState(true);
	const [spread, setSpread] = useState(1);
	const [grounded, setGrounded] = useState(false);
	const [laid, setLaid] = useState<Laid | null>(null);

	const geometry = useQueryGeometry(world, query, current);
	const live = world.queryById.get(query?.id ?? '') ?? null;
	const stage = useStageView(host, world, live, geometry, through, useSlipHere() ? 'right' : null);
	const { size, pose, view, own, picture, large, room, clip } = stage;
	/** Depths of a flat scene pulled apart about the one lowest down, so that a pile can be seen between. */
	const depthOf = useCallback((z: number) => (world.flat ? z * spread : z), [world.flat, spread]);
	const hidden = useMemo(() => new Set(built.objects.filter((o) => isHidden(o.def)).map((o) => o.id)), [built]);
	const looking = picture ? eyeHolderOf(world, live, through) : undefined;
	const stageOnly = useMemo(() => hiddenFromEye(built.objects, looking), [built, looking]);
	const drawn = {
		parts: stage.parts,
		blockers: live?.sight?.blockers,
		cutBy: geometry?.cutBy ?? null,
		hidden,
		stageOnly,
		depthOf,
	};
	const { failed, coming } = useRendering(canvas, { ...drawn, size, laid });
	useMoveMeasure(revision);
	const now = { world, tool, selection, snapping, hidden, depthOf, pose, view, height: Math.max(1, own.h) };
	const { stroke, local, handlers } = useStageHand(host, own, now, stage);
	const handles = useHandles(geometry, over?.handles);
	const inRoom = ([x, y]: P2) =>
		room !== null && x > room.x - 6 && y > room.y - 6 && x < room.x + room.w + 6 && y < room.y + room.h + 6;
	return (
		<section ref={host} aria-label="Stage" className="relative min-h-0 min-w-0 overflow-hidden">
			<canvas ref={canvas} className="absolute inset-0 size-full" aria-hidden="true" />
			{coming && <p className="absolute inset-0 grid place-items-center text-quiet">drawing…</p>}
			{failed && world.flat && <Part what="The shapes" load={loadFlatDrawing} give={{ ...drawn, laid }} />}
			{failed && !world.flat && (
				<p className="absolute inset-0 grid place-items-center p-8 text-center">The shapes cannot be drawn: {failed}</p>
			)}
			<div
				ref={scene}
				role="application"
				aria-label="Scene"
				aria-describedby="stage-help"
				tabIndex={0}
				className={`absolute touch-none ${large ? 'border border-ink/60' : ''} ${tool ? 'cursor-crosshair' : ''}`}
				style={{ left: own.x, top: own.y, width: own.w, height: own.h }}
				{...handlers}
			>
				<p id="stage-help" className="sr-only">
					Keys: Control K takes an object in hand by its name. The arrow keys move what is in hand on the ground, Page
					Up and Page Down raise and lower it, with Shift by ten times as much. With nothing in hand the arrow keys
					shift the view; plus and minus come nearer and go away. Enter draws in the middle with the tool that was
					chosen, Escape leaves it. Control Z undoes. Tab goes on to the points of the query, which move by the arrow
					keys too. Mouse: click an object to take it in hand, Shift-click to take more; drag what is in hand to move
					it. Drag elsewhere to turn the view, Shift-drag to shift it, wheel to come nearer. Alt while dragging leaves
					grid and faces out.
				</p>
				{grounded && live?.asker !== undefined && (
					<Part what="The map" load={loadGround} give={{ query: live, world, view, clip, lay: setLaid }} />
				)}
				<Overlay {...{ stage, geometry, hidden, handles, stroke }} way={over?.points} lines={over?.lines} />
				<Cameras world={world} view={view} blocked={inRoom} clip={clip} />
				<Grips
					handles={handles}
					view={view}
					local={local}
					blocked={inRoom}
					isOver={(p) => pressAt(now, p).under !== null}
					clip={clip}
				/>
			</div>
			<StageNotices looksOnly={looksOnly} />
			<StageTools
				built={built}
				pose={pose}
				setPose={stage.setPose}
				showAll={stage.showAll}
				showQuery={stage.showQuery}
				swap={stage.swap}
				swapped={large}
				snapping={snapping}
				setSnapping={setSnapping}
				spread={spread}
				setSpread={setSpread}
				looksOnly={looksOnly}
				grounded={live?.asker === undefined ? null : grounded}
				setGrounded={setGrounded}
			/>
			<StageWindows stage={stage} live={live} />
		</section>
	);
}
