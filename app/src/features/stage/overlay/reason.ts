/** Why an object was not chosen, as lines in the scene: the missing distance, the way that is blocked, how far it lost by. */
import {
	type Answer,
	type Contender,
	degrees,
	metres,
	type Verdict,
	type View,
	type World,
	type WorldObject,
	wordsOfLoss,
	wordsOfVerdict,
} from '@frelk/core';
import { type Body, nearestOn } from '@frelk/core/geometry';
import { type P3, type Rect, toPixels } from '../../../drawing/view';
import type { QueryGeometry } from './geometry';

export interface Reason {
	/** What there is of the way: drawn thin. */
	way: P3[];
	/** What is missing or in excess: drawn strong. */
	missing: P3[];
	words: string;
	tone: 'short' | 'cut' | 'outranked' | 'quiet';
}

const between = (a: P3, b: P3, t: number): P3 => [
	a[0] + t * (b[0] - a[0]),
	a[1] + t * (b[1] - a[1]),
	a[2] + t * (b[2] - a[2]),
];
const apart = (a: P3, b: P3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

const spot = new Float64Array(3);

function footOn(body: Body, p: P3): P3 {
	nearestOn(body, p[0], p[1], p[2], spot);
	return [spot[0], spot[1], spot[2]];
}

/** The nearest points of a straight path and a body: along the path the distance to a convex body falls, then rises. */
function pathToBody(start: P3, end: P3, body: Body): [P3, P3] {
	let low = 0;
	let high = 1;
	const at = (t: number) => {
		const p = between(start, end, t);
		return apart(p, footOn(body, p));
	};
	for (let i = 0; i < 60; i++) {
		const a = low + (high - low) * 0.382;
		const b = low + (high - low) * 0.618;
		if (at(a) <= at(b)) high = b;
		else low = a;
	}
	const p = between(start, end, (low + high) / 2);
	return [p, footOn(body, p)];
}

/** The nearest points of two bodies, by going back and forth between them. */
function bodyToBody(a: Body, b: Body): [P3, P3] {
	let p: P3 = [b.x, b.y, b.z];
	let q: P3 = p;
	for (let i = 0; i < 80; i++) {
		p = footOn(a, q);
		q = footOn(b, p);
	}
	return [p, q];
}

function missed(geometry: QueryGeometry, object: WorldObject): [P3, P3] | null {
	const { placement } = geometry;
	let best: [P3, P3] | null = null;
	const consider = (pair: [P3, P3]) => {
		if (!best || apart(...pair) < apart(...best)) best = pair;
	};
	for (const { body } of object.shapes) {
		if (placement.flatPick && placement.path) {
			const p: P3 = [placement.path.start[0], placement.path.start[1], 0];
			const q = footOn(body, p);
			const z = object.position[2];
			consider([
				[p[0], p[1], z],
				[q[0], q[1], z],
			]);
		} else if (placement.path) {
			const { start, dir, length } = placement.path;
			const reach = Math.min(length, 1e4);
			consider(
				pathToBody(start, [start[0] + reach * dir[0], start[1] + reach * dir[1], start[2] + reach * dir[2]], body),
			);
		} else for (const volume of placement.volumes) consider(bodyToBody(volume.body, body));
	}
	return best;
}

/**
 * @param touched contacts of what the query touched
 * @returns the lines that show why the object stands where it does, or null where nothing can be drawn
 */
export function reasonOf(
	world: World,
	geometry: QueryGeometry,
	answer: Answer,
	verdict: Verdict,
	touched: readonly Contender[],
): Reason | null {
	const object = world.objectById.get(verdict.object);
	if (!object) return null;
	const { placement, query } = geometry;
	const contact = touched.find((c) => c.object === object)?.point;
	const target: P3 = (query.range?.to === 'focus' ? object.focus : contact) ?? object.focus;
	const from: P3 = placement.rangeFrom ?? (placement.path ? placement.path.start : placement.measuring);
	switch (verdict.stage) {
		case 'touch': {
			if (verdict.beyond !== undefined && placement.path && !placement.flatPick) {
				const { start, dir, length } = placement.path;
				const along = (d: number): P3 => [start[0] + d * dir[0], start[1] + d * dir[1], start[2] + d * dir[2]];
				return {
					way: [],
					missing: [along(length), along(length + verdict.beyond)],
					words: wordsOfVerdict(verdict),
					tone: 'short',
				};
			}
			const pair = missed(geometry, object);
			return pair && verdict.margin
				? { way: [], missing: pair, words: `missed by ${metres(verdict.margin)}`, tone: 'quiet' }
				: null;
		}
		case 'range': {
			const d = apart(from, target);
			const limit = query.range?.max !== undefined && d > query.range.max ? query.range.max : (query.range?.min ?? 0);
			const edge = between(from, target, d === 0 ? 0 : Math.min(1.5, limit / d));
			return { way: [from, target], missing: [edge, target], words: wordsOfVerdict(verdict), tone: 'short' };
		}
		case 'view':
		case 'approach': {
			const apex: P3 = verdict.stage === 'view' ? placement.apex : object.focus;
			const to: P3 = verdict.stage === 'view' ? object.focus : placement.approachFrom;
			return { way: [], missing: [apex, to], words: `${degrees(verdict.margin ?? 0)} outside`, tone: 'short' };
		}
		case 'sight': {
			const start: P3 = placement.path ? placement.path.start : placement.sightFrom;
			const end: P3 = placement.path
				? (contact ?? object.focus)
				: query.sight?.to === 'contact'
					? target
					: object.focus;
			const whole = apart(start, end);
			const cut = whole === 0 ? 0 : Math.max(0, 1 - (verdict.margin ?? 0) / whole);
			return {
				way: [start, between(start, end, cut)],
				missing: [between(start, end, cut), end],
				words: `${metres(verdict.margin ?? 0)} behind`,
				tone: 'cut',
			};
		}
		case 'choice': {
			const taken = answer.selected.find((s) => s.object === verdict.by);
			if (!taken || verdict.margin === undefined) return null;
			return {
				way: [],
				missing: [taken.point, contact ?? object.focus],
				words: wordsOfLoss(verdict),
				tone: 'outranked',
			};
		}
		default: {
			if (verdict.met === undefined) return null;
			// There, but for a filter: the way to it, as far as where it is met.
			const { path } = placement;
			const d = verdict.met;
			const met: P3 = path
				? [path.start[0] + d * path.dir[0], path.start[1] + d * path.dir[1], path.start[2] + d * path.dir[2]]
				: object.focus;
			return {
				way: [from, met],
				missing: [met, object.focus],
				words: `there at ${metres(verdict.met)}`,
				tone: 'quiet',
			};
		}
	}
}

/** Where the words of a reason stand, pixels: at the middle of what is missing; null where that is not in the picture. */
export function wordsBox({ missing: [a, b], words }: Reason, view: View): Rect | null {
	const [p, q] = [a ? toPixels(view, a) : null, b ? toPixels(view, b) : null];
	return p && q ? { x: (p[0] + q[0]) / 2 + 8, y: (p[1] + q[1]) / 2 + 4, w: words.length * 7, h: 16 } : null;
}
