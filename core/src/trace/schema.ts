/** The lines of a trace, `frelk-trace/1`: what a running game saw and what it took, one JSON object a line. */
import * as z from 'zod';
import { id, overlayFields, part, ref } from '../project/schema-parts';
import { num, place, states, textUpTo, vec2, vec3 } from '../project/values';

/** The `format` a trace's first line names. */
export const TRACE_FORMAT = 'frelk-trace/1';

/** Characters of a note that a game leaves beside a question. */
const MAX_TRACE_NOTE = 1000;

export const traceHeadSchema = part({
	format: z.literal(TRACE_FORMAT, {
		error: (issue) =>
			`expected "${TRACE_FORMAT}", the format this program reads; got ${JSON.stringify(issue.input) ?? 'nothing'}`,
	}),
	project: id.optional(),
	clock: z.literal('s', { error: () => 'expected "s": times are in seconds of play' }).optional(),
	extras: z.unknown().optional(),
});

const world = z.boolean().optional();

export const askedSchema = part({
	query: ref,
	got: z.array(ref).nullable(),
	note: textUpTo(MAX_TRACE_NOTE).optional(),
	extras: z.unknown().optional(),
});

export const traceLineSchema = part({
	t: num,
	objects: z.record(z.string(), part({ ...overlayFields, world })).optional(),
	cameras: z.record(z.string(), part({ position: place.optional(), rotation: vec3.optional(), world })).optional(),
	states: states.optional(),
	queries: z.record(z.string(), part({ cursor: vec2.optional(), enabled: z.boolean().optional() })).optional(),
	asked: z.array(askedSchema).optional(),
	extras: z.unknown().optional(),
});

/** The first line of a trace. */
export type TraceHead = z.infer<typeof traceHeadSchema>;
/** What a game saw at a time, and what it asked and got. Places in metres, turns in degrees, `t` in seconds. */
export type TraceLine = z.infer<typeof traceLineSchema>;
/** One query a game asked, and the ids it got. */
export type Asked = z.infer<typeof askedSchema>;
