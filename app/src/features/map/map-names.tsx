/** Names on a map, legible over whatever lies behind them. */

/** A name and where its middle is, pixels. */
interface MapName {
	x: number;
	y: number;
	text: string;
}

export const MapNames = ({ names }: { names: readonly MapName[] }) =>
	names.map(({ x, y, text }) => (
		<text
			key={`${text} ${Math.round(x)} ${Math.round(y)}`}
			x={x}
			y={y + 4}
			textAnchor="middle"
			fontSize="11"
			fontWeight="600"
			fill="var(--ink)"
			stroke="var(--panel)"
			strokeWidth="3"
			paintOrder="stroke"
		>
			{text}
		</text>
	));
