/**
 * Arcs (contract §16): what is thrown goes along a polyline, each piece of it asked as a straight ray or sweep. Only where the first piece
 * begins does the rule about starts look; what it skips is skipped until a later piece begins off it.
 */
import { type Body, boundsOf, MESH, sphereBody, support } from '../geometry/body';
import { NO_LENGTH, OVERLAP_GAP, PATH_END, START_GAP } from '../geometry/tolerances';
import { ARC, arcSteps } from '../project/defaults';
import type { Arc } from '../project/schema';
import { gapBetween, gapToSegment, hit, nearestOn, rayOn, sweepOn } from '../space/cast';
import type { WorldShape } from '../world/world';

type Point = [number, number, number];

/** A straight piece of an arc; metres. */
interface Piece {
	start: Point;
	/** Unit vector. */
	dir: Point;
	length: number;
	/** How far along the whole way it begins. */
	from: number;
	/** Its number among the steps of the flight. */
	k: number;
}

interface Gauge {
	/** What is put to a piece: a copy of the sweep's body, or a point. */
	mover: Body;
	/** Start, direction and length of each piece, in sevens. */
	line: Float64Array;
}

/** Where a thrown ray or sweep goes. */
export interface ArcPath {
	pieces: Piece[];
	/** Along the pieces, metres. */
	length: number;
	/** Seconds a piece. */
	step: number;
	/** Unit vector of the first velocity. */
	dir: Point;
	/** A sweep's body; it is put to the start of the piece that is asked. */
	swept: Body | null;
	/** What gaps are measured with, made when one first is. */
	gauge: Gauge | null;
	/** Box of each piece with what moves along it: least and greatest corner. */
	boxes: Float64Array;
	/** The same of every so many pieces together. */
	chunks: Float64Array;
}

/** Pieces in a chunk. */
const CHUNK = 16;
/** How often the search for the nearest place goes to and fro at most, and the gain below which it ends, metres. */
const TURNS = 3;
const SAME_AWAY = 1e-3;
/** Every so many pieces the search may begin. */
const MARK = 8;
/** Room around boxes for starts that count as on a shape, metres. */
const AROUND = 2e-6;

/** Why there is no arc: the point is the start, or no throw of that speed comes there. */
type NoArc = { not: 'direction' } | { not: 'reach'; speed: number };

/**
 * @param to the point the parabola is to pass through, metres
 * @returns the first velocity, m/s
 */
export function velocityTo(arc: Arc, start: Point, to: Point): Point | NoArc {
	const { speed: s, gravity: g = ARC.gravity } = arc;
	const [dx, dy, dz] = [to[0] - start[0], to[1] - start[1], to[2] - start[2]];
	const distance = Math.hypot(dx, dy, dz);
	const x = Math.hypot(dx, dz);
	const square = s * s;
	let D = square * square - g * (g * x * x + 2 * dy * square);
	if (Math.abs(D) <= 1e-9 * square * square) D = 0;
	if (D < 0) return { not: 'reach', speed: Math.sqrt(g * (dy + distance)) };
	if (distance <= NO_LENGTH) return { not: 'direction' };
	if (g === 0) return [(s * dx) / distance, (s * dy) / distance, (s * dz) / distance];
	if (x <= NO_LENGTH) return [0, arc.high || dy > 0 ? s : -s, 0];
	const root = Math.sqrt(D);
	const tangent = arc.high ? (square + root) / (g * x) : (g * x * x + 2 * dy * square) / (x * (square + root));
	const cos = 1 / Math.hypot(1, tangent);
	return [(s * cos * dx) / x, s * cos * tangent, (s * cos * dz) / x];
}

/**
 * @param velocity of the first instant, m/s
 * @returns null where no piece of it has a length
 */
export function arcPath(arc: Arc, start: Point, velocity: Point, swept: Body | null): ArcPath | null {
	const { gravity = ARC.gravity, time = ARC.time, step = ARC.step } = arc;
	const steps = arcSteps({ time, step });
	const pieces: Piece[] = [];
	let length = 0;
	let last = start;
	for (let k = 0; k < steps; k++) {
		const t = (k + 1) * step;
		const next: Point = [
			start[0] + velocity[0] * t,
			start[1] + velocity[1] * t - 0.5 * gravity * t * t,
			start[2] + velocity[2] * t,
		];
		const [x, y, z] = [next[0] - last[0], next[1] - last[1], next[2] - last[2]];
		const own = Math.hypot(x, y, z);
		if (own >= NO_LENGTH) {
			pieces.push({ start: last, dir: [x / own, y / own, z / own], length: own, from: length, k });
			length += own;
		}
		last = next;
	}
	if (pieces.length === 0) return null;
	const speed = Math.hypot(...velocity);
	const dir: Point = [velocity[0] / speed, velocity[1] / speed, velocity[2] / speed];
	return { pieces, length, step, dir, swept, gauge: null, ...boxesOf(pieces, swept) };
}

function boxesOf(pieces: readonly Piece[], swept: Body | null): Pick<ArcPath, 'boxes' | 'chunks'> {
	const own = new Float64Array(6);
	if (swept) {
		boundsOf(swept, own);
		for (let k = 0; k < 3; k++) {
			const at = [swept.x, swept.y, swept.z][k] as number;
			own[k] -= at;
			own[k + 3] -= at;
		}
	}
	const boxes = new Float64Array(6 * pieces.length);
	const chunks = new Float64Array(6 * Math.ceil(pieces.length / CHUNK));
	pieces.forEach(({ start, dir, length }, i) => {
		const chunk = 6 * Math.floor(i / CHUNK);
		const isFirst = i % CHUNK === 0;
		for (let k = 0; k < 3; k++) {
			const a = start[k] as number;
			const b = a + length * (dir[k] as number);
			const low = Math.min(a, b) + (own[k] as number) - AROUND;
			const high = Math.max(a, b) + (own[k + 3] as number) + AROUND;
			boxes[6 * i + k] = low;
			boxes[6 * i + k + 3] = high;
			chunks[chunk + k] = isFirst ? low : Math.min(chunks[chunk + k] as number, low);
			chunks[chunk + k + 3] = isFirst ? high : Math.max(chunks[chunk + k + 3] as number, high);
		}
	});
	return { boxes, chunks };
}

/** Whether a box meets that at a place of a list. */
function meets(list: Float64Array, at: number, box: Float64Array, of: number): boolean {
	for (let k = 0; k < 3; k++)
		if (
			(list[at + k] as number) > (box[of + 3 + k] as number) ||
			(list[at + 3 + k] as number) < (box[of + k] as number)
		)
			return false;
	return true;
}

/** Whether a box comes near the way at all. @param of where it begins in `bounds` */
export function passesNear({ chunks, boxes }: ArcPath, bounds: Float64Array, of: number): boolean {
	for (let c = 0; c < chunks.length; c += 6) {
		if (!meets(chunks, c, bounds, of)) continue;
		const end = Math.min(boxes.length, (c + 6) * CHUNK);
		for (let i = c * CHUNK; i < end; i += 6) if (meets(boxes, i, bounds, of)) return true;
	}
	return false;
}

/** The box of the whole way, with what moves along it. */
export function wholeBox({ chunks }: ArcPath, out: Float64Array): void {
	out.set([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);
	for (let c = 0; c < chunks.length; c += 6)
		for (let k = 0; k < 3; k++) {
			out[k] = Math.min(out[k] as number, chunks[c + k] as number);
			out[k + 3] = Math.max(out[k + 3] as number, chunks[c + 3 + k] as number);
		}
}

/** One piece asked of a body; `hit` holds what it found. */
function along({ swept }: ArcPath, { start, dir }: Piece, body: Body, length: number, count: boolean): number {
	const [x, y, z] = start;
	if (!swept) return rayOn(body, x, y, z, ...dir, length, count);
	swept.x = x;
	swept.y = y;
	swept.z = z;
	return sweepOn(swept, ...dir, length, body, count);
}

const spot = new Float64Array(3);
const bounds = new Float64Array(6);

/** First touch of a shape on an arc: the piece, and how far along it. `hit` holds point and normal, and whether the start was skipped. */
interface ArcTouch {
	piece: number;
	distance: number;
	/** Whether the arc begins in the shape. */
	startsInside: boolean;
}

/**
 * @param past metres the last piece is followed further
 * @param count whether what the arc begins in is touched at 0, rather than skipped
 * @returns `piece` −1 where it is not touched
 */
export function touchOnArc(arc: ArcPath, shape: WorldShape, past: number, count: boolean): ArcTouch {
	const { pieces, boxes, chunks } = arc;
	const { body } = shape;
	const found: ArcTouch = { piece: -1, distance: Infinity, startsInside: false };
	boundsOf(body, bounds);
	let skipping = false;
	const last = pieces.length - 1;
	for (let i = 0; i <= last; i++) {
		// The last is followed further than its box says.
		if (i !== last || past === 0) {
			if (i % CHUNK === 0 && i + CHUNK <= last && !meets(chunks, (6 * i) / CHUNK, bounds, 0)) {
				i += CHUNK - 1;
				skipping = false;
				continue;
			}
			if (!meets(boxes, 6 * i, bounds, 0)) {
				skipping = false;
				continue;
			}
		}
		const piece = pieces[i] as Piece;
		const length = piece.length + PATH_END + (i === last ? past : 0);
		let distance: number;
		if (i === 0) {
			distance = along(arc, piece, body, length, count);
			found.startsInside = hit.startsInside;
			skipping = hit.startsInside && !count;
		} else {
			distance = along(arc, piece, body, length, true);
			if (hit.startsInside) {
				if (body.kind !== MESH) {
					if (skipping) continue;
				} else if (skipping || (!arc.swept && liesOn(body, piece.start)))
					// What touches here and was not met before is skipped, or the piece before ran in its plane.
					distance = along(arc, piece, body, length, false);
			} else skipping = false;
		}
		if (distance === Infinity) continue;
		found.piece = i;
		found.distance = distance;
		return found;
	}
	return found;
}

const liesOn = (body: Body, [x, y, z]: Point): boolean => nearestOn(body, x, y, z, spot) <= OVERLAP_GAP;

/** How far a touch is along the whole way, metres. */
export const distanceOf = ({ pieces }: ArcPath, { piece, distance }: ArcTouch): number =>
	(pieces[piece] as Piece).from + distance;

/** When a touch is, seconds of flight. */
export function timeOf({ pieces, step }: ArcPath, { piece, distance }: ArcTouch): number {
	const { k, length } = pieces[piece] as Piece;
	return (k + Math.min(1, distance / length)) * step;
}

/** @returns the direction of the piece of a touch */
export const directionOf = ({ pieces }: ArcPath, { piece }: ArcTouch): Point => (pieces[piece] as Piece).dir;

function gaugeOf({ pieces, swept }: ArcPath): Gauge {
	const line = new Float64Array(7 * pieces.length);
	pieces.forEach((piece, i) => {
		line.set(piece.start, 7 * i);
		line.set(piece.dir, 7 * i + 3);
		line[7 * i + 6] = piece.length;
	});
	return { mover: swept ? swept.clone() : sphereBody(0), line };
}

/**
 * The least gap from a body to what goes along the arc, metres. First the piece is measured that passes nearest to the body, as far as can be
 * seen. Of most others it is known from afar that they are not nearer: by a plane that has the body behind it, by boxes, by balls.
 */
export function gapToArc(arc: ArcPath, body: Body): number {
	const { pieces, boxes, chunks, swept } = arc;
	arc.gauge ??= gaugeOf(arc);
	const { line, mover } = arc.gauge;
	const measured = (i: number): number => {
		const { start, dir, length } = pieces[i] as Piece;
		mover.x = start[0];
		mover.y = start[1];
		mover.z = start[2];
		mover.sx = length * dir[0];
		mover.sy = length * dir[1];
		mover.sz = length * dir[2];
		return swept ? gapBetween(mover, body) : gapToSegment(mover, body);
	};
	boundsOf(body, bounds);
	let first = walkTo(line, nearestMark(line, body.x, body.y, body.z), body.x, body.y, body.z);
	let isFlat = false;
	if (body.kind !== MESH) {
		// To and fro between arc and body: each place is nearer than the one before.
		let away = nearestOn(body, foot[0], foot[1], foot[2], spot);
		for (let turn = 0; turn < TURNS; turn++) {
			first = walkTo(line, first, spot[0], spot[1], spot[2]);
			const nearer = nearestOn(body, foot[0], foot[1], foot[2], spot);
			const isSame = nearer >= away - SAME_AWAY;
			away = nearer;
			if (isSame) break;
		}
		isFlat = setPlane(arc, away);
	}
	const around = body.boundingRadius + (swept?.boundingRadius ?? 0);
	let best = measured(first);
	for (let i = 0; i < pieces.length && best > 0; i++) {
		if (i % CHUNK === 0 && apart(chunks, (6 * i) / CHUNK, bounds) >= best) {
			i += CHUNK - 1;
			continue;
		}
		if (i === first || (isFlat && aheadOfPlane(line, i) >= best + START_GAP)) continue;
		if (apart(boxes, 6 * i, bounds) >= best) continue;
		const room = best + around + START_GAP;
		if (toPiece(line, i, body.x, body.y, body.z) >= room * room) continue;
		best = Math.min(best, measured(i));
	}
	return best;
}

/** The place on the arc at which a walk ended. */
const foot = new Float64Array(3);

/** @returns the number of the piece whose start is nearest to a place, of every few */
function nearestMark(line: Float64Array, x: number, y: number, z: number): number {
	let least = Infinity;
	let nearest = 0;
	for (let i = 0; 7 * i < line.length; i += MARK) {
		const at = 7 * i;
		const ex = x - line[at];
		const ey = y - line[at + 1];
		const ez = z - line[at + 2];
		const square = ex * ex + ey * ey + ez * ez;
		if (square >= least) continue;
		least = square;
		nearest = i;
	}
	return nearest;
}

/** @returns the square of the distance of a place from a piece; `foot` is the point of it */
function toPiece(line: Float64Array, i: number, x: number, y: number, z: number): number {
	const at = 7 * i;
	const px = x - line[at];
	const py = y - line[at + 1];
	const pz = z - line[at + 2];
	const dx = line[at + 3];
	const dy = line[at + 4];
	const dz = line[at + 5];
	const t = Math.min(line[at + 6], Math.max(0, px * dx + py * dy + pz * dz));
	const ex = px - t * dx;
	const ey = py - t * dy;
	const ez = pz - t * dz;
	foot[0] = x - ex;
	foot[1] = y - ey;
	foot[2] = z - ez;
	return ex * ex + ey * ey + ez * ez;
}

/** @returns the piece from which both neighbours are farther from a place, found from another by going along; `foot` is the point of it */
function walkTo(line: Float64Array, from: number, x: number, y: number, z: number): number {
	let i = from;
	let least = toPiece(line, i, x, y, z);
	for (const way of [1, -1])
		for (let next = i + way; next >= 0 && 7 * next < line.length; next += way) {
			const square = toPiece(line, next, x, y, z);
			if (square >= least) break;
			least = square;
			i = next;
		}
	toPiece(line, i, x, y, z);
	return i;
}

/** A plane that has a convex body behind it: unit normal, and how far along it the body, and what moves, reach. */
const plane = new Float64Array(4);

/** @param away how far `foot` is from the body; `spot` is the body's point. @returns whether there is such a plane */
function setPlane({ swept, length }: ArcPath, away: number): boolean {
	const [x, y, z] = foot;
	// Nearer than this rounding turns the plane by more than START_GAP over the length of the arc.
	if (away <= 1e-8 * length * (1 + Math.abs(x) + Math.abs(y) + Math.abs(z))) return false;
	const nx = (x - spot[0]) / away;
	const ny = (y - spot[1]) / away;
	const nz = (z - spot[2]) / away;
	plane[0] = nx;
	plane[1] = ny;
	plane[2] = nz;
	plane[3] = nx * x + ny * y + nz * z - away;
	if (swept) {
		support(swept, -nx, -ny, -nz, spot, 0);
		plane[3] -= nx * spot[0] + ny * spot[1] + nz * spot[2] - swept.r;
	}
	return true;
}

/** How far in front of the plane all of a piece is, metres. */
function aheadOfPlane(line: Float64Array, i: number): number {
	const at = 7 * i;
	const from = plane[0] * line[at] + plane[1] * line[at + 1] + plane[2] * line[at + 2] - plane[3];
	const slope = plane[0] * line[at + 3] + plane[1] * line[at + 4] + plane[2] * line[at + 5];
	return slope < 0 ? from + slope * line[at + 6] : from;
}

/** The distance between two boxes; the room around the first is not counted. */
function apart(list: Float64Array, at: number, box: Float64Array): number {
	let square = 0;
	for (let k = 0; k < 3; k++) {
		const away = Math.max(
			(list[at + k] as number) - (box[3 + k] as number),
			(box[k] as number) - (list[at + 3 + k] as number),
			0,
		);
		square += away * away;
	}
	return Math.sqrt(square) - START_GAP;
}
