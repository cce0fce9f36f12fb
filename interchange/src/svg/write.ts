/** SVG 1.1 out: a flat scene as a drawing, lowest first, each object with its id, tags and layer. A metre is a unit; Y points down. */

import { buildWorld, escapeMarkup, type Project, rounded, type WorldObject, type WorldShape } from '@frelk/core';
import { buildPolygon, eulerOf, rotationOf } from '@frelk/core/geometry';
import { aroundY } from '../round';

/** Fills by layer; told apart in print by their lightness too. */
const FILLS = ['#8f7a56', '#5f8a8b', '#a5647c', '#6d76a8', '#7d9153', '#b0884a', '#58708c', '#9a6f9e'];

const n = (value: number): string => String(rounded(value, 6));
const point = (x: number, y: number): string => `${n(x)},${n(-y)}`;

/** The element of a shape as it stands in the world. */
function element({ object, def, body }: WorldShape, attributes: string): string {
	const turn = eulerOf(object.rotation)[2] + (def.rotation?.[2] ?? 0);
	const turned =
		rounded(turn, 9) === 0 ? '' : ` transform="rotate(${n(-turn)} ${point(body.x, body.y).replace(',', ' ')})"`;
	const [sx, sy] = object.scale;
	switch (def.kind) {
		case 'rect': {
			const [w, h] = [def.size[0] * sx, def.size[1] * sy];
			return `<rect ${attributes} x="${n(body.x - w / 2)}" y="${n(-body.y - h / 2)}" width="${n(w)}" height="${n(h)}"${turned}/>`;
		}
		case 'circle':
			return `<circle ${attributes} cx="${n(body.x)}" cy="${n(-body.y)}" r="${n(def.radius * Math.max(sx, sy))}"/>`;
		default: {
			const radius = def.kind === 'capsule' ? def.radius * sx : 0;
			const ring =
				def.kind === 'capsule'
					? aroundY(radius, radius, Math.max(0, def.height * sy - 2 * radius), true).map(([x, y]) => [x, y] as const)
					: def.kind === 'polygon'
						? def.points.map(([x, y]) => [x * sx, y * sy] as const)
						: [];
			const hull = buildPolygon(ring);
			const points: string[] = [];
			const m = rotationOf([0, 0, turn]);
			for (let i = 0; hull && i < hull.points.length; i += 3) {
				const [x, y] = [hull.points[i], hull.points[i + 1]];
				points.push(point(body.x + m[0] * x + m[1] * y, body.y + m[3] * x + m[4] * y));
			}
			return `<polygon ${attributes} points="${points.join(' ')}"/>`;
		}
	}
}

/**
 * @param moment the scene at one, or null as laid out
 * @throws RangeError for a scene in space
 */
export function writeSvg(project: Project, moment: string | null = null): string {
	const world = buildWorld(project, moment);
	if (!world.flat) throw new RangeError(`${project.id} is a scene in space; SVG draws flat ones`);
	const objects = world.objects
		.filter((o) => o.active && o.shapes.length > 0)
		.sort((a, b) => a.position[2] - b.position[2] || a.index - b.index);
	const bounds = world.bounds();
	let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
	for (const { shapes } of objects)
		for (const { index } of shapes) {
			const at = (k: number) => bounds[6 * index + k];
			[x0, y0, x1, y1] = [Math.min(x0, at(0)), Math.min(y0, at(1)), Math.max(x1, at(3)), Math.max(y1, at(4))];
		}
	if (x0 > x1) [x0, y0, x1, y1] = [0, 0, 1, 1];
	const room = 0.05 * Math.max(x1 - x0, y1 - y0);
	const [w, h] = [x1 - x0 + 2 * room, y1 - y0 + 2 * room];
	const line = Math.max(w, h) / 600;
	const lines = [
		'<?xml version="1.0" encoding="UTF-8"?>',
		`<svg xmlns="http://www.w3.org/2000/svg" version="1.1" data-outlines="ornament" viewBox="${n(x0 - room)} ${n(-y1 - room)} ${n(w)} ${n(h)}">`,
		`  <title>${escapeMarkup(project.name)}</title>`,
	];
	for (const object of objects) lines.push(...drawn(object, world.layers, line));
	lines.push('</svg>', '');
	return lines.join('\n');
}

function drawn(object: WorldObject, layers: readonly string[], line: number): string[] {
	const { def, shapes, position } = object;
	const fill = FILLS[layers.indexOf(def.layer) % FILLS.length] ?? FILLS[0];
	const style = `fill="${fill}" fill-opacity="0.6" stroke="#26323a" stroke-width="${n(line)}"`;
	const facts = [
		`id="${def.id}"`,
		...(def.tags?.length ? [`class="${def.tags.join(' ')}"`] : []),
		`data-layer="${def.layer}"`,
		...(def.name === undefined ? [] : [`data-name="${escapeMarkup(def.name)}"`]),
		`data-depth="${n(position[2])}"`,
	].join(' ');
	const [only, ...more] = shapes;
	if (only && more.length === 0) return [`  ${element(only, `${facts} ${style}`)}`];
	return [
		`  <g ${facts} data-object="yes" ${style}>`,
		...shapes.map((s) => `    ${element(s, `id="${def.id}--${s.id}"`)}`),
		'  </g>',
	];
}
