/** A valid project whose hulls take some tenths of a second each to be made. @returns its text */
export function slowProject(hulls: number, more: object = {}): string {
	const points = Array.from({ length: 10_000 }, (_, i) => {
		const z = 1 - (2 * i + 1) / 10_000;
		const r = Math.sqrt(1 - z * z);
		// A few digits: the hull is the work, not the reading.
		return [Math.cos(2.39996 * i) * r, Math.sin(2.39996 * i) * r, z].map((at) => Math.round(at * 1e5) / 1e5);
	});
	const objects = Array.from({ length: hulls }, (_, i) => ({
		id: `o${i}`,
		layer: 'a',
		// Each of its own: hulls that are the very same are made once.
		shapes: [{ id: 's', kind: 'hull', points: points.map((p) => p.map((v) => v * (1 + i / 1024))) }],
	}));
	return JSON.stringify({
		format: 'frelk/1',
		id: 'slow',
		name: 'Slow',
		scene: { kind: 'space', layers: [{ id: 'a' }], tags: [], objects, cameras: [] },
		queries: [],
		...more,
	});
}
