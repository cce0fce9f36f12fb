/** The types written by hand say what the schemas say: each can be given where the other is asked for. */
import { expectTypeOf, it } from 'vitest';
import type * as z from 'zod';
import type { fileSchema } from './schema';
import type { Project } from './types';

/** With every field there: one that only one side has is seen. */
type Whole<T> = T extends object ? { [K in keyof T]-?: Whole<Exclude<T[K], undefined>> } : T;
/** True where each can be given for the other. */
type Both<A, B> = [A] extends [B] ? ([B] extends [A] ? true : false) : false;
type Same<A, B> = Both<A, B> extends true ? Both<Whole<A>, Whole<B>> : false;

it('from the file as a whole to the last field in it', () => {
	expectTypeOf<Same<Project, z.infer<typeof fileSchema>>>().toEqualTypeOf<true>();
});
