/** The cameras of a scene on the stage: a small body with the opening it sees through, to be taken in hand. */
import type { View, World, WorldCamera } from '@frelk/core';
import { turned } from '@frelk/core/geometry';
import { type P2, type P3, pathOf, toPixels } from '../../../drawing/view';
import { useBench, useBenchStore } from '../../../model/use-bench';
import { lookedAt } from '../handles/camera-handles';
import { plus } from '../handles/handles';

/** Of more than these only the one in hand and the eye's are drawn. */
const MOST = 40;
/** How far the drawn opening reaches, metres. */
const REACH = 0.45;

/** The opening as lines: four edges and the frame they end in; in flat scenes the picture's frame. */
function outline({ def, rotation, position }: WorldCamera, flat: boolean): P3[][] {
	const half =
		def.projection === 'perspective' ? REACH * Math.tan((def.fov * Math.PI) / 360) : Math.min(REACH, def.height / 2);
	const wide = 1.6 * half;
	if (flat) {
		const [h, w] = def.projection === 'orthographic' ? [def.height / 2, (def.height / 2) * 1.6] : [half, wide];
		const [x, y] = position;
		return [
			[
				[x - w, y - h, 0],
				[x + w, y - h, 0],
				[x + w, y + h, 0],
				[x - w, y + h, 0],
				[x - w, y - h, 0],
			],
		];
	}
	const back = def.projection === 'perspective' ? 0 : 1;
	const corner = (x: number, y: number): P3 => plus(position, turned(rotation, x * wide, y * half, -REACH));
	const root = (x: number, y: number): P3 => plus(position, turned(rotation, back * x * wide, back * y * half, 0));
	const frame = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)];
	const up: P3[] = [corner(-0.4, 1.15), corner(0, 1.6), corner(0.4, 1.15)];
	return [
		[...frame, frame[0] as P3],
		up,
		...(
			[
				[-1, -1],
				[1, -1],
				[1, 1],
				[-1, 1],
			] as const
		).map(([x, y]) => [root(x, y), corner(x, y)]),
	];
}

export function Cameras({
	world,
	view,
	blocked,
	clip,
}: {
	world: World;
	view: View;
	blocked: (p: P2) => boolean;
	/** CSS path of what may be drawn on. */
	clip: string | undefined;
}) {
	const store = useBenchStore();
	const held = useBench((s) => s.camera);
	const tool = useBench((s) => s.tool);
	const all = [...world.cameras.values()];
	const shown = all.length > MOST ? all.filter((c) => c.id === held) : all;
	return (
		// biome-ignore lint/a11y/useSemanticElements: a fieldset cannot hold a drawing
		<svg
			role="group"
			aria-label="Cameras"
			className="pointer-events-none absolute inset-0 size-full"
			style={clip ? { clipPath: clip } : undefined}
		>
			{shown.map((camera) => {
				const at = toPixels(view, world.flat ? [camera.position[0], camera.position[1], 0] : camera.position);
				if (!at || blocked(at) || at[0] < 0 || at[1] < 0 || at[0] > view.width || at[1] > view.height) return null;
				const name = camera.def.name ?? camera.id;
				const isHeld = held === camera.id;
				const lines = outline(camera, world.flat)
					.map((line) => pathOf(view, line))
					.join('');
				const target = isHeld && !world.flat ? pathOf(view, [camera.position, lookedAt(world, camera)]) : '';
				return (
					<g key={camera.id}>
						<path d={lines} fill="none" stroke="var(--panel)" strokeWidth={isHeld ? 4 : 3} opacity="0.8" />
						<path
							d={lines}
							fill="none"
							stroke="var(--ink)"
							strokeWidth={isHeld ? 1.75 : 1}
							opacity={isHeld ? 1 : 0.7}
						/>
						{target && <path d={target} stroke="var(--ink)" strokeDasharray="1 4" fill="none" />}
						{/* biome-ignore lint/a11y/useSemanticElements: a button cannot stand in a drawing */}
						<g
							role="button"
							tabIndex={isHeld ? -1 : 0}
							aria-label={`Camera: ${name}`}
							aria-pressed={isHeld}
							className={isHeld || tool ? '' : 'pointer-events-auto cursor-pointer'}
							transform={`translate(${at[0].toFixed(1)} ${at[1].toFixed(1)})`}
							onPointerDown={(event) => event.stopPropagation()}
							onClick={() => store.getState().takeCamera(camera.id)}
							onKeyDown={(event) => {
								if (event.key !== 'Enter' && event.key !== ' ') return;
								event.preventDefault();
								event.stopPropagation();
								store.getState().takeCamera(camera.id);
							}}
						>
							<circle r="9" fill="transparent" />
							<circle r="3" fill="var(--ink)" stroke="var(--panel)" strokeWidth="1" />
							<title>{name}</title>
						</g>
					</g>
				);
			})}
		</svg>
	);
}
