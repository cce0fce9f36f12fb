/** Transforms of a drawing. */
import type { Vec2 } from '@frelk/core';
import svgpath from 'svgpath';

/** x' = a·x + c·y + e, y' = b·x + d·y + f. */
export type Affine = readonly [number, number, number, number, number, number];
export const IDENTITY: Affine = [1, 0, 0, 1, 0, 0];

export const times = (m: Affine, n: Affine): Affine => [
	m[0] * n[0] + m[2] * n[1],
	m[1] * n[0] + m[3] * n[1],
	m[0] * n[2] + m[2] * n[3],
	m[1] * n[2] + m[3] * n[3],
	m[0] * n[4] + m[2] * n[5] + m[4],
	m[1] * n[4] + m[3] * n[5] + m[5],
];

/** A point of an element's own axes in the drawing, whose Y points down. */
export const moved = (m: Affine, [x, y]: Vec2): Vec2 => [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];

/** What three points become by a transform attribute says it whole. */
export function transformOf(text: string | undefined): Affine {
	if (text === undefined || text.trim() === '') return IDENTITY;
	const to: Vec2[] = [];
	svgpath('M0 0L1 0L0 1')
		.transform(text)
		.iterate((segment) => {
			to.push([segment[1] as number, segment[2] as number]);
		});
	const [o, x, y] = to as [Vec2, Vec2, Vec2];
	return [x[0] - o[0], x[1] - o[1], y[0] - o[0], y[1] - o[1], o[0], o[1]];
}

/** Scales along the axes and the turn in degrees, or null where the transform shears. */
export function square(m: Affine): { sx: number; sy: number; turn: number } | null {
	const sx = Math.hypot(m[0], m[1]);
	const sy = Math.hypot(m[2], m[3]);
	if (sx < 1e-12 || sy < 1e-12 || Math.abs(m[0] * m[2] + m[1] * m[3]) > 1e-6 * sx * sy) return null;
	// Turned by the axis that stays an axis when the drawing is mirrored: a rectangle or circle is its own mirror image.
	return { sx, sy, turn: (-Math.atan2(m[1], m[0]) * 180) / Math.PI };
}

/** The box a drawing within a drawing shows of itself. */
interface ViewBox {
	x: number;
	y: number;
	width: number;
	height: number;
}

/** @returns the box, or null where the attribute says none of any size */
export function viewBoxOf(text: string | undefined): ViewBox | null {
	const numbers = (text ?? '')
		.trim()
		.split(/[\s,]+/)
		.map(Number);
	const [x = Number.NaN, y = 0, width = 0, height = 0] = numbers;
	const sound = numbers.length === 4 && numbers.every((v) => Math.abs(v) <= 1e7) && width > 1e-6 && height > 1e-6;
	return sound ? { x, y, width, height } : null;
}

/** How a view box lies in the room that is given to it (preserveAspectRatio). */
export function fitted(box: ViewBox, width: number, height: number, how: string | undefined): Affine {
	const [align = 'xMidYMid', way = 'meet'] = (how ?? '').trim().split(/\s+/).filter(Boolean);
	const [sx, sy] = [width / box.width, height / box.height];
	if (align === 'none') return [sx, 0, 0, sy, -box.x * sx, -box.y * sy];
	const s = way === 'slice' ? Math.max(sx, sy) : Math.min(sx, sy);
	const share = (name: string) => (name === 'Min' ? 0 : name === 'Max' ? 1 : 0.5);
	const [, h = 'Mid', v = 'Mid'] = /^x(Min|Mid|Max)Y(Min|Mid|Max)$/.exec(align) ?? [];
	return [s, 0, 0, s, (width - s * box.width) * share(h) - box.x * s, (height - s * box.height) * share(v) - box.y * s];
}
