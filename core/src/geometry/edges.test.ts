/** Rays through edges and corners: in every turn of the scene they touch, and beyond them they miss. */
import { describe, expect, it } from 'vitest';
import { dice } from '../tests/random';
import { type Body, boxBody, cylinderBody, hullBody } from './body';
import { buildHull } from './hull';
import { rotationOf, turned } from './matrix';
import { castRay } from './ray';

type V = [number, number, number];

const tetrahedron = buildHull([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1] as never);

/** A body with points on its edges and corners, and from each the way straight out of the body. */
const CASES: [string, () => Body, [V, V][]][] = [
	[
		'a box',
		() => boxBody(1, 2, 3),
		[
			[
				[0.5, 1, 1.5],
				[1, 1, 1],
			],
			[
				[0.5, 1, 0.3],
				[1, 1, 0],
			],
			[
				[-0.5, -0.2, 1.5],
				[-1, 0, 1],
			],
		],
	],
	[
		'a hull',
		() => hullBody(tetrahedron as NonNullable<typeof tetrahedron>),
		[
			[
				[0, 0, 0],
				[-1, -1, -1],
			],
			[
				[1, 0, 0],
				[1, -0.2, -0.3],
			],
			[
				[0.4, 0, 0],
				[0, -1, -1],
			],
		],
	],
	[
		'a cylinder',
		() => cylinderBody(0.5, 2),
		[
			[
				[0.3, 1, 0.4],
				[0.6, 1, 0.8],
			],
			[
				[-0.5, -1, 0],
				[-1, -0.5, 0],
			],
		],
	],
];

describe.each(CASES)('%s', (_name, make, points) => {
	it.each(points)('is touched at %j', (point, out) => {
		const d = dice(point[0] * 100 + point[1] * 10 + point[2] + 7);
		const size = Math.hypot(...out);
		for (let i = 0; i < 300; i++) {
			const body = make();
			const m = rotationOf([d.between(-180, 180), d.between(-90, 90), d.between(-180, 180)]);
			const shift: V = [d.between(-9, 9), d.between(-9, 9), d.between(-9, 9)];
			body.place(...shift, m);
			const p = turned(m, ...point).map((v, k) => v + shift[k]) as V;
			const away = turned(m, ...(out.map((v) => v / size) as V)) as V;
			// From outside, aslant, exactly at the point.
			const tilt = d.direction();
			const dir = away.map((v, k) => -v + 0.4 * tilt[k]) as V;
			const length = Math.hypot(...dir);
			const way = dir.map((v) => v / length) as V;
			const start = p.map((v, k) => v - 3 * way[k]) as V;
			const hit = castRay(body, ...start, ...way, null);
			expect(hit, `turn ${i}`).toBeCloseTo(3, 8);
			// A ray that runs past the point, at right angles to the way out and a hair farther off, misses.
			const cross: V = [
				away[1] * way[2] - away[2] * way[1],
				away[2] * way[0] - away[0] * way[2],
				away[0] * way[1] - away[1] * way[0],
			];
			const across = Math.hypot(...cross);
			if (across < 0.05) continue;
			const past = cross.map((v) => v / across) as V;
			const beyond = p.map((v, k) => v + 1e-5 * away[k] - 3 * past[k]) as V;
			const seen = castRay(body, ...beyond, ...past, null);
			expect(seen === Number.POSITIVE_INFINITY || Math.abs(seen - 3) > 1e-4, `past, turn ${i}: ${seen}`).toBe(true);
		}
	});
});
