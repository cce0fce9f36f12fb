/** The grid of a map: how many columns, rows and headings it has, and what each of them stands for. */
import type { Project, QueryMap } from './schema';

/** No map has more answers. */
export const MAX_ANSWERS = 4_000_000;
/** What a range's end may be passed by, so that sums of steps reach it. */
const END = 1e-9;

/** Columns, rows and headings (1 where they do not apply) of a map. */
export interface MapGrid {
	columns: number;
	rows: number;
	headings: number;
}

const steps = (from: number, to: number, every: number): number => Math.floor((to + END - from) / every) + 1;

/** @returns null for a map whose query is none that it can ask */
export function mapGrid(project: Project, map: QueryMap): MapGrid | null {
	const query = project.queries.find((q) => q.id === map.query);
	if (map.kind === 'cursor') {
		if (query?.kind !== 'pick') return null;
		const cell = map.cell ?? 4;
		return { columns: Math.ceil(query.viewport[0] / cell), rows: Math.ceil(query.viewport[1] / cell), headings: 1 };
	}
	const { every = 1 } = map;
	if (map.kind === 'floor') {
		const { min, max } = map.area ?? { min: [0, 0], max: [0, 0] };
		return {
			columns: steps(min[0], max[0], every),
			rows: steps(min[1], max[1], every),
			headings: map.headings ?? 1,
		};
	}
	const [yaw, pitch] = [map.yaw ?? [0, 0], map.pitch ?? [0, 0]];
	return {
		columns: steps(yaw[0], yaw[1], every),
		rows: steps(pitch[0], pitch[1], every),
		headings: 1,
	};
}
