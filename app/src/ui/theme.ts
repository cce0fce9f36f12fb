/** Light or dark: the system's choice until the user makes one. */
import { useSyncExternalStore } from 'react';
import { writeLocal } from '../data/local';

type Theme = 'light' | 'dark';

const listeners = new Set<() => void>();

const read = (): Theme => (document.documentElement.dataset.theme === 'dark' ? 'dark' : 'light');

export function setTheme(theme: Theme): void {
	document.documentElement.dataset.theme = theme;
	writeLocal('frelk-theme', theme);
	for (const tell of listeners) tell();
}

export function useTheme(): Theme {
	return useSyncExternalStore(
		(tell) => {
			listeners.add(tell);
			return () => listeners.delete(tell);
		},
		read,
		() => 'light',
	);
}
