/**
 * The scene's real shapes on a WebGL canvas: filled when solid, open and dashed when sensor, tinted by layer. Only drawing: what
 * is under the pointer, and every answer, comes from the core.
 */
import type { View, World, WorldShape } from '@frelk/core';
import * as THREE from 'three';
import type { Laid } from '../../../drawing/laid';
import { pictureKey } from '../../../drawing/view';
import type { Emphasis } from './emphasis';
import { type Form, formOf } from './forms';
import { drawnBySoftware } from './software';

export interface Palette {
	ground: string;
	ink: string;
	line: string;
	tones: Record<'chosen' | 'tie' | 'cut' | 'outranked' | 'short', string>;
	dark: boolean;
}

/** Where a shape lies in the buffers of its batch, and what was last written there. */
interface Placed {
	shape: WorldShape;
	form: Form;
	fillAt: number;
	lineAt: number;
	dashed: boolean;
	pose: Float64Array;
	/** Null until it is first painted. */
	emphasis: Emphasis | null;
	tint: string;
}

/** A picture on the canvas. */
export interface Part {
	view: View;
	/** Its rectangle, CSS pixels from the top left. */
	rect: { x: number; y: number; w: number; h: number };
	withLookers: boolean;
}

/**
 * All shapes of some objects in three buffers (faces, lines, dashed lines), so that thousands are drawn in three calls. What has
 * moved or changed its look is written over in place.
 */
class Batch {
	readonly group = new THREE.Group();
	private placed: Placed[] = [];
	private shapes: readonly WorldShape[] | null = null;
	private wanted: readonly Form[] = [];
	private signature: readonly Form[] = [];
	/** What it was last painted by. */
	private looks: {
		of: readonly WorldShape[];
		emphases: readonly Emphasis[];
		tints: readonly string[];
		palette: Palette;
	} | null = null;
	/** Where an object's shapes begin among those placed; -1 where it has none here. */
	private firsts = new Int32Array(0);
	private readonly fill = new THREE.Mesh(new THREE.BufferGeometry(), faces());
	private readonly solid = new THREE.LineSegments(
		new THREE.BufferGeometry(),
		new THREE.LineBasicMaterial({ transparent: true, vertexColors: true }),
	);
	private readonly dashes = new THREE.LineSegments(
		new THREE.BufferGeometry(),
		new THREE.LineDashedMaterial({ transparent: true, vertexColors: true, dashSize: 0.09, gapSize: 0.06 }),
	);

	constructor(private readonly forms: WeakMap<object, Map<string, Form>>) {
		this.group.add(this.fill, this.solid, this.dashes);
		for (const part of this.group.children) {
			part.frustumCulled = false;
			part.matrixAutoUpdate = false;
		}
	}

	private formOf(shape: WorldShape, flat: boolean, many: boolean): Form {
		let known = this.forms.get(shape.def);
		if (!known) {
			known = new Map();
			this.forms.set(shape.def, known);
		}
		const key = `${shape.object.scale.join()}/${many}`;
		let form = known.get(key);
		if (!form) {
			form = formOf(shape, flat, many);
			known.set(key, form);
		}
		return form;
	}

	/** Returns whether anything of it looks different now. */
	update(
		shapes: readonly WorldShape[],
		flat: boolean,
		palette: Palette,
		emphases: readonly Emphasis[],
		tints: readonly string[],
		depthOf: (shape: WorldShape) => number,
		still: boolean,
	): boolean {
		let written = false;
		// The same list of shapes has the same forms: only a rebuilt world has another.
		if (shapes !== this.shapes) {
			this.shapes = shapes;
			const many = shapes.length > 400;
			this.wanted = shapes.map((shape) => this.formOf(shape, flat, many));
		}
		const forms = this.wanted;
		const changed =
			forms !== this.signature &&
			(forms.length !== this.signature.length ||
				forms.some((form, i) => form !== this.signature[i] || shapes[i]?.sensor !== this.placed[i]?.dashed));
		if (changed) this.rebuild(shapes, forms);
		if (!still || changed) written = this.place(shapes, flat, depthOf, changed);
		const { looks } = this;
		if (changed || looks?.palette !== palette || looks.tints !== tints || looks.of !== shapes) {
			const all = changed || looks?.palette !== palette;
			for (const entry of this.placed) written = this.paint(entry, emphases, tints, palette, all, !changed) || written;
		} else
			for (let i = 0; i < emphases.length; i++) {
				if (emphases[i] === looks.emphases[i]) continue;
				// Shapes of one object lie next to each other.
				for (let k = this.firsts[i]; k >= 0 && this.placed[k]?.shape.object.index === i; k++) {
					written = this.paint(this.placed[k] as Placed, emphases, tints, palette, false, true) || written;
				}
			}
		this.looks = { of: shapes, emphases, tints, palette };
		return written;
	}

	/** Writes where shapes have gone since they were last written. @returns whether any has */
	private place(
		shapes: readonly WorldShape[],
		flat: boolean,
		depthOf: (shape: WorldShape) => number,
		all: boolean,
	): boolean {
		let written = false;
		this.firsts = new Int32Array(1 + shapes.reduce((most, { object }) => Math.max(most, object.index), -1)).fill(-1);
		for (let i = shapes.length - 1; i >= 0; i--) {
			const entry = this.placed[i] as Placed;
			const shape = shapes[i] as WorldShape;
			entry.shape = shape;
			this.firsts[shape.object.index] = i;
			// Centre and axes lie side by side in a body's data.
			const { data } = shape.body;
			const depth = flat ? depthOf(shape) : data[2];
			const pose = entry.pose;
			let moved = pose[2] !== depth;
			for (let k = 0; k < 12 && !moved; k++) moved = k !== 2 && pose[k] !== data[k];
			if (!moved && !all) continue;
			for (let k = 0; k < 12; k++) pose[k] = data[k];
			pose[2] = depth;
			this.write(entry, !all);
			written = true;
		}
		return written;
	}

	private rebuild(shapes: readonly WorldShape[], forms: readonly Form[]): void {
		this.signature = forms;
		let corners = 0;
		let indices = 0;
		let ends = 0;
		let dashes = 0;
		this.placed = shapes.map((shape, i) => {
			const form = forms[i] as Form;
			const dashed = shape.sensor;
			const entry: Placed = {
				shape,
				form,
				fillAt: corners,
				lineAt: dashed ? dashes : ends,
				dashed,
				pose: new Float64Array(12).fill(Number.NaN),
				emphasis: null,
				tint: '',
			};
			if (form.fill) {
				corners += form.fill.positions.length / 3;
				indices += form.fill.index.length;
			}
			if (dashed) dashes += form.along.length;
			else ends += form.along.length;
			return entry;
		});
		const buffers = (part: THREE.Mesh | THREE.LineSegments, n: number, colour: number) => {
			part.geometry.dispose();
			part.geometry = new THREE.BufferGeometry();
			part.geometry.setAttribute('position', new THREE.Float32BufferAttribute(new Float32Array(3 * n), 3));
			part.geometry.setAttribute('color', new THREE.Float32BufferAttribute(new Float32Array(colour * n), colour));
			part.visible = n > 0;
		};
		buffers(this.fill, corners, 3);
		this.fill.geometry.setAttribute('normal', new THREE.Float32BufferAttribute(new Float32Array(3 * corners), 3));
		const index = new Uint32Array(indices);
		let at = 0;
		for (const entry of this.placed) for (const i of entry.form.fill?.index ?? []) index[at++] = entry.fillAt + i;
		this.fill.geometry.setIndex(new THREE.Uint32BufferAttribute(index, 1));
		buffers(this.solid, ends, 4);
		buffers(this.dashes, dashes, 4);
		const along = new Float32Array(dashes);
		for (const entry of this.placed) if (entry.dashed) along.set(entry.form.along, entry.lineAt);
		this.dashes.geometry.setAttribute('lineDistance', new THREE.Float32BufferAttribute(along, 1));
	}

	/** The numbers of a buffer, to be written over; they go to the graphics card, all of them or `part` of them. */
	private open(
		of: THREE.Mesh | THREE.LineSegments,
		name: string,
		from: number,
		numbers: number,
		part: boolean,
	): Float32Array {
		const attribute = of.geometry.getAttribute(name) as THREE.BufferAttribute;
		if (part) attribute.addUpdateRange(from, numbers);
		attribute.needsUpdate = true;
		return attribute.array as Float32Array;
	}

	/** @param part whether only this part of the buffers goes to the graphics card */
	private write(entry: Placed, part: boolean): void {
		const { form, pose, fillAt, lineAt } = entry;
		const put = (from: Float32Array, to: Float32Array, at: number, by: 0 | 1) => {
			for (let i = 0; i < from.length; i += 3) {
				const x = from[i];
				const y = from[i + 1];
				const z = from[i + 2];
				for (let k = 0; k < 3; k++)
					to[3 * at + i + k] = by * pose[k] + pose[3 + 3 * k] * x + pose[4 + 3 * k] * y + pose[5 + 3 * k] * z;
			}
		};
		if (form.fill) {
			const numbers = form.fill.positions.length;
			put(form.fill.positions, this.open(this.fill, 'position', 3 * fillAt, numbers, part), fillAt, 1);
			put(form.fill.normals, this.open(this.fill, 'normal', 3 * fillAt, numbers, part), fillAt, 0);
		}
		put(
			form.lines,
			this.open(entry.dashed ? this.dashes : this.solid, 'position', 3 * lineAt, form.lines.length, part),
			lineAt,
			1,
		);
	}

	/**
	 * @param anyway even where it looks as it did
	 * @param part whether only this part of the buffers goes to the graphics card
	 * @returns whether it looks different now
	 */
	private paint(
		entry: Placed,
		emphases: readonly Emphasis[],
		tints: readonly string[],
		palette: Palette,
		anyway: boolean,
		part: boolean,
	): boolean {
		const { form, shape } = entry;
		const emphasis = emphases[shape.object.index] as Emphasis;
		const tint = tints[shape.object.index] as string;
		if (!anyway && entry.emphasis === emphasis && entry.tint === tint) return false;
		entry.emphasis = emphasis;
		entry.tint = tint;
		const strong = emphasis !== 'plain' && emphasis !== 'faint';
		if (form.fill) {
			colour.set(tint);
			if (strong) colour.lerp(other.set(palette.tones[emphasis]), emphasis === 'chosen' ? 0.85 : 0.6);
			if (emphasis === 'faint') colour.lerp(other.set(palette.ground), 0.62);
			const to = this.open(this.fill, 'color', 3 * entry.fillAt, form.fill.positions.length, part);
			for (let i = 0, at = 3 * entry.fillAt; i < form.fill.positions.length; i += 3, at += 3) colour.toArray(to, at);
		}
		colour.set(strong && !form.fill ? palette.tones[emphasis] : palette.ink);
		const alpha = emphasis === 'faint' ? 0.22 : strong ? 0.95 : 0.55;
		const to = this.open(
			entry.dashed ? this.dashes : this.solid,
			'color',
			4 * entry.lineAt,
			4 * form.along.length,
			part,
		);
		for (let i = 0, at = 4 * entry.lineAt; i < form.along.length; i++, at += 4) {
			colour.toArray(to, at);
			to[at + 3] = alpha;
		}
		return true;
	}

	dispose(): void {
		for (const part of [this.fill, this.solid, this.dashes]) {
			part.geometry.dispose();
			(part.material as THREE.Material).dispose();
		}
	}
}

const colour = new THREE.Color();
const other = new THREE.Color();

/** Irradiance of sky and sun, and the colour of the light from the ground. */
const SKY_LIGHT = '1.9';
const SUN_LIGHT = '1.3';
const GROUND_LIGHT = new THREE.Color(0x90a0a8);

/**
 * Faces in daylight: matt, the sky above and the ground below, the sun from one side. The library's own lights and matt material give
 * the same picture, but are worked out anew for every picture of every view, which a move of the hand waits for.
 */
const faces = () =>
	new THREE.ShaderMaterial({
		side: THREE.DoubleSide,
		vertexColors: true,
		polygonOffset: true,
		polygonOffsetFactor: 1,
		polygonOffsetUnits: 1,
		vertexShader: `
			varying vec3 vColour;
			varying vec3 vNormal;
			void main() {
				vColour = color;
				vNormal = normal;
				gl_Position = projectionMatrix * viewMatrix * vec4(position, 1.0);
			}`,
		fragmentShader: `
			varying vec3 vColour;
			varying vec3 vNormal;
			void main() {
				vec3 n = normalize(vNormal) * (gl_FrontFacing ? 1.0 : -1.0);
				vec3 sky = mix(vec3(${GROUND_LIGHT.toArray()
					.map((v) => v.toFixed(5))
					.join()}), vec3(1.0), 0.5 * n.y + 0.5);
				float sun = max(0.0, dot(n, normalize(vec3(0.4, 1.0, 0.7))));
				gl_FragColor = vec4(vColour * (${SKY_LIGHT} * sky + ${SUN_LIGHT} * sun) / PI, 1.0);
				#include <colorspace_fragment>
			}`,
		defines: { PI: Math.PI.toFixed(10) },
	});

/** Depth of what lies behind all of a flat scene. */
const BEHIND = -400;

export class Scene3D {
	private readonly renderer: THREE.WebGLRenderer;
	private readonly scene = new THREE.Scene();
	private readonly forms = new WeakMap<object, Map<string, Form>>();
	private readonly others = new Batch(this.forms);
	/** The asker and what hangs on it: who looks through an eye does not see the inside of his own head. */
	private readonly lookers = new Batch(this.forms);
	/** The shapes of the last world, told apart by how they are drawn; kept while it is the same. */
	private parted: { of: readonly WorldShape[]; left: string; others: WorldShape[]; lookers: WorldShape[] } | null =
		null;
	/** What the last drawing stood on: while it is the same, nothing has moved. */
	private stood: { turn: number; parted: object; depthOf: object } | null = null;
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
		this.scene.add(this.others.group, this.lookers.group, this.ground);
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
	 * @param lookers objects drawn on the stage but not in the eye
	 * @param depthOf where a depth of a flat scene is drawn: piles can be pulled apart
	 * @param turn another number whenever an object of the world has moved
	 */
	update(
		world: World,
		palette: Palette,
		emphases: readonly Emphasis[],
		tints: readonly string[],
		hidden: ReadonlySet<string>,
		lookers: ReadonlySet<string>,
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
		const left = `${[...hidden].join()}/${[...lookers].join()}`;
		if (this.parted?.of !== world.shapes || this.parted.left !== left) {
			const drawn = world.shapes.filter((s) => !hidden.has(s.object.id));
			this.shown = null;
			this.parted = {
				of: world.shapes,
				left,
				others: drawn.filter((s) => !lookers.has(s.object.id)),
				lookers: drawn.filter((s) => lookers.has(s.object.id)),
			};
		}
		const still = this.stood?.turn === turn && this.stood.parted === this.parted && this.stood.depthOf === depthOf;
		this.stood = { turn, parted: this.parted, depthOf };
		const others = this.others.update(this.parted.others, world.flat, palette, emphases, tints, depth, still);
		const lookersToo = this.lookers.update(this.parted.lookers, world.flat, palette, emphases, tints, depth, still);
		if (!still || others || lookersToo) this.shown = null;
	}

	/**
	 * Draws the scene through each view into its rectangle of the canvas. Where nothing differs from what the canvas shows, as
	 * when only a cursor has moved, it is left as it is.
	 * @param height of the canvas, CSS pixels
	 */
	draw(parts: readonly Part[], height: number): void {
		const keys = parts.map(({ view, rect }) => `${rect.w / rect.h} ${pictureKey(view)}`);
		const shown = `${height} ${parts.map(({ rect, withLookers }, i) => `${rect.x} ${rect.y} ${withLookers} ${keys[i]}`).join()}`;
		if (this.shown === shown) return;
		this.shown = shown;
		this.last = { parts, height };
		this.renderer.setScissorTest(false);
		this.renderer.clear();
		this.renderer.setScissorTest(true);
		for (const [i, { view, rect, withLookers }] of parts.entries()) {
			const key = keys[i] as string;
			if (this.cameras[i]?.key !== key) this.cameras[i] = { key, camera: cameraOf(view, rect.w / rect.h) };
			this.lookers.group.visible = withLookers;
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
		this.lookers.dispose();
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
