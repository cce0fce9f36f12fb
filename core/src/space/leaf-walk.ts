/** Walks along a ray, nearest first, that find the shapes it may meet. What they pass by is not met; what they find is to be tested. */
import { entry, inverse, MOST_DEPTH, type Tree } from './tree';

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
	private readonly stack = new Int32Array(MOST_DEPTH + 1);
	private readonly entries = new Float64Array(MOST_DEPTH + 1);
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
		const { ray, entries } = this;
		this.leaf = this.end = 0;
		this.stack[0] = 0;
		const { boxes } = this.tree;
		entries[0] = entry(
			boxes,
			0,
			ray[0],
			ray[1],
			ray[2],
			inverse(ray[3]),
			inverse(ray[4]),
			inverse(ray[5]),
			ray[6],
			0,
			0,
			0,
		);
		this.top = entries[0] < Infinity ? 1 : 0;
		return this.next();
	}

	next(): number {
		const { ray, stack, entries, flags, balls } = this;
		const { boxes, links } = this.tree;
		const ox = ray[0];
		const oy = ray[1];
		const oz = ray[2];
		const dx = ray[3];
		const dy = ray[4];
		const dz = ray[5];
		const limit = ray[6];
		const ix = inverse(dx);
		const iy = inverse(dy);
		const iz = inverse(dz);
		// Where the near side of a box lies in its six numbers.
		const nx = ix > 0 ? 0 : 3;
		const ny = iy > 0 ? 0 : 3;
		const nz = iz > 0 ? 0 : 3;
		for (;;) {
			while (this.leaf < this.end) {
				const i = this.leaf++;
				if ((flags[i] & MATTERS) !== 0 && meetsBall(balls, 4 * i, ray)) return i;
			}
			if (this.top === 0) return -1;
			let top = this.top - 1;
			let node = entries[top] <= limit ? stack[top] : -1;
			let n = 0;
			while (node >= 0) {
				n = links[8 * node + 7] & 255;
				if (n > 0) break;
				// Both children's boxes, written out: this is where the time of a ray goes. Which side of each comparison comes out
				// cannot be foreseen, so they are gathered as bits; a branch for each would be mispredicted half of the time.
				const l = node + 1;
				const r = links[8 * node + 6];
				let q = 8 * l;
				const lx0 = (boxes[q + nx] - ox) * ix;
				const lx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ly0 = (boxes[q + 1 + ny] - oy) * iy;
				const ly1 = (boxes[q + 4 - ny] - oy) * iy;
				const lz0 = (boxes[q + 2 + nz] - oz) * iz;
				const lz1 = (boxes[q + 5 - nz] - oz) * iz;
				const left =
					+(lx0 <= ly1) &
					+(lx0 <= lz1) &
					+(ly0 <= lx1) &
					+(ly0 <= lz1) &
					+(lz0 <= lx1) &
					+(lz0 <= ly1) &
					+(lx0 <= limit) &
					+(ly0 <= limit) &
					+(lz0 <= limit) &
					+(lx1 >= 0) &
					+(ly1 >= 0) &
					+(lz1 >= 0);
				q = 8 * r;
				const rx0 = (boxes[q + nx] - ox) * ix;
				const rx1 = (boxes[q + 3 - nx] - ox) * ix;
				const ry0 = (boxes[q + 1 + ny] - oy) * iy;
				const ry1 = (boxes[q + 4 - ny] - oy) * iy;
				const rz0 = (boxes[q + 2 + nz] - oz) * iz;
				const rz1 = (boxes[q + 5 - nz] - oz) * iz;
				const right =
					+(rx0 <= ry1) &
					+(rx0 <= rz1) &
					+(ry0 <= rx1) &
					+(ry0 <= rz1) &
					+(rz0 <= rx1) &
					+(rz0 <= ry1) &
					+(rx0 <= limit) &
					+(ry0 <= limit) &
					+(rz0 <= limit) &
					+(rx1 >= 0) &
					+(ry1 >= 0) &
					+(rz1 >= 0);
				if ((left & right) === 1) {
					// The child on the near side of the cut goes on; the other waits, with a bound below which it cannot be entered.
					const axis = links[8 * node + 7] >> 8;
					const leftFirst = axis === 0 ? nx === 0 : axis === 1 ? ny === 0 : nz === 0;
					stack[top] = leftFirst ? r : l;
					entries[top++] = leftFirst
						? axis === 0
							? rx0
							: axis === 1
								? ry0
								: rz0
						: axis === 0
							? lx0
							: axis === 1
								? ly0
								: lz0;
					node = leftFirst ? l : r;
				} else node = left === 1 ? l : right === 1 ? r : -1;
			}
			this.top = top;
			if (node < 0) continue;
			this.leaf = ~links[8 * node + 6];
			this.end = this.leaf + n;
		}
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
