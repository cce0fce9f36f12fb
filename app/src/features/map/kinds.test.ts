/** Which map a query gets, how far its window goes, and what of a project it does not hang on. */
import type { Project, Query, View } from '@frelk/core';
import { rotationOf } from '@frelk/core/geometry';
import { mapGrid } from '@frelk/core/maps';
import { example } from '@frelk/core/tests/examples';
import { describe, expect, it } from 'vitest';
import { isFloor } from '../edit/fresh-query';
import { aimMapOf, cursorMapOf, firstMapOf, floorMapOf, withoutMapped } from './kinds';
import { partsOf, withoutPart } from './without';

const quay = example('harl-quay');
const bare: Project = { ...quay, maps: [] };
const query = (id: string): Query => {
	const found = quay.queries.find((q) => q.id === id);
	if (!found) throw new Error(`no query ${id}`);
	return found;
};
/** A view of 60° from lower to upper edge, twice as wide as high, turned. */
const looking = (yaw: number, pitch: number): View =>
	({ camera: { rotation: rotationOf([yaw, pitch, 0]) }, width: 200, height: 100, half: Math.tan(Math.PI / 6) }) as View;

describe('the map of a query', () => {
	it('is the kept one of its kind, at no moment of its own; else one about as fine as the picture', () => {
		expect(cursorMapOf(quay, query('harbour-pick'))).toEqual({ query: 'harbour-pick', kind: 'cursor', cell: 6 });
		expect(cursorMapOf(bare, query('harbour-pick'))?.cell).toBe(4);
		expect(cursorMapOf(quay, query('gaze'))).toBeNull();
		expect(floorMapOf(quay, query('reach'), [0, 0, 0])).toMatchObject({ every: 0.5, headings: 8 });
		expect(floorMapOf(bare, query('reach'), [0.9, 0, -0.1])).toMatchObject({
			area: { min: [-6, -7], max: [6, 5] },
			headings: 16,
		});
		expect(floorMapOf(bare, { ...query('reach'), asker: undefined } as Query, [0, 0, 0])).toBeNull();
	});

	it('of directions has what the picture shows, in steps of fifteen degrees', () => {
		// 60° high; to the sides twice the tangent, 49.1°.
		const of = (yaw: number, pitch: number, holder: Float64Array | null = null) =>
			aimMapOf(bare, query('gaze'), looking(yaw, pitch), holder);
		expect(of(0, 0)).toMatchObject({ yaw: [-60, 60], pitch: [-30, 30], every: 1 });
		expect(of(7, 0)).toMatchObject({ yaw: [-45, 60] });
		// Over the turn from 180 to −180 it is one piece.
		expect(of(180, 0)?.yaw?.[1]).toBe((of(180, 0)?.yaw?.[0] ?? 0) + 120);
		// With straight up or down in the picture all headings are in it; just short of that they are not.
		expect(of(0, 80)).toMatchObject({ yaw: [-180, 179], pitch: [30, 90] });
		expect(of(0, 61)).toMatchObject({ yaw: [-180, 179], pitch: [15, 90] });
		expect(of(0, -61)).toMatchObject({ yaw: [-180, 179], pitch: [-90, -15] });
		expect(of(0, 59)?.yaw).not.toEqual([-180, 179]);
		expect(of(0, -59)?.yaw).not.toEqual([-180, 179]);
		// Counted from what the aim hangs on.
		expect(of(90, 0, rotationOf([90, 0, 0]))).toMatchObject({ yaw: [-60, 60] });
		expect(aimMapOf(bare, query('reach'), looking(0, 0), null)).toBeNull();
		expect(mapGrid(bare, { id: 'm', ...of(0, 0) } as never)).toMatchObject({ columns: 121, rows: 61 });
	});

	it('is made for every query that can have one', () => {
		for (const q of quay.queries) {
			const first = firstMapOf(quay, q);
			expect(first === null).toBe(q.kind !== 'pick' && q.asker === undefined && !(q.kind === 'ray' && q.aim?.along));
			if (first) expect(mapGrid(quay, { id: 'm', ...first } as never)).not.toBeNull();
		}
	});

	it('stays what it is while what it puts in place is moved', () => {
		const map = { query: 'harbour-pick', kind: 'cursor' as const };
		const moved: Project = {
			...quay,
			queries: quay.queries.map((q) => (q.id === 'harbour-pick' ? ({ ...q, cursor: [1, 2] } as Query) : q)),
		};
		expect(JSON.stringify(withoutMapped(moved, map))).toBe(JSON.stringify(withoutMapped(quay, map)));
		const aim = { query: 'gaze', kind: 'aim' as const };
		const turned: Project = {
			...quay,
			queries: quay.queries.map((q) =>
				q.id === 'gaze' ? ({ ...q, aim: { ...(q as { aim: object }).aim, along: [1, 0, 0] } } as Query) : q,
			),
		};
		expect(JSON.stringify(withoutMapped(turned, aim))).toBe(JSON.stringify(withoutMapped(quay, aim)));
		expect(JSON.stringify(withoutMapped(turned, map))).not.toBe(JSON.stringify(withoutMapped(quay, map)));
		expect(withoutMapped(quay, { query: 'reach', kind: 'floor' })).toBe(quay);
	});
});

describe('a part taken away', () => {
	it('is one the query has, and nothing else goes with it', () => {
		expect(partsOf(query('harbour-pick')).map((p) => p.key)).toEqual(['assist', 'sight', 'range', 'tags']);
		for (const { key } of partsOf(query('harbour-pick'))) {
			const after = withoutPart(quay, 'harbour-pick', key).queries.find((q) => q.id === 'harbour-pick') as Query;
			expect(partsOf(after).map((p) => p.key)).toEqual(
				partsOf(query('harbour-pick'))
					.map((p) => p.key)
					.filter((k) => k !== key),
			);
			expect(after.selects?.layers).toEqual(query('harbour-pick').selects?.layers);
		}
		expect(partsOf(query('gaze')).map((p) => p.key)).toContain('when');
		expect(withoutPart(quay, 'harbour-pick', 'assist').queries.filter((q) => !quay.queries.includes(q))).toHaveLength(
			1,
		);
	});
});

describe('places to stand', () => {
	it('leave out where something solid stands, but for floors', () => {
		const clear = floorMapOf(bare, query('reach'), [0, 0, 0])?.clear?.layers ?? [];
		expect(clear).toContain('fittings');
		const floors = quay.scene.objects.filter(isFloor).map((o) => o.layer);
		expect(floors.length).toBeGreaterThan(0);
		for (const layer of floors) expect(clear).not.toContain(layer);
		const flat = example('pursers-desk');
		const asked = { ...flat.queries[0], asker: flat.scene.objects[0]?.id } as Query;
		expect(floorMapOf({ ...flat, maps: [] }, asked, [0, 0, 0])?.clear).toBeUndefined();
	});
	it('of what asks for room are close together, as it stands, and what is in the way is told and not left out', () => {
		const room = { id: 'r', kind: 'overlap', asker: 'deckhand', room: {} } as unknown as Query;
		expect(floorMapOf(bare, room, [0, 0, 0])).toMatchObject({ every: 0.25, headings: 1 });
		expect(floorMapOf(bare, room, [0, 0, 0])?.clear).toBeUndefined();
	});
});
