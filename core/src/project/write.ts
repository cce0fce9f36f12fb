/** A project as the text of its file. */
import type { Project } from './schema';

/** A value that fits is written on one line, up to this many characters. */
const WIDE = 120;
/** What lies deeper than any part of a project, in extras, is written without line breaks: its indents would outgrow it. */
const DEEP = 40;

/** A project as the text of its file: two spaces, what is short on one line, lists of plain numbers too. */
export function writeProject(project: Project): string {
	try {
		return `${writeBlock(project, '')}\n`;
	} finally {
		recent.clear();
	}
}

/** Texts of the lists of numbers last written: many objects of a level have the very same triangles. */
const recent = new Map<readonly unknown[], string>();
const MAX_RECENT = 64;

function numbersOf(list: readonly unknown[]): string {
	let text = recent.get(list);
	if (text === undefined) {
		text = JSON.stringify(list);
		if (recent.size >= MAX_RECENT) recent.clear();
		recent.set(list, text);
	}
	return text;
}

/** Names of fields as they are written: there are few, and each object has them. */
const keys = new Map<string, string>();

function keyOf(key: string): string {
	let text = keys.get(key);
	if (text === undefined) {
		text = `${JSON.stringify(key)}: `;
		if (keys.size < 1000) keys.set(key, text);
	}
	return text;
}

const isNumber = (value: unknown): value is number => typeof value === 'number';
const plain = (value: unknown): string =>
	isNumber(value) && Number.isFinite(value) ? String(value) : JSON.stringify(value);

/** Characters after which what is written is made one text: a chain of thousands of pieces costs more than they do. */
const CHUNK = 1 << 14;

/** A text as it grows. */
class Out {
	private readonly parts: string[] = [];
	private chunk = '';

	add(text: string): void {
		this.chunk += text;
		if (this.chunk.length < CHUNK) return;
		// Reading one character has the engine put the pieces together.
		this.chunk.charCodeAt(0);
		this.parts.push(this.chunk);
		this.chunk = '';
	}

	toString(): string {
		return this.parts.length === 0 ? this.chunk : this.parts.join('') + this.chunk;
	}
}

/**
 * One value in the style of the file.
 * @param indent that of the line it begins on
 * @param end what lines end with
 */
export function writeBlock(value: unknown, indent: string, end = '\n'): string {
	const out = new Out();
	write(value, indent, end, out);
	return out.toString();
}

function write(value: unknown, indent: string, end: string, out: Out): void {
	if (typeof value !== 'object' || value === null) return out.add(plain(value));
	if (indent.length >= DEEP) return out.add(JSON.stringify(value));
	const room = WIDE - indent.length;
	const flat = atLeast(value, room) === Infinity ? null : inline(value, room);
	if (flat !== null) return out.add(flat);
	const inner = `${indent}  `;
	const next = `,${end}${inner}`;
	let between = `${end}${inner}`;
	if (Array.isArray(value)) {
		if (value.every(isNumber)) return out.add(numbersOf(value));
		out.add('[');
		for (const part of value) {
			out.add(between);
			write(part, inner, end, out);
			between = next;
		}
		return out.add(`${end}${indent}]`);
	}
	out.add('{');
	for (const key of Object.keys(value)) {
		const part = (value as Record<string, unknown>)[key];
		if (part === undefined) continue;
		out.add(between);
		out.add(keyOf(key));
		write(part, inner, end, out);
		between = next;
	}
	out.add(`${end}${indent}}`);
}

/**
 * Characters that a value takes on one line at least, or infinity as soon as it is seen that `inline` has no room for it: most of a
 * project is far too long, and no text need be made to see that.
 */
function atLeast(value: unknown, room: number): number {
	if (typeof value !== 'object' || value === null) {
		const least = typeof value === 'string' ? value.length + 2 : 1;
		return least > room ? Infinity : least;
	}
	if (Array.isArray(value)) {
		if (value.length === 0) return 2;
		if (value.length > 24 || room < 2) return Infinity;
		let sum = 1;
		for (let i = 0; i < value.length; i++) {
			if (i > 0) sum += 2;
			sum += atLeast(value[i], room - sum - 1);
			if (sum === Infinity) return sum;
		}
		return sum + 1;
	}
	let sum = 2;
	let count = 0;
	for (const key of Object.keys(value)) {
		const part = (value as Record<string, unknown>)[key];
		if (part === undefined) continue;
		if ((count === 0 && room < 2) || ++count > 12) return Infinity;
		sum += (count > 1 ? 2 : 0) + key.length + 4;
		sum += atLeast(part, room - sum - 2);
		if (sum === Infinity) return sum;
	}
	return count === 0 ? 2 : sum + 2;
}

/** A value on one line, or null as soon as it is seen not to fit into `room` characters. */
function inline(value: unknown, room: number): string | null {
	if (typeof value !== 'object' || value === null) {
		const text = plain(value);
		return text.length <= room ? text : null;
	}
	if (Array.isArray(value)) {
		if (value.length === 0) return '[]';
		if (room < 2) return null;
		let text = '[';
		for (let i = 0; i < value.length; i++) {
			if (i > 0) text += ', ';
			const part = inline(value[i], room - text.length - 1);
			if (part === null) return null;
			text += part;
		}
		return `${text}]`;
	}
	let text = '{ ';
	for (const key of Object.keys(value)) {
		const part = (value as Record<string, unknown>)[key];
		if (part === undefined) continue;
		if (room < 2) return null;
		if (text.length > 2) text += ', ';
		text += keyOf(key);
		const written = inline(part, room - text.length - 2);
		if (written === null) return null;
		text += written;
	}
	return text.length === 2 ? '{}' : `${text} }`;
}
