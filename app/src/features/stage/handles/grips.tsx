/** Handles drawn on the stage: pulled by the pointer, stepped by the arrow keys. */

import type { View } from '@frelk/core';
import { type ReactNode, useState } from 'react';
import { type P2, toPixels } from '../../../drawing/view';
import { useBenchStore } from '../../../model/use-bench';
import { beginDrag } from '../../../ui/drag';
import { useLatest } from '../../../ui/use-latest';
import { dragHandle, type Handle, sliderOf, stepHandle, valueWords } from './handles';
import { STALK } from './object-handles';

export function Grips({
	handles,
	view,
	local,
	blocked,
	isOver,
	clip,
}: {
	handles: readonly Handle[];
	view: View;
	local: (event: { clientX: number; clientY: number }) => P2;
	blocked: (p: P2) => boolean;
	/** Whether a thing lies under a pixel. */
	isOver: (p: P2) => boolean;
	/** CSS path of what may be drawn on. */
	clip: string | undefined;
}) {
	const store = useBenchStore();
	const latest = useLatest(view);
	const localNow = useLatest(local);
	const [focused, setFocused] = useState<string | null>(null);
	const [near, setNear] = useState<string | null>(null);
	const shown: Shown[] = handles.flatMap((handle) => {
		const at = toPixels(view, handle.at);
		if (!at) return [];
		const key = `${handle.of}-${handle.id}`;
		const p = stoodOff(handle, at, view);
		// One that is being stepped by its keys stays, at the edge where it would leave the picture.
		if (focused === key) return [{ key, handle, at, p: [within(p[0], view.width), within(p[1], view.height)] as P2 }];
		return p[0] > 4 && p[1] > 4 && p[0] < view.width - 4 && p[1] < view.height - 4 && !blocked(p)
			? [{ key, handle, at, p }]
			: [];
	});
	const nearestTo = (event: { clientX: number; clientY: number }): Shown | null => {
		const pixel = local(event);
		let best: Shown | null = null;
		let least = HIT;
		for (const one of shown) {
			const d = Math.hypot(one.p[0] - pixel[0], one.p[1] - pixel[1]);
			// A handle of the query lies over things: it takes what is meant for itself alone.
			const reach = one.handle.of === 'query' && isOver(pixel) ? EXACT : HIT;
			if (d <= reach && d <= least) {
				least = d;
				best = one;
			}
		}
		return best;
	};
	return (
		// biome-ignore lint/a11y/useSemanticElements: a fieldset cannot hold a drawing
		<svg
			className="pointer-events-none absolute inset-0 size-full"
			role="group"
			aria-label="Handles"
			style={clip ? { clipPath: clip } : undefined}
		>
			{shown.map(({ key, handle, at, p }) => {
				const stem = stemOf(handle, view) ?? (p !== at ? at : null);
				const slider = sliderOf(handle);
				return (
					<g key={key}>
						{stem && (
							<path d={`M${stem[0]} ${stem[1]}L${p[0]} ${p[1]}`} stroke="var(--ink)" strokeWidth="1" opacity="0.6" />
						)}
						<g
							role="slider"
							tabIndex={0}
							aria-label={handle.label}
							aria-valuemin={slider.min}
							aria-valuemax={slider.max}
							aria-valuenow={slider.now}
							aria-valuetext={valueWords(handle)}
							onFocus={() => setFocused(key)}
							onBlur={() => setFocused(null)}
							className="grip pointer-events-auto cursor-grab touch-none"
							transform={`translate(${p[0].toFixed(1)} ${p[1].toFixed(1)})`}
							onPointerMove={(event) => setNear(nearestTo(event)?.key ?? null)}
							onPointerLeave={() => setNear(null)}
							onPointerDown={(event) => {
								const grabbed = event.button === 0 ? nearestTo(event) : null;
								// Not meant for a handle: the stage below has it.
								if (!grabbed) return;
								event.stopPropagation();
								const held = grabbed.handle;
								// A handle that stands off is pulled from where it is drawn.
								const off = [grabbed.p[0] - grabbed.at[0], grabbed.p[1] - grabbed.at[1]] as const;
								store.getState().beginGesture(held.label);
								beginDrag(event, {
									// What was grabbed stays the measure: where the handle is drawn follows from what is being changed.
									move: (move) => {
										const [x, y] = localNow.current(move);
										const recipe = dragHandle(held, latest.current, [x - off[0], y - off[1]], move.altKey);
										if (recipe) store.getState().edit(held.label, recipe);
									},
									end: () => store.getState().endGesture(),
									cancel: () => store.getState().cancelGesture(),
								});
							}}
							onKeyDown={(event) => {
								const recipe = stepHandle(handle, event.key, event.shiftKey ? 10 : 1);
								if (!recipe) return;
								event.preventDefault();
								event.stopPropagation();
								store.getState().edit(handle.label, recipe);
							}}
						>
							<circle r={HIT} fill="transparent" />
							{near === key && <circle r="9" fill="none" stroke="var(--ink)" strokeWidth="1.5" />}
							{markOf(handle)}
							<title>{`${handle.label}: ${valueWords(handle)}`}</title>
						</g>
					</g>
				);
			})}
		</svg>
	);
}

interface Shown {
	key: string;
	handle: Handle;
	/** Where its value is, and where it is drawn: pixels. */
	at: P2;
	p: P2;
}

/** A handle is hit within so many pixels: 24 across. */
const HIT = 12;
/** Pixels within which a handle of the query is meant, rather than the thing it lies over. */
const EXACT = 7;
/** So far from the middle of a body its handles stand, so that the body itself can be taken hold of. */
const CLEAR = 30;

const within = (v: number, size: number): number => Math.max(8, Math.min(size - 8, v));

/** Seen from afar the faces of a small thing crowd on what one takes hold of to move it: its handles stand off, along their own line. */
function stoodOff(handle: Handle, at: P2, view: View): P2 {
	if (handle.kind !== 'line' || handle.of !== 'object') return at;
	if (handle.id === 'height') {
		// The stalk ends clear of what it stands on, and of the handle there.
		const foot = toPixels(view, [handle.at[0], handle.at[1] - STALK, handle.at[2]]);
		const long = foot ? Math.hypot(at[0] - foot[0], at[1] - foot[1]) : 0;
		if (!foot || long < 1e-3 || long >= CLEAR) return at;
		return [foot[0] + ((at[0] - foot[0]) / long) * CLEAR, foot[1] + ((at[1] - foot[1]) / long) * CLEAR];
	}
	const middle = handle.middle ?? handle.origin;
	const c = toPixels(view, middle);
	const ahead = toPixels(view, [middle[0] + handle.dir[0], middle[1] + handle.dir[1], middle[2] + handle.dir[2]]);
	if (!c || !ahead) return at;
	const [dx, dy] = [ahead[0] - c[0], ahead[1] - c[1]];
	const length = Math.hypot(dx, dy);
	if (length < 1e-3 || Math.hypot(at[0] - c[0], at[1] - c[1]) >= CLEAR) return at;
	return [c[0] + (dx / length) * CLEAR, c[1] + (dy / length) * CLEAR];
}

/** Where the line of a stalk or ring knob starts. */
function stemOf(handle: Handle, view: View): P2 | null {
	if (handle.of !== 'object') return null;
	if (handle.id === 'height' && handle.kind === 'line')
		return toPixels(view, [handle.origin[0], handle.value, handle.origin[2]]);
	if (handle.kind === 'angle') return toPixels(view, handle.centre);
	return null;
}

/** Square for a length, ring for a turn, cross for a place; filled for the object, open for the query. */
function markOf(handle: Handle): ReactNode {
	const paint = {
		fill: handle.of === 'object' ? 'var(--ink)' : 'var(--panel)',
		stroke: handle.of === 'object' ? 'var(--panel)' : 'var(--ink)',
		strokeWidth: 1.5,
	};
	if (handle.kind === 'angle') return <circle r="5" {...paint} />;
	if (handle.kind === 'point')
		return <path d="M-1.6 -6h3.2v4.4h4.4v3.2h-4.4v4.4h-3.2v-4.4h-4.4v-3.2h4.4z" {...paint} strokeWidth={1} />;
	return <rect x="-4" y="-4" width="8" height="8" {...paint} />;
}
