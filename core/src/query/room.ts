/** Whether a volume may stand where it is (contract §23): how deep it sticks in what is in the way, and what bears it. */
import { type Body, MESH, sphereBody, support } from '../geometry/body';
import { depthBetween, type WayOut, wayOutOf } from '../geometry/depth';
import { type Matrix, multiply, rotationOf } from '../geometry/matrix';
import { OVERLAP_GAP } from '../geometry/tolerances';
import { BORNE_WITHIN } from '../project/defaults';
import type { QueryOf } from '../project/schema';
import { gapBetween, gapToSegment } from '../space/cast';
import type { Mesh } from '../space/mesh';
import { maskOf, type World, type WorldShape } from '../world/world';
import { type Filters, filtersOf, isEligible, passesFilters, stands } from './filters';
import { type Placement, type Point, turnOf } from './placement';
import type { Contender } from './touch';
import type { Answer } from './types';

/** @returns the length of the shortest move of the volume that frees it of what it touches of an object, over its pairs the greatest; metres */
export function depthOf(
	{ placement: { volumes, grow }, filters }: { placement: Placement; filters: Filters },
	c: Contender,
): number {
	let deepest = 0;
	for (const shape of c.object.shapes) {
		if (shape.body.kind === MESH || !isEligible(filters, shape)) continue;
		for (const { body } of volumes) {
			if (body.kind === MESH || gapBetween(body, shape.body, grow + OVERLAP_GAP) - grow > OVERLAP_GAP) continue;
			deepest = Math.max(deepest, depthBetween(grown(body, grow), shape.body, filters.world.flat));
		}
	}
	return deepest;
}

/** A body grown on every side. */
function grown(body: Body, grow: number): Body {
	if (grow === 0) return body;
	const wide = body.clone();
	wide.r += grow;
	return wide;
}

const far = new Float64Array(3);

/**
 * The points at which a volume is to be borne: the corners of its lower side and its middle (flat: its two ends and its middle).
 * @returns none where the volume has no parts
 */
function basePoints(filters: Filters, placement: Placement, query: QueryOf<'overlap'>): Point[] {
	const { flat } = filters.world;
	const { volumes, grow } = placement;
	if (volumes.length === 0) return [];
	const m: Matrix = multiply(turnOf(filters.world, query), rotationOf(query.rotation));
	/** Least and greatest along each of the volume's own axes, in the world's lengths. */
	const low = [Infinity, Infinity, Infinity];
	const high = [-Infinity, -Infinity, -Infinity];
	for (const { body } of volumes)
		for (let k = 0; k < 3; k++) {
			const [x, y, z] = [m[k] as number, m[k + 3] as number, m[k + 6] as number];
			const centre = body.x * x + body.y * y + body.z * z;
			for (const way of [1, -1]) {
				const reach = reachOf(body, way * x, way * y, way * z) + grow;
				high[k] = Math.max(high[k] as number, centre + way * reach);
				low[k] = Math.min(low[k] as number, centre + way * reach);
			}
		}
	const at = (x: number, y: number, z: number): Point => [
		(m[0] as number) * x + (m[1] as number) * y + (m[2] as number) * z,
		(m[3] as number) * x + (m[4] as number) * y + (m[5] as number) * z,
		flat ? 0 : (m[6] as number) * x + (m[7] as number) * y + (m[8] as number) * z,
	];
	const [x0, y0, z0] = low as Point;
	const [x1, , z1] = high as Point;
	const [cx, cz] = [(x0 + x1) / 2, (z0 + z1) / 2];
	if (flat) return [at(x0, y0, 0), at(x1, y0, 0), at(cx, y0, 0)];
	return [at(x0, y0, z0), at(x1, y0, z0), at(x1, y0, z1), at(x0, y0, z1), at(cx, y0, cz)];
}

const intoAxes = (m: Matrix, x: number, y: number, z: number): Point => [
	(m[0] as number) * x + (m[3] as number) * y + (m[6] as number) * z,
	(m[1] as number) * x + (m[4] as number) * y + (m[7] as number) * z,
	(m[2] as number) * x + (m[5] as number) * y + (m[8] as number) * z,
];

/** How far a body reaches from its centre along a unit vector, metres. */
function reachOf(body: Body, x: number, y: number, z: number): number {
	if (body.kind === MESH) {
		const { corners } = body.mesh as Mesh;
		const [lx, ly, lz] = intoAxes(body.m, x, y, z);
		let most = -Infinity;
		for (let i = 0; i < corners.length; i += 3)
			most = Math.max(
				most,
				(corners[i] as number) * lx + (corners[i + 1] as number) * ly + (corners[i + 2] as number) * lz,
			);
		return most;
	}
	support(body, x, y, z, far, 0);
	return far[0] * x + far[1] * y + far[2] * z + body.r;
}

/** Which of some points are borne by what is solid on the layers that bear. */
function borne(filters: Filters, query: QueryOf<'overlap'>, points: readonly Point[]): boolean[] {
	const on = query.room?.on;
	if (!on) return points.map(() => false);
	const { world } = filters;
	const bears = on.layers === 'all' ? -1 : maskOf(world, on.layers);
	return bornePoints(
		world,
		points,
		on.within ?? BORNE_WITHIN,
		(shape) => (shape.layer & bears) !== 0 && stands(filters, shape.object),
	);
}

/**
 * Which of some points are borne: something solid meets the vertical stretch about it.
 * @param within how far the stretch goes up and down, metres
 * @param counts which of the solid shapes may bear
 */
export function bornePoints(
	world: World,
	points: readonly Point[],
	within: number,
	counts: (shape: WorldShape) => boolean,
): boolean[] {
	const stretch = sphereBody(0);
	const box = new Float64Array(6);
	return points.map(([x, y, z]) => {
		stretch.x = x;
		stretch.y = y + within;
		stretch.z = z;
		stretch.sy = -2 * within;
		box.set([x, y - within, z, x, y + within, z]);
		for (let k = 0; k < 3; k++) {
			box[k] = (box[k] as number) - 1e-6;
			box[k + 3] = (box[k + 3] as number) + 1e-6;
		}
		let found = false;
		world.tree().overlap(box, (index) => {
			const shape = world.shapes[index];
			if (found || !shape || shape.sensor || !counts(shape)) return;
			found = gapToSegment(stretch, shape.body) <= OVERLAP_GAP;
		});
		return found;
	});
}

/** What an answer says of room. */
export function roomOf(
	filters: Filters,
	placement: Placement,
	query: QueryOf<'overlap'>,
	status: Answer['status'],
): NonNullable<Answer['room']> {
	const free = status === 'none';
	if (!query.room?.on) return { free };
	const bears = borne(filters, query, basePoints(filters, placement, query)).filter(Boolean).length;
	return { free, bears, of: filters.world.flat ? 3 : 5 };
}

/** Where a volume that asks for room stands, for who shows it. */
export interface Spot {
	/** The points at which it is to be borne, in the world, and which of them are; empty where nothing has to bear it. */
	points: { at: Point; borne: boolean }[];
	/** The move that frees it of all that is in the way, metres; null where there is nothing, or none was found. */
	way: Point | null;
}

/** So many pairs are left, one after the other, before it is given up. */
const MAX_STEPS = 24;
/** What is left between two that were just parted, metres: they would touch otherwise. */
const PARTED = 1e-6;

/**
 * Where a volume that asks for room stands. The way out leaves the pair that sticks deepest by its shortest move, then the next, until
 * nothing is touched: the least for one thing in the way, and one that was tried for several.
 * @param answer to the query as it stands
 */
export function spotOf(world: World, query: QueryOf<'overlap'>, placement: Placement, answer: Answer): Spot {
	const filters = filtersOf(world, query);
	const base = query.room?.on ? basePoints(filters, placement, query) : [];
	const bears = borne(filters, query, base);
	const isBlocked = answer.room?.free === false;
	return {
		points: base.map((at, i) => ({ at, borne: bears[i] === true })),
		way: isBlocked ? wayOut(filters, placement) : null,
	};
}

function wayOut(filters: Filters, { volumes, grow }: Placement): Point | null {
	const { world } = filters;
	const moved = volumes.map(({ body }) => grown(body, grow).clone());
	const inTheWay = world.objects
		.filter((object) => stands(filters, object) && passesFilters(filters, object))
		.flatMap((object) => object.shapes.filter((shape) => isEligible(filters, shape)));
	const total: Point = [0, 0, 0];
	for (let step = 0; step < MAX_STEPS; step++) {
		let deepest: WayOut | null = null;
		for (const shape of inTheWay)
			for (const body of moved) {
				const near = body.boundingRadius + grow + shape.body.boundingRadius + 2 * OVERLAP_GAP;
				if (Math.hypot(body.x - shape.body.x, body.y - shape.body.y, body.z - shape.body.z) > near * 1.000001) continue;
				if (gapBetween(body, shape.body, OVERLAP_GAP) > OVERLAP_GAP) continue;
				// Of what is made of triangles nobody knows the inside.
				if (body.kind === MESH || shape.body.kind === MESH) return null;
				const out = wayOutOf(body, shape.body, world.flat);
				if (!deepest || out.depth > deepest.depth) deepest = out;
			}
		if (!deepest) return total;
		const by = deepest.depth + PARTED;
		const [x, y, z] = deepest.way.map((v) => v * by) as Point;
		for (const body of moved) {
			body.x += x;
			body.y += y;
			body.z += z;
		}
		total[0] += x;
		total[1] += y;
		total[2] += z;
	}
	return null;
}
