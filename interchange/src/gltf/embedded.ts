/** The project that rides in a file of our own, and whether the nodes beside it are still those that were written with it. */
import { checkProject, formatProblem, oneLine, type Project } from '@frelk/core';
import type { Mesh, Node, Root } from '@gltf-transform/core';
import type { LevelNote } from '../level';
import { type Body, PhysicsBodies } from './physics';
import { documentOf, RIDES } from './write';

/** @returns the project in the extras of a file's root; null where there is none, or none that can be read, which is noted */
export function embeddedProject(extras: unknown, notes: LevelNote[]): Project | null {
	const found = (extras as Record<string, unknown> | undefined)?.[RIDES];
	if (found === undefined) return null;
	const reading = checkProject(found);
	if (reading.ok) return reading.project;
	const first = reading.problems[0];
	notes.push({
		path: `extras.${RIDES}`,
		message: `the project in it is not read: ${first ? formatProblem(first) : 'it is none'}`,
	});
	return null;
}

/** What a node is, in words that are the same or not, and in figures that are near each other or not. */
interface Told {
	words: string;
	figures: number[];
}

/** Along these a form is measured: which of its corners lie in a face, and in what order, rounding decides anew in each engine. */
const WAYS = [-1, 0, 1].flatMap((x) => [-1, 0, 1].flatMap((y) => [-1, 0, 1].map((z) => [x, y, z] as const)));

/** How far a mesh reaches each way. */
function reaches(mesh: Mesh): number[] {
	const out = WAYS.map(() => -Infinity);
	for (const primitive of mesh.listPrimitives()) {
		const at = primitive.getAttribute('POSITION')?.getArray() ?? [];
		for (let i = 0; i + 2 < at.length; i += 3)
			WAYS.forEach(([x, y, z], k) => {
				const reach = x * at[i] + y * at[i + 1] + z * at[i + 2];
				if (reach > out[k]) out[k] = reach;
			});
	}
	return out;
}

/** Corners one by one: of a mesh that is itself what is collided with, and not the hull of it. */
const corners = (mesh: Mesh): number[] =>
	mesh
		.listPrimitives()
		.flatMap((p) => [...(p.getAttribute('POSITION')?.getArray() ?? []), ...(p.getIndices()?.getArray() ?? [])]);

function numbersIn(value: unknown): number[] {
	if (typeof value === 'number') return [value];
	return typeof value === 'object' && value !== null ? Object.values(value).flatMap(numbersIn) : [];
}

function toldOf(node: Node, reachOf: (mesh: Mesh) => number[]): Told {
	const words: string[] = [];
	const figures: number[] = [...node.getMatrix()];
	const mesh = node.getMesh();
	if (mesh) {
		words.push('mesh');
		figures.push(...reachOf(mesh));
	}
	const camera = node.getCamera();
	if (camera) {
		words.push(camera.getType());
		figures.push(camera.getYFov(), camera.getYMag(), camera.getZFar());
	}
	const body = node.getExtension<Body>(PhysicsBodies.EXTENSION_NAME);
	for (const kind of ['collider', 'trigger'] as const) {
		const geometry = body?.[kind];
		if (!geometry) continue;
		words.push(kind, geometry.shape?.type ?? (geometry.hull ? 'hull' : 'mesh'));
		figures.push(...numbersIn(geometry.shape));
		if (geometry.mesh && !geometry.hull) for (const value of corners(geometry.mesh)) figures.push(value);
	}
	return { words: words.join(), figures };
}

/** As near as a file that was only written anew elsewhere has it. */
const near = (a: number, b: number): boolean => Math.abs(a - b) <= 1e-6 + 1e-5 * Math.max(Math.abs(a), Math.abs(b));

const alike = (a: Told | undefined, b: Told | undefined): boolean =>
	a !== undefined &&
	b !== undefined &&
	a.words === b.words &&
	a.figures.length === b.figures.length &&
	a.figures.every((value, i) => near(value, b.figures[i]));

/** The nodes of a file by path. */
function nodesOf(root: Root): Map<string, Told> {
	const out = new Map<string, Told>();
	/** Many nodes have one mesh. */
	const known = new Map<Mesh, number[]>();
	const reachOf = (mesh: Mesh): number[] => {
		const reach = known.get(mesh) ?? reaches(mesh);
		known.set(mesh, reach);
		return reach;
	};
	const scene = root.getDefaultScene() ?? root.listScenes()[0];
	const stack: { node: Node; path: string }[] = [];
	const push = (nodes: readonly Node[], above: string) => {
		for (const node of nodes) stack.push({ node, path: `${above}/${node.getName()}` });
	};
	push(scene?.listChildren() ?? [], '');
	for (let at = stack.pop(); at; at = stack.pop()) {
		const { node, path } = at;
		let name = path;
		for (let n = 2; out.has(name); n++) name = `${path}#${n}`;
		out.set(name, toldOf(node, reachOf));
		push(node.listChildren(), name);
	}
	return out;
}

/**
 * Whether a file's nodes are those that its project is written with. Where they are not, someone has edited it elsewhere, and the
 * project tells of a level that is no more.
 */
export function isAsWritten(root: Root, project: Project, notes: LevelNote[]): boolean {
	const [now, was] = [nodesOf(root), nodesOf(documentOf(project).getRoot())];
	const other = [...new Set([...was.keys(), ...now.keys()])].filter((path) => !alike(now.get(path), was.get(path)));
	const [first] = other;
	if (first === undefined) return true;
	const how = !now.has(first) ? 'is gone' : was.has(first) ? 'is not as it was' : 'is new';
	notes.push({
		path: `extras.${RIDES}`,
		message: `the project in it is not taken: the file was edited elsewhere since (${oneLine(first.slice(1), 80)} ${how}${other.length > 1 ? `, and ${other.length - 1} more` : ''}); its nodes are read`,
	});
	return false;
}
