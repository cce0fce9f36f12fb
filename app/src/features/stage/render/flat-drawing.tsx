/** The shapes of a flat scene as SVG, for browsers that give no WebGL: the same tints and the same order, lowest first. */
import type { View } from '@frelk/core';
import { useMemo } from 'react';
import { tintOf } from '../../../drawing/hues';
import type { Laid } from '../../../drawing/laid';
import { worldLines } from '../../../drawing/outline';
import { pathOf, toPixels } from '../../../drawing/view';
import { useBench, useDerived } from '../../../model/use-bench';
import { useTheme } from '../../../ui/theme';
import { blockingIn, type Emphasis, emphasesOf } from './emphasis';
import type { Rendered } from './use-rendering';

/** How much of a tint is left, in percent, where what the query says of an object is mixed into it. */
const LEFT: Partial<Record<Emphasis, number>> = { plain: 100, chosen: 15, faint: 38 };

const fillOf = (tint: string, emphasis: Emphasis): string =>
	emphasis === 'plain'
		? tint
		: `color-mix(in srgb, ${tint} ${LEFT[emphasis] ?? 40}%, var(--${emphasis === 'faint' ? 'ground' : emphasis}))`;

/** @returns a picture that lies in the scene's plane as a file of its own */
function pictureOf({ pixels, width, height }: Laid): string {
	const canvas = Object.assign(document.createElement('canvas'), { width, height });
	canvas.getContext('2d')?.putImageData(new ImageData(pixels, width, height), 0, 0);
	return canvas.toDataURL();
}

/** What brings the pixels of a picture, its first row lowest, to where its corners are seen: a flat scene has no perspective. */
function lying(view: View, { from, to, width, height }: Laid): string | undefined {
	const at = (u: number, v: number) => toPixels(view, [u, v, 0]);
	const [first, along, up] = [at(from[0], from[1]), at(to[0], from[1]), at(from[0], to[1])];
	if (!first || !along || !up) return undefined;
	const way = ([x, y]: readonly [number, number], n: number) => [(x - first[0]) / n, (y - first[1]) / n];
	return `matrix(${[...way(along, width), ...way(up, height), ...first].join(' ')})`;
}

export default function FlatDrawing({
	parts,
	blockers,
	cutBy,
	hidden,
	stageOnly,
	depthOf,
	laid,
}: Omit<Rendered, 'size'>) {
	const { world, built, current } = useDerived();
	const picture = useMemo(() => (laid ? pictureOf(laid) : null), [laid]);
	const tint = useBench((s) => s.tint);
	const pointed = useBench((s) => s.pointed);
	const dark = useTheme() === 'dark';
	const blocking = useMemo(() => blockingIn(built, blockers), [built, blockers]);
	const emphases = emphasesOf(world, current, { cutBy, pointed, blocking, tint });
	const shown = world.objects
		.filter((o) => !hidden.has(o.id))
		.map((object) => ({ object, depth: depthOf(object.position[2]) }))
		.sort((a, b) => a.depth - b.depth);
	return (
		<svg className="pointer-events-none absolute inset-0 size-full" role="img" aria-label="Shapes">
			{parts.map(({ view, rect, withStageOnly }) => (
				<svg
					key={`${rect.x} ${rect.y}`}
					{...{ x: rect.x, y: rect.y, width: rect.w, height: rect.h }}
					aria-hidden="true"
				>
					<rect width={rect.w} height={rect.h} fill="var(--ground)" />
					<g transform={`scale(${rect.w / view.width} ${rect.h / view.height})`}>
						{laid && picture && withStageOnly && (
							<image
								href={picture}
								width={laid.width}
								height={laid.height}
								preserveAspectRatio="none"
								transform={lying(view, laid)}
							/>
						)}
						{shown.map(({ object, depth }) => {
							if (!withStageOnly && stageOnly.has(object.id)) return null;
							const emphasis = emphases[object.index] as Emphasis;
							return object.shapes.map((shape) => (
								<path
									key={`${object.id} ${shape.index}`}
									data-object={object.id}
									d={worldLines(shape.body, true, depth)
										.map((line) => pathOf(view, line, true))
										.join('')}
									fill={shape.sensor ? 'none' : fillOf(tintOf(built, object, tint, dark), emphasis)}
									stroke="var(--ink)"
									strokeOpacity={emphasis === 'faint' ? 0.22 : 0.6}
									strokeDasharray={shape.sensor ? '4 3' : undefined}
									vectorEffect="non-scaling-stroke"
								/>
							));
						})}
					</g>
				</svg>
			))}
		</svg>
	);
}
