/** Reading a project file: text to JSON to a checked project, or a list of problems. Nothing is thrown for bad input. */
import { type ParseError, parse, printParseErrorCode } from 'jsonc-parser';
import { MAX_ENTRIES, MAX_NESTING, MAX_PROBLEMS } from './bounds';
import { oneLine } from './describe';
import { addIssues, type JsonPath, type Problem, Problems, quoted } from './problems';
import { checkReferences } from './references';
import { checkRules } from './rules';
import { FORMAT, type Project, projectSchema } from './schema';

/** A project, or all that is wrong with what was read. */
export type Reading =
	| { ok: true; project: Project }
	| { ok: false; problems: Problem[] /** Found beside those listed. */; more: number };

const failed = (path: JsonPath, message: string): Reading => ({ ok: false, problems: [{ path, message }], more: 0 });

/**
 * @param bytes a project file as it lies on the disk
 * @returns its project, or what is wrong with it; bytes that are no UTF-8 are a problem with their place
 */
export function readBytes(bytes: Uint8Array): Reading {
	const text = decodeUtf8(bytes);
	return typeof text === 'string' ? readText(text, bytes) : failed([], text.message);
}

/** In every browser, worker and Node; the core's own library of types is the language alone. */
declare const TextDecoder: new (
	label: string,
	options: { fatal: boolean; ignoreBOM: boolean },
) => { decode(bytes: Uint8Array): string };
declare const TextEncoder: new () => { encode(text: string): Uint8Array };

/** @returns the text with a leading byte order mark kept, or where the bytes stop being UTF-8 */
export function decodeUtf8(bytes: Uint8Array): string | { message: string } {
	try {
		return new TextDecoder('utf-8', { fatal: true, ignoreBOM: true }).decode(bytes);
	} catch {
		const at = firstInvalid(bytes);
		const byte = bytes[at];
		const what =
			byte === undefined
				? 'the file ends in the middle of a character'
				: `byte 0x${byte.toString(16).padStart(2, '0')}`;
		return { message: `is not valid UTF-8: ${what} at offset ${at}; save it as UTF-8` };
	}
}

/** Offset of the first byte that belongs to no UTF-8 character; the length where the last one is cut off. */
function firstInvalid(bytes: Uint8Array): number {
	for (let i = 0; i < bytes.length; ) {
		const lead = bytes[i];
		const size =
			lead < 0x80
				? 1
				: lead >= 0xc2 && lead < 0xe0
					? 2
					: lead >= 0xe0 && lead < 0xf0
						? 3
						: lead >= 0xf0 && lead < 0xf5
							? 4
							: 0;
		if (size === 0) return i;
		for (let k = 1; k < size; k++) {
			const next = bytes[i + k];
			if (next === undefined) return bytes.length;
			// The second byte is narrower where a longer form, a surrogate or a point past U+10FFFF would come out.
			const low = k === 1 && lead === 0xe0 ? 0xa0 : k === 1 && lead === 0xf0 ? 0x90 : 0x80;
			const high = k === 1 && lead === 0xed ? 0x9f : k === 1 && lead === 0xf4 ? 0x8f : 0xbf;
			if (next < low || next > high) return i + k;
		}
		i += size;
	}
	return bytes.length;
}

/**
 * Reads a project, or says all that is wrong with it.
 * @example
 * const reading = readProject(text);
 * if (reading.ok) console.log(reading.project.name);
 * else for (const problem of reading.problems) console.error(formatProblem(problem));
 * @param text a project file's whole text
 */
export function readProject(text: string): Reading {
	return readText(text, new TextEncoder().encode(text));
}

/** @param bytes the same text: they are gone through faster */
function readText(text: string, bytes: Uint8Array): Reading {
	if (text.trim() === '') return failed([], 'is empty; a project is a JSON object');
	const deep = tooDeepAt(bytes);
	if (deep >= 0) {
		const before = new TextDecoder('utf-8', { fatal: false, ignoreBOM: true }).decode(bytes.subarray(0, deep));
		return failed(
			[],
			`is nested more than ${MAX_NESTING} levels deep at ${placeAt(before, before.length)}; a project needs far fewer`,
		);
	}
	let data: unknown;
	try {
		data = JSON.parse(text.charCodeAt(0) === 0xfeff ? text.slice(1) : text);
	} catch (error) {
		return failed([], `is not JSON: ${placeOf(error as Error, text)}`);
	}
	return checkProject(data);
}

/** Offset at which lists and objects lie too deep in each other, or −1: looked for before parsing, which would build them all. */
function tooDeepAt(bytes: Uint8Array): number {
	let depth = 0;
	for (let i = 0; i < bytes.length; i++) {
		const c = bytes[i];
		if (c === QUOTE) {
			// On to the next quote that no backslash covers.
			for (i++; i < bytes.length && bytes[i] !== QUOTE; i++) if (bytes[i] === BACKSLASH) i++;
		} else if (c === 0x7b || c === 0x5b) {
			if (++depth > MAX_NESTING) return i;
		} else if (c === 0x7d || c === 0x5d) depth--;
	}
	return -1;
}

const QUOTE = 0x22;
const BACKSLASH = 0x5c;

function placeAt(text: string, offset: number): string {
	const before = text.slice(0, offset);
	return `line ${before.split('\n').length}, column ${before.length - before.lastIndexOf('\n')}`;
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
	if (!first) return oneLine(error.message, 200);
	const found = text.slice(first.offset, first.offset + Math.max(1, Math.min(first.length, 20)));
	const what = printParseErrorCode(first.error)
		.replace(/([a-z])([A-Z])/g, '$1 $2')
		.toLowerCase();
	return `${placeAt(text, first.offset)}: ${what}${found === '' ? ', but the text ends' : ` at ${JSON.stringify(oneLine(found))}`}`;
}

/**
 * @param data parsed JSON
 * @param most problems told; further ones are counted
 * @returns the same data as a project when all is well, or what is wrong with it
 */
export function checkProject(data: unknown, most = MAX_PROBLEMS): Reading {
	const hostile = findHostile(data) ?? findTooMany(data);
	if (hostile) return failed(hostile.path, hostile.message);
	if (typeof data === 'object' && data !== null && !Array.isArray(data)) {
		const { format, scene, queries } = data as Record<string, unknown>;
		if (format === undefined && scene === undefined && queries === undefined)
			return failed(
				[],
				`is not a project; one has at least "format": "${FORMAT}", "id", "name", "scene" and "queries"`,
			);
		if (typeof format === 'string' && format !== FORMAT)
			return failed(['format'], `${quoted(format)} is not known to this program; it reads "${FORMAT}"`);
	}
	const problems = new Problems(most);
	const parsed = parsedBySchema(data);
	if (parsed === null) {
		const { path, entries } = longestList(data);
		return failed(path, `has ${entries} entries, of which too many are wrong to be listed`);
	}
	if (!parsed.success) addIssues(parsed.error, data, problems);
	else {
		checkReferences(data as Project, problems);
		if (!problems.any) checkRules(data as Project, problems);
	}
	return problems.any
		? { ok: false, problems: problems.list, more: problems.more }
		: { ok: true, project: data as Project };
}

/** Null where one part has more wrong entries than the schema's library can carry (it passes them on as arguments). */
function parsedBySchema(data: unknown): ReturnType<typeof projectSchema.safeParse> | null {
	try {
		return projectSchema.safeParse(data);
	} catch (error) {
		if (error instanceof RangeError) return null;
		throw error;
	}
}

interface Visit {
	value: object;
	key: string | number;
	up: Visit | null;
	depth: number;
}

function pathOf(visit: Visit | null): JsonPath {
	const path: JsonPath = [];
	for (let at = visit; at?.up; at = at.up) path.unshift(at.key);
	return path;
}

/** Keys that could change what an object is, nesting without end, and numbers no double holds. */
function findHostile(data: unknown): Problem | null {
	if (typeof data !== 'object' || data === null) return null;
	const stack: Visit[] = [{ value: data, key: '', up: null, depth: 1 }];
	let found: Problem | null = null;
	const look = (value: unknown, key: string | number, up: Visit) => {
		if (typeof value === 'object' && value !== null) {
			// Most of a file are short lists of numbers: nothing is remembered of them.
			if (
				!Array.isArray(value) ||
				up.depth >= MAX_NESTING ||
				!value.every((v) => typeof v === 'number' && Number.isFinite(v))
			)
				stack.push({ value, key, up, depth: up.depth + 1 });
		} else if (typeof value === 'number' && !Number.isFinite(value))
			found ??= { path: [...pathOf(up), key], message: 'is larger than any number a file can hold' };
	};
	for (let top = stack.pop(); top && !found; top = stack.pop()) {
		const { value, depth } = top;
		if (depth > MAX_NESTING)
			return {
				path: pathOf(top).slice(0, 8),
				message: `is nested more than ${MAX_NESTING} levels deep; a project needs far fewer`,
			};
		if (Array.isArray(value)) for (let i = 0; i < value.length; i++) look(value[i], i, top);
		else
			for (const key of Object.keys(value)) {
				if (key === '__proto__') return { path: [...pathOf(top), key], message: 'is not a key a project may use' };
				look((value as Record<string, unknown>)[key], key, top);
			}
	}
	return found;
}

function longestList(data: unknown): { path: JsonPath; entries: number } {
	let longest = { path: [] as JsonPath, entries: 0 };
	const stack: Visit[] = [{ value: data as object, key: '', up: null, depth: 1 }];
	for (let top = stack.pop(); top; top = stack.pop()) {
		const keys = Object.keys(top.value);
		if (keys.length > longest.entries) longest = { path: pathOf(top), entries: keys.length };
		for (const key of keys) {
			const value = (top.value as Record<string, unknown>)[key];
			if (typeof value === 'object' && value !== null)
				stack.push({ value, key: Array.isArray(top.value) ? Number(key) : key, up: top, depth: top.depth + 1 });
		}
	}
	return longest;
}

/** The first list that is longer than any project's: looked at before its entries are. */
function findTooMany(data: unknown): Problem | null {
	for (const { path, most, what } of MAX_ENTRIES) {
		let at = data;
		for (const key of path)
			at =
				typeof at === 'object' && at !== null && Object.hasOwn(at, key)
					? (at as Record<string, unknown>)[key]
					: undefined;
		if (Array.isArray(at) && at.length > most)
			return { path: [...path], message: `at most ${most} ${what} are allowed, got ${at.length}` };
	}
	return null;
}
