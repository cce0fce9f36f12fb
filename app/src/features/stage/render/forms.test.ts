import { buildWorld, type Shape, type WorldShape } from '@frelk/core';
import { nearestOn, nearestPoint } from '@frelk/core/geometry';
import { describe, expect, it } from 'vitest';
import { formOf } from './forms';

const SPACE: Record<string, Shape> = {
	sphere: { kind: 'sphere', id: 's', radius: 0.4 } as Shape,
	box: { kind: 'box', id: 's', size: [1, 0.5, 2] } as Shape,
	capsule: { kind: 'capsule', id: 's', radius: 0.25, height: 1.5 } as Shape,
	cylinder: { kind: 'cylinder', id: 's', radius: 0.3, height: 1 } as Shape,
	hull: {
		kind: 'hull',
		id: 's',
		points: [
			[0, 0, 0],
			[1, 0, 0],
			[0, 1, 0],
			[0, 0, 1],
		],
	} as Shape,
	mesh: {
		kind: 'mesh',
		id: 's',
		vertices: [0, 0, 0, 2, 0, 0, 0, 0, 2, 2, 1, 2],
		triangles: [0, 2, 1, 1, 2, 3],
	} as Shape,
};
const FLAT: Record<string, Shape> = {
	circle: { kind: 'circle', id: 's', radius: 0.4 } as Shape,
	rect: { kind: 'rect', id: 's', size: [1, 0.5] } as Shape,
};

function shapeOf(def: Shape, flat: boolean): WorldShape {
	const world = buildWorld({
		format: 'frelk/1',
		id: 'p',
		name: 'P',
		scene: {
			kind: flat ? 'flat' : 'space',
			layers: [{ id: 'a', name: 'A' }],
			tags: [],
			objects: [{ id: 'o', layer: 'a', shapes: [def] }],
			cameras: [],
		},
		queries: [],
	});
	return world.shapes[0] as WorldShape;
}

const triples = (list: Float32Array): number[][] =>
	Array.from({ length: list.length / 3 }, (_, i) => [...list.subarray(3 * i, 3 * i + 3)]);
const spot = new Float64Array(3);
/** How far a corner lies off the body; the object stands at the origin, so that the shape's axes are the scene's. */
const off = (shape: WorldShape, [x, y, z]: number[]) =>
	(shape.body.mesh ? nearestOn : nearestPoint)(shape.body, x, y, z, spot);

describe.each([
	...Object.entries(SPACE).map(([name, def]) => [name, def, false] as const),
	...Object.entries(FLAT).map(([name, def]) => [name, def, true] as const),
])('a %s', (_name, def, flat) => {
	const shape = shapeOf(def, flat);

	it('is drawn where it is: faces and lines lie on the body and reach as far as it does', () => {
		const { fill, lines } = formOf(shape, flat, false);
		if (!fill) throw new Error('a solid shape has faces');
		const corners = [...triples(fill.positions), ...triples(lines)];
		for (const corner of corners) expect(off(shape, corner)).toBeLessThan(1e-5);
		// The body itself reaches no further than what is drawn of it, but for the sagitta of its round parts.
		for (let k = 0; k < (flat ? 2 : 3); k++) {
			const drawn = Math.max(...corners.map((c) => c[k]));
			let reach = 0;
			for (let t = 0; t <= 4; t += 0.001) {
				const p = [0, 0, 0];
				p[k] = t;
				if (off(shape, p) < 1e-6) reach = t;
			}
			expect(drawn).toBeGreaterThan(reach - 0.02);
		}
	});

	it('has faces whose normals are unit vectors and whose corners are all there', () => {
		const { fill } = formOf(shape, flat, false);
		if (!fill) throw new Error('a solid shape has faces');
		for (const n of triples(fill.normals)) expect(Math.hypot(...n)).toBeCloseTo(1, 4);
		expect(fill.normals.length).toBe(fill.positions.length);
		expect(fill.index.length % 3).toBe(0);
		expect(Math.max(...fill.index)).toBeLessThan(fill.positions.length / 3);
	});

	it('is open as a sensor, with lines that know how far along they are', () => {
		const sensor = shapeOf({ ...def, role: 'sensor' } as Shape, flat);
		const { fill, lines, along } = formOf(sensor, flat, false);
		expect(fill).toBeNull();
		expect(along.length).toBe(lines.length / 3);
		const ends = triples(lines);
		for (let i = 0; i < along.length; i += 2) {
			const length = Math.hypot(...(ends[i] as number[]).map((v, k) => v - ends[i + 1]?.[k]));
			expect(along[i + 1] - along[i]).toBeCloseTo(length, 4);
			// A line begins anew, or goes on where the one before it ended.
			expect([0, along[i - 1]]).toContain(along[i]);
		}
	});
});

it('round shapes have fewer faces where there are many', () => {
	for (const name of ['sphere', 'capsule', 'cylinder']) {
		const shape = shapeOf(SPACE[name] as Shape, false);
		const [few, many] = [formOf(shape, false, true), formOf(shape, false, false)];
		expect(few.fill?.index.length).toBeLessThan(many.fill?.index.length as number);
	}
});
