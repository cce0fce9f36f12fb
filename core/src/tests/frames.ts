/** Where a scene may stand and how it may be turned: what is worked out by hand in one holds in all. Metres; yaw, pitch, roll in degrees. */
export const FRAMES: [at: [number, number, number], turn: [number, number, number]][] = [
	[
		[0, 0, 0],
		[0, 0, 0],
	],
	[
		[3, -2, 5],
		[90, 0, 0],
	],
	[
		[-7, 1, 2],
		[30, -40, 75],
	],
];
