/** Reading a project file: text to JSON to a checked project, or a list of problems. Nothing is thrown for bad input. */
import { type ParseError, parse, printParseErrorCode } from 'jsonc-parser';
import { type Problem, problemsOf } from './problems';
import { checkReferences } from './references';
import { checkRules } from './rules';
import { FORMAT, type Project, projectSchema } from './schema';

export type Reading = { ok: true; project: Project } | { ok: false; problems: Problem[] };

/** Deeper nesting than any project needs; refused before anything walks it recursively. */
const MAX_DEPTH = 64;

const failed = (problem: Problem): Reading => ({ ok: false, problems: [problem] });

/** @param text a project file's whole text */
export function readProject(text: string): Reading {
	if (text.trim() === '') return failed({ path: [], message: 'is empty; a project is a JSON object' });
	let data: unknown;
	try {
		data = JSON.parse(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);
	} catch (error) {
		return failed({ path: [], message: `is not JSON: ${placeOf(error as Error, text)}` });
	}
	return checkProject(data);
}

/** Line and column at which the text stops being JSON: engines differ in what they tell, so a second parser is asked. */
function placeOf(error: Error, text: string): string {
	const errors: ParseError[] = [];
	try {
		parse(text, errors, { disallowComments: true });
	} catch {
		// Nested too deep for it: the engine's own words have to do.
	}
	const first = errors[0];
	if (!first) return error.message;
	const before = text.slice(0, first.offset);
	const line = before.split('\n').length;
	const column = before.length - before.lastIndexOf('\n');
	const found = text.slice(first.offset, first.offset + Math.max(1, Math.min(first.length, 20)));
	const what = printParseErrorCode(first.error)
		.replace(/([a-z])([A-Z])/g, '$1 $2')
		.toLowerCase();
	return `line ${line}, column ${column}: ${what}${found === '' ? ', but the text ends' : ` at ${JSON.stringify(found)}`}`;
}

/**
 * @param data parsed JSON
 * @returns the same data as a project when all is well, or everything found wrong with it
 */
export function checkProject(data: unknown): Reading {
	const hostile = findHostile(data);
	if (hostile) return failed(hostile);
	if (typeof data === 'object' && data !== null && !Array.isArray(data)) {
		const format = (data as { format?: unknown }).format;
		if (typeof format === 'string' && format !== FORMAT)
			return failed({ path: ['format'], message: `"${format}" is not known to this program; it reads "${FORMAT}"` });
	}
	const parsed = projectSchema.safeParse(data);
	if (!parsed.success) return { ok: false, problems: problemsOf(parsed.error, data) };
	const project = data as Project;
	const references = checkReferences(project);
	if (references.length > 0) return { ok: false, problems: references };
	const rules = checkRules(project);
	return rules.length > 0 ? { ok: false, problems: rules } : { ok: true, project };
}

/** Keys that could change what an object is, and nesting without end. Long lists of numbers are passed over. */
function findHostile(data: unknown): Problem | null {
	const stack: { value: object; path: (string | number)[] }[] = [];
	const push = (value: unknown, path: (string | number)[]) => {
		if (typeof value === 'object' && value !== null) stack.push({ value, path });
	};
	push(data, []);
	for (let top = stack.pop(); top; top = stack.pop()) {
		const { value, path } = top;
		if (path.length > MAX_DEPTH) return { path: path.slice(0, 8), message: `is nested more than ${MAX_DEPTH} levels deep; a project needs far fewer` };
		if (Array.isArray(value)) {
			if (typeof value[0] === 'number') continue;
			for (let i = 0; i < value.length; i++) push(value[i], [...path, i]);
		} else
			for (const key of Object.keys(value)) {
				if (key === '__proto__') return { path: [...path, key], message: 'is not a key a project may use' };
				push((value as Record<string, unknown>)[key], [...path, key]);
			}
	}
	return null;
}

/** A project as the text of its file: two spaces, lists of plain numbers on one line. */
export function writeProject(project: Project): string {
	return `${block(project, '')}\n`;
}

function block(value: unknown, indent: string): string {
	if (typeof value !== 'object' || value === null) return JSON.stringify(value);
	const flat = inline(value);
	if (flat !== null && flat.length + indent.length <= 120) return flat;
	const inner = `${indent}  `;
	if (Array.isArray(value)) {
		if (value.every((v) => typeof v === 'number')) return JSON.stringify(value);
		return `[\n${value.map((v) => inner + block(v, inner)).join(',\n')}\n${indent}]`;
	}
	const entries = Object.entries(value).filter(([, v]) => v !== undefined);
	return `{\n${entries.map(([k, v]) => `${inner}${JSON.stringify(k)}: ${block(v, inner)}`).join(',\n')}\n${indent}}`;
}

/** A value on one line, or null when it is too large to try. */
function inline(value: unknown): string | null {
	if (typeof value !== 'object' || value === null) return JSON.stringify(value);
	if (Array.isArray(value)) {
		if (value.length > 24) return null;
		const parts: string[] = [];
		for (const v of value) {
			const part = inline(v);
			if (part === null) return null;
			parts.push(part);
		}
		return `[${parts.join(', ')}]`;
	}
	const entries = Object.entries(value).filter(([, v]) => v !== undefined);
	if (entries.length > 12) return null;
	const parts: string[] = [];
	for (const [k, v] of entries) {
		const part = inline(v);
		if (part === null) return null;
		parts.push(`${JSON.stringify(k)}: ${part}`);
	}
	return parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`;
}
