/** What is drawn by hand on the stage: a shape at its size, or a query in two gestures: from here, along there. */
import {
	type Project,
	projectPoint,
	type Query,
	rounded,
	roundedTriple,
	tripleOf,
	type Vec3,
	type View,
	viewOf,
	type World,
} from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import { type P2, type P3, pathOf } from '../../drawing/view';
import type { Tool } from '../../model/bench-state';
import { freshQuery, isFloor } from '../edit/fresh-query';
import { usualSize } from '../edit/usual-size';

/** A place pressed: its pixel, where it lies in the scene, and the object under it. */
export interface Press {
	pixel: P2;
	place: Vec3 | null;
	under: string | null;
	/** The face it lies on; `hung`: what is put there is hung on it. Null on the bare ground. */
	face?: { normal: Vec3; hung: boolean } | null;
}

export interface Pending {
	from: Press;
	now: Press;
	clicks: number;
	/** One place says all there is to say. */
	enough: boolean;
}

export function startTool(tool: Tool, before: Pending | null, press: Press): Pending {
	const enough =
		tool.kind === 'shape' || tool.kind === 'ready-made' || (tool.kind === 'query' && tool.query === 'pick');
	return before ? { ...before, now: press, clicks: before.clicks + 1 } : { from: press, now: press, clicks: 1, enough };
}

const onGrid = (v: number, grid: number): number => rounded(Math.round(v / grid) * grid, 4);

/** Where something drawn stands, which way it is turned and how large it is. */
interface Drawn {
	at: Vec3;
	/** Degrees about the vertical; what hangs on a wall faces away from it. */
	yaw: number;
	size: Vec3;
}

/**
 * What a stroke says: on a top it stands, on a wall it hangs or stands before it; it is never behind what was pressed.
 * @param usual its size for one press, and its height where the stroke says none
 */
export function drawn(
	pending: Pending,
	flat: boolean,
	usual: Vec3 = usualSize('box', flat),
	grid = flat ? 0.005 : 0.05,
): Drawn {
	const { from, now } = pending;
	const a = from.place ?? [0, 0, 0];
	const b = now.place ?? a;
	const moved = Math.hypot(now.pixel[0] - from.pixel[0], now.pixel[1] - from.pixel[1]) > 6;
	const normal = from.face && Math.abs(from.face.normal[1]) < 0.7 ? from.face.normal : null;
	if (normal && from.face?.hung) return hungOn(normal, a, b, moved, usual, grid);
	const across = flat || Math.abs(a[2] - b[2]) < 1e-9 ? 1 : 2;
	const wide = moved ? Math.max(grid, onGrid(Math.abs(b[0] - a[0]), grid)) : usual[0];
	const deep = moved ? Math.max(grid, onGrid(Math.abs(b[across] - a[across]), grid)) : usual[across];
	// One press puts its middle on the grid; a stroke its edges.
	const middle = (k: number) => (moved ? onGrid((a[k] + b[k]) / 2, grid / 2) : onGrid(a[k], grid));
	if (flat)
		return { at: [middle(0), middle(1), moved ? middle(2) : onGrid(a[2], grid)], yaw: 0, size: [wide, deep, 0] };
	// Drawn in side view the stroke gives the height; on the ground it gives the depth.
	const size: Vec3 = !moved ? usual : across === 1 ? [wide, deep, Math.min(wide, usual[2])] : [wide, usual[1], deep];
	const at: [number, number, number] = [middle(0), moved && across === 1 ? Math.min(a[1], b[1]) : a[1], middle(2)];
	if (normal) {
		// Before the wall: no part of it lies behind what was pressed.
		const out = (Math.abs(normal[0]) * size[0] + Math.abs(normal[2]) * size[2]) / 2;
		const behind = out - ((at[0] - a[0]) * normal[0] + (at[2] - a[2]) * normal[2]);
		if (behind > 0) {
			at[0] = rounded(at[0] + normal[0] * behind, 4);
			at[2] = rounded(at[2] + normal[2] * behind, 4);
		}
	}
	return { at: [at[0], rounded(at[1], 4), at[2]], yaw: 0, size };
}

/** Its back against the wall, its middle where the stroke has its own. */
function hungOn(normal: Vec3, a: Vec3, b: Vec3, moved: boolean, usual: Vec3, grid: number): Drawn {
	const level = Math.hypot(normal[0], normal[2]);
	const along = moved ? Math.abs((b[0] - a[0]) * normal[2] - (b[2] - a[2]) * normal[0]) / level : usual[0];
	const high = moved ? Math.abs(b[1] - a[1]) : usual[1];
	const size: Vec3 = [Math.max(grid, onGrid(along, grid)), Math.max(grid, onGrid(high, grid)), moved ? 0.1 : usual[2]];
	const middle = moved ? tripleOf((k) => (a[k] + b[k]) / 2) : a;
	const out = size[2] / 2 / level;
	return {
		at: roundedTriple([middle[0] + normal[0] * out, middle[1] - size[1] / 2, middle[2] + normal[2] * out], 4),
		yaw: rounded((Math.atan2(normal[0], normal[2]) * 180) / Math.PI, 3),
		size,
	};
}

interface Said {
	label: string;
	edit: (draft: Project) => void;
	open: string | null;
}

/** The query that two presses say, or why they say none. */
export function sayTool(
	tool: Tool,
	pending: Pending,
	world: World,
	project: Project,
	picked: string | null,
): Said | string {
	if (tool.kind !== 'query') return 'Nothing to add.';
	const { now } = pending;
	// Pressed on a floor it starts there, and not with the floor.
	const under = pending.from.under === null ? undefined : world.objectById.get(pending.from.under);
	const from = isFloor(under?.def) ? { ...pending.from, under: null } : pending.from;
	const holder = from.under ?? (tool.query === 'hitbox' ? picked : null);
	if (tool.query === 'hitbox' && holder === null)
		return 'A hitbox swings with an object: press on the one that swings first.';
	const query = freshQuery(project, tool.query, picked, tool.query === 'pick' ? undefined : (holder ?? undefined));
	if (!query)
		return tool.query === 'pick'
			? 'A pick looks through a camera, and this scene has none. Add one first.'
			: 'There is nothing to ask about yet. Add an object first.';
	const problem = fill(query, from, now, world);
	if (problem !== null) return problem;
	return { label: `New ${tool.query}`, edit: (draft) => void draft.queries.push(query), open: query.id };
}

const distance = (a: P3, b: P3): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
const tidy = (v: readonly number[]): Vec3 => roundedTriple(v, 3);

/** Puts the two places into a fresh query. @returns why it cannot be, or null */
function fill(query: Query, from: Press, now: Press, world: World): string | null {
	const holder = from.under === null ? undefined : world.objectById.get(from.under);
	const target = now.under === null ? undefined : world.objectById.get(now.under);
	switch (query.kind) {
		case 'ray':
		case 'sweep': {
			const start: P3 | null = holder ? holder.focus : from.place;
			if (!start) return 'There is no ground there to start from.';
			const at: P3 = start;
			query.from = holder ? { focus: holder.id } : { point: tidy(world.flat ? [at[0], at[1], 0] : at) };
			if (holder) query.asker = holder.id;
			else delete query.asker;
			if (target && target !== holder && !isFloor(target.def)) {
				// Pointed at a thing: aimed at its focus as it lies now, and on beyond it.
				const d = distance(at, target.focus);
				if (d < 1e-6) return 'Both places are the same.';
				query.aim = { toward: { focus: target.id } };
				query.length = Number(Math.max(d * 1.5, world.flat ? 0.2 : 2).toFixed(1));
				return null;
			}
			const end = now.place;
			if (!end) return 'There is no ground there to point at.';
			const way = [
				end[0] - at[0],
				world.flat ? end[1] - at[1] : holder ? 0 : end[1] - at[1],
				world.flat ? 0 : end[2] - at[2],
			] as const;
			const d = Math.hypot(...way);
			if (d < 1e-3) return 'Press two different places: from here, along there.';
			const dir = [way[0] / d, way[1] / d, way[2] / d] as const;
			query.aim = holder ? { along: tidy(unturned(holder.rotation, ...dir)), of: holder.id } : { along: tidy(dir) };
			query.length = Number(d.toFixed(2));
			return null;
		}
		case 'pick': {
			const camera = world.cameras.get(query.camera);
			const place = holder ? holder.focus : from.place;
			if (!camera || !place) return 'There is nothing there to point at.';
			const out = new Float64Array(3);
			projectPoint(viewOf(camera, query.viewport), place, out);
			query.cursor = [Number(out[0].toFixed(1)), Number(out[1].toFixed(1))];
			return out[2] < 0 ? `${camera.def.name ?? camera.id} does not look there.` : null;
		}
		case 'overlap': {
			const centre: P3 | null = holder ? holder.position : from.place;
			if (!centre) return 'There is no ground there.';
			query.at = holder ? { object: holder.id } : { point: tidy(world.flat ? [centre[0], centre[1], 0] : centre) };
			if (holder) query.asker = holder.id;
			else delete query.asker;
			const d = now.place
				? world.flat
					? Math.hypot(now.place[0] - centre[0], now.place[1] - centre[1])
					: Math.hypot(now.place[0] - centre[0], now.place[2] - centre[2])
				: 0;
			if (d > 1e-3 && 'radius' in query.shape) query.shape.radius = Number(d.toFixed(2));
			return null;
		}
		case 'hitbox': {
			const swinger = world.objectById.get(query.asker);
			const box = query.boxes[0];
			if (!swinger || !box) return 'There is nobody to swing it.';
			if (now.place && distance(now.place, swinger.position) > 1e-3) {
				const local = unturned(
					swinger.rotation,
					now.place[0] - swinger.position[0],
					now.place[1] - swinger.position[1],
					now.place[2] - swinger.position[2],
				);
				box.at = world.flat
					? tidy([local[0] / swinger.scale[0], local[1] / swinger.scale[1], 0])
					: tidy([local[0] / swinger.scale[0], 1, local[2] / swinger.scale[2]]);
			}
			return null;
		}
	}
}

/** What a stroke under way will make. */
export function Drawing({ pending, tool, view, flat }: { pending: Pending; tool: Tool; view: View; flat: boolean }) {
	const a = pending.from.place;
	const b = pending.now.place;
	if (!a || !b) return null;
	if (tool.kind === 'shape' || tool.kind === 'ready-made') {
		const k = flat || Math.abs(a[2] - b[2]) < 1e-9 ? 1 : 2;
		const corner = (x: number, y: number): P3 => (k === 1 ? [x, y, a[2]] : [x, a[1], y]);
		const { size } = drawn(pending, flat);
		return (
			<g>
				<path
					d={pathOf(view, [corner(a[0], a[k]), corner(b[0], a[k]), corner(b[0], b[k]), corner(a[0], b[k])], true)}
					fill="var(--wash)"
					stroke="var(--ink)"
					strokeWidth="1.5"
				/>
				<text
					x={pending.now.pixel[0] + 14}
					y={pending.now.pixel[1] + 4}
					className="figure"
					fontSize="12"
					fill="var(--ink)"
				>
					{size[0]} × {flat || k === 1 ? size[1] : size[2]} m
				</text>
			</g>
		);
	}
	const d = distance(a, b);
	return (
		<g>
			<path d={pathOf(view, [a, b])} stroke="var(--ink)" strokeWidth="2" strokeDasharray="6 3" />
			<text
				x={pending.now.pixel[0] + 14}
				y={pending.now.pixel[1] + 4}
				className="figure"
				fontSize="12"
				fill="var(--ink)"
			>
				{d.toFixed(2)} m
			</text>
		</g>
	);
}
