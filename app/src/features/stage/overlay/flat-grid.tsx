/** The grid of a flat scene: lines a round length apart, over what lies there, so that places can be read. */
import type { View } from '@frelk/core';
import { onPlane, rulerLength, toPixels } from '../../../drawing/view';

/** Pixels between two lines at most. */
const APART = 90;
/** Of more lines none are drawn: seen edge on they would be one surface. */
const MOST = 80;

export function FlatGrid({ view, perPixel }: { view: View; perPixel: number }) {
	const corners = [
		[0, 0],
		[view.width, 0],
		[0, view.height],
		[view.width, view.height],
	] as const;
	const places = corners.flatMap(([x, y]) => {
		const place = onPlane(view, [x, y], 2, 0);
		return place ? [place] : [];
	});
	if (places.length < 4) return null;
	const step = rulerLength(APART * perPixel);
	const span = (k: 0 | 1): [number, number] => [
		Math.min(...places.map((p) => p[k])),
		Math.max(...places.map((p) => p[k])),
	];
	const [x0, x1] = span(0);
	const [y0, y1] = span(1);
	const lines = (low: number, high: number): number[] => {
		const first = Math.ceil(low / step);
		const count = Math.floor(high / step) - first + 1;
		return count > MOST ? [] : Array.from({ length: Math.max(0, count) }, (_, i) => (first + i) * step);
	};
	const line = (a: [number, number], b: [number, number]): string => {
		const [p, q] = [toPixels(view, [...a, 0]), toPixels(view, [...b, 0])];
		return p && q ? `M${p[0].toFixed(1)} ${p[1].toFixed(1)}L${q[0].toFixed(1)} ${q[1].toFixed(1)}` : '';
	};
	const d = [...lines(x0, x1).map((x) => line([x, y0], [x, y1])), ...lines(y0, y1).map((y) => line([x0, y], [x1, y]))];
	return <path data-grid={step} d={d.join('')} stroke="var(--ink)" strokeWidth="1" opacity="0.1" />;
}
