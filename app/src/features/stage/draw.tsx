/** What is drawn by hand on the stage: a shape at its size, or a query in two gestures: from here, along there. */
import {
	type Project,
	project as projectPoint,
	type Query,
	rounded,
	roundedTriple,
	type Vec3,
	type View,
	viewOf,
	type World,
} from '@frelk/core';
import { unturned } from '@frelk/core/geometry';
import { type P2, type P3, pathOf } from '../../drawing/view';
import type { Tool } from '../../model/store';
import { freshQuery } from '../edit/fresh-query';

/** A place pressed: its pixel, where it lies in the scene, and the object under it. */
export interface Press {
	pixel: P2;
	place: Vec3 | null;
	under: string | null;
}

export interface Pending {
	from: Press;
	now: Press;
	clicks: number;
	/** One place says all there is to say. */
	enough: boolean;
}

export function startTool(tool: Tool, before: Pending | null, press: Press): Pending {
	const enough = tool.kind === 'shape' || (tool.kind === 'query' && tool.query === 'pick');
	return before ? { ...before, now: press, clicks: before.clicks + 1 } : { from: press, now: press, clicks: 1, enough };
}

const onGrid = (v: number, grid: number): number => rounded(Math.round(v / grid) * grid, 4);

/** Where a drawn shape stands and how large it is. */
export function drawn(pending: Pending, flat: boolean): { at: Vec3; size: Vec3 } {
	const grid = flat ? 0.005 : 0.05;
	const a = pending.from.place ?? [0, 0, 0];
	const b = pending.now.place ?? a;
	const moved =
		Math.hypot(pending.now.pixel[0] - pending.from.pixel[0], pending.now.pixel[1] - pending.from.pixel[1]) > 6;
	const usual: Vec3 = flat ? [0.12, 0.08, 0] : [0.8, 0.8, 0.8];
	if (!moved) return { at: [onGrid(a[0], grid), onGrid(a[1], grid), onGrid(a[2], grid)], size: usual };
	const wide = Math.max(grid, onGrid(Math.abs(b[0] - a[0]), grid));
	const k = flat || a[2] === b[2] ? 1 : 2;
	const deep = Math.max(grid, onGrid(Math.abs(b[k] - a[k]), grid));
	const at: Vec3 = [
		onGrid((a[0] + b[0]) / 2, grid / 2),
		onGrid((a[1] + b[1]) / 2, grid / 2),
		onGrid((a[2] + b[2]) / 2, grid / 2),
	];
	if (flat) return { at, size: [wide, deep, 0] };
	// Drawn in side view the stroke gives the height; on the ground it gives the depth.
	return k === 1
		? { at: [at[0], Math.min(a[1], b[1]), at[2]], size: [wide, deep, Math.min(wide, deep)] }
		: { at, size: [wide, 0.8, deep] };
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
	if (tool.kind === 'camera') return 'A camera is added from the list.';
	if (tool.kind !== 'query') return 'Nothing to add.';
	const { from, now } = pending;
	const holder = from.under ?? (tool.query === 'hitbox' ? picked : null);
	if (tool.query === 'hitbox' && holder === null)
		return 'A hitbox swings with an object: press on the one that swings first.';
	const query = freshQuery(project, tool.query, holder ?? picked);
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
			if (target && target !== holder) {
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
	if (tool.kind === 'shape') {
		const k = flat || a[2] === b[2] ? 1 : 2;
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
