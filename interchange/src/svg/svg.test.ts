/** SVG in and out: each figure by hand, what bends and shears, files that are none, and round trips. */
import { buildWorld, checkProject, type Project } from '@frelk/core';
import { nearestOn } from '@frelk/core/geometry';
import { example } from '@frelk/core/tests/examples';
import { randomProject } from '@frelk/core/tests/project';
import { runs } from '@frelk/core/tests/runs';
import fc from 'fast-check';
import { XMLValidator } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { levelInto } from '../into';
import { readSvg } from './read';
import { writeSvg } from './write';

const svg = (inner: string, more = 'viewBox="0 0 100 50"') =>
	readSvg(`<svg xmlns="http://www.w3.org/2000/svg" ${more}>${inner}</svg>`, 'd.svg');
const only = (inner: string) => {
	const level = svg(inner);
	expect(level.nodes).toHaveLength(1);
	const [{ position, rotation, colliders }] = level.nodes;
	return { position, turn: rotation[2], shape: colliders[0], notes: level.notes.map((n) => n.message) };
};
const left = (inner: string) => {
	const { nodes, notes } = svg(inner);
	expect(nodes).toEqual([]);
	return notes.map((n) => `${n.path}: ${n.message}`);
};

describe('figures', () => {
	it('stand with Y up, their middle the place', () => {
		expect(only('<rect x="10" y="20" width="30" height="8"/>')).toEqual({
			position: [25, -24, 0],
			turn: 0,
			shape: { id: 'rect', kind: 'rect', size: [30, 8] },
			notes: [],
		});
		expect(only('<circle cx="3" cy="4" r="2"/>')).toMatchObject({
			position: [3, -4, 0],
			shape: { kind: 'circle', radius: 2 },
		});
		expect(only('<polygon points="0,0 4,0 4,2"/>')).toMatchObject({
			position: [2, -1, 0],
			shape: {
				kind: 'polygon',
				points: [
					[-2, 1],
					[2, 1],
					[2, -1],
				],
			},
		});
		expect(only('<path d="M0 0h4v2H0z"/>')).toMatchObject({
			position: [2, -1, 0],
			shape: {
				points: [
					[-2, 1],
					[2, 1],
					[2, -1],
					[-2, -1],
				],
			},
		});
		expect(only('<rect x="1cm" y="0" width="10mm" height="1in"/>').shape).toMatchObject({ size: [37.795275591, 96] });
		expect(only('<ellipse cx="0" cy="0" rx="2" ry="2"/>').shape).toMatchObject({ kind: 'circle' });
		const ellipse = only('<ellipse cx="1" cy="1" rx="4" ry="2"/>');
		expect(ellipse).toMatchObject({ position: [1, -1, 0], notes: ['ellipse taken as 64 straight sides'] });
		expect((ellipse.shape as { points: unknown[] }).points).toHaveLength(64);
	});

	it('turn and grow with their groups', () => {
		// A quarter clockwise on the screen is one back in a scene whose Y points up.
		expect(
			only('<g transform="translate(10 0)"><rect width="4" height="2" transform="rotate(90)"/></g>'),
		).toMatchObject({ position: [9, -2, 0], turn: -90, shape: { kind: 'rect', size: [4, 2] } });
		expect(only('<g transform="scale(2 3)"><rect width="4" height="2"/></g>')).toMatchObject({
			position: [4, -3, 0],
			shape: { size: [8, 6] },
		});
		expect(only('<circle r="2" transform="scale(3)"/>').shape).toMatchObject({ kind: 'circle', radius: 6 });
		expect(only('<circle r="2" transform="scale(3 1)"/>').shape.kind).toBe('polygon');
		expect(only('<rect width="4" height="2" transform="skewX(45)"/>')).toMatchObject({
			position: [3, -1, 0],
			shape: {
				kind: 'polygon',
				points: [
					[-3, 1],
					[1, 1],
					[3, -1],
					[-1, -1],
				],
			},
		});
		expect(only('<rect width="4" height="2" transform="matrix(0 1 -1 0 5 6)"/>')).toMatchObject({
			position: [4, -8, 0],
			turn: -90,
		});
		expect(only('<rect width="4" height="2" transform="scale(-1 1)"/>')).toMatchObject({
			position: [-2, -1, 0],
			shape: { size: [4, 2] },
		});
	});

	it('bent or notched are flattened and hulled, and say so', () => {
		const arc = only('<path d="M-2 0A2 2 0 0 1 2 0z"/>');
		expect(arc.notes).toEqual(['curves taken as short straight sides']);
		const { points } = arc.shape as { points: [number, number][] };
		// Every corner lies on the circle, to the flatness.
		for (const [x, y] of points)
			expect(Math.abs(Math.hypot(x + arc.position[0], y + arc.position[1]) - 2)).toBeLessThan(0.01);
		expect(only('<polygon points="0,0 4,0 4,4 2,1 0,4"/>').notes).toEqual(['is not convex: its hull is taken']);
		expect(only('<polygon points="0,0 4,0 4,4 0,4"/>').notes).toEqual([]);
		expect(only('<path d="M0 0h1v1zM5 0h1v1z"/>').notes).toEqual([
			'2 parts taken as one; is not convex: its hull is taken',
		]);
		// A star that goes round twice turns to one side alone.
		expect(only('<polygon points="0,-10 6,8 -10,-3 10,-3 -6,8"/>').notes).toEqual(['is not convex: its hull is taken']);
	});

	it('carry id, class and layer, and lie in the order of the drawing', () => {
		const { nodes } = svg(
			'<g class="paper" data-layer="Desk Top"><rect id="Stub 1" class="stub item" width="1" height="1"/><g><circle r="1"/></g></g><rect id="last" width="1" height="1"/>',
		);
		expect(nodes.map((n) => [n.path, n.id, n.tags, n.layer, n.position[2]])).toEqual([
			['g/Stub 1', 'stub-1', ['paper', 'stub', 'item'], 'desk-top', 0],
			['g/g/circle', null, ['paper'], 'desk-top', 1],
			['last', 'last', [], null, 2],
		]);
	});

	it('that cannot be hit are left out with a word', () => {
		expect(left('<rect width="0" height="2"/>')).toEqual(['rect: has no area: left out']);
		expect(left('<polyline points="0,0 1,1 2,2"/>')).toEqual(['polyline: has no area: left out']);
		expect(left('<text>Hello</text><use href="#a"/>')).toEqual([
			'text: <text> is no figure that is read: left out',
			'use: <use> is no figure that is read: left out',
		]);
		expect(left('<g style="display: none"><rect width="1" height="1"/></g>')).toEqual(['g: is not shown: left out']);
		expect(left('<defs><rect width="1" height="1"/></defs>')).toEqual([]);
		expect(left('<rect width="50%" height="1"/>')[0]).toContain('width: "50%" is no length');
		expect(left('<polygon points="0,0 1"/>')).toEqual(['polygon: points: an odd number of figures: left out']);
		expect(left('<path d="M0 0 Lx"/>')[0]).toContain('left out');
		expect(left('<rect x="1e9" width="1" height="1"/>')).toEqual([
			'rect: is too small, too large or too far out: left out',
		]);
	});
});

describe('files', () => {
	it('that are none say the line', () => {
		expect(() => readSvg('<svg>\n<g></svg>', 'd.svg')).toThrow(/^d\.svg:2: column \d+: /);
		expect(() => readSvg('<html/>', 'd.svg')).toThrow('d.svg: is no SVG');
		expect(() => svg('<g>'.repeat(300) + '</g>'.repeat(300))).toThrow(/more than 256 deep|nested tags/);
		// A text that grows without end when it is written out.
		const bomb = `<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 9 }, (_, i) => `<!ENTITY b${i} "${`&${i === 0 ? 'a' : `b${i - 1}`};`.repeat(10)}">`).join('')}]><svg><rect id="&b8;" width="1" height="1"/></svg>`;
		let names: string[] = [];
		try {
			names = readSvg(bomb, 'd.svg').nodes.map((n) => n.name);
		} catch {
			// Refused is as good.
		}
		for (const name of names) expect(name.length).toBeLessThan(1000);
	});

	it('give a new project a camera that shows all of it', () => {
		const { project } = levelInto(svg('<rect width="4" height="2"/>', 'viewBox="-10 -20 100 50"'), {}, null, 'd.svg');
		expect(project.scene.cameras).toEqual([
			{ id: 'above', name: 'Above', position: [40, -5, 1], projection: 'orthographic', height: 50, far: 2 },
		]);
		expect(checkProject(project)).toMatchObject({ ok: true });
	});
});

describe('a scene drawn and read again', () => {
	const out = new Float64Array(8);
	const gapsOf = (p: Project, places: readonly (readonly [number, number])[]) => {
		const shapes = buildWorld(p)
			.objects.filter((o) => o.active)
			.flatMap((o) => o.shapes);
		return places.map(([x, y]) => Math.min(1e9, ...shapes.map((s) => nearestOn(s.body, x, y, 0, out))));
	};
	it('has the same places, ids, layers and tags', () => {
		const desk = example('pursers-desk');
		const text = writeSvg(desk);
		expect(XMLValidator.validate(text)).toBe(true);
		const { project } = levelInto(readSvg(text, 'desk.svg'), {}, null, 'desk.svg');
		const facts = (p: Project) =>
			buildWorld(p)
				.objects.map(({ def, position }) => [
					def.id,
					def.name,
					def.layer,
					def.tags ?? [],
					Number(position[2].toFixed(6)),
				])
				.sort();
		expect(facts(project)).toEqual(facts(desk));
		const places = [
			[0, 0],
			[0.2, -0.1],
			[-0.3, 0.1],
		] as const;
		gapsOf(project, places).forEach((gap, i) => {
			expect(gap).toBeCloseTo(gapsOf(desk, places)[i], 3);
		});
		expect(() => writeSvg(example('harl-quay'))).toThrow('is a scene in space');
	});

	it('is where it was, whatever the scene', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
				const p = randomProject(seed, { objects: 7 });
				if (p.scene.kind !== 'flat') return;
				const read = levelInto(readSvg(writeSvg(p), 'r.svg'), {}, null, 'r.svg');
				expect(checkProject(read.project)).toMatchObject({ ok: true });
				const seen = buildWorld(p).objects.filter((o) => o.active && o.shapes.length > 0);
				expect(new Set(read.project.scene.objects.map((o) => o.id))).toEqual(new Set(seen.map((o) => o.id)));
				const places = [
					[0, 0],
					[3, -2],
					[-7, 5],
				] as const;
				const [a, b] = [gapsOf(p, places), gapsOf(read.project, places)];
				a.forEach((gap, i) => {
					expect(Math.abs(gap - b[i])).toBeLessThan(0.02 + 1e-5 * gap);
				});
			}),
			{ numRuns: runs(80) },
		);
	});
});
