/** The picture of a project, on home. */
import type { Picture as Drawn } from '../../data/db';
import { PICTURE } from '../../workers/picture-size';

/** The scene as a line drawing, made by a worker and kept with the project. */
export function Picture({ picture }: { picture: Drawn | undefined }) {
	return (
		<svg
			viewBox={`0 0 ${PICTURE.width} ${PICTURE.height}`}
			className="block w-full border-b bg-ground"
			aria-hidden="true"
		>
			{picture?.lines.map(({ hue, d, fill }, i) => (
				// biome-ignore lint/suspicious/noArrayIndexKey: shapes of one drawing, which never change places
				<g key={i}>
					{fill && <path d={fill} fill={`light-dark(hsl(${hue} 34% 74%), hsl(${hue} 24% 34%))`} />}
					<path d={d} fill="none" stroke="var(--ink)" strokeOpacity={fill ? 0.45 : 0.3} strokeWidth="0.8" />
				</g>
			))}
		</svg>
	);
}
