/** A figure of a drawing as shapes of one object: as it is painted, in parts where it is not convex. */
import { rounded, type Shape, type Vec2 } from '@frelk/core';
import { buildPolygon } from '@frelk/core/geometry';
import { type Affine, moved, square } from './affine';
import { convexParts, type Region } from './convex';
import { lengthIn, type Outline } from './outline';
import { areaOf, both, boxOf, MANY, type Pen, type Rings, regionsOf } from './region';
import type { Style } from './style';

/** Shapes in the axes of an object that stands at `middle`, turned by `turn` degrees counter-clockwise with Y up. */
export interface Figure {
	shapes: Omit<Shape, 'id'>[];
	middle: Vec2;
	turn: number;
	/** What of it is not told as it is drawn, or why there is nothing of it. */
	said: string | null;
}

const nothing = (said: string): Figure => ({ shapes: [], middle: [0, 0], turn: 0, said });
const r9 = (v: number): number => rounded(v, 9);
/** Y up. */
const up = (m: Affine, p: Vec2): Vec2 => {
	const [x, y] = moved(m, p);
	return [x, -y];
};

/** Corners of a polygon that stays as it was drawn; a longer one is told by the corners of its hull. */
const MAX_CORNERS = 200;
/** Parts of one figure; more are a texture, and no thing one points at. */
const MAX_PARTS = 20_000;

/** How a figure is drawn on its outline; null where it is not. @param outlines whether the drawing's outlines count */
export function penOf(style: Style, outlines: boolean): Pen | null {
	if (!outlines || style.stroke === 'none') return null;
	const width = Number.isFinite(Number.parseFloat(style['stroke-width']))
		? lengthIn({ width: style['stroke-width'] }, 'width')
		: 1;
	if (!(width > 0)) return null;
	const cap = style['stroke-linecap'];
	const join = style['stroke-linejoin'];
	return {
		width,
		cap: cap === 'round' || cap === 'square' ? cap : 'butt',
		join: join === 'round' || join === 'bevel' ? join : 'miter',
		miter: Math.max(1, Number.parseFloat(style['stroke-miterlimit']) || 4),
	};
}

/**
 * @param outline in its own axes
 * @param m from there into the drawing
 * @param clips areas of the drawing outside of which nothing is seen
 */
export function figureOf(outline: Outline, style: Style, pen: Pen | null, m: Affine, clips: readonly Rings[]): Figure {
	const filled = style.fill !== 'none';
	if (!filled && !pen) return nothing('is not painted');
	if (outline.contours.length === 0) return nothing('has no area');
	if (clips.length === 0) {
		const own = plainOf(outline, filled, pen, m) ?? (filled && !pen ? convexOf(outline, m) : null);
		if (own) return own;
	}
	const rule = filled ? (style['fill-rule'] === 'evenodd' ? 'evenodd' : 'nonzero') : null;
	let rings: Rings = areaOf(outline.contours, rule, pen).map((ring) => ring.map((p) => moved(m, p)));
	for (const clip of clips) rings = both(rings, clip);
	return inParts(rings, outline.said);
}

/** A rectangle or a circle, also with an outline that keeps it one; null for all else. */
function plainOf({ plain, said }: Outline, filled: boolean, pen: Pen | null, m: Affine): Figure | null {
	const of = square(m);
	if (!plain || !of || !filled || (pen && plain.kind === 'rect' && (pen.join !== 'miter' || pen.miter < Math.SQRT2)))
		return null;
	const grown = pen?.width ?? 0;
	if (plain.kind === 'rect') {
		const [w, h] = [plain.width + grown, plain.height + grown];
		const middle = up(m, [plain.x + plain.width / 2, plain.y + plain.height / 2]);
		return {
			shapes: [{ kind: 'rect', size: [r9(w * of.sx), r9(h * of.sy)] } as Omit<Shape, 'id'>],
			middle: [r9(middle[0]), r9(middle[1])],
			turn: r9(of.turn),
			said,
		};
	}
	if (plain.rx !== plain.ry || Math.abs(of.sx - of.sy) > 1e-6 * of.sx) return null;
	const middle = up(m, [plain.cx, plain.cy]);
	return {
		shapes: [{ kind: 'circle', radius: r9((plain.rx + grown / 2) * of.sx) } as Omit<Shape, 'id'>],
		middle: [r9(middle[0]), r9(middle[1])],
		turn: 0,
		said,
	};
}

/** One ring that is convex, corner by corner as it was drawn; null for all else. */
function convexOf({ contours, plain, said }: Outline, m: Affine): Figure | null {
	const rings = contours.filter((c) => c.points.length > 1);
	const [only] = rings;
	if (rings.length !== 1 || !only || only.points.length > MANY) return null;
	const points = only.points.map((p) => up(m, p));
	if (!isConvex(points)) return null;
	const words = plain?.kind === 'ellipse' ? 'ellipse taken as 64 straight sides' : said;
	return inParts([points.map(([x, y]): Vec2 => [x, -y])], words, true);
}

/** @param asDrawn whether it is one convex ring, to be kept as it is */
function inParts(rings: Rings, said: string | null, asDrawn = false): Figure {
	const { low, high } = boxOf(rings);
	if (!(high[0] > low[0] && high[1] > low[1])) return nothing('has no area');
	const middle: Vec2 = [r9((low[0] + high[0]) / 2), r9(-(low[1] + high[1]) / 2)];
	const own = ([x, y]: Vec2): Vec2 => [r9(x - middle[0]), r9(-y - middle[1])];
	const parts = asDrawn
		? rings.map((ring) => [...ring])
		: regionsOf(rings).flatMap((region) => (isNearlyConvex(region) ? [[...region.outer]] : convexParts(region)));
	if (parts.length > MAX_PARTS) return nothing(`comes to ${parts.length} convex parts, at most ${MAX_PARTS} are taken`);
	const shapes = parts.flatMap((part): Omit<Shape, 'id'>[] => {
		const points = part.map(own);
		const hull = points.length < 3 ? null : buildPolygon(points);
		if (!hull) return [];
		const corners = Array.from(
			{ length: hull.points.length / 3 },
			(_, i): Vec2 => [hull.points[3 * i], hull.points[3 * i + 1]],
		);
		const kept = points.length <= MAX_CORNERS ? points : corners;
		return kept.length > 10_000 ? [] : [{ kind: 'polygon', points: kept } as Omit<Shape, 'id'>];
	});
	if (shapes.length === 0) return nothing('has no area');
	const inSeveral = shapes.length > 1 ? `taken in ${shapes.length} convex parts` : '';
	return { shapes, middle, turn: 0, said: [said ?? '', inSeveral].filter((s) => s !== '').join('; ') || null };
}

const areaIn = (ring: ArrayLike<Vec2>): number => {
	let sum = 0;
	for (let i = 0; i < ring.length; i++) {
		const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
		sum += a[0] * b[1] - a[1] * b[0];
	}
	return Math.abs(sum) / 2;
};

/** What a hull may have more than the ring it is of, as a part of it: what rounding bent inward is no notch. */
const NOTCH = 1e-5;

/** Whether a region is its own hull, but for rounding. */
function isNearlyConvex({ outer, holes }: Region): boolean {
	if (holes.length > 0) return false;
	const hull = buildPolygon([...outer]);
	if (!hull) return false;
	const corners = Array.from(
		{ length: hull.points.length / 3 },
		(_, i): Vec2 => [hull.points[3 * i], hull.points[3 * i + 1]],
	);
	return areaIn(corners) - areaIn(outer) <= NOTCH * areaIn(outer);
}

/** Whether a ring turns to one side alone, and once around. */
function isConvex(points: readonly Vec2[]): boolean {
	const distinct = points.filter((p, i) => {
		const next = points[(i + 1) % points.length] as Vec2;
		return p[0] !== next[0] || p[1] !== next[1];
	});
	let sign = 0;
	let around = 0;
	for (let i = 0; i < distinct.length; i++) {
		const [a, b, c] = [0, 1, 2].map((k) => distinct[(i + k) % distinct.length]) as [Vec2, Vec2, Vec2];
		const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]];
		const cross = ux * vy - uy * vx;
		const limit = 1e-9 * Math.hypot(ux, uy) * Math.hypot(vx, vy);
		around += Math.atan2(cross, ux * vx + uy * vy);
		if (Math.abs(cross) <= limit) continue;
		if (sign !== 0 && Math.sign(cross) !== sign) return false;
		sign = Math.sign(cross);
	}
	return Math.abs(Math.abs(around) - 2 * Math.PI) < 0.01;
}
