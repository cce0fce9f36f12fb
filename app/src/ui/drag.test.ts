import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { beginDrag, cancelDrag, isDragging } from './drag';

const page = new EventTarget();
const tell = (type: string, more: object = {}) => {
	const event = Object.assign(new Event(type, { cancelable: true }), { pointerId: 1, buttons: 1, ...more });
	page.dispatchEvent(event);
	return event;
};
const drag = () => ({ move: vi.fn(), end: vi.fn(), cancel: vi.fn() });
const pressed = (pointerId = 1) => ({ pointerId, currentTarget: null });

beforeEach(() => vi.stubGlobal('window', page));
afterEach(() => {
	cancelDrag();
	vi.unstubAllGlobals();
});

it('moves and ends, whatever became of the element that was pressed', () => {
	const d = drag();
	const held = { setPointerCapture: vi.fn() };
	beginDrag({ pointerId: 1, currentTarget: held as unknown as EventTarget }, d);
	expect(held.setPointerCapture).toHaveBeenCalledWith(1);
	expect(isDragging()).toBe(true);
	tell('pointermove');
	tell('pointermove', { pointerId: 2 });
	expect(d.move).toHaveBeenCalledTimes(1);
	tell('pointerup', { pointerId: 2 });
	expect(isDragging()).toBe(true);
	tell('pointerup');
	expect([d.end.mock.calls.length, d.cancel.mock.calls.length, isDragging()]).toEqual([1, 0, false]);
	tell('pointermove');
	tell('pointerup');
	expect([d.move.mock.calls.length, d.end.mock.calls.length]).toEqual([1, 1]);
});

it('ends with the first move after a release that was never told of', () => {
	const d = drag();
	beginDrag(pressed(), d);
	tell('pointermove', { buttons: 0 });
	expect([d.move.mock.calls.length, d.end.mock.calls.length, isDragging()]).toEqual([0, 1, false]);
});

it.each([
	['pointercancel', {}],
	['blur', {}],
	['keydown', { key: 'Escape' }],
])('is cancelled by %s', (type, more) => {
	const d = drag();
	beginDrag(pressed(), d);
	tell('keydown', { key: 'n' });
	expect(isDragging()).toBe(true);
	const event = tell(type, more);
	expect([d.cancel.mock.calls.length, d.end.mock.calls.length, isDragging()]).toEqual([1, 0, false]);
	expect(event.defaultPrevented).toBe(type === 'keydown');
});

it('does not mind a field that loses the focus to what is pressed', () => {
	const d = drag();
	beginDrag(pressed(), d);
	const event = new Event('blur');
	Object.defineProperty(event, 'target', { value: {} });
	page.dispatchEvent(event);
	expect([d.cancel.mock.calls.length, isDragging()]).toEqual([0, true]);
});

it('is cancelled by another one: there is one at a time', () => {
	const [one, two] = [drag(), drag()];
	beginDrag(pressed(1), one);
	beginDrag(pressed(2), two);
	expect(one.cancel).toHaveBeenCalledTimes(1);
	tell('pointermove', { pointerId: 2 });
	tell('pointerup', { pointerId: 2 });
	expect([two.move.mock.calls.length, two.end.mock.calls.length, one.end.mock.calls.length]).toEqual([1, 1, 0]);
});

it('keeps what lies under the pointer out of it, unless that is to be told', () => {
	const seen: boolean[] = [];
	const listen = (event: Event) => seen.push(event.cancelBubble);
	for (const through of [false, true]) {
		beginDrag(pressed(), { ...drag(), through });
		page.addEventListener('pointermove', listen);
		tell('pointermove');
		page.removeEventListener('pointermove', listen);
		cancelDrag();
	}
	expect(seen).toEqual([true, false]);
});
