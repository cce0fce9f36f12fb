/** Where what asks for room stands, on the stage: what bears it, and the way out. */
import { metres, type Placement, type Spot, tripleOf, type View } from '@frelk/core';
import { type P2, type P3, toPixels } from '../../../drawing/view';

/** What bears a volume: its corners and its middle, full where they are borne, crossed where they hang over; and the least way out. */
export function SpotDrawing({ spot, placement, view }: { spot: Spot; placement: Placement; view: View }) {
	const [first] = placement.volumes;
	const from: P3 | null = first ? [first.body.x, first.body.y, first.body.z] : null;
	const way = spot.way && from ? { from, to: tripleOf((k) => (from[k] as number) + (spot.way?.[k] ?? 0)) } : null;
	const [p, q] = [way && toPixels(view, way.from), way && toPixels(view, way.to)];
	return (
		<g>
			{spot.points.map(({ at: place, borne }, i) => {
				const dot = toPixels(view, place);
				if (!dot) return null;
				const [x, y] = dot;
				return borne ? (
					// biome-ignore lint/suspicious/noArrayIndexKey: corners have no other name
					<circle key={i} cx={x} cy={y} r="4" fill="var(--ink)" stroke="var(--panel)" strokeWidth="1.2" />
				) : (
					// biome-ignore lint/suspicious/noArrayIndexKey: corners have no other name
					<g key={i}>
						<circle cx={x} cy={y} r="5" fill="var(--panel)" stroke="var(--cut)" strokeWidth="1.6" />
						<path d={`M${x - 3} ${y - 3}l6 6m0 -6l-6 6`} stroke="var(--cut)" strokeWidth="1.6" />
					</g>
				);
			})}
			{p && q && spot.way && <WayOut from={p} to={q} words={metres(Math.hypot(...spot.way))} />}
		</g>
	);
}

/** An arrow long enough to be seen, in the direction of the way out. */
function WayOut({ from: [x0, y0], to: [x1, y1], words }: { from: P2; to: P2; words: string }) {
	const length = Math.hypot(x1 - x0, y1 - y0);
	// Straight at the eye there is no direction to draw.
	if (length < 0.5) return null;
	const [ux, uy] = [(x1 - x0) / length, (y1 - y0) / length];
	const long = Math.max(26, length);
	const [x, y] = [x0 + long * ux, y0 + long * uy];
	return (
		<g>
			<path d={`M${x0} ${y0}L${x} ${y}`} stroke="var(--panel)" strokeWidth="6" />
			<path
				d={`M${x0} ${y0}L${x} ${y}M${x - 9 * ux + 5 * uy} ${y - 9 * uy - 5 * ux}L${x} ${y}L${x - 9 * ux - 5 * uy} ${y - 9 * uy + 5 * ux}`}
				stroke="var(--cut)"
				strokeWidth="2.5"
			/>
			<text
				x={x + 10 * ux + 4}
				y={y + 10 * uy + 4}
				fill="var(--ink)"
				stroke="var(--ground)"
				strokeWidth="3"
				paintOrder="stroke"
				className="figure"
				fontSize="11.5"
			>
				{words}
			</text>
		</g>
	);
}
