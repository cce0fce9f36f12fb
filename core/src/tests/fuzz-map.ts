/** Maps nobody meant, by their seed: each is refused in words of our own, or asked within what its answers may take. */
import { askMap } from '../map/map';
import { mapSvg } from '../map/svg';
import { MAX_ANSWERS, mapGrid } from '../project/map-grid';
import { readProject } from '../project/read';
import { judge } from './judge';
import { type Json, mutatedTree } from './mutate';
import { type Dice, dice } from './random';
import { ahead, ball, box, object, project } from './scene';

/** Grids up to this size are asked; what is larger takes its time, which is why its size is bounded. */
const ASKED = 3000;
/** Bytes of a printed map, its picture and its cells: so many at least, and for each answer. */
const BYTES = { least: 20_000, each: 300 };

const scene = project(
	[
		object('asker', [0, 0, 0], [ball(0.3)]),
		object('near', [0, 0, -2], [box([1, 1, 1])]),
		object('other', [1.2, 0.3, -2], [ball(0.4)]),
		object('floor', [0, -1, 0], [box([9, 0.2, 9])], { layer: 'wall' }),
	],
	[
		{ id: 'p', kind: 'pick', camera: 'eye', viewport: [96, 60], cursor: [3, 4] },
		ahead({ asker: 'asker', from: { object: 'asker' }, aim: { along: [0, 0, -1], of: 'asker' } }),
	],
);
const MAPS: Json = [
	{ id: 'screen', query: 'p', kind: 'cursor', cell: 4 },
	{ id: 'ground', query: 'q', kind: 'floor', area: { min: [-2, -2], max: [2, 3] }, every: 0.5, headings: 4, y: 0 },
	{
		id: 'free',
		query: 'q',
		kind: 'floor',
		area: { min: [0, 0], max: [1, 1] },
		every: 0.5,
		clear: { layers: ['wall'] },
	},
	{ id: 'round', query: 'q', kind: 'aim', yaw: [-90, 90], pitch: [-30, 30], every: 5 },
];

/** Sizes about the bound, and such as no memory holds. */
const size = (d: Dice): Json =>
	d.of([1, 2, 3, 1e-6, 0.001, 1e4, 65_537, 1e6, 1e7, 1e9, 1e12, MAX_ANSWERS, MAX_ANSWERS + 1, d.between(0, 50)]);

/** @returns the same project with the same maps for the same seed */
function mapCase(seed: number): string {
	const d = dice(2 * seed + 1);
	const maps = JSON.parse(d.chance(0.7) ? mutatedTree(d, MAPS) : JSON.stringify(MAPS)) as Json;
	const tree = { ...scene, queries: structuredClone(scene.queries), maps } as unknown as Record<string, Json>;
	const map = Array.isArray(maps) ? d.of(maps) : null;
	if (typeof map === 'object' && map !== null && !Array.isArray(map) && d.chance(0.7)) {
		const field = d.of(['cell', 'every', 'headings', 'y']);
		if (field in map || d.chance(0.2)) map[field] = size(d);
		else map.area = { min: [-1, -1], max: [size(d), size(d)] };
	}
	if (d.chance(0.2)) (tree.queries as Record<string, Json>[])[0].viewport = [size(d), size(d)];
	return JSON.stringify(tree);
}

/** Whether a number in it is none: as JSON it would be null, like what is left out on purpose. */
const holed = (value: unknown): boolean =>
	typeof value === 'number'
		? !Number.isFinite(value)
		: typeof value === 'object' && value !== null && Object.values(value).some(holed);

/** @returns what is wrong with how the case of a seed ends; null where all is well */
export function judgeMap(seed: number): string | null {
	const text = mapCase(seed);
	const wrong = judge(text);
	const reading = readProject(text);
	if (wrong !== null || !reading.ok) return wrong;
	try {
		for (const map of reading.project.maps ?? []) {
			const grid = mapGrid(reading.project, map);
			if (!grid) return `${map.id} is taken, and has no grid`;
			const answers = grid.columns * grid.rows * grid.headings;
			if (!Number.isInteger(answers) || answers < 1 || answers > MAX_ANSWERS) return `${map.id} has ${answers} answers`;
			if (answers > ASKED) continue;
			const rows: number[] = [];
			const result = askMap(reading.project, map, { progress: (done) => void rows.push(done) });
			if (result.cells.length !== answers) return `${map.id} has ${result.cells.length} of ${answers} answers`;
			const most = result.objects.length;
			if (!result.cells.every((v) => Number.isInteger(v) && v >= -4 && v < most)) return `${map.id} has an odd cell`;
			if (rows.length > grid.rows + 2) return `${map.id} told ${rows.length} times how far it is`;
			const printed = JSON.stringify(result);
			const picture = mapSvg(map, result);
			if (holed(result.figures) || /NaN|undefined|Infinity/.test(picture)) return `${map.id} has a figure with a hole`;
			const bytes = printed.length + picture.length;
			if (bytes > BYTES.least + BYTES.each * answers) return `${map.id} takes ${bytes} bytes for ${answers} answers`;
		}
		return null;
	} catch (error) {
		return `threw ${error instanceof Error ? (error.stack ?? error.message) : String(error)}`.slice(0, 800);
	}
}
