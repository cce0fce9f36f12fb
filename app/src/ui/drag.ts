/**
 * Every drag of the application, one at a time. It listens on the window, not on what was pressed: whatever is drawn anew or taken away
 * meanwhile, a drag that was begun ends or is cancelled. Escape cancels it, so do a lost window and a second press.
 */

interface Drag {
	move?: (event: PointerEvent) => void;
	/** The pointer was let go. */
	end?: (event: PointerEvent) => void;
	/** It came to nothing: all is to be as it was before. */
	cancel?: () => void;
	/** Whether what lies under the pointer is told of it too. */
	through?: boolean;
}

let stop: ((why: 'end' | 'cancel', event?: PointerEvent) => void) | null = null;

export const isDragging = (): boolean => stop !== null;

/** Cancels what is being dragged, if anything is. */
export const cancelDrag = (): void => stop?.('cancel');

/** @param pressed the event that begins it, of the element that was pressed */
export function beginDrag(pressed: { pointerId: number; currentTarget: EventTarget | null }, drag: Drag): void {
	cancelDrag();
	const { pointerId, currentTarget } = pressed;
	const mine = (event: PointerEvent): boolean => {
		if (event.pointerId !== pointerId) return false;
		if (!drag.through) event.stopPropagation();
		return true;
	};
	const onMove = (event: PointerEvent) => {
		if (!mine(event)) return;
		// A release that was never told of: outside of the window, or in a window that was away.
		if (event.buttons === 0) stop?.('end', event);
		else drag.move?.(event);
	};
	const onUp = (event: PointerEvent) => {
		if (mine(event)) stop?.('end', event);
	};
	const onCancel = (event: PointerEvent) => {
		if (mine(event)) stop?.('cancel');
	};
	const onKey = (event: KeyboardEvent) => {
		if (event.key !== 'Escape') return;
		event.stopPropagation();
		event.preventDefault();
		stop?.('cancel');
	};
	// Of the window itself: fields that lose the focus tell of that on the way down through it.
	const onAway = (event: Event) => {
		if (event.target === window) stop?.('cancel');
	};
	const listeners: [string, (event: never) => void][] = [
		['pointermove', onMove],
		['pointerup', onUp],
		['pointercancel', onCancel],
		['keydown', onKey],
		['blur', onAway],
	];
	for (const [type, listener] of listeners) window.addEventListener(type, listener as EventListener, { capture: true });
	stop = (why, event) => {
		stop = null;
		for (const [type, listener] of listeners)
			window.removeEventListener(type, listener as EventListener, { capture: true });
		if (why === 'end' && event) drag.end?.(event);
		else drag.cancel?.();
	};
	// The pointer's moves outside of the window are told of only while it is held; not every element can hold one.
	if (!drag.through) (currentTarget as Element | null)?.setPointerCapture?.(pointerId);
}
