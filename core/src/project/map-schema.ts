/** Maps and their checks, as Zod schemas. */
import * as z from 'zod';
import { MAX_COORDINATE, MAX_NUMBER } from './bounds';
import { atLeastOne, id, item, oneOf, part, ref } from './schema-parts';
import { above0, name, notNegative, num, one, pair, vec2 } from './values';

/** The kinds of map: every cursor position, every place to stand, every direction. */
const MAP_KINDS = ['cursor', 'floor', 'aim'] as const;

const FIELDS = {
	cursor: ['cell'],
	floor: ['area', 'every', 'headings', 'y', 'clear'],
	aim: ['yaw', 'pitch', 'every'],
} as const;
const NEEDED = { cursor: [], floor: ['area', 'every'], aim: ['yaw', 'pitch', 'every'] } as const;
const OWN = ['cell', 'area', 'every', 'headings', 'y', 'clear', 'yaw', 'pitch'] as const;

const whole = z
	.number()
	.check(({ value, issues }) => {
		if (!Number.isInteger(value) || value < 1 || value > MAX_NUMBER)
			issues.push({ code: 'custom', input: value, message: `must be a whole number from 1, got ${value}` });
	})
	.meta({ type: 'integer', minimum: 1, maximum: MAX_NUMBER });
const corner = pair({ least: -MAX_COORDINATE, most: MAX_COORDINATE, unit: ' m' });

export const mapSchema = item({
	id,
	name: name.optional(),
	query: ref,
	kind: oneOf(MAP_KINDS),
	moment: ref.optional(),
	cell: whole.optional(),
	area: part({ min: corner, max: corner }).optional(),
	every: one(above0(1e-6, MAX_NUMBER)).optional(),
	headings: whole.optional(),
	y: num.optional(),
	clear: part({
		layers: z.union([z.literal('all'), atLeastOne(ref, 'layer')], {
			error: 'expected "all" or a list of at least one layer id',
		}),
	}).optional(),
	yaw: vec2.optional(),
	pitch: vec2.optional(),
}).superRefine((map, ctx) => {
	const say = (path: (string | number)[], message: string) => ctx.addIssue({ code: 'custom', path, message });
	const kind = map.kind as keyof typeof FIELDS | undefined;
	if (kind === undefined || !(kind in FIELDS)) return;
	for (const field of OWN)
		if (map[field] !== undefined && !(FIELDS[kind] as readonly string[]).includes(field))
			say([field], `does not go with a map of the kind ${kind}; it has ${FIELDS[kind].join(', ')}`);
	for (const field of NEEDED[kind])
		if (map[field] === undefined) say([field], `is missing; a map of the kind ${kind} needs it`);
	if (map.area)
		for (const k of [0, 1] as const)
			if (map.area.min[k] > map.area.max[k])
				say(['area', 'max', k], `must not be less than min, ${map.area.min[k]}; got ${map.area.max[k]}`);
	for (const field of ['yaw', 'pitch'] as const) {
		const range = map[field];
		if (range && range[0] > range[1]) say([field, 1], `must not be less than the first, ${range[0]}; got ${range[1]}`);
	}
	for (const k of [0, 1] as const)
		if (map.pitch && Math.abs(map.pitch[k]) > 90) say(['pitch', k], `must be from −90 to 90, got ${map.pitch[k]}`);
});

const SHARE = z
	.number()
	.check(({ value, issues }) => {
		if (!(value >= 0 && value <= 1))
			issues.push({ code: 'custom', input: value, message: `must be a share from 0 to 1, got ${value}` });
	})
	.meta({ minimum: 0, maximum: 1 });
const MAP_EXPECT = ['share', 'circle', 'never', 'tied'] as const;

export const mapExpectSchema = part({
	object: ref.optional(),
	share: part({ min: SHARE.optional(), max: SHARE.optional() }).optional(),
	circle: part({ min: notNegative }).optional(),
	never: atLeastOne(ref, 'object').optional(),
	tied: part({ max: SHARE }).optional(),
}).superRefine((expect, ctx) => {
	const say = (path: string[], message: string) => ctx.addIssue({ code: 'custom', path, message });
	const given = MAP_EXPECT.filter((key) => expect[key] !== undefined);
	if (given.length !== 1)
		say([], `needs exactly one of ${MAP_EXPECT.join(', ')}; this one has ${given.join(' and ') || 'none'}`);
	const of = expect.share !== undefined || expect.circle !== undefined;
	if (of && expect.object === undefined) say(['object'], 'is missing; a share or a circle is an object’s');
	if (!of && expect.object !== undefined) say(['object'], '"object" goes with "share" or "circle" only');
	if (expect.share && expect.share.min === undefined && expect.share.max === undefined)
		say(['share'], 'needs min, max or both');
});

export const mapCheckSchema = item({ id, name: name.optional(), map: ref, expect: mapExpectSchema });
