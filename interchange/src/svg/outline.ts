/** The outlines of a drawing's figures, curves in short straight pieces. */
import { oneLine, type Vec2 } from '@frelk/core';
import svgpath from 'svgpath';
import { LevelError } from '../level';
import type { Contour } from './region';

/** How far a flattened curve may lie from the curve, as a part of the curve's size. */
const FLATNESS = 1 / 600;
/** Pieces of a curve at most. */
const MAX_PIECES = 64;

type Attributes = Readonly<Record<string, string>>;

/** Units of a length, in those of the drawing. */
const UNITS: Record<string, number> = {
	'': 1,
	px: 1,
	pt: 96 / 72,
	pc: 16,
	mm: 96 / 25.4,
	cm: 96 / 2.54,
	in: 96,
	em: 16,
	ex: 8,
};

/** @throws LevelError for what is no length */
export function lengthIn(attributes: Attributes, key: string, otherwise = 0): number {
	const text = attributes[key];
	if (text === undefined) return otherwise;
	const found = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([a-z%]*)\s*$/i.exec(text);
	const unit = found ? UNITS[(found[2] as string).toLowerCase()] : undefined;
	if (!found || unit === undefined)
		throw new LevelError(`${key}: ${oneLine(JSON.stringify(text), 80)} is no length in px, pt, pc, mm, cm or in`);
	return Number(found[1]) * unit;
}

/** What of a figure a project has a shape of its own for. */
export type Plain =
	| { kind: 'rect'; x: number; y: number; width: number; height: number }
	| { kind: 'ellipse'; cx: number; cy: number; rx: number; ry: number };

export interface Outline {
	plain: Plain | null;
	contours: Contour[];
	/** What is not told as it is drawn. */
	said: string | null;
}

const NOTHING: Outline = { plain: null, contours: [], said: null };

/** Sides that a round figure is told by. */
const SIDES = 64;

function ellipseOf(cx: number, cy: number, rx: number, ry: number): Vec2[] {
	return Array.from({ length: SIDES }, (_, i): Vec2 => {
		const turn = (2 * Math.PI * i) / SIDES;
		return [cx + rx * Math.cos(turn), cy + ry * Math.sin(turn)];
	});
}

/** @throws LevelError where an attribute is not what it has to be */
export function outlineOf(name: string, attributes: Attributes): Outline {
	const length = (key: string) => lengthIn(attributes, key);
	switch (name) {
		case 'rect': {
			const [x, y, width, height] = [length('x'), length('y'), length('width'), length('height')];
			if (!(width > 0 && height > 0)) return NOTHING;
			// One radius says both; none is longer than half its side.
			const given = (key: string, other: string) => Math.max(0, length(attributes[key] === undefined ? other : key));
			const [rx, ry] = [Math.min(given('rx', 'ry'), width / 2), Math.min(given('ry', 'rx'), height / 2)];
			const [right, bottom] = [x + width, y + height];
			if (rx === 0 || ry === 0)
				return {
					plain: { kind: 'rect', x, y, width, height },
					contours: [
						{
							points: [
								[x, y],
								[right, y],
								[right, bottom],
								[x, bottom],
							],
							closed: true,
						},
					],
					said: null,
				};
			const arc = `a${rx} ${ry} 0 0 1`;
			const d = `M${x + rx} ${y}H${right - rx}${arc} ${rx} ${ry}V${bottom - ry}${arc} ${-rx} ${ry}H${x + rx}${arc} ${-rx} ${-ry}V${y + ry}${arc} ${rx} ${-ry}z`;
			return {
				plain: null,
				contours: contoursOf(d).contours,
				said: 'its round corners are taken as short straight sides',
			};
		}
		case 'circle':
		case 'ellipse': {
			const [rx, ry] = name === 'circle' ? [length('r'), length('r')] : [length('rx'), length('ry')];
			if (!(rx > 0 && ry > 0)) return NOTHING;
			const [cx, cy] = [length('cx'), length('cy')];
			return {
				plain: { kind: 'ellipse', cx, cy, rx, ry },
				contours: [{ points: ellipseOf(cx, cy, rx, ry), closed: true }],
				said: null,
			};
		}
		case 'line': {
			const points: Vec2[] = [
				[length('x1'), length('y1')],
				[length('x2'), length('y2')],
			];
			return { plain: null, contours: [{ points, closed: false }], said: null };
		}
		case 'path': {
			const { contours, curved } = contoursOf(attributes.d ?? '');
			return { plain: null, contours, said: curved ? 'curves taken as short straight sides' : null };
		}
		default: {
			const numbers = (attributes.points ?? '').match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi)?.map(Number) ?? [];
			if (numbers.length % 2 === 1) throw new LevelError('points: an odd number of figures');
			const points = Array.from({ length: numbers.length / 2 }, (_, i): Vec2 => [numbers[2 * i], numbers[2 * i + 1]]);
			return points.length === 0
				? NOTHING
				: { plain: null, contours: [{ points, closed: name === 'polygon' }], said: null };
		}
	}
}

/** The lines of a path, each with whether it is closed. */
function contoursOf(text: string): { contours: Contour[]; curved: boolean } {
	const path = svgpath(text).abs().unshort().unarc();
	const error = (path as unknown as { err?: string }).err;
	if (error) throw new LevelError(oneLine(error, 200));
	const contours: { points: Vec2[]; closed: boolean }[] = [];
	let points: Vec2[] = [];
	let curved = false;
	const begin = (at: Vec2) => {
		points = [at];
		contours.push({ points, closed: false });
	};
	path.iterate((segment, _i, x, y) => {
		const s = segment as unknown as [string, ...number[]];
		const n = s.slice(1) as number[];
		const at = (i: number) => n[i];
		// What follows a closed line without a move begins where that began.
		if (s[0] !== 'M' && s[0] !== 'Z' && s[0] !== 'z' && (contours.length === 0 || contours.at(-1)?.closed))
			begin([x, y]);
		switch (s[0]) {
			case 'M':
				begin([at(0), at(1)]);
				break;
			case 'L':
				points.push([at(0), at(1)]);
				break;
			case 'H':
				points.push([at(0), y]);
				break;
			case 'V':
				points.push([x, at(0)]);
				break;
			case 'Z':
			case 'z': {
				const last = contours.at(-1);
				if (last) last.closed = true;
				break;
			}
			case 'C':
			case 'Q': {
				curved = true;
				const c: [Vec2, Vec2, Vec2, Vec2] =
					s[0] === 'C'
						? [
								[x, y],
								[at(0), at(1)],
								[at(2), at(3)],
								[at(4), at(5)],
							]
						: [
								[x, y],
								[x + (2 / 3) * (at(0) - x), y + (2 / 3) * (at(1) - y)],
								[at(2) + (2 / 3) * (at(0) - at(2)), at(3) + (2 / 3) * (at(1) - at(3))],
								[at(2), at(3)],
							];
				addCurve(c, points);
				break;
			}
		}
	});
	return { contours, curved };
}

/** A cubic curve without its start, in as many pieces as keep within the flatness. */
function addCurve([a, b, c, d]: [Vec2, Vec2, Vec2, Vec2], points: Vec2[]): void {
	const bend = Math.max(
		Math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]),
		Math.hypot(b[0] - 2 * c[0] + d[0], b[1] - 2 * c[1] + d[1]),
	);
	const size = Math.max(1e-9, Math.hypot(d[0] - a[0], d[1] - a[1]), Math.hypot(b[0] - a[0], b[1] - a[1]));
	// The distance of a chord from a cubic is at most ¾ of its bend over the square of the number of pieces.
	const pieces = Math.min(MAX_PIECES, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / (size * FLATNESS)))));
	for (let i = 1; i <= pieces; i++) {
		const t = i / pieces;
		const u = 1 - t;
		const at = (k: 0 | 1) => u * u * u * a[k] + 3 * u * u * t * b[k] + 3 * u * t * t * c[k] + t * t * t * d[k];
		points.push([at(0), at(1)]);
	}
}
