/** The worker that holds a level while one looks at it: read once, laid into the project again whenever a rule changes. */
import {
	answersAt,
	type Change,
	changesBetween,
	checkProject,
	formatProblem,
	type Project,
	readProject,
} from '@frelk/core';
import {
	greatestGap,
	type ImportReport,
	type Level,
	levelInto,
	madeBy,
	type NamingRule,
	type NamingRules,
	shapesOf,
} from '@frelk/interchange';
import { type NamedBytes, readGltf } from '@frelk/interchange/gltf';
import { readSvg } from '@frelk/interchange/svg';
import { expose } from 'comlink';

/** A node in short, as the table shows it. */
export interface LevelRow {
	path: string;
	name: string;
	/** What the file has of it, in words: "mesh, 240 triangles"; "box". */
	has: string;
	/** Keys of its extras. */
	extras: string[];
}

/** What a level is. */
export interface LevelShown {
	kind: Level['kind'];
	rows: LevelRow[];
	cameras: number;
	notes: Level['notes'];
	/** It is a file of our own, with a project in it. */
	ownProject: string | null;
}

/** What the rules make of it, and of the project. */
export interface LevelMade {
	/** The project as it would be, as text, or what is wrong with it. */
	project: string | null;
	problems: string[];
	report: ImportReport;
	answers: Change[];
	/** By node: the layer, tags and shape it becomes, or that it is left out. */
	made: { layer: string; tags: string[]; shape: string; leave: boolean; rules: number[] }[];
}

let level: Level | null = null;
let file = '';

const wordsOf = (node: Level['nodes'][number]): string => {
	const kinds = node.colliders.map((c) => c.kind);
	const mesh = node.surface ? [`mesh, ${node.surface.triangles.length / 3} triangles`] : [];
	return [...mesh, ...kinds].join('; ') || 'nothing';
};

const hand = {
	/** @throws with the place where a file is not what it says */
	async read(files: readonly NamedBytes[], progress: (what: string, done: number) => void): Promise<LevelShown> {
		const svg = files.find((f) => /\.svg$/i.test(f.name));
		const main = svg ?? files.find((f) => /\.(glb|gltf)$/i.test(f.name)) ?? files[0];
		file = main?.name ?? '';
		level = svg
			? readSvg(new TextDecoder().decode(svg.bytes), svg.name)
			: await readGltf(files, (what, done) => void progress(what, done));
		return {
			kind: level.kind,
			rows: level.nodes.map((node) => ({
				path: node.path,
				name: node.name,
				has: wordsOf(node),
				extras: typeof node.extras === 'object' && node.extras !== null ? Object.keys(node.extras) : [],
			})),
			cameras: level.cameras.length,
			notes: level.notes,
			ownProject: level.project?.name ?? null,
		};
	},
	/** Lays the level over a project by rules, and says what that does. */
	lay(text: string, rules: NamingRules): LevelMade {
		if (!level) throw new Error('no level was read');
		const reading = readProject(text);
		if (!reading.ok) throw new Error('the project cannot be read');
		const before: Project = reading.project;
		const { project, report } = levelInto(level, rules, before, file);
		const good = checkProject(project);
		const fallback = rules.layer ?? before.scene.layers[0]?.id ?? 'level';
		return {
			project: good.ok ? JSON.stringify(project) : null,
			problems: good.ok ? [] : good.problems.map(formatProblem),
			report,
			answers: good.ok ? changesBetween(answersAt(before), answersAt(project)) : [],
			made: madeBy(rules, level.nodes).map((m, i) => ({
				layer: m.layer ?? fallback,
				tags: m.tags,
				leave: m.leave,
				rules: m.rules,
				shape: shapeWords(m.shape, level as Level, i),
			})),
		};
	},
	/** How far a node's shape and its mesh are apart at most, and the mesh's edges in the node's axes. */
	compare(at: number, rules: NamingRules): { gap: number | null; edges: number[]; vertices: number[] } {
		const node = level?.nodes[at];
		if (!node) return { gap: null, edges: [], vertices: [] };
		const [how] = madeBy(rules, [node]);
		const shapes = how ? shapesOf(node, how.shape, null).shapes : [];
		const { triangles = [], vertices = [] } = node.surface ?? {};
		return { gap: greatestGap(node, shapes), edges: edgesOf(triangles), vertices: [...vertices] };
	},
};

/** Edges drawn of one mesh. */
const MOST_EDGES = 3000;

function edgesOf(triangles: readonly number[]): number[] {
	const seen = new Set<string>();
	const out: number[] = [];
	for (let i = 0; i < triangles.length && out.length < 2 * MOST_EDGES; i += 3)
		for (const [a, b] of [
			[0, 1],
			[1, 2],
			[2, 0],
		] as const) {
			const [p, q] = [triangles[i + a] as number, triangles[i + b] as number];
			const key = p < q ? `${p} ${q}` : `${q} ${p}`;
			if (seen.has(key)) continue;
			seen.add(key);
			out.push(p, q);
		}
	return out;
}

function shapeWords(way: NonNullable<NamingRule['shape']>, of: Level, at: number): string {
	const node = of.nodes[at];
	if (!node) return '';
	const { shapes } = shapesOf(node, way, null);
	return shapes.map((s) => s.kind).join(', ') || 'no shape';
}

export type LevelHand = typeof hand;
expose(hand);
