/** A project as the text of its file. */
import type { Project } from './schema';

/** A value that fits is written on one line, up to this many characters. */
const WIDE = 120;
/** What lies deeper than any part of a project, in extras, is written without line breaks: its indents would outgrow it. */
const DEEP = 40;

/** A project as the text of its file: two spaces, what is short on one line, lists of plain numbers too. */
export const writeProject = (project: Project): string => `${writeBlock(project, '')}\n`;

/**
 * One value in the style of the file.
 * @param indent that of the line it begins on
 * @param end what lines end with
 */
export function writeBlock(value: unknown, indent: string, end = '\n'): string {
	if (typeof value !== 'object' || value === null) return JSON.stringify(value);
	if (indent.length >= DEEP) return JSON.stringify(value);
	const flat = inline(value, WIDE - indent.length);
	if (flat !== null) return flat;
	const inner = `${indent}  `;
	if (Array.isArray(value)) {
		if (value.every((v) => typeof v === 'number')) return JSON.stringify(value);
		return `[${end}${value.map((v) => inner + writeBlock(v, inner, end)).join(`,${end}`)}${end}${indent}]`;
	}
	const entries = Object.entries(value).filter(([, v]) => v !== undefined);
	const lines = entries.map(([k, v]) => `${inner}${JSON.stringify(k)}: ${writeBlock(v, inner, end)}`);
	return `{${end}${lines.join(`,${end}`)}${end}${indent}}`;
}

/** A value on one line, or null as soon as it is seen not to fit into `room` characters. */
function inline(value: unknown, room: number): string | null {
	if (typeof value !== 'object' || value === null) {
		if (typeof value === 'string' && value.length > room) return null;
		const text = JSON.stringify(value);
		return text.length <= room ? text : null;
	}
	const list = Array.isArray(value);
	if (list && value.length > 24) return null;
	const entries: [string, unknown][] = list
		? value.map((v) => ['', v])
		: Object.entries(value).filter(([, v]) => v !== undefined);
	if (entries.length === 0) return list ? '[]' : '{}';
	if (room < 2) return null;
	if (!list && entries.length > 12) return null;
	let text = list ? '[' : '{ ';
	const close = list ? ']' : ' }';
	for (const [i, [key, v]] of entries.entries()) {
		const head = `${i === 0 ? '' : ', '}${list ? '' : `${JSON.stringify(key)}: `}`;
		const part = inline(v, room - text.length - head.length - close.length);
		if (part === null) return null;
		text += head + part;
	}
	return text + close;
}
