/** The picture of a project, on home. */
import type { Picture as Drawn } from '../../data/db';
import { DrawnShapes } from '../../ui/drawn-shapes';
import { PICTURE } from '../../workers/picture-size';

/** The scene as a line drawing, made by a worker and kept with the project. */
export function Picture({ picture }: { picture: Drawn | undefined }) {
	return (
		<svg
			viewBox={`0 0 ${PICTURE.width} ${PICTURE.height}`}
			className="block w-full border-b bg-ground"
			aria-hidden="true"
		>
			<DrawnShapes shapes={picture?.lines ?? []} />
		</svg>
	);
}
