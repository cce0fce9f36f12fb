/**
 * The scene's real shapes on a WebGL canvas: filled when solid, open and dashed when sensor, tinted by layer. Only drawing: what
 * is under the pointer, and every answer, comes from the core.
 */
import type { View, World, WorldShape } from '@frelk/core';
import * as THREE from 'three';
import type { Laid } from '../../../drawing/laid';
import { pictureKey } from '../../../drawing/view';
import { Batch, type Palette } from './batch';
import type { Emphasis } from './emphasis';
import type { Form } from './forms';
import { drawnBySoftware } from './software';

/** A picture on the canvas. */
export interface Part {
	view: View;
	/** Its rectangle, CSS pixels from the top left. */
	rect: { x: number; y: number; w: number; h: number };
	withStageOnly: boolean;
}

/** Depth of what lies behind all of a flat scene. */
const BEHIND = -400;

export class Scene3D {
	private readonly renderer: THREE.WebGLRenderer;
	private readonly scene = new THREE.Scene();
	private readonly forms = new WeakMap<object, Map<string, Form>>();
	private readonly others = new Batch(this.forms);
	/** The asker and what hangs on it: who looks through an eye does not see the inside of his own head. */
	private readonly stageOnly = new Batch(this.forms);
	/** The shapes of the last world that are drawn; kept while they are the same. */
	private drawn: { of: readonly WorldShape[]; hidden: string; shapes: WorldShape[] } | null = null;
	/** Those among them that hang on the asker. */
	private led: { of: object; who: string; shapes: WorldShape[] } | null = null;
	/** What the last drawing stood on: while it is the same, nothing has moved. */
	private stood: { turn: number; led: object; depthOf: object } | null = null;
	/** What the canvas shows; null when the scene has changed since. */
	private shown: string | null = null;
	/** What was last drawn, to be drawn again when the graphics card has lost it. */
	private last: { parts: readonly Part[]; height: number } | null = null;
	/** The camera of each picture, kept while it looks the same way. */
	private cameras: { key: string; camera: THREE.Camera }[] = [];
	private colours: Palette | null = null;
	private readonly ground: THREE.LineSegments;
	private laid: { of: Laid; flat: boolean; mesh: THREE.Mesh<THREE.BufferGeometry, THREE.MeshBasicMaterial> } | null =
		null;

	constructor(private readonly canvas: HTMLCanvasElement) {
		// Smooth edges double what a drawing costs where the processor makes it: there the hand goes first.
		const slow = drawnBySoftware();
		this.renderer = new THREE.WebGLRenderer({ canvas, antialias: !slow, alpha: false });
		this.renderer.setPixelRatio(Math.min(slow ? 1 : 2, window.devicePixelRatio));
		canvas.addEventListener('webglcontextrestored', this.restore);
		this.ground = new THREE.LineSegments(crosses(), new THREE.LineBasicMaterial({ transparent: true }));
		this.scene.add(this.others.group, this.stageOnly.group, this.ground);
		// Nothing in it is ever moved but by its numbers.
		this.ground.position.y = 0.004;
		this.scene.updateMatrixWorld(true);
		this.scene.matrixWorldAutoUpdate = false;
	}

	private readonly restore = (): void => {
		if (!this.last || !this.colours) return;
		this.renderer.setClearColor(this.colours.ground);
		this.shown = null;
		this.draw(this.last.parts, this.last.height);
	};

	resize(width: number, height: number): void {
		this.renderer.setSize(width, height, false);
		this.shown = null;
	}

	/**
	 * Brings the drawing in line with a world.
	 * @param emphases how strongly each object is drawn, by its place
	 * @param tints colours that say what an object is: of its layer, tag or side; by its place
	 * @param hidden objects not drawn
	 * @param stageOnly objects drawn on the stage but not in the eye
	 * @param depthOf where a depth of a flat scene is drawn: piles can be pulled apart
	 * @param turn another number whenever an object of the world has moved
	 */
	update(
		world: World,
		palette: Palette,
		emphases: readonly Emphasis[],
		tints: readonly string[],
		hidden: ReadonlySet<string>,
		stageOnly: ReadonlySet<string>,
		depthOf: (z: number) => number,
		turn: number,
	): void {
		if (this.colours !== palette || this.ground.visible === world.flat) {
			this.colours = palette;
			this.renderer.setClearColor(palette.ground);
			(this.ground.material as THREE.LineBasicMaterial).color.set(palette.line);
			this.ground.visible = !world.flat;
			this.shown = null;
		}
		const depth = (shape: WorldShape) => depthOf(shape.object.position[2]);
		const without = [...hidden].join();
		if (this.drawn?.of !== world.shapes || this.drawn.hidden !== without) {
			const shapes = world.shapes.filter((s) => !hidden.has(s.object.id));
			this.drawn = { of: world.shapes, hidden: without, shapes };
			this.shown = null;
		}
		const { drawn } = this;
		const who = [...stageOnly].join();
		if (this.led?.of !== drawn || this.led.who !== who) {
			this.led = { of: drawn, who, shapes: drawn.shapes.filter((s) => stageOnly.has(s.object.id)) };
			this.shown = null;
		}
		const { led } = this;
		const still = this.stood?.turn === turn && this.stood.led === led && this.stood.depthOf === depthOf;
		this.stood = { turn, led, depthOf };
		const others = this.others.update(drawn.shapes, world.flat, palette, emphases, tints, depth, still, stageOnly);
		const lookersToo = this.stageOnly.update(led.shapes, world.flat, palette, emphases, tints, depth, still);
		if (!still || others || lookersToo) this.shown = null;
	}

	/**
	 * Draws the scene through each view into its rectangle of the canvas. Where nothing differs from what the canvas shows, as
	 * when only a cursor has moved, it is left as it is.
	 * @param height of the canvas, CSS pixels
	 */
	draw(parts: readonly Part[], height: number): void {
		const keys = parts.map(({ view, rect }) => `${rect.w / rect.h} ${pictureKey(view)}`);
		const shown = `${height} ${parts.map(({ rect, withStageOnly }, i) => `${rect.x} ${rect.y} ${withStageOnly} ${keys[i]}`).join()}`;
		if (this.shown === shown) return;
		this.shown = shown;
		this.last = { parts, height };
		this.renderer.setScissorTest(false);
		this.renderer.clear();
		this.renderer.setScissorTest(true);
		for (const [i, { view, rect, withStageOnly }] of parts.entries()) {
			const key = keys[i] as string;
			if (this.cameras[i]?.key !== key) this.cameras[i] = { key, camera: cameraOf(view, rect.w / rect.h) };
			this.stageOnly.group.visible = withStageOnly;
			const bottom = height - rect.y - rect.h;
			this.renderer.setViewport(rect.x, bottom, rect.w, rect.h);
			this.renderer.setScissor(rect.x, bottom, rect.w, rect.h);
			this.renderer.render(this.scene, (this.cameras[i] as { camera: THREE.Camera }).camera);
		}
	}

	/** Lays a picture on the ground; null takes it away. */
	lay(laid: Laid | null, flat: boolean): void {
		if (this.laid?.of === laid && this.laid?.flat === flat) return;
		if (this.laid) {
			this.scene.remove(this.laid.mesh);
			this.laid.mesh.geometry.dispose();
			this.laid.mesh.material.map?.dispose();
			this.laid.mesh.material.dispose();
		}
		this.laid = null;
		this.shown = null;
		if (!laid) return;
		const texture = new THREE.DataTexture(laid.pixels, laid.width, laid.height);
		texture.colorSpace = THREE.SRGBColorSpace;
		texture.magFilter = THREE.LinearFilter;
		texture.minFilter = THREE.LinearMipmapLinearFilter;
		texture.generateMipmaps = true;
		texture.anisotropy = 4;
		texture.needsUpdate = true;
		const [u0, v0] = laid.from;
		const [u1, v1] = laid.to;
		const corner = (u: number, v: number) => (flat ? [u, v, BEHIND] : [u, laid.at, v]);
		const geometry = new THREE.BufferGeometry()
			.setAttribute(
				'position',
				new THREE.Float32BufferAttribute([corner(u0, v0), corner(u1, v0), corner(u1, v1), corner(u0, v1)].flat(), 3),
			)
			.setAttribute('uv', new THREE.Float32BufferAttribute([0, 0, 1, 0, 1, 1, 0, 1], 2))
			.setIndex([0, 1, 2, 0, 2, 3]);
		const mesh = new THREE.Mesh(
			geometry,
			new THREE.MeshBasicMaterial({ map: texture, transparent: true, depthWrite: false, side: THREE.DoubleSide }),
		);
		mesh.frustumCulled = false;
		this.scene.add(mesh);
		this.laid = { of: laid, flat, mesh };
	}

	dispose(): void {
		this.lay(null, false);
		this.canvas.removeEventListener('webglcontextrestored', this.restore);
		this.others.dispose();
		this.stageOnly.dispose();
		this.ground.geometry.dispose();
		this.renderer.dispose();
	}
}

function cameraOf(
	{ camera: { position: p, rotation: m, far }, half, perspective }: View,
	aspect: number,
): THREE.Camera {
	// Depths are told apart by so many steps: what may lie far away is not looked at from as near.
	const deep = Math.max(1000, Math.min(far, 1e9));
	const camera = perspective
		? new THREE.PerspectiveCamera((2 * Math.atan(half) * 180) / Math.PI, aspect, deep / 80_000, deep)
		: new THREE.OrthographicCamera(-half * aspect, half * aspect, half, -half, -deep / 2, deep);
	camera.matrixAutoUpdate = false;
	camera.matrix.set(m[0], m[1], m[2], p[0], m[3], m[4], m[5], p[1], m[6], m[7], m[8], p[2], 0, 0, 0, 1);
	camera.updateMatrixWorld(true);
	camera.matrixWorldAutoUpdate = false;
	return camera;
}

/** Small crosses a metre apart: a scale to read distances by, without the weight of a grid. */
function crosses(): THREE.BufferGeometry {
	const points: number[] = [];
	const arm = 0.07;
	for (let x = -16; x <= 16; x++)
		for (let z = -16; z <= 16; z++) points.push(x - arm, 0, z, x + arm, 0, z, x, 0, z - arm, x, 0, z + arm);
	return new THREE.BufferGeometry().setAttribute('position', new THREE.Float32BufferAttribute(points, 3));
}
