import { useState } from 'react';

/** A value that is made anew more often than it changes: the one before, for as long as its key stays the same. */
export function useHeld<T>(value: T, key: string): T {
	const [held, hold] = useState({ key, value });
	if (held.key === key) return held.value;
	hold({ key, value });
	return value;
}
