/** The worker that holds a level while one looks at it: read once, laid into the project again whenever a rule changes. */
import {
	type AnswerChange,
	answersAt,
	changesBetween,
	checkProject,
	formatProblem,
	type Project,
	readProject,
} from '@frelk/core';
import {
	fallbackLayer,
	greatestGap,
	type ImportReport,
	type Level,
	levelsInto,
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
	answers: AnswerChange[];
	/** By node: the layer, tags and shape it becomes, or that it is left out. */
	made: { layer: string; tags: string[]; shape: string; leave: boolean; rules: number[] }[];
}

/** The levels that were read, each with the name of its file. */
let levels: { level: Level; file: string }[] = [];

/** The nodes of all levels, in the order of the rows. */
const allNodes = (): Level['nodes'] => levels.flatMap(({ level }) => level.nodes);

const isLevel = (name: string): boolean => /\.(glb|gltf|svg)$/i.test(name);

/** The decoder of Draco with its code as the page serves it. */
async function draco(): Promise<unknown> {
	const [{ default: start }, { default: code }] = await Promise.all([
		import('draco3d/draco_decoder_nodejs.js'),
		import('draco3d/draco_decoder.wasm?url'),
	]);
	const wasmBinary = new Uint8Array(await (await fetch(code)).arrayBuffer());
	return (start as (options: object) => Promise<unknown>)({ wasmBinary });
}

const wordsOf = (node: Level['nodes'][number]): string => {
	const kinds = node.colliders.map((c) => c.kind);
	const mesh = node.surface ? [`mesh, ${node.surface.triangles.length / 3} triangles`] : [];
	return [...mesh, ...kinds].join('; ') || 'nothing';
};

const hand = {
	/** @throws with the place where a file is not what it says */
	async read(files: readonly NamedBytes[], progress: (what: string, done: number) => void): Promise<LevelShown> {
		const mains = files.filter((f) => isLevel(f.name));
		// What is no level belongs to those that name it.
		const beside = files.filter((f) => !isLevel(f.name));
		levels = [];
		for (const main of mains.length > 0 ? mains : files.slice(0, 1))
			levels.push({
				file: main.name,
				level: /\.svg$/i.test(main.name)
					? readSvg(new TextDecoder().decode(main.bytes), main.name)
					: await readGltf([main, ...beside], (what, done) => void progress(`${main.name}: ${what}`, done), { draco }),
			});
		const kinds = new Set(levels.map(({ level }) => level.kind));
		if (kinds.size > 1)
			throw new Error('some of these are flat drawings and some are levels in space: bring one kind at a time');
		const several = levels.length > 1;
		const [first] = levels;
		return {
			kind: first?.level.kind ?? 'space',
			rows: levels.flatMap(({ level, file }) =>
				level.nodes.map((node) => ({
					path: several ? `${file}: ${node.path}` : node.path,
					name: node.name,
					has: wordsOf(node),
					extras: typeof node.extras === 'object' && node.extras !== null ? Object.keys(node.extras) : [],
				})),
			),
			cameras: levels.reduce((sum, { level }) => sum + level.cameras.length, 0),
			notes: levels.flatMap(({ level }) => level.notes),
			ownProject: several ? null : (first?.level.project?.name ?? null),
		};
	},
	/** Lays the level over a project by rules, and says what that does. */
	lay(text: string, rules: NamingRules): LevelMade {
		if (levels.length === 0) throw new Error('no level was read');
		const reading = readProject(text);
		if (!reading.ok) throw new Error('the project cannot be read');
		const before: Project = reading.project;
		const { project, report } = levelsInto(levels, rules, before);
		const good = checkProject(project);
		const nodes = allNodes();
		const fallback = fallbackLayer(rules, before);
		return {
			project: good.ok ? JSON.stringify(project) : null,
			problems: good.ok ? [] : good.problems.map(formatProblem),
			report,
			answers: good.ok && before.queries.length > 0 ? changesBetween(answersAt(before), answersAt(project)) : [],
			made: madeBy(rules, nodes).map((m, i) => ({
				layer: m.layer ?? fallback,
				tags: m.tags,
				leave: m.leave,
				rules: m.rules,
				shape: shapeWords(m.shape, nodes[i]),
			})),
		};
	},
	/** How far a node's shape and its mesh are apart at most, and the mesh's edges in the node's axes. */
	compare(at: number, rules: NamingRules): { gap: number | null; edges: number[]; vertices: number[] } {
		const node = allNodes()[at];
		if (!node) return { gap: null, edges: [], vertices: [] };
		const [how] = madeBy(rules, [node]);
		const shapes = how ? shapesOf(node, how.shape, null).shapes : [];
		const { triangles = [], vertices = [] } = node.surface ?? {};
		return { gap: greatestGap(node, shapes), edges: edgesOf(triangles), vertices: [...vertices] };
	},
};

/** Edges drawn of one mesh. */
const MAX_EDGES = 3000;

function edgesOf(triangles: readonly number[]): number[] {
	const seen = new Set<string>();
	const out: number[] = [];
	for (let i = 0; i < triangles.length && out.length < 2 * MAX_EDGES; i += 3)
		for (const [a, b] of [
			[0, 1],
			[1, 2],
			[2, 0],
		] as const) {
			const [p, q] = [triangles[i + a], triangles[i + b]];
			const key = p < q ? `${p} ${q}` : `${q} ${p}`;
			if (seen.has(key)) continue;
			seen.add(key);
			out.push(p, q);
		}
	return out;
}

function shapeWords(way: NonNullable<NamingRule['shape']>, node: Level['nodes'][number] | undefined): string {
	if (!node) return '';
	const { shapes } = shapesOf(node, way, null);
	return shapes.map((s) => s.kind).join(', ') || 'no shape';
}

export type LevelHand = typeof hand;
expose(hand);
