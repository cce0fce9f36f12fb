/** The geometry of a shape as it is drawn: faces when it is solid, and the lines of its edges. */
import type { WorldShape } from '@frelk/core';
import { BOX, CAPSULE, type Mesh as CoreMesh, CYLINDER, HULL, MESH, SPHERE } from '@frelk/core/geometry';
import * as THREE from 'three';
import { foldedEdges, localLines } from '../../../drawing/outline';
import type { P3 } from '../../../drawing/view';

/** A shape's own geometry, in its own axes; built once for a definition under a scale. */
export interface Form {
	fill: { positions: Float32Array; normals: Float32Array; index: Uint32Array } | null;
	/** Pairs of ends. */
	lines: Float32Array;
	/** Where each end of a line lies along it, for dashes. */
	along: Float32Array;
}

/** @param many whether there are so many shapes that round ones are drawn with fewer faces */
export function formOf(shape: WorldShape, flat: boolean, many: boolean): Form {
	const geometry = shape.sensor ? null : solid(shape, flat, many);
	let fill: Form['fill'] = null;
	if (geometry) {
		const angular = shape.body.kind === HULL || shape.body.kind === MESH;
		const own = angular && geometry.index ? geometry.toNonIndexed() : geometry;
		if (angular) own.computeVertexNormals();
		const positions = own.getAttribute('position').array as Float32Array;
		fill = {
			positions,
			normals: own.getAttribute('normal').array as Float32Array,
			index: own.index
				? new Uint32Array(own.index.array)
				: Uint32Array.from({ length: positions.length / 3 }, (_, i) => i),
		};
	}
	const lines = edges(shape, flat);
	const along = new Float32Array(lines.length / 3);
	for (let i = 0; i < lines.length; i += 6) {
		const length = Math.hypot(lines[i + 3] - lines[i], lines[i + 4] - lines[i + 1], lines[i + 5] - lines[i + 2]);
		// Pieces of one outline follow each other: dashes run on over their joints.
		const before =
			i > 0 && lines[i] === lines[i - 3] && lines[i + 1] === lines[i - 2] && lines[i + 2] === lines[i - 1]
				? along[i / 3 - 1]
				: 0;
		along[i / 3] = before;
		along[i / 3 + 1] = before + length;
	}
	return { fill, lines, along };
}

function solid(shape: WorldShape, flat: boolean, many: boolean): THREE.BufferGeometry {
	const { body } = shape;
	switch (body.kind) {
		case SPHERE:
			return flat
				? new THREE.CircleGeometry(body.r, 40)
				: new THREE.SphereGeometry(body.r, many ? 14 : 28, many ? 9 : 18);
		case CAPSULE:
			if (flat)
				return new THREE.ShapeGeometry(
					new THREE.Shape((localLines(body, true)[0] ?? []).map(([x, y]) => new THREE.Vector2(x, y))),
				);
			return new THREE.CapsuleGeometry(body.r, 2 * body.hy, many ? 4 : 10, many ? 12 : 24);
		case CYLINDER:
			return new THREE.CylinderGeometry(body.hx, body.hx, 2 * body.hy, many ? 14 : 32);
		case BOX:
			return body.hz === 0
				? new THREE.PlaneGeometry(2 * body.hx, 2 * body.hy)
				: new THREE.BoxGeometry(2 * body.hx, 2 * body.hy, 2 * body.hz);
		case HULL: {
			const hull = body.hull;
			const geometry = new THREE.BufferGeometry();
			if (!hull) return geometry;
			geometry.setAttribute('position', new THREE.Float32BufferAttribute(hull.points, 3));
			const corners = hull.points.length / 3;
			const fan = Array.from({ length: Math.max(0, corners - 2) }, (_, i) => [0, i + 1, i + 2]).flat();
			geometry.setIndex(hull.polygon ? fan : [...hull.triangles]);
			geometry.computeVertexNormals();
			return geometry;
		}
		default: {
			const geometry = new THREE.BufferGeometry();
			geometry.setAttribute('position', new THREE.Float32BufferAttribute((body.mesh as CoreMesh).corners, 3));
			geometry.computeVertexNormals();
			return geometry;
		}
	}
}

function edges(shape: WorldShape, flat: boolean): Float32Array {
	const points: number[] = [];
	const add = (a: P3, b: P3) => points.push(...a, ...b);
	if (shape.body.kind === MESH) {
		const corners = (shape.body.mesh as CoreMesh).corners;
		const index = new Map<string, number>();
		const distinct: number[] = [];
		const triangles: number[] = [];
		for (let i = 0; i < corners.length; i += 3) {
			const key = `${corners[i]},${corners[i + 1]},${corners[i + 2]}`;
			let at = index.get(key);
			if (at === undefined) {
				at = index.size;
				index.set(key, at);
				distinct.push(corners[i], corners[i + 1], corners[i + 2]);
			}
			triangles.push(at);
		}
		const corner = (i: number): P3 => [distinct[3 * i], distinct[3 * i + 1], distinct[3 * i + 2]];
		for (const [a, b] of foldedEdges(distinct, triangles)) add(corner(a), corner(b));
	} else
		for (const line of localLines(shape.body, flat))
			for (let i = 1; i < line.length; i++) add(line[i - 1] as P3, line[i] as P3);
	return new Float32Array(points);
}
