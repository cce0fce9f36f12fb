/**
 * A convex body moved along a straight line until it first touches another.
 *
 * The gap between two convex bodies is a convex function of the distance travelled, so Newton's step from the near side never
 * passes the first touch: each step goes as far as the separating plane just found allows (conservative advancement). Nothing is
 * tunnelled through, whatever the speed.
 */
import { type Body, INSIDE } from './body';
import { gap, nearest } from './gjk';
import { PATH_END, START_GAP } from './tolerances';

const MAX_STEPS = 100;
/** The gap at which bodies are taken to touch, as a part of their size; far below what a contact must be good to. */
const TOUCH_PART = 1e-11;

/** Where and how the last `castSweep` touched. */
export const contact = { nx: 0, ny: 0, nz: 0, x: 0, y: 0, z: 0 };

/** Nearest point of the moving body at the last step of the last `castSweep`, by GJK alone. */
export const witness = new Float64Array(3);

/**
 * @param A the moving body, placed at its start, with no sweep of its own
 * @param dx unit direction of travel
 * @param length greatest travel in metres
 * @returns travel until first touch in metres, `Infinity` for none, `INSIDE` when the bodies overlap at the start (gap ≤ 1e-6).
 *   After a touch, `touch` holds the unit normal from B toward A and GJK's point of contact; see `contactNearCentre` in contact.ts.
 */
export function castSweep(A: Body, dx: number, dy: number, dz: number, length: number, B: Body): number {
	const { x, y, z } = A;
	const close = TOUCH_PART * (1 + A.boundingRadius + B.boundingRadius);
	let t = 0;
	let result = Number.POSITIVE_INFINITY;
	for (let step = 0; step < MAX_STEPS; step++) {
		const g = gap(A, B);
		if (step === 0 && g <= START_GAP) {
			result = INSIDE;
			break;
		}
		witness[0] = A.x + nearest.ax;
		witness[1] = A.y + nearest.ay;
		witness[2] = A.z + nearest.az;
		const closing = nearest.nx * dx + nearest.ny * dy + nearest.nz * dz;
		// While separate, the plane just found is remembered: at the touch itself it can no longer be measured well, unless
		// round edges keep the cores apart.
		if (closing > 0 && (g > close || step === 0 || nearest.core > 1e-3 * (A.r + B.r))) {
			contact.nx = -nearest.nx;
			contact.ny = -nearest.ny;
			contact.nz = -nearest.nz;
			contact.x = A.x + nearest.ax;
			contact.y = A.y + nearest.ay;
			contact.z = A.z + nearest.az;
		}
		if (g <= close) {
			result = t;
			break;
		}
		if (closing <= 0) {
			// So near that the plane's direction is rounding: this is the touch, not a parting.
			if (step > 0 && g <= 1e3 * close) result = t;
			break;
		}
		if (step === MAX_STEPS - 1) {
			// Only a grazing touch takes this many steps, and then the rest is below a nanometre.
			result = t;
			break;
		}
		// The bound never exceeds the true gap, so the step stays on the near side even where GJK stopped early.
		const safe = Math.max(nearest.bound - A.r - B.r, 0);
		const advance = safe / closing;
		if (advance <= 1e-13 * Math.max(1, t)) {
			result = t;
			break;
		}
		t += advance;
		if (t > length + PATH_END) break;
		A.x = x + t * dx;
		A.y = y + t * dy;
		A.z = z + t * dz;
		contact.x += advance * dx;
		contact.y += advance * dy;
		contact.z += advance * dz;
	}
	A.x = x;
	A.y = y;
	A.z = z;
	if (result > length) return result <= length + PATH_END ? length : Number.POSITIVE_INFINITY;
	return result;
}
