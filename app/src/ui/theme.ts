/** Light or dark: the system's choice until the user makes one. Paper is light. */
import { useSyncExternalStore } from 'react';
import { writeLocal } from '../data/local';

type Theme = 'light' | 'dark';

const listeners = new Set<() => void>();

const paper = () => matchMedia('print');

const read = (): Theme => (document.documentElement.dataset.theme === 'dark' && !paper().matches ? 'dark' : 'light');

export function setTheme(theme: Theme): void {
	document.documentElement.dataset.theme = theme;
	writeLocal('frelk-theme', theme);
	for (const tell of listeners) tell();
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
