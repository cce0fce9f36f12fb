/** What the schemas of the file are put together from: items and parts, ids, what may be laid over an object. */
import * as z from 'zod';
import { name, num, place, refs, scale, states, vec3 } from './values';

/** Prefix by which the known keys of an object or union travel through a Zod message to `problems.ts`. */
export const KNOWN = 'known:';

const known = (names: readonly string[]) => KNOWN + names.join(',');

/** An object whose unknown keys are errors; any item may carry `extras`. */
export function item<S extends z.core.$ZodLooseShape>(shape: S) {
	const whole = { ...shape, extras: z.unknown().optional() } as S & { extras: z.ZodOptional<z.ZodUnknown> };
	return z.strictObject(whole, {
		error: (issue) => (issue.code === 'unrecognized_keys' ? known(Object.keys(whole)) : undefined),
	});
}

/** A part of an item: unknown keys are errors, and there are no `extras`. */
export function part<S extends z.core.$ZodLooseShape>(shape: S) {
	return z.strictObject(shape, {
		error: (issue) => (issue.code === 'unrecognized_keys' ? known(Object.keys(shape)) : undefined),
	});
}

export const unionError = (kinds: readonly string[]) => ({
	error: (issue: { code?: string | undefined }) => (issue.code === 'invalid_union' ? known(kinds) : undefined),
});

/** What an id looks like: 1 to 64 small letters, digits and hyphens, no hyphen first. */
export const ID_PATTERN = /^[a-z0-9][a-z0-9-]{0,63}$/;
export const id = z
	.string()
	.regex(ID_PATTERN, 'an id is 1 to 64 lower-case letters, digits and hyphens, and does not start with a hyphen');
export const ref = z.string();

export const oneOf = <const T extends readonly [string, ...string[]]>(values: T) =>
	z.enum(values, { error: (issue) => (issue.code === 'invalid_value' ? known(values) : undefined) });

/** A list of at least one. */
export const atLeastOne = <T extends z.ZodType>(inner: T, what: string) =>
	z.array(inner).min(1, `needs at least one ${what}; leave it out for any`);

/** What a moment, a key or a trace lays over an object. */
export const overlayFields = {
	position: place.optional(),
	rotation: vec3.optional(),
	scale: scale.optional(),
	active: z.boolean().optional(),
	parent: ref.nullable().optional(),
	states: states.optional(),
	layer: ref.optional(),
	tags: refs.optional(),
	side: ref.nullable().optional(),
	priority: num.optional(),
	prompt: name.nullable().optional(),
	action: name.nullable().optional(),
	shapes: z.record(z.string(), part({ enabled: z.boolean() })).optional(),
};
/** The same, as a whole. */
export const overlaySchema = part(overlayFields);
