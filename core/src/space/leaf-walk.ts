/** Walks along a ray, nearest first, that find the shapes it may meet. What they pass by is not met; what they find is to be tested. */
import { entry, inverse, MAX_DEPTH, type Tree } from './tree';

/** Bits of a leaf's flag of which one must be set for it to matter to a query. */
export const MATTERS = 3;

/** A walk, one at a time. Leaves are named by their place in the tree's order. */
export interface LeafWalk {
	/**
	 * Makes ready for a ray, to be written where this returns: start relative to the tree's origin, unit direction, and the greatest
	 * distance still of interest, which may be lowered on the way. Doubles handed over one by one would each take memory.
	 */
	ready(): Float64Array;
	/** Begins along the ray that was written. @returns a leaf that matters and whose ball is met, or -1 */
	first(): number;
	/** Goes on. @returns as `first` */
	next(): number;
}

/** The walk in JavaScript, where no other can be had: see `simd/compiled-walk.ts`. */
export class PlainWalk implements LeafWalk {
	private readonly ray = new Float64Array(7);
	private readonly inverses = new Float64Array(3);
	private readonly stack = new Int32Array(MAX_DEPTH + 1);
	private readonly entries = new Float64Array(MAX_DEPTH + 1);
	private top = 0;
	private leaf = 0;
	private end = 0;

	/**
	 * @param balls four single floats a leaf, see `World.boundingSpheres`
	 * @param flags what each leaf is to the query
	 */
	constructor(
		private readonly tree: Tree,
		private readonly balls: Float32Array,
		private readonly flags: Uint8Array,
	) {}

	ready(): Float64Array {
		return this.ray;
	}

	first(): number {
		for (let k = 0; k < 3; k++) this.inverses[k] = inverse(this.ray[3 + k]);
		this.leaf = this.end = 0;
		this.stack[0] = 0;
		this.entries[0] = this.enters(0);
		this.top = this.entries[0] < Infinity ? 1 : 0;
		return this.next();
	}

	next(): number {
		const { ray, stack, entries, flags, balls } = this;
		const { links } = this.tree;
		for (;;) {
			while (this.leaf < this.end) {
				const i = this.leaf++;
				if ((flags[i] & MATTERS) !== 0 && meetsBall(balls, 4 * i, ray)) return i;
			}
			if (this.top === 0) return -1;
			const at = --this.top;
			if (entries[at] > ray[6]) continue;
			const node = stack[at];
			const n = links[8 * node + 7] & 255;
			const right = links[8 * node + 6];
			if (n > 0) {
				this.leaf = ~right;
				this.end = this.leaf + n;
				continue;
			}
			const l = this.enters(node + 1);
			const r = this.enters(right);
			// The nearer on top.
			if (l <= r) {
				this.wait(right, r);
				this.wait(node + 1, l);
			} else {
				this.wait(node + 1, l);
				this.wait(right, r);
			}
		}
	}

	private wait(node: number, t: number): void {
		if (t === Infinity) return;
		this.stack[this.top] = node;
		this.entries[this.top++] = t;
	}

	private enters(node: number): number {
		const { ray, inverses } = this;
		const { boxes } = this.tree;
		return entry(boxes, 8 * node, ray[0], ray[1], ray[2], inverses[0], inverses[1], inverses[2], ray[6], 0, 0, 0);
	}
}

/**
 * Whether a ray meets a ball within its distance.
 * @param at where the ball begins: its centre, relative to the tree's origin, and its radius, metres
 * @param ray as of `LeafWalk.ready`
 */
export function meetsBall(balls: Float32Array, at: number, ray: Float64Array): boolean {
	const bx = ray[0] - balls[at];
	const by = ray[1] - balls[at + 1];
	const bz = ray[2] - balls[at + 2];
	const radius = balls[at + 3];
	const along = bx * ray[3] + by * ray[4] + bz * ray[5];
	if (along > radius || -along - radius > ray[6]) return false;
	const fx = bx - along * ray[3];
	const fy = by - along * ray[4];
	const fz = bz - along * ray[5];
	return fx * fx + fy * fy + fz * fz <= radius * radius;
}
