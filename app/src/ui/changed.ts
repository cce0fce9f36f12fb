/** Whether a field holds something typed that is not taken yet: Escape takes that back first, and leaves nothing else. */
export const isChanged = (target: EventTarget | null): boolean =>
	target instanceof HTMLElement && target.dataset.changed !== undefined;
