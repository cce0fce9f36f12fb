/** Arrow keys in a list or a bar of buttons: they go from one to the next, round at the ends. */
import type { KeyboardEvent } from 'react';

const BACK = { down: 'ArrowUp', across: 'ArrowLeft' };
const ON = { down: 'ArrowDown', across: 'ArrowRight' };

/** Moves the focus among the buttons that match, where one of them has it. */
export function rove(event: KeyboardEvent<HTMLElement>, way: 'down' | 'across', selector = 'button'): void {
	if (event.altKey || event.ctrlKey || event.metaKey || event.defaultPrevented) return;
	const step = event.key === ON[way] ? 1 : event.key === BACK[way] ? -1 : 0;
	if (step === 0) return;
	const all = [...event.currentTarget.querySelectorAll<HTMLElement>(selector)].filter(
		(e) => !e.matches(':disabled') && e.offsetParent !== null,
	);
	const at = all.indexOf(document.activeElement as HTMLElement);
	if (at < 0) return;
	event.preventDefault();
	event.stopPropagation();
	all[(at + step + all.length) % all.length]?.focus();
}
