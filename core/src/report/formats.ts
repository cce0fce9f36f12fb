/** The formats Frelk reads and prints as JSON Schemas, from the same Zod schemas that read them; published in docs/schemas. */
import * as z from 'zod';
import { mapCheckSchema, mapExpectSchema } from '../project/map-schema';
import { runCheckSchema, runExpectSchema } from '../project/run-schema';
import { conditionSchema, expectSchema, FORMAT, projectSchema, RULES, stillCheckSchema } from '../project/schema';
import { STAGES } from '../query/types';
import { TRACE_FORMAT, traceHeadSchema, traceLineSchema } from '../trace/schema';
import { withMeanings } from './meanings';

const text = z.string();
const ids = z.array(text);
const point = z.tuple([z.number(), z.number(), z.number()]);
const stage = z.enum(STAGES);
const rule = z.enum([...RULES, 'stands-for'] as [string, ...string[]]);

const selected = z.strictObject({
	object: text,
	through: text.nullable(),
	shape: text.nullable(),
	distance: z.number(),
	point,
	normal: point.nullable(),
	assisted: z.boolean(),
	action: text.nullable(),
	prompt: text.nullable(),
	box: z.number().int().nullable(),
	time: z.number().optional(),
	seen: z.number().int().optional(),
	of: z.number().int().optional(),
	depth: z.number().optional(),
});

const verdict = z.strictObject({
	object: text,
	stage,
	margin: z.number().optional(),
	beyond: z.number().optional(),
	met: z.number().optional(),
	layers: ids.optional(),
	missing: ids.optional(),
	forbidden: ids.optional(),
	stance: z.enum(['hostile', 'neutral', 'friendly']).optional(),
	condition: conditionSchema.optional(),
	value: z.union([z.boolean(), z.number()]).nullable().optional(),
	role: z.enum(['solid', 'sensor']).optional(),
	by: text.optional(),
	rule: rule.optional(),
	seen: z.number().int().optional(),
	of: z.number().int().optional(),
	marks: z.array(text.nullable()).optional(),
});

const note = z.union([
	z.strictObject({ code: z.literal('starts-inside'), object: text }),
	z.strictObject({ code: z.literal('disabled') }),
	z.strictObject({ code: z.literal('condition'), of: z.enum(['asker', 'scene']), state: text }),
	z.strictObject({ code: z.literal('waiting'), on: text }),
	z.strictObject({ code: z.literal('zero-direction') }),
	z.strictObject({ code: z.literal('out-of-reach'), on: z.literal('arc'), speed: z.number() }),
	z.strictObject({ code: z.literal('contested'), object: text, by: text }),
]);

const answer = z.strictObject({
	query: text,
	status: z.enum(['selected', 'none', 'tie', 'off', 'waiting']),
	selected: z.array(selected),
	tied: ids,
	notes: z.array(note),
	verdicts: z.array(verdict),
	room: z
		.strictObject({ free: z.boolean(), bears: z.number().int().optional(), of: z.number().int().optional() })
		.optional(),
});

const answers = z.strictObject({
	format: z.literal('frelk-answers/1'),
	project: text,
	moment: text.nullable(),
	answers: z.array(answer),
});

const checks = z.strictObject({
	format: z.literal('frelk-checks/1'),
	projects: z.array(
		z.strictObject({
			project: text,
			checks: z.array(
				z.union([
					z.strictObject({
						id: text,
						query: text,
						moment: text.nullable(),
						pass: z.boolean(),
						wanted: expectSchema,
						got: answer,
						reason: text,
					}),
					z.strictObject({
						id: text,
						run: text,
						watch: text.nullable().optional(),
						swing: z.number().int().nullable().optional(),
						moment: text.nullable(),
						pass: z.boolean(),
						wanted: runExpectSchema,
						got: z.unknown(),
						reason: text,
					}),
					z.strictObject({
						id: text,
						map: text,
						moment: text.nullable(),
						pass: z.boolean(),
						wanted: mapExpectSchema,
						got: z.union([z.number(), ids]),
						reason: text,
					}),
				]),
			),
		}),
	),
	passed: z.number().int(),
	failed: z.number().int(),
});

const at = { k: z.number().int(), t: z.number() };
const instead = z.strictObject({
	object: text,
	through: text.nullable(),
	stage,
	by: text.nullable(),
	margin: z.number().nullable(),
});
const event = z.union([
	z.strictObject({ ...at, kind: z.enum(['leave', 'enter', 'lose', 'gain']), watch: text, object: text }),
	z.strictObject({
		...at,
		kind: z.literal('choose'),
		watch: text,
		selected: ids,
		tied: ids,
		instead: instead.nullable(),
	}),
	z.strictObject({
		...at,
		kind: z.literal('hit'),
		swing: z.number().int(),
		object: text,
		through: text.nullable(),
		box: z.number().int(),
	}),
	z.strictObject({ ...at, kind: z.literal('undecided'), swing: z.number().int(), tied: ids }),
	z.strictObject({ ...at, kind: z.literal('press'), watch: text, press: z.number().int().optional(), objects: ids }),
	z.strictObject({ ...at, kind: z.literal('held'), watch: text, press: z.number().int(), objects: ids }),
	z.strictObject({
		...at,
		kind: z.literal('broken'),
		watch: text,
		press: z.number().int(),
		objects: ids,
		lasted: z.number(),
		instead: instead.nullable(),
	}),
	z.strictObject({
		...at,
		kind: z.literal('lock'),
		watch: text,
		press: z.number().int(),
		do: z.enum(['lock', 'next', 'previous', 'release']),
		from: text.nullable(),
		to: text.nullable(),
	}),
	z.strictObject({
		...at,
		kind: z.literal('refused'),
		action: text,
		line: z.number().int(),
		why: z.enum(['no-asker', 'cycle']),
	}),
	z.strictObject({ ...at, kind: z.literal('refused'), object: text, why: z.literal('cycle') }),
	z.strictObject({ kind: z.literal('missed'), watch: text, object: text, after: z.number().int(), t: z.number() }),
	z.strictObject({
		kind: z.literal('missed'),
		swing: z.number().int(),
		object: text,
		after: z.number().int(),
		t: z.number(),
	}),
]);

const runs = z.strictObject({
	format: z.literal('frelk-runs/1'),
	project: text,
	runs: z.array(
		z.strictObject({
			run: text,
			steps: z.number().int(),
			events: z.array(event),
			watch: z.array(
				z.strictObject({
					id: text,
					changes: z.number().int(),
					shortest: z.number().nullable(),
					tied: z.number(),
					unlike: z.number().int().nullable(),
					held: z.number().int().optional(),
					broken: z.number().int().optional(),
					unfinished: z.number().int().optional(),
				}),
			),
			swings: z.array(
				z.strictObject({ hits: z.number().int(), undecided: z.number().int(), missed: z.number().int() }),
			),
		}),
	),
});

const maps = z.strictObject({
	format: z.literal('frelk-maps/1'),
	project: text,
	maps: z.array(
		z.strictObject({
			map: text,
			columns: z.number().int(),
			rows: z.number().int(),
			headings: z.number().int().nullable(),
			objects: ids,
			cells: z.array(z.number().int().min(-4)),
			figures: z.strictObject({
				objects: z.array(
					z.strictObject({ object: text, share: z.number(), first: z.number(), circle: z.number().nullable() }),
				),
				tied: z.number(),
				never: z.array(
					z.strictObject({
						object: text,
						stage,
						margin: z.number().nullable(),
						over: z.strictObject({ stage, margin: z.number().nullable() }).nullable(),
					}),
				),
			}),
		}),
	),
});

const patch = z.array(
	z.union([
		z.strictObject({ op: z.enum(['add', 'replace', 'test']), path: text, value: z.unknown() }),
		z.strictObject({ op: z.literal('remove'), path: text }),
		z.strictObject({ op: z.enum(['move', 'copy']), path: text, from: text }),
	]),
);

const why = z.strictObject({
	format: z.literal('frelk-why/1'),
	project: text,
	query: text,
	moment: text.nullable(),
	object: text,
	verdict: verdict.nullable(),
	remedies: z.array(
		z.strictObject({
			kind: text,
			words: text,
			patch,
			size: z.number(),
			unit: text,
			changes: z.array(z.strictObject({ query: text, moment: text.nullable() })),
			turns: ids,
			mends: ids,
		}),
	),
	nearest: z.strictObject({ words: z.array(text), verdict: verdict.nullable() }).optional(),
});

const findings = z.strictObject({
	format: z.literal('frelk-findings/1'),
	projects: z.array(
		z.strictObject({
			project: text,
			findings: z.array(
				z.strictObject({
					rule: text,
					level: z.enum(['error', 'warning', 'note']),
					message: text,
					path: text,
					related: ids,
					patch: patch.optional(),
				}),
			),
		}),
	),
});

const compared = z.strictObject({
	line: z.number().int(),
	place: z.number().int(),
	t: z.number(),
	query: text,
	result: z.enum(['same', 'other', 'unknown']),
	got: ids,
	status: answer.shape.status.nullable(),
	selected: ids,
	tied: ids,
	verdicts: z.array(verdict),
	unknown: ids,
	note: text.nullable(),
	reason: text,
	words: text,
});

const replay = z.strictObject({
	format: z.literal('frelk-replay/1'),
	project: text,
	lines: z.number().int(),
	asked: z.number().int(),
	same: z.number().int(),
	other: z.number().int(),
	unknown: z.number().int(),
	queries: z.array(z.strictObject({ query: text, asked: z.number().int(), differ: z.number().int() })),
	strangers: ids,
	differences: z.array(compared),
});

const quick = z.strictObject({
	query: text,
	moment: text.nullable(),
	status: answer.shape.status,
	objects: ids,
	action: text.nullable(),
});
const change = z.strictObject({
	query: text,
	moment: text.nullable(),
	before: quick.nullable(),
	after: quick.nullable(),
});
const object = { id: text, path: text };

const imported = z.strictObject({
	format: z.literal('frelk-import/1'),
	project: text,
	level: text,
	came: z.array(z.strictObject(object)),
	went: z.array(z.strictObject({ ...object, kept: z.boolean() })),
	moved: z.array(z.strictObject({ ...object, by: z.number() })),
	changed: z.array(z.strictObject({ ...object, what: ids })),
	kept: z.array(z.strictObject({ ...object, what: text })),
	leftOut: ids,
	unmatched: ids,
	matches: z.array(z.number().int()),
	runs: z.array(z.strictObject({ id: text, name: text, tracks: z.number().int(), keys: z.number().int() })),
	notes: z.array(z.strictObject({ path: text, message: text })),
	answers: z.array(change),
	written: z.boolean(),
});

const outcome = z.enum(['holds', 'fails']).nullable();
const found = z.array(findings.shape.projects.element.shape.findings.element);
const share = z.strictObject({ object: text, share: z.number(), first: z.number(), circle: z.number().nullable() });
const says = z.union([z.strictObject({ object: text }), z.enum(['nothing', 'a tie', 'off', 'no place'])]);

const diff = z.strictObject({
	format: z.literal('frelk-diff/1'),
	files: z.array(
		z.strictObject({
			file: text,
			old: text.nullable(),
			new: text.nullable(),
			edits: z.array(z.strictObject({ kind: text, ids, moment: text.nullable(), words: text })),
			answers: z.array(change.extend({ lost: verdict.nullable() })),
			checks: z.array(z.strictObject({ check: text, before: outcome, after: outcome })),
			runs: z.array(
				z.strictObject({
					run: text,
					t: z.number(),
					before: z.unknown(),
					after: z.unknown(),
					figures: z.array(
						z.strictObject({
							of: text,
							what: z.enum(['changes', 'missed']),
							before: z.number(),
							after: z.number(),
						}),
					),
				}),
			),
			maps: z.array(
				z.strictObject({
					map: text,
					differ: z.number().int().nullable(),
					answers: z.number().int(),
					handed: z.array(z.strictObject({ from: says, to: says, answers: z.number().int() })),
					figures: z.array(z.strictObject({ object: text, before: share.nullable(), after: share.nullable() })),
					neverNow: ids,
					neverBefore: ids,
				}),
			),
			findings: z.strictObject({ came: found, went: found }).nullable(),
		}),
	),
});

const optional = (kind: z.ZodType, ...keys: string[]) => Object.fromEntries(keys.map((key) => [key, kind.optional()]));
const table = z.array(
	z.strictObject({
		id: text,
		layer: text,
		...optional(text, 'name', 'parent', 'tags', 'side', 'prompt', 'action', 'stands-for'),
		active: z.boolean(),
		...Object.fromEntries(
			['x', 'y', 'z', 'yaw', 'pitch', 'roll', 'scale-x', 'scale-y', 'scale-z'].map((key) => [key, z.number()]),
		),
		priority: z.number().optional(),
	}),
);

const mask = z.number().int().min(0).max(0xffffffff);
const constants = z.strictObject({
	format: z.literal('frelk-constants/1'),
	project: text,
	layers: z.array(z.strictObject({ id: text, bit: z.number().int().min(0).max(31), mask })),
	tags: z.array(z.strictObject({ id: text, index: z.number().int(), under: text.nullable() })),
	queries: z.array(
		z.strictObject({
			id: text,
			kind: z.enum(['ray', 'pick', 'sweep', 'overlap', 'hitbox']),
			layers: mask,
			blockers: mask,
			take: z.union([z.number().int(), z.literal('all')]),
			...optional(z.number(), 'length', 'radius', 'arcSpeed', 'arcGravity', 'arcTime', 'arcStep'),
			...optional(z.number(), 'rangeMin', 'rangeMax', 'viewWithin', 'assistWithin'),
			assistBy: z.enum(['angle', 'distance', 'pixels']).optional(),
			rules: z.array(z.strictObject({ rule: z.enum(RULES), slack: z.number() })),
		}),
	),
});

type JsonSchema = Record<string, unknown>;

const converted = (schema: z.ZodType): JsonSchema =>
	z.toJSONSchema(schema, { unrepresentable: 'any', io: 'input', reused: 'inline' }) as JsonSchema;

/** A schema within another says no dialect of its own. */
const inner = (schema: z.ZodType): JsonSchema => {
	const { $schema: _, ...rest } = converted(schema);
	return rest;
};

function titled(schema: JsonSchema, title: string, description: string): JsonSchema {
	const { $schema, ...rest } = schema;
	return { $schema, title, description, ...rest };
}

/**
 * @returns each format's schema by the name of its file: draft 2020-12. What a schema cannot say (that ids are declared, that nothing
 * hangs on itself) `frelk validate` says
 */
export function jsonSchemas(): Record<
	| 'project'
	| 'answers'
	| 'checks'
	| 'runs'
	| 'maps'
	| 'trace'
	| 'why'
	| 'findings'
	| 'replay'
	| 'diff'
	| 'import'
	| 'table'
	| 'constants',
	JsonSchema
> {
	const project = converted(projectSchema);
	(project.properties as Record<string, JsonSchema>).checks = {
		type: 'array',
		items: { anyOf: [inner(stillCheckSchema), inner(runCheckSchema), inner(mapCheckSchema)] },
	};
	withMeanings(project);
	const dialect = { $schema: project.$schema };
	return {
		project: titled(project, FORMAT, 'A project file: a scene, the queries asked of it, moments, runs and checks.'),
		answers: titled(converted(answers), 'frelk-answers/1', 'What frelk answer --json prints.'),
		checks: titled(converted(checks), 'frelk-checks/1', 'What frelk check --json and POST /api/check print.'),
		runs: titled(converted(runs), 'frelk-runs/1', 'What frelk run --json prints.'),
		maps: titled(converted(maps), 'frelk-maps/1', 'What frelk map --json prints.'),
		why: titled(converted(why), 'frelk-why/1', 'What frelk why --json prints; each patch as RFC 6902 has it.'),
		findings: titled(converted(findings), 'frelk-findings/1', 'What frelk findings --json prints.'),
		replay: titled(converted(replay), 'frelk-replay/1', 'What frelk replay --json prints.'),
		diff: titled(converted(diff), 'frelk-diff/1', 'What frelk diff --json prints.'),
		import: titled(converted(imported), 'frelk-import/1', 'What frelk import --json prints.'),
		table: titled(converted(table), 'frelk export --table', 'The objects of a project, a row each.'),
		constants: titled(converted(constants), 'frelk-constants/1', 'What frelk constants --lang json prints.'),
		trace: titled(
			{ ...dialect, anyOf: [inner(traceHeadSchema), inner(traceLineSchema)] },
			TRACE_FORMAT,
			'One line of a trace: its first, which names the format, or what the game saw and took at a time.',
		),
	};
}
