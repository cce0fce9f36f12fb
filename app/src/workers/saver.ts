/** The worker that writes to the browser's store: copying the text of a large project into it would hold up the hand. */
import { expose } from 'comlink';
import { writeText } from '../data/db';
import { type Change, changed } from '../data/text';

let pieces: readonly string[] = [];

const saver = {
	/** @param change what is new in the project's text since the last call. @returns the new version */
	save(key: string, name: string, change: readonly Change[]): Promise<number> {
		pieces = changed(pieces, change);
		return writeText(key, name, pieces.join(''));
	},
};

export type Saver = typeof saver;
expose(saver);
