/** Handles drawn on the stage: pulled by the pointer, stepped by the arrow keys. */

import type { View } from '@frelk/core';
import { type ReactNode, useLayoutEffect, useRef, useState } from 'react';
import { type P2, toPixels } from '../../../drawing/view';
import { useBenchStore } from '../../../model/use-bench';
import { beginDrag } from '../../../ui/drag';
import { dragHandle, type Handle, sliderOf, stepHandle, valueWords } from './handles';

export function Grips({
	handles,
	view,
	local,
	blocked,
	clip,
}: {
	handles: Handle[];
	view: View;
	local: (event: { clientX: number; clientY: number }) => P2;
	blocked: (p: P2) => boolean;
	/** CSS path of what may be drawn on. */
	clip: string | undefined;
}) {
	const store = useBenchStore();
	const latest = useRef(view);
	const localNow = useRef(local);
	useLayoutEffect(() => {
		latest.current = view;
		localNow.current = local;
	});
	const [focused, setFocused] = useState<string | null>(null);
	const shown = handles.flatMap((handle) => {
		const p = toPixels(view, handle.at);
		// One that is being stepped by its keys stays, at the edge where it would leave the picture.
		if (p && focused === `${handle.of}-${handle.id}`)
			return [
				{
					handle,
					p: [Math.max(8, Math.min(view.width - 8, p[0])), Math.max(8, Math.min(view.height - 8, p[1]))] as P2,
				},
			];
		if (p && handle.kind === 'line' && handle.of === 'object' && handle.id !== 'height') {
			// Seen from afar the faces of a small thing crowd on what one takes hold of to move it.
			const c = toPixels(view, handle.origin);
			if (c && Math.hypot(p[0] - c[0], p[1] - c[1]) < 15) return [];
		}
		return p && p[0] > 4 && p[1] > 4 && p[0] < view.width - 4 && p[1] < view.height - 4 && !blocked(p)
			? [{ handle, p }]
			: [];
	});
	return (
		// biome-ignore lint/a11y/useSemanticElements: a fieldset cannot hold a drawing
		<svg
			className="pointer-events-none absolute inset-0 size-full"
			role="group"
			aria-label="Handles"
			style={clip ? { clipPath: clip } : undefined}
		>
			{shown.map(({ handle, p }) => {
				const stem = stemOf(handle, view);
				const slider = sliderOf(handle);
				return (
					<g key={`${handle.of}-${handle.id}`}>
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
							onFocus={() => setFocused(`${handle.of}-${handle.id}`)}
							onBlur={() => setFocused(null)}
							className="grip pointer-events-auto cursor-grab touch-none"
							transform={`translate(${p[0].toFixed(1)} ${p[1].toFixed(1)})`}
							onPointerDown={(event) => {
								if (event.button !== 0) return;
								event.stopPropagation();
								store.getState().beginGesture(handle.label);
								beginDrag(event, {
									// What was grabbed stays the measure: where the handle is drawn follows from what is being changed.
									move: (move) => {
										const recipe = dragHandle(handle, latest.current, localNow.current(move), move.altKey);
										if (recipe) store.getState().edit(handle.label, recipe);
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
							<circle r="11" fill="transparent" />
							{markOf(handle)}
							<title>{`${handle.label}: ${valueWords(handle)}`}</title>
						</g>
					</g>
				);
			})}
		</svg>
	);
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
