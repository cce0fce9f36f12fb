/** Least moves, found by search: the nearest distance at which a wish comes true, over many directions, then finer about the best. */
import { tripleOf } from '../project/rounding';

type Triple = readonly [number, number, number];

/** How near distances are found, and how far one looks, metres. */
const NEAR = 0.001;
const FAR = 20;
/** From one distance that is tried to the next. */
const STRIDE = 1.35;

const unit = ([x, y, z]: Triple): Triple | null => {
	const length = Math.hypot(x, y, z);
	return length < 1e-9 ? null : [x / length, y / length, z / length];
};

/**
 * @param holds whether the wish is true so far along a direction
 * @param most what is farther than this is of no use
 * @returns the least distance, to `near` and rounded outward; null where it never is
 */
export function leastAlong(holds: (t: number) => boolean, most: number, near: number): number | null {
	let low = 0;
	for (let t = near; ; t *= STRIDE) {
		const at = Math.min(t, most);
		if (holds(at)) {
			let high = at;
			while (high - low > near / 2) {
				const middle = (low + high) / 2;
				if (holds(middle)) high = middle;
				else low = middle;
			}
			const out = Math.ceil(high / near - 1e-9) * near;
			return holds(out) ? out : high;
		}
		if (at >= most) return null;
		low = at;
	}
}

/** Directions all around, with those that were asked for first; in the plane where that is all there is. */
function around(flat: boolean, wanted: readonly Triple[]): Triple[] {
	const list: Triple[] = [];
	for (const [x, y, z] of wanted) {
		const u = unit([x, y, flat ? 0 : z]);
		if (u) list.push(u);
	}
	for (const x of [-1, 0, 1])
		for (const y of [-1, 0, 1])
			for (const z of flat ? [0] : [-1, 0, 1]) {
				const u = unit([x, y, z]);
				if (u) list.push(u);
			}
	return list;
}

/**
 * @param holds whether the wish is true with something moved so far, metres in world axes
 * @param wanted directions worth trying first
 * @returns the least move that was found, to a millimetre; null where none was
 */
export function leastMove(
	holds: (dx: number, dy: number, dz: number) => boolean,
	flat: boolean,
	wanted: readonly Triple[] = [],
	near = NEAR,
	far = FAR,
): { move: Triple; length: number } | null {
	let best: { dir: Triple; length: number } | null = null;
	const look = (dir: Triple) => {
		const most = best ? best.length - near / 2 : far;
		if (most <= 0) return;
		const found = leastAlong((t) => holds(dir[0] * t, dir[1] * t, dir[2] * t), most, near);
		if (found !== null && (!best || found < best.length)) best = { dir, length: found };
	};
	for (const dir of around(flat, wanted)) look(dir);
	for (const spread of [0.35, 0.15, 0.06, 0.02]) {
		const about = best as { dir: Triple; length: number } | null;
		if (!about) break;
		const [x, y, z] = about.dir;
		const side = unit(Math.abs(y) < 0.9 ? [-z, 0, x] : [0, -z, y]) ?? [1, 0, 0];
		const up: Triple = [y * side[2] - z * side[1], z * side[0] - x * side[2], x * side[1] - y * side[0]];
		for (let k = 0; k < (flat ? 2 : 8); k++) {
			const turn = flat ? k * Math.PI : (k * Math.PI) / 4;
			const [c, s] = flat ? [0, 0] : [Math.cos(turn) * spread, Math.sin(turn) * spread];
			const dir = flat
				? unit([x - Math.cos(turn) * spread * y, y + Math.cos(turn) * spread * x, 0])
				: unit([x + c * side[0] + s * up[0], y + c * side[1] + s * up[1], z + c * side[2] + s * up[2]]);
			if (dir) look(dir);
		}
	}
	const found = best as { dir: Triple; length: number } | null;
	return found && { move: tripleOf((k) => found.dir[k] * found.length), length: found.length };
}
