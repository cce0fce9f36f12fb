/** What is wrong with a file, said so that a person can act on it: where (a JSON path), what, and what would be right. */
import type * as z from 'zod';
import { MAX_PROBLEMS } from './bounds';
import { describe, oneLine } from './describe';
import { KNOWN } from './schema-parts';

/** One thing that is wrong with a file, where, and what would be right. */
export interface Problem {
	/** Keys and indices from the top of the file. */
	path: (string | number)[];
	message: string;
}

/** The way to a value: keys and places, outermost first. */
export type JsonPath = (string | number)[];

/** Problems as they are found: the first ones with their words, the rest by number, so that a wrong export is refused at once. */
export class Problems {
	readonly list: Problem[] = [];
	/** Found beside those in the list. */
	more = 0;

	constructor(private readonly most = MAX_PROBLEMS) {}

	get any(): boolean {
		return this.list.length > 0;
	}

	/** @param message made only where there is room for it: looking for what may be meant takes time */
	add(path: JsonPath, message: string | (() => string)): void {
		if (this.list.length >= this.most) this.more++;
		else this.list.push({ path, message: typeof message === 'string' ? message : message() });
	}

	/** Whether another problem would only be counted. */
	get full(): boolean {
		return this.list.length >= this.most;
	}
}

/** Of a key or an id in a message. */
const MAX_WORD = 80;

/** `['scene','objects',3,'layer']` → `scene.objects[3].layer`; keys that are no plain words are quoted in brackets. */
export function formatPath(path: readonly (string | number)[]): string {
	let out = '';
	for (const step of path) {
		if (typeof step === 'number') out += `[${step}]`;
		else if (step.length <= MAX_WORD && /^[A-Za-z_][\w-]*$/.test(step)) out += out ? `.${step}` : step;
		else out += `[${JSON.stringify(oneLine(step, MAX_WORD))}]`;
	}
	return out || '(the file)';
}

/** A path as `formatPath` writes it, as its steps again. */
export const stepsOf = (path: string): JsonPath =>
	[...path.matchAll(/\[(\d+)\]|\["((?:[^"\\]|\\.)*)"\]|([^.[\]]+)/g)].map((m) =>
		m[1] !== undefined ? Number(m[1]) : (m[2] ?? m[3] ?? ''),
	);

/** One line, whatever the file holds. */
export const formatProblem = (problem: Problem): string => `${formatPath(problem.path)}: ${oneLine(problem.message)}`;

/** An id or key from a file, quoted for a message. */
export const quoted = (word: string): string => `"${oneLine(word, MAX_WORD)}"`;

/** Number of single-character edits between two words (Levenshtein), given up beyond `limit`. */
export function editDistance(a: string, b: string, limit: number): number {
	if (Math.abs(a.length - b.length) > limit) return limit + 1;
	let previous = Array.from({ length: b.length + 1 }, (_, i) => i);
	for (let i = 1; i <= a.length; i++) {
		const row = [i];
		let best = i;
		for (let j = 1; j <= b.length; j++) {
			const value = Math.min(
				(row[j - 1] ?? 0) + 1,
				(previous[j] ?? 0) + 1,
				(previous[j - 1] ?? 0) + (a[i - 1] === b[j - 1] ? 0 : 1),
			);
			row.push(value);
			best = Math.min(best, value);
		}
		if (best > limit) return limit + 1;
		previous = row;
	}
	return previous[b.length] ?? 0;
}

/** ` (did you mean "walls"?)`, or nothing where no known word is close. */
export function didYouMean(word: string, words: Iterable<string>): string {
	if (word.length > MAX_WORD) return '';
	const limit = word.length < 3 ? 1 : Math.max(2, Math.floor(word.length / 3));
	let best: string | null = null;
	let least = limit + 1;
	for (const candidate of words) {
		const distance = editDistance(word.toLowerCase(), candidate.toLowerCase(), limit);
		if (distance < least) {
			least = distance;
			best = candidate;
		}
	}
	return best === null ? '' : ` (did you mean "${best}"?)`;
}

function valueAt(data: unknown, path: readonly (string | number)[]): unknown {
	let value = data;
	for (const step of path) {
		if (typeof value !== 'object' || value === null) return undefined;
		value = (value as Record<string | number, unknown>)[step];
	}
	return value;
}

/** A Zod error in our own words. */
export function addIssues(error: z.ZodError, data: unknown, problems: Problems): void {
	for (const issue of error.issues) {
		if (problems.full) problems.more += issue.code === 'unrecognized_keys' ? issue.keys.length : 1;
		else {
			for (const { path, message } of issueProblems(issue, data, [])) problems.add(path, message);
			if (issue.code === 'unrecognized_keys') problems.more += Math.max(0, issue.keys.length - MAX_PROBLEMS);
		}
	}
}

function issueProblems(issue: z.core.$ZodIssue, data: unknown, prefix: (string | number)[]): Problem[] {
	const path = [...prefix, ...issue.path.map((step) => (typeof step === 'symbol' ? String(step) : step))];
	const known = issue.message.startsWith(KNOWN) ? issue.message.slice(KNOWN.length).split(',') : null;
	switch (issue.code) {
		case 'unrecognized_keys':
			return issue.keys
				.slice(0, MAX_PROBLEMS)
				.map((key) => ({ path: [...path, key], message: `unknown key ${quoted(key)}${didYouMean(key, known ?? [])}` }));
		case 'invalid_type': {
			const value = valueAt(data, path);
			if (value === undefined) return [{ path, message: `is missing; expected ${article(issue.expected)}` }];
			return [{ path, message: `expected ${article(issue.expected)}, got ${describe(value)}` }];
		}
		case 'invalid_value': {
			const value = valueAt(data, path);
			const values = known ?? issue.values.map(String);
			if (!known && !issue.message.startsWith('Invalid')) return [{ path, message: issue.message }];
			const list = values.map((v) => JSON.stringify(v)).join(', ');
			return [
				{
					path,
					message: `expected one of ${list}, got ${describe(value)}${typeof value === 'string' ? didYouMean(value, values) : ''}`,
				},
			];
		}
		case 'invalid_union': {
			const value = valueAt(data, path);
			if (known) {
				const list = known.map((v) => JSON.stringify(v)).join(', ');
				if (typeof value === 'object' || issue.path.length === 0) {
					return [{ path, message: `expected an object with one of ${list} as its kind, got ${describe(value)}` }];
				}
				const hint = typeof value === 'string' ? didYouMean(value, known) : '';
				return [
					{
						path,
						message:
							value === undefined
								? `is missing; expected one of ${list}`
								: `expected one of ${list}, got ${describe(value)}${hint}`,
					},
				];
			}
			// Say what is wrong with the branch that came nearest: the one with the fewest complaints about keys.
			const branches = issue.errors.filter((errors) => errors.length > 0);
			const nearest =
				branches.find((errors) => !errors.some((e) => e.code === 'unrecognized_keys' || e.code === 'invalid_union')) ??
				branches[0];
			if (nearest && typeof value === 'object' && value !== null && !Array.isArray(value)) {
				const chosen = 'like' in value ? (branches.at(-1) ?? nearest) : (branches[0] ?? nearest);
				return chosen.flatMap((inner) => issueProblems(inner, data, path));
			}
			if (nearest && Array.isArray(value)) {
				const inner = branches.flat().filter((e) => e.path.length > 0 || e.code === 'too_small');
				if (inner.length > 0) return inner.flatMap((e) => issueProblems(e, data, path));
			}
			return [{ path, message: `${issue.message}, got ${describe(value)}` }];
		}
		case 'too_small':
		case 'too_big':
			if (issue.origin === 'array' && issue.message.startsWith('Too')) {
				const count = Array.isArray(valueAt(data, path)) ? (valueAt(data, path) as unknown[]).length : 0;
				const wanted = issue.code === 'too_small' ? issue.minimum : issue.maximum;
				return [{ path, message: `expected ${wanted} entries, got ${count}` }];
			}
			return [{ path, message: `${issue.message}, got ${describe(valueAt(data, path))}` }];
		default:
			return [{ path, message: issue.message }];
	}
}

const article = (type: string): string =>
	({
		array: 'a list',
		tuple: 'a list',
		object: 'an object',
		number: 'a finite number',
		int: 'a whole number',
		string: 'text',
		boolean: 'true or false',
		record: 'an object',
	})[type] ?? type;
