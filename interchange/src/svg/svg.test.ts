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
/** How many shapes, their area together, and the last word said. */
const parts = (inner: string): [number, number, string | undefined] => {
	const { nodes, notes } = svg(inner);
	const shapes = nodes.flatMap((n) => n.colliders);
	let area = 0;
	for (const shape of shapes) {
		if (shape.kind === 'rect') area += shape.size[0] * shape.size[1];
		if (shape.kind !== 'polygon') continue;
		const ring = shape.points;
		ring.forEach(([x, y], i) => {
			const [nx, ny] = ring[(i + 1) % ring.length] as [number, number];
			area += (x * ny - y * nx) / 2;
		});
		const signed = ring.reduce((sum, [x, y], i) => {
			const [nx, ny] = ring[(i + 1) % ring.length] as [number, number];
			return sum + (x * ny - y * nx) / 2;
		}, 0);
		// Whichever way round it goes.
		area += Math.abs(signed) - signed;
	}
	return [shapes.length, Number(area.toFixed(6)), notes.at(-1)?.message];
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

	it('bent are flattened, notched taken in convex parts, and say so', () => {
		const arc = only('<path d="M-2 0A2 2 0 0 1 2 0z"/>');
		expect(arc.notes).toEqual(['curves taken as short straight sides']);
		const { points } = arc.shape as { points: readonly (readonly [number, number])[] };
		// Every corner lies on the circle, to the flatness.
		for (const [x, y] of points)
			expect(Math.abs(Math.hypot(x + arc.position[0], y + arc.position[1]) - 2)).toBeLessThan(0.01);
		// And no part of a curve lies farther from its sides: by a 600th of its size.
		const hill = only('<path d="M0 0C0 30 60 30 60 0z"/>');
		const sides = (hill.shape as { points: readonly (readonly [number, number])[] }).points.map(([x, y]) => [
			x + hill.position[0],
			y + hill.position[1],
		]);
		const off = (x: number, y: number) =>
			Math.min(
				...sides.map(([ax, ay], i) => {
					const [bx, by] = sides[(i + 1) % sides.length];
					const t = Math.min(
						1,
						Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)),
					);
					return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay));
				}),
			);
		for (let i = 0; i <= 500; i++) {
			const [t, u] = [i / 500, 1 - i / 500];
			const across = 60 * (3 * u * t * t + t ** 3);
			expect(off(across, 90 * (u * u * t + u * t * t) * -1)).toBeLessThan(60 / 600);
		}
		expect(parts('<polygon points="0,0 4,0 4,4 2,1 0,4"/>')).toEqual([3, 10, 'taken in 3 convex parts']);
		expect(only('<polygon points="0,0 4,0 4,4 0,4"/>').notes).toEqual([]);
		expect(parts('<path d="M0 0h1v1zM5 0h1v1z"/>')).toEqual([2, 1, 'taken in 2 convex parts']);
		// A star that goes round twice is full in its middle, or not, as the rule says.
		const star = (rule: string) => parts(`<polygon fill-rule="${rule}" points="0,-10 6,8 -10,-3 10,-3 -6,8"/>`)[1];
		expect(star('nonzero') - star('evenodd')).toBeGreaterThan(20);
		// A hole is none of it.
		const ring = 'M0 0h10v10h-10zM2 2v6h6v-6z';
		expect(parts(`<path d="${ring}"/>`)[1]).toBeCloseTo(64, 4);
		expect(parts(`<path fill-rule="evenodd" d="M0 0h10v10h-10zM2 2h6v6h-6z"/>`)[1]).toBeCloseTo(64, 4);
		expect(parts('<path d="M0 0h10v10h-10zM2 2h6v6h-6z"/>')[1]).toBeCloseTo(100, 4);
	});

	it('are as wide as their outlines are drawn, and nothing where nothing is painted', () => {
		expect(only('<rect width="4" height="2" stroke="red"/>').shape).toEqual({ id: 'rect', kind: 'rect', size: [5, 3] });
		expect(only('<circle r="2" stroke="red" stroke-width="3"/>').shape).toMatchObject({ radius: 3.5 });
		expect(parts('<rect width="10" height="10" fill="none" stroke="red" stroke-width="2"/>')[1]).toBeCloseTo(
			144 - 64,
			3,
		);
		expect(parts('<line x2="10" stroke="red" stroke-width="2"/>').slice(0, 2)).toEqual([1, 20]);
		expect(parts('<line x2="10" stroke="red" stroke-width="2" stroke-linecap="square"/>')[1]).toBeCloseTo(24, 4);
		expect(parts('<line x2="10" stroke="red" stroke-width="2" stroke-linecap="round"/>')[1]).toBeCloseTo(
			20 + Math.PI,
			1,
		);
		expect(parts('<polyline points="0,0 10,0 10,10" fill="none" stroke="red" stroke-width="2"/>')[1]).toBeCloseTo(
			40,
			4,
		);
		const [, cut] = parts(
			'<polyline points="0,0 10,0 10,10" fill="none" stroke="red" stroke-width="2" stroke-linejoin="bevel"/>',
		);
		expect(cut).toBeGreaterThan(39.49);
		expect(cut).toBeLessThan(39.9);
		// As it stands after what it was grown by.
		expect(parts('<line x2="10" stroke="red" stroke-width="2" transform="scale(1 3)"/>')[1]).toBeCloseTo(60, 4);
		expect(
			parts('<line x2="10" stroke="red" stroke-width="2" transform="scale(3)" vector-effect="non-scaling-stroke"/>')[1],
		).toBeCloseTo(60, 3);
		expect(left('<rect width="4" height="2" fill="none"/>')).toEqual(['rect: is not painted: left out']);
		expect(left('<line x2="4"/>')).toEqual(['line: has no area: left out']);
		expect(left('<rect width="4" height="2" style="fill:none;stroke:red;stroke-width:0"/>')).toHaveLength(1);
		// A drawing may say that its outlines are ornament, as ours do.
		const ornament = svg('<rect width="4" height="2" stroke="red"/>', 'data-outlines="ornament"');
		expect(ornament.nodes[0]?.colliders[0]).toMatchObject({ size: [4, 2] });
	});

	it('are painted as style sheets say, by what is more particular, and later', () => {
		const painted = (sheet: string, inner: string) => svg(`<style>${sheet}</style>${inner}`).nodes.map((n) => n.path);
		const two = '<g id="g"><rect id="a" class="x y" width="1" height="1"/><circle id="b" class="x" r="1"/></g>';
		expect(painted('', two)).toEqual(['g/a', 'g/b']);
		expect(painted('.x { fill: none }', two)).toEqual([]);
		expect(painted('.x { fill: none } rect { fill: red }', two)).toEqual([]);
		expect(painted('.x { fill: none } rect.x { fill: red }', two)).toEqual(['g/a']);
		expect(painted('#b { display: none } .x { display: inline }', two)).toEqual(['g/a']);
		expect(painted('g > .y, circle { visibility: hidden }', two)).toEqual([]);
		expect(painted('svg g .y { fill: none }', two)).toEqual(['g/b']);
		expect(painted('svg > .y { fill: none }', two)).toEqual(['g/a', 'g/b']);
		expect(painted('@media print { rect { fill: none } } @media screen { circle { fill: none } }', two)).toEqual([
			'g/a',
		]);
		expect(painted('<![CDATA[ rect { fill: none } ]]>', two)).toEqual(['g/b']);
		expect(painted('rect { fill: none }', '<rect width="1" height="1" style="fill: red"/>')).toEqual(['rect']);
		// Handed down, and said anew.
		expect(painted('', '<g fill="none"><rect width="1" height="1"/><circle r="1" fill="red"/></g>')).toEqual([
			'g/circle',
		]);
		const odd = svg('<style>rect:hover { fill: none }</style><rect width="1" height="1"/>');
		expect([odd.nodes.length, odd.notes.map((n) => n.path)]).toEqual([1, ['style']]);
	});

	it('are where they are used, through symbols and drawings in drawings', () => {
		const placed = (inner: string) =>
			svg(inner).nodes.map((n) => [n.path, n.id, n.position[0], n.position[1], n.colliders[0]?.kind]);
		const defs = '<defs><rect id="r" width="2" height="2"/></defs>';
		expect(
			placed(`${defs}<use href="#r" x="10"/><use id="second" xlink:href="#r" transform="translate(0 5)"/>`),
		).toEqual([
			['use/r', null, 11, -1, 'rect'],
			['second/r', null, 1, -6, 'rect'],
		]);
		const symbol = '<symbol id="s" viewBox="0 0 4 4"><circle cx="2" cy="2" r="1"/></symbol>';
		// What is cut to the part that is shown is so where it reaches out of it.
		expect(placed(`${symbol}<use href="#s" x="10" y="10" width="8" height="8"/>`)).toEqual([
			['use/circle', null, 14, -14, 'polygon'],
		]);
		expect(
			placed('<svg x="10" width="20" height="10" viewBox="0 0 10 10"><rect x="4" width="2" height="2"/></svg>'),
		).toEqual([['svg/rect', null, 20, -1, 'polygon']]);
		const inner = svg('<svg x="10" width="5" height="5"><rect x="-5" width="100" height="2"/></svg>');
		expect(inner.nodes[0]?.position).toEqual([12.5, -1, 0]);
		expect(left('<g id="a"><use href="#a"/></g>')).toEqual(['a/use/a/use: is used in itself: left out']);
		// Each is ten times the one before: no more is drawn than anybody could look at.
		const bomb = `<defs><g id="g0"><rect width="1" height="1"/></g>${Array.from({ length: 12 }, (_, i) => `<g id="g${i + 1}">${`<use href="#g${i}"/>`.repeat(10)}</g>`).join('')}</defs><use href="#g12"/>`;
		expect(() => svg(bomb)).toThrow(/more than \d+ (figures|elements)/);
	});

	it('of hundreds of thousands of corners are thinned out, or told of', () => {
		const round = (n: number, zigzag: number) =>
			`<polygon points="${Array.from({ length: n }, (_, i) => {
				const [turn, r] = [(2 * Math.PI * i) / n, 400 + zigzag * (i % 2)];
				return `${(r * Math.cos(turn)).toFixed(3)},${(r * Math.sin(turn)).toFixed(3)}`;
			}).join(' ')}"/>`;
		const [count, area] = parts(round(200_000, 0));
		expect(count).toBe(1);
		expect(Math.abs(area / (Math.PI * 400 * 400) - 1)).toBeLessThan(1e-3);
		expect(left(round(50_000, 30))).toEqual([
			'polygon: has a ring of 50000 corners, of which 50000 count; at most 10000 are taken: left out',
		]);
	});

	it('are cut by their clips', () => {
		const clip = (inner: string, more = '') => `<clipPath id="c" ${more}>${inner}</clipPath>`;
		const cut = (defs: string, inner = '<rect width="10" height="10" clip-path="url(#c)"/>') => parts(defs + inner)[1];
		expect(cut(clip('<rect x="5" width="10" height="10"/>'))).toBeCloseTo(50, 4);
		expect(cut(clip('<rect x="5" width="10" height="10"/><rect width="1" height="10"/>'))).toBeCloseTo(60, 4);
		expect(cut(clip('<rect x=".5" width=".5" height=".5"/>', 'clipPathUnits="objectBoundingBox"'))).toBeCloseTo(25, 4);
		expect(cut(clip('<rect width="10" height="2" transform="translate(0 9)"/>'))).toBeCloseTo(10, 4);
		const twice = `<clipPath id="d"><rect width="3" height="10"/></clipPath>${clip('<rect width="10" height="3"/>', 'clip-path="url(#d)"')}`;
		expect(cut(twice)).toBeCloseTo(9, 4);
		expect(left(`${clip('')}<rect width="10" height="10" clip-path="url(#c)"/>`)).toEqual([
			'rect: has no area: left out',
		]);
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
			'use: uses what is not in this drawing: left out',
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
