/**
 * The scene's real shapes on a WebGL canvas: filled when solid, open and dashed when sensor, tinted by layer. Only drawing: what
 * is under the pointer, and every answer, comes from the core.
 */
import type { View, World, WorldShape } from '@frelk/core';
import { BOX, CAPSULE, CYLINDER, HULL, MESH, SPHERE } from '@frelk/core/geometry/body';
import type { Mesh as CoreMesh } from '@frelk/core/space/mesh';
import * as THREE from 'three';
import { layerColour } from './hues';
import { foldedEdges, localLines } from './outline';
import type { P3 } from './view';

export type Emphasis = 'chosen' | 'tie' | 'cut' | 'outranked' | 'short' | 'plain' | 'faint';

export interface Palette {
	ground: string;
	ink: string;
	line: string;
	tones: Record<'chosen' | 'tie' | 'cut' | 'outranked' | 'short', string>;
	dark: boolean;
}

interface Drawn {
	object: string;
	key: string;
	def: unknown;
	fill: THREE.Mesh | null;
	lines: THREE.LineSegments;
}

export class Scene3D {
	private readonly renderer: THREE.WebGLRenderer;
	private readonly scene = new THREE.Scene();
	private readonly drawn = new Map<string, Drawn>();
	private readonly ground: THREE.LineSegments;
	private readonly perspective = new THREE.PerspectiveCamera();
	private readonly orthographic = new THREE.OrthographicCamera();
	private readonly sun = new THREE.DirectionalLight(0xffffff, 1.3);

	constructor(canvas: HTMLCanvasElement) {
		this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: false });
		this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
		this.sun.position.set(0.4, 1, 0.7);
		this.scene.add(new THREE.HemisphereLight(0xffffff, 0x90a0a8, 1.9), this.sun);
		this.ground = new THREE.LineSegments(crosses(), new THREE.LineBasicMaterial({ transparent: true }));
		this.scene.add(this.ground);
		for (const camera of [this.perspective, this.orthographic]) camera.matrixAutoUpdate = false;
	}

	resize(width: number, height: number): void {
		this.renderer.setSize(width, height, false);
	}

	/** Brings the drawing in line with a world. `emphasis` is asked per object. */
	update(world: World, palette: Palette, emphasis: (object: string) => Emphasis): void {
		this.scene.background = new THREE.Color(palette.ground);
		(this.ground.material as THREE.LineBasicMaterial).color.set(palette.line);
		this.ground.visible = !world.flat;
		this.ground.position.y = 0.004;
		const seen = new Set<string>();
		for (const shape of world.shapes) {
			const key = `${shape.object.id}/${shape.id}`;
			seen.add(key);
			let entry = this.drawn.get(key);
			const size = `${shape.object.scale.join()}/${shape.sensor}`;
			if (!entry || entry.def !== shape.def || entry.key !== size) {
				if (entry) this.drop(entry);
				entry = build(shape, size, world.flat);
				if (entry.fill) this.scene.add(entry.fill);
				this.scene.add(entry.lines);
				this.drawn.set(key, entry);
			}
			place(entry, shape, world.flat);
			entry.object = shape.object.id;
			paint(entry, shape, palette, emphasis(shape.object.id));
		}
		for (const [key, entry] of this.drawn)
			if (!seen.has(key)) {
				this.drop(entry);
				this.drawn.delete(key);
			}
	}

	private drop(entry: Drawn): void {
		for (const part of [entry.fill, entry.lines]) {
			if (!part) continue;
			this.scene.remove(part);
			part.geometry.dispose();
			(part.material as THREE.Material).dispose();
		}
	}

	/**
	 * Draws the scene through a view into a rectangle of the canvas, in CSS pixels from the top left.
	 * @param hidden objects left out: who looks through an eye does not see the inside of his own head
	 */
	render(view: View, rect: { x: number; y: number; w: number; h: number }, canvasHeight: number, hidden: ReadonlySet<string>): void {
		for (const entry of this.drawn.values()) {
			const visible = !hidden.has(entry.object);
			if (entry.fill) entry.fill.visible = visible;
			entry.lines.visible = visible;
		}
		const camera = this.cameraFor(view, rect.w / rect.h);
		const bottom = canvasHeight - rect.y - rect.h;
		this.renderer.setViewport(rect.x, bottom, rect.w, rect.h);
		this.renderer.setScissor(rect.x, bottom, rect.w, rect.h);
		this.renderer.setScissorTest(true);
		this.renderer.render(this.scene, camera);
	}

	private cameraFor(view: View, aspect: number): THREE.Camera {
		const { position: p, rotation: m } = view.camera;
		const camera = view.perspective ? this.perspective : this.orthographic;
		if (camera instanceof THREE.PerspectiveCamera) {
			camera.fov = (2 * Math.atan(view.half) * 180) / Math.PI;
			camera.aspect = aspect;
			camera.near = 0.05;
			camera.far = 4000;
		} else {
			camera.left = -view.half * aspect;
			camera.right = view.half * aspect;
			camera.top = view.half;
			camera.bottom = -view.half;
			camera.near = -2000;
			camera.far = 4000;
		}
		camera.updateProjectionMatrix();
		camera.matrix.set(m[0], m[1], m[2], p[0], m[3], m[4], m[5], p[1], m[6], m[7], m[8], p[2], 0, 0, 0, 1);
		camera.matrixWorldNeedsUpdate = true;
		return camera;
	}

	dispose(): void {
		for (const entry of this.drawn.values()) this.drop(entry);
		this.ground.geometry.dispose();
		this.renderer.dispose();
	}
}

/** Small crosses a metre apart: a scale to read distances by, without the weight of a grid. */
function crosses(): THREE.BufferGeometry {
	const points: number[] = [];
	const arm = 0.07;
	for (let x = -16; x <= 16; x++) for (let z = -16; z <= 16; z++) points.push(x - arm, 0, z, x + arm, 0, z, x, 0, z - arm, x, 0, z + arm);
	return new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(points, 3));
}

function place(entry: Drawn, shape: WorldShape, flat: boolean): void {
	const { x, y, z, m } = shape.body;
	const depth = flat ? shape.object.position[2] : z;
	for (const part of [entry.fill, entry.lines]) {
		if (!part) continue;
		part.matrixAutoUpdate = false;
		part.matrix.set(m[0], m[1], m[2], x, m[3], m[4], m[5], y, m[6], m[7], m[8], depth, 0, 0, 0, 1);
		part.matrixWorldNeedsUpdate = true;
	}
}

function paint(entry: Drawn, shape: WorldShape, palette: Palette, emphasis: Emphasis): void {
	const strong = emphasis !== 'plain' && emphasis !== 'faint';
	if (entry.fill) {
		const material = entry.fill.material as THREE.MeshLambertMaterial;
		material.color.set(layerColour(shape.layer, palette.dark));
		if (strong) material.color.lerp(new THREE.Color(palette.tones[emphasis]), emphasis === 'chosen' ? 0.85 : 0.6);
		if (emphasis === 'faint') material.color.lerp(new THREE.Color(palette.ground), 0.62);
	}
	const line = entry.lines.material as THREE.LineBasicMaterial;
	line.color.set(strong ? palette.tones[emphasis] : palette.ink);
	if (strong && entry.fill) line.color.set(palette.ink);
	line.opacity = emphasis === 'faint' ? 0.22 : strong ? 0.95 : 0.55;
}

function build(shape: WorldShape, key: string, flat: boolean): Drawn {
	const { body, sensor } = shape;
	const geometry = sensor ? null : solid(shape, flat);
	const fill = geometry
		? new THREE.Mesh(
				geometry,
				new THREE.MeshLambertMaterial({
					side: THREE.DoubleSide,
					flatShading: body.kind === HULL || body.kind === MESH,
					polygonOffset: true,
					polygonOffsetFactor: 1,
					polygonOffsetUnits: 1,
				}),
			)
		: null;
	const material = sensor
		? new THREE.LineDashedMaterial({ transparent: true, dashSize: 0.09, gapSize: 0.06 })
		: new THREE.LineBasicMaterial({ transparent: true });
	const lines = new THREE.LineSegments(edges(shape, flat), material);
	if (sensor) lines.computeLineDistances();
	return { object: shape.object.id, key, def: shape.def, fill, lines };
}

function solid(shape: WorldShape, flat: boolean): THREE.BufferGeometry {
	const { body } = shape;
	switch (body.kind) {
		case SPHERE:
			return flat ? new THREE.CircleGeometry(body.r, 40) : new THREE.SphereGeometry(body.r, 28, 18);
		case CAPSULE:
			if (flat) return new THREE.ShapeGeometry(new THREE.Shape((localLines(body, true)[0] ?? []).map(([x, y]) => new THREE.Vector2(x, y))));
			return new THREE.CapsuleGeometry(body.r, 2 * body.hy, 10, 24);
		case CYLINDER:
			return new THREE.CylinderGeometry(body.hx, body.hx, 2 * body.hy, 32);
		case BOX:
			return body.hz === 0 ? new THREE.PlaneGeometry(2 * body.hx, 2 * body.hy) : new THREE.BoxGeometry(2 * body.hx, 2 * body.hy, 2 * body.hz);
		case HULL: {
			const hull = body.hull;
			const geometry = new THREE.BufferGeometry();
			if (!hull) return geometry;
			geometry.setAttribute('position', new THREE.Float32BufferAttribute(hull.points, 3));
			const corners = hull.points.length / 3;
			const fan = Array.from({ length: Math.max(0, corners - 2) }, (_, i) => [0, i + 1, i + 2]).flat();
			geometry.setIndex(hull.flat ? fan : [...hull.triangles]);
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

function edges(shape: WorldShape, flat: boolean): THREE.BufferGeometry {
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
				distinct.push(corners[i] as number, corners[i + 1] as number, corners[i + 2] as number);
			}
			triangles.push(at);
		}
		const corner = (i: number): P3 => [distinct[3 * i] as number, distinct[3 * i + 1] as number, distinct[3 * i + 2] as number];
		for (const [a, b] of foldedEdges(distinct, triangles)) add(corner(a), corner(b));
	} else for (const line of localLines(shape.body, flat)) for (let i = 1; i < line.length; i++) add(line[i - 1] as P3, line[i] as P3);
	return new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(points, 3));
}
