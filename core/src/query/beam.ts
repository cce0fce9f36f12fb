/**
 * The shapes that a bundle of neighbouring rays may touch, found in one walk of the tree: a map asks thousands of rays side by side, and
 * what one of them passes, its neighbours pass too. The rays of a bundle all start at one point, or all have one direction, and none lies
 * outside of the four that go along its edges: what lies outside of one of the four planes between those is touched by none of them.
 */
import { type LeafWalk, MATTERS, meetsBall } from '../space/leaf-walk';
import { MAX_DEPTH } from '../space/tree';
import type { World } from '../world/world';

/** Shapes that a bundle holds at most: with more, rays walk the tree each for itself. */
const MOST = 48;
/** Room for rounding at the planes, metres, and as a part of the numbers that go into them. */
const ROOM = 1e-6;
/** Numbers of a ray: start and unit direction. */
const RAY = 6;

const stack = new Int32Array(MAX_DEPTH + 1);

/** See the file's head. One serves any number of bundles, one after the other. */
export class Beam implements LeafWalk {
	/** Leaves of the tree, by place; nearest first. */
	readonly leaves = new Int32Array(MOST);
	/** How near the shape of each can be to the start of any of the rays, metres. */
	readonly near = new Float64Array(MOST);
	count = 0;
	private at = 0;
	private readonly ray = new Float64Array(7);
	/** Four planes: a unit normal that points inward, and where it stands, relative to the tree's origin. */
	private readonly planes = new Float64Array(16);

	constructor(
		private readonly world: World,
		/** What each leaf is to the query. */
		private readonly flags: Uint8Array,
	) {}

	/**
	 * @param edges four rays, in order around the bundle, and a fifth in its middle: start (world metres) and unit direction, six numbers each
	 * @returns false where there is more than a bundle holds
	 */
	gather(edges: Float64Array): boolean {
		const tree = this.world.tree();
		this.count = 0;
		if (tree.order.length === 0) return true;
		this.makePlanes(edges, tree.origin);
		const { planes, flags } = this;
		const { boxes, links } = tree;
		let top = 1;
		stack[0] = 0;
		walking: while (top > 0) {
			const node = stack[--top];
			const q = 8 * node;
			for (let p = 0; p < 16; p += 4) {
				const nx = planes[p];
				const ny = planes[p + 1];
				const nz = planes[p + 2];
				// The corner that lies farthest inward.
				const x = boxes[nx > 0 ? q + 3 : q];
				const y = boxes[ny > 0 ? q + 4 : q + 1];
				const z = boxes[nz > 0 ? q + 5 : q + 2];
				if (nx * x + ny * y + nz * z < planes[p + 3]) continue walking;
			}
			const n = links[q + 7] & 255;
			if (n === 0) {
				stack[top++] = links[q + 6];
				stack[top++] = node + 1;
				continue;
			}
			for (let i = ~links[q + 6], end = i + n; i < end; i++)
				if ((flags[i] & MATTERS) !== 0 && this.meets(i)) {
					if (this.count === MOST) return false;
					this.leaves[this.count++] = i;
				}
		}
		this.sort(edges, tree.origin);
		return true;
	}

	ready(): Float64Array {
		return this.ray;
	}

	first(): number {
		this.at = 0;
		return this.next();
	}

	/** The bundle's shapes that the one ray may meet. */
	next(): number {
		const { leaves, near, count, ray } = this;
		const { boundingSpheres: balls } = this.world;
		while (this.at < count && near[this.at] <= ray[6]) {
			const leaf = leaves[this.at++];
			if (meetsBall(balls, 4 * leaf, ray)) return leaf;
		}
		return -1;
	}

	/** Whether the ball around a shape reaches into the bundle. */
	private meets(leaf: number): boolean {
		const { planes } = this;
		const { boundingSpheres: balls } = this.world;
		const b = 4 * leaf;
		for (let p = 0; p < 16; p += 4) {
			const inward = planes[p] * balls[b] + planes[p + 1] * balls[b + 1] + planes[p + 2] * balls[b + 2];
			if (inward < planes[p + 3] - balls[b + 3]) return false;
		}
		return true;
	}

	private makePlanes(edges: Float64Array, origin: Float64Array): void {
		const { planes } = this;
		for (let k = 0; k < 4; k++) {
			const a = RAY * k;
			const b = RAY * ((k + 1) & 3);
			const c = RAY * ((k + 2) & 3);
			const at = (from: number, axis: number) => edges[from + axis] - origin[axis];
			const along = (from: number, axis: number) => edges[from + 3 + axis];
			const to = (from: number, axis: number) => at(from, axis) + along(from, axis) - at(a, axis);
			let nx = along(a, 1) * to(b, 2) - along(a, 2) * to(b, 1);
			let ny = along(a, 2) * to(b, 0) - along(a, 0) * to(b, 2);
			let nz = along(a, 0) * to(b, 1) - along(a, 1) * to(b, 0);
			const length = Math.hypot(nx, ny, nz);
			// Two edges as good as one leave no plane between them: a plane that keeps everything.
			const scale = length > 1e-9 ? 1 / length : 0;
			nx *= scale;
			ny *= scale;
			nz *= scale;
			const side = nx * to(c, 0) + ny * to(c, 1) + nz * to(c, 2) < 0 ? -1 : 1;
			const p = 4 * k;
			planes[p] = side * nx;
			planes[p + 1] = side * ny;
			planes[p + 2] = side * nz;
			const stands = side * (nx * at(a, 0) + ny * at(a, 1) + nz * at(a, 2));
			planes[p + 3] = stands - ROOM * (1 + Math.abs(at(a, 0)) + Math.abs(at(a, 1)) + Math.abs(at(a, 2)));
		}
	}

	/** Nearest first. */
	private sort(edges: Float64Array, origin: Float64Array): void {
		const { leaves, near, count } = this;
		const { boundingSpheres: balls } = this.world;
		const m = RAY * 4;
		let spread = 0;
		for (let k = 0; k < 4; k++)
			spread = Math.max(
				spread,
				Math.hypot(edges[RAY * k] - edges[m], edges[RAY * k + 1] - edges[m + 1], edges[RAY * k + 2] - edges[m + 2]),
			);
		const x = edges[m] - origin[0];
		const y = edges[m + 1] - origin[1];
		const z = edges[m + 2] - origin[2];
		for (let k = 0; k < count; k++) {
			const leaf = leaves[k];
			const b = 4 * leaf;
			const dx = x - balls[b];
			const dy = y - balls[b + 1];
			const dz = z - balls[b + 2];
			const away = Math.sqrt(dx * dx + dy * dy + dz * dz) - balls[b + 3] - spread;
			let i = k;
			for (; i > 0 && near[i - 1] > away; i--) {
				near[i] = near[i - 1];
				leaves[i] = leaves[i - 1];
			}
			near[i] = away;
			leaves[i] = leaf;
		}
	}
}
