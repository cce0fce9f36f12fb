/**
 * A bounding-volume tree over boxes: one flat layout for the shapes of a world and for the triangles of a mesh.
 *
 * Built top down by the surface-area heuristic over 16 bins (Wald, "On fast construction of SAH-based bounding volume
 * hierarchies", 2007). A node's left child follows it directly; a leaf's items are `order[first … first + count)`. Bounds are single floats relative to
 * the middle of the whole, rounded outward: half the memory to walk, and no digits lost far from the origin.
 */

import { bestSplitOfFew, boundsOfRecords, FEW, RECORD } from './small-split';

const BINS = 16;

/** Levels that are cut where it pays; below them lists are cut in half, whatever that costs. */
const DEEP = 64;

/**
 * What the stacks of walks hold: a walk keeps one node a level, and a tree has no more levels than `DEEP` and those it takes to halve as
 * many items as an array of 32-bit integers can name.
 */
export const MAX_DEPTH = DEEP + 32;

export class Tree {
	/** Eight words a node, so that it is fetched as one: in 0…5 the bounds, relative to `origin`: min x, y, z, max x, y, z. */
	readonly boxes: Float32Array;
	/**
	 * The same words as integers: in 6 the right child, or `~first` for a leaf; in 7 the number of items in a leaf (0 for an inner
	 * node) and, above bit 8, the axis along which the node was cut. Its left child holds the lower items.
	 */
	readonly links: Int32Array;
	/** Item indices in the order of the leaves. */
	readonly order: Uint32Array;
	readonly origin: Float64Array;
	size = 0;
	/** Counts how often bounds were taken anew. */
	revision = 0;
	/** Levels below the root. */
	depth = 0;

	/**
	 * @param bounds six doubles an item: min x, y, z, max x, y, z, metres
	 * @param leaf most items in a leaf; of more than a dozen it is cut whatever that costs
	 * @param visit cost of visiting a node against testing an item
	 * @param deep levels that are cut where it pays
	 * @throws RangeError for a list that is not of boxes: of another length, with a number missing, or a minimum above its maximum
	 */
	constructor(
		bounds: Float64Array,
		readonly leaf: number,
		private readonly visit: number,
		private readonly deep = DEEP,
	) {
		const n = bounds.length / 6;
		if (!Number.isInteger(n)) throw new RangeError(`bounds are six numbers an item, and ${bounds.length} are not`);
		this.order = new Uint32Array(n);
		const nodes = Math.max(1, 2 * n - 1);
		const buffer = new ArrayBuffer(32 * nodes);
		this.boxes = new Float32Array(buffer);
		this.links = new Int32Array(buffer);
		this.origin = new Float64Array(3);
		if (n === 0) return;
		for (let k = 0; k < 3; k++) {
			let low = Infinity;
			let high = -Infinity;
			for (let i = k; i < bounds.length; i += 6) {
				if (!(bounds[i] <= bounds[i + 3])) throw new RangeError(`the bounds of item ${(i - k) / 6} are no box`);
				if (bounds[i] < low) low = bounds[i];
				if (bounds[i + 3] > high) high = bounds[i + 3];
			}
			this.origin[k] = (low + high) / 2;
		}
		// One record an item, moved as a whole while the tree is built: every pass over a node's items then reads memory front to
		// back. Six words of bounds, in single floats rounded outward, and the item's index.
		const records = new Float32Array(RECORD * n);
		const words = new Int32Array(records.buffer);
		const [cx, cy, cz] = this.origin;
		const start = levelOf(0);
		start.set(EMPTY, 0);
		start.set(EMPTY, 6);
		for (let i = 0, b = 0, q = 0; i < n; i++, b += 6, q += RECORD) {
			records[q] = below(bounds[b] - cx);
			records[q + 1] = below(bounds[b + 1] - cy);
			records[q + 2] = below(bounds[b + 2] - cz);
			records[q + 3] = -below(cx - bounds[b + 3]);
			records[q + 4] = -below(cy - bounds[b + 4]);
			records[q + 5] = -below(cz - bounds[b + 5]);
			words[q + 6] = i;
			for (let k = 0; k < 3; k++) {
				const low = records[q + k];
				const high = records[q + k + 3];
				const c = low + high;
				if (low < start[k]) start[k] = low;
				if (high > start[k + 3]) start[k + 3] = high;
				if (c < start[k + 6]) start[k + 6] = c;
				if (c > start[k + 9]) start[k + 9] = c;
			}
		}
		this.build(records, words, 0, n, 0, 0);
		if (this.depth >= MAX_DEPTH) throw new RangeError(`a tree of ${this.depth} levels cannot be walked`);
		for (let i = 0; i < n; i++) this.order[i] = words[RECORD * i + 6];
	}

	/**
	 * Builds the node over the records from `first` up to `end`. Its bounds, and bounds that its centres keep, were found while
	 * its parent was cut: they lie at `side` in the level's numbers, so that no pass over the items is spent on them here.
	 */
	private build(
		records: Float32Array,
		words: Int32Array,
		first: number,
		end: number,
		level: number,
		side: number,
	): number {
		const node = this.size++;
		if (level > this.depth) this.depth = level;
		const own = levelOf(level);
		const x0 = own[side];
		const y0 = own[side + 1];
		const z0 = own[side + 2];
		const x1 = own[side + 3];
		const y1 = own[side + 4];
		const z1 = own[side + 5];
		for (let k = 0; k < 6; k++) this.boxes[8 * node + k] = own[side + k];
		const n = end - first;
		// Visiting two children costs more than testing two items.
		if (n <= 2 && n <= this.leaf) return this.close(node, first, n);
		if (n === 1) return this.close(node, first, n);
		const ex = own[side + 9] - own[side + 6];
		const ey = own[side + 10] - own[side + 7];
		const ez = own[side + 11] - own[side + 8];
		const axis = ex >= ey && ex >= ez ? 0 : ey >= ez ? 1 : 2;
		this.links[8 * node + 7] = axis << 8;
		const low = own[side + 6 + axis];
		const extent = axis === 0 ? ex : axis === 1 ? ey : ez;
		const next = levelOf(level + 1);
		let middle = first;
		const whole = (x1 - x0) * (y1 - y0) + (y1 - y0) * (z1 - z0) + (z1 - z0) * (x1 - x0);
		if (level >= this.deep) {
			// Each cut so far has taken off a few items only.
		} else if (extent > 0 && n <= FEW) {
			const left = bestSplitOfFew(
				records,
				words,
				first,
				n,
				axis,
				next,
				n <= this.leaf ? (n - this.visit) * whole : Infinity,
			);
			if (left === 0 && n <= this.leaf) return this.close(node, first, n);
			middle = first + left;
		} else if (extent > 0) {
			// Few items need few places to cut; most nodes have few.
			const bins = n > 64 ? BINS : BINS / 2;
			binCounts.fill(0);
			for (let i = 0; i < bins * 6; i += 6) {
				binBoxes[i] = binBoxes[i + 1] = binBoxes[i + 2] = Infinity;
				binBoxes[i + 3] = binBoxes[i + 4] = binBoxes[i + 5] = -Infinity;
			}
			const toBin = bins / extent;
			for (let b = RECORD * first, last = RECORD * end; b < last; b += RECORD) {
				const bin = binOf(records, b + axis, low, toBin, bins);
				binCounts[bin]++;
				const q = 6 * bin;
				if (records[b] < binBoxes[q]) binBoxes[q] = records[b];
				if (records[b + 1] < binBoxes[q + 1]) binBoxes[q + 1] = records[b + 1];
				if (records[b + 2] < binBoxes[q + 2]) binBoxes[q + 2] = records[b + 2];
				if (records[b + 3] > binBoxes[q + 3]) binBoxes[q + 3] = records[b + 3];
				if (records[b + 4] > binBoxes[q + 4]) binBoxes[q + 4] = records[b + 4];
				if (records[b + 5] > binBoxes[q + 5]) binBoxes[q + 5] = records[b + 5];
			}
			// Cost of cutting before bin s: swept from both ends.
			let count = 0;
			running.set(EMPTY);
			for (let s = bins - 1; s > 0; s--) {
				count += binCounts[s];
				grow(6 * s);
				rightCost[s] = count === 0 ? 0 : count * area();
			}
			count = 0;
			running.set(EMPTY);
			let best = -1;
			let cost = Infinity;
			for (let s = 1; s < bins; s++) {
				count += binCounts[s - 1];
				grow(6 * (s - 1));
				if (count === 0 || count === n) continue;
				const c = count * area() + rightCost[s];
				if (c < cost) {
					cost = c;
					best = s;
				}
			}
			if (best > 0) {
				running.set(EMPTY);
				for (let s = 0; s < best; s++) grow(6 * s);
				for (let k = 0; k < 6; k++) next[k] = running[k];
				running.set(EMPTY);
				for (let s = best; s < bins; s++) grow(6 * s);
				for (let k = 0; k < 6; k++) next[12 + k] = running[k];
				// The centres of each side: what is known of the whole, narrowed to the cut and to the side's bounds.
				const at = low + best / toBin;
				for (let k = 0; k < 3; k++) {
					const from = own[side + 6 + k];
					const to = own[side + 9 + k];
					next[6 + k] = Math.max(from, 2 * next[k]);
					next[9 + k] = Math.min(k === axis ? at : to, 2 * next[3 + k]);
					next[18 + k] = Math.max(k === axis ? at : from, 2 * next[12 + k]);
					next[21 + k] = Math.min(to, 2 * next[15 + k]);
				}
				let i = first;
				let j = end - 1;
				for (;;) {
					while (i <= j && binOf(records, RECORD * i + axis, low, toBin, bins) < best) i++;
					while (i < j && binOf(records, RECORD * j + axis, low, toBin, bins) >= best) j--;
					if (i >= j) break;
					for (let from = RECORD * i, to = RECORD * j, last = from + 7; from < last; from++, to++) {
						const word = words[from];
						words[from] = words[to];
						words[to] = word;
					}
					i++;
					j--;
				}
				middle = i;
			}
		}
		if (middle === first) {
			// All centres in one bin, perhaps because less was known of them than there is to know.
			boundsOfRecords(records, RECORD * first, RECORD * end, running, 0);
			let narrower = false;
			for (let k = 6; k < 9; k++) narrower ||= running[k] > own[side + k] || running[k + 3] < own[side + k + 3];
			if (narrower && level < this.deep) {
				own.set(running, side);
				this.size--;
				return this.build(records, words, first, end, level, side);
			}
			// All in one place, or far down: cut the list in half, or stop.
			if (n <= this.leaf) return this.close(node, first, n);
			middle = (first + end) >> 1;
			next.set(own.subarray(side, side + 12), 0);
			next.set(own.subarray(side, side + 12), 12);
		}
		this.build(records, words, first, middle, level + 1, 0);
		this.links[8 * node + 6] = this.build(records, words, middle, end, level + 1, 12);
		return node;
	}

	private close(node: number, first: number, n: number): number {
		this.links[8 * node + 6] = ~first;
		this.links[8 * node + 7] |= n;
		return node;
	}

	private setBox(node: number, x0: number, y0: number, z0: number, x1: number, y1: number, z1: number): void {
		const q = 8 * node;
		const b = this.boxes;
		b[q] = below(x0);
		b[q + 1] = below(y0);
		b[q + 2] = below(z0);
		b[q + 3] = -below(-x1);
		b[q + 4] = -below(-y1);
		b[q + 5] = -below(-z1);
	}

	/** Takes new bounds for the items, keeping the shape of the tree: right after small moves, still valid after any. */
	refit(bounds: Float64Array): void {
		this.revision++;
		const { links, boxes } = this;
		for (let node = this.size - 1; node >= 0; node--) {
			if ((links[8 * node + 7] & 255) > 0) this.closeLeaf(node, bounds);
			else {
				const l = 8 * (node + 1);
				const r = 8 * links[8 * node + 6];
				const q = 8 * node;
				for (let k = 0; k < 3; k++) {
					boxes[q + k] = Math.min(boxes[l + k], boxes[r + k]);
					boxes[q + k + 3] = Math.max(boxes[l + k + 3], boxes[r + k + 3]);
				}
			}
		}
	}

	private parents: Int32Array | null = null;
	private leafOf: Int32Array | null = null;

	/** Takes new bounds for a few items: their leaves and what is above them grow or shrink, the rest is left alone. */
	update(bounds: Float64Array, items: readonly number[]): void {
		const { links, order, boxes, size } = this;
		// Far more than a few: one pass over everything is cheaper than many climbs.
		if (items.length * 16 > size) {
			this.refit(bounds);
			return;
		}
		this.revision++;
		if (!this.parents || !this.leafOf) {
			this.parents = new Int32Array(size).fill(-1);
			this.leafOf = new Int32Array(order.length);
			for (let node = 0; node < size; node++) {
				if ((links[8 * node + 7] & 255) > 0)
					for (let i = ~links[8 * node + 6], end = i + (links[8 * node + 7] & 255); i < end; i++)
						this.leafOf[order[i]] = node;
				else {
					this.parents[node + 1] = node;
					this.parents[links[8 * node + 6]] = node;
				}
			}
		}
		for (const item of items) {
			let node = this.leafOf[item];
			this.closeLeaf(node, bounds);
			for (node = this.parents[node]; node >= 0; node = this.parents[node]) {
				const l = 8 * (node + 1);
				const r = 8 * links[8 * node + 6];
				const q = 8 * node;
				for (let k = 0; k < 3; k++) {
					boxes[q + k] = Math.min(boxes[l + k], boxes[r + k]);
					boxes[q + k + 3] = Math.max(boxes[l + k + 3], boxes[r + k + 3]);
				}
			}
		}
	}

	/** The box of a leaf from the bounds of its items. */
	private closeLeaf(node: number, bounds: Float64Array): void {
		const { links, order, origin } = this;
		let x0 = Infinity;
		let y0 = Infinity;
		let z0 = Infinity;
		let x1 = -Infinity;
		let y1 = -Infinity;
		let z1 = -Infinity;
		for (let i = ~links[8 * node + 6], end = i + (links[8 * node + 7] & 255); i < end; i++) {
			const b = 6 * order[i];
			x0 = Math.min(x0, bounds[b]);
			y0 = Math.min(y0, bounds[b + 1]);
			z0 = Math.min(z0, bounds[b + 2]);
			x1 = Math.max(x1, bounds[b + 3]);
			y1 = Math.max(y1, bounds[b + 4]);
			z1 = Math.max(z1, bounds[b + 5]);
		}
		this.setBox(node, x0 - origin[0], y0 - origin[1], z0 - origin[2], x1 - origin[0], y1 - origin[1], z1 - origin[2]);
	}

	/** Calls `visit` for each item whose node's box meets the given one (world bounds, touching counts). */
	overlap(box: Float64Array, visit: (item: number) => void): void {
		if (this.order.length === 0) return;
		const { boxes, links, order, origin } = this;
		const x0 = box[0] - origin[0];
		const y0 = box[1] - origin[1];
		const z0 = box[2] - origin[2];
		const x1 = box[3] - origin[0];
		const y1 = box[4] - origin[1];
		const z1 = box[5] - origin[2];
		const stack = borrow();
		let top = 0;
		stack[top++] = 0;
		while (top > 0) {
			const node = stack[--top];
			const q = 8 * node;
			if (
				boxes[q] > x1 ||
				boxes[q + 1] > y1 ||
				boxes[q + 2] > z1 ||
				boxes[q + 3] < x0 ||
				boxes[q + 4] < y0 ||
				boxes[q + 5] < z0
			)
				continue;
			const n = links[8 * node + 7] & 255;
			if (n > 0) for (let i = ~links[8 * node + 6], end = i + n; i < end; i++) visit(order[i]);
			else {
				stack[top++] = links[8 * node + 6];
				stack[top++] = node + 1;
			}
		}
		giveBack(stack);
	}

	/**
	 * Walks the items near a ray (or a box moved along it), nearest boxes first.
	 * @param ex half extents of the box moved along the ray; 0 for a plain ray
	 * @param visit tests an item and returns the greatest distance still of interest
	 */
	walk(
		x: number,
		y: number,
		z: number,
		dx: number,
		dy: number,
		dz: number,
		length: number,
		ex: number,
		ey: number,
		ez: number,
		visit: (item: number, limit: number) => number,
	): void {
		if (this.order.length === 0) return;
		const { boxes, links, order, origin } = this;
		const ox = x - origin[0];
		const oy = y - origin[1];
		const oz = z - origin[2];
		const ix = inverse(dx);
		const iy = inverse(dy);
		const iz = inverse(dz);
		let limit = length;
		const stack = borrow();
		const entries = entryStacks[stackDepth - 1];
		let top = 0;
		stack[0] = 0;
		entries[0] = entry(boxes, 0, ox, oy, oz, ix, iy, iz, limit, ex, ey, ez);
		if (entries[0] < Infinity) top = 1;
		while (top > 0) {
			top--;
			if (entries[top] > limit) continue;
			const node = stack[top];
			const n = links[8 * node + 7] & 255;
			if (n > 0) {
				for (let i = ~links[8 * node + 6], end = i + n; i < end; i++) limit = visit(order[i], limit);
				continue;
			}
			const l = node + 1;
			const r = links[8 * node + 6];
			const tl = entry(boxes, 8 * l, ox, oy, oz, ix, iy, iz, limit, ex, ey, ez);
			const tr = entry(boxes, 8 * r, ox, oy, oz, ix, iy, iz, limit, ex, ey, ez);
			const leftFirst = tl <= tr;
			const far = leftFirst ? tr : tl;
			const near = leftFirst ? tl : tr;
			if (far < Infinity) {
				stack[top] = leftFirst ? r : l;
				entries[top++] = far;
			}
			if (near < Infinity) {
				stack[top] = leftFirst ? l : r;
				entries[top++] = near;
			}
		}
		giveBack(stack);
	}

	/**
	 * Walks the items by growing distance of their boxes from a given box.
	 * @param limit greatest distance of interest
	 * @param visit tests an item and returns the greatest distance still of interest
	 */
	closest(box: Float64Array, limit: number, visit: (item: number, limit: number) => number): void {
		if (this.order.length === 0) return;
		const { boxes, links, order, origin } = this;
		const x0 = box[0] - origin[0];
		const y0 = box[1] - origin[1];
		const z0 = box[2] - origin[2];
		const x1 = box[3] - origin[0];
		const y1 = box[4] - origin[1];
		const z1 = box[5] - origin[2];
		const away = (node: number) => {
			const q = 8 * node;
			const ax = Math.max(0, boxes[q] - x1, x0 - boxes[q + 3]);
			const ay = Math.max(0, boxes[q + 1] - y1, y0 - boxes[q + 4]);
			const az = Math.max(0, boxes[q + 2] - z1, z0 - boxes[q + 5]);
			return Math.sqrt(ax * ax + ay * ay + az * az);
		};
		let most = limit;
		const stack = borrow();
		const entries = entryStacks[stackDepth - 1];
		let top = 1;
		stack[0] = 0;
		entries[0] = away(0);
		while (top > 0) {
			top--;
			if (entries[top] > most) continue;
			const node = stack[top];
			const n = links[8 * node + 7] & 255;
			if (n > 0) {
				for (let i = ~links[8 * node + 6], end = i + n; i < end; i++) most = visit(order[i], most);
				continue;
			}
			const l = node + 1;
			const r = links[8 * node + 6];
			const tl = away(l);
			const tr = away(r);
			stack[top] = tl <= tr ? r : l;
			entries[top++] = Math.max(tl, tr);
			stack[top] = tl <= tr ? l : r;
			entries[top++] = Math.min(tl, tr);
		}
		giveBack(stack);
	}
}

/** For each level of a build: bounds and bounds of the centres (six numbers each) of the left and of the right child. */
const levels: Float64Array[] = [];

function levelOf(level: number): Float64Array {
	while (levels.length <= level) levels.push(new Float64Array(24));
	return levels[level];
}

const binCounts = new Uint32Array(BINS);
const binBoxes = new Float64Array(6 * BINS);
const rightCost = new Float64Array(BINS);
const running = new Float64Array(12);
const EMPTY = new Float64Array([Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]);

/** The bin of a record's (doubled) centre, its low bound along the axis lying at `at`. */
function binOf(records: Float32Array, at: number, low: number, toBin: number, bins: number): number {
	const bin = ((records[at] + records[at + 3] - low) * toBin) | 0;
	return bin >= bins ? bins - 1 : Math.max(bin, 0);
}

function grow(q: number): void {
	if (binBoxes[q] < running[0]) running[0] = binBoxes[q];
	if (binBoxes[q + 1] < running[1]) running[1] = binBoxes[q + 1];
	if (binBoxes[q + 2] < running[2]) running[2] = binBoxes[q + 2];
	if (binBoxes[q + 3] > running[3]) running[3] = binBoxes[q + 3];
	if (binBoxes[q + 4] > running[4]) running[4] = binBoxes[q + 4];
	if (binBoxes[q + 5] > running[5]) running[5] = binBoxes[q + 5];
}

function area(): number {
	const x = running[3] - running[0];
	const y = running[4] - running[1];
	const z = running[5] - running[2];
	return x * y + y * z + z * x;
}

/** Largest single float that is surely below x. The millimetre-fraction added makes room for the contract's 1e-6 starts. */
function below(x: number): number {
	return Math.fround(x - Math.abs(x) * 1.3e-7 - 4e-6);
}

export const inverse = (d: number): number => (d > 1e-300 || d < -1e-300 ? 1 / d : d < 0 ? -1e300 : 1e300);

/** Distance at which a ray enters a node's box, or `Infinity`. */
export function entry(
	b: Float32Array,
	q: number,
	ox: number,
	oy: number,
	oz: number,
	ix: number,
	iy: number,
	iz: number,
	limit: number,
	ex: number,
	ey: number,
	ez: number,
): number {
	let near = 0;
	let far = limit;
	let t0 = ((ix > 0 ? b[q] - ex : b[q + 3] + ex) - ox) * ix;
	let t1 = ((ix > 0 ? b[q + 3] + ex : b[q] - ex) - ox) * ix;
	if (t0 > near) near = t0;
	if (t1 < far) far = t1;
	t0 = ((iy > 0 ? b[q + 1] - ey : b[q + 4] + ey) - oy) * iy;
	t1 = ((iy > 0 ? b[q + 4] + ey : b[q + 1] - ey) - oy) * iy;
	if (t0 > near) near = t0;
	if (t1 < far) far = t1;
	t0 = ((iz > 0 ? b[q + 2] - ez : b[q + 5] + ez) - oz) * iz;
	t1 = ((iz > 0 ? b[q + 5] + ez : b[q + 2] - ez) - oz) * iz;
	if (t0 > near) near = t0;
	if (t1 < far) far = t1;
	return near <= far ? near : Infinity;
}

/** Walks may nest (a mesh inside a world): each depth has its own stack, made once. */
const stacks: Int32Array[] = [];
const entryStacks: Float64Array[] = [];
let stackDepth = 0;

function borrow(): Int32Array {
	if (stackDepth === stacks.length) {
		stacks.push(new Int32Array(MAX_DEPTH + 1));
		entryStacks.push(new Float64Array(MAX_DEPTH + 1));
	}
	return stacks[stackDepth++];
}

function giveBack(_stack: Int32Array): void {
	stackDepth--;
}
