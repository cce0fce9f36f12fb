/** The compiled walk, and the memory that it walks in: see `walk.wat`. */
import { CODE } from './code';

/** Where the ray is written, and where what is laid in begins: see `walk.wat`. */
const RAY = 8352;
const START = 8448;

/** Bytes kept at most, but for what one asks for at once: when they are full everything is laid in anew by whom it is asked for. */
const MOST = 16 << 20;

const PAGE = 1 << 16;

/** Of what the platform offers, what is used here: the core is checked without a platform's types. */
interface Platform {
	WebAssembly?: {
		Module: new (code: Uint8Array) => object;
		Instance: new (module: object) => { exports: unknown };
	};
}

/** See `walk.wat`: addresses in bytes, lengths in metres, places relative to the tree's origin. */
interface Exports {
	memory: { buffer: ArrayBuffer; grow(pages: number): number };
	first(nodes: number, balls: number, flags: number): number;
	next(): number;
}

/** One for each thread. What is laid in stays as long as `age` does. */
export class WalkMemory {
	/** Counts how often the memory was emptied: an address of an earlier age leads nowhere. */
	age = 1;
	readonly first: Exports['first'];
	readonly next: Exports['next'];
	/**
	 * The ray to walk with: start relative to the tree's origin, unit direction, and the greatest distance still of interest. Doubles
	 * handed over one by one would each take memory.
	 */
	ray: Float64Array;
	private top = START;

	constructor(
		private readonly exports: Exports,
		private most: number,
	) {
		this.ray = this.viewOfRay();
		this.first = exports.first;
		this.next = exports.next;
	}

	/**
	 * Room for so many bytes, all nothing or left over from before, at a multiple of 128. May empty the memory: compare `age`.
	 * @returns its address
	 */
	take(bytes: number): number {
		// Half of it holds the largest, the rest what goes with that.
		this.most = Math.max(this.most, START + 2 * bytes);
		let at = (this.top + 127) & ~127;
		if (at + bytes > this.most && at > START) {
			this.age++;
			at = START;
		}
		const { memory } = this.exports;
		const missing = at + bytes - memory.buffer.byteLength;
		if (missing > 0) {
			memory.grow(Math.ceil(missing / PAGE));
			this.ray = this.viewOfRay();
		}
		this.top = at + bytes;
		return at;
	}

	/** Gives back what lies behind an address, of what was taken last. */
	giveBack(end: number): void {
		this.top = end;
	}

	private viewOfRay(): Float64Array {
		return new Float64Array(this.buffer, RAY, 7);
	}

	/** The whole memory; a new one each time it has grown. */
	get buffer(): ArrayBuffer {
		return this.exports.memory.buffer;
	}
}

/** A memory of its own. @returns null where code cannot be compiled: an old engine, or a page whose policy forbids it */
export function makeWalkMemory(most = MOST): WalkMemory | null {
	const { WebAssembly } = globalThis as Platform;
	if (!WebAssembly) return null;
	const code = Uint8Array.from({ length: CODE.length / 2 }, (_, i) =>
		Number.parseInt(CODE.slice(2 * i, 2 * i + 2), 16),
	);
	try {
		return new WalkMemory(new WebAssembly.Instance(new WebAssembly.Module(code)).exports as Exports, most);
	} catch {
		// The walk in JavaScript finds the same.
		return null;
	}
}

let shared: WalkMemory | null | undefined;

/** The memory of this thread, made when first asked for; null as for `makeWalkMemory`. */
export function walkMemory(): WalkMemory | null {
	if (shared === undefined) shared = makeWalkMemory();
	return shared;
}
