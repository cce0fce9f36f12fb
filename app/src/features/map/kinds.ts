/** Which map a query gets when one is first looked at: of cursors, of places to stand, of directions. */
import type { Project, Query, QueryMap, Vec3, View } from '@frelk/core';
import { turned, unturned } from '@frelk/core/geometry';
import { isFloor } from '../edit/fresh-query';

/** A map but for its id and name. */
export type MapOfQuery = Omit<QueryMap, 'id' | 'name'>;

/** Cells across a picture. */
const ACROSS = 240;
/** How far around the asker places are tried, metres; and in how many headings. */
const AROUND = 6;
const HEADINGS = 16;
/** Windows of directions begin and end at multiples of this, degrees: a small turn asks for no new ones. */
const NOTCH = 15;
/** What rounding may pass a notch by. */
const ROUNDING = 1e-9;

/** A kept map of the query, of that kind: its steps and its place are what one wants to see. */
function keptOf(project: Project, query: Query, kind: QueryMap['kind']): MapOfQuery | null {
	const kept = project.maps?.find((m) => m.query === query.id && m.kind === kind);
	if (!kept) return null;
	const { id: _, name: __, moment: ___, ...rest } = kept;
	return rest;
}

/** @returns null for a query whose cursor cannot be mapped */
export function cursorMapOf(project: Project, query: Query): MapOfQuery | null {
	if (query.kind !== 'pick') return null;
	const cell = Math.max(1, Math.round(Math.max(...query.viewport) / ACROSS));
	return keptOf(project, query, 'cursor') ?? { query: query.id, kind: 'cursor', cell };
}

/** Layers with something solid on them that nobody stands in: all but those of floors, on which one stands. In space only. */
function layersInTheWay({ scene }: Project): string[] {
	if (scene.kind === 'flat') return [];
	const solid = new Set<string>();
	const floors = new Set<string>();
	for (const object of scene.objects)
		for (const shape of object.shapes ?? [])
			if (shape.role !== 'sensor' && shape.enabled !== false)
				(isFloor(object) ? floors : solid).add(shape.layer ?? object.layer);
	return scene.layers.map((l) => l.id).filter((id) => solid.has(id) && !floors.has(id));
}

/**
 * Places around the asker.
 * @param at where the asker stands, world metres
 * @returns null for a query that nobody asks
 */
export function floorMapOf(project: Project, query: Query, at: Vec3): MapOfQuery | null {
	if (query.asker === undefined) return null;
	const [u, v] = project.scene.kind === 'flat' ? [at[0], at[1]] : [at[0], at[2]];
	const from = (x: number) => Math.floor(x) - AROUND;
	const room = query.kind === 'overlap' && query.room !== undefined;
	const clear = room ? [] : layersInTheWay(project);
	return (
		keptOf(project, query, 'floor') ?? {
			query: query.id,
			kind: 'floor',
			area: { min: [from(u), from(v)], max: [from(u) + 2 * AROUND, from(v) + 2 * AROUND] },
			// What asks for room is turned by hand; what is looked for is where it fits.
			every: room ? 0.25 : 0.5,
			headings: room ? 1 : HEADINGS,
			...(clear.length > 0 ? { clear: { layers: clear } } : {}),
		}
	);
}

/** Whether a map of directions can be asked of a query. */
const aims = (project: Project, query: Query): boolean =>
	project.scene.kind === 'space' && (query.kind === 'ray' || query.kind === 'sweep') && query.aim?.along !== undefined;

const DEGREES = 180 / Math.PI;

/** @returns yaw and pitch of a direction, degrees, as the maps of directions count them */
function anglesOf([x, y, z]: readonly [number, number, number]): [yaw: number, pitch: number] {
	return [Math.atan2(-x, -z) * DEGREES, Math.asin(Math.max(-1, Math.min(1, y / Math.hypot(x, y, z)))) * DEGREES];
}

/**
 * The directions that a picture shows.
 * @param view what the picture is seen through
 * @param holder rotation of what the aim hangs on; null for the world's axes
 */
export function aimMapOf(project: Project, query: Query, view: View, holder: Float64Array | null): MapOfQuery | null {
	if (!aims(project, query)) return null;
	const m = view.camera.rotation;
	const wide = view.half * (view.width / view.height);
	const angles: [number, number][] = [];
	for (const x of [-1, 0, 1])
		for (const y of [-1, 0, 1]) {
			const v: [number, number, number] = [x * wide, y * view.half, -1];
			const world = turned(m, ...v);
			angles.push(anglesOf(holder ? unturned(holder, ...world) : world));
		}
	const [middle, middlePitch] = angles[4] ?? [0, 0];
	// About the middle, so that a window over the turn from 180 to −180 is one piece.
	const yaws = angles.map(([yaw]) => middle + ((((yaw - middle) % 360) + 540) % 360) - 180);
	const pitches = angles.map(([, pitch]) => pitch);
	const down = (x: number) => NOTCH * Math.floor(x / NOTCH + ROUNDING);
	const up = (x: number) => NOTCH * Math.ceil(x / NOTCH - ROUNDING);
	// With straight up or down in the picture, every heading is.
	const straight = [1, -1].some((y) => {
		const pole: [number, number, number] = holder ? turned(holder, 0, y, 0) : [0, y, 0];
		const [a, b, c] = unturned(m, ...pole);
		return c < 0 && Math.abs(a) <= wide * -c && Math.abs(b) <= view.half * -c;
	});
	return {
		query: query.id,
		kind: 'aim',
		yaw: straight ? [-180, 179] : [down(Math.min(...yaws)), up(Math.max(...yaws))],
		pitch: [
			straight && middlePitch < 0 ? -90 : Math.max(-90, down(Math.min(...pitches))),
			straight && middlePitch > 0 ? 90 : Math.min(90, up(Math.max(...pitches))),
		],
		every: 1,
	};
}

/** The map with which a query is first looked at on the page of maps. */
export function firstMapOf(project: Project, query: Query): MapOfQuery | null {
	const stands = project.scene.objects.find((o) => o.id === query.asker)?.position ?? [0, 0, 0];
	return (
		cursorMapOf({ ...project, maps: [] }, query) ??
		floorMapOf({ ...project, maps: [] }, query, stands) ??
		(aims(project, query) ? { query: query.id, kind: 'aim', yaw: [-60, 60], pitch: [-40, 40], every: 2 } : null)
	);
}

/**
 * A project without what a map puts in place of it: while that is moved by hand the map stays as it is.
 * @returns the project itself where there is nothing of that
 */
export function withoutMapped(project: Project, map: MapOfQuery): Project {
	const query = project.queries.find((q) => q.id === map.query);
	if (!query) return project;
	const withQuery = (made: Query): Project => ({
		...project,
		queries: project.queries.map((q) => (q === query ? made : q)),
	});
	if (map.kind === 'cursor' && query.kind === 'pick') return withQuery({ ...query, cursor: undefined } as Query);
	if (map.kind === 'aim' && (query.kind === 'ray' || query.kind === 'sweep') && query.aim?.along)
		return withQuery({ ...query, aim: { ...query.aim, along: [0, 0, -1] } });
	return project;
}
