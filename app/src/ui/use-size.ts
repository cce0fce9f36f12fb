import { type RefObject, useLayoutEffect, useState } from 'react';

/** The room an element has, CSS pixels, followed as it changes; 0 × 0 before it stands. */
export function useSize(ref: RefObject<HTMLElement | null>, first = 0): { w: number; h: number } {
	const [size, setSize] = useState({ w: first, h: first });
	useLayoutEffect(() => {
		const element = ref.current;
		if (!element) return;
		const measure = () => setSize({ w: element.clientWidth, h: element.clientHeight });
		const observer = new ResizeObserver(measure);
		observer.observe(element);
		measure();
		return () => observer.disconnect();
	}, [ref]);
	return size;
}
