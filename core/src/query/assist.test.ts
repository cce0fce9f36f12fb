import fc from 'fast-check';
import { expect, it } from 'vitest';
import { angleBetween, rotationOf } from '../geometry/matrix';
import type { Project, Query } from '../project/schema';
import { runs } from '../tests/runs';
import { buildWorld, moveObjects, type WorldCamera } from '../world/world';
import { filtersOf } from './filters';
import { fromCursor, isNote, pixelsFromCursor, placementOf, projectPoint, type View } from './placement';
import { type Touching, withinAssist } from './touch';

type Triple = [number, number, number];

/** To the centimetre: what lies a rounding error from the start is the start. */
const number = fc.integer({ min: -500, max: 500 }).map((v) => v / 100);
const place = fc.tuple(number, number, number);
const turn = fc.tuple(
	fc.integer({ min: -180, max: 180 }),
	fc.integer({ min: -85, max: 85 }),
	fc.integer({ min: -180, max: 180 }),
);

/** Objects without shapes at the given foci, a camera, and one query. */
const sceneOf = (
	foci: readonly Triple[],
	camera: { position: Triple; rotation: Triple; ortho: boolean },
	query: Query,
): Project => ({
	format: 'frelk/1',
	id: 'p',
	name: 'P',
	scene: {
		kind: 'space',
		layers: [{ id: 'a', name: 'A' }],
		tags: [],
		objects: foci.map((position, i) => ({ id: `o${i}`, layer: 'a', position })),
		cameras: [
			{
				id: 'eye',
				position: camera.position,
				rotation: camera.rotation,
				...(camera.ortho
					? { projection: 'orthographic' as const, height: 6 }
					: { projection: 'perspective' as const, fov: 50 }),
			},
		],
	},
	queries: [query],
});

function touchingOf(scene: Project): Touching {
	const world = buildWorld(scene);
	const query = world.queries[0];
	const placement = placementOf({ world, query, asker: null, hitOf: () => null });
	if (isNote(placement)) throw new Error('the query waits');
	return {
		filters: filtersOf(world, query),
		placement: placement,
		count: false,
		startsInside: new Set(),
		skipped: new Set(),
		pathBody: null,
	};
}

/** The contract's sentence, word for word: between the ends of the path, and no further beside it than the assist says; at the start always. */
function reaches({ placement, filters: { query } }: Touching, focus: Triple): boolean {
	if ((query.kind !== 'ray' && query.kind !== 'pick') || !query.assist || !placement.path)
		throw new Error('not a query that is helped');
	const { start, dir, length } = placement.path;
	const r = focus.map((v, k) => v - start[k]) as Triple;
	if (Math.hypot(...r) === 0) return true;
	const t = r[0] * dir[0] + r[1] * dir[1] + r[2] * dir[2];
	if (t < -1e-9 || t > length + 1e-9) return false;
	const { by, within } = query.assist;
	if (by === 'angle') return angleBetween(...r, ...dir) <= within;
	if (by === 'distance') return Math.hypot(...r.map((v, k) => v - t * dir[k])) <= within;
	return placement.view !== null && pixelsFromCursor(placement.view as View, focus) <= within;
}

/** Holds what is marked against the contract, object by object. @returns how many are reached */
function held(t: Touching, foci: readonly Triple[]): number {
	const helped = withinAssist(t);
	expect([...(helped ?? [])]).toEqual(foci.map((focus) => (reaches(t, focus) ? 1 : 0)));
	return foci.filter((_, i) => helped?.[i] === 1).length;
}

const camera = fc.record({ position: place, rotation: turn, ortho: fc.boolean() });

it('reaches by pixels what lies that near the cursor in the picture', () => {
	let near = 0;
	fc.assert(
		fc.property(
			fc.array(place, { minLength: 1, maxLength: 40 }),
			camera,
			fc.tuple(fc.integer({ min: 0, max: 320 }), fc.integer({ min: 0, max: 180 })),
			fc.integer({ min: 0, max: 200 }),
			(foci, camera, cursor, within) => {
				const t = touchingOf(
					sceneOf(foci, camera, {
						id: 'q',
						kind: 'pick',
						camera: 'eye',
						viewport: [320, 180],
						cursor,
						assist: { by: 'pixels', within },
					}),
				);
				near += held(t, foci);
			},
		),
		{ numRuns: runs(500) },
	);
	expect(near).toBeGreaterThan(runs(30));
});

it('reaches by angle and by distance what lies that near the path', () => {
	let near = 0;
	fc.assert(
		fc.property(
			fc.array(place, { minLength: 1, maxLength: 40 }),
			place,
			place.filter((d) => Math.hypot(...d) > 0),
			fc.constantFrom('angle' as const, 'distance' as const),
			fc.double({ min: 0, max: 100, noNaN: true }),
			(foci, from, along, by, amount) => {
				const within = by === 'angle' ? amount : amount / 10;
				const query: Query = {
					id: 'q',
					kind: 'ray',
					from: { point: from },
					aim: { along },
					length: 15,
					assist: { by, within },
				};
				// A focus at the very start is neither ahead nor behind: it is reached.
				const all = [from, ...foci];
				const t = touchingOf(sceneOf(all, { position: [0, 0, 0], rotation: [0, 0, 0], ortho: false }, query));
				expect(withinAssist(t)?.[0]).toBe(1);
				near += held(t, all) - 1;
			},
		),
		{ numRuns: runs(500) },
	);
	expect(near).toBeGreaterThan(runs(30));
});

it('follows objects that move', () => {
	const query: Query = {
		id: 'q',
		kind: 'ray',
		from: { point: [0, 0, 0] },
		aim: { along: [0, 0, -1] },
		length: 10,
		assist: { by: 'distance', within: 1 },
	};
	const scene = sceneOf([[5, 0, -4]], { position: [0, 0, 0], rotation: [0, 0, 0], ortho: false }, query);
	const t = touchingOf(scene);
	expect(withinAssist(t)?.[0]).toBe(0);
	moveObjects(t.filters.world, new Map([['o0', { ...scene.scene.objects[0], position: [0.5, 0, -4] }]]));
	expect(withinAssist(t)?.[0]).toBe(1);
});

it('sees a point from the cursor as the picture shows it', () => {
	fc.assert(
		fc.property(
			camera,
			place,
			fc.tuple(fc.integer({ min: 0, max: 320 }), fc.integer({ min: 0, max: 180 })),
			({ position, rotation, ortho }, point, cursor) => {
				const seer: WorldCamera = {
					id: 'eye',
					def: { id: 'eye', position, projection: 'perspective', fov: 50 },
					object: null,
					position,
					rotation: rotationOf(rotation),
					far: 100,
				};
				const view: View = {
					camera: seer,
					width: 320,
					height: 180,
					cursor,
					half: ortho ? 3 : 0.5,
					perspective: !ortho,
				};
				const pixel = new Float64Array(3);
				projectPoint(view, point, pixel);
				const planes = fromCursor(view);
				const at = (row: number) =>
					planes[row] * point[0] + planes[row + 1] * point[1] + planes[row + 2] * point[2] + planes[row + 3];
				const depth = at(8);
				fc.pre(Math.abs(depth) > 1e-3);
				expect(at(0) / depth).toBeCloseTo(pixel[0] - cursor[0], 4);
				expect(at(4) / depth).toBeCloseTo(pixel[1] - cursor[1], 4);
				expect(depth).toBeCloseTo(ortho ? 1 : pixel[2], 9);
			},
		),
	);
});
