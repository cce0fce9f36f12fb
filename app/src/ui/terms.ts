/** What the words of the bench mean: the guide's own list of them. */
import words from '../../../docs/guide/words.md?raw';

const MEANINGS = new Map(
	[...words.matchAll(/^- \*\*(.+?)\*\* – (.+)$/gm)].map(([, word, meaning]) => [word as string, meaning as string]),
);

/** @returns undefined for a word the guide does not list */
export const meaningOf = (word: string): string | undefined => MEANINGS.get(word.toLowerCase());
