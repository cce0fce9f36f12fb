/** The shapes of a line drawing, in an SVG. */

export const DrawnShapes = ({ shapes }: { shapes: readonly { hue: number; d: string; fill?: string }[] }) =>
	shapes.map(({ hue, d, fill }, i) => (
		// biome-ignore lint/suspicious/noArrayIndexKey: shapes of one drawing, which never change places
		<g key={i}>
			{fill && <path d={fill} fill={`light-dark(hsl(${hue} 34% 74%), hsl(${hue} 24% 34%))`} />}
			<path d={d} fill="none" stroke="var(--ink)" strokeOpacity={fill ? 0.45 : 0.3} strokeWidth="0.8" />
		</g>
	));
