/** Many shapes in a few buffers, written over in place where they move or look different. */
import type { WorldShape } from '@frelk/core';
import * as THREE from 'three';
import type { Emphasis } from './emphasis';
import { type Form, formOf } from './forms';

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

const NONE: ReadonlySet<string> = new Set();
/** A pose of no size, further away than any camera sees. */
const NOWHERE = new Float64Array(12).fill(1e12, 0, 3);

const colour = new THREE.Color();
const other = new THREE.Color();

/** Irradiance of sky and sun, and the colour of the light from the ground. */
const SKY_LIGHT = '1.9';
const SUN_LIGHT = '1.3';
const GROUND_LIGHT = new THREE.Color(0x90a0a8);

/**
 * Faces in daylight: matt, the sky above and the ground below, the sun from one side. The library's own lights and matt material give
 * the same picture, but are worked out anew for every picture of every view, which a move of the hand waits for. Both sides are lit,
 * and their colours brought to the screen's (sRGB), at the corners: at each pixel that took a quarter of the drawing where the processor does it.
 */
const faces = () =>
	new THREE.ShaderMaterial({
		side: THREE.DoubleSide,
		vertexColors: true,
		polygonOffset: true,
		polygonOffsetFactor: 1,
		polygonOffsetUnits: 1,
		vertexShader: `
			varying vec3 vFront;
			varying vec3 vBack;
			vec3 lit(vec3 n) {
				vec3 sky = mix(vec3(${GROUND_LIGHT.toArray()
					.map((v) => v.toFixed(5))
					.join()}), vec3(1.0), 0.5 * n.y + 0.5);
				float sun = max(0.0, dot(n, normalize(vec3(0.4, 1.0, 0.7))));
				vec3 light = clamp(color * (${SKY_LIGHT} * sky + ${SUN_LIGHT} * sun) / PI, 0.0, 1.0);
				return mix(12.92 * light, 1.055 * pow(light, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
			}
			void main() {
				vec3 n = normalize(normal);
				vFront = lit(n);
				vBack = lit(-n);
				gl_Position = projectionMatrix * viewMatrix * vec4(position, 1.0);
			}`,
		fragmentShader: `
			varying vec3 vFront;
			varying vec3 vBack;
			void main() {
				gl_FragColor = vec4(gl_FrontFacing ? vFront : vBack, 1.0);
			}`,
		defines: { PI: Math.PI.toFixed(10) },
	});

/**
 * All shapes of some objects in three buffers (faces, lines, dashed lines), so that thousands are drawn in three calls. What has
 * moved or changed its look is written over in place.
 */
export class Batch {
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

	/**
	 * @param away objects that keep their place in the buffers, but are not to be seen: who comes and goes costs no new buffers
	 * @returns whether anything of it looks different now
	 */
	update(
		shapes: readonly WorldShape[],
		flat: boolean,
		palette: Palette,
		emphases: readonly Emphasis[],
		tints: readonly string[],
		depthOf: (shape: WorldShape) => number,
		still: boolean,
		away: ReadonlySet<string> = NONE,
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
		if (!still || changed) written = this.place(shapes, flat, depthOf, changed, away);
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
		away: ReadonlySet<string>,
	): boolean {
		let written = false;
		this.firsts = new Int32Array(1 + shapes.reduce((most, { object }) => Math.max(most, object.index), -1)).fill(-1);
		for (let i = shapes.length - 1; i >= 0; i--) {
			const entry = this.placed[i] as Placed;
			const shape = shapes[i] as WorldShape;
			entry.shape = shape;
			this.firsts[shape.object.index] = i;
			// Centre and axes lie side by side in a body's data.
			const seen = away.size === 0 || !away.has(shape.object.id);
			const data = seen ? shape.body.data : NOWHERE;
			const depth = flat && seen ? depthOf(shape) : data[2];
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
