/**
 * Keys typed between the moment a window is asked for and the moment it stands: they are the window's, and are kept for it. Nothing
 * behind it hears of them.
 */

interface Held {
	key: string;
	init: KeyboardEventInit;
}

let waiting = 0;
const held: Held[] = [];

const PLAIN = 1;

/** Longer no window is waited for, milliseconds: the page is never without its keys. */
const LONGEST = 4000;

/** A modifier by itself says nothing. */
const isSaying = (event: KeyboardEvent): boolean => !/^(Shift|Control|Alt|Meta)$/.test(event.key);
/** What is the browser's own is never kept from it. */
const isBrowsers = (event: KeyboardEvent): boolean =>
	event.ctrlKey || event.metaKey || event.altKey || /^F\d/.test(event.key);

function hold(event: KeyboardEvent): void {
	if (isBrowsers(event)) return;
	event.stopImmediatePropagation();
	event.preventDefault();
	if (event.type !== 'keydown' || !isSaying(event)) return;
	const { key, code, shiftKey, ctrlKey, altKey, metaKey } = event;
	held.push({ key, init: { key, code, shiftKey, ctrlKey, altKey, metaKey, bubbles: true, cancelable: true } });
}

/** Types a held key where the focus is now, as the keyboard would. */
function type({ key, init }: Held): void {
	const target = document.activeElement ?? document.body;
	const went = target.dispatchEvent(new KeyboardEvent('keydown', init));
	const plain = key.length === PLAIN && !init.ctrlKey && !init.metaKey;
	if (went && plain && target.matches('input, textarea')) document.execCommand('insertText', false, key);
	else if (went && key === 'Backspace') document.execCommand('delete');
	else if (went && key === 'Enter' && target instanceof HTMLButtonElement) target.click();
	target.dispatchEvent(new KeyboardEvent('keyup', init));
}

/** From now on keys wait. @returns what ends that, once the window has the focus: it gets what was typed */
export function holdKeys(): (give: boolean) => void {
	if (waiting++ === 0)
		for (const name of ['keydown', 'keyup', 'keypress'] as const) window.addEventListener(name, hold, true);
	let ended = false;
	const end = (give: boolean) => {
		if (ended) return;
		ended = true;
		clearTimeout(timer);
		if (--waiting > 0) return;
		for (const name of ['keydown', 'keyup', 'keypress'] as const) window.removeEventListener(name, hold, true);
		const keys = held.splice(0);
		if (give) for (const key of keys) type(key);
	};
	const timer = setTimeout(() => end(false), LONGEST);
	return end;
}
