/** Run-throughs, effects and the checks of runs, as Zod schemas. */
import * as z from 'zod';
import { MAX_NUMBER } from './bounds';
import { atLeastOne, id, item, oneOf, overlayFields, overlaySchema, part, ref } from './schema-parts';
import { above0, name, notNegative, num, one, place, refs, vec2 } from './values';

/** What a key of a track may give, by what the track is of. */
const KEY_FIELDS = {
	object: Object.keys(overlayFields),
	camera: ['position', 'rotation'],
	query: ['cursor', 'enabled'],
	scene: ['states'],
} as const;
const TRACK_KINDS = ['object', 'camera', 'query', 'scene'] as const;

const exactlyOne = (
	value: Record<string, unknown>,
	keys: readonly string[],
	what: string,
	ctx: { addIssue: (issue: { code: 'custom'; message: string }) => void },
): string | null => {
	const given = keys.filter((key) => value[key] !== undefined);
	if (given.length === 1) return given[0] as string;
	ctx.addIssue({
		code: 'custom',
		message: `${what} has exactly one of ${keys.join(', ')}; this one has ${given.join(' and ') || 'none'}`,
	});
	return null;
};

const trackSchema = part({
	object: ref.optional(),
	camera: ref.optional(),
	query: ref.optional(),
	scene: z.literal(true).optional(),
	keys: z
		.array(part({ t: notNegative, ...overlayFields, cursor: vec2.optional(), enabled: z.boolean().optional() }))
		.min(1, 'needs at least one key'),
}).superRefine((track, ctx) => {
	const kind = exactlyOne(track, TRACK_KINDS, 'a track', ctx) as (typeof TRACK_KINDS)[number] | null;
	let before = -1;
	track.keys.forEach((key, i) => {
		const given = Object.keys(key).filter((field) => field !== 't' && key[field as 't'] !== undefined);
		if (given.length === 0) ctx.addIssue({ code: 'custom', path: ['keys', i], message: 'gives nothing but its time' });
		if (kind)
			for (const field of given)
				if (!(KEY_FIELDS[kind] as readonly string[]).includes(field)) {
					const of = kind === 'scene' ? 'the scene' : `a ${kind}`;
					ctx.addIssue({
						code: 'custom',
						path: ['keys', i, field],
						message: `does not go with a track of ${of}; its keys give ${KEY_FIELDS[kind].join(', ')}`,
					});
				}
		if (key.t <= before)
			ctx.addIssue({
				code: 'custom',
				path: ['keys', i, 't'],
				message: `must be later than the key before, ${before} s; got ${key.t}`,
			});
		before = key.t;
		if (key.parent !== undefined && (key.position === undefined || key.rotation === undefined))
			ctx.addIssue({
				code: 'custom',
				path: ['keys', i, 'parent'],
				message: 'a key that gives "parent" gives position and rotation too: nothing is converted',
			});
	});
});

const stickSchema = part({
	distance: notNegative.optional(),
	aim: notNegative.optional(),
	cursor: notNegative.optional(),
	priority: notNegative.optional(),
	seen: notNegative.optional(),
});

const watchSchema = part({
	id: id.optional(),
	query: ref,
	keeps: oneOf(['all', 'one', 'lock']).optional(),
	forgets: oneOf(['own', 'any']).optional(),
	stick: stickSchema.optional(),
	patience: notNegative.optional(),
	late: notNegative.optional(),
}).superRefine((watch, ctx) => {
	const one = watch.keeps === 'one';
	if (watch.forgets !== undefined && !one)
		ctx.addIssue({ code: 'custom', path: ['forgets'], message: '"forgets" goes with "keeps": "one" only' });
	if (watch.patience !== undefined && watch.keeps !== 'lock')
		ctx.addIssue({ code: 'custom', path: ['patience'], message: '"patience" goes with "keeps": "lock" only' });
	if (watch.stick !== undefined && (one || watch.keeps === 'lock'))
		ctx.addIssue({ code: 'custom', path: ['stick'], message: '"stick" goes with "keeps": "all" only' });
});

const whole = (least: number, most: number) =>
	z
		.number()
		.check(({ value, issues }) => {
			if (!Number.isInteger(value) || value < least || value > most)
				issues.push({
					code: 'custom',
					input: value,
					message: `must be a whole number from ${least} to ${most}, got ${value}`,
				});
		})
		.meta({ type: 'integer', minimum: least, maximum: most });

const pressSchema = part({
	watch: ref,
	at: notNegative,
	hold: one(above0(Number.MIN_VALUE, MAX_NUMBER, ' s')).optional(),
	do: oneOf(['lock', 'next', 'previous', 'release']).optional(),
}).superRefine((press, ctx) => {
	if (press.hold !== undefined && press.do !== undefined)
		ctx.addIssue({ code: 'custom', path: ['do'], message: '"do" acts at once: it does not go with "hold"' });
});

export const runSchema = item({
	id,
	name: name.optional(),
	moment: ref.optional(),
	duration: notNegative,
	step: one(above0(Number.MIN_VALUE, MAX_NUMBER, ' s')),
	between: whole(1, 64).optional(),
	tracks: z.array(trackSchema).optional(),
	watch: z.array(watchSchema).optional(),
	swings: z.array(part({ query: ref, at: notNegative, late: notNegative.optional() })).optional(),
	presses: z.array(pressSchema).optional(),
});

const EFFECT_DEEDS = ['set', 'add', 'carriedBy', 'release'] as const;
const objectRef = part({ object: ref });

export const effectSchema = item({
	action: name,
	do: z.array(
		part({
			of: z.union([oneOf(['target', 'asker', 'scene']), objectRef], {
				error: 'expected "target", "asker", "scene" or {"object": id}',
			}),
			set: overlaySchema.optional(),
			add: z.record(name, num).optional(),
			carriedBy: z
				.union([oneOf(['target', 'asker']), objectRef], { error: 'expected "asker", "target" or {"object": id}' })
				.optional(),
			at: place.optional(),
			release: z.literal(true).optional(),
		}).superRefine((line, ctx) => {
			const deed = exactlyOne(line, EFFECT_DEEDS, 'a line of an effect', ctx);
			if (line.at !== undefined && line.carriedBy === undefined)
				ctx.addIssue({ code: 'custom', path: ['at'], message: '"at" goes with "carriedBy" only' });
			if (line.of !== 'scene') return;
			if (deed === 'carriedBy' || deed === 'release')
				ctx.addIssue({ code: 'custom', path: [deed], message: 'the scene is neither carried nor released' });
			for (const field of Object.keys(line.set ?? {}))
				if (field !== 'states')
					ctx.addIssue({ code: 'custom', path: ['set', field], message: 'of the scene only states are set' });
		}),
	),
});

const RUN_EXPECT_KEYS = ['sequence', 'at', 'hits', 'never', 'changes', 'missed', 'held', 'broken'] as const;
const AT_KEYS = ['selects', 'none', 'tie'] as const;

export const runExpectSchema = part({
	sequence: z.array(ref.nullable()).optional(),
	at: notNegative.optional(),
	selects: atLeastOne(ref, 'object').optional(),
	order: oneOf(['any', 'exact']).optional(),
	none: z.literal(true).optional(),
	tie: atLeastOne(ref, 'object').optional(),
	hits: refs.optional(),
	never: refs.optional(),
	changes: part({ max: whole(0, Number.MAX_SAFE_INTEGER) }).optional(),
	missed: whole(0, Number.MAX_SAFE_INTEGER).optional(),
	held: refs.optional(),
	broken: part({ max: whole(0, Number.MAX_SAFE_INTEGER) }).optional(),
}).superRefine((expect, ctx) => {
	const kind = exactlyOne(expect, RUN_EXPECT_KEYS, 'what a run should do', ctx);
	if (kind === null) return;
	if (kind === 'at') exactlyOne(expect, AT_KEYS, 'a check "at" a time', ctx);
	else
		for (const key of AT_KEYS)
			if (expect[key] !== undefined)
				ctx.addIssue({ code: 'custom', path: [key], message: `"${key}" goes with "at" only` });
	if (expect.order !== undefined && expect.selects === undefined && expect.hits === undefined)
		ctx.addIssue({ code: 'custom', path: ['order'], message: '"order" goes with "selects" or "hits" only' });
});

const WATCH_ONLY = new Set(['sequence', 'at', 'changes', 'held', 'broken']);

export const runCheckSchema = item({
	id,
	name: name.optional(),
	run: ref,
	watch: ref.optional(),
	swing: whole(0, Number.MAX_SAFE_INTEGER).optional(),
	expect: runExpectSchema,
}).superRefine((check, ctx) => {
	const of = exactlyOne(check, ['watch', 'swing'], 'a check of a run', ctx);
	const kind = RUN_EXPECT_KEYS.find((key) => check.expect[key] !== undefined);
	if (of === 'watch' && kind === 'hits')
		ctx.addIssue({ code: 'custom', path: ['expect', 'hits'], message: '"hits" is asked of a swing' });
	if (of === 'swing' && kind !== undefined && WATCH_ONLY.has(kind))
		ctx.addIssue({ code: 'custom', path: ['expect', kind], message: `"${kind}" is asked of a watch entry` });
});
