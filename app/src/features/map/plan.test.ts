/** The plan beneath a floor map: what is drawn, and where who asks stands. */
import type { QueryMap, SceneObject } from '@frelk/core';
import { ahead, ball, box, object, project } from '@frelk/core/tests/scene';
import { expect, it } from 'vitest';
import { behindMap, planOf } from './plan';

const map = { id: 'm', query: 'q', kind: 'floor', area: { min: [0, 0], max: [4, 4] }, every: 0.5 } as QueryMap;
const who: SceneObject = { ...object('who', [1, 0, 2], [ball(0.3)]), rotation: [90, 0, 0] };
const asked = { ...ahead(), id: 'q', asker: 'who' };
const of = (...objects: SceneObject[]) => planOf(project([who, ...objects], [asked]), map);
const extent = (lines: string, k: number) => {
	const figures = (lines.match(/-?[\d.]+/g) ?? []).map(Number).filter((_, i) => i % 2 === k);
	return [Math.min(...figures), Math.max(...figures)];
};

it('has what is solid in the cells of the map, a cell’s middle being its place', () => {
	const lines = of(object('crate', [2, 0, 3], [box([1, 1, 0.5])]))?.lines ?? '';
	expect(extent(lines, 0)).toEqual([3.5, 5.5]);
	expect(extent(lines, 1)).toEqual([6, 7]);
});

it('leaves out floors, sensors, what is not there and who asks', () => {
	expect(
		of(
			object('floor', [0, -0.1, 0], [box([12, 0.2, 12])]),
			object('zone', [2, 0, 3], [{ ...box([1, 1, 1]), role: 'sensor' }]),
			{ ...object('gone', [2, 0, 3], [box([1, 1, 1])]), active: false },
		)?.lines,
	).toBe('');
});

it('has who asks where it stands, looking as it does: at a yaw of 90° to the left', () => {
	const asker = of()?.asker;
	expect([asker?.x, asker?.y]).toEqual([2.5, 4.5]);
	expect(Math.abs(asker?.turn ?? 0)).toBeCloseTo(180, 6);
});

it('is none of a map of cursors', () => {
	expect(planOf(project([who], [asked]), { id: 'm', query: 'q', kind: 'aim' } as QueryMap)).toBeNull();
});

it('what the camera of a map of cursors sees is drawn in its pixels, from the back to the front', () => {
	const p = project(
		[
			object('far', [0, 0, -9], [box([1, 1, 1])]),
			object('near', [0, 0, -4], [ball(0.5)]),
			object('behind', [0, 0, 5], [box([1, 1, 1])]),
		],
		[{ id: 'q', kind: 'pick', camera: 'eye', viewport: [200, 100] } as never],
	);
	const behind = behindMap(p, { id: 'm', query: 'q', kind: 'cursor' } as QueryMap);
	expect([behind?.width, behind?.height]).toEqual([200, 100]);
	// What lies behind the camera has no outline in its picture.
	expect(behind?.shapes.filter((s) => s.fill !== undefined)).toHaveLength(2);
	const wide = (k: number) => {
		const [least = 0, most = 0] = extent(behind?.shapes.filter((s) => s.fill)[k]?.fill ?? '', 0);
		return most - least;
	};
	expect(wide(1)).toBeGreaterThan(wide(0));
	expect(behindMap(p, map)).toBeNull();
});
