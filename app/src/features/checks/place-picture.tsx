/** A small picture of the place a finding is about: what it names drawn in full, what stands around it faintly, as seen from above. */
import type { World, WorldObject } from '@frelk/core';
import { useMemo } from 'react';
import { worldLines } from '../../drawing/outline';

const WIDTH = 168;
const HEIGHT = 96;
/** Least width of what is shown, metres; in a flat scene in parts of what is named. */
const LEAST = 5;

/** Middle and half sides of the rectangle around some objects on the plan. */
function frameOf(objects: readonly WorldObject[], flat: boolean) {
	let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
	for (const { shapes, position } of objects) {
		const balls = shapes.map(({ body }) => ({ x: body.x, y: flat ? body.y : body.z, r: body.boundingRadius }));
		for (const { x, y, r } of balls.length > 0 ? balls : [{ x: position[0], y: position[flat ? 1 : 2] ?? 0, r: 0.2 }]) {
			x0 = Math.min(x0, x - r);
			y0 = Math.min(y0, y - r);
			x1 = Math.max(x1, x + r);
			y1 = Math.max(y1, y + r);
		}
	}
	const least = flat ? 2 * Math.max(x1 - x0, y1 - y0) : LEAST;
	const wide = Math.max(least, 1.3 * (x1 - x0), 1.3 * (y1 - y0) * (WIDTH / HEIGHT));
	return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, wide, high: (wide * HEIGHT) / WIDTH };
}

/** @param lit the object that is pointed at */
export function PlacePicture({
	world,
	objects,
	lit,
}: {
	world: World;
	objects: readonly string[];
	lit: string | null;
}) {
	const drawn = useMemo(() => {
		const { flat } = world;
		const named = objects.flatMap((id) => world.objectById.get(id) ?? []);
		if (named.length === 0) return null;
		const frame = frameOf(named, flat);
		const scale = WIDTH / frame.wide;
		const up = flat ? -1 : 1;
		const pathOf = (object: WorldObject) =>
			object.shapes
				.flatMap(({ body }) => worldLines(body, flat))
				.map((line) =>
					line
						.map(
							(p, i) =>
								`${i === 0 ? 'M' : 'L'}${(WIDTH / 2 + (p[0] - frame.x) * scale).toFixed(1)} ${(HEIGHT / 2 + up * ((p[flat ? 1 : 2] as number) - frame.y) * scale).toFixed(1)}`,
						)
						.join(''),
				)
				.join('');
		const near = (o: WorldObject) =>
			o.shapes.some(
				({ body: b }) =>
					b.boundingRadius < 2 * frame.wide &&
					Math.abs(b.x - frame.x) < frame.wide / 2 + b.boundingRadius &&
					Math.abs((flat ? b.y : b.z) - frame.y) < frame.high / 2 + b.boundingRadius,
			);
		return {
			around: world.objects
				.filter((o) => o.active && !named.includes(o) && near(o))
				.slice(0, 120)
				.map(pathOf)
				.join(''),
			named: named.map((o) => ({ id: o.id, path: pathOf(o) })),
		};
	}, [world, objects]);
	if (!drawn) return null;
	return (
		<svg
			aria-hidden="true"
			width={WIDTH}
			height={HEIGHT}
			viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
			className="shrink-0 overflow-hidden border bg-ground"
			fill="none"
		>
			<path d={drawn.around} stroke="var(--line)" />
			{drawn.named.map(({ id, path }) => (
				<path
					key={id}
					d={path}
					stroke={lit === id ? 'var(--chosen)' : 'var(--ink)'}
					strokeWidth={lit === id ? 3 : 1.6}
				/>
			))}
		</svg>
	);
}
