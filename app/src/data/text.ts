/**
 * A project as JSON text, for the browser's store and the workers. The parts of a project are never changed in place, so the text of
 * each object, query or moment is kept with it: while a cursor is dragged only the query's text is made anew.
 */
import type { Project } from '@frelk/core';

const known = new WeakMap<object, string>();

function textOfPart(part: object): string {
	let text = known.get(part);
	if (text === undefined) {
		text = JSON.stringify(part);
		known.set(part, text);
	}
	return text;
}

function textOfList(list: readonly object[]): string {
	let text = known.get(list);
	if (text === undefined) {
		text = `[${list.map(textOfPart).join(',')}]`;
		known.set(list, text);
	}
	return text;
}

const isList = (value: unknown): value is readonly object[] => Array.isArray(value) && value.every((v) => typeof v === 'object' && v !== null);

function textOfRecord(record: object, nested: string | null): string {
	const parts: string[] = [];
	for (const [key, value] of Object.entries(record)) {
		if (value === undefined) continue;
		parts.push(`${JSON.stringify(key)}:${key === nested ? textOfRecord(value as object, null) : isList(value) ? textOfList(value) : JSON.stringify(value)}`);
	}
	return `{${parts.join(',')}}`;
}

/** @returns the same text `JSON.stringify` gives */
export const textOf = (project: Project): string => textOfRecord(project, 'scene');
