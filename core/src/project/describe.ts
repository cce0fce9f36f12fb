/** Values and texts from a file as they are shown in a message. */

/**
 * Characters a line must not carry: controls (line breaks, terminal colours), separators, halves of characters, and those that turn or hide
 * what stands beside them. The joiners within emoji and some scripts are none of these.
 */
const UNSEEN = /(?!\u200c|\u200d)[\p{Cc}\p{Cf}\p{Zl}\p{Zp}\p{Cs}]/gu;

/**
 * A text from a file as part of one line: what would break or disguise the line is written as `\u001b`, and what is long is cut.
 * @param most characters kept, an ellipsis included
 */
export function oneLine(text: string, most = 400): string {
	const kept = text.length > most ? `${text.slice(0, most - 1)}…` : text;
	return kept.replace(UNSEEN, (c) => `\\u${(c.codePointAt(0) ?? 0).toString(16).padStart(4, '0')}`);
}

/** A value in a few words. */
export const describe = (value: unknown): string => {
	if (value === undefined) return 'nothing';
	if (value === null) return 'null';
	if (Array.isArray(value)) return 'a list';
	if (typeof value === 'object') return 'an object';
	if (typeof value === 'number') return String(value);
	const text = JSON.stringify(typeof value === 'string' ? oneLine(value, 60) : value) ?? String(value);
	return text.length > 70 ? `${text.slice(0, 67)}…` : text;
};
