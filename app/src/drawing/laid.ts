/** A picture that lies on the ground of a scene, or in the plane of a flat one. */
export interface Laid {
	/** Red, green, blue and opacity, row by row. */
	pixels: Uint8ClampedArray<ArrayBuffer>;
	width: number;
	height: number;
	/** Its first and its last corner, world metres: X and Z, in flat scenes X and Y. */
	from: readonly [number, number];
	to: readonly [number, number];
	/** How high it lies, Y; in flat scenes it lies behind everything. */
	at: number;
}
