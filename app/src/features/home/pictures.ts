/** Pictures of projects, kept with them; those of changed projects are drawn anew by a worker, one after the other. */
import { useEffect, useState } from 'react';
import type { Picture } from '../../data/db';
import { getProject, keepPicture, type Listed, pictureOf } from '../../data/projects';
import { pictureIn } from '../../workers/client';

/** A drawing that takes longer is given up, milliseconds. */
const LIMIT = 5000;

async function drawn(row: Listed, stopped: (cancel: () => void) => void): Promise<Picture> {
	const { key, version } = row;
	const opened = await getProject(key);
	if (!opened) return { key, version, lines: [] };
	const job = pictureIn(opened.text);
	stopped(job.cancel);
	const timer = setTimeout(job.cancel, LIMIT);
	try {
		const { lines, trouble } = await job.done;
		return { key, version, lines, ...(trouble === undefined ? {} : { trouble }) };
	} finally {
		clearTimeout(timer);
	}
}

/** @returns the pictures there are, by the project's key */
export function usePictures(rows: readonly Listed[]): ReadonlyMap<string, Picture> {
	const [pictures, setPictures] = useState<ReadonlyMap<string, Picture>>(new Map());
	useEffect(() => {
		let over = false;
		let cancel = () => {};
		const add = (picture: Picture) => setPictures((known) => new Map(known).set(picture.key, picture));
		(async () => {
			const open: Listed[] = [];
			for (const row of rows) {
				const known = await pictureOf(row.key).catch(() => undefined);
				if (over) return;
				if (known) add(known);
				if (known?.version !== row.version && row.damaged === null) open.push(row);
			}
			for (const row of open) {
				try {
					const picture = await drawn(row, (end) => {
						cancel = end;
					});
					if (over) return;
					add(picture);
					await keepPicture(picture);
				} catch (error) {
					// No picture of this one: too slow, or no room to keep it. Its card stands without.
					if (!over) console.warn(`no picture of ${row.key}`, error);
				}
			}
		})();
		return () => {
			over = true;
			cancel();
		};
	}, [rows]);
	return pictures;
}
