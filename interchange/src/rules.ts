/** Naming rules: what the names of a level say of its nodes. Kept in the project under `extras.import`. */
import {
	addIssues,
	formatProblem,
	ID_PATTERN,
	item,
	oneOf,
	Problems,
	type Project,
	part,
	quoted,
} from '@frelk/core/schema';
import * as z from 'zod';
import { globMatcher } from './glob';
import { LevelError, type LevelNode } from './level';

const id = z
	.string()
	.regex(ID_PATTERN, 'an id is 1 to 64 lower-case letters, digits and hyphens, and does not start with a hyphen');
const text = z.string().max(200, 'at most 200 characters');
const glob = z.string().min(1, 'is empty; "*" is any').max(500, 'at most 500 characters');

/** Ways a node becomes a shape; `file`: the file's own colliders, and its mesh where it has none. */
export const SHAPE_WAYS = ['file', 'box', 'hull', 'mesh'] as const;
export type ShapeWay = (typeof SHAPE_WAYS)[number];

const WHEN = ['name', 'path', 'extra'] as const;

const ruleSchema = item({
	when: part({
		name: glob.optional(),
		path: glob.optional(),
		extra: z.string().min(1, 'is empty; it names a key of the extras').max(200).optional(),
		is: glob.optional(),
	}).superRefine((when, ctx) => {
		const given = WHEN.filter((key) => when[key] !== undefined);
		if (given.length !== 1)
			ctx.addIssue({
				code: 'custom',
				message: `needs exactly one of ${WHEN.join(', ')}; this one has ${given.join(' and ') || 'none'}`,
			});
		if (when.is !== undefined && when.extra === undefined)
			ctx.addIssue({ code: 'custom', path: ['is'], message: '"is" goes with "extra" only' });
	}),
	layer: id.optional(),
	tags: z.array(id).optional(),
	shape: oneOf(SHAPE_WAYS).optional(),
	role: oneOf(['solid', 'sensor']).optional(),
	prompt: text.optional(),
	action: text.optional(),
	leave: z.boolean().optional(),
});

const rulesSchema = item({
	layer: id.optional(),
	shape: oneOf(SHAPE_WAYS).optional(),
	rules: z.array(ruleSchema).max(1000, 'at most 1000 rules').optional(),
});

/** A rule: all nodes that match, and what they become. */
export type NamingRule = z.infer<typeof ruleSchema>;
/** The rules of a level, in their order, with the layer and the shape of what no rule says more of. */
export type NamingRules = z.infer<typeof rulesSchema>;

/**
 * @param data parsed JSON
 * @param at what it was read from, for messages
 * @throws LevelError with every problem, a line each
 */
export function checkRules(data: unknown, at: string): NamingRules {
	const parsed = rulesSchema.safeParse(data);
	if (parsed.success) return parsed.data;
	const problems = new Problems();
	addIssues(parsed.error, data, problems);
	throw new LevelError(problems.list.map((p) => `${at}: ${formatProblem(p)}`).join('\n'));
}

/** The rules kept in a project. @throws LevelError where what lies there is none */
export function rulesIn(project: Project | null): NamingRules {
	const extras = project?.extras as Record<string, unknown> | undefined;
	const found = typeof extras === 'object' && extras !== null ? extras.import : undefined;
	return found === undefined ? {} : checkRules(found, `${project?.id}: extras.import`);
}

/** @returns the project with rules kept in it */
export function withRules(project: Project, rules: NamingRules): Project {
	const { extras } = project;
	if (extras !== undefined && (typeof extras !== 'object' || extras === null || Array.isArray(extras)))
		throw new LevelError(
			`${project.id}: extras: expected an object to keep the rules in, got ${quoted(JSON.stringify(extras))}`,
		);
	return { ...project, extras: { ...extras, import: rules } };
}

type Matcher = (node: Pick<LevelNode, 'name' | 'path' | 'extras'>) => boolean;

const matcherOf = ({ when }: NamingRule): Matcher => {
	if (when.name !== undefined) {
		const is = globMatcher(when.name, false);
		return (node) => is(node.name);
	}
	if (when.path !== undefined) {
		const is = globMatcher(when.path, true);
		return (node) => is(node.path);
	}
	const is = when.is === undefined ? null : globMatcher(when.is, false);
	return ({ extras }) => {
		if (typeof extras !== 'object' || extras === null || !Object.hasOwn(extras, when.extra as string)) return false;
		const value = (extras as Record<string, unknown>)[when.extra as string];
		if (is === null) return value !== false && value !== null;
		return is(typeof value === 'string' ? value : JSON.stringify(value));
	};
};

/** What the rules make of a node. */
export interface Made {
	/** Places of the rules that match, in their order. */
	rules: number[];
	leave: boolean;
	layer: string | null;
	tags: string[];
	shape: ShapeWay;
	role: 'solid' | 'sensor' | null;
	prompt: string | null;
	action: string | null;
}

/** Applies rules in their order: what a later one says takes the place of what an earlier one said; tags add up. */
export function madeBy(rules: NamingRules, nodes: readonly LevelNode[]): Made[] {
	const list = rules.rules ?? [];
	const matchers = list.map(matcherOf);
	return nodes.map((node) => {
		const made: Made = {
			rules: [],
			leave: false,
			layer: node.layer ?? rules.layer ?? null,
			tags: [...node.tags],
			shape: rules.shape ?? 'file',
			role: null,
			prompt: null,
			action: null,
		};
		matchers.forEach((matches, i) => {
			if (!matches(node)) return;
			const rule = list[i] as NamingRule;
			made.rules.push(i);
			made.leave = rule.leave ?? made.leave;
			made.layer = rule.layer ?? made.layer;
			made.shape = rule.shape ?? made.shape;
			made.role = rule.role ?? made.role;
			made.prompt = rule.prompt ?? made.prompt;
			made.action = rule.action ?? made.action;
			for (const tag of rule.tags ?? []) if (!made.tags.includes(tag)) made.tags.push(tag);
		});
		return made;
	});
}
