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

const isList = (value: unknown): value is readonly object[] =>
	Array.isArray(value) && (known.has(value) || value.every((v) => typeof v === 'object' && v !== null));

function addRecord(record: object, nested: string | null, pieces: string[]): void {
	let before = '{';
	for (const [key, value] of Object.entries(record)) {
		if (value === undefined) continue;
		pieces.push(`${before}${JSON.stringify(key)}:`);
		before = ',';
		if (key === nested) addRecord(value as object, null, pieces);
		else pieces.push(isList(value) ? textOfList(value) : JSON.stringify(value));
	}
	pieces.push(before === '{' ? '{}' : '}');
}

/** The pieces whose sequence is the text: those of lists that are the same as before are the same strings. */
export function piecesOf(project: Project): string[] {
	const pieces: string[] = [];
	addRecord(project, 'scene', pieces);
	return pieces;
}

/** @returns the same text `JSON.stringify` gives */
export const textOf = (project: Project): string => piecesOf(project).join('');

/** What of a text is new: a piece, or the place it had among the pieces of the text before. */
export type Change = string | number;

/** Below this many characters a piece is sent again rather than looked for. */
const SMALL = 200;

/** The pieces of a text, of which the receiver has those before. */
export function changeOf(before: readonly string[], now: readonly string[]): Change[] {
	const places = new Map<string, number>();
	for (const [i, piece] of before.entries()) if (piece.length >= SMALL) places.set(piece, i);
	return now.map((piece) => (piece.length >= SMALL ? (places.get(piece) ?? piece) : piece));
}

/** The pieces a change stands for. */
export const changed = (before: readonly string[], change: readonly Change[]): string[] =>
	change.map((piece) => (typeof piece === 'number' ? (before[piece] as string) : piece));
