/** The worker that writes to the browser's store: copying the text of a large project into it would hold up the hand. */
import { readProject } from '@frelk/core';
import { expose } from 'comlink';
import { isFull, type Writing, type Written, whyNot, writeText } from '../data/db';
import { type Change, changed } from '../data/text';

let pieces: readonly string[] = [];

const saver = {
	/**
	 * @param change what is new in the project's text since the last call
	 * @param unsure whether it is to be seen first that a file may hold it: here, where it holds up no hand
	 */
	async save(writing: Omit<Writing, 'text'>, change: readonly Change[], unsure: boolean): Promise<Written> {
		pieces = changed(pieces, change);
		const text = pieces.join('');
		if (unsure && !readProject(text).ok) return { done: 'unfit' };
		try {
			return await writeText({ ...writing, text });
		} catch (error) {
			// What an error holds beside its name and message does not cross to the page.
			const why = new Error(whyNot(error));
			if (isFull(error)) why.name = 'QuotaExceededError';
			throw why;
		}
	},
};

export type Saver = typeof saver;
expose(saver);
