/**
 * The project file `frelk/1`: every kind and every field, as Zod schemas.
 *
 * The schemas only look: a project is kept as it was read, with its optional fields absent, so that writing it back loses and
 * adds nothing. Defaults are applied where a project is resolved into a world or a query is compiled. What a schema cannot see
 * on its own (references, cycles, rules that depend on the kind of scene) is in `references.ts` and `rules.ts`.
 */
import * as z from 'zod';
import {
	MAX_ARC_STEPS,
	MAX_COORDINATE,
	MAX_DISTANCE,
	MAX_MARKS,
	MAX_NOTES,
	MAX_NUMBER,
	MAX_SIZE,
	MAX_SPEED,
} from './bounds';
import { ARC, arcSteps } from './defaults';
import { mapCheckSchema, mapSchema } from './map-schema';
import { effectSchema, runCheckSchema, runSchema } from './run-schema';
import { atLeastOne, id, item, oneOf, overlaySchema, part, ref, unionError } from './schema-parts';
import type { Project } from './types';
import {
	above0,
	distance,
	name,
	notNegative,
	num,
	numbers,
	one,
	PIXELS,
	pair,
	place,
	points,
	refs,
	SIZE,
	scale,
	size,
	states,
	stateValue,
	textUpTo,
	triple,
	upTo,
	vec2,
	vec3,
} from './values';

/** The `format` of the files this core reads and writes. */
export const FORMAT = 'frelk/1';

// ---- shapes ----

const capsuleFields = { radius: size, height: size };
const mountFields = {
	at: place.optional(),
	rotation: vec3.optional(),
	role: oneOf(['solid', 'sensor']).optional(),
	layer: ref.optional(),
	enabled: z.boolean().optional(),
};
const sizes = {
	box: { kind: z.literal('box'), size: triple(SIZE) },
	sphere: { kind: z.literal('sphere'), radius: size },
	capsule: { kind: z.literal('capsule'), ...capsuleFields },
	cylinder: { kind: z.literal('cylinder'), ...capsuleFields },
	hull: { kind: z.literal('hull'), points: points<readonly [number, number, number]>(3) },
	mesh: {
		kind: z.literal('mesh'),
		vertices: numbers(3, false, 'x, y, z of each corner'),
		triangles: numbers(3, true, 'three corner indices per triangle'),
	},
	rect: { kind: z.literal('rect'), size: pair(SIZE) },
	circle: { kind: z.literal('circle'), radius: size },
	polygon: { kind: z.literal('polygon'), points: points<readonly [number, number]>(2) },
};
/** Kinds of shape, those of space before those of flat scenes. */
export const SHAPE_KINDS = [
	'box',
	'sphere',
	'capsule',
	'cylinder',
	'hull',
	'mesh',
	'rect',
	'circle',
	'polygon',
] as const;
const mounted = <S extends z.core.$ZodLooseShape>(sizes: S) =>
	item({ id, name: name.optional(), ...sizes, ...mountFields });

const shapeSchema = z.discriminatedUnion(
	'kind',
	[
		mounted(sizes.box),
		mounted(sizes.sphere),
		mounted(sizes.capsule),
		mounted(sizes.cylinder),
		mounted(sizes.hull),
		mounted(sizes.mesh),
		mounted(sizes.rect),
		mounted(sizes.circle),
		mounted(sizes.polygon),
	],
	unionError(SHAPE_KINDS),
);

const VOLUME_KINDS = ['box', 'sphere', 'capsule', 'cylinder', 'hull', 'rect', 'circle', 'polygon'] as const;
const volumeShape = z.discriminatedUnion(
	'kind',
	[
		part(sizes.box),
		part(sizes.sphere),
		part(sizes.capsule),
		part(sizes.cylinder),
		part(sizes.hull),
		part(sizes.rect),
		part(sizes.circle),
		part(sizes.polygon),
	],
	unionError(VOLUME_KINDS),
);
const sweptShape = z.discriminatedUnion(
	'kind',
	[part(sizes.sphere), part(sizes.box), part(sizes.capsule), part(sizes.circle), part(sizes.rect)],
	unionError(['sphere', 'box', 'capsule', 'circle', 'rect']),
);
const likeShape = part({ like: ref, grow: one(upTo(MAX_SIZE, ' m')).optional() });

// ---- scene ----

const stance = oneOf(['hostile', 'neutral', 'friendly']);

const marks = z
	.array(part({ id, at: place }))
	.min(1, 'needs at least one mark')
	.max(MAX_MARKS, `has more than ${MAX_MARKS} marks`)
	.superRefine((list, ctx) => {
		const first = new Map<string, number>();
		list.forEach((mark, i) => {
			const before = first.get(mark.id);
			if (before === undefined) first.set(mark.id, i);
			else
				ctx.addIssue({
					code: 'custom',
					path: [i, 'id'],
					message: `the mark id "${mark.id}" is already used by entry ${before}; ids are unique`,
				});
		});
	});

const objectSchema = item({
	id,
	name: name.optional(),
	parent: ref.optional(),
	position: place.optional(),
	rotation: vec3.optional(),
	scale: scale.optional(),
	layer: ref,
	tags: refs.optional(),
	side: ref.optional(),
	active: z.boolean().optional(),
	states: states.optional(),
	priority: num.optional(),
	focus: place.optional(),
	prompt: name.optional(),
	action: name.optional(),
	marks: marks.optional(),
	approach: part({ from: vec3, within: notNegative }).optional(),
	standsFor: ref.optional(),
	shapes: z.array(shapeSchema).optional(),
});

const cameraFields = {
	id,
	name: name.optional(),
	object: ref.optional(),
	position: place,
	rotation: vec3.optional(),
	far: one(above0(Number.MIN_VALUE, MAX_DISTANCE, ' m')).optional(),
};
const cameraSchema = z.discriminatedUnion(
	'projection',
	[
		item({
			...cameraFields,
			projection: z.literal('perspective'),
			fov: z.number().gt(0, 'must be between 0 and 180').lt(180, 'must be between 0 and 180'),
		}),
		item({ ...cameraFields, projection: z.literal('orthographic'), height: size }),
	],
	unionError(['perspective', 'orthographic']),
);

const sceneSchema = item({
	kind: oneOf(['space', 'flat']),
	tieSlack: notNegative.optional(),
	states: states.optional(),
	layers: z.array(item({ id, name: name.optional() })),
	tags: z.array(item({ id, name: name.optional(), under: ref.optional() })),
	sides: z.array(item({ id, name: name.optional() })).optional(),
	stances: z.array(item({ from: ref, to: ref, stance })).optional(),
	objects: z.array(objectSchema),
	cameras: z.array(cameraSchema),
});

// ---- anchors and directions ----

/** The ways to say a place; an anchor has exactly one of them. */
export const ANCHOR_KEYS = ['point', 'object', 'focus', 'camera', 'hitOf'] as const;

const anchorSchema = part({
	point: place.optional(),
	object: ref.optional(),
	offset: place.optional(),
	focus: ref.optional(),
	camera: ref.optional(),
	hitOf: ref.optional(),
	off: one(upTo(MAX_COORDINATE, ' m')).optional(),
}).superRefine((anchor, ctx) => {
	const given = ANCHOR_KEYS.filter((key) => anchor[key] !== undefined);
	if (given.length !== 1)
		ctx.addIssue({
			code: 'custom',
			message: `an anchor has exactly one of ${ANCHOR_KEYS.join(', ')}; this one has ${given.join(' and ') || 'none'}`,
		});
	if (anchor.offset && anchor.object === undefined)
		ctx.addIssue({ code: 'custom', path: ['offset'], message: '"offset" goes with "object" only' });
	if (anchor.off !== undefined && anchor.hitOf === undefined)
		ctx.addIssue({ code: 'custom', path: ['off'], message: '"off" goes with "hitOf" only' });
});

const directionSchema = part({
	along: vec3.optional(),
	of: ref.optional(),
	toward: anchorSchema.optional(),
}).superRefine((direction, ctx) => {
	if ((direction.along === undefined) === (direction.toward === undefined))
		ctx.addIssue({ code: 'custom', message: 'a direction has either "along" or "toward"' });
	if (direction.of !== undefined && direction.along === undefined)
		ctx.addIssue({ code: 'custom', path: ['of'], message: '"of" goes with "along" only' });
});

// ---- queries ----

const layerSet = z.union([z.literal('all'), refs], { error: 'expected "all" or a list of layer ids' });

export const conditionSchema = part({
	of: oneOf(['target', 'asker', 'scene']),
	state: name,
	is: stateValue.optional(),
	above: num.optional(),
	below: num.optional(),
}).superRefine((condition, ctx) => {
	if (condition.is === undefined && condition.above === undefined && condition.below === undefined)
		ctx.addIssue({ code: 'custom', message: 'a condition needs at least one of is, above, below' });
});

const selectsSchema = part({
	layers: z
		.union([z.literal('all'), atLeastOne(ref, 'layer')], { error: 'expected "all" or a list of at least one layer id' })
		.optional(),
	tags: part({ any: refs.optional(), all: refs.optional(), none: refs.optional() }).optional(),
	stances: atLeastOne(stance, 'stance').optional(),
	when: z.array(conditionSchema).optional(),
	roles: atLeastOne(oneOf(['solid', 'sensor']), 'role').optional(),
});

/** Rules by which one of several is chosen. */
export const RULES = ['distance', 'aim', 'cursor', 'priority', 'direct', 'listed', 'seen'] as const;
const ruleSchema = part({
	rule: oneOf(RULES),
	slack: notNegative.optional(),
	to: oneOf(['contact', 'focus']).optional(),
}).superRefine((rule, ctx) => {
	if (rule.to !== undefined && rule.rule !== 'distance')
		ctx.addIssue({ code: 'custom', path: ['to'], message: '"to" goes with the rule "distance" only' });
});

const queryFields = {
	id,
	name: name.optional(),
	asker: ref.optional(),
	ignore: refs.optional(),
	enabled: z.boolean().optional(),
	selects: selectsSchema.optional(),
	range: part({
		min: distance.optional(),
		max: distance.optional(),
		from: anchorSchema.optional(),
		to: oneOf(['contact', 'focus']).optional(),
		flat: z.boolean().optional(),
	}).optional(),
	view: part({ within: notNegative, about: directionSchema.optional(), flat: z.boolean().optional() }).optional(),
	approach: oneOf(['respect', 'ignore']).optional(),
	sight: part({
		blockers: layerSet.optional(),
		sensors: z.boolean().optional(),
		from: anchorSchema.optional(),
		to: oneOf(['focus', 'contact', 'marks']).optional(),
		least: z
			.union([z.literal('all'), z.int().min(1).max(MAX_NUMBER)], { error: 'expected a whole number from 1, or "all"' })
			.optional(),
	})
		.superRefine((sight, ctx) => {
			if (sight.least !== undefined && sight.to !== 'marks')
				ctx.addIssue({ code: 'custom', path: ['least'], message: '"least" goes with "to": "marks" only' });
		})
		.optional(),
	startInside: oneOf(['skip', 'count']).optional(),
	choose: part({
		take: z
			.union([z.literal('all'), z.int().min(1).max(MAX_NUMBER)], { error: 'expected a whole number from 1, or "all"' })
			.optional(),
		by: atLeastOne(ruleSchema, 'rule').optional(),
	}).optional(),
	outcomes: z
		.array(
			part({
				tag: ref.optional(),
				when: z.array(conditionSchema).optional(),
				action: name.nullable().optional(),
				prompt: name.nullable().optional(),
			}).superRefine((outcome, ctx) => {
				if (outcome.tag === undefined && outcome.when === undefined)
					ctx.addIssue({ code: 'custom', message: 'an outcome needs at least one of tag, when' });
			}),
		)
		.optional(),
};
const positive = one(above0(Number.MIN_VALUE, MAX_NUMBER, ' s'));
const arcSchema = part({
	speed: one(above0(Number.MIN_VALUE, MAX_SPEED, ' m/s')),
	gravity: notNegative.optional(),
	time: positive.optional(),
	step: positive.optional(),
	at: anchorSchema.optional(),
	high: z.boolean().optional(),
}).superRefine((arc, ctx) => {
	const { time = ARC.time, step = ARC.step } = arc;
	const steps = arcSteps({ time, step });
	if (steps < 1)
		ctx.addIssue({ code: 'custom', path: ['time'], message: `${time} s is shorter than a step of ${step} s` });
	if (steps > MAX_ARC_STEPS)
		ctx.addIssue({
			code: 'custom',
			path: ['step'],
			message: `makes ${steps} steps of ${time} s; at most ${MAX_ARC_STEPS} are allowed`,
		});
	if (arc.high === true && arc.at === undefined)
		ctx.addIssue({ code: 'custom', path: ['high'], message: '"high" goes with "at" only' });
});
const pathFields = {
	from: anchorSchema,
	aim: directionSchema.optional(),
	length: distance.optional(),
	to: anchorSchema.optional(),
	arc: arcSchema.optional(),
};
const assist = part({ by: oneOf(['angle', 'distance', 'pixels']), within: notNegative }).optional();

/** Kinds of query. */
export const QUERY_KINDS = ['ray', 'pick', 'sweep', 'overlap', 'hitbox'] as const;
const querySchema = z.discriminatedUnion(
	'kind',
	[
		item({ ...queryFields, kind: z.literal('ray'), ...pathFields, assist }),
		item({
			...queryFields,
			kind: z.literal('pick'),
			camera: ref,
			viewport: pair(PIXELS),
			cursor: vec2.optional(),
			length: distance.optional(),
			assist,
		}),
		item({ ...queryFields, kind: z.literal('sweep'), ...pathFields, shape: sweptShape, rotation: vec3.optional() }),
		item({
			...queryFields,
			kind: z.literal('overlap'),
			at: anchorSchema,
			shape: z.union([volumeShape, likeShape]),
			offset: place.optional(),
			rotation: vec3.optional(),
			turns: z.boolean().optional(),
			room: part({
				on: part({
					layers: z.union([z.literal('all'), atLeastOne(ref, 'layer')], {
						error: 'expected "all" or a list of at least one layer id',
					}),
					within: distance.optional(),
				}).optional(),
			}).optional(),
		}),
		item({
			...queryFields,
			kind: z.literal('hitbox'),
			asker: ref,
			boxes: z
				.array(
					part({
						shape: volumeShape,
						at: place.optional(),
						rotation: vec3.optional(),
						from: notNegative.optional(),
						until: notNegative.optional(),
					}),
				)
				.min(1, 'needs at least one box'),
			once: z.boolean().optional(),
		}),
	],
	unionError(QUERY_KINDS),
);

// ---- moments and checks ----

const momentSchema = item({
	id,
	name: name.optional(),
	on: ref.optional(),
	objects: z.record(z.string(), overlaySchema).optional(),
	states: states.optional(),
	cameras: z.record(z.string(), part({ position: place.optional(), rotation: vec3.optional() })).optional(),
	queries: z.record(z.string(), part({ cursor: vec2.optional(), enabled: z.boolean().optional() })).optional(),
});

const EXPECT_KEYS = ['selects', 'none', 'tie', 'off', 'room'] as const;
export const expectSchema = part({
	selects: atLeastOne(ref, 'object').optional(),
	order: oneOf(['any', 'exact']).optional(),
	none: z.literal(true).optional(),
	tie: refs.optional(),
	off: z.literal(true).optional(),
	room: z.boolean().optional(),
	not: refs.optional(),
	action: name.optional(),
	point: part({ near: place, within: notNegative }).optional(),
	blocked: part({ object: ref, by: ref }).optional(),
}).superRefine((expect, ctx) => {
	const given = EXPECT_KEYS.filter((key) => expect[key] !== undefined);
	if (given.length !== 1)
		ctx.addIssue({
			code: 'custom',
			message: `needs exactly one of ${EXPECT_KEYS.join(', ')}; this one has ${given.join(' and ') || 'none'}`,
		});
	if (expect.order !== undefined && expect.selects === undefined)
		ctx.addIssue({ code: 'custom', path: ['order'], message: '"order" goes with "selects" only' });
});

export const stillCheckSchema = item({
	id,
	name: name.optional(),
	query: ref,
	moment: ref.optional(),
	expect: expectSchema,
});

/** A check of a query, of a run or of a map: which one is told by the key it has. */
const checkSchema = z.unknown().transform((value, ctx) => {
	const has = (key: string) => typeof value === 'object' && value !== null && key in value;
	const form = has('run') ? runCheckSchema : has('map') ? mapCheckSchema : stillCheckSchema;
	const parsed = form.safeParse(value);
	if (parsed.success) return parsed.data;
	for (const issue of parsed.error.issues) ctx.issues.push({ ...issue, input: value } as never);
	return z.NEVER;
}) as unknown as z.ZodType<
	z.infer<typeof stillCheckSchema> | z.infer<typeof runCheckSchema> | z.infer<typeof mapCheckSchema>
>;

/**
 * As it is put together: its type is what the schemas say, and a test holds the one written by hand against it.
 * @internal
 */
export const fileSchema = item({
	format: z.literal(FORMAT, {
		error: (issue) => `expected "${FORMAT}", the format this program reads; got ${JSON.stringify(issue.input)}`,
	}),
	id,
	name,
	notes: textUpTo(MAX_NOTES).optional(),
	scene: sceneSchema,
	queries: z.array(querySchema),
	moments: z.array(momentSchema).optional(),
	checks: z.array(checkSchema).optional(),
	runs: z.array(runSchema).optional(),
	effects: z.array(effectSchema).optional(),
	maps: z.array(mapSchema).optional(),
});

export type * from './types';

/** A whole project file. */
export const projectSchema = fileSchema satisfies z.ZodType<Project> as z.ZodType<Project>;
