/** What a move of the hand costs, as measures in the browser's own timeline: `npm run bench:ui` reads them. */
import { useLayoutEffect, useRef } from 'react';

/** Kept of each name: a long session must not fill the timeline. */
const MOST = 2000;
const counts = new Map<string, number>();
let begun: number | null = null;

export function measured(name: 'frelk-move' | 'frelk-draw', start: number): void {
	const count = (counts.get(name) ?? 0) + 1;
	counts.set(name, count % MOST);
	if (count === MOST) performance.clearMeasures(name);
	performance.measure(name, { start });
}

/** The hand has moved. */
export function beginMove(): void {
	begun = performance.now();
}

/** The page says what it says after the move, but for what may follow. */
export function endMove(): void {
	if (begun === null) return;
	measured('frelk-move', begun);
	begun = null;
}

/** From the hand's move to the changed page, drawing aside. @param revision of what is shown */
export function useMoveMeasure(revision: number): void {
	const shown = useRef<number | null>(null);
	useLayoutEffect(() => {
		if (shown.current !== revision) endMove();
		shown.current = revision;
	}, [revision]);
}
