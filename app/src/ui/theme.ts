/** Light or dark: the system's choice until the user makes one. Paper is light. */
import { useLayoutEffect, useSyncExternalStore } from 'react';
import { readLocal, writeLocal } from '../data/local';

type Theme = 'light' | 'dark';

const SAVED = 'frelk-theme';

const listeners = new Set<() => void>();

const paper = () => matchMedia('print');
const system = () => matchMedia('(prefers-color-scheme: dark)');

/** What the user chose, or the system's: as `public/theme.js` has it before the first paint. */
function wanted(): Theme {
	const saved = readLocal(SAVED);
	if (saved === 'dark' || saved === 'light') return saved;
	return system().matches ? 'dark' : 'light';
}

const read = (): Theme => (document.documentElement.dataset.theme === 'dark' && !paper().matches ? 'dark' : 'light');

function show(theme: Theme): void {
	if (document.documentElement.dataset.theme === theme) return;
	document.documentElement.dataset.theme = theme;
	for (const tell of listeners) tell();
}

export function setTheme(theme: Theme): void {
	writeLocal(SAVED, theme);
	show(theme);
}

/** Keeps the document in its theme: when the system turns, and when all of it was drawn anew, as for a page of an error. */
export function useKeptTheme(): void {
	useLayoutEffect(() => {
		const follow = () => show(wanted());
		follow();
		const turned = system();
		turned.addEventListener('change', follow);
		return () => turned.removeEventListener('change', follow);
	}, []);
}

export function useTheme(): Theme {
	return useSyncExternalStore(
		(tell) => {
			const printed = paper();
			listeners.add(tell);
			printed.addEventListener('change', tell);
			return () => {
				listeners.delete(tell);
				printed.removeEventListener('change', tell);
			};
		},
		read,
		() => 'light',
	);
}
