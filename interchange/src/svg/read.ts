/**
 * SVG 1.1 in: figures of a drawing as objects of a flat scene. One unit of the drawing is one metre, its Y points down and a scene's up,
 * and what is drawn later lies on top.
 */
import { oneLine, rounded, type Shape, slug, type Vec2, type Vec3 } from '@frelk/core';
import { buildPolygon } from '@frelk/core/geometry';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import svgpath from 'svgpath';
import { type Level, LevelError, type LevelNode } from '../level';

/** x' = a·x + c·y + e, y' = b·x + d·y + f. */
type Affine = readonly [number, number, number, number, number, number];
const IDENTITY: Affine = [1, 0, 0, 1, 0, 0];

const MOST_DEPTH = 256;
const MOST_FIGURES = 100_000;
/** How far a flattened curve may lie from the curve, as a part of the figure's size. */
const FLATNESS = 1 / 400;

const times = (m: Affine, n: Affine): Affine => [
	m[0] * n[0] + m[2] * n[1],
	m[1] * n[0] + m[3] * n[1],
	m[0] * n[2] + m[2] * n[3],
	m[1] * n[2] + m[3] * n[3],
	m[0] * n[4] + m[2] * n[5] + m[4],
	m[1] * n[4] + m[3] * n[5] + m[5],
];

/** What three points become by a transform attribute says it whole. */
function transformOf(text: string | undefined): Affine {
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

/** Units of a length, in those of the drawing. */
const UNITS: Record<string, number> = { '': 1, px: 1, pt: 96 / 72, pc: 16, mm: 96 / 25.4, cm: 96 / 2.54, in: 96 };

type Attributes = Record<string, string>;

interface Element {
	name: string;
	attributes: Attributes;
	children: unknown[];
}

const elementOf = (entry: unknown): Element | null => {
	const record = entry as Record<string, unknown>;
	const name = Object.keys(record).find((key) => key !== ':@');
	if (name === undefined || name.startsWith('#') || name.startsWith('?')) return null;
	return {
		name: name.replace(/^svg:/, ''),
		attributes: (record[':@'] ?? {}) as Attributes,
		children: Array.isArray(record[name]) ? (record[name] as unknown[]) : [],
	};
};

/** What holds figures that are drawn elsewhere, or nowhere. */
const UNSEEN = new Set([
	'defs',
	'symbol',
	'clipPath',
	'mask',
	'pattern',
	'marker',
	'metadata',
	'title',
	'desc',
	'style',
	'script',
]);
const FIGURES = new Set(['rect', 'circle', 'ellipse', 'polygon', 'polyline', 'path']);
const HOLDERS = new Set(['svg', 'g', 'a', 'switch']);

const isHidden = ({ display, visibility, style }: Attributes): boolean =>
	display === 'none' ||
	visibility === 'hidden' ||
	/(?:^|;)\s*(?:display\s*:\s*none|visibility\s*:\s*hidden)/.test(style ?? '');

/** A figure in its own axes: a shape, and what of it is not told as it is drawn. */
interface Figure {
	shape: Omit<Shape, 'id'> | null;
	/** Middle in the drawing's axes, and the turn about it in degrees, counter-clockwise with Y up. */
	middle: Vec2;
	turn: number;
	said: string | null;
}

const NONE = (said: string): Figure => ({ shape: null, middle: [0, 0], turn: 0, said });

/** A position of a figure's points, Y up. */
const up = (m: Affine, [x, y]: Vec2): Vec2 => [m[0] * x + m[2] * y + m[4], -(m[1] * x + m[3] * y + m[5])];

/** Scales along the axes and the turn, or null where the transform shears. */
function square(m: Affine): { sx: number; sy: number; turn: number } | null {
	const sx = Math.hypot(m[0], m[1]);
	const sy = Math.hypot(m[2], m[3]);
	if (sx < 1e-12 || sy < 1e-12 || Math.abs(m[0] * m[2] + m[1] * m[3]) > 1e-6 * sx * sy) return null;
	// Turned by the axis that stays an axis when the drawing is mirrored: a rectangle or circle is its own mirror image.
	return { sx, sy, turn: (-Math.atan2(m[1], m[0]) * 180) / Math.PI };
}

function ring(points: readonly Vec2[], said: string | null): Figure {
	const low: Vec2 = [Infinity, Infinity];
	const high: Vec2 = [-Infinity, -Infinity];
	for (const p of points)
		for (const k of [0, 1] as const) {
			low[k] = Math.min(low[k], p[k]);
			high[k] = Math.max(high[k], p[k]);
		}
	const middle: Vec2 = [rounded((low[0] + high[0]) / 2, 9), rounded((low[1] + high[1]) / 2, 9)];
	const own = points.map(([x, y]): Vec2 => [rounded(x - middle[0], 9), rounded(y - middle[1], 9)]);
	const hull = own.length < 3 ? null : buildPolygon(own);
	if (!hull) return NONE('has no area');
	const corners = hull.points.length / 3;
	const convex = isConvex(own);
	const kept =
		convex && own.length <= 200
			? own
			: Array.from({ length: corners }, (_, i): Vec2 => [hull.points[3 * i], hull.points[3 * i + 1]]);
	return {
		shape: { kind: 'polygon', points: kept } as never,
		middle,
		turn: 0,
		said: convex ? said : `${said === null ? '' : `${said}; `}is not convex: its hull is taken`,
	};
}

/** Whether a ring turns to one side alone, and once around. */
function isConvex(points: readonly Vec2[]): boolean {
	const distinct = points.filter((p, i) => p.join() !== points[(i + 1) % points.length]?.join());
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

function round(rx: number, ry: number, centre: Vec2, m: Affine): Figure {
	const of = square(m);
	if (rx === ry && of && Math.abs(of.sx - of.sy) <= 1e-6 * of.sx) {
		const middle = up(m, centre);
		return {
			shape: { kind: 'circle', radius: rounded(rx * of.sx, 9) } as never,
			middle: [rounded(middle[0], 9), rounded(middle[1], 9)],
			turn: 0,
			said: null,
		};
	}
	const points = Array.from({ length: 64 }, (_, i): Vec2 => {
		const turn = (2 * Math.PI * i) / 64;
		return up(m, [centre[0] + rx * Math.cos(turn), centre[1] + ry * Math.sin(turn)]);
	});
	return ring(points, 'ellipse taken as 64 straight sides');
}

/** Points along a path, curves in short pieces. */
function flattened(text: string): { points: Vec2[]; parts: number; curved: boolean } {
	const path = svgpath(text).abs().unshort().unarc();
	const error = (path as unknown as { err?: string }).err;
	if (error) throw new LevelError(oneLine(error));
	const points: Vec2[] = [];
	let parts = 0;
	let curved = false;
	path.iterate((segment, _i, x, y) => {
		const s = segment as unknown as [string, ...number[]];
		const n = s.slice(1) as number[];
		const at = (i: number) => n[i];
		switch (s[0]) {
			case 'M':
				parts++;
				points.push([at(0), at(1)]);
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
			case 'C':
			case 'Q': {
				curved = true;
				const c: Vec2[] =
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
				points.push(...alongCurve(c as [Vec2, Vec2, Vec2, Vec2]));
				break;
			}
		}
	});
	return { points, parts, curved };
}

/** A cubic curve without its start, in as many pieces as keep within the flatness. */
function alongCurve([a, b, c, d]: [Vec2, Vec2, Vec2, Vec2]): Vec2[] {
	const bend = Math.max(
		Math.hypot(a[0] - 2 * b[0] + c[0], a[1] - 2 * b[1] + c[1]),
		Math.hypot(b[0] - 2 * c[0] + d[0], b[1] - 2 * c[1] + d[1]),
	);
	const size = Math.max(1e-9, Math.hypot(d[0] - a[0], d[1] - a[1]), Math.hypot(b[0] - a[0], b[1] - a[1]));
	// The distance of a chord from a cubic is at most ¾ of its bend over the square of the number of pieces.
	const pieces = Math.min(64, Math.max(1, Math.ceil(Math.sqrt((0.75 * bend) / (size * FLATNESS)))));
	return Array.from({ length: pieces }, (_, i): Vec2 => {
		const t = (i + 1) / pieces;
		const u = 1 - t;
		const at = (k: 0 | 1) => u * u * u * a[k] + 3 * u * u * t * b[k] + 3 * u * t * t * c[k] + t * t * t * d[k];
		return [at(0), at(1)];
	});
}

function figureOf({ name, attributes }: Element, m: Affine): Figure {
	const length = (key: string): number => {
		const text = attributes[key];
		if (text === undefined) return 0;
		const found = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?)\s*([a-z%]*)\s*$/i.exec(text);
		const unit = found ? UNITS[(found[2] as string).toLowerCase()] : undefined;
		if (!found || unit === undefined)
			throw new LevelError(`${key}: ${oneLine(JSON.stringify(text))} is no length in px, pt, pc, mm, cm or in`);
		return Number(found[1]) * unit;
	};
	switch (name) {
		case 'rect': {
			const [x, y, w, h] = [length('x'), length('y'), length('width'), length('height')];
			if (!(w > 0 && h > 0)) return NONE('has no area');
			const said =
				attributes.rx !== undefined || attributes.ry !== undefined ? 'its corners are taken as square' : null;
			const of = square(m);
			if (!of)
				return ring(
					(
						[
							[x, y],
							[x + w, y],
							[x + w, y + h],
							[x, y + h],
						] as Vec2[]
					).map((p) => up(m, p)),
					said,
				);
			const middle = up(m, [x + w / 2, y + h / 2]);
			return {
				shape: { kind: 'rect', size: [rounded(w * of.sx, 9), rounded(h * of.sy, 9)] } as never,
				middle: [rounded(middle[0], 9), rounded(middle[1], 9)],
				turn: rounded(of.turn, 9),
				said,
			};
		}
		case 'circle':
			return length('r') > 0 ? round(length('r'), length('r'), [length('cx'), length('cy')], m) : NONE('has no area');
		case 'ellipse':
			return length('rx') > 0 && length('ry') > 0
				? round(length('rx'), length('ry'), [length('cx'), length('cy')], m)
				: NONE('has no area');
		case 'path': {
			const { points, parts, curved } = flattened(attributes.d ?? '');
			const said = [
				parts > 1 ? `${parts} parts taken as one` : '',
				curved ? 'curves taken as short straight sides' : '',
			];
			return ring(
				points.map((p) => up(m, p)),
				said.filter((s) => s !== '').join('; ') || null,
			);
		}
		default: {
			const numbers = (attributes.points ?? '').match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi)?.map(Number) ?? [];
			if (numbers.length % 2 === 1) throw new LevelError('points: an odd number of figures');
			const points = Array.from({ length: numbers.length / 2 }, (_, i): Vec2 => [numbers[2 * i], numbers[2 * i + 1]]);
			return ring(
				points.map((p) => up(m, p)),
				null,
			);
		}
	}
}

interface Walk {
	entries: unknown[];
	affine: Affine;
	path: string;
	classes: string[];
	layer: string | null;
	depth: number;
	/** The object all figures below belong to. */
	into: LevelNode | null;
}

/**
 * @param text an SVG file's
 * @param name the file's name
 * @throws LevelError with line and column where it is no SVG
 */
export function readSvg(text: string, name: string): Level {
	const valid = XMLValidator.validate(text);
	if (valid !== true)
		throw new LevelError(`${name}:${valid.err.line}: column ${valid.err.col}: ${oneLine(valid.err.msg)}`);
	const parser = new XMLParser({
		preserveOrder: true,
		ignoreAttributes: false,
		attributeNamePrefix: '',
		parseAttributeValue: false,
		parseTagValue: false,
		maxNestedTags: MOST_DEPTH + 8,
	});
	let parsed: unknown[];
	try {
		parsed = parser.parse(text) as unknown[];
	} catch (error) {
		throw new LevelError(`${name}: ${oneLine((error as Error).message)}`);
	}
	const root = parsed.map(elementOf).find((e) => e?.name === 'svg');
	if (!root) throw new LevelError(`${name}: is no SVG: its first element is not <svg>`);
	const level: Level = { kind: 'flat', name, nodes: [], cameras: [], notes: [], project: null, extent: 0, frame: null };
	const box = (root.attributes.viewBox ?? '')
		.trim()
		.split(/[\s,]+/)
		.map(Number);
	const [x = 0, y = 0, width = 0, height = 0] =
		box.length === 4 && box.every(Number.isFinite)
			? box
			: [0, 0, ...['width', 'height'].map((key) => Number.parseFloat(root.attributes[key] ?? '') || 0)];
	if (width > 0 && height > 0) level.frame = { middle: [x + width / 2, -(y + height / 2)], height };
	const taken = new Map<string, number>();
	const stack: Walk[] = [
		{ entries: root.children, affine: IDENTITY, path: '', classes: [], layer: null, depth: 1, into: null },
	];
	let order = 0;
	for (let walk = stack.pop(); walk; walk = stack.pop()) {
		if (walk.depth > MOST_DEPTH) throw new LevelError(`${name}: groups lie more than ${MOST_DEPTH} deep in each other`);
		for (let i = 0; i < walk.entries.length; i++) {
			const element = elementOf(walk.entries[i]);
			if (!element || UNSEEN.has(element.name)) continue;
			const { attributes } = element;
			const path = pathOf(element, walk.path, taken);
			const tell = (message: string) => level.notes.push({ path, message });
			if (isHidden(attributes)) {
				tell('is not shown: left out');
				continue;
			}
			const affine = times(walk.affine, placed(element));
			const classes = [...walk.classes, ...(attributes.class ?? '').split(/\s+/).filter((c) => c !== '')];
			const layer = attributes['data-layer'] ?? walk.layer;
			if (HOLDERS.has(element.name)) {
				let { into } = walk;
				if (attributes['data-object'] !== undefined && !into) {
					into = nodeFor(element, path, classes, layer, [0, 0], 0, order++);
					level.nodes.push(into);
				}
				// What follows the group is drawn after all that is in it.
				stack.push({ ...walk, entries: walk.entries.slice(i + 1) });
				stack.push({ entries: element.children, affine, path, classes, layer, depth: walk.depth + 1, into });
				break;
			}
			if (!FIGURES.has(element.name)) {
				tell(`<${oneLine(element.name)}> is no figure that is read: left out`);
				continue;
			}
			let figure: Figure;
			try {
				figure = figureOf(element, affine);
			} catch (error) {
				if (!(error instanceof LevelError)) throw error;
				figure = NONE(error.message);
			}
			const { shape, middle, turn, said } = figure;
			if (said) tell(shape ? said : `${said}: left out`);
			if (!shape) continue;
			if (!measured(shape, middle)) {
				tell('is too small, too large or too far out: left out');
				continue;
			}
			if (walk.into) addTo(walk.into, element, shape, middle, turn);
			else {
				const node = nodeFor(element, path, classes, layer, middle, turn, order++);
				node.colliders.push({ id: shape.kind, ...shape } as Shape);
				level.nodes.push(node);
			}
			if (level.nodes.length > MOST_FIGURES) throw new LevelError(`${name}: more than ${MOST_FIGURES} figures`);
		}
	}
	return { ...level, nodes: level.nodes.filter((n) => n.colliders.length > 0) };
}

/** Within the bounds of a file. */
function measured(shape: Omit<Shape, 'id'>, middle: Vec2): boolean {
	const { size, radius, points } = shape as { size?: number[]; radius?: number; points?: Vec2[] };
	const sizes = [...(size ?? []), ...(radius === undefined ? [] : [radius])];
	return (
		[...middle, ...(points ?? []).flat()].every((v) => Math.abs(v) <= 1e7) && sizes.every((v) => v >= 1e-6 && v <= 1e7)
	);
}

/** Where an element's own axes lie: its transform, and of a drawing in a drawing its place. */
function placed({ name, attributes }: Element): Affine {
	const m = transformOf(attributes.transform);
	if (name !== 'svg') return m;
	const [x, y] = ['x', 'y'].map((key) => Number.parseFloat(attributes[key] ?? '0') || 0) as Vec2;
	return times(m, [1, 0, 0, 1, x, y]);
}

function pathOf({ name, attributes }: Element, above: string, taken: Map<string, number>): string {
	const own = attributes.id ?? name;
	const plain = above === '' ? own : `${above}/${own}`;
	const n = (taken.get(plain) ?? 0) + 1;
	taken.set(plain, n);
	return n > 1 ? `${plain}#${n}` : plain;
}

const depthOf = (text: string | undefined, order: number): number => {
	const depth = Number.parseFloat(text ?? '');
	return Math.abs(depth) <= 1e7 ? depth : order;
};

function nodeFor(
	{ name, attributes }: Element,
	path: string,
	classes: readonly string[],
	layer: string | null,
	middle: Vec2,
	turn: number,
	order: number,
): LevelNode {
	return {
		path,
		name: oneLine(attributes['data-name'] ?? attributes.id ?? name, 200),
		parent: null,
		position: [middle[0], middle[1], depthOf(attributes['data-depth'], order)],
		rotation: [0, 0, turn],
		scale: [1, 1, 1],
		colliders: [],
		surface: null,
		tags: [...new Set(classes.map((c) => slug(c)).filter((c) => c !== ''))],
		id: attributes.id === undefined ? null : slug(attributes.id) || null,
		layer: layer === null ? null : slug(layer) || null,
		active: true,
		extras: undefined,
	};
}

/** A figure as one more shape of an object; the first gives the object its place. */
function addTo(node: LevelNode, element: Element, shape: Omit<Shape, 'id'>, middle: Vec2, turn: number): void {
	if (node.colliders.length === 0) node.position = [middle[0], middle[1], node.position[2]];
	const at: Vec3 = [rounded(middle[0] - node.position[0], 9), rounded(middle[1] - node.position[1], 9), 0];
	const ids = new Set(node.colliders.map((s) => s.id));
	const given = element.attributes.id ?? '';
	const own = given.startsWith(`${node.id}--`) ? given.slice((node.id ?? '').length + 2) : given;
	let id = slug(own) || shape.kind;
	for (let n = 2; ids.has(id); n++) id = `${shape.kind}-${n}`;
	node.colliders.push({
		id,
		...shape,
		...(at.some((v) => v !== 0) ? { at } : {}),
		...(turn === 0 ? {} : { rotation: [0, 0, turn] }),
	} as Shape);
}
