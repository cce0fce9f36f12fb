/**
 * Rows of the browser's store as they are read: what lies there may be another version's, half written or somebody else's. What is derived
 * is dropped where it is not what it should be, and made anew; what is work is kept and told of.
 */
import * as z from 'zod';
import { db } from './db';

const text = z.string().max(10_000);
const time = z.number().min(0).max(8.64e15);
const count = z.int().min(0);

/** A number for the stylesheet's tone, and paths as SVG writes them: nothing that could be anything else. */
const path = z
	.string()
	.max(5_000_000)
	.regex(/^[\d\s.,\-+eMLHVCQAZz]*$/);

const pictureRow = z.object({
	key: text,
	version: count,
	lines: z.array(z.object({ hue: z.number(), d: path, fill: path.optional() })).max(50_000),
	trouble: text.optional(),
	standing: z.object({ name: text, hold: count, fail: count }).optional(),
});

const runRow = z.object({
	id: count,
	key: text,
	at: time,
	hold: count,
	failing: z.array(z.object({ check: text, reason: text })),
	after: text.nullish(),
	ran: z.array(text),
});

const change = z.object({
	path: z.array(text),
	value: z.unknown().optional(),
	after: text.nullish(),
	order: z.array(text).optional(),
});
const steps = z.array(z.object({ label: text, changes: z.array(change) }));
const historyRow = z.object({ key: text, stamp: text, past: steps, future: steps });

const traceRow = z.object({
	key: text,
	file: z.custom<File>((value) => value instanceof Blob && typeof (value as File).name === 'string'),
});

const diskRow = z.object({ key: text, name: text, hash: text, base: z.string() });

/** Tables of what can be made again. */
const DERIVED = { pictures: pictureRow, runs: runRow, undo: historyRow, traces: traceRow, disks: diskRow } as const;
type Derived = keyof typeof DERIVED;

/**
 * @param table of what can be made again
 * @param row as it was read
 * @returns the row where it is one; null where it is none, which is dropped from the store
 */
export function soundRow<T extends Derived>(
	table: T,
	key: string | number,
	row: unknown,
): z.infer<(typeof DERIVED)[T]> | null {
	if (row === undefined) return null;
	// The row itself and not a copy of it: what is a file stays one.
	if (DERIVED[table].safeParse(row).success) return row as z.infer<(typeof DERIVED)[T]>;
	console.warn(`a damaged row of ${table} is dropped`, key);
	(db()[table] as unknown as { delete: (key: string | number) => PromiseLike<void> })
		.delete(key)
		.then(undefined, (error: unknown) => console.error('a damaged row could not be dropped', error));
	return null;
}

/** What a list tells of a project, field by field: one that is of another kind is left out, and the others stand. */
const FIELDS = {
	name: text,
	changed: time,
	version: count,
	kind: z.enum(['space', 'flat']),
	objects: count,
	queries: count,
	by: text,
	deleted: time,
} as const;

export function soundEntry(row: unknown): { [K in keyof typeof FIELDS]?: z.infer<(typeof FIELDS)[K]> } {
	const out: Record<string, unknown> = {};
	if (typeof row !== 'object' || row === null) return out;
	for (const [key, schema] of Object.entries(FIELDS)) {
		const value = (row as Record<string, unknown>)[key];
		if (value !== undefined && schema.safeParse(value).success) out[key] = value;
	}
	return out;
}

const versionRow = z.object({ id: count, key: text, at: time, name: text });

/** Whether a kept version can be listed; its project is held against the rules when it is used. */
export const isVersion = (row: unknown): boolean => versionRow.safeParse(row).success;
