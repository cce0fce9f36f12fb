/**
 * What a glTF file says of how its nodes collide: KHR_implicit_shapes with KHR_physics_rigid_bodies, which the library has no classes
 * for. Bodies' motion, materials and joints are left alone: no query asks for them.
 */
import {
	Extension,
	ExtensionProperty,
	type Mesh,
	PropertyType,
	type ReaderContext,
	type WriterContext,
} from '@gltf-transform/core';

const BODIES = 'KHR_physics_rigid_bodies';
const SHAPES = 'KHR_implicit_shapes';

/** A shape by its measures, metres; what is left out is as the extension has it. */
export type ImplicitShape =
	| { type: 'box'; box?: { size?: [number, number, number] } }
	| { type: 'sphere'; sphere?: { radius?: number } }
	| { type: 'capsule'; capsule?: { height?: number; radiusBottom?: number; radiusTop?: number } }
	| { type: 'cylinder'; cylinder?: { height?: number; radiusBottom?: number; radiusTop?: number } }
	| { type: 'plane'; plane?: { sizeX?: number; sizeZ?: number; doubleSided?: boolean } };

/** How a node collides: by a shape, or by a mesh (as it is, or its hull). */
export interface ColliderGeometry {
	shape: ImplicitShape | null;
	mesh: Mesh | null;
	hull: boolean;
}

/** Collider and trigger of a node. */
export class Body extends ExtensionProperty {
	static override EXTENSION_NAME = BODIES;
	declare extensionName: typeof BODIES;
	declare propertyType: 'Body';
	declare parentTypes: [PropertyType.NODE];
	collider: ColliderGeometry | null = null;
	trigger: ColliderGeometry | null = null;

	protected init(): void {
		this.extensionName = BODIES;
		this.propertyType = 'Body';
		this.parentTypes = [PropertyType.NODE];
	}
}

interface GeometryDef {
	shape?: number;
	mesh?: number;
	node?: number;
	convexHull?: boolean;
}
interface BodyDef {
	collider?: { geometry?: GeometryDef };
	trigger?: { geometry?: GeometryDef };
}

const KINDS = ['collider', 'trigger'] as const;

/** Reads and writes `Body` with its shapes. */
export class PhysicsBodies extends Extension {
	static override readonly EXTENSION_NAME: string = BODIES;
	override readonly extensionName = BODIES;

	body(): Body {
		return new Body(this.document.getGraph());
	}

	override read(context: ReaderContext): this {
		const { json } = context.jsonDoc;
		const shapes = ((json.extensions?.[SHAPES] as { shapes?: unknown[] } | undefined)?.shapes ?? []) as ImplicitShape[];
		(json.nodes ?? []).forEach((def, i) => {
			const found = def.extensions?.[BODIES] as BodyDef | undefined;
			if (!found) return;
			const body = this.body();
			for (const kind of KINDS) {
				const geometry = found[kind]?.geometry;
				if (!geometry) continue;
				const of = geometry.node === undefined ? geometry.mesh : json.nodes?.[geometry.node]?.mesh;
				body[kind] = {
					shape: geometry.shape === undefined ? null : (shapes[geometry.shape] ?? null),
					mesh: of === undefined ? null : (context.meshes[of] ?? null),
					hull: geometry.convexHull === true,
				};
			}
			context.nodes[i]?.setExtension(BODIES, body);
		});
		return this;
	}

	override write(context: WriterContext): this {
		const { json } = context.jsonDoc;
		const shapes: ImplicitShape[] = [];
		const known = new Map<string, number>();
		for (const node of this.document.getRoot().listNodes()) {
			const body = node.getExtension<Body>(BODIES);
			const def = json.nodes?.[context.nodeIndexMap.get(node) ?? -1];
			if (!body || !def) continue;
			const out: BodyDef = {};
			for (const kind of KINDS) {
				const geometry = body[kind];
				if (!geometry) continue;
				const { shape, mesh, hull } = geometry;
				if (shape) {
					const key = JSON.stringify(shape);
					const at = known.get(key) ?? shapes.push(shape) - 1;
					known.set(key, at);
					out[kind] = { geometry: { shape: at } };
				} else if (mesh) {
					const at = context.meshIndexMap.get(mesh);
					if (at !== undefined) out[kind] = { geometry: { mesh: at, ...(hull ? { convexHull: true } : {}) } };
				}
			}
			def.extensions = { ...def.extensions, [BODIES]: out };
		}
		if (shapes.length > 0) json.extensions = { ...json.extensions, [SHAPES]: { shapes } };
		return this;
	}
}

/** The shapes that bodies name; they lie at the root, where `PhysicsBodies` reads and writes them. */
export class ImplicitShapes extends Extension {
	static override readonly EXTENSION_NAME: string = SHAPES;
	override readonly extensionName = SHAPES;

	override read(): this {
		return this;
	}

	override write(): this {
		return this;
	}
}
