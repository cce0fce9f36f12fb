import { expect, it } from 'vitest';
import { overlap, takeFree } from './boxes';

const box = (x: number, y: number, w = 10, h = 10) => ({ x, y, w, h });
const room = box(0, 0, 100, 100);

it('boxes that only touch do not overlap', () => {
	expect(overlap(box(0, 0), box(10, 0))).toBe(false);
	expect(overlap(box(0, 0), box(0, 10))).toBe(false);
	expect(overlap(box(10, 0), box(0, 0))).toBe(false);
	expect(overlap(box(0, 10), box(0, 0))).toBe(false);
	expect(overlap(box(0, 0), box(9.9, 9.9))).toBe(true);
	expect(overlap(box(9.9, 9.9), box(0, 0))).toBe(true);
});

it('the first free place is taken, and is taken from then on', () => {
	const taken = [box(0, 0)];
	expect(takeFree([box(5, 5), box(20, 0), box(40, 0)], room, taken)).toBe(1);
	expect(takeFree([box(5, 5), box(20, 0), box(40, 0)], room, taken)).toBe(2);
	expect(takeFree([box(5, 5), box(20, 0), box(40, 0)], room, taken)).toBe(-1);
	expect(taken).toHaveLength(3);
});

it('what would stick out of the room on any side is no place; its very edge is', () => {
	for (const place of [box(-1, 0), box(0, -1), box(91, 0), box(0, 91)]) expect(takeFree([place], room, [])).toBe(-1);
	for (const place of [box(0, 0), box(90, 90)]) expect(takeFree([place], room, [])).toBe(0);
});
