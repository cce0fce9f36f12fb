/** A tree laid out for the compiled walk: four children a node, their boxes side by side. See `walk.wat`. */
import type { Tree } from '../tree';
import type { WalkMemory } from './module';

const CHILDREN = 4;
/** Words of a node. */
const NODE = 32;

/** A world's tree and the balls around its shapes, in the memory of the walk. */
export class WideTree {
	/** Address of the root, bytes. */
	nodes = 0;
	/** Address of the balls, bytes. */
	balls = 0;
	private age = 0;
	private revision = -1;

	constructor(
		private readonly memory: WalkMemory,
		private readonly tree: Tree,
		/** Four single floats a leaf, see `World.boundingSpheres`. */
		private readonly spheres: Float32Array,
	) {}

	/** Lays the tree in where it is not there, or is not there as it stands now. The tree has an item. */
	ready(): void {
		const { memory, tree } = this;
		if (this.age === memory.age && this.revision === tree.revision) return;
		const { spheres } = this;
		this.balls = memory.take(spheres.byteLength + 128 + 4 * NODE * tree.size);
		this.age = memory.age;
		this.revision = tree.revision;
		new Float32Array(memory.buffer, this.balls, spheres.length).set(spheres);
		this.nodes = (this.balls + spheres.byteLength + 127) & ~127;
		memory.giveBack(this.nodes + 4 * NODE * this.lay());
	}

	/** @returns the nodes made */
	private lay(): number {
		const { boxes, links } = this.tree;
		const base = this.nodes;
		const floats = new Float32Array(this.memory.buffer, base);
		const words = new Int32Array(this.memory.buffer, base);
		const isLeaf = (node: number) => (links[8 * node + 7] & 255) > 0;
		let made = 0;
		// What lies below a node follows it: of a far part of the scene little is fetched.
		const todo = [[0, 0]];
		const children: number[] = [];
		for (let next = todo.pop(); next; next = todo.pop()) {
			const [node, parent] = next;
			const wide = made++;
			if (parent > 0) words[parent] = base + 4 * NODE * wide;
			children.length = 0;
			children.push(...(isLeaf(node) ? [node] : [node + 1, links[8 * node + 6]]));
			while (children.length < CHILDREN) {
				// The one that most rays meet is opened.
				let best = -1;
				let most = -1;
				for (let c = 0; c < children.length; c++) {
					if (isLeaf(children[c])) continue;
					const area = areaOf(boxes, 8 * children[c]);
					if (area > most) {
						most = area;
						best = c;
					}
				}
				if (best < 0) break;
				const opened = children[best];
				children[best] = opened + 1;
				children.push(links[8 * opened + 6]);
			}
			const at = NODE * wide;
			for (let c = 0; c < CHILDREN; c++) {
				if (c >= children.length) {
					for (let k = 0; k < 6; k++) floats[at + CHILDREN * k + c] = k < 3 ? Infinity : -Infinity;
					words[at + 24 + c] = words[at + 28 + c] = 0;
					continue;
				}
				const child = children[c];
				for (let k = 0; k < 6; k++) floats[at + CHILDREN * k + c] = boxes[8 * child + k];
				if (isLeaf(child)) {
					words[at + 24 + c] = ~links[8 * child + 6];
					words[at + 28 + c] = links[8 * child + 7] & 255;
				} else {
					words[at + 28 + c] = 0;
					todo.push([child, at + 24 + c]);
				}
			}
		}
		return made;
	}
}

const made = new WeakMap<Tree, WideTree>();

/** The one of a tree, laid in once for all its queries. Each tree goes with one memory. */
export function wideOf(memory: WalkMemory, tree: Tree, spheres: Float32Array): WideTree {
	let wide = made.get(tree);
	if (!wide) made.set(tree, (wide = new WideTree(memory, tree, spheres)));
	return wide;
}

function areaOf(boxes: Float32Array, q: number): number {
	const x = boxes[q + 3] - boxes[q];
	const y = boxes[q + 4] - boxes[q + 1];
	const z = boxes[q + 5] - boxes[q + 2];
	return x * y + y * z + z * x;
}
