/** The stage: the scene's real shapes with the query drawn on them; objects are picked, moved and drawn by hand. */
import { shapeUnder, type Vec3, type WorldObject } from '@frelk/core';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { round } from '../../ui/controls';
import { beginDrag } from '../../ui/drag';
import { Part } from '../../ui/part';
import { useTheme } from '../../ui/theme';
import { verdictOn } from '../bench/answers';
import { nameOf, useAnswers, useBench, useBenchStore, useQuery } from '../bench/store';
import { addShape, handWords } from '../commands/commands';
import { extentOf, isHidden, isLocked, shiftObject, snapStep, topmost } from '../edit/objects';
import { Drawing, drawn, type Pending, sayTool, startTool } from './draw';
import { blockingIn, emphasesOf } from './emphasis';
import { Eye, eyePicture } from './eye';
import { Grips } from './grips';
import { tintOf } from './hues';
import { Labels } from './labels';
import { lookerOf, lookers } from './lookers';
import { objectHandles } from './object-handles';
import { HandDrawing, QueryDrawing, useQueryGeometry } from './query-drawing';
import { queryHandles } from './query-handles';
import { reasonOf } from './reason';
import { type Palette, Scene3D } from './scene3d';
import { endMove, measured } from './timing';
import { StageTools } from './tools';
import { framing, onPlane, type P2, type Pose, rayThrough, toPixels, viewOfPose } from './view';

function palette(dark: boolean): Palette {
	const style = getComputedStyle(document.documentElement);
	const of = (name: string) => style.getPropertyValue(`--${name}`).trim();
	return {
		ground: of('ground'),
		ink: of('ink'),
		line: of('line'),
		dark,
		tones: { chosen: of('chosen'), tie: of('tie'), cut: of('cut'), outranked: of('outranked'), short: of('short') },
	};
}

function useSize(ref: React.RefObject<HTMLElement | null>): { w: number; h: number } {
	const [size, setSize] = useState({ w: 0, h: 0 });
	useLayoutEffect(() => {
		const element = ref.current;
		if (!element) return;
		const observer = new ResizeObserver(() => setSize({ w: element.clientWidth, h: element.clientHeight }));
		observer.observe(element);
		setSize({ w: element.clientWidth, h: element.clientHeight });
		return () => observer.disconnect();
	}, [ref]);
	return size;
}

type Drag =
	| { kind: 'turn'; from: P2; pose: Pose; moved: boolean; under: string | null }
	| { kind: 'shift'; from: P2; pose: Pose; moved: boolean; under: string | null }
	| {
			kind: 'objects';
			grabbed: WorldObject;
			grab: Vec3;
			axis: 1 | 2;
			height: number;
			done: Vec3;
			low: Vec3;
			high: Vec3;
			faces: [number[], number[], number[]];
	  };

/** Loaded when the first object is taken in hand. */
const slip = () => import('../slip/slip');
/** Only flat scenes have piles. */
const pile = () => import('./pile');

/** Grid things rest on when moved by hand, metres. */
const gridOf = (flat: boolean): number => (flat ? 0.005 : 0.05);

export function Stage() {
	const store = useBenchStore();
	const answers = useAnswers();
	const { world, current } = answers;
	const query = useQuery();
	const picked = useBench((s) => s.picked);
	const selection = useBench((s) => s.selection);
	const pointed = useBench((s) => s.pointed);
	const tint = useBench((s) => s.tint);
	const tool = useBench((s) => s.tool);
	const inDetail = useBench((s) => s.inDetail);
	const docked = useBench((s) => s.panel === 'roster' || s.panel === 'moments');
	const firm = useBench((s) => (s.firm !== null && s.firm.query === s.query ? s.firm.firmness : null));
	const projectNow = useBench((s) => s.project);
	const theme = useTheme();
	const host = useRef<HTMLDivElement>(null);
	const canvas = useRef<HTMLCanvasElement>(null);
	const scene = useRef<Scene3D | null>(null);
	const [failed, setFailed] = useState<string | null>(null);
	const { w, h } = useSize(host);
	const key = useBench((s) => s.key);
	// biome-ignore lint/correctness/useExhaustiveDependencies: framed once for each project that is opened
	const first = useMemo(() => framing(world), [key]);
	const [pose, setPose] = useState<Pose>(first);
	useEffect(() => setPose(first), [first]);
	const [snapping, setSnapping] = useState(true);
	const [spread, setSpread] = useState(1);
	const [swapped, setSwapped] = useState(false);
	const drag = useRef<Drag | null>(null);
	const [pending, setPending] = useState<Pending | null>(null);

	const geometry = useQueryGeometry(world, query, current);
	if (geometry) geometry.touched = answers.touched;
	const live = world.queryById.get(query?.id ?? '') ?? null;
	const picture = useMemo(
		() => eyePicture(world, live, geometry, swapped ? [Math.max(100, w - 24), Math.max(100, h - 100)] : [296, 206]),
		[world, live, geometry, swapped, w, h],
	);
	const large = swapped && picture !== null;
	/** Where the stage's own view is drawn: all of it, or a corner while the eye has the room. */
	const own = useMemo(() => (large ? { x: w - 282, y: h - 182, w: 270, h: 170 } : { x: 0, y: 0, w, h }), [large, w, h]);
	const view = useMemo(() => viewOfPose(pose, Math.max(1, own.w), Math.max(1, own.h), world.flat), [pose, own, world.flat]);
	const pw = picture?.w ?? 0;
	const ph = picture?.h ?? 0;
	const eyeRect = useMemo(() => {
		if (pw === 0 || w === 0) return null;
		return large ? { x: 12, y: 70, w: pw, h: ph } : { x: w - pw - 13, y: h - ph - 13, w: pw, h: ph };
	}, [pw, ph, w, h, large]);

	const pointedVerdict = pointed === null ? undefined : verdictOn(world, current, pointed);
	const { objects } = world;
	const blockers = live?.sight?.blockers;
	// biome-ignore lint/correctness/useExhaustiveDependencies: a world seen with other queries has the same objects and layers
	const blocking = useMemo(() => blockingIn(world, blockers), [objects, blockers]);
	const cutBy = geometry?.cutBy ?? null;
	/** Depths of a flat scene pulled apart about the one lowest down, so that a pile can be seen between. */
	const depthOf = useCallback((z: number) => (world.flat ? z * spread : z), [world.flat, spread]);
	// Objects are changed in place where they only move: whether one is hidden is then as it was.
	const hidden = useMemo(() => new Set(objects.filter((o) => isHidden(o.def)).map((o) => o.id)), [objects]);
	const looking = picture && live ? lookerOf(world, live) : undefined;
	const watchers = useMemo(() => lookers(objects, looking), [objects, looking]);

	useEffect(() => {
		if (!canvas.current) return;
		try {
			scene.current = new Scene3D(canvas.current);
		} catch (error) {
			setFailed(error instanceof Error ? error.message : String(error));
		}
		return () => {
			scene.current?.dispose();
			scene.current = null;
		};
	}, []);

	// biome-ignore lint/correctness/useExhaustiveDependencies: a world seen with other queries has the same objects
	const tints = useMemo(() => objects.map((o) => tintOf(world, o, tint, theme === 'dark')), [objects, tint, theme]);
	const colours = useMemo(() => (typeof document === 'undefined' ? null : palette(theme === 'dark')), [theme]);
	useEffect(() => {
		scene.current?.resize(Math.max(1, w), Math.max(1, h));
	}, [w, h]);
	useEffect(() => {
		const stage = scene.current;
		if (!stage || w === 0 || h === 0 || !colours) return;
		const begun = performance.now();
		stage.update(world, colours, emphasesOf(world, current, { cutBy, pointed, blocking, tint }), tints, hidden, watchers, depthOf, answers.turn);
		const whole = { view, rect: own, withLookers: true };
		const eye = picture && eyeRect ? { view: picture.view, rect: eyeRect, withLookers: large && live?.kind === 'pick' } : null;
		stage.draw(eye ? (large ? [eye, whole] : [whole, eye]) : [whole], h);
		measured('frelk-draw', begun);
	}, [world, answers.turn, view, own, w, h, colours, current, cutBy, pointed, blocking, tint, picture, eyeRect, live, tints, hidden, watchers, depthOf, large]);

	// From the hand's move to the changed page, drawing aside: what `npm run bench:ui` reads.
	// biome-ignore lint/correctness/useExhaustiveDependencies: once for each new set of answers
	useLayoutEffect(endMove, [answers]);

	const local = useCallback(
		(event: { clientX: number; clientY: number }): P2 => {
			const box = host.current?.getBoundingClientRect();
			return [event.clientX - (box?.left ?? 0) - own.x, event.clientY - (box?.top ?? 0) - own.y];
		},
		[own],
	);
	const under = (p: P2): string | null => {
		const { start, dir } = rayThrough(view, p);
		return shapeUnder(world, start, dir, (s) => hidden.has(s.object.id), depthOf)?.object.id ?? null;
	};
	/** Where a pixel of the stage lies in the scene: on the ground, or on the plane that faces the viewer. */
	const placeAt = (p: P2): Vec3 | null => onPlane(view, p, world.flat || pose.mode === 'side' ? 2 : 1, 0);

	const onPointerDown = (event: React.PointerEvent<HTMLElement>) => {
		if (event.button > 1) return;
		const p = local(event);
		event.currentTarget.focus({ preventScroll: true });
		const hit = under(p);
		if (tool && event.button === 0 && !event.shiftKey) {
			event.currentTarget.setPointerCapture(event.pointerId);
			setPending((before) => startTool(tool, before, { pixel: p, place: placeAt(p), under: hit }));
			return;
		}
		const hold = (what: Drag) => {
			drag.current = what;
			beginDrag(event, {
				move: (move) => latestMove.current(move),
				end: () => {
					const d = drag.current;
					drag.current = null;
					if (d?.kind === 'objects') store.getState().endGesture();
					else if (d && !d.moved) store.getState().pick(d.under, d.kind === 'shift');
				},
				cancel: () => {
					drag.current = null;
					store.getState().cancelGesture();
				},
			});
		};
		if (event.button === 1 || event.shiftKey) {
			hold({ kind: 'shift', from: p, pose, moved: false, under: hit });
			return;
		}
		const object = hit !== null && selection.includes(hit) ? world.objectById.get(hit) : undefined;
		if (object && !isLocked(object.def)) {
			// In plan and free view things slide on the ground they stand on; in side view up and down.
			const axis = world.flat || pose.mode === 'side' ? 2 : 1;
			const grab = onPlane(view, p, axis, depthOf(object.position[axis]));
			if (grab) {
				const others = new Set(selection);
				const extent = [0, 1, 2].map((k) => extentOf(world, object, k as 0));
				const faces = [0, 1, 2].map((k) =>
					world.objects.length > 500 ? [] : world.objects.flatMap((o) => (others.has(o.id) || o.shapes.length === 0 ? [] : extentOf(world, o, k as 0))),
				) as [number[], number[], number[]];
				store.getState().beginGesture(`Move ${handWords(projectNow, selection)}`);
				hold({
					kind: 'objects',
					grabbed: object,
					grab,
					axis,
					height: depthOf(object.position[axis]),
					done: [0, 0, 0],
					low: extent.map((e) => e[0]) as Vec3,
					high: extent.map((e) => e[1]) as Vec3,
					faces,
				});
				return;
			}
		}
		hold({ kind: 'turn', from: p, pose, moved: false, under: hit });
	};

	const onPointerMove = (event: React.PointerEvent<HTMLElement>) => {
		const p = local(event);
		if (tool) {
			if (pending) setPending({ ...pending, now: { pixel: p, place: placeAt(p), under: under(p) } });
			return;
		}
		if (event.buttons === 0) store.getState().point(under(p));
	};

	/** What is held follows the pointer. */
	const onDrag = (event: PointerEvent) => {
		const p = local(event);
		const d = drag.current;
		if (!d) return;
		if (d.kind === 'objects') {
			const now = onPlane(view, p, d.axis, d.height);
			if (now) moveSelection(d, now, event.altKey);
			return;
		}
		const dx = p[0] - d.from[0];
		const dy = p[1] - d.from[1];
		if (!d.moved && Math.hypot(dx, dy) < 4) return;
		d.moved = true;
		if (d.kind === 'turn' && pose.mode === 'free') {
			if (world.flat) setPose({ ...d.pose, yaw: d.pose.yaw - dx * 0.3, pitch: Math.max(-60, Math.min(60, d.pose.pitch - dy * 0.3)) });
			else setPose({ ...d.pose, yaw: d.pose.yaw - dx * 0.35, pitch: Math.max(-89, Math.min(20, d.pose.pitch - dy * 0.3)) });
		} else setPose(shifted(d.pose, dx, dy));
	};

	const latestMove = useRef(onDrag);
	useLayoutEffect(() => {
		latestMove.current = onDrag;
	});

	/** Moves what is in hand by what the pointer has moved, resting on faces and grid. */
	const moveSelection = (d: Extract<Drag, { kind: 'objects' }>, now: Vec3, fine: boolean) => {
		const step: Vec3 = [0, 0, 0];
		const perPixel = (2 * pose.distance) / Math.max(1, own.h);
		for (let k = 0; k < 3; k++) {
			const want = (now[k] as number) - (d.grab[k] as number);
			if (k === d.axis) continue;
			const rest =
				fine || !snapping
					? 0
					: snapStep(
							(d.low[k] as number) + want,
							(d.high[k] as number) + want,
							d.faces[k as 0],
							gridOf(world.flat),
							Math.min(8 * perPixel, world.flat ? 0.02 : 0.15),
						);
			step[k] = round(want + rest - (d.done[k] as number));
		}
		if (step.every((v) => v === 0)) return;
		d.done = d.done.map((v, k) => v + (step[k] as number)) as Vec3;
		moveBy(step, 'Move');
	};

	const moveBy = (step: Vec3, what: string) => {
		const movable = topmost(world, selection).filter((o) => !isLocked(o.def));
		if (movable.length === 0) return;
		store.getState().edit(`${what} ${handWords(projectNow, selection)}`, (draft) => {
			for (const o of movable) shiftObject(draft, world, o.id, step);
		});
	};

	/** The pose moved so that the scene follows the hand. */
	const shifted = (from: Pose, dx: number, dy: number): Pose => {
		const perPixel = (2 * from.distance) / Math.max(1, own.h);
		const m = view.camera.rotation;
		const target = from.target.map((v, k) => v - (m[3 * k] as number) * dx * perPixel + (m[3 * k + 1] as number) * dy * perPixel) as [number, number, number];
		return { ...from, target };
	};

	const finishTool = (done: Pending) => {
		if (!tool) return;
		setPending(null);
		if (tool.kind === 'shape') {
			const made = drawn(done, world.flat);
			addShape(store, tool.shape as never, made.at, made.size);
			store.getState().use(null);
			return;
		}
		const recipe = sayTool(tool, done, world, projectNow, picked);
		if (typeof recipe === 'string') store.getState().refuse(recipe);
		else {
			store.getState().edit(recipe.label, recipe.edit);
			if (recipe.open !== null) store.getState().open(recipe.open);
		}
		store.getState().use(null);
	};

	const onPointerUp = (event: React.PointerEvent<HTMLElement>) => {
		if (tool && pending) {
			const p = local(event);
			const end = { pixel: p, place: placeAt(p), under: under(p) };
			const moved = Math.hypot(p[0] - pending.from.pixel[0], p[1] - pending.from.pixel[1]) > 6;
			// One stroke says both; two clicks say one each. What needs one place only is done at once.
			if (moved || pending.clicks > 1 || pending.enough) finishTool({ ...pending, now: end });
		}
	};

	const zoom = useCallback((factor: number) => setPose((p) => ({ ...p, distance: Math.max(0.05, Math.min(2000, p.distance * factor)) })), []);
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
	}, [zoom]);

	const seen = useRef(world);
	seen.current = world;
	const showAll = useCallback(() => setPose((p) => ({ ...framing(seen.current), mode: p.mode })), []);
	const swap = useCallback(() => setSwapped((is) => !is), []);

	const onKeyDown = (event: React.KeyboardEvent) => {
		if (event.ctrlKey || event.metaKey) return;
		const size = (world.flat ? 0.01 : 0.1) * (event.shiftKey ? 10 : 1);
		const away = world.flat ? 1 : -1;
		const step = {
			ArrowLeft: [-size, 0, 0],
			ArrowRight: [size, 0, 0],
			ArrowUp: world.flat ? [0, size, 0] : [0, 0, away * size],
			ArrowDown: world.flat ? [0, -size, 0] : [0, 0, -away * size],
			PageUp: world.flat ? [0, 0, size] : [0, size, 0],
			PageDown: world.flat ? [0, 0, -size] : [0, -size, 0],
		}[event.key] as Vec3 | undefined;
		if (step && selection.length > 0) {
			event.preventDefault();
			moveBy(step, 'Move');
		} else if (step) {
			event.preventDefault();
			setPose(shifted(pose, (step[0] / size) * -30, ((world.flat ? step[1] : -step[2]) / size) * 30));
		} else if (event.key === '+' || event.key === '=') zoom(0.85);
		else if (event.key === '-') zoom(1.18);
		else if (event.key === 'Escape') {
			if (tool) {
				setPending(null);
				store.getState().use(null);
			} else store.getState().pick(null);
		} else if (event.key === 'Enter' && tool) {
			// By keyboard a tool acts in the middle of the stage.
			const middle: P2 = [own.w / 2, own.h / 2];
			const at = { pixel: middle, place: placeAt(middle), under: picked };
			const edge: P2 = [own.w / 2 + 60, own.h / 2];
			finishTool({ from: at, now: tool.kind === 'shape' ? at : { pixel: edge, place: placeAt(edge), under: null }, clicks: 2, enough: true });
		}
	};

	const object = picked === null ? undefined : world.objectById.get(picked);
	const anchor = object ? toPixels(view, object.focus) : null;
	// Decided when the object is picked, so that the slip does not jump while it is moved.
	// biome-ignore lint/correctness/useExhaustiveDependencies: only when another object is picked
	const slipSide = useMemo(() => (anchor && anchor[0] > w / 2 ? 'left' : 'right'), [picked]);
	const handles = useMemo(() => {
		if (tool) return [];
		return [
			...(object && selection.length === 1 && !isLocked(object.def) ? objectHandles(world, object).filter((handle) => inDetail || handle.id !== 'focus') : []),
			...(geometry && live ? queryHandles(world, live, geometry.frame) : []),
		];
	}, [world, object, selection, geometry, live, tool, inDetail]);
	const reason = useMemo(
		() => (geometry && current && pointedVerdict ? reasonOf(world, geometry, current, pointedVerdict) : null),
		[world, geometry, current, pointedVerdict],
	);
	const room = useMemo(() => (eyeRect && !large ? { ...eyeRect, y: eyeRect.y - 26, h: eyeRect.h + 26 } : null), [eyeRect, large]);
	const named = projectNow.scene.objects;
	// biome-ignore lint/correctness/useExhaustiveDependencies: names change with the objects, not with the queries
	const name = useCallback((id: string) => nameOf(projectNow, 'object', id), [named]);
	const clip = eyeRect && !large ? aroundEye(w, h, eyeRect) : undefined;
	const inRoom = (p: P2): boolean => room !== null && p[0] > room.x - 6 && p[1] > room.y - 6 && p[0] < room.x + room.w + 6 && p[1] < room.y + room.h + 6;
	return (
		<section ref={host} aria-label="Stage" className="relative min-h-0 min-w-0 overflow-hidden">
			<canvas ref={canvas} className="absolute inset-0 size-full" aria-hidden="true" />
			{failed && <p className="absolute inset-0 grid place-items-center p-8 text-center">The stage needs WebGL, which this browser does not give: {failed}</p>}
			<div
				role="application"
				aria-label="Scene"
				aria-describedby="stage-help"
				tabIndex={0}
				className={`absolute touch-none ${large ? 'border border-ink/60' : ''} ${tool ? 'cursor-crosshair' : ''}`}
				style={{ left: own.x, top: own.y, width: own.w, height: own.h }}
				onPointerDown={onPointerDown}
				onPointerMove={onPointerMove}
				onPointerUp={onPointerUp}
				onPointerCancel={() => setPending(null)}
				onPointerLeave={() => store.getState().point(null)}
				onKeyDown={onKeyDown}
			>
				<p id="stage-help" className="sr-only">
					Click an object to take it in hand, Shift-click to take more; drag what is in hand to move it on the ground. Drag elsewhere to turn the view,
					Shift-drag to shift it, wheel to come nearer. Arrow keys move what is in hand, Page Up and Page Down raise and lower it. Alt while dragging leaves
					grid and faces out.
				</p>
				<svg className="pointer-events-none absolute inset-0 size-full" aria-hidden="true" style={clip ? { clipPath: clip } : undefined}>
					{geometry && <QueryDrawing geometry={geometry} view={view} answer={current} world={world} reason={reason} firm={firm} />}
					{object && <HandDrawing object={object} view={view} flat={world.flat} />}
					{selection.map((id) => {
						const o = world.objectById.get(id);
						const p = o ? toPixels(view, o.focus) : null;
						return (
							p && (
								<circle key={id} cx={p[0]} cy={p[1]} r="11" fill="none" stroke="var(--ink)" strokeWidth="1.5" strokeDasharray={id === picked ? '3 3' : '1 3'} />
							)
						);
					})}
					<Labels view={view} cutBy={cutBy} pointed={pointed} picked={picked} hidden={hidden} name={name} room={room} />
					{tool && pending && <Drawing pending={pending} tool={tool} view={view} flat={world.flat} />}
				</svg>
				<Grips handles={handles} view={view} local={local} blocked={inRoom} clip={clip} />
			</div>
			{world.objects.length === 0 && !tool && (
				<p className="pointer-events-none absolute inset-x-0 top-1/3 text-center text-quiet">
					This scene is empty. Choose Add, above, and draw the first object where it should stand.
				</p>
			)}
			<StageTools
				world={world}
				objects={objects}
				pose={pose}
				setPose={setPose}
				showAll={showAll}
				snapping={snapping}
				setSnapping={setSnapping}
				spread={spread}
				setSpread={setSpread}
				swap={picture ? swap : null}
				swapped={large}
			/>
			{picture && live && eyeRect && (
				<div data-keeps-wheel className="absolute border border-ink/60 shadow-sm" style={{ left: eyeRect.x - 1, top: eyeRect.y - 25, width: picture.w + 2 }}>
					<Eye picture={picture} world={world} query={live} answer={current} />
				</div>
			)}
			{world.flat && live?.kind === 'pick' && !large && <Part what="The pile" load={pile} give={{ world, query: live }} />}
			{object && <Part what="The slip" load={slip} give={{ object, side: docked ? 'right' : slipSide }} />}
		</section>
	);
}

/** The stage without the eye's rectangle, so that nothing of the one is drawn over the other. */
function aroundEye(w: number, h: number, r: { x: number; y: number; w: number; h: number }): string {
	return `path(evenodd, "M0 0H${w}V${h}H0Z M${r.x} ${r.y - 25}H${r.x + r.w}V${r.y + r.h}H${r.x}Z")`;
}
