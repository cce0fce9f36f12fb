/** What the benchmarks share: a crowd of objects, and how long something takes. */
import type { Project, Shape } from '../core/src/index';
import { dice } from '../core/src/tests/random';

/** Objects of every kind in a cube that grows with their number. */
export function crowd(count: number): Project {
	const d = dice(7);
	const side = Math.cbrt(count) * 3;
	const at = () => d.between(-side / 2, side / 2);
	const shape = (): Shape => {
		switch (d.of(['box', 'sphere', 'capsule', 'cylinder', 'hull'])) {
			case 'box':
				return { id: 's', kind: 'box', size: [d.between(0.3, 1.4), d.between(0.3, 1.4), d.between(0.3, 1.4)] };
			case 'sphere':
				return { id: 's', kind: 'sphere', radius: d.between(0.2, 0.7) };
			case 'capsule':
				return { id: 's', kind: 'capsule', radius: 0.3, height: d.between(0.8, 1.8) };
			case 'cylinder':
				return { id: 's', kind: 'cylinder', radius: d.between(0.2, 0.6), height: d.between(0.4, 1.4) };
			default:
				return {
					id: 's',
					kind: 'hull',
					points: Array.from({ length: 14 }, (): [number, number, number] => [
						d.between(-0.6, 0.6),
						d.between(-0.6, 0.6),
						d.between(-0.6, 0.6),
					]),
				};
		}
	};
	return {
		format: 'frelk/1',
		id: 'crowd',
		name: 'Crowd',
		scene: {
			kind: 'space',
			layers: [{ id: 'a' }, { id: 'b' }, { id: 'wall' }],
			tags: [{ id: 'thing' }, { id: 'crank', under: 'thing' }],
			objects: Array.from({ length: count }, (_, i) => ({
				id: `o${i}`,
				position: [at(), at(), at()] as [number, number, number],
				rotation: [d.between(-180, 180), d.between(-60, 60), 0] as [number, number, number],
				layer: d.of(['a', 'a', 'b', 'wall']),
				tags: d.chance(0.7) ? ['crank'] : [],
				shapes: [shape()],
			})),
			cameras: [{ id: 'cam', position: [0, 0, side / 2], projection: 'perspective', fov: 60, far: 200 }],
		},
		queries: [
			{
				id: 'ray',
				kind: 'ray',
				from: { point: [0, 0, 0] },
				aim: { along: [0, 0, -1] },
				length: 100,
				selects: { layers: ['a', 'b'], tags: { any: ['thing'] } },
				sight: { blockers: ['wall'] },
			},
			{
				id: 'pick',
				kind: 'pick',
				camera: 'cam',
				viewport: [1280, 720],
				selects: { layers: ['a', 'b'], tags: { any: ['thing'] } },
				sight: { blockers: ['wall'] },
			},
			{
				id: 'overlap',
				kind: 'overlap',
				at: { point: [0, 0, 0] },
				shape: { kind: 'sphere', radius: 1.5 },
				selects: { layers: ['a', 'b'] },
			},
			{
				id: 'sweep',
				kind: 'sweep',
				from: { point: [0, 0, 0] },
				aim: { along: [0, 0, -1] },
				length: 12,
				shape: { kind: 'capsule', radius: 0.2, height: 1 },
				selects: { layers: ['a', 'b'] },
				sight: { blockers: ['wall'] },
			},
		],
	};
}

/** The middle one. */
export const median = (list: number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1] as number;
/** The best of a few runs: what else the machine does only ever makes it slower. */
export const best = (runs: number, run: () => void): number =>
	Math.min(...Array.from({ length: runs }, () => seconds(run)));
/** How long something takes. */
export const seconds = (run: () => void): number => {
	const t = performance.now();
	run();
	return (performance.now() - t) / 1000;
};
