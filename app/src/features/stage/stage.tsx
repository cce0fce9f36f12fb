/** The stage: the scene's real shapes with the query drawn on them; objects are picked and moved by hand. */
import { hangsUnder, type SceneObject, shapeUnder, type World } from '@frelk/core';
import { unturned } from '@frelk/core/geometry/matrix';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Button, round } from '../../ui/controls';
import { useTheme } from '../../ui/theme';
import { nameOf, useAnswers, useBench, useBenchStore, useQuery } from '../bench/store';
import { Slip } from '../slip/slip';
import { Eye, eyePicture } from './eye';
import { Labels } from './labels';
import { QueryDrawing, useQueryGeometry } from './query-drawing';
import { type Emphasis, type Palette, Scene3D } from './scene3d';
import { framing, onPlane, type P2, type Pose, rayThrough, type StageMode, toPixels, viewOfPose } from './view';

const MODES: { mode: StageMode; label: string; flat?: string }[] = [
	{ mode: 'free', label: 'Free', flat: 'Tilted' },
	{ mode: 'plan', label: 'Plan', flat: 'Face on' },
	{ mode: 'side', label: 'Side', flat: 'Edge' },
];

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
	| { kind: 'shift'; from: P2; pose: Pose }
	| { kind: 'object'; id: string; grab: [number, number, number]; start: [number, number, number]; axis: 1 | 2; height: number };

export function Stage() {
	const store = useBenchStore();
	const answers = useAnswers();
	const { world, current } = answers;
	const query = useQuery();
	const picked = useBench((s) => s.picked);
	const pointed = useBench((s) => s.pointed);
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
	const drag = useRef<Drag | null>(null);

	const view = useMemo(() => viewOfPose(pose, Math.max(1, w), Math.max(1, h), world.flat), [pose, w, h, world.flat]);
	const geometry = useQueryGeometry(world, query, current);
	const picture = useMemo(() => eyePicture(world, world.queryById.get(query?.id ?? '') ?? null, geometry), [world, query, geometry]);
	const eyeRect = picture && w > 0 ? { x: w - picture.w - 13, y: h - picture.h - 13, w: picture.w, h: picture.h } : null;

	const emphasis = useCallback(
		(id: string): Emphasis => {
			if (geometry?.cutBy === id) return 'cut';
			const verdict = current?.verdicts.find((v) => v.object === id);
			if (id === pointed && verdict?.stage === 'sight') return 'outranked';
			if (pointed && current?.verdicts.find((v) => v.object === pointed)?.by === id) return 'cut';
			switch (verdict?.stage) {
				case 'selected':
					return 'chosen';
				case 'tied':
					return 'tie';
				case 'inactive':
				case 'layer':
				case 'tags':
				case 'state':
				case 'side':
				case 'role':
					return isBlocking(world, id, query?.sight?.blockers) ? 'plain' : 'faint';
				default:
					return 'plain';
			}
		},
		[current, geometry, pointed, world, query],
	);

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

	useEffect(() => {
		const stage = scene.current;
		if (!stage || w === 0 || h === 0) return;
		performance.mark('frelk-draw-start');
		stage.resize(w, h);
		stage.update(world, palette(theme === 'dark'), emphasis);
		stage.render(view, { x: 0, y: 0, w, h }, h, NOBODY);
		if (picture && eyeRect) stage.render(picture.view, eyeRect, h, query?.kind === 'pick' ? NOBODY : lookers(world, query?.asker));
		performance.measure('frelk-draw', 'frelk-draw-start');
	}, [world, view, w, h, theme, emphasis, picture, eyeRect, query]);

	const local = (event: { clientX: number; clientY: number }): P2 => {
		const box = host.current?.getBoundingClientRect();
		return [event.clientX - (box?.left ?? 0), event.clientY - (box?.top ?? 0)];
	};
	const under = (p: P2): string | null => {
		const { start, dir } = rayThrough(view, p);
		return shapeUnder(world, start, dir, () => false)?.object.id ?? null;
	};

	const onPointerDown = (event: React.PointerEvent<HTMLElement>) => {
		if (event.button > 1) return;
		const p = local(event);
		event.currentTarget.setPointerCapture(event.pointerId);
		if (event.button === 1 || event.shiftKey) {
			drag.current = { kind: 'shift', from: p, pose };
			return;
		}
		const hit = under(p);
		const object = hit !== null && hit === picked ? world.objectById.get(hit) : undefined;
		if (object) {
			// In plan and free view things slide on the ground they stand on; in side view up and down.
			const axis = world.flat || pose.mode === 'side' ? 2 : 1;
			const grab = onPlane(view, p, axis, object.position[axis]);
			if (grab) {
				drag.current = { kind: 'object', id: object.id, grab, start: [...object.position], axis, height: object.position[axis] };
				store.getState().beginGesture(`Move ${nameOf(projectNow, 'object', object.id)}`);
				return;
			}
		}
		drag.current = { kind: 'turn', from: p, pose, moved: false, under: hit };
	};

	const onPointerMove = (event: React.PointerEvent<HTMLElement>) => {
		const p = local(event);
		const d = drag.current;
		if (!d) {
			if (event.buttons === 0) store.getState().point(under(p));
			return;
		}
		const dx = p[0] - (d.kind === 'object' ? 0 : d.from[0]);
		const dy = p[1] - (d.kind === 'object' ? 0 : d.from[1]);
		if (d.kind === 'object') {
			const now = onPlane(view, p, d.axis, d.height);
			if (now)
				moveObject(
					world,
					d.id,
					[d.start[0] + now[0] - d.grab[0], d.start[1] + now[1] - d.grab[1], d.start[2] + now[2] - d.grab[2]],
					store.getState().edit,
					event.altKey,
				);
			return;
		}
		if (d.kind === 'turn') {
			if (!d.moved && Math.hypot(dx, dy) < 4) return;
			d.moved = true;
			if (pose.mode !== 'free') setPose(shifted(d.pose, dx, dy));
			else if (world.flat) setPose({ ...d.pose, yaw: d.pose.yaw - dx * 0.3, pitch: Math.max(-60, Math.min(60, d.pose.pitch - dy * 0.3)) });
			else setPose({ ...d.pose, yaw: d.pose.yaw - dx * 0.35, pitch: Math.max(-89, Math.min(20, d.pose.pitch - dy * 0.3)) });
		} else setPose(shifted(d.pose, dx, dy));
	};

	/** The pose moved so that the scene follows the hand. */
	const shifted = (from: Pose, dx: number, dy: number): Pose => {
		const perPixel = (2 * from.distance) / Math.max(1, h);
		const m = view.camera.rotation;
		const target = from.target.map((v, k) => v - (m[3 * k] as number) * dx * perPixel + (m[3 * k + 1] as number) * dy * perPixel) as [number, number, number];
		return { ...from, target };
	};

	const onPointerUp = () => {
		const d = drag.current;
		drag.current = null;
		if (d?.kind === 'object') store.getState().endGesture();
		if (d?.kind === 'turn' && !d.moved) store.getState().pick(d.under);
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

	const nudge = (event: React.KeyboardEvent) => {
		const object = picked === null ? undefined : world.objectById.get(picked);
		const size = event.shiftKey ? 1 : 0.1;
		const [ax, ay] = world.flat ? [0, 1] : [0, 2];
		const step = { ArrowLeft: [-size, 0], ArrowRight: [size, 0], ArrowUp: [0, world.flat ? size : -size], ArrowDown: [0, world.flat ? -size : size] }[
			event.key
		];
		if (step && object) {
			event.preventDefault();
			const to: [number, number, number] = [...object.position];
			to[ax as 0] += step[0] as number;
			to[ay as 1] += step[1] as number;
			moveObject(world, object.id, to, store.getState().edit, true);
		} else if (event.key === '+' || event.key === '=') zoom(0.85);
		else if (event.key === '-') zoom(1.18);
		else if (event.key === 'Escape') store.getState().pick(null);
	};

	const object = picked === null ? undefined : world.objectById.get(picked);
	const anchor = object ? toPixels(view, object.focus) : null;
	// Decided when the object is picked, so that the slip does not jump while it is moved.
	// biome-ignore lint/correctness/useExhaustiveDependencies: only when another object is picked
	const slipSide = useMemo(() => (anchor && anchor[0] > w / 2 ? 'left' : 'right'), [picked]);
	return (
		<section ref={host} aria-label="Stage" className="relative min-h-0 min-w-0 overflow-hidden">
			<canvas ref={canvas} className="absolute inset-0 size-full" aria-hidden="true" />
			{failed && <p className="absolute inset-0 grid place-items-center p-8 text-center">The stage needs WebGL, which this browser does not give: {failed}</p>}
			<div
				role="application"
				aria-label="Scene"
				aria-describedby="stage-help"
				tabIndex={0}
				className="absolute inset-0 touch-none"
				onPointerDown={onPointerDown}
				onPointerMove={onPointerMove}
				onPointerUp={onPointerUp}
				onPointerCancel={() => {
					drag.current = null;
					store.getState().cancelGesture();
				}}
				onPointerLeave={() => store.getState().point(null)}
				onKeyDown={nudge}
			>
				<p id="stage-help" className="sr-only">
					Click an object to pick it up; drag it to move it on the ground. Drag elsewhere to turn the view, Shift-drag to shift it, wheel to come nearer. Arrow
					keys move what is picked.
				</p>
				<svg className="pointer-events-none absolute inset-0 size-full" aria-hidden="true" style={eyeRect ? { clipPath: aroundEye(w, h, eyeRect) } : undefined}>
					{geometry && <QueryDrawing geometry={geometry} view={view} answer={current} world={world} />}
					{anchor && <circle cx={anchor[0]} cy={anchor[1]} r="11" fill="none" stroke="var(--ink)" strokeWidth="1.5" strokeDasharray="3 3" />}
					<Labels
						world={world}
						answer={current}
						view={view}
						cutBy={geometry?.cutBy ?? null}
						pointed={pointed}
						picked={picked}
						name={(id) => nameOf(projectNow, 'object', id)}
						room={eyeRect ? { ...eyeRect, y: eyeRect.y - 26, h: eyeRect.h + 26 } : null}
					/>
				</svg>
			</div>
			{world.objects.length === 0 && (
				<p className="pointer-events-none absolute inset-x-0 top-1/3 text-center text-quiet">
					This scene is empty. Import a project file, or open an example from the list of projects.
				</p>
			)}
			<div role="toolbar" aria-label="View" className="absolute top-2 left-2 flex gap-1">
				{MODES.map(({ mode, label, flat }) => (
					<Button
						key={mode}
						aria-pressed={pose.mode === mode}
						className={pose.mode === mode ? 'border-ink! font-semibold' : 'text-quiet'}
						onClick={() => setPose({ ...pose, mode, ...(mode === 'free' && world.flat ? { yaw: -18, pitch: 30 } : {}) })}
					>
						{world.flat ? flat : label}
					</Button>
				))}
				<Button className="text-quiet" onClick={() => setPose({ ...framing(world), mode: pose.mode })}>
					Show all
				</Button>
			</div>
			{picture && query && eyeRect && (
				<div data-keeps-wheel className="absolute right-3 bottom-3 border border-ink/60 shadow-sm" style={{ width: picture.w + 2 }}>
					<Eye picture={picture} world={world} query={world.queryById.get(query.id) ?? query} answer={current} />
				</div>
			)}
			{object && <Slip object={object} side={slipSide} />}
		</section>
	);
}

/** The stage without the eye's rectangle, so that nothing of the one is drawn over the other. */
function aroundEye(w: number, h: number, r: { x: number; y: number; w: number; h: number }): string {
	return `path(evenodd, "M0 0H${w}V${h}H0Z M${r.x} ${r.y - 25}H${r.x + r.w}V${r.y + r.h}H${r.x}Z")`;
}

const NOBODY: ReadonlySet<string> = new Set();

/** The asker and all that hangs on it. */
function lookers(world: World, asker: string | undefined): Set<string> {
	const root = asker === undefined ? undefined : world.objectById.get(asker);
	return new Set(root ? world.objects.filter((o) => hangsUnder(o, root)).map((o) => o.id) : []);
}

function isBlocking(world: World, id: string, blockers: readonly string[] | 'all' | undefined): boolean {
	if (blockers === undefined) return false;
	if (blockers === 'all') return true;
	return (
		world.objectById.get(id)?.shapes.some((s) => {
			const layer = world.layers[31 - Math.clz32(s.layer)];
			return layer !== undefined && blockers.includes(layer);
		}) ?? false
	);
}

/** Writes a world position back as the object's own, under its parent; to the centimetre unless `fine`. */
function moveObject(
	world: World,
	id: string,
	to: [number, number, number],
	edit: (label: string, recipe: (draft: { scene: { objects: SceneObject[] } }) => void) => void,
	fine: boolean,
): void {
	const object = world.objectById.get(id);
	if (!object) return;
	let local: [number, number, number] = to;
	const { parent } = object;
	if (parent) {
		const d = unturned(parent.rotation, to[0] - parent.position[0], to[1] - parent.position[1], to[2] - parent.position[2]);
		local = [d[0] / parent.scale[0], d[1] / parent.scale[1], d[2] / parent.scale[2]];
	}
	const grid = world.flat ? 1000 : 100;
	const snapped = local.map((v) => round(fine ? v : Math.round(v * grid) / grid)) as [number, number, number];
	edit(`Move ${object.def.name ?? id}`, (draft) => {
		const target = draft.scene.objects.find((o) => o.id === id);
		if (target) target.position = snapped;
	});
}
