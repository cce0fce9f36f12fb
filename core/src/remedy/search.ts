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
 * @param likely distances at which it may well be true, beside those that are tried anyway: rising
 * @returns the least distance, to `near` and rounded outward; null where it never is
 */
export function leastAlong(
	holds: (t: number) => boolean,
	most: number,
	near: number,
	likely: readonly number[] = [],
): number | null {
	let low = 0;
	let next = 0;
	for (let t = near; ; ) {
		while (next < likely.length && (likely[next] as number) <= low) next++;
		const at = Math.min(t, likely[next] ?? Infinity, most);
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
		if (at >= t) t *= STRIDE;
	}
}

/** Where things may be moved: anywhere, in the plane of a flat scene, or level on the ground. */
type Freedom = 'space' | 'flat' | 'ground';

/** Directions all around, with those that were asked for first. */
function around(freedom: Freedom, wanted: readonly Triple[]): { dir: Triple; likely?: number }[] {
	const list: { dir: Triple; likely?: number }[] = [];
	for (const [x, y, z] of wanted) {
		const move: Triple = [x, freedom === 'ground' ? 0 : y, freedom === 'flat' ? 0 : z];
		const dir = unit(move);
		if (dir) list.push({ dir, likely: Math.hypot(...move) });
	}
	for (const x of [-1, 0, 1])
		for (const y of freedom === 'ground' ? [0] : [-1, 0, 1])
			for (const z of freedom === 'flat' ? [0] : [-1, 0, 1]) {
				const dir = unit([x, y, z]);
				if (dir) list.push({ dir });
			}
	return list;
}

/** Directions a little off another, all around it or to both sides. */
function beside([x, y, z]: Triple, spread: number, freedom: Freedom): (Triple | null)[] {
	if (freedom === 'flat') return [1, -1].map((way) => unit([x - way * spread * y, y + way * spread * x, 0]));
	if (freedom === 'ground') return [1, -1].map((way) => unit([x - way * spread * z, 0, z + way * spread * x]));
	const side = unit(Math.abs(y) < 0.9 ? [-z, 0, x] : [0, -z, y]) ?? [1, 0, 0];
	const up: Triple = [y * side[2] - z * side[1], z * side[0] - x * side[2], x * side[1] - y * side[0]];
	return Array.from({ length: 8 }, (_, k) => {
		const [c, s] = [Math.cos((k * Math.PI) / 4) * spread, Math.sin((k * Math.PI) / 4) * spread];
		return unit([x + c * side[0] + s * up[0], y + c * side[1] + s * up[1], z + c * side[2] + s * up[2]]);
	});
}

/**
 * @param holds whether the wish is true with something moved so far, metres in world axes
 * @param wanted moves worth trying first, each along all its direction
 * @returns the least move that was found, to a millimetre; null where none was
 */
export function leastMove(
	holds: (dx: number, dy: number, dz: number) => boolean,
	freedom: Freedom,
	wanted: readonly Triple[] = [],
	near = NEAR,
	far = FAR,
): { move: Triple; length: number } | null {
	let best: { dir: Triple; length: number } | null = null;
	const look = (dir: Triple, likely?: number) => {
		const most = best ? best.length - near / 2 : far;
		if (most <= 0) return;
		const stops = likely === undefined ? [] : [likely];
		const found = leastAlong((t) => holds(dir[0] * t, dir[1] * t, dir[2] * t), most, near, stops);
		if (found !== null && (!best || found < best.length)) best = { dir, length: found };
	};
	for (const { dir, likely } of around(freedom, wanted)) look(dir, likely);
	for (const spread of [0.35, 0.15, 0.06, 0.02]) {
		const about = best as { dir: Triple; length: number } | null;
		if (!about) break;
		for (const dir of beside(about.dir, spread, freedom)) if (dir) look(dir, about.length);
	}
	const found = best as { dir: Triple; length: number } | null;
	return found && { move: tripleOf((k) => found.dir[k] * found.length), length: found.length };
}
