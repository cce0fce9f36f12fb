/**
 * SVG in: figures of a drawing, as they are painted, as objects of a flat scene. One unit of the drawing is one metre, its Y points down
 * and a scene's up, and what is drawn later lies on top.
 */
import { oneLine, rounded, type Shape, slug, type Vec2, type Vec3 } from '@frelk/core';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { type Level, LevelError, type LevelNode, MAX_NODES } from '../level';
import { type Affine, fitted, IDENTITY, moved, times, transformOf, viewBoxOf } from './affine';
import { type Figure, figureOf, penOf } from './figure';
import { lengthIn, outlineOf } from './outline';
import { areaOf, both, joined, type Rings } from './region';
import { INITIAL, Sheets, type Style, type Styled } from './style';

const MAX_DEPTH = 256;
/** Elements looked at, those that are used again counted each time. */
const MAX_VISITS = 1_000_000;
/** Clips within clips. */
const MAX_CLIPS = 8;

interface Element extends Styled {
	attributes: Record<string, string>;
	parent: Element | null;
	children: Element[];
}

/** What holds figures that are drawn elsewhere, or nowhere. */
const UNSEEN = new Set([
	'defs',
	'symbol',
	'clipPath',
	'mask',
	'pattern',
	'marker',
	'linearGradient',
	'radialGradient',
	'filter',
	'metadata',
	'title',
	'desc',
	'style',
	'script',
	'animate',
	'animateTransform',
	'set',
]);
const FIGURES = new Set(['rect', 'circle', 'ellipse', 'polygon', 'polyline', 'path', 'line']);
const HOLDERS = new Set(['svg', 'g', 'a', 'switch']);

const textIn = (entries: unknown): string =>
	Array.isArray(entries)
		? entries
				.map((e) => {
					const record = e as Record<string, unknown>;
					return '#text' in record ? String(record['#text']) : '__cdata' in record ? textIn(record.__cdata) : '';
				})
				.join('')
		: '';

/** The elements of a drawing as a tree, its style sheets read and its ids noted, without a call for each level. */
function treeOf(parsed: unknown[], sheets: Sheets): { root: Element | null; byId: Map<string, Element> } {
	const byId = new Map<string, Element>();
	let root: Element | null = null;
	const stack: { entries: unknown[]; parent: Element | null; depth: number }[] = [
		{ entries: parsed, parent: null, depth: 0 },
	];
	for (let at = stack.pop(); at; at = stack.pop()) {
		if (at.depth > MAX_DEPTH) throw new LevelError(`groups lie more than ${MAX_DEPTH} deep in each other`);
		for (const entry of at.entries) {
			const record = entry as Record<string, unknown>;
			const key = Object.keys(record).find((k) => k !== ':@');
			if (key === undefined || key.startsWith('#') || key.startsWith('?') || key === '__cdata') continue;
			const name = key.replace(/^svg:/, '');
			const inner = Array.isArray(record[key]) ? (record[key] as unknown[]) : [];
			const attributes = (record[':@'] ?? {}) as Record<string, string>;
			const element: Element = { name, attributes, parent: at.parent, children: [] };
			if (name === 'style') sheets.add(textIn(inner));
			if (attributes.id !== undefined && !byId.has(attributes.id)) byId.set(attributes.id, element);
			if (at.parent) at.parent.children.push(element);
			else if (name === 'svg') root ??= element;
			if (inner.length > 0) stack.push({ entries: inner, parent: element, depth: at.depth + 1 });
		}
	}
	return { root, byId };
}

/** The id that a reference names, within the drawing itself. */
const referred = (text: string | undefined): string | null =>
	/^\s*(?:url\(\s*["']?)?#([^"')]+?)["']?\s*\)?\s*$/.exec(text ?? '')?.[1] ?? null;

interface Walk {
	elements: readonly Element[];
	/** The place of the next of them. */
	at: number;
	affine: Affine;
	path: string;
	style: Style;
	classes: readonly string[];
	layer: string | null;
	depth: number;
	/** The object all figures below belong to. */
	into: LevelNode | null;
	clips: readonly Rings[];
	/** Whether outlines count as far as they are drawn. */
	outlines: boolean;
	/** Elements that are used to come here: none is used in itself. */
	using: readonly Element[];
}

class Reader {
	readonly level: Level;
	private readonly taken = new Map<string, number>();
	private readonly ids = new Map<LevelNode, Map<string, number>>();
	private visits = 0;
	private order = 0;
	private readonly low: [number, number] = [Infinity, Infinity];
	private readonly high: [number, number] = [-Infinity, -Infinity];

	constructor(
		private readonly name: string,
		private readonly sheets: Sheets,
		private readonly byId: ReadonlyMap<string, Element>,
	) {
		this.level = {
			kind: 'flat',
			name,
			nodes: [],
			cameras: [],
			animations: [],
			notes: [],
			project: null,
			extent: 0,
			frame: null,
		};
	}

	read(root: Element): Level {
		const box = viewBoxOf(root.attributes.viewBox);
		const size = ['width', 'height'].map((key) => Number.parseFloat(root.attributes[key] ?? '') || 0) as [
			number,
			number,
		];
		const [x, y, width, height] = box ? [box.x, box.y, box.width, box.height] : [0, 0, ...size];
		if (width > 0 && height > 0 && width <= 1e7 && height <= 1e7)
			this.level.frame = { middle: [x + width / 2, -(y + height / 2)], height };
		else if (root.attributes.viewBox !== undefined)
			this.level.notes.push({ path: 'svg', message: 'its viewBox shows nothing that could be looked at: left out' });
		const stack: Walk[] = [
			{
				elements: root.children,
				at: 0,
				affine: IDENTITY,
				path: '',
				style: this.sheets.styleOf(root, INITIAL),
				classes: [],
				layer: null,
				depth: 1,
				into: null,
				clips: [],
				outlines: root.attributes['data-outlines'] !== 'ornament',
				using: [],
			},
		];
		for (let walk = stack.at(-1); walk; walk = stack.at(-1)) {
			const element = walk.elements[walk.at++];
			if (!element) stack.pop();
			else {
				const below = this.visit(element, walk);
				if (below) stack.push(below);
			}
		}
		if (this.sheets.skipped > 0)
			this.level.notes.push({
				path: 'style',
				message: `${this.sheets.skipped} selectors of its style sheets are of kinds that are not read: left out`,
			});
		this.level.nodes = this.level.nodes.filter((n) => n.colliders.length > 0);
		if (this.high[0] > this.low[0])
			this.level.extent = Math.hypot(this.high[0] - this.low[0], this.high[1] - this.low[1]);
		return this.level;
	}

	/** @returns what is to be walked in place of the element, or null */
	private visit(element: Element, walk: Walk): Walk | null {
		if (UNSEEN.has(element.name)) return null;
		if (++this.visits > MAX_VISITS)
			throw new LevelError(`${this.name}: comes to more than ${MAX_VISITS} elements; do things use each other?`);
		if (walk.depth > MAX_DEPTH) throw new LevelError(`groups lie more than ${MAX_DEPTH} deep in each other`);
		const { attributes } = element;
		const path = this.pathOf(element, walk.path);
		const tell = (message: string) => this.level.notes.push({ path, message });
		const style = this.sheets.styleOf(element, walk.style);
		if (style.display === 'none') {
			tell('is not shown: left out');
			return null;
		}
		let affine: Affine;
		let clips: readonly Rings[];
		try {
			affine = times(walk.affine, transformOf(attributes.transform));
			clips = this.clipped(element, style, affine, walk.clips);
		} catch (error) {
			if (!(error instanceof LevelError)) throw error;
			tell(`${error.message}: left out`);
			return null;
		}
		const classes = [...walk.classes, ...(attributes.class ?? '').split(/\s+/).filter((c) => c !== '')];
		const layer = attributes['data-layer'] ?? walk.layer;
		const below: Walk = { ...walk, elements: element.children, at: 0, affine, path, style, classes, layer, clips };
		below.depth++;
		if (element.name === 'use') return this.used(element, below, tell);
		if (HOLDERS.has(element.name)) {
			if (attributes['data-object'] !== undefined && !walk.into) {
				below.into = this.nodeFor(element, path, classes, layer, [0, 0], 0);
				this.level.nodes.push(below.into);
			}
			return element.name === 'svg' ? this.inner(element, below, attributes) : below;
		}
		if (!FIGURES.has(element.name)) {
			tell(`<${oneLine(element.name, 40)}> is no figure that is read: left out`);
			return null;
		}
		if (style.visibility === 'hidden' || style.visibility === 'collapse') {
			tell('is not shown: left out');
			return null;
		}
		this.addFigure(element, below, tell);
		return null;
	}

	/** A drawing in a drawing: its place, the part of it that is shown, and how that fits. */
	private inner({ attributes }: Element, below: Walk, given: Readonly<Record<string, string>>): Walk {
		const box = viewBoxOf(attributes.viewBox);
		const length = (key: string) => {
			const text = given[key] ?? attributes[key];
			return text === undefined || text.trim().endsWith('%') ? Number.NaN : lengthIn({ [key]: text }, key);
		};
		const [width, height] = [length('width'), length('height')];
		const [x, y] = [length('x') || 0, length('y') || 0];
		let affine = times(below.affine, [1, 0, 0, 1, x, y]);
		// A part of unknown size has no end that anything could be cut at.
		if (width > 0 && height > 0) {
			const ring = [
				[0, 0],
				[width, 0],
				[width, height],
				[0, height],
			].map((p) => moved(affine, p as [number, number]));
			below.clips = [...below.clips, [ring]];
			if (box) affine = times(affine, fitted(box, width, height, attributes.preserveAspectRatio));
		}
		return { ...below, affine };
	}

	/** What is drawn where something is used again. */
	private used(element: Element, below: Walk, tell: (message: string) => void): Walk | null {
		const { attributes } = element;
		const id = referred(attributes.href ?? attributes['xlink:href']);
		const target = id === null ? undefined : this.byId.get(id);
		if (!target) {
			tell('uses what is not in this drawing: left out');
			return null;
		}
		if (below.using.includes(target)) {
			tell('is used in itself: left out');
			return null;
		}
		const using = [...below.using, target];
		const affine = times(below.affine, [1, 0, 0, 1, lengthIn(attributes, 'x'), lengthIn(attributes, 'y')]);
		const next: Walk = { ...below, affine, using };
		if (target.name !== 'symbol') return { ...next, elements: [target] };
		const style = this.sheets.styleOf(target, below.style);
		const box = viewBoxOf(target.attributes.viewBox);
		const size = {
			width: attributes.width ?? target.attributes.width ?? (box ? String(box.width) : '100%'),
			height: attributes.height ?? target.attributes.height ?? (box ? String(box.height) : '100%'),
			x: '0',
			y: '0',
		};
		return this.inner(target, { ...next, style, elements: target.children }, size);
	}

	/** The clips under which an element stands. */
	private clipped(element: Element, style: Style, affine: Affine, clips: readonly Rings[]): readonly Rings[] {
		const id = referred(style['clip-path']);
		const clip = id === null ? undefined : this.byId.get(id);
		if (clip?.name !== 'clipPath') return clips;
		return [...clips, this.clipArea(clip, element, affine, 0)];
	}

	/** What a clip leaves of an element, in the drawing. */
	private clipArea(clip: Element, of: Element, affine: Affine, depth: number): Rings {
		if (depth > MAX_CLIPS) throw new LevelError('is cut by clips that cut each other without end');
		let m = times(affine, transformOf(clip.attributes.transform));
		if (clip.attributes.clipPathUnits === 'objectBoundingBox') {
			const box = this.boxOf(of);
			if (!box) return [];
			m = times(m, [box[2] - box[0], 0, 0, box[3] - box[1], box[0], box[1]]);
		}
		const style = this.sheets.styleOf(clip, INITIAL);
		const areas: Rings[] = [];
		for (const child of clip.children) {
			if (++this.visits > MAX_VISITS) throw new LevelError('is cut by clips of too many parts');
			let part: Element = child;
			let own = times(m, transformOf(child.attributes.transform));
			if (child.name === 'use') {
				const id = referred(child.attributes.href ?? child.attributes['xlink:href']);
				const target = id === null ? undefined : this.byId.get(id);
				if (!target) continue;
				part = target;
				own = times(own, [1, 0, 0, 1, lengthIn(child.attributes, 'x'), lengthIn(child.attributes, 'y')]);
				own = times(own, transformOf(target.attributes.transform));
			}
			if (!FIGURES.has(part.name)) continue;
			const painted = this.sheets.styleOf(part, style);
			if (painted.display === 'none' || painted.visibility === 'hidden') continue;
			const rule = painted['clip-rule'] === 'evenodd' ? 'evenodd' : 'nonzero';
			let area: Rings = areaOf(outlineOf(part.name, part.attributes).contours, rule, null).map((ring) =>
				ring.map((p) => moved(own, p)),
			);
			area = this.cutAgain(part, painted, own, area, depth);
			areas.push(area);
		}
		return this.cutAgain(clip, style, affine, joined(areas), depth);
	}

	/** An area, cut again by the clip of what it is of. */
	private cutAgain(of: Element, style: Style, affine: Affine, area: Rings, depth: number): Rings {
		const id = referred(style['clip-path']);
		const clip = id === null ? undefined : this.byId.get(id);
		return clip?.name === 'clipPath' ? both(area, this.clipArea(clip, of, affine, depth + 1)) : area;
	}

	/** The box about a figure, in its own axes, without its outline; null where it has none, or is no figure. */
	private boxOf(element: Element): [number, number, number, number] | null {
		if (!FIGURES.has(element.name)) return null;
		const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
		for (const { points } of outlineOf(element.name, element.attributes).contours)
			for (const [x, y] of points) {
				box[0] = Math.min(box[0], x);
				box[1] = Math.min(box[1], y);
				box[2] = Math.max(box[2], x);
				box[3] = Math.max(box[3], y);
			}
		return box[2] > box[0] && box[3] > box[1] ? box : null;
	}

	private addFigure(element: Element, below: Walk, tell: (message: string) => void): void {
		const { affine, clips, style, path, classes, layer, into, outlines } = below;
		let figure: Figure;
		try {
			const outline = outlineOf(element.name, element.attributes);
			let pen = penOf(style, outlines);
			// A pen that does not grow with the figure is as wide as in the drawing itself.
			if (pen && style['vector-effect'] === 'non-scaling-stroke') {
				const scale = Math.sqrt(Math.abs(affine[0] * affine[3] - affine[1] * affine[2]));
				pen = scale > 0 ? { ...pen, width: pen.width / scale } : null;
			}
			figure = figureOf(outline, style, pen, affine, clips);
		} catch (error) {
			if (!(error instanceof LevelError)) throw error;
			figure = { shapes: [], middle: [0, 0], turn: 0, said: error.message };
		}
		const { shapes, middle, turn, said } = figure;
		if (said) tell(shapes.length > 0 ? said : `${said}: left out`);
		if (shapes.length === 0) return;
		if (!shapes.every((shape) => measured(shape, middle))) {
			tell('is too small, too large or too far out: left out');
			return;
		}
		for (const k of [0, 1] as const) {
			this.low[k] = Math.min(this.low[k], middle[k] - reachOf(shapes));
			this.high[k] = Math.max(this.high[k], middle[k] + reachOf(shapes));
		}
		// A figure that is used again has no id to itself.
		const isUsed = below.using.length > 0;
		let node = into;
		if (!node) {
			if (this.level.nodes.length >= MAX_NODES) throw new LevelError(`${this.name}: more than ${MAX_NODES} figures`);
			node = this.nodeFor(element, path, classes, layer, middle, turn, isUsed);
			this.level.nodes.push(node);
		} else if (node.colliders.length === 0) node.position = [middle[0], middle[1], node.position[2]];
		for (const shape of shapes) this.addTo(node, element, shape, middle, turn, into !== null);
	}

	private pathOf({ name, attributes }: Element, above: string): string {
		const own = (attributes.id ?? name).replaceAll('/', '%2F');
		const plain = above === '' ? own : `${above}/${own}`;
		const n = (this.taken.get(plain) ?? 0) + 1;
		this.taken.set(plain, n);
		return n > 1 ? `${plain}#${n}` : plain;
	}

	private nodeFor(
		{ name, attributes }: Element,
		path: string,
		classes: readonly string[],
		layer: string | null,
		middle: Vec2,
		turn: number,
		isUsed = false,
	): LevelNode {
		return {
			path,
			name: oneLine(attributes['data-name'] ?? attributes.id ?? name, 200),
			parent: null,
			position: [middle[0], middle[1], depthOf(attributes['data-depth'], this.order++)],
			rotation: [0, 0, turn],
			scale: [1, 1, 1],
			colliders: [],
			surface: null,
			tags: [...new Set(classes.map((c) => slug(c)).filter((c) => c !== ''))],
			id: isUsed || attributes.id === undefined ? null : slug(attributes.id) || null,
			layer: layer === null ? null : slug(layer) || null,
			active: true,
			extras: undefined,
		};
	}

	/** A shape of an object's figure; where several figures make one object, it lies where it was drawn. */
	private addTo(
		node: LevelNode,
		element: Element,
		shape: Omit<Shape, 'id'>,
		middle: Vec2,
		turn: number,
		isOneOfSeveral: boolean,
	): void {
		const at: Vec3 = isOneOfSeveral
			? [rounded(middle[0] - node.position[0], 9), rounded(middle[1] - node.position[1], 9), 0]
			: [0, 0, 0];
		const given = isOneOfSeveral ? (element.attributes.id ?? '') : '';
		const own = given.startsWith(`${node.id}--`) ? given.slice((node.id ?? '').length + 2) : given;
		node.colliders.push({
			id: this.shapeId(node, slug(own) || shape.kind),
			...shape,
			...(at.some((v) => v !== 0) ? { at } : {}),
			...(turn === 0 || !isOneOfSeveral ? {} : { rotation: [0, 0, turn] }),
		} as Shape);
	}

	/** An id that no other shape of the object has, found without going over those there are. */
	private shapeId(node: LevelNode, wanted: string): string {
		const taken = this.ids.get(node) ?? new Map<string, number>();
		this.ids.set(node, taken);
		const n = taken.get(wanted) ?? 0;
		let id = n === 0 ? wanted : `${wanted}-${n + 1}`;
		let next = n + 1;
		while (n > 0 && taken.has(id)) id = `${wanted}-${++next}`;
		taken.set(wanted, next);
		if (id !== wanted) taken.set(id, 1);
		return id;
	}
}

/** How far shapes reach from the middle of their object. */
function reachOf(shapes: readonly Omit<Shape, 'id'>[]): number {
	let most = 0;
	for (const shape of shapes) {
		const { size, radius, points } = shape as { size?: Vec2; radius?: number; points?: Vec2[] };
		most = Math.max(most, radius ?? 0, (size?.[0] ?? 0) / 2, (size?.[1] ?? 0) / 2);
		for (const [x, y] of points ?? []) most = Math.max(most, Math.abs(x), Math.abs(y));
	}
	return most;
}

/** Within the bounds of a file. */
function measured(shape: Omit<Shape, 'id'>, middle: Vec2): boolean {
	const { size, radius, points } = shape as { size?: number[]; radius?: number; points?: Vec2[] };
	const sizes = [...(size ?? []), ...(radius === undefined ? [] : [radius])];
	return (
		middle.every((v) => Math.abs(v) <= 1e7) &&
		(points ?? []).every((p) => p.every((v) => Math.abs(v) <= 1e7)) &&
		sizes.every((v) => v >= 1e-6 && v <= 1e7)
	);
}

const depthOf = (text: string | undefined, order: number): number => {
	const depth = Number.parseFloat(text ?? '');
	return Math.abs(depth) <= 1e7 ? depth : order;
};

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
		cdataPropName: '__cdata',
		maxNestedTags: MAX_DEPTH + 8,
	});
	let parsed: unknown[];
	try {
		parsed = parser.parse(text) as unknown[];
	} catch (error) {
		throw new LevelError(`${name}: ${oneLine((error as Error).message)}`);
	}
	const sheets = new Sheets();
	const { root, byId } = treeOf(parsed, sheets);
	if (!root) throw new LevelError(`${name}: is no SVG: its first element is not <svg>`);
	return new Reader(name, sheets, byId).read(root);
}
