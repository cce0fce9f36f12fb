/** A map drawn large: areas with their names; what is pointed at is told, and a cell can be chosen. */
import { CELL, type MapResult, namesOn, paint, shownIn } from '@frelk/core/maps';
import { useEffect, useMemo, useRef } from 'react';
import { nameOf } from '../../model/names';
import { useBench } from '../../model/use-bench';
import { DrawnShapes } from '../../ui/drawn-shapes';
import { useTheme } from '../../ui/theme';
import { MapNames } from './map-names';
import type { behindMap, planOf } from './plan';

/** Pixels of a cell at most, and of the whole. */
const MAX_BLOCK = 40;
const MOST = { w: 900, h: 560 };

/** @returns pixels of a cell's side, so that a map fits */
export const blockOf = ({ columns, rows }: MapResult, room: number): number =>
	Math.max(1, Math.min(MAX_BLOCK, Math.floor(Math.min(room - 4, MOST.w) / columns), Math.floor(MOST.h / rows)));

export function MapCanvas({
	label,
	result,
	block,
	heading = null,
	lit = null,
	want = null,
	marked = null,
	plan = null,
	behind = null,
	ring = null,
	point,
	choose,
}: {
	/** What it is called. */
	label: string;
	result: MapResult;
	block: number;
	heading?: number | null;
	lit?: number | null;
	/** Cells, 1 where one is marked; the others are dimmed. */
	marked?: Uint8Array | null;
	/** What is shown of a cell wherever any of its headings has it. */
	want?: number | null;
	/** What stands beneath, in cells. */
	plan?: ReturnType<typeof planOf>;
	/** The picture that is seen through it. */
	behind?: ReturnType<typeof behindMap>;
	/** The cell that is ringed. */
	ring?: { x: number; y: number } | null;
	/** Told of the cell that is pointed at, and null when none is. */
	point?: (cell: { x: number; y: number; value: number } | null) => void;
	choose?: (x: number, y: number) => void;
}) {
	const project = useBench((s) => s.project);
	const canvas = useRef<HTMLCanvasElement>(null);
	const dark = useTheme() === 'dark';
	const { columns, rows, objects } = result;
	const [width, height] = [columns * block, rows * block];
	const cells = useMemo(
		() =>
			Int32Array.from({ length: columns * rows }, (_, i) =>
				shownIn(result, i % columns, Math.floor(i / columns), heading, want),
			),
		[result, columns, rows, heading, want],
	);
	const names = useMemo(
		() => namesOn(cells, columns, rows, block, (value) => nameOf(project, 'object', objects[value] ?? '')),
		[cells, columns, rows, block, objects, project],
	);
	useEffect(() => {
		const pen = canvas.current?.getContext('2d');
		if (!pen || !canvas.current) return;
		canvas.current.width = width;
		canvas.current.height = height;
		const shown = new Int32Array(width * height);
		for (let y = 0, i = 0; y < height; y++)
			for (let x = 0; x < width; x++, i++) shown[i] = cells[Math.floor(y / block) * columns + Math.floor(x / block)];
		const pixels = paint(shown, width, height, { dark, lit, ...(behind ? { alpha: 0.75 } : {}) });
		if (marked)
			for (let y = 0, i = 0; y < height; y++)
				for (let x = 0; x < width; x++, i++)
					if (!marked[Math.floor(y / block) * columns + Math.floor(x / block)])
						pixels[4 * i + 3] = pixels[4 * i + 3] * 0.16;
		pen.putImageData(new ImageData(pixels, width, height), 0, 0);
	}, [cells, block, width, height, columns, dark, lit, marked, behind]);
	const at = (event: React.PointerEvent | React.MouseEvent): [number, number] => {
		const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
		return [Math.floor((event.clientX - box.left) / block), Math.floor((event.clientY - box.top) / block)];
	};
	const inside = (x: number, y: number) => x >= 0 && y >= 0 && x < columns && y < rows;
	return (
		<button
			type="button"
			aria-label={label}
			className="relative block border"
			style={{ width: width + 2, height: height + 2 }}
			onPointerMove={(event) => {
				const [x, y] = at(event);
				if (inside(x, y)) point?.({ x, y, value: cells[y * columns + x] ?? CELL.none });
			}}
			onPointerLeave={() => point?.(null)}
			onClick={(event) => {
				const [x, y] = event.detail === 0 ? [columns >> 1, rows >> 1] : at(event);
				if (inside(x, y)) choose?.(x, y);
			}}
		>
			{behind && (
				<svg
					aria-hidden="true"
					viewBox={`0 0 ${behind.width} ${behind.height}`}
					preserveAspectRatio="none"
					className="absolute inset-0 size-full"
				>
					<DrawnShapes shapes={behind.shapes} />
				</svg>
			)}
			<canvas ref={canvas} className="relative block" />
			<svg aria-hidden="true" width={width} height={height} className="pointer-events-none absolute inset-0">
				{plan && (
					<g transform={`scale(${block})`} fill="none">
						<path d={plan.lines} stroke="var(--panel)" strokeWidth={2.6 / block} opacity="0.7" />
						<path d={plan.lines} stroke="var(--ink)" strokeWidth={1 / block} />
						{plan.asker && (
							<g
								transform={`translate(${plan.asker.x} ${plan.asker.y}) rotate(${plan.asker.turn}) scale(${1 / block})`}
							>
								<path d="M9 0L-6 6L-3 0L-6 -6Z" fill="var(--ink)" stroke="var(--panel)" strokeWidth="1.5" />
							</g>
						)}
					</g>
				)}
				{ring && (
					<g fill="none" transform={`translate(${(ring.x + 0.5) * block} ${(ring.y + 0.5) * block})`}>
						<circle r="9" stroke="var(--panel)" strokeWidth="5" />
						<circle r="9" stroke="var(--ink)" strokeWidth="2" />
						<path d="M-14 0h28M0 -14v28" stroke="var(--ink)" />
					</g>
				)}
				<MapNames names={names} />
			</svg>
		</button>
	);
}
