/** How large what is seen is: a scale bar, the axes, and distances measured by hand. */
import { metres, rounded, type View } from '@frelk/core';
import { type P3, type Pose, rulerLength, toPixels } from '../../../drawing/view';
import type { Pending } from '../draw';

/** Pixels the bar is long at most. */
const MOST = 120;
const AXES = [
	{ name: 'X', way: [1, 0, 0] },
	{ name: 'Y', way: [0, 1, 0] },
	{ name: 'Z', way: [0, 0, 1] },
] as const;

/** A length at the middle of the picture, and which way the axes go there. */
export function Ruler({ view, pose, flat }: { view: View; pose: Pose; flat: boolean }) {
	const perPixel = (2 * pose.distance) / view.height;
	const length = rulerLength(MOST * perPixel);
	const long = length / perPixel;
	const middle = toPixels(view, pose.target);
	const [x, y] = [16, view.height - 16];
	const arm = 22 * perPixel;
	return (
		<g fontSize="11" className="figure">
			{middle &&
				AXES.slice(0, flat ? 2 : 3).map(({ name, way }) => {
					const tip = toPixels(view, pose.target.map((v, k) => v + arm * way[k]) as unknown as P3);
					if (!tip) return null;
					const [dx, dy] = [tip[0] - middle[0], tip[1] - middle[1]];
					// Seen end on an axis has no direction to show.
					if (Math.hypot(dx, dy) < 5) return null;
					return (
						<g key={name} transform={`translate(${x + 14} ${y - 34})`}>
							<path d={`M0 0L${dx.toFixed(1)} ${dy.toFixed(1)}`} stroke="var(--quiet)" strokeWidth="1.4" />
							<text x={dx * 1.28 - 3} y={dy * 1.28 + 4} fill="var(--quiet)">
								{name}
							</text>
						</g>
					);
				})}
			<path d={`M${x} ${y - 4}v4h${long.toFixed(1)}v-4`} fill="none" stroke="var(--ink)" strokeWidth="1.4" />
			<text x={x + long + 6} y={y + 3} fill="var(--ink)" stroke="var(--ground)" strokeWidth="3" paintOrder="stroke">
				{metres(length)}
			</text>
		</g>
	);
}

/** The distance between two places, and its parts along the axes. */
export function Measured({ stroke, view, flat }: { stroke: Pending | null; view: View; flat: boolean }) {
	const a = stroke?.from.place;
	const b = stroke?.now.place;
	const [p, q] = [a ? toPixels(view, a) : null, b ? toPixels(view, b) : null];
	if (!a || !b || !p || !q) return null;
	const parts = [0, 1, 2].slice(0, flat ? 2 : 3).map((k) => rounded(b[k] - a[k], 3));
	const words = `${metres(Math.hypot(...parts))}  (${parts.map((v, k) => `${'XYZ'[k]} ${v}`).join(', ')})`;
	return (
		<g>
			<path d={`M${p[0]} ${p[1]}L${q[0]} ${q[1]}`} stroke="var(--ink)" strokeWidth="1.6" />
			{[p, q].map((end, i) => (
				<circle
					key={i === 0 ? 'from' : 'to'}
					cx={end[0]}
					cy={end[1]}
					r="3.5"
					fill="var(--panel)"
					stroke="var(--ink)"
					strokeWidth="1.5"
				/>
			))}
			<text
				x={q[0] + 12}
				y={q[1] + 4}
				className="figure"
				fontSize="12.5"
				fill="var(--ink)"
				stroke="var(--ground)"
				strokeWidth="3.5"
				paintOrder="stroke"
			>
				{words}
			</text>
		</g>
	);
}
