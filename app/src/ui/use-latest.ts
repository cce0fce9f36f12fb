/** What was drawn last, for a gesture that outlives the drawing it began in. */
import { type RefObject, useLayoutEffect, useRef } from 'react';

/** @returns a reference to the value of the last drawing; to be read by the hand's events, not while drawing */
export function useLatest<T>(value: T): Readonly<RefObject<T>> {
	const latest = useRef(value);
	useLayoutEffect(() => {
		latest.current = value;
	});
	return latest;
}
