/** Whether all of the application lies in the browser, as far as it is known. */
import { useSyncExternalStore } from 'react';

let whole = false;
const listeners = new Set<() => void>();

export function tellOffline(now: boolean): void {
	whole = now;
	for (const tell of listeners) tell();
}

export function useOffline(): boolean {
	return useSyncExternalStore(
		(tell) => {
			listeners.add(tell);
			return () => void listeners.delete(tell);
		},
		() => whole,
		() => false,
	);
}
