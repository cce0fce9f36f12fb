/** The walk of `walk.wat` for one query: the same as `PlainWalk`, six times as fast. */
import type { LeafWalk } from '../leaf-walk';
import type { WalkMemory } from './module';
import type { WideTree } from './wide';

export class CompiledWalk implements LeafWalk {
	private at = 0;
	private age = 0;

	/** @param flags what each leaf is to the query */
	constructor(
		private readonly memory: WalkMemory,
		private readonly tree: WideTree,
		private readonly flags: Uint8Array,
	) {}

	ready(): Float64Array {
		const { memory, tree, flags } = this;
		tree.ready();
		if (this.age !== memory.age) {
			this.at = memory.take(flags.length);
			this.age = memory.age;
			new Uint8Array(memory.buffer, this.at, flags.length).set(flags);
			// If that emptied the memory.
			tree.ready();
		}
		return memory.ray;
	}

	first(): number {
		return this.memory.first(this.tree.nodes, this.tree.balls, this.at);
	}

	next(): number {
		return this.memory.next();
	}
}
