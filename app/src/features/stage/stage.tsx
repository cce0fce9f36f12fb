/** The stage: the scene's real shapes with the query drawn on them; objects are picked, moved and drawn by hand. */
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Laid } from '../../drawing/laid';
import { aroundEye, type P2, type P3, pathOf } from '../../drawing/view';
import { verdictOn } from '../../model/derived';
import { namesOf } from '../../model/names';
import { useBench, useDerived, useQuery } from '../../model/use-bench';
import { Part } from '../../ui/part';
import { isHidden, isLocked } from '../edit/objects';
import { Drawing } from './draw';
import { Eye } from './eye/eye';
import { eyeHolderOf, hiddenFromEye } from './eye/hidden-from-eye';
import { cameraHandles } from './handles/camera-handles';
import { Grips } from './handles/grips';
import type { Handle } from './handles/handles';
import { objectHandles } from './handles/object-handles';
import { queryHandles } from './handles/query-handles';
import { AsItWas } from './overlay/as-it-was';
import { Cameras } from './overlay/cameras';
import { FlatGrid } from './overlay/flat-grid';
import { useQueryGeometry } from './overlay/geometry';
import { HandDrawing } from './overlay/hand-drawing';
import { Labels } from './overlay/labels';
import { QueryDrawing } from './overlay/query-drawing';
import { reasonOf, wordsBox } from './overlay/reason';
import { Measured, Ruler } from './overlay/ruler';
import { pressAt } from './pointer';
import { useRendering } from './render/use-rendering';
import { useMoveMeasure } from './timing';
import { StageTools } from './tools';
import { useStageHand } from './use-stage-hand';
import { useStageView } from './use-stage-view';

/** Loaded when the first object is taken in hand. */
const loadSlip = () => import('../slip/slip');
const loadCameraSlip = () => import('../slip/camera');
/** Loaded when a floor map is first looked at. */
const loadGround = () => import('../map/over-ground');
/** Only flat scenes have piles. */
const loadPile = () => import('./pile/pile');

/** What another view lays over the stage: a way with handles on it, and single lines. */
interface OverStage {
	points: readonly P3[];
	handles: readonly Handle[];
	lines?: readonly (readonly [P3, P3])[];
}

/** @param looksOnly nothing can be made or moved: another view shows what might be */
export function Stage({ over = null, looksOnly = false }: { over?: OverStage | null; looksOnly?: boolean }) {
	const derived = useDerived();
	const { world, built, current, touched } = derived;
	const query = useQuery();
	const picked = useBench((s) => s.picked);
	const selection = useBench((s) => s.selection);
	const pointed = useBench((s) => s.pointed);
	const tool = useBench((s) => s.tool);
	const inDetail = useBench((s) => s.inDetail);
	const swing = useBench((s) => s.swing);
	const docked = useBench((s) => s.dock !== null);
	const heldCamera = useBench((s) => s.camera);
	const through = useBench((s) => s.through);
	/** While something is drawn the slip is put away; one over the queries gives way to what is docked there. */
	const slipHere =
		useBench((s) => s.slipSide === 'ladder' || docked) && tool === null && (picked ?? heldCamera) !== null;
	const project = useBench((s) => s.project);
	const moment = useBench((s) => s.moment);
	const preview = useBench((s) => s.preview);
	const firm = useBench((s) => (s.firm !== null && s.firm.query === s.query ? s.firm.firmness : null));
	const names = useBench((s) => namesOf(s.project.scene.objects));
	const host = useRef<HTMLDivElement>(null);
	const canvas = useRef<HTMLCanvasElement>(null);
	const scene = useRef<HTMLDivElement>(null);
	// What was chosen to be drawn is drawn here: Enter does it by keyboard, Escape leaves it.
	useEffect(() => {
		if (tool) scene.current?.focus({ preventScroll: true });
	}, [tool]);
	const [snapping, setSnapping] = useState(true);
	const [spread, setSpread] = useState(1);
	const [mapped, setMapped] = useState(false);
	const [grounded, setGrounded] = useState(false);
	const [laid, setLaid] = useState<Laid | null>(null);

	const geometry = useQueryGeometry(world, query, current);
	const live = world.queryById.get(query?.id ?? '') ?? null;
	const stage = useStageView(host, world, live, geometry, through, slipHere ? 'right' : null);
	const { size, pose, view, own, picture, large, eye, room, clip } = stage;
	/** Depths of a flat scene pulled apart about the one lowest down, so that a pile can be seen between. */
	const depthOf = useCallback((z: number) => (world.flat ? z * spread : z), [world.flat, spread]);
	const hidden = useMemo(() => new Set(built.objects.filter((o) => isHidden(o.def)).map((o) => o.id)), [built]);
	const looking = picture ? eyeHolderOf(world, live, through) : undefined;
	const watchers = useMemo(() => hiddenFromEye(built.objects, looking), [built, looking]);
	const cutBy = geometry?.cutBy ?? null;
	const blockers = live?.sight?.blockers;
	const failed = useRendering(canvas, {
		size,
		parts: stage.parts,
		blockers,
		cutBy,
		hidden,
		lookers: watchers,
		depthOf,
		laid,
	});
	useMoveMeasure(derived.revision);
	const now = { world, tool, selection, snapping, hidden, depthOf, pose, view, height: Math.max(1, own.h) };
	const { stroke, local, handlers } = useStageHand(host, own, now, stage);

	const object = picked === null ? undefined : world.objectById.get(picked);
	const handles = useMemo(() => {
		if (tool) return [];
		const ofObject = object && selection.length === 1 && !isLocked(object.def) ? objectHandles(world, object) : [];
		const camera = heldCamera === null ? undefined : world.cameras.get(heldCamera);
		return [
			...(camera ? cameraHandles(world, camera) : []),
			...ofObject.filter((handle) => inDetail || handle.id !== 'focus'),
			...(geometry && live ? queryHandles(world, live, geometry.placement) : []),
			...(over?.handles ?? []),
		];
	}, [world, object, selection, geometry, live, tool, inDetail, heldCamera, over]);
	const verdict = pointed === null ? undefined : verdictOn(world, current, pointed);
	const reason = useMemo(
		() => (geometry && current && verdict ? reasonOf(world, geometry, current, verdict, touched) : null),
		[world, geometry, current, verdict, touched],
	);
	const name = useCallback((id: string) => names.get(id) ?? id, [names]);
	const said = useMemo(() => (reason ? wordsBox(reason, view) : null), [reason, view]);
	const clear = useMemo(() => handles.map((handle) => handle.at), [handles]);
	const inRoom = ([x, y]: P2) =>
		room !== null && x > room.x - 6 && y > room.y - 6 && x < room.x + room.w + 6 && y < room.y + room.h + 6;
	return (
		<section ref={host} aria-label="Stage" className="relative min-h-0 min-w-0 overflow-hidden">
			<canvas ref={canvas} className="absolute inset-0 size-full" aria-hidden="true" />
			{failed && (
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
					Click an object to take it in hand, Shift-click to take more; drag what is in hand to move it on the ground.
					Drag elsewhere to turn the view, Shift-drag to shift it, wheel to come nearer. Arrow keys move what is in
					hand, Page Up and Page Down raise and lower it. Alt while dragging leaves grid and faces out.
				</p>
				{grounded && live?.asker !== undefined && (
					<Part what="The map" load={loadGround} give={{ query: live, world, view, clip, lay: setLaid }} />
				)}
				<svg
					className="pointer-events-none absolute inset-0 size-full"
					aria-hidden="true"
					style={clip ? { clipPath: clip } : undefined}
				>
					{world.flat && <FlatGrid view={view} perPixel={(2 * pose.distance) / Math.max(1, own.h)} />}
					{geometry && (
						<QueryDrawing
							geometry={geometry}
							view={view}
							answer={current}
							world={world}
							reason={reason}
							firm={firm}
							swing={swing}
						/>
					)}
					{over && (
						<path
							d={pathOf(view, over.points)}
							fill="none"
							stroke="var(--ink)"
							strokeWidth="1.6"
							strokeDasharray="6 3"
						/>
					)}
					{over?.lines && (
						<path
							d={over.lines.map((line) => pathOf(view, line)).join('')}
							fill="none"
							stroke="var(--ink)"
							strokeWidth="0.8"
						/>
					)}
					{preview && <AsItWas project={project} moment={moment} preview={preview} world={world} view={view} />}
					<HandDrawing world={world} view={view} selection={selection} picked={picked} />
					<Labels
						view={view}
						cutBy={cutBy}
						pointed={pointed}
						picked={picked}
						hidden={hidden}
						name={name}
						room={room}
						clear={clear}
						said={said}
					/>
					{tool && stroke && <Drawing pending={stroke} tool={tool} view={view} flat={world.flat} />}
					{tool?.kind === 'measure' && <Measured stroke={stroke} view={view} flat={world.flat} />}
					{!large && <Ruler view={view} pose={pose} flat={world.flat} />}
				</svg>
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
			{preview && (
				<p
					role="status"
					className="pointer-events-none absolute top-11 left-2 max-w-[60%] rounded-[3px] border-2 border-ink bg-panel px-3 py-1"
				>
					As it would be: {preview.words}
				</p>
			)}
			{world.objects.length === 0 && !tool && !looksOnly && (
				<p className="pointer-events-none absolute inset-x-0 top-1/3 text-center text-quiet">
					This scene is empty. Choose Add, above, and draw the first object where it should stand.
				</p>
			)}
			<StageTools
				built={built}
				pose={pose}
				setPose={stage.setPose}
				showAll={stage.showAll}
				showQuery={stage.showQuery}
				snapping={snapping}
				setSnapping={setSnapping}
				spread={spread}
				setSpread={setSpread}
				swap={stage.swap}
				swapped={large}
				looksOnly={looksOnly}
				grounded={live?.asker === undefined ? null : grounded}
				setGrounded={setGrounded}
			/>
			{picture && eye && (
				<div
					data-keeps-wheel
					className="absolute border border-ink/60 shadow-sm"
					style={{ left: eye.x - 1, top: eye.y - 25, width: picture.w + 2 }}
				>
					<Eye
						picture={picture}
						world={world}
						query={live}
						answer={current}
						through={through}
						place={large ? null : stage.place}
						put={stage.putEye}
						mapped={mapped}
						setMapped={setMapped}
						mapClip={
							large
								? aroundEye(picture.w, picture.h, { x: own.x - eye.x, y: own.y - eye.y, w: own.w, h: own.h })
								: undefined
						}
					/>
				</div>
			)}
			{world.flat && live?.kind === 'pick' && !large && (
				<Part what="The pile" load={loadPile} give={{ world, query: live }} />
			)}
			{slipHere && object && <Part what="The slip" load={loadSlip} give={{ object, side: 'ladder' }} />}
			{slipHere && heldCamera !== null && (
				<Part what="The slip" load={loadCameraSlip} give={{ id: heldCamera, side: 'ladder' }} />
			)}
		</section>
	);
}
