/** Areas of a drawing: filled by a rule, drawn with a pen of some width, and cut by clips. The clipping is a library's. */
import { rounded, type Vec2 } from '@frelk/core';
import ClipperLib, { type IntPoint, type Paths } from 'clipper-lib';
import { LevelError } from '../level';
import type { Region } from './convex';

/** Rings of points; what is inside of them says `FillRule`. */
export type Rings = readonly (readonly Vec2[])[];

/** The box around all of them; the wrong way round where there is no point. */
export function boxOf(rings: Rings): { low: Vec2; high: Vec2 } {
	const low: [number, number] = [Infinity, Infinity];
	const high: [number, number] = [-Infinity, -Infinity];
	for (const ring of rings)
		for (const p of ring)
			for (const k of [0, 1] as const) {
				low[k] = Math.min(low[k], p[k]);
				high[k] = Math.max(high[k], p[k]);
			}
	return { low, high };
}

/** A line that is drawn, and whether it ends where it begins. */
export interface Contour {
	points: readonly Vec2[];
	closed: boolean;
}

export interface Pen {
	width: number;
	cap: 'butt' | 'round' | 'square';
	join: 'miter' | 'round' | 'bevel';
	miter: number;
}

/** Whole steps that the largest extent of a figure is cut into: the library reckons in whole numbers. */
const STEPS = 2 ** 25;
/** Rings with more points are thinned out: what is left out lies nearer to the point before than such parts of the figure's size. */
export const MANY = 2000;
const THIN = [1e-4, 2e-4, 4e-4, 8e-4];
/** A ring that has more even so is none that anybody drew. */
const MOST = 10_000;

function thinned(path: IntPoint[]): IntPoint[] {
	let out = path;
	for (const part of THIN) {
		const least = (part * STEPS) ** 2;
		let last = out[0] as IntPoint;
		out = out.filter((p, i) => {
			if (i > 0 && (p.X - last.X) ** 2 + (p.Y - last.Y) ** 2 < least) return false;
			last = p;
			return true;
		});
		if (out.length <= MOST) return out;
	}
	throw new LevelError(`has a ring of ${path.length} corners, of which ${out.length} count; at most ${MOST} are taken`);
}

/** Between the numbers of a drawing and whole ones. */
class Scale {
	readonly by: number;
	/** Decimal places that a step is worth. */
	private readonly places: number;

	constructor(
		private readonly middle: Vec2,
		extent: number,
	) {
		this.by = STEPS / extent;
		this.places = Math.max(0, Math.min(12, Math.floor(Math.log10(this.by))));
	}

	/** @returns the scale that fits all of these; null where they have no extent */
	static of(rings: Rings, room: number): Scale | null {
		const { low, high } = boxOf(rings);
		const extent = Math.max(high[0] - low[0], high[1] - low[1]) + 2 * room;
		if (!(extent > 0 && Number.isFinite(extent))) return null;
		return new Scale([(low[0] + high[0]) / 2, (low[1] + high[1]) / 2], extent);
	}

	whole(ring: readonly Vec2[]): IntPoint[] {
		const path = ring.map(([x, y]) => ({
			X: Math.round((x - this.middle[0]) * this.by),
			Y: Math.round((y - this.middle[1]) * this.by),
		}));
		return path.length > MANY ? thinned(path) : path;
	}

	plain(path: readonly IntPoint[]): Vec2[] {
		return path.map(({ X, Y }) => [
			rounded(X / this.by + this.middle[0], this.places),
			rounded(Y / this.by + this.middle[1], this.places),
		]);
	}
}

const { ClipType, PolyType, PolyFillType, JoinType, EndType } = ClipperLib;
const RULES = { nonzero: PolyFillType.pftNonZero, evenodd: PolyFillType.pftEvenOdd };
const JOINS = { miter: JoinType.jtMiter, round: JoinType.jtRound, bevel: JoinType.jtSquare };
const CAPS = { butt: EndType.etOpenButt, round: EndType.etOpenRound, square: EndType.etOpenSquare };

/** Areas put together by a rule. */
function union(paths: Paths, rule: keyof typeof RULES = 'nonzero'): Paths {
	const clipper = new ClipperLib.Clipper();
	const out: Paths = [];
	clipper.AddPaths(paths, PolyType.ptSubject, true);
	clipper.Execute(ClipType.ctUnion, out, RULES[rule], RULES[rule]);
	return out;
}

/** Where a pen goes over. */
function penned(contours: readonly Contour[], pen: Pen, scale: Scale): Paths {
	const half = (pen.width / 2) * scale.by;
	const out: Paths = [];
	for (const { points, closed } of contours) {
		const path = scale.whole(points);
		const [first] = path;
		const isPoint = path.every((p) => p.X === first?.X && p.Y === first?.Y);
		// A line without length is drawn by its ends alone.
		if (isPoint && pen.cap === 'butt') continue;
		const offset = new ClipperLib.ClipperOffset(pen.miter, Math.max(0.25, half / 500));
		const end = closed && !isPoint ? EndType.etClosedLine : CAPS[pen.cap];
		offset.AddPath(isPoint ? path.slice(0, 1) : path, JOINS[pen.join], end);
		const made: Paths = [];
		offset.Execute(made, half);
		for (const ring of made) out.push(ring);
	}
	return out;
}

/**
 * @param contours of a figure
 * @param filled by which rule it is filled; null where it is not
 * @param pen what its outline is drawn with; null where it is not
 * @returns rings of its area, such that what is inside is so by the rule that is not zero
 */
export function areaOf(contours: readonly Contour[], filled: 'nonzero' | 'evenodd' | null, pen: Pen | null): Rings {
	const scale = Scale.of(
		contours.map((c) => c.points),
		pen ? pen.width * Math.max(1, pen.join === 'miter' ? pen.miter : 1) : 0,
	);
	if (!scale) return [];
	const parts: Paths = [];
	const add = (paths: Paths) => {
		for (const path of paths) parts.push(path);
	};
	if (filled)
		add(
			union(
				contours.filter((c) => c.points.length > 2).map((c) => scale.whole(c.points)),
				filled,
			),
		);
	if (pen) add(union(penned(contours, pen, scale)));
	return union(parts).map((path) => scale.plain(path));
}

/** @returns rings of what lies in both areas */
export function both(a: Rings, b: Rings): Rings {
	const scale = Scale.of([...a, ...b], 0);
	if (!scale || a.length === 0 || b.length === 0) return [];
	const clipper = new ClipperLib.Clipper();
	const whole = (rings: Rings) => rings.map((ring) => scale.whole(ring));
	clipper.AddPaths(whole(a), PolyType.ptSubject, true);
	clipper.AddPaths(whole(b), PolyType.ptClip, true);
	const out: Paths = [];
	clipper.Execute(ClipType.ctIntersection, out, RULES.nonzero, RULES.nonzero);
	return out.map((path) => scale.plain(path));
}

/** @returns rings of what lies in any of the areas */
export function joined(areas: readonly Rings[]): Rings {
	const all = areas.flat();
	const scale = Scale.of(all, 0);
	return scale ? union(all.map((ring) => scale.whole(ring))).map((path) => scale.plain(path)) : [];
}

/** @returns the connected parts of an area, each a ring with the holes in it */
export function regionsOf(rings: Rings): Region[] {
	const scale = Scale.of(rings, 0);
	if (!scale) return [];
	const clipper = new ClipperLib.Clipper();
	clipper.StrictlySimple = true;
	clipper.AddPaths(
		rings.map((ring) => scale.whole(ring)),
		PolyType.ptSubject,
		true,
	);
	const tree = new ClipperLib.PolyTree();
	clipper.Execute(ClipType.ctUnion, tree, RULES.nonzero, RULES.nonzero);
	const out: Region[] = [];
	const stack = [...tree.Childs()];
	for (let ring = stack.pop(); ring; ring = stack.pop()) {
		const holes = ring.Childs();
		out.push({ outer: scale.plain(ring.Contour()), holes: holes.map((hole) => scale.plain(hole.Contour())) });
		// What lies in a hole is a part of its own.
		for (const hole of holes) stack.push(...hole.Childs());
	}
	return out;
}
