/** The JSON of a glTF file as far as it is read: held against once, before anything is walked. What is drawn with is let pass. */
import { addIssues, formatProblem, Problems } from '@frelk/core/schema';
import * as z from 'zod';
import { LevelError } from '../level';

const index = z.int().min(0);
const text = z.string();
const named = {
	name: text.optional(),
	extras: z.unknown().optional(),
	extensions: z.record(z.string(), z.unknown()).optional(),
};
/** Numbers of a pose may be anything that JSON holds: a node that stands nowhere is left out, and not the level. */
const pose = (n: number) =>
	z
		.array(z.custom<number>((value) => typeof value === 'number', 'expected a number'))
		.length(n, `expected ${n} numbers`);

const COMPONENTS = [5120, 5121, 5122, 5123, 5125, 5126] as const;
const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4', 'MAT2', 'MAT3', 'MAT4'] as const;

const node = z.looseObject({
	...named,
	children: z.array(index).optional(),
	mesh: index.optional(),
	camera: index.optional(),
	skin: index.optional(),
	weights: z.array(z.number()).optional(),
	matrix: pose(16).optional(),
	translation: pose(3).optional(),
	rotation: pose(4).optional(),
	scale: pose(3).optional(),
});

const primitive = z.looseObject({
	attributes: z.record(z.string(), index),
	indices: index.optional(),
	mode: z.int().min(0).max(6).optional(),
	targets: z.array(z.record(z.string(), index)).optional(),
	extensions: z.record(z.string(), z.unknown()).optional(),
});

const sparse = z.looseObject({
	count: z.int().min(1),
	indices: z.looseObject({
		bufferView: index,
		byteOffset: index.optional(),
		componentType: z.literal([5121, 5123, 5125]),
	}),
	values: z.looseObject({ bufferView: index, byteOffset: index.optional() }),
});

const fileSchema = z.looseObject({
	asset: z.looseObject({ version: text }),
	scene: index.optional(),
	scenes: z.array(z.looseObject({ ...named, nodes: z.array(index).optional() })).optional(),
	nodes: z.array(node).optional(),
	meshes: z
		.array(z.looseObject({ ...named, primitives: z.array(primitive), weights: z.array(z.number()).optional() }))
		.optional(),
	accessors: z
		.array(
			z.looseObject({
				...named,
				bufferView: index.optional(),
				byteOffset: index.optional(),
				componentType: z.literal(COMPONENTS),
				normalized: z.boolean().optional(),
				count: z.int().min(1),
				type: z.enum(TYPES),
				sparse: sparse.optional(),
			}),
		)
		.optional(),
	bufferViews: z
		.array(
			z.looseObject({
				...named,
				buffer: index,
				byteOffset: index.optional(),
				byteLength: z.int().min(1),
				byteStride: z.int().min(4).max(252).optional(),
			}),
		)
		.optional(),
	buffers: z.array(z.looseObject({ ...named, uri: text.optional(), byteLength: z.int().min(1) })).optional(),
	cameras: z
		.array(
			z.looseObject({
				...named,
				type: z.enum(['perspective', 'orthographic']),
				perspective: z.looseObject({ yfov: z.number(), zfar: z.number().optional() }).optional(),
				orthographic: z.looseObject({ ymag: z.number(), zfar: z.number().optional() }).optional(),
			}),
		)
		.optional(),
	skins: z
		.array(z.looseObject({ ...named, joints: z.array(index).min(1), inverseBindMatrices: index.optional() }))
		.optional(),
	animations: z.array(z.unknown()).optional(),
	extensionsUsed: z.array(text).optional(),
	extensionsRequired: z.array(text).optional(),
	extensions: z.record(z.string(), z.unknown()).optional(),
	extras: z.unknown().optional(),
});

/** The JSON of a level that is what it should be, as far as it is read. */
export type GltfFile = z.infer<typeof fileSchema>;
export type GltfNode = z.infer<typeof node>;

/** Problems told of one file. */
const MAX_TOLD = 10;

/** @throws LevelError with the places of what is of another form, a line each */
export function checkedFile(data: unknown, name: string): GltfFile {
	const parsed = fileSchema.safeParse(data);
	// The data itself, and not a copy: long lists of numbers are not held twice.
	if (parsed.success) return data as GltfFile;
	const problems = new Problems();
	addIssues(parsed.error, data, problems);
	const lines = problems.list.slice(0, MAX_TOLD).map((p) => `${name}: ${formatProblem(p)}`);
	const more = problems.list.length - lines.length;
	throw new LevelError([...lines, ...(more > 0 ? [`${name}: and ${more} more`] : [])].join('\n'));
}

const BODY = 'KHR_physics_rigid_bodies';
const SHAPES = 'KHR_implicit_shapes';

const geometry = z.looseObject({
	shape: index.optional(),
	mesh: index.optional(),
	node: index.optional(),
	convexHull: z.boolean().optional(),
});
const body = z.looseObject({
	collider: z.looseObject({ geometry: geometry.optional() }).optional(),
	trigger: z.looseObject({ geometry: geometry.optional() }).optional(),
});
const shapes = z.looseObject({ shapes: z.array(z.looseObject({ type: text })).optional() });
const instancing = z.looseObject({ attributes: z.record(z.string(), index).optional() });
const visibility = z.looseObject({ visible: z.boolean().optional() });

/** What a node says by extensions that are read; of one that says something else, null and a word. */
export function extensionOf<T>(
	{ extensions }: Pick<GltfNode, 'extensions'>,
	name: string,
	schema: z.ZodType<T>,
	tell: (message: string) => void,
): T | null {
	const found = extensions?.[name];
	if (found === undefined) return null;
	const parsed = schema.safeParse(found);
	if (parsed.success) return parsed.data;
	tell(`what ${name} says is not understood: left out`);
	return null;
}

export const EXTENSIONS = {
	body: { name: BODY, schema: body },
	shapes: { name: SHAPES, schema: shapes },
	instancing: { name: 'EXT_mesh_gpu_instancing', schema: instancing },
	visibility: { name: 'KHR_node_visibility', schema: visibility },
} as const;
