/**
 * The cells of a cursor map whose answer hangs on the cursor's ray alone: asked in squares of neighbours, whose rays walk the tree once
 * for all of them.
 */
import type { MapGrid } from '../project/map-grid';
import type { QueryOf } from '../project/schema';
import { rayThrough, type View, viewOf } from '../query/placement';
import { NOTHING, prepareRay, type RayWinner, TIED } from '../query/ray-winner';
import type { World } from '../world/world';
import { type Asked, type Block, CELL, UNSETTLED } from './cell';

/** Cells along the side of a square whose rays share their walk; where they meet too much, a quarter of it, and so on. */
const SIDE = 16;
/** Below this each ray walks by itself. */
const LEAST = 2;

/** See the file's head. */
export class CursorRays {
	private readonly winner: RayWinner;
	private readonly view: View | null;
	private readonly length: number;
	private readonly rays = new Float64Array(7);
	private readonly edges = new Float64Array(30);

	/** @param cell pixels along the side of a cell */
	constructor(
		world: World,
		query: QueryOf<'pick'>,
		private readonly grid: MapGrid,
		private readonly cell: number,
	) {
		this.winner = prepareRay(world, query);
		const camera = world.cameras.get(query.camera);
		this.view = camera ? viewOf(camera, query.viewport) : null;
		this.length = query.length ?? camera?.far ?? 0;
	}

	/** @returns the value of a cell, or `UNSETTLED` where it is to be asked in full */
	ask(x: number, y: number): number {
		return this.cast(x, y, false);
	}

	/** Asks the cells of a block; what is not settled by its ray alone is `UNSETTLED`. */
	askBlock([x0, y0, x1, y1]: Block, asked: Asked): void {
		for (let y = y0; y < y1; y += SIDE)
			for (let x = x0; x < x1; x += SIDE) this.square([x, y, Math.min(x + SIDE, x1), Math.min(y + SIDE, y1)], asked);
	}

	private square([x0, y0, x1, y1]: Block, asked: Asked): void {
		const { winner, grid } = this;
		const large = Math.max(x1 - x0, y1 - y0) > LEAST;
		const together = large && this.aim(x0, y0, x1, y1);
		if (!together && large && winner.shares) {
			const x = (x0 + x1) >> 1;
			const y = (y0 + y1) >> 1;
			for (const [a, c] of x > x0
				? ([
						[x0, x],
						[x, x1],
					] as const)
				: ([[x0, x1]] as const))
				for (const [b, d] of y > y0
					? ([
							[y0, y],
							[y, y1],
						] as const)
					: ([[y0, y1]] as const))
					this.square([a, b, c, d], asked);
			return;
		}
		const { known, values, base } = asked;
		const nothing = together && !winner.meets;
		for (let y = y0; y < y1; y++) {
			const row = y * grid.columns;
			for (let x = x0; x < x1; x++) {
				if (known?.[row + x]) continue;
				values[row + x - base] = nothing ? CELL.none : this.cast(x, y, together);
			}
		}
	}

	/** Aims the bundle of the rays of a square, with half a cell around their middles for rounding. */
	private aim(x0: number, y0: number, x1: number, y1: number): boolean {
		const { view, cell, edges, winner } = this;
		if (!view) return false;
		const ray = (x: number, y: number, k: number) => rayThrough(view, x * cell, y * cell, false, edges, 6 * k);
		ray(x0, y0, 0);
		ray(x1, y0, 1);
		ray(x1, y1, 2);
		ray(x0, y1, 3);
		ray((x0 + x1) / 2, (y0 + y1) / 2, 4);
		return winner.aim(edges);
	}

	private cast(x: number, y: number, together: boolean): number {
		const { view, cell, rays, winner } = this;
		if (!view) return UNSETTLED;
		rayThrough(view, (x + 0.5) * cell, (y + 0.5) * cell, false, rays, 0);
		rays[6] = this.length;
		const found = together ? winner.castInBeam(rays, 0) : winner.cast(rays, 0);
		return found >= 0 ? found : found === NOTHING ? CELL.none : found === TIED ? CELL.tie : UNSETTLED;
	}
}
