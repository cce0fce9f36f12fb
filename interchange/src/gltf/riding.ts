/** The project that rides in a file of our own, and whether the nodes beside it are still those that were written with it. */
import { checkProject, formatProblem, oneLine, type Project } from '@frelk/core';
import type { Camera, Mesh, Node, Root } from '@gltf-transform/core';
import type { LevelNote } from '../level';
import { type Body, PhysicsBodies } from './physics';
import { documentOf, RIDES } from './write';

/** @returns the project in the extras of a file's root; null where there is none, or none that can be read, which is noted */
export function ridingProject(extras: unknown, notes: LevelNote[]): Project | null {
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

/** As precisely as a file that was only written anew elsewhere has it: what rounding leaves of nothing is nothing. */
const short = (values: Iterable<number>): string =>
	Array.from(values, (v) => (Math.abs(v) < 1e-9 ? 0 : Number(v.toPrecision(5)))).join();

const meshText = (mesh: Mesh): string =>
	mesh
		.listPrimitives()
		.map((p) => `${short(p.getAttribute('POSITION')?.getArray() ?? [])}/${short(p.getIndices()?.getArray() ?? [])}`)
		.join(';');

const lensText = (camera: Camera | null): string =>
	camera ? `${camera.getType()} ${short([camera.getYFov(), camera.getYMag(), camera.getZFar()])}` : '';

function bodyText(node: Node): string {
	const body = node.getExtension<Body>(PhysicsBodies.EXTENSION_NAME);
	return (['collider', 'trigger'] as const)
		.map((kind) => {
			const geometry = body?.[kind];
			return geometry ? `${kind} ${JSON.stringify(geometry.shape)} ${geometry.hull} ${geometry.mesh !== null}` : '';
		})
		.join();
}

/** The nodes of a file by path, each with all that a scene of ours has of it. */
function nodesOf(root: Root): Map<string, string> {
	const out = new Map<string, string>();
	/** Many nodes have one mesh. */
	const texts = new Map<Mesh, string>();
	const textOf = (mesh: Mesh | null): string => {
		if (!mesh) return '';
		const text = texts.get(mesh) ?? meshText(mesh);
		texts.set(mesh, text);
		return text;
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
		out.set(
			name,
			[short(node.getMatrix()), textOf(node.getMesh()), lensText(node.getCamera()), bodyText(node)].join(' | '),
		);
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
	const other = [...new Set([...was.keys(), ...now.keys()])].filter((path) => now.get(path) !== was.get(path));
	const [first] = other;
	if (first === undefined) return true;
	const how = !now.has(first) ? 'is gone' : was.has(first) ? 'is not as it was' : 'is new';
	notes.push({
		path: `extras.${RIDES}`,
		message: `the project in it is not taken: the file was edited elsewhere since (${oneLine(first.slice(1), 80)} ${how}${other.length > 1 ? `, and ${other.length - 1} more` : ''}); its nodes are read`,
	});
	return false;
}
